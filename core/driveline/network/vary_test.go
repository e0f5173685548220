package network

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"zorvel/core/exact"
)

// What a varied network does is what it does solved anew, for every shaft of random
// trains and tangles with up to three elements opened, shut, turned round, of another
// ratio or new; and what isn't told binds, or has rows to spare.
func TestVariedIsAsSolved(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 31))
	told, passed, open, bound := 0, 0, 0, 0
	for range 6000 {
		n := train(r, 1+r.IntN(9))
		any := func() string { return n.Shafts[r.IntN(len(n.Shafts))] }
		for i := range r.IntN(3) { // closed loops, and couplings that stand open
			n.Elements = append(n.Elements, Element{ID: fmt.Sprint("l", i), Kind: Coupling, A: any(), B: any(),
				Open: r.IntN(3) > 0})
		}
		c, err := Compile(n)
		if err != nil {
			continue // a coupling of a shaft with itself
		}
		base, ok := c.Base()
		if !ok {
			if len(c.Solve(nil).Binds) == 0 {
				t.Fatal("no base, and nothing binds")
			}
			continue
		}
		for range 4 {
			elements, places := vary(r, n)
			to, err := c.Change(elements, places)
			if err != nil {
				continue
			}
			want := to.Solve(nil)
			v, ok := base.Vary(to, places)
			if !ok {
				if len(want.Binds) == 0 && len(base.spare) == 0 && base.bind == nil {
					t.Fatalf("not told, and nothing binds: %+v", places)
				}
				passed++
				continue
			}
			if told++; len(v.Binds()) > 0 {
				bound++
			}
			if fmt.Sprint(v.Binds()) != fmt.Sprint(want.Binds) {
				t.Fatalf("told %+v, solved %+v", v.Binds(), want.Binds)
			}
			for i, name := range n.Shafts {
				state, speed := v.Shaft(i)
				if state != want.State[i] || !speed.Equal(want.Speed[i]) {
					t.Fatalf("%s is %s at %v, solved %s at %v, with %+v changed of %+v", name, state, speed,
						want.State[i], want.Speed[i], places, n.Elements)
				}
				if state == Free {
					open++
				}
			}
		}
	}
	t.Logf("%d told, %d passed on, %d free shafts, %d bound", told, passed, open, bound)
	if told < 10000 || passed < 500 || open < 5000 || bound < 500 {
		t.Error("too few of a kind")
	}
}

// vary changes up to three elements of a network.
func vary(r *rand.Rand, n Network) ([]Element, []int) {
	elements := slices.Clone(n.Elements)
	var places []int
	for range 1 + r.IntN(3) {
		k := r.IntN(len(elements))
		if k >= len(n.Elements) || slices.Contains(places, k) {
			continue
		}
		e := &elements[k]
		switch e.Kind {
		case Mesh:
			switch r.IntN(3) {
			case 0:
				*e = Element{ID: e.ID, Kind: Coupling, A: e.A, B: e.B, Open: true}
			case 1:
				e.TeethA++
			default:
				e.Sense = map[Sense]Sense{External: Internal, Internal: External, Same: Opposite, Opposite: Same,
					Chain: Chain}[e.Sense]
			}
		case Coupling, Lock:
			e.Open = !e.Open
		case Differential:
			*e = Element{ID: e.ID, Kind: Coupling, A: e.Left, B: e.Right, Open: true}
		case Planetary:
			*e = Element{ID: e.ID, Kind: Coupling, A: e.Sun, B: e.Carrier, Open: true}
		case Holder:
			*e = Element{ID: e.ID, Kind: Coupling, A: e.Shaft, B: n.Shafts[(slices.Index(n.Shafts,
				e.Shaft)+1)%len(n.Shafts)], Open: true}
		default:
			continue
		}
		places = append(places, k)
	}
	if r.IntN(3) == 0 {
		elements = append(elements, hold(n.Shafts[r.IntN(len(n.Shafts))]))
	}
	if r.IntN(4) == 0 {
		elements = append(elements, Element{ID: "new", Kind: Coupling, A: n.Shafts[0], B: n.Shafts[len(n.Shafts)-1]})
	}
	return elements, places
}

// By hand: in – out at 2, with a differential behind. Opening the mesh frees all behind
// it; holding one side turns the other at twice the carrier's speed.
func TestVariedByHand(t *testing.T) {
	n := Network{Shafts: []string{"in", "case", "left", "right"}, Elements: []Element{
		drive("in"), mesh("m", "in", "case", 10, 20, Internal), diff("d", "left", "right", "case"),
	}}
	c, err := Compile(n)
	if err != nil {
		t.Fatal(err)
	}
	base, ok := c.Base()
	if !ok {
		t.Fatal("it binds")
	}
	held := append(slices.Clone(n.Elements), hold("left"))
	to, _ := c.Change(held, nil)
	v, ok := base.Vary(to, nil)
	if state, speed := v.Shaft(3); !ok || state != Driven || !speed.Equal(exact.Int(1)) {
		t.Errorf("the right wheel %s at %v", state, speed)
	}
	opened := slices.Clone(held)
	opened[1] = Element{ID: "m", Kind: Coupling, A: "in", B: "case", Open: true}
	to, _ = c.Change(opened, []int{1})
	if v, ok = base.Vary(to, []int{1}); !ok {
		t.Fatal("not told")
	}
	if state, _ := v.Shaft(3); state != Free {
		t.Errorf("the right wheel is %s", state)
	}
	if state, speed := v.Shaft(0); state != Driven || !speed.Equal(exact.Int(1)) {
		t.Errorf("the input %s at %v", state, speed)
	}
}
