package identify

import (
	"math"
	"slices"
	"sort"
)

// particle is a group of builds that the goal doesn't tell apart.
type particle struct {
	r     float64
	mass  float64
	teeth [4]int16
	con   uint8
	label int32
}

// nodes are the midpoints of five equally likely parts of a normal spread.
var nodes = [5]float64{-1.2816, -0.5244, 0, 0.5244, 1.2816}

// buildParticles are the likeliest builds, renormalized.
func (p *planner) buildParticles() []particle {
	idx := p.a.top(maxParticles)
	sort.Ints(idx)
	out := make([]particle, 0, len(idx))
	sum := 0.0
	for _, i := range idx {
		h := &p.a.sp.hyps[i]
		out = append(out, particle{h.r, p.a.wary[i], h.teeth, h.con, h.label})
		sum += p.a.wary[i]
	}
	p.covered = sum
	for i := range out {
		out[i].mass /= sum
	}
	return out
}

func (p *planner) labelParticles() []particle {
	ls := slices.Clone(p.a.labels)
	if len(ls) > maxParticles {
		slices.SortStableFunc(ls, func(x, y labelMass) int { return compareDown(x.wary, y.wary) })
		ls = ls[:maxParticles]
		slices.SortStableFunc(ls, func(x, y labelMass) int { return x.first - y.first })
	}
	out := make([]particle, 0, len(ls))
	sum := 0.0
	for _, l := range ls {
		out = append(out, particle{r: l.center, mass: l.wary, label: l.label})
		sum += l.wary
	}
	for i := range out {
		out[i].mass /= sum
	}
	return out
}

// truth is a particle that could be true, with its share of the sample.
type truth struct {
	particle
	share float64
}

// quantiles picks particles evenly through the posterior mass: a small
// deterministic sample of what could be true. A heavy particle that is picked
// several times stands once, with the sum of its shares.
func quantiles(ps []particle) []truth {
	out := make([]truth, 0, truths)
	acc, k := 0.0, 0
	for _, q := range ps {
		acc += q.mass
		n := k
		for k < truths && (float64(k)+0.5)/truths <= acc {
			k++
		}
		if k > n {
			out = append(out, truth{q, float64(k - n)})
		}
	}
	for i := range out {
		out[i].share /= float64(k)
	}
	return out
}

// after is what is left once a result is seen: the largest mass, and how far
// from it the nearest ratio lies that still counts.
type after struct{ lead, gap float64 }

// spread collects masses, in any scale and by rising ratio, into a result.
type spread struct {
	total float64
	w, r  []float64
}

func (s *spread) reset(total float64) { s.total, s.w, s.r = total, s.w[:0], s.r[:0] }

func (s *spread) add(w, r float64) {
	s.total += w
	s.w, s.r = append(s.w, w), append(s.r, r)
}

// after sums up. Rivals below half the error that settling allows are left out.
func (s *spread) after() after {
	if s.total <= 0 || len(s.w) == 0 {
		return after{}
	}
	at := 0
	for i, w := range s.w {
		if w > s.w[at] {
			at = i
		}
	}
	least := (1 - SettledAt) / 2 * s.total
	gap := math.Inf(1)
	for i := at - 1; i >= 0; i-- {
		if s.w[i] > least {
			gap = s.r[at] - s.r[i]
			break
		}
	}
	for i := at + 1; i < len(s.w); i++ {
		if s.w[i] > least {
			gap = min(gap, s.r[i]-s.r[at])
			break
		}
	}
	return after{s.w[at] / s.total, gap}
}

// outcome sums what a measurement is expected to leave.
type outcome struct {
	p                            *planner
	lift, open                   float64 // minutes still to spend before turning or counting afterward
	settles, wrong, rest, weight float64
}

// outcome begins an empty sum for a measurement by the method.
func (p *planner) outcome(by *technique) outcome {
	o := outcome{p: p, lift: p.lift(), open: p.open()}
	if by.turned {
		o.lift = 0
	}
	if by.open {
		o.open = 0
	}
	return o
}

// add records one possible result.
func (o *outcome) add(w float64, a after) {
	o.weight += w
	o.wrong += w * (1 - a.lead)
	if a.lead >= SettledAt {
		o.settles += w
		return
	}
	o.rest += w * o.minutesToSettle(a)
}

// blunder records the share of results that mislead: no nearer than before,
// and one more measurement to find out.
func (o *outcome) blunder() {
	now := o.p.now
	w := max(0, 1-o.weight)
	o.wrong += w * (1 - now.lead)
	o.rest += w * (o.minutesToSettle(now) + anotherMinutes)
}

// minutesToSettle is the cost of telling the leading mass from its rival. A
// normal reading with spread σ is expected to shift the log odds by gap²/2σ²;
// N output turns divide σ by N. The housing is opened where that is cheaper.
func (o *outcome) minutesToSettle(a after) float64 {
	need := math.Log(SettledAt / (1 - SettledAt) * max(1-a.lead, 1e-9) / max(a.lead, 1e-9))
	count := o.open + minutesCount
	if o.p.sit.NoTurns || need <= 0 {
		return anotherMinutes + count
	}
	turning := math.Inf(1)
	if a.gap > 0 {
		r := o.p.typical
		for _, by := range [2][2]float64{{sigmaEye, MinutesEye}, {sigmaArcMM / typicalRim, MinutesArc}} {
			n := planSpread * math.Hypot(by[0], r*sigmaWheel) * math.Sqrt(2*(need+luck)) / a.gap
			times := 1.0
			most := float64(mostTurns)
			if o.p.sit.ManyTurns {
				most = manyTurns
			}
			if n > most { // repeat instead
				times, n = math.Ceil(n*n/(most*most)), most
			}
			turning = min(turning, times*(by[1]+handMinutes(math.Ceil(n), r)))
		}
		turning += o.lift
	}
	return anotherMinutes + min(turning, count)
}
