package driveline

import (
	"fmt"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
)

// Clutch is a friction clutch, or a converter that may slip.
type Clutch struct {
	plain
	Type string       `json:"type,omitempty"` // clutch or converter
	Slip exact.Figure `json:"slip,omitzero"`  // converter: part of the speed lost while it slips, typical
}

func (c *Clutch) check(_ *Part, at string, errs *fault.Errors) {
	oneOf(errs, at+"type", &c.Type, "clutch", "converter")
	if c.Slip.Sign() < 0 || c.Slip.Cmp(exact.Int(1)) >= 0 {
		errs.Add(at+"slip", "the part of the speed that is lost: from 0 to below 1, for example 0.05")
	}
}

func (c *Clutch) expand(m *Machine, p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "out", Of(p, "output"), axis)
	m.Outs[p.ID] = out
	if c.Type == "converter" {
		v := m.choose(p, RoleClutch, "", p.Called(), SelectorOption{Value: "locked", Words: "locked"},
			SelectorOption{Value: "slipping", Words: "slipping"})
		slip := c.Slip.Number
		if slip.IsZero() {
			slip = exact.New(5, 100)
		}
		if v == "slipping" && whole {
			m.Element(p, network.Element{ID: p.ID + ".fluid", Kind: network.Fluid, A: in, B: out, Slip: slip},
				Joint{Words: fmt.Sprintf("converter slipping, typically %s %%", slip.Mul(exact.Int(100)).Short(1))})
			return
		}
		m.couple(p, network.Coupling, "clutch", in, out, whole, "converter locked")
		return
	}
	v := m.choose(p, RoleClutch, "", p.Called(), SelectorOption{Value: "engaged", Words: "engaged"},
		SelectorOption{Value: "open", Words: "open, pedal down", Neutral: true})
	m.couple(p, network.Coupling, "clutch", in, out, v == "engaged" && whole, "clutch engaged")
}

func (c *Clutch) traits() Traits { return Traits{Axis: Lengthwise, Ahead: true} }

func (c *Clutch) has(*Part) []Feature { return []Feature{Pedal} }

func (c *Clutch) passes(at func(string) string) Passed {
	return Passed{Ratio: one, Known: true, Open: at("") == "open"}
}

func (c *Clutch) wear(*Document, *Part) []Wear { return []Wear{{"release", "worn release bearing"}} }

// showsAt: what drags in a clutch clashes in the gearbox.
func (c *Clutch) showsAt(d *Document, _ *Part) []string {
	var out []string
	for _, p := range d.WithA(Box) {
		out = append(out, p.ID)
	}
	return out
}
