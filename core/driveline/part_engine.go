package driveline

import "zorvel/core/fault"

// Engine is where power enters.
type Engine struct {
	plain
	Axis     Axis    `json:"axis,omitempty"`     // lengthwise, crosswise or upright
	Rotation string  `json:"rotation,omitempty"` // standard or opposite
	TorqueNM float64 `json:"torque_nm,omitempty"`
}

func (e *Engine) check(_ *Part, at string, errs *fault.Errors) {
	axis := string(e.Axis)
	oneOf(errs, at+"axis", &axis, string(Lengthwise), string(Crosswise), string(Upright))
	e.Axis = Axis(axis)
	oneOf(errs, at+"rotation", &e.Rotation, "standard", "opposite")
	if e.TorqueNM < 0 || e.TorqueNM > 100000 {
		errs.Add(at+"torque_nm", "from 0 to 100,000 N·m")
	}
}

func (e *Engine) blank(p *Part) { p.Engine = &Engine{Axis: e.Axis, Rotation: e.Rotation} }

func (e *Engine) expand(m *Machine, p *Part, _ string, _ Axis, _ bool) {
	m.Root = m.add(p, "crank", "crankshaft", e.Axis)
	m.Outs[p.ID] = m.Root
}

func (e *Engine) traits() Traits { return Traits{Reach: OutOfReach, Ahead: true} }

// EngineNM is the greatest torque of the engine that feeds the driveline; 0
// where there is none or it isn't known.
func (d *Document) EngineNM() float64 {
	for i := range d.Parts {
		if p := &d.Parts[i]; p.From == "" && p.Engine != nil {
			return p.Engine.TorqueNM
		}
	}
	return 0
}

// byEngine is whether power enters at an engine, which stops what is turned
// against it.
func (m *Machine) byEngine() bool { return m.ByID[m.Root].Part.Engine != nil }

// against is whether a positive speed of the input is against its engine.
func (m *Machine) against() bool {
	e := m.ByID[m.Input].Part.Engine
	return e != nil && e.Rotation == "opposite"
}
