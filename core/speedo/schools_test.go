package speedo

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"zorvel/core/tire"
)

// The gears that are in it read right with the old axle and tire, so the new ones
// follow: driven' = driven · axle' / axle · old / new, whatever the cable turns.
func TestGearsFollowFromWhatReadRight(t *testing.T) {
	for _, c := range []struct {
		drive, driven        int
		axle, now            string
		old, fresh           string
		oldInches, newInches float64
	}{
		{8, 20, "3.73", "4.10", "235/75R15", "31x10.50R15", 0, 0},
		{7, 18, "3.55", "3.55", "235/75R15", "265/75R16", 0, 0},
		{15, 40, "41/10", "39/8", "31x10.50R15", "35x12.50R15", 0, 0},
		{9, 17, "4.56", "3.42", "33x12.50R15", "235/75R15", 0, 0},
	} {
		q := Request{Axle: fig(c.now), Tire: tire.Tire{Marking: c.fresh}, Before: &Before{Axle: fig(c.axle), Tire: tire.Tire{Marking: c.old}},
			Mechanical: &Mechanical{FittedDrive: c.drive, FittedTeeth: c.driven, Drives: []Gear{{Teeth: c.drive}}, Driven: []Gear{{Teeth: c.driven}}}}
		a, err := Work(q)
		if err != nil {
			t.Fatal(err)
		}
		was, err := tire.Work(tire.Tire{Marking: c.old})
		if err != nil {
			t.Fatal(err)
		}
		want := float64(c.driven) * q.Axle.Float() / q.Before.Axle.Float() * was.RollingMM.Float() / a.Tire.RollingMM.Float()
		if got := a.Mechanical.Ideal[0].Driven.Float(); math.Abs(got-want) > 1e-9 || !strings.Contains(a.Mechanical.Notes[0], "read right before") {
			t.Errorf("%+v: %v driven teeth, want %v; %v", c, got, want, a.Mechanical.Notes)
		}
	}
	for _, q := range []Request{
		{Axle: fig("4.1"), Tire: tire.Tire{Marking: "235/75R15"}, Before: &Before{}, Mechanical: &Mechanical{}},
		{Axle: fig("4.1"), Tire: tire.Tire{Marking: "235/75R15"}, Before: &Before{Axle: fig("-3")}, Mechanical: &Mechanical{FittedDrive: 8, FittedTeeth: 20}},
		{Axle: fig("4.1"), Tire: tire.Tire{Marking: "235/75R15"}, Before: &Before{}, Mechanical: &Mechanical{FittedDrive: 8, FittedTeeth: 20, Constant: fig("1000")}},
	} {
		if _, err := Work(q); err == nil {
			t.Errorf("%+v was taken", q.Before)
		}
	}
}

// Never low and nearest stand beside each other wherever they differ; what reads low
// by less than the tire is known is measured first; and an adapter box isn't the only
// answer while a legal pair is there.
func TestBothSchools(t *testing.T) {
	differ, legal := 0, 0
	for axle := 300; axle <= 560; axle += 3 {
		a, err := Work(Request{Axle: fig(fmt.Sprintf("%d/100", axle)), Tire: tire.Tire{Marking: "235/75R15"},
			Mechanical: &Mechanical{Drives: []Gear{{Teeth: 7}}, Driven: []Gear{{Teeth: 17}, {Teeth: 18}, {Teeth: 19}, {Teeth: 20}, {Teeth: 21}, {Teeth: 22}}}})
		if err != nil {
			t.Fatal(err)
		}
		m := a.Mechanical
		least := math.Inf(1)
		for _, c := range m.Cells {
			least = math.Min(least, math.Abs(c.Percent))
		}
		named := map[string]Cell{}
		for _, p := range m.Picks {
			named[p.Which] = p.Cell
			if p.Which != "nearest" && p.Cell.Percent < 0 {
				t.Errorf("%d: %s reads low", axle, p.Which)
			}
		}
		n, low := named["nearest"]
		first := math.Abs(m.cellsLeast(named))
		if low && (math.Abs(math.Abs(n.Percent)-least) > 1e-6 || n.Percent >= 0) || !low && first > least+1e-6 && least <= usableTo {
			t.Errorf("%d: nearest %+v, the least error is %v", axle, n.Percent, least)
		}
		if low {
			differ++
			said := strings.Contains(strings.Join(m.Notes, " "), "Measure the tire first")
			if within := -n.Percent <= a.Tire.Spread; within != said {
				t.Errorf("%d: %v %% low on a tire known to %v %%, and it says %v", axle, -n.Percent, a.Tire.Spread, said)
			}
		}
		if c, ok := named["least_high"]; ok {
			legal++
			if _, best := named["best"]; best || c.Mark != MarkHigh {
				t.Errorf("%d: %+v beside a better one", axle, c)
			}
		}
	}
	if differ < 10 || legal < 3 {
		t.Errorf("%d differ, %d legal only", differ, legal)
	}
}

func (a *MechanicalAnswer) cellsLeast(named map[string]Cell) float64 {
	if c, ok := named["best"]; ok {
		return c.Percent
	}
	return math.Inf(1)
}

// Families that nobody has chosen among don't stand in the way of an answer.
func TestFamiliesAreAskedNotDemanded(t *testing.T) {
	a, err := Work(Request{Axle: fig("4.1"), Tire: tire.Tire{Marking: "235/75R15"}, Mechanical: &Mechanical{Families: []string{"Brannik C4", "Holt T2"}}})
	if err != nil || len(a.Mechanical.Cells) == 0 || len(a.Mechanical.Families) != 2 || !strings.Contains(a.Mechanical.Notes[0], "Brannik C4 and Holt T2") {
		t.Errorf("%+v, %v", a, err)
	}
}
