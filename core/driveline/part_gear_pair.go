package driveline

import (
	"zorvel/core/exact"
	"zorvel/core/fault"
)

// GearPair is two gears or sprockets.
type GearPair struct {
	plain
	Drive  int          `json:"drive,omitempty"`
	Driven int          `json:"driven,omitempty"`
	Ratio  exact.Figure `json:"ratio,omitzero"`
	Mesh   string       `json:"mesh,omitempty"` // external (default), internal, chain
	Idlers int          `json:"idlers,omitempty"`
}

func (g *GearPair) check(_ *Part, at string, errs *fault.Errors) {
	pair(errs, at, "drive", "driven", g.Drive, g.Driven)
	ratioRange(errs, at+"ratio", g.Ratio, false)
	oneOf(errs, at+"mesh", &g.Mesh, "external", "internal", "chain")
	idlers(errs, at, g.Idlers)
}

func (g *GearPair) ratios() []string { return []string{"ratio"} }

func (g *GearPair) known(string) bool {
	_, ok := teethRatio(g.Drive, g.Driven, g.Ratio.Number)
	return ok
}

func (g *GearPair) asks() []measure {
	own := measure{ratio: "ratio", kind: "gear_pair", also: []string{"gear_pair", "chain_pair"}}
	if g.Mesh == "chain" {
		own.kind = "chain_pair"
	}
	return []measure{own}
}

func (g *GearPair) take(p *Part, _ string, m Measured) {
	c := *g
	c.Drive, c.Driven, c.Ratio = m.Teeth["drive"], m.Teeth["driven"], exact.Figure{}
	p.GearPair = &c
}

func (g *GearPair) blank(p *Part) { p.GearPair = &GearPair{Mesh: g.Mesh, Idlers: g.Idlers} }

func (g *GearPair) expand(m *Machine, p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "out", Of(p, "output"), axis)
	if whole {
		sense, how := meshSense(g.Mesh, g.Idlers)
		m.gears(p, "mesh", "ratio", in, out, g.Drive, g.Driven, g.Ratio.Number, sense, pairWords("driven gear", g.Driven, "drive gear", g.Drive, how))
	}
	m.Outs[p.ID] = out
}

func (g *GearPair) traits() Traits {
	return Traits{Axis: Lengthwise, OtherGears: true, TakeOffs: [][2]string{{"out", ", output shaft"}}}
}

func (g *GearPair) has(*Part) []Feature {
	out := []Feature{Geared, Splined, StraightTeeth}
	if g.Mesh == "chain" {
		out = append(out, Chained)
	}
	return out
}

func (g *GearPair) passes(func(string) string) Passed {
	r, known := teethRatio(g.Drive, g.Driven, g.Ratio.Number)
	return Passed{Ratio: r, Known: known}
}

func (g *GearPair) adopt(_ *Part, f Former) bool {
	if f.Kind == "chain_pair" {
		g.Mesh = "chain"
		return true
	}
	return f.Kind == "gear_pair"
}

func (g *GearPair) wear(_ *Document, p *Part) []Wear { return gearsAndSplines(p) }
