package drills

import (
	"math"
	"math/rand/v2"

	"zorvel/core/say"
	"zorvel/core/setup"
)

// pattern trains which move a contact pattern asks for.
func pattern() drill {
	return drill{"pattern", "Which move for this pattern",
		"A pattern on drive and coast side. Which part moves, and which way?", 15,
		[MostLevel]string{"Depth alone", "Depth and backlash", "Harder to see"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			// Depth shows alike on both sides; moving the ring moves both along the tooth.
			move := []string{"in", "out", "leave", "toward", "away"}[r.IntN([]int{3, 5, 5}[level-1])]
			size := 0.9 - 0.15*float64(level) + 0.15*r.Float64()
			scatter := 0.04 * float64(level)
			height, along := 0.0, 0.0
			switch move {
			case "in":
				height = size
			case "out":
				height = -size
			case "toward":
				along = size
			case "away":
				along = -size
			}
			spot := func(sign float64) *setup.Spot {
				edge := func(v float64) float64 {
					return say.Round(math.Max(-1, math.Min(1,
						v+scatter*r.NormFloat64())), 2)
				}
				return &setup.Spot{Height: edge(height), Length: edge(along - sign*height/3)}
			}
			words := map[string]string{"in": "Pinion in, toward the ring's axis", "out": "Pinion out",
				"leave":  "Leave it: mid-tooth",
				"toward": "Ring toward the pinion", "away": "Ring away from the pinion"}
			why := map[string]string{"in": "High on the face, on both sides alike: the pinion is too shallow, so it " +
				"goes in.",
				"out": "Low toward the root, on both sides alike: the pinion is too deep, so it goes " +
					"out.", "leave": "Mid-tooth on both sides: depth is right. Check the backlash and leave it.",
				"toward": "At mid-height but toward the heel: the ring is too far away. Bring it in as far as the " +
					"backlash allows.",
				"away": "At mid-height but toward the toe: the ring is too near. Move it away, within the backlash."}
			c := Card{Ask: "Which move does this pattern ask for?", Takes: Pick, Picture: &Picture{Kind: "pattern",
				Drive: spot(1), Coast: spot(-1)}}
			for _, id := range []string{"in", "out", "toward", "away", "leave"} {
				c.Choices = append(c.Choices, Choice{id, words[id]})
			}
			return c, picked(move, words[move], why[move]), nil
		}}
}
