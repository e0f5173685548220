package service

// ByMaker is where typical rules come from.
const ByMaker = "typical; the maker's manual decides"

// What is done, by name: work cards and jobs write the same words.
const (
	GearOil     = "gear oil"
	FirstOil    = "first gear oil of new gears"
	Impeller    = "impeller"
	Anodes      = "anodes"
	Breather    = "breather"
	Grease      = "grease joints and slip spline"
	GearsFitted = "gears fitted"
	Flanges     = "look at drive flanges and shafts"
	Seals       = "look for leaks at the seals"
)

// Typical rules, for a shop that has entered none.
func Typical() []Rule {
	out := []Rule{
		{Kind: "gearcase", What: GearOil, Hours: 100, Months: 12},
		{Kind: "gearcase", What: Impeller, Hours: 100, Months: 12, Only: "boat"},
		{Kind: "gearcase", What: Anodes, Months: 12, Only: "boat"},
		{Kind: "gearcase", What: FirstOil, Hours: 20, After: GearsFitted},
		{Kind: "axle", What: GearOil, KM: 60000, Months: 48, Only: "vehicle"},
		{Kind: "axle", What: FirstOil, KM: 800, After: GearsFitted},
		{Kind: "axle", What: Breather, Months: 12, Only: "vehicle"},
		{Kind: "axle", What: Seals, Months: 12, Only: "vehicle"},
		{Kind: "axle", What: Flanges, Sessions: 1, Only: "vehicle"},
		{Kind: "transfer_case", What: GearOil, KM: 60000, Months: 48, Only: "vehicle"},
		{Kind: "transfer_case", What: FirstOil, KM: 800, After: GearsFitted},
		{Kind: "gearbox", What: GearOil, KM: 80000, Months: 60, Only: "vehicle"},
		{Kind: "shaft", What: Grease, KM: 15000, Months: 12, Only: "vehicle"},
		{Kind: "reverse_gear", What: GearOil, Hours: 200, Months: 12, Only: "boat"},
	}
	for i := range out {
		out[i].Source = ByMaker
	}
	return out
}

// Kinds of part that have rules, in the order in which power passes them.
func Kinds() []string {
	return []string{"gearbox", "transfer_case", "shaft", "axle", "gearcase", "reverse_gear", "hub", "unit"}
}

// Whats are the things that are done, as typical rules name them.
func Whats() []string {
	return []string{GearOil, FirstOil, GearsFitted, Impeller, Anodes, Breather, Grease, Flanges, Seals}
}

// ByCard is what a closed work card has done at its part.
var ByCard = map[string][]string{
	"oil_change": {GearOil}, "change_gears": {GearOil, Flanges}, "case_off_on": {GearOil}, "pinion_stack": {GearsFitted, GearOil},
	"reseal": {GearOil, Seals}, "carrier_other_side": {GearOil}, "gearcase": {GearOil, Impeller}, "water_pump": {Impeller},
}

// Merge takes a shop's own rules in place of the typical ones for the same thing
// on the same kind of part; one without an interval takes it away.
func Merge(shop []Rule) []Rule {
	type thing struct{ kind, what string }
	own := map[thing]bool{}
	var out []Rule
	for _, r := range shop {
		own[thing{r.Kind, r.What}] = true
		if r.Hours+r.KM+r.Months+r.Sessions > 0 {
			out = append(out, r)
		}
	}
	for _, r := range Typical() {
		if !own[thing{r.Kind, r.What}] {
			out = append(out, r)
		}
	}
	return out
}
