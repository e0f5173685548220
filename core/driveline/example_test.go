package driveline_test

import (
	"fmt"

	"zorvel/core/driveline"
	"zorvel/core/driveline/trace"
)

// A ready driveline in low, told in a sentence.
func Example() {
	for _, l := range driveline.Layouts() {
		if l.ID != "part_time" {
			continue
		}
		t, err := trace.Run(&l.Document, driveline.State{Select: map[string]string{"case.range": "low", "case.center": "locked"}}, trace.Want{})
		if err != nil {
			fmt.Println(err)
			return
		}
		fmt.Println(t.Sentence)
	}
	// Output: 43.766 turns of the crankshaft turn the wheels once, forward. It binds by 0.27 %.
}

// Where readings hang: every ratio of a driveline that can be measured.
func ExampleDocument_Asks() {
	for _, l := range driveline.Layouts() {
		if l.ID == "loose_case" {
			for _, a := range l.Document.Asks() {
				fmt.Println(a.Part, a.Ratio, "-", a.Name)
			}
		}
	}
	// Output:
	// case high - Transfer case high range
	// case low - Transfer case low range
	// case front - Transfer case front to rear
}
