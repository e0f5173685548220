package server_test

import (
	"fmt"
	"log/slog"
	"testing"

	"zorvel/core/identify"
	"zorvel/internal/server"
	"zorvel/internal/testkit"
)

// The shop's list takes what the shop's own counts have earned it: each housing counts
// once, by its newest standing count, and where the share moves the units are made
// findable anew.
func TestCountsEarnTheListItsShare(t *testing.T) {
	srv, st := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	c.want(201, "POST", "/api/v1/catalog/gear_sets", `{"cells":{"family":"Hollow 9","kind":"ring_and_pinion","construction":"pair","teeth":"33-8","weight":"1","shelf":"0"}}`)
	s, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	type prior struct {
		Prior struct {
			List           float64
			Counted, Found int
		}
	}
	look := func() prior {
		t.Helper()
		if err := s.Reindex(t.Context(), func(int) {}); err != nil {
			t.Fatal(err)
		}
		var v prior
		c.want(200, "POST", "/api/v1/calc/identify", `{"stage":{"kind":"ring_and_pinion"},"prior":"shop","readings":[]}`).json(t, &v)
		return v
	}
	was := look().Prior
	earned := func(v prior, counted, found int) bool {
		p := v.Prior
		l := identify.List{Sets: make([]identify.CatalogEntry, 1), Counted: p.Counted, Found: p.Found}
		return p.Counted == was.Counted+counted && p.Found == was.Found+found && p.List == l.Share()
	}
	mark := func() int64 {
		m, err := st.ListsMark(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return m
	}
	counts := mark()
	var last int64
	for i, teeth := range []string{`{"ring":33,"pinion":8}`, `{"ring":33,"pinion":8}`, `{"ring":34,"pinion":13}`, `{"ring":41}`} {
		var u struct{ Stages []struct{ ID int64 } }
		c.want(201, "POST", "/api/v1/units", fmt.Sprintf(`{"name":"Truck %d","kind":"truck","first":{"kind":"ring_and_pinion"}}`, i)).json(t, &u)
		at := fmt.Sprintf("/api/v1/stages/%d/readings", u.Stages[0].ID)
		var rec struct{ Readings []struct{ ID int64 } }
		c.want(201, "POST", at, `{"readings":[{"reading":{"method":"teeth","teeth":`+teeth+`}}]}`).json(t, &rec)
		if i == 0 { // counted again: the same housing
			c.want(201, "POST", at, `{"readings":[{"reading":{"method":"teeth","teeth":`+teeth+`}}]}`)
		}
		if i == 2 {
			last = rec.Readings[0].ID
		}
	}
	if v := look(); !earned(v, 3, 2) {
		t.Errorf("two of three: %+v", v)
	}
	if mark() < counts {
		t.Error("the mark went back")
	}
	c.want(200, "POST", fmt.Sprintf("/api/v1/readings/%d/strike", last), `{"reason":"the front was counted"}`)
	if v := look(); !earned(v, 2, 2) {
		t.Errorf("after a count was struck: %+v", v)
	}
	still := mark()
	look()
	if mark() != still {
		t.Error("nothing was counted, and the mark moved")
	}
}
