package demo

import (
	"slices"
	"time"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/exact"
)

const (
	oda  = "Oda Brenk"
	ivar = "Ivar Tolm"
	sel  = "Sel Mavry"
)

// units are the shop's units, each with a story in its readings.
func units(now time.Time) []api.UnitDocument {
	lines := slices.Concat(earlier(now), later(now))
	docs := make([]api.UnitDocument, len(lines))
	for i, l := range lines {
		docs[i] = l.doc
	}
	return docs
}

// earlier are the units that came in first.
func earlier(now time.Time) []*line {
	return []*line{
		// Nothing known yet.
		unit(now, 41, "Tender 3", "boat", "Ferry tender, came in with a whining gearcase. Nothing known about it.").
			driveline("stern_drive", func(d *driveline.Document) {
				*d = d.Blank()
				*part(d, "upper") = driveline.Part{ID: "upper", Kind: "upper", Name: "Upper set", From: "engine", Upper: &driveline.Upper{Pinion: 21, Gear: 26, Shift: true}, Sources: map[string]driveline.Source{"ratio": {Kind: "plate", Text: "plate on the upper housing"}}}
			}),

		// A hub reduction counted once, with a doubtful planet count.
		unit(now, 33, "Plow truck Bell", "truck", "Snow plow with hub reductions. Oil leak at the left hub.").
			at("rear", "ratio").
			read(oda, text("tag", "3.73"), "").
			at("rear_hub_left", "ratio").
			read(ivar, teeth(map[string]int{"sun": 24, "ring": 60, "planet": 18, "planets": 3}), "left hub open for the seal").
			driveline("axle_low", func(d *driveline.Document) {
				listOfRatios(d, 6.51, 3.88, 2.26, 1.44, 1, -6.12)
				part(d, "rear").RatedNM, part(d, "front").RatedNM = 4200, 4200
				front := part(d, "front")
				front.Axle.Ring, front.Axle.Pinion = 41, 11
				front.Sources = map[string]driveline.Source{"ratio": {Kind: "plate", Text: "tag on the front cover"}}
				families(d, "rear", "Brannik 240", "front", "Brannik 240")
			}),

		// A two-stage axle with other bevel gears in it, all teeth and a bench
		// check; what was turned before they went in stands aside.
		unit(now, 27, "Forwarder Birk", "truck", "Log forwarder. Two-stage rear axle with a worn bevel set; another one went in.").
			at("rear", "ratio").
			read(oda, turns(2, 2, true, eye(8, 0.1)), "as it came in").
			swapped(ivar, driveline.Part{ID: "rear", Kind: "axle", Name: "Rear axle", Axle: &driveline.Axle{Differential: driveline.Differential{Type: "locking"}}}, "bevel set 32-20 from the shelf; the old pinion was pitted").
			read(ivar, teeth(map[string]int{"ring": 32, "pinion": 20, "sun": 32, "planet_ring": 56}), "").
			read(oda, turns(2, 2, true, arc(8, 305, 380)), "").blind().
			halfSetUp(ivar, tornockFigures()).
			driveline("full_time", func(d *driveline.Document) {
				for _, id := range []string{"rear", "front"} {
					p := part(d, id)
					p.Family = "Tornock"
					p.Axle.Ring, p.Axle.Pinion, p.Axle.Offset = 32, 20, false
					p.Axle.Second = &driveline.SunRing{Sun: 32, Ring: 56}
					p.Axle.Differential.Type = "locking"
				}
				for i := range d.Parts {
					if w := d.Parts[i].Wheel; w != nil {
						w.RollingMM = exact.Figure{Number: exact.Int(3820)}
					}
				}
			}),

		// A loose transfer case on the bench.
		unit(now, 19, "Transfer case from Grouse 2", "part", "On the bench, low range jumps out. Tag gone.").
			at("case", "high").
			read(ivar, bench(10, eye(10, 0)), "").
			at("case", "low").
			read(ivar, bench(4, eye(10, 0.9)), "").
			read(ivar, teeth(map[string]int{"sun": 42, "ring": 72}), "cover off").
			driveline("loose_case", nil),
	}
}

// later are the units of the last two weeks.
func later(now time.Time) []*line {
	return []*line{
		// A gearcase, clean.
		unit(now, 12, "Skiff Little Auk", "boat", "Fishing skiff, 40 kW outboard. Propeller removed for the season check.").
			at("gearcase", "ratio").
			read(sel, bench(10, eye(20, 0.8)), "turned only the engine's way").
			read(ivar, text("stamp", "27-13"), "on the forward gear's hub").
			gearcaseSetUp(ivar).
			cardFinished("gearcase", ivar, sel, map[string]bool{}, map[string][2]string{"drain": {"", "clear, a little gray"}, "gears": {"P 0.53, F 0.78, R 0.40", "each stack in its own bag"}, "fill": {"SAE 90, 0.46 liters", ""}, "pressure": {"70 kPa, 5 minutes", ""}, "vacuum": {"30 kPa, 5 minutes", ""}, "pump": {"", "key in the tray, vanes lay clockwise"}}).
			driveline("outboard", func(d *driveline.Document) { part(d, "prop").Propeller.PitchIN = 11 }, saved{"reverse, at idle", driveline.State{Select: set("gearcase", "reverse"), Input: &driveline.Input{RPM: 750}}}),

		// A start tooth counted twice.
		unit(now, 9, "Ember", "car", "Hill-climb car. Needs a new set before the autumn climb.").
			at("gearbox", "4").
			read(oda, text("tag", "1.00"), "direct gear by the gearbox plate").
			at("rear", "ratio").
			read(sel, teeth(map[string]int{"ring": 42, "pinion": 10}), "").
			read(oda, turns(10, 10, true, arc(41, 4, 372)), "").blind().
			at("rear", "change").
			read(ivar, teeth(map[string]int{"drive": 24, "driven": 21}), "set 1 as it went in").
			events(ivar, emberEvents...).
			driveline("change_gears", func(d *driveline.Document) { families(d, "rear", "Skerry 195") }, saved{"hairpin, 9 m", driveline.State{Corner: &driveline.Corner{RadiusM: 9, Toward: "left"}, Input: &driveline.Input{RPM: 4500}}}),

		// One wheel held by mistake.
		unit(now, 6, "Grouse 6", "truck", "Forestry truck, bought at the mainland auction without papers.").
			at("rear", "ratio").
			read(sel, turns(1, 1, false, eye(2, 0.3)), "right side against the wall, not watched").
			read(ivar, turns(2, 2, true, eye(9, 0.1)), "").blind().
			read(ivar, text("stamp", "41 9"), "ring edge, wire-brushed").
			driveline("full_time", func(d *driveline.Document) {
				p := part(d, "rear")
				p.Axle.Ring, p.Axle.Pinion = 0, 0
				families(d, "rear", "Varn 220", "front", "Varn 220")
			}),

		// A clean one: every method agrees.
		unit(now, 3, "Grouse 4", "truck", "Forestry truck. 33 inch tires to be fitted, gears to be chosen.").
			at("gearbox", "4").
			read(oda, text("tag", "1.00"), "").
			at("case", "high").
			read(ivar, bench(10, eye(10, 0)), "").
			at("case", "low").
			read(ivar, bench(4, eye(10, 0.9)), "").
			at("rear", "ratio").
			read(oda, text("tag", "4.10"), "").
			read(ivar, turns(1, 1, true, eye(4, 0.2)), "read with the tag in sight").struck(ivar, "wheel mark was not brought back; done again below").
			read(ivar, turns(4, 4, true, arc(16, 152, 380)), "").blind().
			read(ivar, teeth(map[string]int{"ring": 41, "pinion": 10}), "cover off for the seal").
			at("front", "ratio").
			read(ivar, turns(2, 2, true, eye(8, 0.2)), "").blind().
			driveline("part_time", func(d *driveline.Document) {
				listOfRatios(d, 4.06, 2.37, 1.49, 1, 0.84, -3.85)
				part(d, "gearbox").RatedNM, part(d, "case").RatedNM = 360, 1400
				part(d, "rear").RatedNM, part(d, "front").RatedNM = 2100, 1800
				families(d, "rear", "Varn 220", "front", "Varn 220", "case", "Holt T2")
			},
				saved{"low, locked, right rear lifted", driveline.State{Select: set("case.center", "locked", "case.range", "low"), Wheels: set("rear_right", "lifted")}},
				saved{"locked in an 8 m corner", driveline.State{Select: set("case.center", "locked"), Corner: &driveline.Corner{RadiusM: 8, Toward: "left"}}}),

		// A swapped axle that still wears its old tag.
		unit(now, 1, "Rescue van Tern 2", "van", "Rescue van. Speedometer reads far off since the axle was changed on the mainland.").
			at("rear", "ratio").
			read(oda, text("tag", "4.10"), "on the lower cover bolt").
			read(ivar, turns(1, 1, true, eye(5, 0.2)), "").blind().
			read(ivar, turns(4, 4, true, arc(20, 330, 376)), "").blind().
			driveline("rear_drive", func(d *driveline.Document) {
				families(d, "rear", "Varn 220", "gearbox", "Brannik C4")
			}),
	}
}
