package findfault

import (
	"context"
	"fmt"
	"maps"
	"math"
	"reflect"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Minutes are typical of a shop; they order the tests and touch no verdict.
const (
	handMinutes = 3.0
	liftMinutes = 8.0
	roadMinutes = 12.0
	// leastBits is where another test from outside isn't worth its while.
	leastBits = 0.05
	// enoughBits is what a test by hand tells at least, to go before one on the road.
	enoughBits = 0.2
	mostTests  = 60
	mostLive   = 24
	mostFull   = 8
)

// Outcome is one thing that a test may show.
type Outcome struct {
	Seen        []Seen   `json:"seen,omitempty"`
	Says        string   `json:"says,omitempty"`
	Words       string   `json:"words"`
	Probability float64  `json:"probability"`
	Suspects    []string `json:"suspects"` // names of those who foretell it, the likeliest first
}

// Test is a test with what each suspect foretells: a state with what is watched
// in it, or a sign that is looked for.
type Test struct {
	Title    string          `json:"title"`
	Setup    []string        `json:"setup"`
	State    driveline.State `json:"state,omitzero"`
	Sign     string          `json:"sign,omitempty"`
	Part     string          `json:"part,omitempty"`
	Unit     string          `json:"unit,omitempty"` // the sign can be measured in it
	Minutes  float64         `json:"minutes"`
	Bits     float64         `json:"bits"` // expected information
	Outcomes []Outcome       `json:"outcomes"`
	Road     bool            `json:"road"`
	Lifts    bool            `json:"lifts,omitempty"` // afterwards it stands on stands
	Cautions []string        `json:"cautions"`
	rate     float64
}

// Withheld is a test that isn't offered, and why.
type Withheld struct {
	Title string `json:"title"`
	Why   string `json:"why"`
}

// candidate is a test that could be made.
type candidate struct {
	state driveline.State
	setup []string
	title string
	road  bool
	sign  *SignOf
	view  *view // once it was tried
	out   bool  // its levers don't allow it, or there is nothing to watch
}

// next finds the test with the most expected information per minute.
func (s *search) next(ctx context.Context, a *Answer) error {
	live := s.live()
	if s.heard() > 0 && (len(live) < 2 || a.Suspects[0].Probability >= settledAt) {
		return nil
	}
	tests, err := s.ranked(ctx, a, live)
	if err != nil {
		return err
	}
	if len(tests) > 0 && tests[0].Bits >= leastBits {
		a.Next, a.Others = tests[0], tests[1:min(5, len(tests))]
		return nil
	}
	for _, x := range a.Suspects {
		if x.Probability > likely {
			a.Group = append(a.Group, x.Name)
		}
	}
	return nil
}

// ranked works out the tests that tell most per minute, the best first. A
// first look is with the likeliest few; those that tell most are worked out
// with all.
func (s *search) ranked(ctx context.Context, a *Answer, live []int) ([]*Test, error) {
	unsafe := s.unsafe()
	type looked struct {
		c    *candidate
		rate float64
	}
	var list []looked
	all := s.m.candidates()
	if len(s.given) > 0 {
		all = s.given
	}
	for i := range all {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		c := &all[i]
		if c.out || s.made(c) {
			continue
		}
		if why := unsafe(c); why != "" {
			if !slices.ContainsFunc(a.Withheld, func(w Withheld) bool { return w.Why == why }) {
				a.Withheld = append(a.Withheld, Withheld{c.title, why})
			}
			continue
		}
		few := live
		if c.sign == nil {
			few = live[:min(6, len(live))]
		}
		t, err := s.try(c, few)
		if err != nil {
			return nil, err
		}
		if t != nil {
			list = append(list, looked{c, t.Bits / t.Minutes})
		}
	}
	slices.SortStableFunc(list, func(x, y looked) int { return cmpDown(x.rate, y.rate) })
	var out []*Test
	for k, l := range list {
		if k >= mostFull && (len(out) > 0 || l.rate == 0 && k >= 3*mostFull) {
			break
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		t, err := s.try(l.c, live)
		if err != nil {
			return nil, err
		}
		if t != nil && t.Bits >= leastBits {
			t.rate = t.Bits / t.Minutes
			out = append(out, t)
		}
	}
	slices.SortStableFunc(out, func(x, y *Test) int { return cmpDown(x.rate, y.rate) })
	// What is done on the road comes last, where anything else tells something.
	if slices.ContainsFunc(out, func(t *Test) bool { return !t.Road && t.Bits >= enoughBits }) {
		slices.SortStableFunc(out, func(x, y *Test) int {
			switch {
			case x.Road == y.Road:
				return 0
			case x.Road:
				return 1
			}
			return -1
		})
	}
	return out, nil
}

// readGiven checks the tests that can be made, and prepares them.
func (s *search) readGiven(errs *fault.Errors) {
	if len(s.q.Given) > MostGiven {
		errs.Add("given", "at most %d tests", MostGiven)
		return
	}
	all := s.m.candidates()
	for i, g := range s.q.Given {
		at := fmt.Sprintf("given/%d", i)
		if g.Sign == "" {
			v, err := s.m.view(g.State)
			switch {
			case g.Part != "":
				errs.Add(at+"/sign", "which sign is meant?")
			case err != nil:
				*errs = append(*errs, asErrors(fault.Under(at, err))...)
			default:
				s.given = append(s.given, s.m.known(all, g.State, v))
			}
			continue
		}
		k := slices.IndexFunc(all, func(c candidate) bool { return c.sign != nil && c.sign.ID == g.Sign && c.sign.Part == g.Part })
		switch {
		case !stateless(g.State):
			errs.Add(at+"/sign", "a sign, or a state: one of the two")
		case k >= 0:
			s.given = append(s.given, all[k])
		case len(s.m.placesOf(g.Sign)) > 0:
			errs.Add(at+"/part", "at which part can it be looked for? One of %s", strings.Join(s.m.placesOf(g.Sign), ", "))
		default:
			errs.Add(at+"/sign", "this unit has no such sign to look for")
		}
	}
}

// known is the listed test of a state, or one made of its levers.
func (m *Model) known(all []candidate, st driveline.State, v *view) candidate {
	for _, c := range all {
		if c.sign == nil && reflect.DeepEqual(c.state, st) {
			return c
		}
	}
	c := candidate{state: st, setup: []string{}, title: "Drive off", road: len(st.Wheels) == 0 && st.Input == nil, view: v}
	if st.Input != nil {
		c.title = "Turn the " + v.see.Name(st.Input.Shaft) + " by hand"
	} else if m.doc.Lies != driveline.Vehicle || !c.road {
		c.title = "Let the engine turn it"
	}
	levers := slices.Sorted(maps.Keys(st.Select))
	for _, l := range levers {
		c.setup = append(c.setup, l+": "+st.Select[l])
	}
	return c
}

// made is whether a test was answered already, if only with "don't know".
func (s *search) made(c *candidate) bool {
	for i, e := range s.q.Evidence {
		if c.sign != nil && e.Sign == c.sign.ID && e.Part == c.sign.Part || c.sign == nil && s.seen[i].view != nil && s.seen[i].view == c.view && len(e.Seen) == len(c.view.watch) {
			return true
		}
	}
	return false
}

// unsafe says why a test isn't offered with these suspects, or nothing.
func (s *search) unsafe() func(c *candidate) string {
	sum := map[string]float64{}
	for _, h := range s.hyps {
		for _, k := range h.of {
			sum[s.m.faults[k].Sort] += h.p
		}
	}
	if s.heard() == 0 {
		clear(sum)
	}
	vehicle := s.m.doc.Lies == driveline.Vehicle
	return func(c *candidate) string {
		if !c.road {
			return ""
		}
		switch {
		case vehicle && sum["shaft"] > 0.3:
			return "A shaft that may be sheared flails under power: tests by hand first, and it is tied up or off before anything moves."
		case vehicle && sum["brake"]+sum["wheel_bearing"] > 0.5:
			return "A wheel that may seize, or come off, isn't driven to try it."
		case sum["mesh"]+sum["spiders"]+sum["planets"]+sum["chain"] > 0.5:
			return "Broken pieces may lock it while it turns: it is turned by hand only."
		case vehicle && sum["turned"] > 0.5:
			return "It drives the wrong way: nobody is to expect which."
		case !vehicle && sum["impeller"]+sum["impeller_key"]+sum["screens"]+sum["passages"]+sum["tube"] > 0.5:
			return "It isn't run while it may have no cooling water."
		case !vehicle && sum["top_bearing"]+sum["drain_gasket"]+sum["prop_seal"]+sum["carrier_rings"]+sum["pump_seal"]+sum["shift_leak"] > 0.6:
			return "A case with water in its oil, or a starved bearing, isn't run under load."
		}
		return ""
	}
}

// live are the hypotheses that still count.
func (s *search) live() []int {
	var out []int
	for i, h := range s.hyps {
		if h.p > 0.003 {
			out = append(out, i)
		}
	}
	slices.SortStableFunc(out, func(x, y int) int { return cmpDown(s.hyps[x].p, s.hyps[y].p) })
	return out[:min(mostLive, len(out))]
}

// try works out what each hypothesis would show; nil where it can't be made.
func (s *search) try(c *candidate, live []int) (*Test, error) {
	if c.sign != nil {
		return s.trySign(c, live), nil
	}
	if c.view == nil {
		v, err := s.m.view(c.state)
		if err != nil || len(v.watch) == 0 {
			c.out = true // a position that its levers don't allow
			return nil, nil
		}
		c.view = v
	}
	groups, order, total, err := s.foretold(c.view, live)
	if err != nil {
		return nil, err
	}
	t := &Test{Title: c.title, Setup: c.setup, State: c.state, Road: c.road, Minutes: handMinutes, Outcomes: []Outcome{}, Cautions: []string{}}
	s.cost(t, c)
	wrong := handError
	if c.road {
		wrong = roadError
	}
	differs := make([]bool, len(c.view.watch))
	for i := range differs {
		for _, k := range order {
			differs[i] = differs[i] || len(order) == 1 || groups[k].shows[i] != groups[order[0]].shows[i]
		}
	}
	for _, k := range order {
		g := groups[k]
		p := g.p / total
		t.Bits -= p * math.Log2(p)
		o := Outcome{Probability: say.Round(p, 4), Suspects: []string{}, Words: c.view.words(g.shows, differs)}
		for i, w := range c.view.watch {
			o.Seen = append(o.Seen, Seen{w, g.shows[i]})
		}
		for _, i := range g.hyps[:min(4, len(g.hyps))] {
			o.Suspects = append(o.Suspects, s.name(s.hyps[i]))
		}
		t.Outcomes = append(t.Outcomes, o)
	}
	slices.SortStableFunc(t.Outcomes, func(x, y Outcome) int { return cmpDown(x.Probability, y.Probability) })
	t.Bits = say.Round(t.Bits*(1-2*wrong), 3)
	return t, nil
}

// group is what several hypotheses show alike.
type group struct {
	p     float64
	hyps  []int
	shows []string
}

func (s *search) foretold(v *view, live []int) (map[string]*group, []string, float64, error) {
	groups := map[string]*group{}
	var order []string
	total := 0.0
	for _, i := range live {
		shows, err := s.m.shows(v, s.hyps[i].of)
		if err != nil {
			return nil, nil, 0, err
		}
		k := strings.Join(shows, " ")
		if groups[k] == nil {
			groups[k] = &group{shows: shows}
			order = append(order, k)
		}
		groups[k].p += s.hyps[i].p
		groups[k].hyps = append(groups[k].hyps, i)
		total += s.hyps[i].p
	}
	return groups, order, total, nil
}

// trySign is a sign that is looked for: there or not.
func (s *search) trySign(c *candidate, live []int) *Test {
	x := c.sign
	total, yes, rest := 0.0, 0.0, 0.0
	type part struct{ p, chance float64 }
	parts := make([]part, len(live))
	for k, i := range live {
		h := &s.hyps[i]
		p := x.chance(s.of(h), false)
		parts[k] = part{h.p, p}
		total += h.p
		yes += h.p * p
		rest += h.p * entropy(p)
	}
	p := yes / total
	t := &Test{Title: c.title, Setup: c.setup, Sign: x.ID, Part: x.Part, Unit: x.Unit, Road: c.road, Minutes: x.Minutes, Outcomes: []Outcome{}, Cautions: []string{}}
	s.cost(t, c)
	t.Bits = say.Round(entropy(p)-rest/total, 3)
	for _, says := range []string{Yes, No} {
		o := Outcome{Says: says, Words: x.Words, Probability: say.Round(p, 4), Suspects: []string{}}
		if says == No {
			o.Words, o.Probability = "No", say.Round(1-p, 4)
		}
		order := make([]int, len(live))
		weight := make([]float64, len(live))
		for k := range live {
			order[k] = k
			weight[k] = parts[k].p * parts[k].chance
			if says == No {
				weight[k] = parts[k].p * (1 - parts[k].chance)
			}
		}
		slices.SortStableFunc(order, func(a, b int) int { return cmpDown(weight[a], weight[b]) })
		for _, k := range order[:min(3, len(order))] {
			o.Suspects = append(o.Suspects, s.name(s.hyps[live[k]]))
		}
		t.Outcomes = append(t.Outcomes, o)
	}
	return t
}

func entropy(p float64) float64 {
	if p <= 0 || p >= 1 {
		return 0
	}
	return -p*math.Log2(p) - (1-p)*math.Log2(1-p)
}

// cost puts in minutes and cautions.
func (s *search) cost(t *Test, c *candidate) {
	vehicle := s.m.doc.Lies == driveline.Vehicle
	lifts := vehicle && (c.sign == nil && !c.road || c.sign != nil && c.sign.Lift)
	switch {
	case c.road && c.sign == nil:
		t.Minutes = roadMinutes
		if vehicle {
			t.Cautions = append(t.Cautions, "On a closed yard, walking pace, nobody beside it; not if anything knocks. With a lock or both ends engaged only where the wheels can slip.")
		} else {
			t.Cautions = append(t.Cautions, "Moored fast, nobody near the propeller, cooling water running.")
		}
	case lifts && !s.q.OnStands:
		t.Minutes += liftMinutes
		t.Cautions = append(t.Cautions, "Jack stands on rated points, chocks where a wheel stays down; never under it on a jack alone.")
	}
	t.Lifts = lifts
	if c.sign != nil && c.sign.Caution != "" {
		t.Cautions = append(t.Cautions, c.sign.Caution)
	}
}
