package driveline

import (
	"zorvel/core/driveline/network"
	"zorvel/core/say"
)

// bareShaft is a shaft with joints: nothing is known of it but that it passes
// on what it gets.
type bareShaft struct{ plain }

func (bareShaft) expand(m *Machine, p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "shaft", say.Small(p.Called()), axis)
	m.couple(p, network.Coupling, "joint", in, out, whole, say.Small(p.Called()))
	m.Outs[p.ID] = out
}

func (bareShaft) traits() Traits {
	return Traits{Axis: Lengthwise, Reach: InTheOpen, TakeOffs: [][2]string{{"shaft", ""}}}
}

func (bareShaft) has(*Part) []Feature { return []Feature{DriveShaft, Splined} }

func (bareShaft) wear(d *Document, p *Part) []Wear {
	name := say.Small(p.Called())
	var out []Wear
	if d.Lies == Vehicle {
		out = append(out, Wear{"joint", "worn " + name + " joints"}, Wear{"balance", "the " + name + " out of balance or phase"})
	}
	return append(out, Wear{"spline_wear", "worn " + name + " slip spline"})
}
