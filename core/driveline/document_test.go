package driveline_test

import (
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/linetest"
	"zorvel/core/driveline/trace"
	"zorvel/core/exact"
	"zorvel/core/fault"
)

func first(err error) (string, string) {
	var list fault.Errors
	var one *fault.Error
	if errors.As(err, &list) {
		return list[0].Field, list[0].Message
	}
	if errors.As(err, &one) {
		return one.Field, one.Message
	}
	return "no fault", fmt.Sprint(err)
}

// Broken documents are refused at the field, with what would be right.
func TestBrokenDocuments(t *testing.T) {
	doc := func(parts string) string {
		return `{"format":"zorvel-driveline-1","lies":"vehicle","parts":[` + parts + `]}`
	}
	engine := `{"id":"engine","kind":"engine"}`
	many := engine
	for i := range 10000 {
		many += fmt.Sprintf(`,{"id":"s%d","kind":"shaft","from":"engine"}`, i)
	}
	for _, c := range []struct{ text, field, says string }{
		{`{`, "", "can't be read"},
		{`[]`, "", "can't stand here"},
		{doc(engine) + " x", "", "something follows"},
		{`{"format":"other","lies":"vehicle","parts":[` + engine + `]}`, "format", "zorvel-driveline-1"},
		{`{"format":"zorvel-driveline-1","lies":"hill","parts":[` + engine + `]}`, "lies", "vehicle"},
		{doc(""), "parts", "at least one"},
		{doc(many), "parts", "at most 200 parts; this has 10001"},
		{doc(`{"id":"engine","kind":"engine","color":"red"}`), "color", "not known"},
		{doc(`{"id":"a b","kind":"engine"}`), "parts/0/id", "short name"},
		{doc(`{"id":"engine","kind":"flywheel"}`), "parts/0/kind", "choose one of"},
		{doc(engine + `,{"id":"engine","kind":"shaft","from":"engine"}`), "parts/1/id", "already"},
		{doc(engine + `,{"id":"s","kind":"shaft","from":"gone"}`), "parts/1/from", `no part "gone"`},
		{doc(engine + `,{"id":"s","kind":"shaft","from":"engine.rear"}`), "parts/1/from", "one output"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"differential":{"type":"open"}}},{"id":"w","kind":"wheel","from":"a.middle"}`), "parts/2/from", "a.left and a.right"},
		{doc(engine + `,{"id":"p","kind":"propeller","from":"engine"},{"id":"q","kind":"shaft","from":"p"}`), "parts/2/from", "no output"},
		{doc(engine + `,{"id":"s","kind":"shaft","from":"engine"},{"id":"r","kind":"shaft","from":"engine"}`), "parts/2/from", "feeds the S already"},
		{doc(engine + `,{"id":"s","kind":"shaft"}`), "parts/1/from", "only one part"},
		{doc(engine + `,{"id":"s","kind":"shaft","from":"r"},{"id":"r","kind":"shaft","from":"s"}`), "parts/1/from", "feeds itself"},
		{doc(`{"id":"s","kind":"shaft","from":"r"},{"id":"r","kind":"shaft","from":"s"}`), "parts", "loop"},
		{doc(`{"id":"w","kind":"wheel"}`), "parts/0/from", "which output drives"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"ring":41,"pinion":0,"differential":{"type":"open"}}}`), "parts/1/axle/pinion", "1 to 2000 teeth"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"ring":-3,"pinion":10,"differential":{"type":"open"}}}`), "parts/1/axle/ring", "teeth"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"ratio":"-4.1","differential":{"type":"open"}}}`), "parts/1/axle/ratio", "above zero"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"ratio":"9999","differential":{"type":"open"}}}`), "parts/1/axle/ratio", "between"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"ratio":"x","differential":{"type":"open"}}}`), "", "41/10"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"differential":{"type":"magic"}}}`), "parts/1/axle/differential/type", "open, limited_slip"},
		{doc(engine + `,{"id":"a","kind":"axle","from":"engine","axle":{"differential":{"type":"open"}},"wheel":{}}`), "parts/1/wheel", "does not belong"},
		{doc(engine + `,{"id":"g","kind":"gearbox","from":"engine","gearbox":{"arrangement":"ratios","gears":[]}}`), "parts/1/gearbox/gears", "1 to 40"},
		{doc(engine + `,{"id":"g","kind":"gearbox","from":"engine","gearbox":{"arrangement":"ratios","gears":[{"name":"1"},{"name":"1"}]}}`), "parts/1/gearbox/gears/1/name", "already"},
		{doc(engine + `,{"id":"g","kind":"gearbox","from":"engine","gearbox":{"arrangement":"ratios","gears":[{"name":"N"}]}}`), "parts/1/gearbox/gears/0/name", "neutral"},
		{doc(engine + `,{"id":"p","kind":"planetary","from":"engine","planetary":{"sun":60,"ring":30}}`), "parts/1/planetary/ring", "more teeth"},
		{doc(engine + `,{"id":"p","kind":"planetary","from":"engine","planetary":{"sun":30,"ring":60,"input":"sun","output":"sun","held":"ring"}}`), "parts/1/planetary/held", "the third drives on"},
		{doc(engine + `,{"id":"c","kind":"transfer_case","from":"engine","transfer_case":{"range":{"type":"none"},"center":{"type":"part_time"},"front":{"type":"chain"},"low_needs_lock":true}}`), "parts/1/transfer_case/low_needs_lock", "no low range"},
		{doc(engine + `,{"id":"g","kind":"gearcase","from":"engine","gearcase":{"twin":true,"shift":true}}`), "parts/1/gearcase/shift", "both gears drive"},
		{doc(engine + `,{"id":"w","kind":"wheel","from":"engine","wheel":{"rolling_mm":"3"}}`), "parts/1/wheel/rolling_mm", "200 and 10,000"},
		{doc(`{"id":"engine","kind":"engine","mounting":"sideways"}`), "parts/0/mounting", "turned_over"},
		{doc(`{"id":"engine","kind":"engine","sources":{"ratio":{"kind":"guess"}}}`), "parts/0/sources/ratio/kind", "measured"},
		{`{"format":"zorvel-driveline-1","lies":"vehicle","body":{"track_mm":5},"parts":[` + engine + `]}`, "body/track_mm", "from 300"},
	} {
		_, err := driveline.Parse([]byte(c.text))
		field, says := first(err)
		if field != c.field || !strings.Contains(says, c.says) {
			text := c.text
			if len(text) > 200 {
				text = text[:200] + "…"
			}
			t.Errorf("%s\n  refused at %q: %s\n  want %q: …%s…", text, field, says, c.field, c.says)
		}
	}
}

func TestBrokenStates(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	for field, s := range map[string]driveline.State{
		"state/select/gearbox":   {Select: linetest.Set("gearbox", "9")},
		"state/select/nothing":   {Select: linetest.Set("nothing", "1")},
		"state/wheels/gearbox":   {Wheels: linetest.Set("gearbox", "lifted")},
		"state/wheels/rear_left": {Wheels: linetest.Set("rear_left", "flying")},
		"state/hold":             {Hold: []string{"nobody"}},
		"state/broken":           {Broken: []string{"nobody"}},
		"state/input/shaft":      {Input: &driveline.Input{Shaft: "nobody"}},
		"state/input/rpm":        {Input: &driveline.Input{RPM: 1e9}},
		"state/input/turns":      {Input: &driveline.Input{Turns: exact.Figure{Number: exact.Int(1e9)}}},
		"state/engine":           {Engine: "hot"},
		"state/corner/toward":    {Corner: &driveline.Corner{RadiusM: 8, Toward: "up"}},
	} {
		_, err := trace.Run(d, s, trace.Want{})
		if got, says := first(err); got != field {
			t.Errorf("%s: refused at %q: %s", field, got, says)
		}
	}
}

func FuzzParse(f *testing.F) {
	for _, l := range driveline.Layouts() {
		b, err := json.Marshal(l.Document)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(b)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		d, err := driveline.Parse(data)
		if err != nil {
			if f, _ := first(err); f == "no fault" {
				t.Fatalf("an error that names no field: %v", err)
			}
			return
		}
		_, err = trace.Run(d, driveline.State{}, trace.Want{Gears: true, Tests: true})
		if f, _ := first(err); err != nil && f == "no fault" {
			t.Fatalf("a checked document does not run: %v", err)
		}
	})
}

// axleRatio is what an axle does in a driveline.
func axleRatio(d *driveline.Document, p *driveline.Part) (exact.Number, bool) {
	x := driveline.Build(d, &driveline.State{}).Passes(p)
	return x.Ratio, x.Known
}

func TestTake(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	p := linetest.Part(t, d, "rear")
	p.Take("ratio", driveline.Measured{Stage: 1, Construction: "pair", Teeth: map[string]int{"ring": 47, "pinion": 9},
		Ratio: exact.New(47, 9), State: "measured", Probability: 0.99})
	if p.Axle.Ring != 47 || p.Axle.Pinion != 9 || p.Sources["ratio"].Kind != "measured" || p.Sources["ratio"].Probability != 0.99 {
		t.Errorf("%+v %+v", p.Axle, p.Sources)
	}
	p.Take("ratio", driveline.Measured{Stage: 1, Construction: "pair_planetary",
		Teeth: map[string]int{"ring": 32, "pinion": 20, "sun": 32, "planet_ring": 56}, Ratio: exact.New(22, 5),
		State: "conflict"})
	if r, ok := axleRatio(d, p); !ok || !r.Equal(exact.New(22, 5)) || p.Sources["ratio"].Kind != "conflict" {
		t.Errorf("%v %+v", r, p.Sources)
	}
	p.Take("ratio", driveline.Measured{Stage: 1, Construction: "pair_pair", Ratio: exact.New(9, 2), State: "measured"})
	if r, ok := axleRatio(d, p); !ok || !r.Equal(exact.New(9, 2)) {
		t.Errorf("%v", r)
	}
	// Nothing measured: the figure stays and is called assumed, or unknown.
	p.Take("ratio", driveline.Measured{Stage: 1, State: "unknown"})
	if s := p.Sources["ratio"]; s.Kind != "assumed" || s.Stage != 1 {
		t.Errorf("%+v", s)
	}
	p.Axle.Ratio = exact.Figure{}
	p.Take("ratio", driveline.Measured{Stage: 1, State: "unknown"})
	if s := p.Sources["ratio"]; s.Kind != "unknown" {
		t.Errorf("%+v", s)
	}
	c := linetest.Part(t, d, "case")
	for _, m := range []struct {
		m    driveline.Measured
		name string
		want exact.Number
	}{
		{driveline.Measured{Construction: "cluster", Teeth: map[string]int{"input": 29, "counter": 40, "cluster": 24,
			"output": 45}, Ratio: exact.New(1800, 696)}, "low", exact.New(1800, 696)},
		{driveline.Measured{Construction: "planetary", Teeth: map[string]int{"sun": 28, "ring": 86},
			Ratio: exact.New(114, 28)}, "low", exact.New(114, 28)},
		{driveline.Measured{Construction: "pair", Teeth: map[string]int{"driven": 50, "drive": 20}, Ratio: exact.New(5, 2)},
			"low", exact.New(5, 2)},
		{driveline.Measured{Construction: "direct", Ratio: exact.Int(1)}, "high", exact.Int(1)},
		{driveline.Measured{Construction: "chain", Teeth: map[string]int{"driven": 36, "drive": 35},
			Ratio: exact.New(36, 35)}, "front", exact.New(36, 35)},
	} {
		m.m.Stage, m.m.State = 9, "measured"
		c.Take(m.name, m.m)
		x := driveline.Build(d, &driveline.State{Select: map[string]string{"case.range": m.name}}).Passes(c)
		got, ok := x.Ratio, x.Known
		if m.name == "front" {
			got, ok = c.Between().Drive, c.Between().Known
		}
		if !ok || !got.Equal(m.want) {
			t.Errorf("%s by %s: %v", m.name, m.m.Construction, got)
		}
	}
	// A listed reverse keeps its sign; a gearbox drawn in teeth keeps them.
	g := linetest.Part(t, linetest.Layout(t, "asymmetric"), "gearbox")
	g.Take("R", driveline.Measured{Stage: 7, Ratio: exact.New(24, 10), State: "measured"})
	if r := g.Gearbox.Gears[4].Ratio; r.String() != "-12/5" {
		t.Errorf("reverse %v", r)
	}
	box := linetest.Part(t, d, "gearbox")
	box.Take("1", driveline.Measured{Stage: 4, Ratio: exact.New(4, 1), State: "measured"})
	if box.Gearbox.Gears[0].Drive != 17 {
		t.Error("teeth were thrown away")
	}
	for kind, p := range map[string]driveline.Part{
		"hub":        {ID: "h", Kind: "hub", Hub: &driveline.Hub{Type: "planetary"}},
		"planetary":  {ID: "p", Kind: "planetary", Planetary: &driveline.Planetary{Input: "sun", Output: "carrier", Held: "ring"}},
		"gearcase":   {ID: "g", Kind: "gearcase", Gearcase: &driveline.Gearcase{}},
		"gear_pair":  {ID: "x", Kind: "gear_pair", GearPair: &driveline.GearPair{}},
		"chain_pair": {ID: "y", Kind: "gear_pair", GearPair: &driveline.GearPair{Mesh: "chain"}},
	} {
		m := driveline.Measured{Stage: 1, State: "measured", Construction: "planetary", Ratio: exact.Int(3),
			Teeth: map[string]int{"sun": 30, "ring": 60, "gear": 30, "pinion": 10, "driven": 30, "drive": 10}}
		p.Take("ratio", m)
		if !p.Known("ratio") || p.Sources["ratio"].Kind != "measured" {
			t.Errorf("%s did not take its ratio: %+v", kind, p.Sources)
		}
	}
}

func TestParsePart(t *testing.T) {
	p, err := driveline.ParsePart([]byte(`{"kind":"axle","axle":{"ring":41,"pinion":10,"differential":{"type":"open"}},"from":"x","sources":{"ratio":{"kind":"measured"}}}`))
	if err != nil || p.ID != "part" || p.From != "" || p.Sources != nil || p.Axle.RingSide != "left" {
		t.Errorf("%+v %v", p, err)
	}
	if _, err := driveline.ParsePart([]byte(`{"kind":"axle","axle":{"ring":0,"pinion":10}}`)); err == nil {
		t.Error("a ring without teeth was taken")
	}
	if _, err := driveline.ParsePart([]byte(`{"kind":"axle","nonsense":1}`)); err == nil {
		t.Error("an unknown property was taken")
	}
}
