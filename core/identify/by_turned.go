package identify

import (
	"fmt"
	"math"
)

// What turning both wheels at the vehicle and turning a removed part have in
// common: an input shaft whose turns are counted.

// shaftTurns is how far the shaft was turned in a turned reading.
func (c *compiled) shaftTurns() float64 {
	switch r := c.reading; {
	case r.Turns != nil:
		return r.Turns.Shaft.turns()
	case r.Bench != nil:
		return r.Bench.Shaft.turns()
	}
	return 0
}

// origin explains how far a shaft turned.
func (s Shaft) origin() []string {
	sign := "+"
	if s.Remainder.Short {
		sign = "−"
	}
	var out []string
	rem := math.Abs(s.Remainder.fraction())
	if s.Remainder.By == ByArc {
		q := s.Remainder
		if q.RimIs == Diameter {
			out = append(out, fmt.Sprintf("rim circumference = π × %s mm = %s "+
				"mm", plain(q.RimMM), decimal(q.circumference(), 1)))
		}
		out = append(out, fmt.Sprintf("remainder = arc ÷ circumference = %s mm ÷ %s mm = %s turn",
			plain(q.ArcMM), decimal(q.circumference(), 1), decimal(rem, 4)))
	}
	out = append(out, fmt.Sprintf("shaft turns = %d %s %s = %s (%s)",
		s.Whole, sign, decimal(rem, 3), decimal(s.turns(), 3), s.spread().words()))
	if e := s.Remainder.Eye; e != nil {
		out = append(out, fmt.Sprintf("your own eye, by %d cards of practice, reads %s turn too much on average: "+
			"shaft turns = %s",
			e.Cards, decimal(e.Bias, 3), decimal(s.reckoned(), 3)))
	}
	return out
}

// turnOptions offers output turns by the method, by eye and along the rim. wheel is
// the standard deviation of an output's turns.
func (p *planner) turnOptions(by *technique, wheel float64, add func(Option, outcome)) {
	if p.sit.NoTurns {
		return
	}
	finest := math.Inf(1)
	for _, c := range p.a.readings {
		if c.by.turned {
			finest = min(finest, c.sigma)
		}
	}
	for _, n := range p.turnCounts() {
		for _, rest := range []RemainderBy{ByEye, ByArc} {
			sig := sigmaEye
			if rest == ByArc {
				sig = sigmaArcMM / typicalRim
			}
			right := mode{m: float64(n), spread: even(sig), sigmaM: wheel}
			res := p.gaussOutcome(by, right, rateOtherUnit+rateHeldUnseen, lostRate(float64(n)*p.typical), 1)
			// Coarser than what was turned already: only to confirm.
			if sigma := math.Hypot(sig, p.typical*wheel) / float64(n); sigma >= finest && res.settles < 0.5 {
				continue
			}
			o := Option{Method: by.method, OutputTurns: n, By: rest}
			o.Minutes, o.Do = by.minutes(p, o), p.turnWords(by.method, n, rest)
			add(o, res)
		}
	}
}

// turningMinutes is what n output turns take with the remainder judged so.
func (p *planner) turningMinutes(n int, by RemainderBy) float64 {
	rest := MinutesEye
	if by == ByArc {
		rest = MinutesArc
	}
	return p.lift() + rest + handMinutes(float64(n), p.typical)
}

// turnCounts are the output turns that may be asked for at once.
func (p *planner) turnCounts() []int {
	counts := []int{1, 2, 4}
	if len(p.a.readings) > 0 { // nobody begins with a long count
		counts = append(counts, 6, mostTurns)
	}
	if p.sit.ManyTurns {
		counts = append(counts, 12, manyTurns)
	}
	return counts
}

// turnWords says how n output turns are counted at this stage.
func (p *planner) turnWords(method Method, n int, by RemainderBy) string {
	turns := fmt.Sprintf("%d turns", n)
	if n == 1 {
		turns = "1 turn"
	}
	how := "read the partial turn by eye"
	if by == ByArc {
		how = "measure the partial turn along the rim"
	}
	st := p.a.sp.Stage
	switch {
	case method == Turns:
		return fmt.Sprintf("turn both wheels %s together, count the driveshaft, %s", turns, how)
	case st.Kind == Gearcase:
		return fmt.Sprintf("in forward gear, turn the driveshaft the way the engine turns it until the propeller "+
			"shaft "+
			"has made %s, count the driveshaft, %s", turns, how)
	case st.Kind == Gearbox:
		gear := "gear " + st.Position
		if st.Position == "gear" {
			gear = "the gear that is asked"
		}
		return fmt.Sprintf("in %s, turn the input until the output has made %s, count the input, %s", gear, turns, how)
	case st.Kind == TransferCase && st.Position == "front":
		return fmt.Sprintf("with the front engaged, turn the front output %s, count the rear output, %s", turns, how)
	case st.Kind == TransferCase:
		return fmt.Sprintf("in %s range, turn the input until the rear output has made %s, count the input, "+
			"%s", st.Position, turns, how)
	}
	return fmt.Sprintf("turn %s %s, count the input, %s", st.Kind.output(), turns, how)
}

func turnedMinutes(p *planner, o Option) float64 { return p.turningMinutes(o.OutputTurns, o.By) }
