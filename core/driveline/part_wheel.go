package driveline

import (
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Wheel stands on the road.
type Wheel struct {
	plain
	At        string       `json:"at,omitempty"`   // front or rear
	Side      string       `json:"side,omitempty"` // left or right
	RollingMM exact.Figure `json:"rolling_mm,omitzero"`
	Tire      string       `json:"tire,omitempty"`
	AheadMM   float64      `json:"ahead_mm,omitempty"` // of the line that the vehicle turns about; front: the wheelbase
}

func (w *Wheel) check(_ *Part, at string, errs *fault.Errors) {
	oneOf(errs, at+"at", &w.At, "rear", "front")
	oneOf(errs, at+"side", &w.Side, "left", "right")
	if r := w.RollingMM; !r.IsZero() && (r.Cmp(exact.Int(200)) < 0 || r.Cmp(exact.Int(10000)) > 0) {
		errs.Add(at+"rolling_mm", "the rolling circumference is between 200 and 10,000 mm")
	}
	if w.AheadMM < -30000 || w.AheadMM > 30000 {
		errs.Add(at+"ahead_mm", "from -30,000 to 30,000 mm")
	}
}

func (w *Wheel) ports() []string { return nil }

func (w *Wheel) blank(p *Part) { p.Wheel = &Wheel{At: w.At, Side: w.Side, AheadMM: w.AheadMM} }

func (w *Wheel) expand(m *machine, p *Part, in string, _ Axis, whole bool) {
	out := m.add(p, "wheel", say.Small(p.name()), Crosswise)
	m.couple(p, network.Coupling, "half shaft", in, out, whole, "half shaft to the wheel")
	m.ends = append(m.ends, end{out, p, "wheel", p.name()})
	switch m.wheelState(p) {
	case held:
		m.element(p, network.Element{ID: p.ID + ".held", Kind: network.Holder, Shaft: out}, joint{words: "wheel held"})
	case onGround:
		m.element(p, network.Element{ID: p.ID + ".road", Kind: network.Road, Shaft: out, Travel: travel(p), Factor: m.factors[p.ID]}, joint{words: "tire on the road"})
	}
}

// travel is meters per turn; a tire that isn't known counts as 2 m, the same
// for all, so that what is exact about turns stays exact.
func travel(p *Part) exact.Number {
	if p.Wheel.RollingMM.IsZero() {
		return exact.Int(2)
	}
	return p.Wheel.RollingMM.Number.Div(exact.Int(1000))
}

func (m *machine) wheelState(p *Part) string {
	if v := m.state.Wheels[p.ID]; v != "" {
		return v
	}
	if m.doc.Lies == Bench {
		return lifted
	}
	return onGround
}
