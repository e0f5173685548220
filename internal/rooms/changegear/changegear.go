package changegear

import (
	"context"
	"encoding/json"
	"strings"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/changegear"
	"zorvel/core/fault"
	"zorvel/internal/index"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// shelfFromShop fills in the shop's change gears where a question asks for
// them: those of the axle's family.
func (s *Room) shelfFromShop(ctx context.Context, q changegear.Request) (changegear.Request, error) {
	err := q.Driveline.CheckAs("driveline")
	if err != nil || !q.UseShop {
		return q, err
	}
	q.UseShop = false
	if q.Shelf != nil {
		return q, nil
	}
	family := strings.TrimSpace(q.Family)
	if d := q.Driveline; d != nil && family == "" {
		for _, p := range d.Parts {
			if p.Axle != nil && p.Axle.Change != nil {
				family = p.Family
			}
		}
	}
	q.Shelf, err = index.Entries(ctx, s.index, catalog.ChangeGears, func(id string, r catalog.Row) (changegear.Set, bool) {
		set, ok := r.ChangeSet(id)
		return set, ok && (family == "" || strings.EqualFold(set.Family, family))
	})
	return q, err
}

// ChangeGears answers for a shelf of change gears.
func (s *Room) ChangeGears(ctx context.Context, r api.ChangeGearsRequestObject) (api.ChangeGearsResponseObject, error) {
	q, err := s.shelfFromShop(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	a, err := changegear.Work(q)
	if err != nil {
		return nil, err
	}
	return api.ChangeGears200JSONResponse(*a), nil
}

// ChangeGearsRun reads a recorded run.
func (s *Room) ChangeGearsRun(ctx context.Context, r api.ChangeGearsRunRequestObject) (api.ChangeGearsRunResponseObject, error) {
	q, err := s.shelfFromShop(ctx, r.Body.ChangeGears)
	if err != nil {
		return nil, fault.Under("change_gears", err)
	}
	run, err := changegear.ReadRun(q, r.Body.Run)
	if err != nil {
		return nil, underUnless("change_gears", "run", err)
	}
	return api.ChangeGearsRun200JSONResponse(*run), nil
}

// underUnless puts a property before every path that is not under own.
func underUnless(property, own string, err error) error {
	list := fault.List(err)
	out := make(fault.Errors, len(list))
	for i, f := range list {
		out[i] = f
		if f.Field != own && !strings.HasPrefix(f.Field, own+"/") {
			out[i] = fault.New(property+"/"+f.Field, "%s", f.Message)
		}
	}
	return out
}

// eventRecord is what stays of an event.
type eventRecord struct {
	Event  *changegear.Event  `json:"event"`
	Logged *changegear.Logged `json:"logged"`
}

// decide logs a session at a track.
func (s *Room) decide(ctx context.Context, b *api.NewDecision, d *store.Decision) error {
	switch {
	case b.ChangeGears == nil:
		return problem.Field("/change_gears", "the question is needed, as for /calc/change-gears")
	case b.Event == nil:
		return problem.Field("/event", "the session is needed: track, gears counted, what came of it")
	}
	q, err := s.shelfFromShop(ctx, *b.ChangeGears)
	if err != nil {
		return fault.Under("change_gears", err)
	}
	x, err := changegear.Log(q, *b.Event)
	if err != nil {
		return underUnless("change_gears", "event", err)
	}
	d.Title = x.Title
	q.Shelf = nil // the pair is in the event; the shelf is the shop's
	if d.Question, err = json.Marshal(q); err != nil {
		return err
	}
	d.Answer, err = json.Marshal(eventRecord{b.Event, x})
	return err
}
