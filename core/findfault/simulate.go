package findfault

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
	"zorvel/core/say"
	"zorvel/core/trials"
)

// Order is how a simulated technician goes on.
type Order int

// Orders.
const (
	Proposed Order = iota // the test that tells most per minute
	Fixed                 // every test of the unit by a checklist: what costs fewest minutes first
	ByPrior               // opens what breaks most often, per minute, of what could be behind the complaint
)

// Trial is one simulated broken unit.
type Trial struct {
	Truth   string
	Sort    string
	Shows   bool // there is something to complain of
	Tests   int
	Minutes float64 // of tests
	Opened  float64 // minutes of opening, in the order said, until it was found
	Right   bool    // the likeliest at the end, or in the group that nothing tells apart
	First   bool    // the likeliest at the end
	Part    bool    // the likeliest part holds it
	Part5   bool    // so after at most five tests
	InThree bool
	Sure    float64 // said of the likeliest at the end
	Settled bool
}

// Simulate breaks one part of a unit, complains, and follows an order of tests,
// seen with errors, until it is settled or nothing more tells, at most so many
// tests.
func (m *Model) Simulate(r *rand.Rand, wrong float64, most int, order Order) (Trial, error) {
	k := m.draw(r)
	truth := &m.faults[k]
	t := Trial{Truth: truth.Name, Sort: truth.Sort}
	q := Question{Driveline: m.doc}
	var err error
	if t.Shows, err = m.complain(&q, k, r, wrong); err != nil || !t.Shows {
		return t, err
	}
	if order == ByPrior {
		return t, m.openByPrior(&q, k, &t)
	}
	for {
		s, a, test, err := m.proposed(&q, order)
		if err != nil {
			return t, err
		}
		if test == nil || t.Tests == most {
			m.judge(s, a, k, &t)
			if t.Tests <= 5 {
				t.Part5 = t.Part
			}
			return t, nil
		}
		if t.Tests == 5 {
			m.judge(s, a, k, &t)
			t.Part5 = t.Part
		}
		t.Tests++
		t.Minutes += test.Minutes
		if err := m.look(&q, test, k, r, wrong); err != nil {
			return t, err
		}
		q.OnStands = q.OnStands || test.Lifts
	}
}

// draw picks a fault as often as it breaks.
func (m *Model) draw(r *rand.Rand) int {
	total := 0.0
	q := &Question{}
	for i := range m.faults {
		total += m.weight(q, i)
	}
	return trials.Pick(len(m.faults), r.Float64()*total, func(i int) float64 { return m.weight(q, i) })
}

// proposed weighs what is known and names the next test by an order.
func (m *Model) proposed(q *Question, order Order) (*search, *Answer, *Test, error) {
	s, err := m.search(q)
	if err != nil {
		return nil, nil, nil, err
	}
	if err := s.weigh(context.Background()); err != nil {
		return nil, nil, nil, err
	}
	a := s.answer()
	if order == Proposed {
		err := s.next(context.Background(), a)
		return s, a, a.Next, err
	}
	if a.Suspects[0].Probability >= settledAt {
		return s, a, nil, nil
	}
	list, err := s.checklist()
	if err != nil || len(list) == 0 {
		return s, a, nil, err
	}
	return s, a, list[0], nil
}

// checklist are the tests that weren't made yet, what costs fewest minutes
// first, whatever they would tell.
func (s *search) checklist() ([]*Test, error) {
	unsafe := s.unsafe()
	live := s.live()
	var out []*Test
	all := s.m.candidates()
	for i := range all {
		c := &all[i]
		if c.out || s.made(c) || unsafe(c) != "" {
			continue
		}
		t, err := s.try(c, live[:min(1, len(live))])
		if err != nil {
			return nil, err
		}
		if t != nil {
			out = append(out, t)
		}
	}
	slices.SortStableFunc(out, func(x, y *Test) int { return cmpDown(y.Minutes, x.Minutes) })
	return out, nil
}

// judge holds what is said at the end against what is broken.
func (m *Model) judge(s *search, a *Answer, k int, t *Trial) {
	truth := &m.faults[k]
	t.Sure, t.Settled = a.Suspects[0].Probability, a.Suspects[0].Probability >= settledAt
	t.First = a.Suspects[0].ID == truth.ID
	t.Right, t.InThree = t.First, false
	for _, x := range a.Suspects[:min(3, len(a.Suspects))] {
		t.InThree = t.InThree || x.ID == truth.ID
	}
	for _, name := range a.Group {
		t.Right = t.Right || name == truth.Name
	}
	best, part := -1.0, ""
	for _, p := range m.doc.Parts {
		if a.Parts[p.ID] > best {
			best, part = a.Parts[p.ID], p.ID
		}
	}
	t.Part = part == truth.Part
	t.Opened = m.openings(s.byFault(), k)
}

// openings are the minutes until a fault is found, opening what is likeliest per
// minute first.
func (m *Model) openings(weight []float64, k int) float64 {
	type place struct {
		minutes, share float64
		holds          bool
	}
	at := map[string]*place{}
	var order []string
	for i := range m.faults {
		f := &m.faults[i]
		st := sorts[f.Sort]
		key := st.open + f.Part
		if at[key] == nil {
			at[key] = &place{minutes: st.minutes}
			order = append(order, key)
		}
		at[key].share += weight[i]
		at[key].holds = at[key].holds || i == k
	}
	slices.SortStableFunc(order, func(a, b string) int { return cmpDown(at[a].share/at[a].minutes, at[b].share/at[b].minutes) })
	minutes := 0.0
	for _, key := range order {
		minutes += at[key].minutes
		if at[key].holds {
			break
		}
	}
	return minutes
}

// openByPrior opens without a test.
func (m *Model) openByPrior(q *Question, k int, t *Trial) error {
	s, err := m.search(q)
	if err != nil {
		return err
	}
	if err := s.condition(context.Background(), 0); err != nil {
		return err
	}
	weight := make([]float64, len(m.faults))
	for i := range m.faults {
		h, none := &s.hyps[i+1], &s.hyps[0]
		weight[i] = 1e-6 * h.prior
		for j := range h.like {
			if h.like[j] > 2*none.like[j] { // it could be behind this complaint
				weight[i] = h.prior
			}
		}
	}
	t.Opened = m.openings(weight, k)
	return nil
}

// complain is what the unit is brought in for: the first position in which a
// break shows, and up to three of the signs that its people have noticed.
func (m *Model) complain(q *Question, k int, r *rand.Rand, wrong float64) (bool, error) {
	truth := &m.faults[k]
	moves := false
	for _, st := range breaks.Positions(&m.doc) {
		v, err := m.view(st)
		if err != nil || len(v.watch) == 0 {
			continue // a position that its levers don't allow
		}
		broken, err := m.shows(v, []int{k})
		if err != nil {
			return false, err
		}
		whole, err := m.shows(v, nil)
		if err != nil {
			return false, err
		}
		if !slices.Equal(broken, whole) {
			moves = true
			q.Evidence = append(q.Evidence, m.saw(v, st, broken, r, wrong))
			break
		}
	}
	var noticed []Evidence
	tells := false
	for i := range m.signs {
		x := &m.signs[i]
		often := x.chance([]*Fault{truth}, true)
		if x.Normal != "" && truth.signs[x.ID] == 0 { // few come with what is normal
			often *= byChance
		}
		if x.Complaint && r.Float64() < often {
			noticed = append(noticed, Evidence{Sign: x.ID, Part: x.Part, Says: Yes, Complaint: true})
			tells = tells || truth.signs[x.ID] > 0
		}
	}
	if !moves && !tells {
		return false, nil
	}
	r.Shuffle(len(noticed), func(i, j int) { noticed[i], noticed[j] = noticed[j], noticed[i] })
	q.Evidence = append(q.Evidence, noticed[:min(3, len(noticed))]...)
	if !moves {
		st := driveline.State{}
		v, err := m.view(st)
		if err != nil {
			return false, err
		}
		whole, err := m.shows(v, nil)
		if err != nil {
			return false, err
		}
		q.Evidence = append(q.Evidence, m.saw(v, st, whole, r, wrong))
	}
	return true, nil
}

// saw is what is seen, now and then wrong.
func (m *Model) saw(v *view, st driveline.State, shows []string, r *rand.Rand, wrong float64) Evidence {
	e := Evidence{State: st}
	others := []string{breaks.Follows, breaks.Stays, breaks.Opposite, breaks.Locked}
	for i, w := range v.watch {
		does := shows[i]
		if wrong > 0 && r.Float64() < wrong {
			does = others[r.IntN(len(others))]
			if does == breaks.Opposite && (w == breaks.TheVehicle || w == breaks.Speedometer) {
				does = breaks.Stays // forward isn't taken for backward
			}
		}
		e.Seen = append(e.Seen, Seen{w, does})
	}
	return e
}

// look makes a test.
func (m *Model) look(q *Question, t *Test, k int, r *rand.Rand, wrong float64) error {
	if t.Sign != "" {
		p := m.sign(t.Sign, t.Part).chance([]*Fault{&m.faults[k]}, false)
		there := r != nil && r.Float64() < p
		if r == nil {
			there = p > 0.5
		}
		e := Evidence{Sign: t.Sign, Part: t.Part, Says: No}
		if there {
			e.Says = Yes
		}
		q.Evidence = append(q.Evidence, e)
		return nil
	}
	v, err := m.view(t.State)
	if err != nil {
		return err
	}
	shows, err := m.shows(v, []int{k})
	if err != nil {
		return err
	}
	q.Evidence = append(q.Evidence, m.saw(v, t.State, shows, r, wrong))
	return nil
}

// Would is what a test shows with a fault in the unit, seen rightly: for
// practice, and for examples.
func (m *Model) Would(t *Test, fault string) (Evidence, error) {
	for k := range m.faults {
		if m.faults[k].ID == fault {
			var q Question
			err := m.look(&q, t, k, nil, 0)
			if err != nil {
				return Evidence{}, err
			}
			e := q.Evidence[0]
			e.Words = t.Title
			return e, nil
		}
	}
	return Evidence{}, fmt.Errorf("no fault %q in this unit", fault)
}

// Tally sums trials up.
type Tally struct {
	Units, Shown, Right, First, Part, InThree, Settled, Wrong, Tests int
	Part5                                                            int
	Minutes, Opened, Sure                                            float64
	Bands                                                            trials.Bands
}

// bands are those in which certainty is counted.
func bands() trials.Bands { return trials.NewBands(0, 0.5, 0.75, 0.9, 0.97) }

// Add takes a trial in.
func (y *Tally) Add(t Trial) {
	if y.Units++; y.Bands == nil {
		y.Bands = bands()
	}
	if !t.Shows {
		return
	}
	y.Shown++
	y.Tests += t.Tests
	y.Minutes += t.Minutes
	y.Opened += t.Opened
	for n, is := range map[*int]bool{&y.Right: t.Right, &y.First: t.First, &y.Part: t.Part, &y.InThree: t.InThree, &y.Part5: t.Part5,
		&y.Settled: t.Settled, &y.Wrong: t.Settled && !t.First} {
		*n += trials.One(is)
	}
	if t.Settled {
		y.Sure += t.Sure
	}
	y.Bands.Count(t.Sure, t.First)
}

// Mean is a sum by the units that showed.
func (y *Tally) Mean(sum float64) float64 { return say.Round(sum/float64(max(1, y.Shown)), 1) }
