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

// advise sorts the candidates and recommends one, with what speaks for and
// against it.
func (p *planner) advise(out *Plan) {
	sort.SliceStable(out.Candidates, func(i, k int) bool {
		a, b := &out.Candidates[i], &out.Candidates[k]
		if (a.Refused == "") != (b.Refused == "") {
			return a.Refused == ""
		}
		if a.Score != b.Score {
			return a.Score < b.Score
		}
		if a.High != nil && b.High != nil && a.Complete && b.Complete {
			return a.High.Cmp(*b.High) < 0
		}
		return a.ID < b.ID
	})
	best := &out.Candidates[0]
	v := out.variant(best.Variant)
	a := Advice{Candidate: best.ID, For: []string{}, Against: []string{}}
	for i := 1; i < len(out.Candidates); i++ {
		if c := &out.Candidates[i]; c.Refused == "" && c.Variant != best.Variant {
			a.Runner = c.ID
			break
		}
	}
	speed := fmt.Sprintf("%s rpm at %s in gear %s", say.Trim(v.CruiseRPM, 0), p.speed(p.q.Cruise.KMH, 0), out.CruiseGear)
	leave := best.ID == "leave"
	switch {
	case best.Refused != "":
		a.Sentence = "Nothing here can be recommended: " + best.Refused
	case leave && math.Abs(v.Against) < 0.5 && p.apart() != nil:
		a.Sentence = "Leave the gears for want of better: the new tires change next to nothing, but the axles already differ. " + p.apart().Verdict
	case leave && math.Abs(v.Against) < 0.5:
		a.Sentence = "Leave the gears: the new tires change next to nothing."
	case leave && len(out.Candidates) == 1:
		a.Sentence = "The catalog holds no gear set for this axle, so only leaving it can be weighed."
	case leave && !p.nearer(out):
		a.Sentence = fmt.Sprintf("Leave the gears at %s for want of better: they act %s %% %s than stock, and no set in the catalog comes nearer.", v.Ratio.Decimal(2), say.Trim(math.Abs(v.Against), 1), longer(v.Against))
	case leave:
		a.Sentence = fmt.Sprintf("Leave the gears at %s: acting %s %% %s than stock does not outweigh the work.", v.Ratio.Decimal(2), say.Trim(math.Abs(v.Against), 1), longer(v.Against))
	case best.Change != nil:
		a.Sentence = best.Name + "."
	case p.several():
		a.Sentence = fmt.Sprintf("Fit %s: %s are opened.", best.Name, sayAll(lowered(best.Opens)))
		if len(best.Opens) == 1 {
			a.Sentence = fmt.Sprintf("Fit %s: only the %s is opened.", best.Name, lowered(best.Opens)[0])
		}
	case p.secondary != "":
		a.Sentence = fmt.Sprintf("Fit %s, front and rear together.", best.Name)
		if len(best.Keeps) > 0 || strings.Contains(best.Name, " front") {
			a.Sentence = fmt.Sprintf("Fit %s.", best.Name)
		}
	default:
		a.Sentence = fmt.Sprintf("Fit %s.", best.Name)
	}
	if best.Rear != nil && best.Rear.Common {
		a.Sentence = strings.TrimSuffix(a.Sentence, ".") + " if it is made for this housing: a commonly made pair, in none of the shop's lists."
	}
	unsettled := p.trust(&a)
	a.For = append(a.For, fmt.Sprintf("Acts like %s on the stock tire, which had %s: %s %% thrust in every gear against stock.", v.Effective.Decimal(2), p.stockRatio.Decimal(2), say.Signed(v.Against, 1)))
	switch v.InBand {
	case "in":
		a.For = append(a.For, "Cruises inside the band: "+speed+".")
	case "below", "above":
		a.Against = append(a.Against, "Cruises "+v.InBand+" the band: "+speed+".")
	default:
		a.For = append(a.For, "Cruises at "+speed+" ("+say.Trim(out.Before.CruiseRPM, 0)+" before, "+say.Trim(out.TiresOnly.CruiseRPM, 0)+" with the tires alone).")
	}
	if n := len(best.Schools); !out.choice() {
		a.Against = append(a.Against, out.Agreement)
	} else if n > 0 {
		a.For = append(a.For, fmt.Sprintf("%d of the schools pick it.", n))
	} else {
		a.Against = append(a.Against, "No school picks it by itself; it is the best compromise of all that was weighed.")
	}
	if best.Match != nil {
		if best.Match.Level == "match" {
			a.For = append(a.For, best.Match.Verdict)
		} else {
			a.Against = append(a.Against, best.Match.Verdict+" "+best.Match.Do)
		}
	}
	if m := best.NextMatch; m != nil {
		text := fmt.Sprintf("With the %s center that comes next: %s", strings.ReplaceAll(p.q.NextCenter, "_", " "), m.Verdict)
		if m.Level == "match" || m.Level == "tolerated" {
			a.For = append(a.For, text)
		} else {
			a.Against = append(a.Against, text)
		}
	}
	for _, f := range best.Carriers {
		if f.State == "fits" {
			a.For = append(a.For, f.Text)
		} else {
			a.Against = append(a.Against, f.Text)
		}
	}
	if leave {
		a.Against = append(a.Against, p.leaveCosts(out)...)
		a.For = append(a.For, "Costs nothing but making the speedometer true.")
	} else {
		for _, at := range []string{p.primary, p.secondary} {
			if at != "" && p.doubt(at) != nil {
				a.Against = append(a.Against, fmt.Sprintf("The family of the %s axle isn't named, and what is in it exists in %s. Gears of one family don't fit the housing of another: name it before ordering.", at, sayAll(p.doubt(at))))
			}
		}
		a.Against = append(a.Against, p.against(best, v, out)...)
		if best.Shelf && best.Change == nil {
			a.For = append(a.For, "Everything is on the shelf.")
		}
		if best.High != nil {
			a.Against = append(a.Against, fmt.Sprintf("Costs %s to %s by the shop's list; leaving the gears costs nothing but making the speedometer true.", best.Low.Decimal(2), strings.TrimSpace(best.High.Decimal(2)+" "+out.Currency)))
		}
	}
	switch {
	case best.Refused != "":
		a.Sure = "Nothing is sure until front and rear can be brought together."
	case a.Runner == "":
		a.Sure = "There is no other candidate to compare with."
	default:
		second := out.find(a.Runner)
		gap := second.Score - best.Score
		how := "clearly"
		switch {
		case gap < 1 || (gap < 4 && gap < out.Change.Spread):
			how = "barely"
		case gap < 4 || best.has("match edge"):
			how = "by a little"
		}
		name := second.Name
		if second.ID == "leave" {
			name = "leaving the gears as they are"
		}
		a.Sure = fmt.Sprintf("%s ahead of %s: %s points against %s, fewer are better.", upper(how), name, say.Trim(best.Score, 1), say.Trim(second.Score, 1))
		if s := out.Change.Spread; s > gap {
			a.Sure += fmt.Sprintf(" The tires' rolling is known to ± %s %% only; roll both out before ordering.", say.Trim(s, 1))
		}
	}
	if len(unsettled) > 0 {
		a.Sure = fmt.Sprintf("First settle what is in the %s: its readings disagree. %s", sayAll(unsettled), a.Sure)
	}
	out.Advice = a
}

// trust weighs where the ratios came from that all of this stands on. It
// returns the axles whose readings are in conflict.
func (p *planner) trust(a *Advice) (unsettled []string) {
	for _, x := range append(p.groups[p.primary][:len(p.groups[p.primary]):len(p.groups[p.primary])], p.groups[p.secondary]...) {
		at := x.At
		now := fmt.Sprintf("The %s axle's %s", at, x.Ratio.Decimal(2))
		if p.several() {
			now = fmt.Sprintf("The %s's %s", strings.ToLower(x.Name[:1])+x.Name[1:], x.Ratio.Decimal(2))
		}
		sure := ""
		if x.Source.Probability > 0 {
			sure = ", " + say.Trim(math.Floor(x.Source.Probability*1000)/10, 1) + " % sure"
		}
		switch x.Source.Kind {
		case "measured":
			a.For = append(a.For, now+" is measured"+sure+".")
		case "plate":
			a.Against = append(a.Against, now+" is read from a plate or tag: count teeth or turns before ordering.")
		case "assumed":
			a.Against = append(a.Against, now+" is assumed"+sure+": count teeth or turns before ordering.")
		case "conflict":
			unsettled = append(unsettled, at+" axle")
			a.Against = append(a.Against, now+" is in conflict: readings at the bench disagree. Settle that before ordering anything.")
		}
	}
	return unsettled
}

// apart is the comparison of ends that already differ by more than is usual.
func (p *planner) apart() *driveline.Match {
	if m := p.now; m != nil && (m.Level == "caution" || m.Level == "wrong") {
		return m
	}
	return nil
}

func (c *Candidate) has(point string) bool {
	for _, x := range c.Points {
		if x.What == point {
			return true
		}
	}
	return false
}

func lowered(names []string) []string {
	out := make([]string, len(names))
	for i, n := range names {
		out[i] = strings.ToLower(n[:1]) + n[1:]
	}
	return out
}

// nearer reports whether any candidate comes nearer to stock than leaving it.
func (p *planner) nearer(out *Plan) bool {
	for _, c := range out.Candidates {
		if v := out.variant(c.Variant); c.ID != "leave" && c.Refused == "" && math.Abs(v.Against) < math.Abs(out.TiresOnly.Against) {
			return true
		}
	}
	return false
}

// speed says a speed in the unit that is asked for.
func (p *planner) speed(kmh float64, places int) string {
	return say.Trim(say.SpeedIn(kmh, p.q.SpeedUnit), places) + " " + p.q.SpeedUnit
}

// sayAll says a list: a, b and c.
func sayAll(list []string) string {
	if n := len(list); n > 1 {
		return strings.Join(list[:n-1], ", ") + " and " + list[n-1]
	}
	return strings.Join(list, "")
}

func longer(against float64) string {
	if against < 0 {
		return "taller"
	}
	return "shorter"
}

// leaveCosts says what not changing gears means.
func (p *planner) leaveCosts(out *Plan) []string {
	v := out.TiresOnly
	if math.Abs(v.Against) < 0.5 {
		return nil
	}
	var s []string
	if v.Against < 0 {
		s = append(s, fmt.Sprintf("%s %% less pull in every gear; launch and hills feel it, and a clutch or converter works harder.", say.Trim(-v.Against, 1)))
		s = append(s, fmt.Sprintf("%s rpm at %s where %s were meant: it will leave its top gear earlier on a rise.", say.Trim(v.CruiseRPM, 0), p.speed(p.q.Cruise.KMH, 0), say.Trim(out.Before.CruiseRPM, 0)))
	} else {
		s = append(s, fmt.Sprintf("%s %% more rpm at every speed: louder, and worse economy on the highway.", say.Trim(v.Against, 1)))
	}
	return append(s, fmt.Sprintf("Lowest speed in low-low %s, %s before.", p.speed(v.CrawlKMH, 2), p.speed(out.Before.CrawlKMH, 2)))
}

// against says what speaks against new gears.
func (p *planner) against(c *Candidate, v *Variant, out *Plan) []string {
	var s []string
	if v.CruiseRPM > out.TiresOnly.CruiseRPM {
		s = append(s, fmt.Sprintf("%s rpm more at cruise than with the gears left: worse highway economy, better town economy and launch.", say.Trim(v.CruiseRPM-out.TiresOnly.CruiseRPM, 0)))
	} else if v.CruiseRPM < out.TiresOnly.CruiseRPM {
		s = append(s, fmt.Sprintf("%s rpm less at cruise than with the gears left, and %s %% less pull.", say.Trim(out.TiresOnly.CruiseRPM-v.CruiseRPM, 0), say.Trim((1-v.Launch/out.TiresOnly.Launch)*100, 1)))
	}
	if c.Rear == nil {
		return append(s, "Count both change gears before ordering, and look that face width and spline fit; gears with the same sum of teeth keep the center distance.")
	}
	if z := p.axles[p.primary].Pair; c.Rear.Pinion < z[1] {
		s = append(s, fmt.Sprintf("The pinion has %d teeth instead of %d: smaller and weaker.", c.Rear.Pinion, z[1]))
	}
	if p.secondary != "" && p.q.Front.Type == "independent" {
		s = append(s, "An independent front axle takes more labor than a solid one.")
	}
	switch {
	case c.Rear.Common:
		s = append(s, "It is neither on the shelf nor priced: ask the supplier for this housing before anything is opened.")
	case !c.Shelf:
		s = append(s, "Not all of it is on the shelf.")
	}
	if !c.Complete {
		s = append(s, "The price list has gaps: the estimate is not complete.")
	}
	return s
}

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
			n.Text = fmt.Sprintf("The same gears stay right: %s %% against stock.", say.Signed(n.Recommended, 1))
		} else {
			n.Text = fmt.Sprintf("That tire would ask for %s; the recommended gears are %s %% against stock on it.", n.BestName, say.Signed(n.Recommended, 1))
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
			Formula: fmt.Sprintf("%s mm × %s ÷ %s = %s mm", p.stockMM.Short(1), c.ratio.Short(4), p.stockRatio.Short(4), mm.Short(1))}
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
	n := 0.0
	for i := range p.doc.Parts {
		if p.doc.Parts[i].Kind == "wheel" {
			n++
		}
	}
	n = math.Max(4, n)
	m := &Mass{ExtraKG: say.Round(n*(b-a), 1), ActsLike: say.Round(n*(b-a)*(1+spinFactor), 1)}
	m.Formula = fmt.Sprintf("%s wheels × (%s − %s) kg × (1 + %s), the last for spinning them up (most of a tire's mass sits at its tread; 0.6 to 0.9 is usual)", say.Trim(n, 0), say.Trim(b, 1), say.Trim(a, 1), say.Trim(spinFactor, 2))
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
		x.Text = fmt.Sprintf("%s: %s on %s pulls like %s on the new tire.", f.Name, f.Ratio.Decimal(2), a.Marking.Text, x.Equals.Decimal(2))
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
		o.Text = fmt.Sprintf("Low range %s instead of %s: crawls at %s with the axle left alone; nothing changes in high range.", s.Ratio.Decimal(2), now.Decimal(2), p.speed(o.CrawlKMH, 2))
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
		o.Text = fmt.Sprintf("High range %s instead of %s: both axles act %s %% %s than stock at once and no axle is opened. Low stays what it is only where its gears have a way of their own; the gears' width must fit the case.",
			s.Ratio.Decimal(2), now.Decimal(2), say.Trim(math.Abs(o.Against), 1), longer(o.Against))
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

func (p *planner) notes(out *Plan) {
	if m := p.apart(); m != nil {
		out.Notes = append(out.Notes, "As it is now: "+m.Verdict)
	}
	if math.Abs(out.Change.Percent) > 25 {
		out.Notes = append(out.Notes, "The tires differ by more than a quarter: check the markings.")
	}
}
