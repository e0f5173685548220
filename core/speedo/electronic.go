package speedo

import (
	"fmt"
	"sort"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Electronic asks for the calibration of an electronic speedometer.
type Electronic struct {
	Reluctor int `json:"reluctor"` // teeth of the reluctor: pulses per turn of its shaft
	// Calibrated is the number in the unit now, pulses per Per.
	Calibrated exact.Figure `json:"calibrated,omitzero"`
	Per        Per          `json:"per,omitempty"` // km if left out
	// Drive and Driven are the gears of a hybrid pickup: a driven gear that
	// turns a pulse unit. Reluctor is then pulses per turn of the driven gear.
	Drive  int `json:"drive,omitempty"`
	Driven int `json:"driven,omitempty"`
	// Tool is a calibration tool that takes only listed entries.
	Tool *Tool `json:"tool,omitempty"`
}

// Tool is a calibration tool that takes an axle ratio from a list and a tire
// size in steps, and works the pulses out by itself.
type Tool struct {
	Ratios []exact.Figure `json:"ratios"`
	// Diameters that it takes, in millimeters or inches as it asks for them.
	From exact.Figure `json:"from"`
	To   exact.Figure `json:"to"`
	Step exact.Figure `json:"step"`
	Unit string       `json:"unit,omitempty"` // mm or inch; inch if left out
}

// ToolEntry is what to set on the tool.
type ToolEntry struct {
	Ratio   exact.Number `json:"ratio"`
	Size    exact.Number `json:"size"` // in the tool's unit
	Percent float64      `json:"percent"`
	Text    string       `json:"text"`
}

// ElectronicAnswer is what to write into the unit.
type ElectronicAnswer struct {
	PulsesPerKM   exact.Number  `json:"pulses_per_km"`
	PulsesPerMile exact.Number  `json:"pulses_per_mile"`
	Per           Per           `json:"per"`
	New           exact.Number  `json:"new"` // in the unit's own measure
	Factor        *exact.Number `json:"factor,omitempty"`
	ErrorNow      *exact.Number `json:"error_now,omitempty"`
	PercentNow    *float64      `json:"percent_now,omitempty"`
	Text          string        `json:"text"`
	Formula       string        `json:"formula"`
	// Entries of the tool that never read low, the smallest error first.
	Entries []ToolEntry `json:"entries,omitempty"`
}

// Pulses answers for an electronic speedometer: pulses per distance are
// reluctor teeth times shaft turns per distance. The correction factor is what
// the pulses that come must be multiplied by to suit the old calibration.
func Pulses(s Shaft, e Electronic) (*ElectronicAnswer, error) {
	if err := fault.Figures(e); err != nil {
		return nil, err
	}
	var errs fault.Errors
	if e.Per == "" {
		e.Per = PerKM
	}
	if e.Per != PerKM && e.Per != PerMile {
		errs.Add("electronic/per", "km or mile")
	}
	if e.Reluctor < 1 || e.Reluctor > 500 {
		errs.Add("electronic/reluctor", "pulses per turn of the shaft, from 1 to 500")
	}
	if e.Calibrated.Sign() < 0 || e.Calibrated.Cmp(exact.Int(1_000_000)) > 0 {
		errs.Add("electronic/calibrated", "pulses per %s, from 1 to 1 000 000", e.Per)
	}
	if (e.Drive != 0 || e.Driven != 0) && (e.Drive < 3 || e.Drive > 100 || e.Driven < 3 || e.Driven > 100) {
		errs.Add("electronic/driven", "both pickup gears, from 3 to 100 teeth, or neither")
	}
	e.Tool.check(&errs)
	if err := errs.Err(); err != nil {
		return nil, err
	}
	a := &ElectronicAnswer{Per: e.Per}
	perKM := s.PerMeter.Mul(exact.Int(1000))
	if e.Drive > 0 {
		perKM = perKM.Mul(exact.New(int64(e.Drive), int64(e.Driven)))
	}
	a.PulsesPerKM = perKM.Mul(exact.Int(int64(e.Reluctor)))
	a.PulsesPerMile = a.PulsesPerKM.Mul(mileByKM)
	a.New = a.PulsesPerKM
	if e.Per == PerMile {
		a.New = a.PulsesPerMile
	}
	a.Formula = fmt.Sprintf("%d teeth × %s shaft turns per km = %s pulses per km", e.Reluctor, perKM.Short(2), a.PulsesPerKM.Short(1))
	if e.Drive > 0 {
		a.Formula = fmt.Sprintf("%d pulses a turn × %s shaft turns per km × %d ÷ %d = %s pulses per km", e.Reluctor, s.PerMeter.Mul(exact.Int(1000)).Short(2), e.Drive, e.Driven, a.PulsesPerKM.Short(1))
	}
	a.Text = calibrateText(a, e)
	if e.Calibrated.Sign() > 0 {
		f := e.Calibrated.Div(a.New)
		err := f.Inv().Sub(one)
		pct := say.Round(err.Float()*100, 4)
		a.Factor, a.ErrorNow, a.PercentNow = &f, &err, &pct
		a.Formula += fmt.Sprintf("; factor %s ÷ %s = %s", e.Calibrated.Short(1), a.New.Short(1), f.Short(5))
		switch {
		case err.Sign() < 0:
			a.Text += setLow(e, pct)
		case err.Sign() > 0:
			a.Text += setHigh(e, pct)
		default:
			a.Text = calibrationRight(a, e)
		}
	}
	if e.Tool != nil {
		a.Entries = e.Tool.entries(s)
	}
	if s.Low != nil {
		a.Text += fmt.Sprintf(" The tone ring is ahead of the low range: in low it reads %s times too high unless the "+
			"unit knows the range.", s.Low.Div(s.PerMeter).Short(2))
	}
	return a, nil
}

func (t *Tool) check(errs *fault.Errors) {
	if t == nil {
		return
	}
	if len(t.Ratios) == 0 || len(t.Ratios) > 60 {
		errs.Add("electronic/tool/ratios", "the axle ratios that the tool lists, from 1 to 60")
	}
	for i, r := range t.Ratios {
		if r.Cmp(exact.New(1, 2)) < 0 || r.Cmp(exact.Int(50)) > 0 {
			errs.Add(fmt.Sprintf("electronic/tool/ratios/%d", i), "from 0.5 to 50")
		}
	}
	if t.Unit == "" {
		t.Unit = "inch"
	}
	if t.Unit != "inch" && t.Unit != "mm" {
		errs.Add("electronic/tool/unit", "inch or mm")
	}
	if t.From.Sign() <= 0 || t.To.Cmp(t.From.Number) < 0 || t.To.Cmp(exact.Int(4000)) > 0 {
		errs.Add("electronic/tool/to", "tire sizes from a smaller to a greater one, as the tool takes them")
	} else if t.Step.Sign() <= 0 || t.To.Sub(t.From.Number).Div(t.Step.Number).Cmp(exact.Int(2000)) > 0 {
		errs.Add("electronic/tool/step", "the step from size to size, above 0; at most 2000 sizes")
	}
}

// entries finds the settings that don't read low. A tool reckons the pulses
// from ratio ÷ rolling circumference, and the circumference from the size by
// the usual factor; so only ratio ÷ size counts, and the error is what the shaft
// really turns per wheel turn and size against that.
func (t *Tool) entries(s Shaft) []ToolEntry {
	unit := one
	if t.Unit == "inch" {
		unit = exact.New(254, 10)
	}
	rolls := exact.New(305, 100).Mul(unit).Div(exact.Int(1000)) // m of road per unit of size
	out := []ToolEntry{}
	for _, r := range t.Ratios {
		for k := int64(0); ; k++ {
			size := t.From.Add(t.Step.Mul(exact.Int(k)))
			if size.Cmp(t.To.Number) > 0 {
				break
			}
			// It expects r ÷ (size · rolls) turns per meter and gets PerMeter.
			err := s.PerMeter.Mul(size).Mul(rolls).Div(r.Number).Sub(one)
			if err.Sign() < 0 {
				continue
			}
			pct := say.Round(err.Float()*100, 4)
			out = append(out, ToolEntry{r.Number, size, pct, t.entryText(r, size, pct)})
			break // a greater size reads higher still
		}
	}
	sort.SliceStable(out, func(i, k int) bool { return out[i].Percent < out[k].Percent })
	return out[:min(5, len(out))]
}
