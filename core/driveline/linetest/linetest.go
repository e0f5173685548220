// Package linetest gives tests drivelines to work on.
package linetest

import (
	"fmt"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/exact"
)

// Layout is a fresh copy of a ready driveline.
func Layout(t testing.TB, id string) *driveline.Document {
	t.Helper()
	for _, l := range driveline.Layouts() {
		if l.ID == id {
			d := l.Document
			return &d
		}
	}
	t.Fatalf("no layout %q", id)
	return nil
}

// Vehicles are the layouts with driven axles.
func Vehicles(t testing.TB) map[string]*driveline.Document {
	t.Helper()
	out := map[string]*driveline.Document{}
	for _, l := range driveline.Layouts() {
		if d := l.Document; len(d.Axles()) > 0 {
			out[l.ID] = &d
		}
	}
	if len(out) < 6 {
		t.Fatalf("only %d layouts have axles", len(out))
	}
	return out
}

// Part is a part of a driveline by its ID.
func Part(t testing.TB, d *driveline.Document, id string) *driveline.Part {
	t.Helper()
	if p := d.Part(id); p != nil {
		return p
	}
	t.Fatalf("no part %q", id)
	return nil
}

// Set sets selectors, given as ID and position in turn.
func Set(pairs ...string) map[string]string {
	out := map[string]string{}
	for i := 0; i+1 < len(pairs); i += 2 {
		out[pairs[i]] = pairs[i+1]
	}
	return out
}

// Turned is a shaft turned by hand.
func Turned(shaft string, n int64) *driveline.Input {
	return &driveline.Input{Shaft: shaft, Turns: exact.Figure{Number: exact.Int(n)}}
}

// Wheels are a left and a right wheel on an axle.
func Wheels(axle, at string, rollingMM int64) []driveline.Part {
	var out []driveline.Part
	for _, side := range []string{"left", "right"} {
		out = append(out, driveline.Part{ID: axle + "_" + side, Kind: "wheel", Name: axle + " " + side + " wheel", From: axle + "." + side,
			Wheel: &driveline.Wheel{At: at, Side: side, RollingMM: exact.Figure{Number: exact.Int(rollingMM)}}})
	}
	return out
}

// Large is a ten-speed in teeth with a range set and three driven axles: more
// than sixty shafts.
func Large(t testing.TB) *driveline.Document {
	t.Helper()
	d := Layout(t, "axle_low")
	g := &driveline.Gearbox{Arrangement: "countershaft", Input: 24, Counter: 41}
	for i := range 10 {
		g.Gears = append(g.Gears, driveline.Gear{Name: fmt.Sprint(i + 1), Drive: 14 + 3*i, Driven: 52 - 3*i, Selector: "dog"})
	}
	g.Gears = append(g.Gears, driveline.Gear{Name: "R", Drive: 14, Driven: 50, Idler: 20, Selector: "dog"})
	Part(t, d, "gearbox").Gearbox = g
	Part(t, d, "rear").Axle.FreeHubs, Part(t, d, "front").Axle.FreeHubs = true, true
	parts := []driveline.Part{}
	for _, p := range d.Parts {
		if p.ID == "rear_prop" {
			parts = append(parts,
				driveline.Part{ID: "split", Kind: "planetary", Name: "Splitter", From: "case.rear",
					Planetary: &driveline.Planetary{Sun: 40, Ring: 80, TwoSpeed: true}},
				driveline.Part{ID: "divider", Kind: "differential", Name: "Divider", From: "split",
					Differential: &driveline.Differential{Type: "locking"}})
			p.From = "divider.here"
		}
		parts = append(parts, p)
	}
	parts = append(parts, driveline.Part{ID: "third_prop", Kind: "shaft", Name: "Third shaft", From: "divider.through"},
		driveline.Part{ID: "third", Kind: "axle", Name: "Third axle", From: "third_prop",
			Axle: &driveline.Axle{Ring: 23, Pinion: 10, FreeHubs: true, Differential: driveline.Differential{Type: "locking"}}})
	for i, w := range Wheels("third", "rear", 3300) {
		hub := []string{"third_hub_left", "third_hub_right"}[i]
		parts = append(parts, driveline.Part{ID: hub, Kind: "hub", Name: hub, From: w.From,
			Hub: &driveline.Hub{Type: "planetary", Sun: 24, Ring: 60}})
		w.From = hub
		parts = append(parts, w)
	}
	d.Parts = parts
	if err := d.Check(); err != nil {
		t.Fatal(err)
	}
	return d
}
