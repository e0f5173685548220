package workcard

func caseOff() Card {
	return Card{ID: "case_off_on", Title: "Transfer case off and on", For: []string{"transfer_case"}, Refill: "gear oil by the manual, quantity written down",
		Conditions: []Condition{{"drum", "Is there a brake drum on the case?"}, {"offset_gear", "Does an offset gear go on the gearbox's output?"}},
		Steps: []Step{
			level(), stands(),
			{ID: "drain", Do: "Drain, and look at the oil", With: "tray, wrench", Minutes: 8, Picture: "tray", Look: "metal, water"},
			{ID: "shafts", Do: "Mark the driveshaft flanges, take the shafts off and tie them up", With: "socket, wire",
				Minutes: 15, Off: "driveshafts", Back: "flanges as they were marked, screws to the manual's torque"},
			{ID: "drum_off", Do: "Brake drum off; back plate tied up with its cable on", With: "socket, wire", When: []string{"drum"}, Minutes: 10, Off: "brake drum and back plate", Back: "shoes centered, cable free, brake tried before the chocks come out", Caution: "The parking brake is gone from here on: chocks stay."},
			{ID: "levers", Do: "Shift rods, switch wires and speedometer cable off, each marked", With: "pliers, tags", Minutes: 10, Off: "rods, wires and cable", Back: "each to its mark; lever and range agree in every position"},
			{ID: "cradle", Do: "Cradle the case on the jack and strap it", With: "jack with cradle, strap", Minutes: 8, Caution: "It is heavy and its middle is not where the eye puts it: strap before the last screw.", Picture: "stands"},
			{ID: "off", Do: "Screws out, slide it straight back, lower it", With: "socket", Minutes: 20, Off: "transfer case", Back: "bearings' preload by the manual; raise it straight, small parts last", Hold: true},
			{ID: "offset", Do: "Offset gear off: which side faces the gearbox?", With: "puller", When: []string{"offset_gear"}, Minutes: 8, Picture: "offset", Off: "offset gear", Back: "the right way round: the other way the teeth meet on a sliver and both gears are ruined", Bench: "fits"},
			{ID: "play", Do: "Rock input against outputs in each range", Figure: "play at the flange, degrees", Bench: "freeplay", Minutes: 8},
			{ID: "look", Do: "Look: splines, forks, seals, bearings", Minutes: 10, Look: "a step in a spline that catches the fingernail is worn"},
			{ID: "oil_holes", Do: "Oil holes that feed a spline or bearing: open?", Minutes: 2},
			{ID: "fit", Do: "Up with it: input gear goes on when the case is up", With: "jack with cradle, torque wrench", Figure: "torque by the manual", Gate: true, Minutes: 30},
			{ID: "direction", Do: "Turn by hand in each range: goes the right way, nothing catches", Bench: "trace", Minutes: 5, Hold: true},
			{ID: "refill", Do: "Refill", With: "pump", Figure: "oil and quantity", Minutes: 8, Parts: []string{"gear oil", "plug gaskets"}},
			{ID: "leaks", Do: "Short drive, each range; look for leaks", Minutes: 15},
		}}
}

func pinionStack() Card {
	return Card{ID: "pinion_stack", Title: "Pinion stack and set-up", For: []string{"axle"}, Refill: "gear oil by the manual",
		Conditions: []Condition{{"crush", "Is the preload set by a crush sleeve?"},
			{"ledge", "Is there a ledge under the inner bearing's cup where depth is shimmed?"},
			{"rigid", "Does the pinion use a solid spacer and shims?"}},
		Steps: []Step{
			{ID: "marks", Do: "Read the marks of old and new pinion, and the set's numbers", Figure: "marks, with sign and unit", Bench: "setup", Minutes: 4, Look: "ring and pinion carry the same number: one pair"},
			{ID: "caps", Do: "Mark the bearing caps; off with carrier and shims", With: "punch, socket, pry bars with pads", Minutes: 20, Off: "carrier, caps and side shims", Back: "shims to their own side, caps where they were bored, screws to the manual's torque", Picture: "shims", Caution: "Lift it straight: heavy, and fingers fit between."},
			{ID: "nut", Do: "Nut off, pinion out to the inside", With: "holder for the flange, socket", Minutes: 15,
				Off:  "nut, washer, flange and pinion",
				Back: "flange on its splines as marked; a new nut where the maker calls for one"},
			{ID: "stack_order", Do: "Lay the stack out in its order", Minutes: 5, Off: "pinion stack", Back: "head, inner bearing, shims, spacer, outer bearing, collar, washer, nut, as laid out", Picture: "shims", Figure: "thickness of each shim"},
			{ID: "cups", Do: "Cups: look at the races; press new ones home", With: "press, drift", Minutes: 20, Look: "a cup that is not home feels like depth"},
			{ID: "depth", Do: "Depth shim by the marks, under the cup or behind the head", Bench: "setup", When: []string{"ledge"}, Minutes: 10, Picture: "shims"},
			{ID: "depth_fixed", Do: "No ledge: depth is what it is; note it by the pattern", When: []string{"!ledge"}, Minutes: 3},
			{ID: "preload", Do: "Preload by shims between the bearings", When: []string{"!crush"}, Bench: "setup", With: "torque wrench, string scale", Figure: "rotating torque by the manual", Minutes: 25, Picture: "string"},
			{ID: "sleeve", Do: "New crush sleeve; tighten in small steps and measure each time", When: []string{"crush"}, Bench: "setup", With: "long bar, torque wrench, string scale", Figure: "rotating torque by the manual", Minutes: 30, Picture: "string", Parts: []string{"crush sleeve", "pinion nut"}, Caution: "Overshot is a new sleeve; never backed off."},
			{ID: "gap", Do: "Measure the gap behind the shank; thickest stack not above it", When: []string{"rigid"}, Bench: "setup", With: "feeler or lead wire, micrometer", Figure: "gap", Minutes: 15, Picture: "shims"},
			{ID: "torque_again", Do: "Rotating torque again: the same as before the stack", When: []string{"rigid"}, Figure: "rotating torque", Minutes: 5},
			{ID: "carrier_in", Do: "Carrier in with its shims, caps by their marks", With: "torque wrench, soft mallet", Minutes: 15, Picture: "shims", Look: "each stack on its own side"},
			{ID: "total", Do: "Total rotating torque", Bench: "setup", With: "string scale", Figure: "total by the manual", Minutes: 5, Picture: "string"},
			{ID: "backlash", Do: "Backlash, eight places", Bench: "setup", With: "dial gauge", Figure: "backlash by the manual", Minutes: 10, Picture: "dial"},
			{ID: "pattern", Do: "Pattern on drive and coast", Bench: "setup", With: "marking paste, brake on the ring", Minutes: 10, Picture: "pattern"},
			{ID: "good", Do: "The set-up bench says good; shims written down", Figure: "pinion, left, right shims", Minutes: 3, Hold: true},
			{ID: "seal", Do: "Oil slinger and seal in, flange on, nut to its torque and secured", With: "seal driver, torque wrench", Figure: "torque by the manual", Minutes: 12, Picture: "seal", Parts: []string{"pinion seal", "pinion nut"}, Gate: true},
		}}
}

func reseal() Card {
	return Card{ID: "reseal", Title: "Reseal pinion and sides", For: []string{"axle"}, Refill: "what was lost, to the filler's edge",
		Conditions: []Condition{{"crush", "Is the preload set by a crush sleeve?"}, {"clips", "Are the axle shafts held by clips inside?"}},
		Steps: []Step{
			level(), stands(),
			{ID: "breather", Do: "Breather first: a blocked one pushes seals out", Minutes: 2, Picture: "breather", Look: breatherOpen},
			{ID: "torque_before", Do: "Rotating torque before anything is loosened", With: "string scale", Figure: "rotating torque", Minutes: 5, Picture: "string", Bench: "setup"},
			{ID: "mark", Do: "Mark nut, flange and pinion", With: "punch", Minutes: 2},
			{ID: "flange", Do: "Driveshaft tied up, nut off, flange off", With: "holder for the flange, socket, puller",
				Minutes: 15, Off: "flange and nut", Back: "to its marks; preload as it was before", Figure: "turns of the nut"},
			{ID: "running", Do: "Look at the flange's running face", Minutes: 2, Look: "a groove that catches the fingernail: sleeve or new flange"},
			{ID: "pinion_seal", Do: "Old seal out, new one in square and to depth, lip oiled", With: "seal puller, seal driver", Minutes: 8, Picture: "seal", Parts: []string{"pinion seal"}},
			{ID: "nut_marks", Do: "Nut to its marks, and a hair more, by rotating torque", When: []string{"crush"}, Figure: "rotating torque", Minutes: 6, Caution: "Farther is a new sleeve: never backed off."},
			{ID: "nut_torque", Do: "Nut to the manual's torque", When: []string{"!crush"}, With: "torque wrench", Figure: "torque by the manual", Minutes: 4},
			{ID: "clips_out", Do: "Cover off, clips out, axle shafts pulled", When: []string{"clips"}, With: "socket, pliers",
				Minutes: 25, Off: "cover, clips and axle shafts", Back: "clips all seated, cross pin's screw secured, new gasket",
				Parts: []string{"gasket of the cover"}},
			{ID: "shafts_out", Do: "Retainers off, axle shafts pulled straight", When: []string{"!clips"},
				With: "socket, slide hammer", Minutes: 20, Off: "axle shafts with retainers",
				Back: "do not drag the spline over the new seal; retainer to its torque"},
			{ID: "side_seals", Do: "Side seals out and in, lip oiled", With: "seal puller, seal driver", Minutes: 12, Picture: "seal", Parts: []string{"side seals, two"}},
			{ID: "brake_dry", Do: "Brake linings dry: replace soaked ones", Minutes: 4, Hold: true},
			{ID: "close", Do: "Back in reverse", Gate: true, Minutes: 25},
			{ID: "oil", Do: "Refill to the edge", With: "pump", Figure: "oil and quantity", Minutes: 6, Parts: []string{"gear oil"}},
		}}
}

func otherWayRound() Card {
	return Card{ID: "carrier_other_side", Title: "Carrier the other way round", For: []string{"axle"}, Refill: "gear oil by the manual",
		Conditions: []Condition{{"room", "Was it tried by hand that the ring has room on the other side?"}},
		Steps: []Step{
			{ID: "why", Do: "Write down why: axle turned over, engine turns the other way", Figure: "reason", Minutes: 2, Bench: "trace"},
			{ID: "try", Do: "Try the room first with the bare ring", When: []string{"!room"}, Minutes: 20, Look: "housing, cover and cross pin clear all the way round"},
			{ID: "caps", Do: "Mark caps; off with carrier and both side stacks", With: "punch, socket", Minutes: 20, Off: "carrier and side stacks", Back: "turned: each stack goes to the other side with its bearing; caps stay in their places", Picture: "shims", Figure: "left and right shims"},
			{ID: "shafts", Do: "Half shafts of unequal length: which one goes where now?", Minutes: 3},
			{ID: "in", Do: "Carrier in the other way, shims with their bearings", With: "torque wrench", Figure: "torque by the manual", Minutes: 20, Picture: "shims"},
			{ID: "measure", Do: "Backlash and pattern again", Bench: "setup", With: "dial gauge, marking paste",
				Figure: "backlash by the manual", Minutes: 20, Picture: "dial"},
			{ID: "direction", Do: "Turn the pinion the way the engine will: wheels go forward", Bench: "trace", Minutes: 3, Hold: true, Caution: "Wrong, and it drives backward in every gear."},
			{ID: "close", Do: "Close and refill", With: "torque wrench, pump", Figure: "oil and quantity", Gate: true, Minutes: 20, Parts: []string{"gasket of the cover", "gear oil"}},
		}}
}
