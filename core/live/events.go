package live

import (
	"math"
	"slices"
)

// event is a moment at which both sides of the machine are known: x turns of the
// output (of an axle the mean of its wheels), y turns of the input.
type event struct {
	t, x, y float64
	sx, sy  float64 // standard deviations
	way     int
	part    int // a stretch by itself, which shares no intercept with others
}

// side is what stands across from the input: paths that turn the output by a share
// each. An open differential averages its wheels: half each.
type side struct {
	paths []*path
	share float64
}

// step is how far the output goes by one mark of its coarsest path.
func (s side) step() float64 {
	most := 0.0
	for _, p := range s.paths {
		most = max(most, p.step)
	}
	return most * s.share
}

// points are the moments of a side's paths by time; thinned where an angle is told often.
func (s side) points() []moment {
	var out []moment
	for k, p := range s.paths {
		out = merge(out, p.moments(k))
	}
	return out
}

// merge joins two lists that rise; of moments at one time the first list's come first.
func merge(a, b []moment) []moment {
	if len(a) == 0 {
		return b
	}
	out := make([]moment, 0, len(a)+len(b))
	for len(a) > 0 && len(b) > 0 {
		if b[0].t < a[0].t {
			out, b = append(out, b[0]), b[1:]
		} else {
			out, a = append(out, a[0]), a[1:]
		}
	}
	return append(append(out, a...), b...)
}

// moment is a point of a path.
type moment struct {
	t    float64
	path int
	at   int
}

// A path of angles gives a moment each so many turns.
const angleEvery = 1.0 / 16

func (p *path) moments(k int) []moment {
	out := make([]moment, 0, len(p.times))
	last := math.Inf(-1)
	for i, t := range p.times {
		if p.step == 0 && math.Abs(p.turns[i]-last) < angleEvery {
			continue
		}
		last = p.turns[i]
		out = append(out, moment{t, k, i})
	}
	return out
}

// meet finds the events: at the points of the side that has fewer, where the other is
// known too. The input turns evenly with the output, whatever the hand does, so a wheel
// is placed between its marks by the input's turns, not by time.
func meet(in *path, out side) []event {
	few, own := out.points(), in.moments(0)
	atInput := len(own) < len(few) || out.angles() && in.step > 0
	if atInput {
		few = own
	}
	look := newLook(in, out.paths)
	list := make([]event, 0, len(few))
	for _, m := range few {
		e := event{t: m.t, way: 1}
		var known bool
		if e.y, e.sy, known = look.input(m.t); !known {
			continue
		}
		vx := 0.0
		for k, p := range out.paths {
			var x, s float64
			if !atInput && k == m.path {
				x, s = p.turns[m.at], p.spread
			} else if x, s, known = look.output(k, m.t, e.y); !known {
				break
			}
			e.x += x * out.share
			vx += s * s * out.share * out.share
		}
		if !known {
			continue
		}
		e.sx = math.Sqrt(vx)
		if atInput {
			e.way = in.wayAt(m.at)
		} else {
			e.way = out.paths[m.path].wayAt(m.at)
		}
		list = append(list, e)
	}
	return list
}

// angles reports whether all its paths tell angles.
func (s side) angles() bool {
	for _, p := range s.paths {
		if p.step > 0 {
			return false
		}
	}
	return true
}

// look finds places on paths at times that only rise, each at the cost of a step.
type look struct {
	in  *path
	out []*path
	at  int
	ats []int
	inY [][]float64 // where the input is at the points of each output path
}

func newLook(in *path, out []*path) *look {
	l := &look{in: in, out: out, ats: make([]int, len(out)), inY: make([][]float64, len(out))}
	for k, p := range out {
		l.inY[k] = in.along(p.times)
	}
	return l
}

// along is where the path is at each of some rising times; NaN where it isn't known.
func (p *path) along(times []float64) []float64 {
	out := make([]float64, len(times))
	i := 0
	for k, t := range times {
		out[k] = math.NaN()
		for i < len(p.times) && p.times[i] < t {
			i++
		}
		switch {
		case i == len(p.times) || t < p.times[0]:
		case p.times[i] == t:
			out[k] = p.turns[i]
		case p.hole(i):
		default:
			out[k], _ = p.evenly(i, t)
		}
	}
	return out
}

// hole reports whether nothing is known between points i − 1 and i.
func (p *path) hole(i int) bool { return p.holes != nil && p.holes[i] }

// holeShare times the usual interval is a hole: the wheel was held, or its sensor saw
// nothing.
const holeShare = 2.6

// findHoles marks the intervals of a path in which the other side went much farther than
// it does from one mark to the next; other is where that side is at the path's points.
func (p *path) findHoles(other []float64) {
	p.holes = nil
	if p.step == 0 {
		return
	}
	var gaps []float64
	for i := 1; i < len(other); i++ {
		if d := math.Abs(other[i] - other[i-1]); d > 0 { // NaN isn't
			gaps = append(gaps, d)
		}
	}
	most := holeShare * median(gaps)
	if len(gaps) < 3 {
		return
	}
	p.holes = make([]bool, len(p.times))
	for i := 1; i < len(other); i++ {
		p.holes[i] = math.Abs(other[i]-other[i-1]) > most
	}
}

// findHoles marks them on the input, by the output, and then on each output path.
func findHoles(in *path, out side) {
	in.holes = nil
	sum := make([]float64, len(in.times))
	for _, p := range out.paths {
		p.holes = nil
		for i, x := range p.along(in.times) {
			sum[i] += x
		}
	}
	in.findHoles(sum)
	for _, p := range out.paths {
		p.findHoles(in.along(p.times))
	}
}

// mostSorted figures give a median as good as all.
const mostSorted = 2000

// median of some figures, which it sorts; of very many, of as many spread over them.
func median(v []float64) float64 {
	if len(v) == 0 {
		return 0
	}
	if every := len(v) / mostSorted; every > 1 {
		for i := range mostSorted {
			v[i] = v[i*every]
		}
		v = v[:mostSorted]
	}
	slices.Sort(v)
	n := len(v)
	return (v[(n-1)/2] + v[n/2]) / 2
}

func (l *look) input(t float64) (y, sigma float64, known bool) {
	p := l.in
	if len(p.times) == 0 || t < p.times[0] {
		return 0, 0, false
	}
	for l.at < len(p.times) && p.times[l.at] < t {
		l.at++
	}
	if l.at == len(p.times) {
		return 0, 0, false
	}
	return p.between(l.at, t)
}

// output is where path k is at a time at which the input is at y.
func (l *look) output(k int, t, y float64) (x, sigma float64, known bool) {
	p := l.out[k]
	if len(p.times) == 0 || t < p.times[0] {
		return 0, 0, false
	}
	i := l.ats[k]
	for i < len(p.times) && p.times[i] < t {
		i++
	}
	l.ats[k] = i
	if i == len(p.times) {
		return 0, 0, false
	}
	x, sigma, known = p.between(i, t)
	if i == 0 || p.times[i] == t || p.step == 0 {
		return x, sigma, known
	}
	a, b := l.inY[k][i-1], l.inY[k][i]
	if f := (y - a) / (b - a); f >= 0 && f <= 1 { // neither NaN nor turned back
		x = p.turns[i-1] + f*(p.turns[i]-p.turns[i-1])
		// What is left is how the wheels shared the turning, and the input's own.
		sigma = math.Hypot(p.spread, splitShare*p.step*2*math.Sqrt(f*(1-f)))
	}
	return x, sigma, known
}

// Two wheels of one axle share its turning unevenly: where one is between two of its
// marks, as a share of their distance.
const splitShare = 0.1
