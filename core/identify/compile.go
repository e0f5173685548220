package identify

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"sort"
	"strconv"
)

// compiled is a reading ready to be weighed against hypotheses.
type compiled struct {
	reading     Reading
	by          *technique
	byRatio     []mode  // turns, bench, road
	marks       []Mark  // tag, stamp
	shown       []shown // the builds that carry them
	format      func(Mark) float64
	stale       float64 // rate
	chance      float64 // P(text) for a random other build
	wary        float64 // the same, drawn from the wary prior
	counts      []Count
	center      float64  // ratio that the reading says, if it says one
	own         Interval // its own 95 % range
	mean, sigma float64  // of the ratio by this reading alone
}

// compile prepares a resolved reading.
func (sp *Space) compile(r Reading) compiled {
	c := compiled{reading: r}
	c.by, _ = techniqueOf(r.Method)
	c.by.compile(&c, sp)
	if len(c.byRatio) > 0 {
		sum := 0.0
		for _, m := range c.byRatio {
			sum += m.weight
		}
		c.byRatio[0].weight = 1 - sum // the first mode is the right reading
	}
	return c
}

// shown is a build that carries a text, and the chance that it does.
type shown struct {
	at int32 // in the space
	p  float64
}

// showing lists the builds that carry a text. Of all builds few do, and those of a
// printed ratio stand together, as builds are sorted by theirs.
func (c *compiled) showing(sp *Space) []shown {
	sum := map[int32]float64{}
	for _, m := range c.marks {
		from, to := 0, len(sp.hyps)
		if m.IsRatio() { // rounded or cut to it: between half a last digit below and one above
			unit := math.Pow10(-m.Places)
			from = sort.Search(to, func(i int) bool { return sp.hyps[i].r >= (float64(m.Value)-0.6)*unit })
			to = from + sort.Search(to-from, func(i int) bool { return sp.hyps[from+i].r > (float64(m.Value)+1.1)*unit })
		}
		w := c.format(m) * m.style
		for i := from; i < to; i++ {
			h := &sp.hyps[i]
			if p := m.likelihood(sp.cons[h.con].ID, h.teeth[:], h.exact()); p > 0 {
				sum[int32(i)] += w * p
			}
		}
	}
	out := make([]shown, 0, len(sum))
	for _, at := range slices.Sorted(maps.Keys(sum)) {
		out = append(out, shown{at, sum[at]})
	}
	return out
}

func (c *compiled) markLikelihood(sp *Space, h *hyp) float64 {
	p := 0.0
	for _, m := range c.marks {
		p += c.format(m) * m.style * m.likelihood(sp.cons[h.con].ID, h.teeth[:], h.exact())
	}
	return p
}

// spread of the shaft reading in turns.
func (s Shaft) spread() sides {
	switch s.Remainder.By {
	case BareQuarter:
		return even(sigmaQuarter)
	case ByArc:
		return even(sigmaArcMM / s.Remainder.circumference())
	case PastABit:
		return sides{sigmaBitNear, sigmaBitFar}
	case ShortABit:
		return sides{sigmaBitFar, sigmaBitNear}
	}
	if e := s.Remainder.Eye; e != nil {
		return even(e.Spread)
	}
	return even(sigmaEye)
}

// compileTurns sets up the modes of counted shaft turns s against m turns of
// the carrier or output.
func (c *compiled) compileTurns(sp *Space, shaft Shaft, m, sigmaM float64) {
	s := shaft.reckoned()
	sig := shaft.spread()
	g := func(cause Cause, w, s, m float64) mode {
		return mode{cause: cause, weight: w, form: gauss, s: s, m: m, spread: sig, sigmaM: sigmaM}
	}
	c.byRatio = []mode{g(CauseRight, 0, s, m), g(CauseTurnMissed, lostRate(s)/2, s+1, m)}
	if s > 1 {
		c.byRatio = append(c.byRatio, g(CauseTurnTooMany, lostRate(s)/2, s-1, m))
	}
	rem := shaft.Remainder
	if rem.By == ByArc {
		f := rem.fraction()
		switch rem.RimIs {
		case Circumference:
			c.byRatio = append(c.byRatio, g(CauseDiameter, rateDiameterMixup, float64(shaft.Whole)+f/math.Pi, m))
		case Diameter:
			if math.Abs(f*math.Pi) < 1 {
				c.byRatio = append(c.byRatio, g(CauseCircumference, rateDiameterMixup/2, float64(shaft.Whole)+f*math.Pi, m))
			}
		}
	}
	if f := rem.fraction(); math.Abs(f) > 0.02 && float64(shaft.Whole)-f > 0 {
		c.byRatio = append(c.byRatio, g(CauseShort, rateShortMixup, float64(shaft.Whole)-f, m))
	}
	misread := g(CauseMisread, rateMisread, s, m)
	misread.spread = sides{max(sigmaMisread, sig.below), max(sigmaMisread, sig.above)}
	c.byRatio = append(c.byRatio, misread)
	span := max(sp.hi-sp.lo, 0.5)
	c.byRatio = append(c.byRatio, mode{cause: CauseOtherUnit, weight: rateOtherUnit, form: flat, d: 1 / (m * span)})
	c.says(s, m, sig.with(s/m*sigmaM))
}

// says is what the reading tells by itself: s turns of the shaft, with a spread,
// for m of the output.
func (c *compiled) says(s, m float64, spread sides) {
	shift, sigma := spread.moments()
	below, above := spread.range95()
	c.center, c.mean, c.sigma = s/m, (s+shift)/m, sigma/m
	c.own = Interval{(s - below) / m, (s + above) / m}
}

const z95 = 1.959963984540054

// likelihood of the reading given a hypothesis.
func (c *compiled) likelihood(sp *Space, h *hyp) float64 {
	switch {
	case c.byRatio != nil:
		return c.ratioLikelihood(h.r)
	case c.counts != nil:
		return c.countsLikelihood(sp, h)
	default:
		return (1-c.stale)*c.markLikelihood(sp, h) + c.stale*c.chance
	}
}

func (c *compiled) ratioLikelihood(r float64) float64 {
	p := 0.0
	for i := range c.byRatio {
		p += c.byRatio[i].weight * c.byRatio[i].density(r)
	}
	return p
}

// words tells a spread in turns.
func (s sides) words() string {
	d := func(v float64) string { return strconv.FormatFloat(v, 'f', 4, 64) }
	if s.below == s.above {
		return "standard deviation " + d(s.below) + " turn"
	}
	return "standard deviation " + d(s.below) + " turn below, " + d(s.above) + " above"
}

// words tells a range of ratios.
func (i Interval) words() string { return fmt.Sprintf("%.3f to %.3f with 95 %%", i.Low, i.High) }
