package trace

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/match"
	"zorvel/core/driveline/network"
	"zorvel/core/say"
)

// notes says what a mechanic would remark.
func (r *telling) notes(t *Trace) {
	add := func(kind string, p *driveline.Part, format string, args ...any) {
		id := ""
		if p != nil {
			id = p.ID
		}
		t.Notes = append(t.Notes, driveline.Note{Kind: kind, Part: id, Text: fmt.Sprintf(format, args...)})
	}
	m := r.Machine
	t.Notes = append(t.Notes, r.Remarks()...)
	if r.Torque.Starved {
		r.starvedNotes(add)
	}
	for _, e := range m.Ends {
		if e.Kind == driveline.EndWheel && m.WheelState(e.Part) == driveline.OnIce {
			add("fact", e.Part, "The %s has next to no grip: taken as passing no torque on; traction with a grip "+
				"of your own shows the rest.", say.Small(e.Name))
		}
	}
}

// starvedNotes says what keeps torque from getting through.
func (r *telling) starvedNotes(add func(kind string, p *driveline.Part, format string, args ...any)) {
	m := r.Machine
	for _, s := range m.Selectors {
		if o := s.Stands(); o.Neutral {
			p := m.Part(s.Part)
			add("fact", p, "No torque passes the %s: %s.", say.Small(p.Called()), o.Words)
			return
		}
	}
	for _, id := range m.State.Broken {
		if p := m.Part(id); p != nil {
			add("wrong", p, "The %s is taken as broken: nothing passes it.", say.Small(p.Called()))
		}
	}
	var loose []string
	for _, e := range m.Ends {
		switch {
		case e.Kind == driveline.EndWheel && m.WheelState(e.Part) == driveline.Lifted:
			loose = append(loose, say.Small(e.Name)+" is off the ground")
		case e.Kind == driveline.EndWheel && m.WheelState(e.Part) == driveline.OnIce:
			loose = append(loose, say.Small(e.Name)+" is on ice")
		case e.Kind == driveline.EndOpen && m.Doc.Lies != driveline.Bench:
			loose = append(loose, "nothing is on the "+say.Small(e.Name))
		}
	}
	if len(loose) > 0 && len(r.Motion.Binds) == 0 {
		add("fact", nil, "No drive: %s, and an open differential gives its other side no more torque than that. A lock, "+
			"a limited slip with the brake on, or a hand on the loose side brings it back.", strings.Join(loose, ", "))
	}
}

// corner fills what a turn asks.
func (r *telling) corner(t *Trace) {
	c := r.Machine.State.Corner
	if c == nil {
		return
	}
	d := r.Machine.Doc
	out := &CornerOut{RadiusM: c.RadiusM, Toward: c.Toward, TrackMM: d.TrackMM(), WheelbaseMM: d.WheelbaseMM(),
		Wheels: []WheelPath{}, Spiders: []SpiderSpeed{}}
	out.AssumedSizes = d.Body == nil || d.Body.TrackMM == 0 || d.Body.WheelbaseMM == 0
	for i := range d.Parts {
		p := &d.Parts[i]
		if p.Wheel == nil {
			continue
		}
		f := r.Machine.Factors[p.ID]
		half, sign := d.TrackMM()/2000, "+"
		if p.Wheel.Side == c.Toward {
			sign = "−"
		}
		formula := fmt.Sprintf("%s m %s %s m", say.Trim(c.RadiusM, 3), sign, say.Trim(half, 3))
		if x := d.AheadMM(p.Wheel); x != 0 {
			formula = fmt.Sprintf("√((%s)² + (%s m)²)", formula, say.Trim(math.Abs(x)/1000, 3))
		}
		out.Wheels = append(out.Wheels, WheelPath{Part: p.ID, RadiusM: f.Float() * c.RadiusM, Factor: f, Formula: formula})
	}
	for i, e := range r.Machine.Net.Elements {
		a, k := e.Left, e.Carrier
		switch e.Kind {
		case network.Differential:
		case network.Planetary:
			if r.Machine.Joints[i].Ratio != "center" {
				continue
			}
			a = e.Ring
		default:
			continue
		}
		ia, ik := r.Net.Shaft(a), r.Net.Shaft(k)
		if r.Motion.State[ik] == network.Free || r.Motion.State[ia] == network.Free || r.Motion.Speed[ik].IsZero() ||
			len(r.Depends(ia)) > 0 || len(r.Depends(ik)) > 0 {
			continue
		}
		p := r.Machine.Joints[i].Part
		v := r.Motion.Speed[ia].Sub(r.Motion.Speed[ik]).Div(r.Motion.Speed[ik])
		s := SpiderSpeed{Part: p.ID, Against: v, Formula: fmt.Sprintf("(%s − %s) ÷ %s, speeds per input turn",
			r.Motion.Speed[ia].Short(5), r.Motion.Speed[ik].Short(5), r.Motion.Speed[ik].Short(5))}
		if rpm, ok := r.Machine.InputRPM(); ok {
			s.RPM = math.Abs(r.Motion.Speed[ia].Sub(r.Motion.Speed[ik]).Float()) * rpm
		}
		out.Spiders = append(out.Spiders, s)
	}
	r.cornerSlip(out)
	t.Corner = out
}

// cornerSlip is how far front and rear differ over a full circle.
func (r *telling) cornerSlip(out *CornerOut) {
	var front, rear []float64
	for i := range r.Machine.Doc.Parts {
		p := &r.Machine.Doc.Parts[i]
		if p.Wheel == nil {
			continue
		}
		f := r.Machine.Factors[p.ID].Float()
		if p.Wheel.At == "front" {
			front = append(front, f)
		} else {
			rear = append(rear, f)
		}
	}
	if len(front) == 0 || len(rear) == 0 {
		return
	}
	mean := func(x []float64) float64 {
		s := 0.0
		for _, v := range x {
			s += v
		}
		return s / float64(len(x))
	}
	g := 1.0
	all := match.Of(r.Machine)
	for i := range r.Machine.Doc.Parts {
		p := &r.Machine.Doc.Parts[i]
		if b := p.Between(); b != nil && b.Ends != "" { // between front and rear
			if mt := all.At(p.ID); mt != nil && mt.Mismatch != nil {
				g += mt.Mismatch.Float()
			}
		}
	}
	// The front travels mean(front)·2πR; locked to the rear its tires turn for
	// mean(rear)·2πR ÷ (1 + mismatch).
	circle := 2 * math.Pi * out.RadiusM
	out.SlipMPerCircle = (mean(front) - mean(rear)/g) * circle
	out.SlipFormula = fmt.Sprintf("2π × %s m × (front %s − rear %s ÷ %s)", say.Trim(out.RadiusM, 3),
		say.Trim(mean(front), 5), say.Trim(mean(rear), 5), say.Trim(g, 5))
}

// sentence is the answer in one line.
func (r *telling) sentence(t *Trace) {
	in := say.Small(r.Machine.ByID[r.Machine.Input].Name)
	for _, b := range t.Binds {
		if b.Cut == "" {
			t.Sentence = "Nothing can turn: " + b.Words + "."
			return
		}
	}
	tail := ""
	if len(t.Binds) > 0 {
		tail = " It binds"
		if p := t.Binds[0].Percent; p != nil {
			tail += " by " + say.Trim(math.Abs(*p), 2) + " %"
		}
		tail += "."
	}
	ends := t.Outputs
	moving := slices.DeleteFunc(slices.Clone(ends), func(o OutputOut) bool { return r.Motion.State[r.Net.Shaft(o.Shaft)] == network.Still })
	switch {
	case t.Stands && len(moving) == 0:
		t.Sentence = "The vehicle stays put: nothing reaches the wheels." + tail
	case t.Overall != nil && len(moving) > 0:
		o := t.Overall
		end := r.Machine.Ends[0]
		for _, e := range r.Machine.Ends {
			if e.Shaft == o.Shaft || r.Machine.CarrierOf(e.Part) == o.Shaft {
				end = e
				break
			}
		}
		who := "wheels"
		switch {
		case end.Kind == driveline.EndOpen && end.Part.Has(driveline.FinalDrive):
			who = "carrier"
		case end.Kind != driveline.EndWheel:
			who = say.Small(end.Name)
		}
		// A wheel's sign counts the hubs behind the carrier in.
		sign := o.Ratio.Sign()
		axis := r.Machine.ByID[end.Shaft].Axis
		do, way := "turns of the %s turn", driveline.Turning(axis, sign, r.Machine.ByID[end.Shaft].Behind)
		if o.Ratio.Abs().Equal(one) {
			do = "turn of the %s turns"
		}
		if axis == driveline.Crosswise {
			way = strings.TrimPrefix(way, "rolls ")
		}
		t.Sentence = fmt.Sprintf("%s "+do+" the %s once, %s.%s", o.Ratio.Abs().Short(3), in, who, way, tail)
		if t.Stands {
			t.Sentence += " The vehicle stays put."
		}
	case len(t.Unknown) > 0:
		t.Sentence = "How fast the ends turn hangs on what isn't known yet: " + t.Unknown[0].Words + more(len(t.Unknown)-1) + "." + tail
	case len(moving) == 0:
		t.Sentence = "Turning the " + in + " moves none of the ends." + tail
	default:
		t.Sentence = "The " + in + " turns; what the ends do is decided by what drags less." + tail
	}
}

func more(n int) string {
	if n == 0 {
		return ""
	}
	return fmt.Sprintf(" and %d more", n)
}
