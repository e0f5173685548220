package grip_test

import (
	"fmt"

	"zorvel/core/driveline"
	"zorvel/core/driveline/grip"
)

// One wheel on ice sets the limit of an open rear axle.
func Example() {
	for _, l := range driveline.Layouts() {
		if l.ID != "rear_drive" {
			continue
		}
		ground := grip.Grip{Default: 0.8, Wheels: map[string]float64{"rear_left": 0.1}}
		t, err := grip.Pull(&l.Document, driveline.State{}, ground)
		if err != nil {
			fmt.Println(err)
			return
		}
		fmt.Printf("%s first, %.0f N in all\n", t.First, t.TotalN)
	}
	// Output: rear_left first, 947 N in all
}
