package gearcase

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zorvel/core/backlash"
	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/shim"
)

var places = []Place{
	{ID: "P", Name: "Pinion", NominalMM: 0.5, Thicker: "away"},
	{ID: "F", Name: "Forward gear", NominalMM: 0.6, Thicker: "toward"},
	{ID: "R", Name: "Reverse gear", NominalMM: 0.4, Thicker: "away"},
}

func TestParseStamp(t *testing.T) {
	for text, want := range map[string]string{
		"P -3 F +1 R 0":  "[{P -3} {F 1} {R 0}] 0",
		"R0 F+1 P-3":     "[{R 0} {F 1} {P -3}] 0",
		"p−3, f：+1; r=0": "[{P -3} {F 1} {R 0}] 0",
		"P 3 F +1 R 0":   "[{F 1} {R 0}] 1",
		"P ? F +1 R 0":   "[{F 1} {R 0}] 1",
		"F +1":           "[{F 1}] 2",
		"":               "[] 3",
	} {
		m, asks, err := ParseStamp(text, places)
		if got := fmt.Sprintf("%v %d", m, len(asks)); err != nil || got != want {
			t.Errorf("%q: %s, %v, %v", text, got, asks, err)
		}
	}
	for _, text := range []string{"X +2", "P -3 P +3", "P -3 somewhere", "P +4000"} {
		if m, _, err := ParseStamp(text, places); err == nil {
			t.Errorf("%q was taken as %v", text, m)
		}
	}
}

func FuzzParseStamp(f *testing.F) {
	f.Add("P -3 F +1 R 0")
	f.Add("P ?")
	f.Fuzz(func(t *testing.T, text string) {
		marks, asks, err := ParseStamp(text, places)
		if err == nil && len(marks)+len(asks) < len(places) {
			t.Errorf("%q: %v, %v leave a gear out", text, marks, asks)
		}
	})
}

// Every convention and both senses of a shim, by hand: what is too near goes
// away, what is too far comes near.
func TestStampToShim(t *testing.T) {
	for _, c := range []struct {
		convention, thicker string
		value               int
		want                float64
		says                string
	}{
		{PlusNear, "away", 4, 0.54, "would sit 0.04 mm too near its mesh; a thicker shim here moves it away from it, so the shim gets 0.04 mm thicker: 0.54 mm"},
		{PlusNear, "toward", 4, 0.46, "0.04 mm too near its mesh; a thicker shim here moves it toward it, so the shim gets 0.04 mm thinner: 0.46 mm"},
		{PlusFar, "away", 3, 0.47, "0.03 mm too far from its mesh; a thicker shim here moves it away from it, so the shim gets 0.03 mm thinner"},
		{PlusFar, "toward", 3, 0.53, "0.03 mm too far from its mesh; a thicker shim here moves it toward it, so the shim gets 0.03 mm thicker"},
		{PlusThicker, "away", -3, 0.47, "too far from its mesh"},
		{PlusThinner, "away", -3, 0.53, "too near its mesh"},
		{PlusThicker, "toward", 0, 0.5, "the nominal shim of 0.5 mm stays"},
	} {
		q := Request{Stamp: fmt.Sprintf("P %+d", c.value), Unit: Hundredths, Convention: c.convention, Places: []Place{{ID: "P", Name: "Pinion", NominalMM: 0.5, Thicker: c.thicker}}}
		a, err := Work(q)
		if err != nil || len(a.Gears) != 1 {
			t.Fatalf("%+v: %v %+v", c, err, a)
		}
		if g := a.Gears[0]; math.Abs(g.WantMM-c.want) > 1e-9 || !strings.Contains(g.Sentence, c.says) {
			t.Errorf("%s, %s %+d: %v mm, %s", c.convention, c.thicker, c.value, g.WantMM, g.Sentence)
		}
	}
	q := Request{Stamp: "P +2", Unit: Thousandths, Convention: PlusThicker, Places: places[:1]}
	if a, err := Work(q); err != nil || math.Abs(a.Gears[0].WantMM-0.5508) > 1e-9 {
		t.Errorf("two thousandths: %+v %v", a, err)
	}
}

func TestStacksFromOneBox(t *testing.T) {
	q := Request{Stamp: "P -3 F +1 R 0", Unit: Hundredths, Convention: PlusThicker, Places: places, Box: "0.05 x2, 0.10 x4, 0.20 x4, 0.30 x2, 0.02 x3", Most: 4}
	a, err := Work(q)
	if err != nil {
		t.Fatal(err)
	}
	// 0.47, 0.61 and 0.40.
	total := map[float64]int{}
	for i, want := range []float64{0.47, 0.61, 0.40} {
		g := a.Gears[i]
		if math.Abs(g.WantMM-want) > 1e-9 || !g.Stack.Within || len(g.Stack.Pieces) > 4 {
			t.Errorf("%s: %+v", g.Name, g)
		}
		for _, z := range g.Stack.Pieces {
			total[z]++
		}
	}
	for _, s := range a.Box {
		if s.Left != s.Count-total[s.MM] || s.Left < 0 {
			t.Errorf("%v mm: %d of %d left, %d used", s.MM, s.Left, s.Count, total[s.MM])
		}
	}
	q.Box = "0.30 x1"
	if a, err = Work(q); err != nil || !strings.Contains(a.Sentence, "does not reach") || !strings.Contains(a.Gears[0].Text, "the closest") {
		t.Errorf("a short box: %+v %v", a, err)
	}
	q.Stamp = "P -300 F 1 R 0"
	if a, err = Work(q); err != nil || len(a.Asks) != 2 || len(a.Gears) != 1 {
		t.Errorf("asked %v, %v", a.Asks, err)
	}
}

// A forward gear of 27 with its pinion of 13: 0.656 of backlash per move. 0.40
// to the middle of 0.15 to 0.30: 0.175 less, a shim 0.267 thinner.
func TestFirstMove(t *testing.T) {
	b := Backlash{Gear: "forward gear", Mesh: backlash.Mesh{Teeth: 27, Mate: 13}, Thicker: "away", LowMM: 0.15,
		HighMM: 0.3, Assemblies: []Assembly{{ShimMM: 0.5, Readings: []float64{0.39, 0.41, 0.40}}}}
	v, err := Judge(b)
	if err != nil {
		t.Fatal(err)
	}
	if v.Done || v.NextMM == nil || math.Abs(*v.NextMM-0.2332) > 0.001 || math.Abs(*v.ExpectedMM-0.225) > 0.001 || !strings.Contains(v.Sentence, "toward its mesh: a shim of 0.233") {
		t.Errorf("%s %v", v.Sentence, v.NextMM)
	}
	// On an arm of 60 mm with the gear's pitch radius of 30 the dial shows twice.
	b.ArmMM, b.PitchMM, b.Assemblies[0].Readings = 60, 30, []float64{0.78, 0.82, 0.80}
	if v, err = Judge(b); err != nil || math.Abs(v.Measured[0].BacklashMM-0.4) > 1e-9 {
		t.Errorf("on the arm: %+v %v", v, err)
	}
	for name, c := range map[string]struct {
		change func(*Backlash)
		says   string
		done   bool
	}{
		"good":    {func(b *Backlash) { b.Assemblies = []Assembly{{ShimMM: 0.5, Readings: []float64{0.22, 0.23}}} }, "Good", true},
		"no play": {func(b *Backlash) { b.Assemblies = []Assembly{{ShimMM: 0.5, Readings: []float64{0, 0.05}}} }, "Too tight", false},
		"bent": {func(b *Backlash) { b.Assemblies = []Assembly{{ShimMM: 0.5, Readings: []float64{0.05, 0.45}}} },
			"Shims won't fix this", false},
		"wrong side": {func(b *Backlash) {
			b.Assemblies = []Assembly{{ShimMM: 0.5, Readings: []float64{0.4}}, {ShimMM: 0.4, Readings: []float64{0.47}}, {ShimMM: 0.3, Readings: []float64{0.54}}}
		}, "wrong way", false},
		"one wrong": {func(b *Backlash) {
			b.Assemblies = []Assembly{{ShimMM: 0.5, Readings: []float64{0.4}}, {ShimMM: 0.3, Readings: []float64{0.53}}}
		}, "The move went the wrong way", false},
		"short box": {func(b *Backlash) {
			b.Box = "0.50 x1, 2.0 x2"
			b.Assemblies = []Assembly{{ShimMM: 0.5, Readings: []float64{0.38}}}
		}, "Too loose: 0.38 mm, and the box has nothing better", false},
		"not seated": {func(b *Backlash) {
			b.Assemblies = []Assembly{{ShimMM: 0.5, Readings: []float64{0.4}}, {ShimMM: 0.3, Readings: []float64{0.4}}, {ShimMM: 0.1, Readings: []float64{0.39}}}
		}, "the backlash barely did", false},
		"fine enough": {func(b *Backlash) {
			b.RepeatMM = 0.1
			b.Assemblies = []Assembly{{ShimMM: 0.5, Readings: []float64{0.305}}}
		}, "Stop here", false},
	} {
		x := b
		x.ArmMM, x.PitchMM = 0, 0
		c.change(&x)
		v, err := Judge(x)
		if err != nil || !strings.Contains(v.Sentence, c.says) || v.Done != c.done {
			t.Errorf("%s: %+v %v", name, v, err)
		}
		if name == "no play" && !strings.Contains(strings.Join(v.Warnings, " "), "No play at all") {
			t.Errorf("zero is not warned about: %v", v.Warnings)
		}
	}
}

// Cases of unknown sensitivity, a gauge that errs and shims in steps: the band
// is reached, in few assemblies, and never with more pieces than allowed.
func TestSimulatedCases(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 3))
	box := []shim.Shim{}
	for i := range 14 {
		box = append(box, shim.Shim{MM: 0.03 + 0.05*float64(i), Count: 3}, shim.Shim{MM: 0.02 * float64(i+1), Count: 2})
	}
	const cases = 400
	reached, assemblies := 0, 0
	for range cases {
		b := Backlash{Gear: "gear", Mesh: backlash.Mesh{Teeth: 20 + r.IntN(12), Mate: 11 + r.IntN(4), Pressure: 20},
			Thicker: []string{"away", "toward"}[r.IntN(2)], LowMM: 0.15, HighMM: 0.3, RepeatMM: 0.01, Shims: box}
		slope := b.Mesh.Sensitivity() * (1 + 0.2*r.NormFloat64())
		if b.Thicker == "toward" {
			slope = -slope
		}
		shim := 0.6
		play := 0.225 + 0.12*r.NormFloat64()
		for n := range 8 {
			var dial []float64
			for range 3 {
				dial = append(dial, math.Max(0, play+0.006*r.NormFloat64()))
			}
			b.Assemblies = append(b.Assemblies, Assembly{ShimMM: shim, Readings: dial})
			v, err := Judge(b)
			if err != nil {
				t.Fatal(err)
			}
			if v.Done {
				if play > 0.14 && play < 0.31 {
					reached++
				}
				assemblies += n + 1
				break
			}
			if v.NextMM == nil {
				break
			}
			play += slope * (*v.NextMM - shim)
			shim = *v.NextMM
		}
	}
	if reached < cases*97/100 {
		t.Errorf("%d of %d reach the band", reached, cases)
	}
	if mean := float64(assemblies) / float64(reached); mean > 2.5 {
		t.Errorf("%.2f assemblies on average", mean)
	}
}

func TestRefusals(t *testing.T) {
	good := Request{Stamp: "P 0 F 0 R 0", Unit: Hundredths, Convention: PlusFar, Places: places}
	for field, change := range map[string]func(*Request){
		"unit":             func(q *Request) { q.Unit = "" },
		"convention":       func(q *Request) { q.Convention = "" },
		"places":           func(q *Request) { q.Places = nil },
		"places/0/thicker": func(q *Request) { q.Places = []Place{{ID: "P"}} },
		"stamp":            func(q *Request) { q.Stamp = "Q +1" },
		"box":              func(q *Request) { q.Box = "nothing" },
		"shims":            func(q *Request) { q.Shims = []shim.Shim{{MM: 0, Count: 1}} },
	} {
		q := good
		change(&q)
		_, err := Work(q)
		var list fault.Errors
		var one *fault.Error
		got := ""
		if errors.As(err, &list) {
			got = list[0].Field
		} else if errors.As(err, &one) {
			got = one.Field
		}
		if got != field && !(field == "shims" && strings.HasPrefix(got, "box/0")) {
			t.Errorf("%s: refused at %q, %v", field, got, err)
		}
	}
	if _, err := Judge(Backlash{}); err == nil {
		t.Error("nothing at all was judged")
	}
}

func TestWaterIn(t *testing.T) {
	var seals []string
	for _, l := range Looks() {
		if l.Seal {
			seals = append(seals, l.ID)
		}
	}
	if a, b := fmt.Sprint(slices.Sorted(slices.Values(seals))), fmt.Sprint(slices.Sorted(slices.Values(driveline.SealPlaces))); a != b {
		t.Errorf("the part's sealing places are %s, those looked at %s", b, a)
	}
	all := WaterIn(nil)
	if len(all) < 7 || all[0].ID != "drain_gasket" && all[0].ID != "prop_shaft_seal" {
		t.Errorf("first is %+v", all[0])
	}
	sum := 0
	for _, l := range all {
		sum += l.Water
	}
	if sum != 100 {
		t.Errorf("the seals' shares make %d of a hundred", sum)
	}
	if few := WaterIn([]string{"shift_shaft_seal", "prop_shaft_seal"}); len(few) != 2 || few[0].ID != "prop_shaft_seal" {
		t.Errorf("%+v", few)
	}
	if b, err := json.Marshal(Looks()); err != nil || len(b) < 1000 {
		t.Error(err)
	}
}

// What is as it should be is counted, what isn't is named; what nobody looks at,
// or is told twice, is refused.
func TestInspect(t *testing.T) {
	x, err := Inspect([]Finding{{"oil", "milky: water"}, {"dogs", "square"}, {"pump", "vanes set"}})
	if err != nil || x.Title != "Gearcase inspected: 3 looked at, 2 to see to; oil as it drains: milky: water; pump plate and impeller: vanes set" {
		t.Errorf("%+v %v", x, err)
	}
	if x.Found[0].Good || !x.Found[1].Good {
		t.Errorf("%+v", x.Found)
	}
	if _, err := Inspect([]Finding{{"oil", "clear"}, {"luck", "none"}, {"oil", "clear"}}); err == nil ||
		!strings.Contains(err.Error(), "1/id") || !strings.Contains(err.Error(), "2/id: entered twice") {
		t.Errorf("%v", err)
	}
}

func BenchmarkJudge(b *testing.B) {
	q := Backlash{Gear: "gear", Mesh: backlash.Mesh{Teeth: 27, Mate: 13}, Thicker: "away", LowMM: 0.15, HighMM: 0.3,
		Box: "0.05 x4, 0.10 x6, 0.2 x4, 0.3 x4", Assemblies: []Assembly{{ShimMM: 0.5, Readings: []float64{0.39, 0.41}},
			{ShimMM: 0.4, Readings: []float64{0.34, 0.35}}}}
	for b.Loop() {
		if _, err := Judge(q); err != nil {
			b.Fatal(err)
		}
	}
}
