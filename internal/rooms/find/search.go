package find

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
	"zorvel/internal/guard"
	"zorvel/internal/jobfacts"
	"zorvel/internal/store"
)

// Bounds of making units findable.
const (
	freshenAtOnce = 40 // before a list; the rest is made in the background
	freshenWithin = 2 * time.Second
	lotAtOnce     = 100 // in the background
	mostFindable  = 60_000
	mostFacts     = 200
	catchUpEvery  = 5 * time.Second // also of what other servers took in
)

// freshen makes a few units findable that changed since they last were, before a
// list is read, and says how many are left, up to as many again. It only adds to
// what a reader finds: where something can't be kept, the list goes without it.
func (s *Room) freshen(ctx context.Context) (left int, err error) {
	lists, err := s.store.ListsMark(ctx)
	if err != nil {
		return 0, err
	}
	within, cancel := context.WithTimeout(ctx, freshenWithin)
	defer cancel()
	// One reader at a time: what several would make at once they would make alike.
	select {
	case s.fresh <- struct{}{}:
		defer func() { <-s.fresh }()
	case <-within.Done():
	}
	stale, err := s.store.StaleSearch(ctx, lists, 2*freshenAtOnce)
	if err != nil || len(stale) == 0 {
		return 0, err
	}
	done := 0
	for _, x := range stale[:min(freshenAtOnce, len(stale))] {
		if s.makeFindable(within, x) != nil {
			break
		}
		done++
	}
	if left = len(stale) - done; left > 0 {
		select {
		case s.behind <- struct{}{}:
		default: // it is known already
		}
	}
	return left, ctx.Err()
}

// makeFindable makes anew what one unit is found by. A unit that can't be read is
// set aside, with the reason, and found by its name alone; it is tried again when
// it changes. The error is one of the database or of the request.
func (s *Room) makeFindable(ctx context.Context, x store.Stale) error {
	f, err := s.project(ctx, x.ID)
	aside := ""
	switch {
	case errors.Is(err, store.ErrNotFound):
		return nil
	case ctx.Err() != nil:
		return ctx.Err()
	case store.Passing(err):
		return err
	case err != nil:
		s.log.Error("a unit can't be read and is set aside", "unit", x.ID, "error", err)
		aside = err.Error()
		name, err := s.store.UnitName(ctx, x.ID)
		if err != nil {
			return err
		}
		f = store.Found{Name: say.Clip(find.Index(name), 390)}
	}
	if err := s.store.PutSearch(ctx, x, f, aside); !errors.Is(err, store.ErrNotFound) {
		return err
	}
	return nil
}

// project makes anew what a unit is found by, and its verdicts. What breaks on the
// way is an error of this unit, and not the end of the server.
func (s *Room) project(ctx context.Context, unit int64) (f store.Found, err error) {
	defer guard.Recovered(&err)
	out, err := s.units.Load(ctx, unit)
	if err != nil {
		return f, err
	}
	return s.findable(ctx, out)
}

// Reindex makes every unit findable anew, and every verdict that is kept, and tells
// after each lot how many there are.
func (s *Room) Reindex(ctx context.Context, told func(done int)) error {
	if err := errors.Join(s.store.Tally(ctx), s.store.ClearSearch(ctx)); err != nil {
		return err
	}
	s.index.Forget()
	return s.catchUp(ctx, told)
}

// catchUp makes findable whatever isn't.
func (s *Room) catchUp(ctx context.Context, told func(done int)) error {
	if err := s.index.Recount(ctx); err != nil {
		return err
	}
	for done := 0; ; {
		lists, err := s.store.ListsMark(ctx)
		if err != nil {
			return err
		}
		stale, err := s.store.StaleSearch(ctx, lists, lotAtOnce)
		if err != nil || len(stale) == 0 {
			return err
		}
		for _, x := range stale {
			if err := s.makeFindable(ctx, x); err != nil {
				return err
			}
		}
		done += len(stale)
		told(done)
	}
}

// KeepFindable makes units findable in the background, so that a search after many
// changes at once, or after one of a list that all of them rest on, waits for
// none. Of several servers one does it; another takes over where that one is gone.
func (s *Room) KeepFindable(ctx context.Context) {
	for {
		lease, err := s.store.TryLease(ctx, "making findable")
		if err == nil {
			if err = s.store.SweepImports(lease.Lost()); err == nil {
				err = s.keepFindable(ctx, lease.Lost())
			}
			lease.End()
		}
		if err != nil && !errors.Is(err, store.ErrHeld) && ctx.Err() == nil {
			s.log.Warn("units can't be made findable", "error", err)
		}
		if !guard.Pause(ctx, time.Second) {
			return
		}
	}
}

// keepFindable does it until the task is another's, or something goes wrong.
func (s *Room) keepFindable(ctx, lost context.Context) error {
	for {
		if err := s.catchUp(lost, func(int) {}); err != nil {
			return err
		}
		select {
		case <-ctx.Done():
			return nil
		case <-lost.Done():
			return context.Cause(lost)
		case <-s.behind:
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
func (s *Room) findable(ctx context.Context, u api.Unit) (store.Found, error) {
	var f finds
	f.add(string(u.Kind), u.Notes)
	for _, v := range u.Stages {
		f.ratio(v)
	}
	if _, doc, err := s.units.DrivelineOf(ctx, u.Id); err == nil {
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
	f.add(v.Name, v.State.Words())
	if v.Label != nil {
		f.add(v.Label.Label)
		f.fact(store.FactRatio, v.Label.Label)
	}
	if v.Build != nil && len(v.Build.Teeth) > 1 {
		f.add(say.Trim(float64(v.Build.Teeth[0].Count), 0) + ":" + say.Trim(float64(v.Build.Teeth[1].Count), 0))
	}
}

// findRecord takes the words of jobs, records, photos and readings.
func (s *Room) findRecord(ctx context.Context, unit int64, f *finds) error {
	jobs, err := s.store.UnitJobs(ctx, unit)
	if err != nil {
		return err
	}
	for _, j := range jobs {
		f.add(j.Complaint, j.HandOver)
		told, err := jobfacts.ListOf(j)
		if err != nil {
			return err
		}
		for _, t := range told {
			f.add(t.Text)
		}
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
func (s *Room) dueFacts(ctx context.Context, unit int64, fact func(what, value string)) error {
	a, _, _, _, err := s.jobs.DueOf(ctx, unit)
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
