// Package findfault says which part is broken: every part of a driveline is
// broken in the model, what would then be seen is solved, and what was seen is
// weighed against it by Bayes' rule. The next test is the one that tells most
// per minute.
package findfault

import (
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Bounds of a question; the contract has the same.
const (
	MostEvidence = 30
	MostBreaks   = 160
	MostPriors   = 30
)

// DontKnow is an answer too: it counts for nothing.
const DontKnow = "unknown"

// Question is a driveline with what was seen of it.
type Question struct {
	Driveline driveline.Document `json:"driveline"`
	Evidence  []Evidence         `json:"evidence"`
	Priors    map[string]float64 `json:"priors,omitempty"` // by sort, in place of what is typical
	OnStands  bool               `json:"on_stands,omitempty"`
	Why       string             `json:"why,omitempty"` // a break: why is it (not) the one?
}

// Evidence is one thing that was seen in one state: a road test with the wheels
// on the ground, or a test by hand with the wheels lifted.
type Evidence struct {
	State driveline.State `json:"state"`
	Seen  []Seen          `json:"seen"`
	Words string          `json:"words,omitempty"` // as the complaint or the test put it
}

// Seen is what one shaft, or the vehicle, did.
type Seen struct {
	Watch string `json:"watch"`
	Does  string `json:"does"` // follows, opposite, stays, locked, slower or unknown
}

// How often what is seen or said is wrong: typical.
const (
	handError = 0.04
	roadError = 0.06
	// Nobody takes forward for backward from the seat.
	backwardError = 0.001
)

// Priors are how often sorts of parts break against each other: typical, until
// a shop's own closed jobs say otherwise.
func Priors() map[string]float64 {
	return map[string]float64{"stub": 6, "shaft": 4, "lock": 4, "clutch": 4, "dogs": 2.5, "brake": 3, "hub": 4, "spiders": 2.5, "mesh": 1.2, "planets": 0.8, "gears": 0.6, "turned": 0.6}
}

// nextToDie is what goes next where it is driven on, by sort.
var nextToDie = map[string]string{
	"stub": "nothing at once; a loose end can tear the seal and the tube", "shaft": "a loose shaft flails: it is tied up or taken off before anything moves", "lock": "stubs, where it is forced",
	"clutch": "the disc, then the flywheel's face", "dogs": "the dogs of the mate; both are renewed", "brake": "the drum or disc, and the tire; heat", "hub": "nothing at once",
	"spiders": "ring and pinion, from the pieces", "mesh": "the other gears, from the pieces", "planets": "the ring gear", "gears": "tires, then the center or a joint", "turned": "nothing, but it drives the wrong way",
}

// Suspect is a break with how likely it is.
type Suspect struct {
	ID          string   `json:"id"`
	Part        string   `json:"part"`
	Name        string   `json:"name"`
	Sort        string   `json:"sort"`
	Probability float64  `json:"probability"`
	For         []string `json:"for"`     // what was seen that it explains
	Against     []string `json:"against"` // what it would have shown otherwise
	Next        string   `json:"next"`    // what dies next if it is driven on
}

// Pair is two breaks together, where one explains too little.
type Pair struct {
	A           string  `json:"a"`
	B           string  `json:"b"`
	Probability float64 `json:"probability"`
}

// Outcome is one thing that a test may show.
type Outcome struct {
	Seen        []Seen   `json:"seen"`
	Words       string   `json:"words"`
	Probability float64  `json:"probability"`
	Suspects    []string `json:"suspects"` // names of those who foretell it, the likeliest first
}

// Test is a test with what each suspect foretells.
type Test struct {
	Title    string          `json:"title"`
	Setup    []string        `json:"setup"`
	State    driveline.State `json:"state"`
	Minutes  float64         `json:"minutes"`
	Bits     float64         `json:"bits"` // expected information
	Outcomes []Outcome       `json:"outcomes"`
	Road     bool            `json:"road"`
	Cautions []string        `json:"cautions"`
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
	Group    []string           `json:"group"`   // that no test from outside tells apart
	Open     []string           `json:"open"`    // what to open first, in order
	Clashes  []string           `json:"clashes"` // answers that no suspect explains
	Drive    []string           `json:"drive"`   // may it be driven or towed
	Cautions []string           `json:"cautions"`
	All      []Named            `json:"all"` // every break that is weighed
	Asked    *Suspect           `json:"asked,omitempty"`
}

// Named is a break by its ID.
type Named struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

var cautions = []string{
	"On stands with all driven wheels free, engine off, key out; a passenger's foot is no chock.",
	"A sheared shaft lets it roll in gear: chock both ways before anything is turned.",
}

// Find weighs the evidence. Faults are fault.Errors with paths within the
// question.
func Find(q Question) (*Answer, error) {
	s, err := newSearch(&q)
	if err != nil {
		return nil, err
	}
	if err := s.weigh(); err != nil {
		return nil, err
	}
	a := s.answer()
	if err := s.next(a); err != nil {
		return nil, err
	}
	s.conclude(a)
	return a, nil
}

// search is the work of one question.
type search struct {
	q       *Question
	breaks  []driveline.Break
	hyps    []hypothesis
	seeings []*driveline.Seeing // of each piece of evidence
	said    []string            // each piece in words
	memo    map[string][]string // what a hypothesis shows in a state
}

// hypothesis is no break, one, or two.
type hypothesis struct {
	of    []int // breaks
	prior float64
	p     float64
	like  []float64 // of each piece of evidence
}

func newSearch(q *Question) (*search, error) {
	if err := q.Driveline.Check(); err != nil {
		return nil, fault.Under("driveline", err)
	}
	var errs fault.Errors
	if len(q.Evidence) > MostEvidence {
		errs.Add("evidence", "at most %d things that were seen", MostEvidence)
	}
	if len(q.Priors) > MostPriors {
		errs.Add("priors", "at most %d sorts", MostPriors)
	}
	typical := Priors()
	for sort, w := range q.Priors {
		if typical[sort] == 0 || !(w >= 0 && w <= 1e6) {
			errs.Add("priors/"+say.Clip(sort, 40), "a sort of break with how often it is met, from 0 to 1,000,000")
		}
	}
	s := &search{q: q, breaks: driveline.Breaks(&q.Driveline), memo: map[string][]string{}}
	if len(s.breaks) == 0 {
		errs.Add("driveline", "nothing in it can break in a way that is seen from outside")
	}
	if len(s.breaks) > MostBreaks {
		errs.Add("driveline", "it can break in %d ways, and at most %d are weighed at once: ask about a part of it", len(s.breaks), MostBreaks)
		return nil, errs.Err()
	}
	for i := range q.Evidence {
		s.read(i, &errs)
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	if q.Why != "" && !slices.ContainsFunc(s.breaks, func(b driveline.Break) bool { return b.ID == q.Why }) {
		return nil, fault.New("why", "this driveline has no such break")
	}
	total := 0.0
	weight := func(b driveline.Break) float64 {
		if w, ok := q.Priors[b.Sort]; ok {
			return w
		}
		return typical[b.Sort]
	}
	for _, b := range s.breaks {
		total += weight(b)
	}
	if total == 0 {
		return nil, fault.New("priors", "at least one sort of break above 0")
	}
	s.hyps = append(s.hyps, hypothesis{prior: 0.03})
	for i, b := range s.breaks {
		s.hyps = append(s.hyps, hypothesis{of: []int{i}, prior: 0.97 * weight(b) / total})
	}
	return s, nil
}

// read checks one piece of evidence and prepares its state.
func (s *search) read(i int, errs *fault.Errors) {
	e := &s.q.Evidence[i]
	at := fmt.Sprintf("evidence/%d/", i)
	see, err := driveline.See(&s.q.Driveline, e.State)
	if err != nil {
		*errs = append(*errs, asErrors(fault.Under(strings.TrimSuffix(at, "/"), err))...)
		s.seeings = append(s.seeings, nil)
		return
	}
	if len(e.Seen) == 0 || len(e.Seen) > 20 {
		errs.Add(at+"seen", "from 1 to 20 shafts that were watched")
	}
	watched := see.Watched()
	var words []string
	for k, x := range e.Seen {
		if !slices.Contains(watched, x.Watch) {
			errs.Add(fmt.Sprintf("%sseen/%d/watch", at, k), "in this state one watches %s", say.Clip(strings.Join(watched, ", "), 300))
			continue
		}
		if doing[x.Does] == "" {
			errs.Add(fmt.Sprintf("%sseen/%d/does", at, k), "follows, opposite, stays, locked, slower or unknown")
			continue
		}
		words = append(words, see.Name(x.Watch)+" "+doing[x.Does])
	}
	s.seeings = append(s.seeings, see)
	text := strings.Join(words, ", ")
	if e.Words != "" {
		text = e.Words + ": " + text
	}
	s.said = append(s.said, say.Clip(text, 300))
}

var doing = map[string]string{driveline.Follows: "turns as it should", driveline.Opposite: "turns the wrong way", driveline.Stays: "does not turn", driveline.Locked: "is locked", driveline.Slower: "turns too slowly", DontKnow: "was not seen"}

func asErrors(err error) fault.Errors {
	switch e := err.(type) {
	case fault.Errors:
		return e
	case *fault.Error:
		return fault.Errors{e}
	}
	return fault.Errors{fault.New("evidence", "%s", err)}
}

// shows is what a hypothesis lets the watched shafts do.
func (s *search) shows(see *driveline.Seeing, state string, h hypothesis, watch []string) ([]string, error) {
	key := fmt.Sprint(state, h.of, watch)
	if out, ok := s.memo[key]; ok {
		return out, nil
	}
	breaks := make([]driveline.Break, len(h.of))
	for i, k := range h.of {
		breaks[i] = s.breaks[k]
	}
	out, err := see.Broken(breaks, watch)
	if err == nil {
		s.memo[key] = out
	}
	return out, err
}

// likelihood of what was seen: each watched shaft by itself, right or, as often
// as people are wrong, any of the others.
func likelihood(seen []Seen, shows []string, wrong float64) float64 {
	l := 1.0
	for i, x := range seen {
		switch {
		case x.Does == DontKnow:
		case same(x.Does, shows[i]):
			l *= 1 - wrong
		case x.Does == driveline.Opposite && x.Watch == driveline.TheVehicle:
			l *= backwardError
		default:
			l *= wrong / 3
		}
	}
	return l
}

// same takes "turns too slowly" for turning where nobody measured it.
func same(said, shown string) bool {
	return said == shown || said == driveline.Follows && shown == driveline.Slower
}

// weigh runs Bayes' rule over singles, then over pairs of those that explain
// something.
func (s *search) weigh() error {
	if err := s.condition(0); err != nil {
		return err
	}
	order := make([]int, 0, len(s.hyps))
	for i, h := range s.hyps {
		if len(h.of) == 1 {
			order = append(order, i)
		}
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmpDown(s.hyps[a].p, s.hyps[b].p) })
	order = order[:min(6, len(order))]
	first := len(s.hyps)
	for i, a := range order {
		for _, b := range order[i+1:] {
			// Two at once: as often as one after the other is not noticed.
			s.hyps = append(s.hyps, hypothesis{of: []int{s.hyps[a].of[0], s.hyps[b].of[0]}, prior: 0.3 * s.hyps[a].prior * s.hyps[b].prior})
		}
	}
	return s.condition(first)
}

func cmpDown(a, b float64) int {
	switch {
	case a > b:
		return -1
	case a < b:
		return 1
	}
	return 0
}

// condition takes the evidence in, a piece at a time, for the hypotheses from
// one on; those that have become a millionth of the best aren't asked any
// more.
func (s *search) condition(from int) error {
	for i := from; i < len(s.hyps); i++ {
		s.hyps[i].p, s.hyps[i].like = s.hyps[i].prior, make([]float64, len(s.q.Evidence))
	}
	for k, e := range s.q.Evidence {
		watch := make([]string, len(e.Seen))
		for j, x := range e.Seen {
			watch[j] = x.Watch
		}
		wrong, best := wrongOf(watch), 0.0
		for i := range s.hyps {
			best = math.Max(best, s.hyps[i].p)
		}
		for i := from; i < len(s.hyps); i++ {
			h := &s.hyps[i]
			if h.p < 1e-6*best && h.p < 1e-6*h.prior {
				h.like[k] = wrong / 3
				h.p *= h.like[k]
				continue
			}
			shows, err := s.shows(s.seeings[k], fmt.Sprint("evidence ", k), *h, watch)
			if err != nil {
				return err
			}
			h.like[k] = likelihood(e.Seen, shows, wrong)
			h.p *= h.like[k]
		}
	}
	sum := 0.0
	for _, h := range s.hyps {
		sum += h.p
	}
	if sum <= 0 || math.IsNaN(sum) {
		return fault.New("evidence", "nothing explains all of this; take one answer back")
	}
	if from == 0 {
		return nil // the pairs come first
	}
	for i := range s.hyps {
		s.hyps[i].p /= sum
	}
	return nil
}

func wrongOf(watch []string) float64 {
	if slices.Contains(watch, driveline.TheVehicle) {
		return roadError
	}
	return handError
}

// answer sums the hypotheses up by break and by part.
func (s *search) answer() *Answer {
	a := &Answer{Suspects: []Suspect{}, Pairs: []Pair{}, Parts: map[string]float64{}, Group: []string{}, Open: []string{}, Clashes: []string{}, Drive: []string{}, Cautions: cautions, Sound: say.Round(s.hyps[0].p, 4)}
	by := make([]float64, len(s.breaks))
	for _, h := range s.hyps {
		for _, k := range h.of {
			by[k] += h.p
		}
		if len(h.of) == 2 && h.p > 0.02 {
			a.Pairs = append(a.Pairs, Pair{s.breaks[h.of[0]].Name, s.breaks[h.of[1]].Name, say.Round(h.p, 4)})
		}
	}
	order := make([]int, len(s.breaks))
	for i := range order {
		order[i] = i
		a.Parts[s.breaks[i].Part] = say.Round(a.Parts[s.breaks[i].Part]+by[i], 4)
	}
	slices.SortStableFunc(order, func(x, y int) int { return cmpDown(by[x], by[y]) })
	for _, k := range order[:min(12, len(order))] {
		a.Suspects = append(a.Suspects, s.suspect(k, by[k]))
	}
	a.All = make([]Named, len(s.breaks))
	for k, b := range s.breaks {
		a.All[k] = Named{b.ID, b.Name}
		if b.ID == s.q.Why {
			x := s.suspect(k, by[k])
			a.Asked = &x
		}
	}
	for i, e := range s.q.Evidence {
		for k := range i {
			a.Clashes = append(a.Clashes, clash(s.q.Evidence[k], e, s.said[k], s.said[i])...)
		}
	}
	for i := range s.q.Evidence {
		explained := false
		for _, h := range s.hyps {
			explained = explained || h.like[i] > 0.5 && h.p > 0.01
		}
		if !explained {
			a.Clashes = append(a.Clashes, "No likely suspect explains this: "+s.said[i]+". Look at it again.")
		}
	}
	return a
}

// suspect is a break with what speaks for and against it.
func (s *search) suspect(k int, p float64) Suspect {
	b := s.breaks[k]
	x := Suspect{ID: b.ID, Part: b.Part, Name: b.Name, Sort: b.Sort, Probability: say.Round(p, 4), For: []string{}, Against: []string{}, Next: nextToDie[b.Sort]}
	for i, l := range s.hyps[k+1].like {
		if l > 0.5 && s.hyps[0].like[i] < 0.5 {
			x.For = append(x.For, s.said[i])
		} else if l < 0.5 {
			x.Against = append(x.Against, s.said[i])
		}
	}
	return x
}

// clash is two answers about one shaft in one state that differ.
func clash(a, b Evidence, saidA, saidB string) []string {
	if !reflect.DeepEqual(a.State, b.State) {
		return nil
	}
	for _, x := range a.Seen {
		for _, y := range b.Seen {
			if x.Watch == y.Watch && x.Does != y.Does && x.Does != DontKnow && y.Does != DontKnow {
				return []string{"In one and the same state: " + saidA + "; and: " + saidB + ". Both are kept; try it once more."}
			}
		}
	}
	return nil
}

// conclude says the one sentence.
func (s *search) conclude(a *Answer) {
	top := a.Suspects[0]
	percent := func(p float64) string { return say.Trim(math.Floor(1000*p)/10, 1) + " %" }
	seen := 0
	for _, e := range s.q.Evidence {
		for _, x := range e.Seen {
			if x.Does != DontKnow {
				seen++
			}
		}
	}
	switch {
	case seen == 0:
		a.Sentence = "Nothing was seen yet: say what it does."
	case a.Sound > 0.5:
		a.Sentence = fmt.Sprintf("What was seen is what a sound driveline does (%s sure): the fault lies elsewhere, or was not there while it was tried.", percent(a.Sound))
	case top.Probability >= 0.9:
		a.Settled = true
		a.Sentence = fmt.Sprintf("%s: %s sure.", say.Capital(top.Name), percent(top.Probability))
	case a.Next == nil && len(a.Group) > 1:
		a.Sentence = fmt.Sprintf("One of %d that no test from outside tells apart: %s.", len(a.Group), strings.Join(a.Group, "; "))
	default:
		a.Sentence = fmt.Sprintf("Likeliest: %s (%s).", top.Name, percent(top.Probability))
	}
	if a.Settled || len(a.Group) > 1 {
		for _, x := range a.Suspects {
			if x.Probability > 0.02 {
				a.Open = append(a.Open, opening[x.Sort]+": "+x.Name)
			}
		}
	}
	if seen > 0 {
		a.Drive = append(a.Drive, "Driven on, next to go: "+top.Next+".", "Towing: what turns on towed wheels and what pumps no oil is the maker's to say; wheels that drive are lifted, or their shaft is off.")
	}
}

// opening is what is opened to see a sort of break.
var opening = map[string]string{"stub": "Draw the half shaft", "shaft": "Look along the shaft, then the spline", "lock": "Switch, line, fork; then the dogs", "clutch": "Look through the bell housing", "dogs": "Cable and fork first; then the case",
	"brake": "Feel the hubs after a drive, side against side", "hub": "Propeller off", "spiders": "Open the cover", "mesh": "Drain and look at the magnet, then open", "planets": "Open the case", "gears": "Count at both ends", "turned": "Look which way the ring sits"}
