package road

import (
	"fmt"
	"math"

	"zorvel/core/say"
)

// How well the bunches' ratios to each other are known, and what is common to all: the
// tire as it was measured, the road speed, the slip of a driven tire; as logarithms.
const (
	fitSigma     = 0.012
	commonSigma  = 0.012
	needleSigma  = 0.04
	slipMean     = 0.008 // a driven tire slips a little: the engine turns that much more
	unknownShare = 0.003
)

// assign names the bunches' gears, and finds what isn't known: the axle, the gears, or
// where both are known the tire.
func (q Question) assign(a *Answer) {
	switch {
	case len(q.Gears) > 0 && q.Axle != nil:
		q.nameBy(a, math.Log(*q.Axle*q.other()))
		q.tire(a)
	case len(q.Gears) > 0:
		offset, second, ok := q.offset(a.Bunches)
		if !ok {
			return
		}
		q.nameBy(a, offset)
		q.axle(a)
		if a.Axle != nil && second > 0 {
			a.Notes = append(a.Notes, fmt.Sprintf("An axle of %s with the gears shifted by one would fit almost as well. "+
				"Say which gear you drove, or drive one more.", say.Trim(second/q.other(), 2)))
			a.Axle, a.Reading = nil, nil
		}
	case q.Axle != nil:
		for i := range a.Bunches {
			r := a.Bunches[i].Overall / (*q.Axle * q.other()) / (1 + slipMean)
			a.Bunches[i].Ratio = &r
		}
	}
}

// offset is the logarithm of all that stands behind the gearbox, at which the bunches fit
// the gears best; second is the next best that can't be ruled out, 0 where there is none.
func (q Question) offset(list []Bunch) (best, second float64, ok bool) {
	type try struct{ at, score float64 }
	var tries []try
	for _, b := range list {
		for _, g := range q.Gears {
			at := math.Log(b.Overall / g / (1 + slipMean))
			if axle := math.Exp(at) / q.other(); axle < 1.5 || axle > 15 {
				continue
			}
			tries = append(tries, try{at, q.score(list, at)})
		}
	}
	top := try{score: math.Inf(-1)}
	for _, t := range tries {
		if t.score > top.score {
			top = t
		}
	}
	if math.IsInf(top.score, -1) {
		return 0, 0, false
	}
	next := try{score: math.Inf(-1)}
	for _, t := range tries {
		if math.Abs(t.at-top.at) > 0.04 && t.score > next.score {
			next = t
		}
	}
	if next.score > top.score-4 {
		second = math.Exp(next.at)
	}
	return top.at, second, true
}

// score is the log likelihood of the bunches where so much stands behind the gearbox: each
// is a gear, or something else. Bunches of many samples count no more than others: they
// are one gear each.
func (q Question) score(list []Bunch, offset float64) float64 {
	sum := 0.0
	for _, b := range list {
		at := math.Log(b.Overall/(1+slipMean)) - offset
		p := unknownShare
		for _, g := range q.Gears {
			d := (at - math.Log(g)) / fitSigma
			p += math.Exp(-d*d/2) / float64(len(q.Gears))
		}
		sum += math.Log(p)
	}
	return sum
}

// nameBy gives each bunch the gear that it fits.
func (q Question) nameBy(a *Answer, offset float64) {
	// What is common to all gears, as a wrong tire, is taken out first.
	shift := 0.0
	for range 2 {
		sum, n := 0.0, 0.0
		for i := range a.Bunches {
			b := &a.Bunches[i]
			at := math.Log(b.Overall/(1+slipMean)) - offset - shift
			best, least := -1, 0.06
			for k, g := range q.Gears {
				if d := math.Abs(at - math.Log(g)); d < least {
					best, least = k, d
				}
			}
			b.Gear, b.Ratio = 0, nil
			if best >= 0 {
				b.Gear = best + 1
				g := q.Gears[best]
				b.Ratio = &g
				sum, n = sum+at-math.Log(g), n+1
			}
		}
		if n > 0 {
			shift += sum / n
		}
	}
}

// axle is what the named bunches make of it, each weighing by its spread.
func (q Question) axle(a *Answer) {
	sum, weight, n := 0.0, 0.0, 0
	var top *Bunch
	for i := range a.Bunches {
		b := &a.Bunches[i]
		if b.Gear == 0 {
			continue
		}
		s := math.Hypot(b.Spread/b.Overall, 0.004)
		w := 1 / (s * s)
		sum, weight, n = sum+w*math.Log(b.Overall / *b.Ratio / q.other() / (1+slipMean)), weight+w, n+1
		if top == nil || b.Samples > top.Samples {
			top = b
		}
	}
	if n == 0 {
		return
	}
	common := commonSigma
	if q.From == Needle {
		common = needleSigma
	}
	at := sum / weight
	reach := 1.96 * math.Hypot(common, math.Sqrt(1/weight))
	a.Axle = &Axle{Ratio: math.Exp(at), Low: math.Exp(at - reach), High: math.Exp(at + reach), Gears: n}
	const speed = 80.0
	a.Reading = &Reading{RPM: say.Round(top.Overall/(1+slipMean)*speed*1e6/60/q.RollingMM, 0), SpeedKMH: speed,
		RollingMM: q.RollingMM, Gear: *top.Ratio * q.other()}
	a.Origin = append(a.Origin,
		"overall ratio = engine speed ÷ wheel speed = rpm × rolling circumference × 60 ÷ (1,000,000 × km/h)",
		fmt.Sprintf("axle = overall ÷ gear ÷ other ÷ %s (a driven tire slips) = %s, over %d gears",
			say.Trim(1+slipMean, 3), say.Trim(a.Axle.Ratio, 3), n))
}

// tire is the rolling circumference that makes axle and gears fit.
func (q Question) tire(a *Answer) {
	sum, n := 0.0, 0.0
	for _, b := range a.Bunches {
		if b.Gear > 0 {
			sum, n = sum+math.Log(*b.Ratio**q.Axle*q.other()*(1+slipMean)/b.Overall), n+1
		}
	}
	if n > 0 {
		mm := q.RollingMM * math.Exp(sum/n)
		a.RollingMM = &mm
		a.Origin = append(a.Origin, fmt.Sprintf("rolling circumference that fits = %s mm × axle × gear ÷ overall = %s mm",
			say.Trim(q.RollingMM, 0), say.Trim(mm, 0)))
	}
}

// tell puts the answer into words.
func (q Question) tell(a *Answer) {
	named := 0
	for _, b := range a.Bunches {
		if b.Gear > 0 {
			named++
		}
	}
	switch {
	case len(a.Bunches) == 0:
		a.Sentence = "No gear shows clearly. Drive each gear for ten seconds at a steady speed, on the level."
	case a.Axle != nil:
		a.Sentence = fmt.Sprintf("The axle is about %s (%s to %s), by %s.", say.Trim(a.Axle.Ratio, 2),
			say.Trim(a.Axle.Low, 2), say.Trim(a.Axle.High, 2), count(a.Axle.Gears))
	case a.RollingMM != nil:
		a.Sentence = fmt.Sprintf("With this axle and these gears the tire rolls about %s mm a turn; you entered %s.",
			say.Trim(*a.RollingMM, 0), say.Trim(q.RollingMM, 0))
	case q.Axle != nil:
		a.Sentence = fmt.Sprintf("%s driven with this axle and tire.", count(len(a.Bunches)))
	case len(q.Gears) > 0 && named == 0:
		a.Sentence = "What was driven doesn't fit these gears. Check the gearbox's ratios and the tire."
	default:
		a.Sentence = fmt.Sprintf("%s driven. Enter the gearbox's ratios to find the axle, or the axle to find the gears.", count(len(a.Bunches)))
	}
	a.Notes = append(a.Notes, "Axle and tire show only as their product: a tire 3 % larger looks like an axle 3 % taller. "+
		"Measure the tire's rollout.")
	if q.From == Needle {
		a.Notes = append(a.Notes, "The vehicle's own needle is as true as its speedometer gears: it can't prove the axle that drives it. "+
			"Use a satellite's speed.")
	}
	for _, b := range a.Bunches {
		if b.Smeared {
			a.Notes = append(a.Notes, "The converter slips in some gears: the lower edge of each bunch is the gear.")
			break
		}
	}
	if len(q.Gears) > 0 && named > 0 && named < len(a.Bunches) {
		a.Notes = append(a.Notes, fmt.Sprintf("%s not fit these gears: wheel spin, an open clutch, or another range.",
			dont(len(a.Bunches)-named)))
	}
}

func count(n int) string {
	if n == 1 {
		return "one gear"
	}
	return fmt.Sprintf("%d gears", n)
}

func dont(n int) string {
	if n == 1 {
		return "One bunch does"
	}
	return fmt.Sprintf("%d bunches do", n)
}
