package index

import (
	"context"
	"encoding/json"
	"fmt"

	"zorvel/core/catalog"
	"zorvel/core/identify"
	"zorvel/internal/store"
)

// stageKey names a kind of stage where its counts are kept.
func stageKey(st identify.Stage) string { return fmt.Sprintf("%q", st.Normal()) }

// Recount counts how often the shop's list held what was found, of the housings whose
// gears were counted last.
func (s *Index) Recount(ctx context.Context) error {
	mark, err := s.store.TeethMark(ctx)
	if err != nil || mark == s.counted {
		return err
	}
	if err := s.countLists(ctx); err != nil {
		return err
	}
	s.counted = mark
	return nil
}

func (s *Index) countLists(ctx context.Context) error {
	rows, err := s.Rows(ctx, catalog.GearSets)
	if err != nil {
		return err
	}
	lists := map[string]*identify.List{}
	for _, x := range rows {
		r := catalog.Row(x.Cells)
		k := stageKey(r.Stage())
		if lists[k] == nil {
			lists[k] = &identify.List{}
		}
		lists[k].Sets = append(lists[k].Sets, r.Entry())
	}
	judge := func(teeth []store.CountedTeeth) map[string]store.ListCount {
		for _, l := range lists { // judged again where the transaction is
			l.Counted, l.Found = 0, 0
		}
		seen := map[int64]bool{}
		for _, x := range teeth {
			l := lists[stageKey(Kept(x.Stage))]
			var r identify.Reading
			if l == nil || seen[x.Stage.ID] || json.Unmarshal(x.Data, &r) != nil {
				continue
			}
			seen[x.Stage.ID] = l.Count(Kept(x.Stage), r.Teeth)
		}
		out := map[string]store.ListCount{}
		for k, l := range lists {
			if l.Counted > 0 {
				out[k] = store.ListCount{Counted: l.Counted, Found: l.Found}
			}
		}
		return out
	}
	differs := func(a, b store.ListCount) bool { return share(a) != share(b) }
	return s.store.Recount(ctx, judge, differs)
}

// share is what a list with these counts has earned.
func share(c store.ListCount) float64 {
	return identify.List{Sets: make([]identify.CatalogEntry, 1), Counted: c.Counted, Found: c.Found}.Share()
}
