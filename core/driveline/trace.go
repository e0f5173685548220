package driveline

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// Solved is a solved machine.
type Solved struct {
	Machine  *Machine
	Net      *network.Compiled
	Motion   network.Motion
	Torque   network.Torque
	Stands   bool
	Variants []Variant
}

// variant is the same machine with one unknown ratio set to another value.
type Variant struct {
	Motion network.Motion
	Torque network.Torque
}

// solve runs the equations, and once more with the vehicle standing where
// nothing pushes it.
func (m *Machine) Solve() (*Solved, error) {
	r := &Solved{Machine: m}
	c, err := network.Compile(m.Net)
	if err != nil {
		return nil, fmt.Errorf("the parts make no network: %w", err)
	}
	r.Net = c
	r.Motion = c.Solve(m.Prefer)
	r.Torque = c.Torque(r.Motion, m.State.Losses)
	if road := c.Shaft("road"); road >= 0 && r.Torque.Starved && r.Motion.State[road] == network.Free {
		r.Stands = true
		m.Net.Elements = append(m.Net.Elements, network.Element{ID: "stands", Kind: network.Holder, Shaft: "road"})
		m.Net.Shafts = append(m.Net.Shafts, "road")
		m.Joints = append(m.Joints, Joint{Words: "the vehicle stands"})
		if r.Net, err = network.Compile(m.Net); err != nil {
			return nil, err
		}
		r.Motion = r.Net.Solve(m.Prefer)
		r.Torque = r.Net.Torque(r.Motion, m.State.Losses)
	}
	for k, u := range m.Unknowns {
		e := &m.Net.Elements[u.Element]
		was := *e
		if e.Kind == network.Planetary {
			e.TeethSun, e.TeethRing = placeholderTeeth(k+1, 1)
		} else {
			e.Ratio = placeholder(k+1, 1)
		}
		c, err := network.Compile(m.Net)
		*e = was
		if err != nil {
			return nil, err
		}
		v := Variant{Motion: c.Solve(m.Prefer)}
		v.Torque = c.Torque(v.Motion, m.State.Losses)
		r.Variants = append(r.Variants, v)
	}
	return r, nil
}

// depends lists the unknown ratios on which a shaft's speed hangs.
func (r *Solved) Depends(shaft int) []int {
	var out []int
	for k, v := range r.Variants {
		if v.Motion.State[shaft] != r.Motion.State[shaft] || !v.Motion.Speed[shaft].Equal(r.Motion.Speed[shaft]) {
			out = append(out, k)
		}
	}
	return out
}

// torqueKnown is whether a shaft's torque is fixed and hangs on nothing
// unknown.
func (r *Solved) TorqueKnown(shaft int) (exact.Number, bool) {
	if r.Torque.Starved || !r.Torque.Known[shaft] {
		return exact.Number{}, false
	}
	for _, v := range r.Variants {
		if v.Torque.Starved || !v.Torque.Known[shaft] || !v.Torque.Shaft[shaft].Equal(r.Torque.Shaft[shaft]) {
			return exact.Number{}, false
		}
	}
	return r.Torque.Shaft[shaft], true
}

// Want asks for the parts of a trace that cost more than one solution.
type Want struct {
	Gears  bool `json:"gears,omitempty"` // every gear × range
	Shifts bool `json:"shifts,omitempty"`
	Tests  bool `json:"tests,omitempty"` // on stands
	// SpeedKMH is the road speed for the shifts.
	SpeedKMH float64 `json:"speed_kmh,omitempty"`
}

// Run traces a driveline in a state. The document must have passed Check.
func Run(d *Document, s State, want Want) (*Trace, error) {
	m := Build(d, &s)
	if err := m.CheckState(&s); err != nil {
		return nil, err
	}
	r, err := m.Solve()
	if err != nil {
		return nil, err
	}
	t := r.trace()
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

// rpm is the input's speed, for print: by its own sign if given.
func (m *Machine) InputRPM() (float64, bool) {
	if in := m.State.Input; in != nil && in.RPM != 0 {
		return math.Abs(in.RPM), true
	}
	return 0, false
}

func (r *Solved) trace() *Trace {
	m := r.Machine
	t := &Trace{Input: m.Input, Shafts: []ShaftOut{}, Meshes: []MeshOut{}, Outputs: []OutputOut{}, Binds: []BindOut{}, Notes: []Note{},
		Selectors: m.Selectors, Unknown: []UnknownOut{}, Stands: r.Stands}
	if t.Selectors == nil {
		t.Selectors = []Selector{}
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
	t.Match = m.Doc.match(m)
	r.notes(t)
	r.weak(t)
	r.overall(t)
	r.sentence(t)
	return t
}

func (u Unknown) Words() string {
	n := say.Small(u.Part.Called())
	switch u.Ratio {
	case "ratio":
		return n
	case "low":
		return "low range of the " + n
	case "front":
		return "front drive of the " + n
	case "center":
		return "center differential of the " + n
	case "constant":
		return "constant mesh of the " + n
	case "change":
		return "change gears of the " + n
	case "second":
		return "second stage of the " + n
	case "ahead", "astern", "high":
		return u.Ratio + " of the " + n
	}
	return GearWords(u.Ratio) + " of the " + n
}

func (r *Solved) UnknownWords(list []int) []string {
	out := make([]string, len(list))
	for i, k := range list {
		out[i] = r.Machine.Unknowns[k].Words()
	}
	return out
}

func (r *Solved) shaftOut(s *Shaft, power []float64) ShaftOut {
	i := r.Net.Shaft(s.ID)
	out := ShaftOut{ID: s.ID, Part: s.Part.ID, Name: s.Name, Axis: s.Axis, State: string(r.Motion.State[i]), Drawn: r.Motion.Drawn[i].Float(), Power: power[i]}
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
			out.Direction = Turning(s.Axis, out.Sign, s.Behind)
		}
		out.Why = "how fast hangs on: " + strings.Join(out.Depends, ", ")
	case r.Motion.State[i] == network.Free:
		out.Direction = "free"
		out.Why = r.whyFree(i, s)
	default:
		v := speed
		out.Speed = &v
		out.Sign = v.Sign()
		out.Direction = Turning(s.Axis, out.Sign, s.Behind)
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
			out.TorqueWords = r.Machine.setBy()
		default:
			out.TorqueWords = "hangs on a ratio that isn't known"
		}
	}
	return out
}

// setBy is what decides a torque that the equations leave open.
func (m *Machine) setBy() string {
	if m.Doc.Lies == Boat {
		return "set by the water"
	}
	return "set by grip"
}

// power is the part of the input's power that each shaft passes on; where grip
// decides it, shares are drawn alike.
func (r *Solved) power() []float64 {
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
func (r *Solved) leadsTo(shaft int) int {
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
			p = r.Machine.parts[up]
		}
	}
	return n
}

func (r *Solved) meshes(t *Trace) {
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
