package breaks

import (
	"fmt"
	"slices"
	"sync"

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
	scratch []network.Element
	base    func() *network.Base // of the whole; nil where it binds more than once
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
	see.base = sync.OnceValue(func() *network.Base {
		if b, ok := r.Net.Base(); ok {
			return b
		}
		return nil
	})
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
	tells := slices.ContainsFunc(breaks, s.tells)
	see := s.solved(s.whole)
	if tells {
		var err error
		if see, err = s.spoiled(breaks); err != nil {
			return nil, fmt.Errorf("with %v: %w", breaks, err)
		}
	}
	for i, w := range watch {
		if tells {
			out[i] = s.seen(see, w)
			continue
		}
		if s.known[w] == "" {
			s.known[w] = s.seen(see, w)
		}
		out[i] = s.known[w]
	}
	return out, nil
}

// sight is what shafts do with breaks in the machine, of one that may be locked up.
type sight struct {
	locked bool
	shaft  func(name string) (network.State, exact.Number)
}

// spoiled is the machine with breaks in it: told from the whole one where that can be,
// solved where it binds or has other shafts.
func (s *Seeing) spoiled(breaks []Break) (sight, error) {
	m := s.copyOf(s.whole.Machine)
	changed, shafts := spoil(m, breaks)
	if shafts {
		r, err := m.Turning()
		if err != nil {
			return sight{}, err
		}
		return s.solved(r), nil
	}
	c, err := s.whole.Net.Change(m.Net.Elements, changed)
	if err != nil {
		return sight{}, err
	}
	if base := s.base(); base != nil {
		if v, ok := base.Vary(c, changed); ok {
			return sight{locked: locked(v.Binds()), shaft: func(name string) (network.State, exact.Number) {
				if k := c.Shaft(name); k >= 0 {
					return v.Shaft(k)
				}
				return network.Still, exact.Number{}
			}}, nil
		}
	}
	return s.solved(&driveline.Solved{Machine: m, Net: c, Motion: c.Solve(nil)}), nil
}

// solved is what is seen of a solved machine.
func (s *Seeing) solved(r *driveline.Solved) sight {
	out := sight{shaft: func(name string) (network.State, exact.Number) {
		if k := r.Net.Shaft(name); k >= 0 {
			return r.Motion.State[k], r.Motion.Speed[k]
		}
		return network.Still, exact.Number{}
	}}
	out.locked = locked(r.Motion.Binds)
	return out
}

// locked is whether nothing can be turned; tires and clearances take up a hair.
func locked(binds []network.Bind) bool {
	return slices.ContainsFunc(binds, func(b network.Bind) bool {
		return b.Held || b.Cut < 0 || b.Mismatch.Abs().Cmp(exact.New(2, 100)) > 0
	})
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

// copyOf is a machine whose network may be changed, until the next is asked for: what is
// seen of it keeps nothing of its elements.
func (s *Seeing) copyOf(m *driveline.Machine) *driveline.Machine {
	c := *m
	s.scratch = append(s.scratch[:0], m.Net.Elements...)
	c.Net.Elements = s.scratch
	c.Net.Shafts, c.Joints = slices.Clip(m.Net.Shafts), slices.Clip(m.Joints)
	return &c
}

func (s *Seeing) seen(r sight, watch string) string {
	name := watch
	switch watch {
	case TheVehicle:
		name = "road"
	case Speedometer:
		name = s.takeOff
	}
	if r.locked {
		if watch == Speedometer {
			return Stays
		}
		return Locked
	}
	turns := func(state network.State, speed exact.Number) bool {
		return state == network.Driven || state == network.Bound && speed.Sign() != 0
	}
	state, a := r.shaft(name)
	if !turns(state, a) {
		return Stays
	}
	state, b := s.solved(s.whole).shaft(name)
	if !turns(state, b) {
		return Follows
	}
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
