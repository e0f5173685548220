package regear

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// Limits and weights of the recommendation. A point is about one percent off.
const (
	worthwhile    = 4.0 // gears aren't changed for less than about four percent
	eachAxle      = 1.5 // every further axle that is opened
	spurWork      = 1.0 // a spur pair behind a cover is swapped in an hour
	edgeOfMatch   = 2.0 // part-time ends that may be over one percent apart by the tires' spread
	taller        = 2.0 // towing and trail: percent too tall count double
	shorterRoad   = 1.5 // highway: percent too short count more
	bandWeight    = 1.5 // percent outside the cruise band
	otherCarrier  = 3.0 // the axle needs another carrier
	unsureCarrier = 1.0 // the carrier's range isn't known
	notOnShelf    = 0.5 // it has to be ordered
	tolerated     = 0.5 // front and rear differ, but tolerably
	cautioned     = 4.0 // front and rear differ so that a differential works hard
	pairLimit     = 2.0 // pairs further apart than this, in percent, aren't listed
	suitsWithin   = 3.0 // a tire suits gears within this of stock
	slowWeight    = 0.5 // percent faster than the wanted crawl, or short of the launch
	maxCandidates = 400
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
	rear := setsFor(p.q.Shop.Sets, families)
	var front []GearSet
	if p.secondary != "" {
		list, ok := p.familiesOf(p.secondary)
		front, known = setsFor(p.q.Shop.Sets, list), known && ok
	}
	switch {
	case p.q.common:
		out.Notes = append(out.Notes, "The shop's lists hold no gear set yet, so pairs that are commonly made are weighed. They are not priced, and whether one is made for this housing has to be asked before ordering. Enter the shop's own sets, or take over a starter list, under Shop.")
	case len(rear) == 0 || (p.secondary != "" && len(front) == 0):
		out.Notes = append(out.Notes, "The catalog holds no gear set of this family.")
	case p.doubt(p.primary) != nil || (p.secondary != "" && p.doubt(p.secondary) != nil):
		out.Notes = append(out.Notes, "The sets of several families are shown, because an axle's family isn't named.")
	case !known:
		out.Notes = append(out.Notes, "The axle's family isn't named and what is in it is in no family of the catalog, so all families are shown: make sure that a set fits this housing.")
	}
	for _, at := range []string{p.primary, p.secondary} {
		z := p.axles[at].Pair
		if at == "" || p.facts(at).Family == "" || z[0] == 0 || p.q.common {
			continue
		}
		sets := setsFor(p.q.Shop.Sets, []string{p.facts(at).Family})
		if len(sets) > 0 && !slices.ContainsFunc(sets, func(g GearSet) bool { return g.Ring == z[0] && g.Pinion == z[1] }) {
			out.Notes = append(out.Notes, fmt.Sprintf("What is in the %s axle, %d/%d, is no set of %s in the catalog: is the family right?", at, z[0], z[1], p.facts(at).Family))
		}
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
			if len(out.Candidates) < maxCandidates {
				add(c)
			}
		}
	}
	for i := range out.Candidates {
		p.judge(&out.Candidates[i], out)
	}
}

// allHave is whether every axle of an end has a set's teeth.
func (p *planner) allHave(at string, g GearSet) bool {
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
		if c.changes(p)[at] != nil {
			for _, a := range p.axlesToChange(at, *c.changes(p)[at]) {
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
		if a.Pair != [2]int{g.Ring, g.Pinion} {
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
			Name: fmt.Sprintf("Change gears %d on the pinion shaft, %d on the input shaft; ring and pinion stay", pinion, input)}
		if pinion == z.Input {
			c.Name = fmt.Sprintf("The change gears swapped over: %d on the pinion shaft, %d on the input shaft", pinion, input)
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
func (p *planner) match(r, f GearSet) *driveline.Match {
	return p.ends.Scaled(r.Ratio().Div(p.axles[p.primary].Ratio), f.Ratio().Div(p.axles[p.secondary].Ratio),
		p.primary+" "+r.Label(), p.secondary+" "+f.Label())
}

func (p *planner) facts(at string) AxleFacts {
	if at == "front" {
		return p.q.Front
	}
	return p.q.Rear
}

// carrier says whether the carrier in an axle takes a ratio. What it takes is
// given, or known from the set in the catalog that is fitted now.
func (p *planner) carrier(at string, set GearSet) CarrierFit {
	f := p.facts(at)
	span, how := f.Carrier, "as entered"
	if span == nil {
		z := p.axles[at].Pair
		for i := range p.q.Shop.Sets {
			g := &p.q.Shop.Sets[i]
			if g.Ring != z[0] || g.Pinion != z[1] || g.Carrier == nil || (f.Family != "" && !strings.EqualFold(g.Family, f.Family)) {
				continue
			}
			if span != nil && (!span.From.Equal(g.Carrier.From.Number) || !span.To.Equal(g.Carrier.To.Number)) {
				span = nil // families disagree, and which it is isn't known
				break
			}
			span, how = g.Carrier, "from the catalog, by the set that is in it"
		}
	}
	switch {
	case span == nil:
		return CarrierFit{at, "unknown", fmt.Sprintf("Whether the %s carrier takes %s isn't known: carriers split by ratio range. Look before ordering.", at, set.Ratio().Decimal(2))}
	case span.has(set.Ratio()):
		return CarrierFit{at, "fits", fmt.Sprintf("The %s carrier takes %s (%s).", at, span.words(), how)}
	}
	text := fmt.Sprintf("The %s carrier takes %s (%s), not %s: another carrier is needed.", at, span.words(), how, set.Ratio().Decimal(2))
	if set.Carrier != nil {
		text = strings.TrimSuffix(text, ".") + ", the one for " + set.Carrier.words() + "."
	}
	return CarrierFit{at, "other", text}
}

// judge weighs a candidate.
func (p *planner) judge(c *Candidate, out *Plan) {
	v := out.variant(c.Variant)
	add := func(what string, points float64, format string, args ...any) {
		if points > 0.005 {
			c.Points = append(c.Points, Penalty{what, say.Round(points, 2), fmt.Sprintf(format, args...)})
		}
	}
	points, text := offPenalty(p.q.Use, v.Against)
	add("stock", points, "%s", text)

	if p.q.Cruise.HighRPM > 0 {
		switch v.InBand {
		case "below":
			add("cruise", bandWeight*100*(p.q.Cruise.LowRPM/v.CruiseRPM-1), "%s rpm at %s, below the band", say.Trim(v.CruiseRPM, 0), p.speed(p.q.Cruise.KMH, 0))
		case "above":
			add("cruise", bandWeight*100*(v.CruiseRPM/p.q.Cruise.HighRPM-1), "%s rpm at %s, above the band", say.Trim(v.CruiseRPM, 0), p.speed(p.q.Cruise.KMH, 0))
		}
	}
	if w := p.q.CrawlKMH; w > 0 && v.CrawlKMH > w {
		add("crawl", slowWeight*100*(v.CrawlKMH/w-1), "crawls at %s where %s is wanted", p.speed(v.CrawlKMH, 2), p.speed(w, 2))
	}
	if w := p.q.Launch; w > 0 && v.Launch < w {
		add("launch", slowWeight*(w-v.Launch), "launches with %s %% of stock where %s is wanted", say.Trim(v.Launch, 1), say.Trim(w, 0))
	}
	if c.Change != nil {
		add("work", spurWork, "the spur pair is swapped behind its cover")
		if !c.Shelf {
			add("shelf", notOnShelf, "the pair isn't in the shop's lists")
		}
		c.total()
		return
	}
	if c.Rear == nil {
		c.Match = p.now
		c.Complete = true
		z := exact.Number{}
		c.Low, c.High = &z, &z
		if c.Match != nil {
			p.matchPoints(c, add)
		}
		c.total()
		return
	}
	add("work", worthwhile, "changing gears is worth it from about %s %% on", say.Trim(worthwhile, 0))
	if n := len(c.Opens); n > 1 {
		add("axles", eachAxle*float64(n-1), "%d axles are opened", n)
	}
	if s, off := out.Change.Spread, math.Abs(out.TiresOnly.Against); off < s {
		add("tires", s-off, "the tires' own spread, ± %s %%, is more than what there is to correct: roll both out first", say.Trim(s, 1))
	}
	c.Shelf = p.onShelf(c)
	if !c.Shelf {
		add("shelf", notOnShelf, "has to be ordered")
	}
	for _, at := range []string{p.primary, p.secondary} {
		if g := c.changes(p)[at]; g != nil {
			c.Carriers = append(c.Carriers, p.carrier(at, *g))
		}
	}
	switch {
	case p.several():
		c.Match = p.doc.With(c.pairs(p), p.tiresAt()).Ends()
		p.matchPoints(c, add)
	case c.Front != nil:
		c.Match = p.match(*c.Rear, *c.Front)
		p.matchPoints(c, add)
	}
	if m := c.NextMatch; m != nil && (m.Level == "wrong" || m.Level == "caution") && m.Level != c.Match.Level {
		add("next center", edgeOfMatch, "with the center that comes next: %s", m.Verdict)
	}
	for _, f := range c.Carriers {
		switch f.State {
		case "other":
			add("carrier", otherCarrier, "%s", f.Text)
		case "unknown":
			add("carrier", unsureCarrier, "%s", f.Text)
		}
	}
	e := p.estimate(c)
	if len(e.Lines) > 0 {
		lo, hi := e.Low, e.High
		c.Low, c.High, c.Complete = &lo, &hi, len(e.Missing) == 0
	}
	c.total()
}

// changes lists the sets that really go in, by the end of the vehicle.
func (c *Candidate) changes(p *planner) map[string]*GearSet {
	out := map[string]*GearSet{}
	if c.Rear != nil && !slices.Contains(c.Keeps, p.primary) {
		out[p.primary] = c.Rear
	}
	if c.Front != nil && !slices.Contains(c.Keeps, p.secondary) {
		out[p.secondary] = c.Front
	}
	return out
}

// pairs are a candidate's teeth by end.
func (c *Candidate) pairs(p *planner) map[string][2]int {
	out := map[string][2]int{}
	for at, g := range c.changes(p) {
		out[at] = [2]int{g.Ring, g.Pinion}
	}
	return out
}

// onShelf is whether as many sets lie there as axles are opened; two equal axles
// take two.
func (p *planner) onShelf(c *Candidate) bool {
	need, have := map[string]int{}, map[string]int{}
	for at, g := range c.changes(p) {
		key := fmt.Sprintf("%s %d/%d", strings.ToLower(g.Family), g.Ring, g.Pinion)
		need[key] += len(p.axlesToChange(at, *g))
		have[key] = g.Shelf
	}
	for key, n := range need {
		if have[key] < n {
			return false
		}
	}
	return true
}

func (p *planner) matchPoints(c *Candidate, add func(string, float64, string, ...any)) {
	m := c.Match
	if p.q.NextCenter != "" && p.secondary != "" {
		if fr := p.frontRear(m); fr != nil && fr.First != nil {
			c.NextMatch = fr.As(p.q.NextCenter)
		}
	}
	switch m.Level {
	case "wrong":
		c.Refused = m.Verdict
	case "caution":
		add("match", cautioned, "%s", m.Verdict)
	case "tolerated":
		off := math.Abs(*m.Percent)
		add("match", tolerated+2*off, "%s", m.Verdict)
		if m.Type == "part_time" && off+p.tireSpread > 1 {
			add("match edge", edgeOfMatch, "%s %% apart on tires known to ± %s %%: it may be more than the one percent that practice allows", say.Trim(off, 2), say.Trim(p.tireSpread, 1))
		}
	}
}

// offPenalty is what being off back-to-stock costs, by use. Too tall for towing
// counts more only beyond what gears aren't changed for anyway: tires of one
// size vary by as much.
func offPenalty(use string, against float64) (float64, string) {
	off := math.Abs(against)
	dir := "shorter"
	if against < 0 {
		dir = "taller"
	}
	text := fmt.Sprintf("acts %s %% %s than stock", say.Trim(off, 1), dir)
	beyond := math.Max(0, off-worthwhile)
	switch {
	case use == Highway && against > 0:
		return shorterRoad * off, text + ": more rpm at speed"
	case (use == Towing || use == Trail) && against < 0:
		return off + (taller-1)*beyond, text + ": less pull"
	case (use == Towing || use == Trail) && against > 0:
		return 0.7 * off, text
	}
	return off, text
}

func (c *Candidate) total() {
	c.Score = 0
	for _, x := range c.Points {
		c.Score += x.Points
	}
	c.Score = say.Round(c.Score, 2)
}
