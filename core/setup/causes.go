package setup

import (
	"fmt"
	"math"

	"zorvel/core/say"
)

// incurable names what no shim cures.
func (q *Axle) incurable(m *Made, t read, h house) string {
	switch m.Mark {
	case "two_spots":
		return "No move cures this: a pattern in two spots is a worn or a mismatched pair. Compare the numbers etched on both; renew them together."
	case "varies":
		return "No move cures this: the pattern changes around the ring. Find the run-out first: dirt under the ring, a bent flange, a bad bearing."
	case "edge_line":
		return "No move cures this: a hard line along an edge is a damaged or a mismatched tooth. Look at every tooth before another shim."
	}
	if m.Drive != nil && m.Coast != nil {
		if d := math.Abs(m.Drive.Height - m.Coast.Height); d > 0.8 {
			return "Shims won't fix this: drive and coast patterns are at different heights, and the pinion moves both " +
				"together. Wrong pair, a bent housing or a worn flank; read both again first."
		}
		if d := math.Abs(m.Drive.Length - m.Coast.Length); d > 1 && math.Abs(*t.height) <= heightBand {
			return "No move cures this: at the right depth drive and coast show at opposite ends, so the axes don't cross " +
				"as they were cut. A bent housing, a wrong bearing seat or a wrong pair."
		}
	}
	if h.heights > 2 && h.height.Mean(1) < heightPerMM/8 && h.height.Sigma(1) < heightPerMM/8 {
		return "The depth shims changed and the pattern barely did: are they behind the pinion's own bearing, and is it pressed home?"
	}
	return ""
}

// runout says how much, where, and what it comes from.
func (q *Axle) runout(h house, t read) string {
	if t.lash == nil || t.lash.Once == nil {
		if t.face != nil {
			return q.say("No shim cures this: the ring's back face runs out by %s mm. Take the ring off, clean it and its flange, look for a burr; then measure the bare flange.", q.n(t.face.GreatestMM-t.face.LeastMM))
		}
		return "No shim cures this: the backlash differs too much around the ring. Read eight places from one mark, and the ring's back face from the same mark, to tell dirt from a bad ring."
	}
	o := t.lash.Once
	if t.lash.OddPlace > 0 {
		return q.say("Shims won't fix this: place %d is off by %s mm from the others. Read it again, then look at the "+
			"teeth there.", t.lash.OddPlace, q.signed(t.lash.OddMM))
	}
	head := q.say("No shim cures this: once per turn the backlash swings %s mm, most at %s° from the mark.", q.n(2*o.AmplitudeMM), say.Trim(o.AtDeg, 0))
	if !o.Seen {
		return "No shim cures this: the backlash differs too much from place to place, and not once per turn. Read the places again with the ring pushed the same way each time; then look at the teeth one by one."
	}
	if t.face == nil || t.face.Once == nil {
		return head + " Dirt under the ring or a bad ring? Read its back face at the same places."
	}
	// What the face does makes backlash by the law; as far as it goes along
	// with what is seen, dirt or a burr under the ring explains it.
	f := t.face.Once
	angle := (f.AtDeg - o.AtDeg) * math.Pi / 180
	along := f.AmplitudeMM * h.lash.Mean(1) * math.Abs(math.Cos(angle)) / o.AmplitudeMM
	switch {
	case !f.Seen || along < 0.35:
		return head + q.say(" Its back face runs true (%s mm): it is the ring's teeth or the bearings, not dirt.", q.n(2*f.AmplitudeMM))
	case along > 0.65:
		return head + q.say(" The back face goes along with it (%s mm at %s°): dirt or a burr under the ring, or a bent flange. Take it off, clean both faces, measure the bare flange.", q.n(2*f.AmplitudeMM), say.Trim(f.AtDeg, 0))
	}
	return head + q.say(" The back face explains a part of it (%s mm at %s°): clean under the ring first, then measure again.", q.n(2*f.AmplitudeMM), say.Trim(f.AtDeg, 0))
}

// preload says what to do about rotating torques; they come before the pattern
// means anything.
func (q *Axle) preload(v *Verdict) []string {
	out := []string{}
	for _, c := range v.Checks {
		switch c.ID + " " + c.State {
		case FigurePinionNew + " low", FigurePinionUsed + " low":
			if q.Spacing == "crush" {
				out = append(out, "Pinion preload too low: tighten the nut a little farther and measure often; once past the "+
					"range the sleeve is scrap.")
			} else {
				out = append(out, "Pinion preload too low: a thinner shim between the bearings."+q.spacerStep(v))
			}
		case FigurePinionNew + " high", FigurePinionUsed + " high":
			if q.Spacing == "crush" {
				out = append(out, "Pinion preload too high: the crush sleeve was overshot. A new sleeve; never back the nut off.")
			} else {
				out = append(out, "Pinion preload too high: a thicker shim between the bearings."+q.spacerStep(v))
			}
		case FigureTotalNew + " low", FigureTotalUsed + " low":
			out = append(out, "Carrier preload too low: both side stacks thicker by the same amount, so that the ring stays.")
		case FigureTotalNew + " high", FigureTotalUsed + " high":
			out = append(out, "Carrier preload too high: both side stacks thinner by the same amount, so that the ring stays.")
		}
	}
	return out
}

// spacerStep says how much by what two trials taught; nothing where they
// didn't.
func (q *Axle) spacerStep(v *Verdict) string {
	n := len(v.Results)
	band := Band{}
	for _, f := range v.Figures {
		if f.Figure == FigurePinionNew && q.Bearings == "new" || f.Figure == FigurePinionUsed && q.Bearings == "used" {
			band = f
		}
	}
	now := v.Results[n-1]
	b, problem := ParsePile(q.Trials[n-1].Spacer, q.Unit)
	if problem != "" || now.Torque == nil {
		return ""
	}
	for i := n - 2; i >= 0; i-- {
		was := v.Results[i]
		a, problem := ParsePile(q.Trials[i].Spacer, q.Unit)
		if problem != "" || was.Torque == nil || math.Abs(a.MM-b.MM) < 0.005 {
			continue
		}
		slope := (now.Torque.NM - was.Torque.NM) / (b.MM - a.MM)
		if slope > -0.1 { // thicker must turn easier; else it teaches nothing
			return ""
		}
		want := b.MM + ((band.Low+band.High)/2-now.Torque.NM)/slope
		return fmt.Sprintf(" By trial %d and now, %s N·m per 0.01 mm: about %s mm instead of %s.", i+1, say.Trim(-slope/100, 3), say.Trim(math.Max(0, want), 2), say.Trim(b.MM, 3))
	}
	return ""
}
