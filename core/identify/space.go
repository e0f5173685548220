package identify

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"
	"unsafe"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

// Space is every build that a stage could hold, with its prior. It is
// immutable and may be shared.
type Space struct {
	Stage Stage
	cons  []Construction
	hyps  []hyp // by rising |ratio|
	columns
	lo     float64
	hi     float64
	prior  Prior
	others Others
	// plain: nothing is taken for common, every build weighs alike.
	plain bool
}

type hyp struct {
	teeth  [4]int16
	con    uint8
	known  bool  // in the shop's list
	common bool  // commonly made
	num    int32 // of the ratio, not in lowest terms; below zero where the output turns backward
	den    int32
	r      float64
	label  int32 // hundredths
	prior  float64
	wary   float64 // prior that takes nothing for common that wasn't shown to be
}

// NewSpace enumerates the builds of a stage: those commonly made with their share,
// the rest equally likely within their construction.
func NewSpace(s Stage) (*Space, error) {
	cons, err := s.Constructions()
	if err != nil {
		return nil, err
	}
	if _, _, err := s.arrangement(); err != nil {
		return nil, err
	}
	sp := &Space{Stage: s, cons: cons}
	many := 0
	for _, c := range cons {
		sp.enumerate(c, func([]int) { many++ })
	}
	sp.hyps = make([]hyp, 0, many)
	for i, c := range cons {
		start := len(sp.hyps)
		sp.enumerate(c, func(t []int) { sp.push(uint8(i), c, t) })
		n := len(sp.hyps) - start
		if n == 0 {
			return nil, fault.New("stage", "no %s can be built within the usual tooth counts", c.Words)
		}
		for j := start; j < len(sp.hyps); j++ {
			sp.hyps[j].prior = c.weight / float64(n)
			sp.hyps[j].wary = sp.hyps[j].prior
		}
	}
	sp.addCommon()
	sp.finish()
	return sp, nil
}

// enumerate calls for every buildable set of the construction.
func (sp *Space) enumerate(c Construction, call func(t []int)) {
	t := make([]int, len(c.Teeth))
	var walk func(i int)
	walk = func(i int) {
		if i == len(t) {
			if sp.Stage.refusal(c, t) == nil && sp.usual(c, t) {
				call(t)
			}
			return
		}
		lo, hi := c.Teeth[i].Min, c.Teeth[i].Max
		if c.shape == shapeCluster && i == 3 { // same center distance
			sum := t[0] + t[1] - t[2]
			lo, hi = max(lo, sum-c.slack), min(hi, sum+c.slack)
		}
		for n := lo; n <= hi; n++ {
			t[i] = n
			if i == 1 && !sp.stageRatioOK(c, t) {
				continue
			}
			walk(i + 1)
		}
	}
	walk(0)
}

// stageRatioOK prunes first pairs of composite constructions early.
func (sp *Space) stageRatioOK(c Construction, t []int) bool {
	q := float64(t[0]) / float64(t[1])
	switch c.shape {
	case shapePairPlanetary, shapePairPair:
		return q >= 1 && q <= 3
	case shapeCluster:
		q = 1 / q
		return q >= 1 && q <= 2.2
	}
	return true
}

// usual reports whether the counts pass every build check; composites use the
// checks' arithmetic directly, since they are enumerated by the hundred thousand.
func (sp *Space) usual(c Construction, t []int) bool {
	planetaryOK := func(sun, ring int) bool {
		q := float64(ring) / float64(sun)
		return (ring-sun)%2 == 0 && (ring-sun)/2 >= 10 && q <= 5 && ((sun+ring)%3 == 0 || (sun+ring)%4 == 0 || (sun+ring)%5 == 0)
	}
	switch c.shape {
	case shapePlanetary:
		return planetaryOK(t[0], t[1])
	case shapePairPlanetary:
		q := 1 + float64(t[3])/float64(t[2])
		return planetaryOK(t[2], t[3]) && q >= 2.2 && q <= 4.6
	case shapePairPair:
		q := float64(t[2]) / float64(t[3])
		return q >= 1.6 && q <= 3.5
	case shapeCluster:
		q := float64(t[1]) / float64(t[0]) * float64(t[3]) / float64(t[2])
		return q >= c.low && q <= c.high
	case shapePair:
		q := float64(t[0]) / float64(t[1])
		return q >= c.low && q <= c.high
	}
	return true
}

func (sp *Space) push(ci uint8, c Construction, t []int) bool {
	num, den, ok := c.fraction(sp.Stage, t)
	if !ok {
		return false
	}
	size := max(num, -num)
	// Whole numbers of this size divide to the float next to the exact quotient, so equal
	// ratios are equal here whatever their terms. Hundredths are rounded half up.
	h := hyp{con: ci, num: int32(num), den: int32(den), r: float64(size) / float64(den),
		label: int32((200*size + den) / (2 * den))}
	if num < 0 {
		h.label = -h.label
	}
	for i, n := range t {
		h.teeth[i] = int16(n)
	}
	sp.hyps = append(sp.hyps, h)
	return true
}

func (sp *Space) find(ci uint8, t []int) int {
	for i := range sp.hyps {
		if h := &sp.hyps[i]; h.con == ci && sameTeeth(h.teeth, t) {
			return i
		}
	}
	return -1
}

func sameTeeth(a [4]int16, t []int) bool {
	for i, n := range t {
		if int(a[i]) != n {
			return false
		}
	}
	return true
}

// finish normalizes the prior and sorts by ratio.
func (sp *Space) finish() {
	sum, wary := 0.0, 0.0
	for i := range sp.hyps {
		sum += sp.hyps[i].prior
		wary += sp.hyps[i].wary
	}
	for i := range sp.hyps {
		sp.hyps[i].prior /= sum
		sp.hyps[i].wary /= wary
	}
	sp.hyps = byRatio(sp.hyps)
	sp.columns = inColumns(sp.hyps)
	sp.lo, sp.hi = sp.hyps[0].r, sp.hyps[len(sp.hyps)-1].r
}

// columns are what is read of every build for every verdict, each by itself: a build is
// large, and a space has hundreds of thousands.
type columns struct {
	ratios []float64
	labels []int32
	priors []float64
	waries []float64
	runs   []int32 // where builds of the next ratio begin; the last is the end
}

func inColumns(hyps []hyp) columns {
	n := len(hyps)
	numbers := make([]float64, 3*n)
	c := columns{ratios: numbers[:n:n], priors: numbers[n : 2*n : 2*n], waries: numbers[2*n:], labels: make([]int32, n)}
	for i := range hyps {
		h := &hyps[i]
		c.ratios[i], c.labels[i], c.priors[i], c.waries[i] = h.r, h.label, h.prior, h.wary
		if i == 0 || c.ratios[i-1] != h.r {
			c.runs = append(c.runs, int32(i))
		}
	}
	c.runs = append(c.runs, int32(n))
	return c
}

// byRatio sorts hypotheses by ratio, equal ones as they came: by hundredths first, which
// takes one pass, then within each. A hypothesis is large, so their places are sorted and
// each is moved once.
func byRatio(hyps []hyp) []hyp {
	type place struct {
		r float64
		i int32
	}
	hundredths := func(h *hyp) int32 { return max(h.label, -h.label) }
	most := int32(0)
	for i := range hyps {
		most = max(most, hundredths(&hyps[i]))
	}
	begin := make([]int32, most+2) // of the hundredths, and the end
	for i := range hyps {
		begin[hundredths(&hyps[i])+1]++
	}
	for i := range most + 1 {
		begin[i+1] += begin[i]
	}
	places, next := make([]place, len(hyps)), slices.Clone(begin)
	for i := range hyps {
		at := hundredths(&hyps[i])
		places[next[at]] = place{hyps[i].r, int32(i)}
		next[at]++
	}
	for i := range most + 1 {
		slices.SortFunc(places[begin[i]:begin[i+1]], func(a, b place) int {
			if a.r != b.r {
				return cmp.Compare(a.r, b.r)
			}
			return cmp.Compare(a.i, b.i)
		})
	}
	out := make([]hyp, len(hyps))
	for i, p := range places {
		out[i] = hyps[p.i]
	}
	return out
}

// exact is the ratio.
func (h *hyp) exact() exact.Number { return exact.New(int64(h.num), int64(h.den)) }

// extended returns a space that also holds what was counted or stamped outside
// the usual ranges, with the prior of a rare build: unusual parts exist.
func (sp *Space) extended(readings []Reading) *Space {
	seen := map[string]bool{}
	var extra []hyp
	floor := sync.OnceValue(sp.rarePrior)
	add := func(c Construction, ci uint8, t []int) {
		for i, n := range t {
			if n < 1 || (n < 3 && c.Teeth[i].Min > 3) {
				return
			}
		}
		key := fmt.Sprint(ci, t)
		if seen[key] || sp.Stage.refusal(c, t) != nil || sp.find(ci, t) >= 0 {
			return
		}
		seen[key] = true
		tmp := Space{Stage: sp.Stage, cons: sp.cons}
		if tmp.push(ci, c, t) {
			tmp.hyps[0].prior, tmp.hyps[0].wary = floor(), floor()
			extra = append(extra, tmp.hyps[0])
		}
	}
	around := func(c Construction, ci uint8, t []int) {
		add(c, ci, t)
		for i := range t {
			for _, d := range []int{-1, 1} {
				u := slices.Clone(t)
				u[i] += d
				add(c, ci, u)
			}
		}
	}
	// Counts of one build may come from several readings: ring today,
	// pinion tomorrow.
	for ci, c := range sp.cons {
		counted := make([][]int, len(c.Teeth))
		for _, r := range readings {
			for _, n := range r.Teeth {
				if i := slices.IndexFunc(c.Teeth, func(t Tooth) bool { return t.Name == n.Member }); i >= 0 && len(counted[i]) < 3 && !slices.Contains(counted[i], n.Count) {
					counted[i] = append(counted[i], n.Count)
				}
			}
			if w, ok := techniqueOf(r.Method); ok && w.written {
				marks, err := ParseMark(r.Text, sp.Stage)
				if err != nil {
					continue
				}
				for _, m := range marks {
					if m.Construction == c.ID && !m.IsRatio() {
						around(c, uint8(ci), m.Counts)
					}
				}
			}
		}
		if len(c.Teeth) == 0 || slices.ContainsFunc(counted, func(l []int) bool { return len(l) == 0 }) {
			continue
		}
		t := make([]int, len(c.Teeth))
		var walk func(i int)
		walk = func(i int) {
			if i == len(t) {
				around(c, uint8(ci), slices.Clone(t))
				return
			}
			for _, n := range counted[i] {
				t[i] = n
				walk(i + 1)
			}
		}
		walk(0)
	}
	if len(extra) == 0 {
		return sp
	}
	out := *sp
	out.hyps = append(slices.Clone(sp.hyps), extra...)
	out.finish()
	return &out
}

// rarePrior is a tenth of an ordinary buildable set's prior.
func (sp *Space) rarePrior() float64 {
	least := math.Inf(1)
	for i := range sp.hyps {
		least = min(least, sp.hyps[i].prior, sp.hyps[i].wary)
	}
	return least / 10
}

// refusal says why the counts can't be, or nil. Unusual is not impossible.
func (s Stage) refusal(c Construction, t []int) *Error {
	for i, g := range c.Teeth {
		if t[i] <= 0 {
			return fault.New("teeth/"+g.Name, "a %s has at least one tooth; count them from the marked start tooth, which is zero", g.Words)
		}
		if t[i] > maxTeeth {
			return fault.New("teeth/"+g.Name, "%d teeth can't be; at most %d", t[i], maxTeeth)
		}
	}
	bigger := func(i, j int, why string) *Error {
		if t[i] < t[j] {
			return fault.New("teeth/"+c.Teeth[i].Name, "the %s (%d) can't have fewer teeth than the %s (%d): %s", c.Teeth[i].Words, t[i], c.Teeth[j].Words, t[j], why)
		}
		return nil
	}
	const swapped = "are the two counts swapped?"
	const around = "it runs around it"
	switch c.shape {
	case shapePair:
		if s.Kind == RingAndPinion || s.Kind == Gearcase {
			return bigger(0, 1, swapped)
		}
	case shapePlanetary:
		return biggerRing(c, t, 1, 0, around)
	case shapePairPlanetary:
		if e := bigger(0, 1, swapped); e != nil {
			return e
		}
		return biggerRing(c, t, 3, 2, around)
	case shapePairPair:
		return bigger(0, 1, swapped)
	}
	return nil
}

func biggerRing(c Construction, t []int, ring, sun int, why string) *Error {
	if t[ring] <= t[sun] {
		return fault.New("teeth/"+c.Teeth[ring].Name, "the %s (%d) must have more teeth than the %s (%d): %s", c.Teeth[ring].Words, t[ring], c.Teeth[sun].Words, t[sun], why)
	}
	return nil
}

// maxTeeth is above any gear that fits a vehicle.
const maxTeeth = 250

// members lists every name that a tooth count may bear at this stage.
func (sp *Space) members() []string {
	var out []string
	planetary := false
	for _, c := range sp.cons {
		for _, t := range c.Teeth {
			if !slices.Contains(out, t.Name) {
				out = append(out, t.Name)
			}
		}
		planetary = planetary || c.shape == shapePlanetary || c.shape == shapePairPlanetary
	}
	if planetary {
		out = append(out, "planet", "planets")
	}
	return out
}

// Size is the number of builds weighed, and how many of them the shop's list
// holds.
func (sp *Space) Size() (builds, listed int) { return len(sp.hyps), sp.prior.Sets }

// Bytes is about how much memory the space takes.
func (sp *Space) Bytes() int { return cap(sp.hyps)*int(unsafe.Sizeof(hyp{})) + len(sp.hyps)*(3*8+4) }

func (sp *Space) build(i int) Build {
	h := &sp.hyps[i]
	c := sp.cons[h.con]
	b := Build{Construction: c.ID, Ratio: h.exact()}
	for k := range c.Teeth {
		b.Teeth = append(b.Teeth, int(h.teeth[k]))
	}
	return b
}

// Construction returns the construction by its ID.
func (sp *Space) Construction(id string) (Construction, bool) {
	for _, c := range sp.cons {
		if c.ID == id {
			return c, true
		}
	}
	return Construction{}, false
}

// CheckEntry refuses a set that can't belong to a stage; the fields of its
// fault are construction, teeth and weight.
func CheckEntry(s Stage, e CatalogEntry) error {
	cons, err := s.Constructions()
	if err != nil {
		return err
	}
	ci := slices.IndexFunc(cons, func(c Construction) bool { return c.ID == e.Construction })
	if ci < 0 {
		names := make([]string, len(cons))
		for i, c := range cons {
			names[i] = c.ID
		}
		return fault.New("construction", "one of %s", strings.Join(names, ", "))
	}
	c := cons[ci]
	if len(e.Teeth) != len(c.Teeth) {
		names := make([]string, len(c.Teeth))
		for i, t := range c.Teeth {
			names[i] = t.Words
		}
		return fault.New("teeth", "%d tooth counts, in this order: %s", len(c.Teeth), strings.Join(names, ", "))
	}
	if err := s.refusal(c, e.Teeth); err != nil {
		return fault.New("teeth", "%s", err.Message)
	}
	return nil
}

// EntryRatio is the ratio of a set; an error for one that can't belong to the
// stage.
func EntryRatio(s Stage, e CatalogEntry) (exact.Number, error) {
	if err := CheckEntry(s, e); err != nil {
		return exact.Number{}, err
	}
	cons, err := s.Constructions()
	if err != nil {
		return exact.Number{}, err
	}
	for _, c := range cons {
		if c.ID == e.Construction {
			return c.ratioOf(s, e.Teeth)
		}
	}
	return exact.Number{}, fault.New("construction", "no such construction")
}
