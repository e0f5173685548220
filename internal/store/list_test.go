package store_test

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"zorvel/core/find"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// someUnits are n units, every third a van, every second with a 4.10, every fifth of
// a family; the first of ten overdue since a day ago, the second in a week.
func someUnits(t *testing.T, st *store.Store, n int) []int64 {
	t.Helper()
	ctx := t.Context()
	today := time.Now().UTC()
	for i := range n {
		kind := "truck"
		if i%3 == 0 {
			kind = "van"
		}
		if _, err := st.AddUnit(ctx, store.Unit{Name: fmt.Sprintf("Unit %03d", n-i), Kind: kind}, testkit.Chain(t, 1), "Oda"); err != nil {
			t.Fatal(err)
		}
	}
	stale, err := st.StaleSearch(ctx, 0, n)
	if err != nil || len(stale) != n {
		t.Fatalf("%d stale, %v", len(stale), err)
	}
	slices.SortFunc(stale, func(a, b store.Stale) int { return int(a.ID - b.ID) })
	var ids []int64
	for i, x := range stale {
		f := store.Found{Name: find.Index(fmt.Sprint("unit ", n-i)), Body: "harbor"}
		if i%2 == 0 {
			f.Facts = append(f.Facts, store.Fact{What: store.FactRatio, Value: "4.10"}, store.Fact{What: store.FactState, Value: "measured"})
		}
		if i%5 == 0 {
			f.Facts = append(f.Facts, store.Fact{What: store.FactFamily, Value: "Hollow 9"})
		}
		switch i % 10 {
		case 0:
			f.Facts = append(f.Facts, store.Fact{What: store.FactDue, Value: today.AddDate(0, 0, -1).Format(time.DateOnly)}, store.Fact{What: store.FactSoon, Value: "0001-01-01"})
		case 1:
			f.Facts = append(f.Facts, store.Fact{What: store.FactDue, Value: today.AddDate(0, 0, 7).Format(time.DateOnly)}, store.Fact{What: store.FactSoon, Value: today.Format(time.DateOnly)})
		}
		if err := st.PutSearch(ctx, x, f, ""); err != nil {
			t.Fatal(err)
		}
		ids = append(ids, x.ID)
	}
	return ids
}

func TestFilters(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	someUnits(t, st, 60)
	day := time.Now().UTC()
	for name, c := range map[string]struct {
		q    store.Asked
		want int
	}{
		"all":                {store.Asked{}, 60},
		"kind":               {store.Asked{Kind: "van"}, 20},
		"ratio":              {store.Asked{Ratio: "4.10"}, 30},
		"another ratio":      {store.Asked{Ratio: "4.1"}, 0},
		"state":              {store.Asked{State: "measured"}, 30},
		"family":             {store.Asked{Family: "hollow 9"}, 12},
		"overdue":            {store.Asked{Due: store.FactDue, Day: day}, 6},
		"overdue next month": {store.Asked{Due: store.FactDue, Day: day.AddDate(0, 1, 0)}, 12},
		"overdue or soon":    {store.Asked{Due: store.FactSoon, Day: day}, 12},
		"ratio and family":   {store.Asked{Ratio: "4.10", Family: "Hollow 9"}, 6},
		"all at once":        {store.Asked{Ratio: "4.10", Family: "Hollow 9", Kind: "van", State: "measured", Due: store.FactDue, Day: day}, 2},
		"words and ratio":    {store.Asked{Words: find.Query("harb 4"), Ratio: "4.10", Order: store.ByMatch}, 6},
		"not SQL":            {store.Asked{Ratio: "' OR 1=1 --", Family: "%"}, 0},
		"archived":           {store.Asked{Archived: true}, 0},
	} {
		list, total, err := st.Units(ctx, c.q)
		if err != nil || total != c.want || len(list) != c.want {
			t.Errorf("%s: %d of %d, want %d, %v", name, len(list), total, c.want, err)
		}
	}
	ratios, err := st.FilterBy(ctx, store.FactRatio)
	if err != nil || len(ratios) != 1 || ratios[0].Units != 30 || ratios[0].Value != "4.10" {
		t.Errorf("%+v, %v", ratios, err)
	}
}

// Pages hold every unit once, in each order.
func TestPages(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	ids := someUnits(t, st, 53)
	for order, first := range map[string]int64{"": ids[52], store.ByChange: ids[52], store.ByAdded: ids[52], store.ByName: ids[52], store.ByMatch: ids[52]} {
		seen := map[int64]int{}
		for skip := 0; skip < 70; skip += 10 {
			list, total, err := st.Units(ctx, store.Asked{Order: order, Skip: skip, Most: 10})
			if err != nil || total != 53 {
				t.Fatal(total, err)
			}
			for i, u := range list {
				if seen[u.ID]++; skip == 0 && i == 0 && u.ID != first {
					t.Errorf("%s: %s leads", order, u.Name)
				}
				if len(u.Stages) == 0 {
					t.Errorf("%s without stages", u.Name)
				}
			}
		}
		if len(seen) != 53 {
			t.Errorf("%s: %d of 53 seen", order, len(seen))
		}
		for id, n := range seen {
			if n != 1 {
				t.Errorf("%s: %d seen %d times", order, id, n)
			}
		}
	}
	if list, _, err := st.Units(ctx, store.Asked{Most: 100_000}); err != nil || len(list) != 53 {
		t.Errorf("%d, %v", len(list), err)
	}
}

// What is archived is out of the list and of what is due, and comes back whole.
func TestArchive(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	u := unitOf(t, st, 1)
	job := openOne(t, st, u.ID, "open-key-1")
	if err := st.ArchiveUnit(ctx, u.ID, true, "Oda"); !errors.Is(err, store.ErrInUse) {
		t.Errorf("with an open job: %v", err)
	}
	if err := closeJob(st, u.ID, job, "done"); err != nil {
		t.Fatal(err)
	}
	for i, err := range together(6, func(int) error { return st.ArchiveUnit(ctx, u.ID, true, "Oda") }) {
		if err != nil {
			t.Error(i, err)
		}
	}
	if list, total, err := st.Units(ctx, store.Asked{}); err != nil || total != 0 || len(list) != 0 {
		t.Errorf("%d listed, %v", total, err)
	}
	list, _, err := st.Units(ctx, store.Asked{Archived: true})
	if err != nil || len(list) != 1 || list[0].Archived == nil || list[0].Away != "Oda" {
		t.Fatalf("%+v, %v", list, err)
	}
	if lines, err := st.Lines(ctx, []int64{u.ID}); err != nil || len(lines) != 0 {
		t.Errorf("%d lines for what is due, %v", len(lines), err)
	}
	if err := st.ArchiveUnit(ctx, u.ID, false, "Ivar"); err != nil {
		t.Fatal(err)
	}
	back, err := st.Unit(ctx, u.ID)
	if err != nil || back.Archived != nil || back.Away != "" || len(back.Stages) != len(u.Stages) {
		t.Errorf("%+v, %v", back, err)
	}
	events, err := st.History(ctx, u.ID, 0)
	if err != nil {
		t.Fatal(err)
	}
	told := 0
	for _, e := range events {
		if strings.HasPrefix(e.Text, "Archived") || strings.HasPrefix(e.Text, "Taken back") {
			told++
		}
	}
	if told != 2 {
		t.Errorf("told %d times", told)
	}
	if err := st.ArchiveUnit(ctx, 9999, true, "Oda"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("an unknown unit: %v", err)
	}
}

func TestSavedFilters(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	won := 0
	for _, err := range together(8, func(int) error {
		return st.SaveFilter(ctx, store.Filter{Name: "Every 4.10", Query: "ratio=4.10", By: "Oda"})
	}) {
		switch {
		case err == nil:
			won++
		case !errors.Is(err, store.ErrTaken):
			t.Error(err)
		}
	}
	if won != 1 {
		t.Errorf("%d saved under one name", won)
	}
	for i := range store.MostFilters - 1 {
		if err := st.SaveFilter(ctx, store.Filter{Name: fmt.Sprint("F", i), Query: "kind=van", By: "Oda"}); err != nil {
			t.Fatal(i, err)
		}
	}
	if err := st.SaveFilter(ctx, store.Filter{Name: "one more", Query: "kind=van", By: "Oda"}); !errors.Is(err, store.ErrInUse) {
		t.Errorf("one more than there may be: %v", err)
	}
	list, err := st.Filters(ctx)
	if err != nil || len(list) != store.MostFilters {
		t.Fatal(len(list), err)
	}
	if err := st.DropFilter(ctx, list[0].ID); err != nil {
		t.Error(err)
	}
	if err := st.DropFilter(ctx, list[0].ID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("taken away twice: %v", err)
	}
}

// A verdict is kept once a stage, the newest.
func TestKeptVerdicts(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	u := unitOf(t, st, 2)
	a, b := u.Stages[0].ID, u.Stages[1].ID
	for _, made := range [][]store.KeptVerdict{
		nil,
		{{Stage: a, Evidence: "1-1", Verdict: []byte(`{"state":"assumed"}`)}},
		{{Stage: a, Evidence: "2-1", Verdict: []byte(`{"state":"measured"}`)}, {Stage: b, Evidence: "1-7", Verdict: []byte(`{"state":"conflict"}`)}},
	} {
		if err := st.PutVerdicts(ctx, made); err != nil {
			t.Fatal(err)
		}
	}
	got, err := st.Verdicts(ctx, []int64{a, b, 99})
	if err != nil || len(got) != 2 {
		t.Fatalf("%+v, %v", got, err)
	}
	for _, v := range got {
		if v.Stage == a && v.Evidence != "2-1" || v.Stage == b && v.Evidence != "1-7" {
			t.Errorf("%+v", v)
		}
	}
	if err := st.ClearSearch(ctx); err != nil {
		t.Fatal(err)
	}
	if got, err := st.Verdicts(ctx, []int64{a, b}); err != nil || len(got) != 0 {
		t.Errorf("%+v, %v", got, err)
	}
	if got, err := st.Verdicts(ctx, nil); err != nil || got != nil {
		t.Errorf("of none: %+v, %v", got, err)
	}
}

// History goes on before any of its lines, without one lost or told twice.
func TestHistoryBefore(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	u := unitOf(t, st, 1)
	for i := range 7 {
		if err := st.ChangeUnit(ctx, store.Unit{ID: u.ID, Name: fmt.Sprint("Name ", i), Kind: "van", Version: int64(i + 1)}, "Oda", "renamed"); err != nil {
			t.Fatal(err)
		}
	}
	all, err := st.History(ctx, u.ID, 0)
	if err != nil || len(all) < 8 {
		t.Fatal(len(all), err)
	}
	for i, e := range all {
		rest, err := st.History(ctx, u.ID, e.ID)
		if err != nil || len(rest) != len(all)-i-1 {
			t.Fatalf("before line %d: %d lines of %d, %v", i, len(rest), len(all), err)
		}
	}
	other := unitOf(t, st, 1)
	if rest, err := st.History(ctx, other.ID, all[0].ID); err != nil || len(rest) != 0 {
		t.Errorf("before a line of another unit: %d, %v", len(rest), err)
	}
	some, err := st.Between(ctx, u.ID, all[4].At, all[1].At, 10)
	if err != nil || len(some) != 3 {
		t.Errorf("between: %d, %v", len(some), err)
	}
}

// The list's own statements are read through indexes, however it is filtered.
func TestListPlans(t *testing.T) {
	st := testkit.Store(t)
	someUnits(t, st, 300)
	ctx := context.Background()
	if _, err := st.DB.ExecContext(ctx, "ANALYZE TABLE units, unit_facts, search_docs"); err != nil {
		t.Fatal(err)
	}
	var stale string
	if err := st.DB.QueryRowContext(ctx, "EXPLAIN FORMAT=JSON "+store.StaleUnits, 10, 0, 10, 10).Scan(&stale); err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(stale, "units_stale") || !strings.Contains(stale, "units_lists") {
		t.Errorf("what is stale is looked for in every unit:\n%s", stale)
	}
	for _, c := range []struct {
		q     store.Asked
		index string
		count bool
	}{
		{store.Asked{}, "units_listed", false},
		{store.Asked{Order: store.ByName}, "units_named", false},
		{store.Asked{Order: store.ByAdded}, "units_added", false},
		{store.Asked{}, "units_listed", true},
		{store.Asked{Family: "Hollow 7"}, "unit_facts_value", false},
		{store.Asked{Ratio: "3.73"}, "unit_facts_value", true},
		{store.Asked{Words: find.Query("harbor")}, "search_docs_all", false},
	} {
		query, args := c.q.ListSQL()
		if c.count {
			query, args = c.q.CountSQL()
		}
		var plan string
		if err := st.DB.QueryRowContext(ctx, "EXPLAIN FORMAT=JSON "+query, args...).Scan(&plan); err != nil {
			t.Fatal(err)
		}
		if !strings.Contains(plan, c.index) || strings.Contains(plan, `"table_name": "u",`+"\n"+`      "access_type": "ALL"`) {
			t.Errorf("%+v doesn't use %s:\n%s", c.q, c.index, plan)
		}
		if c.q.Family == "" && c.q.Ratio == "" && c.q.Words.None() && !c.count && strings.Contains(plan, "filesort") {
			t.Errorf("%+v is sorted by hand:\n%s", c.q, plan)
		}
	}
}

// The number of units that is kept follows whatever adds, archives or brings back one, at
// either of two servers.
func TestCountFollows(t *testing.T) {
	dsn := testkit.DSN(t)
	open := func() *store.Store {
		s, err := store.Open(t.Context(), dsn)
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { _ = s.Close() })
		return s
	}
	st, other := open(), open()
	if err := st.Migrate(t.Context()); err != nil {
		t.Fatal(err)
	}
	total := func(archived bool) [2]int {
		var n [2]int
		for i, s := range []*store.Store{st, other} {
			_, k, err := s.Units(t.Context(), store.Asked{Archived: archived, Most: 1})
			if err != nil {
				t.Fatal(err)
			}
			n[i] = k
		}
		return n
	}
	var ids []int64
	for i := range 4 {
		id, err := st.AddUnit(t.Context(), store.Unit{Name: "Truck", Kind: "truck"}, testkit.Chain(t, 1), "x")
		if err != nil {
			t.Fatal(err)
		}
		ids = append(ids, id)
		if n := total(false); n != [2]int{i + 1, i + 1} {
			t.Fatalf("%v units, %d were added", n, i+1)
		}
	}
	for i, away := range []bool{true, false} {
		if err := other.ArchiveUnit(t.Context(), ids[1], away, "x"); err != nil {
			t.Fatal(err)
		}
		if n, a := total(false), total(true); n != [2]int{3 + i, 3 + i} || a != [2]int{1 - i, 1 - i} {
			t.Errorf("%v units and %v archived", n, a)
		}
	}
}
