package trials

import (
	"errors"
	"fmt"
	"math"
	"testing"
)

// The sum is the same however the work is cut, to the last bit.
func TestRunAddsInOrder(t *testing.T) {
	sum := func(block int) (float64, int) {
		total, seen := 0.0, 0
		err := Run(1000, block, func(from, to int) (float64, error) {
			x := 0.0
			for i := from; i < to; i++ {
				x += 1 / float64(i+1)
			}
			return x, nil
		}, func(x float64) { total += x }, func(done int) { seen = max(seen, done) })
		if err != nil {
			t.Fatal(err)
		}
		return total, seen
	}
	for _, block := range []int{1, 7, 50, 999, 1000, 5000} {
		a, seen := sum(block)
		if b, _ := sum(block); a != b || seen != 1000 {
			t.Errorf("blocks of %d: %v and %v, %d told", block, a, b, seen)
		}
		if math.Abs(a-7.485470860550345) > 1e-12 {
			t.Errorf("blocks of %d: %v", block, a)
		}
	}
}

func TestRunTellsTheFirstError(t *testing.T) {
	err := Run(100, 10, func(from, _ int) (int, error) {
		if from >= 30 {
			return 0, fmt.Errorf("at %d", from)
		}
		return 1, nil
	}, func(int) {}, nil)
	if err == nil || err.Error() != "at 30" {
		t.Errorf("%v", err)
	}
	if err := Run(0, 10, func(int, int) (int, error) { return 0, errors.New("none to work") }, func(int) {}, nil); err != nil {
		t.Error(err)
	}
}

func TestBandsAndPick(t *testing.T) {
	b := NewBands(0, 0.5, 0.9)
	b.Count(0.49, false)
	b.Count(0.5, true)
	b.Count(1, true)
	b.Add(b)
	want := Bands{{0, 0.5, 2, 0, 0.98}, {0.5, 0.9, 2, 2, 1}, {0.9, 1, 2, 2, 2}}
	for i := range b {
		if b[i] != want[i] {
			t.Errorf("%+v, want %+v", b[i], want[i])
		}
	}
	weight := func(i int) float64 { return []float64{1, 0, 3}[i] }
	for u, w := range map[float64]int{0: 0, 0.99: 0, 1: 2, 3.99: 2, 4: 2} {
		if got := Pick(3, u, weight); got != w {
			t.Errorf("%v picks %d, want %d", u, got, w)
		}
	}
}

func Example() {
	right := NewBands(0, 0.5, 0.95)
	for i := range 20 {
		right.Count(0.96, i != 7)
	}
	last := right[2]
	fmt.Printf("called %.0f %%, right %d of %d\n", 100*last.Claimed/float64(last.Given), last.Right, last.Given)
	// Output: called 96 %, right 19 of 20
}
