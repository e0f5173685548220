package backlash

import (
	"math"
	"math/rand/v2"
	"testing"
)

// By hand: a ring of 41 with a pinion of 10, 20 degrees, straight: tan δ = 4.1,
// sin δ = 0.97152; 2 × 0.36397 × 0.97152 = 0.70721. A spiral of 35 degrees
// divides by 0.81915: 0.86335. The pinion's own move counts with sin δ =
// 0.23696: 0.17249.
func TestSensitivity(t *testing.T) {
	for _, c := range []struct {
		m    Mesh
		want float64
	}{
		{Mesh{Teeth: 41, Mate: 10, Pressure: 20}, 0.70721},
		{Mesh{Teeth: 41, Mate: 10, Pressure: 20, Spiral: 35}, 0.86335},
		{Mesh{Teeth: 10, Mate: 41, Pressure: 20}, 0.17249},
		{Mesh{Teeth: 27, Mate: 13, Pressure: 20}, 0.65590},
	} {
		if got := c.m.Sensitivity(); math.Abs(got-c.want) > 5e-5 {
			t.Errorf("%+v: %.5f, want %.5f", c.m, got, c.want)
		}
	}
}

// Trials teach: the slope goes from the law's to the housing's own, and a
// mixed-up side is noticed.
func TestLearn(t *testing.T) {
	const law = 0.7
	if l := Learn(law, ByLaw(LawSigma), -1, nil, 0.01); !l.ByLaw || l.Slope != -0.7 || l.Flipped {
		t.Errorf("nothing tried: %+v", l)
	}
	l := Learn(law, ByLaw(LawSigma), -1, []Trial{{0.5, 0.30}, {0.7, 0.18}}, 0.005)
	if l.ByLaw || math.Abs(l.Slope+0.6) > 0.02 || l.Trials != 1 {
		t.Errorf("one move: %+v", l)
	}
	if l := Learn(law, ByLaw(LawSigma), -1, []Trial{{0.5, 0.20}, {0.7, 0.34}, {0.9, 0.47}}, 0.005); !l.Flipped {
		t.Errorf("moved the wrong way twice: %+v", l)
	}
	if l := Learn(law, ByLaw(LawSigma), 1, []Trial{{0.5, 0.2}, {0.5, 0.22}}, 0.01); !l.ByLaw {
		t.Errorf("the same shim twice teaches nothing: %+v", l)
	}
	// The stated spread holds: true slopes drawn from the law's prior.
	r := rand.New(rand.NewPCG(4, 4))
	in, all := 0, 0
	for range 4000 {
		truth := law * (1 + 0.3*r.NormFloat64())
		var trials []Trial
		for k := range 3 {
			x := 0.5 + 0.1*float64(k)
			trials = append(trials, Trial{x, 0.2 + truth*(x-0.5) + 0.01*r.NormFloat64()})
		}
		l := Learn(law, ByLaw(LawSigma), 1, trials, 0.01)
		all++
		if math.Abs(l.Slope-truth) < 1.96*l.Sigma {
			in++
		}
	}
	if f := float64(in) / float64(all); f < 0.93 || f > 0.97 {
		t.Errorf("95 %% hold in %.1f %%", 100*f)
	}
}
