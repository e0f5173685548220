// Package testkit gives tests a real MariaDB and a running server. The
// database server is started once per test program.
package testkit

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net"
	"net/http/httptest"
	"os"
	"strings"
	"sync/atomic"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/live"
	"zorvel/internal/demo"
	"zorvel/internal/instruments"
	"zorvel/internal/localdb"
	"zorvel/internal/programmer"
	"zorvel/internal/sensors"
	"zorvel/internal/server"
	"zorvel/internal/store"
)

var (
	db    *localdb.Server
	count atomic.Int64
)

// Main runs the tests of a package with a private MariaDB, and then what ends
// whatever else they started; call it from TestMain.
func Main(m *testing.M, end ...func()) {
	os.Exit(run(m, end))
}

func run(m *testing.M, end []func()) int {
	dir, err := os.MkdirTemp("", "zorveltest")
	if err != nil {
		panic(err)
	}
	defer func() { _ = os.RemoveAll(dir) }()
	if db, err = localdb.Start(context.Background(), dir, false); err != nil {
		fmt.Fprintln(os.Stderr, "starting MariaDB for the tests:", err)
		return 1
	}
	defer func() { _ = db.Stop() }()
	for _, f := range end {
		defer f()
	}
	return m.Run()
}

// DSN makes an empty database and returns its address.
func DSN(t testing.TB) string {
	t.Helper()
	dsn, err := db.Create(t.Context(), fmt.Sprintf("zorvel_%d", count.Add(1)))
	if err != nil {
		t.Fatal(err)
	}
	return dsn
}

// Store opens an empty, migrated database.
func Store(t testing.TB) *store.Store {
	t.Helper()
	return shop(t, emptyShop)
}

// StoreAt opens an empty database with the schema of an earlier version.
func StoreAt(t testing.TB, version int64) *store.Store {
	t.Helper()
	st, err := store.Open(t.Context(), DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = st.Close() })
	if err := st.MigrateTo(t.Context(), version); err != nil {
		t.Fatal(err)
	}
	return st
}

// Chain is a driveline of so many gear pairs, called Stage 0, Stage 1 and so on,
// of which nothing is known.
func Chain(t testing.TB, pairs int) store.Driveline {
	t.Helper()
	d := driveline.Document{Format: driveline.Format, Lies: driveline.Bench}
	for i := range pairs {
		p := driveline.Part{ID: fmt.Sprint("pair_", i), Kind: "gear_pair", Name: fmt.Sprint("Stage ", i)}
		if i > 0 {
			p.From = fmt.Sprint("pair_", i-1)
		}
		d.Parts = append(d.Parts, p)
	}
	return Kept(t, &d)
}

// Layout is a ready driveline with nothing known of it.
func Layout(t testing.TB, id string) store.Driveline {
	t.Helper()
	d := layout(t, id).Blank()
	return Kept(t, &d)
}

// Example is a ready driveline with its example figures, as JSON.
func Example(t testing.TB, id string) string {
	t.Helper()
	return string(Kept(t, layout(t, id)).Document)
}

func layout(t testing.TB, id string) *driveline.Document {
	t.Helper()
	for _, l := range driveline.Layouts() {
		if l.ID == id {
			return &l.Document
		}
	}
	t.Fatal("no layout " + id)
	return nil
}

// Kept is a driveline as the store keeps it.
func Kept(t testing.TB, d *driveline.Document) store.Driveline {
	t.Helper()
	if err := d.Check(); err != nil {
		t.Fatal(err)
	}
	b, err := json.Marshal(d)
	if err != nil {
		t.Fatal(err)
	}
	return store.Driveline{Document: b, States: json.RawMessage("[]")}
}

// Server serves an empty shop, or the demo shop.
func Server(t testing.TB, withDemo bool) (*httptest.Server, *store.Store) {
	t.Helper()
	return serve(t, withDemo, func(*server.Config) {})
}

// Again serves the shop of a server that was closed, at the same address.
func Again(t testing.TB, closed *httptest.Server, st *store.Store) *httptest.Server {
	t.Helper()
	srv, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler), Web: app(t), DemoAccounts: demo.Accounts()})
	if err != nil {
		t.Fatal(err)
	}
	l, err := net.Listen("tcp", strings.TrimPrefix(closed.URL, "http://"))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(srv.Close)
	hs := httptest.NewUnstartedServer(srv.Handler())
	_ = hs.Listener.Close()
	hs.Listener = l
	hs.Start()
	t.Cleanup(hs.Close)
	return hs
}

// ServerWithDevice serves the demo shop with a simulated programmer.
func ServerWithDevice(t testing.TB) (*httptest.Server, *programmer.StandIn, *store.Store) {
	t.Helper()
	device, err := programmer.Start("127.0.0.1:0", 16000)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		if err := device.Close(); err != nil {
			t.Error(err)
		}
	})
	hs, st := serve(t, true, func(c *server.Config) { c.Programmer = device.Addr() })
	return hs, device, st
}

// ServerWithInstruments serves the demo shop with a boat's simulated instruments.
func ServerWithInstruments(t testing.TB, boat instruments.Boat) (*httptest.Server, *instruments.StandIn) {
	t.Helper()
	s, err := instruments.Start("127.0.0.1:0", boat)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	hs, _ := serve(t, true, func(c *server.Config) { c.Instruments = s.Addr() })
	return hs, s
}

// ServerWithSensors serves the demo shop with simulated shaft sensors of its own.
func ServerWithSensors(t testing.TB, turning live.Turning) (*httptest.Server, *sensors.StandIn) {
	t.Helper()
	s, err := sensors.Start("127.0.0.1:0", turning)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	hs, _ := serve(t, true, func(c *server.Config) { c.Sensors = s.Addr() })
	return hs, s
}

// ServerWith serves an empty shop, set up as given.
func ServerWith(t testing.TB, set func(*server.Config)) *httptest.Server {
	t.Helper()
	hs, _ := serve(t, false, set)
	return hs
}

func serve(t testing.TB, withDemo bool, set func(*server.Config)) (*httptest.Server, *store.Store) {
	t.Helper()
	like := emptyShop
	if withDemo {
		like = demoShop
	}
	st := shop(t, like)
	cfg := server.Config{Store: st, Log: slog.New(slog.DiscardHandler), Web: app(t)}
	set(&cfg)
	if withDemo {
		cfg.DemoAccounts = demo.Accounts()
	}
	srv, err := server.New(cfg)
	if err != nil {
		t.Fatal(err)
	}
	srv.FollowDevices(t.Context())
	hs := httptest.NewServer(srv.Handler())
	t.Cleanup(hs.Close)
	t.Cleanup(srv.Close) // first: it lets go of who follows
	return hs, st
}
