package store_test

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"sync"
	"testing"

	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// together runs n writers at once and returns their errors.
func together(n int, write func(i int) error) []error {
	errs := make([]error, n)
	var wg sync.WaitGroup
	begin := make(chan struct{})
	for i := range errs {
		wg.Go(func() {
			<-begin
			errs[i] = write(i)
		})
	}
	close(begin)
	wg.Wait()
	return errs
}

func unitOf(t *testing.T, st *store.Store, stages int) store.Unit {
	t.Helper()
	id, err := st.AddUnit(t.Context(), store.Unit{Name: "Tern", Kind: "truck"}, testkit.Chain(t, stages), "Oda")
	if err != nil {
		t.Fatal(err)
	}
	u, err := st.Unit(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	return u
}

func TestManyHandsOnOneUnit(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	u := unitOf(t, st, 4)
	for i, err := range together(64, func(i int) error {
		r := reading("4.10")
		r.Key = fmt.Sprint("key ", i)
		return st.AddReadings(ctx, u.Stages[i%4], []store.Reading{r}, 200)
	}) {
		if err != nil {
			t.Errorf("writer %d: %v", i, err)
		}
	}
	for _, v := range u.Stages {
		if rows, err := st.Readings(ctx, v.ID); err != nil || len(rows) != 16 {
			t.Errorf("%s has %d readings, want 16, %v", v.Name, len(rows), err)
		}
	}
	if events, err := st.History(ctx, u.ID, 0); err != nil || len(events) != 65 {
		t.Errorf("%d lines of history, want the unit and 64 readings, %v", len(events), err)
	}
}

func TestAStageFillsExactly(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	v := unitOf(t, st, 1).Stages[0]
	const most = 20
	full := 0
	errs := together(16, func(i int) error {
		pair := []store.Reading{reading("4.10"), reading("4.11")}
		pair[0].Key, pair[1].Key = fmt.Sprint(i, "a"), fmt.Sprint(i, "b")
		return st.AddReadings(ctx, v, pair, most)
	})
	for _, err := range errs {
		switch {
		case errors.Is(err, store.ErrFull):
			full++
		case err != nil:
			t.Error(err)
		}
	}
	now, err := st.Stage(ctx, v.ID)
	if err != nil || now.Standing != most || full != 6 {
		t.Errorf("%d stand and %d were turned away, want %d and 6, %v", now.Standing, full, most, err)
	}
	// What a full stage has already is taken again without a word: the answer to
	// the first may have been lost.
	rows, _ := st.Readings(ctx, v.ID)
	for i, err := range errs {
		if err == nil {
			again := reading("4.10")
			again.Key = fmt.Sprint(i, "a")
			if err := st.AddReadings(ctx, v, []store.Reading{again}, most); err != nil {
				t.Errorf("sent again to a full stage: %v", err)
			}
			break
		}
	}
	// Striking one out makes room for one.
	if err := st.Strike(ctx, v, rows[0].ID, store.Strike{By: "Oda", Reason: "slipped"}, "x"); err != nil {
		t.Fatal(err)
	}
	if err := st.AddReadings(ctx, v, []store.Reading{reading("4.12")}, most); err != nil {
		t.Errorf("room was made: %v", err)
	}
	if err := st.AddReadings(ctx, v, []store.Reading{reading("4.13")}, most); !errors.Is(err, store.ErrFull) {
		t.Errorf("one too many: %v", err)
	}
}

func TestKeysAreToldApartExactly(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	v := unitOf(t, st, 1).Stages[0]
	send := func(key, text string) error {
		r := reading(text)
		r.Key = key
		return st.AddReadings(ctx, v, []store.Reading{r}, 200)
	}
	keys := []string{"a", "A", "a ", "ä", "á", "\u00e0"}
	for i, k := range keys {
		if err := send(k, fmt.Sprint("4.1", i)); err != nil {
			t.Errorf("key %q: %v", k, err)
		}
	}
	if rows, _ := st.Readings(ctx, v.ID); len(rows) != len(keys) {
		t.Errorf("%d readings under %d keys", len(rows), len(keys))
	}
	if err := send("a", "4.10"); err != nil {
		t.Errorf("the same again: %v", err)
	}
	var used *store.KeyError
	if err := send("a", "3.73"); !errors.As(err, &used) || used.Key != "a" {
		t.Errorf("another reading under a key that is used: %v", err)
	}
	one, two := reading("4.30"), reading("4.56")
	one.Key, two.Key = "batch", "batch"
	if err := st.AddReadings(ctx, v, []store.Reading{one, two}, 200); !errors.As(err, &used) {
		t.Errorf("two readings under one key in a batch: %v", err)
	}
	if rows, _ := st.Readings(ctx, v.ID); len(rows) != len(keys) {
		t.Errorf("%d readings; a refused batch left something or a resend was stored twice", len(rows))
	}
}

func TestReadingForAStageThatIsGone(t *testing.T) {
	st := testkit.Store(t)
	u := unitOf(t, st, 2)
	v := u.Stages[1]
	shorter := testkit.Chain(t, 1)
	shorter.UnitID, shorter.Version = u.ID, 1
	if err := st.KeepDriveline(t.Context(), shorter, "Driveline changed"); err != nil {
		t.Fatal(err)
	}
	if err := st.AddReadings(t.Context(), v, []store.Reading{reading("4.10")}, 200); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a reading for a stage that was taken out: %v", err)
	}
}

func TestUnitIsChangedOverWhatWasSeen(t *testing.T) {
	st := testkit.Store(t)
	ctx := t.Context()
	u := unitOf(t, st, 1)
	won := 0
	for _, err := range together(8, func(i int) error {
		mine := u
		mine.Notes = fmt.Sprint("notes of writer ", i)
		return st.ChangeUnit(ctx, mine, "Oda", "Unit notes changed")
	}) {
		switch {
		case err == nil:
			won++
		case !errors.Is(err, store.ErrChanged):
			t.Error(err)
		}
	}
	now, err := st.Unit(ctx, u.ID)
	if err != nil || won != 1 || now.Version != u.Version+1 || !strings.HasPrefix(now.Notes, "notes of writer ") {
		t.Errorf("%d of 8 changes over one version were taken; it is %+v, %v", won, now, err)
	}
	// Readings don't count as a change of its words.
	if err := st.AddReadings(ctx, u.Stages[0], []store.Reading{reading("4.10")}, 200); err != nil {
		t.Fatal(err)
	}
	if after, _ := st.Unit(ctx, u.ID); after.Version != now.Version {
		t.Errorf("a reading raised the version to %d", after.Version)
	}
}

// A change whose number is smaller but which is committed later must still be
// seen: what is kept from a list is kept under its mark.
func TestMarkFollowsCommits(t *testing.T) {
	st := testkit.Store(t)
	ctx := context.WithoutCancel(t.Context())
	seen := map[int64]int{}
	var mu sync.Mutex
	for i, err := range together(24, func(i int) error {
		_, err := st.AddCatalogRow(ctx, "rims", store.CatalogRow{Identity: fmt.Sprint("rim ", i), Cells: map[string]string{"name": fmt.Sprint(i)}}, "Oda")
		if err != nil {
			return err
		}
		// Mark first, rows second, as whoever keeps a list does: rows may be
		// newer than the mark, never older.
		mark, err := st.CatalogMark(ctx, "rims")
		if err != nil {
			return err
		}
		rows, err := st.CatalogRows(ctx, "rims")
		mu.Lock()
		defer mu.Unlock()
		if n, ok := seen[mark]; !ok || len(rows) < n {
			seen[mark] = len(rows)
		}
		return err
	}) {
		if err != nil {
			t.Errorf("writer %d: %v", i, err)
		}
	}
	for mark, n := range seen {
		if int64(n) < mark {
			t.Errorf("under mark %d only %d rows were there", mark, n)
		}
	}
	if mark, err := st.CatalogMark(ctx, "rims"); err != nil || mark != 24 {
		t.Errorf("mark %d after 24 changes, %v", mark, err)
	}
}

// Several servers start at once on an empty database: each finds it ready.
func TestServersStartTogether(t *testing.T) {
	dsn := testkit.DSN(t)
	for i, err := range together(6, func(int) error {
		st, err := store.Open(t.Context(), dsn)
		if err != nil {
			return err
		}
		defer func() { _ = st.Close() }()
		if err := st.Migrate(t.Context()); err != nil {
			return err
		}
		_, _, err = st.Units(t.Context(), store.Asked{})
		return err
	}) {
		if err != nil {
			t.Errorf("server %d: %v", i, err)
		}
	}
}
