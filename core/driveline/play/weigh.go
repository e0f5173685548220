package play

import (
	"cmp"
	"math"
	"slices"

	"zorvel/core/belief"
	"zorvel/core/driveline"
	"zorvel/core/say"
)

// weigh conditions the plays of all places on what was measured: each is usual
// give or take half of itself, but may be far more; the measurements are sums
// of them (linear regression with Gaussian prior).
func (w *work) weigh() {
	own, scatter := make([]float64, len(w.places)), make([]float64, len(w.places))
	for i, s := range w.places {
		own[i], scatter[i] = s.Own, s.scatter()
		if !s.Entered && w.loose() {
			scatter[i] = s.Own * 4 // something is worn: any of them
		}
	}
	plays := belief.Of(own, scatter)
	for k, out := range w.answer.Measured {
		if out.Bounded && out.Degrees != nil && !out.TwoWays {
			plays = plays.See(w.factors[k], *out.Degrees, w.repeat[k])
		}
	}
	for i := range w.places {
		p := &w.places[i]
		p.Likely, p.Sigma = say.Round(math.Max(0, plays.Mean(i)), 3), say.Round(plays.Sigma(i), 3)
		seen := false
		for _, f := range w.factors {
			seen = seen || f[i] > 0
		}
		switch {
		case !seen:
			p.Word = "not seen"
		case p.Likely > 2*p.Own:
			p.Word = "more than usual"
		default:
			p.Word = "usual"
		}
		w.answer.Places = append(w.answer.Places, p.Place)
	}
}

// scatter is the standard deviation of a place's play: half of what is usual, or a
// tenth of what was entered for it. It is the same in the budget and in the weighing.
func (s *source) scatter() float64 {
	if s.Entered {
		return math.Max(0.05, enteredScatter*s.Own)
	}
	return s.Own * playScatter
}

// budget is what is usual at a shaft, and its standard deviation.
func (w *work) budget(f []float64) (usual, sigma float64) {
	v := 0.0
	for i, s := range w.places {
		usual += f[i] * s.Own
		sd := f[i] * s.scatter()
		v += sd * sd
	}
	return usual, math.Sqrt(v)
}

// loose is whether any measurement is more than what usual play makes of it.
func (w *work) loose() bool {
	for k, out := range w.answer.Measured {
		usual, sigma := w.budget(w.factors[k])
		if out.Bounded && !out.TwoWays && out.Degrees != nil && *out.Degrees > usual+2*math.Hypot(sigma, w.repeat[k]) {
			return true
		}
	}
	return false
}

// backward names a measurement that shows more than another whose holds leave more
// play to be seen: that can't be.
func (w *work) backward() string {
	for i, nearer := range w.answer.Measured {
		for k, farther := range w.answer.Measured {
			if i == k || nearer.At != farther.At || nearer.Degrees == nil || farther.Degrees == nil || !nearer.Bounded || !farther.Bounded || nearer.TwoWays || farther.TwoWays {
				continue
			}
			less := false
			for p := range w.places {
				if w.factors[i][p] > w.factors[k][p]+1e-9 {
					less = false
					break
				}
				less = less || w.factors[i][p] < w.factors[k][p]-1e-9
			}
			if less && *nearer.Degrees > *farther.Degrees+2*math.Hypot(w.repeat[i], w.repeat[k]) {
				return moreHeld(i, nearer, farther, k)
			}
		}
	}
	return ""
}

// one words a measurement.
func (w *work) one(out *RockedOut, f []float64, repeat float64) {
	if !out.Bounded {
		out.State = "free"
		out.Text = turnsFreely(out)
		return
	}
	usual, sigma := w.budget(f)
	out.Usual, out.Spread = say.Round(usual, 3), say.Round(2*sigma, 3)
	for i, s := range w.places {
		if f[i] > 0 {
			out.Shares = append(out.Shares, Share{s.ID, say.Round(f[i], 4), say.Round(f[i]*s.Own, 3), say.Round(f[i]*s.Likely, 3)})
		}
	}
	slices.SortStableFunc(out.Shares, func(x, y Share) int { return cmp.Compare(y.Likely, x.Likely) })
	band := usualBand(usual, sigma)
	if out.Degrees == nil {
		out.State, out.Text = "not_measured", usualAt(out, band)
		return
	}
	d := *out.Degrees
	edge := 2 * math.Hypot(sigma, repeat)
	switch {
	case d > usual+edge:
		out.State = "more"
		out.Text = moreThanUsual(d, out, band)
	case d < usual-edge:
		out.State = "less"
		out.Text = lessThanUsual(d, out, band)
	default:
		out.State = "usual"
		out.Text = asUsual(d, out, band)
	}
}

// next looks for the shaft that, held by hand, splits what is seen most evenly.
func (w *work) next(last *RockedOut, now []float64) {
	total := 0.0
	for i, s := range w.places {
		total += now[i] * s.Likely
	}
	if total <= 0 {
		return
	}
	r := w.q.Measured[len(w.q.Measured)-1]
	best, bestHold, bestName := math.Inf(1), "", ""
	base := driveline.Build(&w.q.Driveline, w.held(r))
	tried := 0
	for _, sh := range base.Shafts {
		if sh.ID == r.At || slices.Contains(last.Hold, sh.ID) || !w.within(sh) {
			continue
		}
		if tried++; tried > mostHolds {
			break
		}
		with := r
		with.Hold = append(slices.Clone(r.Hold), sh.ID)
		f, bounded, err := w.factorsOf(driveline.Build(&w.q.Driveline, w.held(with)))
		if err != nil || !bounded {
			continue
		}
		seen := 0.0
		for i, s := range w.places {
			seen += f[i] * s.Likely
		}
		share := seen / total
		if share < 0.12 || share > 0.88 {
			continue
		}
		if off := math.Abs(share - 0.5); off < best-1e-9 {
			best, bestHold, bestName = off, sh.ID, sh.Name
		}
	}
	if bestHold == "" {
		if last.State == "more" {
			w.answer.Next = "Nothing else that a hand can hold splits it further: what is left has to be opened, the likeliest part first."
		}
		return
	}
	w.answer.NextHold = bestHold
	w.answer.Next = holdAsWell(bestName, last)
}

// within is whether a hand gets at a shaft: a wheel, a drive shaft, or the flange
// where one part ends and another begins. The outputs of an axle lie in its
// tubes.
func (w *work) within(sh *driveline.Shaft) bool {
	switch sh.Part.Traits().Reach {
	case driveline.InTheOpen:
		return true
	case driveline.OutOfReach:
		return false
	}
	for _, port := range sh.Part.Ports() {
		from := sh.Part.ID
		if port != "" {
			if from += "." + port; sh.ID != from {
				continue
			}
		}
		return w.open(from)
	}
	return false
}

// open reports whether a flange lies open: what is bolted on behind it is a shaft, a
// wheel or a propeller, or nothing is.
func (w *work) open(from string) bool {
	for i := range w.q.Driveline.Parts {
		if p := &w.q.Driveline.Parts[i]; p.From == from {
			return p.Traits().Reach == driveline.InTheOpen
		}
	}
	return true
}
