package server_test

import (
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strconv"
	"strings"
	"testing"
	"time"

	"zorvel/internal/demo"
	"zorvel/internal/server"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// another is another server on the same database.
func another(t *testing.T, st *store.Store) *client {
	t.Helper()
	s, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler), DemoAccounts: demo.Accounts()})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	hs := httptest.NewServer(s.Handler())
	t.Cleanup(hs.Close)
	return as(t, hs.URL, "oda")
}

// Verdicts that are kept serve other servers, say the same as those that are computed,
// and count for nothing once the evidence is another.
func TestKeptVerdictsServe(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	ctx := t.Context()
	first, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
	if err == nil {
		err = first.Reindex(ctx, func(int) {}) // what the shop's counts say of its list is known first
	}
	if err != nil {
		t.Fatal(err)
	}
	computed := string(oda.want(200, "GET", "/api/v1/units", "").body)
	var n int
	if err := st.DB.QueryRow("SELECT COUNT(*) FROM verdicts").Scan(&n); err != nil || n < 10 {
		t.Fatalf("%d verdicts are kept, %v", n, err)
	}
	if kept := string(another(t, st).want(200, "GET", "/api/v1/units", "").body); kept != computed {
		t.Errorf("what is kept says\n%s\nwhat was computed\n%s", kept, computed)
	}
	// A verdict under its evidence is believed; it is a projection, and made anew on command.
	if _, err := st.DB.ExecContext(ctx, `UPDATE verdicts SET verdict = '{"state":"assumed"}'`); err != nil {
		t.Fatal(err)
	}
	believed := string(another(t, st).want(200, "GET", "/api/v1/units", "").body)
	if believed == computed {
		t.Error("what is kept isn't looked at")
	}
	s, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	if err := s.Reindex(ctx, func(int) {}); err != nil {
		t.Fatal(err)
	}
	if again := string(another(t, st).want(200, "GET", "/api/v1/units", "").body); again != computed {
		t.Errorf("made anew:\n%s", again)
	}
	// Under other evidence it counts for nothing, and neither does what can't be read.
	for _, q := range []string{`UPDATE verdicts SET evidence = CONCAT('9', evidence), verdict = '{"state":"assumed"}'`, `UPDATE verdicts SET verdict = '[]'`} {
		if _, err := st.DB.ExecContext(ctx, q); err != nil {
			t.Fatal(err)
		}
		if again := string(another(t, st).want(200, "GET", "/api/v1/units", "").body); again != computed {
			t.Errorf("%s: believed", q)
		}
	}
}

// A unit whose record can't be read keeps no other from being found, and is tried
// again when it changes.
func TestOneUnreadableUnitHidesNone(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	if _, err := st.DB.ExecContext(t.Context(), "UPDATE drivelines SET document = '{\"parts\": 7}' WHERE unit_id = 2"); err != nil {
		t.Fatal(err)
	}
	if err := st.ClearSearch(t.Context()); err != nil {
		t.Fatal(err)
	}
	var list []listed
	oda.want(200, "GET", "/api/v1/units?search=auk", "").json(t, &list)
	if len(list) != 1 {
		t.Errorf("%d found", len(list))
	}
	mark, err := st.ListsMark(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if stale, err := st.StaleSearch(t.Context(), mark, 10); err != nil || len(stale) != 0 {
		t.Errorf("%d stay stale, %v", len(stale), err)
	}
	oda.want(200, "GET", "/api/v1/units?ratio=4.10", "")
}

// A list says how many there are over all pages, and how many aren't looked through
// yet where many changed at once.
func TestListHeaders(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	count := func(a answer, name string) int {
		t.Helper()
		n, err := strconv.Atoi(a.header.Get(name))
		if err != nil {
			t.Fatal(err)
		}
		return n
	}
	a := oda.want(200, "GET", "/api/v1/units?per=2", "")
	if total := count(a, "X-Total-Count"); total < 8 || count(a, "X-Not-Yet") != 0 {
		t.Errorf("%d in all", total)
	}
	for i := range 130 {
		if _, err := st.AddUnit(t.Context(), store.Unit{Name: fmt.Sprint("Many ", i), Kind: "van"}, testkit.Chain(t, 1), "Oda"); err != nil {
			t.Fatal(err)
		}
	}
	a = oda.want(200, "GET", "/api/v1/units?search=many&per=200", "")
	if left := count(a, "X-Not-Yet"); left == 0 || count(a, "X-Total-Count") >= 130 {
		t.Errorf("%d are left, %d found", left, count(a, "X-Total-Count"))
	}
	for range 3 {
		a = oda.want(200, "GET", "/api/v1/units?search=many&per=200", "")
	}
	if count(a, "X-Not-Yet") != 0 || count(a, "X-Total-Count") != 130 {
		t.Errorf("%d are left, %d found", count(a, "X-Not-Yet"), count(a, "X-Total-Count"))
	}
}

// The server makes units findable by itself.
func TestFindableInTheBackground(t *testing.T) {
	st := testkit.Store(t)
	if _, err := st.AddUnit(t.Context(), store.Unit{Name: "Found later", Kind: "van"}, testkit.Chain(t, 1), "Oda"); err != nil {
		t.Fatal(err)
	}
	s, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	ready := make(chan string, 1)
	go func() { _ = s.Serve(t.Context(), "127.0.0.1:0", func(a string) { ready <- a }) }()
	<-ready
	for end := time.Now().Add(20 * time.Second); ; time.Sleep(50 * time.Millisecond) {
		stale, err := st.StaleSearch(t.Context(), 0, 1)
		if err != nil {
			t.Fatal(err)
		}
		if len(stale) == 0 {
			return
		}
		if time.Now().After(end) {
			t.Fatal("it isn't made findable")
		}
	}
}

// Archives are bounded before they are looked at, two are taken at once, and what
// breaks off leaves no file behind.
func TestUploadsAreBounded(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	t.Setenv("TMPDIR", t.TempDir())
	oda := as(t, srv.URL, "oda")
	for path, want := range map[string]int{"/api/v1/units/import-zip": 422, "/api/v1/shop/import": 422, "/api/v1/shop/import?keep=maybe": 422} {
		a := oda.upload(path, []byte("PK\x05\x06 no archive"))
		var p struct {
			Detail string
			Errors []struct{ Message string }
		}
		if a.json(t, &p); a.status != want || p.Detail == "" {
			t.Errorf("%s: %d %s", path, a.status, a.body)
		}
	}
	req, err := http.NewRequestWithContext(t.Context(), "POST", srv.URL+"/api/v1/units/import-zip", io.LimitReader(endless{}, 300<<20))
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/zip")
	res, err := oda.http.Do(req)
	if err == nil {
		body, _ := io.ReadAll(res.Body)
		_ = res.Body.Close()
		if res.StatusCode != 413 || !strings.Contains(string(body), "command line") {
			t.Errorf("%d %s", res.StatusCode, body)
		}
	}
	// An unknown person is refused before anything is read.
	c := newClient(t, srv.URL)
	if a := c.upload("/api/v1/units/import-zip", []byte("PK")); a.status != 401 {
		t.Errorf("a stranger: %d", a.status)
	}
}

type endless struct{}

func (endless) Read(p []byte) (int, error) { return len(p), nil }

// What a work card's run looked like travels with its unit, in hand and closed, and what
// can't have been is refused at its place.
func TestCardsTravel(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	var run struct {
		ID    int64
		Sheet struct{ Steps []struct{ ID string } }
	}
	oda.want(201, "POST", "/api/v1/units/4/card-runs", `{"card":"lower","answers":[]}`).json(t, &run)
	oda.want(200, "POST", fmt.Sprintf("/api/v1/card-runs/%d/entries", run.ID), fmt.Sprintf(`{"key":"entry-key-1","kind":"check","step":%q,"note":"chocked"}`, run.Sheet.Steps[0].ID))
	text := oda.want(200, "GET", "/api/v1/units/4/document", "").holds(t, "GET", "/api/v1/units/{id}/document").body
	var doc map[string]any
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	cards, _ := doc["cards"].([]any)
	if len(cards) == 0 {
		t.Fatalf("no card in %s", text)
	}
	var u struct{ ID int64 }
	oda.want(201, "POST", "/api/v1/units/import", string(text)).json(t, &u)
	if again := oda.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", u.ID), "").body; string(again) != string(text) {
		t.Errorf("it came back another:\n%s\n%s", text, again)
	}
	var runs []struct {
		ID     int64
		Closed *string `json:"closed_at"`
	}
	oda.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/card-runs", u.ID), "").json(t, &runs)
	if len(runs) != len(cards) {
		t.Fatalf("%d runs, %d cards", len(runs), len(cards))
	}
	// It is gone on with where it was left.
	oda.want(200, "POST", fmt.Sprintf("/api/v1/card-runs/%d/entries", runs[0].ID), fmt.Sprintf(`{"key":"entry-key-2","kind":"undo","step":%q}`, run.Sheet.Steps[0].ID))
	last := func() map[string]any {
		cards, _ := doc["cards"].([]any)
		c, _ := cards[len(cards)-1].(map[string]any)
		return c
	}
	entry := func() map[string]any {
		list, _ := last()["entries"].([]any)
		e, _ := list[0].(map[string]any)
		return e
	}
	for name, change := range map[string]func(){
		"/cards/0/entries/0/step": func() { entry()["step"] = "fly" },
		"/cards/0/entries/0/at":   func() { entry()["at"] = "2999-01-01T00:00:00Z" },
		"/cards/0/entries/0/kind": func() { entry()["kind"] = "dream" },
		"/cards/0/closed_by":      func() { last()["closed_by"] = "Oda" },
		"/cards/0/at":             func() { last()["at"] = "1066-10-14T00:00:00Z" },
		"/cards/0/answers":        func() { last()["answers"] = []any{map[string]any{"condition": "full_moon", "yes": true}} },
		"/cards/0/card/id":        func() { last()["card"].(map[string]any)["id"] = "No Name" },
	} {
		if err := json.Unmarshal(text, &doc); err != nil {
			t.Fatal(err)
		}
		change()
		body, err := json.Marshal(doc)
		if err != nil {
			t.Fatal(err)
		}
		if a := oda.do("POST", "/api/v1/units/import", string(body)); a.status != 422 || !strings.HasPrefix(a.field(), name) {
			t.Errorf("%s: %d %s", name, a.status, a.body)
		}
	}
}
