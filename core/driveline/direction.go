package driveline

import (
	"maps"

	"zorvel/core/driveline/network"
)

// sensesOf says which way the engine, turning its own way, would turn each
// shaft in the present gear with every wheel in the air and both sides of every
// differential going alike: 1, −1, or 0 where it doesn't reach. What the road
// does to a driveline that fights itself leaves these untouched.
func (m *machine) sensesOf() map[string]int {
	if m.senses != nil {
		return m.senses
	}
	s := State{Select: maps.Clone(m.state.Select), Wheels: map[string]string{}, Broken: m.state.Broken}
	for i := range m.doc.Parts {
		if p := &m.doc.Parts[i]; p.Kind == "wheel" {
			s.Wheels[p.ID] = lifted
		}
	}
	m.senses = map[string]int{}
	up := build(m.doc, &s)
	if c, err := network.Compile(up.net); err == nil {
		motion := c.Solve(up.prefer)
		for i, name := range c.Names() {
			m.senses[name] = motion.Drawn[i].Sign()
		}
	}
	return m.senses
}

// ahead and side say how a bevel set lies once its mounting is counted in.
// Rolled about its length, what was left is right; turned end for end, left
// is right and ahead is behind.
func (m *machine) ahead(p *Part) string {
	ahead := p.Axle.PinionAt == "ahead"
	if p.Mounting == "end_for_end" {
		ahead = !ahead
	}
	if ahead {
		return "ahead"
	}
	return "behind"
}

func (m *machine) side(p *Part) string {
	left := p.Axle.RingSide == "left"
	if p.Mounting == "turned_over" || p.Mounting == "end_for_end" {
		left = !left
	}
	if left {
		return "left"
	}
	return "right"
}

// bevelSense: with the pinion ahead of the axle a ring on its left turns an
// engine's direction into rolling forward; with the pinion behind, a ring on
// its right. (At the contact both surfaces move the same way: ω × r on both
// sides; docs/driveline.md works it through.)
func (m *machine) bevelSense(p *Part) network.Sense {
	if (m.ahead(p) == "ahead") == (m.side(p) == "left") {
		return network.Same
	}
	return network.Opposite
}

// turning says in words which way a shaft turns; sign is that of its speed.
func turning(a Axis, sign int, wheel bool) string {
	if sign == 0 {
		return "stands still"
	}
	switch a {
	case Crosswise:
		if sign > 0 {
			return "rolls forward"
		}
		return "rolls backward"
	case Upright:
		if sign > 0 {
			return "clockwise seen from above"
		}
		return "counterclockwise seen from above"
	}
	if wheel {
		// Propellers are named from behind.
		if sign > 0 {
			return "counterclockwise seen from behind"
		}
		return "clockwise seen from behind"
	}
	if sign > 0 {
		return "clockwise seen from the front"
	}
	return "counterclockwise seen from the front"
}
