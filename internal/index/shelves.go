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

// Shop is the shop's gear sets by the stage that they are for.
type Shop map[identify.Stage]shelf

// shelf is the sets of one stage, with a key that changes when they do.
type shelf struct {
	list identify.List
	key  string
	mark string // what verdicts that rest on it are marked with
}

// Shop reads the shop's gear sets, kept until their list changes.
func (s *Index) Shop(ctx context.Context) (Shop, error) {
	mark, err := s.store.CatalogMark(ctx, catalog.GearSets)
	if err != nil {
		return nil, err
	}
	counts, counted, err := s.store.ListCounts(ctx)
	if err != nil {
		return nil, err
	}
	known := [2]int64{mark, counted}
	if out, ok := s.shops.Get(known); ok {
		return out, nil
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
	for k, l := range out {
		text, err := json.Marshal(l.list.Sets)
		if err != nil {
			return nil, err
		}
		c := counts[stageKey(k)]
		l.list.Counted, l.list.Found = c.Counted, c.Found
		l.key = fmt.Sprintf("%q %d %d %s", k, c.Counted, c.Found, text)
		// What a verdict says changes with the share, which moves in steps.
		l.mark = shelfMark(fmt.Sprintf("%q %.2f %s", k, l.list.Share(), text))
		out[k] = l
	}
	s.shops.Add(known, out)
	return out, nil
}

// SpaceOf is the space with the shop's catalog in its prior.
func (s *Index) SpaceOf(sh Shop, st identify.Stage) (*identify.Space, error) {
	base, err := s.Space(st)
	if err != nil {
		return nil, err
	}
	l := sh[st.Normal()]
	if len(l.list.Sets) == 0 {
		return base, nil
	}
	sp, err := shopSpaces.get(l.key, func() (*identify.Space, error) { return base.WithList(l.list) })
	if err != nil {
		return nil, fmt.Errorf("the shop's catalog: %w", err)
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
