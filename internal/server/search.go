package server

import (
	"context"
	"strings"

	"zorvel/core/find"
	"zorvel/core/identify"
	"zorvel/core/say"
	"zorvel/internal/store"
)

// Bounds of making units findable.
const (
	freshenAtOnce = 100 // before a search
	mostFindable  = 60_000
)

// units lists units by last change, or by what was sought.
func (s *Server) units(ctx context.Context, sought string) ([]store.Unit, error) {
	q := find.Query(sought)
	if strings.TrimSpace(sought) == "" {
		return s.store.Units(ctx, "")
	}
	if err := s.freshen(ctx, freshenAtOnce); err != nil {
		return nil, err
	}
	return s.store.Found(ctx, q)
}

// freshen makes units findable that changed since they last were.
func (s *Server) freshen(ctx context.Context, most int) error {
	list, err := s.store.StaleSearch(ctx, most)
	if err != nil {
		return err
	}
	for _, x := range list {
		name, body, err := s.findable(ctx, x.ID)
		if err != nil {
			return err
		}
		if err := s.store.PutSearch(ctx, x, name, body); err != nil {
			return err
		}
	}
	return nil
}

// Reindex makes every unit findable anew, and tells after each lot how many there
// are.
func (s *Server) Reindex(ctx context.Context, told func(done int)) error {
	if err := s.store.ClearSearch(ctx); err != nil {
		return err
	}
	for done := 0; ; {
		list, err := s.store.StaleSearch(ctx, freshenAtOnce)
		if err != nil || len(list) == 0 {
			return err
		}
		if err := s.freshen(ctx, len(list)); err != nil {
			return err
		}
		done += len(list)
		told(done)
	}
}

// findable is what a unit is found by: its name; and its kind, notes, parts, ratios
// with how they are known, owners, complaints, work, records and photos.
func (s *Server) findable(ctx context.Context, id int64) (name, body string, err error) {
	u, err := s.loadUnit(ctx, id)
	if err != nil {
		return "", "", err
	}
	var b strings.Builder
	add := func(words ...string) {
		for _, w := range words {
			if b.Len() < mostFindable {
				b.WriteString(w + " \n")
			}
		}
	}
	add(string(u.Kind), u.Notes)
	for _, v := range u.Stages {
		if !v.Present || v.State == identify.Unknown {
			continue
		}
		add(v.Name, settledWords[v.State])
		if v.Label != nil {
			add(v.Label.Label)
		}
		if v.Build != nil && len(v.Build.Teeth) > 1 {
			add(say.Trim(float64(v.Build.Teeth[0].Count), 0) + ":" + say.Trim(float64(v.Build.Teeth[1].Count), 0))
		}
	}
	if _, doc, err := s.keptDriveline(ctx, id); err == nil {
		for i := range doc.Parts {
			add(doc.Parts[i].Called(), doc.Parts[i].Family)
		}
	}
	jobs, err := s.store.UnitJobs(ctx, id)
	if err != nil {
		return "", "", err
	}
	for _, j := range jobs {
		add(j.Complaint, j.Customer, j.HandOver)
		if b.Len() > mostFindable {
			break
		}
		work, err := s.store.JobWork(ctx, j.ID)
		if err != nil {
			return "", "", err
		}
		for _, w := range work {
			add(w.Text)
		}
	}
	decisions, err := s.store.Decisions(ctx, id)
	if err != nil {
		return "", "", err
	}
	for _, d := range decisions {
		add(d.Title, d.Note)
	}
	photos, err := s.store.Photos(ctx, id)
	if err != nil {
		return "", "", err
	}
	for _, p := range photos {
		add(p.Title)
	}
	history, err := s.store.History(ctx, id)
	if err != nil {
		return "", "", err
	}
	for _, e := range history {
		if e.What == "reading" {
			add(e.Text)
		}
	}
	return say.Clip(find.Index(u.Name), 390), find.Index(b.String()), nil
}
