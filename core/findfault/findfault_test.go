package findfault

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
)

func layout(tb testing.TB, id string) driveline.Document {
	tb.Helper()
	for _, l := range driveline.Layouts() {
		if l.ID == id {
			return l.Document
		}
	}
	tb.Fatalf("no layout %q", id)
	return driveline.Document{}
}

func find(tb testing.TB, q Question) *Answer {
	tb.Helper()
	a, err := Find(tb.Context(), q)
	if err != nil {
		tb.Fatal(err)
	}
	if _, err := json.Marshal(a); err != nil {
		tb.Fatal(err)
	}
	return a
}

// story is evidence of what a driver or a hand saw.
func vehicle(does string, set ...string) Evidence {
	st := driveline.State{Select: map[string]string{}}
	for i := 0; i+1 < len(set); i += 2 {
		st.Select[set[i]] = set[i+1]
	}
	return Evidence{State: st, Seen: []Seen{{breaks.TheVehicle, does}}}
}

func lifted(d driveline.Document, turn string, set []string, seen ...string) Evidence {
	st := driveline.State{Select: map[string]string{}, Wheels: map[string]string{}, Input: &driveline.Input{Shaft: turn}}
	for i := 0; i+1 < len(set); i += 2 {
		st.Select[set[i]] = set[i+1]
	}
	for _, p := range d.Parts {
		if p.Kind == "wheel" {
			st.Wheels[p.ID] = "lifted"
		}
	}
	e := Evidence{State: st}
	for i := 0; i+1 < len(seen); i += 2 {
		e.Seen = append(e.Seen, Seen{seen[i], seen[i+1]})
	}
	return e
}

// answered is what a test showed, as evidence.
func answered(x *Test, o Outcome) Evidence {
	return Evidence{State: x.State, Seen: o.Seen, Sign: x.Sign, Part: x.Part, Says: o.Says}
}

func chance(a *Answer, id string) float64 {
	for _, x := range a.Suspects {
		if x.ID == id {
			return x.Probability
		}
	}
	return 0
}

// Stories of the trade, each with the part that it tells of.
func TestStories(t *testing.T) {
	part, full, rear := layout(t, "part_time"), layout(t, "full_time"), layout(t, "rear_drive")
	var lock string // the center lock of the full-time layout
	for _, c := range everyComplaint(t, &full) {
		if strings.HasPrefix(c.ID, "only_case_center") || strings.HasPrefix(c.ID, "only_case_lock") {
			for id, v := range c.Evidence[1].State.Select {
				lock = id + "=" + v
			}
		}
	}
	if lock == "" {
		t.Fatal("the full-time layout has no center lock")
	}
	id, value, _ := strings.Cut(lock, "=")
	for name, c := range map[string]struct {
		d        driveline.Document
		evidence []Evidence
		want     string // a suspect that must be likely
		least    float64
	}{
		"both flanges turn and it drives only locked": {full, []Evidence{vehicle(breaks.Stays),
			vehicle(breaks.Follows, id, value)}, "any of center, shafts and stubs", 0},
		"drives backward after it was turned over": {rear, []Evidence{vehicle(breaks.Opposite)}, "reverse rear.final", 0.8},
		"drives in every gear but third": {rear, []Evidence{vehicle(breaks.Follows),
			vehicle(breaks.Follows, "gearbox", "2"), vehicle(breaks.Stays, "gearbox", "3")}, "open gearbox.select 3", 0.3},
		"winds up once the front is engaged": {part, []Evidence{vehicle(breaks.Follows),
			vehicle(breaks.Locked, "case.center", "locked")}, "ratio front.final", 0.05},
		"one wheel turns, the other does not, locked": {part, []Evidence{vehicle(breaks.Stays),
			lifted(part, "rear_prop.shaft", []string{"gearbox", "N", "rear.lock", "locked"}, "rear_left.wheel", breaks.Follows,
				"rear_right.wheel", breaks.Stays)}, "open rear_right.half shaft", 0.5},
		"no drive, and the shaft turns without effect": {rear, []Evidence{vehicle(breaks.Stays),
			vehicle(breaks.Stays, "gearbox", "4"), vehicle(breaks.Stays, "gearbox", "R")}, "open prop.joint", 0.08},
		"drives only in low": {part, []Evidence{vehicle(breaks.Stays),
			vehicle(breaks.Follows, "case.range", "low", "case.center", "locked")}, "open case.high", 0.06},
		"drives only with the front engaged": {part, []Evidence{vehicle(breaks.Stays),
			vehicle(breaks.Follows, "case.center", "locked")}, "open rear_prop.joint", 0.1},
		"it can't be moved at all": {rear, []Evidence{vehicle(breaks.Locked),
			vehicle(breaks.Locked, "gearbox", "N")}, "held rear_left.wheel", 0.15},
		"reverse alone fails": {rear, []Evidence{vehicle(breaks.Follows),
			vehicle(breaks.Stays, "gearbox", "R")}, "open gearbox.gear R", 0.2},
	} {
		a := find(t, Question{Driveline: c.d, Evidence: c.evidence})
		if c.least == 0 {
			// What is asked for is that the gearbox is cleared.
			if a.Parts["gearbox"] > 0.1 || a.Parts["clutch"] > 0.05 {
				t.Errorf("%s: %v", name, a.Parts)
			}
			continue
		}
		if p := chance(a, c.want); p < c.least {
			t.Errorf("%s: %s %.3f: %s %+v", name, c.want, p, a.Sentence, a.Suspects[:3])
		}
	}
}

func mustComplaints(t *testing.T, d *driveline.Document) []Complaint {
	t.Helper()
	list, err := Complaints(d)
	if err != nil {
		t.Fatal(err)
	}
	return list
}

// Nothing seen gives no verdict, "don't know" to everything neither; a layout
// that lacks a part names no fault of it.
func TestNothingSeen(t *testing.T) {
	d := layout(t, "rear_drive")
	a := find(t, Question{Driveline: d})
	if a.Settled || !strings.Contains(a.Sentence, "Say what it does") {
		t.Errorf("%s", a.Sentence)
	}
	b := find(t, Question{Driveline: d, Evidence: []Evidence{vehicle(DontKnow)}})
	if b.Settled || b.Suspects[0].Probability != a.Suspects[0].Probability || !strings.Contains(b.Sentence, "Say what it does") {
		t.Errorf("%s", b.Sentence)
	}
	for _, x := range breaks.Of(&d) {
		if strings.Contains(x.ID, "front") || strings.Contains(x.ID, "case.") {
			t.Errorf("a rear-drive layout with %q", x.Name)
		}
	}
	for _, l := range driveline.Layouts() {
		parts := map[string]bool{}
		for _, p := range l.Document.Parts {
			parts[p.ID] = true
		}
		for _, x := range breaks.Of(&l.Document) {
			if !parts[x.Part] || x.Name == "" || Priors()[x.Sort] == 0 {
				t.Errorf("%s: %+v", l.ID, x)
			}
		}
		for i, c := range mustComplaints(t, &l.Document) {
			if i%7 == 0 {
				find(t, Question{Driveline: l.Document, Evidence: c.Evidence})
			}
		}
	}
}

// Answers that contradict each other are kept, told, and end nothing.
func TestContradiction(t *testing.T) {
	d := layout(t, "rear_drive")
	a := find(t, Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Stays), vehicle(breaks.Follows), vehicle(breaks.Opposite)}})
	if len(a.Clashes) == 0 {
		t.Errorf("%+v", a)
	}
}

func TestRefuses(t *testing.T) {
	d := layout(t, "rear_drive")
	for field, q := range map[string]Question{
		"evidence/0/seen":         {Driveline: d, Evidence: []Evidence{{}}},
		"evidence/0/seen/0/watch": {Driveline: d, Evidence: []Evidence{{Seen: []Seen{{"moon", breaks.Stays}}}}},
		"evidence/0/seen/0/does":  {Driveline: d, Evidence: []Evidence{vehicle("dances")}},
		"evidence/0/state/select": {Driveline: d, Evidence: []Evidence{vehicle(breaks.Stays, "warp", "9")}},
		"why":                     {Driveline: d, Why: "open the moon"},
		"priors/luck":             {Driveline: d, Priors: map[string]float64{"luck": 1}},
	} {
		if _, err := Find(t.Context(), q); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// With perfect eyes every fault that shows in the motion is found, or the group
// is named that no test from outside tells apart.
func TestEveryBreakIsFoundOrItsGroupNamed(t *testing.T) {
	for _, l := range driveline.Layouts() {
		m, err := NewModel(l.Document)
		if err != nil {
			t.Fatalf("%s: %v", l.ID, err)
		}
		for k, f := range m.faults {
			if sorts[f.Sort].prior < 0.2 { // so rare that what looks alike is believed first
				continue
			}
			if len(f.does) == 0 || len(m.faults) > 40 && k%4 != 0 { // the others are found alike
				continue
			}
			q := Question{OnStands: true}
			shows, err := m.complain(&q, k, rand.New(rand.NewPCG(1, uint64(k))), 0)
			if err != nil {
				t.Fatal(err)
			}
			if !shows || q.Evidence[0].Sign != "" {
				continue
			}
			q.Evidence = q.Evidence[:1] // what it does, and no sign of it
			var a *Answer
			for range 38 {
				if a, err = m.Find(t.Context(), q); err != nil {
					t.Fatal(err)
				}
				if a.Next == nil {
					break
				}
				if err := m.look(&q, a.Next, k, nil, 0); err != nil {
					t.Fatal(err)
				}
			}
			if a.Suspects[0].ID != f.ID && !slices.Contains(a.Group, f.Name) {
				t.Errorf("%s: %s ends as %q after %d, group %v", l.ID, f.Name, a.Sentence, len(q.Evidence), a.Group)
			}
		}
	}
}

// Simulated broken units over the layouts, seen with errors: found, and as sure
// as is said.
func TestSimulatedFaults(t *testing.T) {
	r := rand.New(rand.NewPCG(14, 2))
	var models []*Model
	for _, l := range driveline.Layouts() {
		m, err := NewModel(l.Document)
		if err != nil {
			t.Fatal(err)
		}
		models = append(models, m)
	}
	var of [3]Tally
	for order := range of {
		for range 160 {
			x, err := models[r.IntN(len(models))].Simulate(r, 0.04, 30, Order(order))
			if err != nil {
				t.Fatal(err)
			}
			of[order].Add(x)
		}
		y := of[order]
		t.Logf("%d: of %d shown %d: right or its group %d, first %d, part %d, in three %d, part after five %d; settled %d, of these wrong %d, said %.3f; %.1f tests, %.0f minutes and %.0f of opening; %+v", order, y.Units, y.Shown, y.Right, y.First, y.Part, y.InThree, y.Part5, y.Settled, y.Wrong, y.Sure/float64(max(1, y.Settled)), y.Mean(float64(y.Tests)), y.Mean(y.Minutes), y.Mean(y.Opened), y.Bands)
	}
	y, fixed, prior := of[Proposed], of[Fixed], of[ByPrior]
	if y.Right < y.Shown*80/100 || y.Wrong > y.Settled/8 {
		t.Errorf("right %d of %d, wrong of %d settled %d", y.Right, y.Shown, y.Settled, y.Wrong)
	}
	if y.Mean(y.Minutes) > fixed.Mean(fixed.Minutes)/2 {
		t.Errorf("%v minutes of tests, and %v by the checklist", y.Mean(y.Minutes), fixed.Mean(fixed.Minutes))
	}
	if y.Mean(y.Opened+y.Minutes) > prior.Mean(prior.Opened) {
		t.Errorf("%v minutes with tests, %v without", y.Mean(y.Opened+y.Minutes), prior.Mean(prior.Opened))
	}
}

// fifteen are observations on a four-wheel unit.
func fifteen(tb testing.TB) Question {
	d := layout(tb, "part_time")
	q := Question{Driveline: d, OnStands: true}
	for _, g := range []string{"1", "2", "3", "4", "5"} {
		q.Evidence = append(q.Evidence, vehicle(breaks.Stays, "gearbox", g), vehicle(breaks.Follows, "gearbox", g, "case.center", "locked"),
			lifted(d, "rear_prop.shaft", []string{"gearbox", g}, "rear_left.wheel", breaks.Stays))
	}
	return q
}

// BenchmarkRank15 ranks the suspects from a fresh model, without the next test.
func BenchmarkRank15(b *testing.B) {
	q := fifteen(b)
	for b.Loop() {
		m, err := NewModel(q.Driveline)
		if err != nil {
			b.Fatal(err)
		}
		s, err := m.search(&q)
		if err != nil {
			b.Fatal(err)
		}
		if err := s.weigh(b.Context()); err != nil {
			b.Fatal(err)
		}
		s.answer()
	}
}

// BenchmarkFind15 is the whole answer, with the next test and how it is towed.
func BenchmarkFind15(b *testing.B) {
	q := fifteen(b)
	for b.Loop() {
		find(b, q)
	}
}

// BenchmarkSolve is the reference: one state of the same driveline, solved
// once.
func BenchmarkSolve(b *testing.B) {
	d := layout(b, "part_time")
	for b.Loop() {
		if _, err := breaks.See(&d, driveline.State{}); err != nil {
			b.Fatal(err)
		}
	}
}

func ExampleFind() {
	for _, l := range driveline.Layouts() {
		if l.ID != "rear_drive" {
			continue
		}
		a, err := Find(context.Background(), Question{Driveline: l.Document,
			Evidence: []Evidence{{Seen: []Seen{{breaks.TheVehicle, breaks.Opposite}}}}})
		if err != nil {
			fmt.Println(err)
			return
		}
		fmt.Println(a.Sentence)
	}
	// Output:
	// Most likely: rear axle with the ring gear on the wrong side, or turned over (about 8 in 10).
}

// Whatever a proposed test shows can be answered, makes its suspects likelier,
// and its chances add up; "don't know" changes nothing.
func TestOutcomesCanBeAnswered(t *testing.T) {
	for _, l := range driveline.Layouts() {
		d := l.Document
		list := mustComplaints(t, &d)
		q := Question{Driveline: d, Evidence: list[0].Evidence}
		a := find(t, q)
		if a.Next == nil {
			continue
		}
		sum := 0.0
		for _, o := range a.Next.Outcomes {
			sum += o.Probability
			if o.Words == "" || len(o.Suspects) == 0 {
				t.Errorf("%s: %+v", l.ID, o)
			}
			next := q
			next.Evidence = append(slices.Clone(q.Evidence), answered(a.Next, o))
			b := find(t, next)
			for _, x := range b.Suspects {
				if x.Name == o.Suspects[0] && x.Probability < chance(a, x.ID)-1e-6 {
					t.Errorf("%s: %s foretold %q, and it fell from %v to %v", l.ID, x.Name, o.Words, chance(a, x.ID), x.Probability)
				}
			}
		}
		if sum < 0.999 || sum > 1.001 {
			t.Errorf("%s: the outcomes add up to %v", l.ID, sum)
		}
		unknown := Outcome{Seen: slices.Clone(a.Next.Outcomes[0].Seen)}
		for i := range unknown.Seen {
			unknown.Seen[i].Does = DontKnow
		}
		if a.Next.Sign != "" {
			unknown.Says = DontKnow
		}
		same := q
		same.Evidence = append(slices.Clone(q.Evidence), answered(a.Next, unknown))
		if b := find(t, same); b.Suspects[0].ID != a.Suspects[0].ID || b.Suspects[0].Probability != a.Suspects[0].Probability {
			t.Errorf("%s: not seen changed %v to %v", l.ID, a.Suspects[0], b.Suspects[0])
		}
	}
}

// Why not this one? What was seen speaks against it, by name.
func TestWhyNot(t *testing.T) {
	d := layout(t, "part_time")
	seen := lifted(d, "rear_prop.shaft", []string{"gearbox", "N", "rear.lock", "locked"}, "rear_left.wheel",
		breaks.Follows, "rear_right.wheel", breaks.Stays)
	seen.Words = "Turned the driveshaft"
	a := find(t, Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Stays), seen}, Why: "open rear_left.half shaft"})
	if x := a.Asked; x == nil || x.Probability > 0.05 || len(x.Against) != 1 ||
		!strings.Contains(x.Against[0], "Turned the driveshaft: rear left wheel turns as it should") || len(x.For) != 1 {
		t.Errorf("%+v", x)
	}
	if len(a.All) != len(Faults(&d)) {
		t.Errorf("%d of %d faults", len(a.All), len(Faults(&d)))
	}
}

// The shop's own jobs weigh: what broke often there leads.
func TestPriorsOfTheShop(t *testing.T) {
	d := layout(t, "part_time")
	for sort, id := range map[string]string{"stub": "open rear_left.half shaft", "shaft": "open rear_prop.joint", "clutch": "open clutch.clutch"} {
		q := Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Stays)}, Priors: map[string]float64{sort: 60}}
		if a := find(t, q); a.Suspects[0].Sort != sort || chance(a, id) < 0.25 {
			t.Errorf("%s: %s", sort, a.Sentence)
		}
	}
}
