package sight

import (
	"math"
	"math/cmplx"

	"gonum.org/v1/gonum/dsp/fourier"
)

// reading is what the circles around a found one tell when they are looked at together.
type reading struct {
	pose     pose
	count    int
	rhos     []float64
	weight   []float64  // of each circle in the pattern that all share, together 1
	seen     []float64  // around the gear, how much of the contrast is the pattern
	drift    [4]float64 // of the angle once and twice around, radians: cosine and sine
	rest     float64    // phase left over, radians
	lines    []float64  // share of the contrast at every count, drift taken off
	evidence float64
	opposed  float64
	line     line    // where counts were weighed
	chance   float64 // that its count is right
}

const (
	readRings = 25
	sectors   = 48
)

// reader looks at circles of a picture closely.
type reader struct {
	p    *picture
	u    *unroller
	back *fourier.CmplxFFT
	rhos []float64
	base float64 // the circle, if any, whose gray each point is compared with
	body []float64
}

func newReader(p *picture, points int) *reader {
	r := &reader{p: p, u: newUnroller(points), back: fourier.NewCmplxFFT(points)}
	for i := range readRings {
		r.rhos = append(r.rhos, 0.82+0.36*float64(i)/float64(readRings-1))
	}
	return r
}

// envelopes are the circles' patterns of about n teeth: around each, how strong and
// how far along the pattern is, over a width of a few teeth, and the mean square of all
// contrast there.
func (r *reader) envelopes(at pose, n int) (env [][]complex128, contrast [][]float64) {
	l := newLens(at)
	points := r.u.n
	r.lay(&l, nil, n)
	half := max(points*3/(4*n), 2)
	band := max(2, n/5)
	z := make([]complex128, points)
	square := make([]float64, points)
	for _, rho := range r.rhos {
		r.u.circle(r.p, &l, rho)
		r.compare()
		r.u.flatten(half)
		for i, v := range r.u.flat {
			square[i] = v*v + evenSurface
		}
		contrast = append(contrast, smooth(square, points/n))
		r.u.fft.Coefficients(r.u.coeff, r.u.flat)
		clear(z)
		for m := -band; m <= band; m++ {
			if k := n + m; k > 0 {
				w := 0.5 + 0.5*math.Cos(math.Pi*float64(m)/float64(band+1))
				z[(m+points)%points] = r.u.coeff[k] * complex(2*w/float64(points), 0)
			}
		}
		env = append(env, r.back.Sequence(nil, z))
	}
	return env, contrast
}

// smooth is the mean over 2·half+1 places, around.
func smooth(v []float64, half int) []float64 {
	n := len(v)
	out := make([]float64, n)
	sum := 0.0
	for k := -half; k <= half; k++ {
		sum += v[((k%n)+n)%n]
	}
	for i := range v {
		out[i] = sum / float64(2*half+1)
		sum += v[(i+half+1)%n] - v[((i-half)%n+n)%n]
	}
	return out
}

// together finds the one pattern that all circles share, each with its own phase and
// weight: the first singular vector of the envelopes, by power iteration.
func together(env [][]complex128) (s, c []complex128) {
	c = make([]complex128, len(env))
	strongest := -1.0
	for _, z := range env {
		if p := powerOf(z); p > strongest {
			strongest, s = p, append(s[:0], z...)
		}
	}
	for range 8 {
		norm := 1e-30
		for i, z := range env {
			var sum complex128
			for j := range z {
				sum += z[j] * cmplx.Conj(s[j])
			}
			c[i] = sum
			norm += real(sum)*real(sum) + imag(sum)*imag(sum)
		}
		norm = math.Sqrt(norm)
		clear(s)
		for i, z := range env {
			c[i] /= complex(norm, 0)
			k := cmplx.Conj(c[i])
			for j := range s {
				s[j] += k * z[j]
			}
		}
	}
	return s, c
}

func powerOf(z []complex128) float64 {
	p := 0.0
	for _, v := range z {
		p += real(v)*real(v) + imag(v)*imag(v)
	}
	return p
}

// read looks at the circle f with all circles around it and moves it to where the
// teeth are: the middle by how the spacing drifts, the ellipse by where, all around, the
// pattern is strongest.
func (r *reader) read(f found, passes int) reading {
	out := reading{pose: f.pose, count: f.count, rhos: r.rhos}
	for pass := range passes {
		env, contrast := r.envelopes(out.pose, out.count)
		s, c := together(env)
		out.weight = make([]float64, len(c))
		for i, v := range c {
			out.weight[i] = real(v)*real(v) + imag(v)*imag(v)
		}
		phases, radial := r.around(&out, env, contrast, s, c)
		out.judge(phases, pass == passes-1)
		if pass < passes-1 {
			out.pose = mend(out.pose, out.drift, radial)
		}
	}
	out.lines = r.spectrum(&out)
	out.weighEvidence(r.p)
	return out
}

// around divides the gear into sectors: in each, the phase of the pattern, how much of
// the contrast it is, and at which radius it is strongest.
func (r *reader) around(out *reading, env [][]complex128, contrast [][]float64, s,
	c []complex128) (phases []complex128, radial []float64) {
	points := r.u.n
	out.seen = make([]float64, sectors)
	phases = make([]complex128, sectors)
	radial = make([]float64, sectors)
	fourth := 0.0
	for _, w := range out.weight {
		fourth += w * w
	}
	for k := range sectors {
		own, total, at, weights := 0.0, 0.0, 0.0, 1e-12
		for j := k * points / sectors; j < (k+1)*points/sectors; j++ {
			phases[k] += s[j]
			p := real(s[j])*real(s[j]) + imag(s[j])*imag(s[j])
			own += p
			for i := range env {
				total += out.weight[i] * contrast[i][j]
				z := env[i][j]
				q := real(z)*real(z) + imag(z)*imag(z)
				at += q * r.rhos[i]
				weights += q
			}
		}
		out.seen[k] = min(max(own*fourth/2/(total+1e-12)-unseen, 0), 1)
		radial[k] = at / weights
	}
	return phases, radial
}

// unseen is what a pattern explains by chance of a place where there is none.
const unseen = 0.05

// judge finds the count whose even spacing, drifting little once and twice around, is
// nearest to the phases.
func (out *reading) judge(phases []complex128, careful bool) {
	best, near, count := math.Inf(-1), 2, out.count
	if careful {
		near += count / 12
	}
	for d := -near; d <= near; d++ {
		n := count + d
		if n < leastTeeth || n > mostTeeth {
			continue
		}
		a := align{weights: out.seen, teeth: float64(n)}
		if drift, fit, rest := a.fit(phases, d, careful); fit > best {
			best = fit
			out.count, out.drift, out.rest = n, drift, rest
		}
	}
}

// mend moves the middle so that the drift goes away and the ellipse to where the
// pattern is strongest.
func mend(p pose, drift [4]float64, radial []float64) pose {
	// The true angle of what is seen at φ is φ + D(φ). With the middle moved by d the
	// angle of what is seen at φ becomes φ + dₓ·sin φ − d_y·cos φ.
	var m [5]float64
	for k, v := range radial {
		phi := 2 * math.Pi * (float64(k) + 0.5) / float64(len(radial))
		s1, c1 := math.Sincos(phi)
		s2, c2 := math.Sincos(2 * phi)
		for i, g := range []float64{0.5, c1, s1, c2, s2} {
			m[i] += 2 / float64(len(radial)) * v * g
		}
	}
	limit := func(v, most float64) float64 { return min(max(v, -most), most) }
	b := p.a * p.q
	u, v := p.a*limit(m[1], 0.05), b*limit(m[2], 0.05)
	sn, cs := math.Sincos(p.turn)
	p.x, p.y = p.x+u*cs-v*sn, p.y+u*sn+v*cs
	grow := 1 + limit(m[0]-1, 0.05)
	p.a *= grow * (1 + limit(m[3], 0.04))
	p.q *= (1 - limit(m[3], 0.04)) / (1 + limit(m[3], 0.04))
	if p.q < 0.97 {
		// A shear of the unit circle turns the ellipse by shear·ab/(a²−b²), about.
		p.turn += limit(m[4], 0.04) * 2 * p.q / (1 - p.q*p.q) * 0.5
	}
	p.dx = limit(p.dx+drift[1], 0.35)
	p.dy = limit(p.dy-drift[0], 0.35)
	return p
}

// spectrum is the share of the contrast at every count per turn, with the drift taken off.
func (r *reader) spectrum(out *reading) []float64 {
	l := newLens(out.pose)
	n := r.u.n
	lines := make([]float64, n/2)
	r.lay(&l, out, out.count)
	for i, rho := range r.rhos {
		w := out.weight[i]
		if w < 0.01 {
			continue
		}
		r.warped(&l, out, rho)
		r.compare()
		r.u.flatten(max(n/max(out.count/2, 6)/2, 2))
		total := 0.0
		for _, v := range r.u.flat {
			total += v*v + evenSurface
		}
		r.u.fft.Coefficients(r.u.coeff, r.u.flat)
		for k := range lines {
			c := r.u.coeff[k]
			lines[k] += w * 2 * (real(c)*real(c) + imag(c)*imag(c)) / total / float64(n)
		}
	}
	return lines
}

func (out *reading) driftAt(phi float64) float64 {
	s1, c1 := math.Sincos(phi)
	s2, c2 := math.Sincos(2 * phi)
	return out.drift[0]*c1 + out.drift[1]*s1 + out.drift[2]*c2 + out.drift[3]*s2
}

// warped reads a circle with the drift taken off.
func (r *reader) warped(l *lens, out *reading, rho float64) {
	last := float32(0)
	for j := range r.u.n {
		phi := 2 * math.Pi * float64(j) / float64(r.u.n)
		x, y := l.place(phi-out.driftAt(phi), rho)
		if v, ok := r.p.at(x, y); ok {
			last = v
		}
		r.u.ring[j] = float64(last)
	}
}

// lay reads the circle that others are compared with: solid metal beside the teeth. A
// tooth is as bright as the metal it grows from; a gap is darker or brighter, and which
// of the two changes around the gear with the light.
func (r *reader) lay(l *lens, out *reading, n int) {
	r.body = nil
	if r.base == 0 {
		return
	}
	if out == nil {
		r.u.circle(r.p, l, r.base)
	} else {
		r.warped(l, out, r.base)
	}
	r.body = smooth(r.u.ring, max(r.u.n/(2*n), 1))
}

func (r *reader) compare() {
	if r.body != nil {
		for i, v := range r.body {
			r.u.ring[i] = math.Abs(r.u.ring[i] - v)
		}
	}
}

// band is the circles between which the pattern is strong.
func (out *reading) band() (from, to float64) {
	most := 0.0
	for _, w := range out.weight {
		most = max(most, w)
	}
	from = 0
	for i, w := range out.weight {
		if w > most/4 {
			if from == 0 {
				from = out.rhos[i]
			}
			to = out.rhos[i]
		}
	}
	return from, to
}

// weighEvidence is the logarithm of how much likelier the teeth make what is seen: the
// share of the contrast they explain, over so many teeth, less what a camera would have
// to do for it.
func (out *reading) weighEvidence(p *picture) {
	n := float64(out.count)
	line := -n * math.Log(1-min(out.lines[out.count], 0.999))
	out.evidence = line/(1+out.rest*out.rest*8) - out.strain(p)*line/(line+5)
}

// strain is how unlikely a place of the camera is, as a logarithm; what drift is left
// should be none.
func (out *reading) strain(p *picture) float64 {
	at := out.pose
	at.dx, at.dy = at.dx+out.drift[1], at.dy-out.drift[0]
	return camera(at, p) + (square(out.drift[2])+square(out.drift[3]))/square(0.008)/2
}
