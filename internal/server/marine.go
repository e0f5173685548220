package server

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"zorvel/api"
	"zorvel/core/fault"
	"zorvel/core/gearcase"
	"zorvel/core/live"
	"zorvel/core/propeller"
	"zorvel/core/workcard"
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
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
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
		return refuseField("/"+field, "the question is needed")
	}
	a, err := work(*q)
	if err != nil {
		return fault.Under(field, err)
	}
	d.Title = clip(title(a))
	if d.Question, err = json.Marshal(q); err != nil {
		return err
	}
	d.Answer, err = json.Marshal(a)
	return err
}

// clip keeps a title within what a record holds.
func clip(s string) string {
	if r := []rune(s); len(r) > 200 {
		return string(r[:199]) + "…"
	}
	return s
}

func (s *Server) decideShims(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return keep(d, "shims", b.Shims, gearcase.Work, func(a *gearcase.Answer) string { return a.Sentence })
}

func (s *Server) decideBacklash(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return keep(d, "backlash", b.Backlash, gearcase.Judge, func(v *gearcase.Verdict) string {
		return strings.ToUpper(b.Backlash.Gear[:min(1, len(b.Backlash.Gear))]) + b.Backlash.Gear[min(1, len(b.Backlash.Gear)):] + ": " + v.Sentence
	})
}

func (s *Server) decideCard(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return keep(d, "card", b.Card, workcard.Sum, func(x *workcard.Sheet) string { return x.Title })
}

// ListCards lists the work cards.
func (s *Server) ListCards(context.Context, api.ListCardsRequestObject) (api.ListCardsResponseObject, error) {
	return api.ListCards200JSONResponse(workcard.Cards()), nil
}

func (s *Server) decidePropeller(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return keep(d, "propeller", b.Propeller, propeller.Work, func(a *propeller.Answer) string { return "Propeller: " + a.Sentence })
}

// found is a finding of an inspection with what was looked at.
type found struct {
	What string `json:"what"`
	Find string `json:"find"`
}

// decideInspection keeps what was found as the case came apart.
func (s *Server) decideInspection(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	if b.Inspection == nil {
		return refuseField("/inspection", "what was found is needed")
	}
	looks := map[string]gearcase.Look{}
	for _, l := range gearcase.Looks() {
		looks[l.ID] = l
	}
	var list []found
	bad := 0
	for i, f := range *b.Inspection {
		l, ok := looks[f.Id]
		if !ok {
			return refuseField(fmt.Sprintf("/inspection/%d/id", i), "one of the things that are looked at, as /calc/gearcase/looks lists them")
		}
		if f.Find != l.Finds[0] {
			bad++
		}
		list = append(list, found{l.What, f.Find})
	}
	d.Title = fmt.Sprintf("Gearcase inspected: %d looked at, %d to see to", len(list), bad)
	for _, x := range list {
		if bad > 0 && bad <= 3 && x.Find != "" {
			for _, l := range looks {
				if l.What == x.What && l.Finds[0] != x.Find {
					d.Title += "; " + strings.ToLower(l.What[:1]) + l.What[1:] + ": " + x.Find
				}
			}
		}
	}
	d.Title = clip(d.Title)
	var err error
	if d.Question, err = json.Marshal(map[string]any{"inspection": b.Inspection}); err != nil {
		return err
	}
	d.Answer, err = json.Marshal(map[string]any{"found": list})
	return err
}
