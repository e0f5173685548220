package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
	"zorvel/internal/server"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// Rights come before everything else: who may not ask learns nothing of what
// would be wrong, however much is sent.
func TestRightsComeFirst(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		t.Fatal(err)
	}
	stranger, viewer := newClient(t, srv.URL), as(t, srv.URL, "runa")
	wrong := `{"x":[` + strings.TrimSuffix(strings.Repeat("1,", 50000), ",") + `]}`
	tried := map[string]int{}
	for at, item := range spec.Paths.Map() {
		path := "/api/v1" + strings.NewReplacer("{id}", "1", "{token}", "t", "{list}", "gear_sets").Replace(at)
		for method, op := range item.Operations() {
			who, _ := op.Extensions["x-may"].(string)
			tried[who]++
			body := wrong
			if method == "GET" || method == "DELETE" {
				body = ""
			}
			if who != "anyone" {
				if a := stranger.do(method, path, body); a.status != 401 {
					t.Errorf("a stranger's %s %s: %d", method, path, a.status)
				}
			}
			if who == "technician" || who == "owner" {
				if a := viewer.do(method, path, body); a.status != 403 {
					t.Errorf("a viewer's %s %s: %d", method, path, a.status)
				}
			}
		}
	}
	if tried["anyone"] < 10 || tried["viewer"] < 10 || tried["technician"] < 10 || tried["owner"] != 11 {
		t.Errorf("tried %v", tried)
	}
}

// What is long and wrong costs little to refuse and little to tell.
func TestFaultsAreBounded(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	for _, body := range []string{
		`{"readings":[` + strings.TrimSuffix(strings.Repeat("1,", 60000), ",") + `]}`,
		`{"readings":[` + strings.TrimSuffix(strings.Repeat(`{"a":1},`, 1000), ",") + `]}`,
		`{"readings":[` + strings.TrimSuffix(strings.Repeat("1,", 45), ",") + `]}`,
	} {
		a := c.want(422, "POST", "/api/v1/stages/1/readings", body)
		var p struct{ Errors []struct{ Field string } }
		a.json(t, &p)
		if len(p.Errors) == 0 || len(p.Errors) > 20 || len(a.body) > 4000 {
			t.Errorf("%d faults in %d bytes for %d bytes", len(p.Errors), len(a.body), len(body))
		}
	}
}

func TestBodiesAreBounded(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	c := newClient(t, srv.URL)
	for path, n := range map[string]int{"/api/v1/session": 4096, "/api/v1/calc/tire": 128 << 10, "/api/v1/calc/speedometer": 9 << 20} {
		for _, chunked := range []bool{false, true} {
			var body io.Reader = strings.NewReader(`{"x":"` + strings.Repeat("x", n) + `"}`)
			if chunked {
				body = io.MultiReader(body) // its length can't be told ahead
			}
			req, err := http.NewRequestWithContext(t.Context(), "POST", srv.URL+path, body)
			if err != nil {
				t.Fatal(err)
			}
			req.Header.Set("Content-Type", "application/json")
			res, err := c.http.Do(req)
			if err != nil {
				t.Fatal(err)
			}
			told, _ := io.ReadAll(res.Body)
			_ = res.Body.Close()
			if res.StatusCode != 413 || !bytes.Contains(told, []byte("Send at most ")) {
				t.Errorf("%s, chunked %v: %d %s", path, chunked, res.StatusCode, told)
			}
		}
	}
}

// A body within its length may still hold more values than anything needs.
func TestValuesAreBounded(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	a := newClient(t, srv.URL).do("POST", "/api/v1/calc/driveline", `{"network":{"shafts":[`+strings.TrimSuffix(strings.Repeat("1,", 400000), ",")+`]}}`)
	if a.status != 413 || !strings.Contains(string(a.body), "300000 values") {
		t.Errorf("%d %s", a.status, a.body)
	}
}

// What can't be kept or printed as text is refused where it stands.
func TestTextIsText(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	unit := func(name string) string { return `{"name":` + name + `,"kind":"van","layout":"rear_drive"}` }
	for _, k := range []struct {
		body, field string
		status      int
	}{
		{unit(`"Emoji 🛻 and 𐌰"`), "", 201},
		{unit(`"Pair \ud83d\udefb"`), "", 201},
		{unit(`"Written \ufffd"`), "", 201},
		{unit(`"half \ud83d"`), "/name", 422},
		{unit(`"half \ud83dx"`), "/name", 422},
		{unit(`"half \ud83d\ud83d"`), "/name", 422},
		{unit(`"half \udefb"`), "/name", 422},
		{unit(`"back\\slash \\ud83d"`), "", 201},
		{unit(`"nul \u0000"`), "/name", 422},
		{unit(`"bell \u0007"`), "/name", 422},
		{unit(`"next line \u0085"`), "/name", 422},
		{unit("\"broken \xff\""), "", 422},
		{`{"name":"x","kind":"van","layout":"rear_drive","notes":"line\nline\ttab\r\n"}`, "", 201},
		{`{"name":"x","kind":"van","driveline":{"parts":[{"name":"a"},{"name":"b\u0001"}]}}`, "/driveline/parts/1/name", 422},
		{`{"name":"x","ki\u0002nd":"van"}`, "", 422},
		{unit(strings.Repeat("[", 60) + strings.Repeat("]", 60)), "/name" + strings.Repeat("/0", 38), 422},
	} {
		a := c.do("POST", "/api/v1/units", k.body)
		if a.status != k.status || a.field() != k.field && !strings.HasPrefix(k.body, `{"name":[`) {
			t.Errorf("%q: %d at %q, want %d at %q: %s", k.body, a.status, a.field(), k.status, k.field, a.body)
		}
	}
	// What was refused isn't there, and what was kept reads back the same.
	var units []struct{ Name string }
	c.want(200, "GET", "/api/v1/units?search=Emoji", "").json(t, &units)
	if len(units) != 1 || units[0].Name != "Emoji 🛻 and 𐌰" {
		t.Errorf("%+v", units)
	}
}

// Without an account an address has a budget; with one it has none.
func TestAnonymousBudget(t *testing.T) {
	const body = `{"tires":[{"marking":"225/75R16"}]}`
	srv := testkit.ServerWith(t, func(c *server.Config) { c.AnonymousRate = 2 })
	c := newClient(t, srv.URL)
	turned := 0
	for range 30 {
		a := c.do("POST", "/api/v1/calc/tire", body)
		switch a.status {
		case 200:
		case 429:
			turned++
			if a.header.Get("Retry-After") == "" {
				t.Error("no Retry-After")
			}
		default:
			t.Errorf("%d %s", a.status, a.body)
		}
	}
	if turned < 15 {
		t.Errorf("%d of 30 turned away", turned)
	}
	c.want(200, "GET", "/api/v1/session", "")
	c.want(201, "POST", "/api/v1/owner", `{"sign_in":"oda","name":"Oda","password":"chalk-and-flange"}`)
	for range 30 {
		c.want(200, "POST", "/api/v1/calc/tire", body)
	}
}

func TestHead(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	for _, path := range []string{"/healthz", "/", "/api/v1/units", "/api/v1/openapi.yaml"} {
		if a := c.do("HEAD", path, ""); a.status != 200 || len(a.body) != 0 {
			t.Errorf("HEAD %s: %d with %d bytes", path, a.status, len(a.body))
		}
	}
	newClient(t, srv.URL).want(401, "HEAD", "/api/v1/units", "")
}

// A request that failed is told once in the log, with its cause.
func TestFailuresAreLoggedOnce(t *testing.T) {
	var log bytes.Buffer
	var st *store.Store
	srv := testkit.ServerWith(t, func(c *server.Config) {
		c.Log, st = slog.New(slog.NewTextHandler(&log, nil)), c.Store
	})
	c := newClient(t, srv.URL)
	c.want(201, "POST", "/api/v1/owner", `{"sign_in":"oda","name":"Oda","password":"chalk-and-flange"}`)
	if _, err := st.DB.ExecContext(t.Context(), "RENAME TABLE units TO elsewhere"); err != nil {
		t.Fatal(err)
	}
	before := log.Len()
	c.want(500, "GET", "/api/v1/units", "")
	if told := log.String()[before:]; strings.Count(told, "\n") != 1 || !strings.Contains(told, "level=ERROR") || !strings.Contains(told, "units' doesn't exist") {
		t.Errorf("the log says:\n%s", told)
	}
	if err := st.Close(); err != nil {
		t.Fatal(err)
	}
	before = log.Len()
	c.want(503, "GET", "/api/v1/units", "")
	if told := log.String()[before:]; strings.Count(told, "\n") != 1 {
		t.Errorf("the log says:\n%s", told)
	}
}

// Requests for another host's name are refused, and only a proxy of ours says
// who the caller is.
func TestHostsAndProxies(t *testing.T) {
	_, loopback, err := net.ParseCIDR("127.0.0.0/8")
	if err != nil {
		t.Fatal(err)
	}
	ask := func(srv *httptest.Server, host, from string) int {
		req, err := http.NewRequestWithContext(t.Context(), "POST", srv.URL+"/api/v1/session", strings.NewReader(`{"sign_in":"ivar","password":"guess"}`))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("X-Forwarded-For", from)
		req.Host = host
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		_ = res.Body.Close()
		return res.StatusCode
	}
	behind := testkit.ServerWith(t, func(c *server.Config) { c.Proxies, c.Hosts = []*net.IPNet{loopback}, []string{"gears.example"} })
	open := testkit.ServerWith(t, func(*server.Config) {})
	for i := range 9 {
		from, last := "192.0.2.1", 401
		if i == 8 {
			last = 429
		}
		if got := ask(behind, "gears.example:8080", from); got != last {
			t.Errorf("guess %d through the proxy: %d, want %d", i, got, last)
		}
		// Who names himself anew each time is still one caller.
		if got := ask(open, "anything", fmt.Sprint("192.0.2.", i)); got != last {
			t.Errorf("guess %d with an invented origin: %d, want %d", i, got, last)
		}
	}
	if got := ask(behind, "gears.example", "192.0.2.2"); got != 401 {
		t.Errorf("another caller through the proxy: %d", got)
	}
	if got := ask(behind, "elsewhere.example", "192.0.2.3"); got != 421 {
		t.Errorf("another host's name: %d", got)
	}
}

// Whatever is sent, the door answers with what the contract allows.
func FuzzDoor(f *testing.F) {
	srv, _ := testkit.Server(f, false)
	for _, s := range []string{`{}`, `{"tires":[{"marking":"225/75R16"}]}`, `{"tires":[{"marking":"\ud800"}]}`, `[[[[`, `{"a":{"b":[1,{"c":"\u0000"}]}}`, "\xff", `{"tires":[{"mass_kg":1e400}]}`, ``} {
		f.Add([]byte(s))
	}
	client := &http.Client{}
	f.Fuzz(func(t *testing.T, body []byte) {
		req, err := http.NewRequestWithContext(t.Context(), "POST", srv.URL+"/api/v1/calc/tire", bytes.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		res, err := client.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		defer func() { _ = res.Body.Close() }()
		told, _ := io.ReadAll(res.Body)
		if res.StatusCode >= 500 || !json.Valid(told) {
			t.Errorf("%d for %q: %s", res.StatusCode, body, told)
		}
	})
}

// A name that stands twice is refused wherever it stands: readers differ in which
// of the two counts.
func TestNamesStandOnce(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	document := string(c.want(200, "GET", "/api/v1/units/3/document", "").body)
	twice := func(text, name string) string {
		t.Helper()
		at := strings.Index(text, `"`+name+`":`)
		if at < 0 {
			t.Fatalf("no %s", name)
		}
		return text[:at] + `"` + name + `":null,` + text[at:]
	}
	for _, k := range []struct{ path, body, field string }{
		{"/api/v1/units", `{"name":"a","kind":"van","layout":"rear_drive","name":"b"}`, "/name"},
		{"/api/v1/calc/identify", `{"stage":{"kind":"ring_and_pinion","kind":"gearcase"},"readings":[]}`, "/stage/kind"},
		{"/api/v1/calc/identify", `{"stage":{"kind":"ring_and_pinion"},"readings":[{"method":"teeth","teeth":{"ring":41,"ring":42,"pinion":10}}]}`, "/readings/0/teeth/ring"},
		{"/api/v1/calc/tire", `{"tires":[{"m\u0061rking":"225/75R16","marking":"225/75R16"}]}`, "/tires/0/marking"},
		{"/api/v1/units/import", twice(document, "ratio"), ""},
		{"/api/v1/units/import", `{"format":"zorvel-unit-1",` + document[1:], "/format"},
		{"/api/v1/calc/tire", `{"tires":[]} {"tires":[]}`, ""},
	} {
		a := c.do("POST", k.path, k.body)
		if a.status != 422 || k.field != "" && a.field() != k.field {
			t.Errorf("%.80s: %d %s, want it at %s", k.body, a.status, a.body, k.field)
		}
	}
}

// Whatever a document holds is kept and leaves again the same, or is refused at its
// field: however deep it goes.
func TestWhatIsTakenLeavesAgain(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	taken := 0
	for n := 25; n < 45; n++ {
		for _, at := range []string{"question", "answer"} {
			deep := `{"a":` + strings.Repeat("[", n) + strings.Repeat("]", n) + `}`
			doc := map[string]string{"question": "{}", "answer": "{}"}
			doc[at] = deep
			body := fmt.Sprintf(`{"format":"zorvel-unit-1","name":"Deep","kind":"truck","stages":[],"driveline":null,"decisions":[{"kind":"regear","title":"Fit 4.56","by":"Someone","at":"2024-05-06T07:08:09Z","question":%s,"answer":%s}]}`, doc["question"], doc["answer"])
			body = strings.Replace(body, `"stages":[],"driveline":null,`, `"stages":[{"name":"Axle","question":{"kind":"ring_and_pinion"},"readings":[]}],`, 1)
			a := c.do("POST", "/api/v1/units/import", body)
			if a.status == 422 {
				if !strings.HasPrefix(a.field(), "/decisions/0/"+at) {
					t.Errorf("%d deep: refused at %q", n, a.field())
				}
				continue
			}
			var u struct{ ID int }
			if taken++; a.status != 201 {
				t.Fatalf("%d deep in the %s: %d %s", n, at, a.status, a.body)
			}
			a.json(t, &u)
			out := c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", u.ID), "").body
			if !strings.Contains(strings.ReplaceAll(string(out), " ", ""), strings.TrimSuffix(deep, "}")) {
				t.Errorf("%d deep: another %s left", n, at)
			}
			c.want(201, "POST", "/api/v1/units/import", string(out))
		}
	}
	if taken < 10 {
		t.Errorf("%d taken", taken)
	}
}

// However a document is put out of shape: what is taken of it leaves again, as a
// unit and with the whole shop, and what left comes back.
func TestWhateverIsTakenComesBack(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	taken, tried := 0, 0
	r := rand.New(rand.NewPCG(5, 23))
	for _, unit := range []string{"3", "8"} {
		var doc any
		if err := json.Unmarshal(c.want(200, "GET", "/api/v1/units/"+unit+"/document", "").body, &doc); err != nil {
			t.Fatal(err)
		}
		odd := append([]any{"ｆｕｌｌ　ｗｉｄｔｈ", "=1+1", "\u200b=1", "a\tb", strings.Repeat("é", 60), 1e-9, 1e12, -0.5, 0.1, 41, "2026-02-03T04:05:06.789Z"}, strange...)
		leaves(doc, func(old any, put func(any)) {
			if r.IntN(40) > 0 || taken > 20 {
				return
			}
			defer put(old)
			put(odd[r.IntN(len(odd))])
			body, err := json.Marshal(doc)
			if err != nil {
				t.Fatal(err)
			}
			tried++
			a := c.do("POST", "/api/v1/units/import", string(body))
			if a.status >= 500 {
				t.Fatalf("%d for %.2000s", a.status, body)
			}
			if a.status != 201 {
				return
			}
			taken++
			var u struct{ ID int }
			a.json(t, &u)
			out := c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", u.ID), "").body
			if back := c.do("POST", "/api/v1/units/import", string(out)); back.status != 201 {
				t.Errorf("what left doesn't come back: %d %.300s\nof %.3000s", back.status, back.body, out)
			}
		})
	}
	if taken < 15 || tried == taken {
		t.Errorf("%d of %d taken", taken, tried)
	}
	if a := c.upload("/api/v1/shop/import?keep=false", c.want(200, "GET", "/api/v1/shop/export", "").body); a.status != 200 {
		t.Errorf("the whole shop: %d %.300s", a.status, a.body)
	}
}
