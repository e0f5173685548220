package propeller_test

import (
	"fmt"

	"zorvel/core/exact"
	"zorvel/core/propeller"
)

// A skiff at a steady 5000 rpm: is the slip as it should be?
func Example() {
	speed := 29.0
	a, err := propeller.Work(propeller.Request{Ratio: exact.Figure{Number: exact.New(27, 13)}, PitchIN: 17, RPM: 5000, SpeedKN: &speed})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(a.Sentence)
	fmt.Println(a.Formula)
	// Output:
	// Slip 13.9 %: as it should be, 8 to 18 % is typical of a light planing skiff.
	// 5000 rpm ÷ 2.077 × 17 in × 60 ÷ 72913.4 = 33.68 kn without slip; slip = 1 − 29 ÷ 33.68 = 13.9 %
}
