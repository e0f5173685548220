package workcard_test

import (
	"fmt"

	"zorvel/core/workcard"
)

// A swap that was interrupted after the old gears were counted.
func Example() {
	run := workcard.Run{Card: workcard.Cards()[5], Answers: []workcard.Answer{{Condition: "guard"}, {Condition: "aluminum", Yes: true}}}
	for _, step := range []string{"stand", "tray"} {
		run.Entries = append(run.Entries, workcard.Entry{Kind: workcard.Checked, Step: step, By: "Oda"})
	}
	run.Entries = append(run.Entries, workcard.Entry{Kind: workcard.Checked, Step: "cover", By: "Oda", Note: "long screw at the top"})
	s := workcard.Sum(run, []workcard.Open{{ID: "ratio", What: "Ratio not settled"}})
	fmt.Println(s.Title)
	fmt.Println("next:", s.Next)
	fmt.Println("back:", s.Back[0].What, "·", s.Back[0].Noted)
	fmt.Println(workcard.Take(run, []workcard.Open{{ID: "ratio", What: "Ratio not settled"}}, workcard.Entry{Kind: workcard.Checked, Step: "close", By: "Piet"}))
	// Output:
	// Swap change gears: 3 of 15 steps
	// next: out
	// back: cover with its bearings · long screw at the top
	// step: Not closed yet. Still open: count both gears as they come out, and which sat on the input shaft; wipe both shafts and the seats; look at teeth, splines and bearings; count both gears that go in, and put each on its shaft; turn the drive by hand and watch the wheels; and 2 more.
}
