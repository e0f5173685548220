package gearcase_test

import (
	"fmt"

	"zorvel/core/gearcase"
)

// The stamp of a case, the manual's convention, and what lies in the box.
func Example() {
	a, err := gearcase.Work(gearcase.Request{
		Stamp: "F +1 P -3", Unit: gearcase.Hundredths, Convention: gearcase.PlusNear,
		Places: []gearcase.Place{
			{ID: "P", Name: "Pinion", NominalMM: 0.5, Thicker: "away"},
			{ID: "F", Name: "Forward gear", NominalMM: 0.6, Thicker: "away"},
		},
		Box: "0.05 x2, 0.10 x4, 0.20 x4, 0.27",
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, g := range a.Gears {
		fmt.Println(g.Sentence)
		fmt.Println(g.Text)
	}
	// Output:
	// With the nominal shim the pinion would sit 0.03 mm too far from its mesh; a thicker shim here moves it away from it, so the shim gets 0.03 mm thinner: 0.47 mm.
	// 0.27 + 0.2 = 0.47 mm, exact
	// With the nominal shim the forward gear would sit 0.01 mm too near its mesh; a thicker shim here moves it away from it, so the shim gets 0.01 mm thicker: 0.61 mm.
	// 0.2 + 0.2 + 0.2 = 0.6 mm, −0.01 mm off, within 0.02
}
