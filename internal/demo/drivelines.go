package demo

import (
	"encoding/json"
	"fmt"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/identify"
	"zorvel/internal/store"
)

// saved is a state kept with a driveline.
type saved struct {
	name  string
	state driveline.State
}

// driveline gives the unit a driveline from a layout; change fits it to the
// unit.
func (l *line) driveline(layout string, change func(*driveline.Document), states ...saved) *line {
	for _, x := range driveline.Layouts() {
		if x.ID != layout {
			continue
		}
		d := x.Document
		if change != nil {
			change(&d)
		}
		for _, a := range d.Asks() {
			for i := range l.measured {
				m := &l.measured[i]
				if m.Part != a.Part || m.Ratio != a.Ratio {
					continue
				}
				m.Name, m.Question.Kind = a.Name, identify.Kind(a.Kind)
				m.Question.Position = a.Position
			}
		}
		l.doc.Measured = &l.measured
		out := api.DocumentDriveline{Document: d}
		if len(states) > 0 {
			list := []api.SavedState{}
			for _, s := range states {
				list = append(list, api.SavedState{Name: s.name, State: s.state})
			}
			out.States = &list
		}
		l.doc.Driveline = &out
		return l
	}
	panic("no layout " + layout)
}

// families names what gears fit the housings of the parts.
func families(d *driveline.Document, pairs ...string) {
	for i := 0; i < len(pairs); i += 2 {
		part(d, pairs[i]).Family = pairs[i+1]
	}
}

func must(v any) json.RawMessage {
	b, err := json.Marshal(v)
	if err != nil {
		panic(err)
	}
	return b
}

// part finds a part of a layout.
func part(d *driveline.Document, id string) *driveline.Part {
	for i := range d.Parts {
		if d.Parts[i].ID == id {
			return &d.Parts[i]
		}
	}
	panic("no part " + id)
}

// listOfRatios turns a gearbox with teeth into one of plate ratios.
func listOfRatios(d *driveline.Document, ratios ...float64) {
	p := part(d, "gearbox")
	g := &driveline.Gearbox{Arrangement: "ratios"}
	p.Sources = map[string]driveline.Source{}
	for i, r := range ratios {
		name := fmt.Sprint(i + 1)
		if r < 0 {
			name = "R"
		}
		x, err := exact.Of(r)
		if err != nil {
			panic(err)
		}
		g.Gears = append(g.Gears, driveline.Gear{Name: name, Ratio: exact.Figure{Number: x}})
		p.Sources[name] = driveline.Source{Kind: "plate", Text: "gearbox plate"}
	}
	p.Gearbox = g
}

func set(pairs ...string) map[string]string {
	out := map[string]string{}
	for i := 0; i+1 < len(pairs); i += 2 {
		out[pairs[i]] = pairs[i+1]
	}
	return out
}

// shopParts are the workshop's catalog of gearboxes, cases and axles, all of
// invented makers.
func shopParts() []store.ShopPart {
	var out []store.ShopPart
	add := func(maker, name, notes string, p driveline.Part) {
		p.ID, p.Name, p.From = "part", name, ""
		q, err := driveline.ParsePart(must(p))
		if err != nil {
			panic(name + ": " + err.Error()) // a slip in the list below
		}
		p = *q
		out = append(out, store.ShopPart{Kind: p.Kind, Maker: maker, Name: name, Notes: notes, Part: must(p)})
	}
	ratios := func(rs ...string) *driveline.Gearbox {
		g := &driveline.Gearbox{Arrangement: "ratios"}
		for i, r := range rs {
			x, err := exact.Parse(r)
			if err != nil {
				panic(err)
			}
			name := fmt.Sprint(i + 1)
			if x.Sign() < 0 {
				name = "R"
			}
			g.Gears = append(g.Gears, driveline.Gear{Name: name, Ratio: exact.Figure{Number: x}})
		}
		return g
	}
	box := func(rated float64, g *driveline.Gearbox) driveline.Part {
		return driveline.Part{Kind: "gearbox", Gearbox: g, RatedNM: rated}
	}
	add("Holt", "Holt R4", "four-speed, long first", box(320, ratios("4.12", "2.29", "1.46", "1", "-3.94")))
	add("Holt", "Holt R5", "five-speed with overdrive", box(360, ratios("4.06", "2.37", "1.49", "1", "0.84", "-3.85")))
	add("Brannik", "Brannik C3", "three-speed behind a converter", box(500, ratios("2.61", "1.53", "1", "-2.16")))
	add("Brannik", "Brannik C4", "four-speed, overdrive", box(480, ratios("2.87", "1.57", "1", "0.72", "-2.31")))
	add("Skerry", "Skerry Dog 4", "straight-cut four-speed for climbs", driveline.Part{Kind: "gearbox", RatedNM: 450, Gearbox: &driveline.Gearbox{Arrangement: "countershaft", Input: 24, Counter: 31, Gears: []driveline.Gear{
		{Name: "1", Drive: 17, Driven: 31, Selector: "dog"}, {Name: "2", Drive: 22, Driven: 27, Selector: "dog"}, {Name: "3", Drive: 26, Driven: 24, Selector: "dog"}, {Name: "4", Direct: true, Selector: "dog"}, {Name: "R", Drive: 16, Driven: 33, Idler: 19, Selector: "sliding"}}}})
	tc := func(family string, rated float64, t driveline.TransferCase) driveline.Part {
		return driveline.Part{Kind: "transfer_case", TransferCase: &t, RatedNM: rated, Family: family}
	}
	add("Holt", "Holt T2", "part-time, planetary low, chain", tc("Holt T2", 1400, driveline.TransferCase{Range: driveline.Range{Type: "planetary", Sun: 42, Ring: 72}, Center: driveline.Center{Type: "part_time"}, Front: driveline.Front{Type: "chain", Drive: 35, Driven: 35}, LowNeedsLock: true}))
	add("Holt", "Holt T2 crawler", "the same with the slow low set", tc("Holt T2", 1400, driveline.TransferCase{Range: driveline.Range{Type: "planetary", Sun: 28, Ring: 86}, Center: driveline.Center{Type: "part_time"}, Front: driveline.Front{Type: "chain", Drive: 35, Driven: 35}, LowNeedsLock: true}))
	add("Varn", "Varn G", "gear-driven, center differential", tc("Varn G", 1600, driveline.TransferCase{Range: driveline.Range{Type: "gears", Input: 29, Counter: 40, LowDrive: 24, LowGear: 45}, Center: driveline.Center{Type: "open", Lockable: true}, Front: driveline.Front{Type: "gears", Drive: 33, Driven: 33, Idlers: 1}}))
	add("Brannik", "Brannik 60-40", "planetary center, ring to the rear", tc("Brannik 60-40", 1500, driveline.TransferCase{Range: driveline.Range{Type: "planetary", Sun: 34, Ring: 62}, Center: driveline.Center{Type: "planetary", Ring: 66, Sun: 44, Lockable: true}, Front: driveline.Front{Type: "chain", Drive: 36, Driven: 36}}))
	axle := func(family string, rated float64, a driveline.Axle) driveline.Part {
		return driveline.Part{Kind: "axle", Axle: &a, RatedNM: rated, Family: family}
	}
	for _, z := range [][2]int{{41, 10}, {41, 11}, {37, 9}, {47, 9}} {
		add("Varn", fmt.Sprintf("Varn 220 rear %d-%d", z[0], z[1]), "hypoid, open", axle("Varn 220", 2100, driveline.Axle{Ring: z[0], Pinion: z[1], RingSide: "left", PinionAt: "ahead", Offset: true, Differential: driveline.Differential{Type: "open"}}))
	}
	add("Varn", "Varn 220 front 41-10", "reverse cut, pinion behind", axle("Varn 220", 1800, driveline.Axle{Ring: 41, Pinion: 10, RingSide: "right", PinionAt: "behind", Offset: true, Cut: "reverse", Differential: driveline.Differential{Type: "open"}}))
	add("Tornock", "Tornock two-stage 32-20 · 32-56", "bevel and planetary, with lock", axle("Tornock", 5200, driveline.Axle{Ring: 32, Pinion: 20, RingSide: "left", PinionAt: "ahead", Second: &driveline.SunRing{Sun: 32, Ring: 56}, Differential: driveline.Differential{Type: "locking"}}))
	add("Lomm", "Lomm 27-13", "outboard gearcase", driveline.Part{Kind: "gearcase", Gearcase: &driveline.Gearcase{Pinion: 13, Gear: 27, Shift: true}, RatedNM: 110})
	return out
}
