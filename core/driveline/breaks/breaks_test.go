package breaks

import (
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/linetest"
)

// shown is what is watched when breaks of these IDs are in.
func shown(t *testing.T, d *driveline.Document, s driveline.State, ids ...string) map[string]string {
	t.Helper()
	see, err := See(d, s)
	if err != nil {
		t.Fatal(err)
	}
	var in []Break
	for _, id := range ids {
		i := slices.IndexFunc(Of(d), func(b Break) bool { return b.ID == id })
		if i < 0 {
			t.Fatalf("no break %q", id)
		}
		in = append(in, Of(d)[i])
	}
	watch := see.Watched()
	list, err := see.Broken(in, watch)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]string{}
	for i, w := range watch {
		out[w] = list[i]
	}
	return out
}

func upInTheAir(d *driveline.Document, turn string, set ...string) driveline.State {
	st := driveline.State{Select: map[string]string{}, Wheels: map[string]string{}, Input: &driveline.Input{Shaft: turn}}
	for i := 0; i+1 < len(set); i += 2 {
		st.Select[set[i]] = set[i+1]
	}
	for _, p := range d.Parts {
		if p.Kind == "wheel" {
			st.Wheels[p.ID] = driveline.Lifted
		}
	}
	return st
}

// Worked out by hand: what each break of a part-time truck does on the road.
func TestBreaksOnTheRoad(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	plain, four, low := driveline.State{}, driveline.State{Select: map[string]string{"case.center": "locked"}},
		driveline.State{Select: map[string]string{"case.center": "locked", "case.range": "low"}}
	for _, c := range []struct {
		id    string
		state driveline.State
		want  string
	}{
		// Behind the rear output: stands in two-wheel drive, the front drives it home.
		{"open rear_prop.joint", plain, Stays}, {"open rear_prop.joint", four, Follows},
		{"open rear_left.half shaft", plain, Stays}, {"open rear_left.half shaft", four, Follows},
		{"open rear.differential", plain, Stays}, {"open rear.differential", four, Follows},
		{"open rear.final", plain, Stays}, {"open rear.final", four, Follows},
		// At the front: nobody notices until four are wanted, and then the rear drives.
		{"open front_prop.joint", plain, Follows}, {"open front_prop.joint", four, Follows},
		// In the range: high stands, low goes, and the other way round.
		{"open case.high", plain, Stays}, {"open case.high", low, Follows},
		{"open case.low set", plain, Follows}, {"open case.low set", low, Stays},
		{"open case.ring held", plain, Follows}, {"open case.ring held", low, Stays},
		// Ahead of everything.
		{"open clutch.clutch", plain, Stays}, {"open clutch.clutch", four, Stays}, {"open clutch.clutch", low, Stays},
		{"open gearbox.constant", plain, Stays}, {"open gearbox.gear 1", plain, Stays}, {"open gearbox.gear 2", plain, Follows},
		// Another ratio in front winds up once it is engaged, and not before.
		{"ratio front.final", plain, Follows}, {"ratio front.final", four, Locked},
		// Turned over: backward; in four the ends fight.
		{"reverse rear.final", plain, Opposite}, {"reverse rear.final", four, Locked},
		// Seized.
		{"held rear_left.wheel", plain, Locked}, {"held front_left.wheel", plain, Locked},
		// Two gears at once lock the box.
		{"shut gearbox.select 2", plain, Locked}, {"shut case.lock", plain, Follows},
	} {
		if got := shown(t, d, c.state, c.id)[TheVehicle]; got != c.want {
			t.Errorf("%s with %v: %s, by hand %s", c.id, c.state.Select, got, c.want)
		}
	}
	if got := shown(t, d, four, "open rear_prop.joint", "open front_left.half shaft")[TheVehicle]; got != Stays {
		t.Errorf("both ends gone: %s", got)
	}
}

// By hand on stands: an open differential lets the broken side fall behind, the
// lock tells left from right, and a dead differential passes nothing.
func TestBreaksByHand(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	turn := func(set ...string) driveline.State {
		return upInTheAir(d, "rear_prop.shaft", append([]string{"gearbox", "N"}, set...)...)
	}
	for _, c := range []struct {
		id          string
		state       driveline.State
		left, right string
	}{
		{"open rear_left.half shaft", turn("rear.lock", "locked"), Stays, Follows},
		{"open rear_right.half shaft", turn("rear.lock", "locked"), Follows, Stays},
		{"open rear.lock", turn("rear.lock", "locked"), Stays, Stays}, // as open: either wheel may take it
		{"shut rear.lock", turn(), Follows, Follows},
		{"open rear.final", turn("rear.lock", "locked"), Stays, Stays},
		{"reverse rear.final", turn("rear.lock", "locked"), Opposite, Opposite},
		{"ratio rear.final", turn("rear.lock", "locked"), Slower, Slower},
		{"held rear_left.wheel", turn("rear.lock", "locked"), Locked, Locked},
		{"open rear.differential", turn("rear.lock", "locked"), Follows, Stays}, // the lock holds the left side to the carrier
	} {
		got := shown(t, d, c.state, c.id)
		if got["rear_left.wheel"] != c.left || got["rear_right.wheel"] != c.right {
			t.Errorf("%s with %v: left %s, right %s; by hand %s and %s", c.id, c.state.Select, got["rear_left.wheel"], got["rear_right.wheel"], c.left, c.right)
		}
	}
}

// The list follows the driveline: every break names a part that is there, once,
// in words; what it lacks is in none; and whole, everything is seen as it should.
func TestBreaksOfEveryLayout(t *testing.T) {
	for _, l := range driveline.Layouts() {
		d := l.Document
		seen, parts := map[string]bool{}, map[string]bool{}
		for _, p := range d.Parts {
			parts[p.ID] = true
		}
		list := Of(&d)
		if len(list) == 0 {
			t.Errorf("%s can't break", l.ID)
		}
		for _, b := range list {
			if seen[b.ID] || !parts[b.Part] || strings.TrimSpace(b.Name) != b.Name || b.Name == "" ||
				strings.Contains(b.Name, "  ") || strings.Contains(b.Name, "synchronizer") {
				t.Errorf("%s: %+v", l.ID, b)
			}
			seen[b.ID] = true
			if b.Sort == "spiders" && !strings.HasPrefix(b.ID, "open ") || b.Does == Seized && b.Sort != "brake" && b.Sort != "seized" {
				t.Errorf("%s: %+v", l.ID, b)
			}
		}
		for _, st := range Positions(&d) {
			see, err := See(&d, st)
			if err != nil {
				continue // an interlock
			}
			watch := see.Watched()
			whole, err := see.Broken(nil, watch)
			if err != nil {
				t.Fatal(err)
			}
			for i, does := range whole {
				if does == Opposite || does == Slower || see.Name(watch[i]) == "" {
					t.Errorf("%s, %v: whole, %s %s", l.ID, st.Select, watch[i], does)
				}
			}
		}
	}
	if _, err := See(linetest.Layout(t, "part_time"), driveline.State{Select: map[string]string{"warp": "9"}}); err == nil {
		t.Error("a lever that isn't there was taken")
	}
}

// What is seen is the same whether a break is put into the solved network or the
// whole is built anew, alone and in pairs, in every position of the levers.
func TestBrokenIsTheSameBuiltAnew(t *testing.T) {
	n := 0
	for _, l := range driveline.Layouts() {
		d := l.Document
		list := Of(&d)
		for _, st := range Positions(&d) {
			s, err := See(&d, st)
			if err != nil {
				continue
			}
			watch := s.Watched()
			for i, b := range list {
				for _, breaks := range [][]Break{{b}, {b, list[(i*7+3)%len(list)]}} {
					if len(breaks) == 2 && breaks[0].ID == breaks[1].ID {
						continue
					}
					got, err := s.Broken(breaks, watch)
					if err != nil {
						t.Fatal(err)
					}
					m := driveline.Build(&d, &st)
					spoil(m, breaks)
					r, err := m.Turning()
					if err != nil {
						t.Fatal(err)
					}
					for k, w := range watch {
						if want := s.seen(s.solved(r), w); got[k] != want {
							t.Errorf("%s %v with %v: %s %s, built anew %s", l.ID, st.Select, breaks, w, got[k], want)
						}
					}
					n++
				}
			}
		}
	}
	if n < 5000 {
		t.Errorf("only %d were tried", n)
	}
}
