package play

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/optimize/convex/lp"

	"zorvel/core/driveline"
	"zorvel/core/driveline/linetest"
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
)

func degrees(v float64) *float64 { return &v }

func play(tb testing.TB, d *driveline.Document, st driveline.State, plays []OwnPlay, rocked ...Rocked) *Answer {
	tb.Helper()
	a, err := Work(Question{Driveline: *d, State: st, Plays: plays, Measured: rocked})
	if err != nil {
		tb.Fatal(err)
	}
	return a
}

// oneAxle is a bare axle of 41 and 10 with its wheels, on stands.
func oneAxle(tb testing.TB, diff string) *driveline.Document {
	d := &driveline.Document{Format: driveline.Format, Lies: driveline.Vehicle,
		Parts: append([]driveline.Part{{ID: "rear", Kind: "axle", Name: "Rear axle",
			Axle: &driveline.Axle{Ring: 41, Pinion: 10, Differential: driveline.Differential{Type: diff}}}},
			linetest.Wheels("rear", "rear", 2300)...)}
	if err := d.Check(); err != nil {
		tb.Fatal(err)
	}
	return d
}

// By hand: with both wheels held, a degree at the ring is 4.1 degrees at the
// pinion; a degree at one side moves the carrier by half, so 2.05 at the
// pinion.
func TestPlayOfAnAxle(t *testing.T) {
	d := oneAxle(t, "open")
	hold := []string{"rear_left", "rear_right"}
	plays := []OwnPlay{{"rear.final", 0.1}, {"rear.differential.left", 0.2}, {"rear.differential.right", 0.3}, {"rear_left.half shaft", 0.4}, {"rear_right.half shaft", 0.6}}
	a := play(t, d, driveline.State{}, plays, Rocked{At: "rear.in", Hold: hold})
	if got, want := a.Measured[0].Usual, 4.1*0.1+2.05*(0.2+0.3+0.4+0.6); !a.Measured[0].Bounded || math.Abs(got-want) > 1e-3 {
		t.Errorf("%.4f at the pinion, by hand %.4f", got, want)
	}
	if f := a.Measured[0].Shares[0]; f.Place != "rear_right.half shaft" || math.Abs(f.Factor-2.05) > 1e-4 {
		t.Errorf("greatest share %+v", f)
	}
	// One wheel free: nothing stops the pinion.
	lift := driveline.State{Wheels: map[string]string{"rear_left": driveline.Lifted, "rear_right": driveline.Lifted}}
	if a := play(t, d, lift, plays, Rocked{At: "rear.in", Hold: []string{"rear_left"}}); a.Measured[0].Bounded || a.Measured[0].State != "free" || !strings.Contains(a.Sentence, "turns freely") {
		t.Errorf("one wheel free: %+v", a.Measured[0])
	}
	// On the ground the wheels are chocked.
	if a := play(t, d, driveline.State{}, plays, Rocked{At: "rear.in"}); !a.Measured[0].Bounded || math.Abs(a.Measured[0].Usual-3.485) > 1e-3 {
		t.Errorf("chocked: %+v", a.Measured[0])
	}
	// At a wheel, with the other wheel and the pinion held: 2·(own side + other
	// side)/2 … the other side's play counts once, the ring's twice.
	a = play(t, d, lift, plays, Rocked{At: "rear_left.wheel", Hold: []string{"rear.in", "rear_right"}})
	if want := 0.4 + 0.2 + 0.3 + 0.6 + 2*0.1; math.Abs(a.Measured[0].Usual-want) > 1e-3 {
		t.Errorf("%.4f at the wheel, by hand %.4f", a.Measured[0].Usual, want)
	}
	// A locked differential: the tighter way holds. Left alone: 4.1·(0.1 + lock
	// or side gears …); the lock with its 0.1 and the left half shaft hold first.
	d = oneAxle(t, "locking")
	st := driveline.State{Select: map[string]string{"rear.lock": "locked"}}
	a = play(t, d, st, append(plays, OwnPlay{"rear.lock", 0.1}), Rocked{At: "rear.in"})
	if !a.Measured[0].TwoWays || !strings.Contains(a.Sentence, "held from both sides") {
		t.Errorf("both wheels hold, each by itself: %s", a.Sentence)
	}
	if want := 4.1 * (0.1 + 0.1 + 0.4); math.Abs(a.Measured[0].Usual-want) > 1e-3 {
		t.Errorf("locked: %.4f, by hand %.4f", a.Measured[0].Usual, want)
	}
}

// byProgram is the play by linear programming: the greatest turn of a shaft
// while every element keeps its play, twice. Shafts are counted from −box, so
// that nothing is negative. ok is false where the reference gives up.
func byProgram(net network.Network, shaft string, play []float64) (most float64, bounded, ok bool) {
	col := map[string]int{}
	for i, s := range net.Shafts {
		col[s] = i
	}
	n := len(net.Shafts)
	var rows [][]float64
	var lim []float64
	for k, e := range net.Elements {
		r := make([]float64, n)
		switch e.Kind {
		case network.Mesh:
			r[col[e.A]], r[col[e.B]] = float64(e.TeethA), float64(e.TeethB)
		case network.Differential:
			r[col[e.Left]], r[col[e.Right]], r[col[e.Carrier]] = 1, 1, -2
		case network.Holder:
			r[col[e.Shaft]] = 1
		default:
			r[col[e.A]], r[col[e.B]] = 1, -1
		}
		rows, lim = append(rows, r), append(lim, play[k])
	}
	// With θ = x − box and slacks u, v: row·x + u = lim/2 + row·box and
	// row·x − v = −lim/2 + row·box; x + w = 2·box.
	const box = 50
	k := len(rows)
	a := mat.NewDense(2*k+n, n+2*k+n, nil)
	h := make([]float64, 2*k+n)
	for i, r := range rows {
		sum := 0.0
		for j, v := range r {
			a.Set(2*i, j, v)
			a.Set(2*i+1, j, v)
			sum += v * box
		}
		a.Set(2*i, n+2*i, 1)
		a.Set(2*i+1, n+2*i+1, -1)
		h[2*i], h[2*i+1] = lim[i]/2+sum, -lim[i]/2+sum
	}
	for j := range n {
		a.Set(2*k+j, j, 1)
		a.Set(2*k+j, n+2*k+j, 1)
		h[2*k+j] = 2 * box
	}
	c := make([]float64, n+2*k+n)
	c[col[shaft]] = -1
	v, _, err := lp.Simplex(c, a, h, 1e-10, nil)
	if err != nil {
		return 0, false, false
	}
	most = 2 * (-v - box)
	return most, most < box, true
}

// Random drivelines with several ways that hold, against linear programming.
func TestRockAgainstLinearProgram(t *testing.T) {
	r := rand.New(rand.NewPCG(13, 1))
	solved := 0
	for range 400 {
		n := 4 + r.IntN(5)
		net := network.Network{}
		for i := range n {
			net.Shafts = append(net.Shafts, fmt.Sprint("s", i))
		}
		var plays []float64
		add := func(e network.Element) {
			e.ID = fmt.Sprint("e", len(net.Elements))
			net.Elements = append(net.Elements, e)
			p := 0.1 + r.Float64()
			if e.Kind == network.Holder {
				p = 1e-3 // exactly 0 is where the reference gives up
			}
			plays = append(plays, p)
		}
		for i := 1; i < n; i++ {
			a, b := net.Shafts[r.IntN(i)], net.Shafts[i]
			if r.IntN(2) == 0 {
				add(network.Element{Kind: network.Coupling, A: a, B: b})
			} else {
				add(network.Element{Kind: network.Mesh, A: a, B: b, TeethA: 10 + r.IntN(8), TeethB: 10 + r.IntN(8), Sense: network.External})
			}
		}
		for range 1 + r.IntN(3) { // closed loops
			i, k := r.IntN(n), r.IntN(n)
			if i != k {
				add(network.Element{Kind: network.Coupling, A: net.Shafts[i], B: net.Shafts[k]})
			}
		}
		if n > 5 && r.IntN(2) == 0 {
			add(network.Element{Kind: network.Differential, Left: "s3", Right: "s4", Carrier: "s5"})
		}
		for i := 1; i < n; i++ {
			if r.IntN(2) == 0 {
				add(network.Element{Kind: network.Holder, Shaft: net.Shafts[i]})
			}
		}
		want, bounded, ok := byProgram(net, "s0", plays)
		if !ok {
			continue
		}
		c, err := network.Compile(net)
		if err != nil {
			t.Fatal(err)
		}
		got := c.Rock(0, plays)
		if got.Bounded != bounded {
			t.Fatalf("bounded %v, by linear programming %v: %+v", got.Bounded, bounded, net)
		}
		if !bounded {
			continue
		}
		solved++
		if math.Abs(got.Total-want) > 1e-5*(1+want) {
			t.Errorf("%.8f, by linear programming %.8f: %+v", got.Total, want, net)
		}
	}
	if solved < 60 {
		t.Errorf("only %d were bounded", solved)
	}
}

// A worn half shaft: one measurement can't tell, holding the ring's side can.
func TestPlaySplitsByHolding(t *testing.T) {
	d := linetest.Layout(t, "rear_drive")
	st := driveline.State{Select: map[string]string{"gearbox": "4"}}
	pinion := "prop.shaft"
	one := Rocked{At: pinion, Hold: []string{}, Degrees: degrees(24)}
	i := slices.IndexFunc(d.Parts, func(p driveline.Part) bool { return p.Kind == "shaft" })
	one.At = d.Parts[i].ID + ".shaft"
	st.Select["gearbox"] = "N"
	a := play(t, d, st, nil, one)
	if a.Measured[0].State != "more" || !strings.Contains(a.Sentence, "can't tell where") {
		t.Fatalf("%s: %+v", a.Sentence, a.Measured[0])
	}
	if a.NextHold != "" || !strings.Contains(a.Next, "has to be opened") {
		t.Errorf("between this shaft and the wheels there is nothing outside to hold: %q", a.Next)
	}
	// Seen from the engine there is: the propeller shaft.
	if b := play(t, d, driveline.State{Select: map[string]string{"gearbox": "4"}, Engine: "free"}, nil,
		Rocked{At: "clutch.out", Degrees: degrees(30)}); b.NextHold == "" || !strings.Contains(b.Next, "Hold the ") {
		t.Errorf("no next hold: %+v", b)
	}
	two := Rocked{At: one.At, Hold: []string{"rear.left", "rear.right"}, Degrees: degrees(3)}
	a = play(t, d, st, nil, one, two)
	for _, p := range a.Places {
		if strings.HasSuffix(p.ID, ".half shaft") && p.Word != "more than usual" {
			t.Errorf("the half shafts are left as the place: %+v", p)
		}
		if p.ID == "rear.final" && p.Word != "usual" {
			t.Errorf("ring and pinion are cleared: %+v", p)
		}
	}
	// The reverse question.
	b, err := Work(Question{Driveline: *d, State: st, Measured: []Rocked{{At: one.At}}, Suppose: []OwnPlay{{"rear.final", 1}}})
	if err != nil || len(b.Supposed) != 1 || !strings.Contains(b.Supposed[0], "1° at the rear axle ring and pinion shows as") {
		t.Errorf("%v %+v", err, b)
	}
}

// What is stated holds when it is tried: plays drawn as they are said to
// scatter stay within the two standard deviations of what is usual.
func TestUsualPlaySpreadHolds(t *testing.T) {
	d := oneAxle(t, "open")
	a := play(t, d, driveline.State{}, nil, Rocked{At: "rear.in"})
	m := a.Measured[0]
	r := rand.New(rand.NewPCG(3, 3))
	in := 0
	const n = 5000
	for range n {
		sum := 0.0
		for _, s := range m.Shares {
			sum += s.Usual * (1 + playScatter*r.NormFloat64())
		}
		if math.Abs(sum-m.Usual) <= m.Spread {
			in++
		}
	}
	if f := float64(in) / n; f < 0.94 || f > 0.97 {
		t.Errorf("%.1f %% within two standard deviations", 100*f)
	}
}

func TestPlayRefuses(t *testing.T) {
	d := oneAxle(t, "open")
	for _, c := range []struct {
		field string
		q     Question
	}{
		{"measured", Question{}},
		{"measured/0/at", Question{Measured: []Rocked{{At: "moon"}}}},
		{"measured/0/hold", Question{Measured: []Rocked{{At: "rear.in", Hold: []string{"moon"}}}}},
		{"measured/0/degrees", Question{Measured: []Rocked{{At: "rear.in", Degrees: degrees(-3)}}}},
		{"measured/0/arc_mm", Question{Measured: []Rocked{{At: "rear.in", Degrees: degrees(3), ArcMM: degrees(2)}}}},
		{"measured/0/radius_mm", Question{Measured: []Rocked{{At: "rear.in", ArcMM: degrees(2)}}}},
		{"plays/0/place", Question{Measured: []Rocked{{At: "rear.in"}}, Plays: []OwnPlay{{"moon", 1}}}},
		{"suppose/0/degrees", Question{Measured: []Rocked{{At: "rear.in"}}, Suppose: []OwnPlay{{"rear.final", 1000}}}},
	} {
		c.q.Driveline = *d
		if _, err := Work(c.q); err == nil || !strings.Contains(err.Error(), c.field+":") {
			t.Errorf("%s: %v", c.field, err)
		}
	}
	// An arc of 10 mm on a rim of 50 mm is 11.459 degrees.
	a := play(t, d, driveline.State{}, nil, Rocked{At: "rear.in", ArcMM: degrees(10), RadiusMM: 50})
	if math.Abs(*a.Measured[0].Degrees-11.459) > 1e-3 {
		t.Errorf("%v", *a.Measured[0].Degrees)
	}
	// A ratio that isn't known is said to be.
	d.Parts[0].Axle.Ring, d.Parts[0].Axle.Pinion, d.Parts[0].Axle.Ratio = 0, 0, exact.Figure{}
	if a := play(t, d, driveline.State{}, nil, Rocked{At: "rear.in"}); len(a.Asks) == 0 {
		t.Error("an unknown ratio was reckoned with in silence")
	}
}

// BenchmarkPlay60Shafts is the play at a flange of a layout of more than sixty
// shafts, with the next hold.
func BenchmarkPlay60Shafts(b *testing.B) {
	d := linetest.Large(b)
	for b.Loop() {
		play(b, d, driveline.State{}, nil, Rocked{At: "rear_prop.shaft", Degrees: degrees(9)})
	}
}

// Every shaft of every layout, rocked in neutral on the ground and in gear on
// stands: bounded with finite shares that add up, or said to turn freely; and
// more play of any place never shows as less.
func TestPlayOfEveryLayout(t *testing.T) {
	for _, l := range driveline.Layouts() {
		d := l.Document
		m := driveline.Build(&d, &driveline.State{})
		for i, sh := range m.Shafts {
			if i%3 != 0 {
				continue
			}
			for _, wheels := range []string{driveline.OnGround, driveline.Lifted} {
				st := driveline.State{Wheels: map[string]string{}}
				for _, p := range d.Parts {
					if p.Kind == "wheel" {
						st.Wheels[p.ID] = wheels
					}
				}
				a := play(t, &d, st, nil, Rocked{At: sh.ID})
				out := a.Measured[0]
				sum := 0.0
				for _, s := range out.Shares {
					sum += s.Usual
				}
				if out.Bounded && math.Abs(sum-out.Usual) > 0.01*float64(1+len(out.Shares)) || !out.Bounded && len(out.Shares) > 0 || out.Text == "" || math.IsNaN(sum) {
					t.Fatalf("%s, %s: %+v", l.ID, sh.ID, out)
				}
				if !out.Bounded || len(out.Shares) == 0 {
					continue
				}
				worn := out.Shares[0].Place
				for _, p := range a.Places {
					if p.ID == worn {
						b := play(t, &d, st, []OwnPlay{{worn, p.Usual + 1}}, Rocked{At: sh.ID})
						if b.Measured[0].Usual < out.Usual-1e-3 {
							t.Fatalf("%s, %s: more play at %s shows as %v after %v", l.ID, sh.ID, worn, b.Measured[0].Usual, out.Usual)
						}
					}
				}
			}
		}
	}
}
