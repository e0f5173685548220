// Package workcard holds the order of hand work: steps with what, with what,
// what to write in and to look at, each caution where it is. A card is data;
// what was checked off, by whom and when, is kept with the unit.
package workcard

import (
	"fmt"
	"slices"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// Step is one thing to do.
type Step struct {
	ID      string `json:"id"`
	Do      string `json:"do"`
	With    string `json:"with,omitempty"`    // tool or material
	Figure  string `json:"figure,omitempty"`  // what to write in: the manual's figure, a count
	Look    string `json:"look,omitempty"`    // what to look at
	Caution string `json:"caution,omitempty"` // what can hurt
}

// Card is a job's steps in order.
type Card struct {
	ID    string `json:"id"`
	Title string `json:"title"`
	Steps []Step `json:"steps"`
}

// Cards lists the cards that ship.
func Cards() []Card {
	return []Card{{ID: "change_gears", Title: "Swap change gears", Steps: []Step{
		{ID: "stand", Do: "Car level, wheels chocked, neutral, engine off, key out", Caution: "Never under a car on a jack alone; a hot drive and exhaust burn."},
		{ID: "tray", Do: "Tray below the cover; drain, or tilt so that the oil runs forward", With: "tray for a liter", Look: "flakes or a burnt smell in the oil", Caution: "The cover holds about half a liter of its own; hot oil, eyes and hands protected."},
		{ID: "cover", Do: "Loosen the cover's screws crosswise; draw it off with its bearings", With: "socket, soft mallet", Look: "which screws are longer: they go back behind the guard"},
		{ID: "out", Do: "Count both gears as they come out, and which sat on the input shaft", Figure: "teeth on the input shaft, teeth on the pinion shaft", Look: "a remembered count is no evidence"},
		{ID: "faces", Do: "Wipe both shafts and the seats; look at teeth, splines and bearings", With: "lint-free cloth", Look: "pitting, a bruised spline, a bearing that feels rough"},
		{ID: "in", Do: "Count both gears that go in, and put each on its shaft", Figure: "teeth on the input shaft, teeth on the pinion shaft", Look: "a pair from one box, not mixed; both seated, faces flush"},
		{ID: "turn", Do: "Turn the drive by hand and watch the wheels", Look: "forward is forward; it turns freely all the way round", Caution: "Nobody in the line of a turning wheel."},
		{ID: "gasket", Do: "Gasket or ring: whole and seated, or new", With: "gasket, a little grease"},
		{ID: "close", Do: "Cover on, screws in by hand first, then crosswise to the manual's torque", With: "torque wrench, low range", Figure: "torque by the manual", Caution: "Screws into aluminum tear out: low torque, full thread behind a guard."},
		{ID: "oil", Do: "Refill to the level as it is mounted", Figure: "oil and quantity", Look: "filler and breather at the top as it lies now"},
		{ID: "breather", Do: "Breather: open, or routed up to a catch bottle", Look: "some block it for a short race and others lose seals that way; open is the safe choice"},
		{ID: "spare", Do: "Spare screws for the output flanges in the box; flanges tight", With: "wrench"},
		{ID: "run", Do: "Run it on stands for a minute, then look for leaks", Caution: "Wheels turn: stands on rated points, nobody beside them."},
		{ID: "log", Do: "Log the set by its counts, with track, tire and weather"},
	}}}
}

// Check is a step checked off.
type Check struct {
	Step   string `json:"step"`
	Figure string `json:"figure,omitempty"`
	Note   string `json:"note,omitempty"`
}

// Checks is a card as far as it is done.
type Checks struct {
	Card   string  `json:"card"`
	Checks []Check `json:"checks"`
}

// Sheet is a card with what is done of it.
type Sheet struct {
	Card    Card     `json:"card"`
	Done    int      `json:"done"`
	Missing []string `json:"missing"` // what is still to do, or to write in
	Title   string   `json:"title"`
}

// Sum holds check-offs against their card. It refuses a step that the card does
// not have, and one that is checked twice.
func Sum(c Checks) (*Sheet, error) {
	i := slices.IndexFunc(Cards(), func(k Card) bool { return k.ID == c.Card })
	if i < 0 {
		return nil, fault.New("card", "there is no such card")
	}
	s := &Sheet{Card: Cards()[i], Missing: []string{}}
	done := map[string]Check{}
	for k, x := range c.Checks {
		at := fmt.Sprintf("checks/%d/step", k)
		if !slices.ContainsFunc(s.Card.Steps, func(st Step) bool { return st.ID == x.Step }) {
			return nil, fault.New(at, "the card has no such step")
		}
		if _, twice := done[x.Step]; twice {
			return nil, fault.New(at, "checked off twice")
		}
		done[x.Step] = x
	}
	for _, st := range s.Card.Steps {
		x, ok := done[st.ID]
		switch {
		case !ok:
			s.Missing = append(s.Missing, st.Do)
		case st.Figure != "" && strings.TrimSpace(x.Figure) == "":
			s.Missing = append(s.Missing, "write in: "+st.Figure+" ("+say.Small(st.Do)+")")
			s.Done++
		default:
			s.Done++
		}
	}
	s.Title = fmt.Sprintf("%s: %d of %d steps", s.Card.Title, s.Done, len(s.Card.Steps))
	if s.Done == len(s.Card.Steps) {
		s.Title = s.Card.Title + ": all steps done"
		if len(s.Missing) > 0 {
			s.Title += fmt.Sprintf(", %d figures not written in", len(s.Missing))
		}
	}
	return s, nil
}
