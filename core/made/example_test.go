package made_test

import (
	"fmt"

	"zorvel/core/made"
)

// What lies between 4.05 and 4.15 in axles, and how often it is met.
func ExampleAxle() {
	for _, p := range made.Axle() {
		if r := float64(p.Driven) / float64(p.Driver); r > 4.05 && r < 4.15 {
			fmt.Printf("%d-%d = %.2f, weight %g\n", p.Driven, p.Driver, r, p.Weight)
		}
	}
	// Output:
	// 41-10 = 4.10, weight 4
	// 37-9 = 4.11, weight 4
}
