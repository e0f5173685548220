package network

import (
	"slices"

	"zorvel/core/exact"
)

// State is what can be said of a shaft's speed.
type State string

// States of a shaft.
const (
	Driven State = "driven" // an exact multiple of the input, not zero
	Still  State = "still"  // zero
	Free   State = "free"   // not determined
	Bound  State = "bind"   // the demands on it contradict each other
)

// Bind is a loop in which no motion is possible.
type Bind struct {
	// Elements and Shafts of the loop, by place in the network. Where the
	// input is driven against something held there is no loop: then they
	// are all between the two, and Held is set.
	Elements []int
	Shafts   []int
	Held     bool
	// Cut is the element at which the loop was opened to go on, or -1.
	// Mismatch is how much faster (a part, not %) the b side of the cut is
	// asked to turn than its a side.
	Cut      int
	Mismatch exact.Number
}

// Motion is the speed of every shaft, in the order of Compiled.Names.
type Motion struct {
	State []State
	// Speed counts for driven and still shafts; for shafts in a bind it is
	// the speed with the loop opened at the cut.
	Speed []exact.Number
	// Drawn is Speed, and for free shafts a motion that is as likely as any:
	// both sides of a differential dragging alike, loose outputs still.
	Drawn []exact.Number
	// Tied lists, for a free shaft, the other free shafts that its speed is
	// tied to.
	Tied  [][]int
	Binds []Bind
	// stalled: nothing can turn, so torques mean nothing.
	stalled bool
	forms   []form // every shaft by the free ones
}

// Preference is a way in which free shafts are drawn; an equation with zero on
// the right. The earlier ones win.
type Preference struct {
	A, B string // ω_a = ω_b; without B, ω_a = 0
}

const maxBinds = 12

// lastRank is that of what drives.
const lastRank = 3

// rank is when a row counts: what is built in, what is held, the road, what drives.
func (c *Compiled) rank(row int) int {
	switch c.net.Elements[c.rows[row].element].Kind {
	case Holder:
		return 1
	case Road:
		return 2
	case Drive:
		return lastRank
	}
	return 0
}

// order is the rows as they count.
func (c *Compiled) order() []int {
	order := make([]int, 0, len(c.rows))
	for want := range lastRank + 1 {
		for k := range c.rows {
			if c.rank(k) == want {
				order = append(order, k)
			}
		}
	}
	return order
}

// Solve finds the motion. Elements count in the order: what is built in, what
// is held, the road, what drives; so a contradiction is blamed on the last.
func (c *Compiled) Solve(prefer []Preference) Motion {
	order := c.order()
	m := Motion{}
	out := make([]bool, len(c.rows)) // rows opened because of a bind
	var cuts []int                   // the row opened for each bind
	var e *echelon
	for {
		var circuit []int
		if e, circuit = c.reduce(order, out); circuit == nil {
			break
		}
		b, cut := c.bind(circuit, out)
		m.Binds = append(m.Binds, b)
		cuts = append(cuts, cut)
		if b.Cut < 0 {
			m.stalled = true
		}
		out[cut] = true
		if len(m.Binds) == maxBinds {
			// More loops than anyone can act on: nothing turns.
			m.stalled = true
			for k := range c.rows {
				if c.rank(k) == lastRank {
					out[k] = true
				}
			}
		}
	}
	if e2 := c.closeIdle(&m, order, out, cuts); e2 != nil {
		e = e2
	}
	c.measure(&m, e)
	c.read(&m, e, prefer)
	return m
}

// reduce adds the rows that aren't open, in order, up to the first that
// contradicts those before it; circuit is that contradiction.
func (c *Compiled) reduce(order []int, open []bool) (e *echelon, circuit []int) {
	e = newEchelon(len(c.names))
	for _, k := range order {
		if open[k] {
			continue
		}
		if how, steps := e.add(c.rows[k].speed, c.rows[k].rhs, k); how == conflicting {
			return e, e.circuit(k, steps)
		}
	}
	return e, nil
}

// closeIdle closes cuts again that later cuts have made needless: two equal
// axles that bind each by themselves don't bind against each other too.
func (c *Compiled) closeIdle(m *Motion, order []int, out []bool, cuts []int) *echelon {
	if len(cuts) < 2 || m.stalled {
		return nil
	}
	var last *echelon
	for i := len(cuts) - 1; i >= 0; i-- {
		out[cuts[i]] = false
		if e, circuit := c.reduce(order, out); circuit == nil {
			last = e
			m.Binds = slices.Delete(m.Binds, i, i+1)
			continue
		}
		out[cuts[i]] = true
	}
	return last
}

// bind finds the loop within a contradiction and where to open it.
func (c *Compiled) bind(circuit []int, out []bool) (Bind, int) {
	var loop []int
	drive := -1
	for _, k := range circuit {
		if c.net.Elements[c.rows[k].element].Kind == Drive {
			drive = k
			continue
		}
		loop = append(loop, k)
	}
	loop = c.core(loop)
	b := Bind{Cut: -1}
	if len(loop) == 0 {
		// The input is driven against a holder, or against another drive.
		b.Held = true
		loop = circuit
	}
	seen := map[int]bool{}
	for _, k := range loop {
		b.Elements = append(b.Elements, c.rows[k].element)
		for _, t := range c.rows[k].speed {
			if !seen[t.col] {
				seen[t.col] = true
				b.Shafts = append(b.Shafts, t.col)
			}
		}
	}
	slices.Sort(b.Shafts)
	cut := drive
	if !b.Held {
		if k := c.weakest(loop); k >= 0 {
			cut = k
			b.Cut = c.rows[k].element
		}
	}
	if cut < 0 {
		cut = circuit[0]
	}
	return b, cut
}

// core keeps of the rows those that force a shaft to stand by themselves:
// rows with a shaft of their own decide only that shaft and fall away.
func (c *Compiled) core(rows []int) []int {
	for {
		count := map[int]int{}
		for _, k := range rows {
			for _, t := range c.rows[k].speed {
				count[t.col]++
			}
		}
		kept := rows[:0:0]
		for _, k := range rows {
			own := false
			for _, t := range c.rows[k].speed {
				own = own || count[t.col] == 1
			}
			if !own {
				kept = append(kept, k)
			}
		}
		if len(kept) == len(rows) {
			return rows
		}
		rows = kept
	}
}

// weakest is the row of a loop where it is opened: a lock, else a coupling,
// else a mesh at which one axle parts from the rest, else a tire. A loop of
// gears alone has no such place: it is jammed.
func (c *Compiled) weakest(loop []int) int {
	best, rank := -1, 0
	road := false
	for _, k := range loop {
		if c.net.Elements[c.rows[k].element].Kind == Road {
			road = true
		}
	}
	if !road {
		return -1
	}
	for _, k := range loop {
		r := 0
		switch c.net.Elements[c.rows[k].element].Kind {
		case Lock:
			r = 4
		case Coupling:
			r = 3
		case Mesh:
			r = 2
		case Road:
			r = 1
		}
		if r > rank {
			best, rank = k, r
		}
	}
	return best
}

// measure fills the mismatch of every opened loop from the speeds on both
// sides of the cut.
func (c *Compiled) measure(m *Motion, e *echelon) {
	if len(m.Binds) == 0 {
		return
	}
	forms := e.forms()
	for i := range m.Binds {
		c.mismatch(&m.Binds[i], func(shaft int) (exact.Number, bool) {
			return forms[shaft].value,
				forms[shaft].known()
		})
	}
}

// mismatch fills that of one loop; speed tells a shaft's with the loop opened, if it is known.
func (c *Compiled) mismatch(b *Bind, speed func(shaft int) (v exact.Number, known bool)) {
	if b.Cut < 0 {
		return
	}
	for _, r := range c.rows {
		if r.element != b.Cut || len(r.speed) != 2 {
			continue
		}
		el := c.net.Elements[r.element]
		a, z := r.speed[0], r.speed[1]
		if first := el.A + el.Shaft; c.names[a.col] != first {
			a, z = z, a
		}
		x, known := speed(a.col)
		y, too := speed(z.col)
		if known && too && !x.IsZero() {
			b.Mismatch = z.c.Neg().Mul(y).Div(a.c.Mul(x)).Sub(one)
		}
	}
}

// read turns the solved equations into states and speeds.
func (c *Compiled) read(m *Motion, e *echelon, prefer []Preference) {
	forms := e.forms()
	m.forms = forms
	n := len(c.names)
	m.State, m.Speed, m.Drawn, m.Tied = make([]State, n), make([]exact.Number, n), make([]exact.Number, n), make([][]int, n)
	free := false
	sharing := map[int][]int{}
	for i, f := range forms {
		switch {
		case !f.known():
			m.State[i], free = Free, true
			for _, t := range f.free {
				sharing[t.col] = append(sharing[t.col], i)
			}
		case f.value.IsZero():
			m.State[i] = Still
		default:
			m.State[i], m.Speed[i] = Driven, f.value
		}
	}
	for i, f := range forms {
		for _, t := range f.free {
			for _, j := range sharing[t.col] {
				if j != i && !slices.Contains(m.Tied[i], j) {
					m.Tied[i] = append(m.Tied[i], j)
				}
			}
		}
	}
	copy(m.Drawn, m.Speed)
	if free {
		for _, p := range prefer {
			a := c.Shaft(p.A)
			if a < 0 || m.State[a] != Free {
				continue
			}
			t := []term{{a, one}}
			if p.B != "" {
				b := c.Shaft(p.B)
				if b < 0 || b == a {
					continue
				}
				t = append(t, term{b, exact.Int(-1)})
				sortTerms(t)
			}
			e.add(t, exact.Number{}, -1)
		}
		for i, f := range e.forms() {
			m.Drawn[i] = f.value
		}
	}
	for _, b := range m.Binds {
		for _, s := range b.Shafts {
			m.State[s] = Bound
		}
	}
}
