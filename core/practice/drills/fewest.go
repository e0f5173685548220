package drills

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/findfault"
	"zorvel/core/say"
)

// fewest trains which test to make next.
func fewest() drill {
	return drill{"fewest", "The test that tells most", "A complaint came in. Which test tells most for its minutes?",
		30,
		[MostLevel]string{"Rear drive", "Front drive too", "Boats and four-wheel drive too"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			ids := []string{"rear_drive", "transaxle", "outboard", "part_time"}[:[]int{1, 2, 4}[level-1]]
			for tries := 0; ; tries++ {
				l := layout(ids[r.IntN(len(ids))])
				m, err := findfault.NewModel(l.Document)
				if err != nil {
					return Card{}, nil, err
				}
				h, err := m.Hide(r.Uint64(), 0, func(findfault.Fault) bool { return true })
				if err != nil {
					return Card{}, nil, err
				}
				best, err := h.Best(4)
				if err != nil {
					return Card{}, nil, err
				}
				slices.SortStableFunc(best, func(x, y *findfault.Test) int { return cmp.Compare(rate(y), rate(x)) })
				if len(best) == 4 && rate(best[0]) > 1.15*rate(best[1]) || len(best) > 1 && tries > mostDeals {
					return askTest(r, l.Name, h.Brought(), best)
				}
			}
		}}
}

// mostDeals is how often one is dealt until a test stands out.
const mostDeals = 8

func rate(t *findfault.Test) float64 { return t.Bits / t.Minutes }

// askTest asks which of four tests is best; the points are the share of the best one's
// information a minute.
func askTest(r *rand.Rand, name string, brought []string, best []*findfault.Test) (Card, marker, error) {
	c := Card{Ask: "Which test comes next?", Takes: Pick, Facts: []string{name + "."}}
	for _, b := range brought {
		c.Facts = append(c.Facts, say.Capital(strings.TrimSuffix(b, ": yes"))+".")
	}
	top := best[0]
	r.Shuffle(len(best), func(i, j int) { best[i], best[j] = best[j], best[i] })
	for i, t := range best {
		words := t.Title
		if len(t.Setup) > 0 {
			words += ": " + strings.Join(t.Setup, ", ")
		}
		c.Choices = append(c.Choices, Choice{strconv.Itoa(i), fmt.Sprintf("%s (%s min)", words, say.Trim(t.Minutes,
			0))})
	}
	return c, func(a Answer) (Marked, error) {
		i, err := strconv.Atoi(a.Choice)
		if err != nil {
			return Marked{}, err
		}
		yours := best[i]
		m := Marked{Right: yours == top, Points: int(math.Round(100 * rate(yours) / rate(top))), Truth: top.Title}
		m.Sentence = fmt.Sprintf("Best: %s. It halves the suspects %s times in an hour", say.Small(top.Title),
			say.Trim(60*rate(top), 1))
		if m.Right {
			m.Sentence += "."
		} else {
			m.Sentence += fmt.Sprintf("; yours %s times.", say.Trim(60*rate(yours), 1))
		}
		return m, nil
	}, nil
}
