package setup

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/backlash"
	"zorvel/core/belief"
	"zorvel/core/say"
	"zorvel/core/typed"
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

func end(length float64) string {
	if length < 0 {
		return "small end (toe)"
	}
	return "big end (heel)"
}

// Title says in a line what the answer came to, for a record.
func (a *Answer) Title() string {
	switch {
	case a.Axle != nil:
		return fmt.Sprintf("Set-up, trial %d: %s", len(a.Axle.Results), a.Axle.short())
	case a.Swap != nil:
		return "Pinion swapped: " + a.Swap.Sentence
	case a.Rigid != nil:
		return "Rigid stack: " + a.Rigid.Sentence
	case a.Turned != nil:
		return "Carrier turned: " + a.Turned.Sentence
	case a.Side != nil:
		words := make([]string, len(a.Side.Sides))
		for i, x := range a.Side.Sides {
			words[i] = x.Sentence
		}
		return "Side gears. " + strings.Join(words, " ")
	case a.Slip != nil:
		return "Limited slip: " + a.Slip.Sentence
	case a.Runout != nil:
		return "Gear on its bearing: " + a.Runout.Sentence
	case a.Sheet != nil:
		return "Maker's sheet: " + say.Count(len(a.Sheet.Figures), "figure") + " read"
	}
	return ""
}

// short is the sentence without its stacks.
func (v *Verdict) short() string {
	if v.State != StateMove || v.Next == nil {
		return v.Sentence
	}
	q := Axle{Unit: map[bool]string{true: typed.Inches}[v.inches]}
	var parts []string
	if m := v.Next.PinionMM; m != 0 {
		parts = append(parts, q.say("pinion %s mm %s", q.n(math.Abs(m)), map[bool]string{true: "in", false: "out"}[m > 0]))
	}
	if m := v.Next.RingMM; m != 0 {
		parts = append(parts, q.say("ring %s mm %s", q.n(math.Abs(m)), away(m)))
	}
	if len(v.Next.Preload) > 0 {
		parts = append(parts, "preload to be set")
	}
	next := "next: " + strings.Join(parts, ", ")
	if b := v.Results[len(v.Results)-1].Backlash; b != nil {
		return q.say("backlash %s mm; ", q.n(b.MeanMM)) + next
	}
	return next
}

// compare holds the rotating torques against each other; a tenth is what a
// scale and a hand repeat to.
func (a *Stacked) compare(before, after Torque) {
	switch diff := after.NM - before.NM; {
	case math.Abs(diff) <= math.Max(0.1*before.NM, 0.05):
		a.Preload = fmt.Sprintf("Rotating torque %s N·m before and %s after: the preload is untouched.",
			say.Trim(before.NM, 3), say.Trim(after.NM, 3))
	case diff < 0:
		a.Spoiled = true
		a.Preload = fmt.Sprintf("Rotating torque fell from %s to %s N·m: the stack is thicker than the gap and takes the "+
			"preload away. Out with it; measure the gap again.", say.Trim(before.NM, 3), say.Trim(after.NM, 3))
	default:
		a.Preload = fmt.Sprintf("Rotating torque rose from %s to %s N·m: this stack can't do that. Look at the nut, the "+
			"seal and the order of the parts.", say.Trim(before.NM, 3), say.Trim(after.NM, 3))
		a.Spoiled = true
	}
}

// foretell says what the move brings.
func (m *Move) foretell(q *Axle, h house, t, after read) {
	expect := func(n belief.Normal, row []float64, noise float64) *Expect {
		return &Expect{say.Round(n.At(row), 4), say.Round(2*math.Hypot(n.Spread(row), noise), 4)}
	}
	if t.lash != nil {
		m.BacklashMM = expect(h.lash, h.lashRow(after.x, after.y), q.lashSigma(t))
	}
	if t.height != nil {
		m.Height = expect(h.height, h.heightRow(after.y), spotSigma)
		m.Length = expect(h.length, h.lengthRow(after.x), spotSigma)
	}
	if len(m.Changes) == 0 {
		return
	}
	var head, parts []string
	if m.PinionMM != 0 {
		way := "in"
		if m.PinionMM < 0 {
			way = "out"
		}
		head = append(head, q.say("the pinion %s mm %s", q.n(math.Abs(m.PinionMM)), way))
		parts = append(parts, q.depthWords(m))
	}
	if k := len(m.Changes); k >= 2 {
		l, r := m.Changes[k-2], m.Changes[k-1]
		head = append(head, q.say("the ring gear %s mm %s", q.n(math.Abs(m.RingMM)), away(m.RingMM)))
		parts = append(parts, q.carrierWords(m, l, r))
	}
	m.Head = "Move " + strings.Join(head, " and ") + "."
	if e := m.BacklashMM; e != nil {
		parts = append(parts, q.say("Backlash then %s ± %s mm.", q.n(math.Max(0, e.Value)), q.n(e.Spread)))
		if e.Value < backlash.LeastUsual {
			parts = append(parts, q.say("That is less than gears usually have (%s mm): warm, with oil, they bind and burn. "+
				"Look at the limits' unit before you fit it.", q.n(backlash.LeastUsual)))
		}
	}
	m.Text = m.Head + " " + strings.Join(parts, " ")
}

// otherSize asks about limits or readings that are probably in another unit.
func (q *Axle) otherSize(t read, band Band, hasBand bool) string {
	if !hasBand || q.Trials[len(q.Trials)-1].Sure {
		return ""
	}
	if ask := backlash.AskLimits(band.Low, band.High); ask != "" {
		return ask
	}
	if t.lash != nil {
		return backlash.AskReading(t.lash.MeanMM, band.Low, band.High)
	}
	return ""
}

// towardEdge says what to do about a pattern toward one end.
func towardEdge(t read) string {
	return fmt.Sprintf("The pattern is toward the %s. Backlash is in range, so leave the ring gear; check the "+
		"maker's chart.", end(*t.length))
}

// depthShort says that the depth can't be reached.
func (q *Axle) depthShort(a aim, t read, short float64) string {
	return q.say("The pinion needs %s mm less shim and only %s mm is installed: %s mm is out of reach, so "+
		"check for another pinion, bearing or housing first.", q.n(math.Abs(a.dy)), q.n(t.pinion.MM), q.n(short))
}

// leavePinion says that the box has no stack that comes closer.
func (q *Axle) leavePinion(want float64, t read) string {
	return q.say("Leave the pinion: it would need %s mm of shims, %s mm is installed, and the box makes nothing closer.",
		q.n(want), q.n(t.pinion.MM))
}

// ringShort says that one side's shims are too few.
func (q *Axle) ringShort(ideal, room, over float64) string {
	return q.say("The ring should go %s mm %s, and the shims of that side are only %s mm: %s mm of it is out of reach.",
		q.n(math.Abs(ideal)), away(ideal), q.n(room), q.n(over))
}

// noPieces says what the box lacks.
func (q *Axle) noPieces(ideal, l, r float64) string {
	return q.say(" The box has no pieces that move the ring %s mm %s and keep the preload: it needs left %s and right "+
		"%s mm.",
		q.n(math.Abs(ideal)), away(ideal), q.n(l), q.n(r))
}

// placeChange is what changes at a place.
func (q *Axle) placeChange(place string, from, to float64) string {
	return q.say("%s %s → %s mm", place, q.n(from), q.n(to))
}

// notMoreAtOnce says that a move was bounded.
func notMoreAtOnce() string {
	return fmt.Sprintf("By the figures it would be more than %s mm; not more at once.", say.Trim(mostMove, 1))
}

// placeOff asks to read a place again.
func (q *Axle) placeOff(o *Around) string {
	return q.say("Place %d is off by %s mm from the rest: read it again, and look for a burr or a "+
		"chip there.", o.OddPlace, q.signed(o.OddMM))
}

// swings is how the backlash swings in a turn.
func (q *Axle) swings(o *Around) string {
	return q.say("Once per turn the backlash swings %s ± %s mm, most at %s°.", q.n(2*o.Once.AmplitudeMM),
		q.n(4*o.Once.SigmaMM), say.Trim(o.Once.AtDeg, 0))
}

// checkPattern says that the pattern is still to be seen.
func (q *Axle) checkPattern(t read) string {
	return q.say("Backlash %s mm is within its range. Check the pattern before you call it good.", q.n(t.lash.MeanMM))
}

// goodSentence says that the set-up is good.
func (q *Axle) goodSentence(t read, band Band, pattern, fine string) string {
	return q.say("Good: backlash %s mm, everywhere within %s, %s%s.", q.n(t.lash.MeanMM), q.band(band), pattern, fine)
}

// meanOnly says that not every place is within the range.
func (q *Axle) meanOnly(band Band) string {
	return fmt.Sprintf("Over all trials the mean is well within %s, but not every place is. Read the places "+
		"again, with the ring gear pushed the same way each time; what is left is runout.", q.band(band))
}

// markUnit asks in which unit the marks are.
func markUnit(q Swap) string {
	return fmt.Sprintf("Marks of %s and %s: in hundredths of a millimeter or thousandths of an inch? They "+
		"differ by 2.54.", strings.TrimSpace(q.OldMark), strings.TrimSpace(q.NewMark))
}

// givenTwice asks which of two figures holds.
func givenTwice(b, was Band) string {
	return fmt.Sprintf("%s is given twice: %s (%s) and %s (%s). Which one holds for this axle?", b.Name, was.words(),
		was.From, b.words(), b.From)
}

// differenceTooLarge asks whether a figure is in another unit.
func differenceTooLarge(d, b Band) string {
	return fmt.Sprintf("The difference between places may be %s, more than the backlash itself (%s): is one of the "+
		"two in another unit?", d.words(), b.words())
}

// backlashTooLarge asks whether the unit is right.
func backlashTooLarge(b Band) string {
	return fmt.Sprintf("A backlash of %s is far more than axles have: is the unit right?", b.words())
}

// torqueSwapped asks whether two figures are swapped.
func torqueSwapped(t, p Band) string {
	return fmt.Sprintf("The total rotating torque (%s) is less than the pinion's alone (%s): are the two swapped?",
		t.words(), p.words())
}
