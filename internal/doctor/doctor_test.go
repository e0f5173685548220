package doctor

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"zorvel/internal/authority"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// find is the finding that holds a word.
func find(t *testing.T, list []Finding, word string) Finding {
	t.Helper()
	for _, f := range list {
		if strings.Contains(f.What, word) {
			return f
		}
	}
	t.Fatalf("nothing of %q in %v", word, list)
	return Finding{}
}

func TestSoundServer(t *testing.T) {
	st := testkit.Store(t)
	if _, err := st.CreateOwner(t.Context(), store.Person{SignIn: "oda", Name: "Oda", PasswordHash: "x"}); err != nil {
		t.Fatal(err)
	}
	secure, backups := t.TempDir(), t.TempDir()
	if _, err := authority.Open(secure, authority.Options{Names: []string{"shop.local"}}); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(backups, "night.zip"), nil, 0o600); err != nil {
		t.Fatal(err)
	}
	for _, f := range Look(t.Context(), Of{Store: st, Secure: secure, Names: []string{"shop.local"}, Backups: backups}) {
		if f.State != Good && !strings.Contains(f.What, "disk") {
			t.Errorf("%v %s %s", f.State, f.What, f.Do)
		}
		if (f.State == Good) != (f.Do == "") {
			t.Errorf("%v: %q, %q", f.State, f.What, f.Do)
		}
	}
}

func TestWhatNeedsSomebody(t *testing.T) {
	st := testkit.Store(t)
	folder, nights := t.TempDir(), t.TempDir()
	if f := secureOf(folder, "shop.local"); f.State != Caution || !strings.Contains(f.Do, "--https") {
		t.Errorf("no authority: %v", f)
	}
	if _, err := authority.Open(folder, authority.Options{Names: []string{"shop.local"}}); err != nil {
		t.Fatal(err)
	}
	if f := secureOf(folder, "other.local"); f.State != Bad || !strings.Contains(f.What, "other.local") {
		t.Errorf("a name it does not cover: %v", f)
	}
	old := filepath.Join(nights, "old.zip")
	if err := os.WriteFile(old, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	then := time.Now().Add(-3 * 24 * time.Hour)
	if err := os.Chtimes(old, then, then); err != nil {
		t.Fatal(err)
	}
	late := time.Now().AddDate(9, 8, 0)
	for word, f := range map[string]Finding{
		"newest backup is of": backupsOf(nights, time.Now()),
		"No backup":           backupsOf(t.TempDir(), time.Now()),
		"ends on":             secureAt(folder, late),
		"owns":                find(t, Look(t.Context(), Of{Store: st}), "owns"),
		"apart":               find(t, Look(t.Context(), Of{Store: st, Now: func() time.Time { return time.Now().Add(time.Hour) }}), "clock"),
	} {
		if f.State == Good || f.Do == "" || !strings.Contains(f.What, word) {
			t.Errorf("%s: %v %q, %q", word, f.State, f.What, f.Do)
		}
	}
	// A schema of another program.
	for _, x := range []struct{ sql, word string }{
		{"INSERT INTO goose_db_version (version_id, is_applied) VALUES (900, 1)", "knows"},
		{"DELETE FROM goose_db_version WHERE version_id > 20", "brings it to"},
		{"CREATE TABLE " + store.UnfinishedTable + " (x INT)", "cut off"},
		{"DROP TABLE goose_db_version, " + store.UnfinishedTable, "version 0"},
	} {
		if _, err := st.DB.ExecContext(t.Context(), x.sql); err != nil {
			t.Fatal(err)
		}
		if f := schema(t.Context(), st); f.State == Good || !strings.Contains(f.What, x.word) {
			t.Errorf("%s: %v %q", x.sql, f.State, f.What)
		}
	}
}

func secureOf(dir, name string) Finding {
	return secure(Of{Secure: dir, Names: []string{name}, Now: time.Now})
}

func secureAt(dir string, at time.Time) Finding {
	return secure(Of{Secure: dir, Names: []string{"shop.local"}, Now: func() time.Time { return at }})
}

func backupsOf(dir string, at time.Time) Finding {
	return backups(Of{Backups: dir, Now: func() time.Time { return at }})
}

func TestBytes(t *testing.T) {
	for n, want := range map[int64]string{0: "0 MB", 1: "1 MB", 3 << 20: "3 MB", 5 << 30: "5.0 GB"} {
		if got := bytes(n); got != want {
			t.Errorf("%d: %s, want %s", n, got, want)
		}
	}
}
