package drills

import (
	"fmt"
	"math/rand/v2"

	"zorvel/core/made"
)

// taller trains which way a change of gears or tires goes.
func taller() drill {
	return drill{"taller", "Shorter or taller", "Other gears or other tires: which way does it go, and what does " +
		"the engine do?", 10,
		[MostLevel]string{"Ratios", "Tooth counts", "Tires too"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			pairs := made.Axle()
			a, b := pairs[r.IntN(len(pairs))], pairs[r.IntN(len(pairs))]
			for a.Driven*b.Driver == b.Driven*a.Driver {
				b = pairs[r.IntN(len(pairs))]
			}
			from, to := float64(a.Driven)/float64(a.Driver), float64(b.Driven)/float64(b.Driver)
			shorter := to > from
			c := Card{Takes: Pick}
			switch {
			case level == 1:
				c.Ask = fmt.Sprintf("From %.2f to %.2f: shorter or taller?", from, to)
				if fmt.Sprintf("%.2f", from) == fmt.Sprintf("%.2f", to) {
					c.Ask = fmt.Sprintf("From %d/%d to %d/%d: shorter or taller?", a.Driven, a.Driver, b.Driven,
						b.Driver)
				}
			case level == 2 || r.IntN(2) == 0:
				c.Ask = fmt.Sprintf("From %d teeth on the ring and %d on the pinion to %d and %d: shorter or taller?",
					a.Driven, a.Driver, b.Driven, b.Driver)
			default:
				return tires(r)
			}
			c.Choices = []Choice{{"shorter", "Shorter: more rpm at the same speed"}, {"taller",
				"Taller: fewer rpm at the same speed"}}
			truth, words := "taller", "Taller"
			if shorter {
				truth, words = "shorter", "Shorter"
			}
			return c, picked(truth, words, fmt.Sprintf("%.3f to %.3f: numerically %s is %s, a %s gear.", from, to,
				map[bool]string{true: "higher", false: "lower"}[shorter], truth,
				map[bool]string{true: "lower", false: "higher"}[shorter])), nil
		}}
}

// tires asks what other tires do, and which gears take it back.
func tires(r *rand.Rand) (Card, marker, error) {
	was := 700 + 10*r.IntN(12)
	is := was + (20 + 10*r.IntN(8))
	grow := r.IntN(2) == 0
	if !grow {
		was, is = is, was
	}
	c := Card{Ask: fmt.Sprintf("The tires go from %d to %d mm across. Which gears make it drive as before?", was, is),
		Takes:   Pick,
		Choices: []Choice{{"shorter", "Numerically higher: shorter"}, {"taller", "Numerically lower: taller"}}}
	if grow {
		return c, picked("shorter", "Shorter", "Larger tires gear it taller; numerically higher gears take that "+
			"back."), nil
	}
	return c, picked("taller", "Taller", "Smaller tires gear it shorter; numerically lower gears make up for that."), nil
}
