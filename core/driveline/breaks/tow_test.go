package breaks

import (
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
)

func layoutNamed(t *testing.T, id string) driveline.Document {
	t.Helper()
	for _, l := range driveline.Layouts() {
		if l.ID == id {
			return l.Document
		}
	}
	t.Fatalf("no layout %q", id)
	return driveline.Document{}
}

func breakNamed(t *testing.T, d *driveline.Document, id string) Break {
	t.Helper()
	list := Of(d)
	i := slices.IndexFunc(list, func(b Break) bool { return b.ID == id })
	if i < 0 {
		t.Fatalf("no break %q", id)
	}
	return list[i]
}

// The speedometer tells on which side of its take-off a driveline is broken.
func TestSpeedometerTellsTheSide(t *testing.T) {
	d := layoutNamed(t, "rear_drive")
	see, err := See(&d, driveline.State{})
	if err != nil {
		t.Fatal(err)
	}
	watch := see.Watched()
	if !slices.Equal(watch, []string{TheVehicle, Speedometer}) {
		t.Fatalf("%v", watch)
	}
	for id, want := range map[string][]string{
		"open clutch.clutch":        {Stays, Stays},   // ahead of it
		"open gearbox.constant":     {Stays, Stays},   // ahead of it
		"split gearbox.out":         {Stays, Follows}, // the drive gear sits before the spline
		"open prop.joint":           {Stays, Follows},
		"open rear.final":           {Stays, Follows},
		"open rear.differential":    {Stays, Follows},
		"open rear_left.half shaft": {Stays, Follows},
		"reverse rear.final":        {Opposite, Follows}, // a needle tells no direction
		"held rear_left.wheel":      {Locked, Stays},
		"open gearbox.select 3":     {Follows, Follows}, // first gear is in
		"open gearbox.gear R":       {Follows, Follows},
	} {
		got, err := see.Broken([]Break{breakNamed(t, &d, id)}, watch)
		if err != nil || !slices.Equal(got, want) {
			t.Errorf("%s: %v, want %v, %v", id, got, want, err)
		}
	}
	// Where a hand turns a shaft, nobody looks at the speedometer; a boat has none.
	hand, err := See(&d, driveline.State{Wheels: map[string]string{"rear_left": "lifted", "rear_right": "lifted"},
		Input: &driveline.Input{Shaft: "prop.shaft"}})
	if err != nil || slices.Contains(hand.Watched(), Speedometer) {
		t.Errorf("%v %v", hand.Watched(), err)
	}
	boat := layoutNamed(t, "outboard")
	at, err := See(&boat, driveline.State{})
	if err != nil || slices.Contains(at.Watched(), Speedometer) {
		t.Errorf("%v %v", at.Watched(), err)
	}
	if see.Name(Speedometer) != "the speedometer" || see.Name(TheVehicle) != "the vehicle" {
		t.Errorf("%q %q", see.Name(Speedometer), see.Name(TheVehicle))
	}
}

// A spline that turns in its bore lets go of everything behind it, and of nothing
// before it.
func TestStrippedSpline(t *testing.T) {
	d := layoutNamed(t, "part_time")
	b := breakNamed(t, &d, "split gearbox.out")
	if b.Part != "gearbox" || !strings.Contains(b.Name, "stripped gearbox output spline") {
		t.Errorf("%+v", b)
	}
	lifted := map[string]string{"rear_left": "lifted", "rear_right": "lifted", "front_left": "lifted", "front_right": "lifted"}
	see, err := See(&d, driveline.State{Wheels: lifted})
	if err != nil {
		t.Fatal(err)
	}
	watch := see.Watched()
	whole, err := see.Broken(nil, watch)
	if err != nil {
		t.Fatal(err)
	}
	got, err := see.Broken([]Break{b}, watch)
	if err != nil {
		t.Fatal(err)
	}
	for i, w := range watch {
		if whole[i] == Follows && got[i] != Stays {
			t.Errorf("%s %s behind a stripped spline", w, got[i])
		}
	}
	// The other way round, turned at the propeller shaft, the case turns as ever.
	back, err := See(&d, driveline.State{Wheels: lifted, Select: map[string]string{"gearbox": "N"},
		Input: &driveline.Input{Shaft: "rear_prop.shaft"}})
	if err != nil {
		t.Fatal(err)
	}
	watch = back.Watched()
	whole, _ = back.Broken(nil, watch)
	if got, err := back.Broken([]Break{b}, watch); err != nil || !slices.Equal(got, whole) {
		t.Errorf("%v, whole %v, %v", got, whole, err)
	}
}

// Every way of towing is told in words that fit it.
func TestTowSays(t *testing.T) {
	for _, c := range []struct {
		layout, on   string
		turns, noOil []string
		turnsNot     string
	}{
		{"rear_drive", "rear wheels on the road", []string{"rear axle", "driveshaft", "gearbox"}, []string{"gearbox"}, ""},
		{"part_time", "rear wheels on the road, front lifted", []string{"rear axle", "rear driveshaft", "transfer case"},
			[]string{"transfer case"}, "front axle"},
		{"part_time", "front wheels on the road, rear lifted", []string{"front axle", "front driveshaft"}, nil, "rear axle"},
	} {
		d := layoutNamed(t, c.layout)
		list, err := Tow(&d, nil)
		if err != nil {
			t.Fatal(err)
		}
		i := slices.IndexFunc(list, func(w Towed) bool { return w.On == c.on })
		if i < 0 {
			t.Errorf("%s: no %q in %+v", c.layout, c.on, list)
			continue
		}
		w := list[i]
		for _, part := range c.turns {
			if !slices.Contains(w.Turns, part) {
				t.Errorf("%s, %s: the %s does not turn: %v", c.layout, c.on, part, w.Turns)
			}
		}
		for _, part := range c.noOil {
			if !slices.Contains(w.NoOil, part) || !strings.Contains(w.Sentence, "gets no oil") {
				t.Errorf("%s, %s: nothing is said of the oil of the %s: %s", c.layout, c.on, part, w.Sentence)
			}
		}
		if c.turnsNot != "" && slices.Contains(w.Turns, c.turnsNot) {
			t.Errorf("%s, %s: the %s turns", c.layout, c.on, c.turnsNot)
		}
	}
	// With a seized wheel it doesn't roll on that end.
	d := layoutNamed(t, "rear_drive")
	list, err := Tow(&d, []Break{breakNamed(t, &d, "held rear_left.wheel")})
	if err != nil || len(list) != 1 || !list[0].Locked || !strings.Contains(list[0].Sentence, "does not roll") {
		t.Errorf("%+v %v", list, err)
	}
}
