package drills

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"

	"zorvel/core/say"
)

// interruptions trains a count that others break into. Off is in teeth.
func interruptions() drill {
	return drill{"interruptions", "Counting while they talk to you",
		"Teeth pass a chalk mark. Somebody asks something in between. How many were there?", 45,
		[MostLevel]string{"One interruption", "Two, and faster", "Three, and fast"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			n := []int{12, 25, 35}[level-1] + r.IntN([]int{10, 20, 24}[level-1])
			p := &Picture{Kind: "stream", Count: n, Pace: []float64{0.8, 0.65, 0.5}[level-1]}
			for range level {
				p.Breaks = append(p.Breaks, breakIn(r, n))
			}
			slices.SortFunc(p.Breaks, func(a, b Break) int { return a.After - b.After })
			p.Breaks = slices.CompactFunc(p.Breaks, func(a, b Break) bool { return a.After == b.After })
			return Card{Ask: "How many teeth passed?", Takes: Number, Unit: "teeth", Picture: p}, counted(n,
				func(said int) string {
					switch d := said - n; {
					case d == 0:
						return fmt.Sprintf("%d passed.", n)
					case d == 1:
						return fmt.Sprintf("%d passed: the first was counted twice. The start tooth is zero.", n)
					case d%10 == 0:
						return fmt.Sprintf("%d passed: a ten was lost. Make a mark every ten.", n)
					}
					return fmt.Sprintf("%d passed, and you said %d. Say the number aloud before you answer anybody.", n,
						said)
				}), nil
		}}
}

// breakIn is a question whose figures are apt to get into a count.
func breakIn(r *rand.Rand, n int) Break {
	after := 4 + r.IntN(n-6)
	a, b := 2+r.IntN(8), 2+r.IntN(8)
	sum := a + b
	choices := []string{strconv.Itoa(sum), strconv.Itoa(sum + 1), strconv.Itoa(sum - 1)}
	r.Shuffle(3, func(i, j int) { choices[i], choices[j] = choices[j], choices[i] })
	return Break{After: after, Ask: fmt.Sprintf("%s and %s: how many is that?", say.Capital(say.Count(a, "washer")),
		say.Count(b, "bolt")), Choices: choices}
}
