package drills

import (
	"fmt"
	"math/rand/v2"

	"zorvel/core/fault"
	"zorvel/core/sight/drawn"
)

// photos trains counting on a photo. Off is in teeth.
func photos() drill {
	return drill{"photos", "Count teeth on a photo", "A gear on the bench, as a phone took it. How many teeth?", 60,
		[MostLevel]string{"Clean, straight on", "Worn, tilted, partly hidden", "Rust, shade, a cap over a third"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			hard := []string{drawn.Easy, drawn.Medium, drawn.Hard}[level-1]
			return photo(hard, r, func(s drawn.Scene) bool { return s.Kind != drawn.Helical })
		}}
}

// helical trains counting a helical gear: every tooth once, where it ends at the face.
func helical() drill {
	return drill{"helical", "A helical gear from its face",
		"Slanted teeth show twice, once at each face. Count one face only.", 60,
		[MostLevel]string{"Little tilt", "More tilt", "Tilted and worn"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			hard := []string{drawn.Easy, drawn.Medium, drawn.Medium}[level-1]
			return photo(hard, r, func(s drawn.Scene) bool {
				return s.Kind == drawn.Helical &&
					s.Tilt > 0.1*float64(level)
			})
		}}
}

// photo deals the first scene that fits.
func photo(hard string, r *rand.Rand, fits func(s drawn.Scene) bool) (Card, marker, error) {
	for range mostScenes {
		seed := r.Uint64()
		s := drawn.Some(hard, seed)
		if !fits(s) {
			continue
		}
		c := Card{Ask: "How many teeth has it?", Takes: Number, Unit: "teeth", Picture: &Picture{Kind: "photo",
			Photo: hard, Seed: seed}}
		if s.Cap > 0 {
			c.Facts = []string{"A cap hides part of it: reckon the hidden teeth from the spacing of those beside it."}
		}
		return c, counted(s.Teeth, func(said int) string {
			switch said - s.Teeth {
			case 0:
				return fmt.Sprintf("%d teeth.", s.Teeth)
			case 1, -1:
				return fmt.Sprintf("%d teeth: one off. Chalk the start tooth and count it as zero.", s.Teeth)
			}
			return fmt.Sprintf("%d teeth; you said %d.", s.Teeth, said)
		}), nil
	}
	return Card{}, nil, fault.New("seed", "this number has no card. Take another")
}

// mostScenes bounds how often a scene is drawn until one fits; one in some ten does.
const mostScenes = 1000
