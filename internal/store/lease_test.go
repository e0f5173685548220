package store_test

import (
	"context"
	"errors"
	"regexp"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// Of many programs that want a task one has it at a time, and each in its turn.
func TestLeaseIsOnePrograms(t *testing.T) {
	dsn := testkit.DSN(t)
	var holding, most atomic.Int64
	for i, err := range together(6, func(int) error {
		st, err := store.Open(t.Context(), dsn)
		if err != nil {
			return err
		}
		defer func() { _ = st.Close() }()
		for range 3 {
			l, err := st.Lease(t.Context(), "a task")
			if err != nil {
				return err
			}
			if n := holding.Add(1); n > most.Load() {
				most.Store(n)
			}
			if _, err := st.TryLease(t.Context(), "a task"); !errors.Is(err, store.ErrHeld) {
				return errors.Join(errors.New("it was given twice"), err)
			}
			holding.Add(-1)
			l.End()
		}
		return nil
	}) {
		if err != nil {
			t.Errorf("program %d: %v", i, err)
		}
	}
	if most.Load() != 1 {
		t.Errorf("%d had it at once", most.Load())
	}
}

// A task whose program is gone is taken over at once, and one that a program lost it
// says so.
func TestLeaseOfOneThatIsGone(t *testing.T) {
	dsn := testkit.DSN(t)
	open := func() *store.Store {
		st, err := store.Open(t.Context(), dsn)
		if err != nil {
			t.Fatal(err)
		}
		return st
	}
	gone, here := open(), open()
	defer func() { _ = here.Close() }()
	l, err := gone.Lease(t.Context(), "a task")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := here.TryLease(t.Context(), "a task"); !errors.Is(err, store.ErrHeld) {
		t.Fatal(err)
	}
	// Its connections end, as those of a killed program do; the row still names it.
	if _, err := here.DB.ExecContext(t.Context(),
		"UPDATE leases SET holder = CONCAT(SUBSTRING_INDEX(holder, ' ', 2), ' 4000000000 x') WHERE name = 'a task'"); err != nil {
		t.Fatal(err)
	}
	within, cancel := context.WithTimeout(t.Context(), 10*time.Second)
	defer cancel()
	next, err := here.Lease(within, "a task")
	if err != nil {
		t.Fatal(err)
	}
	select {
	case <-l.Lost().Done():
	case <-time.After(20 * time.Second):
		t.Error("who lost it doesn't know")
	}
	_ = gone.Close()
	next.End()
	var wg sync.WaitGroup
	wg.Go(next.End) // ending twice does no harm
	wg.Wait()
}

var hostsOf = regexp.MustCompile(`\(([^)]*)\)`)

// Several hosts in one address are tried in turn.
func TestSeveralHosts(t *testing.T) {
	dsn := testkit.DSN(t)
	at := func(list string) string {
		return hostsOf.ReplaceAllString(dsn, "("+list+")")
	}
	host := hostsOf.FindStringSubmatch(dsn)[1]
	for _, list := range []string{host, "127.0.0.1:1," + host, " 127.0.0.1:1 , 127.0.0.1:2 , " + host, host + "," + host} {
		st, err := store.Open(t.Context(), at(list))
		if err != nil {
			t.Fatalf("%s: %v", list, err)
		}
		if err := st.Ready(t.Context()); err != nil {
			t.Errorf("%s: %v", list, err)
		}
		if err := st.Close(); err != nil {
			t.Error(err)
		}
	}
	_, err := store.Open(t.Context(), at("127.0.0.1:1,127.0.0.1:2"))
	if err == nil {
		t.Error("nobody is there")
	}
}
