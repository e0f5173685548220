package sight

import (
	"math"

	"gonum.org/v1/gonum/dsp/fourier"
)

// unroller takes circles off a picture, n points each, and their spectra.
type unroller struct {
	n     int
	fft   *fourier.FFT
	sin   []float64
	cos   []float64
	ring  []float64
	flat  []float64
	coeff []complex128
}

func newUnroller(n int) *unroller {
	u := &unroller{n: n, fft: fourier.NewFFT(n), sin: make([]float64, n), cos: make([]float64, n),
		ring: make([]float64, n), flat: make([]float64, n),
		coeff: make([]complex128, n/2+1)}
	for i := range n {
		u.sin[i], u.cos[i] = math.Sincos(2 * math.Pi * float64(i) / float64(n))
	}
	return u
}

// circle reads the gray values along the circle of radius rho and says what share of
// it is in the picture. Points outside take the value of the last one inside.
func (u *unroller) circle(p *picture, l *lens, rho float64) float64 {
	in, last := 0, float32(0)
	for i := range u.n {
		c := u.cos[i]*l.ca + u.sin[i]*l.sa
		s := u.sin[i]*l.ca - u.cos[i]*l.sa
		x, y := l.placeOf(c, s, rho)
		v, ok := p.at(x, y)
		if ok {
			in++
			last = v
		}
		u.ring[i] = float64(last)
	}
	return float64(in) / float64(u.n)
}

// coarse is circle without reading between points: enough to look for where teeth are.
func (u *unroller) coarse(p *picture, l *lens, rho float64) float64 {
	in, last := 0, float32(0)
	for i := range u.n {
		px, py := rho*(u.cos[i]*l.ca+u.sin[i]*l.sa), rho*(u.sin[i]*l.ca-u.cos[i]*l.sa)
		k := 1 / (1 + l.d*px)
		v, w := (px+l.d)*k, l.q*py*k
		v, w = (v*l.ca-w*l.sa)*l.p.a, (v*l.sa+w*l.ca)*l.p.a*l.p.q
		x, y := int(l.p.x+v*l.c-w*l.s+0.5), int(l.p.y+v*l.s+w*l.c+0.5)
		if uint(x) < uint(p.w) && uint(y) < uint(p.h) {
			in++
			last = p.g[y*p.w+x]
		}
		u.ring[i] = float64(last)
	}
	return float64(in) / float64(u.n)
}

// flatten takes the local mean off a ring and divides by the local spread, over 2·half+1
// points, so that light from one side, oil and rust count no more than anything else.
func (u *unroller) flatten(half int) {
	n := u.n
	half = min(half, n/2-1)
	sum, square := 0.0, 0.0
	for k := -half; k <= half; k++ {
		v := u.ring[(k+n)%n]
		sum += v
		square += v * v
	}
	c := 1 / float64(2*half+1)
	in, out := half+1, n-half
	for i, v := range u.ring {
		m := sum * c
		u.flat[i] = (v - m) / (math.Sqrt(max(square*c-m*m, 0)) + leastContrast)
		if out >= n {
			out -= n
		}
		if in >= n {
			in -= n
		}
		a, b := u.ring[in], u.ring[out]
		sum += a - b
		square += a*a - b*b
		in++
		out++
	}
}

// leastContrast keeps noise on an even surface from being drawn up to full contrast.
const leastContrast = 12

// spectrum is the power of the flattened ring at each count per turn, times the count:
// gray values of anything fall off with about that, so that every count has the same chance.
func (u *unroller) spectrum(power []float64) float64 {
	u.fft.Coefficients(u.coeff, u.flat)
	total, square := 0.0, 0.0
	for _, v := range u.flat {
		square += v * v
	}
	square /= float64(u.n)
	for k := range power {
		c := u.coeff[k]
		power[k] = (real(c)*real(c) + imag(c)*imag(c)) * float64(k)
		if k >= leastTeeth-2 {
			total += power[k]
		}
	}
	return total * (1 + evenSurface/(square+1e-9))
}

// evenSurface is the spread squared of a flattened ring on which there is nothing to see.
const evenSurface = 0.15
