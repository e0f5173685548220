package driveline

import (
	"slices"

	"zorvel/core/exact"
)

// Layout is a ready driveline to start from. Its figures are examples and
// marked assumed; Blank takes them out.
type Layout struct {
	ID       string   `json:"id"`
	Name     string   `json:"name"`
	For      string   `json:"for"`
	Units    []string `json:"units"` // kinds of unit that it is offered for first
	Document Document `json:"document"`
	Blank    Document `json:"blank"` // without the figures that are only examples
}

func engine(axis Axis, nm float64) Part {
	return Part{ID: "engine", Kind: "engine", Name: "Engine", Engine: &Engine{Axis: axis, TorqueNM: nm}}
}

func clutch(from string) Part {
	return Part{ID: "clutch", Kind: "clutch", Name: "Clutch", From: from, Clutch: &Clutch{Type: "clutch"}}
}

func wheelsOn(axle, at string, rolling int64) []Part {
	var out []Part
	for _, side := range []string{"left", "right"} {
		out = append(out, wheelAt(axle+"."+side, axle+"_"+side, wheelName(axle, side), at, side, rolling))
	}
	return out
}

func wheelName(axle, side string) string {
	return map[string]string{"front": "Front", "rear": "Rear", "second": "Second rear"}[axle] + " " + side + " wheel"
}

func wheelAt(from, id, name, at, side string, rolling int64) Part {
	return Part{ID: id, Kind: "wheel", Name: name, From: from, Wheel: &Wheel{At: at, Side: side, RollingMM: exact.Figure{Number: exact.Int(rolling)}}}
}

// box5 is a coaxial five-speed with a countershaft.
func box5(from string) Part {
	return Part{ID: "gearbox", Kind: "gearbox", Name: "Gearbox", From: from, Gearbox: &Gearbox{Arrangement: "countershaft", Input: 21, Counter: 39, Gears: []Gear{
		{Name: "1", Drive: 17, Driven: 36}, {Name: "2", Drive: 25, Driven: 31}, {Name: "3", Drive: 31, Driven: 25},
		{Name: "4", Direct: true}, {Name: "5", Drive: 40, Driven: 18}, {Name: "R", Drive: 17, Driven: 34, Idler: 22, Selector: "sliding"},
	}}}
}

func shaftFrom(id, name, from string) Part {
	return Part{ID: id, Kind: "shaft", Name: name, From: from}
}

func rearAxle(from string, ring, pinion int, diff string) Part {
	return Part{ID: "rear", Kind: "axle", Name: "Rear axle", From: from, Axle: &Axle{Ring: ring, Pinion: pinion, RingSide: "left", PinionAt: "ahead", Offset: true, Differential: Differential{Type: diff}}}
}

func frontAxle(from string, ring, pinion int, diff string) Part {
	return Part{ID: "front", Kind: "axle", Name: "Front axle", From: from, Axle: &Axle{Ring: ring, Pinion: pinion, RingSide: "right", PinionAt: "behind", Offset: true, Cut: "reverse", Differential: Differential{Type: diff}}}
}

func truckBody() *Body {
	return &Body{WheelbaseMM: 2850, TrackMM: 1520, MassKG: 2300, FrontPercent: 52, HeightMM: 720}
}

func parts(lists ...any) []Part {
	var out []Part
	for _, l := range lists {
		switch x := l.(type) {
		case Part:
			out = append(out, x)
		case []Part:
			out = append(out, x...)
		}
	}
	return out
}

func partTimeCase(from string) Part {
	return Part{ID: "case", Kind: "transfer_case", Name: "Transfer case", From: from, TransferCase: &TransferCase{
		Range: Range{Type: "planetary", Sun: 42, Ring: 72}, Center: Center{Type: "part_time"}, Front: Front{Type: "chain", Drive: 35, Driven: 35}, LowNeedsLock: true}}
}

// Layouts lists the ready drivelines.
func Layouts() []Layout {
	list := slices.Concat(common(), special(), waterAndBench())
	for i := range list {
		d := &list[i].Document
		d.Format, d.Name = Format, list[i].Name
		for k := range d.Parts {
			d.Parts[k].assume()
		}
		if err := d.Check(); err != nil {
			panic(list[i].ID + ": " + err.Error()) // a slip in the list above
		}
		list[i].Blank = d.Blank()
	}
	return list
}

// common are the usual vehicles.
func common() []Layout {
	return []Layout{
		{ID: "rear_drive", Name: "Rear drive", For: "van or car: engine ahead, driven rear axle", Units: []string{"van", "car", "truck"}, Document: Document{Lies: Vehicle,
			Body: &Body{WheelbaseMM: 3100, TrackMM: 1600, MassKG: 2100, FrontPercent: 54, HeightMM: 700},
			Parts: parts(engine(Lengthwise, 240), clutch("engine"), box5("clutch"), shaftFrom("prop", "Driveshaft", "gearbox"),
				rearAxle("prop", 41, 10, "open"), wheelsOn("rear", "rear", 2180))}},
		{ID: "part_time", Name: "Four-wheel, part-time", For: "truck: transfer case with planetary low, chain to the front", Units: []string{"truck", "van"}, Document: Document{Lies: Vehicle, Body: truckBody(),
			Parts: parts(engine(Lengthwise, 260), clutch("engine"), box5("clutch"), partTimeCase("gearbox"),
				shaftFrom("rear_prop", "Rear driveshaft", "case.rear"), rearAxle("rear_prop", 41, 10, "locking"), wheelsOn("rear", "rear", 2390),
				shaftFrom("front_prop", "Front driveshaft", "case.front"), frontAxle("front_prop", 37, 9, "open"), wheelsOn("front", "front", 2390))}},
		{ID: "full_time", Name: "Four-wheel, full-time, gear-driven case", For: "truck: compound cluster low, lockable center differential", Units: []string{"truck"}, Document: Document{Lies: Vehicle, Body: truckBody(),
			Parts: parts(engine(Lengthwise, 300), clutch("engine"), box5("clutch"),
				Part{ID: "case", Kind: "transfer_case", Name: "Transfer case", From: "gearbox", TransferCase: &TransferCase{
					Range:  Range{Type: "gears", Input: 29, Counter: 40, LowDrive: 24, LowGear: 45},
					Center: Center{Type: "open", Lockable: true}, Front: Front{Type: "gears", Drive: 33, Driven: 33, Idlers: 1}}},
				shaftFrom("rear_prop", "Rear driveshaft", "case.rear"), rearAxle("rear_prop", 41, 11, "open"), wheelsOn("rear", "rear", 2390),
				shaftFrom("front_prop", "Front driveshaft", "case.front"), frontAxle("front_prop", 41, 11, "open"), wheelsOn("front", "front", 2390))}},
		{ID: "asymmetric", Name: "Four-wheel, 60 : 40 center", For: "planetary center differential, ring to the rear", Units: []string{"truck", "van", "car"}, Document: Document{Lies: Vehicle, Body: truckBody(),
			Parts: parts(engine(Lengthwise, 320), Part{ID: "converter", Kind: "clutch", Name: "Converter", From: "engine", Clutch: &Clutch{Type: "converter", Slip: exact.Figure{Number: exact.New(5, 100)}}},
				Part{ID: "gearbox", Kind: "gearbox", Name: "Gearbox", From: "converter", Gearbox: &Gearbox{Arrangement: "ratios", Gears: []Gear{
					{Name: "1", Ratio: exact.Figure{Number: exact.New(287, 100)}}, {Name: "2", Ratio: exact.Figure{Number: exact.New(157, 100)}}, {Name: "3", Ratio: exact.Figure{Number: one}}, {Name: "4", Ratio: exact.Figure{Number: exact.New(72, 100)}}, {Name: "R", Ratio: exact.Figure{Number: exact.New(-231, 100)}}}}},
				Part{ID: "case", Kind: "transfer_case", Name: "Transfer case", From: "gearbox", TransferCase: &TransferCase{
					Range: Range{Type: "planetary", Sun: 34, Ring: 62}, Center: Center{Type: "planetary", Ring: 66, Sun: 44, Lockable: true}, Front: Front{Type: "chain", Drive: 36, Driven: 36}}},
				shaftFrom("rear_prop", "Rear driveshaft", "case.rear"), rearAxle("rear_prop", 43, 12, "limited_slip"), wheelsOn("rear", "rear", 2330),
				shaftFrom("front_prop", "Front driveshaft", "case.front"), frontAxle("front_prop", 43, 12, "open"), wheelsOn("front", "front", 2330))}},
		{ID: "axle_low", Name: "Four-wheel, hub reductions",
			For: "forestry truck: lockable center differential, planetary hubs, lockers", Units: []string{"truck"},
			Document: Document{Lies: Vehicle,
				Body: &Body{WheelbaseMM: 3400, TrackMM: 1900, MassKG: 7400, FrontPercent: 50, HeightMM: 1100},
				Parts: parts(engine(Lengthwise, 520), clutch("engine"), box5("clutch"),
					Part{ID: "case", Kind: "transfer_case", Name: "Transfer case", From: "gearbox", TransferCase: &TransferCase{
						Range:  Range{Type: "ratio", Low: exact.Figure{Number: exact.New(21, 10)}},
						Center: Center{Type: "open", Lockable: true}, Front: Front{Type: "gears", Drive: 40, Driven: 40, Idlers: 1}}},
					shaftFrom("rear_prop", "Rear driveshaft", "case.rear"), rearAxle("rear_prop", 23, 10, "locking"),
					hubsOn("rear", 24, 60), hubWheels("rear", "rear", 3300),
					shaftFrom("front_prop", "Front driveshaft", "case.front"), frontAxle("front_prop", 23, 10, "locking"),
					hubsOn("front", 24, 60), hubWheels("front", "front", 3300))}},
	}
}

// special are vehicles of a trade of their own.
func special() []Layout {
	return []Layout{
		{ID: "portal", Name: "Rear drive, portal hubs", For: "high-clearance axle with a gear pair at each wheel", Units: []string{"truck"}, Document: Document{Lies: Vehicle, Body: truckBody(),
			Parts: parts(engine(Lengthwise, 300), clutch("engine"), box5("clutch"), shaftFrom("prop", "Driveshaft", "gearbox"),
				Part{ID: "rear", Kind: "axle", Name: "Rear axle", From: "prop", Axle: &Axle{Ring: 37, Pinion: 13, RingSide: "right", PinionAt: "ahead", Cut: "standard", Differential: Differential{Type: "locking"}}},
				portalsOn("rear", 15, 32), hubWheels("rear", "rear", 2900))}},
		{ID: "tandem", Name: "Tandem rear axles", For: "heavy truck: two driven rear axles, inter-axle differential", Units: []string{"truck"}, Document: Document{Lies: Vehicle,
			Body: &Body{WheelbaseMM: 4300, TrackMM: 1850, MassKG: 12000, FrontPercent: 35, HeightMM: 1200},
			Parts: parts(engine(Lengthwise, 1100), clutch("engine"), tenSpeed("clutch"), shaftFrom("prop", "Driveshaft", "gearbox"),
				Part{ID: "divider", Kind: "differential", Name: "Inter-axle differential", From: "prop", Differential: &Differential{Type: "locking"}},
				Part{ID: "drop", Kind: "gear_pair", Name: "Drop gears", From: "divider.here", GearPair: &GearPair{Drive: 31, Driven: 31, Mesh: "external"}},
				Part{ID: "rear", Kind: "axle", Name: "First rear axle", From: "drop", Axle: &Axle{Ring: 41, Pinion: 11, RingSide: "right", PinionAt: "ahead", Cut: "reverse", Offset: true, Differential: Differential{Type: "locking"}}},
				wheelsOn("rear", "rear", 3210),
				shaftFrom("through", "Shaft to the second axle", "divider.through"),
				Part{ID: "second", Kind: "axle", Name: "Second rear axle", From: "through", Axle: &Axle{Ring: 41, Pinion: 11, RingSide: "left", PinionAt: "ahead", Offset: true, Differential: Differential{Type: "locking"}}},
				wheelsOn("second", "rear", 3210))}},
		{ID: "change_gears", Name: "Change-gear race car", For: "hill-climb car: quick-change final drive with a spool", Units: []string{"car"}, Document: Document{Lies: Vehicle,
			Body: &Body{WheelbaseMM: 2550, TrackMM: 1500, MassKG: 780, FrontPercent: 45, HeightMM: 380},
			Parts: parts(engine(Lengthwise, 330), clutch("engine"),
				Part{ID: "gearbox", Kind: "gearbox", Name: "Gearbox", From: "clutch", Gearbox: &Gearbox{Arrangement: "countershaft", Input: 24, Counter: 31, Gears: []Gear{
					{Name: "1", Drive: 17, Driven: 31, Selector: "dog"}, {Name: "2", Drive: 22, Driven: 27, Selector: "dog"}, {Name: "3", Drive: 26, Driven: 24, Selector: "dog"},
					{Name: "4", Direct: true, Selector: "dog"}, {Name: "R", Drive: 16, Driven: 33, Idler: 19, Selector: "sliding"}}}},
				shaftFrom("prop", "Driveshaft", "gearbox"),
				Part{ID: "rear", Kind: "axle", Name: "Rear axle", From: "prop", Axle: &Axle{Ring: 38, Pinion: 9, RingSide: "right", PinionAt: "ahead", Cut: "reverse", Change: &ChangeGears{Input: 24, Pinion: 21}, Differential: Differential{Type: "spool"}}},
				wheelsOn("rear", "rear", 1990))}},
		{ID: "transaxle", Name: "Front drive, crosswise engine", For: "van or car: two-shaft gearbox and spur final drive", Units: []string{"van", "car"}, Document: Document{Lies: Vehicle,
			Body: &Body{WheelbaseMM: 2600, TrackMM: 1480, MassKG: 1250, FrontPercent: 61, HeightMM: 560},
			Parts: parts(engine(Crosswise, 160), clutch("engine"),
				Part{ID: "gearbox", Kind: "gearbox", Name: "Gearbox", From: "clutch", Gearbox: &Gearbox{Arrangement: "two_shaft", Gears: []Gear{
					{Name: "1", Drive: 11, Driven: 38}, {Name: "2", Drive: 20, Driven: 39}, {Name: "3", Drive: 27, Driven: 35}, {Name: "4", Drive: 33, Driven: 31}, {Name: "5", Drive: 39, Driven: 30},
					{Name: "R", Drive: 12, Driven: 39, Idler: 25, Selector: "sliding"}}}},
				Part{ID: "front", Kind: "axle", Name: "Final drive", From: "gearbox", Axle: &Axle{Ring: 65, Pinion: 16, Gears: "spur", Differential: Differential{Type: "open"}}},
				wheelsOn("front", "front", 1850))}},
	}
}

// waterAndBench are boats, and loose parts on the bench.
func waterAndBench() []Layout {
	return []Layout{
		{ID: "outboard", Name: "Outboard", For: "fishing skiff: gearcase with sliding clutch", Units: []string{"boat"}, Document: Document{Lies: Boat,
			Parts: parts(engine(Upright, 62), shaftFrom("drive", "Driveshaft", "engine"),
				Part{ID: "gearcase", Kind: "gearcase", Name: "Gearcase", From: "drive", Gearcase: &Gearcase{Pinion: 13, Gear: 27, Shift: true}},
				Part{ID: "prop", Kind: "propeller", Name: "Propeller", From: "gearcase", Propeller: &Propeller{PitchIN: 13, Hand: "right"}})}},
		{ID: "stern_drive", Name: "Stern drive, two-stage, twin propellers", For: "ferry tender: upper set that shifts, lower set with two propellers", Units: []string{"boat"}, Document: Document{Lies: Boat,
			Parts: parts(engine(Lengthwise, 380),
				Part{ID: "upper", Kind: "upper", Name: "Upper set", From: "engine", Upper: &Upper{Pinion: 21, Gear: 26, Shift: true}},
				shaftFrom("drive", "Driveshaft", "upper"),
				Part{ID: "gearcase", Kind: "gearcase", Name: "Lower set", From: "drive", Gearcase: &Gearcase{Pinion: 18, Gear: 28, Twin: true}},
				Part{ID: "outer_prop", Kind: "propeller", Name: "Forward propeller", From: "gearcase.outer", Propeller: &Propeller{PitchIN: 20, Hand: "right"}},
				Part{ID: "inner_prop", Kind: "propeller", Name: "After propeller", From: "gearcase.inner", Propeller: &Propeller{PitchIN: 20, Hand: "left"}})}},
		sternDrive("stern_drive_single", "Stern drive, two-stage, one propeller", "launch or work boat: upper set that shifts, lower set with one propeller", true),
		sternDrive("stern_drive_lower", "Stern drive, shifts in the lower unit", "launch or work boat: upper set always driving, lower set with clutch and one propeller", false),
		{ID: "inboard", Name: "Inboard shaft", For: "ferry tender: reverse-reduction gear and propeller shaft", Units: []string{"boat"}, Document: Document{Lies: Boat,
			Parts: parts(engine(Lengthwise, 410),
				Part{ID: "gear", Kind: "reverse_gear", Name: "Reverse gear", From: "engine", ReverseGear: &ReverseGear{Ahead: exact.Figure{Number: exact.New(2, 1)}, Astern: exact.Figure{Number: exact.New(21, 10)}, Opposite: true}},
				shaftFrom("shaft", "Propeller shaft", "gear"),
				Part{ID: "prop", Kind: "propeller", Name: "Propeller", From: "shaft", Propeller: &Propeller{PitchIN: 17, Hand: "right"}})}},
		{ID: "loose_axle", Name: "Loose axle", For: "on the bench: ring and pinion with its differential", Units: []string{"part"}, Document: Document{Lies: Bench,
			Parts: parts(Part{ID: "rear", Kind: "axle", Name: "Axle", Axle: &Axle{Ring: 41, Pinion: 10, RingSide: "left", PinionAt: "ahead", Differential: Differential{Type: "open"}}})}},
		{ID: "loose_case", Name: "Loose transfer case", For: "on the bench: planetary low, chain to the front", Units: []string{"part"}, Document: Document{Lies: Bench,
			Parts: parts(partTimeCase(""))}},
		{ID: "loose_gearcase", Name: "Loose gearcase", For: "on the bench: pinion, forward and reverse gear", Units: []string{"part", "boat"}, Document: Document{Lies: Bench,
			Parts: parts(Part{ID: "gearcase", Kind: "gearcase", Name: "Gearcase", Gearcase: &Gearcase{Pinion: 13, Gear: 27, Shift: true}})}},
	}
}

// sternDrive is a lengthwise engine over two bevel sets to one propeller, with
// the clutch in the upper or in the lower one.
func sternDrive(id, name, made string, above bool) Layout {
	return Layout{ID: id, Name: name, For: made, Units: []string{"boat"}, Document: Document{Lies: Boat,
		Parts: parts(engine(Lengthwise, 320),
			Part{ID: "upper", Kind: "upper", Name: "Upper set", From: "engine", Upper: &Upper{Pinion: 19, Gear: 22, Shift: above}},
			shaftFrom("drive", "Driveshaft", "upper"),
			Part{ID: "gearcase", Kind: "gearcase", Name: "Lower set", From: "drive", Gearcase: &Gearcase{Pinion: 15, Gear: 24, Shift: !above}},
			Part{ID: "prop", Kind: "propeller", Name: "Propeller", From: "gearcase", Propeller: &Propeller{PitchIN: 19, Hand: "right"}})}}
}

func tenSpeed(from string) Part {
	g := &Gearbox{Arrangement: "ratios"}
	for i, r := range []int64{1280, 946, 700, 518, 383, 280, 207, 153, 114, 84} {
		g.Gears = append(g.Gears, Gear{Name: exact.Int(int64(i + 1)).String(), Ratio: exact.Figure{Number: exact.New(r, 100)}, Selector: "dog"})
	}
	g.Gears = append(g.Gears, Gear{Name: "R", Ratio: exact.Figure{Number: exact.New(-1150, 100)}, Selector: "dog"})
	return Part{ID: "gearbox", Kind: "gearbox", Name: "Ten-speed gearbox", From: from, Gearbox: g}
}

func hubsOn(axle string, sun, ring int) []Part {
	var out []Part
	for _, side := range []string{"left", "right"} {
		out = append(out, Part{ID: axle + "_hub_" + side, Kind: "hub", Name: wheelHub(axle, side), From: axle + "." + side, Hub: &Hub{Type: "planetary", Sun: sun, Ring: ring}})
	}
	return out
}

func portalsOn(axle string, drive, driven int) []Part {
	var out []Part
	for _, side := range []string{"left", "right"} {
		out = append(out, Part{ID: axle + "_hub_" + side, Kind: "hub", Name: wheelHub(axle, side), From: axle + "." + side, Hub: &Hub{Type: "portal", Drive: drive, Driven: driven}})
	}
	return out
}

func wheelHub(axle, side string) string {
	return map[string]string{"front": "Front", "rear": "Rear"}[axle] + " " + side + " hub"
}

func hubWheels(axle, at string, rolling int64) []Part {
	var out []Part
	for _, side := range []string{"left", "right"} {
		out = append(out, wheelAt(axle+"_hub_"+side, axle+"_"+side, wheelName(axle, side), at, side, rolling))
	}
	return out
}

func (p *Part) assume() {
	for _, n := range p.made().ratios() {
		if p.Sources == nil {
			p.Sources = map[string]Source{}
		}
		p.Sources[n] = Source{Kind: "assumed", Text: "example of this layout"}
	}
}

// Blank takes out every figure that would have to be measured; what is built
// how stays.
func (d Document) Blank() Document {
	d.Body = nil
	list := make([]Part, len(d.Parts))
	for i, p := range d.Parts {
		list[i] = p.Blank()
	}
	d.Parts = list
	return d
}

// Blank is a part of the same build with nothing known of its figures.
func (p Part) Blank() Part {
	p.Sources = nil
	for _, n := range p.made().ratios() {
		p.source(n, Source{Kind: "unknown"})
	}
	p.made().blank(&p)
	return p
}
