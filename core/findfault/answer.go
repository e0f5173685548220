package findfault

import (
	"math"
	"slices"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
	"zorvel/core/say"
)

// Suspect is a fault with how likely it is.
type Suspect struct {
	ID          string   `json:"id"`
	Part        string   `json:"part"`
	Name        string   `json:"name"`
	Sort        string   `json:"sort"`
	Probability float64  `json:"probability"`
	For         []string `json:"for"`     // what was seen that it explains
	Against     []string `json:"against"` // what it would have shown otherwise
	How         string   `json:"how"`     // how it comes about
	Next        string   `json:"next"`    // what dies next if it is driven on
}

// Pair is two faults together, where one explains too little.
type Pair struct {
	A           string  `json:"a"`
	B           string  `json:"b"`
	Probability float64 `json:"probability"`
}

// Opening is what is opened to see a suspect.
type Opening struct {
	What    string   `json:"what"`
	Part    string   `json:"part"`
	Minutes float64  `json:"minutes"`
	Finds   []string `json:"finds"`
	Share   float64  `json:"share"` // how likely it is found there
	Ready   []string `json:"ready"` // parts and gaskets to have ready
	Gears   bool     `json:"gears"` // a set of gears may be needed
}

// Answer ranks the suspects and says what to do next.
type Answer struct {
	Sentence string             `json:"sentence"`
	Settled  bool               `json:"settled"`
	Suspects []Suspect          `json:"suspects"` // at most 12, the likeliest first
	Pairs    []Pair             `json:"pairs"`
	Sound    float64            `json:"sound"` // that nothing of these is broken
	Parts    map[string]float64 `json:"parts"` // by part
	Next     *Test              `json:"next,omitempty"`
	Others   []*Test            `json:"others"`   // what tells next most per minute
	Withheld []Withheld         `json:"withheld"` // tests that aren't offered now
	Group    []string           `json:"group"`    // that no test from outside tells apart
	Open     []Opening          `json:"open"`     // what to open, in order
	Clashes  []string           `json:"clashes"`  // answers that no suspect explains
	Contrary bool               `json:"contrary"` // two answers don't go together: they are asked about first
	Normal   []string           `json:"normal"`   // what a build does by nature
	Advice   []string           `json:"advice"`   // what is done before anything is opened
	Drive    []string           `json:"drive"`    // may it be driven
	Tow      []breaks.Towed     `json:"tow"`      // what turns when it is towed
	Cautions []string           `json:"cautions"`
	All      []Named            `json:"all"` // every fault that is weighed
	Asked    *Suspect           `json:"asked,omitempty"`
}

// Named is a fault by its ID.
type Named struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// likely is where a suspect is worth naming.
const likely = 0.02

// enough is how likely what is opened holds the fault, so that nothing more is
// listed.
const enough = 0.96

// settledAt is how sure is called settled.
const settledAt = 0.9

func (s *search) cautions() []string {
	if s.m.doc.Lies == driveline.Vehicle {
		return []string{
			"On jack stands with all driven wheels free, engine off, key out; a passenger's foot is no chock.",
			"A sheared shaft lets it roll in gear: chock both ways before anything is turned.",
		}
	}
	return []string{"Lanyard and key out before a hand goes near the propeller.",
		"Turn the driveshaft only the engine's way: turning backward wrecks the impeller."}
}

// answer sums the hypotheses up by fault and by part.
func (s *search) answer() *Answer {
	a := &Answer{Suspects: []Suspect{}, Pairs: []Pair{}, Parts: map[string]float64{}, Others: []*Test{}, Withheld: []Withheld{}, Group: []string{}, Open: []Opening{}, Clashes: []string{},
		Normal: []string{}, Advice: []string{}, Drive: []string{}, Tow: []breaks.Towed{}, Cautions: s.cautions(),
		Sound: say.Round(s.hyps[0].p, 4)}
	by := s.byFault()
	for _, h := range s.hyps {
		if len(h.of) == 2 && h.p > likely {
			a.Pairs = append(a.Pairs, Pair{s.m.faults[h.of[0]].Name, s.m.faults[h.of[1]].Name, say.Round(h.p, 4)})
		}
	}
	order := make([]int, len(by))
	for i := range order {
		order[i] = i
		a.Parts[s.m.faults[i].Part] = 0
	}
	s.byPart(a.Parts)
	slices.SortStableFunc(order, func(x, y int) int { return cmpDown(by[x], by[y]) })
	for _, k := range order[:min(12, len(order))] {
		a.Suspects = append(a.Suspects, s.suspect(k, by[k]))
	}
	a.All = make([]Named, len(s.m.faults))
	for k, f := range s.m.faults {
		a.All[k] = Named{f.ID, f.Name}
		if f.ID == s.q.Why {
			x := s.suspect(k, by[k])
			a.Asked = &x
		}
	}
	s.clashes(a)
	return a
}

// byFault is the probability of each fault, alone or beside another.
func (s *search) byFault() []float64 {
	by := make([]float64, len(s.m.faults))
	for _, h := range s.hyps {
		for _, k := range h.of {
			by[k] += h.p
		}
	}
	return by
}

// byPart is the probability that something of a part is broken.
func (s *search) byPart(parts map[string]float64) {
	for _, h := range s.hyps {
		for i, k := range h.of {
			if part := s.m.faults[k].Part; i == 0 || part != s.m.faults[h.of[0]].Part {
				parts[part] += h.p
			}
		}
	}
	for id, p := range parts {
		parts[id] = say.Round(p, 4)
	}
}

// suspect is a fault with what speaks for and against it: evidence that it makes
// twice as likely as a sound unit does, or half as likely.
func (s *search) suspect(k int, p float64) Suspect {
	f := &s.m.faults[k]
	x := Suspect{ID: f.ID, Part: f.Part, Name: f.Name, Sort: f.Sort, Probability: say.Round(p, 4), For: []string{}, Against: []string{}, How: sorts[f.Sort].how, Next: sorts[f.Sort].next}
	best := 0.0
	for i, l := range s.hyps[k+1].like {
		best = 0
		for _, h := range s.hyps {
			if h.p > 0.001 || len(h.of) == 0 {
				best = math.Max(best, h.like[i])
			}
		}
		switch sound := s.hyps[0].like[i]; {
		case l > 2*sound:
			x.For = append(x.For, s.seen[i].said)
		case l < sound/2 || l < best/3 && best > 3*sound:
			x.Against = append(x.Against, s.seen[i].said)
		}
	}
	return x
}

// clashes are answers that contradict each other, and those that nothing
// likely explains.
func (s *search) clashes(a *Answer) {
	for i, e := range s.q.Evidence {
		for k := range i {
			if s.seen[k].view == s.seen[i].view {
				a.Clashes = append(a.Clashes, clash(s.q.Evidence[k], e, s.seen[k].said, s.seen[i].said)...)
			}
		}
	}
	told := s.contradict(a)
	for i := range s.q.Evidence {
		if s.seen[i].sign != nil || told[i] {
			continue
		}
		explained := false
		for _, h := range s.hyps {
			explained = explained || h.like[i] > 0.5 && h.p > 0.01
		}
		if !explained {
			a.Clashes = append(a.Clashes, "No likely suspect explains this: "+s.seen[i].said+". Look at it again.")
		}
	}
	normal := func(words string) {
		if !slices.Contains(a.Normal, words) {
			a.Normal = append(a.Normal, words)
		}
	}
	for i, e := range s.q.Evidence {
		if x := s.seen[i].sign; x != nil && x.Normal != "" && e.Says == Yes {
			normal(x.Words + ". " + x.Normal)
		}
		if s.joined(&e) {
			normal("If it was in a turn on pavement: " + say.Small(windsUp))
		}
	}
}

// joined is whether it was seen to bind on the road with two locked together.
func (s *search) joined(e *Evidence) bool {
	binds := slices.ContainsFunc(e.Seen, func(x Seen) bool { return x.Watch == breaks.TheVehicle && x.Does == breaks.Locked })
	if !binds {
		return false
	}
	for lever, value := range e.State.Select {
		if joins(lever, value) {
			return true
		}
	}
	return false
}

// contradict asks about two things that were seen, each of which something shows
// and nothing both: no single break and no two. It returns which they are.
func (s *search) contradict(a *Answer) map[int]bool {
	told := map[int]bool{}
	shows := func(h *hypothesis, i int) bool { return h.like[i] > 0.3 }
	for i := range s.q.Evidence {
		for k := range i {
			if s.seen[i].sign != nil || s.seen[k].sign != nil || s.seen[i].view == s.seen[k].view {
				continue
			}
			first, second, both := false, false, false
			for n := range s.hyps {
				h := &s.hyps[n]
				one, other := shows(h, k), shows(h, i)
				first, second, both = first || one, second || other, both || one && other
			}
			if first && second && !both {
				a.Contrary = true
				told[i], told[k] = true, true
				a.Clashes = append(a.Clashes,
					"These two don't go together, whatever is broken: "+s.seen[k].said+"; and: "+s.seen[i].said+". Which of them "+
						"is it? Try both again, and remove one.")
			}
		}
	}
	return told
}

// heard is how many things were really seen.
func (s *search) heard() int {
	n := 0
	for _, e := range s.q.Evidence {
		if e.Sign != "" && (e.Value != nil || e.Says != DontKnow) {
			n++
		}
		for _, x := range e.Seen {
			if x.Does != DontKnow {
				n++
			}
		}
	}
	return n
}

// sound is whether a unit with nothing broken shows all that was seen.
func (s *search) sound() bool {
	for i := range s.q.Evidence {
		if s.hyps[0].like[i] < 0.5 {
			return false
		}
	}
	return true
}

// part is the likeliest part, by name.
func (s *search) part(a *Answer) (string, float64) {
	best, name := -1.0, ""
	for _, p := range s.m.doc.Parts {
		if v := a.Parts[p.ID]; v > best {
			best, name = v, p.Called()
		}
	}
	return name, best
}

// opening lists what to open: of all orders the one that finds the fault in the
// fewest minutes takes what has the greatest share per minute first (Smith's
// rule).
func (s *search) opening() []Opening {
	var out []Opening
	by := s.byFault()
	order := make([]int, len(by))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(x, y int) int { return cmpDown(by[x], by[y]) })
	for _, k := range order {
		if by[k] < likely {
			break
		}
		f := &s.m.faults[k]
		st := sorts[f.Sort]
		what := st.open + " (" + say.Small(s.partName(f.Part)) + ")"
		i := slices.IndexFunc(out, func(o Opening) bool { return o.What == what })
		if i < 0 {
			out = append(out, Opening{What: what, Part: f.Part, Minutes: st.minutes, Finds: []string{}, Ready: []string{}})
			i = len(out) - 1
		}
		out[i].Share += by[k]
		out[i].Gears = out[i].Gears || f.Sort == "mesh" || f.Sort == "gears" || f.Sort == "set_up"
		out[i].Finds = append(out[i].Finds, f.Name)
		for _, r := range st.ready {
			if !slices.Contains(out[i].Ready, r) {
				out[i].Ready = append(out[i].Ready, r)
			}
		}
	}
	slices.SortStableFunc(out, func(x, y Opening) int { return cmpDown(x.Share/x.Minutes, y.Share/y.Minutes) })
	sum, most := 0.0, min(8, len(out))
	for i := range out {
		sum += out[i].Share
		out[i].Share = say.Round(math.Min(1, out[i].Share), 4)
		if sum > enough && i+1 < most {
			most = i + 1
		}
	}
	return out[:most]
}
