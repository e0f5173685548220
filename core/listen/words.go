package listen

import (
	"fmt"
	"math"
)

// say puts the answer into words, with what to drive or to test next.
func (a *Answer) say() {
	next := func(s ...string) { a.Next = append(a.Next, s...) }
	switch a.Reason {
	case NoTone:
		a.Sentence = "Can't tell: no tone is louder than the road."
		next("Record nearer to the axle, windows shut, fan and radio off.",
			"Drive slowly through the speed at which it howls, up and down.")
		return
	case OneSpeed:
		a.Sentence = "Can't tell at one speed: a geared tone and a fixed one sound the same."
		for _, s := range a.Sources {
			if s.Kind != FixedTone {
				a.Sentence += fmt.Sprintf(" It could be %s.", s.Name)
				break
			}
		}
		next(coast, "Record while the speed changes by a third or more.")
		return
	case Alike:
		a.Sentence = fmt.Sprintf("Can't tell apart: %s. Both make the same tone in this gear.", a.both())
		next("Drive the same speed in another gear and record again.", coast)
		return
	}
	top := a.first()
	a.Sentence = fmt.Sprintf("Loudest: %s.", top.Name)
	switch top.Kind {
	case FixedTone:
		a.Sentence = fmt.Sprintf("Loudest: a tone that keeps its pitch, about %.0f Hz, at every speed. "+
			"No gear, shaft or tire turns with it.", top.Hertz)
		next("Look for what rings or whistles: a mount, a roof rack, a loose shield, a fan.")
	case RingAndPinion:
		a.loaded(next)
	case GearMesh:
		next("Drive the same speed in another gear: the tone changes or goes.")
	case CaseMesh:
		next("Shift the transfer case to its other range: the tone changes or goes.")
	case Engine:
		next("Hold the same rpm standing, in neutral: an engine sounds the same.")
	case Unbalance:
		next("Check the driveshaft for dents, missing weights and run-out, and its flanges' marks.")
	case JointAngle:
		next("Measure the joint angles at both ends of the driveshaft, and feel the joints for play.")
	case Tire:
		next("Drive on another road surface, then swap the tires front to rear: a tire's tone moves with it.")
	case WheelBearing:
		next("Swing left and right at that speed: a wheel bearing gets louder under load.",
			"Jack that wheel up, turn it by hand and feel the spring for a growl.")
	}
	if top.Chance < 0.9 && len(a.Sources) > 1 {
		next("It could also be " + a.Sources[1].Name + ". " + coast)
	}
}

// loaded is what the trade makes of a ring and pinion's tone on drive and on coast.
func (a *Answer) loaded(next func(...string)) {
	if a.Load == nil {
		next("Drive through that speed under load, then coast through it in gear, and record both.")
		return
	}
	switch a.Load.On {
	case OnDrive:
		next("Only on drive: look at the drive side of the teeth and at the pattern there.")
	case OnCoast:
		next("Only on coast: look at the coast side of the teeth and at the pinion bearing preload.")
	default:
		next("On drive and on coast: check the bearings too. Pinion bearings turn with the driveshaft and sound higher; " +
			"carrier bearings turn with the wheels.")
	}
}

const coast = "Coast from 60 to 30, out of gear: if it stays, it is behind the gearbox."

func (a *Answer) first() Named {
	if len(a.Sources) == 0 {
		return Named{}
	}
	return a.Sources[0]
}

// both is the loudest source and the one that is like it.
func (a *Answer) both() string {
	top := a.first()
	for _, o := range a.Sources[1:] {
		if o.Kind != FixedTone && math.Abs(o.PerWheel-top.PerWheel) < 0.02*top.PerWheel {
			return top.Name + " or " + o.Name
		}
	}
	return top.Name + " or another source"
}

// signs are what a named source means where a fault is looked for (core/findfault's
// signs), and nothing where nothing is told.
func (a *Answer) signs() []string {
	if a.State != Told || a.Sources[0].Chance < signAt {
		return []string{}
	}
	switch a.Sources[0].Kind {
	case WheelBearing, Tire:
		return []string{"hums"}
	case Unbalance, JointAngle:
		return []string{"shakes"}
	case GearMesh, CaseMesh:
		return []string{"whine_drive"}
	case RingAndPinion:
		switch {
		case a.Load == nil:
			return []string{}
		case a.Load.On == OnDrive:
			return []string{"whine_drive"}
		case a.Load.On == OnCoast:
			return []string{"whine_coast"}
		}
		return []string{"whine_drive", "whine_coast"}
	}
	return []string{}
}

// signAt is the chance from which on a source counts as found.
const signAt = 0.8
