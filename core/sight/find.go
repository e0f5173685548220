package sight

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/optimize"
)

const (
	leastTeeth = 6
	mostTeeth  = 110
	seeds      = 90 // circles that are looked at more closely than the first time
	steps      = 40 // evaluations to move one
)

// found is a circle that may carry teeth: where, about how many, and how much the
// pattern speaks for it.
type found struct {
	pose  pose
	count int
	score float64
}

// scorer says how much a periodic pattern speaks for circles at given shares of a
// pose's radius: the share of the power within a narrow band of counts, all circles
// together, as the logarithm of the likelihood that the band is a line.
type scorer struct {
	u      *unroller
	p      *picture
	rhos   []float64
	power  []float64
	sum    []float64
	wide   float64 // a band is 1/wide of a count to either side, and one
	coarse bool    // points are not read between
	enough float64 // a first circle below this is not followed by a second
}

func newScorer(p *picture, n int, rhos []float64) *scorer {
	return &scorer{u: newUnroller(n), p: p, rhos: rhos, power: make([]float64, min(n*3/8, mostTeeth*5/4)),
		sum: make([]float64, n/2)}
}

// spread is by how many counts near-by sight spreads the line of n teeth to either side.
func (s *scorer) spread(n int) int { return 1 + int(float64(n)/s.wide) }

// score is that of the best band around a pose, and its count.
func (s *scorer) score(at pose) (float64, int) {
	in, early := s.read(at)
	if early || in == 0 {
		return 0, 0
	}
	return s.bands(in, float64(len(s.rhos)))
}

// read sums the spectra of a pose's circles, each as shares of its own power. It answers
// with the share of the circles that is in the picture, 0 where that is too little, and
// whether the first circle was not worth a second.
func (s *scorer) read(at pose) (in float64, early bool) {
	l := newLens(at)
	clear(s.sum)
	in = 1
	for i, rho := range s.rhos {
		if s.coarse {
			in = min(in, s.u.coarse(s.p, &l, rho))
		} else {
			in = min(in, s.u.circle(s.p, &l, rho))
		}
		if in < 0.6 {
			return 0, false
		}
		s.u.flatten(s.u.n / 14)
		total := s.u.spectrum(s.power) + 1e-6
		for k, v := range s.power {
			s.sum[k] += v / total
		}
		if s.coarse && i == 0 {
			if v, _ := s.bands(in, 1); v < s.enough {
				return in, true
			}
		}
	}
	return in, false
}

// bands is the band of counts that holds most of the power of so many rings.
func (s *scorer) bands(in, rings float64) (best float64, count int) {
	top := len(s.power)
	for k := leastTeeth; k < min(top-10, mostTeeth); k++ {
		d := s.spread(k)
		sum := 0.0
		for j := k - d; j <= k+d; j++ {
			sum += s.sum[j]
		}
		free := float64(2*d+1) / float64(top-leastTeeth)
		r := (sum/rings - free) / (1 - free)
		if r <= 0 {
			continue
		}
		if v := -math.Log(1-min(r, 0.999)) * math.Sqrt(float64(k)) * in; v > best {
			best, count = v, k
		}
	}
	return best, count
}

// shapes are the circles seen straight on and tilted to every side, far or near enough
// that the middle is seen off the ellipse's own, toward the far side of it.
var shapes = func() []pose {
	out := []pose{{q: 1}}
	for _, tilted := range []struct{ q, d float64 }{{0.85, 0.1}, {0.64, 0.12}} {
		for t := range 4 {
			for _, side := range []float64{1, -1} {
				out = append(out, pose{q: tilted.q, turn: float64(t) * math.Pi / 4, dy: side * tilted.d})
			}
		}
	}
	return out
}()

// search looks over the whole picture for circles with a pattern, at every place, size
// and tilt, on a small copy; the best few that differ are what it answers with.
func search(p *picture, at where) []found {
	s := newScorer(p, 256, []float64{0.94, 1})
	s.wide, s.coarse = 12, true
	var all []found
	for _, c := range at.centers(p) {
		for _, r := range at.radii(p) {
			for _, shape := range shapes {
				shape.x, shape.y, shape.a = c[0], c[1], r/math.Sqrt(shape.q)
				if v, n := s.score(shape); v > s.enough {
					all = append(all, found{shape, n, v})
					s.enough = max(s.enough, v/4)
				}
			}
		}
	}
	slices.SortFunc(all, byScore)
	all = apart(all, 0.08, seeds)
	s = newScorer(p, 256, []float64{0.93, 0.98})
	for _, wide := range []float64{14, 40} {
		s.wide = wide
		for i := range all {
			all[i] = climb(all[i], 0.05, steps, func(f found) found {
				f.score, f.count = s.score(f.pose)
				return f
			})
		}
		slices.SortFunc(all, byScore)
		all = apart(all, 0.03, len(all)*2/3)
	}
	for i := range all {
		all[i] = s.sharpen(all[i])
	}
	slices.SortFunc(all, byScore)
	return apart(all, 0.05, 12)
}

func byScore(a, b found) int { return cmp.Compare(b.score, a.score) }

func lineScore(r float64, n int) float64 {
	return -math.Log(1-min(r, 0.999)) * math.Pow(float64(n), 0.75)
}

// sharpen finds the count and the middle for which a circle's pattern is one line.
func (s *scorer) sharpen(f found) found {
	l := newLens(f.pose)
	rings, totals := [][]complex128{}, []float64{}
	for _, rho := range s.rhos {
		s.u.circle(s.p, &l, rho)
		s.u.flatten(s.u.n / 14)
		totals = append(totals, s.u.spectrum(s.power)+1e-6)
		rings = append(rings, slices.Clone(s.u.coeff))
	}
	d := 2 + f.count/14
	n, t, v := allChirps.best(rings, totals, max(leastTeeth, f.count-d), f.count+d, lineScore)
	if n == 0 {
		return found{}
	}
	f.count, f.score = n, v
	e := [2]float64{t.x / float64(n), t.y / float64(n)}
	f.pose.dx, f.pose.dy = f.pose.dx+e[0], f.pose.dy+e[1]
	return f
}

// sharp is the score of the best line around a pose, and its count.
func (s *scorer) sharp(at pose) (best float64, count int) {
	in, _ := s.read(at)
	if in == 0 {
		return 0, 0
	}
	for k := leastTeeth; k < mostTeeth; k++ {
		if v := lineScore(s.sum[k]/float64(len(s.rhos)), k) * in; v > best {
			best, count = v, k
		}
	}
	return best, count
}

// apart keeps the best of circles that are nearly the same.
func apart(all []found, near float64, most int) []found {
	var out []found
	for _, f := range all {
		same := slices.ContainsFunc(out, func(o found) bool {
			size := max(f.pose.size(), o.pose.size())
			return math.Hypot(f.pose.x-o.pose.x, f.pose.y-o.pose.y) < near*size &&
				math.Abs(f.pose.size()-o.pose.size()) < near*size
		})
		if !same {
			if out = append(out, f); len(out) == most {
				break
			}
		}
	}
	return out
}

// climb moves a circle to where the score is highest (Nelder and Mead). Its seven figures
// are smooth also where the circle is seen straight on, where an ellipse's turn is none:
// place, size, tilt as a vector of twice the turn, and the middle in the picture's frame.
func climb(f found, step float64, evaluations int, score func(found) found) found {
	l, p := f.pose.a, f.pose
	size, tilt := p.size(), -math.Log(min(p.q, 1))
	t2s, t2c := math.Sincos(2 * p.turn)
	ts, tc := math.Sincos(p.turn)
	mx, my := p.dx*tc-p.dy*ts, p.dx*ts+p.dy*tc
	to := func(x []float64) found {
		f := f
		e1, e2 := tilt*t2c+x[3], tilt*t2s+x[4]
		at := pose{x: p.x + x[0]*l, y: p.y + x[1]*l, q: math.Exp(-min(math.Hypot(e1, e2), mostTilt)),
			turn: math.Atan2(e2, e1) / 2}
		at.a = size * math.Exp(x[2]) / math.Sqrt(at.q)
		s, c := math.Sincos(at.turn)
		u, v := mx+x[5], my+x[6]
		at.dx, at.dy = min(max(u*c+v*s, -mostOff), mostOff), min(max(v*c-u*s, -mostOff), mostOff)
		f.pose = at
		return score(f)
	}
	x0 := make([]float64, 7)
	result, _ := optimize.Minimize(optimize.Problem{Func: func(x []float64) float64 { return -to(x).score }}, x0,
		&optimize.Settings{FuncEvaluations: evaluations}, &optimize.NelderMead{SimplexSize: step})
	if result == nil || result.X == nil {
		return f
	}
	return to(result.X)
}

const (
	mostTilt = 0.92 // the logarithm of the long axis over the short one
	mostOff  = 0.3
)

// where is what a person pointed at: a place in the middle of the gear, or a box around
// it; in points of the photo.
type where struct {
	tap *Point
	box *Box
}

// centers are the places at which a gear's middle is looked for.
func (w where) centers(p *picture) [][2]float64 {
	var out [][2]float64
	side := float64(min(p.w, p.h))
	step := side * 0.055
	x0, x1, y0, y1 := side*0.2, float64(p.w)-side*0.2, side*0.2, float64(p.h)-side*0.2
	if w.box != nil {
		x, y := (w.box.Left+w.box.Right)/2/p.scale, (w.box.Top+w.box.Bottom)/2/p.scale
		r := max(w.box.Right-w.box.Left, w.box.Bottom-w.box.Top) / 2 / p.scale
		x0, x1, y0, y1, step = x-r*0.3, x+r*0.3, y-r*0.3, y+r*0.3, max(r*0.12, 2)
	}
	if w.tap != nil {
		x, y := w.tap.X/p.scale, w.tap.Y/p.scale
		x0, x1, y0, y1 = x-2*step, x+2*step, y-2*step, y+2*step
	}
	for y := y0; y <= y1; y += step {
		for x := x0; x <= x1; x += step {
			out = append(out, [2]float64{x, y})
		}
	}
	return out
}

// radii are the sizes at which it is looked for.
func (w where) radii(p *picture) []float64 {
	side := float64(min(p.w, p.h))
	from, to := side*0.13, side*0.52
	if w.box != nil {
		r := max(w.box.Right-w.box.Left, w.box.Bottom-w.box.Top) / 2 / p.scale
		from, to = r*0.6, r*1.05
	}
	var out []float64
	for r := from; r < to; r *= 1.13 {
		out = append(out, r)
	}
	return out
}
