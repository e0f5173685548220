package store_test

import (
	"context"
	"encoding/json"
	"errors"
	"testing"
	"time"

	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// counts are the rows of every table but those that say what is under way.
func counts(t *testing.T, st *store.Store) map[string]int {
	t.Helper()
	rows, err := st.DB.QueryContext(t.Context(), "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()")
	if err != nil {
		t.Fatal(err)
	}
	var names []string
	for rows.Next() {
		var n string
		if err := rows.Scan(&n); err != nil {
			t.Fatal(err)
		}
		names = append(names, n)
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		t.Fatal(err)
	}
	out := map[string]int{}
	for _, n := range names {
		var c int
		if err := st.DB.QueryRowContext(t.Context(), "SELECT COUNT(*) FROM `"+n+"`").Scan(&c); err != nil {
			t.Fatal(err)
		}
		out[n] = c
	}
	delete(out, store.LeasesTable)
	return out
}

// oneStage is a driveline of one gear pair.
var oneStage store.Driveline

// half is an import whose third unit can't be read.
func half(i int) (store.Import, error) {
	if i == 2 {
		return store.Import{}, errors.New("the file ends here")
	}
	read := reading("4.10")
	read.At = time.Now()
	return store.Import{Unit: store.Unit{Name: "Unit " + string(rune('a'+i)), Kind: "van"}, By: "Oda", Driveline: oneStage,
		Measured: []store.Kept{{Stage: store.Stage{Part: "pair_0", Ratio: "ratio", Name: "Pair", Kind: "gear_pair"},
			Readings: []store.Reading{read}}},
		Jobs: []store.ImportJob{{Job: store.Job{Complaint: "hums", By: "Oda", At: time.Now()},
			Work: []store.Work{{Kind: "note", Text: "looked", By: "Oda", At: time.Now(), DoneAt: time.Now()}}}},
		Photos: []store.ImportPhoto{{Photo: store.Photo{Title: "axle", By: "Oda", At: time.Now(),
			Marks: json.RawMessage("[]")}, Job: 1, Picture: func() ([]byte, []byte, error) {
			return []byte("full"), []byte("thumb"), nil
		}}},
	}, nil
}

// Of an import that fails nothing is left, in any table, and before it failed nobody
// saw any of it.
func TestImportThatFailsLeavesNothing(t *testing.T) {
	st := testkit.Store(t)
	oneStage = testkit.Chain(t, 1)
	before := counts(t, st)
	seen := 0
	_, err := st.ImportUnits(t.Context(), 3, half, func(int) {
		list, total, err := st.Units(t.Context(), store.Asked{})
		away, _, err2 := st.Units(t.Context(), store.Asked{Archived: true})
		open, err3 := st.OpenJobs(t.Context())
		if err := errors.Join(err, err2, err3); err != nil {
			t.Error(err)
		}
		seen += len(list) + total + len(away) + len(open)
	})
	if err == nil || seen != 0 {
		t.Errorf("%v; %d entries were seen", err, seen)
	}
	for table, n := range counts(t, st) {
		if n != before[table] {
			t.Errorf("%s: %d rows, %d before", table, n, before[table])
		}
	}
	// The same without the fault is there, whole.
	ids, err := st.ImportUnits(t.Context(), 2, half, func(int) {})
	if err != nil || len(ids) != 2 {
		t.Fatal(ids, err)
	}
	if _, total, err := st.Units(t.Context(), store.Asked{}); err != nil || total != 2 {
		t.Errorf("%d units, %v", total, err)
	}
}

// What an import left that was cut off is taken out by the next who looks, and one that
// is under way is left alone.
func TestImportThatWasCutOff(t *testing.T) {
	dsn := testkit.DSN(t)
	oneStage = testkit.Chain(t, 1)
	st, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = st.Close() }()
	if err := st.Migrate(t.Context()); err != nil {
		t.Fatal(err)
	}
	before := counts(t, st)
	other, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	// Its program ends at the second unit, with its connections.
	_, err = other.ImportUnits(t.Context(), 3, half, func(done int) {
		if done == 1 {
			if err := st.SweepImports(t.Context()); err != nil {
				t.Error(err)
			}
			if n := counts(t, st)["readings"]; n == 0 {
				t.Error("an import under way was taken out")
			}
			_ = other.Close()
		}
	})
	if err == nil {
		t.Fatal("it went on without its connections")
	}
	within, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	for counts(t, st)["imports"] > 0 { // the database may still be noticing
		if err := st.SweepImports(within); err != nil {
			t.Fatal(err)
		}
	}
	for table, n := range counts(t, st) {
		if n != before[table] {
			t.Errorf("%s: %d rows, %d before", table, n, before[table])
		}
	}
}
