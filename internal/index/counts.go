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

// othersKey is where it is counted how often other shops' sets were found here.
func othersKey(st identify.Stage) string { return "others " + stageKey(st) }

// Recount counts how often the shop's list held what was found, and how often other shops
// had counted it, of the housings whose gears were counted last.
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
	pool, err := s.Experience(ctx)
	if err != nil {
		return err
	}
	foretold := map[string]float64{}
	for _, st := range pool.Stages() {
		o := pool.Others(st)
		lists[othersKey(st)], foretold[othersKey(st)] = &identify.List{Sets: o.Sets}, o.Foretold
	}
	judge := func(teeth []store.CountedTeeth) map[string]store.ListCount {
		for _, l := range lists { // judged again where the transaction is
			l.Counted, l.Found = 0, 0
		}
		seen := map[int64]bool{}
		for _, x := range teeth {
			st := Kept(x.Stage)
			l, o := lists[stageKey(st)], lists[othersKey(st)]
			var r identify.Reading
			if l == nil && o == nil || seen[x.Stage.ID] || json.Unmarshal(x.Data, &r) != nil {
				continue
			}
			for _, list := range []*identify.List{l, o} {
				if list != nil {
					seen[x.Stage.ID] = list.Count(st, r.Teeth) || seen[x.Stage.ID]
				}
			}
		}
		out := map[string]store.ListCount{}
		for k, l := range lists {
			if l.Counted > 0 {
				out[k] = store.ListCount{Counted: l.Counted, Found: l.Found}
			}
		}
		return out
	}
	differs := func(key string, a, b store.ListCount) bool {
		g, others := foretold[key]
		return share(a, others, g) != share(b, others, g)
	}
	return s.store.Recount(ctx, judge, differs)
}

// share is what a list, or other shops' sets, with these counts have earned.
func share(c store.ListCount, others bool, foretold float64) float64 {
	sets := make([]identify.CatalogEntry, 1)
	if others {
		return identify.Others{Sets: sets, Own: c.Counted, Hit: c.Found, Foretold: foretold}.Share()
	}
	return identify.List{Sets: sets, Counted: c.Counted, Found: c.Found}.Share()
}
