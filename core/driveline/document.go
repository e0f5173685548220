// Package driveline is the exact model of a unit's driveline: parts in line
// from the engine to the wheels or the propeller, expanded to shafts and
// elements, solved by package network and told in the words of the trade.
//
// Axes: x forward, y left, z up. A shaft's positive sense is clockwise seen
// from the front for lengthwise shafts (the way an engine turns), rolling
// forward for crosswise shafts, and clockwise seen from above for upright
// ones. docs/driveline.md pictures them.
//
// All functions are deterministic and keep no state.
package driveline

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

// Format marks a driveline document.
const Format = "zorvel-driveline-1"

// MaxParts bounds a document.
const MaxParts = 200

// Document is a driveline. Exactly one part has no From: power (or the hand)
// enters there.
type Document struct {
	Format string `json:"format"`
	Name   string `json:"name,omitempty"`
	Lies   Lies   `json:"lies"`
	Body   *Body  `json:"body,omitempty"`
	Parts  []Part `json:"parts"`
}

// Lies says what the driveline stands in, and so how it is drawn.
type Lies string

// What a driveline stands in.
const (
	Vehicle Lies = "vehicle"
	Boat    Lies = "boat"
	Bench   Lies = "bench" // a loose part; its open ends count as loaded
)

// Body is what corners and traction need of a vehicle. Lengths are
// millimeters, masses kilograms.
type Body struct {
	WheelbaseMM  float64 `json:"wheelbase_mm,omitempty"`
	TrackMM      float64 `json:"track_mm,omitempty"`
	MassKG       float64 `json:"mass_kg,omitempty"`
	FrontPercent float64 `json:"front_percent,omitempty"` // of the weight, standing level
	HeightMM     float64 `json:"height_mm,omitempty"`     // of the center of gravity
}

// Part is one thing that can be unbolted. The property named like its kind
// holds what it is made of; a ratio that isn't known is left out.
type Part struct {
	ID   string `json:"id"`
	Kind string `json:"kind"`
	Name string `json:"name,omitempty"`
	// From is the output that feeds it: "gearbox", or "case.front" where a
	// part has several.
	From string `json:"from,omitempty"`
	// Mounting: upright (as drawn by its maker), turned_over (rolled about
	// its length) or end_for_end (turned about the upright).
	Mounting string  `json:"mounting,omitempty"`
	RatedNM  float64 `json:"rated_nm,omitempty"` // greatest torque at its input
	// Actuation moves its range, lock or gears: lever, cable, motor, air, vacuum
	// or hydraulic; each link of it can be what failed.
	Actuation string `json:"actuation,omitempty"`
	// BothWays says that its gear also goes on the wrong way round.
	BothWays bool `json:"both_ways,omitempty"`
	// Family names the gears that fit its housing, as in the shop's catalog.
	Family  string            `json:"family,omitempty"`
	Sources map[string]Source `json:"sources,omitempty"` // by ratio: "ratio", "low", "front", a gear's name

	Engine       *Engine       `json:"engine,omitempty"`
	Clutch       *Clutch       `json:"clutch,omitempty"`
	Gearbox      *Gearbox      `json:"gearbox,omitempty"`
	Planetary    *Planetary    `json:"planetary,omitempty"`
	TransferCase *TransferCase `json:"transfer_case,omitempty"`
	Axle         *Axle         `json:"axle,omitempty"`
	Differential *Differential `json:"differential,omitempty"`
	Hub          *Hub          `json:"hub,omitempty"`
	GearPair     *GearPair     `json:"gear_pair,omitempty"`
	Wheel        *Wheel        `json:"wheel,omitempty"`
	Upper        *Upper        `json:"upper,omitempty"`
	Gearcase     *Gearcase     `json:"gearcase,omitempty"`
	ReverseGear  *ReverseGear  `json:"reverse_gear,omitempty"`
	Propeller    *Propeller    `json:"propeller,omitempty"`
}

// Source says where a ratio came from.
type Source struct {
	Kind        string  `json:"kind"` // measured, plate, assumed, conflict, unknown
	Text        string  `json:"text,omitempty"`
	Probability float64 `json:"probability,omitempty"`
	Stage       int64   `json:"stage,omitempty"` // where a unit measures it; never part of a kept document
}

// Engine is where power enters.
type Engine struct {
	Axis     Axis    `json:"axis,omitempty"`     // lengthwise, crosswise or upright
	Rotation string  `json:"rotation,omitempty"` // standard or opposite
	TorqueNM float64 `json:"torque_nm,omitempty"`
}

// Clutch is a friction clutch, or a converter that may slip.
type Clutch struct {
	Type string       `json:"type,omitempty"` // clutch or converter
	Slip exact.Figure `json:"slip,omitzero"`  // converter: part of the speed lost while it slips, typical
}

// Gearbox is a set of selectable gears.
type Gearbox struct {
	// Arrangement: ratios (a list of ratios), countershaft (input gear,
	// countershaft, output gears) or two_shaft (pairs between two shafts).
	Arrangement string `json:"arrangement"`
	Input       int    `json:"input,omitempty"`   // countershaft: teeth of the input gear
	Counter     int    `json:"counter,omitempty"` // and of its mate on the countershaft
	Gears       []Gear `json:"gears"`
}

// Gear is one selectable gear.
type Gear struct {
	Name     string       `json:"name"`
	Ratio    exact.Figure `json:"ratio,omitzero"`     // ratios: negative reverses
	Drive    int          `json:"drive,omitempty"`    // teeth on the countershaft or input shaft
	Driven   int          `json:"driven,omitempty"`   // teeth on the output shaft
	Idler    int          `json:"idler,omitempty"`    // teeth of a reverse idler between them
	Direct   bool         `json:"direct,omitempty"`   // input locked to output
	Selector string       `json:"selector,omitempty"` // synchro, dog or sliding
}

// Planetary is a planetary set, fixed as a reduction or shifted.
type Planetary struct {
	Sun      int    `json:"sun,omitempty"`
	Ring     int    `json:"ring,omitempty"`
	Planet   int    `json:"planet,omitempty"`
	Planets  int    `json:"planets,omitempty"`
	Paired   bool   `json:"paired,omitempty"`
	Input    string `json:"input,omitempty"`     // sun
	Output   string `json:"output,omitempty"`    // carrier
	Held     string `json:"held,omitempty"`      // ring
	TwoSpeed bool   `json:"two_speed,omitempty"` // high locks it, low holds, N neither
}

// TransferCase feeds a rear and a front output.
type TransferCase struct {
	Range        Range  `json:"range"`
	Center       Center `json:"center"`
	Front        Front  `json:"front"`
	LowNeedsLock bool   `json:"low_needs_lock,omitempty"`
}

// Range is the two-range part of a transfer case.
type Range struct {
	Type     string       `json:"type"` // none, ratio, planetary, gears
	Low      exact.Figure `json:"low,omitzero"`
	High     exact.Figure `json:"high,omitzero"` // 1 if left out
	Sun      int          `json:"sun,omitempty"`
	Ring     int          `json:"ring,omitempty"`
	Input    int          `json:"input,omitempty"`   // gears: input gear
	Counter  int          `json:"counter,omitempty"` // its mate on the cluster
	LowDrive int          `json:"low_drive,omitempty"`
	LowGear  int          `json:"low_gear,omitempty"`
}

// Center says how a transfer case shares between rear and front.
type Center struct {
	// Type: part_time (front engaged by hand), open, limited_slip, planetary
	// (ring to one output, sun to the other), or solid (always locked).
	Type     string `json:"type"`
	Lockable bool   `json:"lockable,omitempty"`
	// RearOnly adds a position in which only the rear is driven: the front
	// drive is let go and the center turns as one, its planets at rest.
	RearOnly bool `json:"rear_only,omitempty"`
	LimitedSlip
	Ring   int    `json:"ring,omitempty"`
	Sun    int    `json:"sun,omitempty"`
	RingTo string `json:"ring_to,omitempty"` // rear (default) or front
}

// Front is how the front output is reached.
type Front struct {
	Type   string       `json:"type"` // none, chain, gears, ratio
	Drive  int          `json:"drive,omitempty"`
	Driven int          `json:"driven,omitempty"`
	Idlers int          `json:"idlers,omitempty"`
	Ratio  exact.Figure `json:"ratio,omitzero"` // negative reverses
}

// Axle is a final drive with its differential.
type Axle struct {
	Ring     int          `json:"ring,omitempty"`
	Pinion   int          `json:"pinion,omitempty"`
	Ratio    exact.Figure `json:"ratio,omitzero"`      // where the teeth aren't known
	Gears    string       `json:"gears,omitempty"`     // bevel (default) or spur, for a crosswise engine
	RingSide string       `json:"ring_side,omitempty"` // left (default) or right of the pinion, upright
	PinionAt string       `json:"pinion_at,omitempty"` // ahead (default) or behind the axle, upright
	Offset   bool         `json:"hypoid,omitempty"`    // the pinion's axis passes the axle's
	Cut      string       `json:"cut,omitempty"`       // standard (default), reverse or straight
	Second   *SunRing     `json:"second,omitempty"`    // planetary set behind the ring gear
	Change   *ChangeGears `json:"change,omitempty"`    // spur pair ahead of the pinion
	FreeHubs bool         `json:"free_hubs,omitempty"` // wheels can be let go at the hubs
	// Disconnect names the side, left or right, whose half shaft can be let go
	// inside the axle; the differential then passes nothing.
	Disconnect string `json:"disconnect,omitempty"`
	// StubNM is the greatest torque of one stub or joint at its outputs.
	StubNM float64 `json:"stub_nm,omitempty"`

	Differential Differential `json:"differential"`
}

// SunRing is a planetary set: sun driven, ring held, carrier out.
type SunRing struct {
	Sun  int `json:"sun,omitempty"`
	Ring int `json:"ring,omitempty"`
}

// ChangeGears is the exchangeable spur pair of a quick-change final drive.
type ChangeGears struct {
	Input  int `json:"input,omitempty"`  // teeth on the input shaft
	Pinion int `json:"pinion,omitempty"` // teeth on the pinion shaft
}

// Differential shares between two outputs. As a part of its own it is an
// inter-axle differential with the outputs "here" and "through".
type Differential struct {
	Type string `json:"type"` // open, limited_slip, locking, spool; as a part also planetary
	LimitedSlip
	Ring int `json:"ring,omitempty"`
	Sun  int `json:"sun,omitempty"`
}

// LimitedSlip is what makes a differential stiff between its sides.
type LimitedSlip struct {
	// Slip is how: clutches (plates or cones, with preload), helical (teeth
	// pressed by the torque that passes) or viscous (grows with the difference
	// in speed).
	Slip string `json:"slip,omitempty"`
	// Bias is how many times the torque of the weaker side the stronger may
	// carry: clutches and helical.
	Bias exact.Figure `json:"bias,omitzero"`
	// BreakawayNM is measured at one wheel with the other grounded and the
	// input free; the sides then differ by twice as much, and so they may by
	// preload alone.
	BreakawayNM float64 `json:"breakaway_nm,omitempty"`
	// ViscousNM is what a viscous coupling carries across when its sides differ
	// by 100 rpm.
	ViscousNM float64 `json:"viscous_nm,omitempty"`
}

// carries is the bias ratio, and the torque by which the sides may differ
// whatever passes.
func (l LimitedSlip) carries() (bias, across float64) {
	switch l.Slip {
	case "viscous":
		return 1, l.ViscousNM
	case "helical":
		return biasOf(l.Bias.Float()), 0
	}
	return biasOf(l.Bias.Float()), 2 * l.BreakawayNM
}

// Hub is a reduction at the wheel.
type Hub struct {
	Type   string `json:"type"` // planetary or portal
	Sun    int    `json:"sun,omitempty"`
	Ring   int    `json:"ring,omitempty"`
	Drive  int    `json:"drive,omitempty"`
	Driven int    `json:"driven,omitempty"`
	Idlers int    `json:"idlers,omitempty"`
}

// GearPair is two gears or sprockets.
type GearPair struct {
	Drive  int          `json:"drive,omitempty"`
	Driven int          `json:"driven,omitempty"`
	Ratio  exact.Figure `json:"ratio,omitzero"`
	Mesh   string       `json:"mesh,omitempty"` // external (default), internal, chain
	Idlers int          `json:"idlers,omitempty"`
}

// Wheel stands on the road.
type Wheel struct {
	At        string       `json:"at,omitempty"`   // front or rear
	Side      string       `json:"side,omitempty"` // left or right
	RollingMM exact.Figure `json:"rolling_mm,omitzero"`
	Tire      string       `json:"tire,omitempty"`
	AheadMM   float64      `json:"ahead_mm,omitempty"` // of the line that the vehicle turns about; front: the wheelbase
}

// Upper is a marine upper bevel set: lengthwise shaft to upright shaft.
type Upper struct {
	Pinion int          `json:"pinion,omitempty"`
	Gear   int          `json:"gear,omitempty"`
	Ratio  exact.Figure `json:"ratio,omitzero"`
	Shift  bool         `json:"shift,omitempty"` // forward, neutral and reverse are chosen here
}

// Gearcase is a marine lower unit: upright drive shaft to propeller shaft.
type Gearcase struct {
	Pinion int          `json:"pinion,omitempty"`
	Gear   int          `json:"gear,omitempty"`
	Ratio  exact.Figure `json:"ratio,omitzero"`
	Shift  bool         `json:"shift,omitempty"` // forward, neutral, reverse by a sliding clutch
	Twin   bool         `json:"twin,omitempty"`  // two propellers turning opposite ways
	// Forward says where the forward gear sits: ahead of the pinion
	// (default) or behind it.
	Forward string `json:"forward,omitempty"`
	// ShiftBy moves the sliding clutch: turning (a shaft that is turned),
	// push_pull (a rod), sprung (a rod against a spring) or lobe.
	ShiftBy string `json:"shift_by,omitempty"`
	// ShiftForward is the movement of the shift shaft or rod that gives
	// forward, as the manual says it.
	ShiftForward string `json:"shift_forward,omitempty"`
}

// ReverseGear is an inboard reverse-reduction gear.
type ReverseGear struct {
	Ahead    exact.Figure `json:"ahead,omitzero"`
	Astern   exact.Figure `json:"astern,omitzero"`
	Opposite bool         `json:"opposite,omitempty"` // ahead, the output turns against the engine
}

// Propeller takes the power into the water.
type Propeller struct {
	PitchIN float64 `json:"pitch_in,omitempty"`
	Hand    string  `json:"hand,omitempty"` // right or left
}

// Parse reads a document strictly and checks it; unknown properties are
// refused. Faults are fault.Errors or a fault.Error.
func Parse(data []byte) (*Document, error) {
	var d Document
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&d); err != nil {
		return nil, jsonFault(err)
	}
	if _, err := dec.Token(); !errors.Is(err, io.EOF) {
		return nil, fault.New("", "one document is expected; something follows it")
	}
	if err := d.Check(); err != nil {
		return nil, err
	}
	return &d, nil
}

// ParsePart reads one part by itself, as a catalog holds it.
func ParsePart(data []byte) (*Part, error) {
	var p Part
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&p); err != nil {
		return nil, jsonFault(err)
	}
	if p.ID == "" {
		p.ID = "part"
	}
	p.From, p.Sources = "", nil
	var errs fault.Errors
	p.check("", &errs)
	return &p, errs.Err()
}

func jsonFault(err error) error {
	var typ *json.UnmarshalTypeError
	switch {
	case errors.As(err, &typ):
		return fault.New(strings.ReplaceAll(typ.Field, ".", "/"), "a %s can't stand here", typ.Value)
	case errors.Is(err, exact.ErrSyntax):
		return fault.New("", "%v", err)
	}
	if name, ok := strings.CutPrefix(err.Error(), "json: unknown field "); ok {
		return fault.New(strings.Trim(name, `"`), "is not known here")
	}
	return fault.New("", "the document can't be read: %v", err)
}

// spec is the property that a kind of part holds.
func (p *Part) spec() map[string]bool {
	return map[string]bool{
		"engine": p.Engine != nil, "clutch": p.Clutch != nil, "gearbox": p.Gearbox != nil, "planetary": p.Planetary != nil,
		"transfer_case": p.TransferCase != nil, "axle": p.Axle != nil, "differential": p.Differential != nil, "hub": p.Hub != nil,
		"gear_pair": p.GearPair != nil, "wheel": p.Wheel != nil, "upper": p.Upper != nil, "gearcase": p.Gearcase != nil,
		"reverse_gear": p.ReverseGear != nil, "propeller": p.Propeller != nil,
	}
}

// Kinds of part, in the order in which power passes them.
func PartKinds() []string {
	return []string{"engine", "clutch", "gearbox", "planetary", "transfer_case", "shaft", "differential", "gear_pair", "axle", "hub",
		"wheel", "upper", "reverse_gear", "gearcase", "propeller"}
}

// ports are the outputs of a part.
func (p *Part) ports() []string {
	switch p.Kind {
	case "transfer_case":
		if p.TransferCase.Front.Type == "none" {
			return []string{"rear"}
		}
		return []string{"rear", "front"}
	case "axle":
		return []string{"left", "right"}
	case "differential":
		return []string{"here", "through"}
	case "gearcase":
		if p.Gearcase.Twin {
			return []string{"outer", "inner"}
		}
	case "wheel", "propeller":
		return nil
	}
	return []string{""}
}

// Check refuses what can't be a driveline: unknown kinds, loops, dangling
// ports, gears without teeth. Missing ratios are not refused: they are
// unknown.
func (d *Document) Check() error {
	var errs fault.Errors
	if d.Format != Format {
		errs.Add("format", "%q is expected", Format)
	}
	switch d.Lies {
	case Vehicle, Boat, Bench:
	default:
		errs.Add("lies", "vehicle, boat or bench")
	}
	if len(d.Parts) == 0 {
		errs.Add("parts", "a driveline has at least one part")
	}
	if len(d.Parts) > MaxParts {
		errs.Add("parts", "at most %d parts; this has %d", MaxParts, len(d.Parts))
		return errs
	}
	if b := d.Body; b != nil {
		span := func(field string, v, lo, hi float64) {
			if v != 0 && (v < lo || v > hi) {
				errs.Add("body/"+field, "from %g to %g", lo, hi)
			}
		}
		span("wheelbase_mm", b.WheelbaseMM, 500, 20000)
		span("track_mm", b.TrackMM, 300, 5000)
		span("mass_kg", b.MassKG, 50, 100000)
		span("front_percent", b.FrontPercent, 1, 99)
		span("height_mm", b.HeightMM, 50, 5000)
	}
	ids := make(map[string]*Part, len(d.Parts))
	for i := range d.Parts {
		p := &d.Parts[i]
		at := fmt.Sprintf("parts/%d/", i)
		switch {
		case p.ID == "" || len(p.ID) > 40 || strings.ContainsAny(p.ID, ". /\t\n"):
			errs.Add(at+"id", "a short name without spaces, dots or slashes, at most 40 characters")
			continue
		case ids[p.ID] != nil:
			errs.Add(at+"id", "there is a part %q already", p.ID)
		}
		ids[p.ID] = p
		p.check(at, &errs)
	}
	if errs != nil {
		return errs
	}
	d.checkLine(ids, &errs)
	return errs.Err()
}

// checkLine follows the parts from their sources.
func (d *Document) checkLine(ids map[string]*Part, errs *fault.Errors) {
	roots := 0
	taken := map[string]int{}
	for i := range d.Parts {
		p := &d.Parts[i]
		at := fmt.Sprintf("parts/%d/from", i)
		if p.From == "" {
			roots++
			if roots > 1 {
				errs.Add(at, "only one part is fed from outside; say which output feeds the %s", p.name())
			}
			if p.Kind == "wheel" || p.Kind == "propeller" {
				errs.Add(at, "say which output drives the %s", p.name())
			}
			continue
		}
		if p.Kind == "engine" {
			errs.Add(at, "an engine is fed by nothing")
			continue
		}
		id, port, _ := strings.Cut(p.From, ".")
		up := ids[id]
		if up == nil {
			errs.Add(at, "there is no part %q", id)
			continue
		}
		ok := false
		for _, x := range up.ports() {
			ok = ok || x == port
		}
		switch {
		case !ok && len(up.ports()) == 0:
			errs.Add(at, "the %s has no output", up.name())
		case !ok && up.ports()[0] == "":
			errs.Add(at, "the %s has one output: write %q", up.name(), id)
		case !ok:
			errs.Add(at, "the %s has the outputs %s.%s", up.name(), id, strings.Join(up.ports(), " and "+id+"."))
		}
		if before, twice := taken[p.From]; twice {
			errs.Add(at, "%s feeds the %s already", p.From, d.Parts[before].name())
		}
		taken[p.From] = i
	}
	if roots == 0 {
		errs.Add("parts", "the parts feed each other in a loop; one part has to be fed from outside")
		return
	}
	// A part that no way from a root leads to stands in a loop.
	for i := range d.Parts {
		seen := map[string]bool{}
		for p := &d.Parts[i]; p != nil && p.From != ""; {
			if seen[p.ID] {
				errs.Add(fmt.Sprintf("parts/%d/from", i), "the %s feeds itself: from where does power reach it?", d.Parts[i].name())
				break
			}
			seen[p.ID] = true
			id, _, _ := strings.Cut(p.From, ".")
			p = ids[id]
		}
	}
}

// oneOf refuses a word that is not among those known; empty takes the first.
func oneOf(errs *fault.Errors, at string, v *string, words ...string) {
	if *v == "" {
		*v = words[0]
		return
	}
	for _, w := range words {
		if *v == w {
			return
		}
	}
	errs.Add(at, "one of %s", strings.Join(words, ", "))
}

func teeth(errs *fault.Errors, at string, n int, known bool) {
	if n < 0 || n > 2000 || (n == 0 && known) {
		errs.Add(at, "a gear has 1 to 2000 teeth; leave both counts out where they aren't known")
	}
}

// pair checks two tooth counts that are known together or not at all.
func pair(errs *fault.Errors, at, a, b string, na, nb int) {
	known := na != 0 || nb != 0
	teeth(errs, at+a, na, known)
	teeth(errs, at+b, nb, known)
}

func ratioRange(errs *fault.Errors, at string, r exact.Figure, reverses bool) {
	if r.IsZero() {
		return
	}
	if r.Sign() < 0 && !reverses {
		errs.Add(at, "a ratio is above zero: input turns per output turn")
		return
	}
	if a := r.Abs(); a.Cmp(exact.New(1, 100)) < 0 || a.Cmp(exact.Int(200)) > 0 {
		errs.Add(at, "a ratio is between 0.01 and 200 input turns per output turn")
	}
}
