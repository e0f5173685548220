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
	"zorvel/core/tire"
)

// next asks the same for the tires next to the new one, so that gears are
// bought once.
func (p *planner) next(out *Plan) {
	type size struct {
		name string
		mm   exact.Number
	}
	var below, above *size
	for _, t := range p.q.Shop.Tires {
		a, err := tire.Work(t.Tire)
		if err != nil {
			continue
		}
		s := &size{t.Name, a.RollingMM}
		r := a.RollingMM.Float() / p.newMM.Float()
		// Next means a real step, not the same size by another name.
		if r < 0.985 && (below == nil || s.mm.Cmp(below.mm) > 0) {
			below = s
		}
		if r > 1.015 && (above == nil || s.mm.Cmp(above.mm) < 0) {
			above = s
		}
	}
	inch := exact.New(int64(math.Round(25.4*tire.RadialFactor*1000)), 1000)
	if below == nil {
		below = &size{"one inch smaller", p.newMM.Sub(inch)}
	}
	if above == nil {
		above = &size{"one inch larger", p.newMM.Add(inch)}
	}
	rec := out.variant(out.find(out.Advice.Candidate).Variant)
	for _, s := range []*size{below, above} {
		if s.mm.Sign() <= 0 {
			continue
		}
		n := Next{Name: s.name, RollingMM: s.mm, Equivalent: p.stockRatio.Mul(s.mm).Div(p.stockMM)}
		k := s.mm.Float() / p.newMM.Float()
		n.Percent = say.Round((k-1)*100, 2)
		n.Recommended = say.Round((rec.Ratio.Div(n.Equivalent).Float()-1)*100, 4)
		n.CruiseRPM = say.Round(rec.CruiseRPM/k, 2)
		// What would be recommended there: the same weighing on that tire.
		least := math.Inf(1)
		for i := range out.Candidates {
			c := &out.Candidates[i]
			if c.Refused != "" {
				continue
			}
			if score := p.scoreOn(c, out, k); score < least-1e-9 {
				least, n.Best, n.BestName = score, c.ID, c.Name
			}
		}
		if n.Best == out.Advice.Candidate {
			n.Text = sameStays(n)
		} else {
			n.Text = tireAsks(n)
		}
		out.Next = append(out.Next, n)
	}
}

// scoreOn is a candidate's score if the tire rolled k times as far.
func (p *planner) scoreOn(c *Candidate, out *Plan, k float64) float64 {
	score := 0.0
	for _, x := range c.Points {
		switch x.What {
		case "stock", "cruise", "crawl", "launch":
		default:
			score += x.Points
		}
	}
	v := out.variant(c.Variant)
	rel := v.Launch / k
	pts, _ := offPenalty(p.q.Use, rel-100)
	score += pts
	rpm := v.CruiseRPM / k
	if b := p.q.Cruise; b.HighRPM > 0 {
		score += bandWeight * 100 * (math.Max(0, b.LowRPM/rpm-1) + math.Max(0, rpm/b.HighRPM-1))
	}
	if w := p.q.CrawlKMH; w > 0 {
		score += slowWeight * 100 * math.Max(0, v.CrawlKMH*k/w-1)
	}
	if w := p.q.Launch; w > 0 {
		score += slowWeight * math.Max(0, w-rel)
	}
	return score
}

// reverse answers which tires suit the gears that are in it, and those that
// are recommended.
func (p *planner) reverse(out *Plan) {
	for _, id := range []string{"leave", out.Advice.Candidate} {
		c := out.find(id)
		if c == nil || (len(out.Reverse) == 1 && out.Reverse[0].Candidate == id) {
			continue
		}
		mm := c.ratio.Mul(p.stockMM).Div(p.stockRatio)
		r := Reverse{Candidate: id, Name: c.Name, RollingMM: mm, AboutMM: say.Round(mm.Float()/tire.RadialFactor, 1), Tires: []Suits{},
			Formula: p.reverseFormula(c, mm)}
		v := out.variant(c.Variant)
		for _, t := range p.q.Shop.Tires {
			a, err := tire.Work(t.Tire)
			if err != nil {
				continue
			}
			s := Suits{Name: t.Name, RollingMM: a.RollingMM}
			s.Against = say.Round((mm.Div(a.RollingMM).Float()-1)*100, 4)
			s.Fits = math.Abs(s.Against) <= suitsWithin
			s.CruiseRPM = say.Round(v.CruiseRPM*p.newMM.Float()/a.RollingMM.Float(), 2)
			r.Tires = append(r.Tires, s)
		}
		sort.SliceStable(r.Tires, func(i, k int) bool { return math.Abs(r.Tires[i].Against) < math.Abs(r.Tires[k].Against) })
		if len(r.Tires) > 12 {
			r.Tires = r.Tires[:12]
		}
		out.Reverse = append(out.Reverse, r)
	}
}

// mass tells what heavier tires add. A rolling wheel stores m·v² of which a
// part is spin: k·m at the rolling radius, whatever the diameter (Gillespie,
// Fundamentals of Vehicle Dynamics, ch. 2, effective mass).
func (p *planner) mass(out *Plan) {
	a, b := out.OldTire.MassKG, out.NewTire.MassKG
	if a <= 0 || b <= 0 {
		return
	}
	n := math.Max(4, float64(len(p.doc.WithA(driveline.RoadWheel))))
	m := &Mass{ExtraKG: say.Round(n*(b-a), 1), ActsLike: say.Round(n*(b-a)*(1+spinFactor), 1)}
	m.Formula = massFormula(n, b, a)
	if p.vehicleMass > 0 {
		m.Percent = say.Round(m.ActsLike/p.vehicleMass*100, 2)
	}
	word := "more"
	if m.ActsLike < 0 {
		word = "less"
	}
	m.Text = fmt.Sprintf("Beside the diameter, pulling away feels like %s kg %s on board", say.Trim(math.Abs(m.ActsLike), 0), word)
	if m.Percent != 0 {
		m.Text += fmt.Sprintf(", %s %% of the vehicle", say.Trim(math.Abs(m.Percent), 1))
	}
	m.Text += ". Brakes and steering carry it too."
	out.Mass = m
}

func (p *planner) factory(out *Plan) {
	for _, f := range p.q.Shop.Factory {
		a, err := tire.Work(tire.Tire{Marking: f.Tire})
		if err != nil || f.Ratio.Sign() <= 0 {
			continue
		}
		x := FactoryPoint{Factory: f, RollingMM: a.RollingMM}
		x.Equals = f.Ratio.Mul(p.newMM).Div(a.RollingMM)
		x.Against = say.Round((f.Ratio.Mul(p.stockMM).Div(a.RollingMM).Div(p.stockRatio).Float()-1)*100, 4)
		x.Text = factoryText(f, a, x)
		out.Factory = append(out.Factory, x)
	}
}

func (p *planner) lowSets(out *Plan) {
	low := p.rows[p.crawl]
	if low.Range == "" {
		return
	}
	var now exact.Number
	for i := range p.doc.Parts {
		if r, ok := p.doc.Parts[i].LowRatio(); ok {
			now = r
		}
	}
	if now.IsZero() {
		return
	}
	rec := out.variant(out.find(out.Advice.Candidate).Variant)
	for _, s := range p.q.Shop.LowSets {
		if p.q.Case != "" && !strings.EqualFold(strings.TrimSpace(s.Family), strings.TrimSpace(p.q.Case)) || s.Ratio.Equal(now) {
			continue
		}
		k := s.Ratio.Div(now)
		o := LowOption{ID: s.ID, Name: s.Name, Ratio: s.Ratio.Number, Shelf: s.Shelf}
		o.Crawl, o.WithAdvice = out.TiresOnly.Crawl.Mul(k), rec.Crawl.Mul(k)
		o.CrawlKMH = say.Round(out.TiresOnly.CrawlKMH/k.Float(), 4)
		if s.Price.Sign() > 0 {
			n := s.Price.Number
			o.Price = &n
		}
		o.Text = p.lowSetText(s, now, o)
		out.LowSets = append(out.LowSets, o)
	}
	sort.SliceStable(out.LowSets, func(i, k int) bool { return out.LowSets[i].Ratio.Cmp(out.LowSets[k].Ratio) < 0 })
}

// highSets weighs another high range: both axles change at once, and low stays
// what it is where its gears have a way of their own.
func (p *planner) highSets(out *Plan) {
	now := one
	found := false
	for i := range p.doc.Parts {
		if t := p.doc.Parts[i].TransferCase; t != nil {
			found = true
			if h := t.Range.High; !h.IsZero() {
				now = h.Number
			}
		}
	}
	if !found {
		return
	}
	for _, s := range p.q.Shop.HighSets {
		if p.q.Case != "" && !strings.EqualFold(strings.TrimSpace(s.Family), strings.TrimSpace(p.q.Case)) || s.Ratio.Equal(now) {
			continue
		}
		k := s.Ratio.Div(now).Float()
		o := HighOption{ID: s.ID, Name: s.Name, Ratio: s.Ratio.Number, Shelf: s.Shelf, Against: say.Round(((1+out.TiresOnly.Against/100)*k-1)*100, 4), CruiseRPM: say.Round(out.TiresOnly.CruiseRPM*k, 2)}
		if s.Price.Sign() > 0 {
			n := s.Price.Number
			o.Price = &n
		}
		o.Text = highSetText(s, now, o)
		out.HighSets = append(out.HighSets, o)
	}
	sort.SliceStable(out.HighSets, func(i, k int) bool { return math.Abs(out.HighSets[i].Against) < math.Abs(out.HighSets[k].Against) })
}

// strength compares the families that the candidates are of, by what was
// entered: equal ring or tube does not mean equally strong.
func (p *planner) strength(out *Plan) {
	families, _ := p.familiesOf(p.primary)
	if p.secondary != "" {
		more, _ := p.familiesOf(p.secondary)
		families = append(families[:len(families):len(families)], more...)
	}
	most := map[string]*Strength{}
	var order []string
	for i := range p.q.Shop.Sets {
		g := &p.q.Shop.Sets[i]
		used := slices.ContainsFunc(families, func(f string) bool { return strings.EqualFold(f, strings.TrimSpace(g.Family)) })
		if !used {
			continue
		}
		key := strings.ToLower(strings.TrimSpace(g.Family))
		s := most[key]
		if s == nil {
			s = &Strength{Family: g.Family}
			most[key], order = s, append(order, key)
		}
		s.RingMM, s.PinionMM, s.TubeMM = math.Max(s.RingMM, g.RingMM), math.Max(s.PinionMM, g.PinionMM), math.Max(s.TubeMM, g.TubeMM)
		s.Spiders, s.Splines = max(s.Spiders, g.Spiders), max(s.Splines, g.Splines)
	}
	if len(order) < 2 {
		return
	}
	for _, key := range order {
		s := most[key]
		var known, missing []string
		say1 := func(words string, v float64, unit string) {
			if v > 0 {
				known = append(known, words+" "+say.Trim(v, 1)+unit)
			} else {
				missing = append(missing, words)
			}
		}
		say1("ring", s.RingMM, " mm")
		say1("pinion shank", s.PinionMM, " mm")
		say1("spider gears", float64(s.Spiders), "")
		say1("splines", float64(s.Splines), "")
		say1("tube", s.TubeMM, " mm")
		s.Text = strings.Join(known, ", ")
		if len(missing) > 0 {
			if s.Text != "" {
				s.Text += "; "
			}
			s.Text += "not entered: " + strings.Join(missing, ", ")
		}
		out.Strength = append(out.Strength, *s)
	}
}
