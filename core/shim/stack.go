// Package shim makes stacks of shims from what lies in the box: the best for
// several places at once, without using a piece twice.
//
// It is a bounded multiple-choice knapsack: every stack of up to eight pieces
// within a window about each place's thickness is listed by depth-first search,
// and a branch and bound over the places picks one each. The window widens
// until the box serves them all; the work is bounded by mostCandidates a place
// and mostSteps together.
package shim

import (
	"slices"
	"sort"

	"zorvel/core/fault"
)

// Bounds of a search; the contract has the same.
const (
	MaxSizes  = 60
	MaxPieces = 8
	MaxPlaces = 4
)

// Shim is a size in the box and how many there are of it.
type Shim struct {
	MM    float64 `json:"mm"`
	Count int     `json:"count"`
}

// Target is a place that wants a stack.
type Target struct {
	WantMM float64 `json:"want_mm"`
	TolMM  float64 `json:"tol_mm"`
}

// Stack is what to put in one place.
type Stack struct {
	Pieces  []float64 `json:"pieces"` // mm, thickest first
	TotalMM float64   `json:"total_mm"`
	ErrorMM float64   `json:"error_mm"` // total − wanted
	Within  bool      `json:"within"`   // the tolerance
}

// stack is a candidate while searching: how many pieces of each size.
type stack struct {
	use    []uint8
	pieces int
	err    Micron
	over   Micron // beyond the tolerance
}

// better orders candidates: nearest to the tolerance, then fewest pieces, then
// smallest error.
func better(a, b stack) int {
	switch {
	case a.over != b.over:
		return int(a.over - b.over)
	case a.pieces != b.pieces:
		return a.pieces - b.pieces
	}
	return int(a.err.abs() - b.err.abs())
}

// By is what counts first where one box can't serve every place exactly.
type By string

// What counts first. Within the tolerances always comes before pieces.
const (
	FewestPieces By = ""              // least beyond the tolerances, then fewest pieces, then least error
	LeastLargest By = "least_largest" // the largest error of any place as small as can be
	LeastSum     By = "least_sum"     // the errors of all places together
	MostExact    By = "most_exact"    // as many places as can be without any error, then the rest
)

// Objectives lists them.
func Objectives() []By { return []By{FewestPieces, LeastLargest, LeastSum, MostExact} }

// ChooseBy is Choose where something else counts first.
func ChooseBy(box []Shim, targets []Target, most int, by By) ([]Stack, error) {
	if !slices.Contains(Objectives(), by) {
		return nil, fault.New("by", "least_largest, least_sum or most_exact; nothing for the fewest pieces")
	}
	if by == FewestPieces || len(targets) == 0 {
		return Choose(box, targets, most)
	}
	first, err := Choose(box, targets, most) // checks it, and bounds what is looked at
	if err != nil {
		return nil, err
	}
	sizes, err := checkBox(box)
	if err != nil {
		return nil, err
	}
	s := &search{sizes: sizes, most: most, targets: targets}
	worst := Micron(0)
	for i, x := range first {
		worst = max(worst, (Of(x.TotalMM) - Of(targets[i].WantMM)).abs())
	}
	best := s.by(by, worst)
	if best == nil {
		return first, nil
	}
	out := make([]Stack, len(best))
	for i, b := range best {
		out[i] = s.say(b, targets[i])
	}
	return out, nil
}

// mostByPlace bounds the stacks of one place that ChooseBy compares: the nearest.
const mostByPlace = 120

// by tries the nearest stacks of every place together: with four places and the bound
// below it sees all that can win within its steps.
func (s *search) by(by By, within Micron) []stack {
	lists := make([][]stack, len(s.targets))
	for i, t := range s.targets {
		exact := t
		exact.TolMM = 0
		reach := max(within, Of(t.TolMM)) + Of(t.TolMM)
		if by == MostExact { // what others take may leave a place with next to nothing
			reach = max(reach, Of(t.WantMM))
		}
		lists[i] = s.candidates(exact, reach)
		slices.SortStableFunc(lists[i], func(a, b stack) int {
			if d := int(a.err.abs() - b.err.abs()); d != 0 {
				return d
			}
			return a.pieces - b.pieces
		})
		last := lists[i][len(lists[i])-1]
		if lists[i] = lists[i][:min(len(lists[i]), mostByPlace)]; by == MostExact {
			lists[i] = append(lists[i], last)
		}
	}
	cost := func(chosen []stack) [3]int {
		largest, sum, off, pieces := 0, 0, 0, 0
		for _, c := range chosen {
			e := int(c.err.abs())
			largest, sum, pieces = max(largest, e), sum+e, pieces+c.pieces
			if e != 0 {
				off++
			}
		}
		switch by {
		case LeastLargest:
			return [3]int{largest, sum, pieces}
		case LeastSum:
			return [3]int{sum, largest, pieces}
		}
		return [3]int{off, sum, pieces}
	}
	var best []stack
	var bestCost [3]int
	used := make([]int, len(s.sizes))
	chosen := make([]stack, 0, len(s.targets))
	steps := 0
	var walk func(i int)
	walk = func(i int) {
		if best != nil {
			if c := cost(chosen); slices.Compare(c[:], bestCost[:]) >= 0 {
				return // errors and pieces only grow
			}
		}
		if i == len(s.targets) {
			best, bestCost = slices.Clone(chosen), cost(chosen)
			return
		}
		for _, b := range lists[i] {
			if steps++; steps > 4*mostSteps {
				return
			}
			if !s.fits(used, b) {
				continue
			}
			for k, z := range b.use {
				used[k] += int(z)
			}
			chosen = append(chosen, b)
			walk(i + 1)
			chosen = chosen[:i]
			for k, z := range b.use {
				used[k] -= int(z)
			}
		}
	}
	walk(0)
	return best
}

// Choose finds the stacks for several places at once from one box, never more
// than most pieces in a place. It is the best there is by this order: least
// beyond the tolerances in all, then fewest pieces in all, then least error in
// all. A place that wants nothing gets nothing.
func Choose(box []Shim, targets []Target, most int) ([]Stack, error) {
	sizes, err := checkBox(box)
	if err != nil {
		return nil, err
	}
	if most < 1 || most > MaxPieces {
		return nil, fault.New("most_pieces", "from 1 to %d pieces in a stack", MaxPieces)
	}
	if len(targets) == 0 || len(targets) > MaxPlaces {
		return nil, fault.New("places", "from 1 to %d places", MaxPlaces)
	}
	for _, t := range targets {
		if !(t.WantMM >= 0 && t.WantMM <= 20) || !(t.TolMM >= 0 && t.TolMM <= 1) {
			return nil, fault.New("places", "a stack from 0 to 20 mm, within at most 1 mm")
		}
	}
	s := &search{sizes: sizes, most: most, targets: targets}
	return s.run(), nil
}

type size struct {
	um    Micron
	count int
}

func checkBox(box []Shim) ([]size, error) {
	var errs fault.Errors
	if len(box) > MaxSizes {
		return nil, fault.New("box", "at most %d sizes", MaxSizes)
	}
	n := map[Micron]int{}
	for i, b := range box {
		if u := Of(b.MM); !(b.MM > 0 && b.MM <= 10) || u == 0 {
			errs.Add("box/"+itoa(i)+"/mm", "a thickness above 0, up to 10 mm")
		} else if b.Count < 0 || b.Count > 1000 {
			errs.Add("box/"+itoa(i)+"/count", "from 0 to 1000 pieces")
		} else {
			n[u] += b.Count
		}
	}
	var out []size
	for u, c := range n {
		if c > 0 {
			out = append(out, size{u, c})
		}
	}
	sort.Slice(out, func(i, k int) bool { return out[i].um > out[k].um })
	return out, errs.Err()
}

// Bounds of the work where a box is so far from what is wanted that everything
// in it is about as good: stacks of one place, and steps of the search for all.
const (
	mostCandidates = 5_000
	mostSteps      = 100_000
)

type search struct {
	sizes   []size
	most    int
	targets []Target
}

// candidates lists every stack for a target that is at most over beyond its
// tolerance.
func (s *search) candidates(t Target, over Micron) []stack {
	want, tol := Of(t.WantMM), Of(t.TolMM)
	lo, hi := want-tol-over, want+tol+over
	var out []stack
	use := make([]uint8, len(s.sizes))
	var walk func(i, pieces int, sum Micron)
	walk = func(i, pieces int, sum Micron) {
		if sum >= lo && sum <= hi {
			e := sum - want
			out = append(out, stack{slices.Clone(use), pieces, e, max(0, e.abs()-tol)})
		}
		if pieces == s.most || len(out) >= mostCandidates {
			return
		}
		left := Micron(s.most - pieces)
		for k := i; k < len(s.sizes); k++ {
			z := s.sizes[k]
			if sum+left*z.um < lo { // the rest are thinner still
				return
			}
			if sum+z.um > hi || int(use[k]) >= z.count {
				continue
			}
			use[k]++
			walk(k, pieces+1, sum+z.um)
			use[k]--
		}
	}
	walk(0, 0, 0)
	slices.SortStableFunc(out, better)
	return out
}

// run widens what is allowed beyond the tolerances until the box serves every
// place, and then looks at all that could still be better.
func (s *search) run() []Stack {
	low, reach := Micron(-1), Micron(0)
	best := s.together(reach)
	for best == nil {
		low, reach = reach, max(100, reach*3/2)
		best = s.together(reach)
	}
	// Narrow it again: the fewer candidates, the sooner all of them are seen.
	for reach-low > max(20, reach/50) {
		mid := low + (reach-low)/2
		if b := s.together(mid); b != nil {
			best, reach = b, mid
		} else {
			low = mid
		}
	}
	total := Micron(0)
	for _, b := range best {
		total += b.over
	}
	if total > reach && len(s.targets) > 1 {
		best = s.together(total)
	}
	out := make([]Stack, len(best))
	for i, b := range best {
		out[i] = s.say(b, s.targets[i])
	}
	return out
}

func (s *search) say(b stack, t Target) Stack {
	x := Stack{Pieces: []float64{}, Within: b.over == 0}
	var sum Micron
	for k, n := range b.use {
		for range n {
			x.Pieces = append(x.Pieces, s.sizes[k].um.MM())
			sum += s.sizes[k].um
		}
	}
	x.TotalMM, x.ErrorMM = sum.MM(), (sum - Of(t.WantMM)).MM()
	return x
}

// together is a branch and bound over the places' candidates.
func (s *search) together(over Micron) []stack {
	lists := make([][]stack, len(s.targets))
	order := make([]int, len(s.targets))
	for i, t := range s.targets {
		if lists[i] = s.candidates(t, over); len(lists[i]) == 0 {
			return nil
		}
		order[i] = i
	}
	// The place with the fewest ways first.
	sort.SliceStable(order, func(a, b int) bool { return len(lists[order[a]]) < len(lists[order[b]]) })
	type cost struct {
		over   Micron
		pieces int
		err    Micron
	}
	less := func(a, b cost) bool {
		if a.over != b.over {
			return a.over < b.over
		}
		if a.pieces != b.pieces {
			return a.pieces < b.pieces
		}
		return a.err < b.err
	}
	// The least that the places still to come can cost.
	rest := make([]cost, len(order)+1)
	for i := len(order) - 1; i >= 0; i-- {
		b := lists[order[i]][0]
		rest[i] = cost{rest[i+1].over + b.over, rest[i+1].pieces + b.pieces, rest[i+1].err}
		if least := least(lists[order[i]]); least >= 0 {
			rest[i].err += least
		}
	}
	var best []stack
	var bestCost cost
	chosen := make([]stack, len(s.targets))
	used := make([]int, len(s.sizes))
	steps := 0
	var walk func(i int, c cost)
	walk = func(i int, c cost) {
		if i == len(order) {
			if best == nil || less(c, bestCost) {
				best, bestCost = slices.Clone(chosen), c
			}
			return
		}
		for _, b := range lists[order[i]] {
			n := cost{c.over + b.over, c.pieces + b.pieces, c.err + b.err.abs()}
			bound := cost{n.over + rest[i+1].over, n.pieces + rest[i+1].pieces, n.err + rest[i+1].err}
			if best != nil && !less(bound, bestCost) {
				// Sorted by beyond and pieces: nothing after it is better in
				// these, and the error alone can't help once they are worse.
				if cost := (cost{bound.over, bound.pieces, 0}); !less(cost, bestCost) {
					return
				}
				continue
			}
			if steps++; steps > mostSteps {
				return
			}
			if !s.fits(used, b) {
				continue
			}
			for k, z := range b.use {
				used[k] += int(z)
			}
			chosen[order[i]] = b
			walk(i+1, n)
			for k, z := range b.use {
				used[k] -= int(z)
			}
		}
	}
	walk(0, cost{})
	if best == nil && steps > mostSteps {
		best = s.oneByOne(order, lists)
	}
	return best
}

// oneByOne serves the places in turn, each as well as what is left allows.
func (s *search) oneByOne(order []int, lists [][]stack) []stack {
	chosen := make([]stack, len(s.targets))
	used := make([]int, len(s.sizes))
	for _, i := range order {
		k := slices.IndexFunc(lists[i], func(b stack) bool { return s.fits(used, b) })
		if k < 0 {
			return nil
		}
		chosen[i] = lists[i][k]
		for z, n := range chosen[i].use {
			used[z] += int(n)
		}
	}
	return chosen
}

func least(list []stack) Micron {
	m := Micron(-1)
	for _, b := range list {
		if e := b.err.abs(); m < 0 || e < m {
			m = e
		}
	}
	return m
}

func (s *search) fits(used []int, b stack) bool {
	for k, z := range b.use {
		if used[k]+int(z) > s.sizes[k].count {
			return false
		}
	}
	return true
}

// Thickest is the thickest stack that is at most so thick, of the fewest
// pieces; nil where there is none.
func Thickest(box []Shim, most float64, pieces int) *Stack {
	sizes, err := checkBox(box)
	if err != nil || most <= 0 {
		return nil
	}
	for w := Micron(200); ; w *= 4 { // the window below it, wider until something is in it
		t := Target{WantMM: most - w.MM()/2, TolMM: w.MM() / 2}
		s := &search{sizes: sizes, most: pieces, targets: []Target{t}}
		list := slices.DeleteFunc(s.candidates(t, 0), func(c stack) bool { return c.pieces == 0 })
		if len(list) == 0 {
			if w.MM() > most {
				return nil
			}
			continue
		}
		best := list[0]
		for _, c := range list {
			if c.err > best.err || c.err == best.err && c.pieces < best.pieces {
				best = c
			}
		}
		out := s.say(best, Target{WantMM: most})
		out.Within = true
		return &out
	}
}

// With is a box with pieces put back into it.
func With(box []Shim, pieces ...float64) []Shim {
	out := slices.Clone(box)
	for _, mm := range pieces {
		i := slices.IndexFunc(out, func(s Shim) bool { return Of(s.MM) == Of(mm) })
		if i >= 0 {
			out[i].Count++
		} else {
			out = append(out, Shim{MM: mm, Count: 1})
		}
	}
	return out
}

// Without is a box with pieces taken out of it.
func Without(box []Shim, pieces []float64) []Shim {
	out := slices.Clone(box)
	for _, mm := range pieces {
		if i := slices.IndexFunc(out, func(s Shim) bool { return Of(s.MM) == Of(mm) }); i >= 0 {
			out[i].Count--
		}
	}
	return out
}

// Fit is Choose for stacks that all keep their tolerance; false where there
// are none.
func Fit(box []Shim, targets []Target, most int) ([]Stack, bool) {
	sizes, err := checkBox(box)
	if err != nil {
		return nil, false
	}
	s := &search{sizes: sizes, most: most, targets: targets}
	best := s.together(0)
	if best == nil {
		return nil, false
	}
	out := make([]Stack, len(best))
	for i, b := range best {
		out[i] = s.say(b, targets[i])
	}
	return out, true
}
