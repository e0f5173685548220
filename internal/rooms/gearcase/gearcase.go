package gearcase

import (
	"context"
	"encoding/json"
	"strings"

	"zorvel/api"
	"zorvel/core/backlash"
	"zorvel/core/experience"
	"zorvel/core/gearcase"
	"zorvel/core/say"
	"zorvel/core/setup"
	"zorvel/internal/record"
	"zorvel/internal/store"
)

// Shims answers for a case's stamp.
func (s *Room) Shims(_ context.Context, r api.ShimsRequestObject) (api.ShimsResponseObject, error) {
	a, err := gearcase.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.Shims200JSONResponse(*a), nil
}

// HearStamp says how a stamp was understood.
func (s *Room) HearStamp(_ context.Context, r api.HearStampRequestObject) (api.HearStampResponseObject, error) {
	b := r.Body
	if b.Gears == nil {
		said, err := setup.HearMark(b.Stamp, api.Value(b.Unit))
		if err != nil {
			return nil, err
		}
		return api.HearStamp200JSONResponse{Said: said, Asks: []string{}}, nil
	}
	var gears []gearcase.Place
	for _, g := range *b.Gears {
		gears = append(gears, gearcase.Place{ID: g.Id, Name: g.Name})
	}
	h, err := gearcase.Hear(b.Stamp, api.Value(b.Unit), gears, !api.Value(b.Some))
	if err != nil {
		return nil, err
	}
	return api.HearStamp200JSONResponse(*h), nil
}

// JudgeBacklash answers for a case that is together.
func (s *Room) JudgeBacklash(ctx context.Context, r api.JudgeBacklashRequestObject) (api.JudgeBacklashResponseObject,
	error) {
	v, err := gearcase.Judge(s.withHousings(ctx, *r.Body))
	if err != nil {
		return nil, err
	}
	return api.JudgeBacklash200JSONResponse(*v), nil
}

// withHousings adds what other shops' cases taught.
func (s *Room) withHousings(ctx context.Context, q gearcase.Backlash) gearcase.Backlash {
	if q.Housings == nil {
		q.Housings = s.index.Housings(ctx, experience.Gearcase, backlash.ByLaw(backlash.LawSigma))
	}
	return q
}

// GearcaseLooks lists what to look at.
func (s *Room) GearcaseLooks(_ context.Context, r api.GearcaseLooksRequestObject) (api.GearcaseLooksResponseObject, error) {
	return api.GearcaseLooks200JSONResponse{Looks: gearcase.Looks(),
		Water: api.List(gearcase.WaterIn(strings.Fields(api.Value(r.Params.Seals))))}, nil
}

func (s *Room) decideShims(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return record.Keep(d, "shims", b.Shims, gearcase.Work, func(a *gearcase.Answer) string { return a.Sentence })
}

func (s *Room) decideBacklash(ctx context.Context, b *api.NewDecision, d *store.Decision) error {
	q := b.Backlash
	if q != nil {
		full := s.withHousings(ctx, *q)
		q = &full
	}
	return record.Keep(d, "backlash", q, gearcase.Judge, func(v *gearcase.Verdict) string {
		return say.Capital(b.Backlash.Gear) + ": " + v.Sentence
	})
}

// decideInspection keeps what was found as the case came apart.
func (s *Room) decideInspection(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	if err := record.Keep(d, "inspection", b.Inspection, gearcase.Inspect,
		func(x *gearcase.Inspection) string { return x.Title }); err != nil {
		return err
	}
	var err error // a record's question is an object
	d.Question, err = json.Marshal(map[string]any{"inspection": b.Inspection})
	return err
}
