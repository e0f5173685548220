package breaks_test

import (
	"fmt"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
)

// With the driveshaft of a rear-drive sheared, the engine turns and the
// vehicle stays; the speedometer at the gearbox lives.
func Example() {
	for _, l := range driveline.Layouts() {
		if l.ID != "rear_drive" {
			continue
		}
		see, err := breaks.See(&l.Document, driveline.State{})
		if err != nil {
			fmt.Println(err)
			return
		}
		for _, b := range breaks.Of(&l.Document) {
			if b.Part != "prop" || b.Does != breaks.Open {
				continue
			}
			does, err := see.Broken([]breaks.Break{b}, see.Watched())
			fmt.Println(b.Name, see.Watched(), does, err)
		}
	}
	// Output: broken driveshaft or joint [vehicle speedometer] [stays follows] <nil>
}
