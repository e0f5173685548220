package sight

import (
	"math"
	"math/cmplx"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

// The map takes the unit circle to the ellipse, whatever the middle, and the gear's
// middle to where it is said to be.
func TestLens(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for range 50 {
		p := pose{x: 300, y: 200, a: 150, q: 0.5 + 0.5*r.Float64(), turn: 3 * r.Float64(),
			dx: 0.4*r.Float64() - 0.2, dy: 0.4*r.Float64() - 0.2}
		l := newLens(p)
		s, c := math.Sincos(p.turn)
		in := func(x, y float64) (u, v float64) {
			x, y = x-p.x, y-p.y
			return (x*c + y*s) / p.a, (y*c - x*s) / p.a / p.q
		}
		for k := range 12 {
			u, v := in(l.place(float64(k)/2, 1))
			if math.Abs(math.Hypot(u, v)-1) > 1e-9 {
				t.Fatalf("%+v: the rim is at %g", p, math.Hypot(u, v))
			}
		}
		if u, v := in(l.place(1, 0)); math.Abs(u-p.dx) > 1e-9 || math.Abs(v-p.dy) > 1e-9 {
			t.Fatalf("%+v: the middle is at %g, %g", p, u, v)
		}
	}
}

// A pattern whose spacing drifts is one line among the chirps, at its own count.
func TestChirps(t *testing.T) {
	const points = 256
	u := newUnroller(points)
	power := make([]float64, 120)
	for _, n := range []int{11, 24, 41} {
		for i := range u.ring {
			phi := 2 * math.Pi * float64(i) / points
			u.ring[i] = 128 + 60*math.Cos(float64(n)*(phi+0.07*math.Sin(phi)-0.05*math.Cos(phi)))
		}
		u.flatten(points / 14)
		total := u.spectrum(power)
		got, d, _ := allChirps.best([][]complex128{u.coeff}, []float64{total}, n-4, n+4, lineScore)
		if got != n || math.Hypot(d.x/float64(n)-0.07, d.y/float64(n)-0.05) > 1.2*chirpStep/float64(n) {
			t.Errorf("%d teeth: %d, drift %.3f %.3f", n, got, d.x/float64(n), d.y/float64(n))
		}
	}
}

// Phases of evenly spaced teeth with a drift are followed; where light and dark change
// places they are half a tooth off, and the count is the same.
func TestAlign(t *testing.T) {
	for _, turned := range []bool{false, true} {
		a := align{weights: make([]float64, sectors), teeth: 40}
		phases := make([]complex128, sectors)
		for k := range phases {
			phi := a.angle(k)
			phase := 2*phi + 40*(0.03*math.Cos(phi)-0.02*math.Sin(phi))
			if turned && k > 20 && k < 27 {
				phase += math.Pi
			}
			a.weights[k], phases[k] = 1, cmplx.Rect(1, phase)
		}
		best, at := math.Inf(-1), 0
		var drift [4]float64
		for d := -4; d <= 4; d++ {
			if x, fit, _ := a.fit(phases, d, true); fit > best {
				best, at, drift = fit, d, x
			}
		}
		if at != 2 || math.Abs(drift[0]-0.03) > 0.004 || math.Abs(drift[1]+0.02) > 0.004 {
			t.Errorf("turned %v: %d teeth more, drift %.3f", turned, at, drift)
		}
	}
}

// Circles that share a pattern give it back with their own phases and weights.
func TestTogether(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	pattern := make([]complex128, 64)
	for i := range pattern {
		pattern[i] = cmplx.Rect(1+0.5*r.Float64(), float64(i)/9)
	}
	weights := []complex128{cmplx.Rect(0.2, 1), cmplx.Rect(1, 2), cmplx.Rect(0.6, -2)}
	var env [][]complex128
	for _, w := range weights {
		z := make([]complex128, len(pattern))
		for i, v := range pattern {
			z[i] = w * v
		}
		env = append(env, z)
	}
	_, c := together(env)
	for i := range c {
		if got := c[i] / c[1]; cmplx.Abs(got-weights[i]/weights[1]) > 1e-9 {
			t.Errorf("circle %d: %v", i, got)
		}
	}
}

func TestSmooth(t *testing.T) {
	v := []float64{5, 0, 0, 0, 0, 0, 10, 0}
	want := []float64{5. / 3, 5. / 3, 0, 0, 0, 10. / 3, 10. / 3, 5}
	for i, got := range smooth(v, 1) {
		if math.Abs(got-want[i]) > 1e-12 {
			t.Errorf("%d: %g, not %g", i, got, want[i])
		}
	}
}

// Covered teeth are runs, also across the first one; one dirty sector is no cap.
func TestArcs(t *testing.T) {
	covered := make([]bool, 12)
	for _, k := range []int{11, 0, 1, 5} {
		covered[k] = true
	}
	got := arcs(covered)
	if len(got) != 2 || got[0].Teeth != 1 || got[1].Teeth != 3 || got[1].From != 315 || got[1].To != 405 {
		t.Errorf("%+v", got)
	}
	all := make([]bool, 9)
	for i := range all {
		all[i] = true
	}
	if got := arcs(all); len(got) != 0 {
		t.Errorf("nothing is seen, yet %+v", got)
	}
	hidden := []bool{false, true, false, false, true, true, false}
	alone(hidden)
	if hidden[1] || !hidden[4] || !hidden[5] {
		t.Errorf("%v", hidden)
	}
}

// Holes inside other teeth, and both flanks of each tooth, are known for that.
func TestFeatures(t *testing.T) {
	p := &picture{w: 640, h: 480}
	of := func(count int, size, at float64, share float64) reading {
		return reading{pose: pose{x: at, y: 240, a: size, q: 1}, count: count, line: line{share, share, share, share},
			seen: slices.Repeat([]float64{1}, sectors)}
	}
	all := []reading{of(30, 90, 320, 0.3), of(9, 50, 322, 0.6), of(60, 90, 321, 0.2), of(9, 50, 90, 0.6)}
	const inside, outside, half = 7, 8, 9
	for i, want := range [][3]bool{{false, true, false}, {true, false, false}, {false, true, true}, {false, false,
		false}} {
		x := all[i].features(all, p)
		for k, of := range []int{inside, outside, half} {
			if (x[of] > 0) != want[k] {
				t.Errorf("reading %d: feature %d is %g", i, of, x[of])
			}
		}
	}
	list := choose(slices.Clone(all), p)
	sum := 0.0
	for i, f := range list {
		sum += f.chance
		if i > 0 && (f.count == list[i-1].count || f.chance > list[i-1].chance) {
			t.Errorf("%d comes after %d", f.count, list[i-1].count)
		}
	}
	if len(list) != 3 || sum > 1 {
		t.Errorf("%d counts, chances of %g", len(list), sum)
	}
}

// Two counts that share the chance are what can't be told apart.
func TestCloseCounts(t *testing.T) {
	sharp := &picture{g: make([]float32, 200*200), w: 200, h: 200, scale: 1}
	for i := range sharp.g {
		sharp.g[i] = float32(i % 7 / 4 * 200)
	}
	a := &Answer{Teeth: 51, Chance: 0.45, Others: []Count{{52, 0.3}}, Why: Why{Seen: 0.9, Evidence: 30}}
	a.block(sharp)
	a.say()
	if a.Blocked != CloseCounts || a.State != Cant || !strings.HasPrefix(a.Sentence, "Can't tell 51 from 52 teeth") {
		t.Errorf("%s: %s", a.Blocked, a.Sentence)
	}
	a = &Answer{Teeth: 51, Chance: 0.2, Others: []Count{{12, 0.1}}, Why: Why{Seen: 0.9, Evidence: 30}}
	if a.block(sharp); a.Blocked != NoTeeth {
		t.Errorf("%s", a.Blocked)
	}
}

// A pose that a camera gives is likelier than the same one with the middle to the side.
func TestCamera(t *testing.T) {
	p := &picture{w: 800, h: 600}
	const a, tilt = 200, 0.5
	off := a / (focal * 800) * math.Sin(tilt)
	for _, side := range []float64{1, -1} {
		at := pose{x: 400, y: 300, a: a, q: math.Cos(tilt), turn: 0.7, dy: side * off}
		if v := camera(at, p); v > 0.05 {
			t.Errorf("middle %g off: %g", at.dy, v)
		}
		at.dx = 0.06
		if v := camera(at, p); v < 3 {
			t.Errorf("middle aside: %g", v)
		}
	}
}

// A climb finds a pose also where the tilt turns to another side on the way, and its
// figures stay within a camera's.
func TestClimb(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for range 20 {
		want := pose{x: 300, y: 200, a: 120, q: 0.85 + 0.15*r.Float64(), turn: 3 * r.Float64(), dx: 0.04, dy: -0.03}
		marks := func(p pose) (out [][2]float64) {
			l := newLens(p)
			for k := range 24 { // in the picture's own frame
				x, y := l.place(2*math.Pi*float64(k)/24-p.turn, 1)
				out = append(out, [2]float64{x, y})
			}
			return out
		}
		to := marks(want)
		start := pose{x: 306, y: 195, a: 112, q: 0.97, turn: 3 * r.Float64()}
		got := climb(found{pose: start, count: 20}, 0.03, 900, func(f found) found {
			f.score = 0
			for i, m := range marks(f.pose) {
				f.score -= square(m[0]-to[i][0]) + square(m[1]-to[i][1])
			}
			return f
		})
		if got.score < -24*square(0.5) {
			t.Errorf("from %+v: %+v, not %+v (%.2f)", start, got.pose, want, got.score)
		}
		if p := got.pose; p.q > 1 || p.q < 0.39 || math.Abs(p.dx) > mostOff || math.Abs(p.dy) > mostOff {
			t.Errorf("no camera sees %+v", p)
		}
	}
}

// Even teeth are their own count's, whatever is next to it, and where light and dark
// change places.
func TestContested(t *testing.T) {
	const n = 33
	at := pose{x: 200, y: 150, a: 110, q: 0.96, turn: 0.4}
	for _, turned := range []bool{false, true} {
		p := &picture{g: make([]float32, 400*300), w: 400, h: 300, scale: 1}
		s, c := math.Sincos(at.turn)
		for y := range p.h {
			for x := range p.w {
				dx, dy := float64(x)-at.x, float64(y)-at.y
				u, v := (dx*c+dy*s)/at.a, (dy*c-dx*s)/at.a/at.q
				rho, phi := math.Hypot(u, v), math.Atan2(v, u)
				gray := 140.0
				if rho > 0.92 && rho < 1.06 {
					gap := math.Cos(n * phi)
					if turned && phi > 0.5 && phi < 2.2 {
						gray += 50 * max(gap, 0)
					} else {
						gray -= 50 * max(gap, 0)
					}
				} else if rho >= 1.06 {
					gray = 70
				}
				p.g[y*p.w+x] = float32(gray)
			}
		}
		f := newReader(p, points).read(found{pose: at, count: n}, 1)
		list := contested(p, f, 3)
		if list[0].count != n || !turned && list[0].evidence < 1.15*list[1].evidence {
			t.Errorf("turned %v: %d at %.1f, then %d at %.1f", turned, list[0].count, list[0].evidence, list[1].count,
				list[1].evidence)
		}
		if sum := list[0].line; sum[1] < 0.1 {
			t.Errorf("turned %v: edges are %.2f of what is seen", turned, sum[1])
		}
	}
}
