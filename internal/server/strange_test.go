package server_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"zorvel/internal/testkit"
)

// strange are values that someone may send where another was meant.
var strange = []any{nil, "", "x", "-1", "0", "1/0", "1e999", strings.Repeat("9", 400), "41/10", -1, 0, 1, 1e9, -1e300, 0.000001, true, []any{}, []any{1}, map[string]any{}, "\u0000", "☃"}

// leaves calls f for every value in a document, with a way to replace it.
func leaves(v any, f func(old any, put func(any))) {
	switch x := v.(type) {
	case map[string]any:
		for k := range x {
			f(x[k], func(n any) { x[k] = n })
			leaves(x[k], f)
		}
	case []any:
		for i := range x {
			f(x[i], func(n any) { x[i] = n })
			leaves(x[i], f)
		}
	}
}

// goodQuestions are whole questions of the calculations, by path: what is
// spoiled in them is spoiled in a question that was answered.
func goodQuestions(t *testing.T) map[string]string {
	t.Helper()
	good := map[string]string{
		tiresCalc: `{"tires":[{"marking":"225/75R16","rollout_mm":"6801","rollout_turns":3,"revs_per_km":"441","mass_kg":24.5},{"marking":"31x10.50R15","use":"geometric"}]}`,
		regearCalc: fmt.Sprintf(`{%s,%s,"use_shop":true,"use":"trail","cruise":{"kmh":90,"gear":"5","low_rpm":1800,"high_rpm":2400},"shift_rpm":4000,"idle_rpm":750,"crawl_kmh":2,"launch_percent":95,
			"torque":[{"rpm":1000,"nm":200},{"rpm":3000,"nm":240}],"stock":{"ratio":"4.1","tire":{"marking":"225/75R16"}},"speeds_kmh":[50,90],"rear":{"family":"Varn 220","type":"solid","carrier":{"from":"3","to":"5"}},
			"front":{"family":"Varn 220","type":"independent"},"case_family":"Holt T2"}`, plainTruck, tireChange),
		speedoCalc: `{"axle":"41/10","tire":{"marking":"225/75R16"},"mechanical":{"constant":"1000","per":"mile","drives":[{"teeth":7,"shelf":1}],"driven":[{"teeth":20}],"housings":[{"name":"H","takes_from":15,"takes_to":25}],
			"adapters":[{"name":"a","ratio":"1/2"}],"fitted_drive":7,"fitted_driven":20,"speeds_kmh":[50]},"electronic":{"reluctor":8,"calibrated":"16000","per":"km"},
			"verify":{"method":"stopwatch","runs":[{"shown_kmh":76,"meters":1000,"seconds":50}],"l_per_100km":12,"range_km":500,"odometer_then":"100","odometer_today":"200"}}`,
	}
	good["/api/v1/calc/identify"] = `{"stage":{"kind":"ring_and_pinion"},"prior":"shop","order":{"goal":"label","price":1200,"labor_per_hour":80},"readings":[
		{"method":"tag","text":"4.10"},{"method":"teeth","teeth":{"ring":41,"pinion":10}},
		{"method":"turns","turns":{"left":{"turns":2,"seen":true},"right":{"turns":2,"seen":true},"shaft":{"whole":8,"remainder":{"by":"eye","fraction":0.2}}}}]}`
	good[calc] = `{"driveline":` + testkit.Example(t, "rear_drive") + `,"state":{"input":{"rpm":1500},"select":{"gearbox":"1"},"corner":{"radius_m":9,"toward":"left"},"losses":true}}`
	good["/api/v1/calc/traction"] = `{"driveline":` + testkit.Example(t, "part_time") + `,"grip":{"default":0.6,"grade_percent":20}}`
	good[changeCalc] = `{"base":"38/9","gears":[{"name":"3","ratio":"1.2"},{"name":"4","ratio":"1"}],"tire":{"rollout_mm":"1990"},"growth_percent":1.5,"torque_nm":300,"rpm":7000,"fitted":{"input":24,"pinion":21},"sum":45,
		"shelf":[{"id":"1","name":"1","teeth":[24,21],"wear":"new","shelf":1},{"name":"2","teeth":[23,22]}],"goal":{"kind":"gear","kmh":180,"rpm":7000,"gear":"4","low_kmh":80,"low_rpm":3000},"lies":{"mounting":"turned_over","ring_side":"left","pinion_at":"ahead","spin":"standard","hypoid":true}}`
	good[changeCalc+"/run"] = `{"change_gears":{"base":"38/9","tire":{"rollout_mm":"1990"},"fitted":{"input":24,"pinion":21}},"run":{"text":"t,n,v\n0,3000,95\n1,3100,98\n2,3200,101\n3,3300,104\n4,3400,107\n5,3500,110\n6,3600,113\n7,3700,116\n8,3800,119\n9,3900,122\n","limiter_rpm":7000,"wanted_rpm":6500,"columns":{"time":"t","rpm":"n","speed":"v","time_unit":"s","speed_unit":"km/h"}}}`
	good["/api/v1/calc/shims"], good["/api/v1/calc/gearcase"] = stampAsk, playAsk
	good["/api/v1/calc/propeller"] = `{"ratio":"27/13","pitch_in":17,"hull":"skiff","rpm":5000,"rpm_sure":10,"speed_kn":29,"speed_sure_kn":0.2,"over":"ground","full_rpm":5100,"band_low_rpm":5200,"band_high_rpm":5800,"other_ratio":"2.3","want_kn":25}`
	good[setupCalc], good["/api/v1/calc/fits"] = setupAsk, fitsAsk
	good["/api/v1/calc/free-play"] = `{"driveline":` + testkit.Example(t, "rear_drive") + `,"state":{"select":{"gearbox":"4"}},"measured":[{"at":"rear.left","hold":["rear_right"],"degrees":4},{"at":"prop.shaft","arc_mm":12,"radius_mm":60,"repeat_deg":0.4}],"plays":[{"place":"rear.final","degrees":0.2}],"suppose":[{"place":"rear.final","degrees":1}]}`
	good["/api/v1/calc/find-fault"] = `{"driveline":` + testkit.Example(t, "rear_drive") + `,"on_stands":true,"priors":{"stub":4},"evidence":[{"state":{"select":{"gearbox":"1"}},"seen":[{"watch":"vehicle","does":"stays"}],"words":"No drive"},{"sign":"hums","says":"yes","complaint":true},{"sign":"hot_hub","part":"rear_left","value":12}]}`
	good["/api/v1/calc/tooth-marks"] = `{"points":[{"x":900,"y":450},{"x":800,"y":660},{"x":600,"y":750},{"x":400,"y":660},{"x":300,"y":450},{"x":400,"y":240},{"x":600,"y":150},{"x":800,"y":240}]}`
	good["/api/v1/calc/find-fault/signs"] = `{"driveline":` + testkit.Example(t, "outboard") + `}`
	good["/api/v1/calc/find-fault/first"] = `{"broken":[{"name":"stub","face":"beach","noticed":1},{"name":"ring","face":"clean","noticed":2}]}`
	good["/api/v1/calc/find-fault/shock"] = `{"driveline":` + testkit.Example(t, "rear_drive") + `,"state":{"select":{"gearbox":"2"}},"wheel":"rear_left","rpm":600,"to_rpm":100,"stop_s":0.1,"inertia":0.3,"clutch_nm":400,"engine_nm":100}`
	good["/api/v1/calc/find-fault/shift"] = `{"cable_n":30,"seal_n":9,"switch":"works","idle_rpm":750,"move_s":0.2,"stroke_mm":9,"short_mm":1,"round_mm":0.5,"undercut_deg":6}`
	good["/api/v1/calc/listen"] = heardAsk
	good["/api/v1/calc/practice"] = `{"task":{"kind":"ratio","level":1,"seed":7},"acts":[{"do":"chock"},{"do":"lift","on":"left"},{"do":"lift","on":"right"},{"do":"stands"},
		{"do":"neutral"},{"do":"brake"},{"do":"mark"},{"do":"turn","on":"both","turns":2},{"do":"note","on":"turns","note":{"method":"turns","turns":{"left":{"turns":2,"seen":true},"right":{"turns":2,"seen":true},
		"shaft":{"whole":8,"remainder":{"by":"eye","fraction":0.2}}}}},{"do":"decide","answer":"4.10","sure":70}]}`
	good["/api/v1/calc/practice/drill"] = `{"drill":"pattern","level":1,"seed":4,"answer":{"choice":"in"}}`
	good["/api/v1/calc/practice/board"] = `{"day":9,"results":[{"what":"remainder","level":1,"seed":3,"day":8,"points":80,"right":true,"off":0.02,"helps":["wheels"]}]}`
	good["/api/v1/calc/find-fault/complaints"] = `{"driveline":` + testkit.Example(t, "rear_drive") + `}`
	return good
}

// No input of the calculations gives a 5xx, and every refusal names a field.
func TestCalculationsTakeAnything(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	good := goodQuestions(t)
	r := rand.New(rand.NewPCG(1, 2))
	for path, text := range good {
		c.want(200, "POST", path, text).holds(t, "POST", path)
		var doc any
		if err := json.Unmarshal([]byte(text), &doc); err != nil {
			t.Fatal(err)
		}
		tried, refused := 0, 0
		leaves(doc, func(old any, put func(any)) {
			defer put(old)
			some := 4
			if strings.Contains(text, `"driveline":`) {
				some = 1 // there are hundreds of values in a driveline
			} else if len(text) < 300 {
				some = 8 // and few in a short question
			}
			for _, i := range r.Perm(len(strange))[:some] {
				put(strange[i])
				b, err := json.Marshal(doc)
				if err != nil {
					t.Fatal(err)
				}
				a := c.do("POST", path, string(b))
				tried++
				if a.status >= 400 {
					refused++
				}
				switch {
				case a.status >= 500:
					t.Errorf("%d for %s: %s", a.status, b, a.body)
				case a.status == 422 && a.field() == "" && !strings.Contains(string(a.body), `"field"`):
					t.Errorf("no field for %s: %s", b, a.body)
				case a.status == 200 && strings.Contains(string(a.body), "NaN"):
					t.Errorf("NaN for %s", b)
				}
			}
		})
		if tried < 40 || refused < tried/4 {
			t.Errorf("%s: %d tried, %d refused", path, tried, refused)
		}
	}
}

// The same for what is written: lists, decisions, calibrations. Nothing that is
// refused leaves a trace.
func TestRefusedWritesLeaveNothing(t *testing.T) {
	srv, _, _ := testkit.ServerWithDevice(t)
	c := as(t, srv.URL, "ivar")
	before := c.want(200, "GET", "/api/v1/units/8/history", "").body
	rows := c.want(200, "GET", lists+"/gear_sets", "").body
	for _, x := range strange {
		v, _ := json.Marshal(x)
		for _, try := range [][2]string{
			{"/api/v1/units/8/decisions", `{"kind":` + string(v) + `,"regear":{}}`},
			{"/api/v1/units/8/decisions", `{"kind":"regear","regear":` + string(v) + `}`},
			{"/api/v1/units/8/decisions", `{"kind":"speedometer","speedometer":{"axle":"4","tire":{"marking":"225/75R16"},"mechanical":{"drives":[{"teeth":7}],"driven":[{"teeth":20}]}},"drive":` + string(v) + `,"driven":20}`},
			{lists + "/gear_sets", `{"cells":` + string(v) + `}`},
			{lists + "/gear_sets", `{"cells":{"family":"F","kind":"ring_and_pinion","construction":"pair","teeth":` + string(v) + `}}`},
			{lists + "/gear_sets/csv", `{"text":` + string(v) + `,"keep":true}`},
			{lists + "/no_list", `{"cells":{"name":` + string(v) + `}}`},
		} {
			if x == "41/10" && strings.Contains(try[1], "teeth") {
				continue // that is how teeth may be written
			}
			a := c.do("POST", try[0], try[1])
			if a.status < 400 || a.status >= 500 {
				t.Errorf("%d for %s %s: %s", a.status, try[0], try[1], a.body)
			}
		}
	}
	if after := c.want(200, "GET", "/api/v1/units/8/history", "").body; string(after) != string(before) {
		t.Error("a refused decision is in the history")
	}
	if after := c.want(200, "GET", lists+"/gear_sets", "").body; string(after) != string(rows) {
		t.Error("a refused row is in the list")
	}
}

// The longest texts that a cell takes, in any alphabet, are kept or refused at
// their column.
func TestLongestRows(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	for _, letter := range []string{"x", "é", "İ", "漢", "🛞"} {
		for n, want := range map[int]int{60: 201, 199: 201, 200: 422, 201: 422} {
			long := strings.Repeat(letter, n)
			a := c.do("POST", lists+"/housings", `{"cells":{"family":"`+long+`","name":"`+long+`","takes_from":"15","takes_to":"20"}}`)
			if a.status != want || want == 422 && !strings.HasPrefix(a.field(), "/cells/") {
				t.Errorf("%d of %s: %d at %q: %s", n, letter, a.status, a.field(), a.body)
			}
		}
	}
}

// Prices are the shop's own: without an account none leave, and nothing is
// written by whom only looks.
func TestPricesStayInTheShop(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	ask := fmt.Sprintf(`{%s,%s,"use_shop":true,"rear":{"family":"Varn 220"},"front":{"family":"Varn 220"}}`, plainTruck, tireChange)
	type priced struct {
		Candidates []struct {
			ID   string
			High *struct{ Decimal float64 }
			Rear *struct{ Price string }
		}
		Estimate struct{ High struct{ Decimal float64 } }
	}
	var inside, outside priced
	as(t, srv.URL, "runa").want(200, "POST", regearCalc, ask).json(t, &inside)
	newClient(t, srv.URL).want(200, "POST", regearCalc, ask).json(t, &outside)
	if len(inside.Candidates) != len(outside.Candidates) {
		t.Errorf("%d candidates inside, %d outside", len(inside.Candidates), len(outside.Candidates))
	}
	seen := false
	for _, c := range inside.Candidates {
		seen = seen || c.High != nil && c.High.Decimal > 500
	}
	if !seen {
		t.Error("nobody sees a price")
	}
	for _, c := range outside.Candidates {
		if c.High != nil && c.High.Decimal > 0 || c.Rear != nil && c.Rear.Price != "" {
			t.Errorf("a price leaves: %+v", c)
		}
	}
	viewer := as(t, srv.URL, "runa")
	viewer.want(200, "GET", lists+"/prices", "")
	viewer.want(403, "POST", lists+"/prices", `{"cells":{"item":"rate","low":"1","high":"1"}}`)
	viewer.want(403, "POST", lists+"/gear_sets/csv", `{"text":"family,kind,construction,teeth\nF,ring_and_pinion,pair,41-10","keep":true}`)
	none := newClient(t, srv.URL)
	none.want(401, "GET", lists+"/prices", "")
	none.want(401, "GET", lists+"/gear_sets/csv", "")
	none.want(401, "POST", "/api/v1/units/8/decisions", `{"kind":"regear","regear":`+ask+`}`)
}

// A take-off goes with the gears of its own part and no others.
func TestTakeOffGoesWithItsOwnGears(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	doc := func(changes ...string) string {
		s := testkit.Example(t, "part_time")
		for i := 0; i+1 < len(changes); i += 2 {
			s = strings.Replace(s, `"kind":"`+changes[i]+`"`, `"kind":"`+changes[i]+`","family":"`+changes[i+1]+`"`, 1)
		}
		return s
	}
	ask := func(d, takeOff string) string {
		return `{"driveline":` + d + `,"take_off":"` + takeOff + `","use_shop":true,"mechanical":{}}`
	}
	for _, x := range []struct {
		doc, takeOff string
		cells        int // 0: the family has to be named
	}{
		{doc("transfer_case", "Holt T2"), "", 4 * 14},
		{doc("transfer_case", "Holt T2"), "case.main", 4 * 14},
		{doc("transfer_case", "Holt T2"), "rear_prop.shaft", 4 * 14}, // a bare shaft is driven by the case's gears
		{doc("transfer_case", "Holt T2"), "gearbox.out", 0},
		{doc("gearbox", "Brannik C4"), "gearbox.out", 5 * 12},
		{doc("gearbox", "Brannik C4", "transfer_case", "Holt T2"), "gearbox.out", 5 * 12},
		{doc("gearbox", "Brannik C4", "transfer_case", "Holt T2"), "case.main", 4 * 14},
		{doc(), "case.main", 0},
	} {
		a := c.do("POST", speedoCalc, ask(x.doc, x.takeOff))
		if x.cells == 0 {
			if a.status != 200 || !strings.Contains(string(a.body), `"families":[`) {
				t.Errorf("%q: %d, and the family isn't asked", x.takeOff, a.status)
			}
			continue
		}
		var out struct {
			Mechanical struct{ Cells []struct{ Drive int } }
		}
		a.json(t, &out)
		if a.status != 200 || len(out.Mechanical.Cells) != x.cells {
			t.Errorf("%q: %d, %d cells, want %d", x.takeOff, a.status, len(out.Mechanical.Cells), x.cells)
		}
	}
	if a := c.do("POST", speedoCalc, ask(doc("transfer_case", "Holt T2"), "front_prop.shaft")); a.status != 422 || a.field() != "/take_off" {
		t.Errorf("the front's shaft: %d at %q", a.status, a.field())
	}
}

// A sheet prints whatever it is called, in both units, for any choice.
func TestSheetsPrint(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	for _, title := range []string{"Grouse 4", "", strings.Repeat("long ", 15), "é ☃ 漢", "<b>%s</b>", "🛻 𐌰 \u202e", "\ufffd"} {
		for _, unit := range []string{"km/h", "mph"} {
			body := fmt.Sprintf(`{"title":%s,"currency":"kr","regear":{%s,%s,"use_shop":true,"speed_unit":%q,"rear":{"family":"Varn 220"},"front":{"family":"Varn 220"},"chosen":"leave"}}`, jsonText(title), plainTruck, tireChange, unit)
			a := c.want(200, "POST", "/api/v1/calc/regear/pdf", body)
			if !strings.HasPrefix(string(a.body), "%PDF-") || len(a.body) < 5000 || !strings.Contains(string(a.body[len(a.body)-10:]), "%%EOF") {
				t.Errorf("%q in %s: %d bytes", title, unit, len(a.body))
			}
		}
	}
}

type takenIn struct {
	By string
	At time.Time
}

// A document's dates are within reason, its decisions may lack anything, and
// what it brings stays told as brought.
func TestDocumentsFromElsewhere(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	doc := func(reading, decision string) string {
		return `{"format":"zorvel-unit-1","name":"🛻 from elsewhere","kind":"truck","stages":[{"name":"Axle","question":{"kind":"ring_and_pinion"},"readings":[{"reading":{"method":"tag","text":"4.10"},"by":"Someone","at":"` + reading + `"}]}],
			"decisions":[{"kind":"regear","title":"Fit 4.56","by":"Someone","at":"` + decision + `","question":{},"answer":` + "%s" + `}]}`
	}
	const good = "2024-05-06T07:08:09Z"
	for _, bad := range []string{"0000-01-01T00:00:00Z", "0001-01-01T00:00:00+14:00", "1969-12-31T23:59:59Z", "9999-12-31T23:59:59-12:00", time.Now().AddDate(0, 0, 3).Format(time.RFC3339)} {
		for field, body := range map[string]string{"/stages/0/readings/0/at": doc(bad, good), "/decisions/0/at": doc(good, bad)} {
			a := c.do("POST", "/api/v1/units/import", fmt.Sprintf(body, "{}"))
			if a.status != 422 || a.field() != field {
				t.Errorf("%s: %d at %q, want %s: %s", bad, a.status, a.field(), field, a.body)
			}
		}
	}
	for _, answer := range []string{`{}`, `{"plan":{}}`, `{"plan":{"change":{}}}`, `{"plan":{"change":{},"old_tire":{},"new_tire":{},"estimate":{"lines":[{}]},"before":{"rows":[{},{}]}}}`, `{"plan":{"change":7}}`, `{"a":` + strings.Repeat("[", 30) + strings.Repeat("]", 30) + `}`} {
		var u struct{ ID int }
		c.want(201, "POST", "/api/v1/units/import", fmt.Sprintf(doc(good, good), answer)).json(t, &u)
		var list []struct {
			ID      int
			TakenIn *takenIn `json:"taken_in"`
		}
		c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/decisions", u.ID), "").json(t, &list)
		if a := c.do("GET", fmt.Sprintf("/api/v1/decisions/%d/pdf", list[0].ID), ""); a.status != 404 && a.status != 200 {
			t.Errorf("a sheet of %s: %d %s", answer, a.status, a.body)
		}
		c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", u.ID), "")
		var told []struct {
			By, Text string
			TakenIn  *takenIn `json:"taken_in"`
		}
		c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/history", u.ID), "").json(t, &told)
		if told[0].By != "Oda Brenk" || !strings.HasPrefix(told[0].Text, "Imported: ") {
			t.Errorf("the newest line is %+v", told[0])
		}
		// Every entry of the document says who took it in; the line on that, and
		// what comes later, don't.
		if told[0].TakenIn != nil || told[1].By != "Someone" || told[1].TakenIn == nil || told[1].TakenIn.By != "Oda Brenk" {
			t.Errorf("the history is %+v", told)
		}
		if list[0].TakenIn == nil || time.Since(list[0].TakenIn.At) > time.Hour {
			t.Errorf("the decision is %+v", list[0])
		}
		var unit struct{ Stages []struct{ ID int } }
		c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d", u.ID), "").json(t, &unit)
		stage := fmt.Sprintf("/api/v1/stages/%d", unit.Stages[0].ID)
		var rec struct {
			Readings []struct {
				TakenIn *takenIn `json:"taken_in"`
			}
		}
		c.want(201, "POST", stage+"/readings", `{"readings":[{"reading":{"method":"tag","text":"4.56"}}]}`).json(t, &rec)
		if r := rec.Readings; len(r) != 2 || r[0].TakenIn == nil || r[0].TakenIn.By != "Oda Brenk" || r[1].TakenIn != nil {
			t.Errorf("the readings are %+v", r)
		}
	}
}
