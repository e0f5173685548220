package driveline

import (
	"fmt"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
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

func (c *Clutch) expand(m *machine, p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "out", "output of the "+say.Small(p.name()), axis)
	m.outs[p.ID] = out
	if c.Type == "converter" {
		v := m.choose(p, "", p.name(), SelectorOption{Value: "locked", Words: "locked"}, SelectorOption{Value: "slipping", Words: "slipping"})
		slip := c.Slip.Number
		if slip.IsZero() {
			slip = exact.New(5, 100)
		}
		if v == "slipping" && whole {
			m.element(p, network.Element{ID: p.ID + ".fluid", Kind: network.Fluid, A: in, B: out, Slip: slip},
				joint{words: fmt.Sprintf("converter slipping, typically %s %%", slip.Mul(exact.Int(100)).Short(1))})
			return
		}
		m.couple(p, network.Coupling, "clutch", in, out, whole, "converter locked")
		return
	}
	v := m.choose(p, "", p.name(), SelectorOption{Value: "engaged", Words: "engaged"}, SelectorOption{Value: "open", Words: "open, pedal down"})
	m.couple(p, network.Coupling, "clutch", in, out, v == "engaged" && whole, "clutch engaged")
}
