package backlash

import (
	"fmt"

	"zorvel/core/say"
)

// Backlash of gears between a hand's and a meter's size lies within this, in
// millimeters: what is ten times off is another unit, or a slipped point.
const (
	LeastUsual = 0.05
	MostUsual  = 0.6
)

// OtherUnit names the unit that a backlash was probably typed in: inches or
// thousandths where millimeters were read. low and high are what it should be near:
// the maker's limits, or what is usual. It is "" where the figure can be meant.
func OtherUnit(mm, low, high float64) string { return otherUnitBy(8, mm, low, high) }

func otherUnitBy(factor, mm, low, high float64) string {
	near := func(v float64) bool { return v >= low/2 && v <= 2*high }
	switch {
	case mm <= 0 || near(mm):
		return ""
	case mm < low/factor && near(mm*25.4):
		return "inches"
	case mm > factor*high && near(mm*0.0254):
		return "thousandths of an inch"
	}
	return ""
}

// AskLimits asks about limits of backlash that no gear has; "" where they can be
// meant.
func AskLimits(low, high float64) string {
	if unit := otherUnitBy(4, (low+high)/2, LeastUsual, MostUsual); unit != "" {
		return fmt.Sprintf("Backlash limits of %s to %s mm: gears have %s to %s mm. Are these %s? Write the limits' unit, then go on.", say.Trim(low, 4), say.Trim(high, 4), say.Trim(LeastUsual, 2), say.Trim(MostUsual, 1), unit)
	}
	return ""
}

// AskReading asks about a measured backlash that is another unit's beside the limits;
// "" where it can be meant.
func AskReading(mm, low, high float64) string {
	if unit := OtherUnit(mm, low, high); unit != "" {
		return fmt.Sprintf("A backlash of %s mm beside limits of %s to %s mm: was it read in %s? Write its unit with it, or say that it was looked at again.", say.Trim(mm, 4), say.Trim(low, 3), say.Trim(high, 3), unit)
	}
	return ""
}

// Shortfall says by how much a backlash misses the limits; "" where it is within.
func Shortfall(mm, low, high float64, n func(float64) string, unit string) string {
	switch {
	case mm < low-5e-4:
		return fmt.Sprintf("That is still %s %s below the limits: these shims can't do more.", n(low-mm), unit)
	case mm > high+5e-4:
		return fmt.Sprintf("That is still %s %s above the limits: these shims can't do more.", n(mm-high), unit)
	}
	return ""
}
