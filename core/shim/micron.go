package shim

import "math"

// Micron is the unit that shims are reckoned in: a tenth of a micrometer, so
// that hundredths of a millimeter and tenths of a thousandth of an inch are
// whole numbers.
type Micron int64

// Of turns millimeters into Micron.
func Of(mm float64) Micron { return Micron(math.Round(mm * 1e4)) }

// MM is the length in millimeters.
func (m Micron) MM() float64 { return float64(m) / 1e4 }

func (m Micron) abs() Micron { return max(m, -m) }
