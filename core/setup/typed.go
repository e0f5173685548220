package setup

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/say"
	"zorvel/core/shim"
	"zorvel/core/typed"
)

var (
	lengthText = regexp.MustCompile(`^([+-]?)(\d{0,6}(?:[.,]\d{1,8})?)\s*(mm|in|inch|inches|"|thou|mil)?$`)
	angleText  = regexp.MustCompile(`^([+-]?\d{1,3}(?:[.,]\d{1,3})?)\s*(?:°|deg)?:(.+)$`)
)

// length reads one length in millimeters; unit holds where none is written.
// What can't be read is told in words.
func length(text, unit string) (mm float64, written bool, problem string) {
	m := lengthText.FindStringSubmatch(text)
	if m == nil || m[2] == "" {
		return 0, false, fmt.Sprintf("%q is no length: a number and its unit, as 0.15, 0.15mm or .006in", say.Clip(text, 20))
	}
	v, err := strconv.ParseFloat(strings.Replace(m[2], ",", ".", 1), 64)
	if err != nil {
		return 0, false, fmt.Sprintf("%q is no number", say.Clip(text, 20))
	}
	if m[1] == "-" {
		v = -v
	}
	u := m[3]
	if u == "" {
		u = unit
	}
	switch u {
	case "thou", "mil":
		v *= 0.0254
	case typed.Inches, "inch", "inches", `"`:
		v *= 25.4
	}
	return v, m[3] != "", ""
}

// Pile is a stack of shims as it was typed.
type Pile struct {
	MM     float64   `json:"mm"`
	Pieces []float64 `json:"pieces_mm"` // one, if only the sum was typed
	text   string
}

// ParsePile reads a stack: "0.80 + 0.40", "1.20", ".047in + 0.10mm", or with
// its sum, "1.20 = 0.80 + 0.40", which must add up. unit holds for figures
// without their own. Problems are told in words, "" for none.
func ParsePile(text, unit string) (Pile, string) {
	if len(text) > 200 {
		return Pile{}, "at most 200 characters"
	}
	plain := typed.Plain(text)
	if plain == "" {
		return Pile{}, "the shims installed, as 1.20 or 0.80 + 0.40; 0 for none"
	}
	sum, pieces, has := strings.Cut(plain, "=")
	if !has {
		pieces, sum = sum, ""
	}
	p := Pile{text: text}
	var total shim.Micron
	for _, t := range strings.Split(pieces, "+") {
		mm, _, problem := length(strings.TrimSpace(t), unit)
		if problem != "" {
			return Pile{}, problem + "; pieces are joined by +"
		}
		if mm < 0 || mm > 20 {
			return Pile{}, fmt.Sprintf("%s mm is no shim: from 0 to 20 mm each; thousandths are written 12 thou", say.Trim(mm, 3))
		}
		if shim.Of(mm) > 0 {
			p.Pieces = append(p.Pieces, shim.Of(mm).MM())
		}
		total += shim.Of(mm)
	}
	if len(p.Pieces) > 12 {
		return Pile{}, "at most 12 pieces in a stack"
	}
	p.MM = total.MM()
	if p.MM > 20 {
		return Pile{}, "a stack of at most 20 mm"
	}
	if has {
		want, _, problem := length(strings.TrimSpace(sum), unit)
		if problem != "" {
			return Pile{}, problem
		}
		// A sum in inches is written to tenths of thousandths.
		if math.Abs(want-p.MM) > 0.0026 {
			return Pile{}, fmt.Sprintf("the pieces add up to %s mm, not %s: count them again", say.Trim(p.MM, 3), say.Trim(want, 3))
		}
	}
	return p, ""
}

// Place is one reading around a gear.
type Place struct {
	AtDeg float64 `json:"at_deg"` // from the mark, the way it is turned
	MM    float64 `json:"mm"`     // as the gauge showed it, without a sign
	Out   string  `json:"out,omitempty"`
}

// ParseDepth reads a depth as it was measured: one length, or the gauge piece, the
// feeler and the arbor added up, as "80.00 + 0.12 + 25.40/2", where /2 takes half of
// an arbor's diameter.
func ParseDepth(text, unit string) (mm float64, problem string) {
	if len(text) > 100 {
		return 0, "at most 100 characters"
	}
	parts := strings.Split(typed.Plain(text), "+")
	if len(parts) > 5 {
		return 0, "gauge piece + feeler + arbor/2: at most five lengths"
	}
	for _, p := range parts {
		p = strings.TrimSpace(p)
		half := strings.HasSuffix(p, "/2")
		v, _, problem := length(strings.TrimSpace(strings.TrimSuffix(p, "/2")), unit)
		if problem != "" {
			return 0, problem + "; or gauge piece + feeler + arbor/2, as 80.00 + 0.12 + 25.40/2"
		}
		if half {
			v /= 2
		}
		mm += v
	}
	return say.Round(mm, 5), ""
}

// MostPlaces bounds the places around a gear.
const MostPlaces = 24

// ParsePlaces reads what a gauge showed around a gear: "0.14 0.15 - 0.17", evenly
// spaced from the mark the way it is turned, "-" where none was taken; or each with its angle,
// "0:0.14 90:0.15 200:.006in". What doesn't belong (a needle that ran backward among
// others that didn't, a figure that looks like another unit) is set
// aside and told, never averaged. signed keeps signs: a face that runs out goes
// both ways.
func ParsePlaces(text, unit string, signed bool) (places []Place, told []string, problem string) {
	if len(text) > 600 {
		return nil, nil, "at most 600 characters"
	}
	tokens := strings.FieldsFunc(strings.ReplaceAll(typed.Plain(text), ", ", " "), func(r rune) bool { return r == ' ' || r == ';' || r == '\n' })
	// A unit that stands apart belongs to the figure before it.
	var list []string
	for _, t := range tokens {
		if n := len(list); n > 0 && slices.Contains([]string{"mm", "in", "inch", "thou", `"`}, t) {
			list[n-1] += t
			continue
		}
		list = append(list, t)
	}
	if len(list) > MostPlaces {
		return nil, nil, fmt.Sprintf("at most %d places", MostPlaces)
	}
	angles, written := 0, make([]bool, 0, len(list))
	for i, t := range list {
		p := Place{AtDeg: 360 * float64(i) / float64(len(list))}
		value := t
		if m := angleText.FindStringSubmatch(t); m != nil {
			a, _ := strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64)
			if p.AtDeg = math.Mod(math.Mod(a, 360)+360, 360); math.IsNaN(p.AtDeg) {
				return nil, nil, fmt.Sprintf("%q has no angle", say.Clip(t, 20))
			}
			value = m[2]
			angles++
		}
		if value == "-" || value == "x" || value == "?" {
			told = append(told, fmt.Sprintf("Place %d was not taken.", i+1))
			places, written = append(places, Place{AtDeg: p.AtDeg, Out: "not taken"}), append(written, true)
			continue
		}
		mm, w, problem := length(value, unit)
		if problem != "" {
			return nil, nil, problem
		}
		if math.Abs(mm) > 20 {
			return nil, nil, fmt.Sprintf("%s is more than 20 mm: is a decimal point missing?", say.Clip(t, 20))
		}
		p.MM = mm
		places, written = append(places, p), append(written, w)
	}
	if angles > 0 && angles < len(list) {
		return nil, nil, "give every place its angle, as 0:0.14 90:0.15, or none"
	}
	if angles > 0 && uneven(places) {
		told = append(told, "The places are unevenly spaced; the run-out is fitted to the angles that were given.")
	}
	if !signed {
		told = append(told, backward(places)...)
		told = append(told, otherUnit(places, written)...)
	}
	return places, told, ""
}

func uneven(places []Place) bool {
	at := make([]float64, len(places))
	for i, p := range places {
		at[i] = p.AtDeg
	}
	slices.Sort(at)
	for i := range at {
		next := at[0] + 360
		if i+1 < len(at) {
			next = at[i+1]
		}
		if math.Abs(next-at[i]-360/float64(len(at))) > 1 {
			return true
		}
	}
	return false
}

// backward looks for needles that ran the other way.
func backward(places []Place) (told []string) {
	neg, pos := 0, 0
	for _, p := range places {
		switch {
		case p.Out != "":
		case p.MM < 0:
			neg++
		case p.MM > 0:
			pos++
		}
	}
	if neg == 0 {
		return nil
	}
	if pos == 0 {
		for i := range places {
			places[i].MM = math.Abs(places[i].MM)
		}
		return []string{"The dial ran backward at every place: its way is taken without the sign."}
	}
	for i := range places {
		if p := &places[i]; p.Out == "" && p.MM < 0 {
			told = append(told, fmt.Sprintf("Place %d has a minus among the others (%s mm): it is left out. If the dial ran backward there, write it without.", i+1, say.Trim(p.MM, 3)))
			p.Out = "a minus among the others"
		}
	}
	return told
}

// otherUnit looks for figures without a unit that are several times off the
// rest, as inches among millimeters are.
func otherUnit(places []Place, written []bool) (told []string) {
	var in []float64
	for _, p := range places {
		if p.Out == "" {
			in = append(in, p.MM)
		}
	}
	if len(in) < 3 {
		return nil
	}
	slices.Sort(in)
	middle := in[len(in)/2]
	for i := range places {
		p := &places[i]
		if p.Out != "" || written[i] || p.MM == 0 || middle == 0 {
			continue
		}
		if f := p.MM / middle; f > 8 || f < 1.0/8 {
			told = append(told, fmt.Sprintf("Place %d reads %s mm where the others read about %s: another unit, or a slipped point? It is left out; write its unit with it, as %sin.", i+1, say.Trim(p.MM, 4), say.Trim(middle, 3), say.Trim(p.MM, 4)))
			p.Out = "another unit?"
		}
	}
	return told
}

func plain(text string) string { return strings.ReplaceAll(typed.Plain(text), " ", "") }
