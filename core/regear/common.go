package regear

import (
	"math"
	"slices"

	"zorvel/core/made"
)

// CommonFamily is what commonly made pairs bear instead of a family: whether
// one is made for a housing is not known.
const CommonFamily = "commonly made"

// CommonSets are the pairs to choose from where the shop's lists hold none: what
// is commonly made, but for what is seldom met and what stands close beside an
// everyday pair. They have no family, no price and lie on no shelf.
func CommonSets() []GearSet {
	var out []GearSet
	for _, p := range made.Axle() {
		if p.Weight >= made.Everyday || p.Weight >= made.Usual && !besideEveryday(p) {
			out = append(out, GearSet{Family: CommonFamily, Ring: p.Driven, Pinion: p.Driver, Common: true})
		}
	}
	return out
}

// besideEveryday reports whether an everyday pair is within two percent.
func besideEveryday(p made.Pair) bool {
	r := float64(p.Driven) / float64(p.Driver)
	return slices.ContainsFunc(made.Axle(), func(e made.Pair) bool {
		return e.Weight >= made.Everyday && math.Abs(r*float64(e.Driver)/float64(e.Driven)-1) < 0.02
	})
}

// withoutCommon drops commonly made pairs that came with a question, so that
// they are never taken for the shop's own.
func withoutCommon(sets []GearSet) []GearSet {
	var out []GearSet
	for _, g := range sets {
		if !g.Common {
			out = append(out, g)
		}
	}
	return out
}
