package setup

import (
	"math"
	"strings"
	"testing"

	"zorvel/core/fault"
)

// Figures as they stand in manuals, in one unit: 5 to 8 thousandths are 0.127 to
// 0.2032 mm; 17 lbf·in are 1.92074 N·m; 1.5 lbf·ft are 2.03373; 20 kgf·cm are
// 1.96133.
func TestFiguresInOneUnit(t *testing.T) {
	for _, c := range []struct {
		f         Figure
		low, high float64
	}{
		{fig(FigureBacklash, 5, 8, "thou"), 0.127, 0.2032}, {fig(FigureBacklash, 0.005, 0.008, "in"), 0.127, 0.2032}, {fig(FigureBacklash, 0.13, 0.18, "mm"), 0.13, 0.18},
		{fig(FigurePinionNew, 17, 28, "lbf·in"), 1.92074, 3.16357}, {fig(FigurePinionNew, 1.5, 2, "lbf·ft"), 2.03373, 2.71164}, {fig(FigureTotalUsed, 20, 30, "kgf·cm"), 1.96133, 2.942},
		{fig(FigureBackFace, 0, 3, "thou"), 0, 0.0762}, {fig(FigureDepth, 0, 109.5, "mm"), 109.5, 109.5}, {fig(FigureBreakaway, 60, 90, "N·m"), 60, 90},
	} {
		if err := c.f.Check(); err != nil {
			t.Errorf("%+v: %v", c.f, err)
			continue
		}
		s := readSheet([]Figure{c.f}, "figures", &fault.Errors{})
		b := s.bands[c.f.Figure]
		if math.Abs(b.Low-c.low) > 1e-4 || math.Abs(b.High-c.high) > 1e-4 || b.From != "Kestrel axle manual, page 12, 2024" {
			t.Errorf("%+v: %+v", c.f, b)
		}
	}
	for field, f := range map[string]Figure{
		"figure": fig("luck", 1, 2, "mm"), "unit": fig(FigureBacklash, 1, 2, "N·m"), "low": fig(FigureBacklash, 3, 2, "mm"), "high": fig(FigureBackFace, 0, 9999, "mm"),
	} {
		if err := f.Check(); err == nil || !strings.Contains(err.Error(), field+":") {
			t.Errorf("%s: %v", field, err)
		}
	}
	if err := (Figure{Figure: FigureBacklash, Unit: "mm"}).Check(); err == nil {
		t.Error("a band without figures was taken")
	}
}

// Each check says in, low, high or left out, with why, in every state of the
// sheet and of what was measured.
func TestChecksOfEveryState(t *testing.T) {
	state := func(v *Verdict, id string) string {
		for _, c := range v.Checks {
			if c.ID == id {
				if c.Text == "" || c.Name == "" || c.State != "left_out" && c.Value == "" {
					t.Errorf("%+v", c)
				}
				return c.State
			}
		}
		return "absent"
	}
	m := Made{Pinion: "1.20", Left: "1.00", Right: "1.10"}
	for _, c := range []struct {
		change func(*Axle)
		id     string
		want   string
	}{
		{func(*Axle) {}, FigureBacklash, "left_out"},
		{func(q *Axle) { q.Trials[0].Backlash = "0.18 0.18 0.18" }, FigureBacklash, "in"},
		{func(q *Axle) { q.Trials[0].Backlash = "0.08 0.08 0.08" }, FigureBacklash, "low"},
		{func(q *Axle) { q.Trials[0].Backlash = "0.28 0.28 0.28" }, FigureBacklash, "high"},
		{func(q *Axle) { q.Trials[0].Backlash = "0.21 0.22 0.24" }, FigureBacklash, "high"}, // one place
		{func(q *Axle) { q.Trials[0].Backlash = "0.12 0.14 0.15" }, FigureBacklash, "low"},
		{func(q *Axle) { q.Trials[0].Backlash = "0.14 0.18 0.22" }, FigureDifference, "high"},
		{func(q *Axle) { q.Figures, q.Trials[0].Backlash = nil, "0.18 0.18 0.18" }, FigureBacklash, "left_out"},
		{func(q *Axle) { q.Trials[0].Drive = &Spot{0.2, 0} }, "pattern", "in"},
		{func(q *Axle) { q.Trials[0].Drive = &Spot{0.5, 0} }, "pattern", "high"},
		{func(q *Axle) { q.Trials[0].Coast = &Spot{-0.5, 0} }, "pattern", "low"},
		{func(*Axle) {}, "pattern", "left_out"},
		{func(q *Axle) { q.Figures = append(q.Figures, fig(FigurePinionNew, 1, 2, "N·m")) }, FigurePinionNew, "left_out"},
		{func(q *Axle) {
			q.Figures, q.Trials[0].PinionTorque = append(q.Figures, fig(FigurePinionNew, 1, 2, "N·m")), "1.5 N·m"
		}, FigurePinionNew, "in"},
		{func(q *Axle) {
			q.Figures, q.Trials[0].PinionTorque = append(q.Figures, fig(FigurePinionNew, 1, 2, "N·m")), "2.5 N·m"
		}, FigurePinionNew, "high"},
		{func(q *Axle) { q.Trials[0].TotalTorque = "3 N·m" }, FigureTotalNew, "left_out"},
		{func(q *Axle) {
			q.Figures, q.Trials[0].BackFace = append(q.Figures, fig(FigureBackFace, 0, 0.05, "mm")), "0.04 0 -0.04 0"
		}, FigureBackFace, "high"},
		{func(q *Axle) {
			q.Figures, q.Trials[0].BackFace = append(q.Figures, fig(FigureBackFace, 0, 0.05, "mm")), "0.01 0 -0.01 0"
		}, FigureBackFace, "in"},
		{func(q *Axle) {
			q.Figures, q.Trials[0].Depth = append(q.Figures, fig(FigureDepth, 0, 109, "mm")), "109.005"
		}, FigureDepth, "in"},
		{func(q *Axle) {
			q.Figures, q.Trials[0].Depth = append(q.Figures, fig(FigureDepth, 0, 109, "mm")), "108.9"
		}, FigureDepth, "low"},
	} {
		q := axle(m)
		c.change(&q)
		v := judge(t, q)
		if got := state(v, c.id); got != c.want {
			t.Errorf("%s: %s, want %s: %+v", c.id, got, c.want, q.Trials[0])
		}
		// Nothing is called good while a band or its reading is missing.
		if v.State == StateGood && (state(v, FigureBacklash) != "in" || state(v, "pattern") == "left_out") {
			t.Errorf("good: %s with %+v", v.Sentence, q.Trials[0])
		}
		if strings.Contains(v.Sentence, "%!") || v.Sentence == "" {
			t.Errorf("%q", v.Sentence)
		}
	}
}

// The carrier's preload: both sides alike, and never a move of the ring.
func TestCarrierPreload(t *testing.T) {
	m := Made{Pinion: "1.20", Left: "1.00", Right: "1.10", Backlash: "0.18 0.18 0.18", PinionTorque: "1.5 N·m", TotalTorque: "1.8 N·m"}
	m.Drive, m.Coast = at(0, 0)
	q := axle(m)
	q.Figures = append(q.Figures, fig(FigureTotalNew, 2.4, 3.8, "N·m"))
	v := judge(t, q)
	if v.State != StateMove || !strings.Contains(v.Sentence, "both side stacks thicker by the same amount") || len(v.Next.Changes) != 0 {
		t.Errorf("%s %s", v.State, v.Sentence)
	}
	q.Trials[0].TotalTorque = "5 N·m"
	if v := judge(t, q); !strings.Contains(v.Sentence, "both side stacks thinner") {
		t.Errorf("%s", v.Sentence)
	}
}

// Words of a record's title, for everything that can be asked.
func TestTitles(t *testing.T) {
	for want, q := range map[string]Question{
		"Pinion swapped: This pinion sits 0.05 mm farther out": {Swap: &Swap{Shim: "1.20", OldMark: "2", NewMark: "7", MarkUnit: "0.01mm", Convention: "farther", Thicker: "in"}},
		"Rigid stack: Install 0.4 mm":                          {Rigid: &Rigid{Gap: "0.43", Ledge: "no", Box: "0.40"}},
		"Carrier turned: Shims change sides":                   {Turned: &Turned{Left: "1", Right: "1.1", RingSide: "left"}},
		"Side gears. Left: too loose":                          {Side: &Side{Teeth: 16, Mate: 10, Figures: []Figure{fig(FigureSidePlay, 0.05, 0.15, "mm")}, Left: []Played{{"1", "0.3"}}, Right: []Played{{"1", "0.1"}}}},
		"Limited slip: Breakaway 70 N·m":                       {Slip: &Slip{Breakaway: "70 N·m"}},
		"Gear on its bearing: It runs out by 0.05 mm":          {Runout: &Runout{Readings: "0 0.02 0.05 0.03"}},
	} {
		a, err := Work(q)
		if err != nil || !strings.HasPrefix(a.Title(), want) {
			t.Errorf("%v: %v", err, a)
		}
	}
	if (&Answer{}).Title() != "" {
		t.Error("a title of nothing")
	}
}
