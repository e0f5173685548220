package server_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// readers are the contract's addresses that only read, as of one unit's.
func readers(t *testing.T) []string {
	t.Helper()
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		t.Fatal(err)
	}
	var out []string
	for path, item := range spec.Paths.Map() {
		if item.Get == nil || strings.Contains(path, "-imports/") {
			continue
		}
		for _, id := range []string{"3", "8"} {
			at := "/api/v1" + strings.NewReplacer("{id}", id, "{list}", "gear_sets", "{card}", "open_axle").Replace(path)
			if strings.HasSuffix(path, "/compare") {
				at += "?from=2020-01-01&to=2030-01-01"
			}
			out = append(out, at)
			if !strings.Contains(path, "{id}") {
				break
			}
		}
	}
	return append(out, "/api/v1/units?search=birk", "/api/v1/units?ratio=4.10", "/api/v1/units?state=settled")
}

// Nothing that stands in the database, whatever wrote it there, makes a reader
// fail: what can't be read says so in its place and hides nothing else.
func TestNoStoredWordFailsAReader(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	list := readers(t)
	odd := []string{`7`, `{"parts":7}`, `{"method":"bench","bench":{"output_turns":1e-320,"shaft":{"whole":2}}}`, `[[[1e308]]]`, `{"axle":{},"plan":{},"kind":7}`}
	for _, column := range []string{
		"readings.data", "drivelines.document", "drivelines.states", "fittings.former", "decisions.question", "decisions.answer", "catalog_rows.cells",
		"cards.document", "card_runs.document", "card_runs.answers", "photos.marks", "recordings.drive", "shop_parts.part", "verdicts.verdict",
		"practice_results.result", "practice_tasks.task",
	} {
		t.Run(column, func(t *testing.T) {
			table, name, _ := strings.Cut(column, ".")
			key := "id"
			if table == "verdicts" {
				key = "stage_id"
			}
			type row struct {
				id   int64
				text string
			}
			var was []row
			rows, err := st.DB.QueryContext(t.Context(), fmt.Sprintf("SELECT %s, %s FROM %s", key, name, table))
			if err != nil {
				t.Fatal(err)
			}
			for rows.Next() {
				var r row
				if err := rows.Scan(&r.id, &r.text); err != nil {
					t.Fatal(err)
				}
				was = append(was, r)
			}
			if err := rows.Err(); err != nil {
				t.Fatal(err)
			}
			failed := map[string]string{}
			for _, x := range odd {
				if _, err := st.DB.ExecContext(t.Context(), fmt.Sprintf("UPDATE %s SET %s = ?", table, name), x); err != nil {
					t.Fatal(err)
				}
				if err := st.ClearSearch(t.Context()); err != nil {
					t.Fatal(err)
				}
				if _, err := st.DB.ExecContext(t.Context(), "UPDATE catalog_marks SET mark = mark + 1"); err != nil { // nothing is known from before
					t.Fatal(err)
				}
				for _, at := range list {
					if a := oda.do("GET", at, ""); a.status >= http.StatusInternalServerError {
						failed[at] = fmt.Sprintf("%s: %d %.200s", x, a.status, a.body)
					}
				}
			}
			for at, told := range failed {
				t.Errorf("%s with %s", at, told)
			}
			for _, r := range was {
				if _, err := st.DB.ExecContext(t.Context(), fmt.Sprintf("UPDATE %s SET %s = ? WHERE %s = ?", table, name, key), r.text, r.id); err != nil {
					t.Fatal(err)
				}
			}
		})
	}
}

// A reading that no bench can weigh, from a version that took it, is shown as one,
// and the server starts, lists and searches as ever.
func TestStoredReadingThatCantBeWeighed(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	v, err := st.Stage(t.Context(), 1)
	if err != nil {
		t.Fatal(err)
	}
	data := json.RawMessage(`{"method":"bench","bench":{"output_turns":1e-320,"shaft":{"whole":2}}}`)
	if err := st.AddReadings(t.Context(), v, []store.Reading{{Method: "bench", Data: data, By: "Oda"}}, 200); err != nil {
		t.Fatal(err)
	}
	var u struct {
		Name   string
		Stages []struct {
			ID      int64
			Trouble string
		}
	}
	oda.want(200, "GET", fmt.Sprintf("/api/v1/units/%d", v.UnitID), "").json(t, &u)
	for _, x := range u.Stages {
		if (x.ID == v.ID) != strings.Contains(x.Trouble, "smaller than any gauge reads") {
			t.Errorf("stage %d: %q", x.ID, x.Trouble)
		}
	}
	var list []listed
	oda.want(200, "GET", "/api/v1/units?search="+strings.Fields(u.Name)[0], "").json(t, &list)
	if len(list) == 0 {
		t.Errorf("%q is not found", u.Name)
	}
	for _, at := range readers(t) {
		if a := oda.do("GET", at, ""); a.status >= 500 {
			t.Errorf("%s: %d %s", at, a.status, a.body)
		}
	}
}
