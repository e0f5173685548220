package road

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"zorvel/core/fault"
)

var (
	ten  = []float64{4.7, 2.99, 2.15, 1.8, 1.52, 1.28, 1, 0.85, 0.69, 0.64}
	five = []float64{4.02, 2.32, 1.4, 1, 0.73}
	four = []float64{2.8, 1.55, 1, 0.7}
)

// From the gears and the tire the axle lies within its range, with slip, overrun, wheel
// spin and a satellite that is late; from ten gears as from four.
func TestAxleFromDrive(t *testing.T) {
	told, held, all := 0, 0, 0
	for seed := range uint64(240) {
		rng := rand.New(rand.NewPCG(seed, 1))
		d := Drive{Gears: [][]float64{ten, five, four}[rng.IntN(3)], Axle: 3 + 2.5*rng.Float64(),
			RollingMM: 2000 + 500*rng.Float64(),
			Between:   []Between{Clutch, Converter}[rng.IntN(2)], From: []From{Satellite,
				Wheels}[rng.IntN(2)], Seconds: 400,
			Overrun: rng.IntN(2) == 0, Spin: rng.IntN(2) == 0}
		q := Question{Samples: d.Run(rng), RollingMM: d.RollingMM * (1 + 0.006*rng.NormFloat64()), Gears: d.Gears,
			Between: d.Between, From: d.From}
		a, err := Work(q)
		if err != nil {
			t.Fatal(err)
		}
		all++
		if a.Axle == nil {
			continue
		}
		told++
		if a.Axle.Low <= d.Axle && d.Axle <= a.Axle.High {
			held++
		} else if math.Abs(math.Log(a.Axle.Ratio/d.Axle)) > 0.06 {
			t.Errorf("%d: %+v, axle %.3f", seed, a.Axle, d.Axle)
		}
	}
	if told < all*8/10 || float64(held) < 0.93*float64(told) {
		t.Errorf("told in %d of %d, held in %d", told, all, held)
	}
	t.Logf("told in %d of %d, held in %d", told, all, held)
}

// A tire that was entered 5 % too large makes the axle 5 % too high, and nothing in the
// drive shows it: that is said. With axle and gears known, the tire is found.
func TestWrongTire(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 7))
	d := Drive{Gears: ten, Axle: 3.73, RollingMM: 2300, Between: Converter, From: Wheels, Seconds: 500}
	samples := d.Run(rng)
	a, err := Work(Question{Samples: samples, RollingMM: 2300 * 1.05, Gears: ten, Between: Converter, From: Wheels})
	if err != nil || a.Axle == nil || math.Abs(a.Axle.Ratio/3.73-1.05) > 0.012 {
		t.Fatalf("%+v, %v", a, err)
	}
	if !strings.Contains(strings.Join(a.Notes, " "), "only as their product") {
		t.Errorf("%q", a.Notes)
	}
	axle := 3.73
	a, err = Work(Question{Samples: samples, RollingMM: 2300 * 1.05, Gears: ten, Axle: &axle, Between: Converter,
		From: Wheels})
	if err != nil || a.RollingMM == nil || math.Abs(*a.RollingMM-2300) > 30 {
		t.Errorf("%+v, %v", a, err)
	}
}

// From the axle come the gears that a gearbox has.
func TestGearsFromAxle(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 8))
	axle := 4.1
	d := Drive{Gears: five, Axle: axle, RollingMM: 2200, Between: Clutch, From: Wheels, Seconds: 600}
	a, err := Work(Question{Samples: d.Run(rng), RollingMM: 2200, Axle: &axle, Between: Clutch, From: Wheels})
	if err != nil || len(a.Bunches) < 4 {
		t.Fatalf("%+v, %v", a, err)
	}
	for _, b := range a.Bunches {
		near := math.Inf(1)
		for _, g := range five {
			near = min(near, math.Abs(*b.Ratio/g-1))
		}
		if near > 0.02 {
			t.Errorf("a gear of %.3f isn't in the box", *b.Ratio)
		}
	}
}

// One gear alone fits any axle: it asks.
func TestOneGearIsAsked(t *testing.T) {
	var samples []Sample
	for i := range 200 {
		samples = append(samples, Sample{float64(i) * 0.2, 2000 + float64(i%3), 80})
	}
	a, err := Work(Question{Samples: samples, RollingMM: 2200, Gears: five, Between: Clutch, From: Wheels})
	if err != nil || a.Axle != nil || len(a.Bunches) != 1 || !strings.Contains(strings.Join(a.Notes, " "),
		"Say which gear you drove") {
		t.Errorf("%+v, %v", a, err)
	}
}

func TestNothingSteady(t *testing.T) {
	var samples []Sample
	for i := range 100 {
		samples = append(samples, Sample{float64(i), 1000 + 900*float64(i%4), 20 + 15*float64(i%3)})
	}
	a, err := Work(Question{Samples: samples, RollingMM: 2200, Gears: five, Between: Clutch, From: Wheels})
	if err != nil || a.Axle != nil || !strings.HasPrefix(a.Sentence, "Only ") {
		t.Errorf("%+v, %v", a, err)
	}
}

func TestRefused(t *testing.T) {
	good := Question{RollingMM: 2200, Between: Clutch, From: Wheels}
	with := func(change func(*Question)) Question {
		q := good
		change(&q)
		return q
	}
	bad := -1.0
	text := func(s string) *string { return &s }
	for field, q := range map[string]Question{
		"rolling_mm":          with(func(q *Question) { q.RollingMM = 1 }),
		"gears/1":             with(func(q *Question) { q.Gears = []float64{1, 2} }),
		"gears/0":             with(func(q *Question) { q.Gears = []float64{0} }),
		"axle":                with(func(q *Question) { q.Axle = &bad }),
		"other":               with(func(q *Question) { q.Other = &bad }),
		"between":             with(func(q *Question) { q.Between = "belt" }),
		"from":                with(func(q *Question) { q.From = "guess" }),
		"samples/1/at":        with(func(q *Question) { q.Samples = []Sample{{2, 1, 1}, {1, 1, 1}} }),
		"samples/0/rpm":       with(func(q *Question) { q.Samples = []Sample{{2, math.NaN(), 1}} }),
		"samples/0/speed_kmh": with(func(q *Question) { q.Samples = []Sample{{2, 1, 900}} }),
		"csv":                 with(func(q *Question) { q.CSV = text("a,b\n1,2\n") }),
	} {
		_, err := Work(q)
		var list fault.Errors
		var one *fault.Error
		switch {
		case errors.As(err, &list) && list[0].Field == field:
		case errors.As(err, &one) && one.Field == field:
		default:
			t.Errorf("%s: %v", field, err)
		}
	}
}

func TestCSV(t *testing.T) {
	list, err := ReadCSV("rpm,speed_mph,seconds,note\n2000,50,0,a\n2000,,1,b\n2010,50,2,c\n")
	if err != nil || len(list) != 2 || math.Abs(list[1].SpeedKMH-80.4672) > 1e-9 || list[1].At != 2 {
		t.Errorf("%+v, %v", list, err)
	}
	for text, want := range map[string]string{"": "empty", "rpm\n1\n": "line 1", "rpm,seconds,speed_kmh\n": "no rows",
		"rpm,seconds,speed_kmh\n1,x,2\n": "line 2"} {
		if _, err := ReadCSV(text); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v", text, err)
		}
	}
}

// A drive through a five-speed gearbox finds the axle behind it.
func Example() {
	d := Drive{Gears: []float64{4.02, 2.32, 1.4, 1, 0.73}, Axle: 4.1, RollingMM: 2200, Between: Clutch, From: Wheels,
		Seconds: 600}
	a, err := Work(Question{Samples: d.Run(rand.New(rand.NewPCG(1, 1))), RollingMM: 2200, Gears: d.Gears,
		Between: Clutch, From: Wheels})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(a.Sentence)
	// Output: The axle is about 4.1 (4.01 to 4.2), by 5 gears.
}
