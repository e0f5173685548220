package driveline

import (
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
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
	if g.Mesh == "chain" {
		return []measure{{ratio: "ratio", kind: "chain_pair"}}
	}
	return []measure{{ratio: "ratio", kind: "gear_pair"}}
}

func (g *GearPair) take(p *Part, _ string, m Measured) {
	c := *g
	c.Drive, c.Driven, c.Ratio = m.Teeth["drive"], m.Teeth["driven"], exact.Figure{}
	p.GearPair = &c
}

func (g *GearPair) blank(p *Part) { p.GearPair = &GearPair{Mesh: g.Mesh, Idlers: g.Idlers} }

func (g *GearPair) expand(m *machine, p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "out", "output of the "+say.Small(p.name()), axis)
	if whole {
		sense, how := meshSense(g.Mesh, g.Idlers)
		m.gears(p, "mesh", "ratio", in, out, g.Drive, g.Driven, g.Ratio.Number, sense, pairWords("driven gear", g.Driven, "drive gear", g.Drive, how))
	}
	m.outs[p.ID] = out
}
