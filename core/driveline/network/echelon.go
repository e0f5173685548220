package network

import (
	"slices"

	"zorvel/core/exact"
)

// step is a multiple of an earlier basis row that was taken away.
type step struct {
	basis int
	c     exact.Number
}

// basisRow is a reduced equation; its last column is its pivot.
type basisRow struct {
	t     []term
	rhs   exact.Number
	steps []step
	from  int
}

// echelon holds independent equations, each with a pivot column of its own
// that is its last. Rows come in one by one, so that the row which
// contradicts the ones before is known, and with it the loop.
type echelon struct {
	pivot []int // column → basis row, -1 without
	rows  []basisRow
	slab  []term // terms are cut from it, to allocate seldom
	cut   int    // how many at a time
}

func newEchelon(columns int) *echelon {
	e := &echelon{pivot: make([]int, columns), rows: make([]basisRow, 0, columns), cut: 512}
	for i := range e.pivot {
		e.pivot[i] = -1
	}
	return e
}

// reduce takes multiples of basis rows away until the last column has none.
func (e *echelon) reduce(t []term, rhs exact.Number) ([]term, exact.Number, []step) {
	var steps []step
	for len(t) > 0 {
		last := t[len(t)-1]
		k := e.pivot[last.col]
		if k < 0 {
			break
		}
		b := &e.rows[k]
		c := last.c.Div(b.t[len(b.t)-1].c)
		t = e.minus(t, b.t, c)
		if !b.rhs.IsZero() {
			rhs = rhs.Sub(b.rhs.Mul(c))
		}
		steps = append(steps, step{k, c})
	}
	return t, rhs, steps
}

// outcome of adding a row.
type outcome int

const (
	independent outcome = iota
	redundant           // follows from the rows before
	conflicting         // contradicts the rows before
)

// add takes a row in. steps lead to the rows that make it redundant or
// conflicting.
func (e *echelon) add(t []term, rhs exact.Number, from int) (outcome, []step) {
	t, rhs, steps := e.reduce(t, rhs)
	if len(t) > 0 {
		e.pivot[t[len(t)-1].col] = len(e.rows)
		e.rows = append(e.rows, basisRow{t, rhs, steps, from})
		return independent, nil
	}
	if rhs.IsZero() {
		return redundant, steps
	}
	return conflicting, steps
}

// circuit lists the sources of the rows that a dependent row follows from:
// the smallest dependent set, since the basis rows are independent.
func (e *echelon) circuit(from int, steps []step) []int {
	weight := make([]exact.Number, len(e.rows))
	for _, s := range steps {
		weight[s.basis] = weight[s.basis].Sub(s.c)
	}
	out := []int{from}
	for k := len(e.rows) - 1; k >= 0; k-- {
		if weight[k].IsZero() {
			continue
		}
		out = append(out, e.rows[k].from)
		for _, s := range e.rows[k].steps {
			weight[s.basis] = weight[s.basis].Sub(weight[k].Mul(s.c))
		}
	}
	slices.Sort(out)
	return out
}

// form is an unknown as const + Σ c·free.
type form struct {
	value exact.Number
	free  []term
}

func (f form) known() bool { return len(f.free) == 0 }

// forms expresses every column by the columns that no equation pins.
func (e *echelon) forms() []form {
	out := make([]form, len(e.pivot))
	for col, k := range e.pivot {
		if k < 0 {
			out[col] = form{free: []term{{col, one}}}
			continue
		}
		b := &e.rows[k]
		lead := b.t[len(b.t)-1].c
		f := form{value: b.rhs}
		for _, t := range b.t[:len(b.t)-1] {
			x := out[t.col]
			if !x.value.IsZero() {
				f.value = f.value.Sub(x.value.Mul(t.c))
			}
			if len(x.free) > 0 {
				f.free = e.minus(f.free, x.free, t.c)
			}
		}
		f.value = f.value.Div(lead)
		if len(f.free) > 0 && !lead.Equal(one) {
			inv := lead.Inv()
			scaled := make([]term, len(f.free))
			for i, t := range f.free {
				scaled[i] = term{t.col, t.c.Mul(inv)}
			}
			f.free = scaled
		}
		out[col] = f
	}
	return out
}

// minus returns a − c·b; both sorted by column.
func (e *echelon) minus(a, b []term, c exact.Number) []term {
	n := len(a) + len(b)
	if cap(e.slab)-len(e.slab) < n {
		e.slab = make([]term, 0, max(n, e.cut))
	}
	out := e.slab[len(e.slab) : len(e.slab) : len(e.slab)+n]
	i, j := 0, 0
	for i < len(a) || j < len(b) {
		switch {
		case j == len(b) || (i < len(a) && a[i].col < b[j].col):
			out = append(out, a[i])
			i++
		case i == len(a) || b[j].col < a[i].col:
			out = append(out, term{b[j].col, b[j].c.Mul(c).Neg()})
			j++
		default:
			if x := a[i].c.Sub(b[j].c.Mul(c)); !x.IsZero() {
				out = append(out, term{a[i].col, x})
			}
			i++
			j++
		}
	}
	e.slab = e.slab[:len(e.slab)+len(out)]
	return out
}
