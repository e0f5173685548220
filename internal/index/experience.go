package index

import (
	"context"
	"encoding/json"

	"zorvel/core/backlash"
	"zorvel/core/experience"
	"zorvel/internal/store"
)

// Housings is what other shops' housings of a kind taught, beside what is believed of them;
// nil where they say nothing, and while the database doesn't answer: the law does without.
func (s *Index) Housings(ctx context.Context, kind string, believed backlash.Housings) *backlash.Housings {
	pool, err := s.Experience(ctx)
	if err != nil {
		s.log.Warn("other shops' housings are left out", "error", err)
		return nil
	}
	return pool.Housings(kind, believed)
}

// Experience is what other shops found, kept until it changes. A file that can't be read any more is left out: it was
// checked when it came.
func (s *Index) Experience(ctx context.Context) (*experience.Pool, error) {
	mark, err := s.store.CatalogMark(ctx, store.ExperienceMark)
	if err != nil {
		return nil, err
	}
	if p, ok := s.pools.Get(mark); ok {
		return p, nil
	}
	rows, err := s.store.Experiences(ctx)
	if err != nil {
		return nil, err
	}
	var files []experience.File
	for _, x := range rows {
		var f experience.File
		if err := json.Unmarshal(x.File, &f); err != nil || f.Check() != nil {
			s.log.Warn("another shop's experience can't be read", "id", x.ID, "error", err)
			continue
		}
		files = append(files, f)
	}
	p := experience.NewPool(files)
	s.pools.Add(mark, p)
	return p, nil
}
