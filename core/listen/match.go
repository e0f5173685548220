package listen

import (
	"math"
	"slices"
)

// heard is what a source is found to make, at a lag and a scale of the speed.
type heard struct {
	Source
	z     float64 // logarithm of its lines over what is around them
	level float64 // decibels: all its lines over the noise in a third of an octave
	at    float64 // order per wheel turn where its main line was found
	clear int     // lines that stand out
	first float64 // the main line's share of all lines' power
}

// tolerance is by how much a line may be off: a step and three hundredths of a percent…
func (s *spectrum) tolerance(order float64) float64 { return 1.2*s.step + order*0.0025 }

// hear looks for a source's lines; scale is found orders over true ones. Lines that are
// lower harmonics of one of the others are left to it.
func (s *spectrum) hear(src Source, scale float64, others []Source) heard {
	h := heard{Source: src}
	var powers []float64
	strongest := 0.0
	main := src.PerWheel * scale
	for k := 1; k <= src.harmonics; k++ {
		order := src.PerWheel * scale * float64(k)
		if order > float64(len(s.power)-4)*s.step {
			break
		}
		tol := s.tolerance(order)
		if tol > src.PerWheel*scale/4 {
			break // lines this near to each other say nothing
		}
		if k > 1 && s.lower(src, k, others) {
			continue
		}
		p, at := s.line(order, tol)
		steps := 2*tol/s.step + 1
		// Of so many steps of noise the highest is about 1 + ln(steps)/averages over it.
		g := math.Log(p) - math.Log(s.chanceTop(steps))
		if g > 0.35 {
			h.clear++
		}
		if g > 0 {
			h.z += g
		}
		if k == 1 {
			h.at = at
		}
		power := s.above(at)
		powers = append(powers, power)
		if power > strongest {
			strongest, main = power, at
		}
	}
	all := excess(src, powers)
	h.level = 10 * math.Log10(all/s.noise(main)+1e-9)
	if len(powers) > 0 && all > 0 {
		h.first = powers[0] / all
	}
	if src.Kind == WheelBearing && h.clear < leastKnocks {
		h.clear = 0
	}
	return h
}

// leastKnocks is how many lines of a bearing must stand out: one that rings makes many.
const leastKnocks = 5

// excess is the power of all lines. A bearing's are a comb; one among them that is far
// over the others is something else's.
func excess(src Source, powers []float64) float64 {
	most := math.Inf(1)
	if src.Kind == WheelBearing && len(powers) > 3 {
		sorted := slices.Sorted(slices.Values(powers))
		most = 6 * sorted[len(sorted)*3/4]
	}
	sum := 0.0
	for _, p := range powers {
		sum += min(p, most)
	}
	return sum
}

// lower says that a source's harmonic k is a lower one of another source.
func (s *spectrum) lower(src Source, k int, others []Source) bool {
	order := src.PerWheel * float64(k)
	for _, o := range others {
		if o.PerWheel == src.PerWheel {
			continue
		}
		j := math.Round(order / o.PerWheel)
		if j >= 1 && int(j) < k && int(j) <= min(o.harmonics, 3) && math.Abs(j*o.PerWheel-order) < s.tolerance(order) {
			return true
		}
	}
	return false
}

// chanceTop is the highest of so many steps of noise, as a multiple of their median.
func (s *spectrum) chanceTop(steps float64) float64 {
	return 1 + s.grain*math.Sqrt(2*math.Log(steps+1))
}

// above is the power of a line over the noise, over the width of a line.
func (s *spectrum) above(at float64) float64 {
	k := int(math.Round(at / s.step))
	sum := 0.0
	wide := 2 + int(at*0.002/s.step)
	for j := max(k-wide, 1); j <= min(k+wide, len(s.abs)-1); j++ {
		sum += max(s.abs[j]-s.abs[j]/s.power[j], 0)
	}
	return sum
}

// noise is the power of the noise in a third of an octave around an order.
func (s *spectrum) noise(at float64) float64 {
	from, to := at/1.1225, at*1.1225
	sum := 1e-30
	for j := max(int(from/s.step), 1); j <= min(int(to/s.step), len(s.abs)-1); j++ {
		sum += s.abs[j] / s.power[j]
	}
	return sum
}
