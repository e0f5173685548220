package driveline

import (
	"slices"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
)

// Axis is how a shaft lies.
type Axis string

// Axes.
const (
	Lengthwise Axis = "lengthwise"
	Crosswise  Axis = "crosswise"
	Upright    Axis = "upright"
)

// Shaft is one rotating piece.
type Shaft struct {
	ID   string
	Part *Part
	Name string
	Axis Axis
	// Behind says that its direction is named as seen from behind, as a
	// propeller's is.
	Behind bool
}

// Joint is what is known of an element besides its equation.
type Joint struct {
	Part  *Part
	Ratio string // which of the part's ratios it is; empty for clutches and locks
	Words string // what it is, for the path
	// unknown numbers the ratio among those not known, from 1; 0 is known.
	Unknown int
	Bevel   bool
	Solid   bool // both sides of a spool
}

// Machine is a document in a state, expanded to shafts and elements.
type Machine struct {
	Doc       *Document
	State     *State
	Net       network.Network
	Shafts    []*Shaft
	Joints    []Joint
	Selectors []Selector
	Outs      map[string]string // output port → shaft
	Ends      []End
	Prefer    []network.Preference
	Unknowns  []Unknown
	Factors   map[string]exact.Number // wheel → its path per path of the vehicle
	Input     string
	Root      string
	parts     map[string]*Part
	ByID      map[string]*Shaft
	senses    map[string]int // see sensesOf
}

// Unknown is a ratio that isn't known.
type Unknown struct {
	Element int
	Part    *Part
	Ratio   string
}

// End is where a driveline ends: a wheel, a propeller, or an output with
// nothing on it.
type End struct {
	Shaft string
	Part  *Part
	Kind  string // EndWheel, EndPropeller or EndOpen
	Name  string
}

var one = exact.Int(1)

// Build expands a checked document. Selections that are left out take their
// first position.
func Build(d *Document, s *State) *Machine {
	n := len(d.Parts)
	m := &Machine{Doc: d, State: s, Outs: make(map[string]string, n), parts: make(map[string]*Part, n), ByID: make(map[string]*Shaft, 3*n),
		Shafts: make([]*Shaft, 0, 3*n), Joints: make([]Joint, 0, 4*n)}
	m.Net.Shafts, m.Net.Elements = make([]string, 0, 3*n), make([]network.Element, 0, 4*n)
	for i := range d.Parts {
		m.parts[d.Parts[i].ID] = &d.Parts[i]
	}
	m.turn()
	for _, p := range d.inOrder() {
		in := ""
		if p.From == "" {
			if axis := p.Traits().Axis; axis != "" {
				in = m.add(p, "in", Of(p, "input"), axis)
				m.Root = in
			}
		} else {
			in = m.Outs[p.From]
		}
		m.expand(p, in)
	}
	for _, p := range d.Parts {
		for _, port := range p.Ports() {
			key := p.ID
			if port != "" {
				key += "." + port
			}
			if d.Feeds(key) {
				continue
			}
			if sh := m.Outs[key]; sh != "" {
				m.Ends = append(m.Ends, End{sh, m.parts[p.ID], EndOpen, m.ByID[sh].Name})
				if d.Lies == Bench && !slices.Contains(s.Hold, sh) {
					m.Element(m.parts[p.ID], network.Element{ID: key + ".load", Kind: network.Load, Shaft: sh}, Joint{})
				}
			}
		}
	}
	m.hold()
	return m
}

// InputOf is the shaft that drives a part: its own input where nothing feeds it.
func (m *Machine) InputOf(p *Part) string {
	if p.From == "" {
		return p.ID + ".in"
	}
	return m.Outs[p.From]
}

func (d *Document) Feeds(port string) bool {
	for i := range d.Parts {
		if d.Parts[i].From == port {
			return true
		}
	}
	return false
}

// inOrder lists parts so that each comes after the one that feeds it.
func (d *Document) inOrder() []*Part {
	out := make([]*Part, 0, len(d.Parts))
	done := map[string]bool{}
	for len(out) < len(d.Parts) {
		n := len(out)
		for i := range d.Parts {
			p := &d.Parts[i]
			id, _, _ := strings.Cut(p.From, ".")
			if !done[p.ID] && (p.From == "" || done[id]) {
				out, done[p.ID] = append(out, p), true
			}
		}
		if len(out) == n {
			break // a loop, which Check refuses
		}
	}
	return out
}

// hold adds what is held, what is turned, and how free shafts are drawn.
func (m *Machine) hold() {
	m.Input = m.Root
	if in := m.State.Input; in != nil && m.ByID[in.Shaft] != nil {
		m.Input = in.Shaft
	}
	for i, id := range m.State.Hold {
		if sh := m.Holdable(id); sh != "" {
			m.Element(m.ByID[sh].Part, network.Element{ID: "hold " + id + " " + exact.Int(int64(i)).String(),
				Kind: network.Holder, Shaft: sh}, Joint{Words: "held"})
		}
	}
	if m.Input != m.Root && m.State.Engine != "free" && m.State.Engine != "running" {
		if m.byEngine() {
			m.Element(m.ByID[m.Root].Part, network.Element{ID: "engine stopped", Kind: network.Holder, Shaft: m.Root},
				Joint{Words: "the stopped engine holds it"})
		}
	}
	speed := one
	if in := m.State.Input; in != nil && (in.RPM < 0 || in.Turns.Sign() < 0) {
		speed = speed.Neg()
	}
	if m.against() {
		speed = speed.Neg()
	}
	m.Element(m.ByID[m.Input].Part, network.Element{ID: "input", Kind: network.Drive, Shaft: m.Input, Speed: speed}, Joint{Words: "turned"})
	for _, e := range m.Ends {
		m.Prefer = append(m.Prefer, network.Preference{A: e.Shaft})
	}
	for _, s := range m.Shafts {
		m.Prefer = append(m.Prefer, network.Preference{A: s.ID})
	}
}

func (m *Machine) Part(id string) *Part   { return m.parts[id] }
func (m *Machine) Shaft(id string) *Shaft { return m.ByID[id] }

// Holdable is the shaft meant by a shaft's or a wheel's name.
func (m *Machine) Holdable(id string) string {
	if m.ByID[id] != nil {
		return id
	}
	if p := m.parts[id]; p != nil && p.Wheel != nil {
		return id + ".wheel"
	}
	return ""
}

// add puts in a shaft of a part.
func (m *Machine) add(p *Part, local, name string, axis Axis) string {
	s := &Shaft{ID: p.ID + "." + local, Part: p, Name: name, Axis: axis}
	m.Shafts = append(m.Shafts, s)
	m.ByID[s.ID] = s
	m.Net.Shafts = append(m.Net.Shafts, s.ID)
	return s.ID
}

func (m *Machine) Element(p *Part, e network.Element, j Joint) {
	j.Part = p
	m.Net.Elements = append(m.Net.Elements, e)
	m.Joints = append(m.Joints, j)
}

func (m *Machine) Broken(p *Part) bool {
	for _, id := range m.State.Broken {
		if id == p.ID {
			return true
		}
	}
	return false
}

// choose adds a selector and returns its position.
func (m *Machine) choose(p *Part, role Role, local, name string, options ...SelectorOption) string {
	s := Selector{ID: p.ID, Part: p.ID, Name: name, Role: role, Options: options, Value: options[0].Value}
	if local != "" {
		s.ID += "." + local
	}
	if v, ok := m.State.Select[s.ID]; ok && s.Option(v) != nil {
		s.Value = v
	}
	m.Selectors = append(m.Selectors, s)
	return s.Value
}

// Typical efficiencies: Niemann/Winter, Maschinenelemente II (spur, bevel,
// hypoid and planetary gears), chain makers' handbooks. They are typical, not
// this unit's.
var (
	spurEfficiency      = exact.New(985, 1000)
	bevelEfficiency     = exact.New(97, 100)
	hypoidEfficiency    = exact.New(95, 100)
	planetaryEfficiency = exact.New(98, 100)
	chainEfficiency     = exact.New(97, 100)
)

// gears adds a mesh of a driver on shaft a with a driven gear on shaft b. With
// neither teeth nor ratio it is unknown.
func (m *Machine) gears(p *Part, id, name, a, b string, driver, driven int, r exact.Number, sense network.Sense, words string) {
	e := network.Element{ID: p.ID + "." + id, Kind: network.Mesh, A: a, B: b, TeethA: driver, TeethB: driven, Sense: sense, Efficiency: spurEfficiency}
	j := Joint{Ratio: name, Words: words}
	switch {
	case driver == 0 && r.IsZero():
		m.Unknowns = append(m.Unknowns, Unknown{len(m.Net.Elements), p, name})
		j.Unknown = len(m.Unknowns)
		e.Ratio = placeholder(j.Unknown, 0)
	case driver == 0:
		e.Ratio = r
	}
	switch sense {
	case network.Chain:
		e.Efficiency = chainEfficiency
	case network.Same, network.Opposite:
		j.Bevel = true
		e.Efficiency = bevelEfficiency
		if p.Axle != nil && p.Axle.Offset {
			e.Efficiency = hypoidEfficiency
		}
	}
	m.Element(p, e, j)
}

// planets adds a planetary set.
func (m *Machine) planets(p *Part, id, name, sun, ring, carrier string, zs, zr int, paired bool, words string) {
	e := network.Element{ID: p.ID + "." + id, Kind: network.Planetary, Sun: sun, Ring: ring, Carrier: carrier, TeethSun: zs, TeethRing: zr,
		Paired: paired, Efficiency: planetaryEfficiency}
	j := Joint{Ratio: name, Words: words}
	if zs == 0 {
		m.Unknowns = append(m.Unknowns, Unknown{len(m.Net.Elements), p, name})
		j.Unknown = len(m.Unknowns)
		e.TeethSun, e.TeethRing = placeholderTeeth(j.Unknown, 0)
	}
	m.Element(p, e, j)
}

// Passes is what a part does between its input and its output in the present
// selection.
func (m *Machine) Passes(p *Part) Passed {
	if m.Broken(p) {
		return Passed{Ratio: one, Known: true, Open: true}
	}
	return p.made().passes(m.standing(p))
}

// standing says where a part's selectors stand.
func (m *Machine) standing(p *Part) func(local string) string {
	return func(local string) string {
		if local == "" {
			return m.Selected(p.ID)
		}
		return m.Selected(p.ID + "." + local)
	}
}

// Split is how a part shares torque between its outputs as it stands.
func (m *Machine) Split(p *Part) *Split {
	made := p.made()
	if s := made.shares(m.standing(p)); s != nil {
		return s
	}
	s := &Split{}
	for _, port := range made.ports() {
		s.Branches = append(s.Branches, branch(port))
	}
	return s
}

// placeholder is a ratio that no real pair makes, so that what does not depend
// on an unknown ratio comes out the same with two of them.
func placeholder(k, variant int) exact.Number {
	return exact.New(int64(1009+26*k+312*variant), int64(397+6*k-44*variant))
}

func placeholderTeeth(k, variant int) (sun, ring int) {
	return 331 + 2*k + 36*variant, 877 + 4*k - 60*variant
}

// couple joins two shafts, if closed.
func (m *Machine) couple(p *Part, kind network.Kind, id, a, b string, closed bool, words string) {
	m.Element(p, network.Element{ID: p.ID + "." + id, Kind: kind, A: a, B: b, Open: !closed}, Joint{Words: words})
}

// split adds a plain differential.
func (m *Machine) split(p *Part, id, left, right, carrier string) {
	m.Element(p, network.Element{ID: p.ID + "." + id, Kind: network.Differential, Left: left, Right: right,
		Carrier: carrier}, Joint{Words: "differential"})
	m.Prefer = append(m.Prefer, network.Preference{A: left, B: right})
}
