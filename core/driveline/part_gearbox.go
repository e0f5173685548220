package driveline

import (
	"fmt"
	"slices"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Gearbox is a set of selectable gears.
type Gearbox struct {
	plain
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

func (g *Gearbox) check(_ *Part, at string, errs *fault.Errors) {
	oneOf(errs, at+"arrangement", &g.Arrangement, "ratios", "countershaft", "two_shaft")
	if len(g.Gears) == 0 || len(g.Gears) > MaxGears {
		errs.Add(at+"gears", "a gearbox has 1 to 40 gears")
	}
	if g.Arrangement == "countershaft" {
		pair(errs, at, "input", "counter", g.Input, g.Counter)
	}
	names := map[string]bool{"N": true}
	for i := range g.Gears {
		x := &g.Gears[i]
		here := fmt.Sprintf("%sgears/%d/", at, i)
		switch {
		case x.Name == "" || len(x.Name) > 10:
			errs.Add(here+"name", "1 to 10 characters, for example 1, 4 or R")
		case x.Name == "N":
			errs.Add(here+"name", "N is neutral and always there")
		case names[x.Name]:
			errs.Add(here+"name", "there is a gear %q already", x.Name)
		}
		names[x.Name] = true
		oneOf(errs, here+"selector", &x.Selector, "synchro", "dog", "sliding")
		ratioRange(errs, here+"ratio", x.Ratio, true)
		pair(errs, here, "drive", "driven", x.Drive, x.Driven)
		if x.Idler != 0 {
			teeth(errs, here+"idler", x.Idler, true)
		}
	}
}

func (g *Gearbox) ratios() []string {
	var out []string
	for _, x := range g.Gears {
		out = append(out, x.Name)
	}
	return out
}

func (g *Gearbox) known(ratio string) bool {
	for _, x := range g.Gears {
		if x.Name == ratio {
			_, ok := g.gearRatio(x)
			return ok
		}
	}
	return false
}

func (g *Gearbox) asks() []measure {
	var out []measure
	for _, x := range g.Gears {
		out = append(out, measure{ratio: x.Name, words: GearWords(x.Name), kind: "gearbox", position: x.Name})
	}
	return out
}

// take puts a measured gear into a list of ratios. A gearbox that is drawn
// with all its teeth keeps them: one measured ratio can't say which pair is
// another.
func (g *Gearbox) take(p *Part, name string, m Measured) {
	if g.Arrangement != "ratios" {
		return
	}
	c := *g
	c.Gears = append([]Gear(nil), g.Gears...)
	for i := range c.Gears {
		if c.Gears[i].Name != name {
			continue
		}
		r := m.Ratio.Abs()
		if c.Gears[i].reverse() {
			r = r.Neg()
		}
		c.Gears[i].Ratio = exact.Figure{Number: r}
		c.Gears[i].Direct = c.Gears[i].Direct && r.Equal(one)
	}
	p.Gearbox = &c
}

func (g *Gearbox) blank(p *Part) {
	c := Gearbox{Arrangement: "ratios"}
	for _, x := range g.Gears {
		c.Gears = append(c.Gears, Gear{Name: x.Name, Direct: x.Direct, Selector: x.Selector})
	}
	p.Gearbox = &c
}

func (g *Gearbox) expand(m *Machine, p *Part, in string, axis Axis, whole bool) {
	var options []SelectorOption
	for _, x := range g.Gears {
		options = append(options, SelectorOption{Value: x.Name, Words: GearWords(x.Name), Backward: x.reverse()})
	}
	options = append(options, SelectorOption{Value: "N", Words: "neutral", Neutral: true})
	v := m.choose(p, RoleGear, "", p.Called(), options...)
	counter := ""
	if g.Arrangement == "countershaft" {
		counter = m.add(p, "counter", "countershaft", axis)
		m.gears(p, "constant", "constant", in, counter, g.Input, g.Counter, exact.Number{}, network.External,
			pairWords("countershaft gear", g.Counter, "input gear", g.Input, "always in mesh"))
	}
	out := m.add(p, "out", Of(p, "output shaft"), axis)
	m.Outs[p.ID] = out
	for _, x := range g.Gears {
		on := v == x.Name && whole
		words := GearWords(x.Name)
		switch {
		case x.Direct || (g.Arrangement == "ratios" && x.Ratio.Equal(one)):
			m.couple(p, network.Coupling, "direct", in, out, on, "direct: input locked to output, no torque through gear teeth")
		case g.Arrangement == "ratios":
			if on {
				m.gears(p, "gear "+x.Name, x.Name, in, out, 0, 0, x.Ratio.Number, network.Internal, words)
			}
		default:
			m.selectable(p, x, in, counter, out, axis, on, words)
		}
	}
}

func (g *Gearbox) traits() Traits {
	return Traits{Axis: Lengthwise, OtherGears: true, OutputSpline: true, Bearings: []string{"counter"}, PumpedByInput: true,
		Speedometer: "out", ForSpeedo: 1, TakeOffs: [][2]string{{"out", ", output shaft"}}}
}

func (g *Gearbox) has(*Part) []Feature {
	return []Feature{Box, Cased, OutputSeals, Splined, DogsInside, KeyedGears}
}

// gearRatio is a gear's ratio without its sign.
func (g *Gearbox) gearRatio(x Gear) (exact.Number, bool) {
	if x.Direct {
		return one, true
	}
	if g.Arrangement == "ratios" {
		return x.Ratio.Abs(), !x.Ratio.IsZero()
	}
	r, ok := teethRatio(x.Drive, x.Driven, exact.Number{})
	if !ok || g.Arrangement == "two_shaft" {
		return r, ok
	}
	c, ok := teethRatio(g.Input, g.Counter, exact.Number{})
	return r.Mul(c), ok
}

// reverse reports whether a gear is meant to drive backward.
func (x Gear) reverse() bool {
	return x.Idler > 0 || x.Ratio.Sign() < 0 || strings.HasPrefix(strings.ToUpper(x.Name), "R")
}

// GearRatio is the unsigned ratio of a gearbox's gear by name.
func (p *Part) GearRatio(name string) (exact.Number, bool) {
	if p.Gearbox == nil {
		return one, false
	}
	for _, g := range p.Gearbox.Gears {
		if g.Name == name {
			return p.Gearbox.gearRatio(g)
		}
	}
	return one, false
}

func (g *Gearbox) passes(at func(string) string) Passed {
	for _, x := range g.Gears {
		if x.Name == at("") {
			r, known := g.gearRatio(x)
			return Passed{Ratio: r, Known: known}
		}
	}
	return Passed{Ratio: one, Known: true, Open: true}
}

func (g *Gearbox) speeds() Speeds {
	out := Speeds{Shaft: "out", Always: true}
	for _, x := range g.Gears {
		if r, ok := g.gearRatio(x); ok && !x.reverse() {
			out.List = append(out.List, Speed{x.Name, x.Selector, r})
		}
	}
	return out
}

func (g *Gearbox) adopt(p *Part, f Former) bool {
	if f.Kind != "gearbox" {
		return false
	}
	g.Arrangement, g.Gears, p.Name = "ratios", []Gear{{Name: f.Position}}, "Gearbox"
	if f.Position == "" {
		g.Gears[0].Name = "1"
	}
	return true
}

// join adds a gear that the gearbox doesn't have.
func (g *Gearbox) join(p *Part, f Former) (string, bool) {
	if f.Kind != "gearbox" || f.Position == "" || fits(p, f) != "" || len(g.Gears) >= MaxGears {
		return "", false
	}
	c := *g
	c.Gears = append(slices.Clone(g.Gears), Gear{Name: f.Position, Selector: "synchro"})
	p.Gearbox = &c
	return f.Position, true
}

func (g *Gearbox) remarks(r *Solved, p *Part, add adder) {
	s := r.Machine.Selector(p.ID)
	if s == nil {
		return
	}
	if s.Value == "N" && g.Arrangement != "ratios" {
		add("fact", p, "Neutral in the %s: gears that are always in mesh turn with the input all the same; only no dog "+
			"is engaged.", say.Small(p.Called()))
	}
	for _, x := range g.Gears {
		if x.Name != s.Value {
			continue
		}
		switch ratio, known := g.gearRatio(x); {
		case x.Direct:
			add("fact", p, "%s is direct: input and output are locked together and no torque goes through gear teeth.",
				say.Capital(GearWords(x.Name)))
		case known && ratio.Equal(one) && g.Arrangement == "two_shaft":
			add("fact", p, "%s is 1:1, yet not direct: its torque goes through a gear pair.", say.Capital(GearWords(x.Name)))
		}
		if x.Idler > 0 {
			add("fact", p, "The reverse idler changes the direction, not the ratio.")
		}
	}
}

// trials: one forward gear, reverse and neutral are enough for a sheet.
func (g *Gearbox) trials(s *Stands, p *Part) []Trial {
	return s.turnThrough(p, turnWords, turnTells, func(i int, o SelectorOption) bool { return i == 0 || o.Value == "R" || o.Neutral })
}

func (g *Gearbox) wear(d *Document, p *Part) []Wear {
	name := say.Small(p.Called())
	var out []Wear
	if slices.ContainsFunc(g.Gears, func(x Gear) bool { return x.Selector == "" || x.Selector == "synchro" }) {
		out = append(out, Wear{"synchro", "worn synchronizer in the " + name})
	}
	out = append(out, Wear{"box_bearing", "worn " + name + " bearings"}, Wear{"fork", "worn " + name + " fork or detent"},
		Wear{"linkage", name + " lever, cable or linkage out of adjustment"},
		Wear{"output_seal", "leaking " + name + " output seal"}, Wear{"oil", "too little oil in the " + name})
	if d.Lies == Vehicle {
		out = append(out, Wear{"mount", "torn engine or gearbox mount"})
	}
	out = append(out, Wear{"mesh_wear", "worn " + name + " gears"})
	for i := range d.Parts {
		if next := &d.Parts[i]; next.From == p.ID && !next.Traits().Ahead {
			return append(out, Wear{"spline_wear", "worn spline between the " + name + " and the " + say.Small(next.Called())})
		}
	}
	return out
}
