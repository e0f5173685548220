package driveline

import (
	"fmt"
	"testing"

	"gonum.org/v1/gonum/mat"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
)

// large is a ten-speed in teeth with a range set and three driven axles: more
// than sixty shafts.
func large(tb testing.TB) *Document {
	d := layout(tb, "axle_low")
	g := &Gearbox{Arrangement: "countershaft", Input: 24, Counter: 41}
	for i := range 10 {
		g.Gears = append(g.Gears, Gear{Name: fmt.Sprint(i + 1), Drive: 14 + 3*i, Driven: 52 - 3*i, Selector: "dog"})
	}
	g.Gears = append(g.Gears, Gear{Name: "R", Drive: 14, Driven: 50, Idler: 20, Selector: "dog"})
	partOf(tb, d, "gearbox").Gearbox = g
	partOf(tb, d, "rear").Axle.FreeHubs, partOf(tb, d, "front").Axle.FreeHubs = true, true
	parts := []Part{}
	for _, p := range d.Parts {
		if p.ID == "rear_prop" {
			parts = append(parts, Part{ID: "split", Kind: "planetary", Name: "Splitter", From: "case.rear", Planetary: &Planetary{Sun: 40, Ring: 80, TwoSpeed: true}},
				Part{ID: "divider", Kind: "differential", Name: "Divider", From: "split", Differential: &Differential{Type: "locking"}})
			p.From = "divider.here"
		}
		parts = append(parts, p)
	}
	parts = append(parts, shaftFrom("third_prop", "Third shaft", "divider.through"),
		Part{ID: "third", Kind: "axle", Name: "Third axle", From: "third_prop", Axle: &Axle{Ring: 23, Pinion: 10, FreeHubs: true, Differential: Differential{Type: "locking"}}})
	for _, side := range []string{"left", "right"} {
		parts = append(parts, Part{ID: "third_hub_" + side, Kind: "hub", Name: "Third hub " + side, From: "third." + side, Hub: &Hub{Type: "planetary", Sun: 24, Ring: 60}},
			wheelAt("third_hub_"+side, "third_"+side, "Third "+side+" wheel", "rear", side, 3300))
	}
	d.Parts = parts
	if err := d.Check(); err != nil {
		tb.Fatal(err)
	}
	return d
}

func TestLargeLayout(t *testing.T) {
	d := large(t)
	tr := run(t, d, State{})
	if len(tr.Shafts) < 60 {
		t.Fatalf("only %d shafts", len(tr.Shafts))
	}
	tr, err := Run(d, State{}, Want{Gears: true})
	if err != nil || len(tr.Gears) != 44 {
		t.Errorf("%d rows, %v", len(tr.Gears), err)
	}
}

// BenchmarkSolve60Shafts is building and solving speeds and torques of a
// layout of more than sixty shafts.
func BenchmarkSolve60Shafts(b *testing.B) {
	d := large(b)
	for b.Loop() {
		m := Build(d, &State{})
		if _, err := m.Solve(); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkEquationsOnly is the exact solution alone, of equations that are
// written already: what the floating-point reference does.
func BenchmarkEquationsOnly(b *testing.B) {
	m := Build(large(b), &State{})
	c, err := network.Compile(m.Net)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		c.Solve(nil)
	}
}

// BenchmarkLU is the reference: gonum's dense LU of the same matrix, made
// square by standing the free shafts still.
func BenchmarkLU(b *testing.B) {
	m := Build(large(b), &State{})
	a, rhs := dense(b, m)
	var x mat.VecDense
	for b.Loop() {
		var lu mat.LU
		lu.Factorize(a)
		if err := lu.SolveVecTo(&x, false, rhs); err != nil {
			b.Fatal(err)
		}
	}
}

// dense writes a machine's equations as a square matrix.
func dense(tb testing.TB, m *Machine) (*mat.Dense, *mat.VecDense) {
	c, err := network.Compile(m.Net)
	if err != nil {
		tb.Fatal(err)
	}
	mo := c.Solve(nil)
	net := m.Net
	for i, s := range mo.State {
		if s == network.Free {
			net.Elements = append(net.Elements, network.Element{ID: "still " + c.Names()[i], Kind: network.Holder, Shaft: c.Names()[i]})
		}
	}
	n := len(c.Names())
	var rows [][]float64
	var rhs []float64
	put := func(r float64, list ...any) {
		row := make([]float64, n)
		for k := 0; k < len(list); k += 2 {
			row[c.Shaft(list[k].(string))] = list[k+1].(float64)
		}
		rows, rhs = append(rows, row), append(rhs, r)
	}
	for _, e := range net.Elements {
		switch {
		case e.Open:
		case e.Kind == network.Mesh:
			za, zb := float64(e.TeethA), float64(e.TeethB)
			if za == 0 {
				za, zb = 1, e.Ratio.Float()
			}
			if e.Sense == network.External || e.Sense == network.Opposite {
				zb = -zb
			}
			put(0, e.A, za, e.B, -zb)
		case e.Kind == network.Planetary:
			s, r := float64(e.TeethSun), float64(e.TeethRing)
			put(0, e.Sun, s, e.Ring, r, e.Carrier, -s-r)
		case e.Kind == network.Differential:
			put(0, e.Left, 1.0, e.Right, 1.0, e.Carrier, -2.0)
		case e.Kind == network.Coupling || e.Kind == network.Lock:
			put(0, e.A, 1.0, e.B, -1.0)
		case e.Kind == network.Holder:
			put(0, e.Shaft, 1.0)
		case e.Kind == network.Drive:
			put(e.Speed.Float(), e.Shaft, 1.0)
		case e.Kind == network.Road:
			put(0, e.Shaft, e.Travel.Float(), "road", -1.0)
		}
	}
	// Rows that follow from others (free shafts tied together) are dropped.
	for len(rows) > n {
		rows, rhs = rows[:len(rows)-1], rhs[:len(rhs)-1]
	}
	a := mat.NewDense(n, n, nil)
	for i, r := range rows {
		a.SetRow(i, r)
	}
	return a, mat.NewVecDense(n, rhs)
}

// The reference solves the same thing.
func TestLargeLayoutAgainstLU(t *testing.T) {
	m := Build(large(t), &State{})
	a, rhs := dense(t, m)
	var x mat.VecDense
	if err := x.SolveVec(a, rhs); err != nil {
		t.Fatal(err)
	}
	c, err := network.Compile(m.Net)
	if err != nil {
		t.Fatal(err)
	}
	mo := c.Solve(nil)
	for i, s := range mo.State {
		if d := mo.Speed[i].Float() - x.AtVec(i); s == network.Driven && (d > 1e-9 || d < -1e-9) {
			t.Errorf("%s: %v against %v", c.Names()[i], mo.Speed[i].Float(), x.AtVec(i))
		}
	}
}

// BenchmarkGearTable is every gear in every range of a ten-speed four-wheel
// layout.
func BenchmarkGearTable(b *testing.B) {
	d := layout(b, "part_time")
	*partOf(b, d, "gearbox") = tenSpeed("clutch")
	if err := d.Check(); err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := gearTable(d, State{}); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkTrace is a whole trace, with readouts, paths and notes.
func BenchmarkTrace(b *testing.B) {
	d := layout(b, "part_time")
	for b.Loop() {
		if _, err := Run(d, State{Input: &Input{Turns: exact.Figure{Number: exact.Int(10)}}}, Want{}); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkTraction(b *testing.B) {
	d := layout(b, "full_time")
	for b.Loop() {
		if _, err := Pull(d, State{}, Grip{Default: 0.6}); err != nil {
			b.Fatal(err)
		}
	}
}
