// Package network solves rotating shafts joined by gears, clutches and the
// road, in exact rational arithmetic.
//
// Each element is one linear equation on the speeds of the shafts that it
// joins (Müller, Epicyclic Drive Trains; Dudley, Handbook of Practical Gear
// Design). Torques are the dual of the same equations: in virtual work an
// element's equation, times one unknown, is what it does to every shaft it
// touches. So speeds and torques can't drift apart.
//
// Every shaft has a sense that counts as positive; a mesh says whether its two
// shafts turn in the same sense or in opposite ones.
package network

import (
	"slices"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

// Limits of one network.
const (
	MaxShafts   = 1000
	MaxElements = 2000
	MaxTeeth    = 100000
	// MaxAsked bounds the shafts of a network that is asked about by itself:
	// along a chain its exact speeds grow by every gear's digits.
	MaxAsked = 250
)

// Kind is what an element does to its shafts.
type Kind string

// The kinds of element.
const (
	// Mesh: teeth_a·ω_a = ±teeth_b·ω_b, or ω_a = ±ratio·ω_b.
	Mesh Kind = "mesh"
	// Planetary: z_s·ω_s + z_r·ω_r = (z_s + z_r)·ω_c with single planets,
	// z_s·ω_s − z_r·ω_r = (z_s − z_r)·ω_c with paired planets (Willis).
	Planetary Kind = "planetary"
	// Differential: ω_left + ω_right = 2·ω_carrier.
	Differential Kind = "differential"
	// Coupling: ω_a = ω_b while engaged, nothing while open.
	Coupling Kind = "coupling"
	// Lock is a coupling that ties two members of a differential together.
	Lock Kind = "lock"
	// Fluid passes the torque on unchanged and slips: ω_b = (1 − slip)·ω_a.
	Fluid Kind = "fluid"
	// Holder: ω = 0; a hand, a brake or the housing.
	Holder Kind = "holder"
	// Drive: ω = speed.
	Drive Kind = "drive"
	// Road: travel·ω = factor·v, where v is the speed of the ground.
	Road Kind = "road"
	// Load takes torque out at a shaft whose speed it leaves alone: a
	// propeller in water, a flange under load.
	Load Kind = "load"
)

// Sense says how the two shafts of a mesh turn.
type Sense string

// Senses of a mesh. External spur and helical meshes turn their shafts
// opposite ways; internal meshes, chains and belts the same way. For a bevel
// mesh it depends on the side that the gear sits on: say same or opposite.
const (
	External Sense = "external"
	Internal Sense = "internal"
	Chain    Sense = "chain"
	Same     Sense = "same"
	Opposite Sense = "opposite"
)

// Element joins shafts, which it names by their IDs. Only the fields of its
// kind are used.
type Element struct {
	ID   string `json:"id"`
	Kind Kind   `json:"kind"`

	A string `json:"a,omitempty"` // mesh, coupling, lock, fluid
	B string `json:"b,omitempty"`

	TeethA int          `json:"teeth_a,omitempty"`
	TeethB int          `json:"teeth_b,omitempty"`
	Ratio  exact.Number `json:"ratio,omitzero"` // turns of a per turn of b, instead of teeth
	Sense  Sense        `json:"sense,omitempty"`

	Sun       string `json:"sun,omitempty"` // planetary
	Ring      string `json:"ring,omitempty"`
	Carrier   string `json:"carrier,omitempty"` // planetary and differential
	TeethSun  int    `json:"teeth_sun,omitempty"`
	TeethRing int    `json:"teeth_ring,omitempty"`
	Paired    bool   `json:"paired,omitempty"`

	Left  string `json:"left,omitempty"` // differential
	Right string `json:"right,omitempty"`

	Shaft  string       `json:"shaft,omitempty"`  // holder, drive, road, load
	Speed  exact.Number `json:"speed,omitzero"`   // drive
	Ground string       `json:"ground,omitempty"` // road; "road" if empty
	Travel exact.Number `json:"travel,omitzero"`  // road: meters per turn
	Factor exact.Number `json:"factor,omitzero"`  // road: path of this wheel per path of the ground; 0 counts as 1
	Slip   exact.Number `json:"slip,omitzero"`    // fluid: part of the speed that is lost

	Open bool `json:"open,omitempty"` // coupling, lock: not engaged, or broken
	// Efficiency is the part of the power that comes through, typical; 0
	// counts as 1. It changes torques only where they are asked with losses.
	Efficiency exact.Number `json:"efficiency,omitzero"`
}

// Network is shafts and what joins them.
type Network struct {
	Shafts   []string  `json:"shafts"`
	Elements []Element `json:"elements"`
}

// term is one coefficient of an equation; col is a shaft.
type term struct {
	col int
	c   exact.Number
}

// row is one equation Σ c·ω = rhs with the coefficients of its torques.
type row struct {
	element int
	speed   []term // sorted by column
	torque  []term
	rhs     exact.Number
}

// Compiled is a network that was checked and written as equations.
type Compiled struct {
	net    Network
	index  map[string]int
	names  []string
	rows   []row
	loads  []int // shafts that torque may leave at
	driven int   // row of the first drive, -1 without
}

var one = exact.Int(1)

// Compile checks the network. It returns fault.Errors with paths such as
// "elements/3/teeth_a".
func Compile(n Network) (*Compiled, error) {
	var errs fault.Errors
	if len(n.Shafts) > MaxShafts {
		errs.Add("shafts", "at most %d shafts", MaxShafts)
	}
	if len(n.Elements) > MaxElements {
		errs.Add("elements", "at most %d elements", MaxElements)
	}
	if errs != nil {
		return nil, errs
	}
	c := &Compiled{net: n, index: make(map[string]int, len(n.Shafts)+1), driven: -1}
	for i, s := range n.Shafts {
		if s == "" {
			errs.Add(at("shafts", i, ""), "a shaft needs a name")
		} else if _, twice := c.index[s]; twice {
			errs.Add(at("shafts", i, ""), "there is a shaft %q already", s)
		}
		c.add(s)
	}
	ids := make(map[string]bool, len(n.Elements))
	grounds := map[int]bool{}
	for i, e := range n.Elements {
		if e.ID == "" {
			errs.Add(at("elements", i, "id"), "an element needs a name")
		} else if ids[e.ID] {
			errs.Add(at("elements", i, "id"), "there is an element %q already", e.ID)
		}
		ids[e.ID] = true
		if e.Kind == Road {
			name := e.Ground
			if name == "" {
				name = "road"
			}
			g, known := c.index[name]
			if !known {
				g = c.add(name)
			}
			if !grounds[g] {
				grounds[g] = true
				c.loads = append(c.loads, g)
			}
		}
		n := len(errs)
		r, active := c.equation(i, e, &errs)
		if len(errs) > n || !active {
			continue
		}
		if e.Kind == Load {
			c.loads = append(c.loads, c.index[e.Shaft])
			continue
		}
		if e.Kind == Drive && c.driven < 0 {
			c.driven = len(c.rows)
		}
		c.rows = append(c.rows, r)
	}
	if errs != nil {
		return nil, errs
	}
	return c, nil
}

// Change is the network with other elements in some places, and with more behind
// the last: the shafts, and the rows of all other elements, are taken over.
// Grounds stay as they are. It returns fault.Errors as Compile does.
func (c *Compiled) Change(elements []Element, places []int) (*Compiled, error) {
	if len(elements) < len(c.net.Elements) || len(elements) > MaxElements {
		return nil, fault.New("elements", "from the %d there were to %d elements", len(c.net.Elements), MaxElements)
	}
	out := &Compiled{net: Network{Shafts: c.net.Shafts, Elements: elements}, index: c.index, names: c.names, loads: c.loads, driven: -1}
	out.rows = make([]row, 0, len(c.rows)+len(elements)-len(c.net.Elements))
	var errs fault.Errors
	write := func(k int) {
		if r, active := out.equation(k, elements[k], &errs); active {
			out.rows = append(out.rows, r)
		}
	}
	places = slices.Sorted(slices.Values(places))
	for _, r := range c.rows {
		for len(places) > 0 && places[0] <= r.element {
			if places[0] < r.element {
				write(places[0])
				places = places[1:]
				continue
			}
			break
		}
		if len(places) > 0 && places[0] == r.element {
			write(r.element)
			places = places[1:]
			continue
		}
		out.rows = append(out.rows, r)
	}
	for _, k := range places {
		if k < len(c.net.Elements) {
			write(k)
		}
	}
	for k := len(c.net.Elements); k < len(elements); k++ {
		write(k)
	}
	if errs != nil {
		return nil, errs
	}
	for i, r := range out.rows {
		if elements[r.element].Kind == Drive {
			out.driven = i
			break
		}
	}
	return out, nil
}

func at(list string, i int, field string) string {
	s := list + "/" + itoa(i)
	if field != "" {
		s += "/" + field
	}
	return s
}

func itoa(i int) string { return exact.Int(int64(i)).String() }

func (c *Compiled) add(name string) int {
	c.index[name] = len(c.names)
	c.names = append(c.names, name)
	return len(c.names) - 1
}

// Shaft returns the place of a shaft in the results, or -1.
func (c *Compiled) Shaft(name string) int {
	if i, ok := c.index[name]; ok {
		return i
	}
	return -1
}

// Names lists the shafts in the order of the results; grounds that were only
// named by a road come last.
func (c *Compiled) Names() []string { return c.names }

// equation writes an element as a row. active is false where it does nothing.
func (c *Compiled) equation(i int, e Element, errs *fault.Errors) (r row, active bool) {
	w := writer{c: c, e: e, row: row{element: i}, errs: errs}
	switch e.Kind {
	case Mesh:
		w.mesh()
	case Planetary:
		w.planetary()
	case Differential:
		w.put(w.shaft("left", e.Left), one)
		w.put(w.shaft("right", e.Right), one)
		w.put(w.shaft("carrier", e.Carrier), exact.Int(-2))
	case Coupling, Lock:
		w.put(w.shaft("a", e.A), one)
		w.put(w.shaft("b", e.B), exact.Int(-1))
	case Fluid:
		w.fluid()
	case Holder:
		w.put(w.shaft("shaft", e.Shaft), one)
	case Drive:
		w.put(w.shaft("shaft", e.Shaft), one)
		w.row.rhs = e.Speed
	case Road:
		w.road()
	case Load:
		w.shaft("shaft", e.Shaft)
	default:
		w.refuse("kind", "%q is no kind of element: mesh, planetary, differential, coupling, lock, fluid, holder, drive, road or load", e.Kind)
	}
	if e.Efficiency.Sign() < 0 || e.Efficiency.Cmp(one) > 0 {
		w.refuse("efficiency", "an efficiency is above 0 and at most 1")
	}
	r = w.row
	sortTerms(r.speed)
	for k := 1; k < len(r.speed); k++ {
		if r.speed[k].col == r.speed[k-1].col {
			w.refuse("", "an element joins different shafts; %q is in it twice", c.names[r.speed[k].col])
			break
		}
	}
	if r.torque == nil {
		r.torque = r.speed
	}
	return r, !(e.Open && (e.Kind == Coupling || e.Kind == Lock))
}

// writer writes the row of one element.
type writer struct {
	c    *Compiled
	e    Element
	row  row
	errs *fault.Errors
}

func (w *writer) refuse(field, format string, args ...any) {
	w.errs.Add(at("elements", w.row.element, field), format, args...)
}

func (w *writer) shaft(field, name string) int {
	if k, ok := w.c.index[name]; ok && name != "" {
		return k
	}
	if name == "" {
		w.refuse(field, "name the shaft")
	} else {
		w.refuse(field, "there is no shaft %q", name)
	}
	return 0
}

func (w *writer) teeth(field string, n int) exact.Number {
	if n < 1 || n > MaxTeeth {
		w.refuse(field, "a gear has 1 to %d teeth", MaxTeeth)
		return one
	}
	return exact.Int(int64(n))
}

func (w *writer) put(col int, k exact.Number) { w.row.speed = append(w.row.speed, term{col, k}) }

func (w *writer) mesh() {
	e := w.e
	a, b := w.shaft("a", e.A), w.shaft("b", e.B)
	ka, kb := one, e.Ratio
	if kb.IsZero() {
		ka, kb = w.teeth("teeth_a", e.TeethA), w.teeth("teeth_b", e.TeethB)
	}
	switch e.Sense {
	case Internal, Chain, Same:
		kb = kb.Neg()
	case External, Opposite:
	case "":
		if e.Ratio.IsZero() {
			w.refuse("sense", "say external, internal or chain; for a bevel mesh same or opposite")
		}
		kb = kb.Neg()
	default:
		w.refuse("sense", "%q is no sense: external, internal, chain, same or opposite", e.Sense)
	}
	w.put(a, ka)
	w.put(b, kb)
}

func (w *writer) planetary() {
	e := w.e
	s, g, k := w.shaft("sun", e.Sun), w.shaft("ring", e.Ring), w.shaft("carrier", e.Carrier)
	zs, zr := w.teeth("teeth_sun", e.TeethSun), w.teeth("teeth_ring", e.TeethRing)
	if e.Paired {
		zr = zr.Neg()
	}
	sum := zs.Add(zr)
	if sum.IsZero() {
		w.refuse("teeth_ring", "with paired planets the ring needs more teeth than the sun")
	}
	w.put(s, zs)
	w.put(g, zr)
	w.put(k, sum.Neg())
}

func (w *writer) fluid() {
	e := w.e
	a, b := w.shaft("a", e.A), w.shaft("b", e.B)
	if e.Slip.Sign() < 0 || e.Slip.Cmp(one) >= 0 {
		w.refuse("slip", "slip is a part of the speed: from 0 to below 1")
	}
	w.put(a, one.Sub(e.Slip))
	w.put(b, exact.Int(-1))
	w.row.torque = []term{{a, one}, {b, exact.Int(-1)}}
}

func (w *writer) road() {
	e := w.e
	name := e.Ground
	if name == "" {
		name = "road"
	}
	f := e.Factor
	if f.IsZero() {
		f = one
	}
	if e.Travel.Sign() <= 0 {
		w.refuse("travel", "travel per turn is above zero")
	}
	w.put(w.shaft("shaft", e.Shaft), e.Travel)
	w.put(w.c.index[name], f.Neg())
}

func sortTerms(t []term) {
	for i := 1; i < len(t); i++ {
		for j := i; j > 0 && t[j].col < t[j-1].col; j-- {
			t[j], t[j-1] = t[j-1], t[j]
		}
	}
}
