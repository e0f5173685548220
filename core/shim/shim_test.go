package shim

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"zorvel/core/typed"
)

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

// Each objective is kept by its own measure: against trying every combination of small
// boxes.
func TestObjectivesAgainstAllCombinations(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 3))
	for n := range 60 {
		var box []Shim
		for range 3 + r.IntN(3) {
			box = append(box, Shim{MM: float64(5+r.IntN(60)) / 100, Count: 1 + r.IntN(2)})
		}
		targets := []Target{{WantMM: float64(10+r.IntN(80)) / 100, TolMM: 0.02},
			{WantMM: float64(10+r.IntN(80)) / 100, TolMM: 0.02}, {WantMM: float64(10+r.IntN(80)) / 100, TolMM: 0.02}}
		var sizes []float64
		for _, b := range box {
			for range b.Count {
				sizes = append(sizes, b.MM)
			}
		}
		measure := func(by By, errs [3]float64) float64 {
			largest, sum, off := 0.0, 0.0, 0.0
			for _, e := range errs {
				largest, sum = math.Max(largest, e), sum+e
				if e > 5e-7 {
					off++
				}
			}
			return map[By]float64{LeastLargest: largest, LeastSum: sum, MostExact: off}[by]
		}
		least := map[By]float64{LeastLargest: math.Inf(1), LeastSum: math.Inf(1), MostExact: math.Inf(1)}
		var walk func(i int, sums [3]float64, pieces [3]int)
		walk = func(i int, sums [3]float64, pieces [3]int) {
			if i == len(sizes) {
				var errs [3]float64
				for k := range errs {
					errs[k] = math.Abs(sums[k] - targets[k].WantMM)
				}
				for by := range least {
					least[by] = math.Min(least[by], measure(by, errs))
				}
				return
			}
			walk(i+1, sums, pieces)
			for k := range 3 {
				if pieces[k] < 3 {
					s, p := sums, pieces
					s[k] += sizes[i]
					p[k]++
					walk(i+1, s, p)
				}
			}
		}
		walk(0, [3]float64{}, [3]int{})
		for by, want := range least {
			list, err := ChooseBy(box, targets, 3, by)
			if err != nil {
				t.Fatal(err)
			}
			var errs [3]float64
			for k, s := range list {
				errs[k] = math.Abs(s.ErrorMM)
			}
			if got := measure(by, errs); got > want+1e-6 {
				t.Errorf("draw %d, %s: %v, and %v is possible (box %v, %v)", n, by, got, want, box, targets)
			}
		}
	}
	if _, err := ChooseBy([]Shim{{MM: 1, Count: 1}}, []Target{{WantMM: 1}}, 3, "cheapest"); err == nil {
		t.Error("an objective that isn't one was taken")
	}
}

// One unit rules a box too: what has no unit is in the bench's, and a size that no shim
// has in it is asked about.
func TestBoxesInTheBenchsUnit(t *testing.T) {
	for _, c := range []struct {
		text, unit string
		mm         []float64
	}{
		{"0.005 x4, 0.010", typed.Inches, []float64{0.127, 0.254}},
		{"0.05 x4, 0.10", typed.Millimeters, []float64{0.05, 0.1}},
		{"0.05 x4, .004in", "", []float64{0.05, 0.1016}},
		{"0.50mm, .010", typed.Inches, []float64{0.5, 0.254}},
		{"0.005mm, 3.2", "", []float64{0.005, 3.2}},
	} {
		box, err := ParseBox(c.text, c.unit)
		if err != nil || len(box) != len(c.mm) {
			t.Fatalf("%q in %q: %v, %v", c.text, c.unit, box, err)
		}
		for i, s := range box {
			if math.Abs(s.MM-c.mm[i]) > 0.0006 {
				t.Errorf("%q in %q: %v, want %v", c.text, c.unit, box, c.mm)
			}
		}
	}
	for _, c := range [][2]string{{"0.10 x4", typed.Inches}, {"0.005 x4", typed.Millimeters}, {"0.010 x2, 0.2", ""}} {
		if box, err := ParseBox(c[0], c[1]); err == nil || !strings.Contains(err.Error(), "write its unit") {
			t.Errorf("%q in %q: %v, %v", c[0], c[1], box, err)
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

func box40() []Shim {
	var box []Shim
	for i := range 40 {
		box = append(box, Shim{MM: 0.03 + 0.02*float64(i), Count: 1 + i%3})
	}
	return box
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
