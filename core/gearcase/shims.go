// Package gearcase sets up a marine gearcase: shims by the stamp on the case,
// backlash by what is measured after it is together, and what to look at while
// it is apart.
//
// The stamp gives how far this case is from the drawing, gear by gear; the shim
// is the nominal one plus or minus that. Which way a stamp counts and which way
// a shim moves its gear are the maker's, and are said in whole sentences so
// that a wrong sign is noticed. The manual decides.
package gearcase

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/shim"
	"zorvel/core/typed"
)

// Request asks for the stacks of a case by its stamp.
type Request struct {
	Stamp      string      `json:"stamp"`
	Unit       string      `json:"unit,omitempty"`       // 0.01 mm or 0.001 in
	Convention string      `json:"convention,omitempty"` // what a plus says
	Places     []Place     `json:"places"`
	Box        string      `json:"box,omitempty"` // as it is written down: 0.05 x4, 0.10 x6
	Shims      []shim.Shim `json:"shims,omitempty"`
	Most       int         `json:"most_pieces,omitempty"` // 4 if left out
	// By is what counts first where the box can't serve all gears: fewest pieces if
	// left out, least_largest, least_sum or most_exact.
	By shim.By `json:"by,omitempty"`
	// GearStamp is a second stamp, on the gears themselves, in the same unit and
	// by the same sentence: both deviations count.
	GearStamp string `json:"gear_stamp,omitempty"`
	// Sure says that a deviation of more than a millimeter is meant.
	Sure bool `json:"sure,omitempty"`
}

// Gear is what one place gets.
type Gear struct {
	ID       string      `json:"id"`
	Name     string      `json:"name"`
	WantMM   float64     `json:"want_mm"`
	ChangeMM float64     `json:"change_mm"` // against the nominal shim
	Sentence string      `json:"sentence"`
	Formula  string      `json:"formula"`
	Stack    *shim.Stack `json:"stack,omitempty"`
	Text     string      `json:"text"` // of the stack
}

// Answer is the stacks, and what has to be asked first.
type Answer struct {
	Gears    []Gear   `json:"gears"`
	Asks     []string `json:"asks"`
	Box      []Size   `json:"box"`
	Sentence string   `json:"sentence"`
	Notes    []string `json:"notes"`
	Cautions []string `json:"cautions"`
}

// Size is a size of the box as it was read, and how many stay in it.
type Size struct {
	MM    float64 `json:"mm"`
	Count int     `json:"count"`
	Left  int     `json:"left"`
}

var cautions = []string{
	"Propeller off, key out, lanyard off: nobody near it while the shafts are turned.",
	"Turn the driveshaft only the engine's way while the pump is in: run backward, the impeller breaks its vanes.",
	"Never mix the shims of two places; the sum and the place of each are written down as they come out.",
	"The manual of this gearcase decides unit, sign and limits. Some gap is needed for oil and heat: zero backlash destroys gears.",
}

// Work finds the stacks. Faults are fault.Errors with paths within the request.
func Work(q Request) (*Answer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	if err := q.check(); err != nil {
		return nil, err
	}
	marks, asks, err := ParseStamp(q.Stamp, q.Places)
	if err != nil {
		return nil, err
	}
	if strings.TrimSpace(q.GearStamp) != "" {
		gears, more, err := ParseStamp(q.GearStamp, q.Places)
		if err != nil {
			if f, ok := errors.AsType[*fault.Error](err); ok {
				return nil, fault.New("gear_stamp", "%s", f.Message)
			}
			return nil, err
		}
		for _, ask := range more {
			if !strings.Contains(ask, "says nothing of") { // a gear without a mark is as drawn
				asks = append(asks, "On the gears: "+ask)
			}
		}
		for i := range marks {
			if k := slices.IndexFunc(gears, func(m Mark) bool { return m.ID == marks[i].ID }); k >= 0 {
				marks[i].Value += gears[k].Value
			}
		}
	}
	box := q.Shims
	if q.Box != "" {
		more, err := shim.ParseBox(q.Box, typed.Millimeters)
		if err != nil {
			return nil, err
		}
		box = append(slices.Clone(box), more...)
	}
	a := &Answer{Gears: []Gear{}, Asks: asks, Box: []Size{}, Notes: []string{}, Cautions: cautions}
	if a.Asks == nil {
		a.Asks = []string{}
	}
	var targets []shim.Target
	for _, p := range q.Places {
		k := slices.IndexFunc(marks, func(m Mark) bool { return m.ID == p.ID })
		if k < 0 {
			continue
		}
		g := q.gear(p, marks[k].Value)
		if math.Abs(g.ChangeMM) > 1 && !q.Sure {
			a.Asks = append(a.Asks, tooMuch(p, marks, k, g))
			continue
		}
		if g.WantMM < 0 {
			a.Asks = append(a.Asks, fmt.Sprintf("%s would need a shim of %s mm, less than nothing: check nominal shim, unit "+
				"and what a plus says.", p.ID, say.Trim(g.WantMM, 2)))
			continue
		}
		a.Gears = append(a.Gears, g)
		targets = append(targets, shim.Target{WantMM: g.WantMM, TolMM: p.TolMM})
	}
	if len(box) > 0 && len(targets) > 0 {
		if err := a.stacks(box, targets, q.Most, q.By); err != nil {
			return nil, err
		}
	}
	a.say(len(q.Places), len(box) > 0)
	return a, nil
}

// check refuses what can't be, and puts in what is usual where nothing was said.
func (q *Request) check() error {
	var errs fault.Errors
	if len(q.Places) == 0 || len(q.Places) > shim.MaxPlaces {
		errs.Add("places", "from 1 to %d places", shim.MaxPlaces)
		return errs
	}
	seen := map[string]bool{}
	for i := range q.Places {
		p := &q.Places[i]
		at := fmt.Sprintf("places/%d/", i)
		p.ID = strings.ToUpper(strings.TrimSpace(p.ID))
		if len(p.ID) != 1 || p.ID[0] < 'A' || p.ID[0] > 'Z' || seen[p.ID] {
			errs.Add(at+"id", "a letter of its own, as the stamp has it: P, F or R")
		}
		seen[p.ID] = true
		if !(p.NominalMM >= 0 && p.NominalMM <= 10) {
			errs.Add(at+"nominal_mm", "the manual's nominal shim, from 0 to 10 mm")
		}
		if p.Thicker != "away" && p.Thicker != "toward" {
			errs.Add(at+"thicker", "which way a thicker shim moves this gear: away from its mesh or toward it; the manual's drawing tells")
		}
		if p.TolMM == 0 {
			p.TolMM = 0.02
		}
		if !(p.TolMM > 0 && p.TolMM <= 0.5) {
			errs.Add(at+"tol_mm", "above 0, up to 0.5 mm")
		}
	}
	if q.Most == 0 {
		q.Most = 4
	}
	if q.Unit != Hundredths && q.Unit != Thousandths {
		errs.Add("unit", "%s or %s: the manual says which", Hundredths, Thousandths)
	}
	if !slices.Contains([]string{PlusThicker, PlusThinner, PlusFar, PlusNear}, q.Convention) {
		errs.Add("convention", "what a plus says on this case: the manual decides; plus_thicker, plus_thinner, plus_far or plus_near")
	}
	if len(errs) > 0 {
		return errs
	}
	return nil
}

// gear turns a stamp into a shim, and says it so that a wrong sign shows.
func (q *Request) gear(p Place, value int) Gear {
	mm := float64(value) / 100
	if q.Unit == Thousandths {
		mm = float64(value) * 0.0254
	}
	thicker := 0.0 // what is added to the shim
	switch q.Convention {
	case PlusThicker:
		thicker = mm
	case PlusThinner:
		thicker = -mm
	case PlusFar: // too far away: bring it nearer
		thicker = mm
		if p.Thicker == "away" {
			thicker = -mm
		}
	case PlusNear:
		thicker = mm
		if p.Thicker == "toward" {
			thicker = -mm
		}
	}
	g := Gear{ID: p.ID, Name: p.Name, ChangeMM: say.Round(thicker, 4), WantMM: say.Round(p.NominalMM+thicker, 4)}
	name := say.Small(p.Name)
	if name == "" {
		name = "gear " + p.ID
	}
	if thicker == 0 {
		g.Sentence = asDrawn(name, p)
	} else {
		// Where it would sit with the nominal shim, read off what cures it.
		near := (thicker > 0) == (p.Thicker == "away")
		where, way := "too far from its mesh", "toward it"
		if near {
			where = "too near its mesh"
		}
		if p.Thicker == "away" {
			way = "away from it"
		}
		size := "thicker"
		if thicker < 0 {
			size = "thinner"
		}
		g.Sentence = fmt.Sprintf("With the nominal shim the %s would sit %s mm %s; a thicker shim here moves it %s, so the shim gets %s mm %s: %s mm.",
			name, say.Trim(math.Abs(thicker), 3), where, way, say.Trim(math.Abs(thicker), 3), size, say.Trim(g.WantMM, 3))
	}
	sign := "+"
	if thicker < 0 {
		sign = "−"
	}
	g.Formula = fmt.Sprintf("shim = nominal %s deviation = %s %s %s mm = %s mm", sign, say.Trim(p.NominalMM, 3), sign, say.Trim(math.Abs(thicker), 4), say.Trim(g.WantMM, 4))
	return g
}

// stacks solves all places together, since one box serves them.
func (a *Answer) stacks(box []shim.Shim, targets []shim.Target, most int, by shim.By) error {
	list, err := shim.ChooseBy(box, targets, most, by)
	if err != nil {
		return err
	}
	left := map[shim.Micron]int{}
	var order []shim.Micron
	for _, b := range box {
		u := shim.Of(b.MM)
		if _, ok := left[u]; !ok {
			order = append(order, u)
		}
		left[u] += b.Count
	}
	had := map[shim.Micron]int{}
	for u, n := range left {
		had[u] = n
	}
	for i := range a.Gears {
		g, s := &a.Gears[i], list[i]
		g.Stack = &s
		var words []string
		for _, z := range s.Pieces {
			left[shim.Of(z)]--
			words = append(words, say.Trim(z, 4))
		}
		g.Text = "no shim at all"
		if len(words) > 0 {
			g.Text = strings.Join(words, " + ") + piecesSum(s)
		}
		switch {
		case s.ErrorMM == 0:
			g.Text += ", exact"
		case s.Within:
			g.Text += stackOff(s, targets, i)
		default:
			g.Text += stackOutside(most, s, targets, i)
		}
	}
	for _, u := range order {
		a.Box = append(a.Box, Size{MM: u.MM(), Count: had[u], Left: left[u]})
	}
	return nil
}
