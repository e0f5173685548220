package gearcase

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"zorvel/core/backlash"
	"zorvel/core/shim"
	"zorvel/core/typed"
)

func forward(low, high float64, list ...Assembly) Backlash {
	return Backlash{Gear: "forward gear", Mesh: backlash.Mesh{Teeth: 27, Mate: 13, Pressure: 20}, Thicker: "away",
		LowMM: low, HighMM: high, Assemblies: list}
}

// No proposal, whatever the case and the box, expects a play at or below nothing, and
// one that misses the limits says by how much.
func TestProposalsKeepPlay(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	proposals, short := 0, 0
	for range 3000 {
		low := 0.1 + 0.2*r.Float64()
		high := low + 0.1 + 0.1*r.Float64()
		b := forward(low, high, Assembly{ShimMM: 0.1 + 1.5*r.Float64(), Readings: []float64{0.05 + 0.9*r.Float64()}})
		for range 1 + r.IntN(4) {
			b.Shims = append(b.Shims, shim.Shim{MM: float64(5+r.IntN(100)) / 100, Count: 1 + r.IntN(3)})
		}
		v, err := Judge(b)
		if err != nil {
			t.Fatal(err)
		}
		if v.ExpectedMM == nil {
			continue
		}
		proposals++
		if *v.ExpectedMM <= 0.01 {
			t.Errorf("%+v: %s", b, v.Sentence)
		}
		out := *v.ExpectedMM < low-5e-4 || *v.ExpectedMM > high+5e-4
		if out != strings.Contains(v.Sentence, "these shims can't do more") {
			t.Errorf("%v to %v: %s", low, high, v.Sentence)
		}
		if out {
			short++
		}
	}
	if proposals < 1000 || short < 100 {
		t.Errorf("%d proposals, %d short", proposals, short)
	}
}

// A shim without effect stops everything.
func TestShimWithoutEffectStops(t *testing.T) {
	for _, by := range []float64{0.08, 0.1, 0.2, -0.15} {
		v, err := Judge(forward(0.15, 0.3, Assembly{ShimMM: 0.5, Readings: []float64{0.62}}, Assembly{ShimMM: 0.5 + by, Readings: []float64{0.625}}))
		if err != nil || v.NextMM != nil || !strings.Contains(v.Sentence, "moved nothing") && !strings.Contains(v.Sentence, "barely did") {
			t.Errorf("%v mm: %+v, %v", by, v, err)
		}
	}
}

// Another unit is asked about, and what comes out goes back into the box.
func TestOtherUnitsAndPieces(t *testing.T) {
	for _, read := range []float64{0.006, 0.009, 6, 11} {
		v, err := Judge(forward(0.15, 0.3, Assembly{ShimMM: 0.5, Readings: []float64{read}}))
		if err != nil || v.NextMM != nil || !strings.Contains(v.Sentence, "Write its unit") {
			t.Errorf("%v: %+v, %v", read, v, err)
		}
	}
	v, err := Judge(forward(0.006, 0.012, Assembly{ShimMM: 0.5, Readings: []float64{0.2}}))
	if err != nil || v.NextMM != nil || !strings.Contains(v.Sentence, "Are these inches") {
		t.Errorf("%+v, %v", v, err)
	}
	b := forward(0.15, 0.3, Assembly{ShimMM: 0.8, Readings: []float64{0.5}, Pieces: []float64{0.5, 0.3}})
	b.Shims = []shim.Shim{{MM: 2, Count: 1}}
	if v, err = Judge(b); err != nil || v.Stack == nil || fmt.Sprint(v.Stack.Pieces) != "[0.3]" {
		t.Errorf("%+v, %v", v, err)
	}
	b.Assemblies[0].Pieces = []float64{0.5}
	if _, err = Judge(b); err == nil {
		t.Error("pieces that don't make the shim were taken")
	}
}

// A stamp on the case and one on the gear both count.
func TestTwoStamps(t *testing.T) {
	q := Request{Stamp: "F +3", GearStamp: "F -5", Unit: Hundredths, Convention: PlusThicker, Places: []Place{{ID: "F", Name: "forward gear", NominalMM: 1, Thicker: "away"}}}
	a, err := Work(q)
	if err != nil || len(a.Gears) != 1 || a.Gears[0].WantMM != 0.98 {
		t.Errorf("%+v, %v", a, err)
	}
	q.GearStamp = "F 5"
	if a, err = Work(q); err != nil || len(a.Asks) == 0 {
		t.Errorf("%+v, %v", a, err)
	}
	q.GearStamp = "Q +1"
	if _, err = Work(q); err == nil || !strings.Contains(err.Error(), "gear_stamp") {
		t.Error(err)
	}
}

// While a stamp is typed it is said back: each figure with its sign and what it is in
// millimeters, what is missing as a question, what can't be read at the field.
func TestStampsAreSaidBack(t *testing.T) {
	gears := []Place{{ID: "P", Name: "Pinion"}, {ID: "F", Name: "Forward gear"}, {ID: "R", Name: "Reverse gear"}}
	for _, c := range []struct {
		text, unit string
		whole      bool
		said       string
		asks       int
	}{
		{"P -3 F +1 R 0", Hundredths, true, "P −3 (−0.03 mm), F +1 (+0.01 mm), R 0", 0},
		{"p−3f+1", Thousandths, true, "P −3 (−0.0762 mm), F +1 (+0.0254 mm)", 1},
		{"F -2", "", false, "F −2", 0},
		{"F 2", "", false, "", 1},
	} {
		h, err := Hear(c.text, c.unit, gears, c.whole)
		if err != nil || h.Said != c.said || len(h.Asks) != c.asks {
			t.Errorf("%q: %+v, %v, want %q and %d asked", c.text, h, err, c.said, c.asks)
		}
	}
	for text, unit := range map[string]string{"P -3 Q +1": "", "P x": "", "P +3": "furlongs", "P +3 P +2": ""} {
		if h, err := Hear(text, unit, gears, true); err == nil {
			t.Errorf("%q in %q: %+v", text, unit, h)
		}
	}
}

// In inches every sentence is in inches, and says the same as in millimeters.
func TestBacklashInInches(t *testing.T) {
	for name, dial := range map[string]float64{"good": 0.22, "loose": 0.6, "tight": 0.05} {
		b := Backlash{Gear: "forward gear", Mesh: backlash.Mesh{Teeth: 27, Mate: 13}, Thicker: "toward", LowMM: 0.15, HighMM: 0.3,
			Assemblies: []Assembly{{ShimMM: 0.8, Readings: []float64{dial, dial + 0.02, dial + 0.01}}}}
		mm, err := Judge(b)
		if err != nil {
			t.Fatal(err)
		}
		b.Unit, b.Box = typed.Inches, ".002 x4, .005 x4, .010 x4, .020 x2"
		in, err := Judge(b)
		if err != nil {
			t.Fatal(err)
		}
		if strings.Contains(in.Sentence, " mm") || !strings.Contains(in.Sentence, " in") || strings.Contains(mm.Sentence, " in.") {
			t.Errorf("%s: %s; in inches: %s", name, mm.Sentence, in.Sentence)
		}
		if mm.Done != in.Done || mm.Measured[0].BacklashMM != in.Measured[0].BacklashMM {
			t.Errorf("%s: %+v and %+v", name, mm, in)
		}
		if mm.NextMM != nil && in.Stack != nil && math.Abs(*mm.NextMM-*in.NextMM) > 0.05 {
			t.Errorf("%s: %v and from the box %v", name, *mm.NextMM, *in.NextMM)
		}
	}
	if _, err := Judge(Backlash{Unit: "ells", Gear: "forward gear", Mesh: backlash.Mesh{Teeth: 27, Mate: 13},
		Thicker: "toward", LowMM: 0.15, HighMM: 0.3,
		Assemblies: []Assembly{{ShimMM: 0.8, Readings: []float64{0.2}}}}); err == nil || !strings.Contains(err.Error(), "unit") {
		t.Errorf("%v", err)
	}
}
