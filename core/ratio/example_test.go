package ratio_test

import (
	"fmt"

	"zorvel/core/exact"
	"zorvel/core/ratio"
)

// A ring and pinion, its trade label, and how its teeth meet.
func Example() {
	p := ratio.Pair{Driven: 41, Driver: 10}
	fmt.Println(exact.New(41, 10).Label(), p.Hunting())
	fmt.Println(exact.New(40, 10).Label(), ratio.Pair{Driven: 40, Driver: 10}.Hunting())
	// Output:
	// 4.10 hunting
	// 4.00 non-hunting
}
