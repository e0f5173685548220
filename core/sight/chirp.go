package sight

import (
	"math"
	"math/cmplx"
)

// chirps are patterns of n teeth whose spacing drifts once around, as it does where the
// gear's middle is not where the circle was laid about: e^{in(φ + eₓ·sin φ − e_y·cos φ)}.
// Their spectrum is that of a phase modulated tone (Jacobi and Anger): Bessel functions
// of n·e at n−m … n+m. The drift is looked at in steps of a bit more than a radian.
type chirps struct {
	drifts []drift
}

type drift struct {
	x, y  float64 // n·e
	lines [2*chirpReach + 1]complex128
}

const (
	chirpReach = 10
	chirpStep  = 1.1
	chirpMost  = 7.8
)

var allChirps = newChirps()

func newChirps() *chirps {
	c := &chirps{}
	const k = 7 // chirpMost / chirpStep
	for i := -k; i <= k; i++ {
		for j := -k; j <= k; j++ {
			x, y := float64(i)*chirpStep, float64(j)*chirpStep
			r, at := math.Hypot(x, y), math.Atan2(y, x)
			if r > chirpMost {
				continue
			}
			d := drift{x: x, y: y}
			for m := -chirpReach; m <= chirpReach; m++ {
				// e^{ir·sin(φ−α)} = Σ J_m(r)·e^{im(φ−α)}
				d.lines[m+chirpReach] = complex(math.Jn(m, r), 0) * cmplx.Rect(1, float64(m)*at) // conjugate
			}
			c.drifts = append(c.drifts, d)
		}
	}
	return c
}

// best is the count and drift for which all rings' spectra speak most.
func (c *chirps) best(rings [][]complex128, totals []float64, from, to int, score func(r float64,
	n int) float64) (n int, d drift, best float64) {
	for k := from; k <= to; k++ {
		for _, t := range c.drifts {
			sum := 0.0
			for i, ring := range rings {
				var z complex128
				for m, v := range t.lines {
					if j := k + m - chirpReach; j > 0 && j < len(ring) {
						z += v * ring[j]
					}
				}
				sum += (real(z)*real(z) + imag(z)*imag(z)) * float64(k) / totals[i]
			}
			if v := score(sum/float64(len(rings)), k); v > best {
				n, d, best = k, t, v
			}
		}
	}
	return n, d, best
}
