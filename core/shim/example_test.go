package shim_test

import (
	"fmt"

	"zorvel/core/shim"
)

// Two places want shims out of one short box.
func Example() {
	box, err := shim.ParseBox("0.05 x2, 0.10 x2, 0.20, .004in", "mm")
	if err != nil {
		fmt.Println(err)
		return
	}
	stacks, err := shim.Choose(box, []shim.Target{{WantMM: 0.3, TolMM: 0.01}, {WantMM: 0.2, TolMM: 0.01}}, 3)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, s := range stacks {
		fmt.Println(s.Pieces, s.Within)
	}
	// Output:
	// [0.2 0.1] true
	// [0.1016 0.1] true
}
