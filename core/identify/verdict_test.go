package identify

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"zorvel/core/exact"
)

func space(t testing.TB, s Stage, catalog ...CatalogEntry) *Space {
	t.Helper()
	sp, err := NewSpace(s)
	if err != nil {
		t.Fatal(err)
	}
	if sp, err = sp.WithList(List{Sets: catalog}); err != nil {
		t.Fatal(err)
	}
	return sp
}

func pair(driven, drive int) CatalogEntry {
	return CatalogEntry{Construction: "pair", Teeth: []int{driven, drive}}
}

func assess(t testing.TB, sp *Space, readings ...Reading) *Assessment {
	t.Helper()
	for i := range readings {
		if readings[i].ID == "" {
			readings[i].ID = string(rune('a' + i))
		}
	}
	a, err := Assess(sp, readings)
	if err != nil {
		t.Fatal(err)
	}
	return a
}

func counted(ring, pinion int) Reading {
	return Reading{Method: Teeth, Teeth: []Count{{"ring", ring}, {"pinion", pinion}}}
}

func tagged(s string) Reading  { return Reading{Method: Tag, Text: s} }
func stamped(s string) Reading { return Reading{Method: Stamp, Text: s} }

// turned is both wheels' turns, the right one seen or assumed, and the shaft in words.
func turned(left, right float64, seen bool, words string) Reading {
	return Reading{Method: Turns, Turns: &TurnsReading{Left: Wheel{left, true}, Right: Wheel{right, seen}, Shaft: Shaft{Words: words}}}
}

func byArc(wheels float64, whole int, arc, rim float64, is RimIs, short bool) Reading {
	return Reading{Method: Turns, Turns: &TurnsReading{
		Left: Wheel{wheels, true}, Right: Wheel{wheels, true},
		Shaft: Shaft{Whole: whole, Remainder: Remainder{By: ByArc, ArcMM: arc, RimMM: rim, RimIs: is, Short: short}},
	}}
}

func onBench(output float64, outputs Outputs, words string) Reading {
	return Reading{Method: Bench, Bench: &BenchReading{OutputTurns: output, Outputs: outputs, Shaft: Shaft{Words: words}}}
}

func TestNothingMeasured(t *testing.T) {
	a := assess(t, space(t, axle))
	v := a.Verdict()
	if v.State != Unknown || v.Best != nil || v.Label != nil {
		t.Errorf("a verdict without readings: %+v", v)
	}
	plan := a.Next(SettleLabel, Situation{})
	if plan.Settled || len(plan.Options) == 0 || !strings.HasPrefix(plan.Sentence, "Nothing measured yet. First: ") {
		t.Errorf("no first step: %+v", plan)
	}
	if plan.Options[0].Method != Tag {
		t.Errorf("the tag takes a minute, yet first comes %s", plan.Options[0].Do)
	}
	if _, err := a.Gate(Order{Goal: SettleLabel, Price: 1000}, Situation{}); err == nil {
		t.Error("nothing to order by, yet no error")
	}
}

// The general law ratio = shaft ÷ ((left + right) ÷ 2), whichever way it is turned.
func TestTurnsLaw(t *testing.T) {
	cases := []struct {
		name string
		r    Reading
		want float64
	}{
		{"both wheels once", turned(1, 1, true, "4.1"), 4.1},
		{"one held, other once: half", turned(1, 0, true, "2.05"), 4.1},
		{"one held, other twice", turned(2, 0, true, "4.1"), 4.1},
		{"each its own", turned(1.5, 0.5, true, "4.1"), 4.1},
		{"backward", turned(-1, -1, true, "4.1"), 4.1},
		{"bench, joined outputs", onBench(10, JoinedOutputs, "41"), 4.1},
		{"bench, one output held", onBench(2, OneHeld, "4.1"), 4.1},
		{"arc by circumference", byArc(1, 4, 38, 380, Circumference, false), 4.1},
		{"arc by diameter", byArc(1, 4, 38, 380/math.Pi, Diameter, false), 4.1},
		{"short of the turn", byArc(1, 5, 342, 380, Circumference, true), 4.1},
		{"road", Reading{Method: Road, Road: &RoadReading{RPM: 2050, SpeedKMH: 60, RollingMM: 2000, Others: []float64{1, 1}, Converter: ConverterLocked}}, 4.1},
	}
	sp := space(t, axle)
	for _, c := range cases {
		f := assess(t, sp, c.r).Verdict().Findings[0]
		if math.Abs(f.Says-c.want) > 1e-9 {
			t.Errorf("%s says %v, want %v; %v", c.name, f.Says, c.want, f.Origin)
		}
		if !(f.Interval.Low < c.want && c.want < f.Interval.High) || len(f.Origin) == 0 {
			t.Errorf("%s: interval %v, origin %v", c.name, f.Interval, f.Origin)
		}
	}
}

// The interval of N turns is about N times narrower, up to the wheel marks.
func TestMoreTurnsAreFiner(t *testing.T) {
	sp := space(t, axle)
	one := assess(t, sp, turned(1, 1, true, "4.1")).Verdict().Turns
	ten := assess(t, sp, turned(10, 10, true, "41")).Verdict().Turns
	if w1, w10 := one.High-one.Low, ten.High-ten.Low; math.Abs(w1/w10-10) > 1e-6 {
		t.Errorf("1 turn ± %v, 10 turns ± %v", w1/2, w10/2)
	}
	// By hand: σ² = 0.06² + (4.1·0.01/√2)², half width 1.96 σ.
	want := 1.959964 * math.Hypot(0.06, 4.1*0.01/math.Sqrt2)
	if got := (one.High - one.Low) / 2; math.Abs(got-want) > 1e-5 {
		t.Errorf("half width %v, want %v", got, want)
	}
}

// Bayes' rule by a plain double loop over tooth counts, written out
// independently of the compiled models.
func TestPosteriorAgainstBruteForce(t *testing.T) {
	sp := space(t, axle)
	ringRate, pinionRate, gross, other, stale := 0.05*caution, 0.02*caution, 0.002*caution, 0.004*caution, 0.10*caution
	count := func(got, n int, rate float64) float64 {
		switch got - n {
		case 0:
			return 1 - rate - gross
		case 1:
			return rate * 0.6
		case -1:
			return rate * 0.4
		}
		return gross / 60
	}
	says410 := func(ring, pinion int) float64 {
		p := 0.0
		if (2*ring*100+pinion)/(2*pinion) == 410 {
			p += 0.9
		}
		if ring*100/pinion == 410 {
			p += 0.1
		}
		return p * 0.85
	}
	type key [2]int
	post, total, prior, chance := map[key]float64{}, 0.0, 0.0, 0.0
	for pinion := 5; pinion <= 24; pinion++ {
		for ring := 25; ring <= 80; ring++ {
			if q := float64(ring) / float64(pinion); q >= 1.9 && q <= 10 {
				prior++
				chance += says410(ring, pinion)
			}
		}
	}
	for pinion := 5; pinion <= 24; pinion++ {
		for ring := 25; ring <= 80; ring++ {
			q := float64(ring) / float64(pinion)
			if q < 1.9 || q > 10 {
				continue
			}
			p := (1-other)*count(41, ring, ringRate)*count(10, pinion, pinionRate) + other/(56*20)
			p *= (1-stale)*says410(ring, pinion) + stale*chance/prior
			post[key{ring, pinion}] = p
			total += p
		}
	}
	v := assess(t, sp.Plain(), counted(41, 10), tagged("4.10")).Verdict()
	for _, c := range v.Candidates {
		want := post[key{c.Build.Teeth[0], c.Build.Teeth[1]}] / total
		if math.Abs(c.Probability-want) > 1e-9 {
			t.Errorf("%v: %v, want %v", c.Build.Teeth, c.Probability, want)
		}
	}
	if !v.Best.Build.Ratio.Equal(exact.New(41, 10)) || v.Best.Probability < 0.99 {
		t.Errorf("best %+v", v.Best)
	}
	// Prior × factors is the probability, up to one common scale.
	scale := v.Best.Probability / v.Best.Prior
	for _, c := range v.Candidates {
		p := c.Prior * scale
		for _, f := range c.Factors {
			p *= f
		}
		if math.Abs(p-c.Probability) > 1e-9 {
			t.Errorf("%v: prior × factors = %v, probability %v", c.Build.Teeth, p, c.Probability)
		}
	}
}

// The stories that technicians tell: who is right, and what went wrong.
func TestDiagnosis(t *testing.T) {
	shop := []CatalogEntry{pair(41, 10), pair(47, 9), pair(37, 9), pair(41, 11), pair(41, 9)}
	cases := []struct {
		name     string
		readings []Reading
		label    string
		wrong    int // index of the reading that disagrees, -1 for none
		cause    Cause
		state    State
	}{
		{"clean", []Reading{tagged("4.10"), turned(4, 4, true, "16.4"), counted(41, 10)}, "4.10", -1, CauseRight, Measured},
		{"swapped gears, old tag", []Reading{tagged("4.10"), turned(1, 1, true, "5.2"), counted(47, 9)}, "5.22", 0, CauseSwapped, Conflict},
		{"one wheel held unseen", []Reading{turned(1, 1, false, "2.6"), counted(47, 9), stamped("47 9")}, "5.22", 0, CauseWheelHeld, Conflict},
		{"both turned, one thought still", []Reading{turned(1, 0, false, "5.2"), counted(47, 9), stamped("47 9")}, "5.22", 0, CauseWheelsTogether, Conflict},
		{"start tooth twice", []Reading{counted(42, 10), byArc(10, 41, 0, 380, Circumference, false), stamped("41 10")}, "4.10", 0, CauseCountedTwice, Conflict},
		{"a tooth missed", []Reading{counted(40, 10), byArc(10, 41, 0, 380, Circumference, false), stamped("41 10")}, "4.10", 0, CauseToothMissed, Conflict},
		{"a turn lost", []Reading{turned(4, 4, true, "15.4"), counted(41, 10), stamped("41 10")}, "4.10", 0, CauseTurnMissed, Conflict},
		{"a turn too many", []Reading{turned(4, 4, true, "17.4"), counted(41, 10), stamped("41 10")}, "4.10", 0, CauseTurnTooMany, Conflict},
		{"diameter for circumference", []Reading{byArc(1, 4, 88, 121, Circumference, false), counted(38, 9), stamped("38 9")}, "4.22", 0, CauseDiameter, Conflict},
		{"past taken for short", []Reading{byArc(1, 4, 100, 380, Circumference, true), counted(47, 11), stamped("47 11")}, "4.27", 0, CauseShort, Conflict},
		{"front counted, not the rear", []Reading{counted(37, 9), turned(4, 4, true, "14.9"), stamped("41 11")}, "3.73", 0, CauseOtherGear, Conflict},
		{"stamp of other gears", []Reading{stamped("41 10"), counted(47, 9), turned(4, 4, true, "20.9")}, "5.22", 0, CauseSwapped, Conflict},
		{"converter slipped", []Reading{{Method: Road, Road: &RoadReading{RPM: 2280, SpeedKMH: 60, RollingMM: 2000, Converter: ConverterOpen}}, counted(41, 10), tagged("4.10")}, "4.10", 0, CauseSlip, Conflict},
		{"only a tag", []Reading{tagged("4.10")}, "4.10", -1, CauseRight, Assumed},
	}
	sp := space(t, axle, shop...)
	for _, c := range cases {
		v := assess(t, sp, c.readings...).Verdict()
		if label(v) != c.label || v.State != c.state {
			t.Errorf("%s: %s, %s with %.3f; want %s, %s", c.name, label(v), v.State, sure(v), c.label, c.state)
		}
		for i, f := range v.Findings {
			if i == c.wrong {
				if f.Agreement != Disagrees || f.Cause != c.cause || f.Reason == "" {
					t.Errorf("%s: reading %d %s because %s", c.name, i, f.Agreement, f.Cause)
				}
			} else if f.Agreement != Agrees {
				t.Errorf("%s: reading %d %s (%.2f) because %s", c.name, i, f.Agreement, f.Right, f.Cause)
			}
		}
	}
}

func TestImpossibleIsRefusedAtItsField(t *testing.T) {
	cases := []struct {
		stage Stage
		r     Reading
		field string
	}{
		{axle, counted(47, 0), "teeth/pinion"},
		{axle, counted(-1, 9), "teeth/ring"},
		{axle, counted(9, 47), "teeth/ring"},
		{axle, counted(9000, 9), "teeth/ring"},
		{axle, Reading{Method: Teeth}, "teeth"},
		{axle, Reading{Method: Teeth, Teeth: []Count{{"cog", 4}}}, "teeth/cog"},
		{axle, Reading{Method: Teeth, Teeth: []Count{{"ring", 4}, {"ring", 5}}}, "teeth/ring"},
		{Stage{Kind: Planetary}, Reading{Method: Teeth, Teeth: []Count{{"sun", 60}, {"ring", 30}}}, "teeth/ring"},
		{axle, turned(1, 1, true, "10000"), "turns/shaft/whole"},
		{axle, turned(1, 1, true, "a few"), "turns/shaft/words"},
		{axle, turned(1, -1, true, "4"), "turns/left/turns"},
		{axle, turned(1000, 1, true, "4"), "turns/left/turns"},
		{axle, turned(1, math.NaN(), true, "4"), "turns/right/turns"},
		{axle, byArc(1, 4, 400, 380, Circumference, false), "turns/shaft/remainder/arc_mm"},
		{axle, byArc(1, 4, 38, 0, Circumference, false), "turns/shaft/remainder/rim_mm"},
		{axle, byArc(1, 4, 38, 380, "radius", false), "turns/shaft/remainder/rim_is"},
		{axle, byArc(1, 0, 38, 380, Circumference, true), "turns/shaft/whole"},
		{axle, Reading{Method: Turns}, "turns"},
		{axle, Reading{Method: Bench}, "bench"},
		{axle, onBench(0, SingleOutput, "4"), "bench/output_turns"},
		{axle, onBench(1, "some", "4"), "bench/outputs"},
		{axle, Reading{Method: Road}, "road"},
		{axle, Reading{Method: Road, Road: &RoadReading{RPM: 1e9}}, "road/rpm"},
		{axle, Reading{Method: Road, Road: &RoadReading{RPM: 2000, SpeedKMH: 60, RollingMM: 2000, Others: []float64{0}}}, "road/others/0"},
		{axle, Reading{Method: Road, Road: &RoadReading{RPM: 2000, SpeedKMH: 60, RollingMM: 2000}}, "road/converter"},
		{axle, tagged("?"), "text"},
		{axle, Reading{Method: "guess"}, "method"},
		{Stage{Kind: Gearcase}, turned(1, 1, true, "2"), "method"},
	}
	for _, c := range cases {
		_, err := Assess(space(t, c.stage), []Reading{counted(41, 10), c.r}[boolIndex(c.stage == axle):])
		var list Errors
		if !errors.As(err, &list) || len(list) != 1 || list[0].Message == "" {
			t.Errorf("%+v: %v; want one fault at %s", c.r, err, c.field)
			continue
		}
		if got := list[0].Field[strings.LastIndex("readings/0/", "/")+1:]; got != c.field {
			t.Errorf("%+v: fault at %s, want %s", c.r, got, c.field)
		}
	}
}

// boolIndex drops the first, sound reading for stages it doesn't fit.
func boolIndex(keep bool) int {
	if keep {
		return 0
	}
	return 1
}

// Unusual is warned about, not refused, and the counts still count.
func TestUnusualCountsAreWeighed(t *testing.T) {
	sp := space(t, axle)
	v := assess(t, sp, counted(41, 4), counted(41, 4), turned(2, 2, true, "20.5")).Verdict()
	if label(v) != "10.25" || len(v.Checks) == 0 {
		t.Errorf("label %s, checks %v", label(v), v.Checks)
	}
	if builds, _ := sp.Size(); builds != func() int { n, _ := space(t, axle).Size(); return n }() {
		t.Error("weighing an unusual count changed the shared space")
	}
}

func TestOtherStages(t *testing.T) {
	cases := []struct {
		name  string
		stage Stage
		rs    []Reading
		label string
		teeth []int
	}{
		{"planetary, all counted", Stage{Kind: Planetary}, []Reading{{Method: Teeth, Teeth: []Count{{"sun", 30}, {"ring", 60}, {"planet", 15}, {"planets", 3}}}}, "3.00", []int{30, 60}},
		{"planetary, carrier held", Stage{Kind: Planetary, Held: Carrier}, []Reading{{Method: Teeth, Teeth: []Count{{"sun", 30}, {"ring", 60}}}, onBench(10, SingleOutput, "20")}, "-2.00", []int{30, 60}},
		{"two stages in one housing", Stage{Kind: TwoStage}, []Reading{{Method: Teeth, Teeth: []Count{{"ring", 32}, {"pinion", 20}, {"sun", 32}, {"planet_ring", 56}}}, turned(2, 2, true, "8.8")}, "4.40", []int{32, 20, 32, 56}},
		{"transfer case low", Stage{Kind: TransferCase, Position: "low"}, []Reading{onBench(10, SingleOutput, "27.1"), {Method: Teeth, Teeth: []Count{{"sun", 42}, {"ring", 72}}}}, "2.71", []int{42, 72}},
		{"transfer case high", Stage{Kind: TransferCase, Position: "high"}, []Reading{onBench(10, SingleOutput, "10")}, "1.00", nil},
		{"gearbox gear", Stage{Kind: Gearbox, Position: "2"}, []Reading{{Method: Teeth, Teeth: []Count{{"input", 20}, {"counter", 40}, {"cluster", 25}, {"output", 35}}}}, "2.80", []int{20, 40, 25, 35}},
		{"gearcase", Stage{Kind: Gearcase}, []Reading{stamped("27-13"), onBench(10, SingleOutput, "20.8")}, "2.08", []int{27, 13}},
		{"hub", Stage{Kind: Hub}, []Reading{{Method: Teeth, Teeth: []Count{{"sun", 24}, {"ring", 60}}}}, "3.50", []int{24, 60}},
		{"chain", Stage{Kind: ChainPair}, []Reading{{Method: Teeth, Teeth: []Count{{"driven", 45}, {"drive", 15}}}}, "3.00", []int{45, 15}},
		{"gear pair, overdrive", Stage{Kind: GearPair}, []Reading{{Method: Teeth, Teeth: []Count{{"driven", 20}, {"drive", 40}}}}, "0.50", []int{20, 40}},
	}
	for _, c := range cases {
		v := assess(t, space(t, c.stage), c.rs...).Verdict()
		if label(v) != c.label || !reflect.DeepEqual(v.Best.Build.Teeth, c.teeth) {
			t.Errorf("%s: %s %v (%.3f), want %s %v", c.name, label(v), v.Best.Build.Teeth, v.Best.Probability, c.label, c.teeth)
		}
		for _, f := range v.Findings {
			if f.Agreement != Agrees {
				t.Errorf("%s: %s %s", c.name, f.Summary, f.Agreement)
			}
		}
	}
}

// The shop's list takes what its own counts have earned it, and no more; what is
// commonly made comes next. The shares are told, and add up.
func TestListEarnsItsShare(t *testing.T) {
	sets := []CatalogEntry{pair(41, 10), pair(47, 9)}
	last := 0.0
	for _, c := range []struct {
		counted, found int
		want           float64
	}{{50, 0, 0.05}, {50, 10, 0.2}, {0, 0, 0.25}, {4, 4, 0.65}, {20, 17, 0.75}, {50, 50, 0.9}} {
		sp, err := space(t, axle).WithList(List{Sets: sets, Counted: c.counted, Found: c.found})
		if err != nil {
			t.Fatal(err)
		}
		v := assess(t, sp, turned(1, 1, true, "4.1")).Verdict()
		p := v.Prior
		near(t, fmt.Sprint(c), p.List, c.want, 1e-12)
		near(t, "all shares", p.List+p.Common+p.Other, 1, 1e-12)
		if v.Labels[0].Label != "4.10" || v.Labels[0].Probability < last || !v.Best.InCatalog {
			t.Errorf("%d of %d: %+v after %v", c.found, c.counted, v.Labels[0], last)
		}
		last = v.Labels[0].Probability
		if said := strings.Join(p.Origin, "; "); c.counted > 0 && !strings.Contains(said,
			fmt.Sprintf("of the last %d counted in this shop, %d were on it", c.counted, c.found)) {
			t.Error(said)
		}
	}
	plain := assess(t, space(t, axle).Plain(), turned(1, 1, true, "4.1")).Verdict()
	common := assess(t, space(t, axle), turned(1, 1, true, "4.1")).Verdict()
	if plain.Label != nil || plain.Prior.Other != 1 || common.Labels[0].Probability < 2*plain.Labels[0].Probability {
		t.Errorf("plain %+v, with what is common %+v", plain.Labels[0], common.Labels[0])
	}
	for _, bad := range []CatalogEntry{{Construction: "belt", Teeth: []int{1, 2}}, {Construction: "pair", Teeth: []int{41}}, pair(9, 47), {Construction: "pair", Teeth: []int{41, 10}, Weight: -1}} {
		if _, err := space(t, axle).WithList(List{Sets: []CatalogEntry{bad}}); err == nil {
			t.Errorf("%+v taken into the catalog", bad)
		}
	}
}

// Fifty contradictory readings neither break nor blow up.
func TestContradictionIsNoError(t *testing.T) {
	var rs []Reading
	for i := range 60 {
		rs = append(rs, counted(40+i%9, 8+i%5))
	}
	v := assess(t, space(t, axle), rs...).Verdict()
	if v.State != Conflict || math.IsNaN(v.Labels[0].Probability) || v.Labels[0].Probability <= 0 {
		t.Errorf("%s %v", v.State, v.Label)
	}
	if _, err := Assess(space(t, axle), make([]Reading, MaxReadings+1)); err == nil {
		t.Error("no bound on readings")
	}
}

func TestDeterministic(t *testing.T) {
	run := func() (Verdict, Plan) {
		a := assess(t, space(t, axle, pair(41, 10)), tagged("4.10"), turned(1, 1, false, "4 and a bit"), counted(41, 10))
		return a.Verdict(), a.Next(SettlePair, Situation{})
	}
	v1, p1 := run()
	for range 5 {
		v2, p2 := run()
		if !reflect.DeepEqual(v1, v2) || !reflect.DeepEqual(p1, p2) {
			t.Fatal("the same readings gave different answers")
		}
	}
}

// label is what a verdict says first.
func label(v Verdict) string { return v.Headline.Text }

// sure is how sure the label that is said first is; 0 where none is.
func sure(v Verdict) float64 {
	if v.Label == nil {
		return 0
	}
	return v.Label.Probability
}

// A reader's own eye moves his reading by what he reads too much, and narrows or widens it
// by how he scatters; without it the reading is as everybody's.
func TestOwnEye(t *testing.T) {
	sp := space(t, Stage{Kind: RingAndPinion})
	read := func(fraction float64, short bool, e *Eye) Finding {
		a, err := Assess(sp, []Reading{{ID: "1", Method: Turns, Turns: &TurnsReading{Left: Wheel{4, true},
			Right: Wheel{4, true},
			Shaft: Shaft{Whole: 16, Remainder: Remainder{By: ByEye, Fraction: fraction, Short: short, Eye: e}}}}})
		if err != nil {
			t.Fatal(err)
		}
		return a.Verdict().Findings[0]
	}
	width := func(f Finding) float64 { return f.Interval.High - f.Interval.Low }
	plain, own := read(0.44, false, nil), read(0.44, false, &Eye{Bias: 0.04, Spread: 0.03, Cards: 30})
	if math.Abs(plain.Says-4.11) > 1e-9 || math.Abs(own.Says-4.10) > 1e-9 {
		t.Errorf("says %v, with his own eye %v", plain.Says, own.Says)
	}
	if width(own) >= width(plain) || width(read(0.44, false, &Eye{Spread: 0.12, Cards: 30})) <= width(plain) {
		t.Error("the range doesn't follow the spread")
	}
	if short := read(0.44, true, &Eye{Bias: 0.04, Spread: 0.03, Cards: 30}); math.Abs(short.Says-3.9) > 1e-9 {
		t.Errorf("short of it: %v", short.Says)
	}
	if !strings.Contains(strings.Join(own.Origin, "\n"), "reads 0.040 turn too much on average: shaft turns = 16.400") {
		t.Errorf("%q", own.Origin)
	}
	for field, r := range map[string]Remainder{
		"eye":        {By: BareQuarter, Fraction: 0.25, Eye: &Eye{Spread: 0.05, Cards: 30}},
		"eye/bias":   {By: ByEye, Eye: &Eye{Bias: 0.3, Spread: 0.05, Cards: 30}},
		"eye/spread": {By: ByEye, Eye: &Eye{Spread: 0.001, Cards: 30}},
		"eye/cards":  {By: ByEye, Eye: &Eye{Spread: 0.05, Cards: 3}},
	} {
		var e *Error
		if err := r.check("r"); !errors.As(err, &e) || e.Field != "r/"+field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// Of readings that scatter and lean as an eye does, 95 in 100 ranges hold the truth.
func TestOwnEyeHolds(t *testing.T) {
	sp := space(t, Stage{Kind: RingAndPinion})
	r := rand.New(rand.NewPCG(6, 6))
	const readings = 400
	held := 0
	for range readings {
		e := Eye{Bias: 0.1*r.Float64() - 0.05, Spread: 0.02 + 0.06*r.Float64(), Cards: 30}
		ratio := 3 + 2*r.Float64()
		wheels := 4 + sigmaWheel/math.Sqrt2*r.NormFloat64()
		s := ratio*wheels + e.Bias + e.Spread*r.NormFloat64()
		whole, part := math.Modf(s)
		a, err := Assess(sp, []Reading{{ID: "1", Method: Turns, Turns: &TurnsReading{Left: Wheel{4, true},
			Right: Wheel{4, true},
			Shaft: Shaft{Whole: int(whole), Remainder: Remainder{By: ByEye, Fraction: part, Eye: &e}}}}})
		if err != nil {
			t.Fatal(err)
		}
		if i := a.Verdict().Findings[0].Interval; i.Low <= ratio && ratio <= i.High {
			held++
		}
	}
	if share := float64(held) / readings; share < 0.92 {
		t.Errorf("%.1f %% of the ranges hold the truth", 100*share)
	}
}
