package say

import (
	"math"
	"testing"
)

func TestTrimAndSigned(t *testing.T) {
	for _, c := range []struct {
		f            float64
		places       int
		trim, signed string
	}{
		{2.5, 2, "2.5", "+2.5"}, {-0.066, 2, "−0.07", "−0.07"}, {12, 3, "12", "+12"}, {0.004, 2, "0", "0"}, {-0.004, 2, "0", "0"},
		{1234567.891, 1, "1234567.9", "+1234567.9"}, {0, 2, "0", "0"}, {math.NaN(), 1, "?", "?"},
	} {
		if got := Trim(c.f, c.places); got != c.trim {
			t.Errorf("Trim(%v, %d) = %q, want %q", c.f, c.places, got, c.trim)
		}
		if got := Signed(c.f, c.places); got != c.signed {
			t.Errorf("Signed(%v, %d) = %q, want %q", c.f, c.places, got, c.signed)
		}
	}
	if Round(2.345, 2) != 2.35 && Round(2.345, 2) != 2.34 || Round(-1.5, 0) != -2 {
		t.Errorf("%v %v", Round(2.345, 2), Round(-1.5, 0))
	}
}

func TestSpeedIn(t *testing.T) {
	for unit, want := range map[string]float64{"": 96.56064, "km/h": 96.56064, "mph": 60} {
		if got := SpeedIn(96.56064, unit); math.Abs(got-want) > 1e-12 {
			t.Errorf("in %q it is %v, want %v", unit, got, want)
		}
	}
}

func TestSpeed(t *testing.T) {
	for unit, want := range map[string]string{"": "96.6 km/h", "km/h": "96.6 km/h", "mph": "60 mph", "furlongs": "96.6 km/h"} {
		if got := Speed(96.56064, unit, 1); got != want {
			t.Errorf("in %q: %s, want %s", unit, got, want)
		}
	}
}
