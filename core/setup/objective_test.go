package setup

import (
	"math"
	"math/rand/v2"
	"testing"
)

// Each objective is kept by its own measure: against trying every combination of small
// boxes.
func TestObjectivesAgainstAllCombinations(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 3))
	for n := range 60 {
		var box []Shim
		for range 3 + r.IntN(3) {
			box = append(box, Shim{MM: float64(5+r.IntN(60)) / 100, Count: 1 + r.IntN(2)})
		}
		targets := []Target{{WantMM: float64(10+r.IntN(80)) / 100, TolMM: 0.02}, {WantMM: float64(10+r.IntN(80)) / 100, TolMM: 0.02}, {WantMM: float64(10+r.IntN(80)) / 100, TolMM: 0.02}}
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

// A depth is a length, or gauge piece, feeler and half of the arbor.
func TestParseDepth(t *testing.T) {
	for text, want := range map[string]float64{"92.5": 92.5, "80.00 + 0.12 + 25.40/2": 92.82, "3.150in + 0.005in + 1in/2": 3.655 * 25.4, "80+12thou+10/2": 85.3048} {
		if got, problem := ParseDepth(text, Millimeters); problem != "" || math.Abs(got-want) > 1e-5 {
			t.Errorf("%s: %v %s, want %v", text, got, problem, want)
		}
	}
	for _, text := range []string{"", "80 +", "a", "1+1+1+1+1+1", "80/3"} {
		if _, problem := ParseDepth(text, Millimeters); problem == "" {
			t.Errorf("%q was taken", text)
		}
	}
}
