package identify

import "fmt"

// Cause is why a reading may be what it is.
type Cause int

// String is the cause's name in documents and interfaces.
func (c Cause) String() string {
	return [numCauses]string{
		"right", "gears_swapped", "one_wheel_was_held", "both_wheels_turned", "start_tooth_counted_twice", "tooth_missed",
		"turn_missed", "turn_counted_twice", "diameter_for_circumference", "circumference_for_diameter",
		"past_and_short_confused", "remainder_misread", "assumed_wheel_crept", "converter_slipped", "other_gear_counted", "another_unit",
	}[c]
}

// say puts a cause into the words used at the vehicle.
func (c Cause) say(m Method) string {
	switch c {
	case CauseRight:
		return "fits"
	case CauseSwapped:
		if m == Stamp {
			return "the stamp belongs to other gears, or was misread: wire-brush it and read again"
		}
		return "the gears were swapped after this tag was made"
	case CauseCountedTwice:
		return "the start tooth was counted twice, at the beginning and at the end"
	case CauseToothMissed:
		return "one tooth was missed"
	case CauseOtherGear:
		return "another gear was counted: the front, not the rear?"
	case CauseTurnMissed:
		return "one whole turn was missed"
	case CauseTurnTooMany:
		return "one whole turn too many was counted"
	case CauseDiameter:
		return "the rim's diameter was used where its circumference belongs"
	case CauseCircumference:
		return "the rim's circumference was entered as its diameter"
	case CauseShort:
		return "past and short of the mark were confused"
	case CauseMisread:
		if m == Bench {
			return "the rest of the turn was read as the ratio that was expected, or the output crept"
		}
		return "the rest of the turn was read as the ratio that was expected, or a wheel crept"
	case CauseWheelHeld:
		return "one wheel was held while the other turned: that gives half the ratio"
	case CauseWheelsTogether:
		return "both wheels turned together: that gives the full ratio, not half"
	case CauseWheelCrept:
		return "the wheel that nobody watched crept, overran or turned backward"
	case CauseSlip:
		return "the converter slipped: that reads high"
	}
	if m == Road {
		return "another gear, tire or speed than entered"
	}
	return "another axle or another gear was turned: the front, not the rear?"
}

// addCauses splits w by how the reading came about if h is true.
func (c *compiled) addCauses(sp *Space, h *hyp, w float64, shares *[numCauses]float64) {
	total := c.likelihood(sp, h)
	if total <= 0 {
		return
	}
	switch {
	case c.byRatio != nil:
		for i := range c.byRatio {
			o := &c.byRatio[i]
			shares[o.cause] += w * o.weight * o.density(h.r) / total
		}
	case c.counts != nil:
		this, other := c.countsSplit(&sp.cons[h.con], h)
		shares[c.countCause(sp, h)] += w * this / (this + other)
		shares[CauseOtherGear] += w * other / (this + other)
	default:
		right := (1 - c.stale) * c.markLikelihood(sp, h) / total
		shares[CauseRight] += w * right
		shares[CauseSwapped] += w * (1 - right)
	}
}

// countCause is the worst fault among the counts if h is true.
func (c *compiled) countCause(sp *Space, h *hyp) Cause {
	con := &sp.cons[h.con]
	worst := CauseRight
	for _, n := range c.counts {
		for i, g := range con.Teeth {
			if g.Name != n.Member {
				continue
			}
			cause := CauseOtherGear
			switch n.Count - int(h.teeth[i]) {
			case 0:
				cause = CauseRight
			case 1:
				cause = CauseCountedTwice
			case -1:
				cause = CauseToothMissed
			}
			worst = max(worst, cause)
		}
	}
	return worst
}

// The causes that the error models know. CauseRight is the reading as it
// stands.
const (
	CauseRight Cause = iota
	CauseSwapped
	CauseWheelHeld
	CauseWheelsTogether
	CauseCountedTwice
	CauseToothMissed
	CauseTurnMissed
	CauseTurnTooMany
	CauseDiameter
	CauseCircumference
	CauseShort
	CauseMisread
	CauseWheelCrept
	CauseSlip
	CauseOtherGear
	CauseOtherUnit
	numCauses
)

// MarshalText writes a cause as String does.
func (c Cause) MarshalText() ([]byte, error) { return []byte(c.String()), nil }

// UnmarshalText reads what MarshalText wrote.
func (c *Cause) UnmarshalText(text []byte) error {
	for x := range numCauses {
		if x.String() == string(text) {
			*c = x
			return nil
		}
	}
	return fmt.Errorf("%.40q is no cause", text)
}
