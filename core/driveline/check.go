package driveline

import (
	"fmt"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

// check looks at one part by itself and fills in what is usual where a word
// was left out.
func (p *Part) check(at string, errs *fault.Errors) {
	if p.RatedNM < 0 || p.RatedNM > 1e6 {
		errs.Add(at+"rated_nm", "from 0 to 1,000,000 N·m")
	}
	p.Family = strings.TrimSpace(p.Family)
	if len([]rune(p.Family)) > 60 {
		errs.Add(at+"family", "at most 60 characters")
	}
	if p.Actuation != "" {
		oneOf(errs, at+"actuation", &p.Actuation, "lever", "cable", "motor", "air", "vacuum", "hydraulic")
	}
	oneOf(errs, at+"mounting", &p.Mounting, "upright", "turned_over", "end_for_end")
	known := p.Kind == "shaft"
	for kind, filled := range p.spec() {
		if kind == p.Kind {
			known = true
			if !filled {
				p.fill()
			}
		} else if filled {
			errs.Add(at+kind, "does not belong to a part of the kind %q", p.Kind)
		}
	}
	if !known {
		errs.Add(at+"kind", "%q is no kind of part; choose one of %v", p.Kind, PartKinds())
		return
	}
	for name, s := range p.Sources {
		k := s.Kind
		oneOf(errs, at+"sources/"+name+"/kind", &k, "unknown", "measured", "plate", "assumed", "conflict")
		if s.Probability < 0 || s.Probability > 1 {
			errs.Add(at+"sources/"+name+"/probability", "from 0 to 1")
		}
	}
	at += p.Kind + "/"
	switch p.Kind {
	case "engine":
		e := p.Engine
		axis := string(e.Axis)
		oneOf(errs, at+"axis", &axis, string(Lengthwise), string(Crosswise), string(Upright))
		e.Axis = Axis(axis)
		oneOf(errs, at+"rotation", &e.Rotation, "standard", "opposite")
		if e.TorqueNM < 0 || e.TorqueNM > 100000 {
			errs.Add(at+"torque_nm", "from 0 to 100,000 N·m")
		}
	case "clutch":
		oneOf(errs, at+"type", &p.Clutch.Type, "clutch", "converter")
		if p.Clutch.Slip.Sign() < 0 || p.Clutch.Slip.Cmp(exact.Int(1)) >= 0 {
			errs.Add(at+"slip", "the part of the speed that is lost: from 0 to below 1, for example 0.05")
		}
	case "gearbox":
		p.Gearbox.check(at, errs)
	case "planetary":
		p.Planetary.check(at, errs)
	case "transfer_case":
		p.TransferCase.check(at, errs)
	case "axle":
		a := p.Axle
		pair(errs, at, "ring", "pinion", a.Ring, a.Pinion)
		if a.Ring > 0 && a.Ring < a.Pinion {
			errs.Add(at+"ring", "a ring of %d teeth has fewer than its pinion of %d: are the two swapped?", a.Ring, a.Pinion)
		}
		ratioRange(errs, at+"ratio", a.Ratio, false)
		oneOf(errs, at+"gears", &a.Gears, "bevel", "spur")
		oneOf(errs, at+"ring_side", &a.RingSide, "left", "right")
		oneOf(errs, at+"pinion_at", &a.PinionAt, "ahead", "behind")
		oneOf(errs, at+"cut", &a.Cut, "standard", "reverse", "straight")
		if s := a.Second; s != nil {
			pair(errs, at+"second/", "sun", "ring", s.Sun, s.Ring)
		}
		if c := a.Change; c != nil {
			pair(errs, at+"change/", "input", "pinion", c.Input, c.Pinion)
		}
		if a.Disconnect != "" {
			oneOf(errs, at+"disconnect", &a.Disconnect, "left", "right")
		}
		if a.Disconnect != "" && a.FreeHubs {
			errs.Add(at+"disconnect", "the wheels are let go at the hubs already; one of the two")
		}
		if !(a.StubNM >= 0 && a.StubNM <= 1e6) {
			errs.Add(at+"stub_nm", "from 0 to 1,000,000 N·m")
		}
		a.Differential.check(at+"differential/", errs, "open", "limited_slip", "locking", "spool")
	case "differential":
		p.Differential.check(at, errs, "open", "limited_slip", "locking", "planetary")
	case "hub":
		h := p.Hub
		oneOf(errs, at+"type", &h.Type, "planetary", "portal")
		pair(errs, at, "sun", "ring", h.Sun, h.Ring)
		pair(errs, at, "drive", "driven", h.Drive, h.Driven)
		idlers(errs, at, h.Idlers)
	case "gear_pair":
		g := p.GearPair
		pair(errs, at, "drive", "driven", g.Drive, g.Driven)
		ratioRange(errs, at+"ratio", g.Ratio, false)
		oneOf(errs, at+"mesh", &g.Mesh, "external", "internal", "chain")
		idlers(errs, at, g.Idlers)
	case "wheel":
		w := p.Wheel
		oneOf(errs, at+"at", &w.At, "rear", "front")
		oneOf(errs, at+"side", &w.Side, "left", "right")
		if r := w.RollingMM; !r.IsZero() && (r.Cmp(exact.Int(200)) < 0 || r.Cmp(exact.Int(10000)) > 0) {
			errs.Add(at+"rolling_mm", "the rolling circumference is between 200 and 10,000 mm")
		}
		if w.AheadMM < -30000 || w.AheadMM > 30000 {
			errs.Add(at+"ahead_mm", "from -30,000 to 30,000 mm")
		}
	case "upper":
		pair(errs, at, "pinion", "gear", p.Upper.Pinion, p.Upper.Gear)
		ratioRange(errs, at+"ratio", p.Upper.Ratio, false)
	case "gearcase":
		g := p.Gearcase
		pair(errs, at, "pinion", "gear", g.Pinion, g.Gear)
		ratioRange(errs, at+"ratio", g.Ratio, false)
		oneOf(errs, at+"forward", &g.Forward, "ahead", "behind")
		if g.ShiftBy != "" {
			oneOf(errs, at+"shift_by", &g.ShiftBy, "turning", "push_pull", "sprung", "lobe")
		}
		if len([]rune(g.ShiftForward)) > 120 {
			errs.Add(at+"shift_forward", "at most 120 characters")
		}
		if g.Twin && g.Shift {
			errs.Add(at+"shift", "with two propellers both gears drive; shift in the upper set or at the engine")
		}
	case "reverse_gear":
		ratioRange(errs, at+"ahead", p.ReverseGear.Ahead, false)
		ratioRange(errs, at+"astern", p.ReverseGear.Astern, false)
	case "propeller":
		oneOf(errs, at+"hand", &p.Propeller.Hand, "right", "left")
		if p.Propeller.PitchIN < 0 || p.Propeller.PitchIN > 200 {
			errs.Add(at+"pitch_in", "from 0 to 200 inches")
		}
	}
}

// fill gives a part without its property an empty one: nothing about it is
// known.
func (p *Part) fill() {
	switch p.Kind {
	case "engine":
		p.Engine = &Engine{}
	case "clutch":
		p.Clutch = &Clutch{}
	case "gearbox":
		p.Gearbox = &Gearbox{}
	case "planetary":
		p.Planetary = &Planetary{}
	case "transfer_case":
		p.TransferCase = &TransferCase{}
	case "axle":
		p.Axle = &Axle{}
	case "differential":
		p.Differential = &Differential{}
	case "hub":
		p.Hub = &Hub{}
	case "gear_pair":
		p.GearPair = &GearPair{}
	case "wheel":
		p.Wheel = &Wheel{}
	case "upper":
		p.Upper = &Upper{}
	case "gearcase":
		p.Gearcase = &Gearcase{}
	case "reverse_gear":
		p.ReverseGear = &ReverseGear{}
	case "propeller":
		p.Propeller = &Propeller{}
	}
}

func idlers(errs *fault.Errors, at string, n int) {
	if n < 0 || n > 9 {
		errs.Add(at+"idlers", "from 0 to 9")
	}
}

func (g *Gearbox) check(at string, errs *fault.Errors) {
	oneOf(errs, at+"arrangement", &g.Arrangement, "ratios", "countershaft", "two_shaft")
	if len(g.Gears) == 0 || len(g.Gears) > 40 {
		errs.Add(at+"gears", "a gearbox has 1 to 40 gears")
	}
	if g.Arrangement == "countershaft" {
		pair(errs, at, "input", "counter", g.Input, g.Counter)
	}
	names := map[string]bool{"N": true}
	for i := range g.Gears {
		x := &g.Gears[i]
		here := fmt.Sprintf("%sgears/%d/", at, i)
		switch {
		case x.Name == "" || len(x.Name) > 10:
			errs.Add(here+"name", "1 to 10 characters, for example 1, 4 or R")
		case x.Name == "N":
			errs.Add(here+"name", "N is neutral and always there")
		case names[x.Name]:
			errs.Add(here+"name", "there is a gear %q already", x.Name)
		}
		names[x.Name] = true
		oneOf(errs, here+"selector", &x.Selector, "synchro", "dog", "sliding")
		ratioRange(errs, here+"ratio", x.Ratio, true)
		pair(errs, here, "drive", "driven", x.Drive, x.Driven)
		if x.Idler != 0 {
			teeth(errs, here+"idler", x.Idler, true)
		}
	}
}

func (p *Planetary) check(at string, errs *fault.Errors) {
	pair(errs, at, "sun", "ring", p.Sun, p.Ring)
	if p.Sun > 0 && p.Ring > 0 && p.Ring <= p.Sun {
		errs.Add(at+"ring", "the ring gear (%d) has more teeth than the sun (%d): it goes around it", p.Ring, p.Sun)
	}
	members := []string{"sun", "carrier", "ring"}
	oneOf(errs, at+"input", &p.Input, members...)
	oneOf(errs, at+"output", &p.Output, "carrier", "sun", "ring")
	oneOf(errs, at+"held", &p.Held, "ring", "sun", "carrier")
	if p.Input == p.Output || p.Input == p.Held || p.Output == p.Held {
		errs.Add(at+"held", "one member is driven, another held, the third drives on")
	}
}

func (t *TransferCase) check(at string, errs *fault.Errors) {
	oneOf(errs, at+"range/type", &t.Range.Type, "none", "ratio", "planetary", "gears")
	pair(errs, at+"range/", "sun", "ring", t.Range.Sun, t.Range.Ring)
	if t.Range.Ring > 0 && t.Range.Ring <= t.Range.Sun {
		errs.Add(at+"range/ring", "the ring gear has more teeth than the sun: it goes around it")
	}
	pair(errs, at+"range/", "input", "counter", t.Range.Input, t.Range.Counter)
	pair(errs, at+"range/", "low_drive", "low_gear", t.Range.LowDrive, t.Range.LowGear)
	ratioRange(errs, at+"range/low", t.Range.Low, false)
	ratioRange(errs, at+"range/high", t.Range.High, false)
	oneOf(errs, at+"center/type", &t.Center.Type, "part_time", "open", "limited_slip", "planetary", "solid")
	pair(errs, at+"center/", "ring", "sun", t.Center.Ring, t.Center.Sun)
	oneOf(errs, at+"center/ring_to", &t.Center.RingTo, "rear", "front")
	t.Center.LimitedSlip.check(at+"center/", t.Center.Type, errs)
	if t.Center.RearOnly && (t.Center.Type == "part_time" || t.Center.Type == "solid") {
		errs.Add(at+"center/rear_only", "a part-time case has that position anyway, and one that is always locked can't have it")
	}
	if t.Center.RearOnly && t.Front.Type == "none" {
		errs.Add(at+"center/rear_only", "there is no front output that could be let go")
	}
	oneOf(errs, at+"front/type", &t.Front.Type, "chain", "gears", "ratio", "none")
	pair(errs, at+"front/", "drive", "driven", t.Front.Drive, t.Front.Driven)
	ratioRange(errs, at+"front/ratio", t.Front.Ratio, true)
	idlers(errs, at+"front/", t.Front.Idlers)
	if t.LowNeedsLock && t.Range.Type == "none" {
		errs.Add(at+"low_needs_lock", "this case has no low range")
	}
}

func (d *Differential) check(at string, errs *fault.Errors, types ...string) {
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
