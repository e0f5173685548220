package findfault

import (
	"maps"
	"slices"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/say"
)

// Fault is one thing that can be wrong with a unit: something that changes its
// motion, or that is only heard, felt or seen.
type Fault struct {
	ID   string `json:"id"`
	Part string `json:"part"`
	Name string `json:"name"`
	Sort string `json:"sort"`

	does  []driveline.Break  // to the network; none for wear and leaks
	signs map[string]float64 // how often each sign is met with it
	near  []string           // other parts at which its signs show
	// deadSpeedometer is a speedometer that stands whatever turns.
	deadSpeedometer bool
}

// Faults lists everything that can be wrong with a driveline: what changes its
// motion is made from its network, what wears and leaks from its parts. A part
// that it lacks is in none of them.
func Faults(d *driveline.Document) []Fault {
	l := lister{d: d, parts: map[string]*driveline.Part{}}
	for i := range d.Parts {
		l.parts[d.Parts[i].ID] = &d.Parts[i]
	}
	l.breaks()
	for i := range d.Parts {
		l.wear(&d.Parts[i])
	}
	l.whole()
	for i := range l.out {
		f := &l.out[i]
		f.signs = l.with(f, signsOf(f.Sort))
	}
	return l.out
}

// signsOf are the signs of a sort; those of a boat's shifting come from the
// model of its mechanism.
func signsOf(id string) map[string]float64 {
	out := sorts[id].signs
	m := mechanismSigns()[id]
	if len(m) == 0 {
		return out
	}
	all := map[string]float64{}
	for k, v := range out {
		all[k] = v
	}
	for k, v := range m {
		all[k] = max(all[k], v)
	}
	return all
}

// with are a fault's signs with what any break brings that lets go: the engine speeds
// up and nothing pulls, as with a clutch that slips.
func (l *lister) with(f *Fault, signs map[string]float64) map[string]float64 {
	open := slices.ContainsFunc(f.does, func(b driveline.Break) bool { return b.Does == driveline.BreakOpen || b.Does == driveline.BreakSplit })
	if !open || signs["revs"] >= letsGo {
		return signs
	}
	all := maps.Clone(signs)
	if all == nil {
		all = map[string]float64{}
	}
	all["revs"] = letsGo
	return all
}

// letsGo is how often people tell of a racing engine where something has let go.
const letsGo = 0.6

type lister struct {
	d     *driveline.Document
	parts map[string]*driveline.Part
	out   []Fault
}

func (l *lister) add(part, id, sort, name string, near ...string) {
	l.out = append(l.out, Fault{ID: id + " " + part, Part: part, Sort: sort, Name: name, near: near})
}

// breaks are the faults that change the motion, and those that come out alike
// though another thing is broken.
func (l *lister) breaks() {
	ends := 0
	for _, b := range driveline.Breaks(l.d) {
		near := l.near(b.Part)
		l.out = append(l.out, Fault{ID: b.ID, Part: b.Part, Name: b.Name, Sort: b.Sort, does: []driveline.Break{b}, near: near})
		p := l.parts[b.Part]
		like := func(id, sort, name string) {
			l.out = append(l.out, Fault{ID: id + " " + b.ID, Part: b.Part, Name: name, Sort: sort, does: []driveline.Break{b}, near: near})
		}
		switch {
		case b.Sort == "lock" && actuated(p), b.Sort == "dogs" && p.TransferCase != nil:
			what := strings.Split(strings.TrimPrefix(b.ID, b.Does+" "+b.Part+"."), " ")
			does := "nothing follows to engage it"
			if b.Does == driveline.BreakShut {
				does = "nothing follows to let it go"
			}
			like("actuation", "actuation", "actuation of the "+say.Small(p.Called())+" ("+strings.Join(what, " ")+"): "+does)
		case b.Sort == "mesh" && p.Kind == "gearbox" && b.Does == driveline.BreakOpen:
			like("key", "layshaft_key", "sheared key or loose gear on the countershaft: "+strings.TrimPrefix(b.Name, "broken teeth: "))
		case b.Sort == "hub":
			like("key", "key", "sheared pin or key of the "+say.Small(p.Called()))
		case b.Sort == "gears" && b.Does == driveline.BreakRatio:
			if ends++; ends == 2 {
				like("tires", "tires", "tires that roll differently at the "+say.Small(p.Called()))
			}
		}
	}
}

// near are the parts beside a part at which its signs show too.
func (l *lister) near(part string) []string {
	var out []string
	p := l.parts[part]
	if from, _, _ := strings.Cut(p.From, "."); p.Kind == "wheel" && from != "" {
		out = append(out, from)
	}
	if p.Kind == "clutch" { // what drags there clashes in the gearbox
		for id, other := range l.parts {
			if other.Kind == "gearbox" {
				out = append(out, id)
			}
		}
	}
	if p.Kind == "axle" {
		// Play of an axle is felt at the shaft that feeds it.
		from, _, _ := strings.Cut(p.From, ".")
		out = append(out, from)
	}
	return out
}

// wear is what wears or leaks at a part and moves as it should.
func (l *lister) wear(p *driveline.Part) {
	name := say.Small(p.Called())
	near := l.near(p.ID)
	add := func(sort, words string) { l.add(p.ID, sort, sort, words, near...) }
	switch p.Kind {
	case "wheel":
		add("wheel_bearing", "worn wheel bearing of the "+name)
		if from, _, _ := strings.Cut(p.From, "."); l.parts[from] != nil && l.parts[from].Kind == "axle" {
			add("axle_seal", "leaking axle shaft seal of the "+name)
		}
	case "axle":
		add("pinion_bearing", "worn pinion bearings of the "+name)
		add("set_up", "ring and pinion of the "+name+" worn, or set up wrong")
		if p.Axle.Differential.Type != "spool" {
			add("side_wear", "worn side gears or washers of the "+name)
		}
		add("pinion_seal", "leaking pinion seal of the "+name)
		add("oil", "too little oil in the "+name)
		add("breather", "water past the breather of the "+name)
	case "shaft":
		if l.d.Lies == driveline.Vehicle {
			add("joint", "worn joints of the "+name)
			add("balance", "the "+name+" out of balance or phase")
		}
	case "transfer_case":
		add("output_seal", "leaking output seal of the "+name)
		add("oil", "too little oil in the "+name)
		add("breather", "water past the breather of the "+name)
	case "gearbox":
		l.gearbox(p, add, name)
	case "clutch":
		add("release", "worn release bearing")
	case "gearcase":
		l.gearcase(p, add, name)
	case "propeller":
		add("prop_damage", "damaged blades of the "+name)
	}
	l.splinesAndMeshes(p, add, name)
	if slips(p) {
		add("plates", "worn limited-slip plates of the "+name)
	}
	if chained(p) {
		add("chain_worn", "stretched chain of the "+name)
	}
	if p.BothWays || p.TransferCase != nil && p.TransferCase.Range.Type == "gears" {
		add("backward", "offset gear of the "+name+" put on the wrong way round")
	}
}

// splinesAndMeshes wear wherever a part has them: each spline and mesh that can break
// wears before it does.
func (l *lister) splinesAndMeshes(p *driveline.Part, add func(sort, words string), name string) {
	switch p.Kind {
	case "gearbox":
		add("mesh_wear", "worn gears of the "+name)
		for i := range l.d.Parts {
			if next := &l.d.Parts[i]; next.From == p.ID && next.Kind != "clutch" {
				add("spline_wear", "worn spline between the "+name+" and the "+say.Small(next.Called()))
				break
			}
		}
	case "transfer_case":
		add("mesh_wear", "worn gears of the "+name)
		add("spline_wear", "worn output splines of the "+name)
		if c := p.TransferCase.Center.Type; c == "open" || c == "limited_slip" || c == "planetary" {
			add("side_wear", "worn center differential of the "+name)
		}
	case "differential":
		add("side_wear", "worn gears of the "+name)
	case "gear_pair", "hub", "reverse_gear", "planetary", "gearcase", "upper":
		add("mesh_wear", "worn gears of the "+name)
		add("spline_wear", "worn splines of the "+name)
	case "axle":
		add("spline_wear", "worn axle shaft splines of the "+name)
	case "shaft":
		add("spline_wear", "worn slip spline of the "+name)
	case "propeller":
		add("spline_wear", "worn spline of the "+name)
	case "wheel":
		if l.d.Lies == driveline.Vehicle {
			add("tire_balance", "tire or wheel of the "+name+" out of balance, bent or worn unevenly")
		}
	}
}

func (l *lister) gearbox(p *driveline.Part, add func(sort, words string), name string) {
	if slices.ContainsFunc(p.Gearbox.Gears, func(g driveline.Gear) bool { return g.Selector == "" || g.Selector == "synchro" }) {
		add("synchro", "worn synchronizer in the "+name)
	}
	add("box_bearing", "worn bearings of the "+name)
	add("fork", "worn fork or detent of the "+name)
	add("linkage", "lever, cable or linkage of the "+name+" out of adjustment")
	add("output_seal", "leaking output seal of the "+name)
	add("oil", "too little oil in the "+name)
	if l.d.Lies == driveline.Vehicle {
		add("mount", "torn engine or gearbox mount")
	}
}

// gearcase is what shifts, cools and seals a boat's lower unit.
func (l *lister) gearcase(p *driveline.Part, add func(sort, words string), name string) {
	g := p.Gearcase
	if g.Shift {
		add("shift_cable", "dragging shift cable of the "+name)
		add("shift_seal", "dragging shift shaft seal of the "+name)
		add("interrupter", "interrupter of the "+name+" out of order")
		add("cable_phase", "shift cable of the "+name+" out of adjustment")
		add("idle", "idle too high")
		add("rounded", "rounded dogs of the "+name)
	}
	if l.d.Lies == driveline.Boat {
		add("screens", "covered intake screens of the "+name)
		add("passages", "blocked water passages or thermostat")
		add("telltale", "blocked outlet of the stream")
		add("plate", "grooved plate of the water pump")
		add("impeller", "worn impeller of the water pump")
		add("impeller_key", "impeller's key sheared or missing")
		add("tube", "water tube off its grommet")
	}
	has := func(place string) bool { return g.Seals == "" || slices.Contains(strings.Fields(g.Seals), place) }
	for _, x := range []struct{ place, sort, words string }{
		{"prop_shaft_seal", "prop_seal", "leaking propeller shaft seal of the "}, {"carrier_rings", "carrier_rings", "leaking carrier O-ring of the "}, {"pump_base_seal", "pump_seal", "leaking seal below the water pump of the "},
		{"shift_shaft_seal", "shift_leak", "leaking shift shaft seal of the "}, {"drain_gasket", "drain_gasket", "leaking drain or vent gasket of the "},
	} {
		if has(x.place) {
			add(x.sort, x.words+name)
		}
	}
	add("top_bearing", "starved top bearing of the drive shaft of the "+name)
}

// whole are faults of the unit.
func (l *lister) whole() {
	if see, err := driveline.See(l.d, driveline.State{}); err == nil && slices.Contains(see.Watched(), driveline.Speedometer) {
		for _, kind := range []string{"transfer_case", "gearbox"} {
			for i := range l.d.Parts {
				if l.d.Parts[i].Kind == kind {
					l.add(l.d.Parts[i].ID, "speedometer", "speedometer", "speedometer cable or gears at the "+say.Small(l.d.Parts[i].Called()))
					l.out[len(l.out)-1].deadSpeedometer = true
					return
				}
			}
		}
	}
}
