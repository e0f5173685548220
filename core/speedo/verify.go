package speedo

import (
	"fmt"
	"math"
	"sort"
	"strconv"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Verify is a check on the road.
type Verify struct {
	Method string `json:"method"` // stopwatch, odometer, track
	// Stopwatch: runs at a steady shown speed over a measured distance.
	Runs []Run `json:"runs,omitempty"`
	// Odometer: what it counted over a known distance.
	ShownKM  exact.Figure `json:"shown_km,omitzero"`
	TrueKM   exact.Figure `json:"true_km,omitzero"`
	StepKM   float64      `json:"step_km,omitempty"`       // last digit of the odometer; 0.1 if left out
	TrueSure float64      `json:"true_percent,omitempty"`  // how well the distance is known, standard deviation in %; 0.2 if left out
	GPX      string       `json:"gpx,omitempty"`           // track
	Noted    []Noted      `json:"noted,omitempty"`         // shown speeds at times of the track
	Calib    exact.Figure `json:"calibrated,omitzero"`     // pulses per km in it during the check
	Drive    int          `json:"drive,omitempty"`         // mechanical: the pair in it during the check
	Driven   int          `json:"driven,omitempty"`        //
	Economy  float64      `json:"l_per_100km,omitempty"`   // as worked out from the odometer
	RangeKM  float64      `json:"range_km,omitempty"`      // as shown
	OdoAt    exact.Figure `json:"odometer_then,omitzero"`  // at the tire change, km
	OdoNow   exact.Figure `json:"odometer_today,omitzero"` // today, km
}

// Run is one timed run.
type Run struct {
	ShownKMH float64 `json:"shown_kmh"`
	Meters   float64 `json:"meters"`
	Seconds  float64 `json:"seconds"`
}

// Noted is a speed that was read off at a time of the track.
type Noted struct {
	Time     string  `json:"time"` // seconds from the track's start, or a date and time
	ShownKMH float64 `json:"shown_kmh"`
}

// Typical errors of the methods, as standard deviations. What a check is sure
// to, plus or minus, is twice as much: about 95 %.
const (
	reaction    = 0.2 // s, starting and stopping a watch, each
	needle      = 1.0 // km/h, reading a needle
	tapeError   = 0.2 // percent of a measured distance
	trackError  = 0.3 // percent of a track's length with a clear sky
	notedWindow = 5.0 // s on either side of a noted speed
)

// Check is one comparison.
type Check struct {
	What    string  `json:"what"`
	Shown   float64 `json:"shown"`
	True    float64 `json:"actual"`
	Percent float64 `json:"percent"`
	Sure    float64 `json:"plus_minus_percent"`

	own, common float64 // standard deviations in %: of this check, and of what stands behind all
}

// Verified is how true the speedometer is and what corrects it.
type Verified struct {
	Checks []Check `json:"checks"`
	// Percent is shown ÷ true − 1 over all checks, ± Sure (about 95 %).
	Percent float64 `json:"percent"`
	Sure    float64 `json:"plus_minus_percent"`
	Level   string  `json:"level"` // true, high, low, unsure
	Text    string  `json:"text"`
	Formula string  `json:"formula"`
	// What corrects it, from this check alone.
	Pulses     *float64 `json:"new_pulses_per_km,omitempty"`
	IdealTeeth *float64 `json:"ideal_driven,omitempty"`
	Teeth      *int     `json:"driven,omitempty"` // the next that does not read low
	Correction string   `json:"correction,omitempty"`
	Economy    *float64 `json:"true_l_per_100km,omitempty"`
	RangeKM    *float64 `json:"true_range_km,omitempty"`
	Odometer   *float64 `json:"true_odometer_km,omitempty"`
	Track      *Track   `json:"track,omitempty"`
	Notes      []string `json:"notes"`
}

// Test answers a check on the road.
func Test(v Verify) (*Verified, error) {
	out := &Verified{Checks: []Check{}, Notes: []string{}}
	var errs fault.Errors
	finite := func(field string, f, lo, hi float64, unit string) {
		if !(f >= lo && f <= hi) {
			errs.Add("verify/"+field, "from %v to %v %s", lo, hi, unit)
		}
	}
	switch v.Method {
	case "stopwatch":
		if len(v.Runs) == 0 || len(v.Runs) > MaxRuns {
			errs.Add("verify/runs", "from 1 to 50 runs: shown speed, distance and time")
		}
		for i, r := range v.Runs {
			at := "runs/" + strconv.Itoa(i) + "/"
			finite(at+"shown_kmh", r.ShownKMH, 5, 400, "km/h")
			finite(at+"meters", r.Meters, 10, 100_000, "m")
			finite(at+"seconds", r.Seconds, 1, 36_000, "s")
		}
	case "odometer":
		finite("shown_km", v.ShownKM.Float(), 0.1, 100_000, "km")
		finite("true_km", v.TrueKM.Float(), 0.1, 100_000, "km")
		finite("step_km", v.StepKM, 0, 10, "km")
		finite("true_percent", v.TrueSure, 0, 20, "%")
	case "track":
		if v.GPX == "" {
			errs.Add("verify/gpx", "a recorded track is needed: a GPX file, version 1.0 or 1.1")
		}
		if v.ShownKM.IsZero() && len(v.Noted) == 0 {
			errs.Add("verify/shown_km", "what the odometer counted along the track, or speeds noted on the way")
		}
		if len(v.Noted) > MaxNoted {
			errs.Add("verify/noted", "at most 200 speeds")
		}
	default:
		errs.Add("verify/method", "stopwatch, odometer or track")
	}
	if v.Calib.Sign() < 0 || v.Drive < 0 || v.Driven < 0 || v.Driven > 100 || v.Drive > 100 {
		errs.Add("verify/driven", "from 3 to 100 teeth")
	}
	finite("l_per_100km", v.Economy, 0, 500, "l/100 km")
	finite("range_km", v.RangeKM, 0, 10_000, "km")
	finite("odometer_then", v.OdoAt.Float(), 0, 5_000_000, "km; an odometer doesn't count below zero")
	finite("odometer_today", v.OdoNow.Float(), 0, 5_000_000, "km; an odometer doesn't count below zero")
	if v.OdoNow.Sign() > 0 && v.OdoNow.Cmp(v.OdoAt.Number) < 0 {
		errs.Add("verify/odometer_today", "less than the %s km at the tire change: are the two swapped, or did the odometer turn over past its last digit? Then add what it holds", v.OdoAt.Short(1))
	}
	if err := errs.Err(); err != nil {
		return nil, err
	}
	switch v.Method {
	case "stopwatch":
		for i, r := range v.Runs {
			true_ := r.Meters / r.Seconds * 3.6
			own := math.Hypot(needle/r.ShownKMH*100, reaction*math.Sqrt2/r.Seconds*100)
			out.add(runName(i, r), r.ShownKMH, true_, own, tapeError)
		}
		out.Formula = "true speed = distance ÷ time × 3.6; error = shown ÷ true − 1"
	case "odometer":
		step, sure := v.StepKM, v.TrueSure
		if step == 0 {
			step = 0.1
		}
		if sure == 0 {
			sure = tapeError
		}
		// Reading both ends to half a digit, evenly likely.
		read := step / math.Sqrt(6) / v.ShownKM.Float() * 100
		out.add("odometer over the known distance", v.ShownKM.Float(), v.TrueKM.Float(), read, sure)
		out.Formula = "error = shown distance ÷ true distance − 1"
	case "track":
		if err := out.track(v); err != nil {
			return nil, err
		}
	}
	out.sum()
	out.correct(v)
	return out, nil
}

func (o *Verified) add(what string, shown, true_, own, common float64) {
	own = math.Max(own, 0.005) // nothing is read better, and weights stay finite
	o.Checks = append(o.Checks, Check{what, say.Round(shown, 4), say.Round(true_, 4), say.Round((shown/true_-1)*100, 4), say.Round(2*math.Hypot(own, common), 3), own, common})
}

// track compares an odometer or noted speeds with a recorded track.
func (o *Verified) track(v Verify) error {
	t, err := ReadTrack(v.GPX)
	if err != nil {
		return fault.New("verify/gpx", "%s", err)
	}
	o.Track = t
	if v.ShownKM.Sign() > 0 {
		true_ := t.Meters / 1000
		if true_ < 0.1 {
			return fault.New("verify/gpx", "the track is only %s m long; 1 km or more is needed", say.Trim(t.Meters, 0))
		}
		step := v.StepKM
		if step == 0 {
			step = 0.1
		}
		own := math.Hypot(step/math.Sqrt(6)/v.ShownKM.Float()*100, t.GapMeters/math.Max(1, t.Meters)*10)
		o.add("odometer along the track", v.ShownKM.Float(), true_, math.Hypot(own, t.Noise), trackError)
		if t.Noise > trackError {
			o.Notes = append(o.Notes, fmt.Sprintf("The fixes scatter by about %s m, which alone makes the length of the run "+
				"uncertain by %s %%. A clear sky, a faster run or a longer one settles it better.", say.Trim(t.Scatter, 1),
				say.Trim(2*t.Noise, 1)))
		}
		if t.GapMeters > 0.02*t.Meters {
			o.Notes = append(o.Notes, gapsNote(t))
		}
	}
	for i, n := range v.Noted {
		at := fmt.Sprintf("verify/noted/%d/", i)
		if !(n.ShownKMH >= 5 && n.ShownKMH <= 400) {
			return fault.New(at+"shown_kmh", "from 5 to 400 km/h (3 to 249 mph)")
		}
		sec, err := t.seconds(n.Time)
		if err != nil {
			return fault.New(at+"time", "%s", err)
		}
		speed, steady, ok := t.speedAt(sec, notedWindow)
		if !ok {
			o.Notes = append(o.Notes, leftOutNoted(sec))
			continue
		}
		own := math.Hypot(math.Hypot(needle/n.ShownKMH*100, steady), t.Noise)
		o.add(notedName(sec), n.ShownKMH, speed, own, trackError)
	}
	if len(o.Checks) == 0 {
		return fault.New("verify/noted", "none of the noted speeds is where the track is good; note speeds while driving steadily")
	}
	o.Formula = "true distance and speed from the track's fixes on the WGS 84 ellipsoid; error = shown ÷ true − 1"
	return nil
}

// sum weighs all checks by how sure they are. Checks that differ by more than
// they should widen the result.
func (o *Verified) sum() {
	var w, s, common float64
	for _, c := range o.Checks {
		k := 1 / (c.own * c.own)
		w, s = w+k, s+k*c.Percent
		common = math.Max(common, c.common)
	}
	mean := s / w
	own := 1 / math.Sqrt(w)
	if n := len(o.Checks); n > 1 {
		chi := 0.0
		for _, c := range o.Checks {
			d := (c.Percent - mean) / c.own
			chi += d * d
		}
		if f := chi / float64(n-1); f > 1 {
			own *= math.Sqrt(f)
			if f > 4 {
				o.Notes = append(o.Notes, "The checks disagree by more than their errors: was one of them read at a changing speed?")
			}
		}
	}
	// The same tape and the same track stand behind all of them.
	sure := 2 * math.Hypot(own, common)
	o.Percent, o.Sure = say.Round(mean, 3), say.Round(sure, 3)
	pm := " ± " + say.Trim(o.Sure, 1) + " %"
	switch {
	case o.Percent-o.Sure > 0:
		o.Level, o.Text = "high", "Reads "+say.Trim(o.Percent, 1)+" % high,"+pm+"."
	case o.Percent+o.Sure < 0:
		o.Level, o.Text = "low", "Reads "+say.Trim(-o.Percent, 1)+" % low,"+pm+": to be corrected before it goes on the road."
	case o.Sure > 3:
		o.Level, o.Text = "unsure", "Not known yet: "+say.Signed(o.Percent, 1)+" %"+pm+". Use a longer distance or more runs."
	default:
		o.Level, o.Text = "true", "True within what this check can tell: "+say.Signed(o.Percent, 1)+" %"+pm+"."
	}
}

// correct gives what makes it true, and the other figures that hang on it.
func (o *Verified) correct(v Verify) {
	k := 1 + o.Percent/100 // shown ÷ true
	if v.Calib.Sign() > 0 && o.Level == "true" {
		p := say.Round(v.Calib.Float(), 2)
		o.Pulses = &p
		o.Correction = calibrationStays(v)
	} else if v.Calib.Sign() > 0 {
		p := say.Round(v.Calib.Float()*k, 2)
		o.Pulses = &p
		o.Correction = newCalibration(v, k, p)
	}
	if v.Driven > 0 {
		ideal := say.Round(float64(v.Driven)*k, 4)
		// The greatest whole number that doesn't read low: more teeth turn
		// the cable slower.
		n := int(math.Floor(ideal + 1e-9))
		tooth := 100 / float64(v.Driven)
		stays := o.Level != "low" && math.Abs(o.Percent)+o.Sure < tooth
		if stays {
			n = v.Driven
		}
		o.IdealTeeth, o.Teeth = &ideal, &n
		with := ""
		if v.Drive > 0 {
			with = withDrive(v)
		}
		switch {
		case stays:
			o.Correction = o.drivenStays(v, tooth)
		case n == v.Driven:
			o.Correction = drivenRight(v, ideal)
		default:
			o.Correction = drivenNext(v, k, ideal, with, n)
		}
	}
	if v.Economy > 0 {
		// Fuel over the true distance: shown distance ÷ k.
		e := say.Round(v.Economy*k, 3)
		o.Economy = &e
	}
	if v.RangeKM > 0 {
		r := say.Round(v.RangeKM/k, 2)
		o.RangeKM = &r
	}
	if v.OdoNow.Sign() > 0 {
		d := say.Round(v.OdoAt.Float()+(v.OdoNow.Float()-v.OdoAt.Float())/k, 2)
		o.Odometer = &d
	}
}

// Rule is a reference to common rules of the road.
type Rule struct {
	Where string `json:"where"`
	Rule  string `json:"rule"`
}

// Allowed is the range of shown speeds at a true one under UN Regulation 39:
// 0 ≤ shown − true ≤ true ÷ 10 + 4 km/h.
func Allowed(trueKMH float64) (from, to float64) { return trueKMH, trueKMH*1.1 + 4 }

// FitStep is a step of fitting a speedometer gear.
type FitStep struct {
	Do      string `json:"do"`
	Caution string `json:"caution,omitempty"`
}

func sortFloats(f []float64) []float64 { sort.Float64s(f); return f }
