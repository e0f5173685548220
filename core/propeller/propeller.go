// Package propeller works speed, slip, pitch and ratio of a boat.
//
//	propeller rpm = engine rpm ÷ ratio
//	theoretical knots = propeller rpm · pitch in inches · 60 ÷ 72913.4
//	slip = 1 − real speed ÷ theoretical speed
//
// 72913.4 inches are a nautical mile (1852 m; Gerr, Propeller Handbook).
package propeller

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// InchesPerMile is a nautical mile in inches: 1852 m ÷ 25.4 mm.
const InchesPerMile = 72913.4

// Rule of thumb: what an inch of pitch takes from the full-throttle rpm.
const (
	PerInchLow  = 150
	PerInchHigh = 200
)

// Hull is a kind of hull with the slip that is usual for it, in percent:
// typical figures, no one's limits.
type Hull struct {
	ID   string  `json:"id"`
	Name string  `json:"name"`
	Low  float64 `json:"low_percent"`
	High float64 `json:"high_percent"`
}

// Hulls lists the kinds of hull.
func Hulls() []Hull {
	return []Hull{
		{"skiff", "light planing skiff", 8, 18},
		{"planing", "planing boat, loaded", 12, 25},
		{"cruiser", "semi-displacing cruiser", 20, 35},
		{"tender", "ferry tender or work boat", 25, 45},
		{"displacement", "displacement hull", 25, 50},
	}
}

// Request is the question. Speeds are in SpeedUnit, knots if it is left out.
type Request struct {
	Ratio   exact.Figure `json:"ratio"` // engine turns per propeller turn
	PitchIN float64      `json:"pitch_in"`
	Hull    string       `json:"hull,omitempty"` // skiff if left out
	RPM     float64      `json:"rpm,omitempty"`
	RPMSure float64      `json:"rpm_sure,omitempty"` // standard deviation
	// ShaftRPM is the propeller shaft's own, where it is known: it needs no ratio.
	ShaftRPM float64 `json:"shaft_rpm,omitempty"`
	// SpeedKN is nil where it isn't known; 0 is a boat that stands.
	SpeedKN   *float64 `json:"speed_kn,omitempty"`
	SpeedUnit string   `json:"speed_unit,omitempty"` // of all speeds here: kn, mph, km/h or m/s
	// SlipPercent is a slip that is known, to find the speed.
	SlipPercent *float64 `json:"slip_percent,omitempty"`
	SureKN      float64  `json:"speed_sure_kn,omitempty"`
	// Over says what the speed was measured against: water or ground.
	Over string `json:"over,omitempty"`
	// FullRPM is what was reached at full throttle with the usual load; LowRPM
	// and HighRPM are the maker's band for it.
	FullRPM float64      `json:"full_rpm,omitempty"`
	LowRPM  float64      `json:"band_low_rpm,omitempty"`
	HighRPM float64      `json:"band_high_rpm,omitempty"`
	WantKN  float64      `json:"want_kn,omitempty"`    // a speed to find the rpm for
	Other   exact.Figure `json:"other_ratio,omitzero"` // another gearcase
}

// Step is another pitch, or another ratio, and what it would do.
type Step struct {
	What string  `json:"what"`
	Low  float64 `json:"low_rpm"` // full-throttle rpm to expect
	High float64 `json:"high_rpm"`
	Fits string  `json:"fits"` // in, below or above the maker's band, or part of each
	KN   float64 `json:"kn"`   // theoretical, at the middle of it
}

// Answer is everything that follows.
type Answer struct {
	PropRPM     float64  `json:"prop_rpm,omitempty"`
	Theoretical *float64 `json:"theoretical_kn,omitempty"`
	SpeedKN     *float64 `json:"speed_kn,omitempty"` // that follows from a known slip
	Slip        *float64 `json:"slip_percent,omitempty"`
	Spread      *float64 `json:"slip_spread_percent,omitempty"` // two standard deviations
	Hull        Hull     `json:"hull"`
	Verdict     string   `json:"verdict"` // good, low, high, impossible or open
	Sentence    string   `json:"sentence"`
	Formula     string   `json:"formula,omitempty"`
	Why         []string `json:"why"`
	WantRPM     *float64 `json:"want_rpm,omitempty"`
	WantText    string   `json:"want_text,omitempty"`
	Full        string   `json:"full,omitempty"` // full throttle against the band
	Steps       []Step   `json:"steps"`
	Cautions    []string `json:"cautions"`
}

var cautions = []string{
	"Propeller off, or key and lanyard out, before a hand goes near it; nobody in the water while the engine runs.",
	"Full throttle only with clear water, a lookout and the usual load; stay within the engine maker's WOT rpm range.",
}

func (q *Request) check() error {
	var errs fault.Errors
	num := func(field string, v, lo, hi float64, unit string) {
		if v != 0 && !(v >= lo && v <= hi) {
			errs.Add(field, "from %v to %v %s", lo, hi, unit)
		}
	}
	if q.ShaftRPM > 0 && q.Ratio.IsZero() {
		q.Ratio = exact.Figure{Number: exact.Int(1)} // its own turns are the propeller's
		q.RPM = q.ShaftRPM
	} else if q.ShaftRPM > 0 {
		q.RPM = q.ShaftRPM * q.Ratio.Float()
	}
	q.knots(&errs)
	if q.Ratio.Cmp(exact.New(1, 2)) < 0 || q.Ratio.Cmp(exact.Int(10)) > 0 {
		errs.Add("ratio", "engine turns per propeller turn, from 0.5 to 10, as 27/13")
	}
	if !q.Other.IsZero() && (q.Other.Cmp(exact.New(1, 2)) < 0 || q.Other.Cmp(exact.Int(10)) > 0) {
		errs.Add("other_ratio", "from 0.5 to 10")
	}
	if !(q.PitchIN >= 0.5 && q.PitchIN <= 80) {
		errs.Add("pitch_in", "the propeller's pitch, from 0.5 to 80 inches; a pitch of nothing drives nothing")
	}
	num("rpm", q.RPM, 100, 20000, "rpm")
	num("rpm_sure", q.RPMSure, 0, 5000, "rpm")
	num("shaft_rpm", q.ShaftRPM, 20, 20000, "rpm")
	if q.SpeedKN != nil && !(*q.SpeedKN >= 0 && *q.SpeedKN <= 150) {
		errs.Add("speed_kn", "from 0 (stopped) to 150 kn")
	}
	if q.SlipPercent != nil && !(*q.SlipPercent >= 0 && *q.SlipPercent <= 100) {
		errs.Add("slip_percent", "from 0 to 100 %%")
	}
	if q.SlipPercent != nil && q.SpeedKN != nil {
		errs.Add("slip_percent", "the slip follows from the speed, or the speed from the slip: leave one of the two out")
	}
	num("speed_sure_kn", q.SureKN, 0, 50, "kn")
	num("full_rpm", q.FullRPM, 100, 20000, "rpm")
	num("want_kn", q.WantKN, 0.1, 150, "kn")
	if (q.LowRPM != 0 || q.HighRPM != 0) && !(q.LowRPM >= 100 && q.LowRPM < q.HighRPM && q.HighRPM <= 20000) {
		errs.Add("band_high_rpm", "the maker's WOT rpm range, low to high")
	}
	if q.Over != "" && q.Over != "water" && q.Over != "ground" {
		errs.Add("over", "water or ground")
	}
	return errs.Err()
}

// speedUnits are knots in each unit: a nautical mile is 1852 m, a mile 1609.344 m.
var speedUnits = map[string]float64{"": 1, "kn": 1, "mph": 1609.344 / 1852, "km/h": 1 / 1.852, "m/s": 3.6 / 1.852}

// knots brings the speeds to knots.
func (q *Request) knots(errs *fault.Errors) {
	k, ok := speedUnits[q.SpeedUnit]
	if !ok {
		errs.Add("speed_unit", "kn, mph, km/h or m/s")
		return
	}
	if q.SpeedKN != nil {
		v := *q.SpeedKN * k
		q.SpeedKN = &v
	}
	q.SureKN, q.WantKN = q.SureKN*k, q.WantKN*k
}

// Work answers a question. Faults are fault.Errors with paths within the
// request.
func Work(q Request) (*Answer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	if err := q.check(); err != nil {
		return nil, err
	}
	a := &Answer{Why: []string{}, Steps: []Step{}, Cautions: cautions, Hull: Hulls()[0], Verdict: "open"}
	found := q.Hull == ""
	for _, h := range Hulls() {
		if h.ID == q.Hull {
			a.Hull, found = h, true
		}
	}
	if !found {
		return nil, fault.New("hull", "skiff, planing, cruiser, tender or displacement")
	}
	ratio := q.Ratio.Float()
	perRPM := q.PitchIN * 60 / InchesPerMile / ratio
	if q.RPM > 0 {
		kn := say.Round(q.RPM*perRPM, 3)
		a.PropRPM, a.Theoretical = say.Round(q.RPM/ratio, 1), &kn
		a.Formula = fmt.Sprintf("%s rpm ÷ %s × %s in × 60 ÷ 72913.4 = %s kn without slip", say.Trim(q.RPM, 0), q.Ratio.Short(3), say.Trim(q.PitchIN, 2), say.Trim(kn, 2))
	}
	switch {
	case q.RPM == 0:
		a.Sentence = "With the engine's rpm and the boat's speed at one steady moment, the slip follows."
	case q.SlipPercent != nil:
		kn := say.Round(q.RPM*perRPM*(1-*q.SlipPercent/100), 3)
		a.SpeedKN = &kn
		a.Sentence = speedWithSlip(q, kn)
	case q.SpeedKN == nil:
		a.Sentence = speedWithout(a)
	default:
		a.slip(&q, q.RPM*perRPM)
	}
	slip := (a.Hull.Low + a.Hull.High) / 2
	measured := a.Slip != nil && *a.Slip >= 0 && *a.Slip <= 60
	if measured {
		slip = *a.Slip
	}
	if q.WantKN > 0 {
		v := say.Round(q.WantKN/(perRPM*(1-slip/100)), 0)
		a.WantRPM = &v
		from := "the usual slip of such a hull"
		if measured {
			from = "the measured slip"
		}
		a.WantText = wantText(q, v, from, slip)
	}
	a.fullThrottle(&q, ratio)
	return a, nil
}

// slip judges what was measured.
func (a *Answer) slip(q *Request, kn float64) {
	speed := *q.SpeedKN
	s := say.Round(100*(1-speed/kn), 2)
	a.Slip = &s
	if q.SureKN > 0 || q.RPMSure > 0 { // of speed ÷ (k · rpm)
		v := say.Round(2*100/kn*math.Hypot(q.SureKN, speed*q.RPMSure/q.RPM), 2)
		a.Spread = &v
	}
	a.Formula += fmt.Sprintf("; slip = 1 − %s ÷ %s = %s %%", say.Trim(speed, 2), say.Trim(*a.Theoretical, 2), say.Trim(s, 1))
	usual := a.usualSlip()
	switch {
	case speed == 0:
		a.Verdict = "open"
		a.Sentence = "Not moving: all of it is slip, 100 %. Moored or just pulling away that is normal and says nothing " +
			"about the pitch. Measure at a steady speed."
	case s < 0:
		a.Verdict = "impossible"
		a.Sentence = impossibleSlip(s)
		a.Why = append(a.Why, "The ratio is another one: count the gearcase, or turn it in gear.", "The pitch is another one: it is read off the hub, and repaired blades differ.")
		if q.Over != "water" {
			a.Why = append(a.Why, "A following current: a satellite tells speed over ground. Run it both ways and take the mean.")
		}
		a.Why = append(a.Why, "The tachometer reads low: wrong pole setting.")
	case s > 60:
		a.Verdict = "impossible"
		a.Sentence = nearlyAllSlip(s)
		a.Why = append(a.Why, "The hub spins in its bushing: mark hub and blades, run, look.", "The ratio or the pitch is another one than entered.", "It draws air: mounted too high, or trimmed out too far.", "The tachometer reads high: wrong pole setting.")
		if q.Over != "water" {
			a.Why = append(a.Why, "Against a current: run it both ways and take the mean.")
		}
	case s < a.Hull.Low:
		a.Verdict = "low"
		a.Sentence = lowSlip(s, usual)
	case s > a.Hull.High:
		a.Verdict = "high"
		a.Sentence = highSlip(s, usual)
		a.Why = append(a.Why, "Heavy load, a foul bottom or too little diameter.", "Bent or worn blades; a bushing that begins to give.", "Trim or mounting height: it draws air.")
	default:
		a.Verdict = "good"
		a.Sentence = usualSlipText(s, usual)
	}
	if q.Over == "ground" && a.Verdict != "impossible" {
		a.Why = append(a.Why, "The speed is over ground: a current of one knot is worth "+say.Trim(100/kn, 1)+" % of slip. Run it both ways.")
	}
}

// mostInches bounds how far another pitch is reckoned: the rule of thumb ends there.
const mostInches = 8

// pitches lists the changes of pitch that are told: two inches either way, and on to
// the band where that is farther. It says how many inches reach it.
func (a *Answer) pitches(q *Request) []float64 {
	out := []float64{-2, -1, 1, 2}
	if q.HighRPM == 0 {
		return out
	}
	gap, word, sign := 0.0, "less", -1.0
	switch {
	case q.FullRPM < q.LowRPM:
		gap = q.LowRPM - q.FullRPM
	case q.FullRPM > q.HighRPM:
		gap, word, sign = q.FullRPM-q.HighRPM, "more", 1
	default:
		return out
	}
	few, many := gap/PerInchHigh, gap/PerInchLow
	a.Full += pitchForRange(few, many, word)
	if many > mostInches {
		a.Full += " That is more than a propeller of this size is made for: another ratio, or something is wrong with engine, load or hull first."
	}
	for d := 3.0; d <= math.Min(mostInches, math.Ceil(many)); d++ {
		out = append(out, sign*d)
	}
	slices.Sort(out)
	return out
}

// fullThrottle holds full throttle against the maker's band, and tries other pitches
// and another ratio.
func (a *Answer) fullThrottle(q *Request, ratio float64) {
	if q.FullRPM == 0 {
		return
	}
	in := func(lo, hi float64) string {
		switch {
		case q.HighRPM == 0:
			return ""
		case hi < q.LowRPM:
			return "below"
		case lo > q.HighRPM:
			return "above"
		case lo >= q.LowRPM && hi <= q.HighRPM:
			return "in"
		}
		return "partly"
	}
	switch in(q.FullRPM, q.FullRPM) {
	case "below":
		a.Full = labors(q)
	case "above":
		a.Full = overspeeds(q)
	case "in":
		a.Full = withinRange(q)
	default:
		a.Full = rangeNeeded(q)
	}
	add := func(what string, lo, hi, pitch, r float64) {
		lo, hi = math.Max(0, say.Round(lo, 0)), math.Max(0, say.Round(hi, 0))
		a.Steps = append(a.Steps, Step{What: what, Low: lo, High: hi, Fits: in(lo, hi), KN: say.Round((lo+hi)/2*pitch*60/InchesPerMile/r, 1)})
	}
	for _, d := range a.pitches(q) {
		if q.PitchIN+d < 1 {
			continue
		}
		word := "more"
		if d < 0 {
			word = "less"
		}
		inch := "inch"
		if math.Abs(d) > 1 {
			inch = "inches"
		}
		lo, hi := q.FullRPM-d*PerInchHigh, q.FullRPM-d*PerInchLow
		add(pitchOption(d, inch, word, q), math.Min(lo, hi), math.Max(lo, hi), q.PitchIN+d, ratio)
	}
	if !q.Other.IsZero() {
		// Between what the rule of thumb for pitch comes to (about the root of
		// the change) and a boat that keeps its speed (all of it).
		k := q.Other.Float() / ratio
		root, all := q.FullRPM*math.Sqrt(k), q.FullRPM*k
		add("gearcase "+q.Other.Short(2), math.Min(root, all), math.Max(root, all), q.PitchIN, q.Other.Float())
	}
}
