package localdb

import (
	"context"
	"database/sql"
	"errors"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	_ "github.com/go-sql-driver/mysql"
)

// A second start keeps the data; what a crash leaves behind is cleared.
func TestStartStopAndLeftovers(t *testing.T) {
	dir := t.TempDir()
	ctx := context.Background()
	s, err := Start(ctx, dir, false)
	if err != nil {
		t.Fatal(err)
	}
	dsn, err := s.Create(ctx, "zorvel_x")
	if err != nil {
		t.Fatal(err)
	}
	run(t, dsn, "CREATE TABLE kept (a INT)")
	// A second start leaves it alone, also one that would begin afresh.
	for _, fresh := range []bool{false, true} {
		if _, err := Start(ctx, dir, fresh); !errors.Is(err, ErrInUse) {
			t.Errorf("two servers on one directory: %v", err)
		}
	}
	run(t, dsn, "INSERT INTO kept VALUES (0)")
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
	s, err = Start(ctx, dir, false)
	if err != nil {
		t.Fatalf("start after a crash: %v", err)
	}
	dsn, err = s.Create(ctx, "zorvel_x")
	if err != nil {
		t.Fatal(err)
	}
	run(t, dsn, "INSERT INTO kept VALUES (1)")
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}
	// Beginning afresh removes what was there.
	if s, err = Start(ctx, dir, true); err != nil {
		t.Fatal(err)
	}
	defer func() { _ = s.Stop() }()
	if dsn, err = s.Create(ctx, "zorvel_x"); err != nil {
		t.Fatal(err)
	}
	run(t, dsn, "CREATE TABLE kept (a INT)")
}

// A server that dies is started again where it was, with its data.
func TestStartsAgain(t *testing.T) {
	ctx := context.Background()
	s, err := Start(ctx, t.TempDir(), false)
	if err != nil {
		t.Fatal(err)
	}
	dsn, err := s.Create(ctx, "zorvel_x")
	if err != nil {
		t.Fatal(err)
	}
	run(t, dsn, "CREATE TABLE kept (a INT)")
	for range 2 {
		s.mu.Lock()
		dead := s.cmd.Process.Pid
		s.mu.Unlock()
		if err := syscall.Kill(dead, syscall.SIGKILL); err != nil {
			t.Fatal(err)
		}
		for s.running(dead) {
			time.Sleep(5 * time.Millisecond)
		}
		db, err := sql.Open("mysql", dsn)
		if err != nil {
			t.Fatal(err)
		}
		for end := time.Now().Add(30 * time.Second); ; time.Sleep(50 * time.Millisecond) {
			if _, err = db.Exec("INSERT INTO kept VALUES (1)"); err == nil || time.Now().After(end) {
				break
			}
		}
		_ = db.Close()
		if err != nil {
			t.Fatalf("after it was killed: %v", err)
		}
	}
	if err := s.Stop(); err != nil {
		t.Error(err)
	}
	select {
	case <-s.gone:
	case <-time.After(10 * time.Second):
		t.Error("it runs on after Stop")
	}
}

// A directory with a long name has its socket elsewhere, always at the same
// place, so that nothing piles up.
func TestLongPaths(t *testing.T) {
	dir := filepath.Join(t.TempDir(), strings.Repeat("a-long-name-", 10))
	var sockets []string
	for range 2 {
		s, err := Start(t.Context(), dir, false)
		if err != nil {
			t.Fatal(err)
		}
		sockets = append(sockets, s.socket)
		if err := s.Stop(); err != nil {
			t.Fatal(err)
		}
	}
	t.Cleanup(func() { _ = os.RemoveAll(filepath.Dir(sockets[0])) })
	if sockets[0] != sockets[1] || strings.HasPrefix(sockets[0], dir) {
		t.Errorf("sockets %v", sockets)
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
	s, err := Start(context.Background(), t.TempDir(), false)
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
