package driveline

import (
	"fmt"
	"math"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// Solved is a solved machine.
type Solved struct {
	Machine  *Machine
	Net      *network.Compiled
	Motion   network.Motion
	Torque   network.Torque
	Stands   bool
	Variants []Variant
}

// Variant is the same machine with one unknown ratio set to another value.
type Variant struct {
	Motion network.Motion
	Torque network.Torque
}

// Solve runs the equations, and once more with the vehicle standing where
// nothing pushes it.
func (m *Machine) Solve() (*Solved, error) {
	r := &Solved{Machine: m}
	c, err := network.Compile(m.Net)
	if err != nil {
		return nil, fmt.Errorf("the parts make no network: %w", err)
	}
	r.Net = c
	r.Motion = c.Solve(m.Prefer)
	r.Torque = c.Torque(r.Motion, m.State.Losses)
	if road := c.Shaft("road"); road >= 0 && r.Torque.Starved && r.Motion.State[road] == network.Free {
		r.Stands = true
		m.Net.Elements = append(m.Net.Elements, network.Element{ID: "stands", Kind: network.Holder, Shaft: "road"})
		m.Net.Shafts = append(m.Net.Shafts, "road")
		m.Joints = append(m.Joints, Joint{Words: "the vehicle stands still"})
		if r.Net, err = network.Compile(m.Net); err != nil {
			return nil, err
		}
		r.Motion = r.Net.Solve(m.Prefer)
		r.Torque = r.Net.Torque(r.Motion, m.State.Losses)
	}
	for k, u := range m.Unknowns {
		e := &m.Net.Elements[u.Element]
		was := *e
		if e.Kind == network.Planetary {
			e.TeethSun, e.TeethRing = placeholderTeeth(k+1, 1)
		} else {
			e.Ratio = placeholder(k+1, 1)
		}
		c, err := network.Compile(m.Net)
		*e = was
		if err != nil {
			return nil, err
		}
		v := Variant{Motion: c.Solve(m.Prefer)}
		v.Torque = c.Torque(v.Motion, m.State.Losses)
		r.Variants = append(r.Variants, v)
	}
	return r, nil
}

// Depends lists the unknown ratios on which a shaft's speed hangs.
func (r *Solved) Depends(shaft int) []int {
	var out []int
	for k, v := range r.Variants {
		if v.Motion.State[shaft] != r.Motion.State[shaft] || !v.Motion.Speed[shaft].Equal(r.Motion.Speed[shaft]) {
			out = append(out, k)
		}
	}
	return out
}

// TorqueKnown is whether a shaft's torque is fixed and hangs on nothing
// unknown.
func (r *Solved) TorqueKnown(shaft int) (exact.Number, bool) {
	if r.Torque.Starved || !r.Torque.Known[shaft] {
		return exact.Number{}, false
	}
	for _, v := range r.Variants {
		if v.Torque.Starved || !v.Torque.Known[shaft] || !v.Torque.Shaft[shaft].Equal(r.Torque.Shaft[shaft]) {
			return exact.Number{}, false
		}
	}
	return r.Torque.Shaft[shaft], true
}

func (u Unknown) Words() string {
	n := say.Small(u.Part.Called())
	switch u.Ratio {
	case "ratio":
		return n
	case "low":
		return n + " low range"
	case "front":
		return n + " front drive"
	case "center":
		return n + " center differential"
	case "constant":
		return n + " constant mesh"
	case "change":
		return n + " change gears"
	case "second":
		return n + " second stage"
	case "ahead", "astern", "high":
		return n + " " + u.Ratio
	}
	return n + " " + GearWords(u.Ratio)
}

func (r *Solved) UnknownWords(list []int) []string {
	out := make([]string, len(list))
	for i, k := range list {
		out[i] = r.Machine.Unknowns[k].Words()
	}
	return out
}

// rpm is the input's speed, for print: by its own sign if given.
func (m *Machine) InputRPM() (float64, bool) {
	if in := m.State.Input; in != nil && in.RPM != 0 {
		return math.Abs(in.RPM), true
	}
	return 0, false
}

// Turning is the machine with its speeds alone: what turns, and which way,
// hangs on no torque and on no unknown ratio.
func (m *Machine) Turning() (*Solved, error) {
	c, err := network.Compile(m.Net)
	if err != nil {
		return nil, fmt.Errorf("the parts make no network: %w", err)
	}
	return &Solved{Machine: m, Net: c, Motion: c.Solve(nil)}, nil
}

// Reversing is whether something is set to drive backward.
func (m *Machine) Reversing() bool {
	odd := false
	for i := range m.Selectors {
		if m.Selectors[i].Stands().Backward {
			odd = !odd
		}
	}
	return odd
}

// Powered is whether the engine drives, turning its own way.
func (m *Machine) Powered() bool {
	if in := m.State.Input; in != nil && (in.RPM < 0 || in.Turns.Sign() < 0) {
		return false
	}
	return m.Input == m.Root && m.byEngine()
}

// Selected is a selector's position, or "".
func (m *Machine) Selected(id string) string {
	if s := m.Selector(id); s != nil {
		return s.Value
	}
	return ""
}

// Sign is a shaft's direction if no unknown ratio can turn it.
func (r *Solved) Sign(i int) int {
	s := r.Motion.Speed[i].Sign()
	for _, v := range r.Variants {
		if v.Motion.Speed[i].Sign() != s {
			return 0
		}
	}
	return s
}

func (m *Machine) TiresKnown() bool {
	for _, e := range m.Ends {
		if e.Kind == EndWheel && e.Part.Wheel.RollingMM.IsZero() {
			return false
		}
	}
	return true
}
