package grip

import (
	"math"
	"slices"

	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// node is a place where torque is split, or a wheel. Torques are in newton
// meters at the node's own shaft.
type node struct {
	part   *driveline.Part
	ratio  float64 // node torque × ratio = torque at the children (or the tire)
	kids   []*node
	share  []float64 // fixed shares of an open split; nil where grip splits
	bias   float64   // limited slip: the other side may carry this many times the slower
	across float64   // limited slip: the sides may differ by this much, whatever passes
	slip   string    // how it limits
	wheel  *driveline.Part
	radius float64
	limit  float64 // of the tire, N
	brake  float64 // N at the tire
	held   bool
	most   float64 // greatest torque
	drag   float64 // of it, what the brakes take first
}

// capacity is the greatest torque that a node takes up. Every subtree can take
// any torque from zero to its own greatest, so the tree is solved from the
// wheels inward: shares fix an open split by its weaker side, a lock adds both
// sides, a limited slip lets the stronger side carry bias times the weaker, or
// as much more as its preload or its fluid carries across. That of a helical
// one needs a weaker side that bears something; a preload doesn't.
func (n *node) capacity() {
	for _, k := range n.kids {
		k.capacity()
	}
	if n.wheel != nil {
		n.most, n.drag = (n.limit+n.brake)*n.radius, n.brake*n.radius
		if n.held {
			n.most, n.drag = math.Inf(1), 0
		}
		return
	}
	n.most = n.combined() / n.ratio
	for _, k := range n.kids {
		n.drag += k.drag / n.ratio
	}
	n.drag = math.Min(n.drag, n.most)
}

// combined is the greatest torque that the children take up together.
func (n *node) combined() float64 {
	switch {
	case len(n.kids) == 0:
		return 0
	case len(n.kids) == 1:
		return n.kids[0].most
	case n.share != nil && n.bias > 0:
		a, b := n.kids[0].most, n.kids[1].most
		low, high := math.Min(a, b), math.Max(a, b)
		return low + math.Min(high, math.Max(n.bias*low, low+n.across))
	case n.share != nil:
		most := math.Inf(1)
		for i, k := range n.kids {
			most = math.Min(most, k.most/n.share[i])
		}
		return most
	}
	sum := 0.0
	for _, k := range n.kids {
		sum += k.most
	}
	return sum
}

// spread sends a torque down to the wheels; forces gets what each tire does:
// its torque less what the brake takes, within its grip. A tire whose brake
// takes more than arrives drags.
func (n *node) spread(torque float64, forces map[string]float64) {
	if n.wheel != nil {
		f := torque/n.radius - n.brake
		if n.held {
			f = 0
		}
		forces[n.wheel.ID] = math.Max(-n.limit, math.Min(f, n.limit))
		return
	}
	t := torque * n.ratio
	switch {
	case len(n.kids) == 0:
	case len(n.kids) == 1:
		n.kids[0].spread(t, forces)
	case n.share != nil && n.bias > 0:
		a, b := t/2, t/2
		if a > n.kids[0].most {
			a, b = n.kids[0].most, t-n.kids[0].most
		} else if b > n.kids[1].most {
			a, b = t-n.kids[1].most, n.kids[1].most
		}
		n.kids[0].spread(a, forces)
		n.kids[1].spread(b, forces)
	case n.share != nil:
		for i, k := range n.kids {
			k.spread(t*n.share[i], forces)
		}
	default:
		// Grip decides. Brakes take theirs first, the rest goes to each in
		// proportion to what its tires can take.
		drag, grip := 0.0, 0.0
		for _, k := range n.kids {
			if math.IsInf(k.most, 1) {
				k.spread(t, forces)
				return
			}
			drag += k.drag
			grip += k.most - k.drag
		}
		first := math.Min(t, drag)
		for _, k := range n.kids {
			x := 0.0
			if drag > 0 {
				x = first * k.drag / drag
			}
			if grip > 0 {
				x += (t - first) * (k.most - k.drag) / grip
			}
			k.spread(x, forces)
		}
	}
}

// tree builds the nodes behind an output of a part.
func (m *ground) tree(port string, loads map[string]float64, g *Grip, missing *[]string) *node {
	for i := range m.Doc.Parts {
		p := &m.Doc.Parts[i]
		if p.From == port {
			return m.treeAt(p, loads, g, missing)
		}
	}
	return &node{ratio: 1} // an open end takes up nothing
}

func (m *ground) treeAt(p *driveline.Part, loads map[string]float64, g *Grip, missing *[]string) *node {
	does := m.Passes(p)
	n := &node{part: p, ratio: does.Ratio.Abs().Float()}
	if !does.Known {
		n.ratio = 1
		*missing = append(*missing, say.Small(p.Called()))
	}
	if does.Open {
		n.ratio = 1
		return n
	}
	if p.Wheel != nil {
		m.grounded(n, p, loads, g)
		return n
	}
	split := m.Split(p)
	for _, b := range split.Branches {
		if b.Loose {
			n.kids = append(n.kids, &node{ratio: 1})
			continue
		}
		kid := m.tree(p.Output(b.Port), loads, g, missing)
		if b.Words != "" {
			kid = &node{part: p, ratio: b.Ratio.Float(), kids: []*node{kid}}
			if !b.Known {
				kid.ratio = 1
				*missing = append(*missing, driveline.Of(p, b.Words))
			}
		}
		n.kids = append(n.kids, kid)
	}
	n.shared(split)
	return n
}

// shared puts in how a split shares torque.
func (n *node) shared(s *driveline.Split) {
	if s.Share == nil {
		return
	}
	sum := exact.Number{}
	for _, w := range s.Share {
		sum = sum.Add(w)
	}
	for _, w := range s.Share {
		n.share = append(n.share, w.Div(sum).Float())
	}
	if s.Limited != nil {
		n.slip = s.Limited.Slip
		n.bias, n.across = s.Limited.Carries()
	}
}

// grounded is what a wheel holds on to.
func (m *ground) grounded(n *node, p *driveline.Part, loads map[string]float64, g *Grip) {
	n.wheel, n.radius = p, driveline.Travel(p).Float()/(2*math.Pi)
	n.brake = g.Brakes[p.ID]
	switch m.WheelState(p) {
	case driveline.Lifted:
	case driveline.Held:
		n.held = true
	case driveline.OnIce:
		n.limit = loads[p.ID] * math.Min(m.grip(p, g), iceGrip)
	default:
		n.limit = loads[p.ID] * m.grip(p, g)
	}
}

// drives is whether a wheel hangs on the tree.
func (n *node) drives(p *driveline.Part) bool {
	if n.wheel == p {
		return true
	}
	return slices.ContainsFunc(n.kids, func(k *node) bool { return k.drives(p) })
}

// above is the split nearest to the root that ties a wheel's torque to that of
// other wheels: open, or a limited slip. Nil where locks leave it to grip.
func (n *node) above(p *driveline.Part) *node {
	if !n.drives(p) {
		return nil
	}
	if n.share != nil && len(n.kids) > 1 {
		return n
	}
	for _, k := range n.kids {
		if s := k.above(p); s != nil {
			return s
		}
	}
	return nil
}
