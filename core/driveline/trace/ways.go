package trace

import (
	"fmt"
	"slices"

	"zorvel/core/driveline"
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// shares is the part of all output torque (wheels: of all drive force) at each
// end, what a held end passes on to whatever holds it as well; nil where the
// equations leave it open or nothing arrives at all. loads is what arrives, nil
// where it is open.
func (r *telling) shares(q network.Torque) (shares, loads []*exact.Number) {
	sum, all := exact.Number{}, true
	shares, loads = make([]*exact.Number, len(r.Machine.Ends)), make([]*exact.Number, len(r.Machine.Ends))
	for i, e := range r.Machine.Ends {
		sh := r.Net.Shaft(e.Shaft)
		if q.Starved || !q.Known[sh] {
			all = false
			continue
		}
		x := q.Shaft[sh]
		if e.Kind == driveline.EndWheel {
			x = x.Div(driveline.Travel(e.Part)) // a force
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
func (r *telling) isHeld(e driveline.End) bool {
	m := r.Machine
	for _, id := range m.State.Hold {
		if m.Holdable(id) == e.Shaft {
			return true
		}
	}
	return e.Kind == driveline.EndWheel && m.WheelState(e.Part) == driveline.Held
}

// outputs fills what arrives at the ends and the way to each.
func (r *telling) outputs(t *Trace) {
	shares, loads := r.shares(r.Torque)
	for _, v := range r.Variants {
		other, _ := r.shares(v.Torque)
		for i := range shares {
			if shares[i] != nil && (other[i] == nil || !other[i].Equal(*shares[i])) {
				shares[i] = nil
			}
		}
	}
	for i, e := range r.Machine.Ends {
		o := OutputOut{Shaft: e.Shaft, Part: e.Part.ID, Kind: e.Kind, Name: e.Name, Path: r.path(e.Shaft), Share: shares[i]}
		if e.Kind == driveline.EndWheel {
			o.State = r.Machine.WheelState(e.Part)
		}
		switch {
		case r.Torque.Starved || (o.Share != nil && o.Share.IsZero()):
			o.ShareWords = "no torque arrives"
		case o.Share != nil:
			o.ShareWords = o.Share.Mul(exact.Int(100)).Short(1) + " % of the torque"
			if e.Kind == driveline.EndWheel {
				o.ShareWords = o.Share.Mul(exact.Int(100)).Short(1) + " % of the drive force"
			}
			o.ShareWords += r.powerWords(e)
		case !r.Torque.Known[r.Net.Shaft(e.Shaft)]:
			o.ShareWords = r.setBy()
		case loads[i] != nil && len(r.Variants) == 0:
			o.ShareWords = "its part of what grip sets"
		default:
			o.ShareWords = "hangs on a ratio that isn't known"
		}
		t.Outputs = append(t.Outputs, o)
	}
}

// powerWords says where the power goes when an end is held: it is torque times speed,
// so that what stands still takes torque and no power.
func (r *telling) powerWords(e driveline.End) string {
	if r.isHeld(e) {
		return " into what holds it; no power, it stands still"
	}
	held, turning := false, 0
	for _, o := range r.Machine.Ends {
		switch {
		case r.isHeld(o):
			held = true
		case r.Motion.State[r.Net.Shaft(o.Shaft)] == network.Driven:
			turning++
		}
	}
	if held && turning == 1 && r.Motion.State[r.Net.Shaft(e.Shaft)] == network.Driven {
		return ", and all of the power"
	}
	return ""
}

// path finds the way from the input to a shaft through what is engaged.
func (r *telling) path(to string) []Step {
	type way struct {
		shaft   string
		element int
		from    *way
	}
	seen := map[string]bool{r.Machine.Input: true}
	queue := []*way{{shaft: r.Machine.Input, element: -1}}
	var found *way
	for len(queue) > 0 && found == nil {
		w := queue[0]
		queue = queue[1:]
		for i := range r.Machine.Net.Elements {
			e := &r.Machine.Net.Elements[i]
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

func (r *telling) step(element int, from, to string) Step {
	j := r.Machine.Joints[element]
	s := Step{Element: r.Machine.Net.Elements[element].ID, Part: j.Part.ID, Shaft: to, Words: j.Words}
	a, b := r.Net.Shaft(from), r.Net.Shaft(to)
	va, vb := r.Motion.Speed[a], r.Motion.Speed[b]
	known := len(r.Depends(a)) == 0 && len(r.Depends(b)) == 0 && r.Motion.State[a] != network.Free && r.Motion.State[b] != network.Free
	switch {
	case j.Unknown > 0:
		s.Note = "ratio not known"
	case known && !vb.IsZero():
		x, y := va.Div(vb), vb.Inv()
		s.Ratio, s.Product = &x, &y
		e := &r.Machine.Net.Elements[element]
		if e.Kind == network.Lock || e.Kind == network.Coupling {
			s.Ratio = &one
		}
		if va.Sign()*vb.Sign() < 0 && !j.Bevel && r.Machine.ByID[from].Axis == r.Machine.ByID[to].Axis {
			s.Note = "direction reversed"
		}
	case known:
		s.Note = "stands still"
	case r.Motion.State[b] == network.Free:
		s.Note = "free"
	}
	if src, ok := j.Part.Sources[j.Ratio]; ok && j.Ratio != "" {
		s.Source = &src
	}
	return s
}

// overall is the ratio to the driven wheels (their mean on the axle that
// drives first) or the propeller.
func (r *telling) overall(t *Trace) {
	for _, e := range r.Machine.Ends {
		if e.Kind == driveline.EndOpen && len(r.Machine.Ends) > 1 && r.Machine.Doc.Lies != driveline.Bench {
			continue
		}
		// The carrier speed is what a wheel does straight ahead.
		sh := e.Shaft
		if e.Kind == driveline.EndWheel || e.Part.Has(driveline.FinalDrive) {
			if c := r.Machine.CarrierOf(e.Part); c != "" {
				sh = c
			}
		}
		i := r.Net.Shaft(sh)
		if r.Motion.State[i] == network.Free || len(r.Depends(i)) > 0 || r.Motion.Speed[i].IsZero() {
			continue
		}
		v := r.Motion.Speed[i].Inv()
		if e.Kind == driveline.EndWheel {
			v = v.Mul(r.Machine.HubRatio(e.Part))
		}
		t.Overall = &OverallOut{Ratio: v, Shaft: sh, Words: fmt.Sprintf("%s input turns per turn of the %s", v.Abs().Short(3), say.Small(e.Name))}
		break
	}
	if i := r.Net.Shaft("road"); i >= 0 && r.Motion.State[i] != network.Free && len(r.Depends(i)) == 0 {
		if rpm, ok := r.Machine.InputRPM(); ok && r.Machine.TiresKnown() {
			v := r.Motion.Speed[i].Float() * rpm * 60 / 1000
			t.SpeedKMH = &v
		}
	}
}
