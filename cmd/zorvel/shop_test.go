package main

import (
	"archive/zip"
	"context"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"zorvel/internal/localdb"
)

// command runs the binary and returns what it printed.
func command(t *testing.T, args ...string) (string, error) {
	t.Helper()
	out, err := exec.Command(binary(t), args...).CombinedOutput()
	return string(out), err
}

// A shop is backed up and restored, exported and imported on the command line, with
// progress; nothing is written over, and a file is there only once it is whole.
func TestShopOnTheCommandLine(t *testing.T) {
	ctx := context.Background()
	dir := t.TempDir()
	db, err := localdb.Start(ctx, filepath.Join(dir, "db"), false)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = db.Stop() }()
	database := func(name string) string {
		dsn, err := db.Create(ctx, name)
		if err != nil {
			t.Fatal(err)
		}
		return dsn
	}
	first, second, third := database("zorvel_first"), database("zorvel_second"), database("zorvel_third")
	must := func(args ...string) string {
		t.Helper()
		out, err := command(t, args...)
		if err != nil {
			t.Fatalf("%v: %v\n%s", args, err, out)
		}
		return out
	}
	refuses := func(want string, args ...string) {
		t.Helper()
		if out, err := command(t, args...); err == nil || !strings.Contains(out, want) {
			t.Errorf("%v: %v, want %q in\n%s", args, err, want, out)
		}
	}
	file := func(name string) string { return filepath.Join(dir, name) }
	for _, dsn := range []string{first, third} {
		must("migrate", "--dsn", dsn)
	}
	unit := `{"format":"zorvel-unit-1","name":"Forwarder Birk","kind":"truck","stages":[{"name":"Rear axle","question":{"kind":"ring_and_pinion"},"readings":[{"by":"Oda","at":"2026-01-01T00:00:00Z","reading":{"method":"teeth","teeth":{"ring":41,"pinion":10}}}]}]}`
	w, err := os.Create(file("made.zip"))
	if err != nil {
		t.Fatal(err)
	}
	z := zip.NewWriter(w)
	for name, text := range map[string]string{
		"zorvel-shop.json":  `{"format":"zorvel-shop-1","made_at":"2026-01-01T00:00:00Z","units":[{"file":"units/1/unit.json","name":"Forwarder Birk"}]}`,
		"units/1/unit.json": unit, "lists.json": "[]", "parts.json": "[]", "cards.json": "[]", "filters.json": "[]",
	} {
		f, err := z.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := f.Write([]byte(text)); err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	if out := must("import", file("made.zip"), "--dsn", first, "--look"); !strings.Contains(out, "It holds: 1 units") {
		t.Error(out)
	}
	if out := must("import", file("made.zip"), "--dsn", first, "--by", "Oda Brenk"); !strings.Contains(out, "Imported: 1 units") {
		t.Error(out)
	}
	if out := must("import", file("made.zip"), "--dsn", first, "--look"); !strings.Contains(out, `would be listed twice: ["Forwarder Birk"]`) {
		t.Error(out)
	}
	out := must("backup", file("backup.zip"), "--dsn", first)
	if !regexp.MustCompile(`holds \d+ rows`).MatchString(out) || !strings.Contains(out, "guard it") {
		t.Error(out)
	}
	refuses("is there already", "backup", file("backup.zip"), "--dsn", first)
	refuses("is not empty", "restore", file("backup.zip"), "--dsn", first)
	refuses("this is no backup", "restore", file("made.zip"), "--dsn", second)
	if out := must("restore", file("backup.zip"), "--dsn", second); !strings.Contains(out, "Everyone has to sign in again") {
		t.Error(out)
	}
	must("export", file("from-first.zip"), "--dsn", first)
	must("export", file("from-second.zip"), "--dsn", second)
	a, b := unitIn(t, file("from-first.zip")), unitIn(t, file("from-second.zip"))
	if a == "" || a != b {
		t.Errorf("restored:\n%s\nwas:\n%s", b, a)
	}
	must("import", file("from-second.zip"), "--dsn", third)
	must("export", file("from-third.zip"), "--dsn", third)
	if c := unitIn(t, file("from-third.zip")); c != a {
		t.Errorf("taken in:\n%s\nwas:\n%s", c, a)
	}
	refuses("no such file", "restore", file("nowhere.zip"), "--dsn", second)
	refuses("accepts 1 arg", "export", "--dsn", first)
	left, err := filepath.Glob(file("*.part-*"))
	if err != nil || len(left) != 0 {
		t.Errorf("left behind: %v, %v", left, err)
	}
}

// unitIn is the first unit's document in an export.
func unitIn(t *testing.T, name string) string {
	t.Helper()
	z, err := zip.OpenReader(name)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = z.Close() }()
	f, err := z.Open("units/000001/unit.json")
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = f.Close() }()
	var b strings.Builder
	buf := make([]byte, 1<<16)
	for {
		n, err := f.Read(buf)
		b.Write(buf[:n])
		if err != nil {
			return b.String()
		}
	}
}
