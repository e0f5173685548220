package catalog_test

import (
	"fmt"

	"zorvel/core/catalog"
)

// A row of the shop's gear sets is checked and told apart from the others.
func Example() {
	list, _ := catalog.Find(catalog.GearSets)
	row, err := list.Check(catalog.Row{"family": "Varn 220", "kind": "ring_and_pinion", "construction": "pair", "teeth": "41-10"})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(list.Identity(row))
	_, err = list.Check(catalog.Row{"family": "Varn 220", "kind": "ring_and_pinion", "construction": "pair", "teeth": "10-41"})
	fmt.Println(err != nil)
	// Output:
	// varn 220|ring_and_pinion||pair|41-10
	// true
}
