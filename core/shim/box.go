package shim

import (
	"regexp"
	"strconv"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/typed"
)

func itoa(i int) string { return strconv.Itoa(i) }

// Sizes without a unit that are asked about: thinner than shims are made, or, in
// inches, thicker.
const (
	leastShim = 0.02 // mm
	mostShim  = 1.5  // mm
)

// bare is a size without a unit, mm.
func bare(v float64, unit, text string) (float64, error) {
	switch {
	case unit == typed.Inches && v*25.4 > mostShim:
		return 0, fault.New("box", "%s in is thicker than shims are: write its unit, as %s mm or %s in", text, text, text)
	case unit == typed.Inches:
		return v * 25.4, nil
	case v > 0 && v < leastShim:
		return 0, fault.New("box", "%s mm is thinner than shims are: write its unit, as %s in or %s mm", text, text, text)
	}
	return v, nil
}

var pieceText = regexp.MustCompile(`^([0-9]*[.,]?[0-9]+)\s*(mm|in|inch|inches|"|thou)?\s*(?:[x×*]\s*([0-9]{1,4}))?$`)

// ParseBox reads a box as it is written down: "0.05 x4, 0.10 x6, .004in x2"; a
// size without its count is one piece; inches and millimeters may be mixed, each with
// its unit, and a size without one is in unit, millimeters if that is empty; equal sizes
// are added up. A size without a unit that no shim has in it is asked about.
func ParseBox(text, unit string) ([]Shim, error) {
	if len(text) > 2000 {
		return nil, fault.New("box", "at most 2000 characters")
	}
	var out []Shim
	at := map[Micron]int{}
	for _, part := range strings.FieldsFunc(typed.Plain(text), func(r rune) bool { return r == ';' || r == '\n' }) {
		for _, p := range splitList(part) {
			p = strings.ToLower(strings.TrimSpace(p))
			if p == "" {
				continue
			}
			m := pieceText.FindStringSubmatch(p)
			if m == nil {
				return nil, fault.New("box", "%q is no shim: a thickness, its unit if it is not mm, and how many, as 0.10 x4 or .004in x2", p)
			}
			v, err := strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64)
			if err != nil {
				return nil, fault.New("box", "%q is no thickness", p)
			}
			switch m[2] {
			case "in", "inch", "inches", `"`:
				v *= 25.4
			case "thou":
				v *= 0.0254
			case "":
				if v, err = bare(v, unit, m[1]); err != nil {
					return nil, err
				}
			}
			if !(Of(v) > 0 && v <= 10) {
				return nil, fault.New("box", "%q: a thickness above 0, up to 10 mm", p)
			}
			n := 1
			if m[3] != "" {
				n, _ = strconv.Atoi(m[3])
			}
			u := Of(v)
			if k, ok := at[u]; ok {
				out[k].Count = min(1000, out[k].Count+n)
				continue
			}
			at[u] = len(out)
			out = append(out, Shim{MM: u.MM(), Count: min(n, 1000)})
		}
	}
	if len(out) > MaxSizes {
		return nil, fault.New("box", "at most %d sizes", MaxSizes)
	}
	return out, nil
}

// splitList parts at commas that are no decimal ones: a comma with a space
// behind it, or between pieces of which the first has its point or its count.
func splitList(s string) []string {
	if strings.Contains(s, ", ") || strings.Contains(s, ".") {
		return strings.Split(s, ",")
	}
	if strings.Contains(s, ",") && !regexp.MustCompile(`^\s*\d+,\d+\s*(mm|in)?\s*([x×*]\s*\d+)?\s*$`).MatchString(s) {
		return strings.Split(s, ",")
	}
	return []string{s}
}
