package sight

import (
	"math"
	"math/cmplx"
)

// align lays evenly spaced teeth over the phases of a pattern.
type align struct {
	weights []float64
	teeth   float64
}

// What a camera can do to the spacing, one sigma of the angle in radians: once around,
// from where it stands; twice around, from the ellipse. And the noise of one sector's
// phase in radians.
const (
	driftOnce  = 0.05
	driftTwice = 0.012
	phaseNoise = 0.5
)

// fit is the drift for which teeth more than the envelope's own count by d are nearest
// to the phases, how well they fit as a logarithm, and what is left, in radians.
func (a align) fit(phases []complex128, d int, careful bool) (drift [4]float64, fit, rest float64) {
	unit := make([]complex128, len(phases))
	total := 1e-9
	for k, v := range phases {
		if h := cmplx.Abs(v); h > 0 {
			unit[k] = v / complex(h, 0) * cmplx.Rect(1, -float64(d)*a.angle(k))
		}
		total += a.weights[k]
	}
	starts := [][4]float64{{}}
	if careful {
		for k := range 5 {
			s, c := math.Sincos(float64(k) * 2 * math.Pi / 5)
			starts = append(starts, [4]float64{1.8 * c, 1.8 * s})
		}
	}
	fit = math.Inf(-1)
	for _, start := range starts {
		x, c := a.settle(unit, start)
		f, left := 0.0, 0.0
		for k := range unit {
			e := cmplx.Phase(unit[k] * cmplx.Rect(1, -c-a.at(x, k)))
			f += a.weights[k] * likelihood(e)
			left += a.weights[k] * (1 - math.Cos(2*e)) / 2
		}
		for i := range x {
			f -= x[i] * x[i] / 2 * a.hold(i)
		}
		if f > fit {
			fit, rest = f, math.Sqrt(left/total)
			for i := range x {
				drift[i] = x[i] / a.teeth
			}
		}
	}
	return drift, fit, rest
}

// likelihood is the logarithm of that of a phase that is off by e radians. Where the
// light changes sides, gaps are bright and teeth dark: half a tooth off.
func likelihood(e float64) float64 {
	const k = 1 / (phaseNoise * phaseNoise)
	return math.Log((1-turnedShare)*math.Exp(k*(math.Cos(e)-1)) + turnedShare*math.Exp(k*(-math.Cos(e)-1)) + 0.01)
}

// nearer takes half a tooth off a phase that is rather that, and its weight by how sure
// it is that it belongs to either.
func nearer(e, w float64) (float64, float64) {
	const k = 1 / (phaseNoise * phaseNoise)
	straight := (1 - turnedShare) * math.Exp(k*(math.Cos(e)-1))
	turned := turnedShare * math.Exp(k*(-math.Cos(e)-1))
	if turned > straight {
		if e > 0 {
			e -= math.Pi
		} else {
			e += math.Pi
		}
		straight, turned = turned, straight
	}
	return e, w * (straight - turned) / (straight + turned + 0.01)
}

// turnedShare is how often light and dark have changed places.
const turnedShare = 0.12

func (a align) angle(k int) float64 {
	return 2 * math.Pi * (float64(k) + 0.5) / float64(len(a.weights))
}

func (a align) at(x [4]float64, k int) float64 {
	s1, c1 := math.Sincos(a.angle(k))
	return x[0]*c1 + x[1]*s1 + x[2]*(c1*c1-s1*s1) + x[3]*2*s1*c1
}

func (a align) hold(i int) float64 {
	sd := driftOnce * a.teeth
	if i >= 2 {
		sd = driftTwice * a.teeth
	}
	return 1 / (sd * sd)
}

// settle is Gauss and Newton's fit of a constant and four drifts, radians of phase.
func (a align) settle(unit []complex128, x [4]float64) ([4]float64, float64) {
	var z complex128
	for k := range unit {
		z += unit[k] * complex(a.weights[k], 0) * cmplx.Rect(1, -a.at(x, k))
	}
	c := cmplx.Phase(z)
	for range 5 {
		var m [5][6]float64
		for k := range unit {
			if a.weights[k] == 0 {
				continue
			}
			s1, c1 := math.Sincos(a.angle(k))
			g := [5]float64{1, c1, s1, c1*c1 - s1*s1, 2 * s1 * c1}
			e := cmplx.Phase(unit[k] * cmplx.Rect(1, -c-(x[0]*g[1]+x[1]*g[2]+x[2]*g[3]+x[3]*g[4])))
			w := a.weights[k] / (phaseNoise * phaseNoise)
			e, w = nearer(e, w)
			for i := range 5 {
				for j := range 5 {
					m[i][j] += w * g[i] * g[j]
				}
				m[i][5] += w * g[i] * e
			}
		}
		for i := range 4 {
			m[i+1][i+1] += a.hold(i)
			m[i+1][5] -= a.hold(i) * x[i]
		}
		step := solve(m)
		c += step[0]
		for i := range x {
			x[i] += step[i+1]
		}
	}
	return x, c
}

// solve is Gauss and Jordan's elimination of five equations.
func solve(a [5][6]float64) (x [5]float64) {
	for i := range 5 {
		p := i
		for r := i + 1; r < 5; r++ {
			if math.Abs(a[r][i]) > math.Abs(a[p][i]) {
				p = r
			}
		}
		a[i], a[p] = a[p], a[i]
		if math.Abs(a[i][i]) < 1e-12 {
			return [5]float64{}
		}
		for r := range 5 {
			if r == i {
				continue
			}
			f := a[r][i] / a[i][i]
			for k := i; k < 6; k++ {
				a[r][k] -= f * a[i][k]
			}
		}
	}
	for i := range x {
		x[i] = a[i][5] / a[i][i]
	}
	return x
}
