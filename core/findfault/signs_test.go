package findfault

import (
	"math"
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
)

// sign is a sign that was looked for.
func seen(id, part, says string) Evidence { return Evidence{Sign: id, Part: part, Says: says} }

// came is what a unit was brought in for.
func came(id, part string) Evidence {
	return Evidence{Sign: id, Part: part, Says: Yes, Complaint: true}
}

func measured(id, part string, v float64) Evidence { return Evidence{Sign: id, Part: part, Value: &v} }

// Stories of what is heard, felt, smelled and measured, each with who must lead.
func TestStoriesOfSigns(t *testing.T) {
	part, rear, boat := layout(t, "part_time"), layout(t, "rear_drive"), layout(t, "outboard")
	slip := layout(t, "rear_drive")
	for i := range slip.Parts {
		if a := slip.Parts[i].Axle; a != nil {
			a.Differential.Type = "limited_slip"
		}
	}
	chain := layout(t, "part_time")
	drives := vehicle(breaks.Follows)
	for name, c := range map[string]struct {
		d        driveline.Document
		evidence []Evidence
		sort     string
		part     string
	}{
		"a hum with speed, and the wheel rocks": {rear, []Evidence{drives, came("hums", ""),
			seen("rocks", "rear_left", Yes)}, "wheel_bearing", "rear_left"},
		"a hub much hotter than its mate": {rear, []Evidence{drives, came("hums", ""),
			measured("hot_hub", "rear_right", 45)}, "wheel_bearing", "rear_right"},
		"one gear clashes, timed shifts cure it":       {rear, []Evidence{drives, came("clash_one", "gearbox")}, "synchro", "gearbox"},
		"every gear clashes, reverse most":             {rear, []Evidence{drives, came("clash_all", "gearbox")}, "drag", "clutch"},
		"growls in neutral, still with the pedal down": {rear, []Evidence{drives, came("neutral_noise", "gearbox")}, "box_bearing", "gearbox"},
		"heard only with the pedal down":               {rear, []Evidence{drives, came("pedal_noise", "clutch")}, "release", "clutch"},
		"speeds up and smells burnt": {rear,
			[]Evidence{vehicle(breaks.Stays), came("revs", ""), came("burnt", "")}, "clutch", "clutch"},
		"a clunk, and rust dust at a cap": {rear, []Evidence{drives, came("clunk", ""),
			seen("joint_play", "prop", Yes)}, "joint", "prop"},
		"the engine lifts as it takes up load": {rear, []Evidence{drives, came("clunk", ""),
			seen("lifts", "gearbox", Yes)}, "mount", "gearbox"},
		"oil at the pinion":          {rear, []Evidence{drives, came("leak_yoke", "rear")}, "pinion_seal", "rear"},
		"milky oil after deep water": {rear, []Evidence{drives, came("milky", "rear")}, "breather", "rear"},
		"one wheel spins with plates that should hold": {slip, []Evidence{drives, came("spins", "rear"),
			seen("breakaway", "rear", Yes)}, "plates", "rear"},
		"a motor that is not heard to move": {part,
			[]Evidence{drives, vehicle(breaks.Stays, "case.center", "locked", "case.range", "low"),
				seen("motor_dead", "case", Yes)}, "actuation", "case"},
		"jumps with a crack under a hard pull": {chain, []Evidence{drives, came("skips", "")}, "chain_worn", "case"},
		"the speedometer is dead though it drives": {rear,
			[]Evidence{drives, {Seen: []Seen{{breaks.Speedometer, breaks.Stays}}}}, "speedometer", "gearbox"},
		"other tires since, and they roll out unequal": {part,
			[]Evidence{vehicle(breaks.Locked, "case.center", "locked"), came("since_tires", ""), seen("rollouts", "", Yes)},
			"tires", "front"},
		"it stalls out of reverse and the cable is stiff":     {boat, []Evidence{came("stalls_reverse", "gearcase"), seen("cable_stiff", "gearcase", Yes)}, "shift_cable", "gearcase"},
		"it stalls, cable free, the shaft is stiff":           {boat, []Evidence{came("stalls_reverse", "gearcase"), seen("cable_stiff", "gearcase", No), seen("shaft_stiff", "gearcase", Yes)}, "shift_seal", "gearcase"},
		"it pops out and the stroke is full":                  {boat, []Evidence{came("pops", "gearcase"), seen("short_travel", "gearcase", No)}, "rounded", "gearcase"},
		"it pops out and the stroke is short":                 {boat, []Evidence{came("pops", "gearcase"), seen("short_travel", "gearcase", Yes)}, "cable_phase", "gearcase"},
		"it grinds and idles high":                            {boat, []Evidence{came("grinds", "gearcase"), seen("idle_high", "gearcase", Yes)}, "idle", "gearcase"},
		"hot, weak stream, screens covered":                   {boat, []Evidence{came("overheats", ""), came("weak", ""), seen("screens", "", Yes)}, "screens", "gearcase"},
		"hot, no stream at all":                               {boat, []Evidence{came("overheats", ""), seen("no_stream", "", Yes), seen("screens", "", No), seen("since_work", "", No)}, "impeller_key", "gearcase"},
		"a weak stream that a wire brings back":               {boat, []Evidence{came("weak", ""), seen("wire", "", Yes)}, "telltale", "gearcase"},
		"water in the oil, line behind the propeller":         {boat, []Evidence{came("milky", "gearcase"), seen("line", "gearcase", Yes)}, "prop_seal", "gearcase"},
		"water in the oil, bubbles at the vent screw":         {boat, []Evidence{came("milky", "gearcase"), seen("bubbles_drain", "gearcase", Yes)}, "drain_gasket", "gearcase"},
		"speeds up under load, and the mark comes apart":      {boat, []Evidence{came("revs", ""), seen("hub_mark", "prop", Yes)}, "hub", "prop"},
		"an offset gear was put on the wrong way":             {layout(t, "full_time"), []Evidence{drives, came("since_work", ""), came("whine_drive", "case"), seen("metal", "case", Yes)}, "backward", "case"},
		"the limited slip is well: an open one spins a wheel": {rear, []Evidence{drives, came("spins", "rear")}, "", ""},
	} {
		a := find(t, Question{Driveline: c.d, Evidence: c.evidence})
		top := a.Suspects[0]
		if c.sort != "" && (top.Sort != c.sort || top.Part != c.part) {
			t.Errorf("%s: %s of %s leads: %s", name, top.Sort, top.Part, a.Sentence)
		}
		if c.sort == "" && (a.Settled || len(a.Normal) == 0) {
			t.Errorf("%s: %s, normal %v", name, a.Sentence, a.Normal)
		}
	}
}

// What is normal for a build says little, and is said.
func TestNormalForABuild(t *testing.T) {
	straight, hypoid := layout(t, "rear_drive"), layout(t, "rear_drive")
	for i := range straight.Parts {
		if a := straight.Parts[i].Axle; a != nil {
			a.Cut = "straight"
			hypoid.Parts[i].Axle.Offset = true
		}
	}
	e := []Evidence{vehicle(breaks.Follows), came("whine_drive", "rear")}
	s, h := find(t, Question{Driveline: straight, Evidence: e, Why: "set_up rear"}), find(t, Question{Driveline: hypoid, Evidence: e, Why: "set_up rear"})
	if len(s.Normal) != 1 || !strings.Contains(s.Normal[0], "by nature") || len(h.Normal) != 0 {
		t.Errorf("%v and %v", s.Normal, h.Normal)
	}
	if s.Asked.Probability > h.Asked.Probability/3 {
		t.Errorf("a whine speaks for its set-up as much in straight gears: %v and %v", s.Asked.Probability, h.Asked.Probability)
	}
}

// "Don't know" to a sign counts for nothing; answers that contradict are told.
func TestSignsAnswered(t *testing.T) {
	d := layout(t, "rear_drive")
	q := Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Follows), came("hums", "")}}
	a := find(t, q)
	q.Evidence = append(slices.Clone(q.Evidence), seen("rocks", "rear_left", DontKnow))
	if b := find(t, q); b.Suspects[0].Probability != a.Suspects[0].Probability {
		t.Errorf("%v and %v", a.Suspects[0], b.Suspects[0])
	}
	q.Evidence = append(q.Evidence, seen("rocks", "rear_left", Yes), seen("rocks", "rear_left", No))
	if b := find(t, q); len(b.Clashes) != 1 || !strings.Contains(b.Clashes[0], "answered differently") {
		t.Errorf("%v", b.Clashes)
	}
}

// What is measured speaks the more, the farther it is from what is usual.
func TestMeasuredSigns(t *testing.T) {
	d := layout(t, "rear_drive")
	last := 0.0
	for _, warm := range []float64{0, 10, 20, 30, 40} {
		a := find(t, Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Follows), came("hums", ""),
			measured("hot_hub", "rear_left", warm)}, Why: "wheel_bearing rear_left"})
		if a.Asked.Probability <= last {
			t.Errorf("%v degrees: %v after %v", warm, a.Asked.Probability, last)
		}
		last = a.Asked.Probability
	}
	usual := find(t, Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Follows), came("clunk", ""),
		measured("play", "prop", 4)}, Why: "side_wear rear"})
	much := find(t, Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Follows), came("clunk", ""),
		measured("play", "prop", 30)}, Why: "side_wear rear"})
	if much.Asked.Probability < 2*usual.Asked.Probability {
		t.Errorf("much play %v, usual play %v", much.Asked.Probability, usual.Asked.Probability)
	}
	if math.IsNaN(much.Asked.Probability) {
		t.Error("not a number")
	}
}

func TestRefusesSigns(t *testing.T) {
	d := layout(t, "rear_drive")
	far, nan := 1e9, math.NaN()
	for field, e := range map[string]Evidence{
		"evidence/0/sign":  {Sign: "moonlight", Says: Yes},
		"evidence/0/part":  {Sign: "rocks", Part: "moon", Says: Yes},
		"evidence/0/says":  {Sign: "hums", Says: "perhaps"},
		"evidence/0/value": {Sign: "hot_hub", Part: "rear_left", Value: &far},
	} {
		if _, err := Find(t.Context(), Question{Driveline: d, Evidence: []Evidence{e}}); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("%s: %v", field, err)
		}
	}
	for _, e := range []Evidence{
		{Sign: "hot_hub", Part: "rear_left", Value: &nan}, {Sign: "hums", Value: &far}, {Sign: "hot_hub", Part: "rear_left", Value: &far, Says: Yes}, {Says: Yes}, {Complaint: true},
		{Sign: "hums", Says: Yes, Seen: []Seen{{breaks.TheVehicle, breaks.Stays}}},
		{Sign: "hums", Says: Yes, State: driveline.State{Hold: []string{"prop.shaft"}}},
	} {
		if _, err := Find(t.Context(), Question{Driveline: d, Evidence: []Evidence{e}}); err == nil {
			t.Errorf("taken: %+v", e)
		}
	}
}

// Every sign of every layout is explained by some fault, every sort is whole,
// and every chance lies between 0 and 1.
func TestTheTable(t *testing.T) {
	used := map[string]bool{}
	for _, l := range driveline.Layouts() {
		m, err := NewModel(l.Document)
		if err != nil {
			t.Fatal(err)
		}
		for _, f := range m.faults {
			s, ok := sorts[f.Sort]
			if !ok || s.prior <= 0 || s.how == "" || s.next == "" || s.open == "" || s.minutes <= 0 || len(s.ready) == 0 {
				t.Errorf("%s: %s is not whole", l.ID, f.Sort)
			}
			used[f.Sort] = true
			for id, p := range f.signs {
				if p <= 0 || p >= 1 {
					t.Errorf("%s: %s in %v", f.Sort, id, p)
				}
			}
		}
		rows, err := Table(&l.Document)
		if err != nil {
			t.Fatal(err)
		}
		for _, r := range rows {
			if r.Words == "" || strings.Contains(r.Words+r.Ask, "%") || r.Usual <= 0 || r.Usual >= 1 || len(r.Faults) == 0 || r.Ask != "" && r.Minutes <= 0 {
				t.Errorf("%s: %+v", l.ID, r)
			}
			for _, f := range r.Faults {
				if f.Chance <= r.Usual || f.Chance > 1 {
					t.Errorf("%s: %s in %v, usual %v", r.ID, f.Name, f.Chance, r.Usual)
				}
			}
		}
	}
	for id, s := range sorts {
		for name := range signsOf(id) {
			if !slices.ContainsFunc(signs, func(x sign) bool { return x.id == name }) {
				t.Errorf("%s brings %q, which is no sign", id, name)
			}
		}
		if !used[id] && id != "plates" {
			t.Errorf("%s is in no layout (prior %v)", id, s.prior)
		}
	}
}

// A leak at an axle says nothing of another part.
func TestSignsStayWithTheirPart(t *testing.T) {
	d := layout(t, "part_time")
	a := find(t, Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Follows), came("leak_yoke", "front")}, Why: "pinion_seal rear"})
	if a.Suspects[0].ID != "pinion_seal front" || a.Asked.Probability > 0.05 {
		t.Errorf("%s; the rear %v", a.Sentence, a.Asked.Probability)
	}
}
