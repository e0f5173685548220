package sessions_test

import (
	"fmt"

	"zorvel/core/identify"
	"zorvel/core/live/sessions"
)

// Sessions of one kind, each counted live and by hand.
func Example() {
	sp, err := identify.NewSpace(identify.Stage{Kind: identify.RingAndPinion})
	if err != nil {
		fmt.Println(err)
		return
	}
	kind := sessions.Kinds()[2]
	o, err := sessions.Run(kind, sp, 20, 1, nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(o.Kind, o.Sessions, o.Settled > o.HandSettled)
	// Output: eight marks, with direction 20 true
}
