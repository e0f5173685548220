package speedo

import (
	"fmt"

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
}

// Pulses answers for an electronic speedometer: pulses per distance are
// reluctor teeth times shaft turns per distance. The correction factor is what
// the pulses that come must be multiplied by to suit the old calibration.
func Pulses(s Shaft, e Electronic) (*ElectronicAnswer, error) {
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
	if err := errs.Err(); err != nil {
		return nil, err
	}
	a := &ElectronicAnswer{Per: e.Per}
	a.PulsesPerKM = s.PerMeter.Mul(exact.Int(int64(1000 * e.Reluctor)))
	a.PulsesPerMile = a.PulsesPerKM.Mul(mileByKM)
	a.New = a.PulsesPerKM
	if e.Per == PerMile {
		a.New = a.PulsesPerMile
	}
	a.Formula = fmt.Sprintf("%d teeth × %s shaft turns per km = %s pulses per km", e.Reluctor, s.PerMeter.Mul(exact.Int(1000)).Short(2), a.PulsesPerKM.Short(1))
	a.Text = fmt.Sprintf("Calibrate to %s pulses per %s.", a.New.Short(1), e.Per)
	if e.Calibrated.Sign() > 0 {
		f := e.Calibrated.Div(a.New)
		err := f.Inv().Sub(one)
		pct := say.Round(err.Float()*100, 4)
		a.Factor, a.ErrorNow, a.PercentNow = &f, &err, &pct
		a.Formula += fmt.Sprintf("; factor %s ÷ %s = %s", e.Calibrated.Short(1), a.New.Short(1), f.Short(5))
		switch {
		case err.Sign() < 0:
			a.Text += fmt.Sprintf(" With %s in it now it reads %s %% low.", e.Calibrated.Short(1), say.Trim(-pct, 2))
		case err.Sign() > 0:
			a.Text += fmt.Sprintf(" With %s in it now it reads %s %% high.", e.Calibrated.Short(1), say.Trim(pct, 2))
		default:
			a.Text = fmt.Sprintf("The calibration of %s pulses per %s is right.", a.New.Short(1), e.Per)
		}
	}
	if s.Low != nil {
		a.Text += fmt.Sprintf(" The reluctor lies before the low range: in low it reads %s times too high unless the unit knows the range.", s.Low.Div(s.PerMeter).Short(2))
	}
	return a, nil
}
