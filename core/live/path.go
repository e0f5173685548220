package live

import (
	"math"
)

// path is how far a shaft turned over time. At a pulse a mark is at the sensor, so
// there the shaft is known; between two, it is somewhere between their marks.
type path struct {
	shaft  Shaft
	times  []float64
	turns  []float64 // at times
	step   float64   // one mark, in turns; 0 for an angle
	spread float64   // standard deviation of turns at a time: how evenly marks are placed, or the angle's own
	drift  float64   // further standard deviation, a turn
	bias   float64   // standard deviation of an error that grows from begin to end, in turns
	way    bool      // the source tells the direction
	ways   []int     // of pulses, where it is told
	holes  []bool    // the intervals, by their end, in which nothing is known

	pulses  int // as they came
	doubled int // of them the same mark again
	missed  int // put in, as the neighbors or the other shafts go
	again   int // left out as the same mark, as the other shafts go
	doubts  []doubt
	level   bool
	clock   string
	tremble float64 // by how much neighboring intervals differ
}

// doubt is a place of which no other shaft tells: marks that its neighbors alone put in,
// or a long interval that may hide some or be a rest.
type doubt struct {
	at    float64 // s
	marks float64
	put   bool
}

// doubted sums the marks that may be too many, and those that may be missing.
func (p *path) doubted() (put, missing float64) {
	for _, d := range p.doubts {
		if d.put {
			put += d.marks
		} else {
			missing += d.marks
		}
	}
	return put, missing
}

// Uneven marks: chalk by eye is off by a share of the distance of two, at most by 7°.
const (
	unevenShare = 0.1
	unevenMost  = 0.02
)

func newPath(s Source) *path {
	p := pathOf(s)
	p.clock = s.Clock
	return p
}

func pathOf(s Source) *path {
	switch {
	case len(s.Motion) > 0:
		return motionPath(s)
	case len(s.Degrees) > 0:
		return anglePath(s)
	}
	return pulsePath(s)
}

func anglePath(s Source) *path {
	p := &path{shaft: s.Shaft, way: true, spread: 1.0 / 360}
	if s.Sure > 0 {
		p.spread = s.Sure / 360
	}
	p.bias = p.spread
	last, base := 0.0, 0.0
	for i, d := range s.Degrees {
		if s.Wrapped && i > 0 {
			switch {
			case d-last > 180:
				base -= 360
			case d-last < -180:
				base += 360
			}
		}
		last = d
		p.times, p.turns = append(p.times, s.Times[i]), append(p.turns, (d+base)/360)
	}
	return p
}

// pulsePath places each mark. Forward past mark k the shaft is between k and k + 1,
// back past it between k − 1 and k: a mark that passes one way and then the other is
// the same mark.
func pulsePath(s Source) *path {
	m := float64(s.Marks)
	p := &path{shaft: s.Shaft, step: 1 / m, way: len(s.Ways) > 0, pulses: len(s.Times)}
	if s.Marks > 1 {
		p.spread = min(unevenMost, unevenShare/m)
	}
	p.times, p.ways = once(s.Times, s.Ways)
	p.tremble = tremble(s.Times)
	p.doubled = len(s.Times) - len(p.times)
	extra := make([]int, len(p.times))
	if s.Marks >= marksToMend {
		for i := range p.times {
			extra[i] = gap(p.times, i)
		}
	}
	p.place(extra)
	for i := range p.times {
		p.doubtAt(i, extra[i])
	}
	return p
}

// From so many marks a turn on, a hand turns evenly enough from one to the next that a
// missing one is put right by its neighbors.
const marksToMend = 3

// place puts each pulse at its mark. extra are the marks that passed unseen before each,
// or −1 where it is the same mark again.
func (p *path) place(extra []int) {
	p.turns = make([]float64, len(p.times))
	p.missed, p.again = 0, 0
	cell := -1 // the mark that was passed last, forward
	for i := range p.times {
		n := extra[i]
		if i > 0 && len(p.ways) > 0 && p.ways[i] != p.ways[i-1] {
			n = 0
		}
		p.missed += max(0, n)
		p.again += max(0, -n)
		if len(p.ways) > 0 && p.ways[i] < 0 {
			if i == 0 {
				cell = 0
			}
			p.turns[i] = float64(cell-n) * p.step
			cell -= n + 1
			continue
		}
		cell += n + 1
		p.turns[i] = float64(cell) * p.step
	}
}

// Intervals shorter than this share of those around them may be one mark seen twice.
const doubledShare = 0.6

// nearby intervals on either side are what an interval is compared with.
const nearby = 3

// once drops pulses that are the same mark again: where the time since the one before is
// short beside the times before and after it, or very short beside those around.
func once(times []float64, ways []int) ([]float64, []int) {
	outT := make([]float64, 0, len(times))
	var outW []int
	trembles := tremble(times) > steadyTremble
	for i, t := range times {
		if i > 0 && (ways == nil || ways[i] == ways[i-1]) && again(times, i, trembles) {
			continue
		}
		outT = append(outT, t)
		if ways != nil {
			outW = append(outW, ways[i])
		}
	}
	return outT, outW
}

// tremble is by how much neighboring intervals differ, as a share of them, in the middle.
func tremble(times []float64) float64 {
	every := max(1, len(times)/mostSorted)
	all := make([]float64, 0, min(len(times), 2*mostSorted))
	for i := 2; i < len(times); i += every {
		a, b := times[i-1]-times[i-2], times[i]-times[i-1]
		if a+b > 0 {
			all = append(all, 2*math.Abs(a-b)/(a+b))
		}
	}
	return median(all)
}

// Marks whose times tremble more than so are told from their doubles by very short
// intervals alone: others are chance.
const steadyTremble = 0.2

func again(times []float64, i int, trembles bool) bool {
	gap := times[i] - times[i-1]
	if gap <= 0 {
		return true
	}
	if i > 1 && i+1 < len(times) { // most are told at a glance
		before := times[i-1] - times[i-2]
		if gap >= doubledShare/5*before && times[i+1]-times[i-1] > 1.9*before {
			return false
		}
	}
	around, n := beside(times, i)
	if n < 2 {
		return false
	}
	usual := median(around[:n])
	if i < 2 || i+1 == len(times) {
		return gap < doubledShare/3*usual
	}
	// Seen twice, the interval after it is short by as much: both together are one. A mark
	// that was told late or early leaves them two.
	before, both := times[i-1]-times[i-2], times[i+1]-times[i-1]
	if trembles {
		return gap < doubledShare/20*min(before, usual) && both < 1.5*usual
	}
	if gap < doubledShare/5*min(before, usual) {
		return both < 1.5*usual || gap < doubledShare/15*usual
	}
	if i+2 == len(times) || gap > doubledShare*usual || both > 1.3*usual {
		return false
	}
	after := times[i+2] - times[i+1] // else it is a hand that speeds up
	return min(before, after) > 0.7*usual
}

// beside are the intervals on both sides of the one that ends at point i.
func beside(times []float64, i int) (around [2 * nearby]float64, n int) {
	for k := max(1, i-nearby); k < min(len(times), i+nearby+1); k++ {
		if k != i {
			around[n] = times[k] - times[k-1]
			n++
		}
	}
	return around, n
}

// gap is how many marks seem missing in the interval that ends at point i: where the
// intervals on both sides agree and this is two to four of theirs.
func gap(times []float64, i int) int {
	if i < 2 || i+1 >= len(times) {
		return 0
	}
	least, most, sum, n := math.Inf(1), 0.0, 0.0, 0.0
	for _, k := range []int{i - 2, i - 1, i + 1, i + 2} {
		if k < 1 || k >= len(times) {
			continue
		}
		d := times[k] - times[k-1]
		least, most, sum, n = min(least, d), max(most, d), sum+d, n+1
	}
	if least <= 0 || most > steadyShare*least {
		return 0
	}
	q := (times[i] - times[i-1]) / (sum / n)
	if k := math.Round(q); k >= 2 && k <= mostMarks+1 && math.Abs(q/k-1) < 0.15 {
		return int(k) - 1
	}
	return 0
}

// doubtAt notes an interval of which nothing but time tells.
func (p *path) doubtAt(i, extra int) {
	if i == 0 {
		return
	}
	d := doubt{at: (p.times[i-1] + p.times[i]) / 2, marks: float64(extra), put: extra > 0}
	if !d.put {
		d.marks = longer(p.times, i)
	}
	if d.marks > 0 {
		p.doubts = append(p.doubts, d)
	}
}

// An interval is long from so many of the usual on.
const longShare = 1.6

// longer is how many marks the interval that ends at point i may hide, going by those
// around it; a long rest hides fewer than one. One at an end, or between a longer and a
// shorter, is a hand that starts or stops.
func longer(times []float64, i int) float64 {
	if i < 2 || i+1 >= len(times) {
		return 0
	}
	this := times[i] - times[i-1]
	if this < longShare*max(times[i-1]-times[i-2], times[i+1]-times[i]) {
		return 0
	}
	around, n := beside(times, i)
	usual := median(around[:n])
	if usual <= 0 {
		return 0
	}
	switch q := this / usual; {
	case q < longShare:
		return 0
	case q < mostMarks+1.5:
		return math.Round(q - 0.9)
	}
	return 0.3
}

// Intervals agree where the longest isn't longer than so many times the shortest.
const steadyShare = 1.5

// Between two marks a hand doesn't turn evenly: the standard deviation of where it is,
// as a share of their distance; the more, the more the intervals around differ.
const (
	uneasyShare = 0.06
	uneasyTurn  = 0.3 // where it turned back between them
)

// between is where the shaft is at a time, with a standard deviation, where times[i] is
// the first at or after it; false in a hole.
func (p *path) between(i int, t float64) (turns, sigma float64, known bool) {
	if p.times[i] == t || i == 0 {
		return p.turns[i], p.spread, true
	}
	if p.hole(i) {
		return 0, 0, false
	}
	turns, k := p.evenly(i, t)
	if p.step == 0 {
		return turns, p.spread, true
	}
	// At the ends of the interval it is known; the middle is the worst.
	share := p.unease(i) * 2 * math.Sqrt(k*(1-k))
	if p.turns[i] == p.turns[i-1] {
		share = uneasyTurn
	}
	return turns, math.Hypot(p.spread, share*p.step), true
}

// evenly is where it is between points i − 1 and i at a time, and how far along.
func (p *path) evenly(i int, t float64) (turns, k float64) {
	a, b := p.times[i-1], p.times[i]
	k = (t - a) / (b - a)
	return p.turns[i-1] + k*(p.turns[i]-p.turns[i-1]), k
}

// unease is how unevenly it may have turned from times[i-1] to times[i].
func (p *path) unease(i int) float64 {
	this := p.times[i] - p.times[i-1]
	most := 0.0
	for _, k := range []int{i - 1, i + 1} {
		if k < 1 || k >= len(p.times) {
			continue
		}
		if d := p.times[k] - p.times[k-1]; d > 0 && this > 0 {
			most = max(most, max(this/d, d/this)-1)
		}
	}
	return min(uneasyShare+most/10, 0.3)
}

// first and last times of a path.
func (p *path) span() (from, to float64) {
	if len(p.times) == 0 {
		return 0, 0
	}
	return p.times[0], p.times[len(p.times)-1]
}

// turned reports whether it was seen turning.
func (p *path) turned() bool { return len(p.times) >= 2 && p.travel() > 0.02 }

// travel is all its turning, both ways.
func (p *path) travel() float64 {
	sum := 0.0
	if p.step == 0 { // noise doesn't add up: only what leaves a dead band counts
		const band = 4.0 / 360
		at := 0.0
		for i, v := range p.turns {
			if i == 0 {
				at = v
			}
			if d := math.Abs(v - at); d > band {
				sum, at = sum+d, v
			}
		}
		return sum
	}
	for i := 1; i < len(p.turns); i++ {
		sum += math.Abs(p.turns[i] - p.turns[i-1])
	}
	return sum
}

// net is last less first.
func (p *path) net() float64 {
	if len(p.turns) == 0 {
		return 0
	}
	return p.turns[len(p.turns)-1] - p.turns[0]
}

// flip turns its direction round.
func (p *path) flip() {
	for i := range p.turns {
		p.turns[i] = -p.turns[i]
	}
	for i := range p.ways {
		p.ways[i] = -p.ways[i]
	}
}

// way at a point: +1 or −1 as it turned there, 0 where that isn't told.
func (p *path) wayAt(i int) int {
	switch {
	case len(p.ways) > 0:
		return p.ways[i]
	case !p.way || len(p.turns) < 2:
		return 1
	}
	a, b := max(0, i-1), i
	if i == 0 || p.turns[a] == p.turns[b] {
		a, b = i, min(i+1, len(p.turns)-1)
	}
	if p.turns[b] < p.turns[a] {
		return -1
	}
	return 1
}
