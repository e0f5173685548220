package backlash

import (
	"math"
	"math/rand/v2"
	"testing"

	"zorvel/core/fault"
)

// Sums of parts are the sum of all, and by hand: 0.9, 1.1 and 1.3 have the mean 1.1 and
// the standard deviation √(0.08/3).
func TestScatter(t *testing.T) {
	list := []Sample{{0.9, 0.1}, {1.1, 0.1}, {1.3, 0.1}}
	whole := Scattered(list)
	parts := Scattered(list[:1]).Add(Scattered(list[1:]))
	for _, s := range []Scatter{whole, parts} {
		if s.Count != 3 || math.Abs(s.Mean-1.1) > 1e-12 || math.Abs(s.Sigma-math.Sqrt(0.08/3)) > 1e-12 {
			t.Errorf("%+v", s)
		}
	}
	if s := (Scatter{}).Add(Scatter{}); s != (Scatter{}) {
		t.Errorf("nothing and nothing: %+v", s)
	}
}

func TestTaught(t *testing.T) {
	before := ByLaw(0.3)
	// Believed 1 ± 0.3, told 1.2 ± 0.1: weights of 11.1 and 100.
	w, v := 1/0.09, 1/0.01
	s, ok := Taught(before, (w+1.2*v)/(w+v), 1/math.Sqrt(w+v))
	if !ok || math.Abs(s.Factor-1.2) > 1e-9 || math.Abs(s.Sigma-0.1) > 1e-9 {
		t.Errorf("%+v %v", s, ok)
	}
	if _, ok := Taught(before, 1, 0.3); ok {
		t.Error("trials that said nothing were taken for a sample")
	}
}

// With enough housings of others, a new one's own factor lies in the stated range as
// often as it says, wherever housings of that make lie about the law.
func TestOthersHousingsHold(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 3))
	for _, world := range []Housings{{Factor: 1, Sigma: 0.3}, {Factor: 1.25, Sigma: 0.1}, {Factor: 0.8, Sigma: 0.15}} {
		in, all := 0, 4000
		for range all {
			var list []Sample
			for range 40 {
				list = append(list, Sample{Factor: world.Factor + world.Sigma*r.NormFloat64()})
			}
			h := ByLaw(0.3).With(Scattered(list))
			if math.Abs(world.Factor+world.Sigma*r.NormFloat64()-h.Factor) < 1.96*h.Sigma {
				in++
			}
		}
		if f := float64(in) / float64(all); f < 0.93 {
			t.Errorf("%+v: 95 %% hold in %.1f %%", world, 100*f)
		}
	}
	if h := ByLaw(0.3).With(Scatter{}); h != ByLaw(0.3) {
		t.Errorf("nobody's housings changed it: %+v", h)
	}
}

func TestHousingsAreChecked(t *testing.T) {
	for _, h := range []Housings{{}, {Factor: 4, Sigma: 0.3}, {Factor: 1, Sigma: 2}, {Factor: math.NaN(), Sigma: 0.3},
		{Factor: 1, Sigma: 0.3, Count: -1}} {
		var errs fault.Errors
		if h.Check("", &errs); errs.Err() == nil {
			t.Errorf("%+v was taken", h)
		}
	}
}
