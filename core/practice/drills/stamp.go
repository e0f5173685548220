package drills

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/identify"
	"zorvel/core/made"
)

// stamp trains reading what is struck into a ring gear or on a tag.
func stamp() drill {
	return drill{"stamp", "Read a stamp", "Worn figures on the ring's edge or a tag. Which ratio is it?", 12,
		[MostLevel]string{"Counts, or a ratio", "Either order, no point", "Run together"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			p := made.Axle()[r.IntN(len(made.Axle()))]
			ratio := float64(p.Driven) / float64(p.Driver)
			truth := fmt.Sprintf("%.2f", ratio)
			texts := []string{fmt.Sprintf("%d-%d", p.Driven, p.Driver), truth}
			if level > 1 {
				texts = append(texts, fmt.Sprintf("%d-%d", p.Driver, p.Driven), strings.Replace(truth, ".", "", 1),
					fmt.Sprintf("%d %d", p.Driver, p.Driven))
			}
			if level > 2 {
				texts = []string{fmt.Sprintf("%d%02d", p.Driver, p.Driven), fmt.Sprintf("%d%02d", p.Driven, p.Driver),
					fmt.Sprintf("%d %d", p.Driver, p.Driven)}
			}
			text := texts[r.IntN(len(texts))]
			if !reads(text, truth) {
				text = texts[0]
			}
			if !reads(text, truth) { // run together it says something else
				text = fmt.Sprintf("%d %d", p.Driver, p.Driven)
			}
			c := Card{Ask: "Which ratio does it say?", Takes: Pick, Picture: &Picture{Kind: "stamp", Text: text,
				Worn: r.Uint32()}}
			c.Choices = offered(r, near(r, p, truth))
			return c, picked(truth, truth, fmt.Sprintf("%s: %d on the ring, %d on the pinion, %d ÷ %d = %s.", text,
				p.Driven, p.Driver, p.Driven, p.Driver, truth)), nil
		}}
}

// reads reports whether what is struck can be read as the ratio.
func reads(text, ratio string) bool {
	marks, err := identify.ParseMark(text, identify.Stage{Kind: identify.RingAndPinion})
	return err == nil && slices.ContainsFunc(marks, func(m identify.Mark) bool {
		if m.IsRatio() {
			return m.Canonical() == ratio
		}
		return fmt.Sprintf("%.2f", float64(m.Counts[0])/float64(m.Counts[1])) == ratio
	})
}

// near are the right ratio and three that a misreading gives: a tooth more or less on
// either gear, or another common pair.
func near(r *rand.Rand, p made.Pair, truth string) []Choice {
	list := []Choice{{truth, truth}}
	seen := map[string]bool{truth: true}
	add := func(ring, pinion int) {
		v := fmt.Sprintf("%.2f", float64(ring)/float64(pinion))
		if len(list) < 4 && !seen[v] {
			seen[v] = true
			list = append(list, Choice{v, v})
		}
	}
	add(p.Driven+1, p.Driver)
	add(p.Driven, p.Driver+1)
	for len(list) < 4 {
		x := made.Axle()[r.IntN(len(made.Axle()))]
		add(x.Driven, x.Driver)
	}
	return list
}

func itoa(n int) string { return strconv.Itoa(n) }
