package practice

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/findfault"
	"zorvel/core/say"
)

// brokenKind hides a broken part in a whole truck, car or boat: which part is it?
func brokenKind() kind {
	return kind{
		id: "broken", title: "Which part is broken?",
		about: "A complaint comes in. Test, look and listen, then name the part before anything is opened.",
		levels: []string{
			"A rear-drive van: something in it doesn't turn what it should",
			"A rear-drive van: broken, worn or leaking",
			"A four-wheel-drive truck",
			"A truck with a lockable center, the race car: now and then a test is seen wrong",
			"A skiff, a ferry tender, tandem axles: now and then a test is seen wrong",
		},
		draw: func(t Task) (hidden, error) { return newBrokenUnit(t) },
	}
}

// drivelines are the layouts of each level.
var drivelines = map[int][]string{1: {"rear_drive"}, 2: {"rear_drive", "transaxle"}, 3: {"part_time", "axle_low"},
	4: {"full_time", "change_gears"}, 5: {"outboard", "stern_drive", "tandem"}}

// mostFound bounds the tests of one unit: with its complaint, as many as are weighed at once.
const mostFound = findfault.MostEvidence - 6

type brokenUnit struct {
	task   Task
	layout *driveline.Layout
	h      *findfault.Hidden
	found  []findfault.Evidence
	made   map[int]bool
	top    []float64 // of the hidden fault and those alike, after each finding

	chocked, keyOut, up bool
}

// seenWrong is how often a test is seen wrong in the levels where it may be.
const seenWrong = 0.04

func newBrokenUnit(t Task) (*brokenUnit, error) {
	r := t.source("unit")
	ids := drivelines[t.Level]
	id := ids[r.IntN(len(ids))]
	u := &brokenUnit{task: t, made: map[int]bool{}, layout: layoutOf(id)}
	m, err := findfault.NewModel(u.layout.Document)
	if err != nil {
		return nil, err
	}
	wrong := 0.0
	if t.Level >= 4 {
		wrong = seenWrong
	}
	u.h, err = m.Hide(r.Uint64(), wrong, func(f findfault.Fault) bool { return t.Level > 1 || f.Structural() })
	return u, err
}

// layoutOf is a ready driveline by its name; nil where there is none.
func layoutOf(id string) *driveline.Layout {
	list := driveline.Layouts()
	for i := range list {
		if list[i].ID == id {
			return &list[i]
		}
	}
	return nil
}

func (u *brokenUnit) boat() bool { return u.layout.Document.Lies == driveline.Boat }

func (u *brokenUnit) story() string {
	s := u.layout.Name + ". It comes in with this:"
	said := map[string]bool{}
	for _, w := range u.h.Brought() {
		w = say.Capital(strings.TrimSuffix(w, ": yes"))
		if !said[w] {
			s += " " + w + "."
		}
		said[w] = true
	}
	return s
}

func (u *brokenUnit) caution() string {
	if u.boat() {
		return "Key and lanyard out before a hand goes near the propeller. Turn the driveshaft the engine's way only."
	}
	return "On jack stands with all driven wheels free, engine off, key out. A sheared shaft lets it roll in gear: " +
		"chock both ways first."
}

func (u *brokenUnit) asked() Asked {
	a := Asked{Words: "Which part is it?"}
	for _, f := range u.h.Faults() {
		a.Choices = append(a.Choices, Choice{f.ID, say.Capital(f.Name)})
	}
	slices.SortStableFunc(a.Choices, func(x, y Choice) int { return strings.Compare(x.Words, y.Words) })
	return a
}

func (u *brokenUnit) machine() *Machine { return nil }

func (u *brokenUnit) driveline() *driveline.Document { return &u.layout.Document }

func (u *brokenUnit) offers() []Offer {
	out := []Offer{}
	switch {
	case u.boat() && !u.keyOut:
		out = append(out, Offer{Do: "key", Group: inSafe, Label: "Key and lanyard out", Minutes: minutesLever})
	case !u.boat() && !u.chocked:
		out = append(out, Offer{Do: "chock", Group: inSafe, Label: "Chock the wheels both ways", Minutes: minutesChock})
	}
	for i, t := range u.h.Tests(u.up) {
		if u.made[i] {
			continue
		}
		out = append(out, Offer{Do: "test", On: strconv.Itoa(i), Group: groupOf(t), Label: nameOf(t),
			Minutes: t.Minutes, Part: t.Part})
	}
	return out
}

// nameOf is a test with how the unit is for it.
func nameOf(t findfault.Looked) string {
	if len(t.Setup) == 0 {
		return t.Title
	}
	return t.Title + ": " + strings.Join(t.Setup, ", ")
}

func groupOf(t findfault.Looked) string {
	switch {
	case t.Sign:
		return inLook
	case t.Road:
		return "drive"
	}
	return inTurn
}

func (u *brokenUnit) do(a Act) (Done, error) {
	switch a.Do {
	case "key":
		u.keyOut = true
		return Done{Words: "Key and lanyard out", Minutes: minutesLever}, nil
	case "chock":
		u.chocked = true
		return Done{Words: "Chocked both ways", Minutes: minutesChock}, nil
	}
	i, err := strconv.Atoi(a.On)
	tests := u.h.Tests(u.up)
	if err != nil || i < 0 || i >= len(tests) {
		return Done{}, fault.New("on", "there is no such test")
	}
	if len(u.found) >= mostFound {
		return Done{}, fault.New("on", "%d tests of one unit are enough: decide", mostFound)
	}
	t := tests[i]
	e, err := u.h.Show(i)
	if err != nil {
		return Done{}, err
	}
	d := Done{Words: nameOf(t), Saw: u.h.Words(e) + ".", Minutes: t.Minutes, Forgot: u.forgot(t)}
	u.found, u.made[i], u.up = append(u.found, e), true, u.up || t.Lifts
	return d, nil
}

// forgot is what should have been done before a test.
func (u *brokenUnit) forgot(t findfault.Looked) string {
	switch {
	case u.boat() && !u.keyOut && !t.Sign && !t.Road:
		return "Key and lanyard were still in: an engine that fires takes the hand at the propeller."
	case !u.boat() && t.Lifts && !u.chocked:
		return "It was lifted without chocks: a sheared shaft lets it roll, in gear or not."
	}
	return ""
}

func (u *brokenUnit) review(a Act, log []Done) (*Review, error) {
	alike, err := u.h.Alike()
	if err != nil {
		return nil, err
	}
	truth := u.h.Truth()
	r := &Review{Right: slices.Contains(alike, a.Answer), Truth: say.Small(truth.Name), Answer: u.nameOf(a.Answer),
		Steps: []Finding{}, Best: []Finding{}, Mistakes: []Mistake{}}
	if err := u.retrace(r, alike); err != nil {
		return nil, err
	}
	if r.Cheapest, r.Best, err = u.cheapest(alike); err != nil {
		return nil, err
	}
	u.judge(r, a, log)
	return r, nil
}

func (u *brokenUnit) nameOf(id string) string {
	for _, f := range u.h.Faults() {
		if f.ID == id {
			return say.Small(f.Name)
		}
	}
	return id
}

// retrace weighs the findings one after the other.
func (u *brokenUnit) retrace(r *Review, alike []string) error {
	for i := range u.found {
		by, top, err := u.h.Weigh(u.found[:i+1])
		if err != nil {
			return err
		}
		r.Steps = append(r.Steps, Finding{Words: say.Capital(u.h.Words(u.found[i])), Meaning: fmt.Sprintf("%s leads, %s.",
			say.Capital(top.Name), say.Chance(by[top.ID]))})
		u.top = append(u.top, sum(by, alike))
	}
	return nil
}

func sum(by map[string]float64, ids []string) float64 {
	p := 0.0
	for _, id := range ids {
		p += by[id]
	}
	return min(p, 1)
}

func (u *brokenUnit) judge(r *Review, a Act, log []Done) {
	add := func(drill, format string, args ...any) {
		r.Mistakes = append(r.Mistakes, Mistake{fmt.Sprintf(format, args...), drill})
	}
	r.forgot(log)
	by, top, err := u.h.Weigh(u.found)
	if err != nil {
		return
	}
	if needless := u.needless(); needless > 0 {
		add("fewest", "%s showed next to nothing.", say.Capital(say.Count(needless, "test")))
	}
	if !r.Right && by[top.ID] > by[a.Answer]+0.1 {
		add("fewest", "What you found points to the %s, %s, rather than to what you named.", say.Small(top.Name),
			say.Chance(by[top.ID]))
	}
	switch sure := by[a.Answer]; {
	case float64(a.Sure)/100-sure > 0.3:
		add("", "You said %d %% sure; what you found makes it %s.", a.Sure, say.Chance(sure))
	case r.Right && sure-float64(a.Sure)/100 > 0.3:
		add("", "You said only %d %% sure; what you found makes it %s.", a.Sure, say.Chance(sure))
	}
}

// needless counts the findings that moved the chance of the hidden fault by less than a
// hundredth.
func (u *brokenUnit) needless() int {
	n := 0
	for i := 1; i < len(u.top); i++ {
		if d := u.top[i] - u.top[i-1]; d < 0.01 && d > -0.01 {
			n++
		}
	}
	return n
}

// mostNext bounds the way of the proposed tests.
const mostNext = 12

// cheapest follows the tests that tell most per minute, seen rightly, and then leaves out
// what wasn't needed: single tests and pairs of them, the quickest first, that leave the
// hidden fault as likely as all of them do.
func (u *brokenUnit) cheapest(alike []string) (float64, []Finding, error) {
	var list []int
	var seen []findfault.Evidence
	up := false
	for range mostNext {
		i, more, err := u.h.Next(seen, up)
		if err != nil {
			return 0, nil, err
		}
		if !more {
			break
		}
		e, err := u.h.Rightly(i)
		if err != nil {
			return 0, nil, err
		}
		list, seen, up = append(list, i), append(seen, e), up || u.h.Tests(up)[i].Lifts
	}
	enough, _, err := u.h.Weigh(seen)
	if err != nil {
		return 0, nil, err
	}
	list, err = u.fewer(list, alike, sum(enough, alike)-0.03)
	if err != nil {
		return 0, nil, err
	}
	return u.way(list)
}

// fewer are the quickest of some tests that leave the fault so likely: all sets of one and
// two, or all of them.
func (u *brokenUnit) fewer(list []int, alike []string, enough float64) ([]int, error) {
	best, least := list, u.minutes(list)
	for i := range list {
		for k := i; k < len(list); k++ {
			some := []int{list[i], list[k]}[:1+min(1, k-i)]
			t := u.minutes(some)
			if t >= least {
				continue
			}
			var seen []findfault.Evidence
			for _, n := range some {
				e, err := u.h.Rightly(n)
				if err != nil {
					return nil, err
				}
				seen = append(seen, e)
			}
			by, _, err := u.h.Weigh(seen)
			if err != nil {
				return nil, err
			}
			if sum(by, alike) >= enough {
				best, least = some, t
			}
		}
	}
	return best, nil
}

// minutes are what tests take in this order, made safe before the first that needs it.
func (u *brokenUnit) minutes(list []int) float64 {
	t, up, safe := 0.0, false, false
	for _, i := range list {
		x := u.h.Tests(up)[i]
		t += x.Minutes
		if !safe && (x.Lifts || u.boat() && !x.Sign && !x.Road) {
			safe = true
			t += minutesChock
			if u.boat() {
				t += minutesLever - minutesChock
			}
		}
		up = up || x.Lifts
	}
	return t
}

// way tells what tests told, one after the other.
func (u *brokenUnit) way(list []int) (float64, []Finding, error) {
	out := []Finding{}
	var seen []findfault.Evidence
	for n, i := range list {
		e, err := u.h.Rightly(i)
		if err != nil {
			return 0, nil, err
		}
		seen = append(seen, e)
		by, top, err := u.h.Weigh(seen)
		if err != nil {
			return 0, nil, err
		}
		out = append(out, Finding{say.Capital(u.h.Words(e)), fmt.Sprintf("%s leads, %s.", say.Capital(top.Name),
			say.Chance(by[top.ID])), say.Round(u.minutes(list[:n+1]), 1)})
	}
	return u.minutes(list), out, nil
}
