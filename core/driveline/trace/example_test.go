package trace_test

import (
	"fmt"

	"zorvel/core/driveline"
	"zorvel/core/driveline/trace"
)

// The way of the power to the rear left wheel, in second gear.
func Example() {
	for _, l := range driveline.Layouts() {
		if l.ID != "rear_drive" {
			continue
		}
		t, err := trace.Run(&l.Document, driveline.State{Select: map[string]string{"gearbox": "2"}}, trace.Want{})
		if err != nil {
			fmt.Println(err)
			return
		}
		for _, step := range t.Outputs[0].Path {
			fmt.Println(step.Words)
		}
	}
	// Output:
	// clutch engaged
	// countershaft gear 39 on input gear 21, always in mesh
	// 2nd gear 31 on drive gear 25
	// synchronizer of 2nd gear engaged
	// driveshaft
	// ring gear 41 on pinion 10, ring on the left, pinion ahead
	// differential
	// axle shaft to the wheel
}
