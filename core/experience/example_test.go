package experience_test

import (
	"fmt"

	"zorvel/core/experience"
	"zorvel/core/identify"
)

// What two shops counted, and what it weighs in a third.
func Example() {
	axle := identify.Stage{Kind: identify.RingAndPinion}
	shop := func(id string, pairs ...[2]int) experience.File {
		var g experience.Gather
		for _, p := range pairs {
			g.Count(axle, identify.Counts{{Member: "ring", Count: p[0]}, {Member: "pinion", Count: p[1]}})
		}
		return g.File(id, 1, "")
	}
	pool := experience.NewPool([]experience.File{
		shop("0123456789abcdef", [2]int{41, 10}, [2]int{41, 10}, [2]int{37, 9}),
		shop("fedcba9876543210", [2]int{41, 10}, [2]int{47, 9}),
	})
	o := pool.Others(axle)
	fmt.Printf("%d housings, %d sets; other shops foretold %.0f %%; share %.0f %%\n", o.Counted, len(o.Sets),
		100*o.Foretold, 100*o.Share())
	// Output: 5 housings, 3 sets; other shops foretold 60 %; share 60 %
}
