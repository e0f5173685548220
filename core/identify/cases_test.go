package identify

import (
	"fmt"
	"testing"

	"zorvel/core/exact"
	"zorvel/core/ratio"
)

// One clean pair of readings for many real ratios: the counts name the pair,
// ten turns by arc agree, and the label is settled or nearly so.
func TestManyAxles(t *testing.T) {
	sp := space(t, axle)
	pairs := []ratio.Pair{
		{Driven: 40, Driver: 13}, {Driven: 41, Driver: 13}, {Driven: 43, Driver: 12}, {Driven: 39, Driver: 11}, {Driven: 41, Driver: 11},
		{Driven: 43, Driver: 11}, {Driven: 37, Driver: 9}, {Driven: 41, Driver: 10}, {Driven: 41, Driver: 9}, {Driven: 37, Driver: 8},
		{Driven: 43, Driver: 9}, {Driven: 39, Driver: 8}, {Driven: 47, Driver: 9}, {Driven: 43, Driver: 8}, {Driven: 38, Driver: 7},
		{Driven: 41, Driver: 7}, {Driven: 46, Driver: 7}, {Driven: 43, Driver: 6}, {Driven: 51, Driver: 11}, {Driven: 65, Driver: 14},
		{Driven: 46, Driver: 12}, {Driven: 40, Driver: 10}, {Driven: 73, Driver: 16}, {Driven: 61, Driver: 15},
	}
	for _, p := range pairs {
		r, err := p.Ratio()
		if err != nil {
			t.Fatal(err)
		}
		shaft := r.Float() * 10
		whole := int(shaft)
		v := assess(t, sp, counted(p.Driven, p.Driver), byArc(10, whole, (shaft-float64(whole))*380, 380, Circumference, false)).Verdict()
		if v.Best.Build.Teeth[0] != p.Driven || v.Best.Build.Teeth[1] != p.Driver || !v.Best.Build.Ratio.Equal(r) {
			t.Errorf("%v: best is %v", p, v.Best.Build)
		}
		if label(v) != r.Label() || sure(v) < 0.98 || v.State != Measured {
			t.Errorf("%v: %s %v, %s", p, label(v), sure(v), v.State)
		}
		if v.Best.Hunting != p.Hunting() {
			t.Errorf("%v is %s, not %s", p, p.Hunting(), v.Best.Hunting)
		}
		if !(v.Turns.Low < r.Float() && r.Float() < v.Turns.High) {
			t.Errorf("%v: the turns allow %v to %v", p, v.Turns.Low, v.Turns.High)
		}
	}
}

// The same evidence in any order gives the same verdict.
func TestOrderOfReadingsDoesNotMatter(t *testing.T) {
	sp := space(t, axle, pair(41, 10), pair(47, 9))
	rs := []Reading{tagged("4.10"), turned(1, 1, false, "5.2"), counted(47, 9), stamped("47 9")}
	want := sure(assess(t, sp, rs...).Verdict())
	for _, order := range [][]int{{3, 2, 1, 0}, {1, 3, 0, 2}, {2, 0, 3, 1}} {
		var mixed []Reading
		for _, i := range order {
			mixed = append(mixed, rs[i])
		}
		near(t, fmt.Sprint(order), sure(assess(t, sp, mixed...).Verdict()), want, 1e-12)
	}
}

// Ring today, pinion tomorrow: one member alone narrows, both name the pair.
func TestMembersCountedApart(t *testing.T) {
	sp := space(t, axle)
	ring := Reading{Method: Teeth, Teeth: []Count{{"ring", 47}}}
	pinion := Reading{Method: Teeth, Teeth: []Count{{"pinion", 9}}}
	alone := assess(t, sp, ring).Verdict()
	if alone.Best.Probability > 0.4 || alone.Findings[0].Says != 0 {
		t.Errorf("the ring alone: %v, says %v", alone.Best.Probability, alone.Findings[0].Says)
	}
	both := assess(t, sp, ring, pinion).Verdict()
	if !both.Best.Build.Ratio.Equal(exact.New(47, 9)) || both.Best.Probability < 0.85 {
		t.Errorf("both: %+v", both.Best)
	}
	// Outside the usual numbers too.
	odd := assess(t, sp, Reading{Method: Teeth, Teeth: []Count{{"ring", 95}}}, Reading{Method: Teeth, Teeth: []Count{{"pinion", 19}}}).Verdict()
	if label(odd) != "5.00" || odd.Best.Build.Teeth[0] != 95 {
		t.Errorf("95 and 19: %+v", odd.Best.Build)
	}
}

// A miscount is found out by the turns: 48 was counted, the turns say 47/9.
func TestTurnsCorrectACount(t *testing.T) {
	sp := space(t, axle)
	v := assess(t, sp, counted(48, 9), byArc(10, 52, 84, 380, Circumference, false), byArc(10, 52, 86, 380, Circumference, false)).Verdict()
	if label(v) != "5.22" || v.Findings[0].Cause != CauseCountedTwice || v.Findings[0].Agreement != Disagrees {
		t.Errorf("%s, %+v", label(v), v.Findings[0])
	}
}

// Half the ratio is never taken for the ratio when the wheel was watched.
func TestHalfIsUnderstood(t *testing.T) {
	sp := space(t, axle)
	half := assess(t, sp, turned(1, 0, true, "2.6")).Verdict()
	full := assess(t, sp, turned(1, 1, true, "5.2")).Verdict()
	near(t, "what one held wheel says", half.Findings[0].Says, full.Findings[0].Says, 1e-9)
	if w := half.Turns.High - half.Turns.Low; w < 1.8*(full.Turns.High-full.Turns.Low) {
		t.Errorf("half the shaft turns, so twice the spread; got %v", w)
	}
}

// Each goal settles by itself: 26/5 and 52/10 share the label.
func TestLabelSettlesBeforeThePair(t *testing.T) {
	sp := space(t, axle, pair(52, 10), pair(26, 5))
	a := assess(t, sp, tagged("5.20"), byArc(10, 52, 0, 380, Circumference, false))
	label, exact := a.Next(SettleLabel, Situation{}), a.Next(SettlePair, Situation{})
	if !label.Settled || exact.Settled {
		t.Errorf("label %v (%v), pair %v (%v)", label.Settled, label.Sure, exact.Settled, exact.Sure)
	}
	if m := exact.Options[0].Method; m == Turns || m == Road {
		t.Errorf("no turning tells 26/5 from 52/10, yet first comes %s", exact.Options[0].Do)
	}
}
