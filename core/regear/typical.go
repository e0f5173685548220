package regear

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// TypicalGearbox is the ratios of a kind of gearbox as they are usual: for who
// doesn't have the plate at hand. Whatever comes of them is said to rest on them.
type TypicalGearbox struct {
	ID        string
	Words     string
	Automatic bool
	Ratios    []string // first gear first
}

// TypicalGearboxes lists the kinds of gearbox with their usual ratios.
func TypicalGearboxes() []TypicalGearbox { return typicalGearboxes[:] }

var typicalGearboxes = [...]TypicalGearbox{
	{"manual_4", "4-speed manual, truck", false, []string{"6.4", "3.1", "1.7", "1"}},
	{"manual_5", "5-speed manual", false, []string{"3.8", "2.1", "1.4", "1", "0.79"}},
	{"manual_6", "6-speed manual", false, []string{"4.2", "2.3", "1.5", "1.15", "1", "0.8"}},
	{"automatic_3", "3-speed automatic", true, []string{"2.5", "1.5", "1"}},
	{"automatic_4", "4-speed automatic", true, []string{"2.8", "1.55", "1", "0.7"}},
	{"automatic_6", "6-speed automatic", true, []string{"4.1", "2.35", "1.5", "1.15", "0.86", "0.68"}},
	{"automatic_8", "8-speed automatic", true, []string{"4.7", "3.1", "2.1", "1.67", "1.29", "1", "0.84", "0.67"}},
}

// fillTypical puts the usual ratios in where a kind of gearbox was chosen and none
// were typed.
func (p *Plain) fillTypical() (*TypicalGearbox, error) {
	if p.Typical == "" {
		return nil, nil
	}
	for i := range typicalGearboxes {
		b := &typicalGearboxes[i]
		if b.ID != p.Typical {
			continue
		}
		p.Automatic = p.Automatic || b.Automatic
		if len(p.Gears) > 0 {
			return nil, nil
		}
		for k, r := range b.Ratios {
			n, err := exact.Parse(r)
			if err != nil {
				return nil, err
			}
			p.Gears = append(p.Gears, PlainGear{Name: fmt.Sprint(k + 1), Ratio: exact.Figure{Number: n}})
		}
		return b, nil
	}
	ids := make([]string, len(typicalGearboxes))
	for i := range typicalGearboxes {
		ids[i] = typicalGearboxes[i].ID
	}
	return nil, fault.New("plain/typical", "one of %s; or type the ratios", strings.Join(ids, ", "))
}

// automatic tells what an automatic gearbox makes of other tires and other gears.
func (p *planner) automatic(out *Plan, chosen *Candidate) {
	if !p.isAutomatic() {
		return
	}
	v := out.variant(chosen.Variant)
	moved := func(v *Variant) string {
		d := (v.RollingMM.Div(out.Before.RollingMM).Mul(out.Before.Ratio).Div(v.Ratio).Float() - 1) * 100
		if math.Abs(d) < 0.5 {
			return "at the road speed it did before"
		}
		word := "higher"
		if d < 0 {
			word = "lower"
		}
		return fmt.Sprintf("at %s %% %s road speed than before", say.Trim(math.Abs(d), 1), word)
	}
	text := fmt.Sprintf("Automatic gearbox: the same engine rpm comes %s with the new tires alone", moved(&out.TiresOnly))
	if v.ID != out.TiresOnly.ID {
		text += fmt.Sprintf(", and %s with %s", moved(v), v.Ratio.Decimal(2))
	}
	text += "."
	switch {
	case v.CruiseRPM < out.Before.CruiseRPM*0.985:
		text += fmt.Sprintf(" Until the converter locks it works at lower rpm for the same speed (%s against %s at cruise): it slips more and its oil runs hotter, above all when towing.", say.Trim(v.CruiseRPM, 0), say.Trim(out.Before.CruiseRPM, 0))
	case v.CruiseRPM > out.Before.CruiseRPM*1.015:
		text += fmt.Sprintf(" The converter slips less at the same speed (%s rpm against %s at cruise) and locks earlier.", say.Trim(v.CruiseRPM, 0), say.Trim(out.Before.CruiseRPM, 0))
	default:
		text += " Converter slip stays what it was."
	}
	out.Automatic = text + " Recalibrate tire size and axle ratio in the control unit, or have the governor set on one without: it times shifts and lock-up by what it believes."
}

// isAutomatic reports whether a converter drives the gearbox.
func (p *planner) isAutomatic() bool {
	if p.q.Plain != nil && p.q.Plain.Automatic {
		return true
	}
	for i := range p.doc.Parts {
		if c := p.doc.Parts[i].Clutch; c != nil && c.Type == "converter" {
			return true
		}
	}
	return false
}
