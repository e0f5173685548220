package setup

import (
	"fmt"
	"slices"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/typed"
)

// What a maker's figure is of.
const (
	FigureBacklash   = "backlash"            // band at the teeth
	FigureDifference = "backlash_difference" // most between places
	FigurePinionNew  = "pinion_torque_new"   // rotating torque of the pinion alone
	FigurePinionUsed = "pinion_torque_used"
	FigureTotalNew   = "total_torque_new" // the same with the carrier in
	FigureTotalUsed  = "total_torque_used"
	FigureBackFace   = "back_face_runout" // of the mounted ring, most
	FigureDepth      = "depth"            // pinion head to the ring's axis, nominal
	FigureGearRunout = "gear_runout"      // radial, of a gear on its bearing, most
	FigureSidePlay   = "side_gear_play"   // of a differential side gear
	FigureBreakaway  = "breakaway_torque" // limited slip, one wheel grounded
	FigureClutchGap  = "clutch_clearance" // limited slip, clutch stack
)

// Kind tells what a figure of the sheet is.
type Kind struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Turns bool   `json:"turns"` // a torque; else a length
	Shape string `json:"shape"` // band (low to high), most or exact
}

// Kinds lists what the sheet may hold, in the order in which it is used.
func Kinds() []Kind {
	return []Kind{
		{FigureBacklash, "Backlash", false, "band"},
		{FigureDifference, "Backlash, difference between places", false, "most"},
		{FigurePinionNew, "Pinion rotating torque, new bearings", true, "band"},
		{FigurePinionUsed, "Pinion rotating torque, used bearings", true, "band"},
		{FigureTotalNew, "Total rotating torque, new bearings", true, "band"},
		{FigureTotalUsed, "Total rotating torque, used bearings", true, "band"},
		{FigureBackFace, "Run-out of the ring's back face", false, "most"},
		{FigureDepth, "Pinion depth, to the ring's axis", false, "exact"},
		{FigureGearRunout, "Radial run-out of a gear on its bearing", false, "most"},
		{FigureSidePlay, "Play of a differential side gear", false, "band"},
		{FigureBreakaway, "Breakaway torque of the limited slip", true, "band"},
		{FigureClutchGap, "Clearance of the clutch stack", false, "band"},
	}
}

// Figure is one figure of the maker, as it stands in the manual.
type Figure struct {
	Figure string   `json:"figure"`
	Low    *float64 `json:"low,omitempty"`
	High   *float64 `json:"high,omitempty"`
	Unit   string   `json:"unit"`
	Source string   `json:"source,omitempty"`
	Date   string   `json:"date,omitempty"`
}

// MostFigures bounds a sheet.
const MostFigures = 40

// Band is a figure in millimeters or newton meters.
type Band struct {
	Figure string  `json:"figure"`
	Name   string  `json:"name"`
	Low    float64 `json:"low"` // 0 where only a greatest is given
	High   float64 `json:"high"`
	Unit   string  `json:"unit"` // mm or N·m
	From   string  `json:"from"` // source and date, and as it stands there
}

func (b Band) words() string { return b.wordsTo(3) }

// said is the band in a unit of length, where it is a length.
func (b Band) said(u say.Unit) string {
	if u == typed.Inches && b.Unit == typed.Millimeters {
		b.Low, b.High, b.Unit = say.Round(b.Low/25.4, 4), say.Round(b.High/25.4, 4), typed.Inches
		return b.wordsTo(4)
	}
	return b.words()
}

func (b Band) wordsTo(places int) string {
	switch {
	case b.Low == 0:
		return fmt.Sprintf("at most %s %s", say.Trim(b.High, places), b.Unit)
	case b.Low == b.High:
		return fmt.Sprintf("%s %s", say.Trim(b.High, places), b.Unit)
	}
	return fmt.Sprintf("%s to %s %s", say.Trim(b.Low, places), say.Trim(b.High, places), b.Unit)
}

// sheet is the maker's figures by kind.
type sheet struct {
	bands map[string]Band
	asks  []string
	left  map[string]string // what contradicts itself, and why it is not used
}

// readSheet brings figures to one unit; what is stated twice and differs is
// asked about and not used.
func readSheet(list []Figure, at string, errs *fault.Errors) sheet {
	s := sheet{bands: map[string]Band{}, left: map[string]string{}}
	if len(list) > MostFigures {
		errs.Add(at, "at most %d figures", MostFigures)
		return s
	}
	for i, f := range list {
		here := fmt.Sprintf("%s/%d/", at, i)
		b, ok := f.read(here, errs)
		if !ok {
			continue
		}
		was, twice := s.bands[b.Figure]
		switch {
		case s.left[b.Figure] != "":
		case twice && (was.Low != b.Low || was.High != b.High):
			s.left[b.Figure] = givenTwice(b, was)
			s.asks = append(s.asks, s.left[b.Figure])
			delete(s.bands, b.Figure)
		default:
			s.bands[b.Figure] = b
		}
	}
	if b, ok := s.bands[FigureBacklash]; ok {
		if d, ok := s.bands[FigureDifference]; ok && d.High > b.High {
			s.asks = append(s.asks, differenceTooLarge(d, b))
			s.left[FigureDifference] = "it is more than the backlash itself"
			delete(s.bands, FigureDifference)
		}
		if b.High > 1 {
			s.asks = append(s.asks, backlashTooLarge(b))
		}
	}
	for _, of := range [][2]string{{FigurePinionNew, FigureTotalNew}, {FigurePinionUsed, FigureTotalUsed}} {
		p, ok1 := s.bands[of[0]]
		if t, ok2 := s.bands[of[1]]; ok1 && ok2 && t.High < p.Low {
			s.asks = append(s.asks, torqueSwapped(t, p))
		}
	}
	return s
}

// Check refuses a figure that can't be: fields are the figure's own.
func (f Figure) Check() error {
	var errs fault.Errors
	f.read("", &errs)
	return errs.Err()
}

// read brings one figure to millimeters or newton meters.
func (f Figure) read(at string, errs *fault.Errors) (Band, bool) {
	i := slices.IndexFunc(Kinds(), func(k Kind) bool { return k.ID == f.Figure })
	if i < 0 {
		errs.Add(at+"figure", "there is no such figure; there are %s", strings.Join(kindIDs(), ", "))
		return Band{}, false
	}
	k := Kinds()[i]
	var factor, most float64
	if k.Turns {
		factor, most = torqueUnits[torqueUnit(f.Unit)], 5000
		if factor == 0 {
			errs.Add(at+"unit", "a torque: N·m, lbf·in, lbf·ft or kgf·cm")
			return Band{}, false
		}
	} else {
		factor, most = map[string]float64{"mm": 1, "in": 25.4, "thou": 0.0254}[f.Unit], 500
		if factor == 0 {
			errs.Add(at+"unit", "a length: mm, in or thou")
			return Band{}, false
		}
	}
	before := len(*errs)
	b := Band{Figure: k.ID, Name: k.Name, Unit: "mm", From: f.from()}
	if k.Turns {
		b.Unit = "N·m"
	}
	v := func(p *float64) float64 { return say.Round(*p*factor, 5) }
	switch {
	case k.Shape == "band" && (f.Low == nil || f.High == nil):
		errs.Add(at+"high", "from and to, as in the manual")
	case k.Shape == "most" && f.High == nil:
		errs.Add(at+"high", "the most that the manual allows")
	case k.Shape == "exact" && f.Low == nil && f.High == nil:
		errs.Add(at+"low", "the figure of the manual")
	case k.Shape == "band" && !(v(f.Low) >= 0 && v(f.Low) < v(f.High)):
		errs.Add(at+"low", "from a smaller to a greater figure")
	case k.Shape == "exact":
		p := f.Low
		if p == nil {
			p = f.High
		}
		b.Low, b.High = v(p), v(p)
	case k.Shape == "band":
		b.Low, b.High = v(f.Low), v(f.High)
	default:
		b.High = v(f.High)
	}
	if len(*errs) > before {
		return Band{}, false
	}
	if !(b.High > 0 && b.High <= most) {
		errs.Add(at+"high", "above 0, up to %s %s", say.Trim(most, 0), b.Unit)
		return Band{}, false
	}
	return b, true
}

func (f Figure) from() string {
	out := strings.TrimSpace(f.Source)
	if out == "" {
		out = "entered, no source"
	}
	if d := strings.TrimSpace(f.Date); d != "" {
		out += ", " + d
	}
	return out
}

func kindIDs() []string {
	var out []string
	for _, k := range Kinds() {
		out = append(out, k.ID)
	}
	return out
}
