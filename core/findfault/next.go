package findfault

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// Minutes are typical of a shop; they order the tests and touch no verdict.
const (
	handMinutes = 3.0
	liftMinutes = 8.0
	roadMinutes = 12.0
	// leastBits is where another test from outside isn't worth its while.
	leastBits = 0.05
	mostTests = 60
	mostLive  = 24
	mostFull  = 8
)

// candidate is a test that could be made.
type candidate struct {
	state driveline.State
	setup []string
	title string
	road  bool
}

// next finds the test with the most expected information per minute.
func (s *search) next(a *Answer) error {
	live := s.live()
	if len(live) < 2 || a.Suspects[0].Probability >= 0.9 {
		return nil
	}
	// A first look with the likeliest few; those that tell most are worked out
	// with all.
	type looked struct {
		c    candidate
		rate float64
	}
	var list []looked
	for _, c := range s.candidates() {
		t, err := s.try(c, live[:min(6, len(live))])
		if err != nil {
			return err
		}
		if t != nil {
			list = append(list, looked{c, t.Bits / t.Minutes})
		}
	}
	slices.SortStableFunc(list, func(x, y looked) int { return cmpDown(x.rate, y.rate) })
	var best *Test
	for k, l := range list {
		if k >= mostFull && (best != nil || l.rate == 0 && k >= 3*mostFull) {
			break
		}
		t, err := s.try(l.c, live)
		if err != nil {
			return err
		}
		if t != nil && t.Bits >= leastBits && (best == nil || t.Bits/t.Minutes > best.Bits/best.Minutes+1e-9) {
			best = t
		}
	}
	if best == nil {
		for _, x := range a.Suspects {
			if x.Probability > 0.02 {
				a.Group = append(a.Group, x.Name)
			}
		}
		return nil
	}
	a.Next = best
	return nil
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

// try works out what each hypothesis would show.
func (s *search) try(c candidate, live []int) (*Test, error) {
	see, err := driveline.See(&s.q.Driveline, c.state)
	if err != nil {
		return nil, nil // a position that its levers don't allow
	}
	watch := see.Watched()
	if len(watch) == 0 {
		return nil, nil
	}
	key := c.title + strings.Join(c.setup, ",")
	type group struct {
		p     float64
		hyps  []int
		shows []string
	}
	groups := map[string]*group{}
	var order []string
	total := 0.0
	for _, i := range live {
		shows, err := s.shows(see, key, s.hyps[i], watch)
		if err != nil {
			return nil, err
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
	t := &Test{Title: c.title, Setup: c.setup, State: c.state, Road: c.road, Minutes: handMinutes, Outcomes: []Outcome{}, Cautions: []string{}}
	wrong := handError
	switch {
	case c.road:
		t.Minutes, wrong = roadMinutes, roadError
		t.Cautions = append(t.Cautions, "On a closed yard, walking pace, nobody beside it; not if anything knocks.")
	case !s.q.OnStands:
		t.Minutes += liftMinutes
		t.Cautions = append(t.Cautions, "Stands on rated points, chocks where a wheel stays down; never under it on a jack alone.")
	}
	// What all foretell alike is not worth a word.
	differs := make([]bool, len(watch))
	for i := range watch {
		for _, k := range order {
			differs[i] = differs[i] || len(order) == 1 || groups[k].shows[i] != groups[order[0]].shows[i]
		}
	}
	for _, k := range order {
		g := groups[k]
		p := g.p / total
		t.Bits -= p * math.Log2(p)
		o := Outcome{Probability: say.Round(p, 4), Suspects: []string{}, Seen: []Seen{}}
		byDoing := map[string][]string{}
		for i, w := range watch {
			o.Seen = append(o.Seen, Seen{w, g.shows[i]})
			if differs[i] {
				byDoing[g.shows[i]] = append(byDoing[g.shows[i]], see.Name(w))
			}
		}
		var words []string
		for _, does := range []string{driveline.Follows, driveline.Slower, driveline.Opposite, driveline.Stays, driveline.Locked} {
			if names := byDoing[does]; len(names) > 0 {
				words = append(words, strings.Join(names, " and ")+" "+doings(does, len(names)))
			}
		}
		o.Words = strings.Join(words, "; ")
		for _, i := range g.hyps[:min(4, len(g.hyps))] {
			o.Suspects = append(o.Suspects, s.name(s.hyps[i]))
		}
		t.Outcomes = append(t.Outcomes, o)
	}
	slices.SortStableFunc(t.Outcomes, func(x, y Outcome) int { return cmpDown(x.Probability, y.Probability) })
	t.Bits = say.Round(t.Bits*(1-2*wrong), 3)
	return t, nil
}

// doings is what one or several do.
func doings(does string, n int) string {
	if n == 1 {
		return doing[does]
	}
	return map[string]string{driveline.Follows: "turn as they should", driveline.Slower: "turn too slowly", driveline.Opposite: "turn the wrong way", driveline.Stays: "do not turn", driveline.Locked: "are locked"}[does]
}

func (s *search) name(h hypothesis) string {
	if len(h.of) == 0 {
		return "nothing of these"
	}
	words := make([]string, len(h.of))
	for i, k := range h.of {
		words[i] = s.breaks[k].Name
	}
	return strings.Join(words, ", and ")
}

// candidates lists tests by hand with the wheels lifted, every flange and
// wheel turned in neutral, in a gear and with each lock, and road tests in
// each position of each lever.
func (s *search) candidates() []candidate {
	d := &s.q.Driveline
	info, err := driveline.Run(d, driveline.State{}, driveline.Want{})
	if err != nil {
		return nil
	}
	lift, neutral := map[string]string{}, map[string]string{}
	wheels := 0
	for _, p := range d.Parts {
		if p.Kind == "wheel" {
			lift[p.ID], wheels = "lifted", wheels+1
		}
	}
	type lever struct{ id, value, words string }
	var levers []lever
	for _, l := range info.Selectors {
		for i, o := range l.Options {
			if o.Value == "N" && strings.HasSuffix(l.ID, "gearbox") {
				neutral[l.ID] = "N"
			}
			if i > 0 || l.Value != o.Value {
				levers = append(levers, lever{l.ID, o.Value, say.Small(l.Name) + ": " + o.Words})
			}
		}
	}
	var out []candidate
	add := func(title string, road bool, setup []string, st driveline.State) {
		if len(out) < mostTests {
			out = append(out, candidate{st, setup, title, road})
		}
	}
	up := []string{"all wheels off the ground, on stands"}
	if d.Lies != driveline.Vehicle {
		up = []string{"propeller free to turn, lanyard off"}
	}
	turn := &exact.Figure{Number: exact.Int(1)}
	for _, sh := range info.Shafts {
		p := slices.IndexFunc(d.Parts, func(x driveline.Part) bool { return x.ID == sh.Part })
		if p < 0 || !byHand(d.Parts[p].Kind) {
			continue
		}
		in := &driveline.Input{Shaft: sh.ID, Turns: *turn}
		title := "Turn the " + sh.Name + " by hand"
		add(title, false, slices.Concat(up, []string{"neutral, brake off"}), driveline.State{Select: neutral, Wheels: lift, Input: in})
		add(title, false, slices.Concat(up, []string{"in first gear, engine off"}), driveline.State{Wheels: lift, Input: in})
		for _, l := range levers {
			if strings.HasSuffix(l.id, "gearbox") {
				continue
			}
			set := maps.Clone(neutral)
			set[l.id] = l.value
			add(title, false, slices.Concat(up, []string{"neutral, brake off", l.words}), driveline.State{Select: set, Wheels: lift, Input: in})
		}
	}
	if wheels > 0 {
		add("Drive off", true, []string{"as it stands, first gear"}, driveline.State{})
		for _, l := range levers {
			if l.value != "N" {
				add("Drive off", true, []string{l.words}, driveline.State{Select: map[string]string{l.id: l.value}})
			}
		}
	} else {
		add("Let the engine turn it", true, []string{"as it stands"}, driveline.State{})
		for _, l := range levers {
			if l.value != "N" {
				add("Let the engine turn it", true, []string{l.words}, driveline.State{Select: map[string]string{l.id: l.value}})
			}
		}
	}
	return out
}

func byHand(kind string) bool {
	return kind == "shaft" || kind == "wheel" || kind == "propeller"
}

// Complaint is what people say, with what it means for the model.
type Complaint struct {
	ID       string     `json:"id"`
	Words    string     `json:"words"`
	Evidence []Evidence `json:"evidence"`
}

// Complaints lists those that fit a driveline: it has the levers for them.
func Complaints(d *driveline.Document) ([]Complaint, error) {
	if err := d.Check(); err != nil {
		return nil, err
	}
	info, err := driveline.Run(d, driveline.State{}, driveline.Want{})
	if err != nil {
		return nil, err
	}
	var out []Complaint
	plain := driveline.State{}
	see, err := driveline.See(d, plain)
	if err != nil {
		return nil, err
	}
	watch := see.Watched()
	of := func(st driveline.State, does string) Evidence {
		e := Evidence{State: st}
		for _, w := range watch {
			e.Seen = append(e.Seen, Seen{w, does})
		}
		return e
	}
	add := func(id, words string, list ...Evidence) {
		for i := range list {
			list[i].Words = words
		}
		out = append(out, Complaint{id, words, list})
	}
	add("no_drive", "No drive in first gear", of(plain, driveline.Stays))
	add("backward", "Drives the wrong way", of(plain, driveline.Opposite))
	add("locked", "It can't be moved at all", of(plain, driveline.Locked))
	add("drives", "Drives in first gear", of(plain, driveline.Follows))
	for _, l := range info.Selectors {
		for i, o := range l.Options {
			if o.Value == "N" || i == 0 && l.Value == o.Value {
				continue
			}
			st := driveline.State{Select: map[string]string{l.ID: o.Value}}
			for _, n := range o.Needs {
				st.Select[n.Selector] = n.Value
			}
			words := say.Small(l.Name) + " at " + o.Words
			name := strings.ReplaceAll(l.ID+"_"+o.Value, ".", "_")
			if _, err := driveline.See(d, st); err != nil {
				continue
			}
			add("only_"+name, fmt.Sprintf("Drives only with %s", words), of(plain, driveline.Stays), of(st, driveline.Follows))
			add("not_"+name, fmt.Sprintf("Does not drive with %s", words), of(st, driveline.Stays))
			add("binds_"+name, fmt.Sprintf("Winds up or locks with %s", words), of(st, driveline.Locked))
		}
	}
	return out, nil
}
