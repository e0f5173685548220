package regear

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/match"
	"zorvel/core/exact"
	"zorvel/core/say"
)

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
			span, how = g.Carrier, "from the shop's list, by the installed set"
		}
	}
	switch {
	case span == nil:
		return CarrierFit{at, "unknown", carrierUnknown(at, set)}
	case span.has(set.Ratio()):
		return CarrierFit{at, "fits", carrierFits(at, span, how)}
	}
	text := carrierOther(at, span, how, set)
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
	c.Points = append(c.Points, p.drivePoints(v)...)
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
		if g := c.changed(p, at); g != nil {
			c.Carriers = append(c.Carriers, p.set(at, g).carrier)
		}
	}
	switch {
	case p.several():
		c.Match = match.Ends(p.doc.With(c.pairs(p), p.tiresAt()))
		p.matchPoints(c, add)
	case c.Front != nil:
		c.Match = p.match(*c.Rear, *c.Front)
		p.matchPoints(c, add)
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

// drivePoints is how far a variant drives from what is wanted of it.
func (p *planner) drivePoints(v *Variant) []Penalty {
	if list, ok := p.driven[v.ID]; ok {
		return list
	}
	list := []Penalty{}
	add := func(what string, points float64, format string, args ...any) {
		if points > 0.005 {
			list = append(list, Penalty{what, say.Round(points, 2), fmt.Sprintf(format, args...)})
		}
	}
	points, text := offPenalty(p.q.Use, v.Against)
	add("stock", points, "%s", text)

	if p.q.Cruise.HighRPM > 0 {
		switch v.InBand {
		case "below":
			add("cruise", bandWeight*100*(p.q.Cruise.LowRPM/v.CruiseRPM-1), "%s rpm at %s, below the rpm range",
				say.Trim(v.CruiseRPM, 0), p.speed(p.q.Cruise.KMH, 0))
		case "above":
			add("cruise", bandWeight*100*(v.CruiseRPM/p.q.Cruise.HighRPM-1), "%s rpm at %s, above the rpm range",
				say.Trim(v.CruiseRPM, 0), p.speed(p.q.Cruise.KMH, 0))
		}
	}
	if w := p.q.CrawlKMH; w > 0 && v.CrawlKMH > w {
		add("crawl", slowWeight*100*(v.CrawlKMH/w-1), "crawls at %s; you asked for %s", p.speed(v.CrawlKMH, 2), p.speed(w, 2))
	}
	if w := p.q.Launch; w > 0 && v.Launch < w {
		add("launch", slowWeight*(w-v.Launch), "launches with %s %% of stock; you asked for %s", say.Trim(v.Launch, 1), say.Trim(w, 0))
	}
	if p.driven == nil {
		p.driven = map[string][]Penalty{}
	}
	p.driven[v.ID] = list
	return list
}

// endSet is what a set in the axles of one end comes to, whatever is at the other end.
type endSet struct {
	carrier CarrierFit
	opens   []driveline.AxleEnd
	cost    *Estimate
}

type endKey struct {
	at, id, family        string
	ring, pinion, onShelf int
	price                 exact.Figure
	carrier               *Span
	fitted                bool
}

// set is looked up or made: of a hundred pairs ten have the same set at one end.
func (p *planner) set(at string, g *GearSet) *endSet {
	k := endKey{at, g.ID, g.Family, g.Ring, g.Pinion, g.Shelf, g.Price, g.Carrier, g.fitted}
	if s := p.atEnd[k]; s != nil {
		return s
	}
	s := &endSet{carrier: p.carrier(at, *g), opens: p.axlesToChange(at, *g)}
	s.cost = p.estimateEnd(at, g, s)
	if p.atEnd == nil {
		p.atEnd = map[endKey]*endSet{}
	}
	p.atEnd[k] = s
	return s
}

// changed is the set that really goes in at an end, or nil.
func (c *Candidate) changed(p *planner, at string) *GearSet {
	g := c.Front
	if at == p.primary {
		g = c.Rear
	}
	if g == nil || at == "" || slices.Contains(c.Keeps, at) {
		return nil
	}
	return g
}

// changes lists the sets that really go in, by the end of the vehicle.
func (c *Candidate) changes(p *planner) map[string]*GearSet {
	out := map[string]*GearSet{}
	for _, at := range []string{p.primary, p.secondary} {
		if g := c.changed(p, at); g != nil {
			out[at] = g
		}
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
	a, b := c.changed(p, p.primary), c.changed(p, p.secondary)
	enough := func(g *GearSet, n int) bool { return g == nil || g.Shelf >= n }
	if a != nil && b != nil && a.Ring == b.Ring && a.Pinion == b.Pinion && strings.EqualFold(a.Family, b.Family) {
		return enough(b, len(p.set(p.primary, a).opens)+len(p.set(p.secondary, b).opens))
	}
	return (a == nil || enough(a, len(p.set(p.primary, a).opens))) && (b == nil || enough(b, len(p.set(p.secondary,
		b).opens)))
}

func (p *planner) matchPoints(c *Candidate, add func(string, float64, string, ...any)) {
	m := c.Match
	if p.q.NextCenter != "" && p.secondary != "" {
		if fr := p.frontRear(m); fr != nil && fr.First != nil {
			c.NextMatch = fr.As(p.q.NextCenter)
		}
	}
	p.matchCost(c, m, "match", "", add)
	// What comes next weighs like what is there, and counts once where both say the same.
	if n := c.NextMatch; n != nil && (n.Level != m.Level || n.Type == "part_time" && m.Type != "part_time") {
		p.matchCost(c, n, "next center", "with the "+centerWords(p.q.NextCenter)+" that comes next: ", add)
	}
}

func (p *planner) matchCost(c *Candidate, m *match.Match, what, when string, add func(string, float64, string, ...any)) {
	switch m.Level {
	case "wrong":
		if c.Refused == "" {
			c.Refused = say.Capital(when + say.Small(m.Verdict))
		}
	case "caution":
		add(what, cautioned, "%s%s", when, m.Verdict)
	case "tolerated":
		off := math.Abs(*m.Percent)
		if m.Type == "solid" { // less than the tires themselves differ by
			add(what, off, "%s%s", when, m.Verdict)
			return
		}
		add(what, tolerated+2*off, "%s%s", when, m.Verdict)
		if m.Type == "part_time" && off+p.tireSpread > 1 {
			add(what+" edge", edgeOfMatch, "%s%s %% apart on tires known to ± %s %%: it may be more than the one percent that practice allows", when, say.Trim(off, 2), say.Trim(p.tireSpread, 1))
		}
	}
}

// offPenalty is what being off back-to-stock costs, by use. Too tall for towing
// counts more only beyond what gears aren't changed for anyway: tires of one
// size vary by as much. Trail asks for shorter than stock: there it counts from one
// percent on.
func offPenalty(use string, against float64) (float64, string) {
	off := math.Abs(against)
	dir := "shorter"
	if against < 0 {
		dir = "taller"
	}
	text := offText(off, dir)
	beyond := math.Max(0, off-worthwhile)
	if use == Trail { // shorter than stock is what trail asks for
		beyond = math.Max(0, off-1)
	}
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
