// Package regear helps to choose ring and pinion after a tire change: what
// changed, what the schools of the trade would fit, which gear sets the shop
// can get, whether front and rear agree, what it costs, and what speaks for
// and against each.
//
// Ratios are exact; speeds, rpm and forces are computed from them at the end.
// Formulas (Gillespie, Fundamentals of Vehicle Dynamics, ch. 2):
//
//	rpm = v · turns of the wheel per distance · overall ratio
//	thrust per unit of engine torque = overall ratio ÷ rolling radius
//	effective ratio = ratio · old rolling ÷ new rolling
package regear

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/tire"
)

// Uses of a vehicle.
const (
	Highway = "highway"
	Mixed   = "mixed"
	Towing  = "towing"
	Trail   = "trail"
)

// Bounds of a question; the contract has the same.
const (
	MaxSpeeds    = 60
	MaxPoints    = 200    // of the torque curve
	MaxRows      = 20_000 // of each of the shop's lists, which hold no more
	MaxRangeSets = 200
)

// Request is the question. Exactly one of Driveline and Plain is given.
type Request struct {
	Driveline *driveline.Document `json:"driveline,omitempty"`
	Plain     *Plain              `json:"plain,omitempty"`

	Old tire.Tire `json:"old_tire"`
	New tire.Tire `json:"new_tire"`
	// NewFront is given where the front gets another tire than the rear.
	NewFront *tire.Tire `json:"new_front_tire,omitempty"`
	// Stock is what left the factory, where that is not what is in it.
	Stock *Stock `json:"stock,omitempty"`

	Use       string    `json:"use,omitempty"` // mixed if empty
	Cruise    Cruise    `json:"cruise"`
	ShiftRPM  float64   `json:"shift_rpm,omitempty"` // 4000 if left out
	IdleRPM   float64   `json:"idle_rpm,omitempty"`  // 750 if left out
	CrawlKMH  float64   `json:"crawl_kmh,omitempty"` // lowest speed wanted in low-low at idle
	Launch    float64   `json:"launch_percent,omitempty"`
	Torque    []Point   `json:"torque,omitempty"`
	SpeedsKMH []float64 `json:"speeds_kmh,omitempty"`
	// SpeedUnit is what sentences say speeds in: km/h (if empty) or mph.
	// Figures are km/h all the same.
	SpeedUnit string `json:"speed_unit,omitempty"`
	// Currency stands behind money in sentences; the shop's own.
	Currency string `json:"currency,omitempty"`

	Rear  AxleFacts `json:"rear,omitzero"`
	Front AxleFacts `json:"front,omitzero"`
	Case  string    `json:"case_family,omitempty"`
	// NextCenter is the transfer case or center that will come later, where
	// that is planned: part_time, open, limited_slip, planetary or solid.
	// Pairs are held against it too.
	NextCenter string `json:"next_center,omitempty"`
	Chosen     string `json:"chosen,omitempty"` // a candidate to estimate instead of the recommended
	Shop       Shop   `json:"shop,omitzero"`
	// UseShop asks who holds the shop's lists to fill in those left out; Work
	// itself takes Shop as it is.
	UseShop bool `json:"use_shop,omitempty"`

	common bool // the shop's lists hold no set; commonly made pairs stand in
}

// Stock is how the vehicle left the factory.
type Stock struct {
	Ratio exact.Figure `json:"ratio,omitzero"`
	Tire  *tire.Tire   `json:"tire,omitempty"`
}

// Cruise is how it is driven on the road.
type Cruise struct {
	KMH     float64 `json:"kmh,omitempty"` // 90 if left out
	Gear    string  `json:"gear,omitempty"`
	LowRPM  float64 `json:"low_rpm,omitempty"`
	HighRPM float64 `json:"high_rpm,omitempty"`
}

// Point is a point of the engine's torque curve at full throttle.
type Point struct {
	RPM float64 `json:"rpm"`
	NM  float64 `json:"nm"`
}

// AxleFacts is what the drawing of the driveline does not hold of an axle.
type AxleFacts struct {
	Family string `json:"family,omitempty"` // names gear sets that fit it
	Type   string `json:"type,omitempty"`   // solid or independent
	// Fixed says that this axle can't be changed: what is in it stays.
	Fixed bool `json:"fixed,omitempty"`
	// Carrier is the range of ratios that the carrier in it takes.
	Carrier *Span `json:"carrier,omitempty"`
}

// Span is a range of ratios.
type Span struct {
	From exact.Figure `json:"from"`
	To   exact.Figure `json:"to"`
}

func (s Span) has(r exact.Number) bool { return r.Cmp(s.From.Number) >= 0 && r.Cmp(s.To.Number) <= 0 }

func (s Span) words() string { return s.From.Decimal(2) + " to " + s.To.Decimal(2) }

// Shop is what the shop has entered.
type Shop struct {
	Sets    []GearSet `json:"sets,omitempty"`
	LowSets []LowSet  `json:"low_sets,omitempty"`
	// HighSets change the high range of a transfer case, and so both axles at
	// once.
	HighSets []LowSet  `json:"high_sets,omitempty"`
	Tires    []Stocked `json:"tires,omitempty"`
	Rule     []RuleRow `json:"rule,omitempty"` // DefaultRule if empty
	Factory  []Factory `json:"factory,omitempty"`
	Prices   []Price   `json:"prices,omitempty"`
}

// GearSet is a ring and pinion of the shop's catalog.
type GearSet struct {
	ID      string       `json:"id"`
	Family  string       `json:"family"`
	Ring    int          `json:"ring"`
	Pinion  int          `json:"pinion"`
	RingMM  float64      `json:"ring_mm,omitempty"` // outside diameter of the ring gear
	Carrier *Span        `json:"carrier,omitempty"`
	Shelf   int          `json:"shelf,omitempty"`
	Price   exact.Figure `json:"price,omitzero"`
	// Common marks a pair that is commonly made and in none of the shop's
	// lists.
	Common bool `json:"common,omitempty"`
	// Strength, as entered; zero where it isn't.
	PinionMM float64 `json:"pinion_mm,omitempty"` // shank of the pinion
	Spiders  int     `json:"spiders,omitempty"`   // spider gears in its carrier
	Splines  int     `json:"splines,omitempty"`   // of the half shafts
	TubeMM   float64 `json:"tube_mm,omitempty"`   // outside diameter of the axle tube

	fitted bool // what is in the axle
}

// Ratio of the set.
func (g GearSet) Ratio() exact.Number { return exact.New(int64(g.Ring), int64(g.Pinion)) }

// Label is the trade label with the teeth.
func (g GearSet) Label() string {
	return fmt.Sprintf("%s (%d/%d)", g.Ratio().Decimal(2), g.Ring, g.Pinion)
}

// LowSet is a gear set for a range of a transfer case.
type LowSet struct {
	ID     string       `json:"id"`
	Family string       `json:"family"`
	Name   string       `json:"name"`
	Ratio  exact.Figure `json:"ratio"`
	Shelf  int          `json:"shelf,omitempty"`
	Price  exact.Figure `json:"price,omitzero"`
}

// Stocked is a tire of the shop's list.
type Stocked struct {
	Name string    `json:"name"`
	Tire tire.Tire `json:"tire"`
}

// RuleRow is a line of the rule-of-thumb table: from this tire diameter up.
type RuleRow struct {
	FromMM  exact.Figure `json:"from_mm"`
	Highway exact.Figure `json:"highway"`
	Mixed   exact.Figure `json:"mixed"`
	Trail   exact.Figure `json:"trail"`
}

// Factory is what a model line could be ordered with.
type Factory struct {
	Line  string       `json:"line"`
	Name  string       `json:"name"`
	Tire  string       `json:"tire"`
	Ratio exact.Figure `json:"ratio"`
	Note  string       `json:"note,omitempty"`
}

// Plain is a driveline in a few figures.
type Plain struct {
	Gears      []PlainGear  `json:"gears"`                // forward gears, shortest first; negative reverses
	Ranges     []PlainRange `json:"ranges,omitempty"`     // of the transfer case; none if left out
	Rear       PlainAxle    `json:"rear,omitzero"`        //
	Front      PlainAxle    `json:"front,omitzero"`       //
	FrontDrive exact.Figure `json:"front_drive,omitzero"` // case: rear turns per front output turn; 1 if left out
	Center     string       `json:"center,omitempty"`     // part_time, open, solid; part_time if left out
	Typical    string       `json:"typical,omitempty"`    // a TypicalGearbox, whose ratios stand in where gears is empty
	Automatic  bool         `json:"automatic,omitempty"`  // with a converter
}

// PlainGear is a gear of the gearbox.
type PlainGear struct {
	Name  string       `json:"name"`
	Ratio exact.Figure `json:"ratio"`
}

// PlainRange is a range of the transfer case.
type PlainRange struct {
	Name  string       `json:"name"` // high or low
	Ratio exact.Figure `json:"ratio"`
}

// PlainAxle is an axle by its teeth, or by its ratio.
type PlainAxle struct {
	Ring   int          `json:"ring,omitempty"`
	Pinion int          `json:"pinion,omitempty"`
	Ratio  exact.Figure `json:"ratio,omitzero"`
}

func (a PlainAxle) given() bool { return a.Ring > 0 || a.Pinion > 0 || !a.Ratio.IsZero() }

// document draws a plain driveline up as parts.
func (p *Plain) document() (*driveline.Document, error) {
	d := &driveline.Document{Format: driveline.Format, Lies: driveline.Vehicle}
	box := &driveline.Gearbox{Arrangement: "ratios"}
	if len(p.Gears) == 0 {
		return nil, fault.New("plain/gears", "the gearbox's ratios are needed, first gear first")
	}
	for i, g := range p.Gears {
		if g.Ratio.IsZero() {
			return nil, fault.New(fmt.Sprintf("plain/gears/%d/ratio", i), "the gear's ratio is needed, as 2.33 or 35/15; negative for a reverse gear")
		}
		box.Gears = append(box.Gears, driveline.Gear{Name: strings.TrimSpace(g.Name), Ratio: g.Ratio})
	}
	d.Parts = append(d.Parts, driveline.Part{ID: "engine", Kind: "engine", Engine: &driveline.Engine{}},
		driveline.Part{ID: "gearbox", Kind: "gearbox", From: "engine", Gearbox: box})
	rear, front := "gearbox", "gearbox"
	if len(p.Ranges) > 0 || (p.Rear.given() && p.Front.given()) {
		c := &driveline.TransferCase{Range: driveline.Range{Type: "none"}, Center: driveline.Center{Type: p.Center}, Front: driveline.Front{Type: "none"}}
		if c.Center.Type == "" {
			c.Center.Type = "part_time"
		}
		for i, r := range p.Ranges {
			c.Range.Type = "ratio"
			switch r.Name {
			case "high":
				c.Range.High = r.Ratio
			case "low":
				c.Range.Low = r.Ratio
			default:
				return nil, fault.New(fmt.Sprintf("plain/ranges/%d/name", i), "high or low")
			}
		}
		if c.Range.Type == "ratio" && c.Range.Low.IsZero() {
			return nil, fault.New("plain/ranges", "the low range's ratio is needed; leave the ranges out where there is one only")
		}
		if p.Front.given() {
			c.Front = driveline.Front{Type: "ratio", Ratio: p.FrontDrive}
			if c.Front.Ratio.IsZero() {
				c.Front.Ratio = exact.Figure{Number: exact.Int(1)}
			}
		}
		d.Parts = append(d.Parts, driveline.Part{ID: "case", Kind: "transfer_case", From: "gearbox", TransferCase: c})
		rear, front = "case.rear", "case.front"
	}
	axle := func(id string, a PlainAxle, from string) {
		d.Parts = append(d.Parts, driveline.Part{ID: id, Kind: "axle", From: from, Axle: &driveline.Axle{Ring: a.Ring, Pinion: a.Pinion, Ratio: a.Ratio,
			RingSide: "left", PinionAt: "ahead", Differential: driveline.Differential{Type: "open"}}})
		for _, side := range []string{"left", "right"} {
			from := id + "." + side
			d.Parts = append(d.Parts, driveline.Part{ID: id + "_" + side, Kind: "wheel", From: from, Wheel: &driveline.Wheel{At: id, Side: side}})
		}
	}
	if p.Rear.given() {
		axle("rear", p.Rear, rear)
	}
	if p.Front.given() {
		axle("front", p.Front, front)
	}
	if !p.Rear.given() && !p.Front.given() {
		return nil, fault.New("plain/rear", "the axle is needed: ring and pinion teeth, or the ratio")
	}
	if err := d.Check(); err != nil {
		return nil, plainFault(d, err)
	}
	return d, nil
}

// plainFault names the field of the plain figures that a part's fault is about.
func plainFault(d *driveline.Document, err error) error {
	list, ok := err.(fault.Errors)
	if !ok || len(list) == 0 {
		return err
	}
	out := fault.Errors{}
	for _, e := range list {
		// The part is told by its place in the document, or by its name.
		f := strings.Split(e.Field, "/")
		part := ""
		for k, x := range f {
			if x != "parts" || k+1 == len(f) {
				continue
			}
			part = f[k+1]
			if n, err := strconv.Atoi(part); err == nil && n >= 0 && n < len(d.Parts) {
				part = d.Parts[n].ID
			}
		}
		last := f[len(f)-1]
		at := "plain"
		switch {
		case part == "gearbox":
			if at += "/gears"; len(f) > 1 && f[len(f)-2] != "gears" && last != "gears" {
				at += "/" + strings.Join(f[len(f)-2:], "/")
			} else if last != "gears" {
				at += "/" + last
			}
		case part == "front" || part == "rear":
			at += "/" + part + "/" + last
		case part == "case" && strings.Contains(e.Field, "/front/"):
			at += "/front_drive"
		case part == "case" && strings.Contains(e.Field, "/center"):
			at += "/center"
		case part == "case":
			at += "/ranges"
		}
		out.Add(at, "%s", e.Message)
	}
	return out
}

// settle fills in what was left out and refuses what can't be.
func (q *Request) settle() error {
	var errs fault.Errors
	num := func(field string, v *float64, or, lo, hi float64, unit string) {
		if *v == 0 {
			*v = or
		}
		if math.IsNaN(*v) || *v < lo || *v > hi {
			errs.Add(field, "from %v to %v %s", lo, hi, unit)
		}
	}
	if q.Use == "" {
		q.Use = Mixed
	}
	switch q.NextCenter {
	case "", "part_time", "open", "limited_slip", "planetary", "solid":
	default:
		errs.Add("next_center", "part_time, open, limited_slip, planetary or solid; nothing if none is planned")
	}
	switch q.Use {
	case Highway, Mixed, Towing, Trail:
	default:
		errs.Add("use", "highway, mixed, towing or trail")
	}
	if q.SpeedUnit == "" {
		q.SpeedUnit = "km/h"
	}
	if q.SpeedUnit != "km/h" && q.SpeedUnit != "mph" {
		errs.Add("speed_unit", "km/h or mph")
	}
	num("cruise/kmh", &q.Cruise.KMH, 90, 10, 250, "km/h")
	num("shift_rpm", &q.ShiftRPM, 4000, 500, 20000, "rpm")
	num("idle_rpm", &q.IdleRPM, 750, 200, 3000, "rpm")
	if q.Cruise.LowRPM != 0 || q.Cruise.HighRPM != 0 {
		num("cruise/low_rpm", &q.Cruise.LowRPM, 0, 500, 20000, "rpm")
		num("cruise/high_rpm", &q.Cruise.HighRPM, 0, 500, 20000, "rpm")
		if q.Cruise.HighRPM <= q.Cruise.LowRPM {
			errs.Add("cruise/high_rpm", "above the low end of the rpm range, %v rpm", q.Cruise.LowRPM)
		}
	}
	if q.CrawlKMH < 0 || q.CrawlKMH > 50 {
		errs.Add("crawl_kmh", "from 0 to 50 km/h (31 mph)")
	}
	if q.Launch < 0 || q.Launch > 300 {
		errs.Add("launch_percent", "from 0 to 300 %% of stock")
	}
	q.checkCurves(&errs)
	q.Shop.check(&errs)
	for name, a := range map[string]*AxleFacts{"rear": &q.Rear, "front": &q.Front} {
		a.settle(name, &errs)
	}
	if s := q.Stock; s != nil && s.Ratio.Sign() < 0 {
		errs.Add("stock/ratio", "above 0")
	}
	if len(q.Shop.Rule) == 0 {
		q.Shop.Rule = DefaultRule()
	}
	return errs.Err()
}

// checkCurves looks at the speeds asked about and the engine's torque.
func (q *Request) checkCurves(errs *fault.Errors) {
	if q.SpeedsKMH == nil {
		for v := 10.0; v <= 140; v += 10 {
			q.SpeedsKMH = append(q.SpeedsKMH, v)
		}
	}
	if len(q.SpeedsKMH) > MaxSpeeds {
		errs.Add("speeds_kmh", "at most %d speeds", MaxSpeeds)
	}
	for i, v := range q.SpeedsKMH {
		if !(v > 0 && v <= 400) {
			errs.Add(fmt.Sprintf("speeds_kmh/%d", i), "above 0, up to 400 km/h (249 mph)")
		}
	}
	if len(q.Torque) > MaxPoints {
		errs.Add("torque", "at most %d points of a curve", MaxPoints)
		return
	}
	last := 0.0
	for i, p := range q.Torque {
		if !(p.RPM > last && p.RPM <= 20000) {
			errs.Add(fmt.Sprintf("torque/%d/rpm", i), "rising, above %v and up to 20000 rpm", last)
		}
		if !(p.NM > 0 && p.NM <= 20000) {
			errs.Add(fmt.Sprintf("torque/%d/nm", i), "above 0, up to 20000 N·m")
		}
		last = p.RPM
	}
}

// check bounds what is sent of the shop's lists.
func (s *Shop) check(errs *fault.Errors) {
	for i, g := range s.Sets {
		if g.Ring < 2 || g.Ring > 200 || g.Pinion < 2 || g.Pinion > 100 {
			errs.Add(fmt.Sprintf("shop/sets/%d/ring", i), "ring and pinion teeth from 2 to 200")
		}
	}
	for name, n := range map[string]int{"sets": len(s.Sets), "tires": len(s.Tires), "rule": len(s.Rule), "factory": len(s.Factory), "prices": len(s.Prices)} {
		if n > MaxRows {
			errs.Add("shop/"+name, "at most %d rows", MaxRows)
		}
	}
	for name, list := range map[string][]LowSet{"low_sets": s.LowSets, "high_sets": s.HighSets} {
		if len(list) > MaxRangeSets {
			errs.Add("shop/"+name, "at most %d sets", MaxRangeSets)
		}
		for i, r := range list {
			if r.Ratio.Sign() <= 0 {
				errs.Add(fmt.Sprintf("shop/%s/%d/ratio", name, i), "above 0")
			}
		}
	}
}

func (a *AxleFacts) settle(name string, errs *fault.Errors) {
	switch a.Type {
	case "":
		a.Type = "solid"
	case "solid", "independent":
	default:
		errs.Add(name+"/type", "solid or independent")
	}
	if c := a.Carrier; c != nil && (c.From.Sign() <= 0 || c.To.Cmp(c.From.Number) < 0) {
		errs.Add(name+"/carrier/to", "a carrier takes ratios from a smaller one to a greater one")
	}
}
