package setup

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"zorvel/core/say"
	"zorvel/core/typed"
)

// Newton meters in each unit; the pound-force and kilogram-force are exact by
// definition (ISO 80000-4: 4.448 221 615 260 5 N and 9.806 65 N).
var torqueUnits = map[string]float64{
	"N·m": 1, "lbf·in": 4.4482216152605 * 0.0254, "lbf·ft": 4.4482216152605 * 0.3048, "kgf·cm": 9.80665 * 0.01, "kgf·m": 9.80665,
}

var forceUnits = map[string]float64{"n": 1, "lbf": 4.4482216152605, "lb": 4.4482216152605, "kgf": 9.80665, "kg": 9.80665, "g": 0.00980665}

var (
	torqueText = regexp.MustCompile(`^(\d{0,6}(?:[.,]\d{1,6})?) *([a-z·*. -]*)$`)
	scaleText  = regexp.MustCompile(`^(\d{0,6}(?:[.,]\d{1,6})?) *(n|lbf|lb|kgf|kg|g) *(?:@|at|x|on) *(\d{0,4}(?:[.,]\d{1,4})?) *(mm|cm|in|inch|")$`)
)

// torqueUnit is a unit as it is written here: "Nm" and "in-lb" are typed for
// N·m and lbf·in.
func torqueUnit(text string) string {
	switch strings.NewReplacer("·", "", "*", "", ".", "", "-", "", " ", "").Replace(strings.ToLower(text)) {
	case "nm":
		return "N·m"
	case "lbfin", "lbin", "inlb", "inlbf", "inlbs":
		return "lbf·in"
	case "lbfft", "lbft", "ftlb", "ftlbf", "ftlbs":
		return "lbf·ft"
	case "kgfcm", "kgcm", "cmkg":
		return "kgf·cm"
	case "kgfm", "kgm", "mkg":
		return "kgf·m"
	}
	return ""
}

// Torque is a rotating torque as it was typed.
type Torque struct {
	NM   float64 `json:"nm"`
	Text string  `json:"text"` // how it came about
}

// ParseTorque reads "2.3 N·m", "18 lbf·in", or a spring scale on a string: "24 N at
// 75 mm", torque = force · radius. A figure without its unit is asked about.
func ParseTorque(text string) (Torque, string) {
	if len(text) > 80 {
		return Torque{}, "at most 80 characters"
	}
	plain := typed.Plain(text)
	if m := scaleText.FindStringSubmatch(plain); m != nil {
		f, err1 := strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64)
		r, err2 := strconv.ParseFloat(strings.Replace(m[3], ",", ".", 1), 64)
		mm := r * map[string]float64{"mm": 1, "cm": 10, "in": 25.4, "inch": 25.4, `"`: 25.4}[m[4]]
		if err1 != nil || err2 != nil || mm <= 0 || mm > 1000 {
			return Torque{}, "a force at a radius up to 1000 mm, as 24 N at 75 mm"
		}
		t := Torque{NM: f * forceUnits[m[2]] * mm / 1000}
		if t.NM > 5000 {
			return Torque{}, "more than 5000 N·m: is a decimal point missing?"
		}
		t.Text = fmt.Sprintf("%s %s · %s mm = %s N·m", say.Trim(f, 3), map[string]string{"n": "N", "lb": "lbf", "kg": "kgf"}[m[2]]+map[bool]string{true: m[2]}[m[2] == "lbf" || m[2] == "kgf" || m[2] == "g"], say.Trim(mm, 2), say.Trim(t.NM, 3))
		return t, ""
	}
	m := torqueText.FindStringSubmatch(plain)
	if m == nil || m[1] == "" {
		return Torque{}, "a torque, as 2.3 N·m or 18 lbf·in, or a scale on a string, as 24 N at 75 mm"
	}
	v, err := strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64)
	if err != nil {
		return Torque{}, "a torque, as 2.3 N·m"
	}
	u := torqueUnit(m[2])
	if u == "" {
		return Torque{}, fmt.Sprintf("%s of what? Write its unit: N·m, lbf·in, lbf·ft or kgf·cm; or a scale's pull with its radius, as 24 N at 75 mm", say.Trim(v, 3))
	}
	t := Torque{NM: v * torqueUnits[u], Text: fmt.Sprintf("%s %s", say.Trim(v, 3), u)}
	if t.NM > 5000 {
		return Torque{}, "more than 5000 N·m: is a decimal point missing?"
	}
	if u != "N·m" {
		t.Text += fmt.Sprintf(" = %s N·m", say.Trim(t.NM, 3))
	}
	return t, ""
}
