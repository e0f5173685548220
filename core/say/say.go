// Package say prints computed figures: rounded, short, with a real minus.
package say

import (
	"math"
	"strings"

	"zorvel/core/exact"
)

// Round rounds half away from zero to so many decimal places.
func Round(f float64, places int) float64 {
	p := math.Pow10(places)
	return math.Round(f*p) / p
}

// Trim prints a float with at most so many decimal places: "2.5", "−0.07",
// "12". What is no number prints as "?".
func Trim(f float64, places int) string {
	n, err := exact.Of(Round(f, places))
	if err != nil {
		return "?"
	}
	return strings.Replace(n.Short(places), "-", "−", 1)
}

// Signed is Trim with a plus before what is above zero.
func Signed(f float64, places int) string {
	s := Trim(f, places)
	if f > 0 && s != "0" {
		return "+" + s
	}
	return s
}

// KMPerMile is kilometers in a mile (international yard and pound, 1959).
const KMPerMile = 1.609344

// SpeedIn is a speed in the unit that is asked for: mph, or else km/h.
func SpeedIn(kmh float64, unit string) float64 {
	if unit == "mph" {
		return kmh / KMPerMile
	}
	return kmh
}

// Speed says a speed in mph, or else km/h.
func Speed(kmh float64, unit string, places int) string {
	if unit != "mph" {
		unit = "km/h"
	}
	return Trim(SpeedIn(kmh, unit), places) + " " + unit
}
