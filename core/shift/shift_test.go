package shift

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"
)

func work(tb testing.TB, m Mechanism) *Answer {
	tb.Helper()
	a, err := Work(m)
	if err != nil {
		tb.Fatal(err)
	}
	if _, err := json.Marshal(a); err != nil {
		tb.Fatal(err)
	}
	return a
}

func mm(v float64) *float64 { return &v }

func TestTypicalMechanismShifts(t *testing.T) {
	a := work(t, Mechanism{})
	if a.Sentence != "Such a mechanism shifts as it should." || a.Grinds || a.NotIn || a.Pops {
		t.Errorf("%+v", a)
	}
	if len(a.Typical) != 8 || len(a.Advice) == 0 || len(a.Cautions) == 0 {
		t.Errorf("%d typical, %+v", len(a.Typical), a.Typical)
	}
	for _, g := range a.Out {
		if g.Stalls || g.Hard || g.Stuck {
			t.Errorf("%+v", g)
		}
	}
	// J·Δω/M by hand: 0.05 · (700 − 350) · 2π/60 / 5.
	if want := 0.05 * 350 * 2 * math.Pi / 60 / 5; math.Abs(a.Out[0].StandsS-want) > 0.001 {
		t.Errorf("it turns on for %v s, %v by hand", a.Out[0].StandsS, want)
	}
}

// As the cable drags more, it stalls out of reverse first, then out of forward
// too; it never gets better.
func TestReverseStallsFirst(t *testing.T) {
	var reverse, forward float64
	last := 0.0
	for drag := 5.0; drag < 60; drag++ {
		a := work(t, Mechanism{CableN: drag})
		if a.Out[0].Gear != "reverse" || a.Out[0].OpenS < last-1e-9 {
			t.Fatalf("at %v N: %+v after %v s", drag, a.Out[0], last)
		}
		last = a.Out[0].OpenS
		if a.Out[0].Stalls && reverse == 0 {
			reverse = drag
		}
		if a.Out[1].Stalls && forward == 0 {
			forward = drag
		}
	}
	if reverse == 0 || forward <= reverse {
		t.Errorf("reverse stalls from %v N, forward from %v N", reverse, forward)
	}
}

// Without the interrupter the torque stays on: the force is that of an inclined
// plane, worked by hand.
func TestWithoutTheInterrupter(t *testing.T) {
	a := work(t, Mechanism{Switch: "closed", CableN: 10, SealN: 5, IdleRPM: 700, UndercutDeg: mm(8)})
	forward := a.Out[1]
	want := 20/0.024*math.Tan(8*math.Pi/180+math.Atan(0.15))/4 + 15
	if math.Abs(forward.ForceN-want) > 0.1 || forward.Stalls || forward.OpenS != 0 {
		t.Errorf("%+v, by hand %v N", forward, want)
	}
	if with := work(t, Mechanism{CableN: 10, SealN: 5, UndercutDeg: mm(8)}); with.Out[1].ForceN >= forward.ForceN {
		t.Errorf("the interrupter helps nothing: %v and %v", with.Out[1].ForceN, forward.ForceN)
	}
	if !strings.Contains(strings.Join(a.Advice, " "), "shift interrupt switch connected") {
		t.Error("nobody says that it stays connected")
	}
}

func TestWhatGoesWrong(t *testing.T) {
	for name, c := range map[string]struct {
		m    Mechanism
		is   func(*Answer) bool
		word string
	}{
		"idle too high grinds":          {Mechanism{IdleRPM: 1400}, func(a *Answer) bool { return a.Grinds }, "grinds"},
		"a slow hand grinds":            {Mechanism{MoveS: 0.5}, func(a *Answer) bool { return a.Grinds }, "grinds"},
		"rounded dogs pop out":          {Mechanism{RoundMM: mm(1.5)}, func(a *Answer) bool { return a.Pops && a.Grinds }, "pops out"},
		"half in pops out too":          {Mechanism{ShortMM: mm(3.4)}, func(a *Answer) bool { return a.Pops && a.NotIn }, "does not go in fully"},
		"undercut holds":                {Mechanism{RoundMM: mm(0.8), UndercutDeg: mm(15)}, func(a *Answer) bool { return !a.Pops }, ""},
		"a seized seal stalls both":     {Mechanism{SealN: 45}, func(a *Answer) bool { return a.Out[0].Stalls && a.Out[1].Stalls }, "stalls out of forward"},
		"a switch that sticks open":     {Mechanism{Switch: "open"}, func(a *Answer) bool { return a.Out[0].Stalls && a.Out[0].OpenS == 60 }, "stalls"},
		"no hand draws it":              {Mechanism{Switch: "closed", IdleRPM: 1400}, func(a *Answer) bool { return a.Out[0].Stuck }, "does not draw it"},
		"below its stalling speed":      {Mechanism{IdleRPM: 300}, func(a *Answer) bool { return a.Out[0].StandsS == 0 }, ""},
		"no rounding, nothing missing":  {Mechanism{RoundMM: mm(0), ShortMM: mm(0)}, func(a *Answer) bool { return !a.Grinds && !a.Pops && a.InMM == 9 }, "as it should"},
		"a cable that drags makes slow": {Mechanism{CableN: 60}, func(a *Answer) bool { return a.BiteMM < 0.9 }, ""},
	} {
		a := work(t, c.m)
		if !c.is(a) || !strings.Contains(a.Sentence, c.word) {
			t.Errorf("%s: %s %+v", name, a.Sentence, a)
		}
	}
}

func TestRefusesMechanisms(t *testing.T) {
	for field, m := range map[string]Mechanism{
		"cable_n": {CableN: -1}, "seal_n": {SealN: 1e9}, "idle_rpm": {IdleRPM: math.NaN()}, "move_s": {MoveS: math.Inf(1)}, "stroke_mm": {StrokeMM: -3},
		"short_mm": {ShortMM: mm(-1)}, "round_mm": {RoundMM: mm(99)}, "undercut_deg": {UndercutDeg: mm(math.NaN())}, "switch": {Switch: "maybe"},
	} {
		if _, err := Work(m); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// Each fault shows what the trade knows of it, and a sound mechanism next to
// nothing.
func TestChances(t *testing.T) {
	c := Chances()
	for _, x := range []struct {
		fault, sign string
		low, high   float64
	}{
		{"", "stalls_reverse", 0, 0.02}, {"", "grinds", 0, 0.12}, {"", "pops", 0, 0.05}, {"", "not_in", 0, 0.02},
		{"shift_cable", "stalls_reverse", 0.6, 1}, {"shift_cable", "hard_out", 0.8, 1}, {"shift_seal", "stalls_forward", 0.6, 1},
		{"interrupter", "hard_out", 0.3, 0.9}, {"cable_phase", "not_in", 0.5, 1}, {"cable_phase", "pops", 0.2, 0.9}, {"idle", "grinds", 0.4, 1},
		{"rounded", "pops", 0.7, 1}, {"rounded", "stalls_reverse", 0, 0.05},
	} {
		if p := c[x.fault][x.sign]; p < x.low || p > x.high {
			t.Errorf("%q shows %s in %.3f", x.fault, x.sign, p)
		}
	}
	if c["shift_cable"]["stalls_reverse"] <= c["shift_cable"]["stalls_forward"] {
		t.Error("a dragging cable stalls reverse no sooner than forward")
	}
	again := Chances()
	for _, f := range Faults {
		for _, s := range Signs {
			if c[f][s] != again[f][s] || c[f][s] <= 0 || c[f][s] >= 1 {
				t.Errorf("%s %s: %v, then %v", f, s, c[f][s], again[f][s])
			}
		}
	}
}

func ExampleWork() {
	a, err := Work(Mechanism{CableN: 40})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("out of reverse it stalls: %v, out of forward: %v\n", a.Out[0].Stalls, a.Out[1].Stalls)
	// Output:
	// out of reverse it stalls: true, out of forward: true
}

// More drag never takes less force or opens the switch for less; a higher idle never
// lets the dogs in deeper; less in never holds better.
func TestWorseIsNeverBetter(t *testing.T) {
	for name, c := range map[string]struct {
		at    func(v float64) Mechanism
		worse func(a, b *Answer) bool // b is no better than a
		from  float64
		to    float64
	}{
		"cable": {func(v float64) Mechanism { return Mechanism{CableN: v} }, func(a, b *Answer) bool {
			return b.Out[0].ForceN >= a.Out[0].ForceN-1e-9 && b.Out[0].OpenS >= a.Out[0].OpenS-1e-9 && b.BiteMM <= a.BiteMM+1e-9
		}, 2, 80},
		"idle": {func(v float64) Mechanism { return Mechanism{IdleRPM: v} }, func(a, b *Answer) bool {
			return b.BiteMM <= a.BiteMM+1e-9 && b.Out[0].StandsS >= a.Out[0].StandsS-1e-9
		}, 400, 1600},
		"slow": {func(v float64) Mechanism { return Mechanism{MoveS: v} }, func(a, b *Answer) bool { return b.BiteMM <= a.BiteMM+1e-9 }, 0.05, 0.8},
		"short": {func(v float64) Mechanism { return Mechanism{ShortMM: mm(v)} }, func(a, b *Answer) bool {
			return b.InMM <= a.InMM+1e-9 && b.PushN >= a.PushN-1e-9 && b.NeedMM >= a.NeedMM-1e-9
		}, 0, 4.4},
		"round": {func(v float64) Mechanism { return Mechanism{RoundMM: mm(v)} }, func(a, b *Answer) bool { return b.PushN >= a.PushN-1e-9 && b.NeedMM >= a.NeedMM-1e-9 }, 0, 3},
	} {
		last := work(t, c.at(c.from))
		for v := c.from; v <= c.to; v += (c.to - c.from) / 60 {
			now := work(t, c.at(v))
			if !c.worse(last, now) {
				t.Errorf("%s at %v: %+v after %+v", name, v, now, last)
				break
			}
			last = now
		}
	}
}

// What is typical is named where it is taken, and nowhere else.
func TestTypicalIsNamed(t *testing.T) {
	whole := Mechanism{CableN: 12, SealN: 8, IdleRPM: 700, MoveS: 0.13, StrokeMM: 9, ShortMM: mm(0.5), RoundMM: mm(0.3), UndercutDeg: mm(6)}
	a, b := work(t, whole), work(t, Mechanism{})
	if len(a.Typical) != 0 || len(b.Typical) != 8 {
		t.Errorf("%v and %v", a.Typical, b.Typical)
	}
	if a.Out[0] != b.Out[0] || a.BiteMM != b.BiteMM || a.PushN != b.PushN {
		t.Errorf("entered %+v, typical %+v", a, b)
	}
}
