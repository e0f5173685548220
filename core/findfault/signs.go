package findfault

import (
	"math"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/say"
)

// SignOf is something that is heard, felt, smelled or measured, and needs no
// model of the motion.
type SignOf struct {
	ID      string  `json:"id"`
	Part    string  `json:"part,omitempty"` // where it is looked for
	Group   string  `json:"group"`          // noise, heat, shift, oil, leak, play, look, history, cooling or drive
	Words   string  `json:"words"`          // what is the case, as people say it
	Ask     string  `json:"ask"`            // the test
	Minutes float64 `json:"minutes"`
	Usual   float64 `json:"usual"` // how often it is met though none of these is broken
	// Complaint is whether people come with it.
	Complaint bool   `json:"complaint,omitempty"`
	Unit      string `json:"unit,omitempty"` // where it can be measured
	Normal    string `json:"normal,omitempty"`
	Road      bool   `json:"road,omitempty"`
	Lift      bool   `json:"lift,omitempty"`
	Caution   string `json:"caution,omitempty"`
	setup     []string
	// plain and there are what is measured where the sign is not and is there:
	// mean and standard deviation.
	plain, there [2]float64
}

// sign is what holds of a sign in every unit.
type sign struct {
	id, group, words, ask string
	minutes, usual        float64
	at                    string // what a part or the unit must have (places, unitHas), or whole
	flags                 string // c complaint, r road, l lifted
	setup                 string
	caution               string
}

// %s is the part.
var signs = []sign{
	{"bang", "noise", "There was a bang", "", 0, 0.05, "whole", "c", "", ""},
	{"burnt", "heat", "Smells burnt under load", "Pull away hard once and smell", 3, 0.04, "wheels", "cr",
		"on a free yard", "Stop at the first smoke."},
	{"revs", "drive", "The engine revs up under load and it barely pulls", "", 0, 0.05, "whole", "c", "", ""},
	{"knocks", "noise", "Knocks or grinds as it turns", "Turn it slowly by hand and listen", 3, 0.05, "whole", "cl",
		"all wheels up, neutral, engine off", ""},
	{"clunk", "noise", "Clunks when you get on and off the throttle", "", 0, 0.1, "whole", "c", "", ""},
	{"shudder", "drive", "Shudders when pulling away", "", 0, 0.06, "wheels", "c", "", ""},
	{"winds_up", "drive", "Hops, binds or scrubs in turns on pavement with the %s locked", "", 0, 0.9, "joining", "c", "", ""},
	{"shakes", "drive", "Shakes, more with speed", "", 0, 0.06, "whole", "c", "", ""},
	{"corner", "noise", "Noise in corners only", "Listen in a slow full circle each way", 8, 0.04, "final drive",
		"cr", "walking pace", ""},
	{"whine_drive", "noise", "Whines under power", "", 0, 0.06, "geared", "c", "", ""},
	{"whine_coast", "noise", "Whines or rumbles on coast", "", 0, 0.05, "final drive", "c", "", ""},
	{"hums", "noise", "Hums with road speed, in any gear", "", 0, 0.07, "wheels", "c", "", ""},
	{"skips", "noise", "Skips with a crack under a hard pull", "", 0, 0.03, "chain", "c", "", ""},
	{"squeaks", "noise", "Squeaks at walking pace", "", 0, 0.05, "drive shaft", "c", "", ""},
	{"neutral_noise", "noise", "Growls in neutral, quiet with the pedal down",
		"Neutral, engine idling: press the pedal and listen", 2, 0.04, "box", "c", "parking brake on, wheels chocked", ""},
	{"pedal_noise", "noise", "Noise only while the pedal is down",
		"Neutral, engine idling: press the pedal slowly and listen", 2, 0.04, "pedal", "c",
		"parking brake on, wheels chocked", ""},
	{"clash_one", "shift", "One gear grinds going in, unless shifted slowly", "", 0, 0.05, "box", "c", "", ""},
	{"clash_all", "shift", "Every gear grinds going in, reverse most", "", 0, 0.04, "box", "c", "", ""},
	{"stiff_all", "shift", "Every gear is hard to get in", "", 0, 0.05, "box", "c", "", ""},
	{"jumps", "shift", "Jumps out of gear under load", "", 0, 0.03, "dogs", "c", "", ""},
	{"lifts", "look", "The engine or gearbox lifts or drops as it takes up load",
		"Brake on hard, take up load a little and let off; a helper looks", 5, 0.04, "box", "",
		"wheels chocked, helper to the side", "Nobody in front or behind."},
	{"motor_dead", "shift", "Lever or switch moves, and nothing is heard or felt to follow at the %s", "Work the lever or switch and listen at the %s", 4, 0.05, "actuated", "", "ignition on, engine off", "Hands clear of levers and rods that move by themselves."},
	{"chatter", "noise", "Jerks or chatters in slow corners", "", 0, 0.03, "plates", "c", "", ""},
	{"spins", "drive", "One wheel of the %s spins and the other does not pull", "", 0, 0.07, "final drive", "c", "", ""},
	{"breakaway", "play", "The breakaway torque at the %s is below the maker's value", "Measure the breakaway torque at the %s: one wheel down, turn the other with a torque wrench", 15, 0.06, "plates", "l", "one wheel up, the others chocked, neutral, brake off", ""},
	{"hot_hub", "heat", "The %s hub runs hotter than the other side",
		"Drive a few minutes, braking little, and feel the hubs side against side: %s", 12, 0.06, "road wheel", "cr",
		"a few minutes on a free road", "Burns: with the back of the hand, or a gauge."},
	{"hot_case", "heat", "The %s gets hotter than it used to", "Feel or measure the %s after a drive", 12, 0.06, "cased", "r", "after a drive", "Burns: with the back of the hand, or a gauge."},
	{"milky", "oil", "Milky oil, or water first, out of the %s",
		"Crack the drain plug of the %s and look at what comes first", 6, 0.03, "cased", "c", "cold, standing level",
		"Catch the oil and keep it apart."},
	{"metal", "oil", "Flakes or pieces, not fine paste, on the %s magnet",
		"Look at the magnet or drain plug of the %s", 10, 0.07, "cased", "", "cold", "Catch the oil and keep it apart."},
	{"dark_oil", "oil", "The oil in the %s is black or smells burnt",
		"Take a drop of oil out of the %s: color and smell", 4, 0.07, "cased", "", "cold", ""},
	{"low_oil", "oil", "The oil in the %s is low", "Check the level of the %s", 4, 0.08, "cased", "", "standing level, cold", ""},
	{"leak_yoke", "leak", "Oil at the %s pinion", "Wipe it and look at the %s pinion after a drive", 4,
		0.06, "final drive", "c", "engine off, chocked", ""},
	{"leak_wheel", "leak", "Oil at the %s brake or hub", "Look behind the %s", 4, 0.04, "road wheel", "c", "engine off, chocked", ""},
	{"leak_output", "leak", "Oil at the %s output", "Wipe it and look at the %s output after a drive", 4, 0.05,
		"outputs", "c", "engine off, chocked", ""},
	{"wheel_look", "look", "The %s shows a bent rim, a lost weight, a flat spot or uneven wear",
		"Lift and spin the %s; look at rim, weights and tread", 3, 0.05, "road wheel", "l", "lifted, on a stand", ""},
	{"swapped", "drive", "The shake or hum changes place as front and rear wheels are swapped", "Swap front and rear wheels and drive again", 25, 0.03, "ends", "r", "wheels torqued as the manual says", "Nuts retightened after the drive."},
	{"spline_play", "play", "The %s splines rock on each other, or bleed rust",
		"Hold one half of the %s splines and rock the other", 4, 0.04, "splined", "l", "neutral, chocked", ""},
	{"rocks", "play", "The %s rocks, held top and bottom", "Rock the %s top to bottom", 3, 0.05, "road wheel", "l", "lifted, on a stand", ""},
	{"yoke_play", "play", "The %s pinion moves up and down or in and out",
		"Pry gently at the %s pinion flange", 3, 0.05, "final drive", "l", "neutral, chocked", ""},
	{"joint_play", "play", "A joint of the %s has play, or rust dust at its caps",
		"Twist the %s both ways at each joint and look", 3, 0.05, "drive shaft", "l", "neutral, chocked", ""},
	{"look_shaft", "look", "One end of the %s turns and the other does not",
		"Mark both ends of the %s, turn one, look at the other", 4, 0.01, "drive shaft", "l",
		"all wheels up, neutral, engine off", "A loose shaft drops: tie it up."},
	{"play", "play", "The %s rocks farther than is usual before anything follows",
		"Rock the %s with its wheels chocked, gearbox in neutral", 4, 0.1, "drive shaft", "",
		"wheels on the ground and chocked, neutral", ""},
	{"rollouts", "look", "The tires roll out differently front and rear", "Mark and roll out the tires of both ends", 10, 0.05, "ends", "", "same pressure, loaded", ""},
	{"since_work", "history", "Began right after it was apart", "", 0, 0.08, "whole", "c", "", ""},
	{"since_tires", "history", "Began after other tires were fitted", "", 0, 0.05, "ends", "c", "", ""},
	{"hub_mark", "look", "A mark across hub and propeller comes apart under load",
		"Mark hub and propeller with one line, pull away hard, look again", 8, 0.02, "blades", "",
		"engine off and lanyard out while anyone is at the propeller",
		"Lanyard out, key out, before a hand goes near the blades."},
	{"stalls_reverse", "shift", "Stalls when shifted out of reverse", "", 0, 0.05, "dog case", "c", "", ""},
	{"stalls_forward", "shift", "Stalls when shifted out of forward", "", 0, 0.04, "dog case", "c", "", ""},
	{"grinds", "shift", "Grinds going into gear", "", 0, 0.06, "dog case", "c", "", ""},
	{"pops", "shift", "Pops out of gear under load", "", 0, 0.03, "dog case", "c", "", ""},
	{"not_in", "shift", "Won't go all the way into gear", "", 0, 0.03, "dog case", "c", "", ""},
	{"hard_out", "shift", "Hard to get out of gear", "", 0, 0.05, "dog case", "c", "", ""},
	{"cable_stiff", "shift", "With the cable off at the engine the lever is still stiff", "Take the cable off at the engine end and work the lever", 8, 0.05, "dog case", "", "engine off, lanyard out", ""},
	{"shaft_stiff", "shift", "With the cable off the shift shaft is hard to move by hand", "With the cable off, move the shift shaft by hand while the propeller is turned slowly", 8, 0.05, "dog case", "", "engine off, lanyard out", "A hand on the propeller: lanyard and key out."},
	{"switch_wrong", "shift", "The shift interrupt switch is open with the lever at rest, or stays closed as it is pulled", "Check the shift interrupt switch with an ohmmeter while the lever moves; do not leave it disconnected", 8, 0.04, "dog case", "", "engine off", ""},
	{"short_travel", "shift", "Cable and shift shaft do not reach their full stroke", "Compare the stroke at the shift shaft with the manual's, both ways", 6, 0.06, "dog case", "", "engine off, lanyard out", ""},
	{"idle_high", "shift", "It idles above the maker's range", "Read the idle in neutral and in gear, warm", 4, 0.07,
		"dog case", "", "moored fast", "Nobody at the propeller."},
	{"overheats", "cooling", "Overheats", "", 0, 0.04, "water", "c", "", ""},
	{"weak", "cooling", "The stream is weak or gone", "", 0, 0.05, "water", "c", "", ""},
	{"no_stream", "cooling", "No stream at all, at any speed", "Speed it up a little in the water and look at the stream", 3, 0.03, "water", "", "in the water or on a hose, moored fast", "Seconds only: it must not run dry."},
	{"fast_only", "cooling", "It gets hot at full speed only", "", 0, 0.08, "water", "c", "", ""},
	{"screens", "cooling", "The intake screens are covered", "Look at the intake screens", 2, 0.05, "water", "", "engine off, tilted", ""},
	{"wire", "cooling", "A wire in the stream's outlet brings it back", "Poke the stream's outlet with a soft wire", 2, 0.03, "water", "", "engine off", ""},
	{"weak_flush", "cooling", "With a hose at the flush port the stream stays weak", "Hose at the flush port, engine off: look at the stream", 5, 0.05, "water", "", "engine off", ""},
	{"line", "look", "Line is wound behind the propeller", "Propeller off, look at the shaft", 8, 0.05, "lower unit", "",
		"lanyard and key out", ""},
	{"bubbles_prop", "leak", "Under pressure it bubbles at the propeller shaft",
		"Pressure on the drained case, soapy water at the propeller shaft", 15, 0.04, "lower unit", "",
		"drained, pressure as the manual says", "Low pressure: a seal or a plug flies."},
	{"bubbles_carrier", "leak", "Under pressure it bubbles around the carrier",
		"Pressure on the drained case, soapy water around the carrier", 15, 0.03, "lower unit", "",
		"drained, pressure as the manual says", "Low pressure: a seal or a plug flies."},
	{"bubbles_pump", "leak", "Under pressure it bubbles below the water pump",
		"Pressure on the drained case, look below the water pump", 15, 0.03, "lower unit", "",
		"drained, pressure as the manual says", "Low pressure: a seal or a plug flies."},
	{"bubbles_shift", "leak", "Under pressure it bubbles at the shift shaft",
		"Pressure on the drained case, soapy water at the shift shaft", 15, 0.03, "lower unit", "",
		"drained, pressure as the manual says", "Low pressure: a seal or a plug flies."},
	{"bubbles_drain", "leak", "Under pressure it bubbles at a drain or vent screw",
		"Pressure on the case, soapy water at both screws", 10, 0.04, "lower unit", "", "pressure as the manual says",
		"Low pressure: a seal or a plug flies."},
	{"shaft_rough", "play", "The driveshaft turns roughly, or its top runs hot",
		"In neutral: turn the driveshaft the engine's own way and feel", 8, 0.04, "lower unit", "",
		"plugs out or case off; only the engine's way round, for the impeller", ""},
	{"blade", "look", "A blade is bent, or the shaft wobbles as it is spun", "Look at every blade and spin it", 4, 0.05,
		"blades", "", "lanyard and key out, neutral", "Blades are sharp where they are bent."},
}

// placed are the signs as they are looked for in this unit.
func placed(d *driveline.Document) []SignOf {
	var out []SignOf
	for _, g := range signs {
		for _, at := range where(d, g.at) {
			x := SignOf{ID: g.id, Part: at.part, Group: g.group, Minutes: g.minutes, Usual: g.usual, Caution: g.caution,
				Words: strings.ReplaceAll(g.words, "%s", at.name), Ask: strings.ReplaceAll(g.ask, "%s", at.name),
				Complaint: strings.Contains(g.flags, "c"), Road: strings.Contains(g.flags, "r"), Lift: strings.Contains(g.flags, "l")}
			if g.setup != "" {
				x.setup = []string{g.setup}
			}
			x.normal(at.p)
			out = append(out, x)
		}
	}
	return out
}

// normal is what a build does by nature, and what can be measured.
func (x *SignOf) normal(p *driveline.Part) {
	switch {
	case x.ID == "whine_drive" && p != nil && p.Has(driveline.StraightTeeth):
		x.Usual, x.Normal = 0.85, "Spur and straight bevel gears whine by nature: that is no fault of theirs."
	case x.ID == "whine_drive" && p != nil && p.Has(driveline.CrossedAxes):
		x.Usual, x.Normal = 0.15, "Bevel gears without offset are heard more than hypoid ones."
	case x.ID == "spins" && p != nil && p.Has(driveline.OpenSides):
		x.Usual, x.Normal = 0.9, "An open differential does so by nature: that is no fault."
	case x.ID == "winds_up":
		x.Normal = windsUp
	case x.ID == "play":
		x.Unit = "degrees"
	case x.ID == "hot_hub":
		x.Unit, x.plain, x.there = "°C above the other side", [2]float64{0, 7}, [2]float64{40, 20}
	case x.ID == "hot_case":
		x.Unit, x.plain, x.there = "°C above the air", [2]float64{45, 12}, [2]float64{95, 20}
	}
}

// windsUp is why what is locked together may bind.
const windsUp = "Locked together, both sides turn alike, and in a turn their wheels don't: on ground that grips it winds up. That is normal: unlock it there. Straight ahead it must not."

// at is a place where a sign is looked for.
type at struct {
	part, name string
	p          *driveline.Part
}

func where(d *driveline.Document, kinds string) []at {
	var out []at
	whole := at{}
	if kinds == "whole" {
		return []at{whole}
	}
	for i := range d.Parts {
		p := &d.Parts[i]
		here := at{p.ID, say.Small(p.Called()), p}
		switch kinds {
		case "wheels", "ends", "water", "chain", "dogs":
			if unitHas(d, kinds) {
				return []at{whole}
			}
			return nil
		}
		if p.Has(places[kinds]) {
			out = append(out, here)
		}
	}
	return out
}

// places are the words of the table for what a part must have.
var places = map[string]driveline.Feature{
	"final drive": driveline.FinalDrive, "box": driveline.Box, "road wheel": driveline.RoadWheel, "drive shaft": driveline.DriveShaft,
	"lower unit": driveline.LowerUnit, "blades": driveline.Blades, "pedal": driveline.Pedal, "geared": driveline.Geared,
	"cased": driveline.Cased, "outputs": driveline.OutputSeals, "plates": driveline.Plates, "joining": driveline.Joins,
	"splined": driveline.Splined, "actuated": driveline.Actuated, "dog case": driveline.ShiftedDogs,
}

// unitHas is whether a sign of the whole unit makes sense in it.
func unitHas(d *driveline.Document, kinds string) bool {
	switch kinds {
	case "wheels":
		return len(d.WithA(driveline.RoadWheel)) > 0
	case "water":
		return d.Lies == driveline.Boat && len(d.WithA(driveline.LowerUnit)) > 0
	case "chain":
		return len(d.WithA(driveline.Chained)) > 0
	case "dogs":
		return len(d.WithA(driveline.DogsInside)) > 0
	}
	return kinds == "ends" && len(d.WithA(driveline.FinalDrive)) > 1
}

// chance that a sign is there with these faults: each brings it by itself, or
// nothing of these does (a noisy OR; Pearl, Probabilistic Reasoning, 4.3.2). What
// a unit was brought in for is seldom there by chance, unless its build does so by
// nature.
func (x *SignOf) chance(list []*Fault, complaint bool) float64 {
	none := 1 - x.Usual
	if complaint && x.Normal == "" {
		none = 1 - x.Usual*byChance
	}
	for _, f := range list {
		p := f.signs[x.ID]
		if p > 0 && (x.Part == "" || x.Part == f.Part || slices.Contains(f.near, x.Part)) {
			none *= 1 - p
		}
	}
	return 1 - none
}

// byChance is how much seldomer a sign that is complained of is there by chance.
const byChance = 0.1

// likelihood of what was said or measured of a sign.
func (x *SignOf) likelihood(e *Evidence, p float64) float64 {
	if e.Value != nil {
		return (1-p)*normalAt(*e.Value, x.plain) + p*normalAt(*e.Value, x.there)
	}
	switch e.Says {
	case Yes:
		return p
	case No:
		return 1 - p
	}
	return 1
}

// SignRow is a sign with how often each fault of the unit brings it.
type SignRow struct {
	SignOf
	Faults []Brings `json:"faults"` // the most telling first
}

// Brings is how often a fault brings a sign.
type Brings struct {
	Name   string  `json:"name"`
	Chance float64 `json:"chance"`
}

// Table lists the signs of a unit with what brings them: the table by which they
// are weighed. Faults are fault.Errors.
func Table(d *driveline.Document) ([]SignRow, error) {
	m, err := NewModel(*d)
	if err != nil {
		return nil, err
	}
	out := []SignRow{}
	for i := range m.signs {
		row := SignRow{SignOf: m.signs[i], Faults: []Brings{}}
		for k := range m.faults {
			if p := m.signs[i].chance([]*Fault{&m.faults[k]}, false); p > row.Usual+0.01 {
				row.Faults = append(row.Faults, Brings{m.faults[k].Name, say.Round(p, 3)})
			}
		}
		slices.SortStableFunc(row.Faults, func(a, b Brings) int { return cmpDown(a.Chance, b.Chance) })
		if len(row.Faults) > 0 {
			out = append(out, row)
		}
	}
	return out, nil
}

// normalAt is the density of a normal distribution, with a floor for figures
// that were misread.
func normalAt(v float64, m [2]float64) float64 {
	z := (v - m[0]) / m[1]
	return 0.98*math.Exp(-z*z/2)/(m[1]*math.Sqrt(2*math.Pi)) + 0.02/500
}
