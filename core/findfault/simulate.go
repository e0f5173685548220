package findfault

import (
	"math/rand/v2"
	"slices"

	"zorvel/core/driveline"
)

// Trial is one simulated broken unit: found by the tests that are proposed.
type Trial struct {
	Truth   string
	Shows   bool // in some position of the levers; else nobody complains
	Tests   int
	Minutes float64
	Right   bool // the likeliest at the end, or in the group that nothing tells apart
	InThree bool
	Sure    float64 // said of the likeliest at the end
	Settled bool
}

// Simulate breaks one part of a driveline, complains, and follows the proposed
// tests, seen with errors, until it is settled or nothing more tells, at most
// so many tests.
func Simulate(d driveline.Document, r *rand.Rand, wrong float64, most int) (Trial, error) {
	breaks := driveline.Breaks(&d)
	weights, total := Priors(), 0.0
	for _, b := range breaks {
		total += weights[b.Sort]
	}
	at := r.Float64() * total
	truth := breaks[len(breaks)-1]
	for _, b := range breaks {
		if at -= weights[b.Sort]; at < 0 {
			truth = b
			break
		}
	}
	t := Trial{Truth: truth.Name}
	q := Question{Driveline: d}
	st, shows, err := complaint(&d, truth)
	if err != nil || !shows {
		return t, err
	}
	t.Shows = true
	first, err := driveline.See(&d, st)
	if err != nil {
		return t, err
	}
	if err := q.look(first, st, truth, r, wrong); err != nil {
		return t, err
	}
	for {
		a, err := Find(q)
		if err != nil {
			return t, err
		}
		if a.Next == nil || t.Tests == most {
			t.Sure, t.Settled = a.Suspects[0].Probability, a.Settled
			t.Right = a.Suspects[0].ID == truth.ID
			for _, x := range a.Suspects[:min(3, len(a.Suspects))] {
				t.InThree = t.InThree || x.ID == truth.ID
			}
			for _, name := range a.Group {
				t.Right = t.Right || name == truth.Name
			}
			return t, nil
		}
		t.Tests++
		t.Minutes += a.Next.Minutes
		see, err := driveline.See(&d, a.Next.State)
		if err != nil {
			return t, err
		}
		if err := q.look(see, a.Next.State, truth, r, wrong); err != nil {
			return t, err
		}
		q.OnStands = q.OnStands || !a.Next.Road
	}
}

// complaint is the first state in which a break shows: what it is brought in
// for.
func complaint(d *driveline.Document, b driveline.Break) (driveline.State, bool, error) {
	for _, st := range driveline.Positions(d) {
		see, err := driveline.See(d, st)
		if err != nil {
			continue // a position that its levers don't allow
		}
		watch := see.Watched()
		broken, err := see.Broken([]driveline.Break{b}, watch)
		if err != nil {
			return st, false, err
		}
		whole, err := see.Broken(nil, watch)
		if err != nil {
			return st, false, err
		}
		if !slices.Equal(broken, whole) {
			return st, true, nil
		}
	}
	return driveline.State{}, false, nil
}

// look adds what is seen, now and then wrong.
func (q *Question) look(see *driveline.Seeing, st driveline.State, truth driveline.Break, r *rand.Rand, wrong float64) error {
	watch := see.Watched()
	shows, err := see.Broken([]driveline.Break{truth}, watch)
	if err != nil {
		return err
	}
	e := Evidence{State: st}
	others := []string{driveline.Follows, driveline.Stays, driveline.Opposite, driveline.Locked}
	for i, w := range watch {
		does := shows[i]
		if wrong > 0 && r.Float64() < wrong {
			does = others[r.IntN(len(others))]
		}
		e.Seen = append(e.Seen, Seen{w, does})
	}
	q.Evidence = append(q.Evidence, e)
	return nil
}
