package shift

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"

	"zorvel/core/say"
)

func (m *Mechanism) say(a *Answer) {
	var does []string
	for _, g := range a.Out {
		switch {
		case g.Stuck:
			does = append(does, fmt.Sprintf("a hand does not draw it out of %s: %s N at the cable", g.Gear,
				say.Trim(g.ForceN, 0)))
		case g.Stalls:
			does = append(does, fmt.Sprintf("it stalls out of %s: the shift interrupt switch is open for %s s and the "+
				"engine keeps turning for %s s", g.Gear, say.Trim(g.OpenS, 2), say.Trim(g.StandsS, 2)))
		case g.Hard:
			does = append(does, fmt.Sprintf("it is hard to take out of %s: %s N at the cable", g.Gear, say.Trim(g.ForceN, 0)))
		}
	}
	if a.Grinds {
		does = append(does, fmt.Sprintf("it grinds going in: %s mm in one pass, %s mm are needed", say.Trim(a.BiteMM, 2),
			say.Trim(a.NeedMM, 2)))
	}
	if a.NotIn {
		does = append(does, fmt.Sprintf("it does not go in fully: %s of %s mm", say.Trim(a.InMM, 1), say.Trim(m.StrokeMM, 1)))
	}
	if a.Pops {
		does = append(does, fmt.Sprintf("it pops out under load: pushed apart with %s N, held with %s N",
			say.Trim(a.PushN, 0), say.Trim(holdN, 0)))
	}
	a.Sentence = "Such a mechanism shifts as it should."
	if len(does) > 0 {
		a.Sentence = say.Capital(does[0])
		for _, d := range does[1:] {
			a.Sentence += "; " + d
		}
		a.Sentence += "."
	}
	a.Advice = append(a.Advice, Advice()...)
}

// Advice is what is done first, whichever it is.
func Advice() []string {
	return []string{
		"Adjust before you open anything: idle within its range, cable in phase, full stroke both ways.",
		"Leave the shift interrupt switch connected: a loaded undercut dog can't be pulled out until the torque drops, " +
			"and that is its job. Replace a dragging cable or seal instead, both together.",
		"Shift crisply and at the lowest idle: slow shifting rounds the dogs. Replace rounded dogs together with the " +
			"gears they engage.",
	}
}
