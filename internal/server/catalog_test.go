package server_test

import (
	"fmt"
	"net/url"
	"strings"
	"testing"

	"zorvel/core/catalog"
	"zorvel/internal/testkit"
)

const lists = "/api/v1/catalog"

type catalogRow struct {
	ID, Version int64
	Cells       map[string]string
}

func TestCatalogKeepsTheContract(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "runa")
	var info []struct {
		List struct{ ID string }
		Rows int
	}
	c.want(200, "GET", lists, "").holds(t, "GET", lists).json(t, &info)
	if len(info) != len(catalog.Lists()) {
		t.Fatalf("%d lists", len(info))
	}
	for _, l := range info {
		if l.Rows == 0 {
			t.Errorf("the demo's %s is empty", l.List.ID)
		}
		for _, path := range []string{"", "/changes", "/csv"} {
			p := lists + "/" + l.List.ID + path
			c.want(200, "GET", p, "").holds(t, "GET", p)
		}
	}
	c.want(422, "GET", lists+"/nothing", "")
	newClient(t, srv.URL).want(401, "GET", lists, "")
	// Viewers read only.
	c.want(403, "POST", lists+"/adapters", `{"cells":{"name":"x","ratio":"1"}}`)
}

func TestCatalogRowsAreEdited(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	var row catalogRow
	c.want(201, "POST", lists+"/gear_sets", `{"cells":{"family":"Varn 300","teeth":"41 x 8","price":"510,5"}}`).holds(t, "POST", lists+"/gear_sets").json(t, &row)
	if row.Cells["teeth"] != "41-8" || row.Cells["price"] != "510.50" || row.Cells["kind"] != "ring_and_pinion" {
		t.Errorf("%+v", row)
	}
	for body, field := range map[string]string{
		`{"cells":{"family":"Varn 300","teeth":"8-41"}}`:             "/cells/teeth",
		`{"cells":{"family":"Varn 300"}}`:                            "/cells/teeth",
		`{"cells":{"family":"Varn 300","teeth":"41-8"}}`:             "/cells/teeth", // there already
		`{"cells":{"family":"Varn 300","teeth":"41-9","size":"1"}}`:  "/cells/size",
		`{"cells":{"family":"Varn 300","teeth":"41-9","shelf":"x"}}`: "/cells/shelf",
	} {
		if a := c.do("POST", lists+"/gear_sets", body); a.status != 422 || a.field() != field {
			t.Errorf("%s: %d %s", body, a.status, a.body)
		}
	}
	path := fmt.Sprintf("%s/gear_sets/rows/%d", lists, row.ID)
	change := func(version int64) string {
		return fmt.Sprintf(`{"version":%d,"cells":{"family":"Varn 300","teeth":"41-8","shelf":"3"}}`, version)
	}
	c.want(200, "PUT", path, change(1)).holds(t, "PUT", path).json(t, &row)
	if row.Version != 2 || row.Cells["shelf"] != "3" {
		t.Errorf("%+v", row)
	}
	c.want(409, "PUT", path, change(1))
	var changes []struct{ What, Text, By string }
	c.want(200, "GET", fmt.Sprintf("%s/gear_sets/changes?row=%d", lists, row.ID), "").json(t, &changes)
	if len(changes) != 2 || changes[0].By != "Ivar Tolm" || !strings.Contains(changes[0].Text, "on shelf 0 → 3") || !strings.Contains(changes[1].Text, "Varn 300 41-8 added") {
		t.Errorf("%+v", changes)
	}
	c.want(204, "DELETE", path, "")
	c.want(404, "DELETE", path, "")
	c.want(404, "PUT", path, change(2))
}

func jsonText(s string) string { return fmt.Sprintf("%q", s) }

func TestCatalogFiles(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	path := lists + "/adapters/csv"
	text := string(c.want(200, "GET", path, "").body)
	var p struct {
		Added, Changed, Same, Faulty int
		Kept                         bool
		Lines                        []struct {
			Line   int
			Action string
			Faults []struct{ Field, Message string }
		}
	}
	look := func(text string, keep bool) answer {
		return c.do("POST", path, fmt.Sprintf(`{"text":%s,"keep":%v,"token":"token-12345"}`, jsonText(text), keep))
	}
	// What went out comes back as it is.
	look(text, false).holds(t, "POST", path).json(t, &p)
	if p.Faulty != 0 || p.Added != 0 || p.Changed != 0 || p.Same != 7 {
		t.Errorf("%+v", p)
	}
	// Looking keeps nothing; one bad line keeps all out.
	more := text + "New box,3/4,1,12,\nBad box,zero,1,12,\n"
	look(more, false).json(t, &p)
	if p.Added != 1 || p.Faulty != 1 || p.Kept {
		t.Errorf("%+v", p)
	}
	last := p.Lines[len(p.Lines)-1]
	if last.Action != "fault" || last.Line != 10 || last.Faults[0].Field != "ratio" {
		t.Errorf("%+v", last)
	}
	a := look(more, true)
	if a.status != 422 || a.field() != "/text" || !strings.Contains(string(a.body), "line 10: ratio a ratio above 0") {
		t.Errorf("%d %s", a.status, a.body)
	}
	var rows []catalogRow
	c.want(200, "GET", lists+"/adapters", "").json(t, &rows)
	if len(rows) != 7 {
		t.Errorf("%d rows after a refused file", len(rows))
	}
	look(text+"New box,3/4,1,12,\n", true).json(t, &p)
	if !p.Kept || p.Added != 1 || p.Changed != 0 {
		t.Errorf("%+v", p)
	}
	var progress struct{ Done, Total int }
	c.want(200, "GET", "/api/v1/catalog-imports/token-12345", "").holds(t, "GET", "/api/v1/catalog-imports/token-12345").json(t, &progress)
	if progress.Done != 8 || progress.Total != 8 {
		t.Errorf("%+v", progress)
	}
	if a := look("name\n", false); a.status != 422 || a.field() != "/text" {
		t.Errorf("%d %s", a.status, a.body)
	}
}

// The identify bench weighs what the shop's list says now.
func TestCatalogIsThePrior(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	ask := func() float64 {
		var v struct {
			Candidates []struct {
				Build       struct{ Teeth []struct{ Count int } }
				Probability float64
			}
		}
		c.want(200, "POST", "/api/v1/calc/identify", `{"stage":{"kind":"ring_and_pinion"},"prior":"shop","readings":[{"method":"tag","text":"3.27"}]}`).json(t, &v)
		for _, x := range v.Candidates {
			if x.Build.Teeth[0].Count == 49 && x.Build.Teeth[1].Count == 15 {
				return x.Probability
			}
		}
		return 0
	}
	before := ask()
	var row catalogRow
	c.want(201, "POST", lists+"/gear_sets", `{"cells":{"family":"Odd","teeth":"49-15","weight":"40"}}`).json(t, &row)
	after := ask()
	if after < 0.5 || after <= before {
		t.Errorf("49 : 15 had %v, and %v after it was put into the list", before, after)
	}
	c.want(204, "DELETE", fmt.Sprintf("%s/gear_sets/rows/%d", lists, row.ID), "")
	if again := ask(); again != before {
		t.Errorf("%v after it was taken out, %v before", again, before)
	}
}

func TestCatalogTakesAnyText(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	for _, text := range []string{"", "\x00", "'; DROP TABLE catalog_rows; --", strings.Repeat("é", 390), "🛞", "<b>x</b>", "%s%d", "a|b"} {
		body := fmt.Sprintf(`{"cells":{"name":%s,"ratio":"1","note":%s}}`, jsonText(strings.ToValidUTF8(text, "")), jsonText(text))
		if a := c.do("POST", lists+"/adapters", strings.ReplaceAll(body, `\x00`, `\u0000`)); a.status >= 500 {
			t.Errorf("%q: %d %s", text, a.status, a.body)
		}
	}
	if a := c.do("GET", "/api/v1/catalog-imports/"+url.PathEscape("..%2f"), ""); a.status >= 500 {
		t.Errorf("%d", a.status)
	}
}
