package demo

import (
	"context"
	"fmt"
	"strconv"

	"zorvel/core/catalog"
	"zorvel/core/regear"
	"zorvel/internal/store"
)

// loadCatalog fills the shop's lists.
func loadCatalog(ctx context.Context, st *store.Store, by string) error {
	for id, rows := range shopLists() {
		l, ok := catalog.Find(id)
		if !ok {
			return fmt.Errorf("no list %s", id)
		}
		var list []store.CatalogRow
		for _, r := range rows {
			row, err := l.Check(r)
			if err != nil {
				return fmt.Errorf("demo %s %v: %w", id, r, err)
			}
			list = append(list, store.CatalogRow{Identity: l.Identity(row), Cells: row})
		}
		if _, _, err := st.TakeCatalog(ctx, id, list, by, ""); err != nil {
			return fmt.Errorf("demo %s: %w", id, err)
		}
	}
	return nil
}

func shopLists() map[string][]catalog.Row {
	out := map[string][]catalog.Row{catalog.GearSets: gearSets(), catalog.Settings: {{"setting": "currency", "value": "kr"}, {"setting": "name", "value": "Quay Street Gear and Axle"}, {"setting": "address", "value": "Quay Street 4, Tornock harbor"}}}
	add := func(list string, pairs ...string) {
		r := catalog.Row{}
		for i := 0; i+1 < len(pairs); i += 2 {
			r[pairs[i]] = pairs[i+1]
		}
		out[list] = append(out[list], r)
	}
	add(catalog.Service, "kind", "gearcase", "what", "gear oil", "hours", "100", "months", "12", "source", "Auk gearcase manual, page 12")
	add(catalog.Service, "kind", "shaft", "what", "grease joints and slip spline", "km", "10000", "months", "12", "source", "Tornock workshop book, page 88")
	for _, r := range regear.DefaultRule() {
		out[catalog.Rule] = append(out[catalog.Rule], catalog.RuleRow(r))
	}

	// Change gears of the hill-climb car's family: pairs of 45 teeth together,
	// and one that was written down wrong.
	for i, z := range [][2]int{{24, 21}, {23, 22}, {26, 19}, {28, 17}, {25, 20}, {27, 18}, {29, 16}, {30, 16}} {
		wear := []string{"new", "light", "light", "pitted at one flank"}[i%4]
		place := []string{"van, left drawer", "van, right drawer"}[i%2]
		add(catalog.ChangeGears, "family", "Skerry 195", "name", strconv.Itoa(i+1), "teeth", fmt.Sprintf("%d-%d", z[0], z[1]), "wear", wear, "place", place, "shelf", "1", "price", strconv.Itoa(86+3*i))
	}

	// Speedometer gears: drive gears by color of the old stock, driven gears in
	// three lengths of housing; none takes the greatest.
	colors := map[int]string{10: "ocher", 11: "slate", 12: "rust", 13: "moss"}
	for z := 10; z <= 13; z++ {
		add(catalog.SpeedoGears, "family", "Holt T2", "role", "drive", "teeth", strconv.Itoa(z), "color", colors[z], "shelf", strconv.Itoa((z*3)%4), "price", strconv.Itoa(10+z))
	}
	for z := 22; z <= 35; z++ {
		hint := []string{"sand", "teal", "plum", "clay", ""}[z%5]
		add(catalog.SpeedoGears, "family", "Holt T2", "role", "driven", "teeth", strconv.Itoa(z), "color", hint, "shelf", strconv.Itoa((z*5+1)%3), "price", strconv.Itoa(9+z%4))
	}
	for _, z := range []int{16, 18, 21, 23, 26} {
		add(catalog.SpeedoGears, "family", "Brannik C4", "role", "drive", "teeth", strconv.Itoa(z), "shelf", "1", "price", "24")
	}
	for z := 47; z <= 58; z++ {
		add(catalog.SpeedoGears, "family", "Brannik C4", "role", "driven", "teeth", strconv.Itoa(z), "shelf", strconv.Itoa(z%2), "price", "15")
	}
	number := func(v *float64) string {
		if v == nil {
			return ""
		}
		return strconv.FormatFloat(*v, 'f', -1, 64)
	}
	for _, f := range tornockFigures() {
		add(catalog.SetUp, "family", "Tornock", "figure", f.Figure, "low", number(f.Low), "high", number(f.High), "unit", f.Unit, "source", f.Source, "date", f.Date)
	}
	add(catalog.SetUp, "family", "Tornock", "figure", "depth", "high", "92.50", "unit", "mm", "source", "Tornock workshop book, page 37", "date", "third edition", "marks", "farther", "mark_unit", "0.01mm")
	for _, f := range [][5]string{{"Varn 220", "backlash", "0.13", "0.18", "mm"}, {"Varn 220", "backlash_difference", "", "0.05", "mm"}, {"Varn 220", "pinion_torque_new", "17", "28", "lbf·in"}, {"Brannik 240", "backlash", "5", "8", "thou"}, {"Brannik 240", "back_face_runout", "", "3", "thou"}} {
		add(catalog.SetUp, "family", f[0], "figure", f[1], "low", f[2], "high", f[3], "unit", f[4], "source", f[0]+" service sheets", "date", "second printing")
	}
	add(catalog.Housings, "family", "Holt T2", "name", "H-short", "marked_from", "22", "marked_to", "25", "takes_from", "22", "takes_to", "26", "shelf", "2", "price", "31")
	add(catalog.Housings, "family", "Holt T2", "name", "H-middle", "marked_from", "26", "marked_to", "29", "takes_from", "26", "takes_to", "31", "shelf", "1", "price", "31")
	add(catalog.Housings, "family", "Holt T2", "name", "H-long", "marked_from", "30", "marked_to", "34", "takes_from", "30", "takes_to", "34", "shelf", "1", "price", "36")
	add(catalog.Housings, "family", "Brannik C4", "name", "B-near", "takes_from", "47", "takes_to", "52", "shelf", "1", "price", "40")
	add(catalog.Housings, "family", "Brannik C4", "name", "B-far", "marked_from", "53", "marked_to", "58", "takes_from", "53", "takes_to", "58", "price", "40")
	for _, a := range [][2]string{{"Angle box 5 : 6", "5/6"}, {"Angle box 6 : 5", "6/5"}, {"Box 9 : 10", "9/10"}, {"Box 10 : 9", "10/9"}, {"Box 1 : 2", "1/2"}, {"Straight box 1 : 1", "1"}, {"Box 7 : 8", "7/8"}} {
		add(catalog.Adapters, "name", a[0], "ratio", a[1], "shelf", "1", "price", "58")
	}

	// Tires: marking, with rim in kg, on the shelf, price, and what was rolled
	// out here.
	for _, t := range []struct {
		marking, label, kg, shelf, price, rollout, turns string
	}{
		{"195R15C", "van", "19", "4", "92", "", ""}, {"205/70R15", "van", "18.5", "2", "88", "", ""}, {"215/75R16C 116/114R", "van", "23", "6", "118", "6447", "3"},
		{"225/75R16", "", "24.5", "4", "124", "6801", "3"}, {"LT235/75R15", "forest", "26", "4", "139", "", ""}, {"LT245/75R16", "", "28", "2", "151", "7080", "3"},
		{"31x10.50R15LT", "mud", "29.5", "8", "158", "7168", "3"}, {"LT265/75R16", "", "32", "0", "171", "", ""}, {"32x11.50R15LT", "mud", "32.5", "4", "169", "", ""},
		{"LT285/75R16", "", "36", "0", "188", "", ""}, {"33x12.50R15LT", "mud", "36.5", "4", "194", "7638", "3"}, {"35x12.50R15LT", "mud", "41", "0", "228", "", ""},
		{"37x12.50R17LT", "mud", "49", "0", "310", "", ""}, {"7.50R16LT 8PR", "forest", "34", "6", "162", "", ""}, {"6.50-16", "old cart", "22", "2", "74", "", ""},
		{"7.00R16", "", "29", "2", "121", "", ""}, {"235/85R16", "", "33", "4", "149", "7335", "3"}, {"11R22.5", "hauler", "86", "4", "395", "9645", "3"},
		{"12R22.5", "hauler", "94", "0", "430", "", ""}, {"12.5/80-18 10PR", "forwarder", "62", "2", "340", "", ""}, {"245/645R18", "hill climb", "19.5", "4", "280", "", ""},
		{"26.0/10.0-15", "hill climb", "17", "4", "265", "", ""}, {"185/65R15", "", "15.5", "4", "71", "", ""}, {"205/55R16", "", "18", "4", "86", "", ""}, {"175R14C", "cart", "15", "2", "66", "", ""},
	} {
		add(catalog.Tires, "marking", t.marking, "label", t.label, "mass_kg", t.kg, "shelf", t.shelf, "price", t.price, "rollout_mm", t.rollout, "rollout_turns", t.turns)
	}

	prices(add)
	return out
}

// prices are labor, parts and what could be ordered.
func prices(add func(list string, pairs ...string)) {
	price := func(item, axle, family, low, high, note string) {
		add(catalog.Prices, "item", item, "axle", axle, "family", family, "low", low, "high", high, "note", note)
	}
	price(regear.ItemRate, "", "", "62", "62", "cooperative's rate, per hour")
	price(regear.ItemLabor, "solid_rear", "", "4.5", "6", "axle in the vehicle")
	price(regear.ItemLabor, "solid_front", "", "6", "8", "with hubs and joints")
	price(regear.ItemLabor, "independent_rear", "", "7", "9", "")
	price(regear.ItemLabor, "independent_front", "", "8.5", "12", "carrier comes out below")
	price(regear.ItemLabor, "solid_rear", "Tornock", "9", "12", "two stages; crane")
	price(regear.ItemKit, "", "", "118", "165", "bearings, seals, shims, nut")
	price(regear.ItemKit, "", "Tornock", "310", "420", "")
	price(regear.ItemKit, "independent_front", "", "150", "210", "")
	price(regear.ItemCarrier, "", "Varn 220", "240", "290", "")
	price(regear.ItemCarrier, "", "Skerry 195", "205", "260", "")
	price(regear.ItemCarrier, "", "", "250", "380", "by quotation")
	price(regear.ItemOil, "", "", "26", "34", "three liters")
	price(regear.ItemOil, "", "Tornock", "88", "110", "eleven liters")
	price(regear.ItemCalibration, "", "", "35", "90", "gears or programmer, and a run on the measured kilometer")

	option := func(line, name, tire, ratio, note string) {
		add(catalog.Factory, "line", line, "name", name, "tire", tire, "ratio", ratio, "note", note)
	}
	option("Grouse", "road", "225/75R16", "37-10", "taller, for the harbor road")
	option("Grouse", "standard", "31x10.50R15", "41-10", "")
	option("Grouse", "forest", "31x10.50R15", "41-9", "with the slow low set")
	option("Grouse", "haul", "7.50R16", "43-9", "twin rear wheels")
	option("Puffin van", "standard", "215/75R16", "41-11", "")
	option("Puffin van", "ladder", "215/75R16", "43-11", "with roof load")
	option("Auk skiff trailer truck", "standard", "235/85R16", "41-10", "")
}

// gearSets are the workshop's ring and pinion, transfer case and gearcase sets.
func gearSets() []catalog.Row {
	var out []catalog.Row
	n := 0
	add := func(kind, position, construction, family string, weight, price int, teeth ...int) {
		text := ""
		for i, t := range teeth {
			if i > 0 {
				text += "-"
			}
			text += strconv.Itoa(t)
		}
		n++
		out = append(out, catalog.Row{"family": family, "kind": kind, "position": position, "construction": construction, "teeth": text,
			"weight": strconv.Itoa(weight), "shelf": strconv.Itoa((n * 5) % 4), "price": strconv.Itoa(price)})
	}
	rings := func(family string, mm, base int, split float64, pairs [][3]int) {
		for _, p := range pairs {
			// Short pinions are harder to make.
			add("ring_and_pinion", "", "pair", family, p[2], base+15*(13-min(13, p[1])), p[0], p[1])
			r := out[len(out)-1]
			r["ring_mm"] = strconv.Itoa(mm)
			if float64(p[0])/float64(p[1]) < split {
				r["carrier_from"], r["carrier_to"] = "2.6", strconv.FormatFloat(split-0.01, 'f', 2, 64)
			} else {
				r["carrier_from"], r["carrier_to"] = strconv.FormatFloat(split, 'f', 2, 64), "7"
			}
		}
	}
	rings("Varn 220", 220, 385, 3.73, [][3]int{
		{37, 9, 6}, {41, 10, 8}, {41, 11, 5}, {39, 11, 5}, {43, 11, 3}, {37, 8, 3}, {41, 9, 5}, {43, 9, 3}, {47, 9, 4}, {39, 8, 4},
		{43, 8, 3}, {43, 10, 1}, {40, 13, 3}, {43, 12, 2}, {38, 7, 2}, {41, 7, 2}, {46, 7, 1}, {51, 11, 1}, {65, 14, 1}, {37, 10, 3}, {41, 13, 2},
	})
	rings("Skerry 195", 195, 310, 3.55, [][3]int{
		{37, 11, 1}, {39, 11, 1}, {41, 11, 1}, {43, 11, 1}, {40, 11, 1}, {41, 10, 1}, {43, 10, 1}, {37, 9, 1}, {41, 9, 1}, {39, 10, 1}, {46, 11, 1}, {37, 12, 1},
	})
	rings("Brannik 240", 240, 470, 3.9, [][3]int{
		{37, 10, 1}, {39, 10, 1}, {41, 10, 1}, {43, 10, 1}, {45, 11, 1}, {41, 9, 1}, {43, 9, 1}, {46, 10, 1}, {37, 8, 1}, {39, 8, 1}, {47, 9, 1}, {48, 9, 1}, {43, 8, 1}, {41, 12, 1},
	})
	for _, p := range [][3]int{{27, 13, 6}, {28, 13, 4}, {24, 13, 4}, {29, 14, 3}, {26, 14, 3}, {27, 16, 2}, {30, 13, 2}, {28, 15, 3}} {
		add("gearcase", "", "pair", "Lomm", p[2], 260, p[0], p[1])
	}
	for _, p := range [][3]int{{36, 62, 4}, {42, 72, 4}, {33, 57, 3}, {40, 64, 2}} {
		add("transfer_case", "low", "planetary", "Holt T2", p[2], 420, p[0], p[1])
	}
	// Slow sets for forest work; met too seldom to weigh in a verdict.
	for _, p := range [][2]int{{28, 86}, {30, 78}} {
		add("transfer_case", "low", "planetary", "Holt T2", 1, 640, p[0], p[1])
		out[len(out)-1]["weight"], out[len(out)-1]["label"] = "0.2", fmt.Sprintf("slow set %d-%d", p[0], p[1])
	}
	add("two_stage", "", "pair_planetary", "Tornock", 3, 1450, 32, 20, 32, 56)
	add("two_stage", "", "pair_planetary", "Tornock", 2, 1450, 33, 19, 30, 66)
	return out
}
