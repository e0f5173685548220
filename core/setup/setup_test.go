package setup

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
	"time"
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
	if l := Learn(law, -1, nil, 0.01); !l.ByLaw || l.Slope != -0.7 || l.Flipped {
		t.Errorf("nothing tried: %+v", l)
	}
	l := Learn(law, -1, []Trial{{0.5, 0.30}, {0.7, 0.18}}, 0.005)
	if l.ByLaw || math.Abs(l.Slope+0.6) > 0.02 || l.Trials != 1 {
		t.Errorf("one move: %+v", l)
	}
	if l := Learn(law, -1, []Trial{{0.5, 0.20}, {0.7, 0.34}, {0.9, 0.47}}, 0.005); !l.Flipped {
		t.Errorf("moved the wrong way twice: %+v", l)
	}
	if l := Learn(law, 1, []Trial{{0.5, 0.2}, {0.5, 0.22}}, 0.01); !l.ByLaw {
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
		l := Learn(law, 1, trials, 0.01)
		all++
		if math.Abs(l.Slope-truth) < 1.96*l.Sigma {
			in++
		}
	}
	if f := float64(in) / float64(all); f < 0.93 || f > 0.97 {
		t.Errorf("95 %% hold in %.1f %%", 100*f)
	}
}

// brute is every stack in every place.
func brute(box []Shim, targets []Target, most int) (over Micron, pieces int, err Micron) {
	over, pieces, err = math.MaxInt64, math.MaxInt, math.MaxInt64
	left := make([]int, len(box))
	for i, b := range box {
		left[i] = b.Count
	}
	var place func(i int, o Micron, p int, e Micron)
	place = func(i int, o Micron, p int, e Micron) {
		if i == len(targets) {
			if o < over || o == over && (p < pieces || p == pieces && e < err) {
				over, pieces, err = o, p, e
			}
			return
		}
		var put func(k, n int, sum Micron)
		put = func(k, n int, sum Micron) {
			if k == len(box) {
				d := (sum - Of(targets[i].WantMM)).abs()
				place(i+1, o+max(0, d-Of(targets[i].TolMM)), p+n, e+d)
				return
			}
			for c := 0; c <= left[k] && n+c <= most; c++ {
				left[k] -= c
				put(k+1, n+c, sum+Micron(c)*Of(box[k].MM))
				left[k] += c
			}
		}
		put(0, 0, 0)
	}
	place(0, 0, 0, 0)
	return over, pieces, err
}

func cost(stacks []Stack, targets []Target) (over Micron, pieces int, err Micron) {
	for i, s := range stacks {
		d := Of(s.ErrorMM).abs()
		over += max(0, d-Of(targets[i].TolMM))
		pieces += len(s.Pieces)
		err += d
	}
	return over, pieces, err
}

// Against every stack there is, in small boxes, up to three places at once.
func TestChooseAgainstAll(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 5))
	for n := range 600 {
		var box []Shim
		for range 1 + r.IntN(5) {
			box = append(box, Shim{MM: float64(1+r.IntN(40)) / 100, Count: 1 + r.IntN(2)})
		}
		targets := make([]Target, 1+r.IntN(3))
		for i := range targets {
			targets[i] = Target{WantMM: float64(r.IntN(90)) / 100, TolMM: float64(r.IntN(3)) / 100}
		}
		most := 1 + r.IntN(3)
		got, err := Choose(box, targets, most)
		if err != nil {
			t.Fatal(err)
		}
		o, p, e := cost(got, targets)
		wo, wp, we := brute(merged(box), targets, most)
		if o != wo || p != wp || e != we {
			t.Fatalf("draw %d: %v for %v, at most %d: beyond %d pieces %d error %d, best is %d %d %d", n, box, targets, most, o, p, e, wo, wp, we)
		}
		left := map[Micron]int{}
		for _, b := range box {
			left[Of(b.MM)] += b.Count
		}
		for _, s := range got {
			if len(s.Pieces) > most {
				t.Fatalf("%d pieces of at most %d", len(s.Pieces), most)
			}
			for _, z := range s.Pieces {
				if left[Of(z)]--; left[Of(z)] < 0 {
					t.Fatalf("more pieces of %v than in the box", z)
				}
			}
		}
	}
}

func merged(box []Shim) []Shim {
	sizes, _ := checkBox(box)
	var out []Shim
	for _, s := range sizes {
		out = append(out, Shim{s.um.MM(), s.count})
	}
	return out
}

func TestParseBox(t *testing.T) {
	for text, want := range map[string]string{
		"0.05 x4, 0.10 x6, .004in x2": "[{0.05 4} {0.1 6} {0.1016 2}]",
		"0,05 x4; 0,10 x6":            "[{0.05 4} {0.1 6}]",
		"0.1\n0.1\n0.2×3":             "[{0.1 2} {0.2 3}]",
		"2 thou x5; 0.1 mm":           "[{0.0508 5} {0.1 1}]",
		"":                            "[]",
		"1 x2":                        "[{1 2}]",
	} {
		got, err := ParseBox(text, "")
		if err != nil || fmt.Sprint(got) != want {
			t.Errorf("%q: %v, %v", text, got, err)
		}
	}
	for _, text := range []string{"0 x3", "a few thin ones", "0.1 x", "50 x1", "-0.1"} {
		if got, err := ParseBox(text, ""); err == nil {
			t.Errorf("%q was taken as %v", text, got)
		}
	}
}

func FuzzParseBox(f *testing.F) {
	f.Add("0.05 x4, 0.10 x6, .004in x2")
	f.Fuzz(func(t *testing.T, text string) {
		box, err := ParseBox(text, "")
		if err != nil {
			return
		}
		if _, err := checkBox(box); err != nil {
			t.Errorf("%q was read as %v and refused: %v", text, box, err)
		}
	})
}

func box40() []Shim {
	var box []Shim
	for i := range 40 {
		box = append(box, Shim{MM: 0.03 + 0.02*float64(i), Count: 1 + i%3})
	}
	return box
}

// A box that is nowhere near what is wanted costs no more than one that is.
func TestChooseIsBounded(t *testing.T) {
	begin := time.Now()
	for _, want := range []float64{0.01, 0.85, 9, 20} {
		got, err := Choose(box40(), []Target{{want, 0.01}, {want, 0.01}, {want, 0}}, MaxPieces)
		if err != nil || len(got) != 3 {
			t.Fatalf("%v: %v %v", want, got, err)
		}
	}
	if d := time.Since(begin); d > 30*time.Second {
		t.Errorf("took %v", d)
	}
}

func BenchmarkChoose(b *testing.B) {
	box, targets := box40(), []Target{{0.53, 0.01}, {0.87, 0.01}, {1.21, 0.01}}
	for b.Loop() {
		if _, err := Choose(box, targets, 4); err != nil {
			b.Fatal(err)
		}
	}
}

// Every sum of up to three pieces once, for one place: the work without the
// search.
func BenchmarkChooseBare(b *testing.B) {
	box := box40()
	for b.Loop() {
		best := math.Inf(1)
		for i := range box {
			for j := i; j < len(box); j++ {
				for k := j; k < len(box); k++ {
					best = min(best, math.Abs(box[i].MM+box[j].MM+box[k].MM-0.87))
				}
			}
		}
		if best > 1 {
			b.Fatal(best)
		}
	}
}
