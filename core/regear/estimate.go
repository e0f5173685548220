package regear

import (
	"fmt"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/say"
)

// Items of a price list.
const (
	ItemKit         = "install_kit"
	ItemCarrier     = "carrier"
	ItemLabor       = "labor_hours"
	ItemRate        = "hourly_rate"
	ItemOil         = "oil"
	ItemCalibration = "calibration"
)

// Price is a line of the shop's price list: money, or hours for labor.
type Price struct {
	Item   string       `json:"item"`
	Axle   string       `json:"axle,omitempty"` // solid_rear, solid_front, independent_rear, independent_front; any if empty
	Family string       `json:"family,omitempty"`
	Low    exact.Figure `json:"low"`
	High   exact.Figure `json:"high"`
	Note   string       `json:"note,omitempty"`
}

// Line is a line of an estimate.
type Line struct {
	What string       `json:"what"`
	At   string       `json:"at,omitempty"`
	How  string       `json:"how,omitempty"`
	Low  exact.Number `json:"low"`
	High exact.Number `json:"high"`
}

// Estimate is what a candidate costs by the shop's list.
type Estimate struct {
	Candidate string       `json:"candidate"`
	Name      string       `json:"name"`
	Lines     []Line       `json:"lines"`
	Low       exact.Number `json:"low"`
	High      exact.Number `json:"high"`
	Missing   []string     `json:"missing"` // what the price list has no line for
	Priced    bool         `json:"priced"`  // anything at all is priced
}

// price finds the line that fits best: by family and axle, by axle, any.
func (p *planner) price(item, axle, family string) (Price, bool) {
	return PriceOf(p.q.Shop.Prices, item, axle, family)
}

// PriceOf finds the line of a price list that fits best: by family and axle, by axle, any.
func PriceOf(list []Price, item, axle, family string) (Price, bool) {
	best, rank := Price{}, 0
	for _, x := range list {
		if x.Item != item || (x.Axle != "" && x.Axle != axle) || (x.Family != "" && !strings.EqualFold(x.Family, family)) {
			continue
		}
		r := 1
		if x.Axle != "" {
			r++
		}
		if x.Family != "" {
			r += 2
		}
		if r > rank {
			best, rank = x, r
		}
	}
	return best, rank > 0
}

func (p *planner) estimate(c *Candidate) Estimate {
	e := Estimate{Candidate: c.ID, Name: c.Name, Lines: []Line{}, Missing: []string{}}
	for _, at := range []string{p.primary, p.secondary} {
		if g := c.changed(p, at); g != nil {
			x := p.set(at, g).cost
			e.Lines, e.Missing = append(e.Lines, x.Lines...), append(e.Missing, x.Missing...)
			e.Low, e.High = e.Low.Add(x.Low), e.High.Add(x.High)
		}
	}
	if c.Change != nil {
		e.Missing = append(e.Missing, fmt.Sprintf("price of the change gears %d and %d", c.Change[0], c.Change[1]), "labor for swapping them")
	}
	if x, ok := p.price(ItemCalibration, "", ""); ok {
		e.add("", "Speedometer and shift points", "calibration", x.Low.Number, x.High.Number)
	} else {
		e.Missing = append(e.Missing, "calibration of the speedometer")
	}
	e.Priced = len(e.Lines) > 0
	return e
}

// add is a line more.
func (e *Estimate) add(at, what, how string, low, high exact.Number) {
	e.Lines = append(e.Lines, Line{what, at, how, low, high})
	e.Low, e.High = e.Low.Add(low), e.High.Add(high)
}

// estimateEnd is what a set costs in the axles of one end.
func (p *planner) estimateEnd(end string, g *GearSet, s *endSet) *Estimate {
	e := &Estimate{}
	for _, a := range s.opens {
		name := end + " axle"
		if len(p.groups[end]) > 1 {
			name = say.Small(a.Name)
		}
		p.estimateAxle(e, end, name, g, s.carrier.State)
	}
	return e
}

func (p *planner) estimateAxle(e *Estimate, end, name string, g *GearSet, fit string) {
	at, f := end, p.facts(end)
	if len(p.groups[end]) > 1 {
		at = name
	}
	kind := f.Type + "_" + end
	family := g.Family
	if g.Price.Sign() > 0 {
		e.add(at, "Ring and pinion "+g.Label(), "catalog", g.Price.Number, g.Price.Number)
	} else {
		e.Missing = append(e.Missing, "price of ring and pinion "+g.Label())
	}
	list := func(item, words string) {
		if x, ok := p.price(item, kind, family); ok {
			e.add(at, words, strings.ReplaceAll(item, "_", " "), x.Low.Number, x.High.Number)
		} else {
			e.Missing = append(e.Missing, fmt.Sprintf("%s, %s", strings.ToLower(words), name))
		}
	}
	list(ItemKit, "Bearings, seals, shims and hardware")
	if fit == "other" {
		list(ItemCarrier, "Another carrier")
	}
	list(ItemOil, "Gear oil")
	hours, ok := p.price(ItemLabor, kind, family)
	rate, ok2 := p.price(ItemRate, kind, family)
	if ok && ok2 {
		e.add(at, fmt.Sprintf("Labor, %s %s", f.Type, name), span(hours.Low.Short(2),
			hours.High.Short(2))+" h at "+span(rate.Low.Decimal(2), rate.High.Decimal(2)),
			hours.Low.Mul(rate.Low.Number), hours.High.Mul(rate.High.Number))
	} else {
		e.Missing = append(e.Missing, fmt.Sprintf("labor for a %s %s", f.Type, name))
	}
}

// OpenItem is something to decide or renew while the housing is open.
type OpenItem struct {
	Where string `json:"where"`
	What  string `json:"what"`
	Why   string `json:"why"`
	// Now: decided now or paid for twice; look: look at it; order: have it at hand.
	Kind string `json:"kind"` // decide, look, order
}

// whileOpen lists what later decisions will need, before anything is closed.
func (p *planner) whileOpen(c *Candidate) []OpenItem {
	var out []OpenItem
	add := func(where, kind, what, why string) { out = append(out, OpenItem{where, what, why, kind}) }
	ends := []string{}
	for _, at := range []string{p.primary, p.secondary} {
		if c.changes(p)[at] != nil {
			ends = append(ends, at)
		}
	}
	for _, at := range ends {
		w := say.Capital(at) + " axle"
		if len(p.groups[at]) > 1 {
			w += "s"
		}
		add(w, "order", "Pinion seal, pinion nut and crush sleeve or preload shims", "They come off with the pinion; used ones don't hold preload or oil.")
		add(w, "order", "Carrier and pinion bearings, shims, cover gasket, gear oil", "New gears on worn bearings lose their pattern.")
		add(w, "look", "Axle shaft seals and bearings, breather", "The shafts are out now; a blocked breather pushes oil past new seals.")
		add(w, "decide", "Differential: open, limited-slip or locking", "An insert locker goes into the carrier that is on the bench; any other locker or limited slip replaces the carrier. Either later means doing the set-up again.")
		add(w, "look", "Sensor ring, if one is on the carrier", "Its teeth set the speedometer's pulses; count them before it is closed.")
	}
	if len(ends) == 2 {
		add("Front axle", "look", "Joints, hubs and knuckle seals", "They are apart anyway.")
	}
	gearbox := p.caseType == ""
	where := "Transfer case"
	if gearbox {
		where = "Gearbox, rear housing"
	}
	add(where, "decide", "Speedometer drive gear inside the housing", "The driven gear comes out from outside, the drive gear only with the housing open. Choose the pair before it is closed.")
	add(where, "order", "Output seal, and O-ring and seal of the speedometer housing", "Cheap now, another drain of oil later.")
	if !gearbox && len(p.q.Shop.LowSets) > 0 {
		add(where, "decide", "Low-range gear set", "Another way to crawl; its gears go in while the case is open.")
	}
	return out
}

// span says a range, or the one figure that both ends are.
func span(low, high string) string {
	if low == high {
		return low
	}
	return low + " to " + high
}
