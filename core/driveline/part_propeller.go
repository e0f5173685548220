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

func (s *Propeller) expand(m *Machine, p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "prop", say.Small(p.Called()), axis)
	m.ByID[out].Behind = true
	m.couple(p, network.Coupling, "hub", in, out, whole, "propeller hub")
	m.Element(p, network.Element{ID: p.ID + ".water", Kind: network.Load, Shaft: out}, Joint{Words: "water"})
	m.Ends = append(m.Ends, End{out, p, EndPropeller, p.Called()})
}

func (s *Propeller) traits() Traits {
	return Traits{Axis: Lengthwise, End: EndPropeller, Reach: InTheOpen}
}

func (s *Propeller) has(*Part) []Feature { return []Feature{Blades, Splined} }

// remarks: a right-hand propeller drives ahead turning clockwise seen from
// behind, which is negative for a lengthwise shaft.
func (s *Propeller) remarks(r *Solved, p *Part, add adder) {
	sign := r.Sign(r.Net.Shaft(p.ID + ".prop"))
	if sign == 0 || !r.Machine.Powered() {
		return
	}
	if r.Machine.Reversing() {
		sign = -sign
	}
	hand := "right"
	if sign > 0 {
		hand = "left"
	}
	if s.Hand != hand {
		add("wrong", p, "The %s is %s-hand, but in forward this shaft turns the way that a %s-hand one needs: it would push astern.",
			say.Small(p.Called()), s.Hand, hand)
	}
}

func (s *Propeller) wear(_ *Document, p *Part) []Wear {
	name := say.Small(p.Called())
	return []Wear{{"prop_damage", "damaged " + name + " blades"}, {"spline_wear", "worn " + name + " spline"}}
}
