package gearcase

import (
	"fmt"
	"slices"
	"sort"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// Look is one thing to look at, in the order in which a case comes apart.
type Look struct {
	ID    string   `json:"id"`
	What  string   `json:"what"`
	How   string   `json:"how"`
	Finds []string `json:"finds"` // what is found, good first
	Seal  bool     `json:"seal,omitempty"`
	// Reach is how far the case is apart when one gets there: minutes, typical.
	Reach int `json:"reach_minutes"`
	// Water is how often water in the oil came in here, of a hundred: typical;
	// the shop's own repairs are better.
	Water int    `json:"water_percent,omitempty"`
	Why   string `json:"why,omitempty"`
}

// Looks lists what is looked at, from the drain plug inward.
func Looks() []Look {
	return []Look{
		{ID: "oil", What: "Oil as it drains", How: "catch it, let it stand, hold it to the light", Finds: []string{"clear", "milky: water", "burnt smell", "metal flakes", "fine gray paste on the magnet"}, Reach: 5},
		{ID: "drain_gasket", What: "Drain and vent gaskets", How: "both, new each time", Finds: []string{"new", "flattened", "missing"}, Seal: true, Reach: 5, Water: 14, Why: "reused once too often; the cheapest leak there is"},
		{ID: "anode", What: "Anode", How: "how much is left, and its contact", Finds: []string{"more than half", "used up", "painted over"}, Reach: 6},
		{ID: "prop_shaft_seal", What: "Propeller shaft seals", How: "behind the propeller: line, groove on the shaft, lip", Finds: []string{"soft and whole", "line wrapped", "groove worn in the shaft", "lip hard or cut"}, Seal: true, Reach: 12, Water: 32, Why: "fishing line and sand work on it every hour"},
		{ID: "screens", What: "Water intake screens", How: "both sides, and behind them", Finds: []string{"open", "weed or sand", "painted shut"}, Reach: 10},
		{ID: "carrier_rings", What: "Bearing carrier's O-rings", How: "as the carrier comes out; the seat in the case too", Finds: []string{"round and soft", "flattened", "cut", "corroded seat"}, Seal: true, Reach: 45, Water: 16, Why: "salt lifts the seat under them"},
		{ID: "exhaust_side", What: "Seal toward the exhaust side", How: "soot tracks past the carrier", Finds: []string{"clean", "soot behind it"}, Seal: true, Reach: 45, Water: 4, Why: "exhaust pressure blows water past a tired ring"},
		{ID: "clamp_ring", What: "Clamp ring or its screws", How: "thread, lock, tab", Finds: []string{"free and whole", "seized", "tab broken"}, Reach: 45},
		{ID: "pump", What: "Pump plate and impeller", How: "vanes, set of the vanes, scoring of the plate, side up", Finds: []string{"springy", "vanes set", "vane missing: find it in the passages", "plate scored"}, Reach: 30},
		{ID: "impeller_key", What: "Impeller key", How: "in its slot, not sheared", Finds: []string{"whole", "sheared", "missing"}, Reach: 30},
		{ID: "pump_base_seal", What: "Seals below the water pump", How: "around the driveshaft, lips, groove on the shaft",
			Finds: []string{"soft and whole", "groove worn in the shaft", "lip hard"}, Seal: true, Reach: 40, Water: 22,
			Why: "it holds back water under pressure while the engine runs"},
		{ID: "shift_shaft_seal", What: "Shift shaft seal", How: "the shaft under it, pitted or bent", Finds: []string{"soft and whole", "shaft pitted", "drags"}, Seal: true, Reach: 40, Water: 9, Why: "small, and forgotten; when it drags, the engine stalls on leaving gear"},
		{ID: "shift_housing", What: "Shift shaft housing's ring", How: "as the housing lifts", Finds: []string{"round and soft", "flattened"}, Seal: true, Reach: 40, Water: 3},
		{ID: "tube", What: "Water tube and its grommet", How: "seated, not burnt", Finds: []string{"seated", "burnt", "loose"}, Reach: 35},
		{ID: "dogs", What: "Dogs of clutch and gears", How: "corners, both sides, ahead and astern",
			Finds: []string{"square", "rounded ahead", "rounded astern", "chipped"}, Reach: 60,
			Why: "slow shifting rounds them; replace clutch and gears together"},
		{ID: "gears", What: "Gears and pinion", How: "pattern, pitting, heat color", Finds: []string{"even pattern", "pitted", "blue from heat", "chipped"}, Reach: 60},
		{ID: "bearings", What: "Bearings and their races", How: "turn, feel, look at the race; which race belongs to which", Finds: []string{"smooth", "rust", "pitted", "loose in its seat"}, Reach: 70},
		{ID: "oil_grooves", What: "Oil grooves and feed to the top bearing",
			How: "blow through; starved, the driveshaft seizes and twists off", Finds: []string{"open", "blocked"}, Reach: 70},
		{ID: "sleeve", What: "Lubrication sleeve", How: "which way its spiral runs", Finds: []string{"as it was", "upside down", "worn"}, Reach: 70},
		{ID: "keys", What: "Keys, ball and spring of the clutch", How: "a hand over them: they fly", Finds: []string{"whole", "worn", "missing"}, Reach: 60},
		{ID: "splines", What: "Driveshaft splines", How: "both ends, twist, rust", Finds: []string{"square", "worn", "twisted"}, Reach: 20},
	}
}

// Leak is a seal that may have let water in.
type Leak struct {
	Look
	Order string `json:"order"` // how it ranks
}

// WaterIn ranks the seals by how likely each is and how soon it is reached:
// most chance per minute first. places bounds them to those that the case has;
// all of them where it is empty.
func WaterIn(places []string) []Leak {
	has := map[string]bool{}
	for _, p := range places {
		has[p] = true
	}
	var out []Leak
	for _, l := range Looks() {
		if l.Seal && (len(places) == 0 || has[l.ID]) {
			out = append(out, Leak{Look: l})
		}
	}
	sort.SliceStable(out, func(i, k int) bool { return out[i].Water*out[k].Reach > out[k].Water*out[i].Reach })
	for i := range out {
		out[i].Order = "likely and soon reached"
		switch {
		case out[i].Water < 5:
			out[i].Order = "seldom"
		case out[i].Reach > 30:
			out[i].Order = "likely, but the case is apart by then"
		}
	}
	return out
}

// Finding is what one look came to.
type Finding struct {
	ID   string `json:"id"`
	Find string `json:"find"`
}

// Found is a finding by the words of its look; Good where it is as it should be.
type Found struct {
	What string `json:"what"`
	Find string `json:"find"`
	Good bool   `json:"good"`
}

// Inspection is what was found, in the order in which it was told.
type Inspection struct {
	Title string  `json:"title"`
	Found []Found `json:"found"`
}

// Inspect sums findings up. It refuses what is not looked at, and a look told
// twice; a finding in other words than the list's is taken as it stands.
func Inspect(list []Finding) (*Inspection, error) {
	out := &Inspection{Found: []Found{}}
	var errs fault.Errors
	seen := map[string]bool{}
	var bad []string
	for i, f := range list {
		k := slices.IndexFunc(Looks(), func(l Look) bool { return l.ID == f.ID })
		switch {
		case k < 0:
			errs.Add(fmt.Sprintf("%d/id", i), "one of the things that are looked at, as /calc/gearcase/looks lists them")
			continue
		case seen[f.ID]:
			errs.Add(fmt.Sprintf("%d/id", i), "entered twice")
			continue
		}
		seen[f.ID] = true
		l := Looks()[k]
		x := Found{What: l.What, Find: f.Find, Good: f.Find == l.Finds[0]}
		if !x.Good {
			bad = append(bad, say.Small(x.What)+": "+x.Find)
		}
		out.Found = append(out.Found, x)
	}
	out.Title = inspectedTitle(out, bad)
	for _, w := range bad[:min(3, len(bad))] {
		out.Title += "; " + w
	}
	return out, errs.Err()
}
