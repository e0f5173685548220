package findfault

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
	"zorvel/core/say"
)

// clash is two answers about one thing, or of one state, that differ.
func clash(a, b Evidence, saidA, saidB string) []string {
	differ := []string{"Asked twice, answered differently: " + saidA + "; and: " + saidB +
		". Both are saved; try it again."}
	if a.Sign != "" || b.Sign != "" {
		if a.Sign == b.Sign && a.Part == b.Part && a.Says != b.Says && a.Says != DontKnow && b.Says != DontKnow &&
			a.Value == nil && b.Value == nil {
			return differ
		}
		return nil
	}
	for _, x := range a.Seen {
		for _, y := range b.Seen {
			if x.Watch == y.Watch && x.Does != y.Does && x.Does != DontKnow && y.Does != DontKnow {
				return differ
			}
		}
	}
	return nil
}

// conclude says the one sentence, what to open, and how it may be moved.
func (s *search) conclude(a *Answer) error {
	top := a.Suspects[0]
	part, share := s.part(a)
	seen := s.heard()
	switch {
	case seen == 0:
		a.Sentence = "No findings yet. Say what it does."
	case a.Contrary:
		a.Sentence = "Two of the answers contradict each other, whatever is broken. Try both again before you open anything."
	case s.sound() && len(a.Normal) > 0:
		a.Sentence = "All of this is normal: nothing points to a broken part. " + a.Normal[0]
	case s.sound() && len(top.For) == 0 && top.Probability < 0.5:
		a.Sentence = "So far it does what a sound unit does. Enter the complaint, or do the next test."
		return nil
	case a.Sound > 0.5:
		a.Sentence = fmt.Sprintf("This is what a sound unit does (%s). The fault is elsewhere, or it did not show during "+
			"the test.", say.Chance(a.Sound))
	case top.Probability >= settledAt:
		a.Settled = true
		a.Sentence = fmt.Sprintf("%s: %s.", say.Capital(top.Name), say.Chance(top.Probability))
	case a.Next == nil && len(a.Group) > 1 && share >= settledAt:
		a.Sentence = fmt.Sprintf("In the %s (%s): one of %d that %s tells apart: %s.", say.Small(part), say.Chance(share),
			len(a.Group), s.noTest(), strings.Join(a.Group, "; "))
	case a.Next == nil && len(a.Group) > 1:
		a.Sentence = fmt.Sprintf("One of %d that %s tells apart: %s.", len(a.Group), s.noTest(), strings.Join(a.Group, "; "))
	default:
		a.Sentence = a.likeliest()
	}
	if seen == 0 {
		return nil
	}
	if a.Next == nil {
		a.Open = s.opening()
	}
	s.advise(a)
	if a.Sound > 0.5 {
		return nil
	}
	return s.moving(a)
}

// likeliest names the first suspect; where the same fault at another wheel, axle or side is
// about as likely, the fault alone, with the chance of all of them.
func (a *Answer) likeliest() string {
	top := a.Suspects[0]
	name, n, share := sideless(top.Name), 0, 0.0
	for _, x := range a.Suspects {
		if x.Sort == top.Sort && sideless(x.Name) == name && x.Probability > top.Probability/3 {
			n++
			share += x.Probability
		}
	}
	if n < 2 || name == top.Name {
		return fmt.Sprintf("Most likely: %s (%s).", top.Name, say.Chance(top.Probability))
	}
	return fmt.Sprintf("Most likely: %s (%s). Which of the %d isn't known yet.", say.A(name), say.Chance(share), n)
}

// sideless is a fault's name without the end or side that it is at.
func sideless(name string) string {
	words := slices.DeleteFunc(strings.Fields(name), func(w string) bool {
		return w == "front" || w == "rear" || w == "left" || w == "right"
	})
	return strings.Join(words, " ")
}

func (s *search) partName(id string) string {
	for _, p := range s.m.doc.Parts {
		if p.ID == id {
			return p.Called()
		}
	}
	return id
}

// noticedFirst is the part that was noticed first, where all were and it alone.
func noticedFirst(list []BrokenPart) string {
	first := ""
	for _, b := range list {
		switch {
		case b.Noticed == 0:
			return ""
		case b.Noticed == 1 && first != "":
			return ""
		case b.Noticed == 1:
			first = b.Name
		}
	}
	return first
}

// noTest is who doesn't tell suspects apart.
func (s *search) noTest() string {
	if len(s.given) > 0 {
		return "none of the tests that can be made here"
	}
	return "no test from outside"
}

// doings is what one or several do.
func doings(does string, n int) string {
	if n == 1 {
		return doing[does]
	}
	return map[string]string{breaks.Follows: "turn as they should", breaks.Slower: "turn too slowly",
		breaks.Faster: "turn too fast", breaks.Opposite: "turn the wrong way", breaks.Stays: "do not turn",
		breaks.Locked: "are locked"}[does]
}

func (s *search) name(h hypothesis) string {
	if len(h.of) == 0 {
		return "none of these"
	}
	words := make([]string, len(h.of))
	for i, k := range h.of {
		words[i] = s.m.faults[k].Name
	}
	return strings.Join(words, ", and ")
}

func together(title, what string) string {
	if title == "" {
		return what
	}
	return title + ": " + what
}

// does is what one of them does, in words that fit it.
func does(watch, what string) string {
	switch watch {
	case breaks.TheVehicle:
		return map[string]string{breaks.Follows: "drives as it should", breaks.Opposite: "drives the wrong way",
			breaks.Stays: "does not drive", breaks.Locked: "is locked, or winds up", breaks.Slower: "drives too slowly",
			breaks.Faster: "drives too fast for the engine", DontKnow: "was not seen"}[what]
	case breaks.Speedometer:
		return map[string]string{breaks.Follows: "shows speed", breaks.Opposite: "runs backward", breaks.Stays: "stays still",
			breaks.Locked: "stays still", breaks.Slower: "reads low", breaks.Faster: "reads high",
			DontKnow: "was not seen"}[what]
	}
	return doing[what]
}

// notCured says that the search goes on.
func notCured(r *Repair) string {
	return fmt.Sprintf("Found %s, fixed, and it still does the same: the search goes on.", r.FoundName)
}

// provedRight says that the repair proved the verdict.
func provedRight(r *Repair) string {
	return fmt.Sprintf("Proved: %s, as the verdict said (%s).", r.FoundName, say.Chance(r.Sure))
}

// provedGroup says that the repair proved one of a group.
func provedGroup(r *Repair, a *Answer) string {
	return fmt.Sprintf("Proved: %s, one of %d that the verdict named.", r.FoundName, len(a.Group))
}

// provedWrong says that the repair proved the verdict wrong.
func provedWrong(r *Repair) string {
	return fmt.Sprintf("Found: %s. The verdict had said %s (%s).", r.FoundName, r.SaidName, say.Chance(r.Sure))
}

// recordText sums up what repairs have proved.
func recordText(r Record) string {
	text := fmt.Sprintf("Of %d verdicts that a repair proved: named first %d, named in a group %d, wrong %d.",
		r.Proved, r.Right, r.Group, r.Wrong)
	if r.Others == 0 {
		text += fmt.Sprintf(" What is typical weighs as %d jobs beside them.", typicalJobs)
	}
	return text
}

// othersText says what other shops' repairs weigh.
func othersText(r Record) string {
	repairs := fmt.Sprintf("%d repairs of other shops adjust", r.Others)
	if r.Others == 1 {
		repairs = "One repair of another shop adjusts"
	}
	return fmt.Sprintf("%s the typical odds, which count as %d jobs. The result counts as %d jobs beside this shop's own.",
		repairs, typicalJobs, typicalJobs)
}

// loadText is the torque that reaches a part.
func loadText(a *ShockAnswer, s, nm float64) string {
	return fmt.Sprintf("%s N·m at the input × %s = %s N·m", say.Trim(a.InputNM, 0), say.Trim(1/s, 3), say.Trim(nm, 0))
}

// rating is what the part is rated for.
func rating(rated float64) string {
	return fmt.Sprintf("; rated for %s N·m", say.Trim(rated, 0))
}

func (a *ShockAnswer) say(q *ShockQuestion) {
	slices.SortStableFunc(a.Loaded, func(x, y Loaded) int { return cmpDown(x.Used, y.Used) })
	head := fmt.Sprintf("A wheel at %s rpm that grips within %s s puts %s N·m back on the input", say.Trim(q.RPM, 0),
		say.Trim(q.StopS, 3), say.Trim(a.InputNM, 0))
	if a.Slips {
		head += ", where the clutch slips"
	}
	if len(a.Loaded) == 0 || a.Loaded[0].Used == 0 {
		a.Sentence = head + ". No part in its way has a rating entered, so which gives first can't be said."
		return
	}
	w := a.Loaded[0]
	end := fmt.Sprintf(". Weakest: %s, at %s %% of its rating", say.Small(w.Name), say.Trim(100*w.Used, 0))
	if w.Used >= 1 {
		end += ": it shears first, if its rating is right"
	}
	a.Sentence = head + end + "."
}

// words tell what is seen; what all foretell alike is not worth a word.
func (v *view) words(shows []string, differs []bool) string {
	byDoing := map[string][]string{}
	var words []string
	for i, w := range v.watch {
		switch {
		case !differs[i]:
		case w == breaks.TheVehicle || w == breaks.Speedometer:
			words = append(words, v.see.Name(w)+" "+does(w, shows[i]))
		default:
			byDoing[shows[i]] = append(byDoing[shows[i]], v.see.Name(w))
		}
	}
	for _, does := range []string{breaks.Follows, breaks.Slower, breaks.Faster, breaks.Opposite, breaks.Stays,
		breaks.Locked} {
		if names := byDoing[does]; len(names) > 0 {
			words = append(words, driveline.Together(names)+" "+doings(does, len(names)))
		}
	}
	return say.Capital(strings.Join(words, "; "))
}
