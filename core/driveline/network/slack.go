package network

import (
	"math"
	"slices"
)

// Slack is how far a shaft can be rocked while the holders stand still, every
// element with its own play.
type Slack struct {
	Bounded bool
	// Total is the whole way, from stop to stop, in the unit of the plays.
	Total float64
	// Factor is how much of each element's play shows; 0 where it doesn't.
	// Total = Σ |factor| · play.
	Factor []float64
}

// Rock finds the slack of a shaft. play is, for each element, by how much its
// equation may be off, from stop to stop; drives, roads, loads and fluids hold
// nothing.
//
// Each closed element says Σ c·θ = d with |d| ≤ play/2, so the most that the
// shaft can turn is a linear program; its dual is solved here: the way of
// standing against the shaft, y with Aᵀy = e, whose plays add up to the least
// (Dantzig, Linear Programming and Extensions). Where two ways hold the shaft,
// the tighter one does.
func (c *Compiled) Rock(shaft int, play []float64) Slack {
	s := Slack{Factor: make([]float64, len(c.net.Elements))}
	var rows []row
	held := map[int]bool{}
	for _, r := range c.rows {
		switch c.net.Elements[r.element].Kind {
		case Drive, Road, Load, Fluid:
			continue
		case Holder:
			if held[r.speed[0].col] {
				continue
			}
			held[r.speed[0].col] = true
		}
		rows = append(rows, r)
	}
	y, free, ok := c.against(rows, shaft)
	if !ok {
		return s
	}
	w := make([]float64, len(rows))
	for k, r := range rows {
		w[k] = play[r.element]
	}
	y = least(y, free, w)
	s.Bounded = true
	for k, r := range rows {
		if math.Abs(y[k]) < 1e-9 {
			continue
		}
		s.Factor[r.element] = y[k]
		s.Total += math.Abs(y[k]) * w[k]
	}
	return s
}

// against solves Aᵀy = e(shaft): a particular solution, and a basis of what may
// be added to it. ok is false where nothing holds the shaft.
//
// It is Gauss-Jordan elimination with full pivoting (Golub and Van Loan, Matrix
// Computations, 3.4), in O(n·k·rank) for n shafts and k rows: rows may depend on each
// other, and there may be more or fewer of them than shafts. What comes out is a corner
// of the linear program, all but rank of the y at 0, and its edges, each with one of
// those at 1: least goes on from there. A library doesn't give that. gonum's singular
// values give the shortest y, with nothing at 0, from which least stopped short of the
// least (tried: 3.6 times the time as well); its simplex takes rows of full rank alone.
func (c *Compiled) against(rows []row, shaft int) (y []float64, free [][]float64, ok bool) {
	n, k := len(c.names), len(rows)
	m := make([][]float64, n) // shafts × (rows + right side)
	for i := range m {
		m[i] = make([]float64, k+1)
	}
	for j, r := range rows {
		scale := 0.0
		for _, t := range r.speed {
			scale = math.Max(scale, math.Abs(t.c.Float()))
		}
		for _, t := range r.speed {
			m[t.col][j] = t.c.Float() / scale
		}
	}
	m[shaft][k] = 1
	pivot, taken := eliminate(m, k)
	for i := len(pivot); i < n; i++ {
		if math.Abs(m[i][k]) > 1e-7 {
			return nil, nil, false
		}
	}
	y = make([]float64, k)
	for i, j := range pivot {
		y[j] = m[i][k]
	}
	for j := range k {
		if taken[j] {
			continue
		}
		f := make([]float64, k)
		f[j] = 1
		for i, p := range pivot {
			f[p] = -m[i][j]
		}
		free = append(free, f)
	}
	for j, r := range rows { // back from the scaled rows
		scale := 0.0
		for _, t := range r.speed {
			scale = math.Max(scale, math.Abs(t.c.Float()))
		}
		y[j] /= scale
		for _, f := range free {
			f[j] /= scale
		}
	}
	return y, free, true
}

// least adds to y what makes Σ w·|y| least, y being a corner and free the edges that
// leave it: from corner to corner of a convex function, each step to the weighted
// median of where the edge meets a y of 0 (Barrodale and Roberts, An Improved Algorithm
// for Discrete l1 Linear Approximation, 1973). One step sorts k knots; a handful of
// steps for each edge is usual, 200 rounds the bound.
func least(y []float64, free [][]float64, w []float64) []float64 {
	if len(free) == 0 {
		return y
	}
	y = slices.Clone(y)
	// A hair apart, so that no two corners fall together; free where it costs
	// nothing.
	cost := make([]float64, len(w))
	for k := range w {
		cost[k] = w[k] + 1e-9*(1+float64(k%7))
	}
	edges := make([][]float64, len(free))
	for i := range free {
		edges[i] = slices.Clone(free[i])
	}
	corner := make([]int, len(edges)) // the row that each edge leaves
	for i := range edges {
		corner[i] = -1
	}
	for range 200 {
		moved := false
		for i := range edges {
			t, at := median(y, edges[i], cost)
			if at < 0 || (corner[i] >= 0 && math.Abs(t) < 1e-12) {
				continue
			}
			for k := range y {
				y[k] += t * edges[i][k]
			}
			y[at] = 0
			corner[i], moved = at, true
			// The other edges keep this row where it is.
			for j := range edges {
				if j == i || math.Abs(edges[j][at]) < 1e-12 {
					continue
				}
				f := edges[j][at] / edges[i][at]
				for k := range y {
					edges[j][k] -= f * edges[i][k]
				}
			}
		}
		if !moved {
			break
		}
	}
	return y
}

// median is the step t that makes Σ cost·|y + t·e| least, and the row that
// becomes 0 there.
func median(y, e, cost []float64) (t float64, at int) {
	type knot struct {
		t, w float64
		k    int
	}
	var list []knot
	sum := 0.0
	for k := range y {
		if a := math.Abs(e[k]); a > 1e-12 {
			list = append(list, knot{-y[k] / e[k], a * cost[k], k})
			sum += a * cost[k]
		}
	}
	if len(list) == 0 {
		return 0, -1
	}
	slices.SortFunc(list, func(a, b knot) int {
		switch {
		case a.t < b.t:
			return -1
		case a.t > b.t:
			return 1
		}
		return a.k - b.k
	})
	run := 0.0
	for _, n := range list {
		if run += n.w; run >= sum/2 {
			return n.t, n.k
		}
	}
	return list[len(list)-1].t, list[len(list)-1].k
}

// eliminate reduces the lines by their first k columns, in place, and tells the column of each
// reduced line and which columns are taken.
func eliminate(m [][]float64, k int) (pivot []int, taken []bool) {
	n := len(m)
	pivot, taken = make([]int, 0, k), make([]bool, k)
	// The greatest of each line is looked for again only where the line has changed: few do,
	// as a shaft meets few others.
	greatest := make([]int, n)
	look := func(i int) {
		at := -1
		for j, v := range m[i][:k] {
			if a := math.Abs(v); a > 1e-9 && !taken[j] && (at < 0 || a > math.Abs(m[i][at])) {
				at = j
			}
		}
		greatest[i] = at
	}
	for i := range m {
		look(i)
	}
	line := 0
	for range min(n, k) {
		bi := -1
		for i := line; i < n; i++ {
			if g := greatest[i]; g >= 0 && (bi < 0 || math.Abs(m[i][g]) > math.Abs(m[bi][greatest[bi]])) {
				bi = i
			}
		}
		if bi < 0 {
			break
		}
		bj := greatest[bi]
		m[line], m[bi] = m[bi], m[line]
		greatest[line], greatest[bi] = greatest[bi], greatest[line]
		pivot, taken[bj] = append(pivot, bj), true
		p := m[line][bj]
		for j := range m[line] {
			m[line][j] /= p
		}
		for i := range m {
			if f := m[i][bj]; i != line && f != 0 {
				for j := range m[i] {
					m[i][j] -= f * m[line][j]
				}
				look(i)
			}
		}
		line++
	}
	return pivot, taken
}
