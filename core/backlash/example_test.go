package backlash_test

import (
	"fmt"

	"zorvel/core/backlash"
)

// What a millimeter of shim does at a ring of 41 on a pinion of 10.
func Example() {
	m := backlash.Mesh{Teeth: 41, Mate: 10, Pressure: 20, Spiral: 35}
	fmt.Printf("%.2f mm of backlash per mm\n", m.Sensitivity())
	// Output: 0.86 mm of backlash per mm
}
