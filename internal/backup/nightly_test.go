package backup_test

import (
	"bytes"
	"slices"
	"testing"
	"time"

	"zorvel/internal/backup"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

func TestNightIsTriedAgainstTheOriginal(t *testing.T) {
	_, st := testkit.Server(t, true)
	var b bytes.Buffer
	if _, err := backup.Write(t.Context(), st, &b, func(string, int64, int64) {}); err != nil {
		t.Fatal(err)
	}
	scratch, err := store.Open(t.Context(), testkit.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = scratch.Close() }()
	if err := backup.Verify(t.Context(), scratch, bytes.NewReader(b.Bytes()), int64(b.Len())); err != nil {
		t.Error(err)
	}
	// A database that does not give back what it took.
	other, err := store.Open(t.Context(), testkit.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = other.Close() }()
	files := testkit.Unzipped(t, b.Bytes())
	if _, err := backup.Read(t.Context(), other, bytes.NewReader(b.Bytes()), int64(b.Len()), func(string, int64, int64) {}); err != nil {
		t.Fatal(err)
	}
	files["tables/units.jsonl"] = files["tables/units.jsonl"][:len(files["tables/units.jsonl"])/2]
	cut := testkit.Zipped(t, files)
	third, err := store.Open(t.Context(), testkit.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = third.Close() }()
	if err := backup.Verify(t.Context(), third, bytes.NewReader(cut), int64(len(cut))); err == nil {
		t.Error("half of the units is taken as good")
	}
}

func TestScratchIsOursAlone(t *testing.T) {
	dsn := testkit.DSN(t)
	first, drop, err := store.Scratch(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	var name string
	if err := first.DB.QueryRowContext(t.Context(), "SELECT DATABASE()").Scan(&name); err != nil {
		t.Fatal(err)
	}
	there := func(name string) bool {
		st, err := store.Open(t.Context(), dsn)
		if err != nil {
			t.Fatal(err)
		}
		defer func() { _ = st.Close() }()
		var n int
		if err := st.DB.QueryRowContext(t.Context(),
			"SELECT COUNT(*) FROM information_schema.schemata WHERE schema_name = ?", name).Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n > 0
	}
	if !there(name) {
		t.Fatalf("%s is not there", name)
	}
	// Somebody's own database of a like name stays; a scratch that was left behind goes.
	own := name[:len(name)-12] + "ownownownown"
	if _, err := first.DB.ExecContext(t.Context(), "CREATE DATABASE `"+own+"`"); err != nil {
		t.Fatal(err)
	}
	second, drop2, err := store.Scratch(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	if there(name) || !there(own) {
		t.Errorf("left behind: %v, somebody's own: %v", there(name), there(own))
	}
	if err := second.Ready(t.Context()); err != nil {
		t.Error(err)
	}
	if err := drop2(); err != nil {
		t.Error(err)
	}
	_ = drop() // its database is gone already
}

func TestWhichNightsStay(t *testing.T) {
	now := time.Date(2026, 11, 30, 3, 0, 0, 0, time.UTC)
	var files []string
	stay := func() []time.Time {
		var out []time.Time
		gone := backup.Superfluous(files, now)
		for _, f := range files {
			if !slices.Contains(gone, f) {
				if at, err := time.Parse("shop-2006-01-02T150405.zip", f); err == nil {
					out = append(out, at)
				}
			}
		}
		return out
	}
	const everyNight, everyWeek = 14 * 24 * time.Hour, 26 * 7 * 24 * time.Hour
	// Three years of nights, each thinned after it, as it happens.
	start := now.AddDate(-3, 0, 0)
	for now = start; now.Before(start.AddDate(3, 0, 1)); now = now.AddDate(0, 0, 1) {
		files = append(files, backup.NightFile(now), "notes.zip")
		gone := backup.Superfluous(files, now)
		if slices.Contains(gone, "notes.zip") || slices.Contains(gone, backup.NightFile(now)) {
			t.Fatalf("%s: %v goes", now, gone)
		}
		files = slices.DeleteFunc(files, func(f string) bool { return f == "notes.zip" || slices.Contains(gone, f) })
	}
	now = now.AddDate(0, 0, -1)
	list := stay()
	count := func(from, to time.Duration) int {
		n := 0
		for _, at := range list {
			if age := now.Sub(at); age > from && age <= to {
				n++
			}
		}
		return n
	}
	if n := count(-time.Hour, everyNight); n != 15 {
		t.Errorf("%d of the last two weeks", n)
	}
	if n := count(everyNight, everyWeek); n < 23 || n > 26 {
		t.Errorf("%d of the half year before", n)
	}
	if n := count(everyWeek, 4*365*24*time.Hour); n < 29 || n > 32 {
		t.Errorf("%d of the years before", n)
	}
	if got := backup.Superfluous([]string{"shop-2001-01-01T000000.zip"}, now); len(got) != 0 {
		t.Errorf("the only backup goes: %v", got)
	}
}
