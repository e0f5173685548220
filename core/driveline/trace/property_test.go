package trace

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/grip"
	"zorvel/core/driveline/linetest"
	"zorvel/core/driveline/match"
	"zorvel/core/exact"
)

// A document that is written is read the same, and solving leaves it alone.
func TestLayoutsComeBack(t *testing.T) {
	for _, l := range driveline.Layouts() {
		for name, d := range map[string]driveline.Document{"with figures": l.Document, "blank": l.Document.Blank()} {
			before := text(t, d)
			back, err := driveline.Parse([]byte(before))
			if err != nil {
				t.Errorf("%s, %s: %v", l.ID, name, err)
				continue
			}
			if got := text(t, back); got != before {
				t.Errorf("%s, %s comes back as %s", l.ID, name, got)
			}
			if _, err := Run(back, driveline.State{}, Want{Gears: true, Shifts: true, Tests: true, SpeedKMH: 50}); err != nil {
				t.Errorf("%s, %s: %v", l.ID, name, err)
			}
			if got := text(t, back); got != before {
				t.Errorf("%s, %s was changed by solving it", l.ID, name)
			}
		}
	}
}

// A row of the table of gears is the trace of that gear, solved by itself.
func TestGearRowsAreTraces(t *testing.T) {
	rows := 0
	for _, l := range driveline.Layouts() {
		d := l.Document
		table, err := GearTable(&d)
		if err != nil {
			t.Errorf("%s: %v", l.ID, err)
			continue
		}
		for _, g := range table {
			tr, err := Run(&d, driveline.State{Select: g.Select, Input: &driveline.Input{RPM: 1000}}, Want{})
			if err != nil {
				t.Errorf("%s %s: %v", l.ID, g.Name, err)
				continue
			}
			if g.Overall == nil || tr.Overall == nil {
				continue
			}
			rows++
			if !tr.Overall.Ratio.Abs().Equal(*g.Overall) {
				t.Errorf("%s %s %s: the trace says %v, the table %v", l.ID, g.Name, g.Range, tr.Overall.Ratio, g.Overall)
			}
			if g.KMH != nil && tr.SpeedKMH != nil && math.Abs(math.Abs(*tr.SpeedKMH)-*g.KMH) > 1e-6**g.KMH {
				t.Errorf("%s %s: %v km/h at 1000 rpm by the trace, %v by the table", l.ID, g.Name, *tr.SpeedKMH, *g.KMH)
			}
		}
	}
	if rows < 60 {
		t.Errorf("only %d gears were compared", rows)
	}
}

// Turning the other way turns everything the other way, and just as much;
// turning faster changes no multiple.
func TestInputScalesEverything(t *testing.T) {
	for _, l := range driveline.Layouts() {
		d := l.Document
		run := func(rpm float64) *Trace {
			tr, err := Run(&d, driveline.State{Input: &driveline.Input{RPM: rpm}}, Want{})
			if err != nil {
				t.Fatalf("%s: %v", l.ID, err)
			}
			return tr
		}
		one, back, fast := run(1000), run(-1000), run(3000)
		for i, x := range one.Shafts {
			y, z := back.Shafts[i], fast.Shafts[i]
			if x.ID != y.ID || x.State != y.State || x.State != z.State {
				t.Errorf("%s: %s is %s, %s and %s", l.ID, x.ID, x.State, y.State, z.State)
			}
			if (x.Speed == nil) != (y.Speed == nil) || x.Speed != nil && (!x.Speed.Equal(y.Speed.Neg()) || !x.Speed.Equal(*z.Speed)) {
				t.Errorf("%s: the multiple of %s hangs on the input: %v, %v, %v", l.ID, x.ID, x.Speed, y.Speed, z.Speed)
			}
			if x.RPM == nil {
				continue
			}
			if math.Abs(*x.RPM+*y.RPM) > 1e-9 || math.Abs(3**x.RPM-*z.RPM) > 1e-6 {
				t.Errorf("%s: %s turns at %v, %v and %v", l.ID, x.ID, *x.RPM, *y.RPM, *z.RPM)
			}
			if x.Speed != nil && math.Abs(*x.RPM-1000*x.Speed.Float()) > 1e-6 {
				t.Errorf("%s: %s at %v rpm, %v times the input", l.ID, x.ID, *x.RPM, x.Speed)
			}
		}
	}
}

// What arrives at the ends is all that there is, and no power appears on the
// way: torque times speed at the ends is what went in, in every gear.
func TestPowerIsKept(t *testing.T) {
	seen := 0
	for _, l := range driveline.Layouts() {
		d := l.Document
		table, err := GearTable(&d)
		if err != nil {
			t.Fatal(err)
		}
		for _, g := range table {
			tr, err := Run(&d, driveline.State{Select: g.Select}, Want{})
			if err != nil {
				t.Fatal(err)
			}
			sum, all := exact.Number{}, len(tr.Outputs) > 0
			for _, o := range tr.Outputs {
				if o.Share == nil {
					all = false
					break
				}
				sum = sum.Add(*o.Share)
			}
			if all && !sum.IsZero() && !sum.Equal(exact.Int(1)) {
				t.Errorf("%s %s: the shares of the ends make %v", l.ID, g.Name, sum)
			}
			shafts := map[string]ShaftOut{}
			for _, s := range tr.Shafts {
				shafts[s.ID] = s
			}
			power, known := exact.Number{}, len(tr.Outputs) > 0
			for _, o := range tr.Outputs {
				s, ok := shafts[o.Shaft]
				if !ok || s.Torque == nil || s.Speed == nil {
					known = false
					break
				}
				power = power.Add(s.Torque.Mul(*s.Speed))
			}
			if known && len(tr.Binds) == 0 && !power.IsZero() {
				seen++
				if !power.Abs().Equal(exact.Int(1)) {
					t.Errorf("%s %s %s: %v of the power arrives", l.ID, g.Name, g.Range, power)
				}
			}
		}
	}
	if seen < 40 {
		t.Errorf("power was told in only %d gears", seen)
	}
}

// The steps of a path multiply to what its end says.
func TestPathsMultiply(t *testing.T) {
	n := 0
	for _, l := range driveline.Layouts() {
		d := l.Document
		tr, err := Run(&d, driveline.State{}, Want{})
		if err != nil {
			t.Fatal(err)
		}
		for _, o := range tr.Outputs {
			product := exact.Int(1)
			for _, s := range o.Path {
				if s.Ratio == nil {
					product = exact.Number{}
					break
				}
				product = product.Mul(*s.Ratio)
				if s.Product != nil && !product.Abs().Equal(s.Product.Abs()) {
					t.Errorf("%s, %s at %s: steps make %v, it says %v", l.ID, o.Name, s.Element, product, s.Product)
				}
				n++
			}
		}
	}
	if n < 60 {
		t.Errorf("only %d steps", n)
	}
}

// More grip never pulls less, a lock never pulls less than an open
// differential on the same ground, and no wheel pushes harder than its grip.
func TestGripIsMonotonous(t *testing.T) {
	wheels := []string{"rear_left", "rear_right", "front_left", "front_right"}
	for _, id := range []string{"part_time", "full_time", "asymmetric", "axle_low"} {
		d := linetest.Layout(t, id)
		d.Parts[0].Engine.TorqueNM = 0 // grip alone decides
		r := rand.New(rand.NewPCG(6, uint64(len(id))))
		for range 12 {
			g := grip.Grip{Default: 0.8, Wheels: map[string]float64{}, LoadsN: map[string]float64{}}
			for _, w := range wheels {
				g.Wheels[w] = float64(1+r.IntN(9)) / 10
				g.LoadsN[w] = float64(2000 + 500*r.IntN(12))
			}
			was := pull(t, d, driveline.State{}, g)
			for _, w := range was.Wheels {
				if limit := g.Wheels[w.Part] * g.LoadsN[w.Part]; w.ForceN > limit+1e-6 {
					t.Errorf("%s: %s pushes %v N on a grip of %v N", id, w.Part, w.ForceN, limit)
				}
			}
			more := grip.Grip{Default: 0.8, Wheels: map[string]float64{}, LoadsN: g.LoadsN}
			for w, mu := range g.Wheels {
				more.Wheels[w] = mu
			}
			w := wheels[r.IntN(4)]
			more.Wheels[w] += 0.2
			if now := pull(t, d, driveline.State{}, more); now.TotalN < was.TotalN-1e-6 {
				t.Errorf("%s: with more grip at %s it pulls %v N instead of %v", id, w, now.TotalN, was.TotalN)
			}
			// Twice the load at every wheel, twice the pull.
			heavy := grip.Grip{Default: 0.8, Wheels: g.Wheels, LoadsN: map[string]float64{}}
			for x, n := range g.LoadsN {
				heavy.LoadsN[x] = 2 * n
			}
			if now := pull(t, d, driveline.State{}, heavy); math.Abs(now.TotalN-2*was.TotalN) > 1e-6*now.TotalN+1e-6 {
				t.Errorf("%s: twice the load pulls %v N, once %v", id, now.TotalN, was.TotalN)
			}
			total := 0.0
			for _, x := range was.Wheels {
				total += x.ForceN
			}
			if math.Abs(total-was.TotalN) > 1e-6*total+1e-6 {
				t.Errorf("%s: wheels make %v N, together %v", id, total, was.TotalN)
			}
		}
	}
}

// Front against rear by the kind of center, at and beside the one percent.
func TestVerdictsOfEnds(t *testing.T) {
	for _, c := range []struct {
		layout string
		front  int64 // front turns per meter against rear, in thousandths
		level  string
		says   string
	}{
		{"part_time", 1000, "match", "Exact match"},
		{"part_time", 1010, "tolerated", "locks the two together"},
		{"part_time", 990, "tolerated", "1 % apart"},
		{"part_time", 1011, "wrong", "1.1 % apart"},
		{"part_time", 989, "wrong", "1.1 % apart"},
		{"full_time", 1000, "match", "Exact match"},
		{"full_time", 1010, "tolerated", "the differential between takes it"},
		{"full_time", 1030, "caution", "works constantly"},
		{"solid", 1000, "match", "Exact match"},
		{"solid", 1001, "tolerated", "less than equal tires differ by"},
		{"solid", 993, "tolerated", "less than equal tires differ by"},
		{"solid", 1008, "wrong", "nothing between that could give"},
		{"solid", 930, "wrong", "nothing between that could give"},
	} {
		id := c.layout
		if id == "solid" {
			id = "part_time"
		}
		d := linetest.Layout(t, id).With(nil, nil)
		if c.layout == "solid" {
			linetest.Part(t, d, "case").TransferCase.Center = driveline.Center{Type: "solid"}
		}
		ends := match.Ends(d)
		if ends == nil || ends.First == nil {
			t.Fatalf("%s has no ends", c.layout)
		}
		// Whatever the layout has, scaled so that the front is as wanted.
		got := ends.Scaled(exact.Int(1), ends.First.Div(*ends.Second).Mul(exact.New(c.front, 1000)), "rear", "front")
		if got.Level != c.level || !strings.Contains(got.Verdict, c.says) || got.Do == "" {
			t.Errorf("%s at %d: %s, %q", c.layout, c.front, got.Level, got.Verdict)
		}
		if want := float64(c.front)/10 - 100; math.Abs(*got.Percent-want) > 1e-9 {
			t.Errorf("%s at %d: %v %%", c.layout, c.front, *got.Percent)
		}
		// 80 km/h is 1333.33 m a minute.
		if want := math.Abs(float64(c.front)/1000-1) * ends.First.Float() * 80000 / 60; math.Abs(*got.Rubbing-want) > 1e-6 {
			t.Errorf("%s at %d: %v rpm of rubbing, want %v", c.layout, c.front, *got.Rubbing, want)
		}
	}
}

func pull(t testing.TB, d *driveline.Document, s driveline.State, g grip.Grip) *grip.Traction {
	t.Helper()
	tr, err := grip.Pull(d, s, g)
	if err != nil {
		t.Fatal(err)
	}
	return tr
}
