// Package practice hides a unit and lets a learner find out what is in it: he chocks,
// lifts, turns, reads, counts and decides on a drawn machine that behaves as the models of
// the benches say, and is scored by the same yardstick as a verdict at a real one. Drills
// train one skill each, for a minute or two. What went wrong comes back; levels open by
// mastery.
//
// A task is drawn from its kind, level and seed and nothing else, so a class can be given
// the same unit. What was done is a list of acts; Work plays them anew every time. The
// package keeps no state.
package practice

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/identify"
	"zorvel/core/say"
)

// Bounds of a question; the contract has the same.
const (
	MostActs  = 120
	MostSeed  = math.MaxUint32
	MostLevel = 5
)

// Task names a hidden unit.
type Task struct {
	Kind  string `json:"kind"`
	Level int    `json:"level"` // from 1
	Seed  uint32 `json:"seed"`
}

// Question is a task and what was done at it, in order.
type Question struct {
	Task Task  `json:"task"`
	Acts []Act `json:"acts"`
	Own  *Own  `json:"own,omitempty"` // a teacher's task, of the kind "own"
}

// Act is one thing that is done. Which fields it needs, its offer says.
type Act struct {
	Do    string            `json:"do"`
	On    string            `json:"on,omitempty"`    // a shaft, a side, a test
	Turns float64           `json:"turns,omitempty"` // how far it was turned; back is below zero
	Note  *identify.Reading `json:"note,omitempty"`  // what was written down
	// A decision: the answer, and how sure of it, in percent.
	Answer string `json:"answer,omitempty"`
	Sure   int    `json:"sure,omitempty"`
	Stacks *Piles `json:"stacks,omitempty"` // the shims of an assembly
}

// Takes is what an offer needs beside its name.
type Takes string

// What an offer needs.
const (
	TakesTurns  Takes = "turns"
	TakesNote   Takes = "note"
	TakesStacks Takes = "stacks"
	TakesAnswer Takes = "answer"
)

// Offer is a thing that can be done now.
type Offer struct {
	Do      string  `json:"do"`
	On      string  `json:"on,omitempty"`
	Group   string  `json:"group"`
	Label   string  `json:"label"`
	Minutes float64 `json:"minutes,omitempty"`
	Takes   Takes   `json:"takes,omitempty"`
	Part    string  `json:"part,omitempty"` // of the driveline, where it is done
	// Rates are how the shafts go round while this one is turned, by shaft, in turns for
	// each turn of it. Nothing moves where there are none.
	Rates []Rate `json:"rates,omitempty"`
}

// Rate is how far a shaft goes for each turn of the one that is turned, once its play is
// taken up.
type Rate struct {
	Shaft string  `json:"shaft"`
	Rate  float64 `json:"rate"`
	Play  float64 `json:"play,omitempty"` // turns of the shaft before it follows
}

// Done is an act with what was seen, and what was forgotten before it.
type Done struct {
	Words   string  `json:"words"`
	Saw     string  `json:"saw,omitempty"`
	Minutes float64 `json:"minutes"`
	Forgot  string  `json:"forgot,omitempty"`
}

// Shaft is a shaft or a wheel of the drawn machine.
type Shaft struct {
	ID     string  `json:"id"`
	Name   string  `json:"name"`
	At     float64 `json:"at"` // turns since it came in
	Marked bool    `json:"marked,omitempty"`
	Held   bool    `json:"held,omitempty"`
	Lifted bool    `json:"lifted,omitempty"`
}

// Gear is a gear that can be seen once the housing is open.
type Gear struct {
	Member string `json:"member"`
	Name   string `json:"name"`
	Teeth  int    `json:"teeth"`
	Worn   uint32 `json:"worn"`             // the seed of its dirt
	Marked bool   `json:"marked,omitempty"` // its start tooth
}

// Machine is what is drawn.
type Machine struct {
	Outputs []Shaft `json:"outputs"`
	Input   Shaft   `json:"input"`
	Chocked bool    `json:"chocked"`
	Stands  bool    `json:"stands"`
	Gears   []Gear  `json:"gears,omitempty"` // once the housing is open
	Mesh    *Mesh   `json:"mesh,omitempty"`  // of a set-up
}

// Choice is an answer that can be given.
type Choice struct {
	ID    string `json:"id"`
	Words string `json:"words"`
}

// Asked is what is to be decided. Without choices the answer is typed.
type Asked struct {
	Words   string   `json:"words"`
	Example string   `json:"example,omitempty"`
	Choices []Choice `json:"choices,omitempty"`
}

// Scene is the unit as the learner has it before him.
type Scene struct {
	Task    Task     `json:"task"`
	Title   string   `json:"title"`
	Story   string   `json:"story"`
	Minutes float64  `json:"minutes"`
	Offers  []Offer  `json:"offers"`
	Log     []Done   `json:"log"`
	Machine *Machine `json:"machine,omitempty"`
	// Driveline is what is drawn of a whole unit, as it is when nothing is broken.
	Driveline *driveline.Document `json:"driveline,omitempty"`
	Asked     Asked               `json:"asked"`
	Caution   string              `json:"caution"`
	Review    *Review             `json:"review,omitempty"` // once it is decided
}

// hidden is a drawn unit at which things are done: one file a kind.
type hidden interface {
	story() string
	caution() string
	offers() []Offer
	machine() *Machine
	driveline() *driveline.Document
	asked() Asked
	// do does what was offered. Errors are *fault.Error with paths within the act.
	do(a Act) (Done, error)
	// review judges the decision, the last act. It is asked once, at the end.
	review(a Act, done []Done) (*Review, error)
}

// decide is what ends a task.
const decide = "decide"

// Work does the acts one after the other and tells what is before the learner now.
// Faults are fault.Errors with paths within the question.
func Work(q Question) (*Scene, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	if len(q.Acts) > MostActs {
		return nil, fault.New("acts", "at most %d steps at one unit. Decide, or start over", MostActs)
	}
	u, title, err := q.unit()
	if err != nil {
		return nil, err
	}
	s := &Scene{Task: q.Task, Title: title, Log: []Done{}, Story: u.story(), Caution: u.caution(), Asked: u.asked()}
	for i, a := range q.Acts {
		if err := s.act(u, a, i == len(q.Acts)-1); err != nil {
			return nil, fault.Under(fmt.Sprintf("acts/%d", i), err)
		}
	}
	s.Machine, s.Driveline, s.Offers = u.machine(), u.driveline(), []Offer{}
	if s.Review == nil {
		s.Offers = append(u.offers(), Offer{Do: decide, Group: "decide", Label: "Decide", Takes: TakesAnswer})
	}
	return s, nil
}

// ownKind is the kind of a teacher's task.
const ownKind = "own"

// unit is the hidden unit of a question, and what its kind is called.
func (q *Question) unit() (hidden, string, error) {
	if q.Own != nil {
		if q.Task.Kind != ownKind {
			return nil, "", fault.New("task/kind", "a task of one's own is of the kind %s", ownKind)
		}
		u, err := q.Own.unit()
		if err != nil {
			return nil, "", fault.Under("own", err)
		}
		return u, q.Own.Title, nil
	}
	k, err := kindOf(q.Task)
	if err != nil {
		return nil, "", err
	}
	u, err := k.draw(q.Task)
	return u, k.title, err
}

// act does one act of a scene.
func (s *Scene) act(u hidden, a Act, last bool) error {
	if a.Do == decide {
		return s.decided(u, a, last)
	}
	i := slices.IndexFunc(u.offers(), func(o Offer) bool { return o.Do == a.Do && o.On == a.On })
	if i < 0 {
		return fault.New("do", "this can't be done now")
	}
	d, err := u.do(a)
	if err != nil {
		return err
	}
	d.Minutes = say.Round(d.Minutes, 2)
	s.Minutes = say.Round(s.Minutes+d.Minutes, 2)
	s.Log = append(s.Log, d)
	return nil
}

// decided ends the task.
func (s *Scene) decided(u hidden, a Act, last bool) error {
	if !last {
		return fault.New("do", "a decision ends the task. Start the unit over to do more")
	}
	if a.Answer == "" {
		return fault.New("answer", "what do you order? Give an answer first")
	}
	if a.Sure < 0 || a.Sure > 100 {
		return fault.New("sure", "how sure, from 0 to 100 percent")
	}
	if c := s.Asked.Choices; len(c) > 0 && !slices.ContainsFunc(c, func(c Choice) bool { return c.ID == a.Answer }) {
		return fault.New("answer", "choose one of the list")
	}
	r, err := u.review(a, s.Log)
	if err != nil {
		return err
	}
	r.Sure, r.Minutes = a.Sure, s.Minutes
	r.mark(forgotten(s.Log))
	s.Log = append(s.Log, Done{Words: fmt.Sprintf("Decided: %s, %d %% sure", r.Answer, a.Sure)})
	s.Review = r
	return nil
}

// forgotten counts the cautions that were missed, each once.
func forgotten(log []Done) int {
	said := map[string]bool{}
	for _, d := range log {
		if d.Forgot != "" {
			said[d.Forgot] = true
		}
	}
	return len(said)
}
