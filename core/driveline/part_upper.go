package driveline

import (
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Upper is a marine upper bevel set: lengthwise shaft to upright shaft.
type Upper struct {
	plain
	Pinion int          `json:"pinion,omitempty"`
	Gear   int          `json:"gear,omitempty"`
	Ratio  exact.Figure `json:"ratio,omitzero"`
	Shift  bool         `json:"shift,omitempty"` // forward, neutral and reverse are chosen here
	// Above: its gear (of two, the forward one) sits above the pinion, which
	// turns the upright shaft the other way.
	Above bool `json:"gear_above,omitempty"`
}

func (u *Upper) check(_ *Part, at string, errs *fault.Errors) {
	pair(errs, at, "pinion", "gear", u.Pinion, u.Gear)
	ratioRange(errs, at+"ratio", u.Ratio, false)
}

func (u *Upper) ratios() []string { return []string{"ratio"} }

func (u *Upper) known(string) bool {
	_, ok := teethRatio(u.Pinion, u.Gear, u.Ratio.Number)
	return ok
}

func (u *Upper) asks() []measure { return []measure{{ratio: "ratio", kind: "gear_pair"}} }

func (u *Upper) take(p *Part, _ string, m Measured) {
	c := *u
	c.Pinion, c.Gear = m.Teeth["drive"], m.Teeth["driven"]
	p.Upper = &c
}

func (u *Upper) blank(p *Part) { p.Upper = &Upper{Shift: u.Shift, Above: u.Above} }

func (u *Upper) expand(m *Machine, p *Part, in string, _ Axis, whole bool) {
	out := m.add(p, "out", "upright shaft below the "+say.Small(p.Called()), Upright)
	m.Outs[p.ID] = out
	// Seen from above, the upright shaft of an upper set is turned the way a
	// crankshaft would turn it: clockwise ahead.
	// Turned over, or turned end for end under the same shaft, it goes the
	// other way around.
	sense := network.Same
	if (p.Mounting == "turned_over" || p.Mounting == "end_for_end") != u.Above {
		sense = network.Opposite
	}
	m.marineGears(p, in, out, u.Pinion, u.Gear, u.Ratio.Number, u.Shift, whole, Upright, sense, "upper gear")
}

func (u *Upper) has(*Part) []Feature { return []Feature{Splined} }

func (u *Upper) passes(at func(string) string) Passed {
	r, known := teethRatio(u.Pinion, u.Gear, u.Ratio.Number)
	return Passed{Ratio: r, Known: known, Open: at("") == "neutral"}
}

func (u *Upper) trials(s *Stands, p *Part) []Trial {
	return s.turnThrough(p, turnWords+impellerWords, gearcaseTells, everyOption)
}

func (u *Upper) wear(_ *Document, p *Part) []Wear { return gearsAndSplines(p) }
