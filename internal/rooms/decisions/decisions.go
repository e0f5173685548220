package decisions

import (
	"bytes"
	"context"
	"net/http"
	"strings"

	"zorvel/api"
	"zorvel/internal/problem"
	"zorvel/internal/rooms/units"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// whole is a decision with what it was based on.
func (s *Room) whole(d store.Decision) api.Decision {
	return api.Decision{Id: d.ID, Kind: api.DecisionKind(d.Kind), Title: d.Title, Note: d.Note, By: d.By, At: d.At,
		Sheet: s.printed(d), Question: d.Question, Answer: d.Answer, TakenIn: units.TakenInOut(d.TakenIn)}
}

func (s *Room) printed(d store.Decision) bool { return s.kinds[d.Kind].Print != nil }

// Summary is a decision as it is listed.
func (s *Room) Summary(d store.Decision) api.DecisionSummary {
	return api.DecisionSummary{Id: d.ID, Kind: api.DecisionKind(d.Kind), Title: d.Title, Note: d.Note, By: d.By, At: d.At,
		Sheet: s.printed(d), TakenIn: units.TakenInOut(d.TakenIn)}
}

// ListDecisions lists what was decided for a unit.
func (s *Room) ListDecisions(ctx context.Context, r api.ListDecisionsRequestObject) (api.ListDecisionsResponseObject, error) {
	if _, err := s.store.UnitName(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := s.store.Decisions(ctx, r.Id)
	out := make(api.ListDecisions200JSONResponse, len(list))
	for i, d := range list {
		out[i] = s.Summary(d)
	}
	return out, err
}

// GetDecision returns one decision with everything it was based on.
func (s *Room) GetDecision(ctx context.Context, r api.GetDecisionRequestObject) (api.GetDecisionResponseObject, error) {
	d, err := s.store.Decision(ctx, r.Id)
	return api.GetDecision200JSONResponse(s.whole(d)), err
}

// Decide answers the question once more and keeps it with its answer.
func (s *Room) Decide(ctx context.Context, r api.DecideRequestObject) (api.DecideResponseObject, error) {
	p := signin.Person(ctx)
	if _, err := s.store.UnitName(ctx, r.Id); err != nil {
		return nil, err
	}
	d := store.Decision{UnitID: r.Id, Kind: string(r.Body.Kind), Note: strings.TrimSpace(api.Value(r.Body.Note)), By: p.Name}
	if err := s.kinds[d.Kind].Answer(ctx, r.Body, &d); err != nil {
		return nil, err
	}
	d, err := s.store.Decide(ctx, d)
	if err != nil {
		return nil, err
	}
	return api.Decide201JSONResponse(s.whole(d)), nil
}

// GetDecisionSheet prints a record that has a sheet.
func (s *Room) GetDecisionSheet(ctx context.Context, r api.GetDecisionSheetRequestObject) (api.GetDecisionSheetResponseObject, error) {
	d, err := s.store.Decision(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	print := s.kinds[d.Kind].Print
	if print == nil {
		return nil, problem.New(http.StatusNotFound, "No sheet", "This kind of record has no sheet to print.")
	}
	u, err := s.store.Unit(ctx, d.UnitID)
	if err != nil {
		return nil, err
	}
	head, err := s.index.Letterhead(ctx)
	if err != nil {
		return nil, err
	}
	b, err := print(d, u, head)
	if err != nil {
		return nil, err
	}
	return api.GetDecisionSheet200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}
