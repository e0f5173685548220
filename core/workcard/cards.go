package workcard

// Cards lists the cards that ship, in the order of the trade. Times are
// typical; every figure is the manual's and is written in.
func Cards() []Card {
	return []Card{turnByHand(), lower(), openAxle(), oilChange(), caseOff(), changeGears(), speedometer(), pinionStack(), sternPinion(), reseal(), otherWayRound(), gearcaseApart(), waterPump()}
}

// Steps that many cards share.
func level() Step {
	return Step{ID: "level", Do: "On level, firm ground: chock both ways, engine off, key out", With: "chocks", Minutes: 3, Picture: "stands",
		Caution: "A parking brake on the driveshaft is gone once drum or shaft is off, and it does not hold one lifted " +
			"wheel behind an open differential."}
}

func stands() Step {
	return Step{ID: "stands", Do: "Lift at rated points, set it on jack stands, and shake it before you go under",
		With: "jack, stands", Minutes: 8, Picture: "stands",
		Caution: "Never get under it on a jack alone; every jack stand under its rated point."}
}

func brakeLines() Condition {
	return Condition{"brake_lines", "Do brake lines cross the cover?"}
}

func turnByHand() Card {
	return Card{ID: "turn_by_hand", Title: "Turn by hand and count", For: []string{"axle", "transfer_case", "gearbox"},
		Conditions: []Condition{{"open_diff", "Is the differential open (no lock, no limited slip)?"}, {"push_shift", "Is the range shifted by a push of the shaft?"}},
		Steps: []Step{
			level(), stands(),
			{ID: "neutral", Do: "Neutral, brake off, hubs locked, locks open", Minutes: 2, Look: "whether the lever and the box agree: turn a flange and look"},
			{ID: "push", Do: "Push the shaft all the way until it clicks; a half-way range turns nothing", When: []string{"push_shift"}, Minutes: 1},
			{ID: "ground_one", Do: "Hold one wheel still; the count at the other is doubled and the bench divides it", When: []string{"open_diff"}, Minutes: 1, Picture: "turns"},
			{ID: "both", Do: "Turn both wheels together, one turn each", When: []string{"!open_diff"}, Minutes: 1, Picture: "turns"},
			{ID: "mark", Do: "Mark flange and housing, tire and floor", With: "chalk, tape", Minutes: 2, Picture: "turns"},
			{ID: "count", Do: "Turn ten wheel turns and count the flange", Figure: "turns of the flange", Bench: "identify", Minutes: 6, Picture: "turns", Look: "a whole turn too many or too few is the usual mistake"},
			{ID: "again", Do: "Let another person count again without knowing the first", Figure: "turns of the flange", Minutes: 6},
			{ID: "in_gear", Do: "Gear in, brake on before it is lowered", Minutes: 1},
		}}
}

func lower() Card {
	return Card{ID: "lower", Title: "Lower it safely", Steps: []Step{
		{ID: "clear", Do: "Everything out from underneath: tools, tray, lamp, people", Minutes: 3, Gate: true},
		{ID: "wheels", Do: "Wheels on, nuts to the manual's torque", With: "torque wrench", Figure: "torque by the manual", Minutes: 6, Hold: true},
		{ID: "gear", Do: "Gear in, brake on, chocks still in", Minutes: 1},
		{ID: "one_side", Do: "One side after the other: jack up, stand out, down slowly", With: "jack", Minutes: 6, Caution: "Nobody beside it; hands off the stand's head."},
		{ID: "retorque", Do: "Wheel nuts again on the ground", With: "torque wrench", Minutes: 3},
		{ID: "chocks", Do: "Chocks out last", Minutes: 1},
	}}
}

func openAxle() Card {
	return Card{ID: "open_axle", Title: "Open an axle and count", For: []string{"axle"},
		Refill:     "gear oil to the filler's edge with the vehicle level; quantity by the manual, written down",
		Conditions: []Condition{{"independent", "Is it an independent axle, its housing on the frame?"}, brakeLines(), {"magnet_plug", "Is there a magnet in the plug?"}, {"drop_out", "Does the carrier come out to the front (no rear cover)?"}},
		Steps: []Step{
			level(), stands(),
			{ID: "filler", Do: "Loosen the filler first: it must open before anything is drained", With: "wrench", Minutes: 2},
			{ID: "drain", Do: "Drain into a clean tray", With: "tray, wrench", Minutes: 8, Picture: "tray", Look: "color, water, smell; note how much came out", Figure: "quantity drained", Caution: "Hot oil: eyes and hands protected."},
			{ID: "magnet", Do: "Wipe the magnet and look", When: []string{"magnet_plug"}, Minutes: 1, Look: "gray fuzz is usual; flakes and needles are not"},
			{ID: "lines", Do: "Cap the brake lines across the cover", With: "caps", When: []string{"brake_lines"}, Minutes: 6, Off: "brake lines across the cover", Back: "connect, bleed the brake, and try the pedal before it moves", Parts: []string{"brake fluid"}, Caution: "No brake until it is bled."},
			{ID: "half_shafts", Do: "Axle shafts off at the housing flanges, hung up", With: "socket, wire",
				When: []string{"independent"}, Minutes: 20, Off: "axle shafts at the flanges",
				Back: "flange screws to the manual's torque; boots whole and not twisted"},
			{ID: "carrier_out", Do: "Half shafts drawn, carrier unscrewed and lifted out", With: "socket, hoist", When: []string{"drop_out"}, Minutes: 60, Off: "carrier", Back: "gasket or sealant, screws crosswise to the manual's torque", Caution: "It is heavy: hoist or second person.", Parts: []string{"gasket of the carrier"}},
			{ID: "cover", Do: "Cover's screws out but two; cut the gasket, never pry the face", With: "socket, gasket knife", When: []string{"!drop_out"}, Minutes: 10, Picture: "cover", Off: "cover", Back: "clean faces, new gasket, screws crosswise to the manual's torque; screws into aluminum low", Parts: []string{"gasket of the cover"}},
			{ID: "count", Do: "Count ring and pinion teeth, mark the first", Figure: "ring and pinion teeth", Bench: "identify", With: "chalk, lamp", Minutes: 8, Picture: "teeth", Look: "the stamp on the ring's edge and the tag"},
			{ID: "pattern", Do: "Look at the ring's teeth: pattern, pitting, chips; note which tooth", Minutes: 5, Picture: "pattern", Look: "a line along an edge, blue color, a missing corner"},
			{ID: "backlash", Do: "Backlash at four places or more", Figure: "backlash by the manual", Bench: "setup", With: "dial gauge", Minutes: 10, Picture: "dial"},
			{ID: "faces", Do: "Clean both faces; no cloth threads, no old gasket inside", With: "scraper, cloth", Minutes: 8},
			{ID: "look_in", Do: "Last look inside: no tool, no cloth, locks and clips in place", Minutes: 2, Hold: true},
			{ID: "close", Do: "Close it: what came off goes back in reverse", With: "torque wrench", Figure: "torque by the manual", Gate: true, Minutes: 12, Picture: "cover"},
			{ID: "refill", Do: "Refill level, filler edge; drain plug first", With: "pump", Figure: "oil and quantity", Minutes: 8, Parts: []string{"gear oil", "plug gaskets"}},
			{ID: "breather", Do: "Breather open and on top", Minutes: 1, Picture: "breather", Look: breatherOpen},
			{ID: "leaks", Do: "Run it, look for leaks, again after a day", Minutes: 5},
		}}
}

// breatherOpen is why a breather stays open, said at every step that meets it.
const breatherOpen = "air in the case swells as it warms: with the breather shut it pushes oil past the seals, and draws water in past them as it cools"

func oilChange() Card {
	return Card{ID: "oil_change", Title: "Oil change, refill noted", Refill: "by the manual: kind and quantity, written down",
		Conditions: []Condition{{"magnet_plug", "Is there a magnet in the plug?"}, {"limited_slip", "Is there a limited slip with clutches?"}},
		Steps: []Step{
			level(),
			{ID: "warm", Do: "Warm, not hot; filler loosened first", With: "wrench", Minutes: 5, Caution: "Hot oil: eyes and hands protected."},
			{ID: "drain", Do: "Drain completely", With: "tray, wrench", Figure: "quantity drained", Minutes: 15, Picture: "tray", Look: "water (milky), metal, burnt smell"},
			{ID: "magnet", Do: "Wipe the magnet and look", When: []string{"magnet_plug"}, Minutes: 1, Look: "fuzz is usual; flakes are not"},
			{ID: "plug", Do: "Drain plug with a new gasket to its torque", With: "torque wrench", Figure: "torque by the manual", Minutes: 2, Parts: []string{"plug gaskets"}},
			{ID: "additive", Do: "Oil for limited slip, or its additive", When: []string{"limited_slip"}, Minutes: 1,
				Parts: []string{"additive, if the maker calls for it"}},
			{ID: "fill", Do: "Fill to the edge, let it settle, fill again", With: "pump", Figure: "oil and quantity", Minutes: 12, Parts: []string{"gear oil"}, Look: "less went in than came out? it is not level, or air is caught"},
			{ID: "filler", Do: "Filler closed, breather open", With: "wrench", Minutes: 2, Picture: "breather", Look: breatherOpen},
			{ID: "note", Do: "Write down hours or odometer", Figure: "hours or odometer", Minutes: 1},
		}}
}

func changeGears() Card {
	return Card{ID: "change_gears", Title: "Swap change gears", For: []string{"axle"}, Refill: "to the level as it is mounted",
		Conditions: []Condition{{"guard", "Do longer screws hold a guard behind the cover?"}, {"aluminum", "Is the housing of aluminum?"}},
		Steps: []Step{
			{ID: "stand", Do: "Car level, wheels chocked, neutral, engine off, key out", With: "chocks", Minutes: 2, Caution: "Never under a car on a jack alone; a hot drive and exhaust burn."},
			{ID: "tray", Do: "Tray below the cover; drain, or tilt so that the oil runs forward", With: "tray for a liter", Minutes: 4, Picture: "tray", Look: "flakes or a burnt smell in the oil", Caution: "The cover holds about half a liter of its own; hot oil, eyes and hands protected."},
			{ID: "cover", Do: "Loosen the cover's screws crosswise; draw it off with its bearings", With: "socket, soft mallet", Minutes: 3, Off: "cover with its bearings", Back: "screws in by hand first, then crosswise; low torque into aluminum"},
			{ID: "longer", Do: "Lay the longer screws apart", When: []string{"guard"}, Minutes: 1, Off: "longer screws of the guard", Back: "behind the guard again, full thread"},
			{ID: "out", Do: "Count both gears as they come out, and which sat on the input shaft", Figure: "teeth on the input shaft, teeth on the pinion shaft", Bench: "changegears", Minutes: 3, Picture: "teeth", Look: "a remembered count is no evidence"},
			{ID: "faces", Do: "Wipe both shafts and the seats; look at teeth, splines and bearings", With: "lint-free cloth", Minutes: 2, Look: "pitting, a bruised spline, a bearing that feels rough"},
			{ID: "in", Do: "Count both gears that go in, and put each on its shaft", Figure: "teeth on the input shaft, teeth on the pinion shaft", Minutes: 3, Picture: "teeth", Look: "a pair from one box, not mixed; both seated, faces flush"},
			{ID: "turn", Do: "Turn the drive by hand and watch the wheels", Minutes: 2, Look: "forward is forward; it turns freely all the way round", Caution: "Nobody in the line of a turning wheel."},
			{ID: "gasket", Do: "Gasket or ring: whole and seated, or new", With: "a little grease", Minutes: 1, Parts: []string{"gasket of the cover"}},
			{ID: "close", Do: "Cover on, screws in by hand first, then crosswise to the manual's torque", With: "torque wrench", Figure: "torque by the manual", Gate: true, Minutes: 3, Picture: "cover"},
			{ID: "low", Do: "Aluminum: low torque, full thread; a stripped thread is repaired, not glued", When: []string{"aluminum"}, Minutes: 1, Caution: "Screws into aluminum tear out."},
			{ID: "oil", Do: "Refill to the level as it is mounted", With: "pump", Figure: "oil and quantity", Minutes: 3,
				Parts: []string{"gear oil"}, Look: "filler and breather at the top as it is mounted now"},
			{ID: "breather", Do: "Breather: open, or routed up to a catch bottle", Minutes: 1, Picture: "breather",
				Look: breatherOpen + "; some block it for one short race so that no oil is thrown out, and others lost seals that way: a hose up to a bottle does both"},
			{ID: "spare", Do: "Spare screws for the output flanges in the box; flanges tight", With: "wrench", Minutes: 1},
			{ID: "run", Do: "Run it on jack stands for a minute, then look for leaks", With: "stands", Minutes: 3,
				Caution: "Wheels turn: jack stands under rated points, nobody beside them."},
			{ID: "log", Do: "Log the set by its counts, with track, tire and weather", Bench: "changegears", Minutes: 2},
		}}
}

func speedometer() Card {
	return Card{ID: "speedometer_gears", Title: "Speedometer gears and seal", For: []string{"gearbox", "transfer_case"},
		Conditions: []Condition{{"late", "Is it the late housing, with the seal in the rear housing?"}, {"electronic", "Does the driven gear turn a pulse unit?"}},
		Steps: []Step{
			level(),
			{ID: "cable", Do: "Cable or plug off at the housing", With: "pliers", Minutes: 3, Off: "cable or plug", Back: "cable in its square, nut by hand; no sharp bend"},
			{ID: "mark", Do: "Mark how the housing sits: its number that shows", Minutes: 1, Look: "an eccentric housing is turned to suit the teeth"},
			{ID: "sleeve", Do: "Clamp off, housing out", With: "socket", Minutes: 4, Off: "housing of the driven gear", Back: "turned to the number that suits the new teeth, seal oiled"},
			{ID: "driven", Do: "Count the driven gear", Figure: "teeth of the driven gear", Bench: "speedometer", Minutes: 2, Picture: "teeth", Look: "color is a hint only"},
			{ID: "pulse", Do: "Look at the pulse unit's coupling", When: []string{"electronic"}, Minutes: 2},
			{ID: "shaft_off", Do: "Driveshaft and rear housing off to reach the drive gear", With: "socket", Minutes: 25,
				Off: "rear housing", Back: "the seal sits on the housing, flush, else it is pinched; shaft flange as it was marked", Picture: "seal"},
			{ID: "drive", Do: "Drive gear: clip, which way round, count", Figure: "teeth of the drive gear", Minutes: 8, Off: "drive gear with its clip", Back: "clip in its groove; it may go either way round only where slot and teeth are symmetrical"},
			{ID: "seal_late", Do: "New seal into the rear housing", When: []string{"late"}, With: "seal driver", Minutes: 6, Picture: "seal", Parts: []string{"rear seal"}},
			{ID: "seal_early", Do: "New ring on the driven gear's housing", When: []string{"!late"}, Minutes: 3, Picture: "seal", Parts: []string{"ring of the speedometer housing"}},
			{ID: "back", Do: "Everything back in reverse", With: "torque wrench", Gate: true, Minutes: 25},
			{ID: "check", Do: "Check on the road against a measured distance", Bench: "speedometer", Minutes: 15},
		}}
}
