package localdb

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	_ "github.com/go-sql-driver/mysql"
)

// A second start keeps the data; what a crash leaves behind is cleared.
func TestStartStopAndLeftovers(t *testing.T) {
	dir := t.TempDir()
	ctx := context.Background()
	s, err := Start(ctx, dir)
	if err != nil {
		t.Fatal(err)
	}
	dsn, err := s.Create(ctx, "zorvel_x")
	if err != nil {
		t.Fatal(err)
	}
	run(t, dsn, "CREATE TABLE kept (a INT)")
	if _, err := Start(ctx, dir); err == nil || !strings.Contains(err.Error(), "already runs") {
		t.Errorf("two servers on one directory: %v", err)
	}
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}

	// A pid file of a process that is something else by now.
	if err := os.WriteFile(filepath.Join(dir, "mariadbd.pid"), []byte(strconv.Itoa(os.Getpid())), 0o600); err != nil {
		t.Fatal(err)
	}
	// An install that was cut off.
	if err := os.MkdirAll(filepath.Join(dir, "data.new", "mysql"), 0o700); err != nil {
		t.Fatal(err)
	}
	s, err = Start(ctx, dir)
	if err != nil {
		t.Fatalf("start after a crash: %v", err)
	}
	dsn, err = s.Create(ctx, "zorvel_x")
	if err != nil {
		t.Fatal(err)
	}
	run(t, dsn, "INSERT INTO kept VALUES (1)")
	// A killed server leaves its data and pid file; the next start recovers.
	s.kill()
	if s, err = Start(ctx, dir); err != nil {
		t.Fatalf("start after a kill: %v", err)
	}
	if err := s.Stop(); err != nil {
		t.Error(err)
	}
}

func run(t *testing.T, dsn, query string) {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = db.Close() }()
	if _, err := db.Exec(query); err != nil {
		t.Fatal(err)
	}
}

func TestNoPasswordlessDoor(t *testing.T) {
	s, err := Start(context.Background(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = s.Stop() }()
	for _, user := range []string{"root", "zorvel", ""} {
		db, err := sql.Open("mysql", user+"@tcp(127.0.0.1:"+strconv.Itoa(s.Port)+")/")
		if err != nil {
			t.Fatal(err)
		}
		if err := db.Ping(); err == nil {
			t.Errorf("%q gets in over TCP without a password", user)
		}
		_ = db.Close()
	}
}
