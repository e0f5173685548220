package findfault

import (
	"maps"
	"slices"
)

// sort is a kind of fault: what it is, how it comes about, what follows from it,
// and how often each sign is met with it. All figures are typical and said to
// be.
type sort struct {
	prior float64 // how often it breaks, against the others
	how   string  // how it comes about
	next  string  // what dies next where it is driven on
	open  string  // what is opened to see it
	// minutes to see it so: they order what is opened.
	minutes float64
	ready   []string // parts and gaskets to have ready
	signs   map[string]float64
}

// sorts of what breaks, wears and leaks.
var sorts = map[string]sort{
	// Breaks: what they do to the motion is solved; signs come on top.
	"stub": {6, "a wheel that spun and gripped again: the smallest section shears",
		"nothing at once; a loose end can tear the seal and the tube", "Pull the axle shaft", 40,
		[]string{"axle shaft or stub shaft", "axle shaft seal", "its bearing's retainer"}, map[string]float64{"bang": 0.6, "knocks": 0.25}},
	"shaft": {4, "joints worn until they part, or a spline that had too little oil", "a loose shaft flails: it is tied up or taken off before anything moves", "Look along the shaft, then the spline", 10,
		[]string{"joints", "slip spline or yoke", "flange bolts, new"}, map[string]float64{"bang": 0.5, "look_shaft": 0.95, "clunk": 0.3}},
	"spline": {1.5, "a spline without oil through its holes, or a new gear on a worn one",
		"the other half of the spline: replace both", "Pull the shaft or case back and look into the bore", 60,
		[]string{"output shaft and what sits on it, as a pair", "output seal", "gasket"}, map[string]float64{"bang": 0.2, "clunk": 0.4, "metal": 0.4}},
	"lock": {4, "dogs rounded by half engagement, or a fork that has worn or bent", "stubs, where it is forced", "Switch, line, fork; then the dogs", 60,
		[]string{"fork or pad", "dog sleeve and the gear it engages", "cover gasket"},
		map[string]float64{"jumps": 0.3, "clunk": 0.1, "motor_dead": 0.08}},
	"actuation": {4, "switch, wire, motor, cylinder, line, cable or the drum that they turn", "dogs, where it half engages", "Switch, fuse, line and motor, in that order; nothing is taken apart for it", 15,
		[]string{"switch", "motor, cylinder or cable", "line or hose"}, map[string]float64{"motor_dead": 0.85}},
	"clutch": {4, "worn linings, oil on them, or a pedal without free travel", "the disc, then the flywheel's face", "Look through the bell housing", 25,
		[]string{"disc, pressure plate and release bearing", "crankshaft seal, if it is oily"}, map[string]float64{"revs": 0.85, "burnt": 0.7, "shudder": 0.3}},
	"drag": {2, "cable or hydraulics out of adjustment, a warped disc, a spigot bearing that grips", "synchronizers, at every shift", "Free travel and fluid first; then the bell housing", 20,
		[]string{"cable or cylinder", "fluid", "disc"}, map[string]float64{"clash_all": 0.85, "stiff_all": 0.4}},
	"dogs": {2.5, "shifting slowly or under load rounds them; a cable out of phase leaves them half in",
		"the other gear's dogs; replace both", "Cable and fork first; then the case", 90,
		[]string{"dog clutch and the gears it engages, together", "springs and detent balls", "case gasket or sealant"}, map[string]float64{"jumps": 0.45, "clash_one": 0.3, "metal": 0.35}},
	"brake": {3, "a slide, piston or cable that rusted fast, or a bearing that ran dry", "the drum or disc, and the tire; heat", "Feel the hubs after a drive, side against side", 12,
		[]string{"caliper kit or wheel cylinder", "pads or shoes, both sides", "hub bearings"}, map[string]float64{"hot_hub": 0.9, "burnt": 0.4, "hums": 0.2}},
	"hub": {4, "a hub that has let go of the propeller, or a pin or key that sheared at a knock", "nothing at once", "Propeller off", 12,
		[]string{"hub or bushing", "shear pin or key", "nut and cotter"}, map[string]float64{"revs": 0.7, "hub_mark": 0.9}},
	"spiders": {2.5, "one wheel spinning for long, or a shock", "ring and pinion, from the pieces", "Open the cover", 35,
		[]string{"side and spider gears with their shaft", "thrust washers", "cover gasket", "gear oil"}, map[string]float64{"bang": 0.5, "knocks": 0.7, "metal": 0.9, "corner": 0.4}},
	"mesh": {1.2, "a shock, teeth that ran on their edge, or oil that was gone", "the other gears, from the pieces", "Drain and look at the magnet, then open", 60,
		[]string{"the pair of gears, never one", "bearings", "gaskets, seals, gear oil"}, map[string]float64{"bang": 0.5, "knocks": 0.8, "metal": 0.92, "whine_drive": 0.3}},
	"chain": {1.5, "stretched until it climbs its sprockets, then parts", "the case, which it saws through", "Open the case", 90,
		[]string{"chain", "sprockets, where hooked", "case sealant"}, map[string]float64{"bang": 0.45, "knocks": 0.6, "metal": 0.6, "skips": 0.4}},
	"planets": {0.8, "a pin that ran dry, or a shock", "the ring gear", "Open the case", 80,
		[]string{"planets, pins and needles", "thrust washers", "gaskets"}, map[string]float64{"knocks": 0.7, "metal": 0.9}},
	"gears": {0.6, "a set of another ratio was fitted at one end", "tires, then the center or a joint", "Count at both ends", 25,
		[]string{"the right ring and pinion", "set-up kit", "cover gasket", "gear oil"}, map[string]float64{"since_work": 0.85, "winds_up": 0.9}},
	"turned": {0.6, "put together with the ring on the other side, or fitted turned over", "nothing, but it drives the wrong way", "Look which way the ring sits", 20,
		[]string{"gasket", "gear oil"}, map[string]float64{"since_work": 0.95}},
	"tires": {1.5, "a new tire beside an old one, or another size at one end", "the center, or what locks both ends together", "Measure the rollout of every tire", 10,
		[]string{"tires that roll alike"}, map[string]float64{"rollouts": 0.92, "since_tires": 0.7, "winds_up": 0.9}},
	"key": {0.7, "a sheared key or pin: a knock, or a taper that was not tight", "the taper and the bore", "Nut off, look at the key", 20,
		[]string{"key", "nut and washer"}, map[string]float64{"bang": 0.3, "metal": 0.2, "hub_mark": 0.9}},

	"seized": {0.06, "a bearing that ran dry, or pieces of one", "the shaft's other bearing and its gears", "Turn it by hand from each side; then the case", 90,
		[]string{"bearings of that shaft", "gaskets and seals", "the oil its maker names"}, map[string]float64{"bang": 0.15, "knocks": 0.4, "hot_case": 0.6, "metal": 0.8, "dark_oil": 0.5}},
	"gears_inside": {0.05, "gears of another set were fitted when it was apart", "nothing at once; speedometer and shift points are off", "Count turns in and out in that gear", 15,
		[]string{"the right pair of gears", "gaskets and seals"}, map[string]float64{"since_work": 0.85}},
	"layshaft_key": {0.1, "a key that sheared at a shock, or a gear that has crept on its shaft", "the gears beside it, from the pieces", "Drain and look at the magnet, then the top cover", 90,
		[]string{"key, or shaft and gear as a pair", "bearings", "gaskets and seals"}, map[string]float64{"bang": 0.4, "knocks": 0.35, "metal": 0.5, "jumps": 0.2}},

	// What wears, and moves as it should.
	"spline_wear": {1.5, "rust and no grease, or a coupling that was never straight", "the spline strips", "Rock one side against the other and look at the spline", 15,
		[]string{"both halves of the spline", "grease its maker names"}, map[string]float64{"clunk": 0.6, "play": 0.6, "shakes": 0.2, "metal": 0.1, "spline_play": 0.85}},
	"mesh_wear": {1, "years, thin oil, or metal in it", "teeth that break", "Drain and look at the magnet; then the case", 70,
		[]string{"the pair of gears, never one", "bearings", "gaskets and seals"}, map[string]float64{"whine_drive": 0.5, "clunk": 0.25, "metal": 0.35, "play": 0.35, "hot_case": 0.25, "knocks": 0.15}},
	"tire_balance": {6, "a lost weight, a bent rim, a flat spot or uneven wear", "wheel bearings and joints", "Swap front and rear wheels, or roll it on another surface", 20,
		[]string{"balancing", "a tire or rim, if bent or worn"}, map[string]float64{"shakes": 0.75, "hums": 0.55, "since_tires": 0.5, "wheel_look": 0.7, "swapped": 0.85}},
	"wheel_bearing": {4, "water behind its seal, or set too tight", "the hub and its seal, then the brake", "Lift, rock and spin the wheel; then the hub", 25,
		[]string{"bearing set", "hub seal"}, map[string]float64{"hums": 0.8, "rocks": 0.75, "hot_hub": 0.55, "corner": 0.4}},
	"pinion_bearing": {2, "preload lost, or oil gone past the seal", "ring and pinion: the gear walks out of its mesh", "Yoke off, feel it; then the cover", 50,
		[]string{"pinion bearings", "seal and nut, new", "crush sleeve or shims"}, map[string]float64{"yoke_play": 0.7, "whine_coast": 0.6, "hums": 0.45, "metal": 0.5, "hot_case": 0.5, "leak_yoke": 0.35, "play": 0.15}},
	"set_up": {1.5, "depth or backlash off since it was put together, or gears worn to each other and then moved", "the tooth's edge, then the tooth", "Cover off: pattern and backlash", 40,
		[]string{"set-up shims", "cover gasket", "gear oil"}, map[string]float64{"whine_drive": 0.75, "whine_coast": 0.45, "since_work": 0.5, "play": 0.35, "metal": 0.25}},
	"side_wear": {2, "thrust washers worn through, spider shaft scored", "the side gears", "Cover off, rock a side gear", 35,
		[]string{"thrust washers", "spider shaft", "cover gasket"}, map[string]float64{"clunk": 0.65, "corner": 0.6, "play": 0.7, "metal": 0.25}},
	"plates": {2.5, "worn or glazed plates, or oil without what they need", "the plates themselves; they shed into the oil", "Measure its breakaway torque; then the carrier", 20,
		[]string{"plates and springs", "oil for limited slip", "cover gasket"}, map[string]float64{"spins": 0.85, "breakaway": 0.9, "chatter": 0.5, "dark_oil": 0.4}},
	"joint": {5, "needles that ran dry", "the cross parts, and the shaft drops", "Rock the joint by hand; then press it out", 15,
		[]string{"joints, both ends", "straps or bolts, new"}, map[string]float64{"clunk": 0.65, "shakes": 0.5, "hums": 0.25, "joint_play": 0.85, "squeaks": 0.5, "play": 0.6}},
	"balance": {2, "a lost weight, a dent, or yokes put together out of phase", "joints and the output's bearing and seal", "Look at the marks of both yokes, and for a dent", 12,
		[]string{"balancing, or the right phase"}, map[string]float64{"shakes": 0.9, "hums": 0.2, "since_work": 0.25}},
	"pinion_seal": {3, "age, a groove in the yoke, a breather that is shut", "the pinion's bearings, once oil is low", "Clean, drive, look again; then the yoke", 35,
		[]string{"pinion seal", "pinion nut", "crush sleeve, where it has one"}, map[string]float64{"leak_yoke": 0.92, "low_oil": 0.6, "milky": 0.2}},
	"axle_seal": {3, "age, or a bearing that let the shaft run out", "the brake's linings, then the bearing", "Drum or disc off", 30,
		[]string{"axle shaft seal", "bearing, if it has play", "pads or shoes"}, map[string]float64{"leak_wheel": 0.92, "low_oil": 0.5, "milky": 0.15}},
	"output_seal": {2.5, "age, or a worn bushing that lets the yoke drop", "what runs in that oil", "Shaft off, look at seal and bushing", 25,
		[]string{"output seal", "bushing"}, map[string]float64{"leak_output": 0.92, "low_oil": 0.5, "milky": 0.15}},
	"chain_worn": {1.5, "stretched over the years, or the case was driven locked on pavement", "the chain parts and saws the case", "Open the case", 90,
		[]string{"chain", "sprockets, where hooked", "case sealant"}, map[string]float64{"skips": 0.85, "clunk": 0.4, "metal": 0.4, "play": 0.4}},
	"backward": {0.3, "an offset gear put on the wrong way round: teeth meet on a sliver", "both gears of the pair", "Open it and look how far the faces overlap", 70,
		[]string{"the pair of gears, if it ran so", "gasket"}, map[string]float64{"since_work": 0.95, "whine_drive": 0.7, "metal": 0.8, "knocks": 0.2}},
	"synchro": {3, "worn cones or blocker rings; fast shifts, or oil that is too thick or too slippery", "the gear's dogs", "Gearbox out; oil of the right kind first", 180,
		[]string{"blocker rings", "sleeve and hub", "gaskets and seals", "the oil its maker names"}, map[string]float64{"clash_one": 0.9, "jumps": 0.12}},
	"box_bearing": {2, "water or metal in the oil, or years", "gears that lose their distance", "Drain and look at the oil; then the gearbox", 180,
		[]string{"bearing set", "gaskets and seals", "gear oil"}, map[string]float64{"neutral_noise": 0.85, "metal": 0.5, "hot_case": 0.3}},
	"release": {1.5, "a foot that rests on the pedal", "the pressure plate's fingers", "Gearbox back", 150,
		[]string{"release bearing", "disc and pressure plate while it is open"}, map[string]float64{"pedal_noise": 0.9}},
	"fork": {1, "a hand that rests on the lever", "the sleeve's groove, then the dogs", "Top cover off", 70,
		[]string{"fork or pads", "detent springs and balls", "cover gasket"}, map[string]float64{"jumps": 0.7, "stiff_all": 0.15}},
	"linkage": {3, "bushings worn, cable stretched, a clamp that slipped", "dogs and synchronizers, half engaged",
		"Adjust lever and cable: nothing is opened", 15,
		[]string{"bushings", "cable"}, map[string]float64{"stiff_all": 0.75, "clash_all": 0.15, "jumps": 0.3, "since_work": 0.2}},
	"mount": {2.5, "rubber torn or soaked in oil", "joints and hoses, as everything moves", "Look while it takes up load against the brake", 8,
		[]string{"mounts, as a set"}, map[string]float64{"clunk": 0.65, "shudder": 0.6, "jumps": 0.35, "lifts": 0.88}},
	"oil": {2, "a leak, or filled short", "whatever runs in it", "Level, then smell and color", 6,
		[]string{"the oil its maker names", "drain gasket"}, map[string]float64{"low_oil": 0.95, "hot_case": 0.7, "whine_drive": 0.35, "dark_oil": 0.5}},
	"breather": {1, "a breather under water, or one that is shut", "bearings and seals, from water", "Hose and breather; then drain", 8,
		[]string{"breather and hose", "gear oil, twice"}, map[string]float64{"milky": 0.9}},
	"speedometer": {4, "a cable that broke, a driven gear that is worn, a clip that came off the drive gear", "nothing; nobody knows how fast it goes", "Cable off: does its end turn?", 8,
		[]string{"cable", "driven gear and its seal", "drive gear's clip"}, map[string]float64{"since_work": 0.15}},

	// Boats: what shifts.
	"shift_cable": {4, "salt and age in the jacket", "dogs, as every shift gets slow", "Cable off at the engine and worked by hand", 10,
		[]string{"shift cable", "shift shaft seal, replaced with it"}, map[string]float64{"cable_stiff": 0.9, "not_in": 0.3}},
	"shift_seal": {2.5, "a seal that has swollen, or salt on the shaft", "the cable", "Cable off and the shaft worked by hand", 12,
		[]string{"shift shaft seal", "shift cable, replaced with it"}, map[string]float64{"shaft_stiff": 0.9, "not_in": 0.25}},
	"interrupter": {1, "a switch that sticks, or out of adjustment", "dogs, pulled out under load", "Ohmmeter across the switch while the lever moves", 10,
		[]string{"shift interrupt switch"}, map[string]float64{"switch_wrong": 0.9}},
	"cable_phase": {4, "cable set a turn off, or stretched", "dogs, half engaged", "Adjust the cable as the manual says: nothing is opened", 12,
		[]string{"none, if the cable is good"}, map[string]float64{"short_travel": 0.9}},
	"idle": {2.5, "idle set too high, or a throttle cable holding it", "dogs", "Read the tachometer in neutral and in gear", 4,
		[]string{"none"}, map[string]float64{"idle_high": 0.95}},
	"rounded": {2, "slow shifting, or a cable out of phase", "the gear's dogs; replace clutch and gear together",
		"Adjust first; then the gearcase", 120,
		[]string{"dog clutch and both gears it engages", "springs, ball and key", "carrier O-rings", "drain and vent gaskets", "gear oil"}, map[string]float64{"metal": 0.4, "not_in": 0.25}},

	// Boats: what cools and seals.
	"screens":       {3, "weed, paint or sand in the intake", "the impeller, which runs dry", "Look at the intake screens", 3, []string{"screens"}, map[string]float64{"overheats": 0.7, "weak": 0.85, "screens": 0.95}},
	"passages":      {2, "salt and sand in the block", "the engine's head", "Flush; then thermostat and covers", 45, []string{"thermostat and gasket", "cover gaskets"}, map[string]float64{"overheats": 0.8, "weak": 0.6, "weak_flush": 0.9}},
	"telltale":      {3, "a grain in the stream's outlet", "nothing; nobody sees when cooling fails", "A wire in the outlet", 2, []string{"none"}, map[string]float64{"weak": 0.95, "weak_flush": 0.8, "wire": 0.92}},
	"plate":         {1.5, "sand has grooved the pump's plate or cup", "the engine's head", "Gearcase off: pump", 60, []string{"plate, cup and gasket", "impeller and key", "pump base seal"}, map[string]float64{"overheats": 0.7, "weak": 0.75, "fast_only": 0.6}},
	"impeller":      {5, "run dry, or old: vanes take a set", "the engine's head; pieces stick in the tube", "Gearcase off: pump", 60, []string{"impeller and key", "pump gasket", "plate, where grooved"}, map[string]float64{"overheats": 0.85, "weak": 0.85, "fast_only": 0.4}},
	"impeller_key":  {0.5, "left out or sheared when the pump was last off", "the engine's head", "Gearcase off: pump", 60, []string{"impeller and key", "pump gasket"}, map[string]float64{"overheats": 0.95, "weak": 0.97, "no_stream": 0.92, "since_work": 0.5}},
	"tube":          {1, "the water tube missed its grommet when the case went on", "the engine's head", "Gearcase off: grommet and tube", 60, []string{"tube grommet"}, map[string]float64{"overheats": 0.8, "weak": 0.9, "no_stream": 0.45, "since_work": 0.7}},
	"prop_seal":     {3, "line wound around the shaft cuts it", "bearings and gears, from water", "Propeller and carrier off", 50, []string{"both propeller shaft seals", "carrier O-rings", "drain and vent gaskets"}, map[string]float64{"milky": 0.85, "line": 0.6, "bubbles_prop": 0.88}},
	"carrier_rings": {1.5, "age, or a nick when it was put together", "bearings and gears, from water", "Carrier out", 60, []string{"carrier O-rings"}, map[string]float64{"milky": 0.85, "bubbles_carrier": 0.88, "since_work": 0.3}},
	"pump_seal": {1, "a grooved driveshaft below the pump", "bearings and gears, from water", "Pump off", 70,
		[]string{"driveshaft seals", "pump base gasket"}, map[string]float64{"milky": 0.85, "bubbles_pump": 0.88}},
	"shift_leak": {1, "the shift shaft's seal or its housing", "bearings and gears, from water", "Shift housing off",
		70, []string{"shift shaft seal", "housing O-ring"}, map[string]float64{"milky": 0.85, "bubbles_shift": 0.88}},
	"drain_gasket": {2, "an old gasket at a drain or vent screw", "bearings and gears, from water",
		"Screws out, gaskets new", 5, []string{"drain and vent gaskets"},
		map[string]float64{"milky": 0.8, "bubbles_drain": 0.88, "since_work": 0.4}},
	"top_bearing": {0.5, "its oil feed or spiral is installed wrong or blocked: no oil gets there",
		"the driveshaft seizes and twists off", "Gearcase off: turn the driveshaft", 60,
		[]string{"top bearing and sleeve", "driveshaft, if scored", "driveshaft seals"},
		map[string]float64{"shaft_rough": 0.85, "hot_case": 0.5, "knocks": 0.25, "since_work": 0.4}},
	"prop_damage": {3, "a blade that met the ground", "bearing and seal of the propeller shaft",
		"Look at every blade, then spin it", 5, []string{"propeller repaired, or another"},
		map[string]float64{"shakes": 0.85, "blade": 0.92}},
}

// Priors are how often sorts of parts break against each other: typical, until
// a shop's own closed jobs say otherwise.
func Priors() map[string]float64 {
	out := make(map[string]float64, len(sorts))
	for id, s := range sorts {
		out[id] = s.prior
	}
	return out
}

// typicalJobs is how many jobs what is typical weighs as.
const typicalJobs = 20

// Learn moves priors by closed jobs. A sort's weight is multiplied by how much oftener
// it was met than was to be expected, where what was believed before counts as 20 jobs (a
// Dirichlet prior). Other shops' jobs move what is typical, and a shop's own jobs move what
// came of that. Sorts that aren't known are left out.
func Learn(before map[string]float64, jobs map[string]int) map[string]float64 {
	total, n := 0.0, 0.0
	for _, id := range slices.Sorted(maps.Keys(before)) {
		total += before[id]
		n += float64(max(0, jobs[id]))
	}
	out := make(map[string]float64, len(before))
	for id, prior := range before {
		share := prior / total
		out[id] = prior * (typicalJobs*share + float64(max(0, jobs[id]))) / (share * (typicalJobs + n))
	}
	return out
}
