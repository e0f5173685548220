package network

import (
	"slices"

	"zorvel/core/exact"
)

// Base is a network solved once, from which networks that differ in a few elements are told
// without solving them anew.
//
// Every solution is x = v + F·f, with the free shafts f. Taking the independent row r
// out lets one more motion in: x = v + F·f + d·t, where d is what all shafts do if row r
// asks for one instead of its right side and the others for zero. A row that comes in is
// one equation on f and t. Both cost a pass over the reduced rows, not an elimination.
//
// Where one loop binds, its cut is no row of the base. As long as every row of the loop is
// there and none comes in, the same loop binds; once one is gone, the cut comes in as a row.
type Base struct {
	c     *Compiled
	e     *echelon
	forms []form
	basis []int                  // row → its place among the reduced rows; −1 where it follows from others
	spare [][]int                // for every row that follows from others, all of these and itself
	loose map[int][]exact.Number // row → what all shafts do without it, as asked so far
	bind  *Bind
	loop  []int // rows that contradict each other in it
	cut   int   // of them the one that is left out; −1
}

// Base solves a network to vary it; not ok where more than one loop binds.
func (c *Compiled) Base() (b *Base, ok bool) {
	b = &Base{c: c, loose: map[int][]exact.Number{}, cut: -1}
	order, open := c.order(), make([]bool, len(c.rows))
	if _, loop := c.reduce(order, open); loop != nil {
		bind, cut := c.bind(loop, open)
		b.bind, b.loop, b.cut = &bind, loop, cut
		open[cut] = true
	}
	b.e, b.basis = newEchelon(len(c.names)), make([]int, len(c.rows))
	for _, k := range order {
		b.basis[k] = -1
		if open[k] {
			continue
		}
		switch how, steps := b.e.add(c.rows[k].speed, c.rows[k].rhs, k); how {
		case independent:
			b.basis[k] = len(b.e.rows) - 1
		case redundant:
			b.spare = append(b.spare, b.e.circuit(k, steps))
		default:
			return nil, false
		}
	}
	b.forms = b.e.forms()
	return b, true
}

// Varied is what the shafts of a varied network do.
type Varied struct {
	base  *Base
	loose [][]exact.Number // one for each row taken out; its amount is the column after the shafts
	e     *echelon         // the rows that came in
	binds []Bind
}

// Vary is what shafts do with other elements in some places, and with more behind the last,
// as Change takes them: to is what Change made. Not ok where that has to be solved: it binds
// otherwise, or several elements go of which others say the same.
func (b *Base) Vary(to *Compiled, places []int) (v *Varied, ok bool) {
	v = &Varied{base: b}
	var gone []int
	for k, r := range b.c.rows {
		if slices.Contains(places, r.element) {
			gone = append(gone, k)
		}
	}
	if len(gone) > 1 && len(b.spare) > 0 {
		return nil, false
	}
	for _, k := range gone {
		if b.basis[k] >= 0 && !slices.ContainsFunc(b.spare, func(circuit []int) bool {
			return slices.Contains(circuit,
				k)
		}) {
			v.loose = append(v.loose, b.without(k))
		}
	}
	v.e = &echelon{pivot: slices.Repeat([]int{-1}, len(b.c.names)+len(v.loose)), cut: 16} // few rows, of few terms
	come := 0
	for _, r := range to.rows {
		if r.element < len(b.c.net.Elements) && !slices.Contains(places, r.element) {
			continue
		}
		if come++; !v.add(r) {
			return nil, false
		}
	}
	if b.bind == nil || slices.Contains(gone, b.cut) {
		return v, true
	}
	if slices.ContainsFunc(gone, func(k int) bool { return slices.Contains(b.loop, k) }) {
		return v, v.add(b.c.rows[b.cut])
	}
	if come > 0 {
		return nil, false
	}
	v.binds = []Bind{*b.bind}
	b.c.mismatch(&v.binds[0], func(shaft int) (exact.Number, bool) {
		f := v.form(shaft)
		return f.value, f.known()
	})
	return v, true
}

// add takes a row in; false where it contradicts.
func (v *Varied) add(r row) bool {
	f := form{value: r.rhs}
	for _, t := range r.speed {
		f = v.less(f, t.col, t.c)
	}
	for i := range f.free { // what is left of it equals what is asked
		f.free[i].c = f.free[i].c.Neg()
	}
	how, _ := v.e.add(f.free, f.value, 0)
	return how != conflicting
}

// Binds is the loop in which no motion is possible, if there is one.
func (v *Varied) Binds() []Bind { return v.binds }

// less takes c times a shaft's motion away from a form.
func (v *Varied) less(f form, shaft int, c exact.Number) form {
	x := v.base.forms[shaft]
	f.value = f.value.Sub(x.value.Mul(c))
	free := x.free
	for i, d := range v.loose {
		if !d[shaft].IsZero() {
			free = append(free[:len(free):len(free)], term{len(v.base.c.names) + i, d[shaft]})
		}
	}
	f.free = v.e.minus(f.free, free, c)
	return f
}

// form is a shaft's motion by what is free.
func (v *Varied) form(shaft int) form {
	f := v.less(form{}, shaft, exact.Int(-1))
	for i := len(f.free) - 1; i >= 0; i = len(f.free) - 1 {
		last := f.free[i]
		k := v.e.pivot[last.col]
		if k < 0 {
			break
		}
		b := &v.e.rows[k]
		c := last.c.Div(b.t[len(b.t)-1].c)
		f.value = f.value.Add(b.rhs.Mul(c))
		f.free = v.e.minus(f.free, b.t, c)
	}
	return f
}

// Shaft is a shaft's state and, where that is known, its speed; in a bind the speed with
// the loop opened.
func (v *Varied) Shaft(shaft int) (State, exact.Number) {
	f := v.form(shaft)
	state, speed := Driven, f.value
	switch {
	case !f.known():
		state, speed = Free, exact.Number{}
	case f.value.IsZero():
		state = Still
	}
	for _, b := range v.binds {
		if slices.Contains(b.Shafts, shaft) {
			state = Bound
		}
	}
	return state, speed
}

// without is what all shafts do where a row asks for one and all others for zero, with
// the free shafts still.
func (b *Base) without(row int) []exact.Number {
	if d := b.loose[row]; d != nil {
		return d
	}
	at := b.basis[row]
	asked := make([]exact.Number, len(b.e.rows))
	asked[at] = one
	for k := at + 1; k < len(b.e.rows); k++ {
		for _, s := range b.e.rows[k].steps {
			if !asked[s.basis].IsZero() {
				asked[k] = asked[k].Sub(asked[s.basis].Mul(s.c))
			}
		}
	}
	d := make([]exact.Number, len(b.e.pivot))
	for col, k := range b.e.pivot {
		if k < 0 {
			continue
		}
		r := &b.e.rows[k]
		x := asked[k]
		for _, t := range r.t[:len(r.t)-1] {
			if !d[t.col].IsZero() {
				x = x.Sub(d[t.col].Mul(t.c))
			}
		}
		if !x.IsZero() {
			d[col] = x.Div(r.t[len(r.t)-1].c)
		}
	}
	b.loose[row] = d
	return d
}
