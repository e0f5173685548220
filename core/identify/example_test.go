package identify_test

import (
	"fmt"

	"zorvel/core/identify"
)

// A tag and a count, weighed together.
func Example() {
	space, err := identify.NewSpace(identify.Stage{Kind: identify.RingAndPinion})
	if err != nil {
		fmt.Println(err)
		return
	}
	a, err := identify.Assess(space, []identify.Reading{
		{ID: "tag", Method: identify.Tag, Text: "4.10"},
		{ID: "count", Method: identify.Teeth, Teeth: []identify.Count{{Member: "ring", Count: 47}, {Member: "pinion", Count: 9}}},
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	v := a.Verdict()
	fmt.Println(v.Label.Label, v.State)
	fmt.Println(v.Findings[0].Reason)
	// Output:
	// 5.22 conflict
	// the gears were swapped after this tag was made
}
