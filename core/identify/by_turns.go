package identify

import (
	"fmt"
	"math"
	"strconv"

	"zorvel/core/fault"
)

// byTurns turns the wheels on the vehicle and counts the drive shaft.
func byTurns() *technique {
	return &technique{
		method:  Turns,
		byHand:  true,
		turned:  true,
		resolve: func(r Reading, s Stage, _ *Space) (Reading, error) { return r.resolveTurns(s) },
		compile: func(c *compiled, sp *Space) {
			t := c.reading.Turns
			vm := 0.0
			for _, w := range []Wheel{t.Left, t.Right} {
				if w.Turns != 0 || !w.Seen {
					vm += sigmaWheel * sigmaWheel
				}
			}
			c.compileTurns(sp, t.Shaft, math.Abs(t.mean()), math.Sqrt(vm)/2)
			c.wheelModes(*t)
		},
		origin: func(c *compiled) []string {
			t := c.reading.Turns
			return append(t.Shaft.origin(), fmt.Sprintf("ratio = shaft turns ÷ ((left + right wheel turns) ÷ 2) = %s ÷ ((%s + %s) ÷ 2) = %s, %s",
				decimal(t.Shaft.reckoned(), 3), plain(t.Left.Turns), plain(t.Right.Turns), decimal(c.center,
					3), c.own.words()))
		},
		summary: func(r Reading) string {
			if r.Turns == nil {
				return "Turned"
			}
			return fmt.Sprintf("%s, %s; shaft %s", r.Turns.Left.say("Left"), r.Turns.Right.say("right"), r.Turns.Shaft.short())
		},
		again: func(Kind) string { return "Count again: both wheels, 4 turns, " + unseen },
		options: func(p *planner, by *technique, add func(Option, outcome)) {
			if p.atAxle() && !p.sit.Removed {
				p.turnOptions(by, sigmaWheel/math.Sqrt2, add)
			}
		},
		minutes: turnedMinutes,
		draw: func(w *world, o Option, r *Reading) bool {
			r.Turns = w.turned(o)
			return true
		},
	}
}

func (r Reading) resolveTurns(s Stage) (Reading, error) {
	if s.Kind != RingAndPinion && s.Kind != TwoStage {
		return r, fault.New("method", "two wheels are turned only at an axle; for this stage enter bench turns: output turns and input turns")
	}
	if r.Turns == nil {
		return r, fault.New("turns", "enter the turns of both wheels and of the shaft")
	}
	t := *r.Turns
	for _, w := range []struct {
		name string
		w    Wheel
	}{{"left", t.Left}, {"right", t.Right}} {
		if !(math.Abs(w.w.Turns) <= maxOutputTurns) {
			return r, fault.New("turns/"+w.name+"/turns", "wheel turns should be between -%d and %d", maxOutputTurns, maxOutputTurns)
		}
	}
	if m := t.mean(); math.Abs(m) < minOutputTurns {
		return r, fault.New("turns/left/turns",
			"together the wheels must turn: turn one while the other is held, or both the same way (turned opposite ways "+
				"they cancel out and the shaft stays still)")
	}
	shaft, err := t.Shaft.resolve("turns/shaft")
	if err != nil {
		return r, err
	}
	t.Shaft = shaft
	r.Turns = &t
	return r, nil
}

// mean is the carrier's turns: an open differential averages its sides.
func (t TurnsReading) mean() float64 { return (t.Left.Turns + t.Right.Turns) / 2 }

// wheelModes adds what the wheels may have done other than recorded.
func (c *compiled) wheelModes(t TurnsReading) {
	right := c.byRatio[0]
	least, most := t.sizes()
	assumed := !t.Left.Seen || !t.Right.Seen
	w := rateHeldUnseen
	if assumed {
		w = rateAssumedOther
	}
	other := right
	other.weight = w
	switch {
	case least < 0.05*most: // one wheel still: it may have followed
		other.cause, other.m = CauseWheelsTogether, most
	default: // both turned: one may have been held
		other.cause, other.m = CauseWheelHeld, most/2
	}
	c.byRatio = append(c.byRatio, other)
	if assumed {
		c.byRatio = append(c.byRatio, mode{cause: CauseWheelCrept, weight: rateAssumedCreep, form: fan, s: right.s, m: most})
	}
}

// inWords is a number of turns as people say it.
func inWords(s float64) string {
	whole, f := math.Modf(s)
	n := strconv.FormatFloat(whole, 'f', -1, 64)
	switch {
	case f < 0.03:
		return n
	case f < 0.17:
		return n + " and a bit"
	case f < 0.36:
		return n + " and a quarter"
	case f < 0.45:
		return "almost " + n + " and a half"
	case f < 0.55:
		return n + " and a half"
	case f < 0.64:
		return "a little over " + n + " and a half"
	case f < 0.83:
		return n + " and three quarters"
	case f < 0.97:
		return "just short of " + strconv.FormatFloat(whole+1, 'f', -1, 64)
	}
	return strconv.FormatFloat(whole+1, 'f', -1, 64)
}

func (w *world) turned(o Option) *TurnsReading {
	n := float64(o.OutputTurns)
	r := w.truth.r
	if w.chance(statedOtherUnit) {
		r = draw(w.rng, w.sp).r
	}
	left := n + sigmaWheel*w.scale*w.rng.NormFloat64()
	right := n + sigmaWheel*w.scale*w.rng.NormFloat64()
	if w.chance(statedHeldUnseen) {
		right = 0
	}
	s := r * (left + right) / 2
	rem := Remainder{By: o.By}
	sigma := sigmaEye
	if o.By == ByArc {
		rem.RimMM, rem.RimIs = typicalRim, Circumference
		sigma = sigmaArcMM / typicalRim
	}
	if w.chance(statedMisread) {
		sigma = sigmaMisread
	}
	if o.By == PastABit { // judged a little, then put into words
		sigma /= 2
	}
	s += sigma * w.scale * w.rng.NormFloat64()
	if s < 0 {
		s = 0.1
	}
	if o.By == PastABit {
		return &TurnsReading{Left: Wheel{n, true}, Right: Wheel{n, true}, Shaft: Shaft{Words: inWords(s)}}
	}
	whole := math.Floor(s)
	f := s - whole
	if o.By == ByArc {
		rem.ArcMM = f * typicalRim
		// An arc longer than the rim is refused, and then put right.
		if d := typicalRim / math.Pi; w.chance(statedDiameterMixup) && rem.ArcMM < d {
			rem.RimMM = d
		}
	} else {
		rem.Fraction = f
	}
	if w.chance(statedLostCount * lostGrowth(s)) {
		whole += float64(1 - 2*w.rng.IntN(2))
	}
	return &TurnsReading{Left: Wheel{n, true}, Right: Wheel{n, true}, Shaft: Shaft{Whole: int(max(whole, 0)), Remainder: rem}}
}
