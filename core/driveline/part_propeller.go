package driveline

import (
	"zorvel/core/driveline/network"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Propeller takes the power into the water.
type Propeller struct {
	plain
	PitchIN float64 `json:"pitch_in,omitempty"`
	Hand    string  `json:"hand,omitempty"` // right or left
}

func (s *Propeller) check(_ *Part, at string, errs *fault.Errors) {
	oneOf(errs, at+"hand", &s.Hand, "right", "left")
	if s.PitchIN < 0 || s.PitchIN > 200 {
		errs.Add(at+"pitch_in", "from 0 to 200 inches")
	}
}

func (s *Propeller) ports() []string { return nil }

func (s *Propeller) blank(p *Part) { p.Propeller = &Propeller{Hand: s.Hand} }

func (s *Propeller) expand(m *machine, p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "prop", say.Small(p.name()), axis)
	m.couple(p, network.Coupling, "hub", in, out, whole, "propeller hub")
	m.element(p, network.Element{ID: p.ID + ".water", Kind: network.Load, Shaft: out}, joint{words: "water"})
	m.ends = append(m.ends, end{out, p, "propeller", p.name()})
}
