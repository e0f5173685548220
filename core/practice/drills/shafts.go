package drills

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/trace"
	"zorvel/core/say"
)

// shafts trains which way every shaft turns.
func shafts() drill {
	return drill{"shafts", "Which way does it turn",
		"The engine turns one way. Which way does that shaft turn, in this gear?", 15,
		[MostLevel]string{"Rear drive, outboard", "Crosswise engine, stern drive", "Four-wheel drive, loose gears"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			ids := []string{"rear_drive", "outboard", "transaxle", "stern_drive", "part_time"}[:2*level-level/3]
			l := layout(ids[r.IntN(len(ids))])
			d := &l.Document
			a, err := trace.Run(d, driveline.State{}, trace.Want{})
			if err != nil {
				return Card{}, nil, err
			}
			st := driveline.State{Select: map[string]string{}}
			facts := []string{l.Name + "."}
			for _, s := range a.Selectors {
				if s.Role != driveline.RoleGear || len(s.Options) < 2 {
					continue
				}
				o := s.Options[r.IntN(len(s.Options))]
				if o.Neutral {
					o = s.Options[0]
				}
				st.Select[s.ID] = o.Value
				facts = []string{l.Name + ", in " + o.Words + "."}
			}
			if a, err = trace.Run(d, st, trace.Want{}); err != nil {
				return Card{}, nil, err
			}
			return askShaft(r, facts, a.Shafts, level)
		}}
}

// askShaft asks about one of the shafts that are driven; about loose gears at the last
// level alone.
func askShaft(r *rand.Rand, facts []string, list []trace.ShaftOut, level int) (Card, marker, error) {
	var driven []trace.ShaftOut
	for _, s := range list[1:] {
		if s.State == "driven" && s.Sign != 0 && (level == MostLevel || !strings.HasPrefix(s.Name, "loose")) {
			driven = append(driven, s)
		}
	}
	if len(driven) == 0 {
		return Card{}, nil, fmt.Errorf("nothing turns in %s", facts[0])
	}
	s := driven[r.IntN(len(driven))]
	ways := []string{s.Direction, turnedAround(s.Direction)}
	slices.Sort(ways)
	c := Card{Ask: fmt.Sprintf("Which way does the %s turn?", s.Name), Takes: Pick,
		Facts: append(facts, "The "+list[0].Name+" turns "+list[0].Direction+".")}
	truth := ""
	for i, w := range ways {
		c.Choices = append(c.Choices, Choice{itoa(i), say.Capital(w)})
		if w == s.Direction {
			truth = itoa(i)
		}
	}
	return c, picked(truth, say.Capital(s.Direction), "It "+verb(s.Direction)+
		". Each outside mesh reverses it. A chain doesn't, and an idler adds a mesh."), nil
}

func verb(direction string) string {
	if strings.HasPrefix(direction, "rolls") {
		return direction
	}
	return "turns " + direction
}

// turnedAround is the other way of turning, in the same words.
func turnedAround(direction string) string {
	for _, w := range [][2]string{{"counterclockwise", "clockwise"}, {"clockwise", "counterclockwise"}, {"forward",
		"backward"}, {"backward", "forward"}} {
		if strings.Contains(direction, w[0]) {
			return strings.Replace(direction, w[0], w[1], 1)
		}
	}
	return direction
}

func layout(id string) driveline.Layout {
	for _, l := range driveline.Layouts() {
		if l.ID == id {
			return l
		}
	}
	panic("no layout " + id)
}
