package index

import (
	"context"
	"encoding/json"
	"fmt"
	"strconv"

	"zorvel/core/catalog"
	"zorvel/core/identify"
	"zorvel/internal/store"
)

// Shop is what weighs before any reading, by the stage that it is for: the shop's gear
// sets, and what other shops counted.
type Shop map[identify.Stage]shelf

// shelf is the sets of one stage, with a key that changes when they do.
type shelf struct {
	list   identify.List
	others identify.Others
	key    string
	mark   string // what verdicts that rest on it are marked with
}

// Others is what other shops counted in a kind of stage, with what this shop's own counts
// say of it.
func (sh Shop) Others(st identify.Stage) identify.Others { return sh[st.Normal()].others }

// Shop reads the shop's gear sets and other shops' counts, kept until they change.
func (s *Index) Shop(ctx context.Context) (Shop, error) {
	marks, err := s.store.Marks(ctx, catalog.GearSets, store.ListCounts, store.ExperienceMark)
	if err != nil {
		return nil, err
	}
	known := [3]int64{marks[catalog.GearSets], marks[store.ListCounts], marks[store.ExperienceMark]}
	if out, ok := s.shops.Get(known); ok {
		return out, nil
	}
	counts, err := s.store.CountsOfLists(ctx)
	if err != nil {
		return nil, err
	}
	pool, err := s.Experience(ctx)
	if err != nil {
		return nil, err
	}
	rows, err := s.Rows(ctx, catalog.GearSets)
	if err != nil {
		return nil, err
	}
	out := Shop{}
	for _, x := range rows {
		r := catalog.Row(x.Cells)
		k := r.Stage().Normal()
		l := out[k]
		l.list.Sets = append(l.list.Sets, r.Entry())
		out[k] = l
	}
	for _, st := range pool.Stages() {
		l := out[st]
		l.others = pool.Others(st)
		out[st] = l
	}
	for k, l := range out {
		if err := l.count(k, counts); err != nil {
			return nil, err
		}
		out[k] = l
	}
	s.shops.Add(known, out)
	return out, nil
}

// count takes over what the shop's own counts say, and names what the shelf holds then.
func (l *shelf) count(st identify.Stage, counts map[string]store.ListCount) error {
	text, err := json.Marshal(l.list.Sets)
	if err != nil {
		return err
	}
	c, o := counts[stageKey(st)], counts[othersKey(st)]
	l.list.Counted, l.list.Found = c.Counted, c.Found
	l.others.Own, l.others.Hit = o.Counted, o.Found
	others := fmt.Sprintf("%v %.4f %.4f", l.others.Sets, l.others.Foretold, l.others.Least)
	l.key = fmt.Sprintf("%q %d %d %s %d %d %s", st, c.Counted, c.Found, text, o.Counted, o.Found, others)
	// What a verdict says changes with the shares, which move in steps.
	l.mark = shelfMark(fmt.Sprintf("%q %.2f %s %.2f %s", st, l.list.Share(), text, l.others.Share(), others))
	return nil
}

// SpaceOf is the space with what weighs before any reading in its prior.
func (s *Index) SpaceOf(sh Shop, st identify.Stage) (*identify.Space, error) {
	base, err := s.Space(st)
	if err != nil {
		return nil, err
	}
	l := sh[st.Normal()]
	if len(l.list.Sets) == 0 && len(l.others.Sets) == 0 {
		return base, nil
	}
	sp, err := shopSpaces.get(l.key, func() (*identify.Space, error) { return base.With(l.list, l.others) })
	if err != nil {
		return nil, fmt.Errorf("what weighs before any reading: %w", err)
	}
	return sp, nil
}

// Kept is the question of a stored stage.
func Kept(v store.Stage) identify.Stage {
	return identify.Stage{Kind: identify.Kind(v.Kind), Position: v.Position, Held: identify.Member(v.Held), Input: identify.Member(v.Input)}
}

// Rows is a list's rows, kept until the list changes.
func (s *Index) Rows(ctx context.Context, list string) ([]store.CatalogRow, error) {
	mark, err := s.store.CatalogMark(ctx, list)
	if err != nil {
		return nil, err
	}
	key := fmt.Sprintf("%s %d", list, mark)
	if rows, ok := s.lists.Get(key); ok {
		return rows, nil
	}
	rows, err := s.store.CatalogRows(ctx, list)
	if err == nil {
		s.lists.Add(key, rows)
	}
	return rows, err
}

// Entries reads a list's rows for a computation.
func Entries[T any](ctx context.Context, s *Index, list string, read func(id string, r catalog.Row) (T, bool)) ([]T, error) {
	rows, err := s.Rows(ctx, list)
	var out []T
	for _, r := range rows {
		if v, ok := read(strconv.FormatInt(r.ID, 10), r.Cells); ok {
			out = append(out, v)
		}
	}
	return out, err
}

// Always reads every row.
func Always[T any](read func(catalog.Row) T) func(string, catalog.Row) (T, bool) {
	return func(_ string, r catalog.Row) (T, bool) { return read(r), true }
}
