package speedo_test

import (
	"fmt"

	"zorvel/core/exact"
	"zorvel/core/speedo"
	"zorvel/core/tire"
)

// Drive and driven gears that make a cable speedometer true, or a little high.
func Example() {
	a, err := speedo.Work(speedo.Request{
		Axle: exact.Figure{Number: exact.New(41, 10)},
		Tire: tire.Tire{RollingMM: exact.Figure{Number: exact.Int(2390)}},
		Mechanical: &speedo.Mechanical{
			Drives: []speedo.Gear{{Teeth: 7}, {Teeth: 8}},
			Driven: []speedo.Gear{{Teeth: 19}, {Teeth: 22}},
		},
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	best := a.Mechanical.Picks[0]
	fmt.Printf("%d and %d: %+.2f %%\n", best.Cell.Drive, best.Cell.Driven, best.Cell.Percent)
	// Output: 8 and 22: +0.39 %
}
