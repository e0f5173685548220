package trace

import (
	"math"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/linetest"
	"zorvel/core/exact"
)

func TestGearTable(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	tr, err := Run(d, driveline.State{Select: linetest.Set("gearbox", "N", "clutch", "open")}, Want{Gears: true})
	if err != nil {
		t.Fatal(err)
	}
	if len(tr.Gears) != 12 {
		t.Fatalf("%d rows, want 6 gears in 2 ranges", len(tr.Gears))
	}
	c := exact.New(39, 21)
	low := exact.New(114, 42)
	for _, g := range tr.Gears {
		r := map[string]exact.Number{"1": exact.New(36, 17), "2": exact.New(31, 25), "3": exact.New(25, 31), "4": c.Inv(), "5": exact.New(18, 40), "R": exact.New(34, 17)}[g.Name]
		want := c.Mul(r).Mul(exact.New(41, 10))
		if g.Range == "low" {
			want = want.Mul(low)
		}
		if !g.Overall.Equal(want) || g.Reverse != (g.Name == "R") {
			t.Errorf("%s %s: %v, want %v", g.Name, g.Range, g.Overall, want)
		}
		// 1000 rpm ÷ overall × 2.39 m × 60 / 1000; thrust = overall ÷ radius.
		if kmh := 1000 / want.Float() * 2.39 * 60 / 1000; math.Abs(*g.KMH-kmh) > 1e-9 {
			t.Errorf("%s %s: %v km/h, want %v", g.Name, g.Range, *g.KMH, kmh)
		}
		if th := want.Float() * 2 * math.Pi / 2.39; math.Abs(*g.Thrust-th) > 1e-9 {
			t.Errorf("%s %s: thrust %v, want %v", g.Name, g.Range, *g.Thrust, th)
		}
	}
	if f := tr.Gears[1].Formula; !strings.Contains(f, "1.8571 × 2.1176 × 2.7143 × 4.1") {
		t.Errorf("formula %q", f)
	}
	// 13 inches at 1000/2.0769 rpm without slip.
	tr, err = Run(linetest.Layout(t, "outboard"), driveline.State{}, Want{Gears: true})
	if err != nil {
		t.Fatal(err)
	}
	if kn := 1000.0 * 13 / 27 * 13 * 60 / 72913.4; math.Abs(*tr.Gears[0].Knots-kn) > 1e-9 {
		t.Errorf("%v kn, want %v", *tr.Gears[0].Knots, kn)
	}
	// An unknown gear says so, the others are worked out.
	part := linetest.Layout(t, "asymmetric")
	linetest.Part(t, part, "gearbox").Gearbox.Gears[1].Ratio = exact.Figure{}
	tr, err = Run(part, driveline.State{}, Want{Gears: true})
	if err != nil {
		t.Fatal(err)
	}
	for _, g := range tr.Gears {
		if (g.Overall == nil) != (g.Name == "2") {
			t.Errorf("gear %s %s: %v %q", g.Name, g.Range, g.Overall, g.Missing)
		}
	}
}

// From third (1.57) to ... at 40 km/h: the gear to be taken runs r_from/r_to
// times the output.
func TestShifts(t *testing.T) {
	d := linetest.Layout(t, "asymmetric")
	tr, err := Run(d, driveline.State{}, Want{Shifts: true, SpeedKMH: 40})
	if err != nil {
		t.Fatal(err)
	}
	out := 40.0 * 1000 / 60 / 2.33 * 43 / 12
	seen := 0
	for _, s := range tr.Shifts {
		if s.Part == "gearbox" && s.From == "1" && s.To == "2" {
			seen++
			if math.Abs(s.Before-2.87*out) > 1e-9 || math.Abs(s.After-1.57*out) > 1e-9 || math.Abs(s.Closes-(2.87/1.57-1)*out) > 1e-9 {
				t.Errorf("%+v", s)
			}
		}
		if s.Part == "case" && s.From == "high" && s.To == "low" {
			seen++
			low := 1 + 62.0/34
			if math.Abs(s.After-low*out) > 1e-9 || math.Abs(s.Closes-(1/low-1)*out) > 1e-9 {
				t.Errorf("%+v", s)
			}
		}
		if s.From == "R" || s.To == "R" {
			t.Error("a shift to reverse at speed")
		}
	}
	if seen != 2 {
		t.Errorf("%d of 2 shifts found among %d", seen, len(tr.Shifts))
	}
	blank := d.Blank()
	if tr, err = Run(&blank, driveline.State{}, Want{Shifts: true}); err != nil || len(tr.Shifts) != 0 {
		t.Errorf("shifts from nothing known: %v %v", tr.Shifts, err)
	}
}

// The sheet's numbers come from the same model.
func TestHandTests(t *testing.T) {
	tr, err := Run(linetest.Layout(t, "part_time"), driveline.State{}, Want{Tests: true})
	if err != nil {
		t.Fatal(err)
	}
	find := func(title string) HandTest {
		for _, h := range tr.Tests {
			if strings.Contains(h.Title, title) {
				return h
			}
		}
		t.Fatalf("no test %q", title)
		return HandTest{}
	}
	h := find("Rear ratio: one side held")
	if h.Expect[0].Turns.String() != "200/41" || h.Expect[1].Words != "stands still" {
		t.Errorf("%+v", h.Expect)
	}
	h = find("Rear differential")
	if h.Expect[1].Turns.String() != "-1" || h.Expect[1].Words != "1 turn, rolls backward" {
		t.Errorf("%+v", h.Expect)
	}
	h = find("Rear locker")
	if h.Expect[0].Turns.String() != "1" || h.Expect[1].Turns.String() != "41/10" {
		t.Errorf("%+v", h.Expect)
	}
	h = find("low, locked")
	if h.Expect[1].Turns.String() != "70/19" {
		t.Errorf("%+v", h.Expect)
	}
	// Each of them can be shown on the trace.
	for _, h := range tr.Tests {
		if _, err := Run(linetest.Layout(t, "part_time"), h.State, Want{}); err != nil {
			t.Errorf("%s: %v", h.Title, err)
		}
	}
}
