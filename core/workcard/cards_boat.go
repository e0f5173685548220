package workcard

func gearcaseApart() Card {
	return Card{ID: "gearcase", Title: "Gearcase apart, inspected, together, tested", For: []string{"gearcase"}, Refill: "gearcase oil from below until it reaches the upper plug, quantity written down",
		Conditions: []Condition{{"twin", "Are there two propellers on one shaft?"}, {"turning_shift", "Is it shifted by a turning shaft (not by push and pull)?"}, {"lobe", "Is the pump driven by a key or a lobe that can fall out?"}},
		Steps: []Step{
			{ID: "kill", Do: "Engine off, key and lanyard out, battery off", Minutes: 2, Caution: "A propeller turns at a touch of the key: off the shaft before anything else."},
			{ID: "drain", Do: "Drain from the lower plug, upper plug open", With: "tray, screwdriver", Minutes: 10, Picture: "tray", Look: "milky: water; glitter: bearings; shavings: dogs"},
			{ID: "propeller", Do: "Propeller off", With: "block of wood, socket", When: []string{"!twin"}, Minutes: 6, Off: "propeller, washer and nut", Back: "thrust washer the right way round, cotter pin new", Parts: []string{"cotter pin"}},
			{ID: "propellers", Do: "Both propellers off, each with its own washers", With: "block of wood, two sockets", When: []string{"twin"}, Minutes: 12, Off: "both propellers, each with its washers", Back: "rear hand and front hand not mixed up; each nut to its torque"},
			{ID: "line", Do: "Fishing line behind the propeller? Cut it out and look at the seal", Minutes: 2},
			{ID: "shift_pos", Do: "Note the shift's position: neutral, and which way is forward", Minutes: 2, Figure: "which movement gives forward", When: []string{"!turning_shift"}},
			{ID: "shift_turn", Do: "Note the turning shaft's angle at neutral, and which way is forward", Minutes: 2, Figure: "which turn gives forward", When: []string{"turning_shift"}},
			{ID: "case_off", Do: "Case off the midsection, straight down", With: "socket, second person", Minutes: 15, Off: "gearcase from the midsection", Back: "driveshaft spline greased, not on its end face; water tube in; shift engaged", Caution: "It comes off at once: hold it."},
			{ID: "pump", Do: "Pump housing, impeller and its key off", With: "socket", Minutes: 8, Off: "water pump with impeller and key", Back: "impeller's vanes bent the way the shaft turns; key in; new gaskets", Parts: []string{"impeller", "pump gaskets"}},
			{ID: "lobe_out", Do: "Lobe or key of the pump: take it out before it falls", When: []string{"lobe"}, Minutes: 1, Off: "lobe or key of the pump", Back: "with grease, so that it stays"},
			{ID: "carrier", Do: "Carrier of the propeller shaft out", With: "puller", Minutes: 20, Off: "carrier with propeller shaft", Back: "O-rings new and greased; screws or ring to the manual's torque", Parts: []string{"carrier O-rings", "propeller shaft seals"}, Caution: "Key, ball and spring of the clutch fly: cover them."},
			{ID: "nut", Do: "Pinion nut off, driveshaft pulled", With: "holder, spline socket", Minutes: 15, Off: "pinion nut and driveshaft", Back: "a new nut to the manual's torque", Caution: "The pinion drops when the driveshaft comes out: keep a hand under it.", Parts: []string{"pinion nut"}},
			{ID: "gears", Do: "Pinion, forward gear and races out; shims with their gears, never mixed", With: "puller, tags", Minutes: 20, Off: "pinion, forward and reverse gear with shims", Back: "each with its own shims, races pressed home", Picture: "shims", Figure: "thickness of each stack"},
			{ID: "inspect", Do: "Inspect: seals, dogs, teeth, bearings, the lubrication sleeve's spiral", Bench: "gearcase", Minutes: 20, Look: "rounded dogs: clutch and gears are renewed together"},
			{ID: "top_bearing", Do: "Oil feed to the top bearing: open?", Minutes: 3, Caution: "Starved, the driveshaft seizes and twists off."},
			{ID: "shims", Do: "Shims by the stamp on the case", Bench: "gearcase", Figure: "stamp, exactly as it is", Minutes: 15, Picture: "shims"},
			{ID: "together", Do: "Pinion, gears and shaft together", With: "torque wrench", Figure: "torque by the manual", Minutes: 40},
			{ID: "backlash", Do: "Backlash of forward and reverse gear", Bench: "gearcase", With: "dial gauge, arm", Figure: "backlash by the manual", Minutes: 15, Picture: "dial"},
			{ID: "shift_try", Do: "Forward, neutral, reverse by hand: crisp, and the right way", Minutes: 5, Hold: true},
			{ID: "close", Do: "Carrier in, seals lipped the right way, everything in reverse", With: "seal driver, torque wrench", Figure: "torque by the manual", Gate: true, Minutes: 30, Picture: "seal"},
			{ID: "pressure", Do: "Pressure test before filling", With: "pump, gauge", Figure: "pressure and minutes by the manual", Minutes: 10, Caution: "Low pressure only, by the manual: seals blow out."},
			{ID: "vacuum", Do: "Vacuum test before filling", With: "vacuum pump, gauge", Figure: "vacuum and minutes by the manual", Minutes: 10},
			{ID: "fill", Do: "Fill from below until oil reaches the upper plug; upper plug in first", With: "oil pump", Figure: "oil and quantity", Minutes: 8, Parts: []string{"gearcase oil", "plug gaskets"}},
			{ID: "run", Do: "Run in a tank or on muffs: water comes, shifts, no leak", Minutes: 10, Caution: "Propeller off on muffs; nobody behind it."},
		}}
}

func sternPinion() Card {
	return Card{ID: "stern_pinion", Title: "Pinion stack of a stern drive", For: []string{"upper"}, Refill: "drive oil from below until it reaches the upper plug, quantity written down",
		Conditions: []Condition{{"crush", "Is the pinion's preload set by a crush sleeve?"}, {"cone", "Does the upper unit shift (a cone or dogs on its vertical shaft)?"}, {"marks", "Do pinion or housing carry a mark for the shim?"}},
		Steps: []Step{
			{ID: "kill", Do: "Engine off, key and lanyard out, battery off", Minutes: 2, Caution: "A propeller turns at a touch of the key: nobody near it, and it comes off first."},
			{ID: "drain", Do: "Drain from the lower plug, upper plug open", With: "tray, screwdriver", Figure: "quantity drained", Minutes: 10, Picture: "tray", Look: "milky: water; glitter: bearings"},
			{ID: "drive_off", Do: "Drive off its mounting: shift cable first, then the nuts, straight back", With: "socket, hoist or second person", Minutes: 30, Off: "drive from its mounting", Back: "joint's splines greased, new gasket and seals, nuts crosswise to the manual's torque", Caution: "It is heavy and comes off at once: hoist it.", Parts: []string{"mounting gasket", "water passage seal"}},
			{ID: "play_before", Do: "Backlash and rolling torque before anything is loosened", With: "dial gauge, string scale", Figure: "backlash and rolling torque as found", Minutes: 10, Picture: "dial"},
			{ID: "top", Do: "Top cover off; its shims stay with it", With: "socket", Minutes: 8, Off: "top cover with its shims", Back: "its own shims, new ring, screws crosswise", Picture: "shims", Parts: []string{"top cover ring"}},
			{ID: "shift_out", Do: "Cone or dogs with both driven gears out, in the order they sat", When: []string{"cone"}, Minutes: 15, Off: "shaft with cone and driven gears, shims below each", Back: "each gear with its own shims; the cone's spiral the way it came out", Figure: "thickness of each stack"},
			{ID: "pinion_out", Do: "Pinion's carrier out, with the joint; shims under its flange", With: "puller, tags", Minutes: 15, Off: "pinion carrier with joint", Back: "shims under the flange, new rings, screws to the manual's torque", Figure: "thickness of the shims", Picture: "shims", Parts: []string{"carrier rings"}},
			{ID: "stack_order", Do: "Lay the pinion's stack out in its order", Minutes: 5, Off: "pinion stack", Back: "head, inner bearing, spacer or sleeve, outer bearing, washer, nut, as laid out", Picture: "shims"},
			{ID: "cups", Do: "Bearings and cups: look at the races; press new ones home", With: "press, drift", Minutes: 25, Look: "a cup that is not home feels like depth"},
			{ID: "marks", Do: "Read the marks of housing, old and new pinion", When: []string{"marks"}, Bench: "setup", Figure: "marks, with sign and unit", Minutes: 4},
			{ID: "preload", Do: "Preload by spacer or shims between the bearings", When: []string{"!crush"}, Bench: "setup", With: "torque wrench, string scale", Figure: "rolling torque by the manual", Minutes: 25, Picture: "string"},
			{ID: "sleeve", Do: "New crush sleeve; tighten in small steps and measure each time", When: []string{"crush"}, Bench: "setup", With: "long bar, torque wrench, string scale", Figure: "rolling torque by the manual", Minutes: 25, Picture: "string", Parts: []string{"crush sleeve", "pinion nut"}, Caution: "Overshot is a new sleeve; never backed off."},
			{ID: "depth", Do: "Pinion's height by its shims: by the marks, or the maker's gauge", Bench: "setup", With: "gauge, feeler", Figure: "shims under the carrier", Minutes: 15, Picture: "shims"},
			{ID: "driven", Do: "Driven gears in with their shims; top cover drawn down to the manual's torque", With: "torque wrench", Figure: "shims of each gear", Gate: true, Minutes: 20},
			{ID: "backlash", Do: "Backlash of each driven gear", Bench: "gearcase", With: "dial gauge, arm", Figure: "backlash by the manual", Minutes: 15, Picture: "dial"},
			{ID: "pattern", Do: "Pattern on both driven gears", Bench: "setup", With: "marking paste", Minutes: 10, Picture: "pattern"},
			{ID: "total", Do: "Rolling torque of the whole", With: "string scale", Figure: "total by the manual", Minutes: 5, Picture: "string"},
			{ID: "good", Do: "The bench says good; shims written down", Figure: "pinion, upper and lower gear shims", Minutes: 3, Hold: true},
			{ID: "pressure", Do: "Pressure test before filling", With: "pump, gauge", Figure: "pressure and minutes by the manual", Minutes: 10, Caution: "Low pressure only, by the manual: seals blow out."},
			{ID: "mount", Do: "Drive on: engine and drive in line, shift cable set", With: "alignment bar, torque wrench", Figure: "torque by the manual", Gate: true, Minutes: 40},
			{ID: "fill", Do: "Fill from below until oil reaches the upper plug; upper plug in first", With: "oil pump", Figure: "oil and quantity", Minutes: 8, Parts: []string{"drive oil", "plug gaskets"}},
			{ID: "run", Do: "Run in a tank or on muffs: water comes, shifts, no leak", Minutes: 10, Caution: "Propeller off on muffs; nobody behind it."},
		}}
}

func waterPump() Card {
	return Card{ID: "water_pump", Title: "Water pump", For: []string{"gearcase", "engine"},
		Conditions: []Condition{{"on_case", "Does the pump sit on the gearcase (the case has to come off)?"}},
		Steps: []Step{
			{ID: "kill", Do: "Engine off, key and lanyard out", Minutes: 1, Caution: "Propeller in neutral, nobody at the key."},
			{ID: "case_off", Do: "Case off the midsection", With: "socket, second person", When: []string{"on_case"}, Minutes: 15, Off: "gearcase from the midsection", Back: "water tube in, shift engaged, spline greased"},
			{ID: "housing", Do: "Pump housing off", With: "socket", Minutes: 4, Off: "pump housing", Back: "turn the shaft the way it runs while it goes down over the vanes"},
			{ID: "impeller", Do: "Impeller and key out", With: "pliers", Minutes: 3, Off: "impeller and key", Back: "new; vanes bent the way the shaft turns; key in", Parts: []string{"impeller", "key"}, Look: "missing pieces of vanes: they are in the passages"},
			{ID: "passages", Do: "Find every missing piece; flush the passages and the tube", With: "hose", Minutes: 10},
			{ID: "plate", Do: "Plate and liner: scored? Renew", Minutes: 3, Look: "a groove that catches the fingernail", Parts: []string{"plate and liner, if scored"}},
			{ID: "gaskets", Do: "New gaskets and seals", Minutes: 4, Parts: []string{"pump gaskets"}, Picture: "seal"},
			{ID: "together", Do: "Together in reverse", With: "torque wrench", Figure: "torque by the manual", Gate: true, Minutes: 15, Hold: true},
			{ID: "run", Do: "Run in a tank: strong stream within a minute", Minutes: 5, Look: "weak or none: stop, screens and passages again"},
			{ID: "note", Do: "Write down the hours", Figure: "hours", Minutes: 1},
		}}
}
