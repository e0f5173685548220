package gearcase

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/setup"
	"zorvel/core/typed"
)

// Place is where a shim stack sits and what it moves.
type Place struct {
	ID        string  `json:"id"` // the letter that the stamp has for it: P, F or R
	Name      string  `json:"name"`
	NominalMM float64 `json:"nominal_mm"`
	// Thicker says which way a thicker shim moves the gear: away from its mesh
	// or toward it.
	Thicker string  `json:"thicker"`
	TolMM   float64 `json:"tol_mm,omitempty"` // 0.02 if left out
}

// Conventions of a stamp: what a plus says. Manuals use all four.
const (
	PlusThicker = "plus_thicker" // add it to the nominal shim
	PlusThinner = "plus_thinner" // take it from the nominal shim
	PlusFar     = "plus_far"     // with the nominal shim the gear would sit that much too far from its mesh
	PlusNear    = "plus_near"    // … too near
)

// Units of a stamp.
const (
	Hundredths  = "0.01 mm"
	Thousandths = "0.001 in"
)

// Mark is one gear's deviation as it was read.
type Mark struct {
	ID    string `json:"id"`
	Value int    `json:"value"`
}

const unnamed = "The stamp says nothing of"

var markText = regexp.MustCompile(`([A-Za-z])\s*[:=]?\s*([+-]?)\s*(\d+|\?)`)

// ParseStamp reads a line as it stands on the case: "P -3 F +1 R 0", letters in
// any order. What is missing or can't be read is asked, not guessed.
func ParseStamp(text string, places []Place) (marks []Mark, asks []string, err error) {
	if len(text) > 200 {
		return nil, nil, fault.New("stamp", "at most 200 characters")
	}
	s := typed.Plain(text)
	found := map[string]bool{}
	rest := s
	for _, m := range markText.FindAllStringSubmatch(s, -1) {
		rest = strings.Replace(rest, m[0], "", 1)
		id := strings.ToUpper(m[1])
		known := false
		for _, p := range places {
			known = known || p.ID == id
		}
		switch {
		case !known:
			return nil, nil, fault.New("stamp", "%s belongs to no gear here; the letters are %s", id, letters(places))
		case found[id]:
			return nil, nil, fault.New("stamp", "%s is there twice", id)
		}
		found[id] = true
		if m[3] == "?" {
			asks = append(asks, cannotRead(id))
			continue
		}
		v, err := strconv.Atoi(m[3])
		if err != nil || v > 1000 {
			return nil, nil, fault.New("stamp", "%s %s is no deviation: a few hundredths of a millimeter or thousandths of an inch are usual", id, say.Clip(m[3], 12))
		}
		if v != 0 && m[2] == "" {
			asks = append(asks, noSign(id, v))
			continue
		}
		if m[2] == "-" {
			v = -v
		}
		marks = append(marks, Mark{ID: id, Value: v})
	}
	if left := strings.Trim(rest, " ,;/|.()[]"); left != "" {
		return nil, nil, fault.New("stamp", "%q can't be read; it is written as P -3 F +1 R 0", say.Clip(left, 40))
	}
	for _, p := range places {
		if !found[p.ID] {
			asks = append(asks, fmt.Sprintf(unnamed+" %s (%s): is it worn off, or the nominal one?", p.ID, say.Small(p.Name)))
		}
	}
	return marks, asks, nil
}

func letters(places []Place) string {
	var out []string
	for _, p := range places {
		out = append(out, p.ID)
	}
	return strings.Join(out, ", ")
}

// Heard is a stamp as it was understood, to be said while it is typed.
type Heard struct {
	Said string `json:"said"`
	// Head is what the stamp says, with the unit that most manuals mean. Empty for a
	// pinion's mark.
	Head  string      `json:"head,omitempty"`
	Marks []HeardMark `json:"marks,omitempty"`
	Asks  []string    `json:"asks"`
}

// HeardMark is one gear's figure, by both units that stamps are in.
type HeardMark struct {
	ID          string  `json:"id"`
	Name        string  `json:"name"`
	Value       int     `json:"value"`
	Hundredths  float64 `json:"hundredths_mm"`  // if they are hundredths of a millimeter
	Thousandths float64 `json:"thousandths_mm"` // if they are thousandths of an inch
}

// Hear says how a stamp was understood, each gear's figure with its sign and, where
// the unit is known, in millimeters; whole is whether every gear must be named. Faults
// are at "stamp" and "unit".
func Hear(text, unit string, places []Place, whole bool) (*Heard, error) {
	var scale float64
	switch unit {
	case "":
	case Hundredths:
		scale = 0.01
	case Thousandths:
		scale = 0.0254
	default:
		return nil, fault.New("unit", "%s or %s", Hundredths, Thousandths)
	}
	marks, asks, err := ParseStamp(text, places)
	if err != nil {
		return nil, err
	}
	h := &Heard{Asks: []string{}}
	for _, ask := range asks {
		if whole || !strings.HasPrefix(ask, unnamed) {
			h.Asks = append(h.Asks, ask)
		}
	}
	for i, m := range marks {
		if i > 0 {
			h.Said += ", "
		}
		h.Said += m.ID + " " + setup.Marked(float64(m.Value), scale)
		mark := HeardMark{ID: m.ID, Value: m.Value, Hundredths: say.Round(0.01*float64(m.Value), 4),
			Thousandths: say.Round(0.0254*float64(m.Value), 4)}
		for _, p := range places {
			if p.ID == m.ID {
				mark.Name = p.Name
			}
		}
		h.Marks = append(h.Marks, mark)
	}
	h.Head = head(h.Marks, unit)
	return h, nil
}
