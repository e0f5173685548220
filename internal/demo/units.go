package demo

import (
	"time"

	"zorvel/api"
)

const (
	oda  = "Oda Brenk"
	ivar = "Ivar Tolm"
	sel  = "Sel Mavry"
)

// units are the shop's units, each with a story in its readings.
func units(now time.Time) []api.UnitDocument {
	lines := []*line{
		// Nothing known yet.
		unit(now, 41, "Tender 3", "boat", "Ferry tender, came in with a whining gearcase. Nothing known about it.").
			stage("Gearcase", "gearcase", ""),

		// A hub reduction counted once, with a doubtful planet count.
		unit(now, 33, "Plow truck Bell", "truck", "Snow plow with hub reductions. Oil leak at the left hub.").
			stage("Gearbox, 5th gear", "gearbox", "5").
			stage("Rear axle", "ring_and_pinion", "").
			read(oda, text("tag", "3.73"), "").
			stage("Rear hubs", "hub", "").
			read(ivar, teeth(map[string]int{"sun": 24, "ring": 60, "planet": 18, "planets": 3}), "left hub open for the seal"),

		// A two-stage axle, all teeth and a bench check.
		unit(now, 27, "Forwarder Old Ram", "truck", "Log forwarder. Two-stage rear axle, rebuilt here in spring.").
			stage("Rear axle", "two_stage", "").
			read(ivar, teeth(map[string]int{"ring": 32, "pinion": 20, "sun": 32, "planet_ring": 56}), "").
			read(oda, turns(2, 2, true, arc(8, 305, 380)), "").blind(),

		// A loose transfer case on the bench.
		unit(now, 19, "Transfer case from Grouse 2", "part", "On the bench, low range jumps out. Tag gone.").
			stage("High range", "transfer_case", "high").
			read(ivar, bench(10, eye(10, 0)), "").
			stage("Low range", "transfer_case", "low").
			read(ivar, bench(4, eye(10, 0.9)), "").
			read(ivar, teeth(map[string]int{"sun": 42, "ring": 72}), "cover off"),

		// A gearcase, clean.
		unit(now, 12, "Skiff Little Auk", "boat", "Fishing skiff, 40 kW outboard. Propeller removed for the season check.").
			stage("Gearcase", "gearcase", "").
			read(sel, bench(10, eye(20, 0.8)), "turned only the engine's way").
			read(ivar, text("stamp", "27-13"), "on the forward gear's hub"),

		// A start tooth counted twice.
		unit(now, 9, "Ember", "car", "Hill-climb car. New set wanted before the autumn climb.").
			stage("Gearbox, 4th gear", "gearbox", "4").
			read(oda, text("tag", "1.00"), "direct gear by the gearbox plate").
			stage("Rear axle", "ring_and_pinion", "").
			read(sel, teeth(map[string]int{"ring": 42, "pinion": 10}), "").
			read(oda, turns(10, 10, true, arc(41, 4, 372)), "").blind(),

		// One wheel held by mistake.
		unit(now, 6, "Grouse 6", "truck", "Forestry truck, bought at the mainland auction without papers.").
			stage("Gearbox, 4th gear", "gearbox", "4").
			stage("Transfer case, high", "transfer_case", "high").
			stage("Rear axle", "ring_and_pinion", "").
			read(sel, turns(1, 1, false, eye(2, 0.3)), "right side against the wall, not watched").
			read(ivar, turns(2, 2, true, eye(9, 0.1)), "").blind().
			read(ivar, text("stamp", "41 9"), "ring edge, wire-brushed"),

		// A clean one: every method agrees.
		unit(now, 3, "Grouse 4", "truck", "Forestry truck. 33 inch tires to be fitted, gears to be chosen.").
			stage("Gearbox, 4th gear", "gearbox", "4").
			read(oda, text("tag", "1.00"), "").
			stage("Transfer case, high", "transfer_case", "high").
			read(ivar, bench(10, eye(10, 0)), "").
			stage("Transfer case, low", "transfer_case", "low").
			read(ivar, bench(4, eye(10, 0.9)), "").
			stage("Rear axle", "ring_and_pinion", "").
			read(oda, text("tag", "4.10"), "").
			read(ivar, turns(1, 1, true, eye(4, 0.2)), "read with the tag in sight").struck(ivar, "wheel mark was not brought back; done again below").
			read(ivar, turns(4, 4, true, arc(16, 152, 380)), "").blind().
			read(ivar, teeth(map[string]int{"ring": 41, "pinion": 10}), "cover off for the seal").
			stage("Front axle", "ring_and_pinion", "").
			read(ivar, turns(2, 2, true, eye(8, 0.2)), "").blind(),

		// A swapped axle that still wears its old tag.
		unit(now, 1, "Rescue van Tern 2", "van", "Rescue van. Speedometer reads far off since the axle was changed on the mainland.").
			stage("Gearbox, 5th gear", "gearbox", "5").
			stage("Rear axle", "ring_and_pinion", "").
			read(oda, text("tag", "4.10"), "on the lower cover bolt").
			read(ivar, turns(1, 1, true, eye(5, 0.2)), "").blind().
			read(ivar, turns(4, 4, true, arc(20, 330, 376)), "").blind(),
	}
	docs := make([]api.UnitDocument, len(lines))
	for i, l := range lines {
		docs[i] = l.doc
	}
	return docs
}
