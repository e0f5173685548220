package regear_test

import (
	"fmt"

	"zorvel/core/exact"
	"zorvel/core/regear"
	"zorvel/core/tire"
)

// A truck gets taller tires: what is back to stock, and what to fit.
func Example() {
	fig := func(s string) exact.Figure {
		n, err := exact.Parse(s)
		if err != nil {
			panic(err)
		}
		return exact.Figure{Number: n}
	}
	p, err := regear.Work(regear.Request{
		Plain: &regear.Plain{
			Gears: []regear.PlainGear{{Name: "1", Ratio: fig("3.9")}, {Name: "4", Ratio: fig("1")}},
			Rear:  regear.PlainAxle{Ring: 41, Pinion: 10},
		},
		Old: tire.Tire{RollingMM: fig("2200")},
		New: tire.Tire{RollingMM: fig("2440")},
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println("back to stock:", p.Equivalent.Decimal(2))
	// Output: back to stock: 4.55
}
