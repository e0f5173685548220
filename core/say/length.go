package say

import (
	"fmt"
	"strings"
)

// Unit is what the lengths of a sentence are said in: "in", or else millimeters.
type Unit string

const mmPerInch = 25.4

// Len prints a length: to a micrometer, or to a tenth of a thousandth of an inch.
func (u Unit) Len(mm float64) string {
	if u == "in" {
		return Trim(mm/mmPerInch, 4)
	}
	return Trim(mm, 3)
}

// Signed is Len with a plus before what is above zero.
func (u Unit) Signed(mm float64) string {
	if u == "in" {
		return Signed(mm/mmPerInch, 4)
	}
	return Signed(mm, 3)
}

// F formats a sentence that was written for millimeters: its " mm" becomes the unit.
func (u Unit) F(format string, args ...any) string {
	if u == "in" {
		format = strings.ReplaceAll(format, " mm", " in")
	}
	return fmt.Sprintf(format, args...)
}
