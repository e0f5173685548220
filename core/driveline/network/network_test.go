package network

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/mat"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

func drive(shaft string) Element {
	return Element{ID: "in", Kind: Drive, Shaft: shaft, Speed: exact.Int(1)}
}
func hold(shaft string) Element { return Element{ID: "hold " + shaft, Kind: Holder, Shaft: shaft} }
func load(shaft string) Element { return Element{ID: "load " + shaft, Kind: Load, Shaft: shaft} }
func mesh(id, a, b string, za, zb int, s Sense) Element {
	return Element{ID: id, Kind: Mesh, A: a, B: b, TeethA: za, TeethB: zb, Sense: s}
}
func planets(id, s, r, c string, zs, zr int, paired bool) Element {
	return Element{ID: id, Kind: Planetary, Sun: s, Ring: r, Carrier: c, TeethSun: zs, TeethRing: zr, Paired: paired}
}
func diff(id, l, r, c string) Element {
	return Element{ID: id, Kind: Differential, Left: l, Right: r, Carrier: c}
}
func road(id, shaft, travel, factor string) Element {
	e := Element{ID: id, Kind: Road, Shaft: shaft}
	e.Travel, _ = exact.Parse(travel)
	if factor != "" {
		e.Factor, _ = exact.Parse(factor)
	}
	return e
}

func solve(t *testing.T, n Network) (*Compiled, Motion) {
	t.Helper()
	c, err := Compile(n)
	if err != nil {
		t.Fatal(err)
	}
	return c, c.Solve(nil)
}

// Hand-worked cases. speeds: "2" is a multiple of the input, "free" a shaft
// that nothing determines.
func TestTextbookTrains(t *testing.T) {
	for _, c := range []struct {
		name   string
		shafts string
		el     []Element
		want   map[string]string
		torque map[string]string
	}{
		{"simple pair: 20 drives 40 the other way at half speed", "a b", []Element{mesh("m", "a", "b", 20, 40, External), drive("a"), load("b")},
			map[string]string{"b": "-1/2"}, map[string]string{"b": "2"}},
		{"an idler changes the direction, not the ratio", "a i b", []Element{mesh("1", "a", "i", 20, 37, External), mesh("2", "i", "b", 37, 40, External), drive("a"), load("b")},
			map[string]string{"b": "1/2", "i": "-20/37"}, map[string]string{"b": "2"}},
		{"compound train 24-36, 18-54: 1 in 4.5", "a c b", []Element{mesh("1", "a", "c", 24, 36, External), mesh("2", "c", "b", 18, 54, External), drive("a"), load("b")},
			map[string]string{"b": "2/9"}, map[string]string{"b": "9/2", "c": "3/2"}},
		{"internal mesh and chain keep the direction", "a b c", []Element{mesh("1", "a", "b", 20, 60, Internal), mesh("2", "b", "c", 30, 10, Chain), drive("a"), load("c")},
			map[string]string{"b": "1/3", "c": "1"}, nil},
		// Sun 20, planet 30, ring 80 fixed, sun at 100 rpm: arm at 20 rpm.
		// (Shigley, Mechanical Engineering Design, planetary example.)
		{"planetary, ring held, sun in", "s r c", []Element{planets("p", "s", "r", "c", 20, 80, false), hold("r"), drive("s"), load("c")},
			map[string]string{"c": "1/5", "r": "0"}, map[string]string{"c": "5"}},
		{"planetary, carrier held: a reversing reduction", "s r c", []Element{planets("p", "s", "r", "c", 20, 80, false), hold("c"), drive("s"), load("r")},
			map[string]string{"r": "-1/4"}, map[string]string{"r": "4"}},
		{"planetary, sun held, carrier in: overdrive", "s r c", []Element{planets("p", "s", "r", "c", 40, 80, false), hold("s"), drive("c"), load("r")},
			map[string]string{"r": "3/2"}, map[string]string{"r": "2/3"}},
		{"paired planets, carrier held: same direction", "s r c", []Element{planets("p", "s", "r", "c", 20, 80, true), hold("c"), drive("s"), load("r")},
			map[string]string{"r": "1/4"}, map[string]string{"r": "4"}},
		{"paired planets, ring held: the carrier turns back", "s r c", []Element{planets("p", "s", "r", "c", 20, 80, true), hold("r"), drive("s"), load("c")},
			map[string]string{"c": "-1/3"}, map[string]string{"c": "3"}},
		// Two sets with one sun (Simpson): first gear is 2 + z_sun/z_ring,
		// reverse z_ring/z_sun backward.
		{"two sets, common sun, first", "s r1 out c2", []Element{planets("1", "s", "r1", "out", 30, 70, false), planets("2", "s", "out", "c2", 30, 70, false), hold("c2"), drive("r1"), load("out")},
			map[string]string{"out": "7/17"}, map[string]string{"out": "17/7"}},
		{"two sets, common sun, reverse", "s r1 out c2", []Element{planets("1", "s", "r1", "out", 30, 70, false), planets("2", "s", "out", "c2", 30, 70, false), hold("c2"), drive("s"), load("out")},
			map[string]string{"out": "-3/7"}, map[string]string{"out": "7/3"}},
		// One ring, one carrier, two suns (Ravigneaux): small sun with paired
		// planets drives, carrier held: z_ring/z_small forward; large sun
		// held instead: (1 + z_ring/z_small) / (1 + z_ring/z_large).
		{"two suns, first", "small large ring c", []Element{planets("1", "small", "ring", "c", 30, 72, true), planets("2", "large", "ring", "c", 36, 72, false), hold("c"), drive("small"), load("ring")},
			map[string]string{"ring": "5/12", "large": "-5/6"}, map[string]string{"ring": "12/5"}},
		{"two suns, second", "small large ring c", []Element{planets("1", "small", "ring", "c", 30, 72, true), planets("2", "large", "ring", "c", 36, 72, false), hold("large"), drive("small"), load("ring")},
			map[string]string{"ring": "15/22"}, map[string]string{"ring": "22/15"}},
		{"open differential, one side held: the other at twice", "p c l r", []Element{mesh("m", "p", "c", 10, 41, Same), diff("d", "l", "r", "c"), hold("l"), drive("p"), load("r")},
			map[string]string{"c": "10/41", "r": "20/41", "l": "0"}, map[string]string{"r": "41/20", "c": "41/10"}},
		{"pinion held: wheels turn opposite ways", "p c l r", []Element{mesh("m", "p", "c", 10, 41, Same), diff("d", "l", "r", "c"), hold("p"), drive("l"), load("r")},
			map[string]string{"r": "-1", "c": "0"}, map[string]string{"r": "1"}},
		{"both sides free: only their sum is known", "p c l r", []Element{mesh("m", "p", "c", 10, 41, Same), diff("d", "l", "r", "c"), drive("p"), load("l"), load("r")},
			map[string]string{"l": "free", "r": "free", "c": "10/41"}, map[string]string{"l": "41/20", "r": "41/20"}},
		// Ring 66 and sun 44 share 60 : 40; a free output turns 1/share times
		// the carrier when the other is held.
		{"asymmetric center, sun side held", "c ring sun", []Element{planets("p", "sun", "ring", "c", 44, 66, false), hold("sun"), drive("c"), load("ring")},
			map[string]string{"ring": "5/3"}, map[string]string{"ring": "3/5"}},
		{"asymmetric center, ring side held", "c ring sun", []Element{planets("p", "sun", "ring", "c", 44, 66, false), hold("ring"), drive("c"), load("sun")},
			map[string]string{"sun": "5/2"}, map[string]string{"sun": "2/5"}},
		{"asymmetric center, both loaded", "c ring sun", []Element{planets("p", "sun", "ring", "c", 44, 66, false), drive("c"), load("sun"), load("ring")},
			map[string]string{"sun": "free"}, map[string]string{"ring": "3/5", "sun": "2/5", "c": "1"}},
		{"bevel 1.6 then planetary 2.75 is 4.4", "p s r c", []Element{mesh("m", "p", "s", 20, 32, Same), planets("p", "s", "r", "c", 32, 56, false), hold("r"), drive("p"), load("c")},
			map[string]string{"c": "5/22"}, map[string]string{"c": "22/5"}},
		{"open clutch: nothing arrives", "a b", []Element{{ID: "k", Kind: Coupling, A: "a", B: "b", Open: true}, drive("a"), load("b")}, map[string]string{"b": "free"}, nil},
		{"slipping fluid: torque unchanged", "a b", []Element{{ID: "k", Kind: Fluid, A: "a", B: "b", Slip: exact.New(1, 20)}, drive("a"), load("b")},
			map[string]string{"b": "19/20"}, map[string]string{"b": "1"}},
		// A corner: left path 9, right path 11 per 10 of the middle.
		{"corner: the sides average to the carrier", "p c l r", []Element{mesh("m", "p", "c", 10, 41, Same), diff("d", "l", "r", "c"), road("L", "l", "2", "9/10"), road("R", "r", "2", "11/10"), drive("p")},
			map[string]string{"l": "9/41", "r": "11/41", "c": "10/41", "road": "20/41"}, map[string]string{"l": "41/20", "r": "41/20"}},
	} {
		t.Run(c.name, func(t *testing.T) {
			n, m := solve(t, Network{strings.Fields(c.shafts), c.el})
			if len(m.Binds) > 0 {
				t.Fatalf("bind: %+v", m.Binds)
			}
			for s, want := range c.want {
				i := n.Shaft(s)
				got := m.Speed[i].String()
				if m.State[i] == Free {
					got = "free"
				}
				if got != want {
					t.Errorf("%s turns %s, want %s", s, got, want)
				}
			}
			q := n.Torque(m, false)
			if c.torque == nil {
				return
			}
			if q.Starved {
				t.Fatal("no torque arrives")
			}
			for s, want := range c.torque {
				i := n.Shaft(s)
				if got := q.Shaft[i].Abs().String(); !q.Known[i] || got != want {
					t.Errorf("%s carries %s (known %v), want %s", s, got, q.Known[i], want)
				}
			}
		})
	}
}

// axle is a driven axle on the road, with lock.
func axle(prefix string, ring int, in string, lock bool, left, right string) []Element {
	p := func(s string) string { return prefix + s }
	return []Element{
		mesh(p("final"), in, p("c"), 10, ring, Same), diff(p("d"), p("l"), p("r"), p("c")),
		{ID: p("lock"), Kind: Lock, A: p("l"), B: p("c"), Open: !lock},
		road(p("L"), p("l"), "2", left), road(p("R"), p("r"), "2", right),
	}
}

func TestBinds(t *testing.T) {
	shafts := strings.Fields("in rc rl rr fin fc fl fr")
	four := func(front, rear int) Network {
		el := append(axle("r", rear, "in", false, "", ""), axle("f", front, "fin", false, "", "")...)
		el = append(el, Element{ID: "center", Kind: Lock, A: "in", B: "fin"}, drive("in"))
		return Network{shafts, el}
	}
	t.Run("front and rear geared apart", func(t *testing.T) {
		n := four(42, 41)
		c, m := solve(t, n)
		if len(m.Binds) != 1 {
			t.Fatalf("%d binds", len(m.Binds))
		}
		b := m.Binds[0]
		if n.Elements[b.Cut].ID != "center" || b.Mismatch.String() != "1/41" {
			t.Errorf("opened at %s, mismatch %v; want the center lock and 1/41", n.Elements[b.Cut].ID, b.Mismatch)
		}
		if m.State[c.Shaft("in")] != Bound || m.State[c.Shaft("fl")] != Bound {
			t.Error("the loop's shafts are not marked")
		}
		if q := c.Torque(m, false); q.Known[c.Shaft("fc")] {
			t.Error("a split that grip sets was invented")
		}
	})
	t.Run("front and rear alike: no bind, split set by grip", func(t *testing.T) {
		c, m := solve(t, four(41, 41))
		q := c.Torque(m, false)
		if len(m.Binds) != 0 || q.Starved || q.Known[c.Shaft("rc")] || !q.Known[c.Shaft("in")] {
			t.Errorf("binds %v, starved %v, known %v", m.Binds, q.Starved, q.Known)
		}
	})
	t.Run("spool in a corner", func(t *testing.T) {
		n := Network{strings.Fields("in rc rl rr"), append(axle("r", 41, "in", true, "9/10", "11/10"), drive("in"))}
		_, m := solve(t, n)
		if len(m.Binds) != 1 || n.Elements[m.Binds[0].Cut].ID != "rlock" || m.Binds[0].Mismatch.String() != "1/9" {
			t.Fatalf("%+v", m.Binds)
		}
	})
	t.Run("two gears at once jam", func(t *testing.T) {
		c, m := solve(t, Network{strings.Fields("a b"), []Element{mesh("1", "a", "b", 20, 40, External), mesh("2", "a", "b", 30, 30, External), drive("a"), load("b")}})
		if len(m.Binds) != 1 || m.Binds[0].Cut != -1 || m.Binds[0].Held || m.State[0] != Bound || !m.Speed[1].IsZero() {
			t.Errorf("%+v", m)
		}
		if !c.Torque(m, false).Starved {
			t.Error("a jammed train passes torque")
		}
	})
	t.Run("turned and held at once", func(t *testing.T) {
		c, m := solve(t, Network{strings.Fields("a b x"), []Element{mesh("1", "a", "b", 20, 40, External), hold("b"), drive("a")}})
		if len(m.Binds) != 1 || !m.Binds[0].Held || len(m.Binds[0].Elements) != 3 {
			t.Fatalf("%+v", m.Binds)
		}
		if m.State[c.Shaft("x")] != Free {
			t.Error("a shaft outside the bind was touched")
		}
	})
}

func TestStarvedOutput(t *testing.T) {
	// Left side off the ground: the right gets no more than the left.
	n := Network{strings.Fields("p c l r"), []Element{mesh("m", "p", "c", 10, 41, Same), diff("d", "l", "r", "c"), road("R", "r", "2", ""), drive("p")}}
	c, m := solve(t, n)
	if q := c.Torque(m, false); !q.Starved {
		t.Errorf("torque passes an open differential with one side loose: %+v", q)
	}
	n.Elements = append(n.Elements, Element{ID: "lock", Kind: Lock, A: "l", B: "c"})
	c, m = solve(t, n)
	if q := c.Torque(m, false); q.Starved || q.Shaft[c.Shaft("r")].String() != "41/10" {
		t.Errorf("locked, all of it should arrive at the right: %+v", q)
	}
}

func TestLossesTakePowerOffTheOutput(t *testing.T) {
	n := Network{strings.Fields("a b"), []Element{{ID: "m", Kind: Mesh, A: "a", B: "b", TeethA: 10, TeethB: 40, Sense: External, Efficiency: exact.New(97, 100)}, drive("a"), load("b")}}
	c, m := solve(t, n)
	if q := c.Torque(m, true); q.Shaft[1].String() != "97/25" {
		t.Errorf("%v, want 4 × 0.97", q.Shaft[1])
	}
}

func TestPreferencesDrawFreeShafts(t *testing.T) {
	c, err := Compile(Network{strings.Fields("c l r x"), []Element{diff("d", "l", "r", "c"), drive("c")}})
	if err != nil {
		t.Fatal(err)
	}
	m := c.Solve([]Preference{{A: "l", B: "r"}, {A: "x"}, {A: "nobody"}, {A: "l", B: "nobody"}})
	if m.State[1] != Free || m.Drawn[1].String() != "1" || m.Drawn[2].String() != "1" || !m.Drawn[3].IsZero() {
		t.Errorf("%+v", m)
	}
	if len(m.Tied[1]) != 1 || m.Tied[1][0] != 2 || len(m.Tied[3]) != 0 {
		t.Errorf("tied: %v", m.Tied)
	}
}

// A chain of hundreds of gears has exact speeds of thousands of digits.
func TestQuestionsAreBounded(t *testing.T) {
	var long Network
	for i := range MaxAsked + 1 {
		long.Shafts = append(long.Shafts, fmt.Sprint(i))
	}
	var e *fault.Error
	if _, err := Answer(long, false); !errors.As(err, &e) || e.Field != "shafts" {
		t.Errorf("a long chain: %v", err)
	}
	long.Shafts = long.Shafts[:2]
	for i := range 2*MaxAsked + 1 {
		long.Elements = append(long.Elements, mesh(fmt.Sprint("m", i), "0", "1", 10, 40, External))
	}
	if _, err := Answer(long, false); !errors.As(err, &e) || e.Field != "elements" {
		t.Errorf("a dense network: %v", err)
	}
}

func TestRefusals(t *testing.T) {
	many := Network{}
	for i := range MaxShafts + 1 {
		many.Shafts = append(many.Shafts, fmt.Sprint(i))
	}
	for field, n := range map[string]Network{
		"shafts":                many,
		"shafts/1":              {Shafts: []string{"a", "a"}},
		"elements/0/teeth_a":    {Shafts: []string{"a", "b"}, Elements: []Element{mesh("m", "a", "b", 0, 40, External)}},
		"elements/0/b":          {Shafts: []string{"a"}, Elements: []Element{mesh("m", "a", "zz", 10, 40, External)}},
		"elements/0/sense":      {Shafts: []string{"a", "b"}, Elements: []Element{mesh("m", "a", "b", 10, 40, "")}},
		"elements/0":            {Shafts: []string{"a"}, Elements: []Element{mesh("m", "a", "a", 10, 40, External)}},
		"elements/0/kind":       {Shafts: []string{"a"}, Elements: []Element{{ID: "x", Kind: "magic"}}},
		"elements/1/id":         {Shafts: []string{"a"}, Elements: []Element{drive("a"), drive("a")}},
		"elements/0/teeth_ring": {Shafts: []string{"s", "r", "c"}, Elements: []Element{planets("p", "s", "r", "c", 40, 40, true)}},
		"elements/0/travel":     {Shafts: []string{"a"}, Elements: []Element{{ID: "r", Kind: Road, Shaft: "a"}}},
		"elements/0/slip":       {Shafts: []string{"a", "b"}, Elements: []Element{{ID: "k", Kind: Fluid, A: "a", B: "b", Slip: exact.Int(1)}}},
		"elements/0/efficiency": {Shafts: []string{"a", "b"}, Elements: []Element{{ID: "m", Kind: Coupling, A: "a", B: "b", Efficiency: exact.Int(2)}}},
	} {
		_, err := Compile(n)
		var list fault.Errors
		if !errors.As(err, &list) || list[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// train builds a random tree of meshes, planetary sets and differentials with
// loads at its ends; every shaft is determined.
func train(r *rand.Rand, size int) Network {
	n := Network{Shafts: []string{"s0"}}
	ends := map[string]bool{"s0": true}
	senses := []Sense{External, Internal, Chain, Same, Opposite}
	fresh := func() string {
		s := fmt.Sprintf("s%d", len(n.Shafts))
		n.Shafts = append(n.Shafts, s)
		ends[s] = true
		return s
	}
	for i := range size {
		from := n.Shafts[r.IntN(len(n.Shafts))]
		delete(ends, from)
		id := fmt.Sprint("e", i)
		z := func() int { return 9 + r.IntN(70) }
		switch r.IntN(3) {
		case 0:
			n.Elements = append(n.Elements, mesh(id, from, fresh(), z(), z(), senses[r.IntN(5)]))
		case 1:
			ring, c := fresh(), fresh()
			delete(ends, ring)
			n.Elements = append(n.Elements, planets(id, from, ring, c, z(), 100+z(), r.IntN(2) == 0), Element{ID: id + "h", Kind: Holder, Shaft: ring})
		case 2:
			l, rr := fresh(), fresh()
			delete(ends, l)
			n.Elements = append(n.Elements, diff(id, l, rr, from), Element{ID: id + "k", Kind: Coupling, A: l, B: from})
		}
	}
	for s := range ends {
		n.Elements = append(n.Elements, load(s))
	}
	n.Elements = append(n.Elements, drive("s0"))
	return n
}

// Power put in at the drive and the holders leaves at the loads, and an
// independent floating-point solution of the same equations agrees.
func TestRandomTrains(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 5))
	for range 300 {
		n := train(r, 1+r.IntN(14))
		c, m := solve(t, n)
		if len(m.Binds) > 0 {
			t.Fatalf("bind in a tree: %+v", m.Binds)
		}
		x := lu(t, c)
		for i := range m.Speed {
			if m.State[i] == Free {
				t.Fatal("a free shaft in a tree")
			}
			if got := m.Speed[i].Float(); math.Abs(got-x.AtVec(i)) > 1e-6*math.Max(1, math.Abs(got)) {
				t.Fatalf("%s: exact %v, floating point %v", c.Names()[i], got, x.AtVec(i))
			}
		}
		q := c.Torque(m, false)
		if q.Starved {
			t.Fatal("starved")
		}
		// On every shaft the torques sum to zero.
		sum := make([]exact.Number, len(m.Speed))
		power := exact.Number{}
		fixed := true
		for _, e := range q.Element {
			fixed = fixed && e.Known
			sum[e.Shaft] = sum[e.Shaft].Add(e.Torque)
			if n.Elements[e.Element].Kind == Drive {
				power = power.Add(e.Torque.Mul(m.Speed[e.Shaft]))
			}
		}
		for _, l := range q.Load {
			fixed = fixed && l.Known
			sum[l.Shaft] = sum[l.Shaft].Sub(l.Torque)
			power = power.Sub(l.Torque.Mul(m.Speed[l.Shaft]))
		}
		if !fixed {
			continue // branches share by grip
		}
		if !power.IsZero() {
			t.Fatalf("power in − power out = %v", power)
		}
		for i, s := range sum {
			if !s.IsZero() {
				t.Fatalf("torques on %s sum to %v", c.Names()[i], s)
			}
		}
	}
}

// lu solves the same equations with gonum.
func lu(t testing.TB, c *Compiled) *mat.VecDense {
	n := len(c.names)
	a, b := mat.NewDense(len(c.rows), n, nil), mat.NewVecDense(len(c.rows), nil)
	for i, r := range c.rows {
		for _, x := range r.speed {
			a.Set(i, x.col, x.c.Float())
		}
		b.SetVec(i, r.rhs.Float())
	}
	var out mat.VecDense
	if err := out.SolveVec(a, b); err != nil {
		var cond mat.Condition
		if !errors.As(err, &cond) {
			t.Fatal(err)
		}
	}
	return &out
}

// Long random trains against the plain product of their ratios.
func TestTrainAgainstProduct(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 9))
	for range 200 {
		want := exact.Int(1)
		n := Network{Shafts: []string{"s0"}}
		for i := range 30 {
			a, b := 8+r.IntN(90), 8+r.IntN(90)
			n.Shafts = append(n.Shafts, fmt.Sprintf("s%d", i+1))
			n.Elements = append(n.Elements, mesh(fmt.Sprint(i), n.Shafts[i], n.Shafts[i+1], a, b, External))
			want = want.Mul(exact.New(-int64(a), int64(b)))
		}
		n.Elements = append(n.Elements, drive("s0"))
		c, m := solve(t, n)
		if got := m.Speed[c.Shaft("s30")]; !got.Equal(want) {
			t.Fatalf("%v, want %v", got, want)
		}
	}
}

// FuzzNetwork: no network of whatever shape breaks the solver, and what it
// calls determined satisfies every equation.
func FuzzNetwork(f *testing.F) {
	f.Add(uint64(1), uint64(2), 5)
	f.Add(uint64(7), uint64(99), 20)
	f.Fuzz(func(t *testing.T, a, b uint64, size int) {
		tangle(t, rand.New(rand.NewPCG(a, b)), size)
	})
}

func TestTangles(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for range 2000 {
		tangle(t, r, r.IntN(25))
	}
}

func tangle(t *testing.T, r *rand.Rand, size int) {
	size = max(0, min(size, 40))
	n := Network{}
	for i := range 2 + r.IntN(10) {
		n.Shafts = append(n.Shafts, fmt.Sprint("s", i))
	}
	any := func() string { return n.Shafts[r.IntN(len(n.Shafts))] }
	for i := range size {
		id := fmt.Sprint(i)
		switch r.IntN(7) {
		case 0, 1:
			n.Elements = append(n.Elements, mesh(id, any(), any(), 10+r.IntN(3), 10+r.IntN(3), External))
		case 2:
			n.Elements = append(n.Elements, planets(id, any(), any(), any(), 20, 60, false))
		case 3:
			n.Elements = append(n.Elements, diff(id, any(), any(), any()))
		case 4:
			n.Elements = append(n.Elements, Element{ID: id, Kind: Lock, A: any(), B: any()})
		case 5:
			n.Elements = append(n.Elements, road(id, any(), "2", ""))
		case 6:
			n.Elements = append(n.Elements, Element{ID: id, Kind: []Kind{Holder, Load}[r.IntN(2)], Shaft: any()})
		}
	}
	n.Elements = append(n.Elements, drive("s0"))
	c, err := Compile(n)
	if err != nil {
		return // an element that names a shaft twice
	}
	m := c.Solve([]Preference{{A: "s1"}})
	c.Torque(m, true)
	if len(m.Binds) > 0 {
		return
	}
	for _, w := range c.rows {
		sum := w.rhs.Neg()
		for _, x := range w.speed {
			sum = sum.Add(m.Drawn[x.col].Mul(x.c))
		}
		if !sum.IsZero() {
			t.Fatalf("%s is not satisfied: %v", n.Elements[w.element].ID, sum)
		}
	}
}

// A network with an element changed solves as one that was compiled so: a coupling
// opened or closed, a mesh of another ratio or sense, a holder behind the last.
func TestChangeIsAsCompiled(t *testing.T) {
	n := Network{Shafts: []string{"in", "mid", "out", "side"}, Elements: []Element{
		{ID: "drive", Kind: Drive, Shaft: "in", Speed: exact.Int(1)},
		{ID: "first", Kind: Mesh, A: "in", B: "mid", TeethA: 20, TeethB: 40, Sense: External},
		{ID: "dogs", Kind: Coupling, A: "mid", B: "out"},
		{ID: "second", Kind: Mesh, A: "mid", B: "side", TeethA: 10, TeethB: 30, Sense: Chain},
		{ID: "load", Kind: Load, Shaft: "out"},
	}}
	c, err := Compile(n)
	if err != nil {
		t.Fatal(err)
	}
	for name, change := range map[string]func(e []Element) ([]Element, []int){
		"nothing":       func(e []Element) ([]Element, []int) { return e, nil },
		"opened":        func(e []Element) ([]Element, []int) { e[2].Open = true; return e, []int{2} },
		"another ratio": func(e []Element) ([]Element, []int) { e[1].TeethB = 44; return e, []int{1} },
		"the other way": func(e []Element) ([]Element, []int) { e[1].Sense = Chain; return e, []int{1} },
		"two at once":   func(e []Element) ([]Element, []int) { e[1].TeethB, e[3].TeethB = 44, 33; return e, []int{3, 1} },
		"a mesh that left": func(e []Element) ([]Element, []int) {
			e[3] = Element{ID: "second", Kind: Coupling, A: "mid", B: "side", Open: true}
			return e, []int{3}
		},
		"held": func(e []Element) ([]Element, []int) {
			return append(e, Element{ID: "seized", Kind: Holder, Shaft: "side"}), nil
		},
	} {
		elements, places := change(slices.Clone(n.Elements))
		got, err := c.Change(elements, places)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		want, err := Compile(Network{Shafts: n.Shafts, Elements: elements})
		if err != nil {
			t.Fatal(err)
		}
		a, b := got.Solve(nil), want.Solve(nil)
		for i, shaft := range got.Names() {
			if a.State[i] != b.State[i] || !a.Speed[i].Equal(b.Speed[i]) {
				t.Errorf("%s: %s is %s at %v, compiled %s at %v", name, shaft, a.State[i], a.Speed[i], b.State[i], b.Speed[i])
			}
		}
		if len(a.Binds) != len(b.Binds) {
			t.Errorf("%s: %d binds, compiled %d", name, len(a.Binds), len(b.Binds))
		}
	}
	// What was there stays as it was, and what can't be is refused.
	if m := c.Solve(nil); m.State[c.Shaft("out")] != Driven {
		t.Errorf("the former network: %v", m.State)
	}
	bad := slices.Clone(n.Elements)
	bad[1].TeethB = -4
	if _, err := c.Change(bad, []int{1}); err == nil {
		t.Error("a gear of −4 teeth")
	}
	if _, err := c.Change(n.Elements[:3], nil); err == nil {
		t.Error("fewer elements than there were")
	}
}
