package drills

import (
	"fmt"
	"math/rand/v2"

	"zorvel/core/driveline"
	"zorvel/core/driveline/trace"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// wheels trains what the other wheel does when one is turned.
func wheels() drill {
	return drill{"wheels", "Which wheel turns when", "One wheel is turned by hand. What does the other one do?", 12,
		[MostLevel]string{"Open or spool", "Lockers too", "Lockers, engaged or not"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			types := []string{"open", "spool", "locking"}[:min(level+1, 3)]
			kind := types[r.IntN(len(types))]
			held := r.IntN(2) == 0 || kind == "open" && level == 1
			side := []string{"left", "right"}[r.IntN(2)]
			other := map[string]string{"left": "right", "right": "left"}[side]
			locked := kind == "locking" && r.IntN(2) == 0
			does, err := otherWheel(kind, side, other, held, locked)
			if err != nil {
				return Card{}, nil, err
			}
			what := map[string]string{"open": "an open differential", "spool": "a spool",
				"locking": "a locker, not engaged"}[kind]
			if locked {
				what = "a locker, engaged"
			}
			flange := "The driveshaft flange is free."
			if held {
				flange = "A helper holds the driveshaft flange."
			}
			c := Card{Ask: fmt.Sprintf("The %s wheel is turned forward. What does the %s wheel do?", side, other),
				Takes: Pick,
				Facts: []string{"Rear axle on jack stands, both wheels free, neutral, with " + what + ".", flange},
				Choices: []Choice{{"forward", "Turns forward too"}, {"backward", "Turns backward"}, {"still",
					"Nothing: neither turns"},
					{"either", "Stays or moves: drag decides"}}}
			words := map[string]string{"forward": "It turns forward too", "backward": "It turns backward",
				"still": "Neither turns", "either": "Drag decides"}[does]
			return c, picked(does, words, words+". "+say.Capital(whyWheel(kind, held, locked))), nil
		}}
}

func whyWheel(kind string, held, locked bool) string {
	switch {
	case kind == "spool" || locked:
		if held {
			return "both wheels and the ring are one piece, and the flange is held."
		}
		return "both wheels are one piece: they turn together."
	case held:
		return "with the carrier held, what one side does forward the other does backward."
	}
	return "the carrier makes the mean of both wheels and is free: whichever has less drag moves. Watch it, or hold it."
}

// otherWheel solves the axle: what the other wheel does.
func otherWheel(kind, side, other string, held, locked bool) (string, error) {
	d := &driveline.Document{}
	for _, l := range driveline.Layouts() {
		if l.ID == "loose_axle" {
			*d = l.Document
		}
	}
	axle := *d.Parts[0].Axle
	axle.Differential = driveline.Differential{Type: kind}
	d.Parts = append([]driveline.Part{}, d.Parts...)
	d.Parts[0].Axle = &axle
	st := driveline.State{Input: &driveline.Input{Shaft: "rear." + side, Turns: exact.Figure{Number: exact.Int(1)}}}
	if held {
		st.Hold = []string{"rear.in"}
	}
	if locked {
		st.Select = map[string]string{"rear.lock": "locked"}
	}
	a, err := trace.Run(d, st, trace.Want{})
	if err != nil {
		return "", err
	}
	for _, s := range a.Shafts {
		if s.ID != "rear."+other {
			continue
		}
		switch {
		case s.State == "free" || s.State == "unknown":
			return "either", nil
		case s.Sign > 0:
			return "forward", nil
		case s.Sign < 0:
			return "backward", nil
		}
		return "still", nil
	}
	return "", fmt.Errorf("the axle has no shaft %s", other)
}
