package setup_test

import (
	"fmt"

	"zorvel/core/setup"
)

// The gap in front of a rigid stack, and what the box makes of it.
func Example() {
	a, err := setup.RigidStack(setup.Rigid{Gap: "1.42 1.41 1.43", Box: "1.00, 0.20 x2, 0.10 x2, 0.05", Ledge: "yes"})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(a.Sentence)
	// Output: Install 1.4 mm: 1.41 mm of gap, less 0.01 mm that the gauge may be off, and the thickest that the box makes below it. 0.01 mm stays open.
}
