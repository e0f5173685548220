package driveline

import (
	"slices"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// Axis is how a shaft lies.
type Axis string

// Axes.
const (
	Lengthwise Axis = "lengthwise"
	Crosswise  Axis = "crosswise"
	Upright    Axis = "upright"
)

// shaft is one rotating piece.
type shaft struct {
	id   string
	part *Part
	name string
	axis Axis
}

// joint is what is known of an element besides its equation.
type joint struct {
	part  *Part
	ratio string // which of the part's ratios it is; empty for clutches and locks
	words string // what it is, for the path
	// unknown numbers the ratio among those not known, from 1; 0 is known.
	unknown int
	bevel   bool
}

// machine is a document in a state, expanded to shafts and elements.
type machine struct {
	doc       *Document
	state     *State
	net       network.Network
	shafts    []*shaft
	joints    []joint
	selectors []Selector
	outs      map[string]string // output port → shaft
	ends      []end
	prefer    []network.Preference
	unknowns  []unknown
	factors   map[string]exact.Number // wheel → its path per path of the vehicle
	input     string
	root      string
	parts     map[string]*Part
	byID      map[string]*shaft
	senses    map[string]int // see sensesOf
}

// unknown is a ratio that isn't known.
type unknown struct {
	element int
	part    *Part
	ratio   string
}

// end is where a driveline ends: a wheel, a propeller, or an output with
// nothing on it.
type end struct {
	shaft string
	part  *Part
	kind  string // wheel, propeller, open
	name  string
}

var one = exact.Int(1)

// build expands a checked document. Selections that are left out take their
// first position.
func build(d *Document, s *State) *machine {
	n := len(d.Parts)
	m := &machine{doc: d, state: s, outs: make(map[string]string, n), parts: make(map[string]*Part, n), byID: make(map[string]*shaft, 3*n),
		shafts: make([]*shaft, 0, 3*n), joints: make([]joint, 0, 4*n)}
	m.net.Shafts, m.net.Elements = make([]string, 0, 3*n), make([]network.Element, 0, 4*n)
	for i := range d.Parts {
		m.parts[d.Parts[i].ID] = &d.Parts[i]
	}
	m.turn()
	for _, p := range d.inOrder() {
		in := ""
		if p.From == "" {
			if p.Kind != "engine" {
				axis := Lengthwise
				switch {
				case p.Kind == "gearcase":
					axis = Upright
				case p.Kind == "axle" && p.Axle.Gears == "spur", p.Kind == "hub":
					axis = Crosswise
				}
				in = m.add(p, "in", "input of the "+say.Small(p.name()), axis)
				m.root = in
			}
		} else {
			in = m.outs[p.From]
		}
		m.expand(p, in)
	}
	for _, p := range d.Parts {
		for _, port := range p.ports() {
			key := p.ID
			if port != "" {
				key += "." + port
			}
			if d.feeds(key) {
				continue
			}
			if sh := m.outs[key]; sh != "" {
				m.ends = append(m.ends, end{sh, m.parts[p.ID], "open", m.byID[sh].name})
				if d.Lies == Bench && !slices.Contains(s.Hold, sh) {
					m.element(m.parts[p.ID], network.Element{ID: key + ".load", Kind: network.Load, Shaft: sh}, joint{})
				}
			}
		}
	}
	m.hold()
	return m
}

// inputOf is the shaft that drives a part: its own input where nothing feeds it.
func (m *machine) inputOf(p *Part) string {
	if p.From == "" {
		return p.ID + ".in"
	}
	return m.outs[p.From]
}

func (d *Document) feeds(port string) bool {
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
func (m *machine) hold() {
	m.input = m.root
	if in := m.state.Input; in != nil && m.byID[in.Shaft] != nil {
		m.input = in.Shaft
	}
	for i, id := range m.state.Hold {
		if sh := m.holdable(id); sh != "" {
			m.element(m.byID[sh].part, network.Element{ID: "hold " + id + " " + exact.Int(int64(i)).String(), Kind: network.Holder, Shaft: sh}, joint{words: "held"})
		}
	}
	if m.input != m.root && m.state.Engine != "free" && m.state.Engine != "running" {
		if p := m.byID[m.root].part; p.Kind == "engine" {
			m.element(p, network.Element{ID: "engine stopped", Kind: network.Holder, Shaft: m.root}, joint{words: "the stopped engine holds it"})
		}
	}
	speed := one
	if in := m.state.Input; in != nil && (in.RPM < 0 || in.Turns.Sign() < 0) {
		speed = speed.Neg()
	}
	if e := m.byID[m.input].part.Engine; e != nil && e.Rotation == "opposite" {
		speed = speed.Neg()
	}
	m.element(m.byID[m.input].part, network.Element{ID: "input", Kind: network.Drive, Shaft: m.input, Speed: speed}, joint{words: "turned"})
	for _, e := range m.ends {
		m.prefer = append(m.prefer, network.Preference{A: e.shaft})
	}
	for _, s := range m.shafts {
		m.prefer = append(m.prefer, network.Preference{A: s.id})
	}
}

func (m *machine) part(id string) *Part   { return m.parts[id] }
func (m *machine) shaft(id string) *shaft { return m.byID[id] }

// holdable is the shaft meant by a shaft's or a wheel's name.
func (m *machine) holdable(id string) string {
	if m.byID[id] != nil {
		return id
	}
	if p := m.parts[id]; p != nil && p.Kind == "wheel" {
		return id + ".wheel"
	}
	return ""
}

// add puts in a shaft of a part.
func (m *machine) add(p *Part, local, name string, axis Axis) string {
	s := &shaft{id: p.ID + "." + local, part: p, name: name, axis: axis}
	m.shafts = append(m.shafts, s)
	m.byID[s.id] = s
	m.net.Shafts = append(m.net.Shafts, s.id)
	return s.id
}

func (m *machine) element(p *Part, e network.Element, j joint) {
	j.part = p
	m.net.Elements = append(m.net.Elements, e)
	m.joints = append(m.joints, j)
}

func (m *machine) broken(p *Part) bool {
	for _, id := range m.state.Broken {
		if id == p.ID {
			return true
		}
	}
	return false
}

// choose adds a selector and returns its position.
func (m *machine) choose(p *Part, local, name string, options ...SelectorOption) string {
	s := Selector{ID: p.ID, Part: p.ID, Name: name, Options: options, Value: options[0].Value}
	if local != "" {
		s.ID += "." + local
	}
	if v, ok := m.state.Select[s.ID]; ok && s.option(v) != nil {
		s.Value = v
	}
	m.selectors = append(m.selectors, s)
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
func (m *machine) gears(p *Part, id, name, a, b string, driver, driven int, r exact.Number, sense network.Sense, words string) {
	e := network.Element{ID: p.ID + "." + id, Kind: network.Mesh, A: a, B: b, TeethA: driver, TeethB: driven, Sense: sense, Efficiency: spurEfficiency}
	j := joint{ratio: name, words: words}
	switch {
	case driver == 0 && r.IsZero():
		m.unknowns = append(m.unknowns, unknown{len(m.net.Elements), p, name})
		j.unknown = len(m.unknowns)
		e.Ratio = placeholder(j.unknown, 0)
	case driver == 0:
		e.Ratio = r
	}
	switch sense {
	case network.Chain:
		e.Efficiency = chainEfficiency
	case network.Same, network.Opposite:
		j.bevel = true
		e.Efficiency = bevelEfficiency
		if p.Axle != nil && p.Axle.Offset {
			e.Efficiency = hypoidEfficiency
		}
	}
	m.element(p, e, j)
}

// planets adds a planetary set.
func (m *machine) planets(p *Part, id, name, sun, ring, carrier string, zs, zr int, paired bool, words string) {
	e := network.Element{ID: p.ID + "." + id, Kind: network.Planetary, Sun: sun, Ring: ring, Carrier: carrier, TeethSun: zs, TeethRing: zr,
		Paired: paired, Efficiency: planetaryEfficiency}
	j := joint{ratio: name, words: words}
	if zs == 0 {
		m.unknowns = append(m.unknowns, unknown{len(m.net.Elements), p, name})
		j.unknown = len(m.unknowns)
		e.TeethSun, e.TeethRing = placeholderTeeth(j.unknown, 0)
	}
	m.element(p, e, j)
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
func (m *machine) couple(p *Part, kind network.Kind, id, a, b string, closed bool, words string) {
	m.element(p, network.Element{ID: p.ID + "." + id, Kind: kind, A: a, B: b, Open: !closed}, joint{words: words})
}

// split adds a plain differential.
func (m *machine) split(p *Part, id, left, right, carrier string) {
	m.element(p, network.Element{ID: p.ID + "." + id, Kind: network.Differential, Left: left, Right: right, Carrier: carrier}, joint{words: "differential"})
	m.prefer = append(m.prefer, network.Preference{A: left, B: right})
}
