package server

import (
	"context"
	"errors"
	"strings"
	"time"

	"zorvel/api"
	"zorvel/core/find"
	"zorvel/core/identify"
	"zorvel/core/say"
	"zorvel/core/service"
	"zorvel/internal/store"
)

// Bounds of making units findable.
const (
	freshenAtOnce = 100 // before a search
	mostFindable  = 60_000
	mostFacts     = 200
	catchUpEvery  = 20 * time.Second
)

// freshen makes units findable that changed since they last were, and says how many
// are left, up to as many again.
func (s *Server) freshen(ctx context.Context, most int) (left int, err error) {
	lists, err := s.store.ListsMark(ctx)
	if err != nil {
		return 0, err
	}
	stale, err := s.store.StaleSearch(ctx, lists, 2*most)
	if err != nil || len(stale) == 0 {
		return 0, err
	}
	for _, x := range stale[:min(most, len(stale))] {
		if err := s.project(ctx, x); err != nil {
			if ctx.Err() != nil {
				return 0, ctx.Err()
			}
			// One unit that can't be read never keeps the others from being found; it is
			// tried again when it changes.
			s.log.Error("a unit can't be made findable", "unit", x.ID, "error", err)
			if err := s.store.PutSearch(ctx, x, store.Found{}); err != nil && !errors.Is(err, store.ErrNotFound) {
				return 0, err
			}
		}
	}
	return max(0, len(stale)-most), nil
}

// project makes anew what a unit is found by, and its verdicts.
func (s *Server) project(ctx context.Context, x store.Stale) error {
	out, err := s.loadUnit(ctx, x.ID)
	if err != nil {
		return err
	}
	f, err := s.findable(ctx, out)
	if err != nil {
		return err
	}
	return s.store.PutSearch(ctx, x, f)
}

// Reindex makes every unit findable anew, and every verdict that is kept, and tells
// after each lot how many there are.
func (s *Server) Reindex(ctx context.Context, told func(done int)) error {
	if err := s.store.ClearSearch(ctx); err != nil {
		return err
	}
	s.knowing.summaries.Purge()
	return s.catchUp(ctx, told)
}

// catchUp makes findable whatever isn't.
func (s *Server) catchUp(ctx context.Context, told func(done int)) error {
	for done := 0; ; {
		lists, err := s.store.ListsMark(ctx)
		if err != nil {
			return err
		}
		stale, err := s.store.StaleSearch(ctx, lists, freshenAtOnce)
		if err != nil || len(stale) == 0 {
			return err
		}
		if _, err := s.freshen(ctx, len(stale)); err != nil {
			return err
		}
		done += len(stale)
		told(done)
	}
}

// keepFindable makes units findable in the background, so that a search after many
// changes at once, or after one of a list that all of them rest on, waits for
// none.
func (s *Server) keepFindable(ctx context.Context) {
	for {
		if err := s.catchUp(ctx, func(int) {}); err != nil && ctx.Err() == nil {
			s.log.Warn("units can't be made findable", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(catchUpEvery):
		}
	}
}

// finds collects what a unit is found and filtered by.
type finds struct {
	words strings.Builder
	facts []store.Fact
}

func (f *finds) add(words ...string) {
	for _, w := range words {
		if !f.full() {
			f.words.WriteString(w + " \n")
		}
	}
}

func (f *finds) full() bool { return f.words.Len() >= mostFindable }

func (f *finds) fact(what, value string) {
	if value != "" && len(f.facts) < mostFacts {
		f.facts = append(f.facts, store.Fact{What: what, Value: say.Clip(value, 80)})
	}
}

// findable is what a unit is found by: its name; and its kind, notes, parts, ratios
// with how they are known, owners, complaints, work, records and photos. The facts
// are what it is filtered by.
func (s *Server) findable(ctx context.Context, u api.Unit) (store.Found, error) {
	var f finds
	f.add(string(u.Kind), u.Notes)
	for _, v := range u.Stages {
		f.ratio(v)
	}
	if _, doc, err := s.keptDriveline(ctx, u.Id); err == nil {
		for i := range doc.Parts {
			f.add(doc.Parts[i].Called(), doc.Parts[i].Family)
			f.fact(store.FactFamily, doc.Parts[i].Family)
		}
	}
	if err := s.dueFacts(ctx, u.Id, f.fact); err != nil {
		return store.Found{}, err
	}
	if err := s.findRecord(ctx, u.Id, &f); err != nil {
		return store.Found{}, err
	}
	return store.Found{Name: say.Clip(find.Index(u.Name), 390), Body: find.Index(f.words.String()), Facts: f.facts}, nil
}

// ratio takes a ratio that the unit has now, and how it is known.
func (f *finds) ratio(v api.StageSummary) {
	if !v.Present {
		return
	}
	if v.Readings > 0 || leads(v.Question.Kind) {
		f.fact(store.FactState, string(v.State))
	}
	if v.State == identify.Unknown {
		return
	}
	f.add(v.Name, settledWords[v.State])
	if v.Label != nil {
		f.add(v.Label.Label)
		f.fact(store.FactRatio, v.Label.Label)
	}
	if v.Build != nil && len(v.Build.Teeth) > 1 {
		f.add(say.Trim(float64(v.Build.Teeth[0].Count), 0) + ":" + say.Trim(float64(v.Build.Teeth[1].Count), 0))
	}
}

// findRecord takes the words of jobs, records, photos and readings.
func (s *Server) findRecord(ctx context.Context, unit int64, f *finds) error {
	jobs, err := s.store.UnitJobs(ctx, unit)
	if err != nil {
		return err
	}
	for _, j := range jobs {
		f.add(j.Complaint, j.Customer, j.HandOver)
		if f.full() {
			break
		}
		work, err := s.store.JobWork(ctx, j.ID)
		if err != nil {
			return err
		}
		for _, w := range work {
			f.add(w.Text)
		}
	}
	decisions, err := s.store.Decisions(ctx, unit)
	if err != nil {
		return err
	}
	for _, d := range decisions {
		f.add(d.Title, d.Note)
	}
	photos, err := s.store.Photos(ctx, unit)
	if err != nil {
		return err
	}
	for _, p := range photos {
		f.add(p.Title)
	}
	history, err := s.store.History(ctx, unit, 0)
	for _, e := range history {
		if e.What == "reading" {
			f.add(e.Text)
		}
	}
	return err
}

// dueFacts say from which day on something of a unit is overdue, and from which
// it is soon to be.
func (s *Server) dueFacts(ctx context.Context, unit int64, fact func(what, value string)) error {
	a, _, _, _, err := s.dueOf(ctx, unit)
	if err != nil {
		return err
	}
	const always = "0001-01-01"
	first := map[string]string{}
	from := func(what, day string) {
		if was, ok := first[what]; !ok || day < was {
			first[what] = day
		}
	}
	for _, d := range a.Due {
		switch {
		case d.State == service.Overdue:
			from(store.FactDue, always)
			from(store.FactSoon, always)
		case d.State == service.Soon:
			from(store.FactSoon, always)
		}
		if d.On != nil && d.State != service.Unknown {
			// Overdue is the day after.
			from(store.FactDue, d.On.AddDate(0, 0, 1).Format(time.DateOnly))
			from(store.FactSoon, d.On.AddDate(0, -1, 0).Format(time.DateOnly))
		}
	}
	for what, day := range first {
		fact(what, day)
	}
	return nil
}
