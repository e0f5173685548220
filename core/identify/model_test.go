package identify

import (
	"math"
	"strings"
	"testing"

	"zorvel/core/exact"
)

func near(t *testing.T, what string, got, want, tolerance float64) {
	t.Helper()
	if math.Abs(got-want) > tolerance {
		t.Errorf("%s: %v, want %v", what, got, want)
	}
}

// Spreads by hand: σ of the shaft by its remainder, ±2 mm along the rim.
func TestShaftSpread(t *testing.T) {
	cases := []struct {
		r     Remainder
		turns float64
		sigma float64
	}{
		{Remainder{By: OnTheMark}, 4, 0.06},
		{Remainder{By: ByEye, Fraction: 0.3}, 4.3, 0.06},
		{Remainder{By: BareQuarter, Fraction: 0.25}, 4.25, 0.12},
		{Remainder{By: BareQuarter, Fraction: 0.25, Short: true}, 3.75, 0.12},
		{Remainder{By: ByArc, ArcMM: 38, RimMM: 380, RimIs: Circumference}, 4.1, 2.0 / 380},
		{Remainder{By: ByArc, ArcMM: 38, RimMM: 100, RimIs: Diameter}, 4 + 38/(100*math.Pi), 2 / (100 * math.Pi)},
		{Remainder{By: ByArc, ArcMM: 38, RimMM: 380, RimIs: Circumference, Short: true}, 3.9, 2.0 / 380},
	}
	for _, c := range cases {
		s := Shaft{Whole: 4, Remainder: c.r}
		near(t, "turns", s.turns(), c.turns, 1e-12)
		near(t, "sigma", s.spread().below, c.sigma, 1e-12)
	}
}

// Every density integrates to one over what could be observed: else a mode
// would count for more than its rate.
func TestDensitiesAreDensities(t *testing.T) {
	gaussMode := mode{form: gauss, m: 2, spread: even(0.06), sigmaM: 0.007}
	bitMode := mode{form: gauss, m: 2, spread: sides{sigmaBitNear, sigmaBitFar}, sigmaM: 0.007}
	fanMode := mode{form: fan, m: 1}
	for _, r := range []float64{1, 4.1, 9} {
		for name, m := range map[string]mode{"gauss": gaussMode, "and a bit": bitMode, "fan": fanMode} {
			sum, step := 0.0, 0.0005
			for s := 0.0; s < 40; s += step {
				m.s = s
				sum += m.density(r) * step
			}
			near(t, name, sum, 1, 0.002)
		}
	}
}

// The rates of a reading's modes add up to one, whatever the reading.
func TestModesAreComplete(t *testing.T) {
	sp := space(t, axle)
	readings := []Reading{
		turned(1, 1, true, "4.1"), turned(1, 0, false, "2"), turned(1, 1, false, "0.5"), turned(3, 1, true, "8"),
		byArc(1, 4, 38, 380, Circumference, false), byArc(1, 4, 38, 121, Diameter, false), byArc(1, 5, 38, 380, Circumference, true),
		onBench(2, OneHeld, "4.1"),
		{Method: Road, Road: &RoadReading{RPM: 2000, SpeedKMH: 60, RollingMM: 2000, Converter: ConverterOpen}},
		{Method: Road, Road: &RoadReading{RPM: 2000, SpeedKMH: 60, RollingMM: 2000, Converter: Clutch}},
	}
	for _, r := range readings {
		q, err := r.resolve(axle, sp)
		if err != nil {
			t.Fatal(err)
		}
		c := sp.compile(q)
		sum := 0.0
		for _, m := range c.byRatio {
			if m.weight <= 0 {
				t.Errorf("%s: %s has weight %v", r.Summary(), m.cause, m.weight)
			}
			sum += m.weight
		}
		near(t, r.Summary(), sum, 1, 1e-12)
		if c.byRatio[0].cause != CauseRight || c.byRatio[0].weight < 0.4 {
			t.Errorf("%s: the right reading weighs %v", r.Summary(), c.byRatio[0].weight)
		}
		var shares [numCauses]float64
		c.addCauses(sp, &sp.hyps[100], 1, &shares)
		total := 0.0
		for _, s := range shares {
			total += s
		}
		near(t, "causes of "+r.Summary(), total, 1, 1e-9)
	}
}

// The chances of all counts of one gear add up to about one.
func TestCountChances(t *testing.T) {
	for _, large := range []bool{true, false} {
		sum := 0.0
		for got := 11; got <= 71; got++ {
			sum += countChance(got, 41, large)
		}
		near(t, "sum over counts", sum, 1, 0.001)
		if countChance(42, 41, large) <= countChance(40, 41, large) {
			t.Error("counting the start tooth twice is the classic mistake")
		}
	}
	if countChance(41, 41, true) >= countChance(10, 10, false) {
		t.Error("a ring gear is miscounted more often than a pinion")
	}
}

// What is printed on a part, and which pairs it can mean.
func TestMarkLikelihood(t *testing.T) {
	ratioMark := func(v int64, places int) Mark { return Mark{Value: v, Places: places} }
	cases := []struct {
		m            Mark
		ring, pinion int64
		want         float64
	}{
		{ratioMark(410, 2), 41, 10, 1},   // exactly 4.1: rounded and cut agree
		{ratioMark(355, 2), 39, 11, 0.9}, // 3.5454… rounded
		{ratioMark(354, 2), 39, 11, 0.1}, // … and cut
		{ratioMark(356, 2), 39, 11, 0},   //
		{ratioMark(538, 2), 43, 8, 0.9},  // 5.375: half goes up
		{ratioMark(41, 1), 37, 9, 1},     // one decimal: 4.1 from 4.11
		{ratioMark(5222, 3), 47, 9, 1},   // three decimals
		{Mark{Counts: []int{47, 9}, Construction: "pair"}, 47, 9, 1},
		{Mark{Counts: []int{47, 9}, Construction: "pair"}, 46, 9, 0},
		{Mark{Counts: []int{47, 9}, Construction: "planetary"}, 47, 9, 0},
	}
	for _, c := range cases {
		teeth := []int16{int16(c.ring), int16(c.pinion), 0, 0}
		near(t, c.m.Canonical(), c.m.likelihood("pair", teeth, exact.New(c.ring, c.pinion)), c.want, 1e-12)
	}
}

// An assumed wheel gets a heavy tail: the reading moves the verdict less.
func TestAssumedWheelIsTrustedLess(t *testing.T) {
	sp := space(t, axle, pair(41, 10), pair(47, 9))
	seen := assess(t, sp, turned(2, 2, true, "8.2")).Verdict()
	assumed := assess(t, sp, turned(2, 2, false, "8.2")).Verdict()
	if seen.Labels[0].Label != "4.10" || assumed.Labels[0].Label != "4.10" || assumed.Labels[0].Probability >= seen.Labels[0].Probability {
		t.Errorf("seen %v, assumed %v", sure(seen), sure(assumed))
	}
	if s, a := seen.Findings[0].Right, assumed.Findings[0].Right; a >= s {
		t.Errorf("right with %v seen, %v assumed", s, a)
	}
}

// The turns alone: precision-weighted by hand, outliers named.
func TestTurnsIntervalLeavesOutliersOut(t *testing.T) {
	v := assess(t, space(t, axle), turned(1, 1, true, "4.2"), byArc(4, 16, 152, 380, Circumference, false), turned(1, 1, true, "5.3")).Verdict()
	if len(v.Turns.Used) != 2 || len(v.Turns.LeftOut) != 1 || v.Turns.LeftOut[0] != "c" {
		t.Fatalf("%+v", v.Turns)
	}
	s1 := math.Hypot(0.06, 4.2*0.01/math.Sqrt2)
	s2 := math.Hypot(2.0/380, 4.1*0.01/math.Sqrt2) / 4
	w1, w2 := 1/(s1*s1), 1/(s2*s2)
	center := (4.2*w1 + 4.1*w2) / (w1 + w2)
	near(t, "center", v.Turns.Center, center, 1e-9)
	near(t, "low", v.Turns.Low, center-1.959964/math.Sqrt(w1+w2), 1e-6)
}

// What a person reads of each reading, word for word.
func TestSummaries(t *testing.T) {
	cases := map[string]Reading{
		"Tag says four-ten": tagged("four-ten"),
		"Stamped 47-9":      stamped("47-9"),
		"Counted 47 ring gear teeth and 9 pinion teeth":                                           counted(47, 9),
		"Left wheel 1 turn, right wheel held; shaft 2 + 0.05 turns by eye":                        turned(1, 0, true, "2 and a bit"),
		"Left wheel 1 turn, right wheel still (assumed); shaft 2 turns exactly, by eye":           turned(1, 0, false, "2"),
		"Left wheel 1 turn, right wheel 1 turn; shaft 4 + 38 mm of a rim of 380 mm circumference": byArc(1, 4, 38, 380, Circumference, false),
		"Left wheel 1 turn, right wheel 1 turn; shaft 5 − 38 mm of a rim of 121 mm diameter":      byArc(1, 5, 38, 121, Diameter, true),
		"Output 2 turns, other output held; input 4 + 0.10 turns by eye":                          onBench(2, OneHeld, "4.1"),
		"Output 10 turns, outputs joined; input 41 turns exactly, by eye":                         onBench(10, JoinedOutputs, "41"),
		"2050 rpm at 60 km/h, tire rolling 2000 mm":                                               {Method: Road, Road: &RoadReading{RPM: 2050, SpeedKMH: 60, RollingMM: 2000}},
		"Turned": {Method: Turns}, "Turned on the bench": {Method: Bench}, "Road figures": {Method: Road},
	}
	for want, r := range cases {
		if got := r.Summary(); got != want {
			t.Errorf("%q, want %q", got, want)
		}
	}
}

// The arithmetic shown is the arithmetic done.
func TestOriginShowsItsNumbers(t *testing.T) {
	cases := []struct {
		r    Reading
		says []string
	}{
		{turned(1, 0, true, "2.05"), []string{"2 + 0.050 = 2.050", "2.050 ÷ ((1 + 0) ÷ 2) = 4.100"}},
		{byArc(1, 4, 38, 121, Diameter, false), []string{"π × 121 mm = 380.1 mm", "38 mm ÷ 380.1 mm = 0.1000 turn"}},
		{onBench(2, OneHeld, "4.1"), []string{"4.100 ÷ (2 ÷ 2 (the other output was held)) = 4.100"}},
		{Reading{Method: Road, Road: &RoadReading{RPM: 2050, SpeedKMH: 60, RollingMM: 2000, Others: []float64{1}, Converter: Clutch}}, []string{"60 km/h ÷ 2000 mm = 500.0 rpm", "2050 ÷ 500.0 ÷ 1.000 = 4.100"}},
		{stamped("47 9"), []string{"read as 47 ring gear teeth and 9 pinion teeth"}},
		{counted(47, 9), []string{"ring gear teeth: 47", "pinion teeth: 9"}},
	}
	sp := space(t, axle)
	for _, c := range cases {
		text := strings.Join(assess(t, sp, c.r).Verdict().Findings[0].Origin, "\n")
		for _, want := range c.says {
			if !strings.Contains(text, want) {
				t.Errorf("%s: lacks %q in\n%s", c.r.Summary(), want, text)
			}
		}
	}
}

// Every cause has a name of its own and words for every method.
func TestCausesHaveWords(t *testing.T) {
	seen := map[string]bool{}
	for c := CauseRight; c < numCauses; c++ {
		if seen[c.String()] || c.String() == "" {
			t.Errorf("cause %d is called %q", c, c)
		}
		seen[c.String()] = true
		for _, by := range techniques {
			if c.say(by) == "" {
				t.Errorf("no words for %s at %s", c, by.method)
			}
		}
	}
	if len(Models()) < 15 {
		t.Errorf("only %d lines state the error models", len(Models()))
	}
	for _, m := range Models() {
		if m.What == "" || m.Value == "" {
			t.Errorf("%+v", m)
		}
	}
}

// Reading the same part a second time by another way makes it surer; saying
// the same thing twice the same way helps less than two ways.
func TestTwoWaysBeatOne(t *testing.T) {
	sp := space(t, axle)
	p := func(rs ...Reading) float64 { return sure(assess(t, sp, rs...).Verdict()) }
	one := p(counted(47, 9))
	two := p(counted(47, 9), turned(4, 4, true, "20.9"))
	three := p(counted(47, 9), turned(4, 4, true, "20.9"), stamped("47 9"))
	if !(one < two && two < three) {
		t.Errorf("%v, %v, %v", one, two, three)
	}
	// By hand: 93 % from the stated rates of ring and pinion, less with caution.
	near(t, "one count", one, 0.90, 0.03)
}
