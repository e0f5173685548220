package live

import (
	"math"
	"sort"

	"gonum.org/v1/gonum/stat/distuv"
)

// fitted is one ratio through all events: y = a + r·x, where the events after a break
// have an a of their own, and after turning back another, for the play between.
type fitted struct {
	r, sigma float64
	freedom  float64
	events   int
	x        float64 // output turns that it rests on
	from, to float64 // s

	missed, doubled int // marks of the input, put right
	outMissed       int // marks of the output, put right
	outDoubled      int
	breaks          int
	noisy           bool
	apart           float64 // mean square of what is left of the events
	left            []left
	whole           float64 // from the first event to the last, nothing put right
	steps           steps
}

// Events are known to about their stated spread; so many of them would be needed to say
// otherwise.
const priorEvents = 6

// fit finds the ratio of events; false where there aren't two to compare.
func fit(list []event, in *path, out side) (fitted, bool) {
	if len(list) < 2 {
		return fitted{}, false
	}
	stride := strideOf(list, in, out)
	r, ok := slope(list, stride)
	if !ok || r < 1e-3 {
		return fitted{}, false
	}
	f := fitted{}
	var groups []int
	for range 2 {
		f = fitted{from: list[0].t, to: list[len(list)-1].t, events: len(list)}
		moved := append([]event(nil), list...)
		groups = f.part(moved, r, in.step, out.step())
		if !f.solve(moved, groups, r) {
			return fitted{}, false
		}
		r = f.r
	}
	if first, last := list[0], list[len(list)-1]; last.x != first.x {
		f.whole = (last.y - first.y) / (last.x - first.x)
	}
	f.biased(in, out)
	f.mended(in, out)
	f.noisy = float64(f.missed+f.doubled+f.outMissed+f.outDoubled+2*f.breaks) > max(3, 0.25*float64(len(list)))
	return f, true
}

// biased adds to the spread what grows from begin to end, as a gyroscope drifts, and
// shows in no event.
func (f *fitted) biased(in *path, out side) {
	v := in.bias * in.bias
	for _, p := range out.paths {
		by := f.r * out.share * p.bias
		v += by * by
	}
	if v > 0 && f.x > 0 {
		scale := in.drift * f.r
		for _, p := range out.paths {
			scale = math.Hypot(scale, p.drift*f.r*out.share)
		}
		f.sigma = math.Hypot(f.sigma, math.Hypot(math.Sqrt(v)/f.x, scale))
	}
}

// A mark put right or left out is so wrongly this often.
const mendedWrongly = 0.003

// mended adds to the spread that some of the marks put right weren't missed, nor those
// left out the same: each by itself moves the slope by at most one and a half marks over
// all turns.
func (f *fitted) mended(in *path, out side) {
	if f.x <= 0 {
		return
	}
	v := mendedWrongly * float64(in.missed+in.again+in.doubled+f.missed+f.doubled) * in.step * in.step
	for _, p := range out.paths {
		by := f.r * out.share * p.step
		v += mendedWrongly * float64(p.missed+p.again+p.doubled+f.outMissed+f.outDoubled) * by * by
	}
	f.sigma = math.Hypot(f.sigma, 1.5*math.Sqrt(v)/f.x)
}

// strideOf is how many events apart the same mark is back at the sensor.
func strideOf(list []event, in *path, out side) int {
	n := 0
	for _, p := range out.paths {
		if p.step > 0 {
			n += int(math.Round(1 / p.step))
		}
	}
	if in.step > 0 && (n == 0 || len(in.times) <= len(list)) {
		n = int(math.Round(1 / in.step))
	}
	if n == 0 {
		n = 16 // angles: a turn of moments
	}
	if len(list) <= n+1 {
		return 1
	}
	return n
}

// slope is the middle of the ratios from event to event.
func slope(list []event, stride int) (float64, bool) {
	var all []float64
	for i := stride; i < len(list); i++ {
		a, b := list[i-stride], list[i]
		if dx := b.x - a.x; math.Abs(dx) > 1e-9 {
			if q := (b.y - a.y) / dx; q > 0 {
				all = append(all, q)
			}
		}
	}
	if len(all) == 0 {
		if stride > 1 {
			return slope(list, 1)
		}
		return 0, false
	}
	return median(all), true
}

// part puts each event into a group that shares an intercept. From one event to the
// next the input must go r times as far as the output. Where it goes by whole marks
// otherwise, marks were missed or seen twice: they are put right, in place. Where it
// doesn't fit at all, a new group begins.
func (f *fitted) part(list []event, r, inStep, outStep float64) []int {
	groups := make([]int, len(list))
	rests := make([]float64, 0, len(list))
	last := newLines(list) // the event before
	for i, e := range list {
		if k := last[e.line()]; k >= 0 {
			rests = append(rests, math.Abs(e.y-list[k].y-r*(e.x-list[k].x)))
		}
		last[e.line()] = i
	}
	typical := math.Hypot(list[0].sy, r*list[0].sx) * math.Sqrt2
	n := float64(len(rests))
	seen := 1.4826 * median(rests)
	sigma := math.Sqrt((priorEvents*typical*typical + n*seen*seen) / (priorEvents + n))
	f.steps = resolved(sigma, inStep, r*outStep)
	steps := f.steps
	limit := steps.limit(sigma, max(inStep, r*outStep))
	shift := 0.0
	last.clear()
	own, groupsOf := newLines(list), 0
	for i := range list {
		list[i].y += shift
		e := list[i]
		if k := last[e.line()]; k >= 0 {
			rest := e.y - list[k].y - r*(e.x-list[k].x)
			if math.Abs(rest) > limit {
				by, ok := f.marks(rest, steps)
				if ok {
					shift -= by
					list[i].y -= by
				} else {
					f.breaks++
					own.clear()
					last.clear()
				}
			}
		}
		last[e.line()] = i
		if own[e.line()] < 0 {
			own[e.line()] = groupsOf
			groupsOf++
		}
		groups[i] = own[e.line()]
	}
	return groups
}

// line is what an event shares its intercept with, up to breaks.
func (e event) line() int {
	if e.way < 0 {
		return 2*e.part + 1
	}
	return 2 * e.part
}

// lines holds something for each line, −1 where there is nothing.
type lines []int

func newLines(list []event) lines {
	parts := 0
	for _, e := range list {
		parts = max(parts, e.part)
	}
	l := make(lines, 2*(parts+1))
	l.clear()
	return l
}

func (l lines) clear() {
	for i := range l {
		l[i] = -1
	}
}

// mostMarks at once are put right; more is a hole.
const mostMarks = 3

// steps are one mark of the input and of the output, in input turns, where the events
// lie close enough to tell one mark; else 0.
type steps struct{ in, out float64 }

// Spreads so many times under a mark tell it.
const tellsMark = 4

func resolved(sigma, in, out float64) steps {
	s := steps{in, out}
	if in < tellsMark*sigma {
		s.in = 0
	}
	if out < tellsMark*sigma {
		s.out = 0
	}
	return s
}

// least is the smaller of the steps that can be told.
func (s steps) least() float64 {
	if s.in == 0 || s.out > 0 && s.out < s.in {
		return s.out
	}
	return s.in
}

// limit is how far the shafts may be apart before something happened.
func (s steps) limit(sigma, most float64) float64 {
	if u := s.least(); u > 0 {
		return max(4*sigma, 0.4*u)
	}
	return max(6*sigma, 0.6*most)
}

// marks is which missed or doubled marks explain a rest, in input turns.
func (f *fitted) marks(rest float64, s steps) (by float64, ok bool) {
	best, count := 0.3*s.least(), (*int)(nil)
	n := 0
	for k := 1; k <= mostMarks; k++ {
		for _, c := range []struct {
			by    float64
			count *int
		}{
			{-float64(k) * s.in, &f.missed}, {float64(k) * s.in, &f.doubled},
			{float64(k) * s.out, &f.outMissed}, {-float64(k) * s.out, &f.outDoubled},
		} {
			if d := math.Abs(rest - c.by); c.by != 0 && d < best {
				best, by, count, n, ok = d, c.by, c.count, k, true
			}
		}
	}
	if ok {
		*count += n
	}
	return by, ok
}

// solve is least squares with an intercept for each group, in one pass: within a group
// the means fall out. Its spread joins what was stated of the events with what is seen
// of them, as so many more events.
func (f *fitted) solve(list []event, groups []int, about float64) bool {
	type sums struct{ n, x, y, least, most float64 }
	var g []sums
	for i, e := range list {
		for groups[i] >= len(g) {
			g = append(g, sums{least: math.Inf(1), most: math.Inf(-1)})
		}
		s := &g[groups[i]]
		s.n, s.x, s.y = s.n+1, s.x+e.x, s.y+e.y
		s.least, s.most = min(s.least, e.x), max(s.most, e.x)
	}
	sxx, sxy, stated := 0.0, 0.0, 0.0
	for i, e := range list {
		s := g[groups[i]]
		dx, dy := e.x-s.x/s.n, e.y-s.y/s.n
		sxx, sxy = sxx+dx*dx, sxy+dx*dy
		stated += (e.sy*e.sy + about*about*e.sx*e.sx) / float64(len(list))
	}
	if sxx < 1e-9 || sxy <= 0 {
		return false
	}
	f.r = sxy / sxx
	for _, s := range g {
		if s.n > 1 {
			f.x += s.most - s.least
		}
	}
	seen, kin, pairs := 0.0, 0.0, 0.0
	before := make([]float64, len(g))
	for i, e := range list {
		s := g[groups[i]]
		d := e.y - s.y/s.n - f.r*(e.x-s.x/s.n)
		if b := before[groups[i]]; b != 0 {
			kin, pairs = kin+b*d, pairs+1
		}
		before[groups[i]] = d
		f.left = append(f.left, left{e.t, d})
		seen += d * d
	}
	f.apart = seen / float64(len(list))
	free := max(0, float64(len(list)-len(g)-1))
	f.freedom = priorEvents + free
	variance := (priorEvents*stated + seen) / f.freedom
	f.sigma = math.Sqrt(variance / sxx * alike(kin, pairs, seen, float64(len(list)), f.x))
	return true
}

// alike is by how much the variance of a slope through n events over x turns grows where
// neighbors err together: those of one turn do, as their marks come back, and all do
// after a mark that nobody missed, which shows as a correlation ρ: (1 + ρ) ÷ (1 − ρ)
// (Bayley and Hammersley, 1946).
func alike(kin, pairs, seen, n, x float64) float64 {
	turn := 1.1 * max(1, min(n/max(1, x), 8))
	if seen <= 0 || pairs < 4 {
		return turn
	}
	rho := min(max(kin/pairs*n/seen+1/math.Sqrt(n), 0), 0.98)
	return max(turn, min((1+rho)/(1-rho), n))
}

// left is what is left of an event, in input turns.
type left struct{ t, by float64 }

// beforeAfter events on either side of a place tell whether something stepped there.
const beforeAfter = 6

// stepped is how likely something stepped by so many input turns at a time, as the events
// around tell; by itself it is even.
func (f *fitted) stepped(t, by float64) float64 {
	i := sort.Search(len(f.left), func(i int) bool { return f.left[i].t > t })
	a, b := max(0, i-beforeAfter), min(len(f.left), i+beforeAfter)
	if i-a < 2 || b-i < 2 {
		return 0.5
	}
	mean := func(l []left) float64 {
		sum := 0.0
		for _, x := range l {
			sum += x.by
		}
		return sum / float64(len(l))
	}
	d := mean(f.left[i:b]) - mean(f.left[a:i])
	// Neighbors err alike, so they tell less than so many would by themselves.
	v := 3 * f.apart * (1/float64(i-a) + 1/float64(b-i))
	odds := math.Exp(min((d*d-(d-by)*(d-by))/(2*max(v, 1e-12)), 50))
	return odds / (1 + odds)
}

// Breaks so many, and so large a share of the events, are no longer single mishaps: at
// marks that come as fast as they tremble, what is put right may be wrong one way.
const (
	manyBreaks = 8
	breakShare = 0.004
)

// range95 is the ratio's 95 % range. Where the events break often it reaches to what they
// say from first to last, and as far beyond.
func (f fitted) range95() (low, high float64) {
	reach := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: f.freedom}.Quantile(0.975) * f.sigma
	if f.breaks > manyBreaks && float64(f.breaks) > breakShare*float64(f.events) && f.whole > 0 {
		reach = math.Hypot(reach, 1.5*math.Abs(f.whole-f.r)+0.004*f.r)
	}
	return max(0, f.r-reach), f.r + reach
}
