package fault_test

import (
	"fmt"

	"zorvel/core/fault"
)

// A part of the input is checked by itself; whoever holds it puts its place in
// front.
func Example() {
	err := error(fault.New("pinion", "a gear has at least one tooth"))
	fmt.Println(fault.Under("parts/3/axle", err))
	// Output: parts/3/axle/pinion: a gear has at least one tooth
}
