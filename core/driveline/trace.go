package driveline

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// result is a solved machine.
type result struct {
	m        *machine
	c        *network.Compiled
	motion   network.Motion
	torque   network.Torque
	stands   bool
	variants []variant
}

// variant is the same machine with one unknown ratio set to another value.
type variant struct {
	motion network.Motion
	torque network.Torque
}

// solve runs the equations, and once more with the vehicle standing where
// nothing pushes it.
func (m *machine) solve() (*result, error) {
	r := &result{m: m}
	c, err := network.Compile(m.net)
	if err != nil {
		return nil, fmt.Errorf("the parts make no network: %w", err)
	}
	r.c = c
	r.motion = c.Solve(m.prefer)
	r.torque = c.Torque(r.motion, m.state.Losses)
	if road := c.Shaft("road"); road >= 0 && r.torque.Starved && r.motion.State[road] == network.Free {
		r.stands = true
		m.net.Elements = append(m.net.Elements, network.Element{ID: "stands", Kind: network.Holder, Shaft: "road"})
		m.net.Shafts = append(m.net.Shafts, "road")
		m.joints = append(m.joints, joint{words: "the vehicle stands"})
		if r.c, err = network.Compile(m.net); err != nil {
			return nil, err
		}
		r.motion = r.c.Solve(m.prefer)
		r.torque = r.c.Torque(r.motion, m.state.Losses)
	}
	for k, u := range m.unknowns {
		e := &m.net.Elements[u.element]
		was := *e
		if e.Kind == network.Planetary {
			e.TeethSun, e.TeethRing = placeholderTeeth(k+1, 1)
		} else {
			e.Ratio = placeholder(k+1, 1)
		}
		c, err := network.Compile(m.net)
		*e = was
		if err != nil {
			return nil, err
		}
		v := variant{motion: c.Solve(m.prefer)}
		v.torque = c.Torque(v.motion, m.state.Losses)
		r.variants = append(r.variants, v)
	}
	return r, nil
}

// depends lists the unknown ratios on which a shaft's speed hangs.
func (r *result) depends(shaft int) []int {
	var out []int
	for k, v := range r.variants {
		if v.motion.State[shaft] != r.motion.State[shaft] || !v.motion.Speed[shaft].Equal(r.motion.Speed[shaft]) {
			out = append(out, k)
		}
	}
	return out
}

// torqueKnown is whether a shaft's torque is fixed and hangs on nothing
// unknown.
func (r *result) torqueKnown(shaft int) (exact.Number, bool) {
	if r.torque.Starved || !r.torque.Known[shaft] {
		return exact.Number{}, false
	}
	for _, v := range r.variants {
		if v.torque.Starved || !v.torque.Known[shaft] || !v.torque.Shaft[shaft].Equal(r.torque.Shaft[shaft]) {
			return exact.Number{}, false
		}
	}
	return r.torque.Shaft[shaft], true
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
	m := build(d, &s)
	if err := m.checkState(&s); err != nil {
		return nil, err
	}
	r, err := m.solve()
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
func (m *machine) inputRPM() (float64, bool) {
	if in := m.state.Input; in != nil && in.RPM != 0 {
		return math.Abs(in.RPM), true
	}
	return 0, false
}

func (r *result) trace() *Trace {
	m := r.m
	t := &Trace{Input: m.input, Shafts: []ShaftOut{}, Meshes: []MeshOut{}, Outputs: []OutputOut{}, Binds: []BindOut{}, Notes: []Note{},
		Selectors: m.selectors, Unknown: []UnknownOut{}, Stands: r.stands}
	if t.Selectors == nil {
		t.Selectors = []Selector{}
	}
	for _, u := range m.unknowns {
		t.Unknown = append(t.Unknown, UnknownOut{u.part.ID, u.ratio, u.words()})
	}
	power := r.power()
	for _, s := range m.shafts {
		t.Shafts = append(t.Shafts, r.shaftOut(s, power))
	}
	r.meshes(t)
	r.binds(t)
	r.outputs(t)
	r.corner(t)
	t.Match = m.doc.match(m)
	r.notes(t)
	r.weak(t)
	r.overall(t)
	r.sentence(t)
	return t
}

func (u unknown) words() string {
	n := say.Small(u.part.name())
	switch u.ratio {
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
		return u.ratio + " of the " + n
	}
	return gearWords(u.ratio) + " of the " + n
}

func (r *result) unknownWords(list []int) []string {
	out := make([]string, len(list))
	for i, k := range list {
		out[i] = r.m.unknowns[k].words()
	}
	return out
}

func (r *result) shaftOut(s *shaft, power []float64) ShaftOut {
	i := r.c.Shaft(s.id)
	out := ShaftOut{ID: s.id, Part: s.part.ID, Name: s.name, Axis: s.axis, State: string(r.motion.State[i]), Drawn: r.motion.Drawn[i].Float(), Power: power[i]}
	prop := s.part.Kind == "propeller" || (s.part.Kind == "gearcase" && s.axis == Lengthwise)
	speed := r.motion.Speed[i]
	deps := r.depends(i)
	switch {
	case len(deps) > 0 && r.motion.State[i] != network.Free:
		out.State = "unknown"
		out.Depends = r.unknownWords(deps)
		out.Sign = speed.Sign()
		for _, k := range deps {
			if r.variants[k].motion.Speed[i].Sign() != out.Sign {
				out.Sign = 0
			}
		}
		out.Direction = "turns, which way isn't known"
		if out.Sign != 0 {
			out.Direction = turning(s.axis, out.Sign, prop)
		}
		out.Why = "how fast hangs on: " + strings.Join(out.Depends, ", ")
	case r.motion.State[i] == network.Free:
		out.Direction = "free"
		out.Why = r.whyFree(i, s)
	default:
		v := speed
		out.Speed = &v
		out.Sign = v.Sign()
		out.Direction = turning(s.axis, out.Sign, prop)
		if !v.IsZero() {
			inv := v.Inv()
			out.Ratio = &inv
		}
		if rpm, ok := r.m.inputRPM(); ok {
			x := v.Float() * rpm
			out.RPM = &x
		}
		if in := r.m.state.Input; in != nil && !in.Turns.IsZero() {
			x := v.Mul(in.Turns.Abs())
			out.Turns = &x
		}
		if r.motion.State[i] == network.Bound {
			out.Why = "in a bind: " + r.bindOf(i)
		}
	}
	if x, ok := r.torqueKnown(i); ok {
		out.Torque = &x
	} else {
		switch {
		case r.torque.Starved:
			out.TorqueWords = "none"
		case !r.torque.Known[i]:
			out.TorqueWords = r.m.setBy()
		default:
			out.TorqueWords = "hangs on a ratio that isn't known"
		}
	}
	return out
}

// setBy is what decides a torque that the equations leave open.
func (m *machine) setBy() string {
	if m.doc.Lies == Boat {
		return "set by the water"
	}
	return "set by grip"
}

// power is the part of the input's power that each shaft passes on; where grip
// decides it, shares are drawn alike.
func (r *result) power() []float64 {
	out := make([]float64, len(r.c.Names()))
	if r.torque.Starved {
		return out
	}
	for i := range out {
		if r.torque.Known[i] {
			out[i] = math.Abs(r.torque.Shaft[i].Float() * r.motion.Speed[i].Float())
		} else {
			out[i] = math.NaN()
		}
	}
	// Shafts set by grip: all alike among the outputs that they lead to.
	n := 0
	for _, e := range r.m.ends {
		if i := r.c.Shaft(e.shaft); math.IsNaN(out[i]) {
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
func (r *result) leadsTo(shaft int) int {
	id := r.c.Names()[shaft]
	s := r.m.byID[id]
	if s == nil {
		return 0
	}
	n := 0
	for _, e := range r.m.ends {
		if e.shaft == id {
			return 1
		}
		for p := e.part; p != nil && p.From != ""; {
			if r.m.outs[p.From] == id {
				n++
				break
			}
			up, _, _ := strings.Cut(p.From, ".")
			p = r.m.parts[up]
		}
	}
	return n
}

func (r *result) meshes(t *Trace) {
	power := r.power()
	// What each element passes on: the power that it puts into shafts.
	passes := make([]float64, len(r.m.net.Elements))
	known := make([]bool, len(r.m.net.Elements))
	for _, x := range r.torque.Element {
		if x.Known {
			known[x.Element] = true
			if p := x.Torque.Float() * r.motion.Speed[x.Shaft].Float(); p > 0 {
				passes[x.Element] += p
			}
		}
	}
	for i, e := range r.m.net.Elements {
		switch e.Kind {
		case network.Mesh, network.Planetary, network.Differential, network.Coupling, network.Lock, network.Fluid:
		default:
			continue
		}
		x := MeshOut{ID: e.ID, Part: r.m.joints[i].part.ID, Kind: string(e.Kind), Open: e.Open, Words: r.m.joints[i].words}
		for _, s := range []string{e.A, e.B, e.Sun, e.Ring, e.Left, e.Right, e.Carrier} {
			if s != "" {
				x.Shafts = append(x.Shafts, s)
			}
		}
		if r.m.joints[i].unknown == 0 {
			for _, n := range []int{e.TeethA, e.TeethB, e.TeethSun, e.TeethRing} {
				if n > 0 {
					x.Teeth = append(x.Teeth, n)
				}
			}
		}
		if !e.Open && !r.torque.Starved {
			if known[i] {
				x.Power = math.Min(passes[i], 1)
			} else if len(x.Shafts) > 1 {
				x.Power = power[r.c.Shaft(x.Shafts[1])]
			}
		}
		t.Meshes = append(t.Meshes, x)
	}
}
