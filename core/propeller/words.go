package propeller

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"math"

	"zorvel/core/say"
)

// speedWithSlip is the speed that the slip leaves.
func speedWithSlip(q Request, kn float64) string {
	return fmt.Sprintf("With %s %% of slip it makes %s kn (%s mph, %s km/h).", say.Trim(*q.SlipPercent, 1),
		say.Trim(kn, 1), say.Trim(kn*1852/1609.344, 1), say.Trim(kn*1.852, 1))
}

// speedWithout is the speed that the pitch allows.
func speedWithout(a *Answer) string {
	return fmt.Sprintf("Without slip it would make %s kn; with the boat's speed the slip follows.",
		say.Trim(*a.Theoretical, 1))
}

// wantText is the engine's speed for a boat's speed.
func wantText(q Request, v float64, from string, slip float64) string {
	return fmt.Sprintf("%s kn take about %s rpm, with %s of %s %%.", say.Trim(q.WantKN, 1), say.Trim(v, 0), from,
		say.Trim(slip, 1))
}

// usualSlip is the slip that is typical of a hull.
func (a *Answer) usualSlip() string {
	return fmt.Sprintf("%s to %s %% is typical of a %s", say.Trim(a.Hull.Low, 0), say.Trim(a.Hull.High, 0), a.Hull.Name)
}

// impossibleSlip says that something entered isn't so.
func impossibleSlip(s float64) string {
	return fmt.Sprintf("A slip of %s %%: the boat would be faster than its propeller screws. Something that was "+
		"entered isn't so.", say.Trim(s, 1))
}

// nearlyAllSlip says that something is wrong.
func nearlyAllSlip(s float64) string {
	return fmt.Sprintf("A slip of %s %%: almost nothing is pushed. Something is wrong, or was typed wrong.",
		say.Trim(s, 1))
}

// lowSlip asks to check pitch and ratio.
func lowSlip(s float64, usual string) string {
	return fmt.Sprintf("Slip %s %%, lower than usual: %s. Check pitch and ratio before it is believed.", say.Trim(s, 1),
		usual)
}

// highSlip is a slip that something raises.
func highSlip(s float64, usual string) string {
	return fmt.Sprintf("Slip %s %%, higher than usual: %s.", say.Trim(s, 1), usual)
}

// usualSlipText is a slip that is as it should be.
func usualSlipText(s float64, usual string) string {
	return fmt.Sprintf("Slip %s %%: as it should be, %s.", say.Trim(s, 1), usual)
}

// pitchForRange is by how much the pitch is off.
func pitchForRange(few, many float64, word string) string {
	return fmt.Sprintf(" To reach the WOT range: about %s to %s inches %s pitch.", say.Trim(few, 1), say.Trim(many, 1),
		word)
}

// labors says that the engine labors.
func labors(q *Request) string {
	return fmt.Sprintf("Full throttle reaches %s rpm, below the maker's %s to %s: the engine labors. Less pitch, or a "+
		"shorter ratio (numerically higher).", say.Trim(q.FullRPM, 0), say.Trim(q.LowRPM, 0), say.Trim(q.HighRPM, 0))
}

// overspeeds says that the engine overspeeds.
func overspeeds(q *Request) string {
	return fmt.Sprintf("Full throttle reaches %s rpm, above the maker's %s to %s: it overspeeds. More pitch, or a "+
		"taller ratio (numerically lower).", say.Trim(q.FullRPM, 0), say.Trim(q.LowRPM, 0), say.Trim(q.HighRPM, 0))
}

// withinRange says that the pitch is right.
func withinRange(q *Request) string {
	return fmt.Sprintf("Full throttle reaches %s rpm, within the maker's %s to %s.", say.Trim(q.FullRPM, 0),
		say.Trim(q.LowRPM, 0), say.Trim(q.HighRPM, 0))
}

// rangeNeeded asks for the maker's range.
func rangeNeeded(q *Request) string {
	return fmt.Sprintf("Full throttle reaches %s rpm. Enter the maker's WOT range to see whether the pitch is right.",
		say.Trim(q.FullRPM, 0))
}

// pitchOption names another pitch.
func pitchOption(d float64, inch, word string, q *Request) string {
	return fmt.Sprintf("%s %s %s pitch: %s in", say.Trim(math.Abs(d), 0), inch, word, say.Trim(q.PitchIN+d, 2))
}
