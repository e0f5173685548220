package fits

import (
	"encoding/json"
	"math"
	"strings"
	"testing"
)

// whole is an offset gear of 34 teeth whose face meets its mate's with the mark
// outward: module 3, (34 + 26) · 3 ÷ 2 = 90 mm.
func whole() Question {
	return Question{
		Gear: Gear{Teeth: 34, Module: 3, Pressure: 20, FaceMM: 20, OffsetMM: 8, WidthMM: 30, Mount: Mount{Splines: 24, SplineMM: 32, Worn: "used"}},
		Seat: Seat{MateTeeth: 26, MateModule: 3, MatePressure: 20, MateFaceMM: 20, MateAtMM: 8, CenterMM: 90, RoomMM: 31, MateWorn: "used", Mount: Mount{Splines: 24, SplineMM: 32, Worn: "used"}},
	}
}

func work(t *testing.T, q Question) *Answer {
	t.Helper()
	a, err := Work(q)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := json.Marshal(a); err != nil {
		t.Fatal(err)
	}
	return a
}

// Turned round, the face lies from −18 to 2 against −2 to 18: 4 of 20 mm meet.
func TestOneWayRound(t *testing.T) {
	a := work(t, whole())
	if a.Answer != Yes || a.Ways[0].Answer != Yes || a.Ways[1].Answer != No || math.Abs(*a.Ways[1].Overlap-4) > 1e-9 || math.Abs(*a.Ways[0].Overlap-20) > 1e-9 {
		t.Fatalf("%+v", a)
	}
	if !strings.Contains(a.Sentence, "mark outward only") || !strings.Contains(a.Sentence, "sliver") {
		t.Error(a.Sentence)
	}
	q := whole()
	q.Seat.MateAtMM = -8
	if a := work(t, q); a.Answer != Yes || !strings.Contains(a.Sentence, "turned round only") {
		t.Error(a.Sentence)
	}
	q.Gear.OffsetMM, q.Seat.MateAtMM = 0, 0
	if a := work(t, q); a.Answer != Yes || !strings.Contains(a.Sentence, "either way") {
		t.Error(a.Sentence)
	}
}

func TestReasons(t *testing.T) {
	for name, c := range map[string]struct {
		change       func(*Question)
		reason, want string
		says         string
	}{
		"other module":    {func(q *Question) { q.Gear.Module = 2.75 }, "teeth", No, "don't mesh"},
		"module unknown":  {func(q *Question) { q.Gear.Module = 0 }, "teeth", Ask, "measure the module"},
		"no pressure":     {func(q *Question) { q.Gear.Pressure = 0 }, "teeth", Ask, "still to be compared"},
		"other pressure":  {func(q *Question) { q.Gear.Pressure = 25 }, "teeth", No, "pressure angle"},
		"straight, helix": {func(q *Question) { q.Gear.Helix = 15 }, "helix", No, "one is straight"},
		"same hand": {func(q *Question) {
			q.Gear.Helix, q.Seat.MateHelix, q.Gear.Hand, q.Seat.MateHand = 15, 15, "left", "left"
		}, "helix", No, "opposite"},
		"hand unknown":     {func(q *Question) { q.Gear.Helix, q.Seat.MateHelix, q.Seat.CenterMM = 15, 15, 93.17 }, "helix", Ask, "which hand"},
		"too far apart":    {func(q *Question) { q.Seat.CenterMM = 94 }, "center", No, "don't reach"},
		"too close":        {func(q *Question) { q.Seat.CenterMM = 86 }, "center", No, "don't go in"},
		"profile shift":    {func(q *Question) { q.Seat.CenterMM = 91 }, "center", Ask, "profile shift"},
		"other splines":    {func(q *Question) { q.Gear.Splines = 23 }, "spline", No, "23 splines against 24"},
		"other size":       {func(q *Question) { q.Gear.SplineMM = 35 }, "spline", No, "35 against 32"},
		"splines, no size": {func(q *Question) { q.Gear.SplineMM = 0 }, "spline", Ask, "several sizes"},
		"bolts":            {func(q *Question) { q.Gear.Bolts, q.Seat.Bolts = 8, 10 }, "mount", No, "8 bolts against 10"},
		"bolt circle":      {func(q *Question) { q.Gear.Bolts, q.Seat.Bolts, q.Gear.CircleMM, q.Seat.CircleMM = 8, 8, 150, 152 }, "mount", No, "150 against 152"},
		"too wide":         {func(q *Question) { q.Gear.WidthMM = 33 }, "width", No, "room for 31"},
		"worn spline":      {func(q *Question) { q.Gear.Worn, q.Seat.Worn = "new", "worn" }, "wear", No, "moves the wear"},
		"worn mate":        {func(q *Question) { q.Gear.Worn, q.Seat.MateWorn = "new", "worn" }, "wear", No, "replaced together"},
		"new on used":      {func(q *Question) { q.Gear.Worn = "new" }, "wear", Ask, "step"},
		"face unknown":     {func(q *Question) { q.Gear.FaceMM = 0 }, "face", Ask, "measure the face"},
		"face misses":      {func(q *Question) { q.Seat.MateAtMM = 40 }, "face", No, "miss each other"},
	} {
		q := whole()
		c.change(&q)
		a := work(t, q)
		for _, r := range a.Ways[0].Reasons {
			if r.ID == c.reason && (r.Answer != c.want || !strings.Contains(r.Text, c.says)) {
				t.Errorf("%s: %+v", name, r)
			}
		}
		if want := c.want; a.Answer != want && !(want == No && a.Answer == Yes) {
			t.Errorf("%s: %s %s", name, a.Answer, a.Sentence)
		}
	}
}

func TestRefuses(t *testing.T) {
	for field, change := range map[string]func(*Question){
		"gear/teeth": func(q *Question) { q.Gear.Teeth = 0 }, "seat/mate_teeth": func(q *Question) { q.Seat.MateTeeth = 9999 }, "gear/module_mm": func(q *Question) { q.Gear.Module = 300 },
		"seat/worn": func(q *Question) { q.Seat.Worn = "a bit" }, "gear/hand": func(q *Question) { q.Gear.Hand = "up" }, "seat/center_mm": func(q *Question) { q.Seat.CenterMM = math.Inf(1) }, "gear/face_mm": func(q *Question) { q.Gear.FaceMM = math.NaN() },
	} {
		q := whole()
		change(&q)
		if _, err := Work(q); err == nil || !strings.Contains(err.Error(), field+":") {
			t.Errorf("%s: %v", field, err)
		}
	}
}
