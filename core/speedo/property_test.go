package speedo

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"zorvel/core/exact"
	"zorvel/core/tire"
)

// Every cell of random grids, reckoned again in floating point.
func TestGridAgainstFloatingPoint(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 19))
	pick := func(lo, hi int) int { return lo + r.IntN(hi-lo+1) }
	for n := range 200 {
		mm, axle := float64(pick(1700, 3300)), float64(pick(300, 600))/100
		q := Request{Axle: fig(fmt.Sprint(axle)), Tire: tire.Tire{RollingMM: fig(fmt.Sprint(mm))}, Mechanical: &Mechanical{}}
		m := q.Mechanical
		constant := 1000.0
		if r.IntN(3) == 0 {
			constant = float64(pick(500, 1500))
			m.Constant = fig(fmt.Sprint(constant))
		}
		perMile := 1609344 / mm * axle
		if r.IntN(3) == 0 {
			m.Per = PerKM
			if m.Constant.IsZero() {
				constant = 1000 / 1.609344
			}
			perMile /= 1.609344
		}
		for range pick(1, 5) {
			m.Drives = append(m.Drives, Gear{Teeth: pick(6, 19), Shelf: r.IntN(2)})
		}
		for range pick(1, 20) {
			m.Driven = append(m.Driven, Gear{Teeth: pick(15, 45), Shelf: r.IntN(2)})
		}
		if r.IntN(2) == 0 {
			for range pick(1, 3) {
				from := pick(15, 40)
				m.Housings = append(m.Housings, Housing{Name: fmt.Sprint("H", from), TakesFrom: from, TakesTo: from + pick(0, 8), Shelf: r.IntN(2)})
			}
		}
		a, err := Work(q)
		if err != nil {
			t.Fatal(err)
		}
		best, bestSeen := math.Inf(1), false
		for _, c := range a.Mechanical.Cells {
			ratio := perMile * float64(c.Drive) / float64(c.Driven) / constant
			if math.Abs(c.Percent-(ratio-1)*100) > 1e-3*math.Max(1, ratio) {
				t.Errorf("draw %d, %d and %d: %v %%, want %v", n, c.Drive, c.Driven, c.Percent, (ratio-1)*100)
			}
			want := MarkHigh
			switch e := (ratio - 1) * 100; {
			case math.Abs(e) < 1e-9:
				want = c.Mark // by the exact sign
			case e < 0:
				want = MarkLow
			case e <= 2:
				want = MarkGood
			case e <= 4:
				want = MarkUsable
			}
			if c.Mark != want {
				t.Errorf("draw %d, %d and %d: %s at %v %%, want %s", n, c.Drive, c.Driven, c.Mark, c.Percent, want)
			}
			held := len(m.Housings) == 0
			for _, h := range m.Housings {
				held = held || (c.Driven >= h.TakesFrom && c.Driven <= h.TakesTo)
			}
			if c.Held != held {
				t.Errorf("draw %d: driven %d held %v, want %v", n, c.Driven, c.Held, held)
			}
			for _, x := range c.Reads {
				if math.Abs(x.Shown-x.True*ratio) > 0.006 || math.Abs(x.AllowedTo-(1.1*x.True+4)) > 0.006 {
					t.Errorf("draw %d: %+v with %v", n, x, ratio)
				}
			}
			if held && (want == MarkGood || want == MarkUsable) && ratio-1 < best {
				best = ratio - 1
			}
		}
		for _, p := range a.Mechanical.Picks {
			if p.Which == "nearest" || p.Which == "least_high" {
				continue // TestBothSchools holds these
			}
			if p.Cell.Mark == MarkLow || p.Cell.Mark == MarkHigh || !p.Cell.Held || (p.Which == "shelf" && !p.Cell.Shelf) {
				t.Errorf("draw %d picks %s %+v", n, p.Which, p.Cell)
			}
			if p.Which == "best" {
				bestSeen = true
				if math.Abs(p.Cell.Percent/100-best) > 1e-5 {
					t.Errorf("draw %d: the best is %v %%, want %v", n, p.Cell.Percent, best*100)
				}
			}
			if p.Which == "sure" && p.Cell.Percent < a.Tire.Spread {
				t.Errorf("draw %d: %v %% is not sure with ± %v", n, p.Cell.Percent, a.Tire.Spread)
			}
		}
		if bestSeen != !math.IsInf(best, 1) {
			t.Errorf("draw %d: best %v, picks %+v", n, best, a.Mechanical.Picks)
		}
		// Where nothing suits, the box that is named makes its pair true.
		if !bestSeen && len(a.Mechanical.Cells) > 0 {
			if len(a.Mechanical.Adapters) == 0 {
				t.Fatalf("draw %d: nothing suits and no box is named", n)
			}
			x := a.Mechanical.Adapters[len(a.Mechanical.Adapters)-1]
			if got := perMile * float64(x.Drive) / float64(x.Driven) / constant * x.Ratio.Float(); math.Abs(got-1) > 1e-9 {
				t.Errorf("draw %d: with the box it shows %v of the truth", n, got)
			}
		}
	}
}

// Pulses and their correction: a unit that is given the new value, or whose
// pulses are multiplied by the factor, shows the truth.
func TestPulsesMakeItTrue(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 2))
	for n := range 100 {
		mm, axle, teeth := 1700+float64(r.IntN(1600)), 3+float64(r.IntN(300))/100, 1+r.IntN(60)
		old := 500 + r.IntN(40000)
		q := Request{Axle: fig(fmt.Sprint(axle)), Tire: tire.Tire{RollingMM: fig(fmt.Sprint(mm))},
			Electronic: &Electronic{Reluctor: teeth, Calibrated: fig(fmt.Sprint(old)), Per: []Per{PerKM, PerMile}[r.IntN(2)]}}
		a, err := Work(q)
		if err != nil {
			t.Fatal(err)
		}
		e := a.Electronic
		come := 1e6 / mm * axle * float64(teeth) // a km
		if q.Electronic.Per == PerMile {
			come *= 1.609344
		}
		if math.Abs(e.New.Float()/come-1) > 1e-12 || math.Abs(e.Factor.Float()*come/float64(old)-1) > 1e-12 {
			t.Errorf("draw %d: new %v, factor %v for %v pulses and %d", n, e.New, e.Factor, come, old)
		}
		// What is shown with the old value: pulses that come by pulses that are expected.
		if math.Abs(*e.PercentNow-(come/float64(old)-1)*100) > 1e-3*math.Max(1, come/float64(old)) {
			t.Errorf("draw %d: reads %v %%", n, *e.PercentNow)
		}
	}
}

// A stopwatch that is right finds the error that was put in, within what it
// says of itself, nineteen times in twenty.
func TestStopwatchCoverage(t *testing.T) {
	r := rand.New(rand.NewPCG(100, 3))
	inside, all := 0, 400
	for range all {
		bias := 1 + (r.Float64()-0.5)*0.2
		v := Verify{Method: "stopwatch"}
		for range 1 + r.IntN(5) {
			speed := 40 + 60*r.Float64()
			meters := 1000 * (1 + 0.001*r.NormFloat64())
			seconds := 1000/(speed/3.6) + reaction*math.Sqrt2*r.NormFloat64()*0.7
			v.Runs = append(v.Runs, Run{ShownKMH: math.Round(speed*bias + 0.5*r.NormFloat64()), Meters: meters, Seconds: seconds})
		}
		out, err := Test(v)
		if err != nil {
			t.Fatal(err)
		}
		if math.Abs(out.Percent-(bias-1)*100) <= out.Sure {
			inside++
		}
	}
	if inside < all*93/100 {
		t.Errorf("%d of %d errors lie inside what was said", inside, all)
	}
}

// Tracks as recorders really write them: several tracks and segments, CRLF,
// comments, CDATA, an entity, fractions of a second, points out of order.
func TestTracksAsTheyCome(t *testing.T) {
	lat := func(m float64) float64 { la, _ := north(m, 0); return la }
	point := func(m float64, at string) string {
		return fmt.Sprintf("<trkpt lat=\"%.7f\" lon=\"-7\"><time>%s</time></trkpt>", lat(m), at)
	}
	at := func(s float64) string {
		return begin.Add(time.Duration(s * float64(time.Second))).Format(time.RFC3339Nano)
	}
	run := func(from, to int) string {
		var b strings.Builder
		for s := from; s <= to; s++ {
			b.WriteString(point(20*float64(s), at(float64(s))))
		}
		return b.String()
	}
	for name, c := range map[string]struct {
		text   string
		meters float64
	}{
		"CRLF, comment and declaration": {"<?xml version='1.0' encoding='utf-8'?>\r\n<!-- bench -->\r\n<gpx version='1.1'>\r\n<trk>\r\n<trkseg>\r\n" + run(0, 60) + "\r\n</trkseg>\r\n</trk>\r\n</gpx>\r\n", 1200},
		"CDATA and entities in names":   {"<gpx version='1.0'><trk><name><![CDATA[<harbor> & road]]></name><desc>a &amp; b</desc><trkseg>" + run(0, 60) + "</trkseg></trk></gpx>", 1200},
		"two tracks":                    {"<gpx><trk><trkseg>" + run(0, 60) + "</trkseg></trk><trk><trkseg>" + run(61, 120) + "</trkseg></trk></gpx>", 2400},
		"two segments":                  {"<gpx><trk><trkseg>" + run(0, 60) + "</trkseg><trkseg>" + run(61, 120) + "</trkseg></trk></gpx>", 2400},
		"an empty segment":              {"<gpx><trk><trkseg/><trkseg>" + run(0, 60) + "</trkseg></trk></gpx>", 1200},
		"fractions of a second":         {"<gpx><trk><trkseg>" + point(0, at(0.25)) + point(10, at(0.75)) + point(20, at(1.25)) + point(30, at(1.75)) + "</trkseg></trk></gpx>", 30},
		"a fix that goes back in time":  {"<gpx><trk><trkseg>" + run(0, 30) + point(5, at(3)) + run(31, 60) + "</trkseg></trk></gpx>", 1200},
		"the same fix twice":            {"<gpx><trk><trkseg>" + run(0, 30) + run(30, 60) + "</trkseg></trk></gpx>", 1200},
		"a byte order mark":             {"\ufeff<gpx><trk><trkseg>" + run(0, 60) + "</trkseg></trk></gpx>", 1200},
	} {
		tr, err := ReadTrack(c.text)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if math.Abs(tr.Meters-c.meters) > 0.01*c.meters {
			t.Errorf("%s: %v m, want %v", name, tr.Meters, c.meters)
		}
	}
}

// A track's length against the same way in small steps: thinning fixes on a
// straight road changes nothing.
func TestThinnedTrackIsAsLong(t *testing.T) {
	full, err := ReadTrack(dialects["1.1"].write(drive(0, 600, 0)))
	if err != nil {
		t.Fatal(err)
	}
	for _, every := range []int{2, 3, 5, 7} {
		var some []sample
		for i, p := range drive(0, 600, 0) {
			if i%every == 0 || i == 600 {
				some = append(some, p)
			}
		}
		tr, err := ReadTrack(dialects["1.0"].write(some))
		if err != nil {
			t.Fatal(err)
		}
		if math.Abs(tr.Meters-full.Meters) > 0.1 || tr.Gaps != 0 {
			t.Errorf("every %d: %v m and %d gaps, %v m in full", every, tr.Meters, tr.Gaps, full.Meters)
		}
	}
}

// What corrects economy, range and odometer is the error itself.
func TestCorrectionsFollowTheError(t *testing.T) {
	for _, c := range []struct{ shown, actual string }{{"94", "100"}, {"106", "100"}, {"50", "50"}} {
		out, err := Test(Verify{Method: "odometer", ShownKM: fig(c.shown), TrueKM: fig(c.actual), Economy: 10, RangeKM: 400, OdoAt: fig("120000"), OdoNow: fig("121000"), Calib: fig("16000"), Drive: 8, Driven: 25})
		if err != nil {
			t.Fatal(err)
		}
		shown, _ := exact.Parse(c.shown)
		actual, _ := exact.Parse(c.actual)
		k := actual.Float() / shown.Float() // true ÷ shown
		near(t, c.shown+" economy", *out.Economy, 10/k, 0.01)
		near(t, c.shown+" range", *out.RangeKM, 400*k, 0.1)
		near(t, c.shown+" odometer", *out.Odometer, 120000+1000*k, 0.1)
		near(t, c.shown+" pulses", *out.Pulses, 16000/k, 1)
		near(t, c.shown+" driven", *out.IdealTeeth, 25/k, 0.01)
		if d := *out.Teeth; float64(d) > 25/k+1e-9 || float64(d) < 25/k-1-1e-9 {
			t.Errorf("%s: %d teeth for an ideal of %v", c.shown, d, 25/k)
		}
	}
}
