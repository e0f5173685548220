package identify

import (
	"strings"
	"testing"
)

// 37/8 = 4.625, 51/11 = 4.636 and 65/14 = 4.643 lie within 0.02: one turn by
// eye can't tell them apart, many turns along the rim or the teeth can.
func TestCloseRatiosNeedFineReadings(t *testing.T) {
	sp := space(t, axle, pair(37, 8), pair(51, 11), pair(65, 14))
	a := assess(t, sp, tagged("4.64"), turned(2, 2, true, "9.3"))
	plan := a.Next(SettlePair, Situation{OnStands: true})
	best := plan.Options[0]
	if plan.Settled || (best.Method == Turns && (best.By != ByArc || best.OutputTurns < 10)) {
		t.Errorf("settled %v, first: %s", plan.Settled, best.Do)
	}
	for _, o := range plan.Options {
		if o.Method == Turns && o.By == ByEye && o.OutputTurns == 1 && o.Settles > 0.1 {
			t.Errorf("one turn by eye is said to settle it with %.2f", o.Settles)
		}
	}
	// With the wheel seized only the housing is left.
	seized := a.Next(SettlePair, Situation{NoTurns: true, NoStamp: true, NoRoad: true})
	if seized.Options[0].Method != Teeth {
		t.Errorf("with a seized wheel: %s", seized.Options[0].Do)
	}
}

func TestSettledAsksForNothing(t *testing.T) {
	a := assess(t, space(t, axle), counted(41, 10), turned(4, 4, true, "16.4"), tagged("4.10"))
	plan := a.Next(SettleLabel, Situation{})
	if !plan.Settled || !strings.Contains(plan.Sentence, "settled") {
		t.Errorf("%+v", plan)
	}
}

func TestSituationSetsTheMinutes(t *testing.T) {
	a := assess(t, space(t, axle), tagged("4.10"))
	minutes := func(s Situation, m Method) float64 {
		for _, o := range a.Next(SettleLabel, s).Options {
			if o.Method == m {
				return o.Minutes
			}
		}
		t.Fatalf("%s is no option in %+v", m, s)
		return 0
	}
	if open, shut := minutes(Situation{CoverOff: true}, Teeth), minutes(Situation{},
		Teeth); shut-open != OpeningMinutes(RingAndPinion) {
		t.Errorf("teeth: %v with the cover off, %v with it on", open, shut)
	}
	if up, down := minutes(Situation{OnStands: true}, Turns), minutes(Situation{}, Turns); down-up < 5 {
		t.Errorf("turns: %v on stands, %v on the floor", up, down)
	}
	for _, o := range a.Next(SettleLabel, Situation{NoTurns: true, NoRoad: true, NoStamp: true}).Options {
		if o.Method != Teeth {
			t.Errorf("%s was ruled out", o.Do)
		}
	}
	if !strings.Contains((Plan{}).sentence(false), "free the wheel") {
		t.Error("no word when nothing can be measured")
	}
}

// A second method never promises a worse chance than now.
func TestOptionsHelp(t *testing.T) {
	a := assess(t, space(t, axle), counted(47, 9))
	for _, goal := range []Goal{SettleLabel, SettlePair} {
		p := a.Next(goal, Situation{})
		last := 0.0
		for _, o := range p.Options {
			if o.WrongAfter > 1-p.Sure+1e-9 || o.Settles < 0 || o.Settles > 1 || o.Total < o.Minutes || o.Do == "" {
				t.Errorf("%s: %+v", goal, o)
			}
			if o.Total < last {
				t.Error("options aren't in order of total minutes")
			}
			last = o.Total
		}
	}
}

func TestOrderGate(t *testing.T) {
	sp := space(t, axle, pair(41, 10), pair(37, 9))
	unsure := assess(t, sp, tagged("4.10"))
	g, err := unsure.Gate(Order{Goal: SettleLabel, Price: 1000, WrongCost: 1400, LaborPerHour: 80}, Situation{})
	if err != nil || !g.MeasureFirst || g.LossAfter+g.MeasureCost >= g.LossNow || !strings.Contains(g.Sentence, "Measure first") {
		t.Errorf("a tag alone should not be ordered by: %+v, %v", g, err)
	}
	if want := g.ChanceWrong * 1400; g.LossNow != want {
		t.Errorf("loss now %v, want %v", g.LossNow, want)
	}
	sure := assess(t, sp, tagged("4.10"), counted(41, 10), turned(4, 4, true, "16.4"))
	g, err = sure.Gate(Order{Goal: SettleLabel, Price: 1000, LaborPerHour: 80}, Situation{})
	if err != nil || g.MeasureFirst || !strings.Contains(g.Sentence, "Ordering now") {
		t.Errorf("three methods agree: %+v, %v", g, err)
	}
	// Cheap gears, dear labor: not worth another hour.
	g, err = unsure.Gate(Order{Goal: SettleLabel, Price: 5, LaborPerHour: 200}, Situation{})
	if err != nil || g.MeasureFirst {
		t.Errorf("cheap gears: %+v, %v", g, err)
	}
	if _, err := unsure.Gate(Order{Goal: SettleLabel, Price: -1}, Situation{}); err == nil {
		t.Error("a negative price was taken")
	}
}

// A small run of the simulation behind docs/accuracy.md.
func TestCalibration(t *testing.T) {
	sp := space(t, axle)
	for _, scale := range []float64{1, 1.5} {
		rec, err := Trial{Technicians: 300, Scale: scale, Seed: 5}.Run(sp, nil)
		if err != nil {
			t.Fatal(err)
		}
		fixed, err := Trial{Technicians: 300, Scale: scale, Seed: 5, FixedOrder: true}.Run(sp, nil)
		if err != nil {
			t.Fatal(err)
		}
		given, right := 0, 0
		for _, b := range rec.Bands {
			if b.From >= 0.99 {
				given, right = given+b.Given, right+b.Right
			}
		}
		if given < 200 || float64(right) < 0.975*float64(given) {
			t.Errorf("× %v: of %d verdicts called 99 %% sure %d were right", scale, given, right)
		}
		if rec.Minutes >= 0.8*fixed.Minutes || rec.Settled < 270 {
			t.Errorf("× %v: %.1f minutes as recommended, %.1f in fixed order, %d settled", scale, rec.Minutes, fixed.Minutes, rec.Settled)
		}
		again, err := Trial{Technicians: 30, Scale: scale, Seed: 5}.Run(sp, nil)
		if err != nil || again.Technicians != 30 {
			t.Fatal(err)
		}
	}
}

// bareDoubleLoop is the plainest use of the same evidence: every pair, every
// reading, one normal density. The benchmarks are given as ratios to it.
func bareDoubleLoop(sp *Space, readings []compiled, post []float64) {
	for i := range sp.hyps {
		p := sp.hyps[i].prior
		for k := range readings {
			p *= readings[k].byRatio[0].density(sp.hyps[i].r)
		}
		post[i] = p
	}
}

func twenty() []Reading {
	var rs []Reading
	for range 10 {
		rs = append(rs, turned(1, 1, true, "4.1"), byArc(4, 16, 152, 380, Circumference, false))
	}
	return rs
}

func BenchmarkBareDoubleLoop20(b *testing.B) {
	sp := space(b, axle)
	a := assess(b, sp, twenty()...)
	post := make([]float64, len(sp.hyps))
	for b.Loop() {
		bareDoubleLoop(sp, a.readings, post)
	}
}

func BenchmarkVerdict20(b *testing.B) {
	sp, rs := space(b, axle), twenty()
	for b.Loop() {
		assess(b, sp, rs...).Verdict()
	}
}

func BenchmarkNext(b *testing.B) {
	a := assess(b, space(b, axle), tagged("4.10"), turned(1, 1, true, "4.1"))
	for b.Loop() {
		a.Next(SettleLabel, Situation{})
	}
}

func BenchmarkTwoStageVerdict(b *testing.B) {
	sp := space(b, Stage{Kind: TwoStage})
	for b.Loop() {
		assess(b, sp, turned(2, 2, true, "8.8")).Verdict()
	}
}

func BenchmarkTwoStageSpace(b *testing.B) {
	for b.Loop() {
		space(b, Stage{Kind: TwoStage})
	}
}
