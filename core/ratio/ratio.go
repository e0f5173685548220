// Package ratio says what tooth counts make of two gears: their exact ratio and
// how their teeth meet.
//
// A ratio is always input turns per one output turn, an exact.Number; negative
// where the output turns against the input.
package ratio

import (
	"errors"

	"zorvel/core/exact"
)

// ErrZero is returned where a ratio would need a zero tooth count: no gear has
// zero teeth.
var ErrZero = errors.New("a ratio needs tooth counts above zero")

// Hunting is the class of a gear pair by the common divisor of its tooth
// counts. (Dudley, Handbook of Practical Gear Design: hunting-tooth pairs.)
type Hunting string

const (
	// HuntingTooth: no common divisor, so every tooth meets every other.
	HuntingTooth Hunting = "hunting"
	// PartialHunting: a common divisor below the smaller count; tooth
	// families meet again and again.
	PartialHunting Hunting = "partial"
	// NonHunting: the larger count is a multiple of the smaller; each tooth
	// of the larger meets one tooth only.
	NonHunting Hunting = "non-hunting"
)

// TimingMarks reports whether the pair must be assembled on its timing marks:
// all but hunting pairs are lapped tooth to tooth.
func (h Hunting) TimingMarks() bool { return h != HuntingTooth }

// Pair is two meshing gears: Driven teeth (ring gear) over Driver teeth
// (pinion). The counts are kept as they are: 46/12 is not 23/6.
type Pair struct {
	Driven, Driver int
}

// Ratio is Driven/Driver, input turns per output turn when the driver is
// turned. It returns ErrZero unless both counts are above zero.
func (p Pair) Ratio() (exact.Number, error) {
	if p.Driven <= 0 || p.Driver <= 0 {
		return exact.Number{}, ErrZero
	}
	return exact.New(int64(p.Driven), int64(p.Driver)), nil
}

// Hunting classifies the pair. Both counts must be above zero.
func (p Pair) Hunting() Hunting {
	small := min(p.Driven, p.Driver)
	switch g := divisor(p.Driven, p.Driver); {
	case g == 1:
		return HuntingTooth
	case g == small:
		return NonHunting
	default:
		return PartialHunting
	}
}

// divisor is the greatest common divisor (Euclid).
func divisor(a, b int) int {
	for b != 0 {
		a, b = b, a%b
	}
	return a
}
