package propeller

import (
	"math"
	"strings"
	"testing"
)

// A boat that stands is all slip, in whatever unit; the shaft's own rpm needs no
// ratio; a known slip gives the speed.
func TestInputs(t *testing.T) {
	stands, err := Work(Request{Ratio: fig("27/13"), PitchIN: 17, RPM: 2000, SpeedKN: knots(0)})
	if err != nil || stands.Slip == nil || *stands.Slip != 100 || !strings.Contains(stands.Sentence, "Not moving") {
		t.Errorf("%+v, %v", stands, err)
	}
	for unit, per := range map[string]float64{"kn": 1, "mph": 1852 / 1609.344, "km/h": 1.852, "m/s": 1852.0 / 3600} {
		a, err := Work(Request{Ratio: fig("27/13"), PitchIN: 17, RPM: 5000, SpeedKN: knots(29 * per), SpeedUnit: unit, WantKN: 20 * per})
		if err != nil {
			t.Fatal(err)
		}
		kn := 5000 / (27.0 / 13) * 17 * 60 / InchesPerMile
		if math.Abs(*a.Slip-100*(1-29/kn)) > 0.006 {
			t.Errorf("%s: slip %v", unit, *a.Slip)
		}
		if want := 20 / (kn / 5000 * 29 / kn); math.Abs(*a.WantRPM-want) > 1.5 {
			t.Errorf("%s: %v rpm, want %v", unit, *a.WantRPM, want)
		}
	}
	byShaft, err := Work(Request{ShaftRPM: 5000 * 13.0 / 27, PitchIN: 17, SpeedKN: knots(29)})
	byEngine, err2 := Work(Request{Ratio: fig("27/13"), PitchIN: 17, RPM: 5000, SpeedKN: knots(29)})
	if err != nil || err2 != nil || math.Abs(*byShaft.Slip-*byEngine.Slip) > 0.02 {
		t.Errorf("%+v %+v", byShaft, byEngine)
	}
	known, err := Work(Request{Ratio: fig("27/13"), PitchIN: 17, RPM: 5000, SlipPercent: knots(12)})
	if err != nil || known.SpeedKN == nil || math.Abs(*known.SpeedKN-*known.Theoretical*0.88) > 0.01 {
		t.Errorf("%+v, %v", known, err)
	}
	for _, q := range []Request{
		{Ratio: fig("2"), PitchIN: 17, RPM: 5000, SpeedKN: knots(20), SpeedUnit: "furlongs"}, {Ratio: fig("2"), PitchIN: 17, RPM: 5000, SpeedKN: knots(20), SlipPercent: knots(10)},
		{PitchIN: 17, RPM: 5000}, {Ratio: fig("2"), PitchIN: 17, RPM: 5000, SpeedKN: knots(-1)},
	} {
		if _, err := Work(q); err == nil {
			t.Errorf("%+v was taken", q)
		}
	}
}

// However far from the band, it is said how many inches reach it, and the last step
// told does, unless no propeller can.
func TestInchesToTheBand(t *testing.T) {
	for full := 3000.0; full <= 8000; full += 130 {
		a, err := Work(Request{Ratio: fig("27/13"), PitchIN: 17, FullRPM: full, LowRPM: 5000, HighRPM: 5600})
		if err != nil {
			t.Fatal(err)
		}
		gap := math.Max(5000-full, full-5600)
		if (gap > 0) != strings.Contains(a.Full, "To reach the WOT range: about ") {
			t.Errorf("%v rpm: %s", full, a.Full)
		}
		reached := false
		for _, s := range a.Steps {
			reached = reached || s.Fits == "in" || s.Fits == "partly"
		}
		if gap > 0 && gap < mostInches*PerInchLow && !reached {
			t.Errorf("%v rpm: no step reaches the band: %+v", full, a.Steps)
		}
		if gap > mostInches*PerInchLow && !strings.Contains(a.Full, "more than a propeller of this size") {
			t.Errorf("%v rpm: %s", full, a.Full)
		}
	}
}
