package sight

import (
	"cmp"
	"math"
	"math/cmplx"
	"slices"
)

const (
	middle  = 1100 // points of the longer side of the picture that is read closely
	points  = 512  // that are read on a circle
	briefly = 12   // readings whose nearest counts are weighed, roughly
	closely = 4    // of those, that are weighed with care
	reached = 4    // counts to either side of each of the first two; of the others
	beyond  = 2
)

// look finds the circles that may carry teeth and weighs the counts on them, the
// likeliest first.
func look(p *picture, at where) []reading {
	mid := p.atMost(middle)
	r := newReader(mid, points)
	all := weighed(r, likely(p, r, at))
	for i := range all {
		all[i].opposed = r.opposed(&all[i])
	}
	return choose(all, mid)
}

// likely are the readings of circles that may carry teeth, one for each count and place.
func likely(p *picture, r *reader, at where) []reading {
	small := p.atMost(400)
	var out []reading
	for _, f := range search(small, at) {
		f.pose = f.pose.in(small.scale / r.p.scale)
		out = append(out, r.read(f, 1))
	}
	for _, f := range distinct(out, 7) {
		out = append(out, r.read(found{pose: f.pose, count: f.count}, 3))
	}
	out = distinct(out, briefly)
	for i, f := range out {
		if best := newContest(r.p, &f, 256).best(f, 2); best.evidence > 0 {
			// The circles are chosen anew where it was put.
			o := r.read(found{pose: best.pose, count: best.count}, 1)
			o.evidence, out[i] = best.evidence, o
		}
	}
	return distinct(out, closely)
}

// weighed are the counts next to each reading's own, and of what is around a pattern of few.
func weighed(r *reader, list []reading) []reading {
	var all []reading
	for i, f := range list {
		reach := reached
		if i >= 2 {
			reach = beyond
		}
		near := contested(r.p, f, reach)
		all = append(all, near...)
		if near[0].count <= few {
			for _, o := range around(r, near[0]) {
				all = append(all, contested(r.p, o, reached-1)...)
			}
		}
	}
	return distinct(all, 40)
}

// around looks outside a pattern of few for another about the same middle: what was found
// may be the bolts or holes of a gear.
func around(r *reader, f reading) []reading {
	var all []found
	s := newScorer(r.p, points, []float64{0.97, 1, 1.03})
	for k := 1.2; k < 2.9; k *= 1.04 {
		at := f.pose
		at.a, at.dx, at.dy = at.a*k, at.dx*k, at.dy*k
		if v, n := s.sharp(at); n > 0 {
			all = append(all, found{at, n, v})
		}
	}
	slices.SortFunc(all, byScore)
	var out []reading
	for _, f := range apart(all, 0.1, 2) {
		out = append(out, r.read(f, 1))
	}
	return out
}

// distinct is the best reading of each count at each place.
func distinct(all []reading, most int) []reading {
	slices.SortStableFunc(all, func(a, b reading) int { return cmp.Compare(b.evidence, a.evidence) })
	var out []reading
	for _, f := range all {
		same := slices.ContainsFunc(out, func(o reading) bool {
			return o.count == f.count && math.Hypot(f.pose.x-o.pose.x, f.pose.y-o.pose.y) < 0.1*o.pose.size() &&
				math.Abs(f.pose.size()-o.pose.size()) < 0.12*o.pose.size()
		})
		if !same {
			if out = append(out, f); len(out) == most {
				break
			}
		}
	}
	return out
}

// opposed tells teeth from bolts and holes, 1 to −1. Compared with the metal on one
// side of the band, a gap stands out; compared with what is on the other side, a tooth
// does. A bolt stands out from both.
func (r *reader) opposed(out *reading) float64 {
	from, to := out.band()
	l := newLens(out.pose)
	var sum complex128
	total := 1e-9
	for _, rho := range []float64{from + (to-from)*0.25, (from + to) / 2, to - (to-from)*0.25} {
		var z [2]complex128
		for i, base := range []float64{from - 0.06, to + 0.06} {
			r.base = base
			r.lay(&l, out, out.count)
			r.warped(&l, out, rho)
			r.compare()
			r.u.flatten(max(r.u.n*3/(4*out.count), 2))
			r.u.fft.Coefficients(r.u.coeff, r.u.flat)
			z[i] = r.u.coeff[out.count]
		}
		sum += z[0] * cmplx.Conj(z[1])
		total += cmplx.Abs(z[0]) * cmplx.Abs(z[1])
	}
	r.base = 0
	return -real(sum) / total
}
