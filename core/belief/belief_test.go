package belief

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
)

func near(t *testing.T, what string, got, want, within float64) {
	t.Helper()
	if !(math.Abs(got-want) <= within) {
		t.Errorf("%s: %v, want %v", what, got, want)
	}
}

// By hand: 2 ± 1 believed, 4 ± 1 read: 3, and the spread falls by √2.
func TestOneCoefficientByHand(t *testing.T) {
	n := Of([]float64{2}, []float64{1}).See([]float64{1}, 4, 1)
	near(t, "mean", n.Mean(0), 3, 1e-12)
	near(t, "sigma", n.Sigma(0), math.Sqrt(0.5), 1e-12)
	near(t, "half of it", n.At([]float64{0.5}), 1.5, 1e-12)
	near(t, "its spread", n.Spread([]float64{0.5}), math.Sqrt(0.5)/2, 1e-12)
}

// Rows seen one by one from a belief that says next to nothing come to what
// least squares says of them at once, in any order; and what is said holds: the
// truth lies within two standard deviations in about 95 of 100.
func TestSeeingIsFitting(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	inside, told := 0, 0
	for range 400 {
		truth := []float64{r.NormFloat64(), 3 * r.NormFloat64(), r.NormFloat64()}
		sigma := 0.01 + r.Float64()
		var rows [][]float64
		var y []float64
		for range 4 + r.IntN(6) {
			row := []float64{1, r.NormFloat64(), r.NormFloat64()}
			v := sigma * r.NormFloat64()
			for i := range row {
				v += row[i] * truth[i]
			}
			rows, y = append(rows, row), append(y, v)
		}
		fit, ok := Fit(rows, y, sigma)
		if !ok {
			continue
		}
		seen := Of([]float64{0, 0, 0}, []float64{1e4, 1e4, 1e4})
		for _, i := range r.Perm(len(rows)) {
			seen = seen.See(rows[i], y[i], sigma)
		}
		for i := range 3 {
			near(t, "mean", seen.Mean(i), fit.Mean(i), 1e-3*(1+fit.Sigma(i)))
			told++
			if math.Abs(fit.Mean(i)-truth[i]) < 2*fit.Sigma(i) {
				inside++
			}
		}
	}
	if share := float64(inside) / float64(told); told < 900 || share < 0.93 || share > 0.975 {
		t.Errorf("%.3f of %d within two standard deviations", share, told)
	}
}

func TestRowsThatTellNothing(t *testing.T) {
	if _, ok := Fit([][]float64{{1, 2, 3}, {2, 4, 6}, {3, 6, 9}}, []float64{1, 2, 3}, 1); ok {
		t.Error("three rows of one direction were fitted")
	}
	n := Of([]float64{5, 1}, []float64{0, 2}).See([]float64{1, 0}, 9, 0)
	near(t, "a certain coefficient", n.Mean(0), 5, 0)
	near(t, "the other", n.Sigma(1), 2, 0)
}

// A slope and where it starts, from two readings.
func Example() {
	n := Of([]float64{0, 0.7}, []float64{3, 0.2})
	n = n.See([]float64{1, 0}, 0.1, 0.005)
	n = n.See([]float64{1, 1}, 0.9, 0.005)
	fmt.Printf("%.2f ± %.2f a millimeter\n", n.Mean(1), n.Sigma(1))
	// Output: 0.80 ± 0.01 a millimeter
}
