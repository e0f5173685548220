package driveline

import (
	"strings"

	"zorvel/core/exact"
)

// teethRatio is driven over driver, or the ratio itself; ok is false where
// neither is known.
func teethRatio(driver, driven int, r exact.Number) (exact.Number, bool) {
	if driver > 0 && driven > 0 {
		return exact.New(int64(driven), int64(driver)), true
	}
	return r, !r.IsZero()
}

// gearRatio is a gear's ratio without its sign.
func (g *Gearbox) gearRatio(x Gear) (exact.Number, bool) {
	if x.Direct {
		return one, true
	}
	if g.Arrangement == "ratios" {
		return x.Ratio.Abs(), !x.Ratio.IsZero()
	}
	r, ok := teethRatio(x.Drive, x.Driven, exact.Number{})
	if !ok || g.Arrangement == "two_shaft" {
		return r, ok
	}
	c, ok := teethRatio(g.Input, g.Counter, exact.Number{})
	return r.Mul(c), ok
}

// reverse reports whether a gear is meant to drive backward.
func (x Gear) reverse() bool {
	return x.Idler > 0 || x.Ratio.Sign() < 0 || strings.HasPrefix(strings.ToUpper(x.Name), "R")
}

// rangeRatio is the transfer case's range: input turns per main shaft turn.
func (r *Range) ratio(position string) (exact.Number, bool) {
	switch {
	case r.Type == "none":
		return one, true
	case position == "high":
		if r.High.IsZero() {
			return one, true
		}
		return r.High.Number, true
	case position != "low":
		return one, false
	}
	switch r.Type {
	case "planetary":
		if r.Sun == 0 {
			return one, false
		}
		return one.Add(exact.New(int64(r.Ring), int64(r.Sun))), true
	case "gears":
		a, ok1 := teethRatio(r.Input, r.Counter, exact.Number{})
		b, ok2 := teethRatio(r.LowDrive, r.LowGear, exact.Number{})
		return a.Mul(b), ok1 && ok2
	}
	return r.Low.Number, !r.Low.IsZero()
}

// ratio is turns of the front drive per turn of the front output, unsigned.
func (f *Front) ratio() (exact.Number, bool) {
	r, ok := teethRatio(f.Drive, f.Driven, f.Ratio.Number)
	return r.Abs(), ok
}

// ratio is pinion shaft (or input shaft) turns per carrier turn.
func (a *Axle) ratio() (exact.Number, bool) {
	r, ok := teethRatio(a.Pinion, a.Ring, a.Ratio.Number)
	if s := a.Second; s != nil {
		if s.Sun == 0 {
			return one, false
		}
		r = r.Mul(one.Add(exact.New(int64(s.Ring), int64(s.Sun))))
	}
	if c := a.Change; c != nil {
		if c.Input == 0 {
			return one, false
		}
		r = r.Mul(exact.New(int64(c.Pinion), int64(c.Input)))
	}
	return r, ok
}

func (h *Hub) ratio() (exact.Number, bool) {
	if h.Type == "portal" {
		return teethRatio(h.Drive, h.Driven, exact.Number{})
	}
	if h.Sun == 0 {
		return one, false
	}
	return one.Add(exact.New(int64(h.Ring), int64(h.Sun))), true
}

// ratio of a planetary set as it is arranged, unsigned.
func (p *Planetary) ratio() (exact.Number, bool) {
	if p.Sun == 0 {
		return one, false
	}
	zs, zr := exact.Int(int64(p.Sun)), exact.Int(int64(p.Ring))
	if p.Paired {
		zr = zr.Neg()
	}
	weight := map[string]exact.Number{"sun": zs, "ring": zr, "carrier": zs.Add(zr).Neg()}
	in, out := weight[p.Input], weight[p.Output]
	if in.IsZero() {
		return one, false
	}
	return out.Div(in).Abs(), true
}

// ratio is what a part does between its input and its output (for a transfer
// case the rear, for an axle the carrier) in the present selection. open is
// true where nothing is passed on.
func (m *machine) ratio(p *Part) (r exact.Number, known, open bool) {
	if m.broken(p) {
		return one, true, true
	}
	pos := ""
	if s := m.selector(p.ID); s != nil {
		pos = s.Value
	}
	switch p.Kind {
	case "clutch":
		return one, true, pos == "open"
	case "gearbox":
		for _, x := range p.Gearbox.Gears {
			if x.Name == pos {
				r, known = p.Gearbox.gearRatio(x)
				return r, known, false
			}
		}
		return one, true, true
	case "planetary":
		if p.Planetary.TwoSpeed && pos == "high" {
			return one, true, false
		}
		r, known = p.Planetary.ratio()
		return r, known, pos == "N"
	case "transfer_case":
		at := ""
		if s := m.selector(p.ID + ".range"); s != nil {
			at = s.Value
		}
		r, known = p.TransferCase.Range.ratio(at)
		return r, known || at == "N", at == "N"
	case "axle":
		r, known = p.Axle.ratio()
	case "hub":
		r, known = p.Hub.ratio()
	case "gear_pair":
		r, known = teethRatio(p.GearPair.Drive, p.GearPair.Driven, p.GearPair.Ratio.Number)
	case "upper":
		r, known = teethRatio(p.Upper.Pinion, p.Upper.Gear, p.Upper.Ratio.Number)
		return r, known, pos == "neutral"
	case "gearcase":
		r, known = teethRatio(p.Gearcase.Pinion, p.Gearcase.Gear, p.Gearcase.Ratio.Number)
		return r, known, pos == "neutral"
	case "reverse_gear":
		switch pos {
		case "ahead":
			return p.ReverseGear.Ahead.Number, !p.ReverseGear.Ahead.IsZero(), false
		case "astern":
			return p.ReverseGear.Astern.Number, !p.ReverseGear.Astern.IsZero(), false
		}
		return one, true, true
	default:
		return one, true, false
	}
	return r, known, false
}

// below lists the parts fed by an output, nearest first, down to the wheels.
func (d *Document) below(port string) []*Part {
	var out []*Part
	for i := range d.Parts {
		p := &d.Parts[i]
		if p.From != port {
			continue
		}
		out = append(out, p)
		for _, x := range p.ports() {
			key := p.ID
			if x != "" {
				key += "." + x
			}
			out = append(out, d.below(key)...)
		}
	}
	return out
}

// GearRatio is the unsigned ratio of a gearbox's gear by name.
func (p *Part) GearRatio(name string) (exact.Number, bool) {
	if p.Gearbox == nil {
		return one, false
	}
	for _, g := range p.Gearbox.Gears {
		if g.Name == name {
			return p.Gearbox.gearRatio(g)
		}
	}
	return one, false
}

// LowRatio is the low range of a transfer case.
func (p *Part) LowRatio() (exact.Number, bool) {
	if p.TransferCase == nil || p.TransferCase.Range.Type == "none" {
		return one, false
	}
	return p.TransferCase.Range.ratio("low")
}
