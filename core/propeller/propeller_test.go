package propeller

import (
	"encoding/json"
	"errors"
	"math"
	"strings"
	"testing"

	"zorvel/core/exact"
	"zorvel/core/fault"
)

func fig(s string) exact.Figure {
	n, err := exact.Parse(s)
	if err != nil {
		panic(err)
	}
	return exact.Figure{Number: n}
}

// By hand: 5000 ÷ 2.0769 = 2407.4; × 17 × 60 ÷ 72913.4 = 33.678 kn; at 29 kn the
// slip is 13.89 %.
func TestSlip(t *testing.T) {
	a, err := Work(Request{Ratio: fig("27/13"), PitchIN: 17, RPM: 5000, SpeedKN: knots(29), SureKN: 0.2, RPMSure: 20, WantKN: 25})
	if err != nil {
		t.Fatal(err)
	}
	if math.Abs(a.PropRPM-2407.4) > 0.05 || math.Abs(*a.Theoretical-33.678) > 0.001 || math.Abs(*a.Slip-13.89) > 0.01 || a.Verdict != "good" {
		t.Errorf("%+v", a)
	}
	// 25 kn ÷ (1 − 0.1389) ÷ 33.678 × 5000 = 4310 rpm.
	if math.Abs(*a.WantRPM-4310) > 2 {
		t.Errorf("wanted %v", *a.WantRPM)
	}
	// 86.11 × √((0.2/29)² + (20/5000)²) × 2 = 1.37 %.
	if math.Abs(*a.Spread-1.373) > 0.01 {
		t.Errorf("spread %v", *a.Spread)
	}
	for kn, c := range map[float64]struct{ verdict, why string }{
		40: {"impossible", "A following current"}, 10: {"impossible", "bushing"}, 32: {"low", ""}, 24: {"high", "foul bottom"},
	} {
		a, err := Work(Request{Ratio: fig("27/13"), PitchIN: 17, RPM: 5000, SpeedKN: knots(kn), Over: "ground"})
		if err != nil || a.Verdict != c.verdict || !strings.Contains(strings.Join(a.Why, " "), c.why) {
			t.Errorf("%v kn: %+v %v", kn, a, err)
		}
		if _, err := json.Marshal(a); err != nil {
			t.Error(err)
		}
	}
}

func TestFullThrottle(t *testing.T) {
	a, err := Work(Request{Ratio: fig("2.08"), PitchIN: 19, FullRPM: 4900, LowRPM: 5200, HighRPM: 5800, Other: fig("2.31")})
	if err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(a.Full, "engine labors") || len(a.Steps) != 5 {
		t.Fatalf("%+v", a)
	}
	// Two inches less: 300 to 400 more.
	if s := a.Steps[0]; s.Low != 5200 || s.High != 5300 || s.Fits != "in" || !strings.Contains(s.What, "2 inches less pitch: 17 in") {
		t.Errorf("%+v", s)
	}
	// 2.31 for 2.08: between the root (5164) and all of it (5442).
	if s := a.Steps[4]; math.Abs(s.Low-5164) > 1 || math.Abs(s.High-5442) > 1 || s.Fits != "partly" {
		t.Errorf("%+v", s)
	}
}

func TestRefusals(t *testing.T) {
	good := Request{Ratio: fig("2"), PitchIN: 17}
	for field, change := range map[string]func(*Request){
		"pitch_in":      func(q *Request) { q.PitchIN = 1e-6 },
		"ratio":         func(q *Request) { q.Ratio = exact.Figure{} },
		"hull":          func(q *Request) { q.Hull = "raft" },
		"band_high_rpm": func(q *Request) { q.LowRPM, q.HighRPM = 6000, 5000 },
		"over":          func(q *Request) { q.Over = "ice" },
		"rpm":           func(q *Request) { q.RPM = -1 },
	} {
		q := good
		change(&q)
		_, err := Work(q)
		var list fault.Errors
		var one *fault.Error
		got := ""
		if errors.As(err, &list) {
			got = list[0].Field
		} else if errors.As(err, &one) {
			got = one.Field
		}
		if got != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	q := good
	q.PitchIN = -17
	if _, err := Work(q); err == nil {
		t.Error("a negative pitch was taken")
	}
	if a, err := Work(good); err != nil || a.Verdict != "open" {
		t.Errorf("nothing measured: %+v %v", a, err)
	}
}

func knots(v float64) *float64 { return &v }
