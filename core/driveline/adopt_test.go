package driveline_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/linetest"
	"zorvel/core/driveline/trace"
)

func places(list []driveline.Place) []string {
	out := make([]string, len(list))
	for i, p := range list {
		out[i] = p.Part + " " + p.Ratio
	}
	return out
}

func TestAdopt(t *testing.T) {
	tied := linetest.Layout(t, "part_time")
	linetest.Part(t, tied, "front").Sources["ratio"] = driveline.Source{Kind: "measured", Stage: 7} // called rear, measured in front
	for _, c := range []struct {
		name   string
		doc    *driveline.Document
		former []driveline.Former
		want   []string
		parts  int // more than the document had
	}{
		{"words", linetest.Layout(t, "part_time"), []driveline.Former{
			{1, "Gearbox, 4th gear", "gearbox", "4", "", ""}, {2, "Transfer case, low", "transfer_case", "low", "", ""},
			{3, "Front axle", "ring_and_pinion", "", "", ""}, {4, "Rear axle", "ring_and_pinion", "", "", ""}},
			[]string{"gearbox 4", "case low", "front ratio", "rear ratio"}, 0},
		{"numbers before words", tied, []driveline.Former{{7, "Rear axle", "two_stage", "", "", ""},
			{8, "Axle", "ring_and_pinion", "", "", ""}}, []string{"front ratio", "rear ratio"}, 0},
		{"what fits nothing gets a part of its own", linetest.Layout(t, "rear_drive"),
			[]driveline.Former{{1, "Rear axle", "ring_and_pinion", "", "", ""},
				{2, "Winch axle, front", "ring_and_pinion", "", "", ""}, {3, "Range box", "planetary", "", "sun", "ring"}},
			[]string{"rear ratio", "axle ratio", "planetary ratio"}, 4}, // two dividers
		{"a gear that wasn't drawn", linetest.Layout(t, "rear_drive"),
			[]driveline.Former{{1, "Sixth", "gearbox", "6", "", ""}}, []string{"gearbox 6"}, 0},
		{"no driveline", nil, []driveline.Former{
			{1, "Gearbox 4th", "gearbox", "4", "", ""}, {2, "Gearbox 2nd", "gearbox", "2", "", ""}, {3, "High", "transfer_case", "high", "", ""}, {4, "Low", "transfer_case", "low", "", ""},
			{5, "Rear axle", "ring_and_pinion", "", "", ""}, {6, "Front axle", "ring_and_pinion", "", "", ""}, {7, "Hub", "hub", "", "", ""}},
			[]string{"gearbox 4", "gearbox 2", "transfer_case high", "transfer_case low", "axle ratio", "axle_2 ratio", "hub ratio"}, 5},
		{"measured twice", nil, []driveline.Former{{1, "Low", "transfer_case", "low", "", ""},
			{2, "Low again", "transfer_case", "low", "", ""}}, []string{"transfer_case low", "transfer_case_2 low"}, 2},
		{"nothing at all", nil, nil, []string{}, 1},
	} {
		before := 0
		if c.doc != nil {
			before = len(c.doc.Parts)
		}
		got, at := driveline.Adopt(c.doc, c.former)
		if !slices.Equal(places(at), c.want) {
			t.Errorf("%s: %v, want %v", c.name, places(at), c.want)
		}
		if len(got.Parts)-before != c.parts {
			t.Errorf("%s: %d parts were added, want %d", c.name, len(got.Parts)-before, c.parts)
		}
		if err := got.Check(); err != nil {
			t.Errorf("%s: %v", c.name, err)
		}
		for _, p := range got.Parts {
			for _, s := range p.Sources {
				if s.Stage != 0 {
					t.Errorf("%s: %s still names a stage", c.name, p.ID)
				}
			}
		}
	}
	if tied.Part("front").Sources["ratio"].Stage != 7 {
		t.Error("the document that came in was changed")
	}
}

// Whatever stood in a line gets a place of its own, in a document that can be
// kept and drawn.
func TestAdoptAnything(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	kinds := []string{"ring_and_pinion", "two_stage", "hub", "planetary", "gearcase", "gear_pair", "chain_pair", "transfer_case", "gearbox"}
	layouts := driveline.Layouts()
	for range 400 {
		var doc *driveline.Document
		if r.IntN(2) == 0 {
			d := layouts[r.IntN(len(layouts))].Document
			doc = &d
		}
		var former []driveline.Former
		for i := range r.IntN(12) {
			f := driveline.Former{ID: int64(i + 1), Kind: kinds[r.IntN(len(kinds))],
				Name: []string{"Front axle", "Rear axle", "Case", "x"}[r.IntN(4)]}
			switch f.Kind {
			case "transfer_case":
				f.Position = []string{"high", "low", "front"}[r.IntN(3)]
			case "gearbox":
				f.Position = []string{"", "1", "4", "R", "crawl"}[r.IntN(5)]
			case "planetary":
				f.Held, f.Input = []string{"", "sun", "ring", "carrier"}[r.IntN(4)], ""
			}
			former = append(former, f)
		}
		got, at := driveline.Adopt(doc, former)
		if err := got.Check(); err != nil {
			t.Fatalf("%v for %+v", err, former)
		}
		if _, err := trace.Run(got, driveline.State{}, trace.Want{}); err != nil {
			t.Fatalf("%v for %+v", err, former)
		}
		asked := map[driveline.Place]bool{}
		for _, x := range got.Asks() {
			asked[x.Place] = true
		}
		seen := map[driveline.Place]bool{}
		for i, p := range at {
			if !asked[p] || seen[p] {
				t.Fatalf("stage %d, %+v, is at %v (a place: %v, taken: %v)", i, former[i], p, asked[p], seen[p])
			}
			seen[p] = true
		}
	}
}

func TestAsks(t *testing.T) {
	var got []string
	for _, a := range linetest.Layout(t, "part_time").Asks() {
		got = append(got, fmt.Sprintf("%s %s: %s (%s %s)", a.Part, a.Ratio, a.Name, a.Kind, a.Position))
	}
	want := []string{
		"gearbox 1: Gearbox 1st gear (gearbox 1)", "gearbox 2: Gearbox 2nd gear (gearbox 2)",
		"gearbox 3: Gearbox 3rd gear (gearbox 3)", "gearbox 4: Gearbox 4th gear (gearbox 4)",
		"gearbox 5: Gearbox 5th gear (gearbox 5)", "gearbox R: Gearbox reverse (gearbox R)",
		"case high: Transfer case high range (transfer_case high)", "case low: Transfer case low range (transfer_case low)",
		"case front: Transfer case front to rear (transfer_case front)",
		"rear ratio: Rear axle (ring_and_pinion )", "front ratio: Front axle (ring_and_pinion )",
	}
	if !slices.Equal(got, want) {
		t.Errorf("%q", got)
	}
}
