package findfault

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"

	"zorvel/core/say"
)

// Hidden is a unit with one part broken, for practice: its tests show what that fault
// does. What a test shows depends on the seed and the test, not on what was tested before.
type Hidden struct {
	m     *Model
	k     int
	seed  uint64
	wrong float64
	q     Question
	tests []candidate
}

// Looked is a test at a hidden unit, as it is offered.
type Looked struct {
	Title    string
	Setup    []string
	Minutes  float64
	Road     bool
	Lifts    bool   // all wheels come off the ground for it
	Sign     bool   // looked for or asked, nothing is turned
	Part     string // where; none where the whole unit is driven or asked about
	Cautions []string
}

// mostDraws is how often a fault is drawn until one shows.
const mostDraws = 60

// Hide breaks a part that fits, drawn as often as parts break, and brings the unit in with
// its complaint. Tests are seen wrong as often as said. Errors where nothing that fits
// shows.
func (m *Model) Hide(seed uint64, wrong float64, fits func(Fault) bool) (*Hidden, error) {
	r := rand.New(rand.NewPCG(seed, 0xfa17))
	for range mostDraws {
		k := m.draw(r)
		if !fits(m.faults[k]) {
			continue
		}
		h := &Hidden{m: m, k: k, seed: seed, wrong: wrong, q: Question{Driveline: m.doc}}
		shows, err := m.complain(&h.q, k, r, 0)
		if err != nil {
			return nil, err
		}
		if shows {
			return h, h.list()
		}
	}
	return nil, fmt.Errorf("nothing that breaks here shows")
}

// list are the tests that can be made.
func (h *Hidden) list() error {
	for _, c := range h.m.candidates() {
		if c.sign == nil {
			v, err := h.m.view(c.state)
			if err != nil || len(v.watch) == 0 {
				continue // a position that its levers don't allow
			}
			c.view = v
		}
		h.tests = append(h.tests, c)
	}
	return nil
}

// Structural reports whether a fault changes how the unit moves, so that tests by hand
// tell it.
func (f Fault) Structural() bool { return len(f.does) > 0 }

// Truth is what is broken.
func (h *Hidden) Truth() Fault { return h.m.faults[h.k] }

// Faults are all that can be broken in it.
func (h *Hidden) Faults() []Named {
	out := make([]Named, len(h.m.faults))
	for i, f := range h.m.faults {
		out[i] = Named{f.ID, f.Name}
	}
	return out
}

// Brought is what it was brought in for, in words.
func (h *Hidden) Brought() []string { return h.m.protocol(h.q.Evidence) }

// Tests are all that can be made, with what each takes now.
func (h *Hidden) Tests(onStands bool) []Looked {
	s := &search{m: h.m, q: &Question{OnStands: onStands}}
	out := make([]Looked, len(h.tests))
	for i := range h.tests {
		c := &h.tests[i]
		t, part := &Test{Minutes: handMinutes}, ""
		if c.sign != nil {
			t.Minutes, part = c.sign.Minutes, c.sign.Part
		} else if in := c.state.Input; in != nil {
			part, _, _ = strings.Cut(in.Shaft, ".")
		}
		s.cost(t, c)
		out[i] = Looked{Title: c.title, Setup: c.setup, Minutes: t.Minutes, Road: c.road, Lifts: t.Lifts,
			Sign: c.sign != nil,
			Part: part, Cautions: t.Cautions}
	}
	return out
}

// Show is what a test shows, now and then seen wrong.
func (h *Hidden) Show(test int) (Evidence, error) { return h.show(test, h.wrong) }

func (h *Hidden) show(test int, wrong float64) (Evidence, error) {
	c := &h.tests[test]
	t := &Test{State: c.state}
	if c.sign != nil {
		t.Sign, t.Part = c.sign.ID, c.sign.Part
	}
	var q Question
	var r *rand.Rand
	if wrong > 0 {
		r = rand.New(rand.NewPCG(h.seed, uint64(test)+1))
	}
	if err := h.m.look(&q, t, h.k, r, wrong); err != nil {
		return Evidence{}, err
	}
	e := q.Evidence[0]
	e.Words = c.title
	return e, nil
}

// Words says what was seen.
func (h *Hidden) Words(e Evidence) string {
	return Protocol(&Question{Driveline: h.m.doc, Evidence: []Evidence{e}})[0]
}

// Weigh is how likely each fault is after the complaint and these findings, by ID, and the
// name of the likeliest.
func (h *Hidden) Weigh(found []Evidence) (by map[string]float64, top Named, err error) {
	q := h.with(found)
	s, err := h.m.search(&q)
	if err == nil {
		err = s.weigh(context.Background())
	}
	if err != nil {
		return nil, top, err
	}
	by = map[string]float64{}
	best := -1.0
	for k, p := range s.byFault() {
		f := h.m.faults[k]
		by[f.ID] = say.Round(p, 4)
		if p > best {
			best, top = p, Named{f.ID, f.Name}
		}
	}
	return by, top, nil
}

func (h *Hidden) with(found []Evidence) Question {
	q := h.q
	q.Evidence = append(slices.Clone(h.q.Evidence), found...)
	return q
}

// Alike are the faults that no test tells from the one that is hidden, that one included:
// everything that can be turned or looked for shows the same.
func (h *Hidden) Alike() ([]string, error) {
	var out []string
	truth := &h.m.faults[h.k]
	for k := range h.m.faults {
		same, err := h.alike(k, truth)
		if err != nil {
			return nil, err
		}
		if same {
			out = append(out, h.m.faults[k].ID)
		}
	}
	return out, nil
}

// tellsApart is how far two chances of a sign must lie apart for it to tell two faults apart.
const tellsApart = 0.3

func (h *Hidden) alike(k int, truth *Fault) (bool, error) {
	if k == h.k {
		return true, nil
	}
	f := &h.m.faults[k]
	for i := range h.tests {
		c := &h.tests[i]
		if c.sign != nil {
			a, b := c.sign.chance([]*Fault{f}, false), c.sign.chance([]*Fault{truth}, false)
			if a-b > tellsApart || b-a > tellsApart {
				return false, nil
			}
			continue
		}
		a, err := h.m.shows(c.view, []int{k})
		if err != nil {
			return false, err
		}
		b, err := h.m.shows(c.view, []int{h.k})
		if err != nil || !slices.Equal(a, b) {
			return false, err
		}
	}
	return true, nil
}

// Next is the test that tells most per minute after these findings, by its place in Tests;
// none where it is settled or nothing more tells.
func (h *Hidden) Next(found []Evidence, onStands bool) (int, bool, error) {
	q := h.with(found)
	q.OnStands = onStands
	_, _, t, err := h.m.proposed(&q, Proposed)
	if err != nil || t == nil {
		return 0, false, err
	}
	for i := range h.tests {
		c := &h.tests[i]
		switch {
		case t.Sign != "" && c.sign != nil && c.sign.ID == t.Sign && c.sign.Part == t.Part,
			t.Sign == "" && c.sign == nil && c.title == t.Title && slices.Equal(c.setup, t.Setup):
			return i, true, nil
		}
	}
	return 0, false, nil
}

// Rightly is what a test shows to who sees rightly.
func (h *Hidden) Rightly(test int) (Evidence, error) { return h.show(test, 0) }

// Best are the tests that tell most per minute after the complaint, the best first.
func (h *Hidden) Best(n int) ([]*Test, error) {
	q := h.with(nil)
	s, a, t, err := h.m.proposed(&q, Proposed)
	if err != nil || t == nil || s == nil {
		return nil, err
	}
	return append([]*Test{t}, a.Others...)[:min(n, 1+len(a.Others))], nil
}
