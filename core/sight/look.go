package sight

import (
	"cmp"
	"math"
	"math/cmplx"
	"slices"
)

const (
	middle = 1100 // points of the longer side of the picture that is read closely
	points = 512  // that are read on a circle
)

// look finds the circles that may carry teeth, the likeliest first, one for each count.
func look(p *picture, at where) []reading {
	small, mid := p.atMost(400), p.atMost(middle)
	r := newReader(mid, points)
	var out []reading
	for _, f := range search(small, at) {
		f.pose = f.pose.in(small.scale / mid.scale)
		out = append(out, r.read(f, 1))
	}
	for _, f := range distinct(out, 7) {
		out = append(out, r.read(found{pose: f.pose, count: f.count}, 3), r.read(found{pose: f.pose, count: f.count},
			6))
	}
	out = distinct(out, 8)
	return settled(r, climbed(r, out))
}

// climbed adds, for each reading, that of the nearest pose at which the line is sharpest.
func climbed(r *reader, out []reading) []reading {
	narrow := newScorer(r.p, 384, []float64{0.95, 0.985, 1.02, 1.055})
	for _, f := range slices.Clone(out) {
		from, to := f.band()
		f.pose.a *= (from + to) / 2
		c := climb(found{f.pose, f.count, 0}, 0.02, 260, func(f found) found {
			f.score, f.count = narrow.sharp(f.pose)
			return f
		})
		if c.count > 0 {
			out = append(out, r.read(c, 1))
		}
	}
	return out
}

// settled compares the best readings with the metal beside the teeth and holds back
// what is inside another, or half of what is there.
func settled(r *reader, out []reading) []reading {
	out = distinct(out, 6)
	for _, f := range slices.Clone(out) {
		from, to := f.band()
		for _, base := range []float64{from - 0.05, to + 0.05} {
			r.base = base
			b := r.read(found{pose: f.pose, count: f.count}, 4)
			b.base = base
			b.evidence *= 1.1
			out = append(out, b)
		}
		r.base = 0
	}
	for i := range out {
		out[i].opposed = r.opposed(&out[i])
	}
	inner(out)
	halves(out)
	return distinct(out, 8)
}

// halves holds back the pattern of both flanks of each tooth where that of the teeth is
// good as well.
func halves(all []reading) {
	for i, f := range all {
		for _, o := range all {
			if 2*o.count == f.count && o.evidence > 0.4*f.evidence && sameGear(o.pose, f.pose) {
				all[i].evidence = min(all[i].evidence, 0.8*o.evidence)
			}
		}
	}
}

// sameGear says that two poses are of one gear.
func sameGear(a, b pose) bool {
	size := max(a.size(), b.size())
	return math.Hypot(a.x-b.x, a.y-b.y) < 0.25*size && math.Abs(a.size()-b.size()) < 0.2*size
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

// inner holds patterns back that have another, good one around them: holes and bolts
// are inside the teeth.
func inner(all []reading) {
	held := make([]bool, len(all))
	for i, f := range all {
		for _, o := range all {
			if o.pose.size() > 1.2*f.pose.size() && 2*o.count >= f.count && o.evidence > f.evidence/3 &&
				o.evidence > 2 &&
				math.Hypot(f.pose.x-o.pose.x, f.pose.y-o.pose.y) < 0.25*o.pose.size() {
				held[i] = true
			}
		}
	}
	for i := range all {
		if held[i] {
			all[i].evidence *= 0.25
		}
	}
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
