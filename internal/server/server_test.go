package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"testing"

	"zorvel/internal/demo"
	"zorvel/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// client is a browser without a screen.
type client struct {
	t    testing.TB
	base string
	http *http.Client
}

func newClient(t testing.TB, base string) *client {
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	return &client{t, base, &http.Client{Jar: jar}}
}

type answer struct {
	status int
	header http.Header
	body   []byte
}

func (a answer) json(t testing.TB, to any) {
	t.Helper()
	if err := json.Unmarshal(a.body, to); err != nil {
		t.Fatalf("%v in %s", err, a.body)
	}
}

// field is the first field that a problem names.
func (a answer) field() string {
	var p struct {
		Errors []struct{ Field, Message string }
	}
	if json.Unmarshal(a.body, &p) != nil || len(p.Errors) == 0 {
		return ""
	}
	return p.Errors[0].Field
}

// cookie is one that was set, with its attributes.
func (a answer) cookie(name string) string {
	for _, c := range a.header.Values("Set-Cookie") {
		if strings.HasPrefix(c, name+"=") {
			return c
		}
	}
	return ""
}

func (c *client) do(method, path, body string, header ...string) answer {
	c.t.Helper()
	req, err := http.NewRequestWithContext(c.t.Context(), method, c.base+path, strings.NewReader(body))
	if err != nil {
		c.t.Fatal(err)
	}
	if body != "" {
		req.Header.Set("Content-Type", "application/json")
	}
	for i := 0; i+1 < len(header); i += 2 {
		req.Header.Set(header[i], header[i+1])
	}
	res, err := c.http.Do(req)
	if err != nil {
		c.t.Fatal(err)
	}
	defer func() { _ = res.Body.Close() }()
	b, err := io.ReadAll(res.Body)
	if err != nil {
		c.t.Fatal(err)
	}
	return answer{res.StatusCode, res.Header, b}
}

func (c *client) want(status int, method, path, body string) answer {
	c.t.Helper()
	a := c.do(method, path, body)
	if a.status != status {
		c.t.Fatalf("%s %s %s: %d %s, want %d", method, path, body, a.status, a.body, status)
	}
	return a
}

// as signs in as one of the demo's people.
func as(t testing.TB, base, signIn string) *client {
	t.Helper()
	c := newClient(t, base)
	for _, d := range demo.Accounts() {
		if d.SignIn == signIn {
			c.want(200, "POST", "/api/v1/session", fmt.Sprintf(`{"sign_in":%q,"password":%q}`, d.SignIn, d.Password))
			return c
		}
	}
	t.Fatalf("no demo account %s", signIn)
	return nil
}

func TestFirstStart(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	c := newClient(t, srv.URL)
	var s struct {
		NeedsOwner bool `json:"needs_owner"`
		Person     *struct{ Role string }
	}
	c.want(200, "GET", "/api/v1/session", "").json(t, &s)
	if !s.NeedsOwner || s.Person != nil {
		t.Fatalf("first start: %+v", s)
	}
	if a := c.do("POST", "/api/v1/owner", `{"sign_in":"Oda B","name":"Oda","password":"short"}`); a.status != 422 || a.field() == "" {
		t.Errorf("bad owner: %d %s", a.status, a.body)
	}
	c.want(201, "POST", "/api/v1/owner", `{"sign_in":"oda","name":"Oda","password":"chalk-and-flange"}`).json(t, &s)
	if s.Person == nil || s.Person.Role != "owner" {
		t.Errorf("the owner isn't signed in: %+v", s)
	}
	if a := newClient(t, srv.URL).do("POST", "/api/v1/owner", `{"sign_in":"mal","name":"Mal","password":"chalk-and-flange"}`); a.status != 409 {
		t.Errorf("a second owner: %d %s", a.status, a.body)
	}
}

func TestSignInIsLimited(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	for i := range 8 {
		if a := c.do("POST", "/api/v1/session", `{"sign_in":"ivar","password":"guess-number-one"}`); a.status != 401 || a.field() != "/password" {
			t.Fatalf("guess %d: %d %s", i, a.status, a.body)
		}
	}
	if a := c.do("POST", "/api/v1/session", `{"sign_in":"ivar","password":"start-tooth-zero"}`); a.status != 429 {
		t.Errorf("after eight wrong guesses: %d %s", a.status, a.body)
	}
	as(t, srv.URL, "oda") // others still come in
	if a := c.do("POST", "/api/v1/session", `{"sign_in":"nobody","password":"x"}`); a.status != 401 {
		t.Errorf("an unknown name: %d", a.status)
	}
}

func TestCookieAndHeaders(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	a := c.want(200, "POST", "/api/v1/session", `{"sign_in":"oda","password":"chalk-and-flange"}`)
	cookie := a.cookie("zorvel_session")
	for _, flag := range []string{"HttpOnly", "SameSite=Strict", "Path=/"} {
		if !strings.Contains(cookie, flag) {
			t.Errorf("cookie %q lacks %s", cookie, flag)
		}
	}
	for name, want := range map[string]string{"Content-Security-Policy": "default-src 'self'", "X-Content-Type-Options": "nosniff", "Cache-Control": "no-store"} {
		if !strings.Contains(a.header.Get(name), want) {
			t.Errorf("%s is %q", name, a.header.Get(name))
		}
	}
	page := c.want(200, "GET", "/units/3", "")
	if page.header.Get("Cache-Control") != "no-cache" || page.header.Get("ETag") == "" {
		t.Errorf("page headers %v", page.header)
	}
	if a := c.do("GET", "/", "", "If-None-Match", page.header.Get("ETag")); a.status != 304 {
		t.Errorf("a page known already: %d", a.status)
	}
	i := bytes.Index(page.body, []byte("/assets/"))
	asset := string(page.body[i : i+bytes.IndexByte(page.body[i:], '"')])
	if a := c.want(200, "GET", asset, ""); !strings.Contains(a.header.Get("Cache-Control"), "immutable") {
		t.Errorf("%s: %v", asset, a.header)
	}
	if a := c.do("GET", asset, "", "Accept-Encoding", "gzip"); a.header.Get("Content-Encoding") != "gzip" {
		t.Errorf("%s isn't compressed: %v", asset, a.header)
	}
	for path, status := range map[string]int{"/healthz": 200, "/readyz": 200, "/assets/no.js": 404, "/api/v1/nothing": 404, "/api/v1/openapi.yaml": 200} {
		c.want(status, "GET", path, "")
	}
}

func TestCrossOriginWritesAreRefused(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	for _, h := range [][]string{{"Origin", "https://elsewhere.example"}, {"Sec-Fetch-Site", "cross-site"}} {
		if a := c.do("POST", "/api/v1/units", `{"name":"x","kind":"van","layout":"rear_drive"}`, h...); a.status != 403 {
			t.Errorf("%v: %d %s", h, a.status, a.body)
		}
	}
	if a := c.do("POST", "/api/v1/units", `{"name":"x","kind":"van","layout":"rear_drive"}`, "Sec-Fetch-Site", "same-origin"); a.status != 201 {
		t.Errorf("own page: %d %s", a.status, a.body)
	}
}

func TestRoles(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	nobody, viewer, tech, owner := newClient(t, srv.URL), as(t, srv.URL, "runa"), as(t, srv.URL, "ivar"), as(t, srv.URL, "oda")
	unit, reading := `{"name":"x","kind":"van","layout":"rear_drive"}`, `{"readings":[{"reading":{"method":"tag","text":"2.08"}}]}`
	cases := []struct {
		method, path, body string
		nobody, viewer     int
		tech, owner        int
	}{
		{"GET", "/api/v1/units", "", 401, 200, 200, 200},
		{"GET", "/api/v1/stages/1", "", 401, 200, 200, 200},
		{"POST", "/api/v1/units", unit, 401, 403, 201, 201},
		{"PATCH", "/api/v1/units/1", `{"notes":"n"}`, 401, 403, 200, 200},
		{"POST", "/api/v1/stages/1/readings", reading, 401, 403, 201, 201},
		{"POST", "/api/v1/units/1/fittings", `{"part":"gearcase","what":"gears_swapped","base":9}`, 401, 403, 409, 409},
		{"GET", "/api/v1/people", "", 401, 403, 403, 200},
		{"POST", "/api/v1/calc/identify", `{"stage":{"kind":"gearcase"},"readings":[]}`, 200, 200, 200, 200},
		{"GET", "/api/v1/calc/knowledge", "", 200, 200, 200, 200},
	}
	for _, c := range cases {
		for i, who := range []*client{nobody, viewer, tech, owner} {
			want := []int{c.nobody, c.viewer, c.tech, c.owner}[i]
			if a := who.do(c.method, c.path, c.body); a.status != want {
				t.Errorf("%s %s as number %d: %d %s, want %d", c.method, c.path, i, a.status, a.body, want)
			}
		}
	}
	// A person switched off is out at once, also in open sessions.
	var people []struct {
		ID     int64
		SignIn string `json:"sign_in"`
	}
	owner.want(200, "GET", "/api/v1/people", "").json(t, &people)
	for _, p := range people {
		switch p.SignIn {
		case "ivar":
			owner.want(200, "PATCH", fmt.Sprintf("/api/v1/people/%d", p.ID), `{"active":false}`)
		case "oda":
			if a := owner.do("PATCH", fmt.Sprintf("/api/v1/people/%d", p.ID), `{"role":"viewer"}`); a.status != 422 || a.field() != "/role" {
				t.Errorf("the last owner stepped down: %d %s", a.status, a.body)
			}
		}
	}
	tech.want(401, "GET", "/api/v1/units", "")
	owner.want(201, "POST", "/api/v1/people", `{"sign_in":"new","name":"New","role":"viewer","password":"long-enough-word"}`)
	if a := owner.do("POST", "/api/v1/people", `{"sign_in":"new","name":"New","role":"viewer","password":"long-enough-word"}`); a.field() != "/sign_in" {
		t.Errorf("same name again: %d %s", a.status, a.body)
	}
	owner.want(204, "DELETE", "/api/v1/session", "")
	owner.want(401, "GET", "/api/v1/units", "")
}

func TestReadingsAreKeptAndStruck(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	var u struct {
		ID     int64
		Stages []struct {
			ID    int64
			State string
			Label struct{ Label string }
		}
	}
	c.want(201, "POST", "/api/v1/units", `{"name":" Grouse 9 ","kind":"truck","first":{"kind":"ring_and_pinion"}}`).json(t, &u)
	stage := u.Stages[0].ID
	path := fmt.Sprintf("/api/v1/stages/%d/readings", stage)
	two := `{"readings":[{"key":"a","reading":{"method":"tag","text":"4.10"}},{"key":"b","reading":{"method":"teeth","teeth":{"ring":47,"pinion":9}},"note":"cover off","blind":true}]}`
	var rec struct {
		Readings []struct {
			ID      int64
			Summary string
			By      string
			Blind   bool
			Struck  *struct{ By, Reason string }
		}
	}
	c.want(201, "POST", path, two)
	c.want(201, "POST", path, two).json(t, &rec) // sent twice
	if len(rec.Readings) != 2 || rec.Readings[1].By != "Ivar Tolm" || !rec.Readings[1].Blind || rec.Readings[1].Summary != "Counted 47 ring gear teeth and 9 pinion teeth" {
		t.Fatalf("%+v", rec)
	}
	state := func() string {
		c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d", u.ID), "").json(t, &u)
		return u.Stages[0].State + " " + u.Stages[0].Label.Label
	}
	if got := state(); got != "conflict 5.22" {
		t.Errorf("with the old tag: %s", got)
	}
	strike := fmt.Sprintf("/api/v1/readings/%d/strike", rec.Readings[0].ID)
	if a := c.do("POST", strike, `{"reason":"  "}`); a.status != 422 || a.field() != "/reason" {
		t.Errorf("no reason: %d %s", a.status, a.body)
	}
	c.want(200, "POST", strike, `{"reason":"tag is from the old gears"}`).json(t, &rec)
	if rec.Readings[0].Struck == nil || rec.Readings[0].Struck.By != "Ivar Tolm" {
		t.Errorf("%+v", rec.Readings[0])
	}
	if got := state(); got != "assumed 5.22" {
		t.Errorf("without it: %s", got)
	}
	c.want(409, "POST", strike, `{"reason":"again"}`)
	// A refused batch leaves nothing behind.
	bad := `{"readings":[{"reading":{"method":"tag","text":"5.22"}},{"reading":{"method":"teeth","teeth":{"ring":47,"pinion":0}}}]}`
	if a := c.do("POST", path, bad); a.status != 422 || a.field() != "/readings/1/reading/teeth/pinion" {
		t.Errorf("%d %s", a.status, a.body)
	}
	c.want(200, "GET", fmt.Sprintf("/api/v1/stages/%d", stage), "").json(t, &rec)
	if len(rec.Readings) != 2 {
		t.Errorf("a refused batch left %d readings", len(rec.Readings))
	}
	var history []struct{ What, Text string }
	c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/history", u.ID), "").json(t, &history)
	if len(history) != 4 || history[0].What != "strike" || !strings.Contains(history[0].Text, "old gears") {
		t.Errorf("history %+v", history)
	}
}

// A unit leaves as a document and comes back the same.
func TestDocumentRoundTrip(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	var units []struct {
		ID   int64
		Name string
	}
	c.want(200, "GET", "/api/v1/units", "").json(t, &units)
	if len(units) < 8 {
		t.Fatalf("the demo shop has %d units", len(units))
	}
	for _, u := range units {
		doc := c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", u.ID), "")
		var back struct{ ID int64 }
		c.want(201, "POST", "/api/v1/units/import", string(doc.body)).json(t, &back)
		again := c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", back.ID), "")
		if !bytes.Equal(doc.body, again.body) {
			t.Errorf("%s came back as\n%s\nnot\n%s", u.Name, again.body, doc.body)
		}
	}
	before := len(units)
	broken := `{"format":"zorvel-unit-1","name":"Halfway in","kind":"van","stages":[{"name":"Axle","question":{"kind":"ring_and_pinion"},"readings":[{"by":"x","at":"2026-01-01T00:00:00Z","reading":{"method":"teeth","teeth":{"ring":9,"pinion":47}}}]}]}`
	if a := c.do("POST", "/api/v1/units/import", broken); a.status != 422 || a.field() != "/stages/0/readings/0/reading/teeth/ring" {
		t.Errorf("%d %s", a.status, a.body)
	}
	c.want(200, "GET", "/api/v1/units?search=Halfway+in", "").json(t, &units)
	if len(units) != 0 || before < 8 {
		t.Error("a broken document left a unit behind")
	}
}

func TestIdentifyAndEcho(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	var v struct {
		State string
		Label struct {
			Label       string
			Probability float64
			Ratio       struct {
				Num, Den int64
				Decimal  float64
			}
		}
		Findings []struct{ Agreement, Cause string }
		Next     []struct {
			Goal    string
			Options []struct{ Method string }
		}
		Gate struct {
			MeasureFirst bool `json:"measure_first"`
		}
		FromCatalog int `json:"from_catalog"`
	}
	c.want(200, "POST", "/api/v1/calc/identify", `{"stage":{"kind":"ring_and_pinion"},"prior":"shop","order":{"goal":"label","price":1200,"labor_per_hour":80},"readings":[
		{"method":"tag","text":"4.10"},{"method":"turns","turns":{"left":{"turns":1,"seen":true},"right":{"turns":1,"seen":true},"shaft":{"words":"5 and two tenths"}}},
		{"method":"teeth","teeth":{"ring":47,"pinion":9}}]}`).json(t, &v)
	if v.State != "conflict" || v.Label.Label != "5.22" || v.Label.Ratio.Num != 47 || v.Label.Ratio.Den != 9 || v.Findings[0].Cause != "gears_swapped" ||
		len(v.Next) != 2 || len(v.Next[0].Options) == 0 || v.FromCatalog == 0 {
		t.Errorf("%+v", v)
	}
	var e struct {
		Sentence string
		Choices  []struct{ Text string }
	}
	c.want(200, "POST", "/api/v1/calc/echo", `{"text":"four-ten","as":"mark","stage":{"kind":"ring_and_pinion"}}`).json(t, &e)
	if e.Sentence != "Read as the ratio 4.10." || e.Choices[0].Text != "4.10" {
		t.Errorf("%+v", e)
	}
}

// No input gives a 5xx, and each refusal names its field.
func TestBadRequests(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	const identify, units, readings = "/api/v1/calc/identify", "/api/v1/units", "/api/v1/stages/1/readings"
	in := func(stage, reading string) string { return `{"stage":` + stage + `,"readings":[` + reading + `]}` }
	const rp = `{"kind":"ring_and_pinion"}`
	cases := []struct {
		method, path, body string
		status             int
		field              string
	}{
		{"POST", identify, ``, 422, ""},
		{"POST", identify, `{`, 422, ""},
		{"POST", identify, `null`, 422, ""},
		{"POST", identify, `[]`, 422, ""},
		{"POST", identify, `{}`, 422, ""},
		{"POST", identify, strings.Repeat(`[`, 20000), 422, ""},
		{"POST", identify, in(`{"kind":"wheelbarrow"}`, ``), 422, "/stage/kind"},
		{"POST", identify, in(`{"kind":"transfer_case"}`, ``), 422, "/stage/position"},
		{"POST", identify, in(`{"kind":"planetary","held":"sun","input":"sun"}`, ``), 422, "/stage/input"},
		{"POST", identify, in(rp, `{"method":"teeth","teeth":{"ring":47,"pinion":0}}`), 422, "/readings/0/teeth/pinion"},
		{"POST", identify, in(rp, `{"method":"teeth","teeth":{"ring":9,"pinion":47}}`), 422, "/readings/0/teeth/ring"},
		{"POST", identify, in(rp, `{"method":"teeth","teeth":{"ring":1e30}}`), 422, "/readings/0/teeth/ring"},
		{"POST", identify, in(rp, `{"method":"teeth","teeth":{"ring":47.5}}`), 422, "/readings/0/teeth/ring"},
		{"POST", identify, in(rp, `{"method":"teeth","teeth":{"ring":"47"}}`), 422, "/readings/0/teeth/ring"},
		{"POST", identify, in(rp, `{"method":"teeth"}`), 422, "/readings/0/teeth"},
		{"POST", identify, in(rp, `{"method":"teeth","tooth":1}`), 422, "/readings/0/tooth"},
		{"POST", identify, in(rp, `{"method":"turns"}`), 422, "/readings/0/turns"},
		{"POST", identify, in(rp, `{"method":"turns","turns":{"left":{"turns":1,"seen":true},"right":{"turns":1,"seen":true},"shaft":{"whole":10000}}}`), 422, "/readings/0/turns/shaft/whole"},
		{"POST", identify, in(rp, `{"method":"turns","turns":{"left":{"turns":1e308,"seen":true},"right":{"turns":1e308,"seen":true},"shaft":{"whole":4}}}`), 422, "/readings/0/turns/left/turns"},
		{"POST", identify, in(rp, `{"method":"turns","turns":{"left":{"turns":1,"seen":true},"right":{"turns":1,"seen":true},"shaft":{"whole":4,"remainder":{"by":"arc","arc_mm":400,"rim_mm":380,"rim_is":"circumference"}}}}`), 422, "/readings/0/turns/shaft/remainder/arc_mm"},
		{"POST", identify, in(rp, `{"method":"turns","turns":{"left":{"turns":1,"seen":true},"right":{"turns":1,"seen":true},"shaft":{"words":"umpteen"}}}`), 422, "/readings/0/turns/shaft/words"},
		{"POST", identify, in(rp, `{"method":"bench","bench":{"output_turns":0,"shaft":{"whole":4}}}`), 422, "/readings/0/bench/output_turns"},
		{"POST", identify, in(rp, `{"method":"road","road":{"rpm":-5,"speed_kmh":60,"rolling_mm":2000,"converter":"locked"}}`), 422, "/readings/0/road/rpm"},
		{"POST", identify, in(rp, `{"method":"tag","text":"rusty"}`), 422, "/readings/0/text"},
		{"POST", identify, in(rp, `{"method":"tag","text":"`+strings.Repeat("4", 399)+`"}`), 422, "/readings/0/text"},
		{"POST", identify, `{"stage":` + rp + `,"readings":[{"method":"tag","text":"4.10"}],"order":{"goal":"label","price":-1}}`, 422, "/order/price"},
		{"POST", identify, `{"stage":` + rp + `,"readings":[],"order":{"goal":"label","price":1}}`, 422, "/order"},
		{"POST", identify, `{"stage":` + rp + `,"readings":[],"catalog":[{"construction":"pair","teeth":[9,47]}]}`, 422, "/catalog/0/teeth"},
		{"POST", "/api/v1/calc/echo", `{"text":"","as":"mark","stage":` + rp + `}`, 422, "/text"},
		{"POST", "/api/v1/calc/echo", `{"text":"x","as":"song","stage":` + rp + `}`, 422, "/as"},
		{"POST", units, `{"name":"   ","kind":"van"}`, 422, "/name"},
		{"POST", units, `{"name":"` + strings.Repeat("x", 81) + `","kind":"van"}`, 422, "/name"},
		{"POST", units, `{"name":"x","kind":"train"}`, 422, "/kind"},
		{"POST", units, `{"name":"x","kind":"van"}`, 422, "/layout"},
		{"POST", units, `{"name":"x","kind":"van","layout":"rear_drive","first":` + rp + `}`, 422, "/layout"},
		{"POST", units, `{"name":"x","kind":"van","layout":"hovercraft"}`, 422, "/layout"},
		{"POST", units, `{"name":"x","kind":"van","driveline":{"format":"zorvel-driveline-1","lies":"vehicle","parts":[]}}`, 422, "/driveline/parts"},
		{"POST", units, `{"name":"x","kind":"van","first":{"kind":"transfer_case"}}`, 422, "/first/position"},
		{"POST", units, `{"name":"x","kind":"van","first":{"kind":"gearcase","position":"low"}}`, 422, "/first/position"},
		{"POST", units, `{"name":"x","kind":"van","first":{"kind":"planetary","held":"ring","input":"ring"}}`, 422, "/first/input"},
		{"POST", units + "/999/fittings", `{"part":"rear","what":"gears_swapped","base":1}`, 404, ""},
		{"POST", units + "/1/fittings", `{"part":"wing","what":"gears_swapped","base":1}`, 422, "/part"},
		{"POST", units + "/1/fittings", `{"part":"propeller","what":"part_swapped","base":1}`, 422, "/part"},
		{"POST", units + "/1/fittings", `{"part":"gearcase","what":"part_swapped","base":1,"fitted":{"id":"x","kind":"hub"}}`, 422, "/fitted/kind"},
		{"POST", units + "/1/fittings", `{"part":"gearcase","what":"painted","base":1}`, 422, "/what"},
		{"GET", units + "/999", ``, 404, ""},
		{"GET", units + "/0", ``, 422, "/id"},
		{"GET", units + "/abc", ``, 422, "/id"},
		{"GET", units + "/99999999999999999999999", ``, 422, "/id"},
		{"GET", units + "?search=" + strings.Repeat("x", 101), ``, 422, "/search"},
		{"GET", "/api/v1/stages/999", ``, 404, ""},
		{"POST", readings, `{"readings":[]}`, 422, "/readings"},
		{"POST", readings, `{"readings":[{"reading":{"method":"turns","turns":{"left":{"turns":1,"seen":true},"right":{"turns":1,"seen":true},"shaft":{"whole":4}}}}]}`, 422, "/readings/0/reading/method"},
		{"POST", "/api/v1/readings/999/strike", `{"reason":"x"}`, 404, ""},
		{"PATCH", "/api/v1/people/999", `{"name":"x"}`, 404, ""},
		{"PUT", units, `{}`, 404, ""},
		{"DELETE", "/api/v1/units/1", ``, 404, ""},
	}
	for _, k := range cases {
		a := c.do(k.method, k.path, k.body)
		short := k.body[:min(len(k.body), 120)]
		if a.status != k.status && (k.status != 404 || a.status != 405) && (k.field != "" || a.status != 400) {
			t.Errorf("%s %s %s: %d %s, want %d", k.method, k.path, short, a.status, a.body, k.status)
			continue
		}
		if a.header.Get("Content-Type") != "application/problem+json" {
			t.Errorf("%s %s %s: %s", k.method, k.path, short, a.header.Get("Content-Type"))
		}
		if k.field != "" && a.field() != k.field {
			t.Errorf("%s %s %s: names %q, want %q: %s", k.method, k.path, short, a.field(), k.field, a.body)
		}
	}
	if a := c.do("POST", identify, `{"stage":"`+strings.Repeat("x", 2<<20)+`"}`); a.status != 413 && a.status != 422 && a.status != 400 {
		t.Errorf("two megabytes: %d", a.status)
	}
	if a := c.do("POST", identify, `<xml/>`, "Content-Type", "text/xml"); a.status < 400 || a.status >= 500 {
		t.Errorf("XML: %d", a.status)
	}
	if a := c.do("GET", units, "", "Cookie", "zorvel_session=nonsense"); a.status != 401 && a.status != 200 {
		t.Errorf("a forged cookie: %d", a.status)
	}
}

// With the database gone the answer says so, and calculations still work.
func TestDatabaseGone(t *testing.T) {
	srv, st := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	anonymous := newClient(t, srv.URL)
	if err := st.Close(); err != nil {
		t.Fatal(err)
	}
	if a := c.do("GET", "/api/v1/units", ""); a.status != 503 {
		t.Errorf("units: %d %s", a.status, a.body)
	}
	anonymous.want(503, "GET", "/readyz", "")
	anonymous.want(200, "GET", "/healthz", "")
	anonymous.want(200, "POST", "/api/v1/calc/identify", `{"stage":{"kind":"ring_and_pinion"},"readings":[{"method":"tag","text":"4.10"}]}`)
}

func BenchmarkHealthz(b *testing.B) { bench(b, "GET", "/healthz", "") }
func BenchmarkIdentify(b *testing.B) {
	bench(b, "POST", "/api/v1/calc/identify", `{"stage":{"kind":"ring_and_pinion"},"readings":[{"method":"tag","text":"4.10"},{"method":"teeth","teeth":{"ring":41,"pinion":10}}]}`)
}
func BenchmarkUnits(b *testing.B) { bench(b, "GET", "/api/v1/units", "") }
func BenchmarkStage(b *testing.B) { bench(b, "GET", "/api/v1/stages/59", "") }

func bench(b *testing.B, method, path, body string) {
	srv, _ := testkit.Server(b, true)
	c := as(b, srv.URL, "oda")
	c.want(200, method, path, body)
	for b.Loop() {
		c.want(200, method, path, body)
	}
}
