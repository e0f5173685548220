package regear

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/match"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// Limits and weights of the recommendation. A point is about one percent off.
const (
	worthwhile    = 4.0  // gears aren't changed for less than about four percent
	eachAxle      = 1.5  // every further axle that is opened
	spurWork      = 1.0  // a spur pair behind a cover is swapped in an hour
	edgeOfMatch   = 2.0  // part-time ends that may be over one percent apart by the tires' spread
	taller        = 2.0  // towing and trail: percent too tall count double
	shorterRoad   = 1.5  // highway: percent too short count more
	bandWeight    = 1.5  // percent outside the cruise band
	otherCarrier  = 3.0  // the axle needs another carrier
	unsureCarrier = 1.0  // the carrier's range isn't known
	notOnShelf    = 0.5  // it has to be ordered
	tolerated     = 0.5  // front and rear differ, but tolerably
	cautioned     = 4.0  // front and rear differ so that a differential works hard
	pairLimit     = 2.0  // pairs further apart than this, in percent, aren't listed
	suitsWithin   = 3.0  // a tire suits gears within this of stock
	slowWeight    = 0.5  // percent faster than the wanted crawl, or short of the launch
	mostSets      = 60   // of the primary axle that are weighed, the nearest to stock
	spinFactor    = 0.75 // of a tire's mass acts at its rolling radius when it is spun up
)

// familiesOf lists the families that may fit an axle: the one that is named,
// else those that hold the pair that is in it, else all of them.
func (p *planner) familiesOf(at string) (list []string, known bool) {
	if p.q.common {
		return []string{CommonFamily}, false
	}
	if f := strings.TrimSpace(p.facts(at).Family); f != "" {
		return []string{f}, true
	}
	z := p.axles[at].Pair
	var all, fit []string
	for _, g := range p.q.Shop.Sets {
		if !slices.Contains(all, g.Family) {
			all = append(all, g.Family)
		}
		if g.Ring == z[0] && g.Pinion == z[1] && !slices.Contains(fit, g.Family) {
			fit = append(fit, g.Family)
		}
	}
	if len(fit) > 0 {
		return fit, true
	}
	return all, false
}

// doubt lists the families that an axle may be of where several hold what is
// in it: gears of one don't fit the housing of another.
func (p *planner) doubt(at string) []string {
	if list, known := p.familiesOf(at); known && len(list) > 1 {
		return list
	}
	return nil
}

// setsFor lists the shop's sets of some families, one for each tooth pair:
// what is on the shelf, else the cheapest.
func setsFor(sets []GearSet, families []string) []GearSet {
	best := map[[2]int]GearSet{}
	for _, g := range sets {
		if !slices.ContainsFunc(families, func(f string) bool { return strings.EqualFold(strings.TrimSpace(g.Family), f) }) {
			continue
		}
		k := [2]int{g.Ring, g.Pinion}
		old, ok := best[k]
		better := !ok || (g.Shelf > 0 && old.Shelf == 0) || ((g.Shelf > 0) == (old.Shelf > 0) && g.Price.Sign() > 0 && (old.Price.IsZero() || g.Price.Cmp(old.Price.Number) < 0))
		if better {
			best[k] = g
		}
	}
	out := make([]GearSet, 0, len(best))
	for _, g := range best {
		out = append(out, g)
	}
	sort.Slice(out, func(i, k int) bool {
		if c := out[i].Ratio().Cmp(out[k].Ratio()); c != 0 {
			return c < 0
		}
		return out[i].Ring < out[k].Ring
	})
	return out
}

func (p *planner) candidates(out *Plan) {
	out.Variants = []Variant{}
	out.Candidates = []Candidate{}
	add := func(c Candidate) {
		if c.ratio.IsZero() {
			c.ratio = p.base
		}
		if c.Rear != nil {
			c.ratio = c.Rear.Ratio()
		}
		c.Opens = p.opens(&c)
		c.Off = say.Round((c.ratio.Div(out.Equivalent).Float()-1)*100, 4)
		c.Schools, c.Points, c.Carriers = []string{}, []Penalty{}, []CarrierFit{}
		out.Candidates = append(out.Candidates, c)
	}
	add(Candidate{ID: "leave", Name: "Leave it: " + p.base.Decimal(2) + " stays", Variant: "tires_only", Shelf: true})
	for _, c := range p.spurPairs(out) {
		add(c)
	}
	families, known := p.familiesOf(p.primary)
	rear, left := p.nearest(setsFor(p.q.Shop.Sets, families), out.Equivalent)
	sets := len(rear)
	rear = p.withFitted(p.primary, rear)
	if left > 0 {
		out.Notes = append(out.Notes, leftOut(rear, left))
	}
	var front []GearSet
	if p.secondary != "" {
		list, ok := p.familiesOf(p.secondary)
		front, known = setsFor(p.q.Shop.Sets, list), known && ok
	}
	p.noteSets(out, known, sets, len(front))
	if p.secondary != "" {
		front = p.withFitted(p.secondary, front)
	}
	seen := map[string]string{}
	for i := range rear {
		r := rear[i]
		same := p.allHave(p.primary, r)
		id := seen[r.Ratio().String()]
		if id == "" {
			id = "r" + strings.ReplaceAll(r.Ratio().String(), "/", "_")
			seen[r.Ratio().String()] = id
			out.Variants = append(out.Variants, p.variant(id, r.Label(), r.Ratio(), p.newMM))
		}
		if p.secondary == "" {
			if !same {
				add(Candidate{ID: fmt.Sprintf("%d-%d", r.Ring, r.Pinion), Name: r.Label(), Variant: id, Rear: &r})
			}
			continue
		}
		for _, f := range p.fronts(r, front) {
			f := f
			frontSame := p.allHave(p.secondary, f)
			if same && frontSame {
				continue
			}
			c := Candidate{ID: fmt.Sprintf("%d-%d+%d-%d", r.Ring, r.Pinion, f.Ring, f.Pinion), Name: r.Label(), Variant: id, Rear: &r, Front: &f}
			switch {
			case same:
				c.Name, c.Keeps = r.Label()+" stays rear, "+f.Label()+" front", []string{p.primary}
			case frontSame:
				c.Name, c.Keeps = r.Label()+" rear, "+f.Label()+" stays front", []string{p.secondary}
			case f.Ring != r.Ring || f.Pinion != r.Pinion:
				c.Name += " rear, " + f.Label() + " front"
			}
			add(c)
		}
	}
	for i := range out.Candidates {
		p.judge(&out.Candidates[i], out)
	}
}

// withFitted is a list of sets with what is in the axles of an end first: what stays
// is always a candidate. Where that end can't be changed it is the only one.
func (p *planner) withFitted(at string, sets []GearSet) []GearSet {
	fixed := p.facts(at).Fixed
	i := slices.IndexFunc(sets, func(g GearSet) bool { return p.allHave(at, g) })
	switch {
	case i >= 0 && fixed:
		return sets[i : i+1]
	case i >= 0:
		return sets
	}
	a := p.axles[at]
	for _, x := range p.groups[at] {
		if !x.Ratio.Equal(a.Ratio) || x.Pair != a.Pair {
			if fixed { // each keeps its own
				return nil
			}
			return sets
		}
	}
	g := GearSet{Ring: a.Pair[0], Pinion: a.Pair[1], fitted: true}
	if g.Ring == 0 {
		r := a.Ratio.Rat()
		if !r.Num().IsInt64() || !r.Denom().IsInt64() {
			return sets
		}
		g.Ring, g.Pinion = int(r.Num().Int64()), int(r.Denom().Int64())
	}
	if fixed {
		return []GearSet{g}
	}
	// A catalog set of the same ratio would change nothing.
	out := []GearSet{g}
	for _, x := range sets {
		if !x.Ratio().Equal(a.Ratio) {
			out = append(out, x)
		}
	}
	return out
}

// nearest keeps the sets that come nearest to a ratio, with what is in the
// axle already, and says how many it leaves out.
func (p *planner) nearest(sets []GearSet, to exact.Number) (kept []GearSet, left int) {
	if len(sets) <= mostSets {
		return sets, 0
	}
	off := func(g GearSet) float64 { return math.Abs(math.Log(g.Ratio().Div(to).Float())) }
	order := slices.Clone(sets)
	slices.SortStableFunc(order, func(a, b GearSet) int { return cmp.Compare(off(a), off(b)) })
	limit := off(order[mostSets-1])
	for _, g := range sets {
		if (off(g) <= limit && len(kept) < mostSets) || p.allHave(p.primary, g) {
			kept = append(kept, g)
		}
	}
	return kept, len(sets) - len(kept)
}

// allHave is whether every axle of an end has a set's teeth.
func (p *planner) allHave(at string, g GearSet) bool {
	if g.fitted {
		return true
	}
	for _, a := range p.groups[at] {
		if a.Pair != [2]int{g.Ring, g.Pinion} {
			return false
		}
	}
	return true
}

// opens names every axle that a candidate opens.
func (p *planner) opens(c *Candidate) []string {
	out := []string{}
	for _, at := range []string{p.primary, p.secondary} {
		if g := c.changed(p, at); g != nil {
			for _, a := range p.set(at, g).opens {
				out = append(out, a.Name)
			}
		}
	}
	return out
}

// axlesToChange are the axles of an end that don't have the set already.
func (p *planner) axlesToChange(at string, g GearSet) []driveline.AxleEnd {
	var out []driveline.AxleEnd
	for _, a := range p.groups[at] {
		if !g.fitted && a.Pair != [2]int{g.Ring, g.Pinion} {
			out = append(out, a)
		}
	}
	return out
}

// spurPairs are the change gears that bring a quick-change axle nearest to
// stock, with ring and pinion left in: the pair that is in it swapped over, and
// pairs with the same sum of teeth, which keep the center distance.
func (p *planner) spurPairs(out *Plan) []Candidate {
	if p.secondary != "" || len(p.groups[p.primary]) != 1 {
		return nil
	}
	var z *driveline.ChangeGears
	for i := range p.doc.Parts {
		if x := &p.doc.Parts[i]; x.ID == p.axles[p.primary].ID {
			z = x.Axle.Change
		}
	}
	if z == nil || z.Input < 1 || z.Pinion < 1 {
		return nil
	}
	was := exact.New(int64(z.Pinion), int64(z.Input))
	sum := z.Pinion + z.Input
	var list []Candidate
	for input := max(8, sum/3); input <= sum-max(8, sum/3); input++ {
		pinion := sum - input
		if input == z.Input {
			continue
		}
		k := exact.New(int64(pinion), int64(input)).Div(was)
		c := Candidate{ID: fmt.Sprintf("change-%d-%d", pinion, input), Change: []int{pinion, input}, ratio: p.base.Mul(k),
			Name: changeName(pinion, input)}
		if pinion == z.Input {
			c.Name = swappedName(pinion, input)
			c.Shelf = true
		}
		list = append(list, c)
	}
	eq := out.Equivalent.Float()
	off := func(c Candidate) float64 { return math.Abs(math.Log(c.ratio.Float() / eq)) }
	sort.SliceStable(list, func(i, k int) bool { return off(list[i]) < off(list[k]) })
	kept := list[:min(3, len(list))]
	for _, c := range list[len(kept):] {
		if c.Shelf {
			kept = append(kept, c)
		}
	}
	for i := range kept {
		kept[i].Variant = kept[i].ID
		out.Variants = append(out.Variants, p.variant(kept[i].ID, kept[i].Name, kept[i].ratio, p.newMM))
	}
	return kept
}

// fronts lists the front sets that come within the limit of a rear set, best
// match first, at most four.
func (p *planner) fronts(r GearSet, front []GearSet) []GearSet {
	type near struct {
		g   GearSet
		off float64
	}
	var list []near
	for _, f := range front {
		if off, ok := p.mismatch(r, f); ok && math.Abs(off) <= pairLimit+1e-9 {
			list = append(list, near{f, math.Abs(off)})
		}
	}
	sort.SliceStable(list, func(i, k int) bool { return list[i].off < list[k].off })
	var out []GearSet
	for _, n := range list[:min(4, len(list))] {
		out = append(out, n.g)
	}
	return out
}

// mismatch is how far a pair's ends are from each other, in percent.
func (p *planner) mismatch(r, f GearSet) (float64, bool) {
	m := p.ends
	if m == nil || m.First == nil {
		return 0, false
	}
	k := f.Ratio().Float() / p.axles[p.secondary].Ratio.Float() * m.Second.Float() / (r.Ratio().Float() / p.axles[p.primary].Ratio.Float() * m.First.Float())
	return (k - 1) * 100, true
}

// match compares front and rear with a pair, on the new tires.
func (p *planner) match(r, f GearSet) *match.Match {
	return p.ends.Scaled(r.Ratio().Div(p.axles[p.primary].Ratio), f.Ratio().Div(p.axles[p.secondary].Ratio),
		p.primary+" "+r.Label(), p.secondary+" "+f.Label())
}

func (p *planner) facts(at string) AxleFacts {
	if at == "front" {
		return p.q.Front
	}
	return p.q.Rear
}
