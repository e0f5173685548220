package driveline

import (
	"fmt"

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
		words := "gear " + x.Name
		if x.Name == "R" {
			words = "reverse"
		}
		out = append(out, measure{ratio: x.Name, words: words, kind: "gearbox", position: x.Name})
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

func (g *Gearbox) expand(m *machine, p *Part, in string, axis Axis, whole bool) {
	var options []SelectorOption
	for _, x := range g.Gears {
		options = append(options, SelectorOption{Value: x.Name, Words: gearWords(x.Name)})
	}
	options = append(options, SelectorOption{Value: "N", Words: "neutral"})
	v := m.choose(p, "", p.name(), options...)
	counter := ""
	if g.Arrangement == "countershaft" {
		counter = m.add(p, "counter", "countershaft", axis)
		m.gears(p, "constant", "constant", in, counter, g.Input, g.Counter, exact.Number{}, network.External,
			pairWords("countershaft gear", g.Counter, "input gear", g.Input, "always in mesh"))
	}
	out := m.add(p, "out", "output shaft of the "+say.Small(p.name()), axis)
	m.outs[p.ID] = out
	for _, x := range g.Gears {
		on := v == x.Name && whole
		words := gearWords(x.Name)
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
