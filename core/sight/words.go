package sight

import (
	"fmt"
	"math"
)

// say puts the answer into words and says what photo would do better.
func (a *Answer) say() {
	switch {
	case a.Chance >= sureAt:
		a.State = Sure
		a.Sentence = fmt.Sprintf("%d teeth.", a.Teeth)
	case a.Chance >= likeAt:
		a.State = Likely
		a.Sentence = fmt.Sprintf("Probably %d teeth. Check each mark before you use it.", a.Teeth)
	default:
		a.State = Cant
		a.Sentence = map[string]string{
			Blurred: "Can't count: the photo is blurred.",
			Covered: "Can't count: too much of the rim doesn't show.",
			NoTeeth: "Can't count: no clear ring of teeth on this photo.",
		}[a.Blocked]
		if a.Blocked == CloseCounts {
			a.Sentence = fmt.Sprintf("Can't tell %d from %d teeth on this photo.", a.Teeth, a.Others[0].Teeth)
		}
		if a.Teeth > 0 {
			a.Sentence += fmt.Sprintf(" A guess: %d teeth, right one time in %d.", a.Teeth, int(math.Round(1/a.Chance)))
		}
	}
	hidden := 0
	for _, h := range a.Hidden {
		hidden += h.Teeth
	}
	if hidden > 0 && a.State != Cant {
		a.Sentence += fmt.Sprintf(" %d of them don't show and are counted by the spacing.", hidden)
	}
	a.advise(hidden)
}

func (a *Answer) advise(hidden int) {
	add := func(s string) { a.Advice = append(a.Advice, s) }
	switch a.Blocked {
	case Blurred:
		add("Hold the phone still, tap the gear to focus, and take it again.")
	case Covered:
		add("Turn the gear, or take the cap off, so that the whole rim is in the picture.")
	case NoTeeth:
		add("Fill the picture with the gear, from its front, the whole rim in view.")
		add("Tap the middle of the gear, so that nothing else is looked at.")
	}
	if a.State == Sure {
		return
	}
	add("Light it from the side, and wipe oil and dirt off the teeth.")
	if a.Tilt > 35 {
		add("Go straight in front of it.")
	}
	if hidden > 0 {
		add("Turn the gear and take a second photo of the part that doesn't show.")
	}
	if a.Teeth > 0 && a.Why.Pixels > 0 && a.Why.Pixels < 10 {
		add("Go nearer: a tooth is only " + fmt.Sprint(math.Round(a.Why.Pixels)) + " points wide on the photo.")
	}
	add("Chalk one tooth and count by hand, or mark each tooth here.")
}
