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

func (e *Engine) expand(m *machine, p *Part, _ string, _ Axis, _ bool) {
	m.root = m.add(p, "crank", "crankshaft", e.Axis)
	m.outs[p.ID] = m.root
}
