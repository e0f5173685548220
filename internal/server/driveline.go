package server

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"strings"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/driveline/network"
	"zorvel/core/fault"
	"zorvel/internal/store"
)

// answer writes a value of the core as it is: its JSON is the contract's,
// which the tests hold it to.
type answer struct{ value any }

func (a answer) write(w http.ResponseWriter) error {
	var b bytes.Buffer
	if err := json.NewEncoder(&b).Encode(a.value); err != nil {
		return err
	}
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(http.StatusOK)
	_, err := b.WriteTo(w)
	return err
}

// The contract's answers that are written as the core gives them.

func (a answer) VisitDrivelineResponse(w http.ResponseWriter) error   { return a.write(w) }
func (a answer) VisitTractionResponse(w http.ResponseWriter) error    { return a.write(w) }
func (a answer) VisitListLayoutsResponse(w http.ResponseWriter) error { return a.write(w) }

// stateIn reads a state that the contract has validated.
func stateIn(raw *api.DrivelineState, field string) (driveline.State, error) {
	var s driveline.State
	if raw == nil {
		return s, nil
	}
	if err := json.Unmarshal(*raw, &s); err != nil {
		return s, fault.New(field, "can't be read: %v", err)
	}
	return s, nil
}

// Driveline traces a driveline or a bare network.
func (s *Server) Driveline(_ context.Context, r api.DrivelineRequestObject) (api.DrivelineResponseObject, error) {
	q := r.Body
	st, err := stateIn(q.State, "state")
	if err != nil {
		return nil, err
	}
	switch {
	case q.Driveline != nil && q.Network != nil:
		return nil, fault.New("network", "send a driveline or a network, not both")
	case q.Network != nil:
		var n network.Network
		if err := json.Unmarshal(*q.Network, &n); err != nil {
			return nil, fault.New("network", "can't be read: %v", err)
		}
		rep, err := network.Answer(n, st.Losses)
		if err != nil {
			return nil, fault.Under("network", err)
		}
		return answer{map[string]any{"network": rep}}, nil
	case q.Driveline == nil:
		return nil, fault.New("driveline", "is needed; or a bare network")
	}
	doc, err := driveline.Parse(*q.Driveline)
	if err != nil {
		return nil, fault.Under("driveline", err)
	}
	var want driveline.Want
	if w := q.Want; w != nil {
		want = driveline.Want{Gears: deref(w.Gears), Shifts: deref(w.Shifts), Tests: deref(w.Tests), SpeedKMH: deref(w.SpeedKmh)}
	}
	t, err := driveline.Run(doc, st, want)
	if err != nil {
		return nil, err
	}
	return answer{map[string]any{"trace": t}}, nil
}

// Traction finds the greatest drive force.
func (s *Server) Traction(_ context.Context, r api.TractionRequestObject) (api.TractionResponseObject, error) {
	st, err := stateIn(r.Body.State, "state")
	if err != nil {
		return nil, err
	}
	doc, err := driveline.Parse(r.Body.Driveline)
	if err != nil {
		return nil, fault.Under("driveline", err)
	}
	var g driveline.Grip
	if err := json.Unmarshal(r.Body.Grip, &g); err != nil {
		return nil, fault.New("grip", "can't be read: %v", err)
	}
	t, err := driveline.Pull(doc, st, g)
	if err != nil {
		return nil, err
	}
	return answer{t}, nil
}

type layoutOut struct {
	driveline.Layout
	Blank driveline.Document `json:"blank"`
}

// ListLayouts lists ready drivelines.
func (s *Server) ListLayouts(context.Context, api.ListLayoutsRequestObject) (api.ListLayoutsResponseObject, error) {
	var out []layoutOut
	for _, l := range driveline.Layouts() {
		out = append(out, layoutOut{l, l.Document.Blank()})
	}
	return answer{out}, nil
}

// measured is what the unit's stages say, for its driveline.
func (s *Server) measured(ctx context.Context, u store.Unit) (map[int64]driveline.Measured, error) {
	sh, err := s.loadShop(ctx)
	if err != nil {
		return nil, err
	}
	out := map[int64]driveline.Measured{}
	for _, v := range u.Stages {
		x, err := s.summarize(ctx, sh, v)
		if err != nil {
			return nil, err
		}
		m := driveline.Measured{Stage: stageRef(v), State: string(x.state), Teeth: map[string]int{}}
		if b := x.build; b != nil {
			m.Construction = b.Construction
			m.Ratio = exactOf(b.Ratio)
			for _, t := range b.Teeth {
				m.Teeth[t.Member] = t.Count
			}
		}
		if x.label != nil {
			m.Probability, m.Label = x.label.Probability, x.label.Label
		}
		out[v.ID] = m
	}
	return out, nil
}

func stageRef(v store.Stage) driveline.Stage {
	return driveline.Stage{ID: v.ID, Name: v.Name, Kind: v.Kind, Position: v.Position}
}

// loadDriveline is the newest driveline with what was measured filled in.
func (s *Server) loadDriveline(ctx context.Context, u store.Unit) (api.UnitDriveline, error) {
	out := api.UnitDriveline{States: []api.SavedState{}, Fits: []api.StageFit{}}
	d, err := s.store.Driveline(ctx, u.ID)
	if errors.Is(err, store.ErrNotFound) {
		return out, nil
	}
	if err != nil {
		return out, err
	}
	doc, err := driveline.Parse(d.Document)
	if err != nil {
		return out, errors.New("kept driveline: " + err.Error())
	}
	found, err := s.measured(ctx, u)
	if err != nil {
		return out, err
	}
	for i := range doc.Parts {
		p := &doc.Parts[i]
		for name, src := range p.Sources {
			m, ok := found[src.Stage]
			if !ok {
				if src.Stage != 0 { // the stage was taken out of the line
					src.Stage = 0
					p.Sources[name] = src
				}
				continue
			}
			p.Take(m)
		}
	}
	for _, v := range u.Stages {
		for i := range doc.Parts {
			if name := doc.Parts[i].Fits(stageRef(v)); name != "" {
				out.Fits = append(out.Fits, api.StageFit{Stage: v.ID, Name: v.Name, Part: doc.Parts[i].ID, Ratio: name})
			}
		}
	}
	b, err := json.Marshal(doc)
	if err != nil {
		return out, err
	}
	raw := api.DrivelineDocument(b)
	out.Document, out.Version, out.By, out.At = &raw, d.Version, some(d.By), &d.At
	return out, json.Unmarshal(d.States, &out.States)
}

// GetDriveline returns a unit's driveline.
func (s *Server) GetDriveline(ctx context.Context, r api.GetDrivelineRequestObject) (api.GetDrivelineResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	u, err := s.store.Unit(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out, err := s.loadDriveline(ctx, u)
	return api.GetDriveline200JSONResponse(out), err
}

// KeepDriveline keeps a new version.
func (s *Server) KeepDriveline(ctx context.Context, r api.KeepDrivelineRequestObject) (api.KeepDrivelineResponseObject, error) {
	p, err := writer(ctx)
	if err != nil {
		return nil, err
	}
	u, err := s.store.Unit(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	doc, err := driveline.Parse(r.Body.Document)
	if err != nil {
		return nil, fault.Under("document", err)
	}
	stages := make([]driveline.Stage, len(u.Stages))
	have := map[int64]bool{}
	for i, v := range u.Stages {
		stages[i] = stageRef(v)
		have[v.ID] = true
	}
	for i := range doc.Parts {
		for name, src := range doc.Parts[i].Sources {
			if src.Stage != 0 && !have[src.Stage] {
				return nil, fault.New("document/parts/"+doc.Parts[i].ID+"/sources/"+name+"/stage", "this unit has no such stage")
			}
		}
	}
	if deref(r.Body.Link) {
		doc.Link(stages)
	}
	d, err := drivelineRow(doc, deref(r.Body.States), "states")
	if err != nil {
		return nil, err
	}
	d.UnitID, d.Version, d.By, d.Note = u.ID, r.Body.Base, p.Name, strings.TrimSpace(deref(r.Body.Note))
	text := "Driveline changed"
	if r.Body.Base == 0 {
		text = "Driveline begun: " + doc.Name
	}
	if d.Note != "" {
		text += ": " + d.Note
	}
	if err := s.store.KeepDriveline(ctx, *d, text); errors.Is(err, store.ErrChanged) {
		return nil, refuse(http.StatusConflict, "Changed meanwhile", "Someone else kept a newer version of this driveline. Yours is still on this page; load theirs and put your change in again.")
	} else if err != nil {
		return nil, err
	}
	out, err := s.loadDriveline(ctx, u)
	return api.KeepDriveline200JSONResponse(out), err
}

// drivelineRow checks saved states against the document and makes the row.
func drivelineRow(doc *driveline.Document, states []api.SavedState, field string) (*store.Driveline, error) {
	seen := map[string]bool{}
	for i, x := range states {
		at := field + "/" + itoa(i)
		if seen[strings.TrimSpace(x.Name)] {
			return nil, fault.New(at+"/name", "there is a saved state %q already", x.Name)
		}
		seen[strings.TrimSpace(x.Name)] = true
		if _, err := stateIn(&x.State, at+"/state"); err != nil {
			return nil, err
		}
	}
	if states == nil {
		states = []api.SavedState{}
	}
	d, err := json.Marshal(doc)
	if err != nil {
		return nil, err
	}
	st, err := json.Marshal(states)
	if err != nil {
		return nil, err
	}
	return &store.Driveline{Document: d, States: st}, nil
}

// renumber changes the stages that a document's sources name; a stage that is
// not in the map is let go.
func renumber(doc *driveline.Document, to map[int64]int64) {
	for i := range doc.Parts {
		for name, src := range doc.Parts[i].Sources {
			src.Stage = to[src.Stage]
			doc.Parts[i].Sources[name] = src
		}
	}
}

// exportDriveline is the driveline for a unit document, its stages named by
// their place.
func (s *Server) exportDriveline(ctx context.Context, u store.Unit) (*api.DocumentDriveline, error) {
	d, err := s.store.Driveline(ctx, u.ID)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	doc, err := driveline.Parse(d.Document)
	if err != nil {
		return nil, errors.New("kept driveline: " + err.Error())
	}
	place := map[int64]int64{}
	for i, v := range u.Stages {
		place[v.ID] = int64(i + 1)
	}
	renumber(doc, place)
	b, err := json.Marshal(doc)
	if err != nil {
		return nil, err
	}
	out := api.DocumentDriveline{Document: b}
	var states []api.SavedState
	if err := json.Unmarshal(d.States, &states); err != nil {
		return nil, err
	}
	if len(states) > 0 {
		out.States = &states
	}
	return &out, nil
}

// importDriveline checks a document's driveline and returns what makes its row
// once the stages have numbers.
func importDriveline(in *api.DocumentDriveline, stages int) (func([]int64) (*store.Driveline, error), error) {
	if in == nil {
		return nil, nil
	}
	doc, err := driveline.Parse(in.Document)
	if err != nil {
		return nil, fault.Under("driveline/document", err)
	}
	for i, p := range doc.Parts {
		for name, src := range p.Sources {
			if src.Stage < 0 || src.Stage > int64(stages) {
				return nil, fault.New("driveline/document/parts/"+itoa(i)+"/sources/"+name+"/stage", "the place of a stage in this document, from 1 to %d", stages)
			}
		}
	}
	if _, err := drivelineRow(doc, deref(in.States), "driveline/states"); err != nil {
		return nil, err
	}
	return func(ids []int64) (*store.Driveline, error) {
		// Read anew each time: a transaction that is tried again begins from
		// the document as it came.
		doc, err := driveline.Parse(in.Document)
		if err != nil {
			return nil, err
		}
		to := map[int64]int64{}
		for i, id := range ids {
			to[int64(i+1)] = id
		}
		renumber(doc, to)
		return drivelineRow(doc, deref(in.States), "driveline/states")
	}, nil
}
