package driveline

import (
	"fmt"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// What a break does to the network.
const (
	BreakOpen    = "open"    // passes nothing: sheared, stripped, gone, or never engages
	BreakShut    = "shut"    // a clutch, dog or lock that does not let go
	BreakHeld    = "held"    // seized: a bearing or a brake
	BreakRatio   = "ratio"   // gears of another ratio
	BreakReverse = "reverse" // the ring on the other side, or the unit turned over
)

// Break is one thing that can be broken, as a change of the driveline's
// network. Its ID is what it does and where.
type Break struct {
	ID   string `json:"id"`
	Part string `json:"part"`
	Does string `json:"does"`
	Name string `json:"name"` // "stripped spline of the rear propeller shaft"
	Sort string `json:"sort"` // for priors: shaft, stub, mesh, spiders, dogs, lock, clutch, planets, brake, gears, turned, hub
	at   string // element, or shaft for held
}

// Breaks lists every structural break that this driveline can have: a part that
// it lacks is in none of them.
func Breaks(d *Document) []Break {
	var out []Break
	seen := map[string]bool{}
	add := func(does, at string, p *Part, sort, name string) {
		id := does + " " + at
		if !seen[id] {
			seen[id] = true
			out = append(out, Break{ID: id, Part: p.ID, Does: does, Name: name, Sort: sort, at: at})
		}
	}
	// Every element shows in some position of the levers.
	for _, st := range Positions(d) {
		m := build(d, &st)
		for k, e := range m.net.Elements {
			j := m.joints[k]
			if j.part == nil {
				continue
			}
			of := " of the " + say.Small(j.part.name())
			switch e.Kind {
			case network.Mesh:
				words, _, _ := strings.Cut(j.words, ",")
				add(BreakOpen, e.ID, j.part, "mesh", "broken teeth: "+words+of)
				if j.part.Kind == "axle" && strings.HasSuffix(e.ID, ".final") {
					add(BreakRatio, e.ID, j.part, "gears", "ring and pinion of another ratio"+of)
					add(BreakReverse, e.ID, j.part, "turned", "ring on the other side, or turned over:"+strings.TrimPrefix(of, " of"))
				}
			case network.Planetary:
				add(BreakOpen, e.ID, j.part, "planets", "broken planetary set"+of)
			case network.Differential:
				add(BreakOpen, e.ID, j.part, "spiders", "broken spider or side gears"+of)
			case network.Holder:
				if strings.Contains(j.words, "housing") {
					add(BreakOpen, e.ID, j.part, "planets", "planetary ring that turns in its housing"+of)
				}
			case network.Lock:
				if !strings.HasPrefix(j.words, "spool") {
					add(BreakOpen, e.ID, j.part, "lock", "lock that does not engage"+of)
					add(BreakShut, e.ID, j.part, "lock", "lock that does not let go"+of)
				}
			case network.Coupling:
				breakCoupling(add, m, e, j, of)
			}
		}
		for _, e := range m.ends {
			if e.kind == "wheel" {
				add(BreakHeld, e.shaft, e.part, "brake", "seized brake or bearing of the "+say.Small(e.part.name()))
			}
		}
	}
	return out
}

func breakCoupling(add func(does, at string, p *Part, sort, name string), m *machine, e network.Element, j joint, of string) {
	local := strings.TrimPrefix(e.ID, j.part.ID+".")
	switch {
	case local == "joint":
		add(BreakOpen, e.ID, j.part, "shaft", "sheared shaft or joint: "+say.Small(j.part.name()))
	case local == "half shaft":
		add(BreakOpen, e.ID, j.part, "stub", "sheared half shaft or stub"+of)
	case j.part.Kind == "propeller":
		add(BreakOpen, e.ID, j.part, "hub", "slipping hub"+of)
	case j.part.Kind == "clutch" || j.part.Kind == "converter":
		add(BreakOpen, e.ID, j.part, "clutch", "slipping or stripped: "+say.Small(j.part.name()))
		add(BreakShut, e.ID, j.part, "clutch", "clutch that does not let go"+of)
	case strings.HasPrefix(local, "select "):
		gear := gearWords(strings.TrimPrefix(local, "select "))
		add(BreakOpen, e.ID, j.part, "dogs", gear+of+": does not engage, or stripped")
		add(BreakShut, e.ID, j.part, "dogs", gear+of+": does not let go")
	case local == "main":
		add(BreakOpen, e.ID, j.part, "shaft", "stripped spline of the rear output"+of)
	default:
		name, _, _ := strings.Cut(strings.TrimSuffix(j.words, " engaged"), ":")
		add(BreakOpen, e.ID, j.part, "dogs", name+of+": does not engage, or stripped")
		add(BreakShut, e.ID, j.part, "dogs", name+of+": does not let go")
	}
}

// Positions are states that together show every element: each selector in each
// of its positions, the others at their first.
func Positions(d *Document) []State {
	out := []State{{}}
	m := build(d, &State{})
	for _, s := range m.selectors {
		for _, o := range s.Options {
			set := map[string]string{s.ID: o.Value}
			for _, n := range o.Needs {
				set[n.Selector] = n.Value
			}
			out = append(out, State{Select: set})
		}
	}
	return out
}

// spoil puts breaks into an expanded machine.
func (m *machine) spoil(breaks []Break) {
	for _, b := range breaks {
		if b.Does == BreakHeld {
			if m.byID[b.at] != nil {
				m.element(m.byID[b.at].part, network.Element{ID: "seized " + b.at, Kind: network.Holder, Shaft: b.at}, joint{words: "seized"})
			}
			continue
		}
		for k := range m.net.Elements {
			e := &m.net.Elements[k]
			if e.ID != b.at {
				continue
			}
			switch b.Does {
			case BreakOpen:
				m.open(e)
			case BreakShut:
				e.Open = false
			case BreakRatio:
				if e.Kind != network.Mesh { // another break has opened it
					continue
				}
				// A tooth or two off, as sets of one family are.
				if e.Ratio.IsZero() {
					e.Ratio = exact.New(int64(e.TeethB), int64(e.TeethA))
				}
				e.Ratio = e.Ratio.Mul(exact.New(11, 10))
			case BreakReverse:
				switch e.Sense {
				case network.Same:
					e.Sense = network.Opposite
				case network.Opposite:
					e.Sense = network.Same
				case network.External:
					e.Sense = network.Internal
				case network.Internal:
					e.Sense = network.External
				}
			}
		}
	}
}

// open lets an element pass nothing: an open coupling in its place.
func (m *machine) open(e *network.Element) {
	a, b := e.A, e.B
	switch e.Kind {
	case network.Differential:
		a, b = e.Left, e.Right
	case network.Planetary:
		a, b = e.Sun, e.Carrier
	case network.Holder:
		a, b = e.Shaft, m.root
		if a == b {
			return
		}
	}
	*e = network.Element{ID: e.ID, Kind: network.Coupling, A: a, B: b, Open: true}
}

// What a shaft, or the vehicle, is seen to do.
const (
	Follows  = "follows"  // turns, and the way it should
	Opposite = "opposite" // turns the other way
	Stays    = "stays"    // does not turn, or follows only loosely
	Locked   = "locked"   // what is turned can't be turned
	Slower   = "slower"   // follows by another ratio
)

// TheVehicle is watched in place of a shaft: does it move?
const TheVehicle = "vehicle"

// Seeing is a driveline whole and broken in one state: it says what is seen.
type Seeing struct {
	d     *Document
	state State
	whole *result
}

// See prepares a state. In it the engine drives, or a hand turns the input
// that it names.
func See(d *Document, s State) (*Seeing, error) {
	m := build(d, &s)
	if err := m.checkState(&s); err != nil {
		return nil, err
	}
	r, err := m.turning()
	if err != nil {
		return nil, err
	}
	return &Seeing{d, s, r}, nil
}

// turning is the machine with its speeds alone: what turns, and which way,
// hangs on no torque and on no unknown ratio.
func (m *machine) turning() (*result, error) {
	c, err := network.Compile(m.net)
	if err != nil {
		return nil, fmt.Errorf("the parts make no network: %w", err)
	}
	return &result{m: m, c: c, motion: c.Solve(nil)}, nil
}

// Watched lists what can be watched in this state: every end, and the vehicle
// where wheels stand on the ground.
func (s *Seeing) Watched() []string {
	var out []string
	if s.whole.c.Shaft("road") >= 0 {
		return []string{TheVehicle}
	}
	for _, e := range s.whole.m.ends {
		if e.shaft != s.whole.m.input {
			out = append(out, e.shaft)
		}
	}
	return out
}

// Name is what a watched shaft is called.
func (s *Seeing) Name(shaft string) string {
	if shaft == TheVehicle {
		return "the vehicle"
	}
	if sh := s.whole.m.shaft(shaft); sh != nil {
		return sh.name
	}
	return shaft
}

// Broken says what is seen of each watched shaft with these breaks.
func (s *Seeing) Broken(breaks []Break, watch []string) ([]string, error) {
	st := s.state
	m := build(s.d, &st)
	m.spoil(breaks)
	r, err := m.turning()
	if err != nil {
		return nil, fmt.Errorf("with %v: %w", breaks, err)
	}
	out := make([]string, len(watch))
	for i, w := range watch {
		out[i] = s.seen(r, w)
	}
	return out, nil
}

func (s *Seeing) seen(r *result, watch string) string {
	for _, b := range r.motion.Binds {
		// Tires and clearances take up a hair.
		if b.Held || b.Cut < 0 || b.Mismatch.Abs().Cmp(exact.New(2, 100)) > 0 {
			return Locked
		}
	}
	name := watch
	if watch == TheVehicle {
		name = "road"
	}
	now, was := r.c.Shaft(name), s.whole.c.Shaft(name)
	turns := func(m network.Motion, shaft int) bool {
		return shaft >= 0 && (m.State[shaft] == network.Driven || m.State[shaft] == network.Bound && m.Speed[shaft].Sign() != 0)
	}
	if !turns(r.motion, now) {
		return Stays
	}
	if !turns(s.whole.motion, was) {
		return Follows
	}
	a, b := r.motion.Speed[now], s.whole.motion.Speed[was]
	switch {
	case a.Sign() != b.Sign():
		return Opposite
	case watch != TheVehicle && !a.Equal(b) && a.Abs().Cmp(b.Abs().Mul(exact.New(93, 100))) < 0:
		return Slower
	}
	return Follows
}
