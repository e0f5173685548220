package live

import "math"

// mend counts each source's marks by the others: gears don't slip, so from one mark to
// the next the other shafts tell how far this one went, where they tell it to within a
// part of a mark. Two marks' way with one pulse means that one was missed; no way at all
// that one was seen twice. It reports whether it counted any source so.
func (m *machine) mend(r float64, out side) bool {
	any := false
	for k, p := range append([]*path{m.in}, out.paths...) {
		if p.step == 0 || len(p.times) < 3 || m.blur(k, r, out) > mendBlur*p.step {
			continue
		}
		way := m.others(k, r, out)
		extra := make([]int, len(p.times))
		p.doubts = nil
		for i := 1; i < len(p.times); i++ {
			marks := math.Abs(way[i]-way[i-1]) / p.step
			n := math.Round(marks)
			if math.IsNaN(marks) || math.Abs(marks-n) > 0.35 || n > mostMarks+1 {
				extra[i] = gapOf(p, i)
				p.doubtAt(i, extra[i])
				continue
			}
			extra[i] = p.agrees(i, int(n)-1)
		}
		p.place(extra)
		any = true
	}
	return any
}

// agrees is what the others tell of an interval where its own time bears it out: one that
// hides a mark is longer than those beside it, one to the same mark shorter. Else the
// others are what is off.
func (p *path) agrees(i, extra int) int {
	around, n := beside(p.times, i)
	if extra == 0 || n < 2 {
		return extra
	}
	usual, this := median(around[:n]), p.times[i]-p.times[i-1]
	if extra > 0 && this < 1.3*usual || extra < 0 && this > 0.7*usual {
		return 0
	}
	return extra
}

// Others tell a mark where they blur less than this share of it.
const mendBlur = 0.3

func gapOf(p *path, i int) int {
	if 1/p.step < marksToMend {
		return 0
	}
	return gap(p.times, i)
}

// blur is the standard deviation of what the others tell of path k's way, in its turns.
func (m *machine) blur(k int, r float64, out side) float64 {
	of := func(p *path) float64 { return math.Sqrt2 * math.Hypot(p.spread, uneasyShare*p.step) }
	sum := 0.0
	if k == 0 {
		for _, w := range out.paths {
			sum = math.Hypot(sum, r*out.share*of(w))
		}
		return sum
	}
	sum = of(m.in) / (r * out.share)
	for i, w := range out.paths {
		if i != k-1 {
			sum = math.Hypot(sum, of(w))
		}
	}
	return sum
}

// others is how far path k (0 the input, then the wheels) is by what the others tell, at
// each of its points; NaN where one of them isn't known.
func (m *machine) others(k int, r float64, out side) []float64 {
	p := m.in
	if k > 0 {
		p = out.paths[k-1]
	}
	sum := make([]float64, len(p.times))
	if k > 0 {
		for i, y := range m.in.along(p.times) {
			sum[i] = y / (r * out.share)
		}
	}
	for i, w := range out.paths {
		if i == k-1 {
			continue
		}
		by := -1.0
		if k == 0 {
			by = r * out.share
		}
		for j, x := range w.along(p.times) {
			sum[j] += by * x
		}
	}
	return sum
}
