package drives

import (
	"fmt"
	"math"
	"testing"
)

// A drive is the same by its seed, has a speed for every second, and no figure out of range.
func TestSome(t *testing.T) {
	for seed := range uint64(12) {
		d, e := Some(seed), Some(seed)
		if len(d.Question.Samples) != rate*seconds || d.Name != e.Name ||
			d.Question.Samples[4711] != e.Question.Samples[4711] {
			t.Errorf("%d is not repeatable", seed)
		}
		if len(d.Question.Speed) != seconds+1 {
			t.Errorf("%d has %d speeds", seed, len(d.Question.Speed))
		}
		for _, v := range d.Question.Samples {
			if math.IsNaN(v) || math.Abs(v) > 0.7001 {
				t.Fatalf("%d: %g", seed, v)
			}
		}
	}
}

func TestTry(t *testing.T) {
	done := 0
	o, err := Try(8, 100, func() { done++ })
	if err != nil || done != 8 || o.Tellable+o.Not != 8 || o.Right > o.Tellable || o.Said > o.Not {
		t.Errorf("%+v, %v", o, err)
	}
}

func ExampleSome() {
	d := Some(1)
	fmt.Println(d.Question.Rate, "samples a second")
	// Output: 8000 samples a second
}
