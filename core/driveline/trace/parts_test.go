package trace

import (
	"errors"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/grip"
	"zorvel/core/driveline/linetest"
	"zorvel/core/exact"
	"zorvel/core/fault"
)

// A center with a rear-only position lets the front go and turns as one; in its
// other positions it shares as it did.
func TestRearOnlyCenter(t *testing.T) {
	d := linetest.Layout(t, "asymmetric")
	c := &linetest.Part(t, d, "case").TransferCase.Center
	c.RearOnly, c.Lockable = true, true
	if err := d.Check(); err != nil {
		t.Fatal(err)
	}
	speeds := func(center string) (rear, front *exact.Number, tr *Trace) {
		t.Helper()
		tr = run(t, d, driveline.State{Select: linetest.Set("case.center", center),
			Wheels: map[string]string{"rear_left": "lifted", "rear_right": "lifted", "front_left": "lifted",
				"front_right": "lifted"}, Hold: []string{"front.left", "front.right"}})
		for _, s := range tr.Shafts {
			switch s.ID {
			case "case.rear":
				rear = s.Speed
			case "case.front":
				front = s.Speed
			}
		}
		return rear, front, tr
	}
	// Front held: rear only doesn't mind; the open center makes up for it; the
	// locked one can't.
	rear, front, tr := speeds("two_wheel")
	if rear == nil || rear.IsZero() || front == nil || !front.IsZero() || len(tr.Binds) > 0 {
		t.Fatalf("rear only: rear %v, front %v, %d binds", rear, front, len(tr.Binds))
	}
	plain := *rear
	if rear, _, _ = speeds("open"); rear == nil || !rear.Equal(plain.Mul(exact.New(110, 66))) {
		t.Errorf("open with the front held: %v, want 110/66 of %v", rear, plain)
	}
	if _, _, tr = speeds("locked"); len(tr.Binds) == 0 {
		t.Error("locked with the front held turns")
	}
	// Traction: rear only drives two wheels.
	d.Parts[0].Engine.TorqueNM = 0
	linetest.Part(t, d, "rear").Axle.Differential = driveline.Differential{Type: "open"}
	g := grip.Grip{Default: 0.5, LoadsN: map[string]float64{"rear_left": 5000, "rear_right": 5000, "front_left": 5000, "front_right": 5000}}
	for center, want := range map[string]float64{"two_wheel": 5000, "locked": 10000} {
		got, err := grip.Pull(d, driveline.State{Select: linetest.Set("case.center", center)}, g)
		if err != nil || got.TotalN < want-1e-6 || got.TotalN > want+1e-6 {
			t.Errorf("%s: %+v %v, want %v", center, got, err, want)
		}
	}
	for _, center := range []string{"part_time", "solid"} {
		c.Type = center
		var list fault.Errors
		if err := d.Check(); !errors.As(err, &list) {
			t.Errorf("%s with a rear-only position was taken", center)
		}
	}
}

// A half shaft that is let go frees its differential: nothing passes, and the
// ring need not turn.
func TestDisconnect(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	linetest.Part(t, d, "front").Axle.Disconnect = "right"
	if err := d.Check(); err != nil {
		t.Fatal(err)
	}
	g := grip.Grip{Default: 0.5, LoadsN: map[string]float64{"rear_left": 5000, "rear_right": 5000, "front_left": 5000, "front_right": 5000}}
	d.Parts[0].Engine.TorqueNM = 0
	for side, want := range map[string]float64{"engaged": 10000, "free": 5000} {
		got, err := grip.Pull(d, driveline.State{Select: linetest.Set("case.center", "locked", "front.side", side)}, g)
		if err != nil || got.TotalN < want-1e-6 || got.TotalN > want+1e-6 {
			t.Errorf("%s: %+v %v", side, got, err)
		}
	}
	// Rolling in two-wheel drive with the half shaft free, the front propeller
	// shaft isn't bound to the road.
	tr := run(t, d, driveline.State{Select: linetest.Set("front.side", "free")})
	for _, s := range tr.Shafts {
		if s.ID == "front.ring" && s.State != "free" {
			t.Errorf("the front ring gear is %s", s.State)
		}
	}
	linetest.Part(t, d, "front").Axle.FreeHubs = true
	if d.Check() == nil {
		t.Error("hubs and a disconnect at one axle were taken")
	}
}

// A stub has a rating of its own, and can be the weakest link.
func TestStubIsTheWeakLink(t *testing.T) {
	d := linetest.Layout(t, "rear_drive")
	d.Parts[0].Engine.TorqueNM = 200
	for i := range d.Parts {
		d.Parts[i].RatedNM = 0
	}
	linetest.Part(t, d, "rear").RatedNM = 100000
	linetest.Part(t, d, "rear").Axle.StubNM = 500
	tr := run(t, d, driveline.State{Select: linetest.Set("gearbox", "1")})
	w := tr.WeakLink
	// 200 N·m × first gear × 4.1, half to each side.
	first := 36.0 / 17 * 39 / 21
	want := 200 * first * 4.1 / 2
	if w == nil || w.Part != "rear" || w.Rated != 500 || w.Torque < want-0.01 || w.Torque > want+0.01 {
		t.Errorf("%+v, want %v", w, want)
	}
}

func TestLimitedSlipIsChecked(t *testing.T) {
	for field, l := range map[string]driveline.Differential{
		"parts/0/axle/differential/slip":         {Type: "open", LimitedSlip: driveline.LimitedSlip{BreakawayNM: 50}},
		"parts/0/axle/differential/breakaway_nm": {Type: "limited_slip", LimitedSlip: driveline.LimitedSlip{Slip: "helical", BreakawayNM: 50}},
		"parts/0/axle/differential/viscous_nm":   {Type: "limited_slip", LimitedSlip: driveline.LimitedSlip{Slip: "clutches", ViscousNM: 50}},
	} {
		d := &driveline.Document{Format: driveline.Format, Lies: driveline.Bench,
			Parts: []driveline.Part{{ID: "a", Kind: "axle", Axle: &driveline.Axle{Ring: 41, Pinion: 10, Differential: l}}}}
		var list fault.Errors
		if err := d.Check(); !errors.As(err, &list) || list[0].Field != field {
			t.Errorf("%+v: %v, want %s", l, err, field)
		}
	}
}

// The gear of an upper set above its pinion instead of below turns everything
// behind it the other way, and changes no ratio.
func TestUpperGearOnTheOtherSide(t *testing.T) {
	signs := map[bool]map[string]int{}
	for _, above := range []bool{false, true} {
		var d driveline.Document
		for _, l := range driveline.Layouts() {
			if l.ID == "stern_drive" {
				d = l.Document
			}
		}
		for i := range d.Parts {
			if u := d.Parts[i].Upper; u != nil {
				c := *u
				c.Above = above
				d.Parts[i].Upper = &c
			}
		}
		if err := d.Check(); err != nil {
			t.Fatal(err)
		}
		tr, err := Run(&d, driveline.State{Select: map[string]string{"upper": "forward"}}, Want{})
		if err != nil {
			t.Fatal(err)
		}
		signs[above] = map[string]int{}
		for _, s := range tr.Shafts {
			signs[above][s.ID] = s.Sign
		}
	}
	turned := 0
	for id, s := range signs[false] {
		switch {
		case strings.HasPrefix(id, "engine") && signs[true][id] != s:
			t.Errorf("%s turns the other way", id)
		case strings.HasPrefix(id, "gearcase") && s != 0:
			if signs[true][id] != -s {
				t.Errorf("%s turns %d and %d", id, s, signs[true][id])
			}
			turned++
		}
	}
	if turned < 2 {
		t.Errorf("%d shafts of the gearcase were looked at", turned)
	}
}

// A stern drive with one propeller turns it by both its sets, ahead and astern,
// wherever the clutch sits, and pushes the right way; in neutral only what is
// before the clutch turns.
func TestSternDrivesOfOnePropeller(t *testing.T) {
	for id, shifts := range map[string]string{"stern_drive_single": "upper", "stern_drive_lower": "gearcase"} {
		d := linetest.Layout(t, id)
		ahead := run(t, d, driveline.State{Select: linetest.Set(shifts, "forward")})
		astern := run(t, d, driveline.State{Select: linetest.Set(shifts, "reverse")})
		a, b := ahead.shaft("prop.prop"), astern.shaft("prop.prop")
		if want := exact.New(19*15, 22*24); !a.Speed.Abs().Equal(want) || !b.Speed.Equal(a.Speed.Neg()) {
			t.Errorf("%s: ahead %v, astern %v, want %v either way", id, a.Speed, b.Speed, want)
		}
		if w := ahead.notes("wrong") + astern.notes("wrong"); w != "" {
			t.Errorf("%s: %s", id, w)
		}
		neutral := run(t, d, driveline.State{Select: linetest.Set(shifts, "neutral")})
		before := map[string]string{"upper": "free", "gearcase": "19/22"}[shifts]
		speeds(t, neutral, map[string]string{"prop.prop": "free", "drive.shaft": before})
	}
}
