package match_test

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/linetest"
	"zorvel/core/driveline/match"
	"zorvel/core/exact"
)

func TestMatchVerdicts(t *testing.T) {
	set := func(id string, center driveline.Center, front [2]int, ring int) *match.Match {
		d := linetest.Layout(t, id)
		c := linetest.Part(t, d, "case").TransferCase
		c.Center, c.Front = center, driveline.Front{Type: "chain", Drive: front[0], Driven: front[1]}
		c.LowNeedsLock = false
		r := linetest.Part(t, d, "rear").Axle
		r.Ring, r.Pinion = 41, 10
		f := linetest.Part(t, d, "front").Axle
		f.Ring, f.Pinion = ring, 10
		return match.Ends(d)
	}
	same := [2]int{35, 35}
	for _, c := range []struct {
		name  string
		got   *match.Match
		level string
		part  string
	}{
		{"part-time, alike", set("part_time", driveline.Center{Type: "part_time"}, same, 41), "match", "0"},
		{"part-time, 2.4 % apart", set("part_time", driveline.Center{Type: "part_time"}, same, 42), "wrong", "1/41"},
		{"solid, apart", set("part_time", driveline.Center{Type: "solid"}, same, 42), "wrong", "1/41"},
		{"open center, 2.4 %", set("part_time", driveline.Center{Type: "open"}, same, 42), "caution", "1/41"},
		// The case's own outputs differ and the axles make up for it.
		{"front geared 41 to 40, axle 40", set("part_time", driveline.Center{Type: "open"}, [2]int{40, 41}, 40), "match", "0"},
	} {
		if c.got.Level != c.level || c.got.Mismatch.String() != c.part {
			t.Errorf("%s: %s %v, want %s %s (%s)", c.name, c.got.Level, c.got.Mismatch, c.level, c.part, c.got.Formula)
		}
	}
	// Rubbing at 80 km/h: difference in turns per meter × 80000/60.
	m := set("part_time", driveline.Center{Type: "open"}, same, 42)
	if want := 0.1 / 2.39 * 80000 / 60; math.Abs(*m.Rubbing-want) > 1e-9 {
		t.Errorf("rubbing %v rpm, want %v", *m.Rubbing, want)
	}
	// Tires apart count as well as gears.
	d := linetest.Layout(t, "full_time")
	linetest.Part(t, d, "front_left").Wheel.RollingMM = exact.Figure{Number: exact.Int(2366)}
	// One tire of the two: the open front differential turns their mean.
	if m := match.Ends(d); m.Mismatch.String() != exact.New(12, 2366).String() {
		t.Errorf("tire mismatch %v", m.Mismatch)
	}
}

// A comparison that is scaled is the comparison of a driveline that really has
// the other gears.
func TestScaledEndsAreRealEnds(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 12))
	tried := 0
	for id, d := range linetest.Vehicles(t) {
		axles := d.Axles()
		ends := match.Ends(d)
		if len(axles) != 2 || axles[0].At == axles[1].At || ends == nil || ends.First == nil {
			continue
		}
		for range 12 {
			rear, front := [2]int{33 + r.IntN(17), 7 + r.IntN(7)}, [2]int{33 + r.IntN(17), 7 + r.IntN(7)}
			real := match.Ends(d.With(map[string][2]int{"rear": rear, "front": front}, nil))
			ratio := func(z [2]int) exact.Number { return exact.New(int64(z[0]), int64(z[1])) }
			got := ends.Scaled(ratio(rear).Div(axles[0].Ratio), ratio(front).Div(axles[1].Ratio), "rear", "front")
			tried++
			if !got.Mismatch.Equal(*real.Mismatch) || got.Level != real.Level || got.Verdict != real.Verdict ||
				got.Do != real.Do || got.Type != real.Type {
				t.Errorf("%s with %v and %v: %+v, really %+v", id, rear, front, got, real)
			}
		}
	}
	if tried < 24 {
		t.Errorf("only %d pairs of ends", tried)
	}
	if (*match.Match)(nil).Scaled(exact.Int(1), exact.Int(1), "", "") != nil {
		t.Error("nothing scaled is something")
	}
}

// Every end is compared: front against rear, and the rear axles with each other.
func TestMatchComparesAllEnds(t *testing.T) {
	d := linetest.Layout(t, "tandem")
	linetest.Part(t, d, "second").Axle.Ring = 43
	m := match.Ends(d)
	if m == nil || m.Level != "caution" || m.Part != "divider" || !strings.Contains(m.Verdict, "econd rear axle") {
		t.Errorf("%+v", m)
	}
	if m.At("divider") != m || m.At("nowhere") != nil {
		t.Error("a comparison isn't found by its part")
	}
}
