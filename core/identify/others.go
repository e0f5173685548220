package identify

import (
	"fmt"
	"math"
)

// Others is what other shops counted in the housings of a kind of stage, and how far
// that can be taken for this shop.
//
// What the rest counted is held against each of those shops in turn: Foretold is the
// share of all their housings that held a set which some other shop had counted (where
// there is but one shop, half the share of those that it met more than once). A shop
// that has counted nothing takes that for its own share. Its own counts then move it: of
// its last n housings, k held a set that others had counted, and the share is
// (k + 4 · foretold) ÷ (n + 4), as if four housings had been foretold as well as the
// others' were.
//
// What is called sure must be so from a wary prior as well (prior.go). There the share
// is what this shop's own counts prove, or, until it has ten, half of what is proved for
// the shop that the rest foretold worst, where there are at least five with ten housings
// each: a shop may do quite other work than all of them.
type Others struct {
	Sets     []CatalogEntry // with how often each was counted
	Shops    int
	Counted  int     // housings, in all of those shops
	Foretold float64 // share of them that a different shop's counts foretold
	Least    float64 // the same for the shop that was foretold worst, at the low end of its range; 0 where too few shops tell
	Own, Hit int     // of this shop's own housings that were counted last, how many held one of Sets
}

// EnoughOwn is how many housings of its own a shop needs before they alone say what
// others' counts are worth to it.
const EnoughOwn = 10

// Share of the prior that others' counts have earned, in steps of a twentieth.
func (o Others) Share() float64 {
	if len(o.Sets) == 0 {
		return 0
	}
	s := (float64(o.Hit) + 4*o.Foretold) / float64(o.Own+4)
	return min(max(math.Round(20*s), 1), 18) / 20
}

// shown is the share that is proved.
func (o Others) shown() float64 {
	if o.Own >= EnoughOwn {
		return AtLeast(o.Hit, o.Own)
	}
	return o.Least / 2
}

// words say what the share rests on.
func (o Others) words() string {
	housings := fmt.Sprintf("%d housings of %d shops, match rate %.0f %%", o.Counted,
		o.Shops, 100*o.Foretold)
	if o.Shops == 1 {
		housings = fmt.Sprintf("%d housings of one shop, match rate %.0f %%: half the share it met more than once",
			o.Counted, 100*o.Foretold)
	}
	own := "nothing was counted in this shop yet"
	if o.Own > 0 {
		own = fmt.Sprintf("of the last %d counted in this shop, %d matched", o.Own, o.Hit)
	}
	return fmt.Sprintf("%s; %s; the share is (matched + 4 × match rate) ÷ (counted + 4), in steps of 5 %%, at most 90 %%",
		housings, own)
}

func (sp *Space) addOthers(o Others) error {
	weights, total, err := sp.weigh("others", o.Sets)
	if err != nil || total == 0 {
		return err
	}
	share := o.Share()
	sp.prior.less(share)
	sp.prior.Others, sp.others = share, o
	sp.mix(share, min(share, o.shown()), weights, total, func(*hyp) {})
	return nil
}
