package drills

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
)

// speedometer trains which driven gear makes the needle true.
func speedometer() drill {
	return drill{"speedometer", "Which speedometer gear", "The needle is off. Which driven gear makes it true?", 20,
		[MostLevel]string{"At 80", "At any speed", "With the drive gear given"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			now := 17 + r.IntN(8)
			want := now + []int{-3, -2, -1, 1, 2, 3}[r.IntN(6)]
			real := 80.0
			if level > 1 {
				real = 60 + 5*float64(r.IntN(10))
			}
			// The needle shows more the fewer teeth the driven gear has.
			shows := math.Round(real * float64(want) / float64(now))
			c := Card{Ask: "Which driven gear makes it true?", Takes: Pick,
				Facts: []string{fmt.Sprintf("At a true %.0f the needle shows %.0f.", real, shows),
					fmt.Sprintf("The driven gear has %d teeth.", now)}}
			if level == 3 {
				drive := 6 + r.IntN(4)
				c.Facts[1] = fmt.Sprintf("The drive gear on the output shaft has %d teeth, the driven gear %d.",
					drive, now)
			}
			list := []int{want, 2*now - want, want + 1, want - 1}
			slices.Sort(list)
			for _, n := range slices.Compact(list) {
				c.Choices = append(c.Choices, Choice{itoa(n), itoa(n) + " teeth"})
			}
			which := "more"
			if want < now {
				which = "fewer"
			}
			return c, picked(itoa(want), itoa(want)+" teeth",
				strings.Join([]string{fmt.Sprintf("%d × %.0f ÷ %.0f = %.1f: %d teeth.", now, shows, real,
					float64(now)*shows/real, want),
					"A needle that shows too " + map[bool]string{true: "much",
						false: "little"}[want > now] + " needs " + which + " teeth on the driven gear."}, " ")), nil
		}}
}
