package live

// Sources of different clocks are lined up by how they turn: only at the right offset
// does one ratio fit all events.
const (
	mostOffset = 0.6   // s; whoever gathers the sources lines them up better than this
	fineOffset = 0.001 // s
)

// align shifts the paths of each clock that isn't the input's. It is a search in rounds,
// each a fifth as wide as the one before around the best of it. Where nothing changed its
// speed all offsets fit alike, and the offset doesn't matter.
func (m *machine) align(out side) {
	groups := map[string][]*path{}
	for _, p := range out.paths {
		if p.clock != m.in.clock {
			groups[p.clock] = append(groups[p.clock], p)
		}
	}
	for _, g := range groups {
		at := 0.0
		for reach := mostOffset; reach > fineOffset; reach /= 5 {
			best, least := 0.0, m.apart(out)
			for k := -5; k <= 5; k++ {
				by := float64(k) * reach / 5
				shift(g, by)
				if s := m.apart(out); k != 0 && s < least*(1-1e-9) {
					best, least = by, s
				}
				shift(g, -by)
			}
			shift(g, best)
			at += best
		}
		m.offsets = append(m.offsets, at)
	}
}

// apart is how far events lie from one ratio.
func (m *machine) apart(out side) float64 {
	f, ok := fit(meet(m.in, out), m.in, out)
	if !ok {
		return 1e9
	}
	return f.apart
}

func shift(list []*path, by float64) {
	for _, p := range list {
		for i := range p.times {
			p.times[i] += by
		}
	}
}
