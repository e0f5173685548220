package listen

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/dsp/fourier"
	"gonum.org/v1/gonum/dsp/window"
)

// spectrum is the mean power of a recording over cycles per turn of a shaft, each step
// as a multiple of what is around it.
type spectrum struct {
	step  float64   // cycles per turn from one to the next
	power []float64 // over the median around it
	abs   []float64 // as it is
	grain float64   // one sigma of noise, as a share of it
	y     []float64 // the recording by even steps of the angle
	per   float64   // steps per turn
}

// byTurns resamples a recording to even steps of a shaft's angle and averages the
// spectra of blocks of so many turns, half over each other. turns is the angle at every
// sample; top the most cycles per turn that are asked for.
func byTurns(x, turns []float64, top float64, block float64) *spectrum {
	per := math.Pow(2, math.Ceil(math.Log2(2.56*top))) // steps per turn
	n := int(per * block)
	n = 1 << int(math.Round(math.Log2(float64(n))))
	total := turns[len(turns)-1] - turns[0]
	steps := int(total * per)
	if steps < n {
		n = 1 << int(math.Floor(math.Log2(float64(max(steps, 2)))))
	}
	if n < 64 {
		return nil
	}
	y := resample(x, turns, per, steps)
	s := average(y, n, per, nil)
	if s != nil {
		s.y, s.per = y, per
	}
	return s
}

// resample reads a recording at even steps of an angle that grows, by cubics through
// four samples (Catmull and Rom).
func resample(x, turns []float64, per float64, steps int) []float64 {
	y := make([]float64, steps)
	i := 1
	for k := range y {
		at := turns[0] + float64(k)/per
		for i < len(turns)-3 && turns[i+1] <= at {
			i++
		}
		d := turns[i+1] - turns[i]
		f := 0.0
		if d > 0 {
			f = min(max((at-turns[i])/d, 0), 1)
		}
		a, b, c, e := x[i-1], x[i], x[i+1], x[i+2]
		y[k] = b + f/2*(c-a+f*(2*a-5*b+4*c-e+f*(3*(b-c)+e-a)))
	}
	return y
}

// average is the mean power over blocks of n, each with the same weight whatever its
// loudness, so that a recorder that turns its gain does no harm. each, where given, is
// told every block's power and by its share of the whole where the block is; a block
// that it refuses does not count.
func average(y []float64, n int, per float64, each func(at float64, power []float64) bool) *spectrum {
	fft := fourier.NewFFT(n)
	s := &spectrum{step: per / float64(n), abs: make([]float64, n/2)}
	buf := make([]float64, n)
	coeff := make([]complex128, n/2+1)
	one := make([]float64, n/2)
	blocks := 0
	for from := 0; from+n <= len(y); from += n / 2 {
		copy(buf, y[from:from+n])
		mean := 0.0
		for _, v := range buf {
			mean += v / float64(n)
		}
		for i := range buf {
			buf[i] -= mean
		}
		window.Hann(buf)
		fft.Coefficients(coeff, buf)
		sum := 1e-30
		for k := range one {
			one[k] = real(coeff[k])*real(coeff[k]) + imag(coeff[k])*imag(coeff[k])
			sum += one[k]
		}
		if each != nil && !each((float64(from)+float64(n)/2)/float64(len(y)), one) {
			continue
		}
		for k := range one {
			s.abs[k] += one[k] / sum
		}
		blocks++
	}
	if blocks == 0 {
		return nil
	}
	s.power = over(s.abs)
	s.grain = 1 / math.Sqrt(max(float64(blocks)*0.7, 1)) // half overlapping blocks count for seven tenths
	return s
}

// over is each step as a multiple of the median around it, a tenth of it to either side
// and at least twelve steps.
func over(p []float64) []float64 {
	out := make([]float64, len(p))
	var near []float64
	floor := make([]float64, len(p))
	for k := range p {
		half := max(k/10, 12)
		if k%max(half/6, 1) != 0 && k > 0 { // the floor changes slowly
			floor[k] = floor[k-1]
			continue
		}
		near = append(near[:0], p[max(k-half, 1):min(k+half+1, len(p))]...)
		slices.Sort(near)
		floor[k] = near[len(near)/2] + 1e-30
	}
	for k := range p {
		out[k] = p[k] / floor[k]
	}
	return out
}

// line is the highest power within a range of orders, and where.
func (s *spectrum) line(order, tol float64) (power, at float64) {
	from, to := int(math.Floor((order-tol)/s.step)), int(math.Ceil((order+tol)/s.step))
	for k := max(from, 2); k <= min(to, len(s.power)-2); k++ {
		if s.power[k] > power {
			power = s.power[k]
			// Between steps, by the parabola through three.
			a, b, c := s.power[k-1], s.power[k], s.power[k+1]
			d := 0.0
			if q := a - 2*b + c; q < 0 {
				d = (a - c) / (2 * q)
			}
			at = (float64(k) + min(max(d, -0.5), 0.5)) * s.step
		}
	}
	return power, at
}
