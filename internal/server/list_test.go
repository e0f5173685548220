package server_test

import (
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http/httptest"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"zorvel/internal/server"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

type listed struct {
	ID       int64 `json:"id"`
	Name     string
	Archived *struct{ By string }
	Stages   []struct {
		ID, Readings int64
		Part, Ratio  string
		State        string
		Label        *struct{ Label string }
	}
}

func TestListFilters(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	list := func(query string) []listed {
		t.Helper()
		var out []listed
		r := oda.want(200, "GET", "/api/v1/units?"+query, "").holds(t, "GET", "/api/v1/units")
		r.json(t, &out)
		return out
	}
	all := list("")
	if len(all) < 8 {
		t.Fatal(len(all))
	}
	hasLabel := func(u listed, label string) bool {
		for _, s := range u.Stages {
			if s.Label != nil && s.Label.Label == label {
				return true
			}
		}
		return false
	}
	for query, holds := range map[string]func(listed) bool{
		"ratio=4.10":             func(u listed) bool { return hasLabel(u, "4.10") },
		"ratio=4,10&order=name":  func(u listed) bool { return hasLabel(u, "4.10") },
		"kind=boat":              func(u listed) bool { return strings.Contains(u.Name, "Auk") || strings.Contains(u.Name, "Tender") },
		"state=conflict":         func(u listed) bool { return strings.Contains(fmt.Sprint(u.Stages), "conflict") },
		"due=overdue":            func(listed) bool { return true },
		"due=soon":               func(listed) bool { return true },
		"search=4.10&order=name": func(u listed) bool { return true },
	} {
		got := list(query)
		if len(got) == 0 || len(got) == len(all) {
			t.Errorf("%s: %d of %d", query, len(got), len(all))
		}
		for _, u := range got {
			if !holds(u) {
				t.Errorf("%s: %s", query, u.Name)
			}
		}
	}
	var filters struct {
		Ratios, Families []struct {
			Value string
			Units int
		}
	}
	oda.want(200, "GET", "/api/v1/filters", "").holds(t, "GET", "/api/v1/filters").json(t, &filters)
	for _, r := range filters.Ratios {
		if got := list("ratio=" + url.QueryEscape(r.Value)); len(got) != r.Units {
			t.Errorf("%s: %d told, %d listed", r.Value, r.Units, len(got))
		}
	}
	for _, f := range filters.Families {
		if got := list("family=" + url.QueryEscape(f.Value)); len(got) != f.Units {
			t.Errorf("%s: %d told, %d listed", f.Value, f.Units, len(got))
		}
	}
	seen := map[int64]bool{}
	for page := 1; page < 20; page++ {
		for _, u := range list(fmt.Sprintf("per=2&page=%d", page)) {
			if seen[u.ID] {
				t.Errorf("%s stands on two pages", u.Name)
			}
			seen[u.ID] = true
		}
	}
	if len(seen) != len(all) {
		t.Errorf("%d on pages, %d in all", len(seen), len(all))
	}
	for query, field := range map[string]string{"kind=plane": "kind", "page=0": "page", "per=1000": "per", "due=never": "due", "archived=perhaps": "archived", "order=random": "order"} {
		if r := oda.want(422, "GET", "/api/v1/units?"+query, ""); !strings.Contains(r.field(), field) {
			t.Errorf("%s is refused at %q", query, r.field())
		}
	}
}

// A gear set of the shop's moves verdicts, so what is filtered by them is made anew.
func TestListFollowsTheShop(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	mark, err := st.ListsMark(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	stale := make([]store.Stale, 1)
	for range 50 { // a list waits only so long for what changed
		oda.want(200, "GET", "/api/v1/units?ratio=4.10", "")
		if stale, err = st.StaleSearch(t.Context(), mark, 10); err != nil || len(stale) == 0 {
			break
		}
	}
	if err != nil || len(stale) != 0 {
		t.Fatalf("%d stale after many lists, %v", len(stale), err)
	}
	oda.want(201, "POST", "/api/v1/catalog/gear_sets", `{"cells":{"family":"Hollow 9","kind":"ring_and_pinion","construction":"pair","teeth":"41-10","weight":"1","shelf":"0"}}`)
	now, err := st.ListsMark(t.Context())
	if err != nil || now == mark {
		t.Fatalf("the mark stays %d, %v", now, err)
	}
	if stale, err := st.StaleSearch(t.Context(), now, 10); err != nil || len(stale) == 0 {
		t.Errorf("%d stale after a change of the shop's gears, %v", len(stale), err)
	}
}

func TestSavedFiltersOfTheShop(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda, runa := as(t, srv.URL, "oda"), as(t, srv.URL, "runa")
	var f struct {
		Saved []struct {
			ID              int64
			Name, Query, By string
		}
	}
	oda.want(200, "POST", "/api/v1/filters", `{"name":" Every 4.10 ","query":"kind=truck&ratio=4.10"}`).json(t, &f)
	if len(f.Saved) != 1 || f.Saved[0].Name != "Every 4.10" || f.Saved[0].By != "Oda Brenk" {
		t.Fatalf("%+v", f)
	}
	if r := oda.want(422, "POST", "/api/v1/filters", `{"name":"every 4.10","query":""}`); r.field() != "/name" {
		t.Errorf("refused at %q", r.field())
	}
	for _, body := range []string{`{"name":"","query":""}`, `{"name":"  ","query":""}`, `{"name":"x","query":"a b"}`, `{"name":"x","query":"\"><script>"}`, `{"name":"x"}`} {
		oda.want(422, "POST", "/api/v1/filters", body)
	}
	runa.want(403, "POST", "/api/v1/filters", `{"name":"Mine","query":""}`)
	runa.want(403, "DELETE", fmt.Sprintf("/api/v1/filters/%d", f.Saved[0].ID), "")
	runa.want(200, "GET", "/api/v1/filters", "")
	oda.want(204, "DELETE", fmt.Sprintf("/api/v1/filters/%d", f.Saved[0].ID), "")
	oda.want(404, "DELETE", fmt.Sprintf("/api/v1/filters/%d", f.Saved[0].ID), "")
}

func TestArchiving(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda, runa := as(t, srv.URL, "oda"), as(t, srv.URL, "runa")
	var u listed
	oda.want(201, "POST", "/api/v1/units", `{"name":"Put away","kind":"van","layout":"rear_drive"}`).json(t, &u)
	at := fmt.Sprintf("/api/v1/units/%d", u.ID)
	runa.want(403, "PUT", at+"/archived", `{"archived":true}`)
	oda.want(200, "PUT", at+"/archived", `{"archived":true}`).holds(t, "PUT", "/api/v1/units/{id}/archived").json(t, &u)
	if u.Archived == nil || u.Archived.By != "Oda Brenk" {
		t.Fatalf("%+v", u)
	}
	var list []listed
	oda.want(200, "GET", "/api/v1/units?search=put", "").json(t, &list)
	if len(list) != 0 {
		t.Errorf("still found: %+v", list)
	}
	oda.want(200, "GET", "/api/v1/units?search=put&archived=true", "").json(t, &list)
	if len(list) != 1 {
		t.Errorf("%d archived found", len(list))
	}
	oda.want(200, "PUT", at+"/archived", `{"archived":false}`)
	oda.want(200, "GET", "/api/v1/units?search=put", "").json(t, &list)
	if len(list) != 1 {
		t.Errorf("%d found after it was taken back", len(list))
	}
	oda.want(201, "POST", at+"/jobs", `{"key":"open-key-1","complaint":"hums"}`)
	oda.want(409, "PUT", at+"/archived", `{"archived":true}`)
	oda.want(404, "PUT", "/api/v1/units/99999/archived", `{"archived":true}`)
}

// What was known of a unit then and now: readings taken since, struck out since, and
// gears that went in since.
func TestCompareTwoTimes(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	var u listed
	oda.want(201, "POST", "/api/v1/units", `{"name":"Two times","kind":"truck","layout":"rear_drive"}`).json(t, &u)
	at := fmt.Sprintf("/api/v1/units/%d", u.ID)
	axle := u.Stages[len(u.Stages)-1].ID
	for _, s := range u.Stages {
		if strings.Contains(s.Part, "axle") {
			axle = s.ID
		}
	}
	stamp := func() string { time.Sleep(5 * time.Millisecond); return time.Now().UTC().Format(time.RFC3339Nano) }
	type at2 struct {
		State    string
		Readings int
		Label    *struct{ Label string }
	}
	var both struct {
		Begun  bool
		Ratios []struct {
			StageID       int64 `json:"stage_id"`
			Differs       bool
			Before, After at2
		}
		Parts []struct {
			Part, What string
			Says       []string
		}
		History []struct{ What string }
	}
	compare := func(from, to string) {
		t.Helper()
		both.Ratios, both.Parts, both.History = nil, nil, nil
		query := url.Values{"from": {from}}
		if to != "" {
			query.Set("to", to)
		}
		oda.want(200, "GET", at+"/compare?"+query.Encode(), "").holds(t, "GET", "/api/v1/units/{id}/compare").json(t, &both)
	}
	t0 := stamp()
	readings := fmt.Sprintf("/api/v1/stages/%d/readings", axle)
	oda.want(201, "POST", readings, `{"readings":[{"key":"two-times-1","reading":{"method":"teeth","teeth":{"ring":41,"pinion":10}}}]}`)
	t1 := stamp()
	compare(t0, t1)
	if len(both.Ratios) != 1 || !both.Begun {
		t.Fatalf("%+v", both)
	}
	if r := both.Ratios[0]; !r.Differs || r.Before.State != "unknown" || r.Before.Readings != 0 || r.After.Readings != 1 || r.After.Label == nil || r.After.Label.Label != "4.10" {
		t.Errorf("%+v", r)
	}
	// Other gears went in: what was counted before stands aside from then on.
	var d struct {
		Version  int64
		Document json.RawMessage
	}
	oda.want(200, "GET", at+"/driveline", "").json(t, &d)
	var line struct {
		Document struct{ Parts []struct{ ID, Kind string } }
	}
	oda.want(200, "GET", at+"/driveline", "").json(t, &line)
	part := ""
	for _, p := range line.Document.Parts {
		if strings.Contains(p.Kind, "axle") {
			part = p.ID
		}
	}
	oda.want(201, "POST", at+"/fittings", fmt.Sprintf(`{"part":%q,"what":"gears_swapped","base":%d,"note":"3.73 set from the shelf"}`, part, d.Version))
	t2 := stamp()
	compare(t1, t2)
	if r := both.Ratios[0]; !r.Differs || r.Before.Readings != 1 || r.After.Readings != 0 || r.After.State != "unknown" {
		t.Errorf("after other gears: %+v", r)
	}
	if len(both.Parts) == 0 || both.Parts[len(both.Parts)-1].What != "fitted" || len(both.Parts[len(both.Parts)-1].Says) != 2 {
		t.Errorf("parts: %+v", both.Parts)
	}
	compare(t0, t2)
	if len(both.History) < 2 {
		t.Errorf("history: %+v", both.History)
	}
	compare("2020-01-01T00:00:00Z", t0)
	if both.Begun || len(both.Ratios) != 0 {
		t.Errorf("before it was on record: %+v", both)
	}
	for _, q := range []string{"", "?from=yesterday", "?from=" + url.QueryEscape(t2) + "&to=" + url.QueryEscape(t0)} {
		oda.want(422, "GET", at+"/compare"+q, "")
	}
	oda.want(404, "GET", "/api/v1/units/99999/compare?from=2020-01-01T00:00:00Z", "")
}

// Two servers that begin with nothing answer every reader, however many read at
// once: none fails by what it would like to keep for the next.
func TestColdReadersOnTwoServers(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	document := string(oda.want(200, "GET", "/api/v1/units/3/document", "").body)
	for range 12 {
		oda.want(201, "POST", "/api/v1/units/import", document)
	}
	bases := []string{srv.URL}
	second, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(second.Close)
	hs := httptest.NewServer(second.Handler())
	t.Cleanup(hs.Close)
	bases = append(bases, hs.URL)
	for range 3 {
		if err := st.ClearSearch(t.Context()); err != nil {
			t.Fatal(err)
		}
		// Nothing is known: every list is of a shop that has just changed.
		if _, err := st.DB.ExecContext(t.Context(), "UPDATE catalog_marks SET mark = mark + 1"); err != nil {
			t.Fatal(err)
		}
		var wg sync.WaitGroup
		for i := range 24 {
			c := as(t, bases[i%2], "oda")
			path := []string{"/api/v1/units", "/api/v1/units/3", "/api/v1/units?ratio=4.10", "/api/v1/filters"}[i/2%4]
			wg.Go(func() {
				if a := c.do("GET", path, ""); a.status != 200 {
					t.Errorf("%s: %d %s", path, a.status, a.body)
				}
			})
		}
		wg.Wait()
	}
}

// What is newer is told by a count: an entry that carries an earlier date, from a
// server whose clock is behind, is found like any other.
func TestClocksTellNothing(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	find := func(words string) int {
		var list []listed
		oda.want(200, "GET", "/api/v1/units?search="+words, "").json(t, &list)
		return len(list)
	}
	if n := find("yesterdaysword"); n != 0 {
		t.Fatalf("%d found", n)
	}
	v, err := st.Stage(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	for i, ago := range []time.Duration{time.Minute, 24 * time.Hour, 0, -time.Minute} {
		word := fmt.Sprint("yesterdaysword", string(rune('a'+i)))
		if err := st.AddReadings(t.Context(), v, []store.Reading{{Method: "tag", Data: json.RawMessage(`{"method":"tag","text":"4.10"}`), By: "Oda", Text: word, At: time.Now().UTC().Add(-ago)}}, 200); err != nil {
			t.Fatal(err)
		}
		if n := find(word); n != 1 {
			t.Errorf("entered %v ago: %d found", ago, n)
		}
	}
}

// Small words are sought too, or say nothing beside others.
func TestSmallWordsAreSought(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	oda.want(201, "POST", "/api/v1/units/8/jobs", `{"key":"small-words","complaint":"Bang in the quarry, then R2 jumps out (4x)"}`)
	for words, want := range map[string]int{
		"bang in the quarry": 1, "bang at the quarry": 1, "quarry r2": 1, "r2 quarry 4x": 1, "quarry r3": 0, "bang of a quarry": 1, "4x quarry": 1, "zq quarry": 0,
	} {
		var list []listed
		oda.want(200, "GET", "/api/v1/units?search="+url.QueryEscape(words), "").json(t, &list)
		if len(list) != want {
			t.Errorf("%q: %d found, want %d", words, len(list), want)
		}
	}
}
