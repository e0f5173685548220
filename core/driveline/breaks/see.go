package breaks

import (
	"fmt"
	"slices"

	"zorvel/core/driveline"
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
)

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
	whole   *driveline.Solved
	element map[string]int // places in the network
	loose   []bool         // elements that only turn something idle
	takeOff string         // shaft of the speedometer
	known   map[string]string
}

// See prepares a state. In it the engine drives, or a hand turns the input
// that it names.
func See(d *driveline.Document, s driveline.State) (*Seeing, error) {
	m := driveline.Build(d, &s)
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
	see.loose = idle(m, see.takeOff)
	return see, nil
}

// idle marks the elements behind which nothing but idle gears turn: whether they
// are whole can't be seen.
func idle(m *driveline.Machine, takeOff string) []bool {
	loose := make([]bool, len(m.Net.Elements))
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
				if !loose[k] {
					if active >= 0 {
						active = -2
						break
					}
					active = k
				}
			}
			if active >= 0 {
				loose[active], found = true, true
			}
		}
	}
	return loose
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
		if sh.ID != m.Input && !slices.Contains(out, sh.ID) && reached(m, sh) {
			out = append(out, sh.ID)
		}
	}
	return out
}

// reached is whether a hand or an eye gets at a shaft under a vehicle: what lies
// open between two cases, once it is whole.
func reached(m *driveline.Machine, sh *driveline.Shaft) bool {
	return m.Doc.Lies == driveline.Vehicle && sh.Part != nil && sh.Part.Has(driveline.DriveShaft)
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
func (s *Seeing) spoiled(breaks []Break) (*driveline.Solved, error) {
	m := copyOf(s.whole.Machine)
	changed, shafts := spoil(m, breaks)
	if shafts {
		return m.Turning()
	}
	c, err := s.whole.Net.Change(m.Net.Elements, changed)
	if err != nil {
		return nil, err
	}
	return &driveline.Solved{Machine: m, Net: c, Motion: c.Solve(nil)}, nil
}

// tells reports whether a break changes anything in this state: a gear that
// isn't engaged can't be seen not to engage.
func (s *Seeing) tells(b Break) bool {
	if b.Does == Seized || b.Does == Stripped {
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
		if b.Does == Open {
			return !e.Open
		}
		if b.Does == Shut {
			return e.Open
		}
	}
	return true
}

// copyOf is a machine whose network may be changed.
func copyOf(m *driveline.Machine) *driveline.Machine {
	c := *m
	c.Net.Elements = append(make([]network.Element, 0, len(m.Net.Elements)+2), m.Net.Elements...)
	c.Net.Shafts = slices.Clone(m.Net.Shafts)
	c.Joints = append(make([]driveline.Joint, 0, len(m.Joints)+2), m.Joints...)
	return &c
}

func (s *Seeing) seen(r *driveline.Solved, watch string) string {
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
