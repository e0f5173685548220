package sight

import (
	"math"
	"math/cmplx"
)

// mark puts a mark on every tooth that is seen and tells where none are.
func (a *Answer) mark(r *reader, f *reading) {
	a.Tilt = round(math.Acos(min(f.pose.q, 1))*180/math.Pi, 0)
	n := f.count
	from, to := f.band()
	first := r.firstTooth(f, (from+to)/2)
	hidden := make([]bool, sectors)
	for _, k := range f.unseen() {
		hidden[k] = true
	}
	alone(hidden)
	most, l := 0.0, newLens(f.pose)
	for _, v := range f.seen {
		most = max(most, v)
	}
	covered := make([]bool, n)
	for k := range n {
		angle := first + 2*math.Pi*float64(k)/float64(n)
		x, y := l.place(angle-f.driftAt(angle), (from+to)/2)
		at := Point{round((x+0.5)*r.p.scale-0.5, 1), round((y+0.5)*r.p.scale-0.5, 1)}
		s := sectorOf(angle)
		switch {
		case hidden[s]:
			covered[k] = true
			continue
		case f.seen[s] < 0.45*most:
			a.Doubtful = append(a.Doubtful, at)
		}
		a.Marks = append(a.Marks, at)
	}
	a.Hidden = arcs(covered)
	a.Why.Pixels = round(2*math.Pi*f.pose.size()*(from+to)/2/float64(n)*r.p.scale, 1)
}

func sectorOf(angle float64) int {
	turn := angle / (2 * math.Pi)
	return int((turn-math.Floor(turn))*sectors) % sectors
}

// alone takes single sectors out: a cap hides more than one, a dirty tooth not.
func alone(hidden []bool) {
	n := len(hidden)
	was := append([]bool(nil), hidden...)
	for k := range hidden {
		if was[k] && !was[(k+1)%n] && !was[(k+n-1)%n] {
			hidden[k] = false
		}
	}
}

// arcs are the runs of covered teeth, in degrees from the first tooth.
func arcs(covered []bool) []Arc {
	n := len(covered)
	out := []Arc{}
	start := -1
	for k := range n { // begin where one is seen
		if !covered[k] {
			start = k
			break
		}
	}
	if start < 0 {
		return out
	}
	pitch := 360 / float64(n)
	for i := 0; i < n; i++ {
		k := (start + i) % n
		if !covered[k] {
			continue
		}
		run := 0
		for covered[(k+run)%n] {
			run++
		}
		out = append(out, Arc{round((float64(k)-0.5)*pitch, 1), round((float64(k+run)-0.5)*pitch, 1), run})
		i += run
	}
	return out
}

// firstTooth is the angle of a tooth: as bright as the metal beside it, where that is
// known, else the brighter half of the pattern.
func (r *reader) firstTooth(f *reading, rho float64) float64 {
	l := newLens(f.pose)
	from, to := f.band()
	switch gray, inner, outer := f.line[0], f.line[2], f.line[3]; {
	case max(inner, outer) < 0.7*gray:
	case inner > outer:
		r.base = from - besideBand
	default:
		r.base = to + besideBand
	}
	turned := r.base != 0
	r.lay(&l, f, f.count)
	r.warped(&l, f, rho)
	r.compare()
	r.base, r.body = 0, nil
	r.u.flatten(max(r.u.n*3/(4*f.count), 2))
	r.u.fft.Coefficients(r.u.coeff, r.u.flat)
	c := r.u.coeff[f.count]
	if turned {
		c = -c
	}
	return -cmplx.Phase(c) / float64(f.count)
}

// again reads a weighed count once more where it was put: how clear the teeth are all
// around, and how even.
func (r *reader) again(f *reading) *reading {
	o := r.read(found{pose: f.pose, count: f.count}, 1)
	if o.count != f.count {
		return f
	}
	o.line, o.chance, o.evidence = f.line, f.chance, f.evidence
	return &o
}

// block tells what is in the way of a count, the first that holds.
func (a *Answer) block(p *picture) {
	switch {
	case blurred(p):
		a.Blocked = Blurred
	case a.Why.Seen > 0 && a.Why.Seen < 1-mostArc && a.Why.Evidence > 4:
		a.Blocked = Covered
	case len(a.Others) > 0 && a.Chance+a.Others[0].Chance >= likeAt:
		a.Blocked = CloseCounts
	default:
		a.Blocked = NoTeeth
	}
	if a.Chance < guessAt || a.Blocked == Blurred {
		a.Teeth, a.Chance, a.Others = 0, 0, []Count{}
	}
}

// blurred says that no edge of the picture is sharp, not even on a copy of 200 points:
// on those the mean square of the gray's second difference is below its first one's.
// Drawn gears and photos with something to count have 1.9 and more.
func blurred(p *picture) bool { return sharpness(p.atMost(200)) < 1 }

// sharpness is the mean square of the second difference as a share of the first one's,
// along the rows of a copy half as large, so that the noise of single points counts little.
func sharpness(p *picture) float64 {
	s := p.halved()
	first, second := 1e-9, 0.0
	for y := range s.h {
		row := s.g[y*s.w : (y+1)*s.w]
		for x := 1; x < s.w-1; x++ {
			d, e := float64(row[x+1]-row[x-1]), float64(row[x+1]-2*row[x]+row[x-1])
			first += d * d / 4
			second += e * e
		}
	}
	return second / first
}
