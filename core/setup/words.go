package setup

import (
	"fmt"
	"math"

	"zorvel/core/say"
)

// depthWords is what becomes of the depth shims.
func (q *Axle) depthWords(m *Move) string {
	if !q.firstLook() {
		return say.Capital(m.Changes[0].Text) + "."
	}
	way := map[bool]string{true: "toward the ring gear's axis", false: "away from the ring gear's axis"}[m.PinionMM > 0]
	if q.PinionThicker == "" {
		return map[bool]string{true: "In is ", false: "Out is "}[m.PinionMM > 0] + way + "."
	}
	thick := map[bool]string{true: "thicker", false: "thinner"}[m.PinionMM*q.inward() > 0]
	return q.say("A depth shim %s mm %s moves it %s.", q.n(math.Abs(m.PinionMM)), thick, way)
}

// carrierWords is what becomes of the carrier's shims.
func (q *Axle) carrierWords(m *Move, left, right Change) string {
	if !q.firstLook() {
		return fmt.Sprintf("%s, %s; the sum stays, so does the preload.", say.Capital(left.Text), right.Text)
	}
	by := q.n(math.Abs(m.RingMM))
	side, other := "the ring gear's side", "the other"
	if q.RingSide != "" {
		side, other = "the "+q.RingSide, map[bool]string{true: "right", false: "left"}[q.RingSide == "left"]
		other = "the " + other
	}
	if m.RingMM > 0 {
		side, other = other, side
	}
	return q.say("Put %s mm more shim on %s and %s mm less on %s, so the preload stays. Type the shims installed for the "+
		"exact stacks.", by, side, by, other)
}
