package live

import "math"

// alone looks at the stretches in which one of two wheels gave nothing while the other
// turned on. A wheel that stands makes the other turn twice as far for the same input; a
// sensor that is dead or lost its mark changes nothing. So the ratio found while both
// gave marks tells the two apart: a standing wheel's stretch is weighed too, a dead
// sensor's is left out and told.
func (m *machine) alone(a *Answer, list []event, f fitted, out side) fitted {
	grown, parts := list, 0
	for k, p := range out.paths {
		other := out.paths[1-k]
		from, to := p.span()
		begin, end := other.span()
		for _, s := range [][2]float64{{begin, from}, {to, end}} {
			if s[1]-s[0] < 2*(to-from)/float64(max(1, len(p.times))) {
				continue // no longer than between two of its marks
			}
			rest := stretch(meet(m.in, side{paths: []*path{other}, share: out.share}), s[0], s[1])
			g, ok := fit(rest, m.in, side{paths: []*path{other}, share: out.share})
			if !ok || g.x < 2*p.step*out.share || g.x < 0.5*out.share {
				continue
			}
			switch {
			case near(g.r, f.r, g.sigma, f.sigma): // other by itself makes the output turn
				parts++
				grown = append(grown, apart(rest, parts)...)
			case near(g.r/2, f.r, g.sigma/2, f.sigma) && s[0] == to:
				a.silence(p.shaft)
			}
		}
	}
	if len(grown) == len(list) {
		return f
	}
	if g, ok := fit(grown, m.in, out); ok && g.sigma < f.sigma {
		return g
	}
	return f
}

// near reports whether two ratios are one within their spreads, or a twentieth.
func near(a, b, sa, sb float64) bool {
	return math.Abs(a-b) < max(3*math.Hypot(sa, sb), 0.05*b) && math.Abs(a-b) < 0.25*b
}

// stretch is the events within a time.
func stretch(list []event, from, to float64) []event {
	var out []event
	for _, e := range list {
		if e.t >= from && e.t <= to {
			out = append(out, e)
		}
	}
	return out
}

// apart makes a stretch one by itself: where the standing wheel stopped isn't known.
func apart(list []event, part int) []event {
	for i := range list {
		list[i].part = part
	}
	return list
}

// silent tells of sources that stopped while others went on, where no ratio tells a
// standing wheel from a dead sensor.
func (m *machine) silent(a *Answer, out side) {
	all := append([]*path{m.in}, out.paths...)
	for _, p := range all {
		_, to := p.span()
		for _, q := range all {
			if q == p || !p.turned() || !q.turned() {
				continue
			}
			// As far as the other went since, in this one's usual share of it.
			rest := q.since(to)
			usual := p.travel() / max(q.travel()-rest, 1e-9)
			if quiet := rest * usual; quiet > 2.5*max(p.step, 0.1) && len(p.times) > 2 {
				a.silence(p.shaft)
			}
		}
	}
}

// since is all turning after a time.
func (p *path) since(t float64) float64 {
	sum := 0.0
	for i := 1; i < len(p.times); i++ {
		if p.times[i] > t {
			sum += math.Abs(p.turns[i] - p.turns[i-1])
		}
	}
	return sum
}

func (a *Answer) silence(s Shaft) {
	t := map[Shaft]Trouble{Input: InputSilent, Left: LeftSilent, Right: RightSilent, Output: OutputSilent}[s]
	for _, x := range a.Troubles {
		if x == t {
			return
		}
	}
	a.Troubles = append(a.Troubles, t)
}
