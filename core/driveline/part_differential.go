package driveline

import (
	"fmt"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
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

// Carries is the bias ratio, and the torque by which the sides may differ
// whatever passes.
func (l LimitedSlip) Carries() (bias, across float64) {
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

func (d *Differential) expand(m *Machine, p *Part, in string, axis Axis, whole bool) {
	here := m.add(p, "here", Of(p, "near output"), axis)
	through := m.add(p, "through", Of(p, "through output"), axis)
	m.Outs[p.ID+".here"], m.Outs[p.ID+".through"] = here, through
	if d.Type == "planetary" {
		m.planets(p, "differential", "center", through, here, in, d.Sun, d.Ring, false,
			fmt.Sprintf("planetary differential: carrier in, ring %s to the near output, sun %s to the through output", count(d.Ring), count(d.Sun)))
		m.Prefer = append(m.Prefer, network.Preference{A: here, B: through})
	} else {
		m.split(p, "differential", here, through, in)
	}
	if d.Type == "locking" {
		v := m.choose(p, RoleLock, "lock", Lever(p, "lock"),
			SelectorOption{Value: "open", Words: "open"}, SelectorOption{Value: "locked", Words: "locked"})
		m.couple(p, network.Lock, "lock", here, through, v == "locked" && whole, "inter-locker engaged")
	}
}

func (d *Differential) has(*Part) []Feature {
	var out []Feature
	if d.Type == "limited_slip" {
		out = append(out, Plates)
	}
	if d.Type == "locking" || d.Type == "spool" {
		out = append(out, Joins)
	}
	return out
}

func (d *Differential) shares(at func(string) string) *Split {
	s := &Split{Branches: []Branch{branch("here"), branch("through")}, Share: evenly}
	switch {
	case at("lock") == "locked":
		s.Share = nil
	case d.Type == "limited_slip":
		s.Limited = &d.LimitedSlip
	case d.Type == "planetary" && d.Ring > 0:
		s.Share = []exact.Number{exact.Int(int64(d.Ring)), exact.Int(int64(d.Sun))}
	}
	return s
}

func (d *Differential) sides() []Side {
	if d.Type == "planetary" && d.Ring > 0 {
		return []Side{{"here", exact.Int(int64(d.Ring))}, {"through", exact.Int(int64(d.Sun))}}
	}
	return []Side{{"here", one}, {"through", one}}
}

func (d *Differential) between() *Between {
	return &Between{Type: d.Type, First: "here", Second: "through", Drive: one, Known: true}
}

func (d *Differential) wear(_ *Document, p *Part) []Wear {
	return []Wear{{"side_wear", Of(p, "worn gears")}}
}

// biasOf is a bias ratio; 2.5 is typical where it isn't known.
func biasOf(b float64) float64 {
	if b < 1 {
		return 2.5
	}
	return b
}
