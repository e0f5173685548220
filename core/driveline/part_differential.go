package driveline

import (
	"fmt"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Differential shares between two outputs. As a part of its own it is an
// inter-axle differential with the outputs "here" and "through".
type Differential struct {
	plain
	Type string `json:"type"` // open, limited_slip, locking, spool; as a part also planetary
	LimitedSlip
	Ring int `json:"ring,omitempty"`
	Sun  int `json:"sun,omitempty"`
}

// LimitedSlip is what makes a differential stiff between its sides.
type LimitedSlip struct {
	// Slip is how: clutches (plates or cones, with preload), helical (teeth
	// pressed by the torque that passes) or viscous (grows with the difference
	// in speed).
	Slip string `json:"slip,omitempty"`
	// Bias is how many times the torque of the weaker side the stronger may
	// carry: clutches and helical.
	Bias exact.Figure `json:"bias,omitzero"`
	// BreakawayNM is measured at one wheel with the other grounded and the
	// input free; the sides then differ by twice as much, and so they may by
	// preload alone.
	BreakawayNM float64 `json:"breakaway_nm,omitempty"`
	// ViscousNM is what a viscous coupling carries across when its sides differ
	// by 100 rpm.
	ViscousNM float64 `json:"viscous_nm,omitempty"`
}

// carries is the bias ratio, and the torque by which the sides may differ
// whatever passes.
func (l LimitedSlip) carries() (bias, across float64) {
	switch l.Slip {
	case "viscous":
		return 1, l.ViscousNM
	case "helical":
		return biasOf(l.Bias.Float()), 0
	}
	return biasOf(l.Bias.Float()), 2 * l.BreakawayNM
}

func (d *Differential) check(_ *Part, at string, errs *fault.Errors) {
	d.checkAs(at, errs, "open", "limited_slip", "locking", "planetary")
}

// checkAs checks a differential that may be of these types, first the usual one.
func (d *Differential) checkAs(at string, errs *fault.Errors, types ...string) {
	oneOf(errs, at+"type", &d.Type, types...)
	d.LimitedSlip.check(at, d.Type, errs)
	pair(errs, at, "ring", "sun", d.Ring, d.Sun)
}

func (l *LimitedSlip) check(at, of string, errs *fault.Errors) {
	if of != "limited_slip" {
		if l.Slip != "" || l.BreakawayNM != 0 || l.ViscousNM != 0 {
			errs.Add(at+"slip", "belongs to a limited slip")
		}
	} else {
		oneOf(errs, at+"slip", &l.Slip, "clutches", "helical", "viscous")
	}
	bias(errs, at+"bias", l.Bias)
	for name, nm := range map[string]float64{"breakaway_nm": l.BreakawayNM, "viscous_nm": l.ViscousNM} {
		if !(nm >= 0 && nm <= 20000) {
			errs.Add(at+name, "from 0 to 20,000 N·m")
		}
	}
	if l.BreakawayNM > 0 && l.Slip != "clutches" {
		errs.Add(at+"breakaway_nm", "only clutches have a preload")
	}
	if l.ViscousNM > 0 && l.Slip != "viscous" {
		errs.Add(at+"viscous_nm", "only a viscous coupling grows with the difference in speed")
	}
}

func bias(errs *fault.Errors, at string, b exact.Figure) {
	if !b.IsZero() && (b.Cmp(exact.Int(1)) < 0 || b.Cmp(exact.Int(20)) > 0) {
		errs.Add(at, "the bias ratio is between 1 and 20")
	}
}

func (d *Differential) ports() []string { return []string{"here", "through"} }

func (d *Differential) expand(m *machine, p *Part, in string, axis Axis, whole bool) {
	here := m.add(p, "here", "near output of the "+say.Small(p.name()), axis)
	through := m.add(p, "through", "through output of the "+say.Small(p.name()), axis)
	m.outs[p.ID+".here"], m.outs[p.ID+".through"] = here, through
	if d.Type == "planetary" {
		m.planets(p, "differential", "center", through, here, in, d.Sun, d.Ring, false,
			fmt.Sprintf("planetary differential: carrier in, ring %s to the near output, sun %s to the through output", count(d.Ring), count(d.Sun)))
		m.prefer = append(m.prefer, network.Preference{A: here, B: through})
	} else {
		m.split(p, "differential", here, through, in)
	}
	if d.Type == "locking" {
		v := m.choose(p, "lock", "Lock of the "+say.Small(p.name()), SelectorOption{Value: "open", Words: "open"}, SelectorOption{Value: "locked", Words: "locked"})
		m.couple(p, network.Lock, "lock", here, through, v == "locked" && whole, "inter-axle lock engaged")
	}
}
