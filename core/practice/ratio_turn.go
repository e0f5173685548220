package practice

import (
	"fmt"
	"math"

	"zorvel/core/fault"
	"zorvel/core/identify"
)

// What is done before turning, in minutes.
const (
	minutesChock   = 0.5
	minutesLift    = 2.5 // a side
	minutesStands  = 1.5 // a side
	minutesLever   = 0.25
	minutesMark    = 0.5
	minutesHold    = 0.5
	minutesLeast   = 0.2 // however little is turned
	minutesNote    = 0.1
	rimMM          = 380.0
	mostTurnsAtOne = 60.0
)

// moves is how the shafts go round for each turn of what is turned, or why nothing moves.
func (u *ratioUnit) moves(on string) (place, string) {
	if !u.wheels() {
		r := u.ratio
		switch {
		case u.boat() && !u.ready.engaged:
			return place{input: 1}, "" // neutral: the propeller shaft stays
		case !u.boat() && !u.ready.engaged:
			r = 1 // still in high range
		}
		return place{right: 1 / r, input: 1}, ""
	}
	if on == both {
		return u.bothTurn()
	}
	return u.oneTurns(on)
}

// bothTurn turns both wheels the same way.
func (u *ratioUnit) bothTurn() (place, string) {
	switch {
	case !u.ready.up[left] || !u.ready.up[right]:
		return place{}, "It won't turn: a wheel is on the ground."
	case !u.ready.brakeOff:
		return place{}, "It won't turn: the parking brake holds."
	case !u.ready.neutral:
		return place{}, "It won't turn: the gearbox is in gear and the engine holds the driveshaft."
	case u.stuck != "":
		return place{}, fmt.Sprintf("The %s wheel won't turn: its brake is seized.", u.stuck)
	case u.ready.held != "":
		return place{}, fmt.Sprintf("It won't turn: the %s wheel is held.", u.ready.held)
	}
	return place{left: 1, right: 1, input: u.ratio}, ""
}

// oneTurns turns one wheel. Through an open differential the carrier makes the mean of
// both wheels; a limited slip takes the other wheel along.
func (u *ratioUnit) oneTurns(on string) (place, string) {
	other := right
	if on == right {
		other = left
	}
	fixed := !u.ready.up[other] || u.ready.held == other || u.stuck == other
	follows := 0.0
	switch {
	case !u.ready.up[on]:
		return place{}, "It won't turn: that wheel is on the ground."
	case !u.ready.brakeOff:
		return place{}, "It won't turn: the parking brake holds."
	case u.stuck == on:
		return place{}, fmt.Sprintf("The %s wheel won't turn: its brake is seized.", on)
	case u.ready.held == on:
		return place{}, "It won't turn: that wheel is held. Let go of it first."
	case u.diff == limitedSlip && (fixed || !u.ready.neutral):
		return place{}, "It takes a long bar to move it at all: the wheels don't turn apart."
	case !u.ready.neutral && fixed:
		return place{}, "It won't turn: the gearbox is in gear and the other wheel can't turn."
	case !u.ready.neutral:
		follows = -1 // the flange is held: the other wheel runs backward
	case u.diff == limitedSlip:
		follows = 1
	case !fixed:
		follows = u.creep
	}
	p := place{left: 1, right: follows, input: u.ratio * (1 + follows) / 2}
	if on == right {
		p.left, p.right = p.right, p.left
	}
	return p, ""
}

// rates are what the picture shows while a shaft is turned.
func (u *ratioUnit) rates(on string) []Rate {
	p, why := u.moves(on)
	if why != "" {
		return nil
	}
	lag := 0.0
	if u.slack && !u.driven(on) {
		lag = u.play
	}
	if !u.wheels() {
		return []Rate{{Shaft: output, Rate: p.right, Play: u.lagging(on)}, {Shaft: input, Rate: p.input}}
	}
	return []Rate{{Shaft: left, Rate: p.left}, {Shaft: right, Rate: p.right}, {Shaft: input, Rate: p.input, Play: lag}}
}

// driven is whether the input itself is turned.
func (u *ratioUnit) driven(on string) bool { return on == input }

// lagging is the play at an output whose input is turned, in its own turns.
func (u *ratioUnit) lagging(on string) float64 {
	if u.slack && u.driven(on) {
		return u.play / u.ratio
	}
	return 0
}

// turn turns a wheel, both, or the input.
func (u *ratioUnit) turn(a Act) (Done, error) {
	if a.Turns == 0 || math.Abs(a.Turns) > mostTurnsAtOne {
		return Done{}, fault.New("turns", "turn it, at most %.0f turns at once", mostTurnsAtOne)
	}
	d := Done{Words: "Turned the " + u.name(a.On)} // how far, the learner counts
	if _, why := u.moves(a.On); why != "" {
		d.Words, d.Saw, d.Minutes = "Tried to turn the "+u.name(a.On), why, minutesLeast
		return d, nil
	}
	was := u.at
	for _, r := range u.rates(a.On) {
		moved := r.Rate * a.Turns
		if r.Play > 0 && moved != 0 {
			moved = math.Copysign(math.Max(0, math.Abs(moved)-r.Play), moved)
		}
		switch r.Shaft {
		case left:
			u.at.left += moved
		case right, output:
			u.at.right += moved
		case input:
			u.at.input += moved
		}
	}
	u.slack = false
	d.Minutes = math.Max(minutesLeast, identify.TurningMinutes(math.Abs(u.at.input-was.input)))
	d.Forgot = u.forgotTurning()
	d.Saw = u.sawTurning(a.On, u.at.left-was.left, u.at.right-was.right)
	return d, nil
}

func (u *ratioUnit) name(on string) string {
	switch {
	case on == both:
		return "wheels together"
	case on == input && u.boat():
		return "driveshaft"
	case on == input:
		return "input"
	}
	return on + " wheel"
}

// sawTurning says what the other wheel did; the learner counts the rest himself.
func (u *ratioUnit) sawTurning(on string, l, r float64) string {
	if !u.wheels() || on == both {
		return ""
	}
	other, moved := right, r
	if on == right {
		other, moved = left, l
	}
	switch {
	case math.Abs(moved) < 0.01:
		return fmt.Sprintf("The %s wheel stayed.", other)
	case math.Signbit(moved) == math.Signbit(l+r-moved):
		return fmt.Sprintf("The %s wheel went the same way.", other)
	}
	return fmt.Sprintf("The %s wheel went the other way.", other)
}

func (u *ratioUnit) forgotTurning() string {
	switch {
	case u.boat() && !u.ready.keyOut:
		return "Key and lanyard were still in: an engine that fires takes the hand at the propeller."
	case u.wheels() && !u.ready.stands:
		return "On the jack alone: jacks sink and tip. Set it on jack stands before anything is turned."
	}
	return ""
}
