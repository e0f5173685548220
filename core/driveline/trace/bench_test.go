package trace

import (
	"testing"

	"gonum.org/v1/gonum/mat"

	"zorvel/core/driveline"
	"zorvel/core/driveline/grip"
	"zorvel/core/driveline/linetest"
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
)

func TestLargeLayout(t *testing.T) {
	d := linetest.Large(t)
	tr := run(t, d, driveline.State{})
	if len(tr.Shafts) < 60 {
		t.Fatalf("only %d shafts", len(tr.Shafts))
	}
	tr, err := Run(d, driveline.State{}, Want{Gears: true})
	if err != nil || len(tr.Gears) != 44 {
		t.Errorf("%d rows, %v", len(tr.Gears), err)
	}
}

// BenchmarkSolve60Shafts is building and solving speeds and torques of a
// layout of more than sixty shafts.
func BenchmarkSolve60Shafts(b *testing.B) {
	d := linetest.Large(b)
	for b.Loop() {
		m := driveline.Build(d, &driveline.State{})
		if _, err := m.Solve(); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkEquationsOnly is the exact solution alone, of equations that are
// written already: what the floating-point reference does.
func BenchmarkEquationsOnly(b *testing.B) {
	m := driveline.Build(linetest.Large(b), &driveline.State{})
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
	m := driveline.Build(linetest.Large(b), &driveline.State{})
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
func dense(tb testing.TB, m *driveline.Machine) (*mat.Dense, *mat.VecDense) {
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
	m := driveline.Build(linetest.Large(t), &driveline.State{})
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
	d := linetest.Layout(b, "part_time")
	*linetest.Part(b, d, "gearbox") = *linetest.Part(b, linetest.Layout(b, "tandem"), "gearbox")
	if err := d.Check(); err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := gearTable(d, driveline.State{}); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkTrace is a whole trace, with readouts, paths and notes.
func BenchmarkTrace(b *testing.B) {
	d := linetest.Layout(b, "part_time")
	for b.Loop() {
		if _, err := Run(d, driveline.State{Input: &driveline.Input{Turns: exact.Figure{Number: exact.Int(10)}}}, Want{}); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkTraction(b *testing.B) {
	d := linetest.Layout(b, "full_time")
	for b.Loop() {
		if _, err := grip.Pull(d, driveline.State{}, grip.Grip{Default: 0.6}); err != nil {
			b.Fatal(err)
		}
	}
}
