package driveline

import (
	"fmt"
	"slices"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// shares is the part of all output torque (wheels: of all drive force) at each
// end, what a held end passes on to whatever holds it as well; nil where the
// equations leave it open or nothing arrives at all. loads is what arrives, nil
// where it is open.
func (r *result) shares(q network.Torque) (shares, loads []*exact.Number) {
	sum, all := exact.Number{}, true
	shares, loads = make([]*exact.Number, len(r.m.ends)), make([]*exact.Number, len(r.m.ends))
	for i, e := range r.m.ends {
		sh := r.c.Shaft(e.shaft)
		if q.Starved || !q.Known[sh] {
			all = false
			continue
		}
		x := q.Shaft[sh]
		if e.kind == "wheel" {
			x = x.Div(travel(e.part)) // a force
		}
		loads[i] = &x
		sum = sum.Add(x)
	}
	for i, x := range loads {
		if x != nil && (x.IsZero() || (all && !sum.IsZero())) {
			v := exact.Number{}
			if !x.IsZero() {
				v = x.Div(sum)
			}
			shares[i] = &v
		}
	}
	return shares, loads
}

// isHeld reports whether an end is held still.
func (m *machine) isHeld(e end) bool {
	for _, id := range m.state.Hold {
		if m.holdable(id) == e.shaft {
			return true
		}
	}
	return e.kind == "wheel" && m.wheelState(e.part) == held
}

// outputs fills what arrives at the ends and the way to each.
func (r *result) outputs(t *Trace) {
	shares, loads := r.shares(r.torque)
	for _, v := range r.variants {
		other, _ := r.shares(v.torque)
		for i := range shares {
			if shares[i] != nil && (other[i] == nil || !other[i].Equal(*shares[i])) {
				shares[i] = nil
			}
		}
	}
	for i, e := range r.m.ends {
		o := OutputOut{Shaft: e.shaft, Part: e.part.ID, Kind: e.kind, Name: e.name, Path: r.path(e.shaft), Share: shares[i]}
		if e.kind == "wheel" {
			o.State = r.m.wheelState(e.part)
		}
		switch {
		case r.torque.Starved || (o.Share != nil && o.Share.IsZero()):
			o.ShareWords = "no torque arrives"
		case o.Share != nil:
			o.ShareWords = o.Share.Mul(exact.Int(100)).Short(1) + " % of the torque"
			if e.kind == "wheel" {
				o.ShareWords = o.Share.Mul(exact.Int(100)).Short(1) + " % of the drive force"
			}
			o.ShareWords += r.powerWords(e)
		case !r.torque.Known[r.c.Shaft(e.shaft)]:
			o.ShareWords = r.m.setBy()
		case loads[i] != nil && len(r.variants) == 0:
			o.ShareWords = "its part of what grip sets"
		default:
			o.ShareWords = "hangs on a ratio that isn't known"
		}
		t.Outputs = append(t.Outputs, o)
	}
}

// powerWords says where the power goes when an end is held: it is torque times speed,
// so that what stands still takes torque and no power.
func (r *result) powerWords(e end) string {
	if r.m.isHeld(e) {
		return " into what holds it; no power, it stands still"
	}
	held, turning := false, 0
	for _, o := range r.m.ends {
		switch {
		case r.m.isHeld(o):
			held = true
		case r.motion.State[r.c.Shaft(o.shaft)] == network.Driven:
			turning++
		}
	}
	if held && turning == 1 && r.motion.State[r.c.Shaft(e.shaft)] == network.Driven {
		return ", and all of the power"
	}
	return ""
}

// path finds the way from the input to a shaft through what is engaged.
func (r *result) path(to string) []Step {
	type way struct {
		shaft   string
		element int
		from    *way
	}
	seen := map[string]bool{r.m.input: true}
	queue := []*way{{shaft: r.m.input, element: -1}}
	var found *way
	for len(queue) > 0 && found == nil {
		w := queue[0]
		queue = queue[1:]
		for i := range r.m.net.Elements {
			e := &r.m.net.Elements[i]
			if e.Open || e.Kind == network.Road || e.Kind == network.Holder {
				continue
			}
			ends := []string{e.A, e.B, e.Sun, e.Ring, e.Left, e.Right, e.Carrier}
			if !slices.Contains(ends, w.shaft) {
				continue
			}
			for _, s := range ends {
				if s == "" || seen[s] {
					continue
				}
				seen[s] = true
				n := &way{s, i, w}
				queue = append(queue, n)
				if s == to {
					found = n
				}
			}
		}
	}
	steps := []Step{}
	for w := found; w != nil && w.from != nil; w = w.from {
		steps = append(steps, r.step(w.element, w.from.shaft, w.shaft))
	}
	slices.Reverse(steps)
	return steps
}

func (r *result) step(element int, from, to string) Step {
	j := r.m.joints[element]
	s := Step{Element: r.m.net.Elements[element].ID, Part: j.part.ID, Shaft: to, Words: j.words}
	a, b := r.c.Shaft(from), r.c.Shaft(to)
	va, vb := r.motion.Speed[a], r.motion.Speed[b]
	known := len(r.depends(a)) == 0 && len(r.depends(b)) == 0 && r.motion.State[a] != network.Free && r.motion.State[b] != network.Free
	switch {
	case j.unknown > 0:
		s.Note = "ratio not known"
	case known && !vb.IsZero():
		x, y := va.Div(vb), vb.Inv()
		s.Ratio, s.Product = &x, &y
		e := &r.m.net.Elements[element]
		if e.Kind == network.Lock || e.Kind == network.Coupling {
			s.Ratio = &one
		}
		if va.Sign()*vb.Sign() < 0 && !j.bevel && r.m.byID[from].axis == r.m.byID[to].axis {
			s.Note = "direction reversed"
		}
	case known:
		s.Note = "stands still"
	case r.motion.State[b] == network.Free:
		s.Note = "free"
	}
	if src, ok := j.part.Sources[j.ratio]; ok && j.ratio != "" {
		s.Source = &src
	}
	return s
}

// overall is the ratio to the driven wheels (their mean on the axle that
// drives first) or the propeller.
func (r *result) overall(t *Trace) {
	for _, e := range r.m.ends {
		if e.kind == "open" && len(r.m.ends) > 1 && r.m.doc.Lies != Bench {
			continue
		}
		// The carrier speed is what a wheel does straight ahead.
		sh := e.shaft
		if p := e.part; p.Kind == "wheel" || p.Kind == "axle" {
			if c := r.m.carrierOf(p); c != "" {
				sh = c
			}
		}
		i := r.c.Shaft(sh)
		if r.motion.State[i] == network.Free || len(r.depends(i)) > 0 || r.motion.Speed[i].IsZero() {
			continue
		}
		v := r.motion.Speed[i].Inv()
		if p := e.part; p.Kind == "wheel" {
			v = v.Mul(r.m.hubRatio(p))
		}
		t.Overall = &OverallOut{Ratio: v, Shaft: sh, Words: fmt.Sprintf("%s input turns per turn of the %s", v.Abs().Short(3), say.Small(e.name))}
		break
	}
	if i := r.c.Shaft("road"); i >= 0 && r.motion.State[i] != network.Free && len(r.depends(i)) == 0 {
		if rpm, ok := r.m.inputRPM(); ok && r.m.tiresKnown() {
			v := r.motion.Speed[i].Float() * rpm * 60 / 1000
			t.SpeedKMH = &v
		}
	}
}

func (m *machine) tiresKnown() bool {
	for _, e := range m.ends {
		if e.kind == "wheel" && e.part.Wheel.RollingMM.IsZero() {
			return false
		}
	}
	return true
}

// carrierOf is the differential carrier of an axle, or behind a wheel.
func (m *machine) carrierOf(p *Part) string {
	for p != nil {
		if p.Kind == "axle" {
			if p.Axle.Second != nil {
				return p.ID + ".carrier"
			}
			return p.ID + ".ring"
		}
		id, _, _ := strings.Cut(p.From, ".")
		p = m.parts[id]
	}
	return ""
}

// hubRatio is the reduction between carrier and wheel.
func (m *machine) hubRatio(w *Part) exact.Number {
	out := one
	for p := w; p != nil && p.From != ""; {
		id, _, _ := strings.Cut(p.From, ".")
		p = m.parts[id]
		if p == nil || p.Kind == "axle" {
			break
		}
		if h := p.Hub; h != nil {
			if h.Type == "portal" && h.Drive > 0 {
				out = out.Mul(exact.New(int64(h.Driven), int64(h.Drive)))
				if h.Idlers%2 == 0 {
					out = out.Neg()
				}
			}
			if h.Type == "planetary" && h.Sun > 0 {
				out = out.Mul(one.Add(exact.New(int64(h.Ring), int64(h.Sun))))
			}
		}
	}
	return out
}
