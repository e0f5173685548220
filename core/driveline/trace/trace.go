// Package trace tells of a solved driveline: what each shaft does and why, how
// power reaches every end, what binds, what a mechanic would remark, every gear
// in every range, what a shift has to close, and what to try by hand.
package trace

import (
	"math"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/match"
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
)

var one = exact.Int(1)

// telling tells of a solved machine.
type telling struct{ *driveline.Solved }

// Want asks for the parts of a trace that cost more than one solution.
type Want struct {
	Gears  bool `json:"gears,omitempty"` // every gear × range
	Shifts bool `json:"shifts,omitempty"`
	Tests  bool `json:"tests,omitempty"` // on stands
	// SpeedKMH is the road speed for the shifts.
	SpeedKMH float64 `json:"speed_kmh,omitempty"`
}

// Run traces a driveline in a state. The document must have passed Check.
func Run(d *driveline.Document, s driveline.State, want Want) (*Trace, error) {
	m := driveline.Build(d, &s)
	if err := m.CheckState(&s); err != nil {
		return nil, err
	}
	r, err := m.Solve()
	if err != nil {
		return nil, err
	}
	t := (&telling{r}).trace()
	if want.Gears || want.Shifts {
		if t.Gears, err = gearTable(d, s); err != nil {
			return nil, err
		}
	}
	if want.Shifts {
		if t.Shifts, err = shiftTable(d, s, want.SpeedKMH); err != nil {
			return nil, err
		}
		if !want.Gears {
			t.Gears = nil
		}
	}
	if want.Tests {
		if t.Tests, err = handTests(d); err != nil {
			return nil, err
		}
	}
	return t, nil
}

func (r *telling) trace() *Trace {
	m := r.Machine
	t := &Trace{Input: m.Input, Shafts: []ShaftOut{}, Meshes: []MeshOut{}, Outputs: []OutputOut{}, Binds: []BindOut{},
		Notes:     []driveline.Note{},
		Selectors: m.Selectors, Unknown: []UnknownOut{}, Stands: r.Stands}
	if t.Selectors == nil {
		t.Selectors = []driveline.Selector{}
	}
	for _, u := range m.Unknowns {
		t.Unknown = append(t.Unknown, UnknownOut{u.Part.ID, u.Ratio, u.Words()})
	}
	power := r.power()
	for _, s := range m.Shafts {
		t.Shafts = append(t.Shafts, r.shaftOut(s, power))
	}
	r.meshes(t)
	r.binds(t)
	r.outputs(t)
	r.corner(t)
	t.Match = match.Of(m)
	r.notes(t)
	r.weak(t)
	r.overall(t)
	r.sentence(t)
	return t
}

func (r *telling) shaftOut(s *driveline.Shaft, power []float64) ShaftOut {
	i := r.Net.Shaft(s.ID)
	out := ShaftOut{ID: s.ID, Part: s.Part.ID, Name: s.Name, Axis: s.Axis, State: string(r.Motion.State[i]),
		Drawn: r.Motion.Drawn[i].Float(), Power: power[i]}
	speed := r.Motion.Speed[i]
	deps := r.Depends(i)
	switch {
	case len(deps) > 0 && r.Motion.State[i] != network.Free:
		out.State = "unknown"
		out.Depends = r.UnknownWords(deps)
		out.Sign = speed.Sign()
		for _, k := range deps {
			if r.Variants[k].Motion.Speed[i].Sign() != out.Sign {
				out.Sign = 0
			}
		}
		out.Direction = "turns, which way isn't known"
		if out.Sign != 0 {
			out.Direction = driveline.Turning(s.Axis, out.Sign, s.Behind)
		}
		out.Why = "how fast hangs on: " + strings.Join(out.Depends, ", ")
	case r.Motion.State[i] == network.Free:
		out.Direction = "free"
		out.Why = r.whyFree(i, s)
	default:
		v := speed
		out.Speed = &v
		out.Sign = v.Sign()
		out.Direction = driveline.Turning(s.Axis, out.Sign, s.Behind)
		if !v.IsZero() {
			inv := v.Inv()
			out.Ratio = &inv
		}
		if rpm, ok := r.Machine.InputRPM(); ok {
			x := v.Float() * rpm
			out.RPM = &x
		}
		if in := r.Machine.State.Input; in != nil && !in.Turns.IsZero() {
			x := v.Mul(in.Turns.Abs())
			out.Turns = &x
		}
		if r.Motion.State[i] == network.Bound {
			out.Why = "in a bind: " + r.bindOf(i)
		}
	}
	if x, ok := r.TorqueKnown(i); ok {
		out.Torque = &x
	} else {
		switch {
		case r.Torque.Starved:
			out.TorqueWords = "none"
		case !r.Torque.Known[i]:
			out.TorqueWords = r.setBy()
		default:
			out.TorqueWords = "hangs on a ratio that isn't known"
		}
	}
	return out
}

// setBy is what decides a torque that the equations leave open.
func (r *telling) setBy() string {
	if r.Machine.Doc.Lies == driveline.Boat {
		return "set by the water"
	}
	return "set by grip"
}

// power is the part of the input's power that each shaft passes on; where grip
// decides it, shares are drawn alike.
func (r *telling) power() []float64 {
	out := make([]float64, len(r.Net.Names()))
	if r.Torque.Starved {
		return out
	}
	for i := range out {
		if r.Torque.Known[i] {
			out[i] = math.Abs(r.Torque.Shaft[i].Float() * r.Motion.Speed[i].Float())
		} else {
			out[i] = math.NaN()
		}
	}
	// Shafts set by grip: all alike among the outputs that they lead to.
	n := 0
	for _, e := range r.Machine.Ends {
		if i := r.Net.Shaft(e.Shaft); math.IsNaN(out[i]) {
			n++
		}
	}
	for i := range out {
		if math.IsNaN(out[i]) {
			out[i] = 1 / float64(max(n, 1)) * float64(max(1, r.leadsTo(i)))
		}
		out[i] = math.Min(out[i], 1)
	}
	return out
}

// leadsTo counts the outputs set by grip that are reached from a shaft without
// going back through its part's feed.
func (r *telling) leadsTo(shaft int) int {
	id := r.Net.Names()[shaft]
	s := r.Machine.ByID[id]
	if s == nil {
		return 0
	}
	n := 0
	for _, e := range r.Machine.Ends {
		if e.Shaft == id {
			return 1
		}
		for p := e.Part; p != nil && p.From != ""; {
			if r.Machine.Outs[p.From] == id {
				n++
				break
			}
			up, _, _ := strings.Cut(p.From, ".")
			p = r.Machine.Part(up)
		}
	}
	return n
}

func (r *telling) meshes(t *Trace) {
	power := r.power()
	// What each element passes on: the power that it puts into shafts.
	passes := make([]float64, len(r.Machine.Net.Elements))
	known := make([]bool, len(r.Machine.Net.Elements))
	for _, x := range r.Torque.Element {
		if x.Known {
			known[x.Element] = true
			if p := x.Torque.Float() * r.Motion.Speed[x.Shaft].Float(); p > 0 {
				passes[x.Element] += p
			}
		}
	}
	for i, e := range r.Machine.Net.Elements {
		switch e.Kind {
		case network.Mesh, network.Planetary, network.Differential, network.Coupling, network.Lock, network.Fluid:
		default:
			continue
		}
		x := MeshOut{ID: e.ID, Part: r.Machine.Joints[i].Part.ID, Kind: string(e.Kind), Open: e.Open, Words: r.Machine.Joints[i].Words}
		for _, s := range []string{e.A, e.B, e.Sun, e.Ring, e.Left, e.Right, e.Carrier} {
			if s != "" {
				x.Shafts = append(x.Shafts, s)
			}
		}
		if r.Machine.Joints[i].Unknown == 0 {
			for _, n := range []int{e.TeethA, e.TeethB, e.TeethSun, e.TeethRing} {
				if n > 0 {
					x.Teeth = append(x.Teeth, n)
				}
			}
		}
		if !e.Open && !r.Torque.Starved {
			if known[i] {
				x.Power = math.Min(passes[i], 1)
			} else if len(x.Shafts) > 1 {
				x.Power = power[r.Net.Shaft(x.Shafts[1])]
			}
		}
		t.Meshes = append(t.Meshes, x)
	}
}
