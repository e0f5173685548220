package setup

import (
	"encoding/json"
	"math"
	"strings"
	"testing"

	"zorvel/core/shim"
)

// new shim = old shim + old mark − new mark, for marks of how much farther out
// a pinion wants to sit and a shim that moves it in.
func TestSwapPinion(t *testing.T) {
	for _, c := range []struct {
		convention, thicker, unit, old, new string
		want                                float64
		says                                string
	}{
		{"farther", "in", "0.01mm", "+2", "+7", 1.15, "sits 0.05 mm farther out, so the shim gets 0.05 mm thinner: 1.2 → 1.15 mm"},
		{"farther", "in", "0.01mm", "+2", "-3", 1.25, "farther in, so the shim gets 0.05 mm thicker"},
		{"farther", "out", "0.01mm", "+2", "+7", 1.25, "farther out, so the shim gets 0.05 mm thicker"},
		{"nearer", "in", "0.01mm", "+2", "+7", 1.25, "farther in"},
		{"distance", "in", "mm", "109.02", "109.07", 1.15, "farther out"},
		{"shim_plus", "out", "0.01mm", "2", "7", 1.25, "needs a shim 0.05 mm thicker"},
		{"shim_minus", "in", "0.01mm", "2", "7", 1.15, "needs a shim 0.05 mm thinner"},
		{"farther", "in", "0.001in", "−1", "+1", 1.1492, "farther out"},
		{"farther", "in", "0.01mm", "+3", "+3", 1.2, "the shim stays"},
	} {
		a, err := SwapPinion(Swap{Shim: "1.20", OldMark: c.old, NewMark: c.new, MarkUnit: c.unit, Convention: c.convention, Thicker: c.thicker})
		if err != nil || a.NewMM == nil || math.Abs(*a.NewMM-c.want) > 1e-9 || !strings.Contains(a.Sentence, c.says) || len(a.Ways) != 5 || a.Ways[0].Convention != c.convention {
			t.Errorf("%+v: %+v %v", c, a, err)
		}
	}
	// Neither unit nor convention is guessed.
	a, err := SwapPinion(Swap{Shim: "1.20", OldMark: "+2", NewMark: "+7", Thicker: "in"})
	if err != nil || a.NewMM != nil || len(a.Asks) != 1 || !strings.Contains(a.Asks[0], "2.54") {
		t.Errorf("%+v %v", a, err)
	}
	if a, err = SwapPinion(Swap{Shim: "1.20", OldMark: "+2", NewMark: "+7", MarkUnit: "0.01mm", Thicker: "in"}); err != nil || a.NewMM != nil || len(a.Ways) != 5 {
		t.Errorf("%+v %v", a, err)
	}
	for field, q := range map[string]Swap{
		"shim": {Shim: "", OldMark: "1", NewMark: "2", Thicker: "in"}, "old_mark": {Shim: "1", OldMark: "3 mm", NewMark: "2", Thicker: "in"},
		"thicker": {Shim: "1", OldMark: "1", NewMark: "2"}, "new_mark": {Shim: "0.02", OldMark: "0", NewMark: "40", Thicker: "in", MarkUnit: "0.01mm", Convention: "farther"},
	} {
		if _, err := SwapPinion(q); err == nil || !strings.Contains(err.Error(), field+":") {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// The thickest stack not above the gap less the gauge: 0.43 − 0.01 = 0.42; the
// box makes 0.40 of two, and 0.42 of three would be 0.10 + 0.12 + 0.20.
func TestRigidStack(t *testing.T) {
	a, err := RigidStack(Rigid{Gap: "0.43 0.44 0.43", Ledge: "yes", Box: "0.10 x2, 0.12, 0.20 x2, 0.45"})
	if err != nil || math.Abs(a.Stack.TotalMM-0.42) > 1e-9 || math.Abs(*a.RestMM-0.01) > 1e-9 {
		t.Fatalf("%+v %v", a, err)
	}
	if !strings.Contains(strings.Join(a.Order, ", "), "depth shims under its cup") {
		t.Errorf("%v", a.Order)
	}
	// Never more than the gap, whatever the box; brute force over all stacks.
	for _, gap := range []string{"0.30", "0.55", "0.37", "1.01", "0.05"} {
		a, err := RigidStack(Rigid{Gap: gap, Ledge: "no", Box: "0.03 x2, 0.08 x2, 0.11, 0.25, 0.40"})
		if err != nil {
			t.Fatal(err)
		}
		best := shim.Micron(0)
		box := []shim.Micron{300, 300, 800, 800, 1100, 2500, 4000}
		for set := range 1 << len(box) {
			sum, n := shim.Micron(0), 0
			for i, b := range box {
				if set>>i&1 == 1 {
					sum, n = sum+b, n+1
				}
			}
			if n <= 4 && sum <= shim.Of(a.MostMM) && sum > best {
				best = sum
			}
		}
		got := shim.Micron(0)
		if a.Stack != nil {
			got = shim.Of(a.Stack.TotalMM)
		}
		if got != best {
			t.Errorf("gap %s: %v, the thickest is %v", gap, got.MM(), best.MM())
		}
	}
	a, err = RigidStack(Rigid{Gap: "0.43", Ledge: "no", Box: "0.40", Before: "2.0 N·m", After: "1.2 N·m"})
	if err != nil || !a.Spoiled || !strings.Contains(a.Preload, "takes the preload away") {
		t.Errorf("%+v %v", a, err)
	}
	if a, err = RigidStack(Rigid{Gap: "0.43", Ledge: "no", Box: "0.40", Before: "2.0 N·m", After: "2.1 N·m"}); err != nil || a.Spoiled {
		t.Errorf("%+v %v", a, err)
	}
	if _, err := RigidStack(Rigid{Gap: "", Ledge: "perhaps", Box: "x"}); err == nil || !strings.Contains(err.Error(), "ledge:") || !strings.Contains(err.Error(), "gap:") || !strings.Contains(err.Error(), "box:") {
		t.Errorf("%v", err)
	}
}

func TestTurnCarrier(t *testing.T) {
	a, err := TurnCarrier(Turned{Left: "1.10", Right: "0.95", RingSide: "left"})
	if err != nil || a.LeftMM != 0.95 || a.RightMM != 1.1 || a.RingSide != "right" || !strings.Contains(strings.Join(a.Cautions, " "), "turn the other way") {
		t.Errorf("%+v %v", a, err)
	}
	if _, err := TurnCarrier(Turned{Left: "", Right: "1", RingSide: "up"}); err == nil {
		t.Error("taken")
	}
}

// Side gears of 16 on spiders of 10: sin(atan 1.6) = 0.84800, 2 · 0.36397 ·
// 0.848 = 0.61730. From 0.30 to 0.10 asks for 0.324 mm thicker.
func TestSideGears(t *testing.T) {
	q := Side{Teeth: 16, Mate: 10, Figures: []Figure{fig(FigureSidePlay, 0.05, 0.15, "mm")}, Left: []Played{{"1.00", "0.30 0.30 0.30"}}, Right: []Played{{"1.00", "0.10"}}}
	a, err := SideGears(q)
	if err != nil || a.Sides[0].NextMM == nil || math.Abs(*a.Sides[0].NextMM-1.32) > 1e-9 || a.Sides[1].NextMM != nil || a.Sides[1].State != "in" {
		t.Fatalf("%+v %v", a, err)
	}
	q.Box = "1.30, 1.00"
	if a, err = SideGears(q); err != nil || math.Abs(*a.Sides[0].NextMM-1.3) > 1e-9 {
		t.Errorf("%+v %v", a, err)
	}
	q.Figures = nil
	if _, err := SideGears(q); err == nil || !strings.Contains(err.Error(), "figures:") {
		t.Errorf("%v", err)
	}
}

func TestLimitedSlip(t *testing.T) {
	a, err := LimitedSlip(Slip{Figures: []Figure{fig(FigureBreakaway, 60, 90, "N·m"), fig(FigureClutchGap, 0.1, 0.3, "mm")}, Breakaway: "45 N·m", Room: "24.00", Stack: "22.80", Shim: "0.80"})
	if err != nil || a.Checks[0].State != "low" || a.Checks[1].State != "high" || a.ShimMM == nil || math.Abs(*a.ShimMM-1) > 1e-9 {
		t.Fatalf("%+v %v", a, err)
	}
	if _, err := LimitedSlip(Slip{}); err == nil {
		t.Error("nothing was asked, and answered")
	}
}

// 0.05 mm radially: backlash swings by 2 · tan 20° · 0.05 = 0.0364.
func TestGearRunout(t *testing.T) {
	a, err := GearRunout(Runout{Readings: "0 0.02 0.05 0.03", Figures: []Figure{fig(FigureGearRunout, 0, 0.04, "mm")}})
	if err != nil || math.Abs(a.TotalMM-0.05) > 1e-9 || math.Abs(a.SwingMM-0.0364) > 1e-4 || a.Check.State != "high" {
		t.Errorf("%+v %v", a, err)
	}
	if _, err := GearRunout(Runout{Readings: "0 0.1"}); err == nil {
		t.Error("two places were taken")
	}
}

func TestWorkAnswersSeveral(t *testing.T) {
	a, err := Work(Question{Turned: &Turned{Left: "1", Right: "1", RingSide: "left"}, Runout: &Runout{Readings: "0 0 0"}})
	if err != nil || a.Turned == nil || a.Runout == nil || a.Axle != nil {
		t.Errorf("%+v %v", a, err)
	}
	if _, err := json.Marshal(a); err != nil {
		t.Error(err)
	}
	if _, err := Work(Question{}); err == nil {
		t.Error("nothing was asked")
	}
	if _, err := Work(Question{Turned: &Turned{}, Runout: &Runout{}}); err == nil || !strings.Contains(err.Error(), "turned/ring_side:") || !strings.Contains(err.Error(), "gear_runout/readings:") {
		t.Errorf("%v", err)
	}
}
