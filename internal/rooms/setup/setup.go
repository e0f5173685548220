package setup

import (
	"context"
	"slices"
	"strings"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/driveline/play"
	"zorvel/core/experience"
	"zorvel/core/fits"
	"zorvel/core/setup"
	"zorvel/internal/index"
	"zorvel/internal/record"
	"zorvel/internal/store"
)

// SetUp answers for a set-up.
func (s *Room) SetUp(ctx context.Context, r api.SetUpRequestObject) (api.SetUpResponseObject, error) {
	q, err := s.fromShop(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	a, err := setup.Work(q)
	if err != nil {
		return nil, err
	}
	return api.SetUp200JSONResponse(*a), nil
}

// fromShop adds what the shop knows: its figures, and what other shops' housings taught.
func (s *Room) fromShop(ctx context.Context, q setup.Question) (setup.Question, error) {
	if q.Axle == nil {
		return q, nil
	}
	if q.Axle.Housings == nil {
		a := *q.Axle
		ring, pinion := setup.ByLaw()
		a.Housings = &setup.Housings{Ring: s.index.Housings(ctx, experience.Ring, ring), Pinion: s.index.Housings(ctx,
			experience.Pinion, pinion)}
		if a.Housings.Ring == nil && a.Housings.Pinion == nil {
			a.Housings = nil
		}
		q.Axle = &a
	}
	return s.figuresFromShop(ctx, q)
}

// figuresFromShop adds the shop's figures of the family, where the question
// has none of its own for the same thing.
func (s *Room) figuresFromShop(ctx context.Context, q setup.Question) (setup.Question, error) {
	if q.Axle == nil || strings.TrimSpace(q.Axle.Family) == "" {
		return q, nil
	}
	a := *q.Axle
	list, err := index.Entries(ctx, s.index, catalog.SetUp, func(_ string, r catalog.Row) (setup.Figure, bool) {
		own := slices.ContainsFunc(a.Figures, func(f setup.Figure) bool { return f.Figure == r["figure"] })
		return r.SetUpFigure(), !own && strings.EqualFold(strings.TrimSpace(a.Family), r["family"])
	})
	if err != nil {
		return q, err
	}
	if n := max(0, setup.MostFigures-len(a.Figures)); len(list) > n {
		list = list[:n]
	}
	a.Figures, q.Axle = append(slices.Clone(a.Figures), list...), &a
	return q, nil
}

// Fits answers for a gear before it is fitted.
func (s *Room) Fits(_ context.Context, r api.FitsRequestObject) (api.FitsResponseObject, error) {
	a, err := fits.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.Fits200JSONResponse(*a), nil
}

// FreePlay answers for a driveline that was rocked by hand.
func (s *Room) FreePlay(_ context.Context, r api.FreePlayRequestObject) (api.FreePlayResponseObject, error) {
	a, err := play.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.FreePlay200JSONResponse(*a), nil
}

func (s *Room) decide(ctx context.Context, b *api.NewDecision, d *store.Decision) error {
	q := b.Setup
	if q != nil {
		full, err := s.fromShop(ctx, *q)
		if err != nil {
			return err
		}
		q = &full
	}
	return record.Keep(d, "setup", q, setup.Work, (*setup.Answer).Title)
}

func (s *Room) decideFreePlay(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return record.Keep(d, "free_play", b.FreePlay, play.Work, func(a *play.Answer) string { return "Free play: " + a.Sentence })
}

func (s *Room) decideFits(_ context.Context, b *api.NewDecision, d *store.Decision) error {
	return record.Keep(d, "fits", b.Fits, fits.Work, func(a *fits.Answer) string { return "Fits? " + a.Sentence })
}
