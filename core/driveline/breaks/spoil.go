package breaks

import (
	"slices"

	"zorvel/core/driveline"
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
)

// spoil puts breaks into an expanded machine. It returns the elements that are
// others now, and whether shafts are.
func spoil(m *driveline.Machine, breaks []Break) (changed []int, shafts bool) {
	for _, b := range breaks {
		if b.Does == Stripped {
			strip(m, b)
			shafts = true
			continue
		}
		if b.Does == Seized {
			if m.ByID[b.at] != nil {
				m.Element(m.ByID[b.at].Part, network.Element{ID: "seized " + b.at, Kind: network.Holder, Shaft: b.at}, driveline.Joint{Words: "seized"})
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
			case Open:
				open(m, e)
			case Shut:
				e.Open = false
			case Higher, Lower:
				if e.Kind != network.Mesh { // another break has opened it
					continue
				}
				// A tooth or two off, as sets of one family are.
				if e.Ratio.IsZero() {
					e.Ratio = exact.New(int64(e.TeethB), int64(e.TeethA))
				}
				if b.Does == Higher {
					e.Ratio = e.Ratio.Mul(exact.New(11, 10))
				} else {
					e.Ratio = e.Ratio.Mul(exact.New(10, 11))
				}
			case Reversed:
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
func strip(m *driveline.Machine, b Break) {
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
func open(m *driveline.Machine, e *network.Element) {
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
