package server

import (
	"context"
	"encoding/json"
	"strings"

	"zorvel/api"
	"zorvel/core/fault"
	"zorvel/core/gearcase"
	"zorvel/core/live"
	"zorvel/core/propeller"
	"zorvel/core/say"
	"zorvel/core/setup"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// Shims answers for a case's stamp.
func (s *Server) Shims(_ context.Context, r api.ShimsRequestObject) (api.ShimsResponseObject, error) {
	a, err := gearcase.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.Shims200JSONResponse(*a), nil
}

// HearStamp says how a stamp was understood.
func (s *Server) HearStamp(_ context.Context, r api.HearStampRequestObject) (api.HearStampResponseObject, error) {
	b := r.Body
	if b.Gears == nil {
		said, err := setup.HearMark(b.Stamp, deref(b.Unit))
		if err != nil {
			return nil, err
		}
		return api.HearStamp200JSONResponse{Said: said, Asks: []string{}}, nil
	}
	var gears []gearcase.Place
	for _, g := range *b.Gears {
		gears = append(gears, gearcase.Place{ID: g.Id, Name: g.Name})
	}
	h, err := gearcase.Hear(b.Stamp, deref(b.Unit), gears, !deref(b.Some))
	if err != nil {
		return nil, err
	}
	return api.HearStamp200JSONResponse(*h), nil
}

// JudgeBacklash answers for a case that is together.
func (s *Server) JudgeBacklash(_ context.Context, r api.JudgeBacklashRequestObject) (api.JudgeBacklashResponseObject, error) {
	v, err := gearcase.Judge(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.JudgeBacklash200JSONResponse(*v), nil
}

// GearcaseLooks lists what to look at.
func (s *Server) GearcaseLooks(_ context.Context, r api.GearcaseLooksRequestObject) (api.GearcaseLooksResponseObject, error) {
	return api.GearcaseLooks200JSONResponse{Looks: gearcase.Looks(), Water: nonNil(gearcase.WaterIn(strings.Fields(deref(r.Params.Seals))))}, nil
}

// Propeller answers for a boat.
func (s *Server) Propeller(_ context.Context, r api.PropellerRequestObject) (api.PropellerResponseObject, error) {
	a, err := propeller.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.Propeller200JSONResponse(*a), nil
}

// RecordedInstruments reads a recorded file.
func (s *Server) RecordedInstruments(_ context.Context, r api.RecordedInstrumentsRequestObject) (api.RecordedInstrumentsResponseObject, error) {
	x, err := live.ReadRecorded(r.Body.Text)
	if err != nil {
		return nil, err
	}
	return api.RecordedInstruments200JSONResponse(*x), nil
}

// GetInstruments tells how the stream stands.
func (s *Server) GetInstruments(ctx context.Context, _ api.GetInstrumentsRequestObject) (api.GetInstrumentsResponseObject, error) {
	out := api.Instruments{Samples: []live.Sample{}}
	if s.instruments != nil {
		x := s.instruments.State()
		out = api.Instruments{Configured: true, Address: &s.instruments.Addr, Connected: x.Connected, Trouble: some(x.Trouble), Samples: x.Samples, Count: &x.Count, Steady: x.Steady}
		if len(x.Samples) > 0 {
			out.Now, out.Age = &x.Now, &x.Age
		}
	}
	return api.GetInstruments200JSONResponse(out), nil
}

// keep works a question of a bench out once more and keeps both.
func keep[Q, A any](d *store.Decision, field string, q *Q, work func(Q) (*A, error), title func(*A) string) error {
	if q == nil {
		return problem.Field("/"+field, "the question is needed")
	}
	a, err := work(*q)
	if err != nil {
		return fault.Under(field, err)
	}
	d.Title = say.Clip(title(a), 199)
	if d.Question, err = json.Marshal(q); err != nil {
		return err
	}
	d.Answer, err = json.Marshal(a)
	return err
}

func (s *Server) decideShims(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return keep(d, "shims", b.Shims, gearcase.Work, func(a *gearcase.Answer) string { return a.Sentence })
}

func (s *Server) decideBacklash(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return keep(d, "backlash", b.Backlash, gearcase.Judge, func(v *gearcase.Verdict) string {
		return say.Capital(b.Backlash.Gear) + ": " + v.Sentence
	})
}

func (s *Server) decidePropeller(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return keep(d, "propeller", b.Propeller, propeller.Work, func(a *propeller.Answer) string { return "Propeller: " + a.Sentence })
}

// decideInspection keeps what was found as the case came apart.
func (s *Server) decideInspection(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	if err := keep(d, "inspection", b.Inspection, gearcase.Inspect, func(x *gearcase.Inspection) string { return x.Title }); err != nil {
		return err
	}
	var err error // a record's question is an object
	d.Question, err = json.Marshal(map[string]any{"inspection": b.Inspection})
	return err
}
