package setup

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// Zero is a value: a straight bevel is no spiral one.
func TestStraightBevelIsNotLeftOut(t *testing.T) {
	zero := 0.0
	q := axle(Made{Pinion: "1.20", Left: "1.00", Right: "1.10", Backlash: "0.30 0.31 0.30"})
	with := judge(t, q)
	q.Spiral = &zero
	straight := judge(t, q)
	want := 2 * math.Tan(20*math.Pi/180) * math.Sin(math.Atan(float64(q.Ring)/float64(q.Pinion)))
	find := func(v *Verdict) string {
		for _, l := range v.Laws {
			return fmt.Sprint(l)
		}
		return ""
	}
	if find(with) == find(straight) {
		t.Error("no spiral is taken for 35 degrees")
	}
	q.Pressure = 20
	if m, _ := q.mesh(); math.Abs(m.Sensitivity()-want) > 1e-9 {
		t.Errorf("law %v, want %v", m.Sensitivity(), want)
	}
}

// Where there is no more shim to take out, the sentence says how much is missing.
func TestShimLimitIsSaid(t *testing.T) {
	for _, need := range []float64{0.12, 0.2, 0.3} {
		q := axle(Made{Pinion: "0.10", Left: "1.00", Right: "1.10", Backlash: "0.20 0.20 0.20", Depth: fmt.Sprintf("%.2f", 92.5-need)})
		q.Figures = append(q.Figures, Figure{Figure: FigureDepth, High: pointer(92.5), Unit: "mm"})
		v := judge(t, q)
		want := fmt.Sprintf("%.2f mm of the depth is out of reach", need-0.1)
		if !strings.Contains(v.Sentence, strings.Replace(want, "0.20 mm of", "0.2 mm of", 1)) && !strings.Contains(v.Sentence, "out of reach") {
			t.Errorf("%.2f less is needed: %s", need, v.Sentence)
		}
	}
}

func pointer(v float64) *float64 { return &v }

// A figure in another unit is asked about, in whichever unit the bench works, and no
// move is proposed until then.
func TestOtherUnitsAreAsked(t *testing.T) {
	for _, c := range []struct {
		unit         string
		low, high    float64
		limits, lash string
		asks         string
	}{
		{"mm", 0.15, 0.25, "mm", "0.006 0.007 0.006", "inches"},
		{"mm", 0.15, 0.25, "mm", "6 7 6", "thousandths"},
		{"mm", 0.006, 0.010, "mm", "0.20 0.21 0.20", "inches"},
		{"in", 0.006, 0.010, "mm", "0.0126 0.013 0.012", "inches"},
		{"in", 0.006, 0.010, "in", "0.0126 0.013 0.012", ""},
		{"mm", 0.15, 0.25, "mm", "0.03 0.04 0.03", ""},
		{"mm", 0.15, 0.25, "mm", "0.9 0.95 0.9", ""},
	} {
		q := axle(Made{Pinion: "1.20", Left: "1.00", Right: "1.10", Backlash: c.lash})
		if c.unit == "in" {
			q.Trials[0].Pinion, q.Trials[0].Left, q.Trials[0].Right = "0.047", "0.040", "0.043"
		}
		q.Unit = c.unit
		q.Figures = []Figure{{Figure: FigureBacklash, Low: &c.low, High: &c.high, Unit: c.limits}}
		v := judge(t, q)
		if asked := strings.Contains(v.Sentence, c.asks) && strings.Contains(v.Sentence, "unit"); c.asks != "" && (!asked || v.State != StateAsk || v.Next != nil) || c.asks == "" && v.Next == nil {
			t.Errorf("%+v: %s: %s", c, v.State, v.Sentence)
		}
		q.Trials[0].Sure = true
		if v := judge(t, q); v.Next == nil && c.asks != "" && v.State == StateAsk && strings.Contains(v.Sentence, "unit, then") {
			t.Errorf("%+v: looked at again, and still %s", c, v.Sentence)
		}
	}
}

// Torques that can't be are told at their field.
func TestTorquesThatCannotBe(t *testing.T) {
	q := axle(Made{Pinion: "1.20", Left: "1.00", Right: "1.10", PinionTorque: "2 N·m", TotalTorque: "1 N·m"})
	if _, err := Judge(q); err == nil || !strings.Contains(err.Error(), "total_torque") {
		t.Error(err)
	}
	q.Trials[0].TotalTorque, q.SealDrag = "3 N·m", "2.5 N·m"
	if _, err := Judge(q); err == nil || !strings.Contains(err.Error(), "seal_drag") {
		t.Error(err)
	}
}

// A carrier that changes sides is preloaded anew; a hypoid set can't be turned.
func TestTurnedCarrier(t *testing.T) {
	q := Turned{Left: "1.00", Right: "1.10", RingSide: "left"}
	a, err := TurnCarrier(q)
	if err != nil || !strings.Contains(a.Sentence, "bearing preload again") {
		t.Errorf("%+v, %v", a, err)
	}
	q.Hypoid = true
	if _, err := TurnCarrier(q); err == nil || !strings.Contains(err.Error(), "hypoid") {
		t.Error(err)
	}
}

// Marks of two pinions may be in different units.
func TestMarksInTwoUnits(t *testing.T) {
	a, err := SwapPinion(Swap{Shim: "1.20", OldMark: "+2", OldUnit: "0.001in", NewMark: "+3", MarkUnit: "0.01mm", Convention: "farther", Thicker: "in"})
	if err != nil || a.NewMM == nil || math.Abs(*a.NewMM-(1.20+0.0508-0.03)) > 1e-4 {
		t.Errorf("%+v, %v", a, err)
	}
}

func TestPinionMarksAreSaidBack(t *testing.T) {
	for mark, want := range map[[2]string]string{{"+7", "0.01mm"}: "+7 (+0.07 mm)", {"-2", "0.001in"}: "−2 (−0.0508 mm)", {"0", "mm"}: "0", {"+3", ""}: "+3"} {
		if said, err := HearMark(mark[0], mark[1]); err != nil || said != want {
			t.Errorf("%v: %q, %v, want %q", mark, said, err, want)
		}
	}
	for mark, unit := range map[string]string{"±2": "", "3 mm": "mm", "x": "mm", "+2": "ells", "": "mm"} {
		if said, err := HearMark(mark, unit); err == nil {
			t.Errorf("%q in %q: %q", mark, unit, said)
		}
	}
}
