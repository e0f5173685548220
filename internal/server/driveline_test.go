package server_test

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"sync"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/internal/testkit"
)

// contract is the router of the API document.
var contract = sync.OnceValues(func() (routers.Router, error) {
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		return nil, err
	}
	spec.Servers = openapi3.Servers{{URL: "/api/v1"}}
	return gorillamux.NewRouter(spec)
})

// holds checks an answer against the contract's schema.
func (a answer) holds(t *testing.T, method, path string) answer {
	t.Helper()
	router, err := contract()
	if err != nil {
		t.Fatal(err)
	}
	req, err := http.NewRequestWithContext(t.Context(), method, path, nil)
	if err != nil {
		t.Fatal(err)
	}
	route, params, err := router.FindRoute(req)
	if err != nil {
		t.Fatal(err)
	}
	in := &openapi3filter.ResponseValidationInput{
		RequestValidationInput: &openapi3filter.RequestValidationInput{Request: req, PathParams: params, Route: route},
		Status:                 a.status, Header: a.header, Body: io.NopCloser(strings.NewReader(string(a.body))),
	}
	if err := openapi3filter.ValidateResponse(context.Background(), in); err != nil {
		t.Errorf("%s %s does not keep the contract: %v", method, path, err)
	}
	return a
}

const calc = "/api/v1/calc/driveline"

// Every layout, blank and with figures, with everything asked for, keeps the
// contract; no account is needed.
func TestDrivelineAnswersKeepTheContract(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	var layouts []struct {
		ID              string
		Document, Blank json.RawMessage
	}
	c.want(200, "GET", "/api/v1/calc/layouts", "").holds(t, "GET", "/api/v1/calc/layouts").json(t, &layouts)
	if len(layouts) < 12 {
		t.Fatalf("%d layouts", len(layouts))
	}
	for _, l := range layouts {
		for _, d := range []json.RawMessage{l.Document, l.Blank} {
			a := c.want(200, "POST", calc, fmt.Sprintf(`{"driveline":%s,"want":{"gears":true,"shifts":true,"tests":true,"speed_kmh":40},"state":{"input":{"rpm":1500}}}`, d))
			a.holds(t, "POST", calc)
		}
	}
	a := c.want(200, "POST", "/api/v1/calc/traction", `{"driveline":`+testkit.Example(t, "part_time")+`,"grip":{"default":0.6,"grade_percent":20}}`)
	a.holds(t, "POST", "/api/v1/calc/traction")
	corner := `{"driveline":` + testkit.Example(t, "part_time") + `,"state":{"select":{"case.center":"locked"},"corner":{"radius_m":8,"toward":"left"}}}`
	a = c.want(200, "POST", calc, corner).holds(t, "POST", calc)
	var got struct {
		Trace struct {
			Binds []struct{ Percent float64 }
			Match struct {
				Mismatch struct{ Num, Den int }
			}
		}
	}
	a.json(t, &got)
	if len(got.Trace.Binds) != 1 || got.Trace.Match.Mismatch.Num != 1 || got.Trace.Match.Mismatch.Den != 369 {
		t.Errorf("%+v", got)
	}
}

// A bare network, as a textbook gives it.
func TestBareNetwork(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	c := newClient(t, srv.URL)
	a := c.want(200, "POST", calc, `{"network":{"shafts":["sun","ring","arm"],"elements":[
		{"id":"set","kind":"planetary","sun":"sun","ring":"ring","carrier":"arm","teeth_sun":20,"teeth_ring":80},
		{"id":"hold","kind":"holder","shaft":"ring"},{"id":"in","kind":"drive","shaft":"sun","speed":"100"},{"id":"out","kind":"load","shaft":"arm"}]}}`).holds(t, "POST", calc)
	var got struct {
		Network struct {
			Shafts []struct {
				Shaft, State  string
				Speed, Torque struct{ Num, Den int }
			}
		}
	}
	a.json(t, &got)
	arm := got.Network.Shafts[2]
	if arm.Speed.Num != 20 || arm.Speed.Den != 1 || arm.Torque.Num != 5 {
		t.Errorf("the arm: %+v, want 20 rpm and 5 times the torque", arm)
	}
	a = c.want(200, "POST", calc, `{"network":{"shafts":["a","b"],"elements":[
		{"id":"1","kind":"mesh","a":"a","b":"b","teeth_a":20,"teeth_b":40,"sense":"external"},
		{"id":"2","kind":"mesh","a":"a","b":"b","teeth_a":30,"teeth_b":30,"sense":"external"},{"id":"in","kind":"drive","shaft":"a","speed":"1"}]}}`).holds(t, "POST", calc)
	if !strings.Contains(string(a.body), `"binds":[{"elements":["1","2"]`) {
		t.Errorf("two gears at once: %s", a.body)
	}
}

// Broken documents over the wire: no 5xx, and the field is named.
func TestBrokenDrivelines(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	c := newClient(t, srv.URL)
	doc := func(parts string) string {
		return `{"driveline":{"format":"zorvel-driveline-1","lies":"vehicle","parts":[` + parts + `]}}`
	}
	const engine = `{"id":"engine","kind":"engine"}`
	var many []string
	for i := range 10000 {
		many = append(many, fmt.Sprintf(`{"id":"s%d","kind":"shaft","from":"s%d"}`, i, i-1))
	}
	net := func(el string) string { return `{"network":{"shafts":["a","b"],"elements":[` + el + `]}}` }
	for _, k := range []struct{ body, field string }{
		{`{}`, "/driveline"},
		{`{"driveline":{}}`, "/driveline/format"},
		{doc(``), "/driveline/parts"},
		{doc(strings.Join(many, ",")), "/driveline/parts"},
		{doc(engine + `,` + strings.Join(many, ",")), "/driveline/parts"},
		{doc(`{"id":"engine","kind":"engine","color":"red"}`), "/driveline/parts/0/color"},
		{doc(`{"id":"engine","kind":"engine","engine":{"axis":"sideways"}}`), "/driveline/parts/0/engine/axis"},
		{doc(engine + `,{"id":"s","kind":"shaft","from":"gone"}`), "/driveline/parts/1/from"},
		{doc(engine + `,{"id":"s","kind":"shaft","from":"r"},{"id":"r","kind":"shaft","from":"s"}`), "/driveline/parts/1/from"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"ring":41,"pinion":0}}`), "/driveline/parts/1/axle/pinion"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"ring":1e9,"pinion":10}}`), "/driveline/parts/1/axle/ring"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"ratio":"1/0"}}`), "/driveline/parts/1/axle/ratio"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"ratio":4.1}}`), "/driveline/parts/1/axle/ratio"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"ratio":"abc"}}`), "/driveline/parts/1/axle/ratio"},
		{`{"driveline":` + testkit.Example(t, "part_time") + `,"state":{"select":{"gearbox":"9"}}}`, "/state/select/gearbox"},
		{`{"driveline":` + testkit.Example(t, "part_time") + `,"state":{"select":{"case.range":"low"}}}`, "/state/select/case.range"},
		{`{"driveline":` + testkit.Example(t, "part_time") + `,"state":{"corner":{"radius_m":-8,"toward":"left"}}}`, "/state/corner/radius_m"},
		{`{"driveline":` + testkit.Example(t, "part_time") + `,"state":{"corner":{"radius_m":1e308,"toward":"left"}}}`, "/state/corner/radius_m"},
		{`{"driveline":` + testkit.Example(t, "part_time") + `,"state":{"input":{"turns":"many"}}}`, "/state/input/turns"},
		{`{"driveline":` + testkit.Example(t, "part_time") + `,"state":{"mood":"bad"}}`, "/state/mood"},
		{`{"driveline":` + testkit.Example(t, "part_time") + `,"network":{"shafts":[],"elements":[]}}`, "/network"},
		{net(`{"id":"m","kind":"mesh","a":"a","b":"zz","teeth_a":1,"teeth_b":1,"sense":"external"}`), "/network/elements/0/b"},
		{net(`{"id":"m","kind":"mesh","a":"a","b":"b","teeth_a":-1,"teeth_b":1,"sense":"external"}`), "/network/elements/0/teeth_a"},
		{net(`{"id":"m","kind":"spell","a":"a","b":"b"}`), "/network/elements/0/kind"},
		{net(`{"id":"d","kind":"drive","shaft":"a","speed":"1e99999"}`), "/network/elements/0/speed"},
	} {
		a := c.do("POST", calc, k.body)
		short := k.body[max(0, len(k.body)-120):]
		if a.status == 413 && len(k.body) > 1<<20 {
			continue
		}
		if a.status != 422 || a.field() != k.field {
			t.Errorf("…%s: %d %s, want 422 at %s", short, a.status, a.body[:min(len(a.body), 300)], k.field)
		}
	}
	for body, field := range map[string]string{
		`{"driveline":` + testkit.Example(t, "rear_drive") + `,"grip":{"default":9}}`:                         "/grip/default",
		`{"driveline":` + testkit.Example(t, "rear_drive") + `,"grip":{"default":1,"wheels":{"nobody":1}}}`:   "/grip/wheels/nobody",
		`{"driveline":` + testkit.Example(t, "rear_drive") + `,"grip":{"default":1,"stickiness":1}}`:          "/grip/stickiness",
		`{"driveline":` + testkit.Example(t, "outboard") + `,"grip":{"default":1}}`:                           "/driveline/lies",
		`{"driveline":` + testkit.Example(t, "rear_drive") + `,"grip":{"default":1},"state":{"engine":"x"}}`:  "/state/engine",
		`{"driveline":` + testkit.Example(t, "rear_drive") + `,"grip":{"default":1,"grade_percent":-100000}}`: "/grip/grade_percent",
	} {
		if a := c.do("POST", "/api/v1/calc/traction", body); a.status != 422 || a.field() != field {
			t.Errorf("…%s: %d %s, want 422 at %s", body[len(body)-60:], a.status, a.body, field)
		}
	}
}

type unitDriveline struct {
	Version  int64
	States   []struct{ Name string }
	Fittings []struct {
		By     string
		Former struct{ Axle struct{ Ring, Pinion int } }
	}
	Document struct {
		Name  string
		Parts []struct {
			ID      string
			Axle    *struct{ Ring, Pinion int }
			Sources map[string]struct {
				Kind        string
				Stage       int64
				Probability float64
			}
		}
	}
}

func (u unitDriveline) part(id string) (ring, pinion int, kind string, stage int64) {
	for _, p := range u.Document.Parts {
		if p.ID == id && p.Axle != nil {
			s := p.Sources["ratio"]
			return p.Axle.Ring, p.Axle.Pinion, s.Kind, s.Stage
		}
	}
	return 0, 0, "no such part", 0
}

// A unit's driveline keeps its versions, takes what is measured, and refuses
// to overwrite what someone else kept meanwhile.
func TestUnitDriveline(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	c := newClient(t, srv.URL)
	c.want(201, "POST", "/api/v1/owner", `{"sign_in":"oda","name":"Oda","password":"chalk-and-flange"}`)
	c.want(201, "POST", "/api/v1/units", `{"name":"Grouse 9","kind":"truck","layout":"part_time"}`)
	const path = "/api/v1/units/1/driveline"
	var u unitDriveline
	c.want(200, "GET", path, "").holds(t, "GET", path).json(t, &u)
	if _, _, kind, stage := u.part("rear"); u.Version != 1 || kind != "unknown" || stage == 0 {
		t.Fatalf("a new unit's driveline: %+v", u)
	}
	_, _, _, rear := u.part("rear")
	put := func(doc string, base int, more string) string {
		return fmt.Sprintf(`{"document":%s,"base":%d%s}`, doc, base, more)
	}
	blank := ""
	for _, l := range driveline.Layouts() {
		if l.ID == "part_time" {
			b, _ := json.Marshal(l.Document.Blank())
			blank = string(b)
		}
	}
	c.want(200, "PUT", path, put(blank, 1, `,"states":[{"name":"low","state":{"select":{"case.range":"low","case.center":"locked"}}}]`)).holds(t, "PUT", path).json(t, &u)
	if _, _, kind, stage := u.part("rear"); kind != "unknown" || stage != rear || u.Version != 2 || len(u.States) != 1 {
		t.Fatalf("%+v", u)
	}
	// What is measured at the stage flows in, with its state.
	readings := fmt.Sprintf("/api/v1/stages/%d/readings", rear)
	c.want(201, "POST", readings, `{"since":0,"readings":[{"reading":{"method":"teeth","teeth":{"ring":41,"pinion":10}}},{"reading":{"method":"stamp","text":"41 10"}}]}`)
	c.want(200, "GET", path, "").json(t, &u)
	if ring, pinion, kind, _ := u.part("rear"); ring != 41 || pinion != 10 || kind != "measured" {
		t.Errorf("after counting: %d/%d %s", ring, pinion, kind)
	}
	// Someone else's version is not overwritten.
	if a := c.do("PUT", path, put(blank, 1, "")); a.status != 409 {
		t.Errorf("an old base: %d %s", a.status, a.body)
	}
	c.want(200, "PUT", path, put(testkit.Example(t, "rear_drive"), 2, `,"note":"four-wheel parts taken out"`)).json(t, &u)
	if u.Version != 3 {
		t.Errorf("version %d", u.Version)
	}
	if a := c.want(200, "GET", "/api/v1/units/1/history", ""); !strings.Contains(string(a.body), "four-wheel parts taken out") {
		t.Errorf("history: %s", a.body)
	}
	for body, field := range map[string]string{
		put(`{"format":"zorvel-driveline-1","lies":"vehicle","parts":[]}`, 3, ""):                                                                      "/document/parts",
		put(testkit.Example(t, "rear_drive"), 3, `,"states":[{"name":"a","state":{}},{"name":"a","state":{}}]`):                                        "/states/1/name",
		put(`{"format":"zorvel-driveline-1","lies":"boat","parts":[{"id":"a","kind":"shaft"},{"id":"b","kind":"wheel","from":"a","axle":{}}]}`, 3, ""): "/document/parts/1/axle",
		put(`{"format":"zorvel-driveline-1","lies":"boat","parts":[{"id":"a","kind":"engine","rated_nm":-1}]}`, 3, ""):                                 "/document/parts/0/rated_nm",
		put(`{"format":"zorvel-driveline-1","lies":"boat","parts":[{"id":"engine","kind":"engine"}]}`, 3, `,"states":[{"name":" ","state":{"x":1}}]`):  "",
	} {
		if a := c.do("PUT", path, body); a.status != 422 || (field != "" && a.field() != field) {
			t.Errorf("%d %s, want 422 at %s", a.status, a.body, field)
		}
	}
	c.want(404, "GET", "/api/v1/units/99/driveline", "")
	c.want(404, "PUT", "/api/v1/units/99/driveline", put(blank, 0, ""))
	anonymous := newClient(t, srv.URL)
	anonymous.want(401, "GET", path, "")
	anonymous.want(401, "PUT", path, put(blank, 2, ""))
}

// A driveline leaves and comes back with its unit, tied to the same stages.
func TestDrivelineInTheUnitDocument(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	a := c.want(200, "GET", "/api/v1/units/8/document", "").holds(t, "GET", "/api/v1/units/8/document")
	var made struct{ ID int64 }
	c.want(201, "POST", "/api/v1/units/import", string(a.body)).json(t, &made)
	again := c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", made.ID), "")
	if string(a.body) != string(again.body) {
		t.Errorf("the document changed on its way:\n%s\n%s", a.body, again.body)
	}
	var before, after unitDriveline
	c.want(200, "GET", "/api/v1/units/8/driveline", "").json(t, &before)
	c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/driveline", made.ID), "").json(t, &after)
	r1, p1, k1, s1 := before.part("rear")
	r2, p2, k2, s2 := after.part("rear")
	if r1 != r2 || p1 != p2 || k1 != k2 || k1 != "measured" || s1 == s2 || s1 == 0 || s2 == 0 {
		t.Errorf("rear axle %d/%d %s at stage %d became %d/%d %s at stage %d", r1, p1, k1, s1, r2, p2, k2, s2)
	}
	// A document whose driveline is broken is refused whole.
	bad := strings.Replace(string(a.body), `"from":"gearbox"`, `"from":"gone"`, 1)
	if x := c.do("POST", "/api/v1/units/import", bad); x.status != 422 || !strings.HasPrefix(x.field(), "/driveline/document/parts/") {
		t.Errorf("%d %s", x.status, x.body)
	}
	bad = strings.Replace(string(a.body), `"measured":[`, `"measured":[{"part":"rear","ratio":"ratio","name":"x","question":{"kind":"ring_and_pinion"},"readings":[{"by":"x","at":"2026-01-01T00:00:00Z","reading":{"method":"tag","text":"4.10"},"fitting":1}]},`, 1)
	if x := c.do("POST", "/api/v1/units/import", bad); x.status != 422 || x.field() != "/measured/0/readings/0/fitting" {
		t.Errorf("%d %s", x.status, x.body)
	}
}

// A document of the former kind, with a line of stages, is taken in: each stage
// hangs on the part that its driveline says, or that its words say.
func TestFormerDocument(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	doc := strings.Replace(testkit.Example(t, "part_time"), `"kind":"assumed"`, `"kind":"assumed","stage":0`, 1)
	body := func(doc string) string {
		return `{"format":"zorvel-unit-1","name":"Brought","kind":"truck","stages":[
			{"name":"Axle","question":{"kind":"ring_and_pinion"},"readings":[{"by":"x","at":"2026-01-01T00:00:00Z","reading":{"method":"teeth","teeth":{"ring":47,"pinion":9}}}]},
			{"name":"Front axle","question":{"kind":"ring_and_pinion"},"readings":[]},
			{"name":"Hub","question":{"kind":"hub"},"readings":[{"by":"x","at":"2026-01-01T00:00:00Z","reading":{"method":"teeth","teeth":{"sun":24,"ring":60}}}]}
		]` + doc + `}`
	}
	var made struct {
		ID     int64
		Stages []struct {
			Name, Part, State string
			Readings          int
		}
	}
	c.want(201, "POST", "/api/v1/units/import", body(`,"driveline":{"document":`+doc+`}`)).json(t, &made)
	read := func() string {
		var out []string
		for _, v := range made.Stages {
			if v.Readings > 0 {
				out = append(out, v.Part+": "+v.State)
			}
		}
		return strings.Join(out, ", ")
	}
	if got := read(); got != "hub: measured, rear: assumed" && got != "rear: assumed, hub: measured" {
		t.Errorf("read at %s", got)
	}
	c.want(201, "POST", "/api/v1/units/import", body("")).json(t, &made)
	if got := read(); got != "axle: assumed, hub: measured" {
		t.Errorf("without a driveline, read at %s", got)
	}
	if out := c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", made.ID), ""); !strings.Contains(string(out.body), "zorvel-unit-2") {
		t.Errorf("it leaves as %s", out.body)
	}
	for more, field := range map[string]string{
		`,"measured":[]`: "/format",
		`,"driveline":{"document":` + strings.Replace(doc, `"stage":0`, `"stage":4`, 1) + `}`: "",
	} {
		if x := c.do("POST", "/api/v1/units/import", body(more)); x.status != 422 || field != "" && x.field() != field {
			t.Errorf("%d %s", x.status, x.body)
		}
	}
	for _, bad := range []string{`{"format":"zorvel-unit-2","name":"x","kind":"van"}`, `{"format":"zorvel-unit-2","name":"x","kind":"van","stages":[]}`} {
		if x := c.do("POST", "/api/v1/units/import", bad); x.status != 422 {
			t.Errorf("%d %s", x.status, x.body)
		}
	}
}

// Swapped gears begin unknown, in the driveline, the lists and the record; what
// was measured of the former ones stands aside.
func TestGearsAreSwapped(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	type stages struct {
		Stages []struct {
			ID          int64
			Part, State string
			Readings    int
		}
	}
	var unit stages
	var made struct{ ID int64 }
	c.want(201, "POST", "/api/v1/units", `{"name":"Grouse 10","kind":"truck","layout":"part_time"}`).json(t, &made)
	path := fmt.Sprintf("/api/v1/units/%d", made.ID)
	c.want(200, "GET", path, "").json(t, &unit)
	rear := int64(0)
	for _, v := range unit.Stages {
		if v.Part == "rear" {
			rear = v.ID
		}
	}
	stage := fmt.Sprintf("/api/v1/stages/%d", rear)
	count := `{"reading":{"method":"teeth","teeth":{"ring":41,"pinion":10}}}`
	c.want(201, "POST", stage+"/readings", `{"since":0,"readings":[`+count+`]}`)
	var u unitDriveline
	fit := func(more string) string {
		return `{"part":"rear","what":"gears_swapped","note":"4.56 fitted"` + more + `}`
	}
	if a := c.do("POST", path+"/fittings", fit(`,"base":7`)); a.status != 409 {
		t.Errorf("over a version that isn't: %d %s", a.status, a.body)
	}
	c.want(201, "POST", path+"/fittings", fit(`,"base":1`)).holds(t, "POST", path+"/fittings").json(t, &u)
	if ring, _, kind, at := u.part("rear"); ring != 0 || kind != "unknown" || at != rear || u.Version != 2 || len(u.Fittings) != 1 {
		t.Fatalf("after the swap: %+v", u)
	}
	if f := u.Fittings[0]; f.Former.Axle.Ring != 41 || f.By != "Ivar Tolm" {
		t.Errorf("what came out: %+v", f)
	}
	var rec struct {
		Since    int64
		Fitted   *struct{ What, Note string }
		Readings []struct{ Former bool }
	}
	c.want(200, "GET", stage, "").holds(t, "GET", stage).json(t, &rec)
	if rec.Since == 0 || rec.Fitted == nil || rec.Fitted.Note != "4.56 fitted" || len(rec.Readings) != 1 || !rec.Readings[0].Former {
		t.Errorf("the record: %+v", rec)
	}
	if a := c.do("POST", stage+"/readings", `{"since":0,"readings":[`+count+`]}`); a.status != 409 ||
		!strings.Contains(string(a.body), "Count what is installed now") {
		t.Errorf("a count of the former gears: %d %s", a.status, a.body)
	}
	c.want(201, "POST", stage+"/readings", fmt.Sprintf(`{"since":%d,"readings":[{"reading":{"method":"teeth","teeth":{"ring":41,"pinion":9}}},{"reading":{"method":"stamp","text":"41 9"}}]}`, rec.Since))
	c.want(200, "GET", path+"/driveline", "").json(t, &u)
	if ring, pinion, kind, _ := u.part("rear"); ring != 41 || pinion != 9 || kind != "measured" {
		t.Errorf("the new gears: %d/%d %s", ring, pinion, kind)
	}
	// It leaves and comes back with its past.
	doc := c.want(200, "GET", path+"/document", "").holds(t, "GET", path+"/document")
	c.want(201, "POST", "/api/v1/units/import", string(doc.body)).json(t, &made)
	if again := c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", made.ID), ""); string(again.body) != string(doc.body) {
		t.Errorf("came back as\n%s\nnot\n%s", again.body, doc.body)
	}
	c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/driveline", made.ID), "").json(t, &u)
	if ring, pinion, kind, _ := u.part("rear"); ring != 41 || pinion != 9 || kind != "measured" {
		t.Errorf("brought along: %d/%d %s", ring, pinion, kind)
	}
	// One of the shop's parts in its place brings its figures.
	c.want(201, "POST", path+"/fittings", `{"part":"rear","what":"part_swapped","base":2,"fitted":{"id":"x","kind":"axle","name":"Varn 220 rear 47-9","axle":{"ring":47,"pinion":9,"differential":{"type":"open"}}}}`).json(t, &u)
	if ring, _, kind, _ := u.part("rear"); ring != 47 || kind != "plate" || len(u.Fittings) != 2 {
		t.Errorf("the shop's axle: %+v", u)
	}
}

func TestPartsCatalog(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	var before, after []struct {
		ID   int64
		Name string
		Part json.RawMessage
	}
	c.want(200, "GET", "/api/v1/parts", "").holds(t, "GET", "/api/v1/parts").json(t, &before)
	a := c.want(200, "GET", "/api/v1/parts/csv", "")
	if !strings.HasPrefix(string(a.body), "kind,maker,name,notes,figures\n") || !strings.Contains(a.header.Get("Content-Type"), "text/csv") {
		t.Fatalf("%s\n%s", a.header.Get("Content-Type"), a.body)
	}
	text := func(csv string) string {
		b, _ := json.Marshal(map[string]string{"text": csv})
		return string(b)
	}
	// Out and in again: everything is there already.
	if x := c.do("POST", "/api/v1/parts/csv", text(string(a.body))); x.status != 422 || !strings.Contains(string(x.body), "line 2: the catalog has") {
		t.Errorf("%d %s", x.status, x.body)
	}
	// Taken out and put back from the CSV, a catalog is the same.
	for _, p := range before {
		c.want(204, "DELETE", fmt.Sprintf("/api/v1/parts/%d", p.ID), "")
	}
	c.want(404, "DELETE", "/api/v1/parts/1", "")
	c.want(201, "POST", "/api/v1/parts/csv", text(string(a.body))).json(t, &after)
	if len(after) != len(before) {
		t.Fatalf("%d parts became %d", len(before), len(after))
	}
	for i := range before {
		if before[i].Name != after[i].Name || string(before[i].Part) != string(after[i].Part) {
			t.Errorf("%s\n%s\nbecame %s\n%s", before[i].Name, before[i].Part, after[i].Name, after[i].Part)
		}
	}
	c.want(200, "GET", "/api/v1/parts?kind=axle", "").json(t, &after)
	if len(after) == 0 || len(after) == len(before) {
		t.Errorf("%d axles among %d parts", len(after), len(before))
	}
	// Spreadsheets of other places: semicolons, a byte order mark, columns in any order.
	c.want(201, "POST", "/api/v1/parts/csv", text("\ufeffname;kind;figures\nSlate 5;gearbox;\"gear.1=3.5; gear.2=17:36 dog; gear.R=17:34:22; gear.4=direct; arrangement=two_shaft; rated_nm=300\"\n"))
	c.want(201, "POST", "/api/v1/parts", `{"parts":[{"maker":"Varn","name":"X","part":{"id":"p","kind":"hub","hub":{"type":"planetary","sun":24,"ring":60}}}]}`).holds(t, "POST", "/api/v1/parts")
	for csv, says := range map[string]string{
		"":                                      "",
		"kind,name\naxle,x\n":                   `column \"figures\" is missing`,
		"kind,name,figures\n":                   "no part below",
		"kind,name,figures\naxle,,ring=41\n":    "line 2: a name of",
		"kind,name,figures\nboat,x,\n":          "line 2: kind:",
		"kind,name,figures\naxle,x,ring\n":      "line 2: \\\"ring\\\": write name=value",
		"kind,name,figures\naxle,x,ring=many\n": "a whole number",
		"kind,name,figures\naxle,x,color=red\n": "no such figure",
		"kind,name,figures\naxle,x,ring=41; pinion=0\naxle,y,ring=x\n": "line 3",
		"kind,name,figures\ngearbox,x,gear.1=abc\n":                    "a ratio (3.54), teeth (17:36) or direct",
		"kind,name,figures\naxle,x,\"unclosed\n":                       "line 2",
	} {
		x := c.do("POST", "/api/v1/parts/csv", text(csv))
		if x.status != 422 || !strings.Contains(string(x.body), says) {
			t.Errorf("%q: %d %s, want …%s…", csv, x.status, x.body, says)
		}
	}
	for body, field := range map[string]string{
		`{"parts":[]}`: "/parts",
		`{"parts":[{"name":"a","part":{"id":"p","kind":"axle","axle":{"ring":41,"pinion":0}}}]}`: "/parts/0/part/axle/pinion",
		`{"parts":[{"maker":"Varn","name":"X","part":{"id":"p","kind":"hub"}}]}`:                 "/parts/0/name",
		`{"parts":[{"name":"a","part":{"id":"p","kind":"axle","hub":{}}}]}`:                      "/parts/0/part/hub",
	} {
		if x := c.do("POST", "/api/v1/parts", body); x.status != 422 || x.field() != field {
			t.Errorf("%s: %d %s, want %s", body, x.status, x.body, field)
		}
	}
	viewer := as(t, srv.URL, "runa")
	viewer.want(200, "GET", "/api/v1/parts", "")
	viewer.want(403, "POST", "/api/v1/parts/csv", text("kind,name,figures\naxle,x,ring=41; pinion=10\n"))
	viewer.want(403, "DELETE", "/api/v1/parts/1", "")
}

func BenchmarkDriveline(b *testing.B) {
	bench(b, "POST", calc, `{"driveline":`+testkit.Example(b, "part_time")+`,"state":{"input":{"rpm":2000}}}`)
}
func BenchmarkDrivelineGears(b *testing.B) {
	bench(b, "POST", calc, `{"driveline":`+testkit.Example(b, "part_time")+`,"want":{"gears":true}}`)
}
func BenchmarkUnitDriveline(b *testing.B) { bench(b, "GET", "/api/v1/units/8/driveline", "") }
