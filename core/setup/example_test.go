package setup_test

import (
	"fmt"

	"zorvel/core/setup"
)

// Two places want shims out of one short box.
func Example() {
	box, err := setup.ParseBox("0.05 x2, 0.10 x2, 0.20, .004in", setup.Millimeters)
	if err != nil {
		fmt.Println(err)
		return
	}
	stacks, err := setup.Choose(box, []setup.Target{{WantMM: 0.3, TolMM: 0.01}, {WantMM: 0.2, TolMM: 0.01}}, 3)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, s := range stacks {
		fmt.Println(s.Pieces, s.Within)
	}
	m := setup.Mesh{Teeth: 41, Mate: 10, Pressure: 20, Spiral: 35}
	fmt.Printf("%.2f mm of backlash per mm\n", m.Sensitivity())
	// Output:
	// [0.2 0.1] true
	// [0.1016 0.1] true
	// 0.86 mm of backlash per mm
}
