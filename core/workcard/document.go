package workcard

import (
	"bytes"
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"

	"zorvel/core/fault"
)

// Bounds of a card; the contract has the same.
const (
	MostSteps      = 80
	MostConditions = 12
	MostText       = 400
	MostEntries    = 500
)

var idText = regexp.MustCompile(`^[a-z][a-z0-9_]{0,39}$`)

// Parse reads a card's document strictly: one JSON object of the shape of Card,
// no field that is not known, nothing after it.
func Parse(data []byte) (Card, error) {
	var c Card
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(&c); err != nil {
		return c, fault.New("", "this is no card: %s", err)
	}
	if d.More() {
		return c, fault.New("", "something follows the card")
	}
	return c, c.Check()
}

// Check refuses what can't be done or read.
func (c Card) Check() error {
	var errs fault.Errors
	if !idText.MatchString(c.ID) {
		errs.Add("id", "a short name in small letters, digits and _, as open_axle")
	}
	text := func(at, v string, needed bool) {
		switch {
		case needed && strings.TrimSpace(v) == "":
			errs.Add(at, "is needed")
		case utf8.RuneCountInString(v) > MostText:
			errs.Add(at, "at most %d characters", MostText)
		case strings.ContainsFunc(v, func(r rune) bool { return r < ' ' }):
			errs.Add(at, "one line")
		}
	}
	text("title", c.Title, true)
	text("refill", c.Refill, false)
	if len(c.For) > 20 {
		errs.Add("for", "at most 20 kinds of part")
	}
	if len(c.Conditions) > MostConditions {
		errs.Add("conditions", "at most %d questions", MostConditions)
	}
	conditions := map[string]bool{}
	for i, x := range c.Conditions {
		at := fmt.Sprintf("conditions/%d/", i)
		if !idText.MatchString(x.ID) || conditions[x.ID] {
			errs.Add(at+"id", "a short name of its own, as brake_lines")
		}
		conditions[x.ID] = true
		text(at+"ask", x.Ask, true)
	}
	if len(c.Steps) == 0 || len(c.Steps) > MostSteps {
		errs.Add("steps", "from 1 to %d steps", MostSteps)
	}
	seen := map[string]bool{}
	for i, s := range c.Steps {
		at := fmt.Sprintf("steps/%d/", i)
		if !idText.MatchString(s.ID) || seen[s.ID] {
			errs.Add(at+"id", "a short name of its own, as drain")
		}
		seen[s.ID] = true
		text(at+"do", s.Do, true)
		for field, v := range map[string]string{"with": s.With, "figure": s.Figure, "look": s.Look, "caution": s.Caution, "off": s.Off, "back": s.Back} {
			text(at+field, v, field == "back" && s.Off != "")
		}
		if s.Bench != "" && !slices.Contains(Benches, s.Bench) {
			errs.Add(at+"bench", "one of %s", strings.Join(Benches, ", "))
		}
		if s.Picture != "" && !slices.Contains(Pictures, s.Picture) {
			errs.Add(at+"picture", "one of %s", strings.Join(Pictures, ", "))
		}
		for k, w := range s.When {
			if !conditions[strings.TrimPrefix(w, "!")] {
				errs.Add(fmt.Sprintf("%swhen/%d", at, k), "the card does not ask %q", w)
			}
		}
		if len(s.When) > 4 || len(s.Parts) > 12 {
			errs.Add(at+"parts", "at most 12 parts and 4 conditions")
		}
		for k, p := range s.Parts {
			text(fmt.Sprintf("%sparts/%d", at, k), p, true)
		}
		if !(s.Minutes >= 0 && s.Minutes <= 600) {
			errs.Add(at+"minutes", "from 0 to 600")
		}
	}
	return errs.Err()
}
