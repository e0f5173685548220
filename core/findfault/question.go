package findfault

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
	"zorvel/core/driveline/play"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Bounds of a question; the contract has the same.
const (
	MostEvidence = 40
	MostFaults   = 300
	MostGiven    = 20
	MostPriors   = 80
)

// Answers to a sign. DontKnow is one too: it counts for nothing.
const (
	Yes      = "yes"
	No       = "no"
	DontKnow = "unknown"
)

// Question is a driveline with what was seen of it.
type Question struct {
	Driveline driveline.Document `json:"driveline"`
	Evidence  []Evidence         `json:"evidence"`
	Priors    map[string]float64 `json:"priors,omitempty"` // by sort, in place of what is typical
	OnStands  bool               `json:"on_stands,omitempty"`
	Why       string             `json:"why,omitempty"` // a fault: why is it (not) the one?
	// Given are the tests that can be made here: the best of them comes next, and
	// no other. None is all.
	Given []Given `json:"given,omitempty"`
}

// Given is a test that can be made: a state in which shafts or the vehicle are
// watched, or a sign that is looked for.
type Given struct {
	State driveline.State `json:"state,omitzero"`
	Sign  string          `json:"sign,omitempty"`
	Part  string          `json:"part,omitempty"` // of the sign
}

// Evidence is one thing that was seen: what shafts or the vehicle did in one
// state (a road test, or a test by hand with the wheels lifted), or a sign.
type Evidence struct {
	State driveline.State `json:"state,omitzero"`
	Seen  []Seen          `json:"seen,omitempty"`
	Sign  string          `json:"sign,omitempty"`
	Part  string          `json:"part,omitempty"`  // of the sign
	Says  string          `json:"says,omitempty"`  // of the sign: yes, no or unknown
	Value *float64        `json:"value,omitempty"` // or as measured, in the sign's unit
	// Complaint is what it was brought in for, not what was looked for.
	Complaint bool   `json:"complaint,omitempty"`
	Words     string `json:"words,omitempty"` // as the complaint or the test put it
}

// Seen is what one shaft, or the vehicle, did.
type Seen struct {
	Watch string `json:"watch"`
	Does  string `json:"does"` // follows, opposite, stays, locked, slower, faster or unknown
}

// How often what is seen or said is wrong: typical.
const (
	handError = 0.04
	roadError = 0.06
	// Nobody takes forward for backward from the seat.
	backwardError = 0.001
)

// Model is a driveline with everything that can be wrong with it. It remembers
// what was solved, so that a second question costs little; it is not safe for
// use by several goroutines at once.
type Model struct {
	doc    driveline.Document
	faults []Fault
	signs  []SignOf
	views  map[string]*view
	tests  []candidate
}

// view is one state, and what each set of breaks shows in it.
type view struct {
	see   *breaks.Seeing
	watch []string
	shows map[[2]int][]string
}

// NewModel lists what can be wrong with a driveline. Faults are fault.Errors
// with paths within the question.
func NewModel(d driveline.Document) (*Model, error) {
	if err := d.Check(); err != nil {
		return nil, fault.Under("driveline", err)
	}
	m := &Model{doc: d, views: map[string]*view{}}
	m.faults = Faults(&m.doc)
	m.signs = placed(&m.doc)
	if len(m.faults) == 0 {
		return nil, fault.New("driveline", "nothing in it can break in a way that is seen from outside")
	}
	if len(m.faults) > MostFaults {
		return nil, fault.New("driveline", "it can break in %d ways, and at most %d are weighed at once: ask about a part of it", len(m.faults), MostFaults)
	}
	return m, nil
}

// view prepares a state, once.
func (m *Model) view(st driveline.State) (*view, error) {
	key, err := json.Marshal(st)
	if err != nil {
		return nil, fault.New("state", "%s", err)
	}
	if v, ok := m.views[string(key)]; ok {
		return v, nil
	}
	see, err := breaks.See(&m.doc, st)
	if err != nil {
		return nil, err
	}
	v := &view{see: see, watch: see.Watched(), shows: map[[2]int][]string{}}
	m.views[string(key)] = v
	return v, nil
}

// shows is what one or two faults let the watched shafts do; none is -1.
func (m *Model) shows(v *view, of []int) ([]string, error) {
	key := [2]int{-1, -1}
	dead := false
	var broken []breaks.Break
	for i, k := range of {
		f := &m.faults[k]
		dead = dead || f.deadSpeedometer
		if len(f.does) > 0 || f.deadSpeedometer {
			key[i] = k
		}
		broken = append(broken, f.does...)
	}
	if out, ok := v.shows[key]; ok {
		return out, nil
	}
	out, err := v.see.Broken(broken, v.watch)
	if err != nil {
		return nil, err
	}
	if i := slices.Index(v.watch, breaks.Speedometer); dead && i >= 0 {
		out[i] = breaks.Stays
	}
	v.shows[key] = out
	return out, nil
}

// sign is a sign of this unit.
func (m *Model) sign(id, part string) *SignOf {
	for i := range m.signs {
		if m.signs[i].ID == id && m.signs[i].Part == part {
			return &m.signs[i]
		}
	}
	return nil
}

// read checks one piece of evidence and prepares it.
func (s *search) read(i int, errs *fault.Errors) {
	e := &s.q.Evidence[i]
	at := fmt.Sprintf("evidence/%d/", i)
	got := observed{}
	defer func() { s.seen = append(s.seen, got) }()
	if e.Sign != "" {
		got = s.readSign(e, at, errs)
		return
	}
	if e.Part != "" || e.Says != "" || e.Value != nil || e.Complaint {
		errs.Add(at+"sign", "which sign is meant?")
		return
	}
	v, err := s.m.view(e.State)
	if err != nil {
		*errs = append(*errs, asErrors(fault.Under(strings.TrimSuffix(at, "/"), err))...)
		return
	}
	if len(e.Seen) == 0 || len(e.Seen) > 20 {
		errs.Add(at+"seen", "from 1 to 20 shafts that were watched")
	}
	got.view, got.wrong = v, handError
	var words []string
	for k, x := range e.Seen {
		n := slices.Index(v.watch, x.Watch)
		if n < 0 {
			errs.Add(fmt.Sprintf("%sseen/%d/watch", at, k), "in this state one watches %s", say.Clip(strings.Join(v.watch, ", "), 300))
			continue
		}
		if doing[x.Does] == "" {
			errs.Add(fmt.Sprintf("%sseen/%d/does", at, k), "follows, opposite, stays, locked, slower, faster or unknown")
			continue
		}
		if x.Watch == breaks.TheVehicle {
			got.wrong = roadError
		}
		got.at = append(got.at, n)
		words = append(words, v.see.Name(x.Watch)+" "+does(x.Watch, x.Does))
	}
	got.said = say.Capital(say.Clip(together(e.Words, strings.Join(words, ", ")), 300))
}

// readSign checks a sign that was looked for.
func (s *search) readSign(e *Evidence, at string, errs *fault.Errors) observed {
	if len(e.Seen) > 0 || !stateless(e.State) {
		errs.Add(at+"sign", "enter a sign by itself: what shafts do goes in as another finding")
	}
	x := s.m.sign(e.Sign, e.Part)
	if x == nil {
		if slices.ContainsFunc(s.m.signs, func(o SignOf) bool { return o.ID == e.Sign }) {
			errs.Add(at+"part", "at which part? One of %s", strings.Join(s.m.placesOf(e.Sign), ", "))
		} else {
			errs.Add(at+"sign", "this unit has no such sign")
		}
		return observed{}
	}
	placed := *x
	got := observed{sign: &placed}
	switch {
	case e.Value != nil && e.Says != "":
		errs.Add(at+"value", "measured, or said: one of the two")
	case e.Value != nil:
		if x.Unit == "" {
			errs.Add(at+"value", "there is nothing to measure: yes, no or unknown")
		} else if !(math.Abs(*e.Value) <= 500) {
			errs.Add(at+"value", "from −500 to 500 %s", x.Unit)
		} else if err := s.m.usualPlay(&placed); err != nil {
			errs.Add(at+"value", "%s", err)
		}
		got.said = say.Clip(together(e.Words, x.Words+": "+say.Trim(*e.Value, 1)+" "+x.Unit), 300)
	case e.Says == Yes, e.Says == No, e.Says == DontKnow:
		got.said = say.Clip(x.Words+": "+map[string]string{Yes: "yes", No: "no", DontKnow: "not known"}[e.Says], 300)
	default:
		errs.Add(at+"says", "yes, no or unknown")
	}
	return got
}

// Protocol says each piece of evidence in words, in order; what can't be read is
// said as it was put.
func Protocol(q *Question) []string {
	m, err := NewModel(q.Driveline)
	if err == nil {
		return m.protocol(q.Evidence)
	}
	out := make([]string, len(q.Evidence))
	for i := range q.Evidence {
		out[i] = q.Evidence[i].Words
	}
	return out
}

func (m *Model) protocol(evidence []Evidence) []string {
	out := make([]string, len(evidence))
	for i := range evidence {
		out[i] = evidence[i].Words
		var errs fault.Errors
		s := &search{m: m, q: &Question{Evidence: evidence[i : i+1]}}
		if s.read(0, &errs); len(errs) == 0 {
			out[i] = s.seen[0].said
		}
	}
	return out
}

func stateless(st driveline.State) bool {
	raw, err := json.Marshal(st)
	return err == nil && string(raw) == "{}"
}

func (m *Model) placesOf(sign string) []string {
	var out []string
	for _, x := range m.signs {
		if x.ID == sign {
			out = append(out, x.Part)
		}
	}
	return out
}

// usualPlay puts in what play is usual at a shaft, and what is too much.
func (m *Model) usualPlay(x *SignOf) error {
	if x.ID != "play" {
		return nil
	}
	a, err := play.Work(play.Question{Driveline: m.doc, State: driveline.State{Select: m.doc.Neutral()},
		Measured: []play.Rocked{{At: x.Part + ".shaft"}}})
	if err != nil {
		return err
	}
	r := a.Measured[0]
	if !r.Bounded {
		return fmt.Errorf("this shaft has no bounded play with the wheels on the ground: feel it at the next one")
	}
	x.plain = [2]float64{r.Usual, math.Max(1, r.Spread/2)}
	x.there = [2]float64{3 * r.Usual, math.Max(2, r.Usual)}
	return nil
}

var doing = map[string]string{breaks.Follows: "turns as it should", breaks.Opposite: "turns the wrong way",
	breaks.Stays: "does not turn", breaks.Locked: "is locked", breaks.Slower: "turns too slowly",
	breaks.Faster: "turns too fast", DontKnow: "was not seen"}

func asErrors(err error) fault.Errors {
	switch e := err.(type) {
	case fault.Errors:
		return e
	case *fault.Error:
		return fault.Errors{e}
	}
	return fault.Errors{fault.New("evidence", "%s", err)}
}
