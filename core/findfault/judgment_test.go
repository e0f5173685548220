package findfault

import (
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
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
				a, err := m.Find(t.Context(), Question{Evidence: []Evidence{{Sign: x.ID, Part: x.Part, Says: Yes, Complaint: complaint}}})
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
			open := slices.ContainsFunc(f.does, func(b breaks.Break) bool { return b.Does == breaks.Open || b.Does == breaks.Stripped })
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
			if w != breaks.Speedometer {
				stays.Seen = append(stays.Seen, Seen{w, breaks.Stays})
			}
		}
		a, err := m.Find(t.Context(), Question{Evidence: []Evidence{stays, {Sign: "revs", Says: Yes, Complaint: true}}})
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
		list := everyComplaint(t, &l.Document)
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
			joined := strings.HasSuffix(c.ID, "center_locked") || strings.HasSuffix(c.ID, "lock_locked")
			if strings.HasPrefix(c.ID, "binds_") && joined && l.Document.Lies == driveline.Vehicle && !strings.Contains(c.Words, "straight ahead") {
				t.Errorf("%s: %q: locked ends wind up in turns on pavement", l.ID, c.Words)
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
		a := find(t, Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Stays), vehicle(breaks.Follows, "case.center", "locked")}})
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
		for _, b := range breaks.Of(&l.Document) {
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
			for _, b := range breaks.Of(&l.Document) {
				if b.Does == breaks.Seized && strings.HasSuffix(b.ID, "."+part) && b.Sort != sort {
					t.Errorf("%s: %s is %s", l.ID, b.Name, b.Sort)
				}
			}
		}
	}
}

// What is locked together winds up in turns on pavement: said to be normal, alone and
// beside a fault, for every part that locks.
func TestWindUpIsNormal(t *testing.T) {
	told := 0
	for _, l := range driveline.Layouts() {
		list, err := Complaints(&l.Document)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range list {
			if !strings.HasPrefix(c.ID, "winds_up") {
				continue
			}
			told++
			a := find(t, Question{Driveline: l.Document, Evidence: c.Evidence})
			if !strings.Contains(a.Sentence, "normal") || a.Settled || len(a.Normal) != 1 {
				t.Errorf("%s: %s, %v", l.ID, a.Sentence, a.Normal)
			}
			a = find(t, Question{Driveline: l.Document, Evidence: append(c.Evidence, came("hums", ""))})
			if strings.Contains(a.Sentence, "normal") || len(a.Normal) != 1 {
				t.Errorf("%s, and it hums: %s, %v", l.ID, a.Sentence, a.Normal)
			}
		}
	}
	if told < 7 {
		t.Errorf("told of %d parts", told)
	}
	part := layout(t, "part_time")
	a := find(t, Question{Driveline: part, Evidence: []Evidence{vehicle(breaks.Follows), vehicle(breaks.Locked, "case.center", "locked")}})
	if len(a.Normal) != 1 || !strings.Contains(a.Normal[0], "in a turn") || strings.Contains(a.Sentence, "normal") {
		t.Errorf("%s, %v", a.Sentence, a.Normal)
	}
}

// Where nothing that was seen speaks for a fault, none is named, and nothing is said of
// what goes next.
func TestNothingWrongYet(t *testing.T) {
	for _, l := range driveline.Layouts() {
		list, err := Complaints(&l.Document)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range list {
			if c.ID != "drives" {
				continue
			}
			a := find(t, Question{Driveline: l.Document, Evidence: c.Evidence})
			if !strings.Contains(a.Sentence, "So far") || len(a.Drive) > 0 || a.Next == nil {
				t.Errorf("%s: %s, %v", l.ID, a.Sentence, a.Drive)
			}
		}
	}
}

// What drives as it stands and does not with another lever drives by something that the
// lever takes out: where it only locks something in, no break shows both, and it is
// asked. Whatever one break shows is not.
func TestContradictionsAreAsked(t *testing.T) {
	for _, l := range driveline.Layouts() {
		if l.Document.Lies != driveline.Vehicle {
			continue
		}
		m, err := NewModel(l.Document)
		if err != nil {
			t.Fatal(err)
		}
		list := everyComplaint(t, &l.Document)
		for _, c := range list {
			locks := strings.HasPrefix(c.ID, "not_") && (strings.HasSuffix(c.ID, "center_locked") || strings.HasSuffix(c.ID, "lock_locked"))
			if !locks {
				continue
			}
			a, err := m.Find(t.Context(), Question{Evidence: append([]Evidence{vehicle(breaks.Follows)}, c.Evidence...)})
			if err != nil {
				t.Fatal(err)
			}
			if !a.Contrary || a.Settled || !strings.Contains(a.Sentence, "contradict each other") ||
				!strings.Contains(strings.Join(a.Clashes, " "), "Which of them is it") {
				t.Errorf("%s, drives and %q: %s %v", l.ID, c.Words, a.Sentence, a.Clashes)
			}
		}
		for k, f := range m.faults {
			if k%7 != 0 {
				continue // every seventh is enough, and quick
			}
			asked := Question{}
			for _, c := range m.candidates() {
				if !c.road || c.sign != nil {
					continue
				}
				v, err := m.view(c.state)
				if err != nil {
					continue
				}
				shows, err := m.shows(v, []int{k})
				if err != nil {
					t.Fatal(err)
				}
				e := Evidence{State: c.state}
				for i, w := range v.watch {
					e.Seen = append(e.Seen, Seen{w, shows[i]})
				}
				if asked.Evidence = append(asked.Evidence, e); len(asked.Evidence) == 3 {
					break
				}
			}
			a, err := m.Find(t.Context(), asked)
			if err != nil {
				t.Fatal(err)
			}
			if a.Contrary {
				t.Errorf("%s: %s shows all of it, and it is asked: %v", l.ID, f.Name, a.Clashes)
			}
		}
	}
}

// Of the tests that can be made here, the one that tells most per minute comes next, and
// no other is named.
func TestBestOfGivenTests(t *testing.T) {
	d := layout(t, "part_time")
	q := Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Stays)}}
	all := find(t, q)
	tests := append([]*Test{all.Next}, all.Others...)
	for drop := range len(tests) - 1 {
		q.Given = nil
		for i := len(tests) - 1; i >= drop; i-- { // in any order
			q.Given = append(q.Given, Given{State: tests[i].State, Sign: tests[i].Sign, Part: tests[i].Part})
		}
		a := find(t, q)
		best := tests[drop]
		if !slices.ContainsFunc(tests[drop:], func(x *Test) bool { return x.Title == a.Next.Title && slices.Equal(x.Setup, a.Next.Setup) }) ||
			a.Next.Bits/a.Next.Minutes < best.Bits/best.Minutes-1e-9 || len(a.Others) != len(tests)-1-drop {
			t.Errorf("of %d given: %s %v, want %s %v", len(q.Given), a.Next.Title, a.Next.Setup, tests[drop].Title, tests[drop].Setup)
		}
	}
	q.Given = []Given{{Sign: "milky", Part: "rear"}}
	if a := find(t, q); a.Next != nil || strings.Contains(a.Sentence, "no test from outside") {
		t.Errorf("a test that tells nothing: %+v, %s", a.Next, a.Sentence)
	}
	for field, g := range map[string]Given{"given/0/sign": {Sign: "nonsense"}, "given/0/part": {Sign: "milky", Part: "gone"}, "given/0/state/select/gone": {State: driveline.State{Select: map[string]string{"gone": "1"}}}} {
		q.Given = []Given{g}
		if _, err := Find(t.Context(), q); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("%+v: %v, want %s", g, err, field)
		}
	}
}

// On stands every shaft that lies open is watched, not the wheels alone: it tells a
// stripped output from a broken stub at once.
func TestOpenShaftsAreWatched(t *testing.T) {
	d := layout(t, "part_time")
	v, err := mustModel(t, d).view(lifted(d, "rear_left.wheel", []string{"gearbox", "N"}).State)
	if err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{"front_prop.shaft", "rear_prop.shaft", "front_left.wheel"} {
		if !slices.Contains(v.watch, want) {
			t.Errorf("%s is not watched: %v", want, v.watch)
		}
	}
	if slices.Contains(v.watch, "rear_left.wheel") {
		t.Error("what is turned is watched")
	}
}

func mustModel(t *testing.T, d driveline.Document) *Model {
	t.Helper()
	m, err := NewModel(d)
	if err != nil {
		t.Fatal(err)
	}
	return m
}
