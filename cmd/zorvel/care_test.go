package main

import (
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/alexedwards/argon2id"

	"zorvel/internal/localdb"
	"zorvel/internal/store"
)

// Whoever has the server's machine gets an owner back in, and hears what needs care.
func TestLostPasswordAndDoctor(t *testing.T) {
	ctx := t.Context()
	db, err := localdb.Start(ctx, filepath.Join(t.TempDir(), "db"), false)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = db.Stop() }()
	dsn, err := db.Create(ctx, "zorvel_care")
	if err != nil {
		t.Fatal(err)
	}
	if out, err := command(t, "doctor", "--dsn", dsn); err != nil || !strings.Contains(out, "zorvel migrate") {
		t.Errorf("an empty database: %v\n%s", err, out)
	}
	st, err := store.Open(ctx, dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = st.Close() }()
	if err := st.Migrate(ctx); err != nil {
		t.Fatal(err)
	}
	was, err := st.CreateOwner(ctx, store.Person{SignIn: "oda", Name: "Oda Brenk", PasswordHash: "forgotten"})
	if err != nil {
		t.Fatal(err)
	}
	if out, err := command(t, "password", "odda", "--dsn", dsn); err == nil || !strings.Contains(out, "the names are oda") {
		t.Errorf("a mistyped name: %v\n%s", err, out)
	}
	out, err := command(t, "password", " Oda ", "--dsn", dsn)
	if err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	fresh := regexp.MustCompile(`(?m)^    (\S{16})$`).FindStringSubmatch(out)
	if fresh == nil {
		t.Fatalf("no password in\n%s", out)
	}
	p, err := st.PersonBySignIn(ctx, "oda")
	if err != nil {
		t.Fatal(err)
	}
	if ok, err := argon2id.ComparePasswordAndHash(fresh[1], p.PasswordHash); err != nil || !ok || !p.Active || p.ID != was.ID {
		t.Errorf("the new password does not open the account: %v, %+v", err, p)
	}
	lines, err := st.AuditLines(ctx, 0, 5)
	if err != nil || len(lines) != 1 || !strings.Contains(lines[0].About, "Oda Brenk") || strings.Contains(lines[0].About, fresh[1]) {
		t.Errorf("%v, %+v", err, lines)
	}
	out, err = command(t, "doctor", "--dsn", dsn, "--https-dir", filepath.Join(t.TempDir(), "none"), "--backups", t.TempDir())
	if err == nil || !strings.Contains(out, "✓ Schema version") || !strings.Contains(out, "✕ No backup in") ||
		!strings.Contains(out, "zorvel backup") {
		t.Errorf("%v\n%s", err, out)
	}
	nights := t.TempDir()
	if out, err := command(t, "nightly", "--dsn", dsn, "--backups", nights); err != nil || !strings.Contains(out, "restored and compared") {
		t.Errorf("the night: %v\n%s", err, out)
	}
	if out, err := command(t, "doctor", "--dsn", dsn, "--backups", nights); err != nil || !strings.Contains(out, "✓ The newest backup") {
		t.Errorf("%v\n%s", err, out)
	}
}
