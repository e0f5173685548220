package changegear_test

import (
	"fmt"

	"zorvel/core/changegear"
	"zorvel/core/exact"
	"zorvel/core/tire"
)

// A base of 38/9 with two sets in the van: which one reaches 200 km/h by 7000
// rpm?
func Example() {
	a, err := changegear.Work(changegear.Request{
		Base:   exact.Figure{Number: exact.New(38, 9)},
		Tire:   tire.Tire{RollingMM: exact.Figure{Number: exact.Int(1990)}},
		RPM:    7000,
		Shelf:  []changegear.Set{{Name: "1", Teeth: [2]int{24, 21}}, {Name: "2", Teeth: [2]int{23, 22}}},
		Fitted: &changegear.Pair{Input: 24, Pinion: 21},
		Goal:   &changegear.Goal{Kind: changegear.BySpeed, KMH: 200, RPM: 7000},
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, r := range a.Ladder {
		fmt.Printf("%s: %.1f km/h\n", r.Overall.Decimal(2), *r.KMH)
	}
	fmt.Println(a.Pick.Sentence)
	// Output:
	// 4.83: 173.2 km/h
	// 4.41: 189.3 km/h
	// 4.04: 206.9 km/h
	// 3.69: 226.2 km/h
	// Fit 4.04, set 2: 23 on the input shaft, 22 on the pinion shaft. It is 3.4 % taller than asked.
}
