package setup

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/typed"
)

// Pasted is a maker's sheet as it was copied: a figure a line.
type Pasted struct {
	Text   string `json:"text"`
	Unit   string `json:"unit,omitempty"` // of lengths without their own: mm (default) or in
	Source string `json:"source,omitempty"`
}

// Sheet is what was read from it, and the lines that weren't.
type Sheet struct {
	Figures []Figure `json:"figures"`
	Unread  []string `json:"unread"`
}

// mostPasted bounds a pasted sheet, characters.
const mostPasted = 4000

// named tells a line's figure: every group of words must have one in the line. The
// first that fits wins, so the narrower stand before the wider.
var named = []struct {
	figure string
	groups [][]string
}{
	{FigureGearRunout, [][]string{{"radial"}, {"run"}}},
	{FigureBackFace, [][]string{{"back face", "back-face", "ring"}, {"runout", "run-out", "run out"}}},
	{FigureDifference, [][]string{{"backlash"}, {"difference", "variation", "vary", "between places"}}},
	{FigureSidePlay, [][]string{{"side gear"}, {"play", "clearance", "backlash"}}},
	{FigureBacklash, [][]string{{"backlash"}}},
	{FigureBreakaway, [][]string{{"breakaway", "break-away", "break away"}}},
	{FigureClutchGap, [][]string{{"clutch"}, {"clearance", "gap", "play"}}},
	{FigureTotalUsed, [][]string{{"total"}, {"torque", "preload"}, {"used", "old", "reused"}}},
	{FigureTotalNew, [][]string{{"total"}, {"torque", "preload"}}},
	{FigurePinionUsed, [][]string{{"pinion"}, {"torque", "preload"}, {"used", "old", "reused"}}},
	{FigurePinionNew, [][]string{{"pinion"}, {"torque", "preload"}}},
	{FigureDepth, [][]string{{"depth"}}},
}

var sheetFigure = regexp.MustCompile(`(\d*[.,]?\d+)(?:\s*(?:mm|in|")?\s*(?:-|to|\.\.+|…)\s*(\d*[.,]?\d+))?` +
	`\s*(mm|thou|mil|n·m|nm|n-m|n\.m|(?:in|ft)[ .-]*lbf?s?\.?|lbf?[ .·*-]*(?:in|ft)\.?|kgf?[ .·*-]*c?m|inch(?:es)?|in\.?|")?(?:\s|$|[),;.])`)

// ReadSheet reads a maker's figures as they are copied from a manual or a message, a
// figure a line or between semicolons: "Backlash 0.15–0.20 mm", "Pinion preload, used
// bearings: 8 to 12 in-lb", "Ring gear runout max .003 in". A line without a figure that
// a set-up uses, or without a unit that a torque needs, is given back unread.
func ReadSheet(p Pasted) (*Sheet, error) {
	if len(p.Text) > mostPasted {
		return nil, fault.New("text", "at most %d characters: paste the set-up figures alone", mostPasted)
	}
	defaults(&p.Unit, typed.Millimeters)
	if p.Unit != typed.Millimeters && p.Unit != typed.Inches {
		return nil, fault.New("unit", "the unit of figures that have none: mm or in")
	}
	s := &Sheet{Figures: []Figure{}, Unread: []string{}}
	for line := range strings.FieldsFuncSeq(p.Text, func(r rune) bool { return r == '\n' || r == ';' }) {
		text := typed.Plain(line)
		if text == "" {
			continue
		}
		f, ok := p.line(text)
		if !ok || len(s.Figures) >= MostFigures || f.Check() != nil {
			s.Unread = append(s.Unread, say.Clip(strings.TrimSpace(line), 120))
			continue
		}
		s.Figures = append(slices.DeleteFunc(s.Figures, func(was Figure) bool { return was.Figure == f.Figure }), f)
	}
	return s, nil
}

func (p Pasted) line(text string) (Figure, bool) {
	f := Figure{Source: strings.TrimSpace(p.Source)}
	for _, n := range named {
		if fits(text, n.groups) {
			f.Figure = n.figure
			break
		}
	}
	i := slices.IndexFunc(Kinds(), func(k Kind) bool { return k.ID == f.Figure })
	if i < 0 {
		return f, false
	}
	kind := Kinds()[i]
	all := sheetFigure.FindAllStringSubmatch(text, -1)
	if len(all) == 0 {
		return f, false
	}
	// Where a line has several numbers, the one with a range or a unit is the figure.
	m := all[0]
	for _, x := range all {
		if (x[2] != "" || x[3] != "") && m[2] == "" && m[3] == "" {
			m = x
		}
	}
	low, ok1 := decimalOf(m[1])
	high, ok2 := decimalOf(m[2])
	switch {
	case !ok1:
		return f, false
	case !ok2:
		f.High = &low
		if kind.Shape == "exact" {
			f.Low = &low
		}
	default:
		f.Low, f.High = &low, &high
	}
	f.Unit = p.unitOf(m[3], kind)
	return f, f.Unit != ""
}

// unitOf is a unit as sheets have it; a torque needs its own.
func (p Pasted) unitOf(text string, kind Kind) string {
	if kind.Turns {
		return torqueUnit(strings.TrimSuffix(text, "."))
	}
	switch strings.TrimSuffix(text, ".") {
	case "":
		return p.Unit
	case "mm":
		return typed.Millimeters
	case "thou", "mil":
		return "thou"
	case "in", "inch", "inches", `"`:
		return typed.Inches
	}
	return ""
}

func fits(text string, groups [][]string) bool {
	for _, g := range groups {
		if !slices.ContainsFunc(g, func(w string) bool { return strings.Contains(text, w) }) {
			return false
		}
	}
	return true
}

func decimalOf(text string) (float64, bool) {
	v, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
	return v, err == nil && text != ""
}
