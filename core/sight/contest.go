package sight

import (
	"cmp"
	"math"
	"slices"
)

// line is what of the contrast around a pose's circles is exactly one count of even
// teeth, as shares: of the gray values; of their edges, of which a tooth has two, light or
// dark; and of the differences from the metal inside and outside the band of the teeth.
type line [4]float64

// contest weighs counts at poses: all circles of a band together, each with its own phase.
type contest struct {
	p        *picture
	u        *unroller
	rhos     []float64
	weights  []float64
	from, to float64
	beside   [2][]float64
	gray     []float64
}

const (
	besideBand  = 0.055 // how far beside the band the metal is looked at
	edgeSurface = 0.05  // as evenSurface, of edges
	briefClimb  = 30    // evaluations for every count, where it is looked at roughly
	firstClimb  = 50    // where it is looked at with care
	lastClimb   = 120   // and for the best
	lastCounts  = 3
)

// newContest takes the strongest circles of a reading.
func newContest(p *picture, f *reading, points int) *contest {
	c := &contest{p: p, u: newUnroller(points), gray: make([]float64, points)}
	c.from, c.to = f.band()
	order := make([]int, len(f.weight))
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(f.weight[b], f.weight[a]) })
	sum := 0.0
	for k := 0; k < len(order) && len(c.rhos) < 3; k += 2 {
		c.rhos = append(c.rhos, f.rhos[order[k]])
		c.weights = append(c.weights, f.weight[order[k]])
		sum += f.weight[order[k]]
	}
	for i := range c.weights {
		c.weights[i] /= max(sum, 1e-9)
	}
	return c
}

// contested weighs a reading's count and those up to reach from it, each at the pose that
// suits it best, the best first.
func contested(p *picture, f reading, reach int) []reading {
	points := min(max(8*(f.count+reach), 256), 640) &^ 1
	c := newContest(p, &f, points)
	var out []reading
	for i, b := range c.tries(f, reach, firstClimb) {
		if i < lastCounts {
			// Begun anew it leaves what a flattened simplex took for the top.
			b = c.climb(c.climb(b, 0.03, lastClimb), 0.015, lastClimb)
		}
		o := f
		o.pose, o.count, o.drift = b.pose, b.count, [4]float64{}
		o.evidence, o.line = c.evidence(b.pose, b.count)
		out = append(out, o)
	}
	slices.SortStableFunc(out, func(a, b reading) int { return cmp.Compare(b.evidence, a.evidence) })
	return out
}

// best is the best of a reading's count and those up to reach from it, roughly.
func (c *contest) best(f reading, reach int) reading {
	b := c.tries(f, reach, briefClimb)[0]
	f.pose, f.count, f.drift, f.evidence = b.pose, b.count, [4]float64{}, b.score
	return f
}

// tries moves each count up to reach from a reading's own to where it suits best.
func (c *contest) tries(f reading, reach, evaluations int) []found {
	at := f.pose
	at.dx, at.dy = at.dx+f.drift[1], at.dy-f.drift[0]
	rings, totals := c.spectra(at)
	var tries []found
	for n := max(f.count-reach, leastTeeth); n <= min(f.count+reach, mostTeeth); n++ {
		best := found{at, n, 0}
		best.score, _ = c.evidence(at, n)
		for _, start := range c.starts(at, n, rings, totals) {
			if v, _ := c.evidence(start, n); v > best.score {
				best.pose, best.score = start, v
			}
		}
		tries = append(tries, c.climb(best, 0.03, evaluations))
	}
	slices.SortFunc(tries, byScore)
	return tries
}

// spectra are those of the band's circles at a pose, and the power of each.
func (c *contest) spectra(at pose) (rings [][]complex128, totals []float64) {
	l := newLens(at)
	power := make([]float64, c.u.n*3/8)
	for _, rho := range c.rhos {
		c.u.circle(c.p, &l, rho)
		c.u.flatten(c.u.n / 14)
		totals = append(totals, c.u.spectrum(power)+1e-6)
		rings = append(rings, slices.Clone(c.u.coeff))
	}
	return rings, totals
}

// starts are a pose with its middle, and with all of it, moved to where the spacing of n
// teeth drifts no more.
func (c *contest) starts(at pose, n int, rings [][]complex128, totals []float64) []pose {
	k, d, _ := allChirps.best(rings, totals, n, n, lineScore)
	if k == 0 {
		return nil
	}
	ex, ey := d.x/float64(n), d.y/float64(n)
	middle, all := at, at
	middle.dx, middle.dy = middle.dx+ex, middle.dy+ey
	s, co := math.Sincos(at.turn)
	u, v := at.a*ex, at.a*at.q*ey
	all.x, all.y = all.x+u*co-v*s, all.y+u*s+v*co
	return []pose{middle, all}
}

func (c *contest) climb(f found, step float64, evaluations int) found {
	return climb(f, step, evaluations, func(g found) found {
		g.score, _ = c.evidence(g.pose, g.count)
		return g
	})
}

// evidence is the logarithm of how much likelier n even teeth make what is seen at a
// pose, less what a camera would have to do for it.
func (c *contest) evidence(at pose, n int) (float64, line) {
	f := c.line(at, n)
	e := f.evidence(n)
	return e - camera(at, c.p)*e/(e+5), f
}

func (f line) evidence(n int) float64 {
	e := 0.0
	for _, v := range f {
		e -= float64(n) * math.Log(1-min(v, 0.999))
	}
	return e
}

func (c *contest) line(at pose, n int) (f line) {
	l := newLens(at)
	u := c.u
	for k, rho := range []float64{c.from - besideBand, c.to + besideBand} {
		u.circle(c.p, &l, rho)
		c.beside[k] = smooth(u.ring, max(u.n/(2*n), 1))
	}
	half := max(u.n/max(n/2, 6)/2, 2)
	for i, rho := range c.rhos {
		if u.circle(c.p, &l, rho) < 0.6 {
			return line{}
		}
		copy(c.gray, u.ring)
		u.flatten(half)
		f[0] += c.weights[i] * u.share(u.flat, n, evenSurface)
		u.edges(max(u.n/(8*n), 1))
		f[1] += c.weights[i] * u.share(u.ring, 2*n, edgeSurface)
		for k, beside := range c.beside {
			for j, v := range c.gray {
				u.ring[j] = math.Abs(v - beside[j])
			}
			u.flatten(half)
			f[2+k] += c.weights[i] * u.share(u.flat, n, evenSurface)
		}
	}
	return f
}

// share is what of a ring's contrast, and of so much more, is exactly n per turn.
func (u *unroller) share(v []float64, n int, surface float64) float64 {
	total, re, im, k := 0.0, 0.0, 0.0, 0
	for _, v := range v {
		total += v*v + surface
		re += v * u.cos[k]
		im -= v * u.sin[k]
		if k += n; k >= u.n {
			k -= u.n
		}
	}
	return 2 * (re*re + im*im) / total / float64(u.n)
}

// edges puts how steep the flattened ring is, over 2·half points, where the ring was.
func (u *unroller) edges(half int) {
	mean := 0.0
	for i := range u.n {
		a, b := i+half, i-half
		if a >= u.n {
			a -= u.n
		}
		if b < 0 {
			b += u.n
		}
		u.ring[i] = math.Abs(u.flat[a] - u.flat[b])
		mean += u.ring[i]
	}
	mean /= float64(u.n)
	for i := range u.ring {
		u.ring[i] -= mean
	}
}
