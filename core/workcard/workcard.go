// Package workcard holds the order of hand work: steps with what, with what,
// what to write in and to look at, each caution where it is. A card is data;
// what was checked off, by whom and when, is kept with the unit, and what was
// taken off comes back as the way of putting together.
package workcard

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// Step is one thing to do.
type Step struct {
	ID      string   `json:"id"`
	Do      string   `json:"do"`
	With    string   `json:"with,omitempty"`    // tools, and what is used up
	Figure  string   `json:"figure,omitempty"`  // what to write in: the manual's figure, a count
	Look    string   `json:"look,omitempty"`    // what to look at
	Caution string   `json:"caution,omitempty"` // what can hurt
	Bench   string   `json:"bench,omitempty"`   // where its reading goes, one of Benches
	Picture string   `json:"picture,omitempty"` // one of Pictures
	When    []string `json:"when,omitempty"`    // conditions, "!x" where x must not hold; all of them
	Hold    bool     `json:"hold,omitempty"`    // a second person looks before it goes on
	Gate    bool     `json:"gate,omitempty"`    // what is open on the unit comes before it
	Off     string   `json:"off,omitempty"`     // what comes off here
	Back    string   `json:"back,omitempty"`    // how it goes back, and what is forgotten
	Minutes float64  `json:"minutes,omitempty"`
	Parts   []string `json:"parts,omitempty"` // to have ready
}

// Condition is asked before the first step: only the steps that hold for this
// unit are shown.
type Condition struct {
	ID  string `json:"id"`
	Ask string `json:"ask"` // a question that is answered by yes or no
}

// Card is a job's steps in order.
type Card struct {
	ID         string      `json:"id"`
	Title      string      `json:"title"`
	For        []string    `json:"for,omitempty"` // kinds of part; all units if left out
	Refill     string      `json:"refill,omitempty"`
	Conditions []Condition `json:"conditions,omitempty"`
	Steps      []Step      `json:"steps"`
}

// Benches that a step can open.
var Benches = []string{"identify", "setup", "freeplay", "fits", "gearcase", "changegears", "speedometer", "trace"}

// Pictures that a step can show.
var Pictures = []string{"stands", "turns", "teeth", "cover", "dial", "pattern", "shims", "seal", "offset", "string", "tray", "breather"}

// Kinds of entry.
const (
	Checked = "check"
	Seen    = "second" // by another person, at a hold point
	Undone  = "undo"
	Back    = "back" // what came off at the step is on again
	Settled = "gate" // what was open is done, ordered, or not now and why
)

// Entry is something that was done at a card.
type Entry struct {
	Kind   string    `json:"kind"`
	Step   string    `json:"step"`             // of a gate: the item's ID
	Figure string    `json:"figure,omitempty"` // of a gate: done, ordered or not_now
	Note   string    `json:"note,omitempty"`   // with a part that comes off: its shims, which way round
	By     string    `json:"by"`
	At     time.Time `json:"at"`
}

// Answer is a condition's answer.
type Answer struct {
	Condition string `json:"condition"`
	Yes       bool   `json:"yes"`
}

// Run is a card that is being done.
type Run struct {
	Card    Card     `json:"card"`
	Version int      `json:"version"` // 0 for one that ships
	Part    string   `json:"part,omitempty"`
	Answers []Answer `json:"answers"`
	Entries []Entry  `json:"entries"`
}

// Open is something on the unit that should be done or ordered before it is
// closed.
type Open struct {
	ID   string `json:"id"`
	What string `json:"what"`
	Why  string `json:"why"`
}

// GateItem is one of them with what was said to it.
type GateItem struct {
	Open
	Answer string `json:"answer,omitempty"` // done, ordered or not_now
	Note   string `json:"note,omitempty"`
	By     string `json:"by,omitempty"`
}

// StepState is a step of the run.
type StepState struct {
	Step
	State  string     `json:"state"` // open, waiting (for the second pair of eyes) or done
	Noted  string     `json:"noted,omitempty"`
	Wrote  string     `json:"wrote,omitempty"` // what was written in
	By     string     `json:"by,omitempty"`
	At     *time.Time `json:"at,omitempty"`
	Second string     `json:"second,omitempty"`
}

// Way is a part on its way back.
type Way struct {
	Step  string `json:"step"` // at which it came off
	What  string `json:"what"`
	How   string `json:"how"`
	Noted string `json:"noted,omitempty"` // shims, which way round
	By    string `json:"by"`
	On    string `json:"on,omitempty"` // who put it back
}

// Sheet is a run as far as it is done.
type Sheet struct {
	Title   string      `json:"title"`
	Steps   []StepState `json:"steps"`
	Done    int         `json:"done"`
	Of      int         `json:"of"`
	Next    string      `json:"next,omitempty"` // ID of the first step that is not done
	Missing []string    `json:"missing"`        // what is still to do, to write in, to be seen
	Gate    []GateItem  `json:"gate"`
	Back    []Way       `json:"back"` // last off, first back
	Tools   []string    `json:"tools"`
	Parts   []string    `json:"parts"`
	Minutes float64     `json:"minutes"` // of the steps that are left
	Refill  string      `json:"refill,omitempty"`
	Ready   bool        `json:"ready"` // it can be closed
}

// Applies lists the steps that hold for the answers.
func (c Card) Applies(answers []Answer) []Step {
	yes := map[string]bool{}
	for _, a := range answers {
		yes[a.Condition] = a.Yes
	}
	var out []Step
	for _, s := range c.Steps {
		ok := true
		for _, w := range s.When {
			name, not := strings.CutPrefix(w, "!")
			ok = ok && yes[name] != not
		}
		if ok {
			out = append(out, s)
		}
	}
	return out
}

// Begin checks the answers of a run that is to be started.
func Begin(c Card, answers []Answer) error {
	var errs fault.Errors
	given := map[string]bool{}
	for i, a := range answers {
		at := fmt.Sprintf("answers/%d/condition", i)
		if !slices.ContainsFunc(c.Conditions, func(x Condition) bool { return x.ID == a.Condition }) {
			errs.Add(at, "the card does not ask this")
		} else if given[a.Condition] {
			errs.Add(at, "answered twice")
		}
		given[a.Condition] = true
	}
	for _, x := range c.Conditions {
		if !given[x.ID] {
			errs.Add("answers", "%s Answer by yes or no; only the steps that hold are shown.", x.Ask)
		}
	}
	return errs.Err()
}

// Sum brings a run together with what is open on its unit.
func Sum(r Run, open []Open) *Sheet {
	steps := r.Card.Applies(r.Answers)
	s := &Sheet{Steps: make([]StepState, len(steps)), Of: len(steps), Missing: []string{}, Gate: []GateItem{}, Back: []Way{}, Tools: []string{}, Parts: []string{}, Refill: r.Card.Refill}
	at := map[string]int{}
	for i, st := range steps {
		s.Steps[i], at[st.ID] = StepState{Step: st, State: "open"}, i
		for _, tool := range strings.Split(st.With, ", ") {
			if tool != "" && !slices.Contains(s.Tools, tool) {
				s.Tools = append(s.Tools, tool)
			}
		}
		for _, p := range st.Parts {
			if !slices.Contains(s.Parts, p) {
				s.Parts = append(s.Parts, p)
			}
		}
	}
	settled, on := map[string]Entry{}, map[int]string{}
	var off []int
	for _, e := range r.Entries {
		i, known := at[e.Step]
		switch {
		case e.Kind == Settled:
			settled[e.Step] = e
		case !known:
		case e.Kind == Checked:
			off = s.check(i, e, off)
		case e.Kind == Seen && s.Steps[i].State == "waiting":
			s.Steps[i].State, s.Steps[i].Second = "done", e.By
		case e.Kind == Back:
			on[i] = e.By
		case e.Kind == Undone:
			s.Steps[i] = StepState{Step: s.Steps[i].Step, State: "open"}
			off = slices.DeleteFunc(off, func(k int) bool { return k == i })
			delete(on, i)
		}
	}
	for _, k := range slices.Backward(off) {
		x := s.Steps[k]
		s.Back = append(s.Back, Way{Step: x.ID, What: x.Off, How: x.Back, Noted: x.Noted, By: x.By, On: on[k]})
	}
	for _, o := range open {
		e := settled[o.ID]
		s.Gate = append(s.Gate, GateItem{Open: o, Answer: e.Figure, Note: e.Note, By: e.By})
	}
	s.finish(r)
	return s
}

func (s *Sheet) check(i int, e Entry, off []int) []int {
	x := &s.Steps[i]
	if x.State == "open" && x.Off != "" {
		off = append(off, i)
	}
	when := e.At
	x.State, x.By, x.At, x.Wrote, x.Noted, x.Second = "done", e.By, &when, e.Figure, e.Note, ""
	if x.Hold {
		x.State = "waiting"
	}
	return off
}

func (s *Sheet) finish(r Run) {
	for _, x := range s.Steps {
		switch {
		case x.State == "open":
			s.Missing = append(s.Missing, x.Do)
			s.Minutes += x.Minutes
			s.Next = cmp.Or(s.Next, x.ID)
		case x.State == "waiting":
			s.Missing = append(s.Missing, "a second pair of eyes on: "+say.Small(x.Do))
			s.Next = cmp.Or(s.Next, x.ID)
		default:
			s.Done++
			if x.Figure != "" && strings.TrimSpace(x.Wrote) == "" {
				s.Missing = append(s.Missing, "write in: "+x.Figure+" ("+say.Small(x.Do)+")")
			}
		}
	}
	figures := len(s.Missing)
	for _, w := range s.Back {
		if w.On == "" {
			s.Missing = append(s.Missing, "back on: "+w.What)
		}
	}
	s.Title = fmt.Sprintf("%s: %d of %d steps", r.Card.Title, s.Done, s.Of)
	if s.Done == s.Of {
		s.Title = r.Card.Title + ": all steps done"
		if figures > 0 {
			s.Title += fmt.Sprintf(", %s not written in", say.Count(figures, "figure"))
		}
		if n := len(s.Missing) - figures; n > 0 {
			s.Title += fmt.Sprintf(", %s not back on", say.Count(n, "part"))
		}
	}
	s.Ready = s.Done == s.Of && len(s.Missing) == 0
}

// Take refuses an entry that does not belong: a step that the card does not
// have here, one that is done already, a second look by the same person, and a
// gate while something is open.
func Take(r Run, open []Open, e Entry) error {
	s := Sum(r, open)
	if e.Kind == Settled {
		return takeGate(s, e)
	}
	i := slices.IndexFunc(s.Steps, func(x StepState) bool { return x.ID == e.Step })
	if i < 0 {
		return fault.New("step", "the card has no such step for this unit")
	}
	x := s.Steps[i]
	switch e.Kind {
	case Checked:
		if x.State != "open" {
			return fault.New("step", "%s has checked it off already", cmp.Or(x.By, "someone"))
		}
		if x.Off != "" && strings.TrimSpace(e.Note) == "" {
			return fault.New("note", "note how the %s sat: which way round, which shims, or “as usual”; it is shown again on the way back", x.Off)
		}
		if x.Gate {
			return s.gate(i)
		}
	case Seen:
		if x.State != "waiting" {
			return fault.New("step", "nothing waits for a second look here")
		}
		if strings.EqualFold(strings.TrimSpace(x.By), strings.TrimSpace(e.By)) {
			return fault.New("step", "a second pair of eyes: %s did it, so somebody else looks", x.By)
		}
	case Back:
		return s.takeBack(e)
	case Undone:
		if x.State == "open" {
			return fault.New("step", "it is not checked off")
		}
	default:
		return fault.New("kind", "check, second, undo, back or gate")
	}
	return nil
}

// takeBack lets parts go on again in the reverse of the order in which they
// came off.
func (s *Sheet) takeBack(e Entry) error {
	if !slices.ContainsFunc(s.Back, func(w Way) bool { return w.Step == e.Step }) {
		return fault.New("step", "nothing came off at this step")
	}
	for _, w := range s.Back {
		switch {
		case w.Step == e.Step && w.On != "":
			return fault.New("step", "%s has put it back already", w.On)
		case w.Step == e.Step:
			return nil
		case w.On == "":
			return fault.New("step", "it came off before the %s, so that goes on first", w.What)
		}
	}
	return nil
}

// gate refuses to close while a step before it, or something on the unit, is
// open.
func (s *Sheet) gate(i int) error {
	var left []string
	for _, x := range s.Steps[:i] {
		if x.State != "done" {
			left = append(left, say.Small(x.Do))
		}
	}
	for _, g := range s.Gate {
		if g.Answer == "" {
			left = append(left, say.Small(g.What))
		}
	}
	if len(left) == 0 {
		return nil
	}
	more := ""
	if n := len(left); n > 4 {
		left, more = left[:4], fmt.Sprintf("; and %d more", n-4)
	}
	return fault.New("step", "Not closed yet. Still open: %s%s.", strings.Join(left, "; "), more)
}

func takeGate(s *Sheet, e Entry) error {
	i := slices.IndexFunc(s.Gate, func(g GateItem) bool { return g.ID == e.Step })
	if i < 0 {
		return fault.New("step", "nothing of that name is open")
	}
	switch e.Figure {
	case "done", "ordered":
	case "not_now":
		if strings.TrimSpace(e.Note) == "" {
			return fault.New("note", "say why it is left: whoever opens it next will ask")
		}
	default:
		return fault.New("figure", "done, ordered or not_now")
	}
	return nil
}
