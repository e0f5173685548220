package grip

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/say"
)

func (m *ground) tellTraction(t *Traction) {
	kn := func(n float64) string { return say.Trim(n/1000, 2) + " kN" }
	name := func(id string) string {
		if p := m.Part(id); p != nil {
			return say.Small(p.Called())
		}
		return ""
	}
	var against []string
	for _, w := range t.Wheels {
		if strings.HasPrefix(w.Words, "driven backward") {
			against = append(against, say.Small(w.Name))
		}
	}
	const nothing = 0.5 // N
	switch {
	case t.First == "" && t.FirstN > nothing && len(against) == 0:
		t.Steps = append(t.Steps, fmt.Sprintf("All driven wheels reach their limit together, at %s in all.", kn(t.FirstN)))
	case t.First != "" && t.FirstN > nothing:
		t.Steps = append(t.Steps, fmt.Sprintf("The %s gives up first, at %s in all.", name(t.First), kn(t.FirstN)))
	case t.First != "":
		t.Steps = append(t.Steps, fmt.Sprintf("The %s gives up at once.", name(t.First)))
	}
	if t.First != "" && len(against) == 0 {
		switch {
		case t.TotalN > t.FirstN*1.001+nothing:
			t.Steps = append(t.Steps, fmt.Sprintf("From there the others take more, up to %s in all.", kn(t.TotalN)))
		case t.Limited != "grip" || t.splitter == nil:
		case t.splitter.bias > 0:
			t.Steps = append(t.Steps, t.splitter.limitWords())
		case t.held:
			t.Steps = append(t.Steps, "The open differential turns around the held wheel: what the slipping wheel bears is all there is.")
		default:
			t.Steps = append(t.Steps, "An open differential gives the others no more than that: the spinning wheel sets the limit for all.")
		}
	}
	if len(against) > 0 {
		t.Steps = append(t.Steps, fmt.Sprintf("Driven backward: %s. What that pushes is taken off what the others drive; it is never added.", strings.Join(against, ", ")))
	}
	if len(t.brakes) > 0 {
		t.Steps = append(t.Steps, "Brakes take their torque first: "+strings.Join(t.brakes, ", ")+". A side passes on what its tire bears and its brake takes.")
	}
	var slips []string
	for _, w := range t.Wheels {
		if w.Slips {
			slips = append(slips, say.Small(w.Name))
		}
	}
	if len(slips) > 1 && t.First != "" {
		t.Steps = append(t.Steps, "At the limit: "+strings.Join(slips, ", ")+".")
	}
	switch {
	case t.Limited == "held":
		t.Sentence = "A wheel is held: nothing moves, whatever the torque."
	case len(against) > 0 && math.Abs(t.TotalN) < nothing:
		t.Sentence = "No drive force: what is driven backward cancels what is driven forward."
	case t.TotalN < -nothing:
		t.Sentence = fmt.Sprintf("No drive force: brakes hold %s more than the wheels drive.", kn(-t.TotalN))
	case t.TotalN < nothing:
		t.Sentence = "No drive force: nothing reaches a wheel with grip."
	case len(against) > 0:
		t.Sentence = fmt.Sprintf("%s in all: the wheels that are driven backward are taken off.", kn(t.TotalN))
	case t.Limited == "engine":
		t.Sentence = fmt.Sprintf("%s in all; the engine's %s N·m run out before the grip does.", kn(t.TotalN), say.Trim(t.EngineNM, 0))
	case t.First == "" || t.splitter == nil:
		t.Sentence = fmt.Sprintf("%s in all: every driven wheel gives what it can.", kn(t.TotalN))
	default:
		t.Sentence = fmt.Sprintf("%s in all, limited by the %s.", kn(t.TotalN), name(t.First))
	}
	if t.NeedN != 0 {
		if t.Climbs {
			t.Sentence += fmt.Sprintf(" The grade asks %s: it climbs.", kn(t.NeedN))
		} else {
			t.Sentence += fmt.Sprintf(" The grade asks %s: it does not climb.", kn(t.NeedN))
		}
	}
}

// limitWords says what a limited slip gives the others while one side slips.
func (n *node) limitWords() string {
	switch {
	case n.slip == "viscous" && n.across == 0:
		return "How much the viscous coupling carries across isn't known; taken as carrying nothing."
	case n.slip == "viscous":
		return fmt.Sprintf("The viscous coupling carries %s N·m across while its sides differ by 100 rpm, and no more: the wheel that slips sets the limit for all.", say.Trim(n.across, 0))
	case n.across > 0:
		return fmt.Sprintf("The clutches give the others %s times what the slipping side bears, or %s N·m more by their preload, whichever is greater.", say.Trim(n.bias, 2), say.Trim(n.across, 0))
	case n.slip == "helical":
		return fmt.Sprintf("The helical gears give the others %s times what the slipping side bears: nothing, where it bears nothing. A touch of brake on it helps.", say.Trim(n.bias, 2))
	}
	return "The limited slip gives the others no more than its bias allows: the wheel that slips sets the limit for all."
}
