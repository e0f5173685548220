package propeller

import (
	"context"

	"zorvel/api"
	"zorvel/core/instruments"
	"zorvel/core/propeller"
	"zorvel/internal/record"
	"zorvel/internal/store"
)

// Propeller answers for a boat.
func (s *Room) Propeller(_ context.Context, r api.PropellerRequestObject) (api.PropellerResponseObject, error) {
	a, err := propeller.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.Propeller200JSONResponse(*a), nil
}

// RecordedInstruments reads a recorded file.
func (s *Room) RecordedInstruments(_ context.Context,
	r api.RecordedInstrumentsRequestObject) (api.RecordedInstrumentsResponseObject, error) {
	x, err := instruments.ReadRecorded(r.Body.Text)
	if err != nil {
		return nil, err
	}
	return api.RecordedInstruments200JSONResponse(*x), nil
}

// GetInstruments tells how the stream stands.
func (s *Room) GetInstruments(ctx context.Context, _ api.GetInstrumentsRequestObject) (api.GetInstrumentsResponseObject, error) {
	out := api.Instruments{Samples: []instruments.Sample{}}
	if s.instruments != nil {
		x := s.instruments.State()
		out = api.Instruments{Configured: true, Address: api.Some(s.instruments.Addr()), Connected: x.Connected,
			Trouble: api.Some(x.Trouble), Samples: x.Samples, Count: &x.Count, Steady: x.Steady}
		if len(x.Samples) > 0 {
			out.Now, out.Age = &x.Now, &x.Age
		}
	}
	return api.GetInstruments200JSONResponse(out), nil
}

func (s *Room) decide(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return record.Keep(d, "propeller", b.Propeller, propeller.Work, func(a *propeller.Answer) string { return "Propeller: " + a.Sentence })
}
