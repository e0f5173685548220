package exact_test

import (
	"fmt"

	"zorvel/core/exact"
)

// A ratio stays a fraction until it is printed.
func Example() {
	axle := exact.New(41, 10)
	low := exact.Int(1).Add(exact.New(72, 42))
	overall := axle.Mul(low)
	fmt.Println(overall, "is about", overall.Decimal(2))
	// Output: 779/70 is about 11.13
}
