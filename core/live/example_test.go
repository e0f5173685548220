package live_test

import (
	"fmt"

	"zorvel/core/live"
)

// One chalk mark on the flange and one on the left wheel, the right wheel held: the
// driveshaft makes half the ratio for each turn of the one wheel.
func Example() {
	shaft := live.Source{Shaft: live.Input, Marks: 1}
	for i := range 21 {
		shaft.Times = append(shaft.Times, 1.0*float64(i))
	}
	left := live.Source{Shaft: live.Left, Marks: 1}
	for i := range 10 {
		left.Times = append(left.Times, 0.3+2.05*float64(i))
	}
	a, err := live.Weigh(live.Recording{Sources: []live.Source{shaft, left}, Other: &live.Other{Does: live.Held,
		Seen: true}})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(a.Counts[1].Sentence)
	fmt.Println(a.Sentence)
	// Output:
	// 10 marks, 9 turns from first to last. Between 9 and 11 in all.
	// About 4.1 (4.04 to 4.16) after 9 turns of the left wheel.
}
