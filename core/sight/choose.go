package sight

import (
	"cmp"
	"math"
	"slices"
)

// few is the count up to which bolts and holes are taken for teeth; so few are never
// called sure: of drawn ones that were called 80 % and more half had no teeth.
const (
	few       = 13
	mostOfFew = 0.6
)

// features are what speaks for one of the readings of a photo.
type features [15]float64

// weights are the logistic choice among a photo's readings, and none of them: how much
// likelier each figure makes one. They were fitted to drawn gears of every kind and
// difficulty, some of them nothing to count on (docs/sight.md).
var weights = features{
	0.009, 0.907, 0.129, -0.493, 2.731, -0.455, 0.311, -0.845, -0.648, -1.346, 1.929, -2.674, -0.224, 0.297, -3.547,
}

// features of one of all readings.
func (f *reading) features(all []reading, p *picture) features {
	n := float64(f.count)
	var x features
	for k, v := range f.line {
		x[k] = math.Log(0.5 - n*math.Log(1-min(v, 0.999)))
	}
	e := max(f.line.evidence(f.count), 0.1)
	x[4], x[5], x[6] = e/20, min(camera(f.pose, p), 12), math.Log(n/30)
	inside, outside, half := 0.0, 0.0, 0.0
	for _, o := range all {
		apart := math.Hypot(o.pose.x-f.pose.x, o.pose.y-f.pose.y) / max(o.pose.size(), f.pose.size())
		size := o.pose.size() / f.pose.size()
		share := min(o.line.evidence(o.count)/e, 2)
		switch {
		case apart > 0.25:
		case size > 1.2 && 2*o.count >= f.count:
			inside = max(inside, share)
		case size < 1/1.2 && 2*f.count >= o.count:
			outside = max(outside, share)
		case 2*o.count == f.count && math.Abs(size-1) < 0.2:
			half = max(half, share)
		}
	}
	x[7], x[8], x[9] = inside, outside, half
	if f.count <= few {
		x[10], x[11] = f.opposed, 1
	}
	x[12], x[13], x[14] = math.Log(f.pose.size()/float64(max(p.w, p.h))*4), f.visible(), 1
	return x
}

// choose gives every reading its chance and orders them, the likeliest count first: what is
// left to one is that none is right.
func choose(all []reading, p *picture) []reading {
	scores := make([]float64, len(all))
	most := 0.0 // that none is right
	for i := range all {
		x := all[i].features(all, p)
		for k, w := range weights {
			scores[i] += w * x[k]
		}
		most = max(most, scores[i])
	}
	sum := math.Exp(-most)
	for i := range all {
		all[i].chance = math.Exp(scores[i] - most)
		sum += all[i].chance
	}
	total := map[int]float64{}
	for i := range all {
		all[i].chance /= sum
		total[all[i].count] += all[i].chance
	}
	slices.SortStableFunc(all, func(a, b reading) int {
		return cmp.Or(cmp.Compare(total[b.count], total[a.count]), cmp.Compare(a.count, b.count),
			cmp.Compare(b.chance, a.chance))
	})
	// One reading for each count, with the chance of all of them.
	all = slices.CompactFunc(all, func(a, b reading) bool { return a.count == b.count })
	for i := range all {
		all[i].chance = total[all[i].count]
		if all[i].count <= few {
			all[i].chance = min(all[i].chance, mostOfFew)
		}
	}
	return all
}
