package setup

import (
	"math"
	"testing"

	"zorvel/core/typed"
)

// A depth is a length, or gauge piece, feeler and half of the arbor.
func TestParseDepth(t *testing.T) {
	for text, want := range map[string]float64{"92.5": 92.5, "80.00 + 0.12 + 25.40/2": 92.82, "3.150in + 0.005in + 1in/2": 3.655 * 25.4, "80+12thou+10/2": 85.3048} {
		if got, problem := ParseDepth(text, typed.Millimeters); problem != "" || math.Abs(got-want) > 1e-5 {
			t.Errorf("%s: %v %s, want %v", text, got, problem, want)
		}
	}
	for _, text := range []string{"", "80 +", "a", "1+1+1+1+1+1", "80/3"} {
		if _, problem := ParseDepth(text, typed.Millimeters); problem == "" {
			t.Errorf("%q was taken", text)
		}
	}
}
