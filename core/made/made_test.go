package made

import (
	"slices"
	"testing"
)

// Each list holds a thing once, in its order, with a weight, and within what is
// built: a slip of the pen would be believed by every verdict.
func TestLists(t *testing.T) {
	for name, l := range map[string]struct {
		pairs    []Pair
		from, to float64
	}{"axle": {Axle(), 2.3, 7.2}, "gearcase": {Gearcase(), 1.1, 2.7}, "portal": {Portal(), 1.1, 2.2}} {
		if !slices.IsSortedFunc(l.pairs, func(a, b Pair) int { return a.Driven*b.Driver - b.Driven*a.Driver }) {
			t.Errorf("%s: out of order", name)
		}
		seen := map[[2]int]bool{}
		for _, p := range l.pairs {
			r := float64(p.Driven) / float64(p.Driver)
			if z := [2]int{p.Driven, p.Driver}; seen[z] || p.Weight < Seldom || p.Weight > Everyday || r < l.from || r > l.to {
				t.Errorf("%s: %+v", name, p)
			}
			seen[[2]int{p.Driven, p.Driver}] = true
		}
	}
	for name, l := range map[string][]Ratio{"low": Low(), "two stages": TwoStage()} {
		if !slices.IsSortedFunc(l, func(a, b Ratio) int { return a.Hundredths - b.Hundredths }) {
			t.Errorf("%s: out of order", name)
		}
		for i, r := range l {
			if r.Hundredths < 120 || r.Hundredths > 900 || r.Weight < Seldom || r.Weight > Everyday || i > 0 && l[i-1].Hundredths == r.Hundredths {
				t.Errorf("%s: %+v", name, r)
			}
		}
	}
}
