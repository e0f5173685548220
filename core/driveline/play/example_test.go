package play_test

import (
	"fmt"

	"zorvel/core/driveline"
	"zorvel/core/driveline/play"
)

// Twelve degrees at a loose axle's pinion, both wheels held.
func Example() {
	for _, l := range driveline.Layouts() {
		if l.ID != "rear_drive" {
			continue
		}
		measured := 12.0
		a, err := play.Work(play.Question{Driveline: l.Document, State: driveline.State{Select: map[string]string{"gearbox": "N"}},
			Measured: []play.Rocked{{At: "prop.shaft", Degrees: &measured}}})
		if err != nil {
			fmt.Println(err)
			return
		}
		fmt.Println(a.Measured[0].Text)
	}
	// Output: 12° at the driveshaft is more than usual; usual here is about 4.3° (2.3 to 6.3°).
}
