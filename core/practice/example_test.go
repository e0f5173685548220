package practice_test

import (
	"fmt"

	"zorvel/core/practice"
)

// An apprentice who orders by the tag, four in five sure.
func Example() {
	s, err := practice.Work(practice.Question{
		Task: practice.Task{Kind: "ratio", Level: 3, Seed: 3},
		Acts: []practice.Act{{Do: "tag"}, {Do: "decide", Answer: "4.64", Sure: 80}},
	})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(s.Log[0].Saw)
	fmt.Println(s.Review.Sentence, s.Review.Score.Total)
	fmt.Println(s.Review.Mistakes[0].Words)
	// Output:
	// A tag under a cover bolt: 4.64.
	// Wrong. It is 3.42; you said 4.64. 1 minute; the cheapest way takes 45. -38
	// The tag says 4.64 and the gears are 3.42: tags outlive gears. Turn it before you order.
}
