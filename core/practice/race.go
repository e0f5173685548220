package practice

import (
	"fmt"
	"slices"

	"zorvel/core/changegear"
	"zorvel/core/exact"
	"zorvel/core/say"
	"zorvel/core/tire"
)

// raceKind hides nothing: a pair of change gears is picked for a top speed.
func raceKind() kind {
	return kind{
		id: "race", title: "Change gears for the hill",
		about: "The driver wants the limiter at the end of the straight. Which pair, and which gear on which shaft?",
		levels: []string{
			"Three sets on the shelf",
			"Eight sets on the shelf",
			"Eight sets, and other tires than last time",
		},
		draw: func(t Task) (hidden, error) { return newRaceUnit(t) },
	}
}

func newRaceUnit(t Task) (hidden, error) {
	r := t.source("unit")
	shelf := shelfOf(t.Level, r.Perm(len(changeSets)))
	rolling := 1880 + 10*int64(r.IntN(20))
	was := rolling
	if t.Level == 3 {
		was += 60 + 10*int64(r.IntN(6))
	}
	rpm := 6500 + 250*float64(r.IntN(6))
	for range mostDraws {
		set := shelf[r.IntN(len(shelf))]
		pair := changegear.Pair{Input: set.Teeth[0], Pinion: set.Teeth[1]}
		if r.IntN(2) == 0 {
			pair.Input, pair.Pinion = pair.Pinion, pair.Input
		}
		overall := baseRatio.Float() * float64(pair.Pinion) / float64(pair.Input)
		kmh := say.Round(rpm*60*float64(rolling)/1e6/overall, 0)
		u, ok, err := raceUnit(shelf, rolling, was, rpm, kmh)
		if err != nil || ok {
			return u, err
		}
	}
	return nil, errNoUnit
}

// changeSets are the sets of a shelf, and baseRatio the ring and pinion behind them.
var (
	changeSets = [][2]int{{22, 23}, {21, 24}, {20, 25}, {19, 26}, {18, 27}, {17, 28}, {22, 25}, {21, 26}, {20, 27},
		{19, 28}}
	baseRatio = exact.New(38, 9)
)

func shelfOf(level int, order []int) []changegear.Set {
	n := 8
	if level == 1 {
		n = 3
	}
	out := make([]changegear.Set, n)
	for i := range n {
		out[i] = changegear.Set{Name: fmt.Sprint(i + 1), Teeth: changeSets[order[i]]}
	}
	return out
}

// raceUnit is the task at this speed; not ok where two pairs do it as well.
func raceUnit(shelf []changegear.Set, rolling, was int64, rpm, kmh float64) (*picked, bool, error) {
	rungs, at, err := pickedRung(shelf, rolling, rpm, kmh)
	if err != nil || at < 0 || len(rungs[at].Ways) != 1 {
		return nil, false, err
	}
	p := &picked{seen: map[string]bool{}, because: map[string]Mistake{}, question: "Which pair goes in?",
		drawn: &layoutOf("change_gears").Document,
		text: fmt.Sprintf("The hill-climb car should reach %s km/h at the end of the straight, in direct top "+
			"gear, at the limiter.", say.Trim(kmh, 0)),
		warning: "Long screws need their full thread; a pair that meshes only in part strips. Direction check by " +
			"hand before it is driven.",
		looks: []look{
			{"limiter", "Read the limiter", say.Trim(rpm, 0) + " rpm.", 1, true, "Nobody read the limiter."},
			{"rollout", "Roll the tires out", fmt.Sprintf("%d mm a turn, driver in.", rolling), 4, true,
				"Nobody rolled the tires out."},
			{"base", "Read the ring and pinion", "38 and 9, counted.", 1, true,
				"Nobody read the ring and pinion behind the change gears."},
			{"shelf", "Look through the shelf", shelfWords(shelf), 2, true, "Nobody looked through the shelf."},
			{"book", "Read last time's log", fmt.Sprintf("Tires %d mm a turn then.", was), 2, false, ""},
		},
	}
	old, oldAt, err := pickedRung(shelf, was, rpm, kmh)
	if err != nil {
		return nil, false, err
	}
	for i, g := range rungs {
		w := g.Ways[0]
		id := fmt.Sprintf("%d/%d", w.Input, w.Pinion)
		p.choices = append(p.choices, Choice{id, fmt.Sprintf("%d on the input shaft, %d on the pinion shaft", w.Input,
			w.Pinion)})
		right := rungs[at].Ways[0]
		switch {
		case i == at:
			p.truth = id
		case w.Input == right.Pinion && w.Pinion == right.Input:
			p.because[id] = Mistake{"The right pair the wrong way round: more teeth on the pinion shaft is shorter.",
				"taller"}
		case oldAt >= 0 && oldAt < len(old) && i == oldAt && was != rolling:
			p.because[id] = Mistake{Words: "That fits last time's tires. The tires have changed."}
		case i > at:
			p.because[id] = Mistake{"Too tall: it never gets to the limiter there.", "rpm"}
		default:
			p.because[id] = Mistake{"Too short: it is at the limiter before the end of the straight.", "rpm"}
		}
	}
	slices.SortFunc(p.choices, func(a, b Choice) int {
		if a.ID < b.ID {
			return -1
		}
		return 1
	})
	p.work = []string{fmt.Sprintf("Overall wanted = rpm × rollout × 60 ÷ speed = %s × %d mm × 60 ÷ %s km/h = %s; "+
		"38/9 × pinion shaft ÷ input shaft comes nearest with %s.",
		say.Trim(rpm, 0), rolling, say.Trim(kmh, 0), say.Trim(rpm*60*float64(rolling)/1e6/kmh, 3), p.words(p.truth))}
	return p, true, nil
}

// pickedRung is the ladder of a shelf, and the rung that is picked for a speed; −1 for none.
func pickedRung(shelf []changegear.Set, rolling int64, rpm, kmh float64) ([]changegear.Rung, int, error) {
	a, err := changegear.Work(changegear.Request{
		Base: exact.Figure{Number: baseRatio}, RPM: rpm, Shelf: shelf,
		Tire: tire.Tire{RollingMM: exact.Figure{Number: exact.Int(rolling)}},
		Goal: &changegear.Goal{Kind: changegear.BySpeed, KMH: kmh, RPM: rpm},
	})
	if err != nil || a.Pick == nil || a.Pick.Chosen == nil {
		return nil, -1, err
	}
	return a.Ladder, a.Pick.Chosen.Rung, nil
}

func shelfWords(shelf []changegear.Set) string {
	words := make([]string, len(shelf))
	for i, s := range shelf {
		words[i] = fmt.Sprintf("%d/%d", s.Teeth[0], s.Teeth[1])
	}
	return say.Capital(say.Count(len(shelf), "set")) + ": " + say.And(words) + "."
}
