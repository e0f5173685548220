package setup

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/typed"
)

// Question asks one or several things of a set-up at once.
type Question struct {
	Axle   *Axle   `json:"axle,omitempty"`
	Swap   *Swap   `json:"swap,omitempty"`
	Rigid  *Rigid  `json:"rigid,omitempty"`
	Turned *Turned `json:"turned,omitempty"`
	Side   *Side   `json:"side_gears,omitempty"`
	Slip   *Slip   `json:"limited_slip,omitempty"`
	Runout *Runout `json:"gear_runout,omitempty"`
	Sheet  *Pasted `json:"sheet,omitempty"`
}

// Answer has what was asked.
type Answer struct {
	Axle        *Verdict         `json:"axle,omitempty"`
	Swap        *Swapped         `json:"swap,omitempty"`
	Conventions []Convention     `json:"conventions"`
	Rigid       *Stacked         `json:"rigid,omitempty"`
	Turned      *TurnedOver      `json:"turned,omitempty"`
	Side        *SideGearsAnswer `json:"side_gears,omitempty"`
	Slip        *SlipAnswer      `json:"limited_slip,omitempty"`
	Runout      *RunoutAnswer    `json:"gear_runout,omitempty"`
	Sheet       *Sheet           `json:"sheet,omitempty"`
}

// Work answers everything that is asked. Faults have paths within the question.
func Work(q Question) (*Answer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	a := &Answer{Conventions: Conventions()}
	asked := false
	var errs fault.Errors
	add := func(err error) {
		switch e := err.(type) {
		case fault.Errors:
			errs = append(errs, e...)
		case *fault.Error:
			errs = append(errs, e)
		}
	}
	part(&asked, q.Axle, &a.Axle, "axle", Judge, add)
	part(&asked, q.Swap, &a.Swap, "swap", SwapPinion, add)
	part(&asked, q.Rigid, &a.Rigid, "rigid", RigidStack, add)
	part(&asked, q.Turned, &a.Turned, "turned", TurnCarrier, add)
	part(&asked, q.Side, &a.Side, "side_gears", SideGears, add)
	part(&asked, q.Slip, &a.Slip, "limited_slip", LimitedSlip, add)
	part(&asked, q.Runout, &a.Runout, "gear_runout", GearRunout, add)
	part(&asked, q.Sheet, &a.Sheet, "sheet", ReadSheet, add)
	if !asked {
		return nil, fault.New("axle", "ask something: axle, swap, rigid, turned, side_gears, limited_slip, gear_runout or sheet")
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	return a, nil
}

func part[Q, A any](asked *bool, q *Q, a **A, at string, work func(Q) (*A, error), add func(error)) {
	if q == nil {
		return
	}
	*asked = true
	out, err := work(*q)
	if err != nil {
		add(fault.Under(at, err))
		return
	}
	*a = out
}

// Title says in a line what the answer came to, for a record.
func (a *Answer) Title() string {
	switch {
	case a.Axle != nil:
		return fmt.Sprintf("Set-up, trial %d: %s", len(a.Axle.Results), a.Axle.short())
	case a.Swap != nil:
		return "Pinion swapped: " + a.Swap.Sentence
	case a.Rigid != nil:
		return "Rigid stack: " + a.Rigid.Sentence
	case a.Turned != nil:
		return "Carrier turned: " + a.Turned.Sentence
	case a.Side != nil:
		words := make([]string, len(a.Side.Sides))
		for i, x := range a.Side.Sides {
			words[i] = x.Sentence
		}
		return "Side gears. " + strings.Join(words, " ")
	case a.Slip != nil:
		return "Limited slip: " + a.Slip.Sentence
	case a.Runout != nil:
		return "Gear on its bearing: " + a.Runout.Sentence
	case a.Sheet != nil:
		return "Maker's sheet: " + say.Count(len(a.Sheet.Figures), "figure") + " read"
	}
	return ""
}

// short is the sentence without its stacks.
func (v *Verdict) short() string {
	if v.State != StateMove || v.Next == nil {
		return v.Sentence
	}
	q := Axle{Unit: map[bool]string{true: typed.Inches}[v.inches]}
	var parts []string
	if m := v.Next.PinionMM; m != 0 {
		parts = append(parts, q.say("pinion %s mm %s", q.n(math.Abs(m)), map[bool]string{true: "in", false: "out"}[m > 0]))
	}
	if m := v.Next.RingMM; m != 0 {
		parts = append(parts, q.say("ring %s mm %s", q.n(math.Abs(m)), away(m)))
	}
	if len(v.Next.Preload) > 0 {
		parts = append(parts, "preload to be set")
	}
	next := "next: " + strings.Join(parts, ", ")
	if b := v.Results[len(v.Results)-1].Backlash; b != nil {
		return q.say("backlash %s mm; ", q.n(b.MeanMM)) + next
	}
	return next
}
