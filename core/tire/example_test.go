package tire_test

import (
	"fmt"

	"zorvel/core/tire"
)

// A marking, how far the tire rolls, and how well that is known.
func Example() {
	a, err := tire.Work(tire.Tire{Marking: "225/75R16"})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(a.DiameterMM.Decimal(1), "mm across")
	fmt.Printf("%s mm a turn, ± %.1f %%\n", a.RollingMM.Decimal(0), a.Spread)
	// Output:
	// 743.9 mm across
	// 2269 mm a turn, ± 1.5 %
}
