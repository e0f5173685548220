package live

import (
	"context"
	"encoding/json"
	"slices"
	"strconv"
	"sync"

	"zorvel/api"
	"zorvel/core/identify/bench"
	"zorvel/core/live"
	"zorvel/internal/store"
)

// gathered is what came to a session so far, and what it says.
type gathered struct {
	mu      sync.Mutex
	sources []live.Source
	points  int
	last    int64 // the chunk up to which it was gathered

	weighedAt int64 // the revision of what follows
	state     *api.LiveState
}

// state is a session with everything that came weighed. Of several that ask at once one
// does the work.
func (s *Room) state(ctx context.Context, id int64) (*api.LiveState, error) {
	x, err := s.store.Live(ctx, id)
	if err != nil {
		return nil, err
	}
	g := &gathered{}
	if old, ok, _ := s.gathered.PeekOrAdd(id, g); ok {
		g = old
		s.gathered.Get(id)
	}
	g.mu.Lock()
	defer g.mu.Unlock()
	if err := g.gather(ctx, s.store, x); err != nil {
		return nil, err
	}
	if g.state == nil || g.weighedAt != x.Revision {
		if g.state, err = s.weigh(ctx, x, g.sources); err != nil {
			return nil, err
		}
		g.weighedAt = x.Revision
	}
	out := *g.state
	if out.Sensors, err = s.line(ctx); err != nil {
		return nil, err
	}
	return &out, nil
}

// gather adds what is new. Where fewer points are there than were gathered, somebody
// started over.
func (g *gathered) gather(ctx context.Context, st *store.Store, x store.LiveSession) error {
	if x.Points < g.points {
		g.sources, g.points, g.last = nil, 0, 0
	}
	if x.Revision == g.last {
		return nil
	}
	chunks, last, err := st.LiveChunks(ctx, x.ID, g.last)
	if err != nil {
		return err
	}
	for _, c := range chunks {
		var list []live.Source
		if json.Unmarshal(c, &list) != nil {
			continue // damaged in the database: what else came still counts
		}
		for _, piece := range list {
			if piece.Check() == nil {
				g.add(piece)
			}
		}
	}
	g.last = last
	return nil
}

// add joins a piece to its source. One of another clock on the same shaft takes its
// place: the phone there was changed.
func (g *gathered) add(piece live.Source) {
	g.points += len(piece.Times) + len(piece.Motion)
	i := slices.IndexFunc(g.sources, func(s live.Source) bool { return s.Shaft == piece.Shaft })
	switch {
	case i < 0:
		g.sources = append(g.sources, piece)
		return
	case g.sources[i].Clock != piece.Clock || g.sources[i].Marks != piece.Marks:
		g.sources[i] = piece
		return
	}
	s := &g.sources[i]
	for k, t := range piece.Times {
		if n := len(s.Times); n > 0 && t < s.Times[n-1] {
			t = s.Times[n-1] // two servers handed over: none goes back in time
		}
		s.Times = append(s.Times, t)
		if len(piece.Ways) > 0 {
			s.Ways = append(s.Ways, piece.Ways[k])
		}
	}
	for _, m := range piece.Motion {
		if n := len(s.Motion); n == 0 || m.At >= s.Motion[n-1].At {
			s.Motion = append(s.Motion, m)
		}
	}
	if len(s.Ways) != len(s.Times) {
		s.Ways = nil // some came without: then direction isn't told
	}
}

// recording is a session's sources with its setup.
func recording(setup api.LiveSetup, sources []live.Source) live.Recording {
	r := live.Recording{Sources: slices.Clone(sources), Other: setup.Other, OneWay: api.Value(setup.OneWay)}
	if setup.HeldWheels != nil {
		r.HeldWheels = *setup.HeldWheels
	}
	if setup.Outputs != nil {
		r.Outputs = live.Outputs(*setup.Outputs)
	}
	if slices.ContainsFunc(r.Sources, func(s live.Source) bool { return s.Shaft == live.Output }) {
		r.Sources = slices.DeleteFunc(r.Sources, func(s live.Source) bool {
			return s.Shaft == live.Left ||
				s.Shaft == live.Right
		})
	}
	return r
}

// setupOf reads a session's setup; one that can't be read is an empty one.
func setupOf(x store.LiveSession) api.LiveSetup {
	var setup api.LiveSetup
	if json.Unmarshal(x.Setup, &setup) != nil {
		setup = api.LiveSetup{}
	}
	if setup.Channels == nil {
		setup.Channels = []api.LiveChannel{}
	}
	return setup
}

// weigh is a session's state without how the line of the sensors is.
func (s *Room) weigh(ctx context.Context, x store.LiveSession, sources []live.Source) (*api.LiveState, error) {
	setup := setupOf(x)
	out := &api.LiveState{Id: x.ID, Title: x.Title, StageId: api.Some(x.StageID), Ended: x.Ended, Kept: x.Kept,
		Revision: x.Revision,
		Version:  x.Version, Setup: setup, Points: x.Points, Phones: []live.Shaft{}, By: x.By, At: x.At,
		Answer: live.Answer{Counts: []live.Count{}, Troubles: []live.Trouble{}, Notes: []string{},
			Sentence: "Nothing counted yet."}}
	joins, err := s.store.LiveJoins(ctx, x.ID)
	if err != nil {
		return nil, err
	}
	for _, j := range joins {
		out.Phones = append(out.Phones, live.Shaft(j.Shaft))
	}
	if len(sources) == 0 {
		return out, nil
	}
	rec := recording(setup, sources)
	a, err := live.Weigh(rec)
	if err != nil {
		s.log.Warn("weighing a live count", "id", x.ID, "error", err)
		out.Answer.Sentence = "These marks can't be counted together. Start over."
		return out, nil
	}
	out.Answer = *a
	if out.Reading = bench.LiveReading(a, rec); out.Reading != nil {
		out.Reading.Session = strconv.FormatInt(x.ID, 10)
	}
	return out, nil
}

// line is how the shaft sensors are.
func (s *Room) line(ctx context.Context) (api.LiveSensors, error) {
	l, err := s.store.LiveLine(ctx)
	if err != nil {
		return api.LiveSensors{}, err
	}
	out := api.LiveSensors{Configured: s.sensors != "", Address: api.Some(l.Address), Connected: l.Connected,
		Trouble: api.Some(l.Trouble), Channels: []int{}}
	if json.Unmarshal(l.Channels, &out.Channels) != nil || out.Channels == nil {
		out.Channels = []int{}
	}
	return out, nil
}
