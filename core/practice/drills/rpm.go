package drills

import (
	"fmt"
	"math"
	"math/rand/v2"

	"zorvel/core/say"
)

// rpm trains engine speed at a road speed, in the head. Off is a share of the truth.
func rpm() drill {
	return drill{"rpm", "Rpm in the head", "A road speed, a tire and the ratios: how fast does the engine turn, " +
		"within a twentieth?", 30,
		[MostLevel]string{"Round ratios", "Any ratio", "With a gear"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			kmh := 40 + 10*float64(r.IntN(8))
			rolling := 1.9 + 0.1*float64(r.IntN(8))
			axle := []float64{3, 3.5, 4, 4.5, 5}[r.IntN(5)]
			gear := 1.0
			if level >= 2 {
				axle = say.Round(3+2.5*r.Float64(), 2)
			}
			if level == 3 {
				gear = []float64{0.8, 1.5, 2}[r.IntN(3)]
			}
			truth := kmh * 1000 / 60 / rolling * axle * gear
			c := Card{Ask: fmt.Sprintf("Engine speed at %s (%s)?", say.Speed(kmh, "km/h", 0), say.Speed(kmh, "mph",
				0)), Takes: Number, Unit: "rpm",
				Facts: []string{fmt.Sprintf("Tires roll %.1f m (%.0f in) a turn.", rolling, rolling/0.0254),
					fmt.Sprintf("Axle %s, gear %s.", say.Trim(axle, 2), say.Trim(gear, 2))}}
			off := func(v float64) float64 { return v/truth - 1 }
			words := say.Trim(math.Round(truth/10)*10, 0)
			return c, judged(0.05, off, words+" rpm", func(float64) string {
				return fmt.Sprintf("%s km/h is %s m a minute; over %.1f m a turn, times %s: %s rpm.",
					say.Trim(kmh, 0), say.Trim(kmh*1000/60, 0), rolling, say.Trim(axle*gear, 2), words)
			}), nil
		}}
}
