package regear

import (
	"fmt"
	"math"
	"sort"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/match"
	"zorvel/core/driveline/trace"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/tire"
)

var one = exact.Int(1)

// planner holds what all parts of a plan need.
type planner struct {
	q           *Request
	doc         *driveline.Document
	primary     string
	secondary   string
	axles       map[string]driveline.AxleEnd   // the first of each end
	groups      map[string][]driveline.AxleEnd // all of each end
	base        exact.Number                   // ring and pinion ratio that rows are made with: the mean of the primary end
	now         *match.Match                   // every end against the others, with the fitted gears on the new tires
	rows        []trace.GearRow                // with the fitted gears, each known
	stockRatio  exact.Number
	stockMM     exact.Number
	cruise      int // row used at cruise
	first       int // first gear in the highest range
	crawl       int // first gear in the lowest range
	newMM       exact.Number
	newFrontMM  exact.Number
	caseType    string
	ends        *match.Match // front against rear with the fitted gears on the new tires
	vehicleMass float64
	tireSpread  float64 // ± percent, of front against rear
	atEnd       map[endKey]*endSet
	driven      map[string][]Penalty // by variant
}

// Work answers a request. Faults are fault.Error or fault.Errors.
func Work(q Request) (*Plan, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	if err := q.settle(); err != nil {
		return nil, err
	}
	doc, field, typical, err := q.document()
	if err != nil {
		return nil, err
	}
	if q.Shop.Sets = withoutCommon(q.Shop.Sets); len(q.Shop.Sets) == 0 {
		q.Shop.Sets = CommonSets()
		q.common = true
	}
	p := &planner{q: &q, doc: doc, axles: map[string]driveline.AxleEnd{}, groups: map[string][]driveline.AxleEnd{}}
	out := &Plan{
		SpeedsKMH: q.SpeedsKMH, Use: q.Use, Currency: strings.TrimSpace(q.Currency), Notes: []string{}, Cautions: cautions,
		Factory: []FactoryPoint{}, LowSets: []LowOption{}, HighSets: []HighOption{}, Strength: []Strength{}, Next: []Next{}, Reverse: []Reverse{},
	}
	if err := p.findAxles(out, field); err != nil {
		return nil, err
	}
	p.findFacts(out)
	if err := p.tires(out); err != nil {
		return nil, err
	}
	if err := p.gears(field); err != nil {
		return nil, err
	}
	if err := p.stock(out); err != nil {
		return nil, err
	}
	fitted := out.Fitted
	out.StockRatio = p.stockRatio
	out.Equivalent = p.stockRatio.Mul(p.newMM).Div(p.stockMM)
	out.CruiseGear = p.rows[p.cruise].Name
	out.Before = p.variant("before", "Before: "+fitted.Decimal(2)+" on the old tire", fitted, out.OldTire.RollingMM)
	out.TiresOnly = p.variant("tires_only", "New tires only, "+fitted.Decimal(2)+" stays", fitted, p.newMM)
	for i := range out.Axles {
		if list, _ := p.familiesOf(out.Axles[i].At); list != nil {
			out.Axles[i].Families = list
		}
	}
	p.now = match.Ends(doc.With(nil, p.tiresAt()))
	if p.secondary != "" {
		p.ends = p.frontRear(p.now)
	}
	p.candidates(out)
	p.schools(out)
	p.advise(out)
	p.next(out)
	p.reverse(out)
	p.mass(out)
	p.factory(out)
	p.lowSets(out)
	p.highSets(out)
	p.strength(out)
	chosen := out.find(q.Chosen)
	if q.Chosen != "" && chosen == nil {
		return nil, fault.New("chosen", "no candidate has this name; leave it out for the recommended one")
	}
	if chosen == nil {
		chosen = out.find(out.Advice.Candidate)
	}
	if typical != nil {
		out.Notes = append(out.Notes, gearboxNote(typical))
	}
	out.Estimate = p.estimate(chosen)
	p.automatic(out, chosen)
	out.WhileOpen = p.whileOpen(chosen)
	p.notes(out)
	return out, nil
}

// document is the driveline that is asked about, or one made of plain figures; field
// is where it stands in the request, and typical the gearbox that stands in for
// ratios that nobody typed.
func (q *Request) document() (doc *driveline.Document, field string, typical *TypicalGearbox, err error) {
	switch {
	case q.Driveline != nil && q.Plain != nil:
		return nil, "", nil, fault.New("plain", "send a driveline or plain figures, not both")
	case q.Driveline != nil:
		return q.Driveline, "driveline", nil, nil
	case q.Plain == nil:
		return nil, "", nil, fault.New("driveline", "is needed; or plain figures of gears and axles")
	}
	plain := *q.Plain // the question stays as it was asked
	if typical, err = plain.fillTypical(); err != nil {
		return nil, "", nil, err
	}
	q.Plain = &plain
	doc, err = plain.document()
	return doc, "plain", typical, err
}

// findAxles lists the driven axles by the end of the vehicle they stand at.
func (p *planner) findAxles(out *Plan, field string) error {
	for _, a := range p.doc.Axles() {
		if !a.Known {
			return fault.New(field, "the ratio of the %s isn't known: measure it first, then come back", strings.ToLower(a.Name))
		}
		if _, ok := p.axles[a.At]; !ok {
			p.axles[a.At] = a
		}
		p.groups[a.At] = append(p.groups[a.At], a)
		n := AxleNow{At: a.At, Name: a.Name, Ratio: a.Ratio, Families: []string{}}
		if a.Pair[0] > 0 {
			n.Teeth = fmt.Sprintf("%d/%d", a.Pair[0], a.Pair[1])
		}
		out.Axles = append(out.Axles, n)
	}
	switch {
	case len(p.axles) == 0:
		return fault.New(field, "it has no driven axle")
	case len(p.axles) == 2:
		p.primary, p.secondary = "rear", "front"
	case p.axles["rear"].ID != "":
		p.primary = "rear"
	default:
		p.primary = "front"
	}
	for _, a := range p.groups[p.primary] {
		p.base = p.base.Add(a.Ratio)
	}
	p.base = p.base.Div(exact.Int(int64(len(p.groups[p.primary]))))
	return nil
}

// findFacts takes from the driveline what isn't named in the question.
func (p *planner) findFacts(out *Plan) {
	for at, f := range map[string]*AxleFacts{"rear": &p.q.Rear, "front": &p.q.Front} {
		if f.Family = strings.TrimSpace(f.Family); f.Family == "" {
			f.Family = p.axles[at].Family
		}
	}
	for i := range out.Axles {
		out.Axles[i].Family = p.facts(out.Axles[i].At).Family
	}
	for i := range p.doc.Parts {
		if x := &p.doc.Parts[i]; x.TransferCase != nil && strings.TrimSpace(p.q.Case) == "" {
			p.q.Case = x.Family
		}
	}
	if p.doc.Body != nil {
		p.vehicleMass = p.doc.Body.MassKG
	}
	for i := range p.doc.Parts {
		if t := p.doc.Parts[i].TransferCase; t != nil {
			p.caseType = t.Center.Type
		}
	}
}

// stock is what left the factory: as entered, else what is in it.
func (p *planner) stock(out *Plan) error {
	out.Fitted = p.base
	p.stockRatio, p.stockMM = p.base, out.OldTire.RollingMM
	if s := p.q.Stock; s != nil {
		if s.Ratio.Sign() > 0 {
			p.stockRatio = s.Ratio.Number
		}
		if s.Tire != nil {
			a, err := tire.Work(*s.Tire)
			if err != nil {
				return fault.Under("stock/tire", err)
			}
			p.stockMM = a.RollingMM
		}
	}
	return nil
}

// tiresAt is how far the new tires roll, by end.
func (p *planner) tiresAt() map[string]exact.Number {
	return map[string]exact.Number{"rear": p.newMM, "front": p.newFrontMM}
}

// frontRear is the comparison at the transfer case.
func (p *planner) frontRear(all *match.Match) *match.Match {
	for i := range p.doc.Parts {
		if p.doc.Parts[i].TransferCase != nil {
			if m := all.At(p.doc.Parts[i].ID); m != nil {
				return m
			}
		}
	}
	return all
}

// several is whether an end has more than one driven axle.
func (p *planner) several() bool { return len(p.groups["rear"]) > 1 || len(p.groups["front"]) > 1 }

func (p *planner) tires(out *Plan) error {
	old := p.q.Old
	if old == (tire.Tire{}) && p.axles[p.primary].RollingMM.Sign() > 0 {
		old.RollingMM = exact.Figure{Number: p.axles[p.primary].RollingMM}
	}
	var err error
	if out.OldTire, err = tire.Work(old); err != nil {
		return fault.Under("old_tire", err)
	}
	if out.NewTire, err = tire.Work(p.q.New); err != nil {
		return fault.Under("new_tire", err)
	}
	out.Change = tire.Compare(out.OldTire, out.NewTire)
	p.newMM, p.newFrontMM = out.NewTire.RollingMM, out.NewTire.RollingMM
	// Equal tires differ by wear and pressure only; estimates of their size
	// are off alike.
	p.tireSpread = 0.7
	if f := p.q.NewFront; f != nil {
		a, err := tire.Work(*f)
		if err != nil {
			return fault.Under("new_front_tire", err)
		}
		p.newFrontMM = a.RollingMM
		p.tireSpread = math.Max(p.tireSpread, math.Hypot(out.NewTire.Spread, a.Spread))
	}
	return nil
}

// gears solves every gear and range once, with the gears that are in it.
func (p *planner) gears(field string) error {
	doc := p.doc
	if p.secondary != "" {
		doc = doc.Rear()
	}
	rows, err := trace.GearTable(doc)
	if err != nil {
		return err
	}
	for _, r := range rows {
		if r.Overall == nil || r.Overall.IsZero() {
			if r.Missing != "" {
				return fault.New(field, "gears are missing: %s; measure them or enter the plate's", r.Missing)
			}
			continue
		}
		p.rows = append(p.rows, r)
	}
	if len(p.rows) == 0 {
		return fault.New(field, "no gear drives the wheels")
	}
	high, low := p.rows[0].Range, p.rows[0].Range
	least := map[string]exact.Number{}
	for _, r := range p.rows {
		if r.Reverse {
			continue
		}
		if v, ok := least[r.Range]; !ok || r.Overall.Cmp(v) < 0 {
			least[r.Range] = *r.Overall
		}
	}
	for name, v := range least {
		if v.Cmp(least[high]) < 0 {
			high = name
		}
		if v.Cmp(least[low]) > 0 {
			low = name
		}
	}
	p.cruise, p.first, p.crawl = -1, -1, -1
	for i, r := range p.rows {
		if r.Reverse {
			continue
		}
		if r.Range == high {
			if p.q.Cruise.Gear == r.Name || (p.q.Cruise.Gear == "" && (p.cruise < 0 || r.Overall.Cmp(*p.rows[p.cruise].Overall) < 0)) {
				p.cruise = i
			}
			if p.first < 0 || r.Overall.Cmp(*p.rows[p.first].Overall) > 0 {
				p.first = i
			}
		}
		if r.Range == low && (p.crawl < 0 || r.Overall.Cmp(*p.rows[p.crawl].Overall) > 0) {
			p.crawl = i
		}
	}
	if p.cruise < 0 && p.q.Cruise.Gear != "" {
		var names []string
		for _, r := range p.rows {
			if !r.Reverse && r.Range == high {
				names = append(names, r.Name)
			}
		}
		return fault.New("cruise/gear", "one of the gears: %s", strings.Join(names, ", "))
	}
	if p.first < 0 || p.cruise < 0 || p.crawl < 0 {
		return fault.New(field, "no forward gear drives the wheels")
	}
	return nil
}

// variant runs all gears with another ring and pinion on a tire.
func (p *planner) variant(id, name string, ratio, mm exact.Number) Variant {
	scale := ratio.Div(p.base)
	m := mm.Float() / 1000
	v := Variant{ID: id, Name: name, Ratio: ratio, RollingMM: mm, Effective: ratio.Mul(p.stockMM).Div(mm)}
	rel := v.Effective.Div(p.stockRatio).Float()
	v.Against = (rel - 1) * 100
	v.Launch = rel * 100
	v.Rows = make([]Row, len(p.rows))
	peak := 0.0
	for i, g := range p.rows {
		overall := g.Overall.Mul(scale)
		o := overall.Float()
		perKMH := o / m * 1000 / 60 // rpm at 1 km/h
		r := Row{Gear: g.Name, Range: g.Range, Reverse: g.Reverse, Overall: overall, ActsLike: say.Round(o*p.stockMM.Float()/mm.Float(), 5), KMH: 1000 / perKMH, Thrust: 2 * math.Pi * o / m,
			ShiftKMH: p.q.ShiftRPM / perKMH, RPM: make([]float64, len(p.q.SpeedsKMH))}
		for k, kmh := range p.q.SpeedsKMH {
			r.RPM[k] = say.Round(kmh*perKMH, 2)
		}
		if len(p.q.Torque) > 1 {
			r.Force = make([]*float64, len(r.RPM))
			for k, rpm := range r.RPM {
				if nm, ok := torqueAt(p.q.Torque, rpm); ok {
					f := say.Round(nm*r.Thrust, 1)
					r.Force[k] = &f
				}
			}
			for _, t := range p.q.Torque {
				peak = math.Max(peak, t.NM*r.Thrust)
			}
		}
		r.KMH, r.Thrust, r.ShiftKMH = say.Round(r.KMH, 4), say.Round(r.Thrust, 4), say.Round(r.ShiftKMH, 3)
		r.Formula = p.rowFormula(overall, g, ratio)
		v.Rows[i] = r
	}
	if peak > 0 {
		peak = say.Round(peak, 1)
		v.MaxForce = &peak
	}
	c := v.Rows[p.cruise].Overall.Float() / m * 1000 / 60
	v.CruiseRPM = say.Round(c*p.q.Cruise.KMH, 2)
	v.InBand = p.band(v.CruiseRPM)
	v.Crawl = v.Rows[p.crawl].Overall
	v.CrawlKMH = say.Round(p.q.IdleRPM*m*60/1000/v.Crawl.Float(), 4)
	v.Formula = p.cruiseFormula(m, v)
	return v
}

func (p *planner) band(rpm float64) string {
	switch c := p.q.Cruise; {
	case c.HighRPM == 0:
		return "none"
	case rpm < c.LowRPM:
		return "below"
	case rpm > c.HighRPM:
		return "above"
	}
	return "in"
}

// torqueAt reads the curve between its points; nothing beyond its ends.
func torqueAt(curve []Point, rpm float64) (float64, bool) {
	if rpm < curve[0].RPM || rpm > curve[len(curve)-1].RPM {
		return 0, false
	}
	i := sort.Search(len(curve), func(i int) bool { return curve[i].RPM >= rpm })
	if i == 0 {
		return curve[0].NM, true
	}
	a, b := curve[i-1], curve[i]
	return a.NM + (b.NM-a.NM)*(rpm-a.RPM)/(b.RPM-a.RPM), true
}
