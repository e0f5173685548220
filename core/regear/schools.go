package regear

import (
	"fmt"
	"math"
	"sort"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/say"
	"zorvel/core/tire"
)

// pool lists what a school can pick: the variants that some candidate uses and
// nothing forbids, and what is in it.
func (p *planner) pool(out *Plan) []*Variant {
	ok := map[string]bool{"tires_only": true}
	for _, c := range out.Candidates {
		if c.Refused == "" {
			ok[c.Variant] = true
		}
	}
	list := []*Variant{&out.TiresOnly}
	for i := range out.Variants {
		v := &out.Variants[i]
		if ok[v.ID] && !v.Ratio.Equal(out.TiresOnly.Ratio) {
			list = append(list, v)
		}
	}
	sort.SliceStable(list, func(i, k int) bool { return list[i].Ratio.Cmp(list[k].Ratio) < 0 })
	return list
}

func nearest(list []*Variant, target float64) *Variant {
	var best *Variant
	least := math.Inf(1)
	for _, v := range list {
		if d := math.Abs(math.Log(v.Ratio.Float() / target)); d < least-1e-12 {
			best, least = v, d
		}
	}
	return best
}

func (p *planner) schools(out *Plan) {
	pool := p.pool(out)
	eq := out.Equivalent
	add := func(s School, v *Variant) {
		if v != nil {
			s.Pick = v.ID
			for i := range out.Candidates {
				c := &out.Candidates[i]
				stays := v.ID == out.TiresOnly.ID && c.Refused == "" && c.ratio.Equal(out.TiresOnly.Ratio)
				if c.Variant == v.ID || stays {
					c.Schools = append(c.Schools, s.ID)
				}
			}
		}
		out.Schools = append(out.Schools, s)
	}
	name := func(v *Variant) string {
		if v == nil {
			return "nothing in the catalog"
		}
		if v.ID == "tires_only" {
			return v.Ratio.Decimal(2) + ", installed now"
		}
		return v.Name
	}
	// Back to stock.
	v := nearest(pool, eq.Float())
	add(School{ID: "back_to_stock", Name: "Back to stock", Target: &eq,
		Text: backToStock(eq, name, v),
		How:  p.backToStockFormula(eq)}, v)
	p.byRule(out, pool, add, name)
	p.byNumbers(out, pool, add, name)
	p.byUse(out, pool, add, name)
	out.Agreement = agreement(out)
}

// addSchool takes a school with the variant that it picks; nameOf is what that
// is called in its sentence.
type (
	addSchool func(School, *Variant)
	nameOf    func(*Variant) string
)

// byRule is the rule of thumb: the shop's table of ratios by diameter and use.
func (p *planner) byRule(out *Plan, pool []*Variant, add addSchool, name nameOf) {
	mm, how := p.newDiameter(out)
	r, from, ok := rule(p.q.Shop.Rule, mm, p.q.Use)
	s := School{ID: "rule_of_thumb", Name: "Rule of thumb"}
	if !ok {
		s.Text = noLine(mm)
		s.How = how
		add(s, nil)
	} else {
		s.How = p.tableLine(from, how)
		s.Text = tableSays(r)
		// The table is for the whole final drive: what hubs, change gears and
		// a high range reduce is not asked of ring and pinion again.
		if rest := p.behind(); !rest.Equal(one) {
			s.How += restFormula(r, rest)
			r = r.Div(rest)
			s.Text += restSays(rest, r)
		}
		s.Target = &r
		v := nearest(pool, r.Float())
		s.Text += ". Nearest: " + name(v) + "."
		if g := p.cruiseGear(); g.Cmp(one) < 0 {
			s.Text += p.cruiseGearNote(g, r)
		}
		add(s, v)
	}
}

// byUse rounds back to stock in the direction that the use wants.
func (p *planner) byUse(out *Plan, pool []*Variant, add addSchool, name nameOf) {
	eq := out.Equivalent
	s := School{ID: "by_use", Name: "By use", Target: &eq}
	var side []*Variant
	switch p.q.Use {
	case Highway:
		for _, x := range pool {
			if x.Ratio.Cmp(eq) <= 0 {
				side = append(side, x)
			}
		}
		s.Text = "Daily highway: the nearest that is not shorter than back to stock"
		s.How = "the greatest ratio at or below " + eq.Short(4)
	case Towing, Trail:
		for _, x := range pool {
			if x.Ratio.Cmp(eq) >= 0 {
				side = append(side, x)
			}
		}
		s.Text = map[string]string{Towing: "Towing", Trail: "Trail"}[p.q.Use] + ": the nearest that is not taller than back to stock"
		s.How = "the smallest ratio at or above " + eq.Short(4)
	default:
		side = pool
		s.Text = "Mixed use: the nearest on either side"
		s.How = "the ratio nearest to " + eq.Short(4)
	}
	v := nearest(side, eq.Float())
	if v == nil {
		s.Text += ". None in the catalog reaches it."
	} else {
		s.Text += ": " + name(v) + "."
	}
	add(s, v)
}

// newDiameter is the new tire's free diameter, or one worked back from how it
// rolls.
func (p *planner) newDiameter(out *Plan) (exact.Number, string) {
	if d := out.NewTire.DiameterMM; d != nil {
		return *d, sameAcross(d)
	}
	d := exact.New(int64(math.Round(p.newMM.Float()/tire.RadialFactor*10)), 10)
	return d, p.aboutAcross(d)
}

// cruiseGear is the gearbox ratio used at cruise: its overall ratio over
// everything behind the gearbox, told by the gear of the same range that is
// nearest to 1. Without a gearbox it is 1.
func (p *planner) cruiseGear() exact.Number {
	for i := range p.doc.Parts {
		if r, ok := p.doc.Parts[i].GearRatio(p.rows[p.cruise].Name); ok {
			return r
		}
	}
	return one
}

// behind is what reduces between gearbox and wheels besides ring and pinion.
func (p *planner) behind() exact.Number {
	k := p.rows[p.cruise].Overall.Div(p.cruiseGear()).Div(p.base).Abs()
	return k
}

// byNumbers asks for ratios that keep every wish: the cruise band, the lowest
// speed, the launch.
func (p *planner) byNumbers(out *Plan, pool []*Variant, add addSchool, name nameOf) {
	s := School{ID: "by_the_numbers", Name: "By the numbers"}
	lo, hi := 0.0, math.Inf(1)
	var wishes, how []string
	fitted := p.base.Float()
	base := out.TiresOnly
	if c := p.q.Cruise; c.HighRPM > 0 {
		lo, hi = math.Max(lo, c.LowRPM/base.CruiseRPM*fitted), math.Min(hi, c.HighRPM/base.CruiseRPM*fitted)
		wishes = append(wishes, p.cruiseWish(c))
		how = append(how, fmt.Sprintf("cruise: %s to %s", say.Trim(c.LowRPM/base.CruiseRPM*fitted, 3), say.Trim(c.HighRPM/base.CruiseRPM*fitted, 3)))
	}
	if w := p.q.CrawlKMH; w > 0 {
		need := base.CrawlKMH / w * fitted
		lo = math.Max(lo, need)
		wishes = append(wishes, p.crawlWish(w))
		how = append(how, "crawl: from "+say.Trim(need, 3))
	}
	if w := p.q.Launch; w > 0 {
		need := w / base.Launch * fitted
		lo = math.Max(lo, need)
		wishes = append(wishes, launchWish(w))
		how = append(how, "launch: from "+say.Trim(need, 3))
	}
	if len(wishes) == 0 {
		s.Text = "Say which rpm you want at cruise, the lowest speed in low-low or the launch, and this school answers too."
		s.How = "no wish was entered"
		add(s, nil)
		return
	}
	s.How = strings.Join(how, "; ")
	set := func(to **exact.Number, f float64) {
		if !math.IsInf(f, 0) && f > 0 {
			n := exact.New(int64(math.Round(f*10000)), 10000)
			*to = &n
		}
	}
	set(&s.From, lo)
	set(&s.To, hi)
	want := wished(wishes)
	if lo > hi {
		s.Text = want + noSingleRatio(lo, hi)
		mid := math.Sqrt(lo * hi)
		v := nearest(pool, mid)
		s.Text += " The least compromise: " + name(v) + "."
		add(s, v)
		return
	}
	var inside []*Variant
	for _, v := range pool {
		if r := v.Ratio.Float(); r >= lo-1e-9 && r <= hi+1e-9 {
			inside = append(inside, v)
		}
	}
	target := out.Equivalent.Float()
	if len(inside) > 0 {
		v := nearest(inside, target)
		span := "from " + say.Trim(lo, 2)
		if !math.IsInf(hi, 0) {
			span = say.Trim(lo, 2) + " to " + say.Trim(hi, 2)
		}
		s.Text = want + spanSays(span, name, v)
		add(s, v)
		return
	}
	edge := lo
	if !math.IsInf(hi, 0) && math.Abs(math.Log(hi/target)) < math.Abs(math.Log(lo/target)) {
		edge = hi
	}
	v := nearest(pool, edge)
	s.Text = want + nothingBetween(name, v)
	add(s, v)
}

// choice is whether anything but leaving it can be chosen.
func (o *Plan) choice() bool {
	for _, c := range o.Candidates {
		if c.ID != "leave" && c.Refused == "" {
			return true
		}
	}
	return false
}
