package network_test

import (
	"fmt"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
)

// A planetary set with its ring held: sun in, carrier out.
func Example() {
	r, err := network.Answer(network.Network{
		Shafts: []string{"sun", "ring", "carrier"},
		Elements: []network.Element{
			{ID: "set", Kind: network.Planetary, Sun: "sun", Ring: "ring", Carrier: "carrier", TeethSun: 42, TeethRing: 72},
			{ID: "housing", Kind: network.Holder, Shaft: "ring"},
			{ID: "hand", Kind: network.Drive, Shaft: "sun", Speed: exact.Int(1)},
			{ID: "wheel", Kind: network.Load, Shaft: "carrier"},
		},
	}, false)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, s := range r.Shafts {
		fmt.Println(s.Shaft, s.Speed)
	}
	// Output:
	// sun 1
	// ring 0
	// carrier 7/19
}
