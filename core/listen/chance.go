package listen

import "math"

// chance is that of the first source being the loudest one.
func (w *work) chance(out []heard) float64 {
	next := -20.0
	if len(out) > 1 {
		next = out[1].level
	}
	teeth := 0.0
	if out[0].Kind == RingAndPinion {
		teeth = w.otherTeeth(out[0])
	}
	x := -1.0 + 0.5*min(out[0].z, 8) + 0.35*min(out[0].level-next, 12)
	return round((1-teeth)/(1+math.Exp(-x)), 3)
}

// otherTeeth is the chance that the pair has other teeth, as far as the fits tell.
func (w *work) otherTeeth(h heard) float64 {
	own, all := 0.0, 0.0
	best := math.Inf(-1)
	for _, fit := range w.axles {
		best = max(best, fit)
	}
	for i, fit := range w.axles {
		p := math.Exp(min(fit-best, 0) * teethWeight)
		all += p
		if w.known[i].Ring == h.Ring && w.known[i].Pinion == h.Pinion {
			own = p
		}
	}
	if all == 0 {
		return 0
	}
	return 1 - own/all
}

// teethWeight is how much of a fit's logarithm counts: lines of one recording are not
// independent.
const teethWeight = 1.0

// share gives the others what is left, by their level.
func (w *work) share(a *Answer, out []heard) {
	sum := 0.0
	for i := range a.Sources[1:] {
		sum += math.Pow(10, out[i+1].level/10)
	}
	for i := range a.Sources[1:] {
		left := (1 - a.Sources[0].Chance) * math.Pow(10, out[i+1].level/10) / sum
		a.Sources[i+1].Chance = round(min(left, a.Sources[0].Chance), 3)
	}
}
