package drills

import (
	"fmt"
	"math"
	"math/rand/v2"

	"zorvel/core/say"
)

// remainder trains the partial turn by eye. Off is in turns.
func remainder() drill {
	return drill{"remainder", "The partial turn by eye",
		"A chalk mark has stopped somewhere. How far past the top is it, in hundredths of a turn?", 8,
		[MostLevel]string{"Tenths", "Any place on the dial", "Beside a tag that may lie"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			at := r.Float64()
			if level == 1 { // tenths first
				at = math.Round(at*10) / 10
				at = math.Mod(at, 1)
			}
			at = math.Round(at*1000) / 1000
			c := Card{Ask: "How far past the top is the mark?", Takes: Number, Unit: "turns",
				Picture: &Picture{Kind: "dial", Whole: 1 + r.IntN(9), At: at}}
			if level == 3 {
				c.Facts = []string{fmt.Sprintf("The tag says %.2f. It needn't be right.", 3+2*r.Float64())}
			}
			tolerance := []float64{0.07, 0.05, 0.04}[level-1]
			off := func(v float64) float64 {
				_, f := math.Modf(v)
				return math.Remainder(f-at, 1) // a mark at the top is 0 and 1
			}
			words := fmt.Sprintf("%.2f", at)
			return c, judged(tolerance, off, words, func(d float64) string {
				said := fmt.Sprintf("It is %s of a turn past the top, %s.", words, degrees(at))
				switch h := math.Round(100 * d); {
				case h > 0:
					said += fmt.Sprintf(" You read %.0f hundredths too much.", h)
				case h < 0:
					said += fmt.Sprintf(" You read %.0f hundredths too little.", -h)
				}
				return said
			}), nil
		}}
}

func degrees(turns float64) string { return say.Trim(360*turns, 0) + "°" }
