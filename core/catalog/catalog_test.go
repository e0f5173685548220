package catalog

import (
	"fmt"
	"strings"
	"testing"

	"zorvel/core/fault"
	"zorvel/core/identify"
)

func list(t testing.TB, id string) List {
	t.Helper()
	l, ok := Find(id)
	if !ok {
		t.Fatal("no list", id)
	}
	return l
}

// good is a row that each list takes.
var good = map[string]Row{
	GearSets:    {"family": "Varn 220", "teeth": "41 / 10", "ring_mm": "220", "carrier_from": "3,9", "carrier_to": "5", "shelf": "2", "price": "420"},
	ChangeGears: {"family": "Ravn", "name": "7", "teeth": "24 / 21", "wear": "light", "place": "van, left drawer"},
	SpeedoGears: {"family": "Holt", "role": "drive gear", "teeth": "8", "color": "white"},
	SetUp:       {"family": "Varn 220", "figure": "backlash", "low": "0,13", "high": "0.18", "unit": "mm", "source": "Varn axles, page 31", "date": "2019"},
	Housings:    {"family": "Holt", "name": "H2", "marked_from": "21", "marked_to": "24", "takes_from": "20", "takes_to": "26"},
	Adapters:    {"name": "A", "ratio": "5/8"},
	Tires:       {"marking": "lt 31×10,50 r15 109Q", "rollout_mm": "7203", "rollout_turns": "3"},
	Prices:      {"item": "labor_hours", "axle": "solid rear", "low": "4", "high": "5.5"},
	Rule:        {"from_mm": "750", "highway": "3.26", "mixed": "3.76", "trail": "4.25"},
	Service:     {"kind": "gearcase", "what": "gear oil", "hours": "50", "months": "6", "source": "manual, page 12"},
	Settings:    {"setting": "currency", "value": "kr"},
	Factory:     {"line": "Grouse", "name": "forest", "tire": "225/75R16", "ratio": "41-10"},
}

func TestEveryListTakesARow(t *testing.T) {
	for _, l := range Lists() {
		row, err := l.Check(good[l.ID])
		if err != nil {
			t.Errorf("%s: %v", l.ID, err)
			continue
		}
		// Written the one way, a row is read the same again.
		again, err := l.Check(row)
		if err != nil || fmt.Sprint(again) != fmt.Sprint(row) {
			t.Errorf("%s: %v becomes %v, %v", l.ID, row, again, err)
		}
		if l.Identity(row) == "" || l.For == "" || l.Name == "" {
			t.Errorf("%s lacks something", l.ID)
		}
		// Nothing at all is refused at the columns that are needed.
		_, err = l.Check(Row{})
		if err == nil || !strings.Contains(err.Error(), "is needed") {
			t.Errorf("%s: an empty row: %v", l.ID, err)
		}
		if _, err = l.Check(Row{"nonsense": "1"}); err == nil || !strings.Contains(err.Error(), "no such column") {
			t.Errorf("%s: a strange column: %v", l.ID, err)
		}
	}
}

func TestCellsAreWrittenOneWay(t *testing.T) {
	for _, c := range []struct{ list, key, in, want string }{
		{GearSets, "teeth", "041 : 10", "41-10"},
		{GearSets, "teeth", "41x10", "41-10"},
		{GearSets, "carrier_from", "3,90", "3.9"},
		{GearSets, "price", "1 420,5", "1420.50"},
		{GearSets, "kind", "Ring and pinion", "ring_and_pinion"},
		{SpeedoGears, "role", "Driven gear", "driven"},
		{Tires, "marking", "lt 225/75 r16 115/112 S", "LT225/75R16 115/112S"},
		{Factory, "ratio", "41-10", "41/10"},
		{Prices, "low", "4,25", "4.25"},
	} {
		in := Row{}
		for k, v := range good[c.list] {
			in[k] = v
		}
		in[c.key] = c.in
		if c.list == Prices {
			in["high"] = "9"
		}
		row, err := list(t, c.list).Check(in)
		if err != nil || row[c.key] != c.want {
			t.Errorf("%s %s %q is %q, %v; want %q", c.list, c.key, c.in, row[c.key], err, c.want)
		}
	}
}

func TestCellsAreRefused(t *testing.T) {
	for _, c := range []struct{ list, key, in, want string }{
		{GearSets, "teeth", "forty-one", "driven first"},
		{GearSets, "teeth", "10-41", "swapped"},
		{GearSets, "teeth", "41", "tooth counts, in this order"},
		{GearSets, "kind", "axle", "one of ring_and_pinion"},
		{GearSets, "construction", "belt", "one of pair"},
		{GearSets, "carrier_to", "3", "not below 3.9"},
		{GearSets, "carrier_to", "", "both ends"},
		{GearSets, "shelf", "-1", "from 0 to 9999"},
		{GearSets, "shelf", "two", "whole number"},
		{GearSets, "price", "1/2", "a number from"},
		{GearSets, "price", "NaN", "a number from"},
		{GearSets, "note", strings.Repeat("x", 300), "at most 200"},
		{SpeedoGears, "teeth", "2", "from 3 to 100"},
		{Housings, "takes_to", "10", "not below 20"},
		{Adapters, "ratio", "0", "a ratio above 0"},
		{Tires, "marking", "round", "is no tire size"},
		{Tires, "rollout_mm", "4", "500"},
		{Prices, "high", "1", "not below 4"},
		{Rule, "mixed", "many", "a ratio"},
	} {
		in := Row{}
		for k, v := range good[c.list] {
			in[k] = v
		}
		in[c.key] = c.in
		_, err := list(t, c.list).Check(in)
		errs, ok := err.(fault.Errors)
		if !ok || !strings.Contains(errs.Error(), c.key+": ") || !strings.Contains(errs.Error(), c.want) {
			t.Errorf("%s %s %q: %v, want %q", c.list, c.key, c.in, err, c.want)
		}
	}
}

func TestRowsForTheComputations(t *testing.T) {
	check := func(id string, in Row) Row {
		row, err := list(t, id).Check(in)
		if err != nil {
			t.Fatal(err)
		}
		return row
	}
	g, ok := check(GearSets, good[GearSets]).GearSet("7")
	if !ok || g.Ring != 41 || g.Pinion != 10 || g.Shelf != 2 || g.Carrier.From.Decimal(1) != "3.9" || g.Price.Decimal(2) != "420.00" || g.ID != "7" {
		t.Errorf("%+v", g)
	}
	// A planetary low: 1 + 86/28 = 114/28; a cluster (40/29)·(45/24).
	low := check(GearSets, Row{"family": "Holt T2", "kind": "transfer_case", "position": "low", "construction": "planetary", "teeth": "28-86"})
	if s, ok := low.LowSet("1"); !ok || s.Ratio.String() != "57/14" {
		t.Errorf("%+v %v", s, ok)
	}
	if _, ok := low.GearSet("1"); ok {
		t.Error("a low set is taken for a ring and pinion")
	}
	cons, err := identify.Stage{Kind: identify.TransferCase, Position: "low"}.Constructions()
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range cons {
		if c.ID != "cluster" {
			continue
		}
		order := []string{}
		counts := map[string]string{"input": "29", "counter": "40", "cluster": "24", "output": "45"}
		for _, z := range c.Teeth {
			order = append(order, counts[z.Name])
		}
		row := check(GearSets, Row{"family": "Varn G", "kind": "transfer_case", "position": "low", "construction": "cluster", "teeth": strings.Join(order, "-")})
		s, ok := row.LowSet("2")
		if !ok || s.Ratio.String() != "75/29" {
			t.Errorf("cluster %v is %v", order, s.Ratio)
		}
	}
	if s := check(Tires, good[Tires]).Stocked(); s.Name != "31x10.50R15LT 109Q" || s.Tire.RolloutTurns != 3 {
		t.Errorf("%+v", s)
	}
	if h := check(Housings, good[Housings]).Housing(); h.TakesTo != 26 || h.MarkedFrom != 21 {
		t.Errorf("%+v", h)
	}
	if p := check(Prices, good[Prices]).Price(); p.Axle != "solid_rear" || p.High.Decimal(1) != "5.5" {
		t.Errorf("%+v", p)
	}
	if a := check(Adapters, good[Adapters]).Adapter(); a.Ratio.String() != "5/8" {
		t.Errorf("%+v", a)
	}
	if f := check(Factory, good[Factory]).Factory(); f.Ratio.String() != "41/10" || f.Tire != "225/75R16" {
		t.Errorf("%+v", f)
	}
	if s := check(SpeedoGears, good[SpeedoGears]).SpeedoGear(); s.Teeth != 8 || s.Color != "white" {
		t.Errorf("%+v", s)
	}
	rule := check(Rule, good[Rule]).Rule()
	if back := RuleRow(rule); back["mixed"] != "3.76" || back["from_mm"] != "750" {
		t.Errorf("%v", back)
	}
}

func TestCSV(t *testing.T) {
	l := list(t, GearSets)
	lines, err := l.ReadCSV("\ufeffFamily;teeth;Price;note\nVarn 220;41-10;420,50;'=1+1\n\nVarn 220;10-41;1;\nVarn 220;41-10;3;twice\nVarn 220;37-9\n")
	if err != nil {
		t.Fatal(err)
	}
	if len(lines) != 4 {
		t.Fatalf("%d lines", len(lines))
	}
	if lines[0].Line != 2 || lines[0].Faults != nil || lines[0].Cells["price"] != "420.50" || lines[0].Cells["note"] != "=1+1" {
		t.Errorf("%+v", lines[0])
	}
	if lines[1].Line != 4 || lines[1].Faults[0].Field != "teeth" {
		t.Errorf("%+v", lines[1])
	}
	if !strings.Contains(lines[2].Faults.Error(), "the same as line 2") || lines[3].Faults != nil {
		t.Errorf("%+v %+v", lines[2], lines[3])
	}
	// Out and back in.
	text := l.WriteCSV([]Row{lines[0].Cells, lines[3].Cells})
	back, err := l.ReadCSV(text)
	if err != nil || len(back) != 2 || fmt.Sprint(back[0].Cells) != fmt.Sprint(lines[0].Cells) {
		t.Errorf("%v %+v\n%s", err, back, text)
	}
	for in, want := range map[string]string{
		"":                                "first line names the columns",
		"family,teeth\n":                  "nothing below",
		"family,size\nx,y\n":              `no column "size"`,
		"family,teeth,teeth\n":            "twice",
		"family\nVarn\n":                  `"teeth" is missing`,
		"family,to,teeth\nVarn,1,41-10\n": "", // "to" is a name of one column here
	} {
		_, err := l.ReadCSV(in)
		if (want == "") != (err == nil) || (err != nil && !strings.Contains(err.Error(), want)) {
			t.Errorf("%q: %v, want %q", in, err, want)
		}
	}
	// An open quote ends the table with the line named.
	lines, err = l.ReadCSV("family,teeth\nVarn,41-10\n\"open,37-9\n")
	if err != nil || len(lines) != 2 || len(lines[1].Faults) == 0 {
		t.Errorf("%v %+v", err, lines)
	}
}

// A file of a stock count holds few columns; prices stay as they are.
func TestColumnsThatAFileLacksStay(t *testing.T) {
	l, _ := Find(SpeedoGears)
	old, err := l.Check(Row{"family": "Holt T2", "role": "drive", "teeth": "8", "color": "white", "shelf": "2", "price": "22"})
	if err != nil {
		t.Fatal(err)
	}
	lines, err := l.ReadCSV("family,role,teeth,shelf\nHolt T2,drive,8,7\n")
	if err != nil {
		t.Fatal(err)
	}
	lines[0].Onto(l, old)
	if got := lines[0].Cells; got["color"] != "white" || got["price"] != "22.00" || got["shelf"] != "7" || len(lines[0].Faults) != 0 {
		t.Errorf("%v %v", got, lines[0].Faults)
	}
	if d := l.Difference(old, lines[0].Cells); d != "on shelf 2 → 7" {
		t.Error(d)
	}
	// What is in the file and empty is emptied.
	lines, _ = l.ReadCSV("family,role,teeth,shelf,color\nHolt T2,drive,8,7,\n")
	lines[0].Onto(l, old)
	if _, ok := lines[0].Cells["color"]; ok {
		t.Errorf("%v", lines[0].Cells)
	}
	// Together they may be wrong where each is right.
	l, _ = Find(Housings)
	old, err = l.Check(Row{"family": "Holt T2", "name": "H", "takes_from": "15", "takes_to": "19"})
	if err != nil {
		t.Fatal(err)
	}
	lines, err = l.ReadCSV("family,name,takes_from,takes_to\nHolt T2,H,20,25\n")
	if err != nil {
		t.Fatal(err)
	}
	if lines[0].Onto(l, old); lines[0].Cells["takes_from"] != "20" || len(lines[0].Faults) != 0 {
		t.Errorf("%+v", lines[0])
	}
}

func TestDifference(t *testing.T) {
	l := list(t, GearSets)
	if d := l.Difference(Row{"shelf": "2", "price": "400.00"}, Row{"shelf": "1", "price": "400.00", "note": "x"}); d != "on shelf 2 → 1, note empty → x" {
		t.Error(d)
	}
}

func FuzzReadCSV(f *testing.F) {
	f.Add("family,teeth\nVarn 220,41-10\n")
	f.Add("family;teeth;price\n\"Varn\";41:10;1,5\n")
	l, _ := Find(GearSets)
	f.Fuzz(func(t *testing.T, s string) {
		lines, err := l.ReadCSV(s)
		if err != nil {
			return
		}
		var rows []Row
		for _, x := range lines {
			if len(x.Faults) > 0 {
				return
			}
			rows = append(rows, x.Cells)
		}
		back, err := l.ReadCSV(l.WriteCSV(rows))
		if err != nil || len(back) != len(rows) {
			t.Fatalf("%q does not come back: %v", s, err)
		}
	})
}

func BenchmarkReadCSV(b *testing.B) {
	l, _ := Find(GearSets)
	var rows []Row
	for i := range 1000 {
		rows = append(rows, Row{"family": fmt.Sprint("F", i), "kind": "ring_and_pinion", "construction": "pair", "teeth": "41-10", "shelf": "1", "price": "400.00"})
	}
	text := l.WriteCSV(rows)
	for b.Loop() {
		if _, err := l.ReadCSV(text); err != nil {
			b.Fatal(err)
		}
	}
}

// Every row of a starter list is one that the list takes, once it has what only
// the shop knows.
func TestStartersAreTaken(t *testing.T) {
	n := 0
	for _, l := range Lists() {
		seen := map[string]bool{}
		for _, row := range Starter(l.ID) {
			for _, c := range l.Columns {
				if c.Key == "family" {
					row["family"] = "Varn 220"
				}
			}
			out, err := l.Check(row)
			if err != nil || seen[l.Identity(out)] || out["price"] != "" || (out["shelf"] != "" && out["shelf"] != "0") {
				t.Errorf("%s: %v %v", l.ID, row, err)
			}
			seen[l.Identity(out)] = true
			n++
		}
	}
	if n < 40 {
		t.Errorf("only %d rows to begin from", n)
	}
}

func TestHighSet(t *testing.T) {
	row, err := list(t, GearSets).Check(Row{"family": "Fell 2", "kind": "transfer_case", "position": "high", "construction": "pair", "teeth": "33-30"})
	if err != nil {
		t.Fatal(err)
	}
	if s, ok := row.HighSet("1"); !ok || s.Ratio.String() != "11/10" {
		t.Errorf("%+v %v", s, ok)
	}
	if _, ok := row.LowSet("1"); ok {
		t.Error("a high-range set is taken for a low one")
	}
}
