package identify

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/made"
)

// What a build weighs before any reading is a mixture of four: the shop's own
// list, what other shops counted (others.go), what is commonly made (package made),
// and every build that can be made.
//
// The shop's list takes no more than the shop's own counts have earned it: of the
// last n housings whose gears were counted, k held a set of the list, and its
// share is (k + 1) / (n + 4), the rule of succession (Laplace 1774) begun as if
// one of four had been in it. What is left goes to what is commonly made and to
// everything else, in a proportion of its own for each kind of stage, so that a
// list or a habit that lacks the truth is overcome by ordinary readings.
//
// The mixture orders what a reading leaves open, and may call a label nine in ten
// sure at most. What is called surer must be so from a wary prior as well, in which
// every set that can be built weighs alike and the shop's list has the share that its
// counts prove. So a certainty holds whatever mixture the axles came from;
// docs/accuracy.md shows it.

// CatalogEntry is a build that the shop knows to exist, by tooth counts.
type CatalogEntry struct {
	Construction string
	Teeth        []int
	Weight       float64 // relative frequency in the shop's own work; 0 counts as 1
}

// List is a shop's list of the sets of a stage, and how often it was right: of
// Counted housings that were opened and counted last, Found held one of its sets.
type List struct {
	Sets           []CatalogEntry
	Counted, Found int
}

// MostCounted bounds how far back a shop's own counts are looked at.
const MostCounted = 50

// Share of the prior that the list has earned, to a twentieth: what rests on it
// need not be weighed anew for every count.
func (l List) Share() float64 {
	if len(l.Sets) == 0 {
		return 0
	}
	s := float64(l.Found+1) / float64(l.Counted+4)
	return min(max(math.Round(20*s), 1), 18) / 20
}

// Count takes a housing whose gears were counted into account, and reports whether
// the counts are those of a whole set; not more than MostCounted.
func (l *List) Count(s Stage, teeth Counts) bool {
	if l.Counted >= MostCounted {
		return false
	}
	con, t, ok := s.Whole(teeth)
	if !ok {
		return false
	}
	l.Counted++
	if slices.ContainsFunc(l.Sets, func(e CatalogEntry) bool {
		return e.Construction == con && slices.Equal(e.Teeth,
			t)
	}) {
		l.Found++
	}
	return true
}

// Whole is the construction whose gears were all counted, with their teeth in its
// order; not ok where a gear's count is missing.
func (s Stage) Whole(teeth Counts) (construction string, t []int, ok bool) {
	cons, err := s.Constructions()
	if err != nil {
		return "", nil, false
	}
	for _, c := range cons {
		t := make([]int, 0, len(c.Teeth))
		for _, g := range c.Teeth {
			if i := slices.IndexFunc(teeth, func(n Count) bool { return n.Member == g.Name }); i >= 0 {
				t = append(t, teeth[i].Count)
			}
		}
		if len(t) > 0 && len(t) == len(c.Teeth) {
			return c.ID, t, true
		}
	}
	return "", nil, false
}

// shown is the share that the shop's counts prove: the lower end of the 95 % range
// of a share seen k times in n (Wilson 1927). Without counts it is nothing.
func (l List) shown() float64 { return AtLeast(l.Found, l.Counted) }

// AtLeast is the lower end of the 95 % range of a share that was seen found times in
// counted (Wilson 1927); 0 where nothing was counted.
func AtLeast(found, counted int) float64 {
	if counted == 0 {
		return 0
	}
	n, z2 := float64(counted), z95*z95
	p := min(float64(found)/n, 1)
	return max(0, (p+z2/(2*n)-z95*math.Sqrt(p*(1-p)/n+z2/(4*n*n)))/(1+z2/n))
}

// Prior tells where the weights before any reading come from. The shares add up to 1.
type Prior struct {
	List    float64  `json:"list"`
	Others  float64  `json:"others"`
	Common  float64  `json:"common"`
	Other   float64  `json:"other"`
	Sets    int      `json:"sets"`
	Counted int      `json:"counted"`
	Found   int      `json:"found"`
	Origin  []string `json:"origin"`
}

// shareCommon is how much of what no list holds is commonly made. Axles and
// gearcases on a lot mostly are; a two-stage housing less surely; of gearboxes
// there are too many to say.
func (s Stage) shareCommon() float64 {
	switch {
	case s.Kind == RingAndPinion, s.Kind == Gearcase:
		return 0.6
	case s.Kind == TransferCase && s.Position == "low":
		return 0.5
	case s.Kind == TwoStage:
		return 0.4
	case s.Kind == Hub:
		return 0.2
	}
	return 0
}

// common is the weight of each build of the space that is commonly made, by its
// index.
func (sp *Space) common() map[int]float64 {
	out := map[int]float64{}
	pairs := func(list []made.Pair) {
		at := map[[2]int16]int{}
		for i := range sp.hyps {
			if h := &sp.hyps[i]; sp.cons[h.con].shape == shapePair {
				at[[2]int16{h.teeth[0], h.teeth[1]}] = i
			}
		}
		for _, p := range list {
			if i, ok := at[[2]int16{int16(p.Driven), int16(p.Driver)}]; ok {
				out[i] += p.Weight
			}
		}
	}
	ratios := func(list []made.Ratio) {
		under := map[int32][]int{}
		for _, r := range list {
			under[int32(r.Hundredths)] = nil
		}
		for i := range sp.hyps {
			if at, wanted := under[sp.hyps[i].label]; wanted {
				under[sp.hyps[i].label] = append(at, i)
			}
		}
		for _, r := range list {
			for _, i := range under[int32(r.Hundredths)] {
				out[i] += r.Weight / float64(len(under[int32(r.Hundredths)]))
			}
		}
	}
	switch sp.Stage.Kind {
	case RingAndPinion:
		pairs(made.Axle())
	case Gearcase:
		pairs(made.Gearcase())
	case Hub:
		pairs(made.Portal())
	case TwoStage:
		ratios(made.TwoStage())
	case TransferCase:
		if sp.Stage.Position == "low" {
			ratios(made.Low())
		}
	}
	return out
}

// addCommon gives what is commonly made its share.
func (sp *Space) addCommon() {
	weights := sp.common()
	total := 0.0
	for _, w := range weights {
		total += w
	}
	share := sp.Stage.shareCommon()
	if total == 0 || share == 0 {
		sp.prior = Prior{Other: 1}
		return
	}
	sp.prior = Prior{Common: share, Other: 1 - share}
	sp.mix(share, 0, weights, total, func(h *hyp) { h.common = true })
}

// mix gives the weighted builds a share of the prior between them, shown of it in
// the wary prior, and marks them.
func (sp *Space) mix(share, shown float64, weights map[int]float64, total float64, mark func(*hyp)) {
	for i := range sp.hyps {
		h := &sp.hyps[i]
		h.prior *= 1 - share
		h.wary *= 1 - shown
		if w, ok := weights[i]; ok {
			h.prior += share * w / total
			h.wary += shown * w / total
			mark(h)
		}
	}
}

// WithList returns the space with a prior in which the shop's list has the share
// that it has earned. Entries that don't fit the stage are an *Error on "catalog/…".
func (sp *Space) WithList(l List) (*Space, error) { return sp.With(l, Others{}) }

// With returns the space with a prior in which the shop's list and what other shops
// counted have the shares that they have earned. Entries of the list that don't fit
// the stage are an *Error on "catalog/…", those of other shops on "others/…".
func (sp *Space) With(l List, o Others) (*Space, error) {
	if len(l.Sets) == 0 && len(o.Sets) == 0 {
		return sp, nil
	}
	out := *sp
	out.hyps = slices.Clone(sp.hyps)
	if sp.plain {
		out.plain, out.prior = false, Prior{Other: 1}
		for i := range out.hyps {
			h := &out.hyps[i]
			h.prior, h.common = h.wary, false
		}
	}
	if err := out.addOthers(o); err != nil {
		return nil, err
	}
	if err := out.addList(l); err != nil {
		return nil, err
	}
	out.finish()
	return &out, nil
}

func (sp *Space) addList(l List) error {
	weights, total, err := sp.weigh("catalog", l.Sets)
	if err != nil || total == 0 {
		return err
	}
	share := l.Share()
	sp.prior.less(share)
	p := &sp.prior
	p.List, p.Sets, p.Counted, p.Found = share, len(weights), l.Counted, l.Found
	sp.mix(share, min(share, l.shown()), weights, total, func(h *hyp) { h.known = true })
	return nil
}

// less leaves room for a further share.
func (p *Prior) less(share float64) {
	p.Others, p.Common, p.Other = p.Others*(1-share), p.Common*(1-share), p.Other*(1-share)
}

// weigh is the weight of each build that is named, by its index, and their sum. What
// the space lacks is added to it.
func (sp *Space) weigh(at string, sets []CatalogEntry) (weights map[int]float64, total float64, err error) {
	type key struct {
		con   uint8
		teeth [4]int16
	}
	weights = map[int]float64{}
	if len(sets) == 0 {
		return weights, 0, nil
	}
	index := make(map[key]int, len(sp.hyps))
	for i := range sp.hyps {
		index[key{sp.hyps[i].con, sp.hyps[i].teeth}] = i
	}
	for i, e := range sets {
		at := fmt.Sprintf("%s/%d", at, i)
		ci, err := sp.fits(e, at)
		if err != nil {
			return nil, 0, err
		}
		k := key{con: uint8(ci)}
		for j, n := range e.Teeth {
			k.teeth[j] = int16(n)
		}
		found, ok := index[k]
		if !ok {
			if !sp.push(uint8(ci), sp.cons[ci], e.Teeth) {
				return nil, 0, fault.New(inside(at, "teeth"), "these counts make no ratio")
			}
			found = len(sp.hyps) - 1
			index[k] = found
		}
		w := e.Weight
		if w == 0 {
			w = 1
		}
		weights[found] += w
		total += w
	}
	return weights, total, nil
}

// inside is the path of a field at a path.
func inside(at, field string) string { return strings.TrimPrefix(at+"/"+field, "/") }

// fits is the construction of the space that an entry belongs to; at is its path.
func (sp *Space) fits(e CatalogEntry, at string) (int, error) {
	ci := slices.IndexFunc(sp.cons, func(c Construction) bool { return c.ID == e.Construction })
	if ci < 0 {
		return 0, fault.New(inside(at, "construction"), "%q is no construction of this stage", e.Construction)
	}
	c := sp.cons[ci]
	if len(e.Teeth) != len(c.Teeth) {
		return 0, fault.New(inside(at, "teeth"), "a %s has %d tooth counts", c.Words, len(c.Teeth))
	}
	if err := sp.Stage.refusal(c, e.Teeth); err != nil {
		return 0, fault.New(inside(at, "teeth"), "%s", err.Message)
	}
	if e.Weight < 0 || math.IsNaN(e.Weight) || e.Weight > 1e6 {
		return 0, fault.New(inside(at, "weight"), "the weight is a relative frequency: 0 to 1,000,000")
	}
	return ci, nil
}

// Plain returns the space with nothing taken for common: every set that can be built
// weighs alike.
func (sp *Space) Plain() *Space {
	out := *sp
	out.plain = true
	return &out
}

// weight of a build before any reading.
func (sp *Space) weight(h *hyp) float64 {
	if sp.plain {
		return h.wary
	}
	return h.prior
}

// Prior tells where the weights before any reading come from.
func (sp *Space) Prior() Prior {
	p := sp.prior
	if sp.plain {
		p = Prior{Other: 1}
	}
	of := func(share float64) string { return fmt.Sprintf("%.0f %%", 100*share) }
	if p.List > 0 {
		why := "nothing was counted in this shop yet"
		if p.Counted > 0 {
			why = fmt.Sprintf("of the last %d counted in this shop, %d were on it", p.Counted, p.Found)
		}
		sets := fmt.Sprintf("%d sets", p.Sets)
		if p.Sets == 1 {
			sets = "1 set"
		}
		p.Origin = append(p.Origin, fmt.Sprintf("the shop's list, %s: %s (%s; the share is (found + 1) ÷ (counted + 4), in steps of 5 %%, at most 90 %%)", sets, of(p.List), why))
	}
	if p.Others > 0 {
		p.Origin = append(p.Origin, fmt.Sprintf("what other shops counted: %s (%s)", of(p.Others), sp.others.words()))
	}
	if p.Common > 0 {
		p.Origin = append(p.Origin, fmt.Sprintf("what is commonly made: %s", of(p.Common)))
	}
	p.Origin = append(p.Origin, fmt.Sprintf("every set that can be built, alike: %s", of(p.Other)))
	return p
}
