package identify

import (
	"math"
	"sort"
)

// handMinutes is the time for n output turns by hand.
func handMinutes(n, r float64) float64 { return TurningMinutes(n * max(r, 2)) }

// seen reports whether the gears can be seen now: so told, or looked at last.
func (p *planner) seen() bool {
	if p.sit.CoverOff {
		return true
	}
	rs := p.a.readings
	if len(rs) == 0 {
		return false
	}
	return rs[len(rs)-1].by.open
}

// open and lift are the minutes until gears can be counted or wheels turned.
func (p *planner) open() float64 {
	if p.seen() {
		return 0
	}
	return OpeningMinutes(p.a.sp.Stage.Kind)
}

func (p *planner) lift() float64 {
	switch k := p.a.sp.Stage.Kind; {
	case p.sit.OnStands, p.sit.Removed:
		return 0
	case k == Gearcase, k == GearPair, k == ChainPair, k == Planetary:
		return MinutesReady
	}
	return MinutesStands
}

func (p *planner) openWords() string {
	if p.seen() {
		return ""
	}
	return "open the housing, "
}

// typicalRim is the circumference assumed when planning an arc, mm.
const typicalRim = 380.0

// gaussOutcome is what a reading with normal error tells: for each possible
// truth and error, what is left.
func (p *planner) gaussOutcome(by *technique, o mode, other, lost, step float64) outcome {
	res := p.outcome(by)
	ps := p.byRatio
	if len(ps) == 0 {
		return res
	}
	span := max(ps[len(ps)-1].r-ps[0].r, 0.5)
	floor := other / (o.m * span)
	right := 1 - other - lost
	ts := quantiles(ps)
	for _, truth := range ts {
		sd := planSpread * math.Sqrt(o.spread.below*o.spread.below+truth.r*truth.r*o.sigmaM*o.sigmaM)
		for _, z := range nodes {
			res.add(right*truth.share/float64(len(nodes)), p.afterTurn(o, truth.r*o.m+z*sd, right, lost, step, floor))
		}
	}
	return res
}

// planSpread is the standard deviation of the two-part hand error model in
// units of its narrow part.
const planSpread = 1.2

// afterTurn is what is left after observing s.
func (p *planner) afterTurn(o mode, s, right, lost, step, floor float64) after {
	ps := p.byRatio
	lo, hi := len(ps), -1
	apply := func(w, at float64) {
		reach := 5 * math.Hypot(o.spread.below, at/o.m*o.sigmaM)
		from := sort.Search(len(ps), func(i int) bool { return ps[i].r*o.m >= at-reach })
		for i := from; i < len(ps) && ps[i].r*o.m <= at+reach; i++ {
			r := ps[i].r
			v := planSpread * planSpread * (o.spread.below*o.spread.below + r*r*o.sigmaM*o.sigmaM)
			d := at - r*o.m
			p.scratch[i] += ps[i].mass * w * math.Exp(-d*d/(2*v)) / (math.Sqrt(v) * sqrt2Pi)
			lo, hi = min(lo, i), max(hi, i)
		}
	}
	apply(right, s)
	if lost > 0 {
		apply(lost/2, s+step)
		apply(lost/2, s-step)
	}
	// Outside the windows every particle keeps its mass times the floor.
	p.left.reset(floor)
	for i := lo; i <= hi; i++ {
		if d := p.scratch[i]; d != 0 {
			p.left.total -= ps[i].mass * floor
			p.left.add(d+ps[i].mass*floor, ps[i].r)
			p.scratch[i] = 0
		}
	}
	if p.leadAt < lo || p.leadAt > hi {
		p.left.add(ps[p.leadAt].mass*floor, ps[p.leadAt].r)
		p.left.total -= ps[p.leadAt].mass * floor
	}
	return p.left.after()
}
