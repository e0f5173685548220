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

// causeWords are the words used at the vehicle; a method may have its own.
var causeWords = [numCauses]string{
	CauseRight:          "fits",
	CauseSwapped:        "the gears were swapped after this tag was made",
	CauseCountedTwice:   "the start tooth was counted twice, at the beginning and at the end",
	CauseToothMissed:    "one tooth was missed",
	CauseOtherGear:      "another gear was counted: the front, not the rear?",
	CauseTurnMissed:     "one whole turn was missed",
	CauseTurnTooMany:    "one whole turn too many was counted",
	CauseDiameter:       "the rim's diameter was used where its circumference belongs",
	CauseCircumference:  "the rim's circumference was entered as its diameter",
	CauseShort:          "past and short of the mark were confused",
	CauseMisread:        "the rest of the turn was read as the ratio that was expected, or a wheel crept",
	CauseWheelHeld:      "one wheel was held while the other turned: that gives half the ratio",
	CauseWheelsTogether: "both wheels turned together: that gives the full ratio, not half",
	CauseWheelCrept:     "the wheel that nobody watched crept, overran or turned backward",
	CauseSlip:           "the converter slipped: that reads high",
	CauseOtherUnit:      "another axle or another gear was turned: the front, not the rear?",
}

// say puts a cause into words.
func (c Cause) say(w *technique) string {
	if own := w.says[c]; own != "" {
		return own
	}
	return causeWords[c]
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
