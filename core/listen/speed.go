package listen

import (
	"math"
)

// Reading is a speed at a time, as it was recorded.
type Reading struct {
	Seconds float64 `json:"s"`
	Value   float64 `json:"value"`
}

// smoothed is a curve through noisy readings, evenly spaced by step seconds from 0: the
// one that is nearest to them and bends least (Whittaker 1923), its stiffness for a
// vehicle's speed.
func smoothed(list []Reading, seconds, step, stiff float64) []float64 {
	n := int(math.Ceil(seconds/step)) + 2
	w, b := make([]float64, n), make([]float64, n)
	for _, r := range list {
		k := int(math.Round(r.Seconds / step))
		if k < 0 || k >= n {
			continue
		}
		w[k]++
		b[k] += r.Value
	}
	// (W + λDᵀD)·z = b with third differences would be stiffer at the ends than is known;
	// second ones do. A banded system, five wide, solved by elimination.
	lambda := stiff
	d0, d1, d2 := make([]float64, n), make([]float64, n), make([]float64, n)
	for k := range n {
		d0[k] = w[k] + 1e-9
	}
	for k := 0; k+2 < n; k++ {
		c := [3]float64{1, -2, 1}
		for i := range 3 {
			d0[k+i] += lambda * c[i] * c[i]
			if i+1 < 3 {
				d1[k+i] += lambda * c[i] * c[i+1]
			}
			if i+2 < 3 {
				d2[k+i] += lambda * c[i] * c[i+2]
			}
		}
	}
	for k := range n {
		if k+1 < n {
			f := d1[k] / d0[k]
			d0[k+1] -= f * d1[k]
			d1[k+1] -= f * d2[k]
			b[k+1] -= f * b[k]
		}
		if k+2 < n {
			f := d2[k] / d0[k]
			d0[k+2] -= f * d2[k]
			b[k+2] -= f * b[k]
		}
	}
	z := make([]float64, n)
	for k := n - 1; k >= 0; k-- {
		v := b[k]
		if k+1 < n {
			v -= d1[k] * z[k+1]
		}
		if k+2 < n {
			v -= d2[k] * z[k+2]
		}
		z[k] = v / d0[k]
	}
	return z
}

// turnsOf integrates a curve of turns a second, step seconds apart and late by lag,
// over the samples of a recording.
func turnsOf(curve []float64, step, lag float64, samples int, rate float64) []float64 {
	out := make([]float64, samples)
	sum := 0.0
	for i := range out {
		out[i] = sum
		at := (float64(i)/rate + lag) / step
		k := int(at)
		f := at - float64(k)
		last := len(curve) - 1
		v := curve[last]
		if k < last {
			v = curve[k]*(1-f) + curve[k+1]*f
		}
		sum += max(v, 0.02) / rate
	}
	return out
}
