package setup

import (
	"zorvel/core/fault"
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
