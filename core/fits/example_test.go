package fits_test

import (
	"fmt"

	"zorvel/core/fits"
)

// A gear whose face stands off its hub, before it goes on.
func Example() {
	a, err := fits.Work(fits.Question{
		Gear: fits.Gear{Teeth: 34, FaceMM: 20, OffsetMM: 8, Mount: fits.Mount{Splines: 24}},
		Seat: fits.Seat{MateTeeth: 26, MateFaceMM: 20, MateAtMM: -8, Mount: fits.Mount{Splines: 24}},
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, w := range a.Ways {
		fmt.Printf("%s: %s of the face meets, %s\n", w.Name, fmt.Sprint(*w.Overlap, " mm"), w.Answer)
	}
	// Output:
	// Mark outward: 4 mm of the face meets, no
	// Turned round: 20 mm of the face meets, ask
}
