package server_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"testing"

	"zorvel/internal/archive"
	"zorvel/internal/exchange"
	"zorvel/internal/server"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// upload sends an archive.
func (c *client) upload(path string, data []byte) answer {
	c.t.Helper()
	req, err := http.NewRequest("POST", c.base+path, bytes.NewReader(data))
	if err != nil {
		c.t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/zip")
	res, err := c.http.Do(req)
	if err != nil {
		c.t.Fatal(err)
	}
	defer func() { _ = res.Body.Close() }()
	body, err := io.ReadAll(res.Body)
	if err != nil {
		c.t.Fatal(err)
	}
	return answer{res.StatusCode, res.Header, body}
}

func changed(files map[string]string, change func(map[string]string)) map[string]string {
	out := map[string]string{}
	for k, v := range files {
		out[k] = v
	}
	change(out)
	return out
}

// A unit with its photos goes out and comes back the same: documents, marks, what a
// photo is the evidence of, and pictures byte for byte.
func TestUnitWithPhotosRoundTrip(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	photos := 0
	units, _, err := st.Units(t.Context(), store.Asked{})
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range units {
		first := oda.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document.zip", x.ID), "")
		files := testkit.Unzipped(t, first.body)
		photos += len(files) - 1
		a := oda.upload("/api/v1/units/import-zip", first.body)
		if a.status != 201 {
			t.Fatalf("%s: %d %s", x.Name, a.status, a.body)
		}
		var u struct{ ID int64 }
		a.json(t, &u)
		again := testkit.Unzipped(t, oda.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document.zip", u.ID), "").body)
		if len(again) != len(files) {
			t.Errorf("%s: %d files, %d after", x.Name, len(files), len(again))
		}
		for name, text := range files {
			if again[name] != text {
				t.Errorf("%s: %s differs:\n%.3000s\n%.3000s", x.Name, name, text, again[name])
			}
		}
	}
	if photos == 0 {
		t.Error("no unit of the example has a photo")
	}
}

// Photos are the evidence of a reading, a line of a job, or a step of a card, of this
// unit alone; and come back so.
func TestPhotosOfSomething(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	var u listed
	oda.want(201, "POST", "/api/v1/units", `{"name":"With evidence","kind":"truck","layout":"rear_drive"}`).json(t, &u)
	at := fmt.Sprintf("/api/v1/units/%d", u.ID)
	var stage int64
	for _, s := range u.Stages {
		if strings.Contains(s.Part, "axle") {
			stage = s.ID
		}
	}
	if stage == 0 {
		stage = u.Stages[len(u.Stages)-1].ID
	}
	var rec struct{ Readings []struct{ ID int64 } }
	oda.want(201, "POST", fmt.Sprintf("/api/v1/stages/%d/readings", stage), `{"readings":[{"key":"tag-key-1","reading":{"method":"tag","text":"4.10"}}]}`).json(t, &rec)
	var job struct {
		Job  struct{ ID int64 }
		Work []struct {
			ID   int64
			Kind string
		}
	}
	oda.want(201, "POST", at+"/jobs", `{"key":"open-key-1","complaint":"hums"}`).json(t, &job)
	oda.want(200, "POST", fmt.Sprintf("/api/v1/jobs/%d/entries", job.Job.ID), `{"key":"find-key-1","kind":"finding","text":"chips in the oil"}`).json(t, &job)
	var run struct {
		ID    int64
		Sheet struct{ Steps []struct{ ID string } }
	}
	oda.want(201, "POST", at+"/card-runs", `{"card":"lower","answers":[]}`).json(t, &run)
	pic := picture(t, "jpeg")
	shot := func(key, of string) answer {
		t.Helper()
		return oda.do("POST", at+"/photos", fmt.Sprintf(`{"key":%q,"title":%q,"image":%q,"of":%s}`, key, key, pic, of))
	}
	for key, of := range map[string]string{
		"photo-of-reading": fmt.Sprintf(`{"reading":%d}`, rec.Readings[0].ID),
		"photo-of-finding": fmt.Sprintf(`{"work":%d}`, job.Work[len(job.Work)-1].ID),
		"photo-of-a-step":  fmt.Sprintf(`{"run":%d,"step":%q}`, run.ID, run.Sheet.Steps[0].ID),
	} {
		if a := shot(key, of); a.status != 201 {
			t.Errorf("%s: %d %s", key, a.status, a.body)
		}
	}
	for of, want := range map[string]int{
		`{}`:                              422,
		`{"reading":1,"work":1}`:          422,
		`{"step":"drain"}`:                422,
		fmt.Sprintf(`{"run":%d}`, run.ID): 422,
		fmt.Sprintf(`{"run":%d,"step":"no"}`, run.ID): 422,
		`{"reading":1}`:               404, // another unit's
		`{"work":1}`:                  404,
		`{"reading":99999999}`:        404,
		`{"run":99999999,"step":"x"}`: 404,
		`{"reading":-1}`:              422,
		`{"unit":1}`:                  422,
	} {
		if a := shot("photo-refused-1", of); a.status != want {
			t.Errorf("%s: %d %s, want %d", of, a.status, a.body, want)
		}
	}
	var list []struct {
		ID    int64
		Title string
		Of    *struct {
			Reading, Work, Run int64
			Step               string
		}
	}
	oda.want(200, "GET", at+"/photos", "").holds(t, "GET", "/api/v1/units/{id}/photos").json(t, &list)
	if len(list) != 3 {
		t.Fatalf("%+v", list)
	}
	for i := range list {
		var one struct {
			ID      int64
			Version int
			Shows   *struct{ Says, Page string }
		}
		oda.want(200, "GET", fmt.Sprintf("/api/v1/photos/%d", list[i].ID), "").holds(t, "GET", "/api/v1/photos/{id}").json(t, &one)
		if one.Shows == nil || one.Shows.Says == "" || !strings.HasPrefix(one.Shows.Page, "/") {
			t.Errorf("%s says %+v", list[i].Title, one.Shows)
		}
		// What it shows is changed over the version that was seen, within its unit.
		put := fmt.Sprintf("/api/v1/photos/%d", list[i].ID)
		oda.want(404, "PUT", put, fmt.Sprintf(`{"base":%d,"points":[],"of":{"reading":1}}`, one.Version))
		oda.want(422, "PUT", put, fmt.Sprintf(`{"base":%d,"points":[],"of":{"reading":1,"work":1}}`, one.Version))
		oda.want(409, "PUT", put, fmt.Sprintf(`{"base":%d,"points":[],"of":{"reading":%d}}`, one.Version+1, rec.Readings[0].ID))
	}
	data := oda.want(200, "GET", at+"/document.zip", "").body
	a := oda.upload("/api/v1/units/import-zip", data)
	if a.status != 201 {
		t.Fatalf("%d %s", a.status, a.body)
	}
	a.json(t, &u)
	oda.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/photos", u.ID), "").json(t, &list)
	kinds := map[string]bool{}
	for _, p := range list {
		if p.Of == nil {
			t.Errorf("%s is of nothing", p.Title)
			continue
		}
		kinds[p.Title] = p.Title == "photo-of-reading" && p.Of.Reading > rec.Readings[0].ID || p.Title == "photo-of-finding" && p.Of.Work > 0 || p.Title == "photo-of-a-step" && p.Of.Run > run.ID && p.Of.Step != ""
	}
	for title, ok := range kinds {
		if !ok {
			t.Errorf("%s came back of another thing: %+v", title, list)
		}
	}
}

// Archives of a unit that are broken, hostile or enormous are refused in words, with
// nothing changed.
func TestHostileUnitArchives(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	units, _, err := st.Units(t.Context(), store.Asked{Name: "Birk"})
	if err != nil || len(units) == 0 {
		t.Fatal(err)
	}
	_, before, err := st.Units(t.Context(), store.Asked{})
	if err != nil {
		t.Fatal(err)
	}
	whole := oda.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document.zip", units[0].ID), "").body
	files := testkit.Unzipped(t, whole)
	if len(files) < 2 {
		t.Fatal("no photo in it")
	}
	doc := func(change func(map[string]any)) []byte {
		var d map[string]any
		if err := json.Unmarshal([]byte(files["unit.json"]), &d); err != nil {
			t.Fatal(err)
		}
		change(d)
		text, err := json.Marshal(d)
		if err != nil {
			t.Fatal(err)
		}
		return testkit.Zipped(t, changed(files, func(f map[string]string) { f["unit.json"] = string(text) }))
	}
	photo := func(change func(map[string]any)) []byte {
		return doc(func(d map[string]any) { change(d["photos"].([]any)[0].(map[string]any)) })
	}
	for name, data := range map[string][]byte{
		"nothing":           {},
		"no zip":            []byte(`{"format":"zorvel-unit-2"}`),
		"half":              whole[:len(whole)/2],
		"no document":       testkit.Zipped(t, map[string]string{"photos/001.jpg": "x"}),
		"upward":            testkit.Zipped(t, changed(files, func(f map[string]string) { f["../up.jpg"] = "x" })),
		"one too many":      testkit.Zipped(t, changed(files, func(f map[string]string) { f["photos/999.jpg"] = f["photos/001.jpg"] })),
		"one missing":       testkit.Zipped(t, changed(files, func(f map[string]string) { delete(f, "photos/001.jpg") })),
		"no picture":        testkit.Zipped(t, changed(files, func(f map[string]string) { f["photos/001.jpg"] = "GIF89a" })),
		"half a picture":    testkit.Zipped(t, changed(files, func(f map[string]string) { f["photos/001.jpg"] = f["photos/001.jpg"][:200] })),
		"a bomb":            testkit.Zipped(t, changed(files, func(f map[string]string) { f["unit.json"] = strings.Repeat(" ", 70<<20) })),
		"no JSON":           testkit.Zipped(t, changed(files, func(f map[string]string) { f["unit.json"] = "{" })),
		"two documents":     testkit.Zipped(t, changed(files, func(f map[string]string) { f["unit.json"] += "{}" })),
		"deep":              testkit.Zipped(t, changed(files, func(f map[string]string) { f["unit.json"] = strings.Repeat("[", 100_000) })),
		"a field too many":  doc(func(d map[string]any) { d["extra"] = 1 }),
		"another format":    doc(func(d map[string]any) { d["format"] = "zorvel-unit-3" }),
		"the same file":     doc(func(d map[string]any) { d["photos"] = append(d["photos"].([]any), d["photos"].([]any)[0]) }),
		"a path":            photo(func(p map[string]any) { p["file"] = "photos/../unit.json" }),
		"the document":      photo(func(p map[string]any) { p["file"] = "unit.json" }),
		"another's reading": photo(func(p map[string]any) { p["measured"], p["reading"] = 400, 1 }),
		"half a reading":    photo(func(p map[string]any) { p["measured"] = 1; delete(p, "reading") }),
		"no such job":       photo(func(p map[string]any) { p["job"] = 2000 }),
		"a line of no job":  photo(func(p map[string]any) { delete(p, "job"); p["work"] = 1 }),
		"no such card":      photo(func(p map[string]any) { p["card"], p["step"] = 2000, "drain" }),
		"a step of no card": photo(func(p map[string]any) { p["step"] = "drain" }),
		"the future":        photo(func(p map[string]any) { p["at"] = "2999-01-01T00:00:00Z" }),
		"marks beside it":   photo(func(p map[string]any) { p["points"] = []any{map[string]any{"x": 99999, "y": 1}} }),
	} {
		a := oda.upload("/api/v1/units/import-zip", data)
		if a.status < 400 || a.status >= 500 {
			t.Errorf("%s: %d %.200s", name, a.status, a.body)
		}
		var p struct{ Detail string }
		if a.json(t, &p); p.Detail == "" {
			t.Errorf("%s is refused without a word: %s", name, a.body)
		}
	}
	if _, after, err := st.Units(t.Context(), store.Asked{}); err != nil || after != before {
		t.Errorf("%d units, %d before, %v", after, before, err)
	}
	runa := as(t, srv.URL, "runa")
	if a := runa.upload("/api/v1/units/import-zip", whole); a.status != 403 {
		t.Errorf("a viewer: %d", a.status)
	}
	oda.want(422, "POST", "/api/v1/units/import", files["unit.json"])
}

// newShop is a server on a database without units, with an owner.
func newShop(t *testing.T) (*server.Server, *store.Store) {
	t.Helper()
	st := testkit.Store(t)
	s, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	return s, st
}

func readShop(t *testing.T, s *server.Server, data []byte, keep bool) error {
	t.Helper()
	a, err := archive.Open(bytes.NewReader(data), int64(len(data)), exchange.ShopLimits)
	if err != nil {
		return err
	}
	_, err = s.ReadShop(t.Context(), a, "Oda Brenk", keep, func(string, int, int) {})
	return err
}

func writeShop(t *testing.T, s *server.Server) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	if err := s.WriteShop(t.Context(), z, func(int, int) {}); err != nil {
		t.Fatal(err)
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// A shop goes out as open files and comes back the same into an empty one: every
// unit, photo, list, part, card and filter.
func TestShopRoundTrip(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	oda.want(200, "POST", "/api/v1/filters", `{"name":"Every 4.10","query":"ratio=4.10"}`)
	oda.want(200, "PUT", "/api/v1/units/4/archived", `{"archived":true}`)
	var card struct{ Card json.RawMessage }
	oda.want(200, "GET", "/api/v1/cards/oil_change", "").json(t, &card)
	for base := range 2 {
		text := strings.Replace(string(card.Card), `"title":"`, fmt.Sprintf(`"title":"Own %d: `, base), 1)
		oda.want(200, "PUT", "/api/v1/cards/oil_change", fmt.Sprintf(`{"base":%d,"card":%s}`, base, text))
	}
	data := oda.want(200, "GET", "/api/v1/shop/export", "").body
	files := testkit.Unzipped(t, data)
	s, st := newShop(t)
	if err := readShop(t, s, data, true); err != nil {
		t.Fatal(exchange.Told(err))
	}
	again := testkit.Unzipped(t, writeShop(t, s))
	n := 0
	for name, text := range files {
		if strings.HasPrefix(name, "tables/") || name == "zorvel-shop.json" {
			continue
		}
		n++
		if again[name] != text {
			t.Errorf("%s differs:\n%.2000s\n%.2000s", name, text, again[name])
		}
	}
	if n < 15 || len(again) != len(files) {
		t.Errorf("%d files compared, %d and %d in all", n, len(files), len(again))
	}
	for _, table := range []string{"units", "readings", "jobs", "events"} {
		text := files["tables/"+table+".csv"]
		if strings.Count(text, "\n") < 3 || strings.Contains(text, "argon2") {
			t.Errorf("tables/%s.csv: %.200s", table, text)
		}
	}
	for name := range files {
		for _, no := range []string{"sessions", "known_devices", "sign_in", "photo_blobs", "people", "restore_unfinished"} {
			if strings.HasPrefix(name, "tables/"+no) {
				t.Errorf("%s is in it", name)
			}
		}
	}
	// What came so says so.
	units, _, err := st.Units(t.Context(), store.Asked{})
	if err != nil || len(units) == 0 {
		t.Fatal(err)
	}
	for _, u := range units {
		events, err := st.History(t.Context(), u.ID, 0)
		if err != nil {
			t.Fatal(err)
		}
		if !slices.ContainsFunc(events, func(e store.Event) bool { return strings.HasPrefix(e.Text, "Imported") && e.By == "Oda Brenk" }) {
			t.Errorf("%s doesn't say that it was taken in", u.Name)
		}
	}
	if _, away, err := st.Units(t.Context(), store.Asked{Archived: true}); err != nil || away != 1 {
		t.Errorf("%d archived, %v", away, err)
	}
	// Over the wire: looked at first, and what stands here already is said.
	var seen struct {
		Units, Photos, Cards, Filters, Parts int
		SameNames                            []string `json:"same_names"`
		Lists                                []struct{ Added, Changed, Same, Rows int }
		Kept                                 bool
	}
	a := oda.upload("/api/v1/shop/import", data)
	if a.status != 200 {
		t.Fatalf("%d %s", a.status, a.body)
	}
	a.json(t, &seen)
	if seen.Kept || seen.Units < 8 || len(seen.SameNames) < 8 || seen.Cards != 0 || seen.Filters != 0 || seen.Parts != 0 || seen.Photos == 0 {
		t.Errorf("%+v", seen)
	}
	for _, l := range seen.Lists {
		if l.Same != l.Rows || l.Added+l.Changed != 0 {
			t.Errorf("%+v", l)
		}
	}
	for _, who := range []string{"ivar", "runa"} {
		c := as(t, srv.URL, who)
		c.want(403, "GET", "/api/v1/shop/export", "")
		if a := c.upload("/api/v1/shop/import?keep=true", data); a.status != 403 {
			t.Errorf("%s: %d", who, a.status)
		}
	}
}

// Archives of a shop that are broken or made up are refused, and nothing of them
// stays: no unit, no row, no card.
func TestHostileShops(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	data := oda.want(200, "GET", "/api/v1/shop/export", "").body
	files := testkit.Unzipped(t, data)
	s, st := newShop(t)
	count := func() string {
		t.Helper()
		var n [4]int
		if err := st.DB.QueryRow("SELECT (SELECT COUNT(*) FROM units), (SELECT COUNT(*) FROM catalog_rows), (SELECT COUNT(*) FROM cards), (SELECT COUNT(*) FROM saved_filters)").Scan(&n[0], &n[1], &n[2], &n[3]); err != nil {
			t.Fatal(err)
		}
		return fmt.Sprint(n)
	}
	before := count()
	replaced := func(file, old, with string) []byte {
		if !strings.Contains(files[file], old) {
			t.Fatalf("%s has no %s", file, old)
		}
		return testkit.Zipped(t, changed(files, func(f map[string]string) { f[file] = strings.Replace(f[file], old, with, 1) }))
	}
	last := "units/000009/unit.json"
	for name, x := range map[string][]byte{
		"no zip":          []byte("hello"),
		"half":            data[:len(data)*2/3],
		"no index":        testkit.Zipped(t, changed(files, func(f map[string]string) { delete(f, "zorvel-shop.json") })),
		"another format":  replaced("zorvel-shop.json", "zorvel-shop-1", "zorvel-shop-7"),
		"a unit missing":  testkit.Zipped(t, changed(files, func(f map[string]string) { delete(f, last) })),
		"a unit twice":    replaced("zorvel-shop.json", "units/000009/unit.json", "units/000001/unit.json"),
		"an unnamed unit": testkit.Zipped(t, changed(files, func(f map[string]string) { f["units/000077/unit.json"] = f[last] })),
		"a path":          replaced("zorvel-shop.json", "units/000009/unit.json", "../../000009/unit.json"),
		"the last broken": replaced(last, `"kind"`, `"kinds"`),
		"no such list":    replaced("lists.json", `"gear_sets"`, `"passwords"`),
		"a list twice":    replaced("lists.json", `"list": "tires"`, `"list": "gear_sets"`),
		"a row broken":    replaced("lists.json", `"kind": "ring_and_pinion"`, `"kind": "spaceship"`),
		"no lists":        testkit.Zipped(t, changed(files, func(f map[string]string) { f["lists.json"] = `{"lists":1}` })),
		"control letters": testkit.Zipped(t, changed(files, func(f map[string]string) { f["filters.json"] = "[{\"name\":\"a\\u0007\",\"query\":\"\"}]" })),
		"a filter of code": testkit.Zipped(t, changed(files, func(f map[string]string) {
			f["filters.json"] = `[{"name":"a","query":"<script>","by":"x","at":"2026-01-01T00:00:00Z"}]`
		})),
		"a card of nothing": testkit.Zipped(t, changed(files, func(f map[string]string) {
			f["cards.json"] = `[{"card":{"id":"X Y","title":"","steps":[]},"version":1,"by":"x","at":"2026-01-01T00:00:00Z"}]`
		})),
		"a part of nothing": testkit.Zipped(t, changed(files, func(f map[string]string) { f["parts.json"] = `[{"name":"x"}]` })),
	} {
		if err := readShop(t, s, x, true); err == nil {
			t.Errorf("%s: taken", name)
		} else if strings.Contains(exchange.Told(err).Error(), "goroutine") {
			t.Errorf("%s: %v", name, err)
		}
		if now := count(); now != before {
			t.Fatalf("%s: %s, was %s", name, now, before)
		}
	}
	if err := readShop(t, s, data, false); err != nil || count() != before {
		t.Errorf("only looked at: %v, %s", err, count())
	}
}
