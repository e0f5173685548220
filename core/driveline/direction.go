package driveline

import (
	"maps"

	"zorvel/core/driveline/network"
)

// Senses says which way the engine, turning its own way, would turn each
// shaft in the present gear with every wheel in the air and both sides of every
// differential going alike: 1, −1, or 0 where it doesn't reach. What the road
// does to a driveline that fights itself leaves these untouched.
func (m *Machine) Senses() map[string]int {
	if m.senses != nil {
		return m.senses
	}
	s := State{Select: maps.Clone(m.State.Select), Wheels: m.Doc.LiftAll(), Broken: m.State.Broken}
	m.senses = map[string]int{}
	up := Build(m.Doc, &s)
	if c, err := network.Compile(up.Net); err == nil {
		motion := c.Solve(up.Prefer)
		for i, name := range c.Names() {
			m.senses[name] = motion.Drawn[i].Sign()
		}
	}
	return m.senses
}

// Turning says in words which way a shaft turns; sign is that of its speed.
func Turning(a Axis, sign int, behind bool) string {
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
	if behind {
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
