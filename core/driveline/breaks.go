package driveline

import (
	"fmt"
	"slices"
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
	BreakRatio   = "ratio"   // gears of another ratio, numerically higher
	BreakTaller  = "taller"  // gears of another ratio, numerically lower
	BreakReverse = "reverse" // the ring on the other side, or the unit turned over
	BreakSplit   = "split"   // a spline that turns in its bore: what is behind it is let go
)

// Break is one thing that can be broken, as a change of the driveline's
// network. Its ID is what it does and where.
type Break struct {
	ID   string `json:"id"`
	Part string `json:"part"`
	Does string `json:"does"`
	Name string `json:"name"` // "stripped spline of the rear propeller shaft"
	Sort string `json:"sort"` // for priors: shaft, spline, stub, mesh, chain, spiders, dogs, lock, clutch, drag, planets, brake, gears, turned, hub
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
		m := Build(d, &st)
		for k, e := range m.Net.Elements {
			j := m.Joints[k]
			if j.Part == nil {
				continue
			}
			of := " of the " + say.Small(j.Part.Called())
			switch e.Kind {
			case network.Mesh:
				words, _, _ := strings.Cut(j.Words, ",")
				if e.Sense == network.Chain {
					add(BreakOpen, e.ID, j.Part, "chain", "chain off or parted"+of)
				} else {
					add(BreakOpen, e.ID, j.Part, "mesh", "broken teeth: "+words+of)
				}
				if j.Part.Traits().OtherGears && e.Sense != network.Chain {
					add(BreakRatio, e.ID, j.Part, "gears_inside", "gears of a numerically higher ratio"+of+": "+words)
					add(BreakTaller, e.ID, j.Part, "gears_inside", "gears of a numerically lower ratio"+of+": "+words)
				}
				if strings.HasSuffix(e.ID, ".final") {
					add(BreakRatio, e.ID, j.Part, "gears", "ring and pinion of another ratio"+of)
					add(BreakReverse, e.ID, j.Part, "turned", "ring on the other side, or turned over:"+strings.TrimPrefix(of, " of"))
				}
			case network.Planetary:
				if strings.HasSuffix(e.ID, ".center") || strings.HasSuffix(e.ID, ".differential") {
					add(BreakOpen, e.ID, j.Part, "spiders", "broken gears of the center differential"+of)
				} else {
					add(BreakOpen, e.ID, j.Part, "planets", "broken planetary set"+of)
				}
			case network.Differential:
				if j.Solid { // it has none
					continue
				}
				add(BreakOpen, e.ID, j.Part, "spiders", "broken spider or side gears"+of)
			case network.Holder:
				if strings.Contains(j.Words, "housing") {
					add(BreakOpen, e.ID, j.Part, "planets", "planetary ring that turns in its housing"+of)
				}
			case network.Lock:
				if !j.Solid {
					add(BreakOpen, e.ID, j.Part, "lock", "lock that does not engage"+of)
					add(BreakShut, e.ID, j.Part, "lock", "lock that does not let go"+of)
				}
			case network.Coupling:
				breakCoupling(add, m, e, j, of)
			}
		}
		for i := range d.Parts {
			p := &d.Parts[i]
			if p.Traits().OutputSpline && d.Feeds(p.ID) && m.ByID[m.Outs[p.ID]] != nil {
				add(BreakSplit, m.Outs[p.ID], p, "spline", "stripped spline at the output of the "+say.Small(p.Called()))
			}
		}
		outside := map[string]bool{m.Root: true, m.Input: true}
		for _, out := range m.Outs {
			outside[out] = true
		}
		for _, sh := range m.Shafts { // inside a housing; what sticks out is told by what hangs on it
			if k := sh.Part; k != nil && !outside[sh.ID] && slices.Contains(k.Traits().Bearings, strings.TrimPrefix(sh.ID, k.ID+".")) {
				add(BreakHeld, sh.ID, k, "seized", "seized bearing: "+say.Small(sh.Name))
			}
		}
		for _, e := range m.Ends {
			if e.Kind == EndWheel {
				add(BreakHeld, e.Shaft, e.Part, "brake", "seized brake or bearing of the "+say.Small(e.Part.Called()))
			}
		}
	}
	return out
}

func breakCoupling(add func(does, at string, p *Part, sort, name string), m *Machine, e network.Element, j Joint, of string) {
	local := strings.TrimPrefix(e.ID, j.Part.ID+".")
	switch {
	case local == "joint":
		add(BreakOpen, e.ID, j.Part, "shaft", "sheared shaft or joint: "+say.Small(j.Part.Called()))
	case local == "half shaft":
		add(BreakOpen, e.ID, j.Part, "stub", "sheared half shaft or stub"+of)
	case local == "hub":
		add(BreakOpen, e.ID, j.Part, "hub", "slipping hub"+of)
	case local == "clutch":
		add(BreakOpen, e.ID, j.Part, "clutch", "slipping or stripped: "+say.Small(j.Part.Called()))
		add(BreakShut, e.ID, j.Part, "drag", say.Small(j.Part.Called())+" that does not let go")
	case strings.HasPrefix(local, "select "):
		gear := GearWords(strings.TrimPrefix(local, "select "))
		add(BreakOpen, e.ID, j.Part, "dogs", gear+of+": does not engage, or stripped")
		add(BreakShut, e.ID, j.Part, "dogs", gear+of+": does not let go")
	case local == "main":
		add(BreakOpen, e.ID, j.Part, "shaft", "stripped spline of the rear output"+of)
	default:
		name, _, _ := strings.Cut(strings.TrimSuffix(j.Words, " engaged"), ":")
		add(BreakOpen, e.ID, j.Part, "dogs", name+of+": does not engage, or stripped")
		add(BreakShut, e.ID, j.Part, "dogs", name+of+": does not let go")
	}
}

// Positions are states that together show every element: each selector in each
// of its positions, the others at their first.
func Positions(d *Document) []State {
	out := []State{{}}
	m := Build(d, &State{})
	for _, s := range m.Selectors {
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

// spoil puts breaks into an expanded machine. It returns the elements that are
// others now, and whether shafts are.
func (m *Machine) spoil(breaks []Break) (changed []int, shafts bool) {
	for _, b := range breaks {
		if b.Does == BreakSplit {
			m.strip(b)
			shafts = true
			continue
		}
		if b.Does == BreakHeld {
			if m.ByID[b.at] != nil {
				m.Element(m.ByID[b.at].Part, network.Element{ID: "seized " + b.at, Kind: network.Holder, Shaft: b.at}, Joint{Words: "seized"})
			}
			continue
		}
		for k := range m.Net.Elements {
			e := &m.Net.Elements[k]
			if e.ID != b.at {
				continue
			}
			if !slices.Contains(changed, k) {
				changed = append(changed, k)
			}
			switch b.Does {
			case BreakOpen:
				m.open(e)
			case BreakShut:
				e.Open = false
			case BreakRatio, BreakTaller:
				if e.Kind != network.Mesh { // another break has opened it
					continue
				}
				// A tooth or two off, as sets of one family are.
				if e.Ratio.IsZero() {
					e.Ratio = exact.New(int64(e.TeethB), int64(e.TeethA))
				}
				if b.Does == BreakRatio {
					e.Ratio = e.Ratio.Mul(exact.New(11, 10))
				} else {
					e.Ratio = e.Ratio.Mul(exact.New(10, 11))
				}
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
	return changed, shafts
}

// strip parts a shaft where its spline is stripped: what other parts hang on it
// turns by itself.
func (m *Machine) strip(b Break) {
	far := b.at + " beyond its spline"
	m.Net.Shafts = append(m.Net.Shafts, far)
	for k := range m.Net.Elements {
		if j := m.Joints[k]; j.Part == nil || j.Part.ID == b.Part {
			continue
		}
		e := &m.Net.Elements[k]
		for _, at := range []*string{&e.A, &e.B, &e.Left, &e.Right, &e.Carrier, &e.Sun, &e.Ring, &e.Shaft} {
			if *at == b.at {
				*at = far
			}
		}
	}
}

// open lets an element pass nothing: an open coupling in its place.
func (m *Machine) open(e *network.Element) {
	a, b := e.A, e.B
	switch e.Kind {
	case network.Differential:
		a, b = e.Left, e.Right
	case network.Planetary:
		a, b = e.Sun, e.Carrier
	case network.Holder:
		a, b = e.Shaft, m.Root
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
	Slower   = "slower"   // follows by another ratio, too slowly
	Faster   = "faster"   // follows by another ratio, too fast
)

// TheVehicle is watched in place of a shaft: does it move?
const TheVehicle = "vehicle"

// Speedometer is watched beside the vehicle: is it alive? It tells on which
// side of its take-off a driveline is broken.
const Speedometer = "speedometer"

// Seeing is a driveline whole and broken in one state: it says what is seen.
type Seeing struct {
	whole   *Solved
	element map[string]int // places in the network
	loose   []bool         // elements that only turn something idle
	takeOff string         // shaft of the speedometer
	known   map[string]string
}

// See prepares a state. In it the engine drives, or a hand turns the input
// that it names.
func See(d *Document, s State) (*Seeing, error) {
	m := Build(d, &s)
	if err := m.CheckState(&s); err != nil {
		return nil, err
	}
	r, err := m.Turning()
	if err != nil {
		return nil, err
	}
	see := &Seeing{whole: r, element: make(map[string]int, len(m.Net.Elements)), known: map[string]string{}}
	if p := d.Speedometer(); p != nil {
		see.takeOff = p.ID + "." + p.Traits().Speedometer
	}
	for k, e := range m.Net.Elements {
		see.element[e.ID] = k
	}
	see.loose = m.idle(see.takeOff)
	return see, nil
}

// idle marks the elements behind which nothing but idle gears turn: whether they
// are whole can't be seen.
func (m *Machine) idle(takeOff string) []bool {
	idle := make([]bool, len(m.Net.Elements))
	kept := map[string]bool{m.Input: true, m.Root: true, takeOff: true}
	for _, e := range m.Ends {
		kept[e.Shaft] = true
	}
	on := map[string][]int{}
	for k, e := range m.Net.Elements {
		switch e.Kind {
		case network.Mesh, network.Coupling, network.Lock:
			if !e.Open {
				on[e.A] = append(on[e.A], k)
				on[e.B] = append(on[e.B], k)
			}
		default: // of three shafts, or an anchor: whatever it touches counts
			for _, sh := range []string{e.A, e.B, e.Left, e.Right, e.Carrier, e.Sun, e.Ring, e.Shaft} {
				kept[sh] = true
			}
		}
	}
	for found := true; found; {
		found = false
		for sh, list := range on {
			if kept[sh] {
				continue
			}
			active := -1
			for _, k := range list {
				if !idle[k] {
					if active >= 0 {
						active = -2
						break
					}
					active = k
				}
			}
			if active >= 0 {
				idle[active], found = true, true
			}
		}
	}
	return idle
}

// Speedometer is the part at which a vehicle's speedometer usually sits, the
// transfer case or else the gearbox; nil where it has neither.
func (d *Document) Speedometer() *Part {
	if d.Lies != Vehicle {
		return nil
	}
	var best *Part
	for i := range d.Parts {
		p := &d.Parts[i]
		if t := p.Traits(); t.Speedometer != "" && (best == nil || t.ForSpeedo > best.Traits().ForSpeedo) {
			best = p
		}
	}
	return best
}

// Turning is the machine with its speeds alone: what turns, and which way,
// hangs on no torque and on no unknown ratio.
func (m *Machine) Turning() (*Solved, error) {
	c, err := network.Compile(m.Net)
	if err != nil {
		return nil, fmt.Errorf("the parts make no network: %w", err)
	}
	return &Solved{Machine: m, Net: c, Motion: c.Solve(nil)}, nil
}

// Watched lists what is watched in this state: the vehicle where wheels stand on
// the ground, and its speedometer where the engine drives; else every end, and
// every shaft between that a hand can reach.
func (s *Seeing) Watched() []string {
	m := s.whole.Machine
	if s.whole.Net.Shaft("road") >= 0 {
		if m.Input == m.Root && s.takeOff != "" && s.whole.Net.Shaft(s.takeOff) >= 0 {
			return []string{TheVehicle, Speedometer}
		}
		return []string{TheVehicle}
	}
	var out []string
	for _, e := range m.Ends {
		if e.Shaft != m.Input {
			out = append(out, e.Shaft)
		}
	}
	for _, sh := range m.Shafts {
		if sh.ID != m.Input && !slices.Contains(out, sh.ID) && m.reached(sh) {
			out = append(out, sh.ID)
		}
	}
	return out
}

// reached is whether a hand or an eye gets at a shaft under a vehicle: what lies
// open between two cases, once it is whole.
func (m *Machine) reached(sh *Shaft) bool {
	return m.Doc.Lies == Vehicle && sh.Part != nil && sh.Part.Has(DriveShaft)
}

// Name is what a watched shaft is called.
func (s *Seeing) Name(shaft string) string {
	switch shaft {
	case TheVehicle:
		return "the vehicle"
	case Speedometer:
		return "the speedometer"
	}
	if sh := s.whole.Machine.Shaft(shaft); sh != nil {
		return sh.Name
	}
	return shaft
}

// Broken says what is seen of each watched shaft with these breaks.
func (s *Seeing) Broken(breaks []Break, watch []string) ([]string, error) {
	out := make([]string, len(watch))
	r := s.whole
	tells := false
	for _, b := range breaks {
		tells = tells || s.tells(b)
	}
	if tells {
		var err error
		if r, err = s.spoiled(breaks); err != nil {
			return nil, fmt.Errorf("with %v: %w", breaks, err)
		}
	}
	for i, w := range watch {
		if tells {
			out[i] = s.seen(r, w)
			continue
		}
		if s.known[w] == "" {
			s.known[w] = s.seen(r, w)
		}
		out[i] = s.known[w]
	}
	return out, nil
}

// spoiled is the machine with breaks in it, solved for its speeds.
func (s *Seeing) spoiled(breaks []Break) (*Solved, error) {
	m := s.whole.Machine.copy()
	changed, shafts := m.spoil(breaks)
	if shafts {
		return m.Turning()
	}
	c, err := s.whole.Net.Change(m.Net.Elements, changed)
	if err != nil {
		return nil, err
	}
	return &Solved{Machine: m, Net: c, Motion: c.Solve(nil)}, nil
}

// tells reports whether a break changes anything in this state: a gear that
// isn't engaged can't be seen not to engage.
func (s *Seeing) tells(b Break) bool {
	if b.Does == BreakHeld || b.Does == BreakSplit {
		return s.whole.Machine.ByID[b.at] != nil
	}
	k, ok := s.element[b.at]
	if !ok {
		return false
	}
	if s.loose[k] {
		return false
	}
	e := &s.whole.Machine.Net.Elements[k]
	switch e.Kind {
	case network.Coupling, network.Lock:
		if b.Does == BreakOpen {
			return !e.Open
		}
		if b.Does == BreakShut {
			return e.Open
		}
	}
	return true
}

// copy is a machine whose network may be changed.
func (m *Machine) copy() *Machine {
	c := *m
	c.Net.Elements = append(make([]network.Element, 0, len(m.Net.Elements)+2), m.Net.Elements...)
	c.Net.Shafts = slices.Clone(m.Net.Shafts)
	c.Joints = append(make([]Joint, 0, len(m.Joints)+2), m.Joints...)
	return &c
}

func (s *Seeing) seen(r *Solved, watch string) string {
	name := watch
	switch watch {
	case TheVehicle:
		name = "road"
	case Speedometer:
		name = s.takeOff
	}
	for _, b := range r.Motion.Binds {
		// Tires and clearances take up a hair.
		if b.Held || b.Cut < 0 || b.Mismatch.Abs().Cmp(exact.New(2, 100)) > 0 {
			if watch == Speedometer {
				return Stays
			}
			return Locked
		}
	}
	now, was := r.Net.Shaft(name), s.whole.Net.Shaft(name)
	turns := func(m network.Motion, shaft int) bool {
		return shaft >= 0 && (m.State[shaft] == network.Driven || m.State[shaft] == network.Bound && m.Speed[shaft].Sign() != 0)
	}
	if !turns(r.Motion, now) {
		return Stays
	}
	if !turns(s.whole.Motion, was) {
		return Follows
	}
	a, b := r.Motion.Speed[now], s.whole.Motion.Speed[was]
	switch {
	case watch == Speedometer: // a needle tells no direction, and nobody measures it here
	case a.Sign() != b.Sign():
		return Opposite
	case watch != TheVehicle && !a.Equal(b) && a.Abs().Cmp(b.Abs().Mul(exact.New(93, 100))) < 0:
		return Slower
	case watch != TheVehicle && watch != Speedometer && !a.Equal(b) && b.Abs().Cmp(a.Abs().Mul(exact.New(93, 100))) < 0:
		return Faster
	}
	return Follows
}
