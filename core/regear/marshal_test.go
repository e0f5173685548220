package regear

import (
	"encoding/json"
	"math"
	"math/rand/v2"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/grip"
	"zorvel/core/exact"
	"zorvel/core/speedo"
	"zorvel/core/tire"
)

// strange numbers that people and programs send.
var strange = []float64{0, 1e-300, 5e-324, 1e-9, 0.0004, 0.1, 1, 3.7, 100, 99999, 1e6, 1e15, 1e300, math.MaxFloat64, -1, -1e300}

// Whatever is asked, an answer can be written: no NaN, no infinity.
func TestEveryAnswerMarshals(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	f := func() float64 {
		if r.IntN(3) == 0 {
			return strange[r.IntN(len(strange))]
		}
		return math.Round(math.Exp(r.Float64()*12)) / 10
	}
	fg := func() exact.Figure {
		return exact.Figure{Number: exact.New(r.Int64N(2_000_000)-100, []int64{1, 3, 7, 10, 1000, 1_000_000}[r.IntN(6)])}
	}
	maybe := func() exact.Figure {
		if r.IntN(2) == 0 {
			return exact.Figure{}
		}
		return fg()
	}
	marks := []string{"", "225/75R16", "31x10.50R15", "33 12.50 15", "7.50-16", "4.80-8", "29.5R25", `33"`, "60/40R10", "900/110R63"}
	tires := func() tire.Tire {
		return tire.Tire{Marking: marks[r.IntN(len(marks))], RolloutMM: maybe(), RolloutTurns: r.IntN(4), RevsPerKM: maybe(), DiameterMM: maybe(), MassKG: f()}
	}
	layouts := driveline.Layouts()
	answered := map[string]int{}
	see := func(kind string, v any, err error) {
		if err != nil {
			return
		}
		answered[kind]++
		if _, e := json.Marshal(v); e != nil {
			t.Errorf("%s: %v", kind, e)
		}
	}
	for range 3000 {
		tr, err := tire.Work(tires())
		see("tire", tr, err)
		if err == nil {
			if other, e := tire.Work(tires()); e == nil {
				see("change", tire.Compare(tr, other), nil)
			}
		}
		v := speedo.Verify{Method: []string{"stopwatch", "odometer", "track"}[r.IntN(2)], Runs: []speedo.Run{{ShownKMH: f(), Meters: f(), Seconds: f()}, {ShownKMH: 80, Meters: 1000, Seconds: 45}}[r.IntN(2):],
			ShownKM: fg(), TrueKM: fg(), StepKM: f(), TrueSure: f(), Calib: maybe(), Drive: r.IntN(30), Driven: r.IntN(60), Economy: f(), RangeKM: f(), OdoAt: maybe(), OdoNow: maybe()}
		if r.IntN(2) == 0 {
			v.ShownKM, v.TrueKM = exact.Figure{Number: exact.Int(100_000)}, exact.Figure{Number: exact.Int(99_000)}
		}
		if r.IntN(2) == 0 {
			v.StepKM, v.Economy, v.RangeKM = 0.1, 0, 0
		}
		q := speedo.Request{Axle: fg(), Tire: tires(), Verify: &v}
		switch r.IntN(3) {
		case 0:
			q.Mechanical = &speedo.Mechanical{Constant: maybe(), FittedDrive: 8, FittedTeeth: 3 + r.IntN(20), SpeedsKMH: []float64{f()}}
		case 1:
			q.Electronic = &speedo.Electronic{Reluctor: 1 + r.IntN(500), Calibrated: maybe(), Drive: r.IntN(2) * 7, Driven: 21, Tool: &speedo.Tool{Ratios: []exact.Figure{fg(), fg()}, From: fg(), To: fg(), Step: fg()}}
			if r.IntN(2) == 0 {
				q.Electronic.Tool = nil
			}
		}
		a, err := speedo.Work(q)
		see("speedometer", a, err)
		q.Verify = nil
		if r.IntN(2) == 0 {
			q.Axle, q.Tire = fig("4.1"), tire.Tire{Marking: "225/75R16"}
		}
		a, err = speedo.Work(q)
		see("speedometer gears", a, err)
		rq := plain()
		if r.IntN(2) == 0 {
			rq.Plain.Rear, rq.Plain.Gears[r.IntN(6)].Ratio = PlainAxle{Ratio: fg()}, fg()
		}
		if r.IntN(2) == 0 {
			rq.Plain.Front = rq.Plain.Rear
		}
		rq.New = tires()
		switch r.IntN(4) {
		case 0:
			rq.Cruise = Cruise{KMH: f()}
		case 1:
			rq.IdleRPM = f()
		case 2:
			rq.CrawlKMH = f()
		}
		p, err := Work(rq)
		see("re-gear", p, err)
		d := layouts[r.IntN(len(layouts))].Document
		g := grip.Grip{Default: f(), GradePercent: f(), Rolling: f(), TorqueNM: f(), LoadsN: map[string]float64{}}
		for _, x := range d.Parts {
			if x.Kind == "wheel" && r.IntN(2) == 0 {
				g.LoadsN[x.ID] = f()
			}
		}
		pull, err := grip.Pull(&d, driveline.State{}, g)
		see("traction", pull, err)
	}
	for _, kind := range []string{"tire", "change", "speedometer", "speedometer gears", "re-gear", "traction"} {
		if answered[kind] < 20 {
			t.Errorf("%s: only %d answers were tried", kind, answered[kind])
		}
	}
}

// A distance known to next to nothing is not infinitely sure.
func TestSureOfNothing(t *testing.T) {
	n := func(v int64) exact.Figure { return exact.Figure{Number: exact.Int(v)} }
	a, err := speedo.Work(speedo.Request{Verify: &speedo.Verify{Method: "odometer", ShownKM: n(100_000), TrueKM: n(99_000), TrueSure: 0.0004}})
	if err != nil || a.Verified.Sure <= 0 || math.Abs(a.Verified.Percent-1.0101) > 0.001 {
		t.Errorf("%+v %v", a, err)
	}
}
