// Package driveline is the exact model of a unit's driveline: parts in line
// from the engine to the wheels or the propeller, expanded to shafts and
// elements and solved by package network. What is made of the solution stands
// in the packages below: trace tells it, match compares front and rear, grip
// pulls, breaks breaks it and tows it, play finds where it is loose.
//
// A kind of part is one file, part_<kind>.go; everything else asks a part for
// what it does (interface made), for its traits and for its features.
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
	"zorvel/core/say"
)

// Format marks a driveline document.
const Format = "zorvel-driveline-1"

// Bounds of a document; the contract has the same.
const (
	MaxParts = 200
	MaxGears = 40 // of a gearbox
)

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

// Source says where a ratio came from.
type Source struct {
	Kind        string  `json:"kind"` // measured, plate, assumed, conflict, unknown
	Text        string  `json:"text,omitempty"`
	Probability float64 `json:"probability,omitempty"`
	Stage       int64   `json:"stage,omitempty"` // where a unit measures it; never part of a kept document
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
	return &p, p.Loose()
}

// Loose makes it a part by itself, as a catalog holds it: fed by nothing,
// measured nowhere; and checks its figures.
func (p *Part) Loose() error {
	if p.ID == "" {
		p.ID = "part"
	}
	p.From, p.Sources = "", nil
	var errs fault.Errors
	p.check("", &errs)
	return errs.Err()
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

// Check refuses what can't be a driveline: unknown kinds, loops, dangling
// ports, gears without teeth. Missing ratios are not refused: they are
// unknown.
func (d *Document) Check() error {
	if err := fault.Figures(d); err != nil {
		return err
	}
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

// CheckAs is Check of a driveline in a question, its faults under the field that
// it came in; none at all is no fault.
func (d *Document) CheckAs(field string) error {
	if d == nil {
		return nil
	}
	return fault.Under(field, d.Check())
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
				errs.Add(at, "only one part is fed from outside; say which output feeds the %s", p.Called())
			}
			if p.Traits().End != "" {
				errs.Add(at, "say which output drives the %s", p.Called())
			}
			continue
		}
		if p.Traits().Axis == "" {
			errs.Add(at, "power enters at the %s: nothing feeds it", say.Small(p.Called()))
			continue
		}
		id, port, _ := strings.Cut(p.From, ".")
		up := ids[id]
		if up == nil {
			errs.Add(at, "there is no part %q", id)
			continue
		}
		ok := false
		for _, x := range up.Ports() {
			ok = ok || x == port
		}
		switch {
		case !ok && len(up.Ports()) == 0:
			errs.Add(at, "the %s has no output", up.Called())
		case !ok && up.Ports()[0] == "":
			errs.Add(at, "the %s has one output: write %q", up.Called(), id)
		case !ok:
			errs.Add(at, "the %s has the outputs %s.%s", up.Called(), id, strings.Join(up.Ports(), " and "+id+"."))
		}
		if before, twice := taken[p.From]; twice {
			errs.Add(at, "%s feeds the %s already", p.From, d.Parts[before].Called())
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
				errs.Add(fmt.Sprintf("parts/%d/from", i), "the %s feeds itself: from where does power reach it?", d.Parts[i].Called())
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
