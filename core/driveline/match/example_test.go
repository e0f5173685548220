package match_test

import (
	"fmt"

	"zorvel/core/driveline"
	"zorvel/core/driveline/match"
)

// 41-10 at the rear and 37-9 in front, on equal tires.
func Example() {
	for _, l := range driveline.Layouts() {
		if l.ID == "part_time" {
			fmt.Println(match.Ends(&l.Document).Verdict)
		}
	}
	// Output: Front and rear 0.27 % apart, and this case locks the two together: works on loose ground, winds up on dry pavement.
}
