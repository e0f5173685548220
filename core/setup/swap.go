package setup

import (
	"math"
	"slices"

	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/typed"
)

// Swap asks for the depth shim of another pinion by the marks etched on both.
type Swap struct {
	Shim       string `json:"shim"` // that the old pinion had, as ParsePile reads it
	Unit       string `json:"unit,omitempty"`
	OldMark    string `json:"old_mark"`
	NewMark    string `json:"new_mark"`
	MarkUnit   string `json:"mark_unit,omitempty"`     // 0.01mm, 0.001in, mm or in
	OldUnit    string `json:"old_mark_unit,omitempty"` // of the old pinion's mark, where it is another
	Convention string `json:"convention,omitempty"`    // an ID of Conventions
	Thicker    string `json:"thicker"`                 // in or out
}

// Convention is a way in which makers mark pinions, as a sentence.
type Convention struct {
	ID       string `json:"id"`
	Sentence string `json:"sentence"`
	toward   int    // +1 where a greater mark wants the pinion nearer the ring's axis
	byShim   bool   // the mark is of the shim itself
}

// Conventions lists how marks are meant. Manuals differ; none is taken for
// granted.
func Conventions() []Convention {
	return []Convention{
		{"farther", "+ means: this pinion sits that much farther from the ring gear's axis than nominal.", -1, false},
		{"nearer", "+ means: this pinion sits that much closer to the ring gear's axis than nominal.", 1, false},
		{"distance", "The mark is the distance itself, from the pinion's head to the ring's axis.", -1, false},
		{"shim_plus", "+ means: this pinion needs a shim that much thicker than nominal.", 1, true},
		{"shim_minus", "+ means: so much is taken off the nominal shim.", -1, true},
	}
}

// Way is what one convention makes of the marks.
type Way struct {
	Convention string  `json:"convention"`
	Means      string  `json:"means"`
	NewMM      float64 `json:"new_mm"`
	Sentence   string  `json:"sentence"`
	Formula    string  `json:"formula"`
}

// Swapped is the answer.
type Swapped struct {
	Sentence string   `json:"sentence"`
	Ways     []Way    `json:"ways"` // all conventions, the chosen one first
	NewMM    *float64 `json:"new_mm,omitempty"`
	Asks     []string `json:"asks"`
}

var markUnits = map[string]float64{"0.01mm": 0.01, "0.001in": 0.0254, "mm": 1, "in": 25.4}

// SwapPinion works out the new shim:
//
//	new shim = old shim + old pinion's mark − new pinion's mark
//
// for marks that give how much farther from the ring's axis than nominal a
// pinion wants to sit, with a shim that moves it in; the other conventions
// change a sign.
func SwapPinion(q Swap) (*Swapped, error) {
	var errs fault.Errors
	defaults(&q.Unit, typed.Millimeters)
	oneOf(&errs, "unit", &q.Unit, "the unit of a shim that has none", typed.Millimeters, typed.Inches)
	shim, problem := ParsePile(q.Shim, q.Unit)
	if problem != "" {
		errs.Add("shim", "%s", problem)
	}
	oneOf(&errs, "thicker", &q.Thicker, "which way a thicker depth shim moves the pinion", "in", "out")
	oldMark := mark(q.OldMark, "old_mark", &errs)
	newMark := mark(q.NewMark, "new_mark", &errs)
	unit, known := markUnits[q.MarkUnit]
	if q.MarkUnit != "" && !known {
		errs.Add("mark_unit", "0.01mm, 0.001in, mm or in")
	}
	oldUnit := unit
	if q.OldUnit != "" {
		var ok bool
		if oldUnit, ok = markUnits[q.OldUnit]; !ok {
			errs.Add("old_mark_unit", "0.01mm, 0.001in, mm or in")
		}
	}
	list := Conventions()
	chosen := slices.IndexFunc(list, func(c Convention) bool { return c.ID == q.Convention })
	if q.Convention != "" && chosen < 0 {
		errs.Add("convention", "farther, nearer, distance, shim_plus or shim_minus")
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	a := &Swapped{Ways: []Way{}, Asks: []string{}}
	if !known {
		a.Asks = append(a.Asks, markUnit(q))
		a.Sentence = "Say what unit the marks are in; the manual has it."
		return a, nil
	}
	for _, c := range list {
		a.Ways = append(a.Ways, q.way(c, shim.MM, newMark*unit-oldMark*oldUnit))
	}
	if chosen < 0 {
		a.Asks = append(a.Asks, "Which sentence is the manual's? Marks are written with either sign.")
		a.Sentence = q.either(newMark*unit - oldMark*oldUnit)
		return a, nil
	}
	w := a.Ways[chosen]
	a.Ways = append([]Way{w}, slices.Delete(slices.Clone(a.Ways), chosen, chosen+1)...)
	if w.NewMM < 0 {
		return nil, fault.New("new_mark", "the shim would be thinner than nothing: is the unit or the sign another one?")
	}
	if math.Abs(w.NewMM-shim.MM) > 0.5 {
		a.Asks = append(a.Asks, "More than half a millimeter of change: pinions of one kind differ less. Is the unit right, and is it the pinion's mark, not its number?")
	}
	a.NewMM, a.Sentence = &w.NewMM, w.Sentence
	return a, nil
}

func mark(text, field string, errs *fault.Errors) float64 {
	v, written, problem := length(plain(text), "")
	if problem != "" || written || math.Abs(v) > 1000 {
		errs.Add(field, "the mark as it is etched, with its sign and without a unit, as +3 or −0.02")
		return 0
	}
	return v
}

// HearMark says how a pinion's mark was understood, with its sign and, where its unit
// is known, in millimeters. Faults are at "stamp" and "unit".
func HearMark(text, unit string) (string, error) {
	scale, known := markUnits[unit]
	if unit != "" && !known {
		return "", fault.New("unit", "0.01mm, 0.001in, mm or in")
	}
	var errs fault.Errors
	v := mark(text, "stamp", &errs)
	if err := errs.Err(); err != nil {
		return "", err
	}
	return Marked(v, scale), nil
}

// Marked writes a mark with its sign, and what it is in millimeters where scale, mm a
// step, isn't 0.
func Marked(v, scale float64) string {
	if v == 0 || scale == 0 {
		return say.Signed(v, 4)
	}
	return say.Signed(v, 4) + " (" + say.Signed(v*scale, 4) + " mm)"
}

// either is what the marks alone say: how much, not which way.
func (q Swap) either(diff float64) string {
	u := say.Unit(q.Unit)
	if diff == 0 {
		return "Both pinions have the same mark, so the shim stays."
	}
	return u.F("The shim gets %s mm thicker or thinner: choose the manual's sentence below.", u.Len(math.Abs(diff)))
}

// way says what a convention makes of it; diff is the new mark less the old
// one, mm.
func (q Swap) way(c Convention, shim, diff float64) Way {
	u := say.Unit(q.Unit)
	nearer := float64(c.toward) * diff // of the new pinion, mm
	shimGrows := nearer
	if !c.byShim && q.Thicker == "out" {
		shimGrows = -nearer
	}
	next := say.Round(shim+shimGrows, 4)
	w := Way{Convention: c.ID, Means: c.Sentence, NewMM: next}
	sign := "+ new mark − old mark"
	if shimGrows*diff < 0 {
		sign = "+ old mark − new mark"
	}
	w.Formula = u.F("new shim = old shim %s = %s %s %s mm", sign, u.Len(shim),
		map[bool]string{true: "−", false: "+"}[shimGrows < 0], u.Len(math.Abs(shimGrows)))
	thick := "thicker"
	if shimGrows < 0 {
		thick = "thinner"
	}
	by := u.Len(math.Abs(diff))
	switch {
	case diff == 0:
		w.Sentence = u.F("Both pinions have the same mark, so the shim stays: %s mm.", u.Len(shim))
	case c.byShim:
		w.Sentence = u.F("This pinion needs a shim %s mm %s: %s → %s mm.", by, thick, u.Len(shim), u.Len(next))
	default:
		where := "farther out"
		if nearer > 0 {
			where = "farther in"
		}
		w.Sentence = u.F("This pinion sits %s mm %s, so the shim gets %s mm %s: %s → %s mm.", by, where, by, thick, u.Len(shim), u.Len(next))
	}
	return w
}

// Turned asks what goes with what when carrier and ring go to the other side
// of the pinion.
type Turned struct {
	Left     string `json:"left"`
	Right    string `json:"right"`
	RingSide string `json:"ring_side"` // before
	Unit     string `json:"unit,omitempty"`
	// Hypoid says that the pinion's axis lies beside the ring's.
	Hypoid bool `json:"hypoid,omitempty"`
}

// TurnedOver is the answer.
type TurnedOver struct {
	Sentence string   `json:"sentence"`
	LeftMM   float64  `json:"left_mm"`
	RightMM  float64  `json:"right_mm"`
	RingSide string   `json:"ring_side"`
	Goes     []string `json:"goes"` // what goes with what
	Cautions []string `json:"cautions"`
}

// TurnCarrier says how shims change sides.
func TurnCarrier(q Turned) (*TurnedOver, error) {
	var errs fault.Errors
	defaults(&q.Unit, typed.Millimeters)
	oneOf(&errs, "unit", &q.Unit, "the unit of shims that have none", typed.Millimeters, typed.Inches)
	oneOf(&errs, "ring_side", &q.RingSide, "the side on which the ring sits now", "left", "right")
	l, p1 := ParsePile(q.Left, q.Unit)
	r, p2 := ParsePile(q.Right, q.Unit)
	if p1 != "" {
		errs.Add("left", "%s", p1)
	}
	if p2 != "" {
		errs.Add("right", "%s", p2)
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	if q.Hypoid {
		return nil, fault.New("hypoid",
			"a hypoid set can't be turned around: its pinion is below or above the ring gear's axis, and on the other side "+
				"of the carrier the teeth don't mesh")
	}
	other := map[string]string{"left": "right", "right": "left"}[q.RingSide]
	u := say.Unit(q.Unit)
	return &TurnedOver{
		Sentence: u.F("Shims change sides with their bearing: left %s, right %s mm. Then set carrier bearing "+
			"preload again, and check backlash and pattern.", u.Len(r.MM), u.Len(l.MM)),
		LeftMM: r.MM, RightMM: l.MM, RingSide: other,
		Goes: []string{
			u.F("The bearing and cup of the ring's side, with its %s mm of shims, go to the %s.",
				u.Len(map[string]float64{"left": l.MM, "right": r.MM}[q.RingSide]), other),
			u.F("The other bearing and cup, with its %s mm, go to the %s.",
				u.Len(map[string]float64{"left": r.MM, "right": l.MM}[q.RingSide]), q.RingSide),
			"Set carrier bearing preload again: bearings and cups seat differently on the other side.",
			"Bearing caps stay where they were bored: each in its own place, the way it was.",
			"The pinion keeps its depth shims and its preload.",
			"The same flanks of the teeth pull as before for the same turn of the pinion.",
			"Axle shafts of unequal length, and what locks or lets go one side, change sides with the carrier or don't fit: look first.",
		},
		Cautions: []string{
			"The wheels now turn the other way for the same turn of the pinion: turn the pinion by hand and look at the wheels before closing.",
			"Not every housing has room for the ring on its other side: turn it all the way round by hand.",
		},
	}, nil
}
