package regear

import (
	"fmt"
	"math"
	"sort"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/tire"
)

var one = exact.Int(1)

// Row is one gear in one range of a variant.
type Row struct {
	Gear    string       `json:"gear"`
	Range   string       `json:"range,omitempty"`
	Reverse bool         `json:"reverse,omitempty"`
	Overall exact.Number `json:"overall"`
	// ActsLike is the overall ratio that would do the same on the stock tire.
	ActsLike float64 `json:"acts_like"`
	KMH      float64 `json:"kmh_per_1000"`
	// Thrust is newtons at the tires per newton meter of the engine.
	Thrust   float64    `json:"thrust"`
	RPM      []float64  `json:"rpm"`       // at the speeds asked for
	ShiftKMH float64    `json:"shift_kmh"` // at the shift rpm
	Force    []*float64 `json:"force_n,omitempty"`
	Formula  string     `json:"formula"`
}

// Variant is a ratio of the primary axle on a tire, through all gears.
type Variant struct {
	ID        string       `json:"id"`
	Name      string       `json:"name"`
	Ratio     exact.Number `json:"ratio"`
	RollingMM exact.Number `json:"rolling_mm"`
	// Effective is what the ratio acts like on the stock tire.
	Effective exact.Number `json:"effective"`
	// Against is thrust in every gear against stock, in percent: 0 is alike.
	Against   float64      `json:"against_stock_percent"`
	CruiseRPM float64      `json:"cruise_rpm"`
	InBand    string       `json:"in_band"` // in, below, above, or none without a band
	Crawl     exact.Number `json:"crawl"`   // first gear, lowest range
	CrawlKMH  float64      `json:"crawl_kmh"`
	Launch    float64      `json:"launch_percent"` // thrust of the first gear in high against stock, 100 is alike
	Rows      []Row        `json:"rows"`
	Formula   string       `json:"formula"`
	MaxForce  *float64     `json:"max_force_n,omitempty"`
}

// Candidate is a set, or a pair of sets, that could go in; or what is in it.
type Candidate struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Variant string   `json:"variant"`
	Rear    *GearSet `json:"rear,omitempty"` // of the primary axle
	Front   *GearSet `json:"front,omitempty"`
	// Keeps names the ends whose gears stay in; Opens names every axle that is
	// opened.
	Keeps []string `json:"keeps,omitempty"`
	Opens []string `json:"opens"`
	// Change is the spur pair that goes in where the axle has change gears and
	// ring and pinion stay: teeth on the pinion shaft, teeth on the input shaft.
	Change []int `json:"change,omitempty"`
	// NextMatch is front against rear with the center that will come next.
	NextMatch *driveline.Match `json:"next_match,omitempty"`
	// Off is how far the ratio is from back to stock, in percent: positive
	// is shorter.
	Off      float64          `json:"off_percent"`
	Match    *driveline.Match `json:"match,omitempty"`
	Carriers []CarrierFit     `json:"carriers"`
	Shelf    bool             `json:"shelf"`
	Low      *exact.Number    `json:"low,omitempty"` // of the estimate; absent where nothing is priced
	High     *exact.Number    `json:"high,omitempty"`
	Complete bool             `json:"priced"`
	Points   []Penalty        `json:"points"`
	Score    float64          `json:"score"`
	Refused  string           `json:"refused,omitempty"` // why it can't be recommended
	Schools  []string         `json:"schools"`
	ratio    exact.Number
}

// CarrierFit says whether an axle's carrier takes a ratio.
type CarrierFit struct {
	At    string `json:"at"`
	State string `json:"state"` // fits, other, unknown
	Text  string `json:"text"`
}

// Penalty is one thing that speaks against a candidate, in points: one point
// is about one percent off.
type Penalty struct {
	What   string  `json:"what"`
	Points float64 `json:"points"`
	Text   string  `json:"text"`
}

// School is one way the trade decides.
type School struct {
	ID     string        `json:"id"` // back_to_stock, rule_of_thumb, by_the_numbers, by_use
	Name   string        `json:"name"`
	Target *exact.Number `json:"target,omitempty"`
	From   *exact.Number `json:"from,omitempty"`
	To     *exact.Number `json:"to,omitempty"`
	Pick   string        `json:"pick,omitempty"` // a variant
	Text   string        `json:"text"`
	How    string        `json:"formula"`
}

// Advice is the recommendation.
type Advice struct {
	Candidate string   `json:"candidate"`
	Sentence  string   `json:"sentence"`
	For       []string `json:"for"`
	Against   []string `json:"against"`
	Runner    string   `json:"runner_up,omitempty"`
	Sure      string   `json:"sure"`
}

// Next is the same question for another tire.
type Next struct {
	Name       string       `json:"name"`
	RollingMM  exact.Number `json:"rolling_mm"`
	Percent    float64      `json:"percent"` // against the new tire
	Equivalent exact.Number `json:"equivalent"`
	Best       string       `json:"best"` // candidate
	BestName   string       `json:"best_name"`
	// Recommended is how the recommended gears do on it, against stock in %.
	Recommended float64 `json:"recommended_against_stock_percent"`
	CruiseRPM   float64 `json:"cruise_rpm"`
	Text        string  `json:"text"`
}

// Suits is a tire that suits gears.
type Suits struct {
	Name      string       `json:"name"`
	RollingMM exact.Number `json:"rolling_mm"`
	Against   float64      `json:"against_stock_percent"`
	CruiseRPM float64      `json:"cruise_rpm"`
	Fits      bool         `json:"fits"` // within 3 % of stock
}

// Reverse answers: these gears are in it, which tires suit?
type Reverse struct {
	Candidate string       `json:"candidate"`
	Name      string       `json:"name"`
	RollingMM exact.Number `json:"rolling_mm"`
	AboutMM   float64      `json:"about_diameter_mm"`
	Formula   string       `json:"formula"`
	Tires     []Suits      `json:"tires"`
}

// Mass is what heavier tires add.
type Mass struct {
	ExtraKG  float64 `json:"extra_kg"`      // all wheels
	ActsLike float64 `json:"acts_like_kg"`  // when pulling away: mass and spin
	Percent  float64 `json:"percent_of_kg"` // of the vehicle, 0 where its mass isn't known
	Formula  string  `json:"formula"`
	Text     string  `json:"text"`
}

// FactoryPoint is a factory option as a reference.
type FactoryPoint struct {
	Factory
	RollingMM exact.Number `json:"rolling_mm"`
	Against   float64      `json:"against_stock_percent"`
	Equals    exact.Number `json:"equals_on_new_tire"`
	Text      string       `json:"text"`
}

// LowOption is a low-range set as another way to crawl.
type LowOption struct {
	ID         string        `json:"id"`
	Name       string        `json:"name"`
	Ratio      exact.Number  `json:"ratio"`
	Crawl      exact.Number  `json:"crawl"` // with the gears that are in it
	CrawlKMH   float64       `json:"crawl_kmh"`
	WithAdvice exact.Number  `json:"crawl_with_recommended"`
	Shelf      int           `json:"shelf"`
	Price      *exact.Number `json:"price,omitempty"`
	Text       string        `json:"text"`
}

// HighOption is a high-range set as another way out: both axles change at once.
type HighOption struct {
	ID        string        `json:"id"`
	Name      string        `json:"name"`
	Ratio     exact.Number  `json:"ratio"`
	Against   float64       `json:"against_stock_percent"` // with the axles left alone
	CruiseRPM float64       `json:"cruise_rpm"`
	Shelf     int           `json:"shelf"`
	Price     *exact.Number `json:"price,omitempty"`
	Text      string        `json:"text"`
}

// Strength compares what was entered of a family's sets.
type Strength struct {
	Family   string  `json:"family"`
	RingMM   float64 `json:"ring_mm,omitempty"`
	PinionMM float64 `json:"pinion_mm,omitempty"`
	Spiders  int     `json:"spiders,omitempty"`
	Splines  int     `json:"splines,omitempty"`
	TubeMM   float64 `json:"tube_mm,omitempty"`
	Text     string  `json:"text"`
}

// Plan is the whole answer.
type Plan struct {
	OldTire    *tire.Answer   `json:"old_tire"`
	NewTire    *tire.Answer   `json:"new_tire"`
	Change     *tire.Change   `json:"change"`
	Fitted     exact.Number   `json:"fitted"` // ring and pinion of the primary axle
	StockRatio exact.Number   `json:"stock_ratio"`
	Equivalent exact.Number   `json:"equivalent"`
	Axles      []AxleNow      `json:"axles"`
	SpeedsKMH  []float64      `json:"speeds_kmh"`
	CruiseGear string         `json:"cruise_gear"`
	Use        string         `json:"use"`
	Before     Variant        `json:"before"`
	TiresOnly  Variant        `json:"tires_only"`
	Variants   []Variant      `json:"variants"`
	Candidates []Candidate    `json:"candidates"`
	Schools    []School       `json:"schools"`
	Agreement  string         `json:"agreement"`
	Advice     Advice         `json:"advice"`
	Next       []Next         `json:"next_tires"`
	Reverse    []Reverse      `json:"reverse"`
	Mass       *Mass          `json:"mass,omitempty"`
	Factory    []FactoryPoint `json:"factory"`
	LowSets    []LowOption    `json:"low_sets"`
	HighSets   []HighOption   `json:"high_sets"`
	Strength   []Strength     `json:"strength"`
	Estimate   Estimate       `json:"estimate"`
	WhileOpen  []OpenItem     `json:"while_open"`
	Cautions   []string       `json:"cautions"`
	Notes      []string       `json:"notes"`
	Currency   string         `json:"currency,omitempty"`
}

// AxleNow is a driven axle as it is.
type AxleNow struct {
	At    string       `json:"at"`
	Name  string       `json:"name"`
	Ratio exact.Number `json:"ratio"`
	Teeth string       `json:"teeth,omitempty"`
	// Family is named; Families of gear sets may fit.
	Family   string   `json:"family,omitempty"`
	Families []string `json:"families"`
}

// planner holds what all parts of a plan need.
type planner struct {
	q           *Request
	doc         *driveline.Document
	primary     string
	secondary   string
	axles       map[string]driveline.AxleEnd   // the first of each end
	groups      map[string][]driveline.AxleEnd // all of each end
	base        exact.Number                   // ring and pinion ratio that rows are made with: the mean of the primary end
	now         *driveline.Match               // every end against the others, with the fitted gears on the new tires
	rows        []driveline.GearRow            // with the fitted gears, each known
	stockRatio  exact.Number
	stockMM     exact.Number
	cruise      int // row used at cruise
	first       int // first gear in the highest range
	crawl       int // first gear in the lowest range
	newMM       exact.Number
	newFrontMM  exact.Number
	caseType    string
	ends        *driveline.Match // front against rear with the fitted gears on the new tires
	vehicleMass float64
	tireSpread  float64 // ± percent, of front against rear
}

// Work answers a request. Faults are fault.Error or fault.Errors.
func Work(q Request) (*Plan, error) {
	if err := q.settle(); err != nil {
		return nil, err
	}
	doc, field := q.Driveline, "driveline"
	switch {
	case doc != nil && q.Plain != nil:
		return nil, fault.New("plain", "send a driveline or plain figures, not both")
	case doc == nil && q.Plain == nil:
		return nil, fault.New("driveline", "is needed; or plain figures of gears and axles")
	case doc == nil:
		var err error
		if doc, err = q.Plain.document(); err != nil {
			return nil, err
		}
		field = "plain"
	}
	if q.Shop.Sets = withoutCommon(q.Shop.Sets); len(q.Shop.Sets) == 0 {
		q.Shop.Sets = CommonSets()
		q.common = true
	}
	p := &planner{q: &q, doc: doc, axles: map[string]driveline.AxleEnd{}, groups: map[string][]driveline.AxleEnd{}}
	out := &Plan{SpeedsKMH: q.SpeedsKMH, Use: q.Use, Currency: strings.TrimSpace(q.Currency), Notes: []string{}, Cautions: cautions, Factory: []FactoryPoint{}, LowSets: []LowOption{}, HighSets: []HighOption{}, Strength: []Strength{}, Next: []Next{}, Reverse: []Reverse{}}
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
	p.now = doc.With(nil, p.tiresAt()).Ends()
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
	out.Estimate = p.estimate(chosen)
	out.WhileOpen = p.whileOpen(chosen)
	p.notes(out)
	return out, nil
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
		return fault.New(field, "there is no driven axle in it")
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
		if x := &p.doc.Parts[i]; x.Kind == "transfer_case" && strings.TrimSpace(p.q.Case) == "" {
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
func (p *planner) frontRear(all *driveline.Match) *driveline.Match {
	for i := range p.doc.Parts {
		if p.doc.Parts[i].Kind == "transfer_case" {
			if m := all.At(p.doc.Parts[i].ID); m != nil {
				return m
			}
		}
	}
	return all
}

// several is whether an end has more than one driven axle.
func (p *planner) several() bool { return len(p.groups["rear"]) > 1 || len(p.groups["front"]) > 1 }

func (o *Plan) find(id string) *Candidate {
	for i := range o.Candidates {
		if o.Candidates[i].ID == id {
			return &o.Candidates[i]
		}
	}
	return nil
}

func (o *Plan) variant(id string) *Variant {
	for i := range o.Variants {
		if o.Variants[i].ID == id {
			return &o.Variants[i]
		}
	}
	return &o.TiresOnly
}

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
	rows, err := doc.GearTable()
	if err != nil {
		return err
	}
	for _, r := range rows {
		if r.Overall == nil || r.Overall.IsZero() {
			if r.Missing != "" {
				return fault.New(field, "gears are missing: %s; measure them or put in the plate's", r.Missing)
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
		r.Formula = fmt.Sprintf("%s = %s × %s ÷ %s", overall.Short(4), g.Overall.Short(4), ratio.Short(4), p.base.Short(4))
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
	v.Formula = fmt.Sprintf("%s km/h × 1000 ÷ 60 ÷ %s m × %s = %s rpm", say.Trim(p.q.Cruise.KMH, 1), say.Trim(m, 4), v.Rows[p.cruise].Overall.Short(4), say.Trim(v.CruiseRPM, 0))
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

var cautions = []string{
	"Ratios, carriers, bearings and torque values: the maker's manual rules. This is a suggestion for a qualified person to decide on.",
	"Change one end, change the other: never lock a four-wheel driveline with unequal ends on a hard road.",
	"Tires beyond the approved size, and a speedometer that reads low, may not be road legal where you are.",
}
