package practice

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/identify"
	"zorvel/core/say"
)

// noted keeps a reading.
func (u *ratioUnit) noted(r identify.Reading, m *Mistake) {
	u.read = append(u.read, noted{reading: r, mistake: m})
}

func (u *ratioUnit) nextID() string { return strconv.Itoa(len(u.read) + 1) }

// mostRead bounds the readings of one unit; a tag and a stamp can still be looked for after.
const mostRead = 12

// note writes a reading down, and keeps what was wrong with it for the review.
func (u *ratioUnit) note(a Act) (Done, error) {
	if a.Note == nil {
		return Done{}, fault.New("note", "write down what you counted")
	}
	n := *a.Note
	n.ID = u.nextID()
	if len(u.read) >= mostRead {
		return Done{}, fault.New("note", "%d readings of one unit are enough: decide", mostRead)
	}
	if err := u.fits(n, a.On); err != nil {
		return Done{}, err
	}
	if err := identify.CheckReading(u.sp, n); err != nil {
		return Done{}, fault.Under("note", err)
	}
	d := Done{Words: "Wrote down: " + n.Summary(), Minutes: minutesNote}
	if a.On == "teeth" {
		for _, c := range n.Teeth {
			d.Minutes += identify.CountingMinutes(c.Count)
		}
		u.noted(n, u.wrongTeeth(n.Teeth))
		return d, nil
	}
	shaft := shaftOf(n)
	if shaft.Remainder.By != identify.OnTheMark {
		d.Minutes += identify.MinutesEye
	}
	u.noted(n, u.wrongTurns(n, shaft))
	u.mark = u.at // counted from here on
	return d, nil
}

// fits refuses a note of another sort than was offered.
func (u *ratioUnit) fits(n identify.Reading, on string) error {
	want := identify.Bench
	switch {
	case on == "teeth":
		want = identify.Teeth
	case u.wheels():
		want = identify.Turns
	}
	if n.Method != want {
		return fault.New("note/method", "write down %s here", want)
	}
	if on == "turns" && !u.ready.marked {
		return fault.New("note", "nothing was marked: chalk marks first, then turn and count")
	}
	return nil
}

func shaftOf(n identify.Reading) identify.Shaft {
	switch {
	case n.Turns != nil:
		return n.Turns.Shaft
	case n.Bench != nil:
		return n.Bench.Shaft
	}
	return identify.Shaft{}
}

// Where a note is off, in turns.
const (
	lostTurn   = 0.6
	offPartial = 0.13 // two sigma of a good eye
	offWheel   = 0.12
)

// wrongTurns is what is wrong with noted turns, by what really turned since the mark.
func (u *ratioUnit) wrongTurns(n identify.Reading, s identify.Shaft) *Mistake {
	var wheel string
	if n.Turns != nil {
		wheel = wrongWheel(n.Turns.Left.Turns, u.at.left-u.mark.left, n.Turns.Right.Turns, u.at.right-u.mark.right)
	} else if out := math.Abs(u.at.right - u.mark.right); math.Abs(n.Bench.OutputTurns-out) > offWheel {
		wheel = fmt.Sprintf("The output turned %s, and %s was written down.", say.Trim(out, 2),
			say.Trim(n.Bench.OutputTurns, 2))
	}
	if wheel != "" {
		return &Mistake{wheel, "wheels"}
	}
	true := math.Abs(u.at.input - u.mark.input)
	off := s.Turned() - true
	was := fmt.Sprintf("the %s made %s turns, and %s was written down", strings.ToLower(u.machine().Input.Name),
		say.Trim(true, 2), say.Trim(s.Turned(), 2))
	switch lost := math.Round(off); {
	case math.Abs(off) > lostTurn && lost < 0:
		return &Mistake{fmt.Sprintf("%s lost: %s. Make a mark every ten.", say.Capital(say.Count(int(-lost), "turn")),
			was), "interruptions"}
	case math.Abs(off) > lostTurn:
		return &Mistake{fmt.Sprintf("%s too many: %s. The start is zero, not one.", say.Capital(say.Count(int(lost),
			"turn")), was), "interruptions"}
	case math.Abs(off) > offPartial && u.expected(s.Turned(), true):
		return &Mistake{fmt.Sprintf("The partial turn was read as the tag has it: %s.", was), "remainder"}
	case math.Abs(off) > offPartial:
		return &Mistake{fmt.Sprintf("The partial turn was misjudged: %s.", was), "remainder"}
	}
	return nil
}

// expected reports whether a note is nearer to what the tag says than what turned is.
func (u *ratioUnit) expected(noted, true float64) bool {
	tag, err := strconv.ParseFloat(u.tag, 64)
	if err != nil || !u.tagLies || true == 0 {
		return false
	}
	by := tag / u.ratio * true
	return math.Abs(noted-by) < math.Abs(true-by)/2
}

func wrongWheel(l, trueL, r, trueR float64) string {
	for _, w := range []struct {
		name     string
		is, says float64
	}{{left, trueL, l}, {right, trueR, r}} {
		switch {
		case math.Abs(w.is-w.says) <= offWheel || math.Abs(w.is+w.says) <= offWheel:
		case math.Abs(w.says) < offWheel:
			return fmt.Sprintf("The %s wheel moved %s turns, and was written down as still: it crept, or followed.",
				w.name, say.Trim(w.is, 2))
		case math.Abs(w.is) < offWheel:
			return fmt.Sprintf("The %s wheel stayed, and was written down as turned: that doubles the shaft's share.",
				w.name)
		default:
			return fmt.Sprintf("The %s wheel turned %s, and %s was written down.", w.name, say.Trim(w.is, 2),
				say.Trim(w.says, 2))
		}
	}
	return ""
}

// wrongTeeth is what is wrong with counted teeth.
func (u *ratioUnit) wrongTeeth(counts identify.Counts) *Mistake {
	for i, g := range u.con.Teeth {
		for _, c := range counts {
			if c.Member != g.Name || c.Count == u.teeth[i] {
				continue
			}
			switch c.Count - u.teeth[i] {
			case 1:
				return &Mistake{fmt.Sprintf("The %s has %d teeth, and %d were counted: the start tooth twice, at "+
					"the beginning and the end.", g.Words, u.teeth[i], c.Count), "interruptions"}
			case -1:
				return &Mistake{fmt.Sprintf("The %s has %d teeth, and %d were counted: one was missed.", g.Words,
					u.teeth[i], c.Count), "interruptions"}
			}
			return &Mistake{fmt.Sprintf("The %s has %d teeth, and %d were counted: a mark every ten keeps the tens.",
				g.Words, u.teeth[i], c.Count), "interruptions"}
		}
	}
	return nil
}
