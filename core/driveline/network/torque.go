package network

import "zorvel/core/exact"

// Torque is what a unit of input torque does everywhere.
type Torque struct {
	// Starved: no torque can be put in, because nothing takes it up at some
	// end. All torques are zero then.
	Starved bool
	// Known says for each shaft whether the equations fix its torque; where
	// they don't, grip or stiffness decides.
	Known []bool
	// Shaft is the torque carried by each shaft per unit of input torque. At
	// the drive and at loads it is what goes in or comes out there; elsewhere
	// the sum of what drives the shaft, which equals the sum of what loads it.
	Shaft []exact.Number
	// Element is, for each element and shaft it touches, what it does to the
	// shaft.
	Element []ElementTorque
	// Load is the torque (at a ground the force, in units of torque per
	// meter) that leaves at each load.
	Load []LoadTorque
}

// ElementTorque is what an element does to one shaft, positive in the shaft's
// positive sense.
type ElementTorque struct {
	Element, Shaft int
	Known          bool
	Torque         exact.Number
}

// LoadTorque is what leaves at a shaft.
type LoadTorque struct {
	Shaft  int
	Known  bool
	Torque exact.Number
}

// Torque finds the torques of a motion per unit of torque at the first drive,
// which pushes the way it turns. With losses, typical efficiencies are taken
// off where power leaves an element.
func (c *Compiled) Torque(m Motion, losses bool) Torque {
	plain := c.torque(m, nil)
	if !losses || plain.Starved {
		return plain
	}
	keep := make(map[[2]int]exact.Number)
	for _, t := range plain.Element {
		η := c.net.Elements[t.Element].Efficiency
		if t.Known && !η.IsZero() && t.Torque.Mul(m.Speed[t.Shaft]).Sign() > 0 {
			keep[[2]int{t.Element, t.Shaft}] = η
		}
	}
	return c.torque(m, keep)
}

// torque solves for one unknown for each equation (what the element does) and
// one for each load: on every shaft they sum to zero.
func (c *Compiled) torque(m Motion, keep map[[2]int]exact.Number) Torque {
	n := len(c.names)
	out := Torque{Known: make([]bool, n), Shaft: make([]exact.Number, n)}
	if c.driven < 0 || m.stalled {
		out.Starved = true
		return out
	}
	// The drive's own unknown is column 0, so everything is told by it.
	col := func(k int) int {
		switch {
		case k == c.driven:
			return 0
		case k < c.driven:
			return k + 1
		}
		return k
	}
	e := newEchelon(len(c.rows) + len(c.loads))
	for _, b := range c.balances(col, keep) {
		sortTerms(b)
		e.add(b, exact.Number{}, 0)
	}
	push := one
	if c.rows[c.driven].rhs.Sign() < 0 {
		push = push.Neg()
	}
	if how, _ := e.add([]term{{0, one}}, push, 0); how == conflicting {
		out.Starved = true
		for i := range out.Known {
			out.Known[i] = true
		}
		return out
	}
	forms := e.forms()
	for i := range out.Known {
		out.Known[i] = true
	}
	out.Element = make([]ElementTorque, 0, 3*len(c.rows))
	for k := range c.rows {
		r := &c.rows[k]
		f := forms[col(k)]
		for _, t := range r.torque {
			x := ElementTorque{Element: r.element, Shaft: t.col, Known: f.known()}
			if x.Known {
				v := t.c
				if η, ok := keep[[2]int{r.element, t.col}]; ok {
					v = v.Mul(η)
				}
				x.Torque = v.Mul(f.value)
				if x.Torque.Sign() > 0 {
					out.Shaft[t.col] = out.Shaft[t.col].Add(x.Torque)
				}
			} else {
				out.Known[t.col] = false
			}
			out.Element = append(out.Element, x)
		}
	}
	for i, s := range c.loads {
		f := forms[len(c.rows)+i]
		out.Load = append(out.Load, LoadTorque{s, f.known(), f.value.Neg()})
		out.Known[s], out.Shaft[s] = f.known(), f.value.Abs()
	}
	in := c.rows[c.driven].speed[0].col
	out.Known[in], out.Shaft[in] = true, one
	return out
}

// balances are the torques at each shaft, which add up to nothing; col is the
// column of a row's unknown.
func (c *Compiled) balances(col func(int) int, keep map[[2]int]exact.Number) [][]term {
	n := len(c.names)
	balance := make([][]term, n)
	cells := make([]term, 4*n) // most shafts stand in four equations or fewer
	for i := range balance {
		balance[i] = cells[4*i : 4*i : 4*i+4]
	}
	for k := range c.rows {
		r := &c.rows[k]
		for _, t := range r.torque {
			v := t.c
			if η, ok := keep[[2]int{r.element, t.col}]; ok {
				v = v.Mul(η)
			}
			balance[t.col] = append(balance[t.col], term{col(k), v})
		}
	}
	for i, s := range c.loads {
		balance[s] = append(balance[s], term{len(c.rows) + i, one})
	}
	return balance
}
