package workcard_test

import (
	"fmt"

	"zorvel/core/workcard"
)

// A swap that was interrupted after the old gears were counted.
func Example() {
	s, err := workcard.Sum(workcard.Checks{Card: "change_gears", Checks: []workcard.Check{
		{Step: "stand"}, {Step: "tray"}, {Step: "cover"}, {Step: "out", Figure: "24 input, 21 pinion"},
	}})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(s.Title)
	fmt.Println("next:", s.Missing[0])
	// Output:
	// Swap change gears: 4 of 14 steps
	// next: Wipe both shafts and the seats; look at teeth, splines and bearings
}
