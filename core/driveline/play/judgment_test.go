package play

import (
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/linetest"
)

// An entered play means the same everywhere: a tenth of itself, so that three degrees
// beyond what is known is more than usual, in the budget as in the weighing.
func TestEnteredPlayIsOneMeaning(t *testing.T) {
	d := linetest.Layout(t, "rear_drive")
	q := Question{Driveline: *d, State: driveline.State{Select: linetest.Set("gearbox", "N")}, Measured: []Rocked{{At: "prop.shaft"}}}
	a, err := Work(q)
	if err != nil {
		t.Fatal(err)
	}
	usual := a.Measured[0]
	for _, p := range a.Places {
		q.Plays = append(q.Plays, OwnPlay{Place: p.ID, Degrees: p.Usual})
	}
	known := usual.Usual
	for _, c := range []struct {
		more  float64
		state string
	}{{0, "usual"}, {0.04, "usual"}, {0.4, "more"}, {1, "more"}} {
		deg := known * (1 + c.more)
		q.Measured[0].Degrees, q.Measured[0].Repeat = &deg, 0.1
		if a, err = Work(q); err != nil || a.Measured[0].State != c.state {
			t.Errorf("%.0f %% more than what is known: %+v, %v", 100*c.more, a.Measured[0], err)
		}
		if a.Measured[0].Spread >= usual.Spread/2 {
			t.Errorf("entered plays leave a spread of %v, what is usual %v", a.Measured[0].Spread, usual.Spread)
		}
	}
}

// More held can't show more play.
func TestNearerShowsNoMore(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	base := Question{Driveline: *d, State: driveline.State{Select: linetest.Set("gearbox", "N")}}
	near, far := 9.0, 6.0
	base.Measured = []Rocked{{At: "rear_prop.shaft", Degrees: &far}, {At: "rear_prop.shaft", Hold: []string{"rear.ring"}, Degrees: &near}}
	a, err := Work(base)
	if err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(a.Sentence, "can't be: with more held") {
		t.Errorf("%s", a.Sentence)
	}
	base.Measured[0].Degrees, base.Measured[1].Degrees = &near, &far
	if a, err = Work(base); err != nil || strings.Contains(a.Sentence, "can't be") {
		t.Errorf("%s, %v", a.Sentence, err)
	}
}

// Nothing inside a closed case is proposed to be held: over all layouts and shafts.
func TestOnlyWhatAHandReachesIsHeld(t *testing.T) {
	for _, l := range driveline.Layouts() {
		d := l.Document
		for _, p := range d.Parts {
			if p.Kind != "shaft" && p.Kind != "wheel" {
				continue
			}
			a, err := Work(Question{Driveline: d, Measured: []Rocked{{At: p.ID + "." + p.Kind}}})
			if err != nil || a.NextHold == "" {
				continue
			}
			id, port, _ := strings.Cut(a.NextHold, ".")
			for _, x := range d.Parts {
				if (x.From == a.NextHold || x.From == id) && x.Kind != "shaft" && x.Kind != "wheel" && x.Kind != "propeller" && port != "shaft" && port != "wheel" {
					t.Errorf("%s: holds %s, which lies between it and the %s", l.ID, a.NextHold, x.Kind)
				}
			}
		}
	}
}
