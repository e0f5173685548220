package setup

import (
	"math"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/shim"
	"zorvel/core/typed"
)

// Rigid asks for the shims between a pinion's shank and the ledge that backs
// it: measured after the bearings were preloaded as usual.
type Rigid struct {
	Gap      string  `json:"gap"` // readings, as ParsePlaces reads them
	Unit     string  `json:"unit,omitempty"`
	Ledge    string  `json:"ledge"`               // yes or no: a ledge under the inner bearing's cup where depth is shimmed
	RepeatMM float64 `json:"repeat_mm,omitempty"` // of the gauge: 0.01 if left out
	Box      string  `json:"box"`
	Most     int     `json:"most_pieces,omitempty"`
	Before   string  `json:"before,omitempty"` // rotating torque with the gap open
	After    string  `json:"after,omitempty"`  // with the stack in
}

// Stacked is the answer.
type Stacked struct {
	Sentence string      `json:"sentence"`
	GapMM    float64     `json:"gap_mm"`
	MostMM   float64     `json:"most_mm"` // gap less what the gauge repeats to
	Stack    *shim.Stack `json:"stack,omitempty"`
	RestMM   *float64    `json:"rest_mm,omitempty"`
	Order    []string    `json:"order"` // from the pinion's head to the nut
	Notes    []string    `json:"notes"`
	Preload  string      `json:"preload,omitempty"`
	Spoiled  bool        `json:"spoiled"` // the stack took preload away
}

// RigidStack chooses the thickest stack that is not above the gap less the
// gauge's repeatability: a thicker one would take the preload away.
func RigidStack(q Rigid) (*Stacked, error) {
	var errs fault.Errors
	defaults(&q.Unit, typed.Millimeters)
	defaults(&q.RepeatMM, 0.01)
	defaults(&q.Most, 4)
	oneOf(&errs, "unit", &q.Unit, "the unit of readings that have none", typed.Millimeters, typed.Inches)
	oneOf(&errs, "ledge", &q.Ledge, "is there a ledge under the inner bearing's cup where depth is shimmed", "yes", "no")
	if !(q.RepeatMM > 0 && q.RepeatMM <= 0.2) {
		errs.Add("repeat_mm", "what the gauge repeats to, up to 0.2 mm")
	}
	if q.Most < 1 || q.Most > shim.MaxPieces {
		errs.Add("most_pieces", "from 1 to %d pieces", shim.MaxPieces)
	}
	places, told, problem := ParsePlaces(q.Gap, q.Unit, false)
	g := around(places, 1, q.RepeatMM)
	if problem == "" && g.Counted == 0 {
		problem = "the gap as measured, better three times, as 0.42 0.43 0.42"
	}
	if problem != "" {
		errs.Add("gap", "%s", problem)
	}
	box, err := shim.ParseBox(q.Box, q.Unit)
	if err != nil {
		errs.Add("box", "%s", strings.TrimPrefix(err.Error(), "box: "))
	}
	a := &Stacked{Order: order(q.Ledge == "yes"), Notes: told}
	before, after := rigidTorque(q.Before, "before", &errs), rigidTorque(q.After, "after", &errs)
	if err := errs.Err(); err != nil {
		return nil, err
	}
	if a.Notes == nil {
		a.Notes = []string{}
	}
	u := say.Unit(q.Unit)
	// The least of the readings decides: that is where the ledge stands closest.
	a.GapMM = g.LeastMM
	a.MostMM = say.Round(math.Max(0, g.LeastMM-q.RepeatMM), 4)
	if spread := g.GreatestMM - g.LeastMM; spread > 3*q.RepeatMM {
		a.Notes = append(a.Notes, u.F("The readings differ by %s mm: clean shank and ledge and measure again; the least "+
			"one counts.", u.Len(spread)))
	}
	if q.Ledge == "no" {
		a.Notes = append(a.Notes, "This housing has no ledge under the cup: depth is what it is, and the stack only backs the shank.")
	} else {
		a.Notes = append(a.Notes, "Depth is set under the cup first; this stack comes after depth and preload.")
	}
	if s := shim.Thickest(box, a.MostMM, q.Most); s != nil && len(s.Pieces) > 0 {
		rest := say.Round(a.GapMM-s.TotalMM, 4)
		a.Stack, a.RestMM = s, &rest
		a.Sentence = u.F("Install %s mm: %s mm of gap, less %s mm that the gauge may be off, and the thickest that the "+
			"box makes below it. %s mm stays open.", u.Len(s.TotalMM), u.Len(a.GapMM), u.Len(q.RepeatMM), u.Len(rest))
	} else {
		a.Sentence = u.F("The box makes no stack that is at most %s mm; thinner shims are needed.", u.Len(a.MostMM))
	}
	if before != nil && after != nil {
		a.compare(*before, *after)
	}
	return a, nil
}

func rigidTorque(text, field string, errs *fault.Errors) *Torque {
	if strings.TrimSpace(text) == "" {
		return nil
	}
	t, problem := ParseTorque(text)
	if problem != "" {
		errs.Add(field, "%s", problem)
	}
	return &t
}

func order(ledge bool) []string {
	out := []string{"pinion head", "inner bearing"}
	if ledge {
		out = append(out, "depth shims under its cup")
	}
	return append(out, "spacer and preload shims", "outer bearing", "shims of the gap, against the ledge", "collar that ties the stack", "washer", "nut")
}
