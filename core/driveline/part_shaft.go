package driveline

import (
	"zorvel/core/driveline/network"
	"zorvel/core/say"
)

// bareShaft is a shaft with joints: nothing is known of it but that it passes
// on what it gets.
type bareShaft struct{ plain }

func (bareShaft) expand(m *machine, p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "shaft", say.Small(p.name()), axis)
	m.couple(p, network.Coupling, "joint", in, out, whole, say.Small(p.name()))
	m.outs[p.ID] = out
}
