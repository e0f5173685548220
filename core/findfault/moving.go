package findfault

import (
	"slices"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
	"zorvel/core/shift"
)

// shifting are the faults of a boat's shift mechanism, adjusted before anything
// is opened.
var shifting = []string{"shift_cable", "shift_seal", "interrupter", "cable_phase", "idle", "rounded", "dogs"}

// byAdjusting are sorts that are cured without taking anything apart.
var byAdjusting = map[string]string{
	"linkage": "Set lever, cable and linkage first: nothing is opened for it.", "drag": "Free travel and fluid of the clutch first.", "actuation": "Fuse, switch, wire and line first, then the motor: the dogs are the last link.",
	"oil": "Bring the oil to its level and try again.", "tires": "Measure all tires before an axle is opened.", "screens": "Clear the screens and look at the stream again.", "telltale": "Clear the outlet before the pump comes out.",
}

// advise says what is done before anything is opened, and the habits that
// bring it back.
func (s *search) advise(a *Answer) {
	boat := s.m.doc.Lies == driveline.Boat
	for _, x := range a.Suspects {
		if x.Probability < 0.05 {
			continue
		}
		if words := byAdjusting[x.Sort]; words != "" && !slices.Contains(a.Advice, words) {
			a.Advice = append(a.Advice, words)
		}
		if boat && slices.Contains(shifting, x.Sort) {
			for _, w := range shift.Advice() {
				if !slices.Contains(a.Advice, w) {
					a.Advice = append(a.Advice, w)
				}
			}
		}
		if !boat && (x.Sort == "dogs" || x.Sort == "synchro" || x.Sort == "fork") {
			w := "A hand that rests on the lever, and shifts without the clutch or in a rush, wear synchronizers, forks and " +
				"dogs; replace dogs together with the gears they engage."
			if !slices.Contains(a.Advice, w) {
				a.Advice = append(a.Advice, w)
			}
		}
	}
}

// no is why it should not be driven, by sort.
var no = map[string]string{
	"shaft": "Not to be driven: a loose shaft flails.", "spiders": "Not to be driven: pieces may lock the axle as it rolls.", "mesh": "Not to be driven: pieces may lock it as it rolls.", "planets": "Not to be driven: pieces may lock it as it rolls.",
	"brake": "Not to be driven: a seized brake burns, a seized bearing sheds its wheel.", "wheel_bearing": "Not to be driven: a bearing that runs hot sheds its wheel.", "gears": "Not with both ends engaged on a road that grips.",
	"tires": "Not with both ends engaged on a road that grips.", "chain": "Not to be driven: a loose chain saws the case.", "joint": "Only slowly and not far: a joint that parts drops the shaft.", "turned": "Not to be driven on the road: forward is backward.",
	"impeller": "Engine off until it is cooled again.", "impeller_key": "Engine off until it is cooled again.", "screens": "Engine off until the stream is full.", "passages": "Engine off until it is cooled again.", "plate": "Idle home at most, with an eye on the gauge.", "tube": "Engine off until it is cooled again.",
	"pinion_bearing": "Not far: the pinion walks out of its mesh.",
	"backward":       "Not a turn more: both gears of the pair are ruined.",
	"top_bearing":    "Do not run it: a dry bearing seizes and the driveshaft twists off.",
	"oil":            "Not before it has its oil.",
	"drag":           "It may creep in gear: start it in neutral, wheels chocked.",
	"interrupter":    "Drawn out of gear only with the throttle shut.",
}

// moving says what goes next where it is driven on, and what turns when it is
// towed with the likeliest break in it.
func (s *search) moving(a *Answer) error {
	top := a.Suspects[0]
	for _, x := range a.Suspects {
		if w := no[x.Sort]; w != "" && x.Probability >= 0.1 && !slices.Contains(a.Drive, w) {
			a.Drive = append(a.Drive, w)
		}
	}
	a.Drive = append(a.Drive, "With "+top.Name+", driven on, next to go: "+top.Next+".")
	if s.m.doc.Lies != driveline.Vehicle {
		return nil
	}
	var broken []breaks.Break
	for i := range s.m.faults {
		if s.m.faults[i].ID == top.ID && top.Probability >= 0.5 {
			broken = s.m.faults[i].does
		}
	}
	tow, err := breaks.Tow(&s.m.doc, broken)
	if err != nil {
		return err
	}
	a.Tow = tow
	if len(tow) > 0 {
		a.Drive = append(a.Drive, "Towing: what pumps no oil on towed wheels, how fast and how far is the maker's to say.")
	}
	return nil
}
