package e2e

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/fault"
)

// modules is a page that holds nothing but what computes or decides in the browser.
func modules(t *testing.T) *page {
	t.Helper()
	script, err := os.ReadFile("../web/modules/dist/modules.js")
	if err != nil {
		t.Fatal("web/modules/dist is missing: run make test, or make web/modules/dist/modules.js")
	}
	p := tab(t, "about:", 800, 600)
	eval[bool](p, string(script)+"\nwindow.zorvel = zorvel; true")
	return p
}

// told evaluates an expression over the modules, as JSON.
func told(p *page, js string) any {
	p.t.Helper()
	var v any
	if err := json.Unmarshal([]byte(eval[string](p, "JSON.stringify("+js+") ?? 'null'")), &v); err != nil {
		p.t.Fatalf("%s: %v", js, err)
	}
	return v
}

// says holds an expression to JSON.
func says(p *page, js, want string) {
	p.t.Helper()
	var v any
	if err := json.Unmarshal([]byte(want), &v); err != nil {
		p.t.Fatalf("%s: %v", want, err)
	}
	if got := told(p, js); !reflect.DeepEqual(got, v) {
		b, _ := json.Marshal(got)
		p.t.Errorf("%s\n  is   %s\n  want %s", js, b, want)
	}
}

// Numbers as people type them, and as they are told.
func TestBrowserNumbers(t *testing.T) {
	p := modules(t)
	for _, c := range []struct{ js, want string }{
		{`zorvel.numbers.typed("4,10")`, `4.1`},
		{`zorvel.numbers.typed(" −3.5 ")`, `-3.5`},
		{`zorvel.numbers.typed("")`, `null`},
		{`zorvel.numbers.typed("  ") === undefined`, `true`},
		{`zorvel.numbers.typed(".5")`, `0.5`},
		{`zorvel.numbers.typed("5.")`, `5`},
		{`["1 3/8", "1-3/8", "1⅜", "11/8", " 1 3 / 8"].map(zorvel.numbers.typed).join()`, `"1.375,1.375,1.375,1.375,1.375"`},
		{`["-3/4", "−¾", "½"].map(zorvel.numbers.typed).join()`, `"-0.75,-0.75,0.5"`},
		{`["3/0", "/4", "3/", "1 2 3/4", "3/4/5"].every(s => Number.isNaN(zorvel.numbers.typed(s)))`, `true`},
		{`["four", "1e3", "1,2,3", "4.1.0", "0x10", "4 1", "--1", "Infinity"].every(s => Number.isNaN(zorvel.numbers.typed(s)))`, `true`},
		{`zorvel.numbers.fixed(-4.126, 2)`, `"−4.13"`},
		{`zorvel.numbers.change(0.04)`, `"0.0 %"`},
		{`zorvel.numbers.change(-0.04)`, `"0.0 %"`},
		{`zorvel.numbers.change(2.26)`, `"+2.3 %"`},
		{`zorvel.numbers.change(-2.26)`, `"−2.3 %"`},
		{`zorvel.numbers.toMM(1, "inch")`, `25.4`},
		{`zorvel.numbers.toMM(1, "metric")`, `1`},
		{`zorvel.numbers.toKMH(60, "inch")`, `96.561`},
		{`zorvel.numbers.teethPair([{member: "ring", count: 41}, {member: "pinion", count: 10}])`, `"41 : 10"`},
		{`zorvel.csv.csvText([["a", "b;c"], ["1,5", 'say "x"']])`, `"a,b;c\r\n\"1,5\",\"say \"\"x\"\"\"\r\n"`},
	} {
		says(p, c.js, c.want)
	}
	// No chance short of certain is told as certain, and none as a hundred percent.
	says(p, `Array.from({length: 2000}, (_, i) => i / 2000).concat([0.9999, 0.99999, 0.9999999]).filter(x => /100(\.0+)? %/.test(zorvel.numbers.percent(x)))`, `[]`)
	says(p, `Array.from({length: 998}, (_, i) => i / 1000).filter(x => zorvel.numbers.chance(x) === "practically certain" || /10 in 10|NaN|Infinity/.test(zorvel.numbers.chance(x)))`, `[]`)
	// What is told in inches and miles is what is read from them.
	says(p, `Array.from({length: 4000}, (_, i) => (i + 1) / 100).filter(x => Math.abs(zorvel.numbers.fromMM(zorvel.numbers.toMM(x, "inch"), "inch") - x) > 0.00002)`, `[]`)
	says(p, `Array.from({length: 2000}, (_, i) => i + 1).filter(x => zorvel.numbers.typed(zorvel.numbers.fixed(-x / 8, 3)) !== -x / 8)`, `[]`)
}

// A draft of each method: what it reads as, what is missing, what is no number.
func TestBrowserDrafts(t *testing.T) {
	p := modules(t)
	read := func(method, draft, units string) string {
		return fmt.Sprintf(`zorvel.identify.readDraft(%q, {...zorvel.draft.blankDraft, ...%s}, ["ring", "pinion"], %q)`, method, draft, units)
	}
	shaft := func(s string) string { return `{...zorvel.draft.blankDraft.shaft, ...` + s + `}` }
	for _, c := range []struct{ method, draft, units, want string }{
		{"tag", `{text: "4.10"}`, "metric", `{"method":"tag","text":"4.10"}`},
		{"stamp", `{text: "41-10"}`, "metric", `{"method":"stamp","text":"41-10"}`},
		{"teeth", `{teeth: {ring: "41", pinion: " ", other: "7"}}`, "metric", `{"method":"teeth","teeth":{"ring":41}}`},
		{"turns", `{other: "seen", shaft: ` + shaft(`{whole: "4", fraction: 0.1}`) + `}`, "metric",
			`{"method":"turns","turns":{"left":{"turns":1,"seen":true},"right":{"turns":1,"seen":true},"shaft":{"whole":4,"remainder":{"by":"eye","fraction":0.1,"short":false}}}}`},
		{"turns", `{other: "seen", shaft: ` + shaft(`{whole: "3 3/4"}`) + `}`, "metric",
			`{"method":"turns","turns":{"left":{"turns":1,"seen":true},"right":{"turns":1,"seen":true},"shaft":{"whole":3,"remainder":{"by":"quarter","fraction":0.75,"short":false}}}}`},
		{"turns", `{wheels: "one", wheelTurns: "2", other: "assumed", shaft: ` + shaft(`{whole: "4", fraction: 0.25, short: true}`) + `}`, "metric",
			`{"method":"turns","turns":{"left":{"turns":2,"seen":true},"right":{"turns":0,"seen":false},"shaft":{"whole":4,"remainder":{"by":"quarter","fraction":0.25,"short":true}}}}`},
		{"turns", `{wheels: "each", left: "2", right: "−1,5", shaft: ` + shaft(`{how: "words", words: "4 and a bit"}`) + `}`, "metric",
			`{"method":"turns","turns":{"left":{"turns":2,"seen":true},"right":{"turns":-1.5,"seen":true},"shaft":{"words":"4 and a bit"}}}`},
		{"bench", `{output: "2", outputs: "one_held", shaft: ` + shaft(`{whole: "8"}`) + `}`, "metric",
			`{"method":"bench","bench":{"output_turns":2,"outputs":"one_held","shaft":{"whole":8,"remainder":{"by":"none"}}}}`},
		{"bench", `{shaft: ` + shaft(`{whole: "4", how: "arc", arc: "2", rim: "15", rimIs: "diameter"}`) + `}`, "inch",
			`{"method":"bench","bench":{"output_turns":1,"outputs":"single","shaft":{"whole":4,"remainder":{"by":"arc","arc_mm":50.8,"rim_mm":381,"rim_is":"diameter","short":false}}}}`},
		{"road", `{rpm: "2000", speed: "60", rolling: "90", others: ["1", ""], converter: "clutch"}`, "inch",
			`{"method":"road","road":{"rpm":2000,"speed_kmh":96.561,"rolling_mm":2286,"others":[1],"converter":"clutch"}}`},
	} {
		says(p, read(c.method, c.draft, c.units)+".reading", c.want)
	}
	for _, c := range []struct{ method, draft, missing, wrong string }{
		{"tag", `{text: " "}`, `["text"]`, `[]`},
		{"stamp", `{}`, `["text"]`, `[]`},
		{"teeth", `{}`, `["teeth"]`, `[]`},
		{"teeth", `{teeth: {ring: "41.5"}}`, `[]`, `["teeth/ring"]`},
		{"teeth", `{teeth: {ring: "forty"}}`, `[]`, `["teeth/ring"]`},
		{"teeth", `{teeth: {ring: "12345678"}}`, `[]`, `["teeth/ring"]`},
		{"turns", `{}`, `["turns/right/seen","turns/shaft/whole"]`, `[]`},
		{"turns", `{wheels: "each"}`, `["turns/left/turns","turns/right/turns","turns/shaft/whole"]`, `[]`},
		{"turns", `{other: "seen", shaft: ` + shaft(`{how: "words"}`) + `}`, `["turns/shaft/words"]`, `[]`},
		{"bench", `{output: "x", shaft: ` + shaft(`{whole: "4", how: "arc", arc: "", rim: "1o"}`) + `}`, `["bench/shaft/remainder/arc_mm"]`, `["bench/output_turns","bench/shaft/remainder/rim_mm"]`},
		{"road", `{}`, `["road/rolling_mm","road/rpm","road/speed_kmh"]`, `[]`},
	} {
		js := read(c.method, c.draft, "metric")
		says(p, "Object.keys("+js+".missing).sort()", c.missing)
		says(p, "Object.keys("+js+".notNumbers).sort()", c.wrong)
		says(p, js+".reading === undefined", "true")
	}
	// Every method that fits a kind has steps, the first with its caution where hands go in.
	says(p, `["ring_and_pinion", "two_stage", "transfer_case", "gearbox", "planetary", "hub", "gearcase", "gear_pair", "chain_pair"].flatMap(k =>
		zorvel.identify.methodsFor(k).filter(m => zorvel.identify.stepsFor(m, k, true).length < 3 || (m !== "tag" && !zorvel.identify.stepsFor(m, k, false).some(s => s.caution))).map(m => k + " " + m))`, `[]`)
}

// A recorded question goes back into its fields, and out again as it was.
func TestBrowserFormsComeBack(t *testing.T) {
	p := modules(t)
	for _, form := range []string{
		`{}`,
		`{ring: "41", pinion: "10", pressure: "20", spiral: "35", ring_side: "left", unit: "in", box: "0.004 x 3", most: "2", family: "Brannik 240"}`,
		`{ring: "47", pinion: "9", bearings: "used", spacing: "nuts", depth_mark: "+2", seal_drag: "0.3", arm: "190,5", trials: [{...zorvel.setup.noTrial, pinion: "0.030", left: "0.100 + 0.020", backlash: "0.15 0.16", sure: true, drive: {along: 0.2, up: 0.4}}]}`,
	} {
		js := `zorvel.setup.axleOf({...zorvel.setup.noForm, ...` + form + `})`
		says(p, `JSON.stringify(zorvel.setup.axleOf(zorvel.setup.formOf(`+js+`))) === JSON.stringify(`+js+`)`, "true")
	}
	for _, form := range []string{
		`{}`,
		`{stamp: "P+2 F-1", unit: "0.01mm", convention: "add", box: "0.05 x 4, 0.1", most: "3", by: "F", gearStamp: "+1", places: [{id: "P", name: "Pinion", nominal: "1,20", thicker: "farther", tol: "0.02"}]}`,
	} {
		js := `zorvel.gearcase.shimsOf({...zorvel.gearcase.noForm, ...` + form + `})`
		says(p, `JSON.stringify(zorvel.gearcase.shimsOf({...zorvel.gearcase.noForm, ...zorvel.gearcase.formOf(`+js+`)})) === JSON.stringify(`+js+`)`, "true")
	}
	// Lengths in inches come back as they were typed, to a hundred-thousandth.
	says(p, `Array.from({length: 500}, (_, i) => ((i + 1) * 7 / 1e5).toFixed(5)).filter(x => {
		const f = {...zorvel.gearcase.noForm, forward: {...zorvel.gearcase.noForm.forward, unit: "in", thicker: "farther", low: x, high: x, arm: "1.25", assemblies: [{shim: x + " + 0.01", readings: x + " " + x}]}};
		const back = zorvel.gearcase.playFrom(zorvel.gearcase.playOf(f));
		return Number(back.low) !== Number(x) || Number(back.assemblies[0].readings.split(" ")[1]) !== Number(x) || Number(back.assemblies[0].shim.split(" + ")[0]) !== Number(x);
	})`, `[]`)
}

// What was typed at a bench, as the question that is sent.
func TestBrowserQuestions(t *testing.T) {
	p := modules(t)
	for _, c := range []struct{ js, want string }{
		{`zorvel.tire.tireOf({...zorvel.tire.noTire, marking: " 31x10.50R15 ", rollout: "88,5", turns: "3.4", revs: "650", mass: "x"}, "inch")`,
			`{"marking":"31x10.50R15","rollout_mm":"2247.9","rollout_turns":3,"revs_per_mile":"650","mass_kg":-1000000000}`},
		{`zorvel.tire.tireOf(zorvel.tire.noTire, "metric")`, `{}`},
		{`zorvel.regear.requestOf({...zorvel.regear.noForm, plain: {...zorvel.regear.noForm.plain, gears: "4,02 2.32; 1 -3.8", low: "2.72", rear: "41-10", front: "4.10"}}, undefined, "metric").plain`,
			`{"gears":[{"name":"1","ratio":"4.02"},{"name":"2","ratio":"2.32"},{"name":"3","ratio":"1"},{"name":"R","ratio":"-3.8"}],"ranges":[{"name":"high","ratio":"1"},{"name":"low","ratio":"2.72"}],"rear":{"ring":41,"pinion":10},"front":{"ratio":"4.10"},"center":"part_time"}`},
		{`zorvel.regear.requestOf({...zorvel.regear.noForm, torque: "1500:200; 3000 250, x"}, undefined, "metric").torque`,
			`[{"rpm":1500,"nm":200},{"rpm":3000,"nm":250},{"rpm":-1000000000,"nm":-1}]`},
		{`zorvel.changegear.pairOf("24", "21")`, `{"input":24,"pinion":21}`},
		{`zorvel.changegear.pairOf("", "") === undefined`, `true`},
		{`zorvel.changegear.pairOf("24.5", "")`, `{"input":-1,"pinion":0}`},
		{`zorvel.changegear.baseOf({...zorvel.changegear.noForm, base: "4,86", gears: "2.9 1,9", shelf: "24-21, 23/22"}, "metric").shelf`,
			`[{"id":"1","name":"1","teeth":[24,21]},{"id":"2","name":"2","teeth":[23,22]}]`},
		{`zorvel.speedo.gearsOf({...zorvel.speedo.noForm, drives: "7", drivens: "18-20 22"}, {}, "metric").mechanical.driven`,
			`[{"teeth":18},{"teeth":19},{"teeth":20},{"teeth":22}]`},
		{`zorvel.speedo.gearsOf({...zorvel.speedo.noForm, drivens: "1-99999"}, {}, "metric").mechanical.driven.length <= 100`, `true`},
		{`zorvel.speedo.pulsesInIt({...zorvel.speedo.noForm, calPer: "mile", calibrated: "8000"})`, `"4970.969538"`},
		{`zorvel.speedo.pulsesInIt({...zorvel.speedo.noForm, calPer: "km", calibrated: "5000,5"})`, `"5000.5"`},
		{`Math.abs(zorvel.speedo.milesPerGallon(zorvel.speedo.milesPerGallon(23.5)) - 23.5) < 1e-9`, `true`},
	} {
		says(p, c.js, c.want)
	}
}

// A state travels in a link whatever stands in it; what is no state is none.
func TestBrowserStateLinks(t *testing.T) {
	p := modules(t)
	for _, s := range []string{`{}`, `{"input":{"turns":"1"},"select":{"tc.range":"low"}}`, `{"wheels":{"wheel_1":"gepäck ⚙ 🛠"},"losses":true}`} {
		says(p, `zorvel.driveline.unpackState(zorvel.driveline.packState(`+s+`))`, s)
		says(p, `/^[A-Za-z0-9_-]*$/.test(zorvel.driveline.packState(`+s+`))`, "true")
	}
	for _, s := range []string{`null`, `""`, `"%%%"`, `"AAAA"`, `btoa("7")`, `btoa("null")`, `"e30"+"e30"`} {
		says(p, `zorvel.driveline.unpackState(`+s+`) === undefined`, "true")
	}
	// Leaving a position takes along what needed it.
	says(p, `zorvel.driveline.select({}, {selectors: [
		{id: "range", value: "low", options: [{value: "high"}, {value: "low", needs: [{selector: "front", value: "in"}]}]},
		{id: "front", value: "in", options: [{value: "in"}, {value: "out"}]}]}, "front", "out").select`, `{"front":"out","range":"high"}`)
	says(p, `zorvel.driveline.select({}, {selectors: [
		{id: "range", value: "high", options: [{value: "high"}, {value: "low", needs: [{selector: "front", value: "in"}]}]},
		{id: "front", value: "out", options: [{value: "in"}, {value: "out"}]}]}, "range", "low").select`, `{"range":"low","front":"in"}`)
	says(p, `zorvel.driveline.exactText({num: -41, den: 10, decimal: -4.1})`, `"−41/10"`)
	says(p, `zorvel.driveline.exactText({num: 123456789, den: 1234567, decimal: 100.0000})`, `"≈ 100.0000"`)
}

// Whatever layout is drawn, its parts lie within the drawing, none twice in a place.
func TestBrowserPlacesEveryLayout(t *testing.T) {
	p := modules(t)
	for _, l := range driveline.Layouts() {
		doc, err := json.Marshal(l.Document)
		if err != nil {
			t.Fatal(err)
		}
		b, err := json.Marshal(told(p, `zorvel.place.placeParts(`+string(doc)+`)`))
		if err != nil {
			t.Fatal(err)
		}
		var plan struct {
			Boxes []struct {
				Part       string
				X, Y, W, H float64
			}
			Spots []struct {
				Part string
				X, Y float64
			}
			Rods []struct{ X1, Y1, X2, Y2 float64 }
			W, H float64
		}
		if strings.Contains(string(b), "null") { // NaN and infinity are null in JSON
			t.Errorf("%s: somewhere no number: %s", l.ID, b)
		}
		if err := json.Unmarshal(b, &plan); err != nil {
			t.Fatal(err)
		}
		drawn := map[string]bool{}
		for _, x := range plan.Boxes {
			drawn[x.Part] = true
			if x.W <= 0 || x.H <= 0 || x.X < 0 || x.Y < 0 || x.X+x.W > plan.W || x.Y+x.H > plan.H {
				t.Errorf("%s: %s lies at %v in %v × %v", l.ID, x.Part, x, plan.W, plan.H)
			}
		}
		at := map[[2]float64]string{}
		for _, s := range plan.Spots {
			drawn[s.Part] = true
			if other := at[[2]float64{s.X, s.Y}]; other != "" {
				t.Errorf("%s: %s and %s have one name's place", l.ID, other, s.Part)
			}
			at[[2]float64{s.X, s.Y}] = s.Part
		}
		for _, r := range plan.Rods {
			if math.Max(r.X1, r.X2) > plan.W || math.Min(r.X1, r.X2) < 0 {
				t.Errorf("%s: a shaft leaves the drawing: %v", l.ID, r)
			}
		}
		if len(drawn) == 0 || plan.W <= 0 || plan.H <= 0 {
			t.Errorf("%s: nothing is drawn", l.ID)
		}
	}
}

// Every kind of part has its file in the browser too, and a form whose fields the core
// knows: what is entered there is a document that the core reads.
func TestBrowserKindsOfPart(t *testing.T) {
	p := modules(t)
	want := driveline.PartKinds()
	slices.Sort(want)
	b, err := json.Marshal(want)
	if err != nil {
		t.Fatal(err)
	}
	says(p, `Object.keys(zorvel.parts.kinds).sort()`, string(b))
	// Each field of each kind, filled in by itself with something that it takes.
	const filled = `Object.values(zorvel.parts.kinds).flatMap(k => (k.fields ?? []).map(f => zorvel.fields.setField(
		{ id: "part", kind: k.kind }, f.path, { teeth: 40, figure: "1.5", number: 5, yes: true }[f.type] ?? f.options.at(-1).value)))`
	list, ok := told(p, filled).([]any)
	if !ok || len(list) < 60 {
		t.Fatalf("%d fields", len(list))
	}
	for _, x := range list {
		text, err := json.Marshal(x)
		if err != nil {
			t.Fatal(err)
		}
		var e *fault.Error
		var all fault.Errors
		// A figure by itself may ask for its mate; what it may not be is unknown.
		if _, err := driveline.ParsePart(text); err != nil && (!errors.As(err, &e) && !errors.As(err, &all) ||
			strings.Contains(err.Error(), "not known here") ||
			strings.Contains(err.Error(), "can't stand here")) {
			t.Errorf("%s: %v", text, err)
		}
	}
	for _, c := range []struct{ js, want string }{
		{`zorvel.parts.tidy({id: "a", kind: "axle", axle: {differential: {type: "open", slip: "helical", bias: "3"}}}).axle`, `{"differential":{"type":"open"}}`},
		{`zorvel.parts.tidy({id: "a", kind: "axle", axle: {differential: {type: "limited_slip", slip: "helical", bias: "3"}}}).axle.differential.bias`, `"3"`},
		{`zorvel.parts.tidy({id: "c", kind: "transfer_case", transfer_case: {center: {type: "part_time", rear_only: true}}}).transfer_case.center`, `{"type":"part_time"}`},
		{`zorvel.fields.setField({id: "a", kind: "axle", axle: {second: {sun: 3}}}, "second.sun", undefined).axle`, `{"second":{}}`},
		{`zorvel.parts.measurable({id: "g", kind: "gearbox", gearbox: {arrangement: "countershaft", gears: []}}, "1")`, `false`},
		{`zorvel.parts.measurable({id: "h", kind: "hub"}, "ratio")`, `true`},
		{`zorvel.numbers.decimalOf("41/10")`, `"4.1"`},
		{`zorvel.numbers.decimalOf("-7/3")`, `"−2.333"`},
	} {
		says(p, c.js, c.want)
	}
}

// A page that shows an answer keeps it, and what was typed beside it, when the server
// can't answer once more; rights that are gone take it off.
func TestBrowserBlocking(t *testing.T) {
	p := modules(t)
	const box = "const no = status => new zorvel.Refused(status, 'no', []); const stops = (...q) => zorvel.blocking(...q) !== null;"
	for _, c := range []struct{ js, want string }{
		{`stops({data: undefined, error: null})`, `false`},
		{`stops({data: {}, error: null})`, `false`},
		{`stops({data: undefined, error: no(503)})`, `true`},
		{`[429, 500, 503].map(s => stops({data: {}, error: no(s)}))`, `[false, false, false]`},
		{`[401, 403, 404].map(s => stops({data: {}, error: no(s)}))`, `[true, true, true]`},
		{`stops({data: {}, error: new TypeError("no network")})`, `false`},
		{`stops({data: {}, error: null}, {data: undefined, error: new TypeError("no network")})`, `true`},
	} {
		says(p, "(() => { "+box+" return "+c.js+"; })()", c.want)
	}
}

// What waits on the device goes out in order at its place, and holds up nothing elsewhere.
func TestBrowserQueue(t *testing.T) {
	p := modules(t)
	const box = `
		const line = (key, at, job, more) => ({key, at, person: 7, says: key, page: "/", post: {to: "line", job, line: {key}}, ...more});
		const photo = (key, at, more) => ({key, at, person: 7, says: key, page: "/", post: {to: "photo", unit: 1, photo: {key}}, ...more});
		const next = (list, more) => zorvel.queue.next(list.sort(zorvel.queue.order), {person: 7, now: 1000, held: new Set(), asked: new Set(), ...more})?.key;
	`
	for _, c := range []struct{ js, want string }{
		{`next([])`, `null`},
		{`next([line("b", "2", 1), line("a", "1", 1)])`, `"a"`},
		{`next([line("b", "1", 1), line("a", "1", 1)])`, `"a"`},
		// Nobody sends what isn't theirs, nor before they signed in.
		{`next([line("a", "1", 1)], {person: 8})`, `null`},
		{`next([line("a", "1", 1)], {person: undefined})`, `null`},
		{`next([line("a", "1", 1, {person: 0}), line("b", "2", 1)])`, `"b"`},
		// What was refused waits for a person, and nothing behind it waits for that.
		{`next([line("a", "1", 1, {refused: "no"}), line("b", "2", 1)])`, `"b"`},
		// What was tried in vain waits for its time, with all that is behind it at its place alone.
		{`next([line("a", "1", 1, {next: 1001}), line("b", "2", 1), line("c", "3", 2)])`, `"c"`},
		{`next([line("a", "1", 1, {next: 1000}), line("b", "2", 1)])`, `"a"`},
		{`next([line("a", "1", 1), line("c", "2", 2)], {held: new Set(["job 1"])})`, `"c"`},
		{`next([line("a", "1", 1)], {held: new Set(["job 1"])})`, `null`},
		// Whoever waits for an answer has what stands before it tried at once.
		{`next([line("a", "1", 1, {next: 9999}), line("b", "2", 1)], {asked: new Set(["b"])})`, `"a"`},
		{`next([line("a", "1", 1, {next: 9999}), line("b", "2", 1)], {asked: new Set(["b"]), held: new Set(["job 1"])})`, `null`},
		// Each photo is a place by itself.
		{`next([photo("a", "1", {next: 9999}), photo("b", "2")])`, `"b"`},
		// Longer each time, up to five minutes.
		{`[1, 2, 3, 7, 8, 500].map(n => zorvel.queue.inVain(line("a", "1", 1, {tries: n - 1}), "away", 1000).next - 1000)`,
			`[4000, 8000, 16000, 256000, 300000, 300000]`},
		{`(({tries, because}) => [tries, because])(zorvel.queue.inVain(line("a", "1", 1), "away", 0))`, `[1, "away"]`},
		{`zorvel.queue.fresh(zorvel.queue.inVain(line("a", "1", 1, {refused: "no"}), "away", 0))`,
			`{"key":"a","at":"1","person":7,"says":"a","page":"/","post":{"to":"line","job":1,"line":{"key":"a"}}}`},
		// Whatever waits where: all of it goes out, each place in order, within as many tries.
		{`Array.from({length: 200}, (_, seed) => {
			const r = n => (seed = (seed * 48271 + 11) % 2147483647) % n;
			const all = Array.from({length: r(12)}, (_, i) => line("k" + i, String(r(9)), r(3), {next: r(2) ? r(2000) : undefined}));
			const out = [];
			let list = [...all].sort(zorvel.queue.order), now = 0;
			for (let tries = 0; list.length && tries < 3000; tries++) {
				const key = next(list, {now});
				if (key === undefined) { now++; continue; }
				out.push(list.find(w => w.key === key));
				list = list.filter(w => w.key !== key);
			}
			return out.length === all.length && [0, 1, 2].every(job => {
				const of = out.filter(w => w.post.job === job);
				return of.every((w, i) => i === 0 || zorvel.queue.order(of[i - 1], w) < 0);
			});
		}).every(Boolean)`, `true`},
	} {
		says(p, `(() => {`+box+` return `+c.js+`})()`, c.want)
	}
}

// One angle turns the whole drawing.
func TestBrowserSpin(t *testing.T) {
	p := modules(t)
	// By hand: whoever watches sees where it stands at once, then each turn; nothing once it looked away.
	says(p, `(() => {
		const seen = [], other = [];
		const end = zorvel.spin.watch(t => seen.push(t));
		zorvel.spin.nudge(0.25);
		const late = zorvel.spin.watch(t => other.push(t));
		zorvel.spin.nudge(-1);
		end();
		zorvel.spin.nudge(1);
		late();
		zorvel.spin.nudge(-0.25);
		return [seen, other];
	})()`, `[[0, 0.25, -0.75], [0.25, -0.75, 0.25]]`)
	// By itself: as fast as it was told, never farther at once than a tenth of a second goes; then it stands.
	eval[bool](p, `(() => {
		window.frames_ = []; window.now_ = 5000;
		window.requestAnimationFrame = f => { window.due_ = f; return 1; };
		performance.now = () => window.now_;
		window.frame_ = ms => { const f = window.due_; window.due_ = undefined; f?.(window.now_ += ms); };
		window.end_ = zorvel.spin.watch(t => window.frames_.push(Math.round(t * 1e6) / 1e6));
		return true;
	})()`)
	says(p, `(() => {
		zorvel.spin.setSpin(2); frame_(50); frame_(50); frame_(60000);
		zorvel.spin.setSpin(-1); frame_(100);
		zorvel.spin.setSpin(0); frame_(100);
		const still = window.due_ === undefined;
		zorvel.spin.setSpin(1); window.due_ = window.due_ ?? (() => frames_.push("asleep")); frame_(10);
		end_(); zorvel.spin.setSpin(0); frame_(10);
		return [still, frames_];
	})()`, `[true, [0, 0.1, 0.2, 0.4, 0.3, 0.3, 0.31]]`)
}

// A film's pictures are told apart by where each ends, and a recording is cut at a moment.
func TestBrowserRecordings(t *testing.T) {
	p := modules(t)
	for _, c := range []struct{ js, want string }{
		{`zorvel.jpegs(new Uint8Array([255,216,1,255,217,255,216,2,3,255,217,9])).map(j => j.length)`, `[5, 6]`},
		{`zorvel.jpegs(new Uint8Array([])).length`, `0`},
		{`zorvel.jpegs(new Uint8Array([255])).length`, `0`},
		{`zorvel.until({sources: [{shaft: "left", marks: 1, times: [1, 2, 3], ways: [1, 1, -1]}]}, 2).sources[0].times`, `[1, 2]`},
		{`zorvel.until({sources: [{shaft: "left", marks: 1, times: [1, 2, 3], ways: [1, 1, -1]}]}, 2.5).sources[0].ways`, `[1, 1]`},
		{`zorvel.until({sources: [{shaft: "left", times: [1, 2], degrees: [10, 20]}]}, 1).sources[0].degrees`, `[10]`},
		{`zorvel.until({sources: [{shaft: "left", motion: [{at: 1}, {at: 4}]}]}, 3).sources[0].motion.length`, `1`},
		{`zorvel.until({sources: []}, 3).sources.length`, `0`},
	} {
		says(p, c.js, c.want)
	}
}
