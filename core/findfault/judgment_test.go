package findfault

import (
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
)

// No sign by itself makes sure: over all layouts, every sign, complained of or looked
// for, leaves the suspect that it speaks for below nine in ten, unless the sign is the
// looking itself.
func TestNoSingleSignConvinces(t *testing.T) {
	looks := []string{"look_shaft", "line", "blade", "hub_mark", "wire", "screens", "rollouts", "switch_wrong", "cable_stiff", "shaft_stiff", "short_travel", "idle_high"}
	for _, l := range driveline.Layouts() {
		m, err := NewModel(l.Document)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range m.signs {
			if slices.Contains(looks, x.ID) {
				continue
			}
			for _, complaint := range []bool{false, true} {
				if complaint && !x.Complaint {
					continue
				}
				a, err := m.Find(Question{Evidence: []Evidence{{Sign: x.ID, Part: x.Part, Says: Yes, Complaint: complaint}}})
				if err != nil {
					t.Fatalf("%s %s: %v", l.ID, x.ID, err)
				}
				if top := a.Suspects[0]; top.Probability > 0.9 {
					t.Errorf("%s: %q alone makes %s %.3f sure", l.ID, x.Words, top.Name, top.Probability)
				}
			}
		}
	}
}

// Whatever lets go lets an engine race: two such complaints don't make it the clutch.
func TestRacingEngineIsAnyOpenBreak(t *testing.T) {
	for _, l := range driveline.Layouts() {
		m, err := NewModel(l.Document)
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range m.faults {
			open := slices.ContainsFunc(f.does, func(b driveline.Break) bool { return b.Does == driveline.BreakOpen || b.Does == driveline.BreakSplit })
			if open != (f.signs["revs"] >= 0.5) {
				t.Errorf("%s: %s: %v", l.ID, f.Name, f.signs["revs"])
			}
		}
		stays := Evidence{Seen: []Seen{}}
		v, err := m.view(driveline.State{})
		if err != nil {
			t.Fatal(err)
		}
		for _, w := range v.watch {
			if w != driveline.Speedometer {
				stays.Seen = append(stays.Seen, Seen{w, driveline.Stays})
			}
		}
		a, err := m.Find(Question{Evidence: []Evidence{stays, {Sign: "revs", Says: Yes, Complaint: true}}})
		if err != nil {
			t.Fatal(err)
		}
		if a.Suspects[0].Probability > 0.75 {
			t.Errorf("%s: no drive and a racing engine make %s %.2f sure", l.ID, a.Suspects[0].Name, a.Suspects[0].Probability)
		}
	}
}

// What is normal is no complaint: every complaint of the motion is something that the
// whole unit does not do; and what should stand still may creep.
func TestComplaintsAreNotNormal(t *testing.T) {
	for _, l := range driveline.Layouts() {
		m, err := NewModel(l.Document)
		if err != nil {
			t.Fatal(err)
		}
		list, err := Complaints(&l.Document)
		if err != nil {
			t.Fatal(err)
		}
		neutral := false
		for _, c := range list {
			neutral = neutral || strings.HasPrefix(c.ID, "creeps_")
			if c.ID == "drives" {
				continue // beside another
			}
			wrong := false
			for _, e := range c.Evidence {
				if e.Sign != "" {
					wrong = true
					continue
				}
				v, err := m.view(e.State)
				if err != nil {
					t.Fatal(err)
				}
				whole, err := m.shows(v, nil)
				if err != nil {
					t.Fatal(err)
				}
				for _, x := range e.Seen {
					wrong = wrong || !same(x, whole[slices.Index(v.watch, x.Watch)])
				}
			}
			if !wrong {
				t.Errorf("%s: %q is what it does when nothing is wrong", l.ID, c.Words)
			}
			if strings.HasPrefix(c.ID, "binds_") && (strings.HasSuffix(c.ID, "center_locked") || strings.HasSuffix(c.ID, "lock_locked")) {
				t.Errorf("%s: %q: locked ends wind up on pavement", l.ID, c.Words)
			}
		}
		if slices.ContainsFunc(l.Document.Parts, func(p driveline.Part) bool { return p.Kind == "gearbox" }) && !neutral {
			t.Errorf("%s: nobody can say that it creeps in neutral", l.ID)
		}
	}
}

// No drive in first, but with the center locked: the center's own gears are among the
// first suspects, bevel or planetary.
func TestCenterGearsAreSuspects(t *testing.T) {
	for _, id := range []string{"full_time", "asymmetric"} {
		d := layout(t, id)
		d.Parts = slices.Clone(d.Parts)
		for i := range d.Parts {
			if c := d.Parts[i].TransferCase; c != nil {
				locks := *c
				locks.Center.Lockable = true
				d.Parts[i].TransferCase = &locks
			}
		}
		a := find(t, Question{Driveline: d, Evidence: []Evidence{vehicle(driveline.Stays), vehicle(driveline.Follows, "case.center", "locked")}})
		at := slices.IndexFunc(a.Suspects, func(x Suspect) bool { return strings.HasPrefix(x.ID, "open case.center") })
		if at < 0 || a.Suspects[at].Probability < 0.05 {
			t.Errorf("%s: the center's gears are not among %+v", id, a.Suspects)
		}
	}
}

// Every mesh, spline, joint and differential of a layout can break, and what can
// break of them wears: counted against the network.
func TestEverythingBreaksAndWears(t *testing.T) {
	wears := map[string][]string{
		"mesh": {"mesh_wear", "set_up"}, "planets": {"mesh_wear", "side_wear"}, "chain": {"chain_worn"}, "spiders": {"side_wear"},
		"spline": {"spline_wear"}, "shaft": {"spline_wear", "joint"}, "stub": {"spline_wear"}, "hub": {"spline_wear"},
	}
	for _, l := range driveline.Layouts() {
		m, err := NewModel(l.Document)
		if err != nil {
			t.Fatal(err)
		}
		broken := 0
		for _, b := range driveline.Breaks(&l.Document) {
			want := wears[b.Sort]
			if want == nil {
				continue
			}
			broken++
			at := b.Part
			if b.Sort == "stub" { // the axle shaft's splines are told at its axle
				at = ""
			}
			if !slices.ContainsFunc(m.faults, func(f Fault) bool { return (at == "" || f.Part == at) && slices.Contains(want, f.Sort) }) {
				t.Errorf("%s: %s can break, and nothing of %s wears", l.ID, b.Name, b.Part)
			}
		}
		if broken == 0 {
			t.Errorf("%s: nothing breaks", l.ID)
		}
		for part, sort := range map[string]string{"counter": "seized", "ring": "seized", "forward gear": "seized"} {
			for _, b := range driveline.Breaks(&l.Document) {
				if b.Does == driveline.BreakHeld && strings.HasSuffix(b.ID, "."+part) && b.Sort != sort {
					t.Errorf("%s: %s is %s", l.ID, b.Name, b.Sort)
				}
			}
		}
	}
}
