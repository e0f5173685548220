package grip

import (
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/optimize/convex/lp"

	"zorvel/core/driveline"
	"zorvel/core/driveline/linetest"
	"zorvel/core/driveline/trace"
	"zorvel/core/exact"
	"zorvel/core/fault"
)

func pull(t testing.TB, d *driveline.Document, s driveline.State, g Grip) *Traction {
	t.Helper()
	tr, err := Pull(d, s, g)
	if err != nil {
		t.Fatal(err)
	}
	return tr
}

func run(t testing.TB, d *driveline.Document, s driveline.State) *trace.Trace {
	t.Helper()
	tr, err := trace.Run(d, s, trace.Want{})
	if err != nil {
		t.Fatal(err)
	}
	return tr
}

func (t *Traction) wheel(id string) WheelForce {
	for _, w := range t.Wheels {
		if w.Part == id {
			return w
		}
	}
	return WheelForce{Part: "missing"}
}

// Four wheels of 5000 N each; the left rear on ice of 0.1, the rest at 0.8.
func TestTractionByHand(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	d.Parts[0].Engine.TorqueNM = 0
	loads := map[string]float64{"rear_left": 5000, "rear_right": 5000, "front_left": 5000, "front_right": 5000}
	g := Grip{Default: 0.8, Wheels: map[string]float64{"rear_left": 0.1}, LoadsN: loads}
	brake := g
	brake.Brakes = map[string]float64{"rear_left": 2000}
	strong := g
	strong.Brakes = map[string]float64{"rear_left": 9000}
	full := linetest.Layout(t, "full_time")
	full.Parts[0].Engine.TorqueNM = 0
	lsd := linetest.Layout(t, "part_time")
	lsd.Parts[0].Engine.TorqueNM = 0
	linetest.Part(t, lsd, "rear").Axle.Differential = driveline.Differential{Type: "limited_slip",
		LimitedSlip: driveline.LimitedSlip{Bias: exact.Figure{Number: exact.Int(3)}}}
	slip := func(l driveline.LimitedSlip) *driveline.Document {
		d := linetest.Layout(t, "part_time")
		d.Parts[0].Engine.TorqueNM = 0
		linetest.Part(t, d, "rear").Axle.Differential = driveline.Differential{Type: "limited_slip", LimitedSlip: l}
		if err := d.Check(); err != nil {
			t.Fatal(err)
		}
		return d
	}
	three := exact.Figure{Number: exact.Int(3)}
	radius := 2.39 / (2 * math.Pi)
	air := g
	air.Wheels = map[string]float64{"rear_left": 0}
	touch := air
	touch.Brakes = map[string]float64{"rear_left": 1000}
	sixty := linetest.Layout(t, "asymmetric")
	sixty.Parts[0].Engine.TorqueNM = 0
	linetest.Part(t, sixty, "rear").Axle.Differential = driveline.Differential{Type: "open"}
	for _, c := range []struct {
		name  string
		d     *driveline.Document
		s     driveline.State
		g     Grip
		total float64
		first string
	}{
		// Open: both rear wheels give what the worse one can.
		{"rear drive, open", d, driveline.State{}, g, 2 * 500, "rear_left"},
		{"rear drive, lockered", d, driveline.State{Select: linetest.Set("rear.lock", "locked")}, g, 500 + 4000, ""},
		{"front locked in", d, driveline.State{Select: linetest.Set("case.center", "locked")}, g, 2*500 + 8000, ""},
		{"everything locked", d, driveline.State{Select: linetest.Set("case.center", "locked", "rear.lock", "locked")}, g, 4500 + 8000, ""},
		// Limited slip of 3: the better side up to three times the worse.
		{"limited slip", lsd, driveline.State{}, g, 500 + 1500, "rear_left"},
		// A wheel without grip: teeth carry nothing, a preload twice what was
		// measured at one wheel, a fluid what it carries at that difference.
		{"helical, one wheel without grip", slip(driveline.LimitedSlip{Slip: "helical", Bias: three}), driveline.State{}, air, 0, "rear_left"},
		{"helical, a touch of brake on it", slip(driveline.LimitedSlip{Slip: "helical", Bias: three}), driveline.State{},
			touch, 3000, "rear_left"},
		{"clutches without preload", slip(driveline.LimitedSlip{Slip: "clutches", Bias: three}), driveline.State{}, air, 0, "rear_left"},
		{"clutches, 100 N·m breakaway", slip(driveline.LimitedSlip{Slip: "clutches", Bias: three, BreakawayNM: 100}),
			driveline.State{}, air, 200 / radius, "rear_left"},
		{"clutches, preload against ice", slip(driveline.LimitedSlip{Slip: "clutches", Bias: three, BreakawayNM: 1000}),
			driveline.State{}, g, 500 + (500 + 2000/radius) - max(0, 500+2000/radius-4000), "rear_left"},
		{"viscous, 300 N·m at 100 rpm", slip(driveline.LimitedSlip{Slip: "viscous", ViscousNM: 300}), driveline.State{},
			air, 300 / radius, "rear_left"},
		{"viscous, unknown", slip(driveline.LimitedSlip{Slip: "viscous"}), driveline.State{}, air, 0, "rear_left"},
		// The brake gives the spinning wheel something to push against.
		{"brake of 2000 N on the spinning wheel", d, driveline.State{}, brake, 500 + 2500, "rear_left"},
		// A brake that stops the wheel makes it slide.
		{"a brake past the other wheel's limit", d, driveline.State{}, strong, 4000 - 500, ""},
		// Open center: the front gets no more than the rear axle.
		{"full-time, center open", full, driveline.State{}, g, 4 * 500, "rear_left"},
		{"full-time, center locked", full, driveline.State{Select: linetest.Set("case.center", "locked")}, g, 1000 + 8000, ""},
		// 60 : 40 by the rear axle's 1000 N: the front gets 2/3 of it.
		{"60 : 40 center", sixty, driveline.State{}, g, 1000 + 1000*2.0/3, "rear_left"},
		{"one wheel lifted, open", d, driveline.State{Wheels: linetest.Set("rear_left", "lifted")}, g, 0, "rear_left"},
	} {
		tr := pull(t, c.d, c.s, c.g)
		if math.Abs(tr.TotalN-c.total) > 1e-6*math.Max(1, c.total) {
			t.Errorf("%s: %.3f N, want %.3f", c.name, tr.TotalN, c.total)
		}
		if c.first != "" && tr.First != c.first {
			t.Errorf("%s: %q gives up first, want %q", c.name, tr.First, c.first)
		}
		sum := 0.0
		for _, w := range tr.Wheels {
			sum += w.ForceN
			if w.ForceN > w.LimitN*(1+1e-9) {
				t.Errorf("%s: %s passes %v of %v N", c.name, w.Name, w.ForceN, w.LimitN)
			}
		}
		if math.Abs(sum-tr.TotalN) > 1e-6 {
			t.Errorf("%s: wheels sum to %v", c.name, sum)
		}
	}
	if tr := pull(t, d, driveline.State{}, g); tr.wheel("front_left").Words != "not driven" ||
		tr.wheel("rear_right").Slips || !tr.wheel("rear_left").Slips {
		t.Errorf("%+v", tr.Wheels)
	}
}

// Statics on a grade: 2000 kg, half on each axle, height 0.7 of wheelbase 2.8,
// 30 %.
func TestGrade(t *testing.T) {
	d := linetest.Layout(t, "rear_drive")
	d.Body = &driveline.Body{WheelbaseMM: 2800, TrackMM: 1500, MassKG: 2000, FrontPercent: 50, HeightMM: 700}
	d.Parts[0].Engine.TorqueNM = 0
	tr := pull(t, d, driveline.State{}, Grip{Default: 0.6, GradePercent: 30, Rolling: 0.02})
	α := math.Atan(0.3)
	w := 2000 * 9.80665
	rear := w * (0.5*math.Cos(α) + 0.25*math.Sin(α))
	if got := tr.wheel("rear_left").LoadN; math.Abs(got-rear/2) > 1e-9 {
		t.Errorf("rear wheel load %v, want %v", got, rear/2)
	}
	if math.Abs(tr.TotalN-0.6*rear) > 1e-6 || math.Abs(tr.NeedN-w*(math.Sin(α)+0.02*math.Cos(α))) > 1e-9 {
		t.Errorf("total %v need %v", tr.TotalN, tr.NeedN)
	}
	// tan α = (μ/2 − f) / (1 − μ/4): what it climbs, from the same statics.
	if want := 100 * (0.3 - 0.02) / (1 - 0.15); math.Abs(*tr.MaxGrade-want) > 1e-6 {
		t.Errorf("steepest %v %%, want %v", *tr.MaxGrade, want)
	}
	// A weak engine runs out first.
	tr = pull(t, d, driveline.State{}, Grip{Default: 0.6, TorqueNM: 50})
	want := 50 * run(t, d, driveline.State{}).Overall.Ratio.Float() * 2 * math.Pi / 2.18
	if tr.Limited != "engine" || math.Abs(tr.TotalN-want) > 1e-6 {
		t.Errorf("%s %v, want %v", tr.Limited, tr.TotalN, want)
	}
}

func TestTractionRefusals(t *testing.T) {
	d := linetest.Layout(t, "rear_drive")
	for field, g := range map[string]Grip{
		"grip/default":            {Default: 3},
		"grip/wheels/nobody":      {Default: 1, Wheels: map[string]float64{"nobody": 1}},
		"grip/wheels/rear_left":   {Default: 1, Wheels: map[string]float64{"rear_left": math.NaN()}},
		"grip/brakes/rear_left":   {Default: 1, Brakes: map[string]float64{"rear_left": -1}},
		"grip/loads_n/rear_right": {Default: 1, LoadsN: map[string]float64{"rear_right": 1e9}},
		"grip/grade_percent":      {Default: 1, GradePercent: 1000},
		"grip/rolling":            {Default: 1, Rolling: 2},
		"grip/torque_nm":          {Default: 1, TorqueNM: -1},
	} {
		_, err := Pull(d, driveline.State{}, g)
		var list fault.Errors
		if !errors.As(err, &list) || list[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	d.Body = nil
	if _, err := Pull(d, driveline.State{}, Grip{Default: 1}); err == nil || !strings.Contains(err.Error(), "grip/loads_n") {
		t.Errorf("without mass or loads: %v", err)
	}
	if _, err := Pull(linetest.Layout(t, "outboard"), driveline.State{}, Grip{}); err == nil {
		t.Error("a boat has traction")
	}
}

// The tree's answer against gonum's linear program of the same four wheels:
// maximize the sum of forces under the differentials' equations.
func TestTractionAgainstLinearProgram(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 1))
	for range 200 {
		d := linetest.Layout(t, "full_time")
		d.Parts[0].Engine.TorqueNM = 0
		g := Grip{Default: 0.5, LoadsN: map[string]float64{}, Wheels: map[string]float64{}, Brakes: map[string]float64{}}
		ids := []string{"rear_left", "rear_right", "front_left", "front_right"}
		limit, brake := make([]float64, 4), make([]float64, 4)
		for i, id := range ids {
			g.LoadsN[id], g.Wheels[id] = 2000+8000*r.Float64(), 0.05+0.9*r.Float64()
			limit[i] = g.LoadsN[id] * g.Wheels[id]
			if r.IntN(3) == 0 {
				brake[i] = limit[i] * r.Float64()
				g.Brakes[id] = brake[i]
			}
		}
		lockR, lockF, lockC := r.IntN(2) == 0, r.IntN(2) == 0, r.IntN(2) == 0
		kind := map[bool]string{true: "spool", false: "open"}
		linetest.Part(t, d, "rear").Axle.Differential.Type = kind[lockR]
		linetest.Part(t, d, "front").Axle.Differential.Type = kind[lockF]
		s := driveline.State{}
		if lockC {
			s.Select = linetest.Set("case.center", "locked")
		}
		got := pull(t, d, s, g).TotalN

		// Variables: what each tire is given (its force and what its brake
		// takes first), and a slack for each bound; equal tires and axles,
		// so shares of force are shares of torque.
		rows, rhs, brakes := [][]float64{}, []float64{}, 0.0
		for i := range 4 {
			f := make([]float64, 8)
			f[i], f[4+i] = 1, 1
			rows, rhs = append(rows, f), append(rhs, limit[i]+brake[i])
			brakes += brake[i]
		}
		equal := func(plus, minus []int) {
			x := make([]float64, 8)
			for _, i := range plus {
				x[i] = 1
			}
			for _, i := range minus {
				x[i] = -1
			}
			rows, rhs = append(rows, x), append(rhs, 0)
		}
		if !lockR {
			equal([]int{0}, []int{1})
		}
		if !lockF {
			equal([]int{2}, []int{3})
		}
		if !lockC {
			equal([]int{0, 1}, []int{2, 3})
		}
		a := mat.NewDense(len(rows), 8, nil)
		for i, x := range rows {
			a.SetRow(i, x)
		}
		c := make([]float64, 8)
		for i := range 4 {
			c[i] = -1
		}
		best, _, err := lp.Simplex(c, a, rhs, 1e-10, nil)
		if err != nil {
			t.Fatal(err)
		}
		if best += brakes; math.Abs(got+best) > 1e-6*math.Max(1, math.Abs(got)) {
			t.Fatalf("tree %v, linear program %v; locks %v %v %v limits %v brakes %v", got, -best, lockR, lockF, lockC, limit, brake)
		}
	}
}

// Axles that are driven opposite ways: what the one pushes backward is taken
// off, never added, and it is named; so in the trace, with any center.
func TestOpposedAxles(t *testing.T) {
	for _, center := range []string{"solid", "open", "part_time", "limited_slip"} {
		d := linetest.Layout(t, "full_time")
		d.Parts[0].Engine.TorqueNM = 0
		c := linetest.Part(t, d, "case")
		c.TransferCase.Center = driveline.Center{Type: center}
		front := linetest.Part(t, d, "front").Axle
		front.RingSide = map[string]string{"left": "right", "right": "left"}[front.RingSide]
		if err := d.Check(); err != nil {
			t.Fatal(err)
		}
		s := driveline.State{}
		if center == "part_time" {
			s.Select = linetest.Set("case.center", "locked")
		}
		g := Grip{Default: 0.8, LoadsN: map[string]float64{"rear_left": 6000, "rear_right": 6000, "front_left": 4000, "front_right": 4000}}
		got := pull(t, d, s, g)
		want := 0.0 // an open center halves: the two cancel
		switch center {
		case "solid", "part_time":
			want = 0.8 * (12000 - 8000)
		case "limited_slip": // the rear's tires bear more, within the bias
			want = 0.8*12000 - 0.8*8000
		}
		if math.Abs(got.TotalN-want) > 1 {
			t.Errorf("%s: %v N, want %v: %s", center, got.TotalN, want, got.Sentence)
		}
		for _, w := range got.Wheels {
			if strings.HasPrefix(w.Part, "front") && (w.ForceN > 0 || !strings.Contains(w.Words, "backward")) {
				t.Errorf("%s: %+v", center, w)
			}
		}
		if all := strings.Join(got.Steps, " "); !strings.Contains(all, "Driven backward") || strings.Contains(all, "reach their limit together") {
			t.Errorf("%s: %s", center, all)
		}
		tr := run(t, d, s)
		notes := func(kind string) string {
			out := ""
			for _, n := range tr.Notes {
				if n.Kind == kind {
					out += n.Text + "\n"
				}
			}
			return out
		}
		if n := notes("wrong"); !strings.Contains(n, "front axle drives its wheels backward") ||
			!strings.Contains(n, "works against the rear axle") {
			t.Errorf("%s: %s", center, n)
		}
		if n := notes("caution"); strings.Contains(n, "coast side") {
			t.Errorf("%s: %s", center, n)
		}
	}
}

// What is said of a limit is so: no open differential is blamed where all is
// locked, nothing is reached "together" where a wheel is held.
func TestTractionSaysWhatLimits(t *testing.T) {
	d := linetest.Layout(t, "full_time")
	d.Parts[0].Engine.TorqueNM = 0
	linetest.Part(t, d, "rear").Axle.Differential.Type = "spool"
	linetest.Part(t, d, "front").Axle.Differential.Type = "spool"
	lockedAll := driveline.State{Select: linetest.Set("case.center", "locked")}
	for _, wheels := range []map[string]float64{nil, {"rear_left": 0.05}, {"rear_left": 0.05, "front_right": 0.2}} {
		got := pull(t, d, lockedAll, Grip{Default: 0.8, Wheels: wheels})
		if all := strings.Join(got.Steps, " ") + got.Sentence; strings.Contains(all, "open differential") || strings.Contains(all, "limited by") {
			t.Errorf("%v: %s", wheels, all)
		}
	}
	held := pull(t, linetest.Layout(t, "rear_drive"), driveline.State{Wheels: map[string]string{"rear_left": "held"}}, Grip{Default: 0.8})
	if all := strings.Join(held.Steps, " "); strings.Contains(all, "together") || strings.Contains(all, "0 kN") {
		t.Errorf("one wheel held: %s", all)
	}
	both := pull(t, linetest.Layout(t, "rear_drive"), driveline.State{Wheels: map[string]string{"rear_left": "held",
		"rear_right": "lifted"}}, Grip{Default: 0.8})
	if all := strings.Join(both.Steps, " "); strings.Contains(all, "0 kN") || strings.Contains(all, "together") {
		t.Errorf("held and lifted: %s", all)
	}
}

// A brake takes its torque first, on any wheel that turns: a gripping braked
// wheel drags, driven or not, and a side passes at most grip and brake.
func TestBrakesTakeTheirsFirst(t *testing.T) {
	d := linetest.Layout(t, "rear_drive")
	d.Parts[0].Engine.TorqueNM = 0
	loads := map[string]float64{"rear_left": 5000, "rear_right": 5000, "front_left": 5000, "front_right": 5000}
	if partByID(d, "front_left") == nil {
		delete(loads, "front_left")
		delete(loads, "front_right")
	}
	free := pull(t, d, driveline.State{}, Grip{Default: 0.8, LoadsN: loads})
	braked := pull(t, d, driveline.State{}, Grip{Default: 0.8, LoadsN: loads, Brakes: map[string]float64{"rear_left": 1000}})
	if math.Abs(free.TotalN-8000) > 1 || math.Abs(braked.TotalN-7000) > 1 {
		t.Errorf("free %v N, one gripping wheel braked by 1000 N %v N", free.TotalN, braked.TotalN)
	}
	ice := pull(t, d, driveline.State{}, Grip{Default: 0.8, Wheels: map[string]float64{"rear_left": 0.1}, LoadsN: loads,
		Brakes: map[string]float64{"rear_left": 1000}})
	if math.Abs(ice.TotalN-(500+1500)) > 1 {
		t.Errorf("a spinning wheel braked by 1000 N: %v N, want 500 + 1500", ice.TotalN)
	}
}

// Measured loads without a mass are the weight that a grade pulls at.
func TestGradeWithMeasuredLoads(t *testing.T) {
	d := linetest.Layout(t, "rear_drive")
	g := Grip{Default: 0.8, GradePercent: 60, LoadsN: map[string]float64{}}
	sum := 0.0
	for _, p := range d.Parts {
		if p.Kind == "wheel" {
			g.LoadsN[p.ID] = 5000
			sum += 5000
		}
	}
	d.Body = &driveline.Body{}
	got := pull(t, d, driveline.State{}, g)
	if want := sum * math.Sin(math.Atan(0.6)); math.Abs(got.NeedN-want) > 1e-6 {
		t.Errorf("a 60 %% grade asks %v N of %v N, want %v", got.NeedN, sum, want)
	}
}

func partByID(d *driveline.Document, id string) *driveline.Part {
	for i := range d.Parts {
		if d.Parts[i].ID == id {
			return &d.Parts[i]
		}
	}
	return nil
}
