package practice

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/identify"
	"zorvel/core/say"
)

// step is one thing that can be done at a unit, with what it changes.
type step struct {
	Offer
	now bool // it makes sense now
	do  func() Done
}

// Groups of offers, as the hands go.
const (
	inSafe  = "safe"
	inReady = "ready"
	inTurn  = "turn"
	inLook  = "look"
	inWrite = "write"
)

// steps are all that can be done, in the order of the work.
func (u *ratioUnit) steps() []step {
	r := &u.ready
	list := u.gettingReady()
	list = append(list, step{Offer{Do: "mark", Group: inReady, Label: "Chalk marks on every shaft",
		Minutes: minutesMark}, true, func() Done {
		again := r.marked
		r.marked, u.mark = true, u.at
		if again {
			return Done{Words: "Marked the shafts anew"}
		}
		return Done{Words: "Chalk marks on every shaft"}
	}})
	list = append(list, u.looking()...)
	return append(list, u.closer()...)
}

// gettingReady is what comes before anything is turned.
func (u *ratioUnit) gettingReady() []step {
	r := &u.ready
	set := func(flag *bool, label, words, forgot string, minutes float64, do, group string) step {
		return step{Offer{Do: do, Group: group, Label: label, Minutes: minutes}, !*flag, func() Done {
			*flag = true
			return Done{Words: words, Forgot: forgot}
		}}
	}
	if u.boat() {
		return []step{
			set(&r.keyOut, "Key and lanyard out", "Key and lanyard out", "", minutesLever, "key", inSafe),
			set(&r.propOff, "Take the propeller off", "Propeller off", u.unsafe(), identify.MinutesReady-minutesLever,
				"prop", inReady),
			set(&r.engaged, "Shift into forward", "In forward gear", "", minutesLever, "engage", inReady),
		}
	}
	roll := u.unsafe()
	list := []step{set(&r.chocked, "Chock the wheels", "Wheels chocked", "", minutesChock, "chock", inSafe)}
	if !u.wheels() {
		return append(list,
			set(&r.neutral, "Gearbox in neutral", "Gearbox in neutral", roll, minutesLever, "neutral", inReady),
			set(&r.propOff, "Take the driveshafts off", "Driveshafts off: both flanges are free", roll,
				identify.MinutesReady, "prop", inReady),
			set(&r.engaged, "Lever in low range", "Transfer case in low range", "", minutesLever, "engage", inReady))
	}
	for _, side := range []string{left, right} {
		list = append(list, step{Offer{Do: "lift", On: side, Group: inReady, Label: "Jack up the " + side + " side",
			Minutes: minutesLift}, !r.up[side], func() Done {
			r.up[side], r.stands = true, false
			return Done{Words: say.Capital(side) + " side jacked up", Forgot: roll}
		}})
	}
	sides := float64(len(r.up))
	stands := set(&r.stands, "Set it on jack stands", "On jack stands", "", minutesStands*sides, "stands", inSafe)
	stands.now = stands.now && sides > 0
	return append(list, stands,
		set(&r.neutral, "Gearbox in neutral", "Gearbox in neutral", roll, minutesLever, "neutral", inReady),
		set(&r.brakeOff, "Parking brake off", "Parking brake off", roll, minutesLever, "brake", inReady))
}

// unsafe is what is forgotten where the unit isn't kept from rolling or firing.
func (u *ratioUnit) unsafe() string {
	switch {
	case u.boat() && !u.ready.keyOut:
		return "Key and lanyard were still in: an engine that fires takes the hand at the propeller."
	case !u.boat() && !u.ready.chocked:
		return "The wheels weren't chocked: it can roll off the jack."
	}
	return ""
}

// looking is turning, and what can be read from outside.
func (u *ratioUnit) looking() []step {
	r := &u.ready
	var list []step
	if u.wheels() {
		for _, side := range []string{left, right} {
			label := "Hold the " + side + " wheel"
			list = append(list, step{Offer{Do: "hold", On: side, Group: inTurn, Label: label, Minutes: minutesHold},
				r.held == "", func() Done {
					r.held = side
					return Done{Words: "A helper holds the " + side + " wheel"}
				}})
		}
		list = append(list, step{Offer{Do: "let_go", Group: inTurn, Label: "Let go of the wheel",
			Minutes: minutesLever}, r.held != "", func() Done {
			d := Done{Words: "Let go of the " + r.held + " wheel"}
			r.held = ""
			return d
		}})
	}
	tape := step{Offer{Do: "tape", Group: inTurn, Label: "Measure the partial turn along the rim",
		Minutes: identify.MinutesArc - identify.MinutesEye},
		r.marked && u.at != u.mark, u.taped}
	rock := step{Offer{Do: "rock", Group: inTurn, Label: "Rock the " + strings.ToLower(u.machine().Input.Name),
		Minutes: minutesLeast}, true, u.rocked}
	tag := step{Offer{Do: "tag", Group: inLook, Label: "Look for a tag", Minutes: identify.MinutesTag}, !u.boat() && !r.tagSeen,
		u.lookForTag}
	return append(list, tape, rock, tag)
}

// rocked feels the play, and leaves it taken up.
func (u *ratioUnit) rocked() Done {
	in := strings.ToLower(u.machine().Input.Name)
	u.slack = false
	return Done{Words: "Rocked the " + in, Saw: fmt.Sprintf("The %s moves about %.0f degrees before anything follows. "+
		"The play is taken up now.", in, 360*u.play)}
}

// taped is the partial turn of the input along its rim.
func (u *ratioUnit) taped() Done {
	turns := math.Abs(u.at.input - u.mark.input)
	_, part := math.Modf(turns)
	return Done{Words: "Laid a tape along the rim", Saw: fmt.Sprintf("%.0f mm past the mark, of %.0f mm around.",
		part*rimMM, rimMM)}
}

func (u *ratioUnit) lookForTag() Done {
	d := Done{Words: "Looked for a tag", Saw: "No tag."}
	u.ready.tagSeen = true
	if u.tag != "" {
		d.Saw = "A tag under a cover bolt: " + u.tag + "."
		u.noted(identify.Reading{ID: u.nextID(), Method: identify.Tag, Text: u.tag}, nil)
	}
	return d
}

// closer is opening the housing, and what can be seen then.
func (u *ratioUnit) closer() []step {
	r := &u.ready
	list := []step{
		{Offer{Do: "open", Group: inLook, Label: "Drain and open the housing",
			Minutes: identify.OpeningMinutes(u.stage.Kind)}, !r.open, func() Done {
			r.open = true
			return Done{Words: "Drained and opened; the gears can be seen", Forgot: u.unsafe()}
		}},
		{Offer{Do: "mark_tooth", Group: inLook, Label: "Chalk the start tooth of every gear", Minutes: minutesMark},
			r.open && !r.toothMarked, func() Done {
				r.toothMarked = true
				return Done{Words: "Chalked the start teeth"}
			}},
	}
	return append(list, step{Offer{Do: "stamp", Group: inLook, Label: "Look for a stamp on the gears",
		Minutes: identify.MinutesStamp}, r.open && !r.stampSeen, u.lookForStamp})
}

func (u *ratioUnit) lookForStamp() Done {
	d := Done{Words: "Wiped the ring and looked for a stamp", Saw: "Nothing stamped."}
	u.ready.stampSeen = true
	if u.stamp != "" {
		d.Saw = "Stamped " + u.stamp + "."
		u.noted(identify.Reading{ID: u.nextID(), Method: identify.Stamp, Text: u.stamp}, nil)
	}
	return d
}

func (u *ratioUnit) offers() []Offer {
	out := []Offer{}
	for _, s := range u.steps() {
		if s.now {
			out = append(out, s.Offer)
		}
	}
	turns := []string{left, right, both}
	if !u.wheels() {
		turns = []string{input}
	}
	for _, on := range turns {
		o := Offer{Do: "turn", On: on, Group: inTurn, Label: "Turn the " + u.name(on), Takes: TakesTurns,
			Rates: u.rates(on)}
		out = append(out, o)
	}
	out = append(out, Offer{Do: "note", On: "turns", Group: inWrite, Label: "Write down turns", Takes: TakesNote})
	if u.ready.open && len(u.con.Teeth) > 0 {
		out = append(out, Offer{Do: "note", On: "teeth", Group: inWrite, Label: "Write down teeth", Takes: TakesNote})
	}
	return out
}

func (u *ratioUnit) do(a Act) (Done, error) {
	switch a.Do {
	case "turn":
		return u.turn(a)
	case "note":
		return u.note(a)
	}
	for _, s := range u.steps() {
		if s.now && s.Do == a.Do && s.On == a.On {
			d := s.do()
			d.Minutes = s.Minutes
			return d, nil
		}
	}
	return Done{}, fault.New("do", "this can't be done now")
}
