package trace

import (
	"encoding/json"
	"errors"
	"math"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/linetest"
	"zorvel/core/exact"
	"zorvel/core/fault"
)

func run(t testing.TB, d *driveline.Document, s driveline.State) *Trace {
	t.Helper()
	if err := d.Check(); err != nil {
		t.Fatal(err)
	}
	tr, err := Run(d, s, Want{})
	if err != nil {
		t.Fatal(err)
	}
	return tr
}

func (t *Trace) shaft(id string) ShaftOut {
	for _, s := range t.Shafts {
		if s.ID == id {
			return s
		}
	}
	return ShaftOut{State: "missing"}
}

func (t *Trace) output(part string) OutputOut {
	for _, o := range t.Outputs {
		if o.Part == part {
			return o
		}
	}
	return OutputOut{ShareWords: "missing"}
}

func (t *Trace) notes(kind string) string {
	var out []string
	for _, n := range t.Notes {
		if n.Kind == kind {
			out = append(out, n.Text)
		}
	}
	return strings.Join(out, "\n")
}

// speeds checks multiples: "20/41", "free", "unknown".
func speeds(t *testing.T, tr *Trace, want map[string]string) {
	t.Helper()
	for id, w := range want {
		s := tr.shaft(id)
		got := s.State
		if s.Speed != nil {
			got = s.Speed.String()
		}
		if got != w {
			t.Errorf("%s: %s, want %s (%s)", id, got, w, s.Why)
		}
	}
}

// Every layout drives forward in its first position, says nothing is wrong,
// and loses no power; blanked, it still runs and says what is missing.
func TestEveryLayout(t *testing.T) {
	if n := len(driveline.Layouts()); n < 12 {
		t.Fatalf("only %d layouts", n)
	}
	for _, l := range driveline.Layouts() {
		t.Run(l.ID, func(t *testing.T) {
			d := l.Document
			tr, err := Run(&d, driveline.State{}, Want{Gears: true, Shifts: true, Tests: true})
			if err != nil {
				t.Fatal(err)
			}
			if tr.Overall == nil && d.Lies != driveline.Bench {
				t.Fatalf("no overall ratio: %s", tr.Sentence)
			}
			if s := tr.notes("wrong") + tr.notes("caution"); s != "" {
				t.Errorf("the ready layout is at fault: %s", s)
			}
			for _, o := range tr.Outputs {
				if s := tr.shaft(o.Shaft); o.Kind == "wheel" && s.Sign != 1 {
					t.Errorf("%s %s", o.Name, s.Direction)
				}
			}
			for _, g := range tr.Gears {
				if g.Overall == nil || g.Formula == "" {
					t.Errorf("gear %s %s: %s", g.Name, g.Range, g.Missing)
				}
			}
			if len(tr.Tests) == 0 {
				t.Error("no hand test")
			}
			lossless(t, tr)
			b := d.Blank()
			if err := b.Check(); err != nil {
				t.Fatal(err)
			}
			tr, err = Run(&b, driveline.State{}, Want{Gears: true, Shifts: true, Tests: true})
			if err != nil {
				t.Fatal(err)
			}
			if l.ID != "loose_case" && len(tr.Unknown) == 0 {
				t.Error("a blank layout knows everything")
			}
			// What comes out as JSON comes back.
			js, err := json.Marshal(d)
			if err != nil {
				t.Fatal(err)
			}
			back, err := driveline.Parse(js)
			if err != nil {
				t.Fatal(err)
			}
			again, _ := json.Marshal(back)
			if string(js) != string(again) {
				t.Errorf("the document changed:\n%s\n%s", js, again)
			}
		})
	}
}

// lossless: what arrives at the known ends is the power that went in.
func lossless(t *testing.T, tr *Trace) {
	t.Helper()
	sum := exact.Number{}
	for _, o := range tr.Outputs {
		s := tr.shaft(o.Shaft)
		if s.Torque == nil || s.Speed == nil {
			return
		}
		sum = sum.Add(s.Torque.Mul(s.Speed.Abs()))
	}
	if len(tr.Binds) == 0 && !tr.Stands && !sum.Equal(one) {
		t.Errorf("power out %v per power in", sum)
	}
}

func TestLooseAxleByHand(t *testing.T) {
	d := linetest.Layout(t, "loose_axle")
	// One side held: ten turns of the pinion turn the other 2 × 10 × 10/41.
	tr := run(t, d, driveline.State{Input: linetest.Turned("rear.in", 10), Hold: []string{"rear.left"}})
	speeds(t, tr, map[string]string{"rear.right": "20/41", "rear.left": "0", "rear.ring": "10/41"})
	if got := tr.shaft("rear.right").Turns.String(); got != "200/41" {
		t.Errorf("right side makes %s turns, want 200/41", got)
	}
	if o := tr.Outputs[1]; o.Share.String() != "1/2" || tr.Outputs[0].Share.String() != "1/2" || tr.Outputs[0].ShareWords != "50 % of the torque into what holds it; no power, it stands still" || o.ShareWords != "50 % of the torque, and all of the power" || tr.shaft("rear.right").Torque.String() != "41/20" {
		t.Errorf("held side %q, free side %v", tr.Outputs[0].ShareWords, o.Share)
	}
	// Both free: only their sum is known; drawn alike.
	tr = run(t, d, driveline.State{})
	speeds(t, tr, map[string]string{"rear.right": "free", "rear.left": "free"})
	if s := tr.shaft("rear.right"); math.Abs(s.Drawn-10.0/41) > 1e-12 || !strings.Contains(s.Why, "drags less") {
		t.Errorf("%+v", s)
	}
	// Input held: the sides turn opposite ways.
	tr = run(t, d, driveline.State{Input: linetest.Turned("rear.left", 1), Hold: []string{"rear.in"}})
	speeds(t, tr, map[string]string{"rear.right": "-1", "rear.ring": "0"})
	// A spool turns both sides, and held on one side nothing turns.
	linetest.Part(t, d, "rear").Axle.Differential.Type = "spool"
	tr = run(t, d, driveline.State{})
	speeds(t, tr, map[string]string{"rear.right": "10/41", "rear.left": "10/41"})
	tr = run(t, d, driveline.State{Hold: []string{"rear.left"}})
	if len(tr.Binds) != 1 || !tr.Binds[0].Held || !strings.HasPrefix(tr.Sentence, "Nothing can turn") {
		t.Errorf("%s %+v", tr.Sentence, tr.Binds)
	}
}

func TestPartTime(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	first := exact.New(39, 21).Mul(exact.New(36, 17)) // countershaft: 39/21 × 36/17
	tr := run(t, d, driveline.State{})
	if got := *tr.shaft("gearbox.out").Ratio; !got.Equal(first) {
		t.Errorf("first gear %v, want %v", got, first)
	}
	want := first.Mul(exact.New(41, 10))
	if got := tr.Overall.Ratio; !got.Equal(want) {
		t.Errorf("overall %v, want %v", got, want)
	}
	// Straight ahead both wheels share alike; gears in mesh turn although
	// nothing uses them; the countershaft runs backward.
	if s := tr.output("rear_left").Share; s == nil || s.String() != "1/2" {
		t.Errorf("share %v", s)
	}
	speeds(t, tr, map[string]string{"gearbox.counter": "-7/13", "case.carrier": first.Inv().Mul(exact.New(42, 114)).String()})

	t.Run("low with its interlock", func(t *testing.T) {
		_, err := Run(d, driveline.State{Select: linetest.Set("case.range", "low")}, Want{})
		var list fault.Errors
		if !errors.As(err, &list) || list[0].Field != "state/select/case.range" || !strings.Contains(list[0].Message, "interlock") {
			t.Errorf("low without the front: %v", err)
		}
		tr := run(t, d, driveline.State{Select: linetest.Set("case.range", "low", "case.center", "locked")})
		if got := tr.Overall.Ratio; !got.Equal(want.Mul(exact.New(114, 42))) {
			t.Errorf("overall in low %v", got)
		}
	})
	t.Run("37/9 against 41/10 locked", func(t *testing.T) {
		tr := run(t, d, driveline.State{Select: linetest.Set("case.center", "locked")})
		if len(tr.Binds) != 1 || tr.Binds[0].Mismatch.String() != "1/369" || tr.Binds[0].Cut != "case.lock" {
			t.Fatalf("%+v", tr.Binds)
		}
		if tr.shaft("front_left.wheel").State != "bind" || tr.shaft("engine.crank").State != "driven" {
			t.Error("the loop is marked wrongly")
		}
		if w := tr.output("rear_left").ShareWords; w != "set by grip" {
			t.Errorf("share %q", w)
		}
		if m := tr.Match; m.Level != "tolerated" || m.Mismatch.String() != "1/369" || !strings.Contains(m.Verdict, "winds up on dry pavement") {
			t.Errorf("%+v", m)
		}
	})
	t.Run("one wheel off the ground", func(t *testing.T) {
		tr := run(t, d, driveline.State{Wheels: linetest.Set("rear_left", "lifted")})
		carrier := want.Inv()
		speeds(t, tr, map[string]string{"rear_left.wheel": carrier.Mul(exact.Int(2)).String(), "rear_right.wheel": "0", "front_left.wheel": "0"})
		if !tr.Stands || tr.output("rear_right").ShareWords != "no torque arrives" || !strings.Contains(tr.notes("fact"), "rear left wheel is off the ground") {
			t.Errorf("%s %s", tr.Sentence, tr.notes("fact"))
		}
		tr = run(t, d, driveline.State{Wheels: linetest.Set("rear_left", "lifted"), Select: linetest.Set("rear.lock", "locked")})
		if tr.Stands || tr.output("rear_right").Share.String() != "1" {
			t.Errorf("locked: %s, share %v", tr.Sentence, tr.output("rear_right").Share)
		}
	})
	t.Run("flange turned by hand, engine stopped in gear", func(t *testing.T) {
		tr := run(t, d, driveline.State{Input: linetest.Turned("rear_prop.shaft", 1)})
		if len(tr.Binds) != 1 || !tr.Binds[0].Held {
			t.Errorf("the stopped engine does not hold the line: %s", tr.Sentence)
		}
		tr = run(t, d, driveline.State{Input: linetest.Turned("rear_prop.shaft", 1), Select: linetest.Set("gearbox", "N")})
		speeds(t, tr, map[string]string{"engine.crank": "0", "gearbox.out": "1", "rear_left.wheel": "10/41"})
	})
	t.Run("sheared shaft", func(t *testing.T) {
		tr := run(t, d, driveline.State{Broken: []string{"rear_prop"}})
		speeds(t, tr, map[string]string{"case.rear": first.Inv().String(), "rear_prop.shaft": "0"})
		if !tr.Stands || !strings.Contains(tr.notes("wrong"), "taken as broken") {
			t.Error(tr.Sentence, tr.notes("wrong"))
		}
	})
	t.Run("neutral and clutch", func(t *testing.T) {
		tr := run(t, d, driveline.State{Select: linetest.Set("gearbox", "N")})
		speeds(t, tr, map[string]string{"gearbox.counter": "-7/13", "gearbox.out": "0", "rear_left.wheel": "0"})
		if !strings.Contains(tr.notes("fact"), "turn with the input all the same") {
			t.Error(tr.notes("fact"))
		}
		tr = run(t, d, driveline.State{Select: linetest.Set("clutch", "open")})
		speeds(t, tr, map[string]string{"engine.crank": "1", "clutch.out": "0"})
	})
	t.Run("direct and reverse", func(t *testing.T) {
		tr := run(t, d, driveline.State{Select: linetest.Set("gearbox", "4")})
		if tr.shaft("gearbox.gear 1").Torque.Sign() != 0 || !strings.Contains(tr.notes("fact"), "no torque goes through gear teeth") {
			t.Errorf("direct: %s", tr.notes("fact"))
		}
		speeds(t, tr, map[string]string{"gearbox.out": "1"})
		// Reverse: 39/21 × 22/17 × 34/22, one mesh more than forward.
		tr = run(t, d, driveline.State{Select: linetest.Set("gearbox", "R")})
		if got := *tr.shaft("gearbox.out").Ratio; !got.Equal(exact.New(-39*34, 21*17)) || tr.shaft("rear_left.wheel").Direction != "rolls backward" {
			t.Errorf("reverse %v, %s", got, tr.shaft("rear_left.wheel").Direction)
		}
		if tr.notes("wrong") != "" {
			t.Errorf("reverse is called wrong: %s", tr.notes("wrong"))
		}
	})
}

func TestCenterDifferentials(t *testing.T) {
	// Ring 66, sun 44: 60 : 40.
	d := linetest.Layout(t, "asymmetric")
	tr := run(t, d, driveline.State{})
	for part, want := range map[string]string{"rear_left": "3/10", "front_left": "1/5"} {
		if s := tr.output(part).Share; s == nil || s.String() != want {
			t.Errorf("%s: %v, want %s", part, s, want)
		}
	}
	// Rear held on the bench of four lifted wheels: the front at 1/share.
	all := linetest.Set("rear_left", "lifted", "rear_right", "lifted", "front_left", "lifted", "front_right", "lifted")
	tr = run(t, d, driveline.State{Wheels: all, Hold: []string{"case.rear"}, Select: linetest.Set("gearbox", "3")})
	speeds(t, tr, map[string]string{"case.front": "5/2"})
	tr = run(t, d, driveline.State{Wheels: all, Hold: []string{"case.front"}, Select: linetest.Set("gearbox", "3")})
	speeds(t, tr, map[string]string{"case.rear": "5/3"})
	// Slipping converter: speed lost, torque not.
	tr = run(t, d, driveline.State{Select: linetest.Set("converter", "slipping", "gearbox", "3")})
	speeds(t, tr, map[string]string{"gearbox.out": "19/20"})
	if q := tr.shaft("gearbox.out").Torque; q == nil || !q.Equal(one) {
		t.Errorf("torque behind the converter %v", q)
	}
	// Gear-driven: open center shares in halves, one idler keeps direction.
	tr = run(t, linetest.Layout(t, "full_time"), driveline.State{})
	if s := tr.output("front_right").Share; s.String() != "1/4" || tr.shaft("front_prop.shaft").Sign != 1 {
		t.Errorf("share %v, front shaft %s", s, tr.shaft("front_prop.shaft").Direction)
	}
	tr = run(t, linetest.Layout(t, "full_time"), driveline.State{Select: linetest.Set("case.range", "low")})
	if got := tr.shaft("case.main").Speed.Div(*tr.shaft("gearbox.out").Speed).Inv(); !got.Equal(exact.New(40*45, 29*24)) {
		t.Errorf("cluster low %v", got)
	}
}

func TestStagesMultiply(t *testing.T) {
	d := linetest.Layout(t, "axle_low")
	tr := run(t, d, driveline.State{Select: linetest.Set("gearbox", "4")})
	if got := tr.Overall.Ratio; !got.Equal(exact.New(23*84, 10*24)) { // 2.3 × (1 + 60/24)
		t.Errorf("hub reduction: %v", got)
	}
	// Bevel 1.6 and planetary 2.75 is a 4.40 axle.
	d = linetest.Layout(t, "loose_axle")
	a := linetest.Part(t, d, "rear").Axle
	a.Ring, a.Pinion, a.Second = 32, 20, &driveline.SunRing{Sun: 32, Ring: 56}
	tr = run(t, d, driveline.State{Hold: []string{"rear.left"}})
	speeds(t, tr, map[string]string{"rear.carrier": "5/22", "rear.right": "5/11"})
	// Change gears: overall = base × pinion shaft teeth ÷ input shaft teeth.
	d = linetest.Layout(t, "change_gears")
	tr = run(t, d, driveline.State{Select: linetest.Set("gearbox", "4")})
	if got := tr.Overall.Ratio; !got.Equal(exact.New(38*21, 9*24)) {
		t.Errorf("change gears: %v", got)
	}
	// The set swapped: small on the input is shorter.
	linetest.Part(t, d, "rear").Axle.Change = &driveline.ChangeGears{Input: 21, Pinion: 24}
	if got := run(t, d, driveline.State{Select: linetest.Set("gearbox", "4")}).Overall.Ratio; !got.Equal(exact.New(38*24, 9*21)) {
		t.Errorf("swapped: %v", got)
	}
	// Portal hubs turn the direction around once more.
	tr = run(t, linetest.Layout(t, "portal"), driveline.State{})
	if tr.shaft("rear_left.wheel").Sign != 1 || tr.shaft("rear.left").Sign != -1 {
		t.Errorf("portal: axle %s, wheel %s", tr.shaft("rear.left").Direction, tr.shaft("rear_left.wheel").Direction)
	}
}

// A corner of 8 m to the left with track 1520 and wheelbase 2850: the rear
// wheels travel 7.24 and 8.76 for 8, exactly; the front ones by Pythagoras.
func TestCorner(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	tr := run(t, d, driveline.State{Corner: &driveline.Corner{RadiusM: 8, Toward: "left"},
		Input: &driveline.Input{RPM: 1000}, Select: linetest.Set("gearbox", "4")})
	left, right, ring := tr.shaft("rear_left.wheel"), tr.shaft("rear_right.wheel"), tr.shaft("rear.ring")
	if !left.Speed.Div(*ring.Speed).Equal(exact.New(724, 800)) || !right.Speed.Div(*ring.Speed).Equal(exact.New(876, 800)) {
		t.Errorf("left %v right %v carrier %v", left.Speed, right.Speed, ring.Speed)
	}
	for _, w := range tr.Corner.Wheels {
		want := map[string]float64{"rear_left": 7.24, "rear_right": 8.76, "front_left": math.Hypot(7.24, 2.85), "front_right": math.Hypot(8.76, 2.85)}[w.Part]
		if math.Abs(w.RadiusM-want) > 1e-6 {
			t.Errorf("%s at %v m, want %v", w.Part, w.RadiusM, want)
		}
	}
	// Spider gears: (876 − 724)/2/800 of the carrier's speed.
	if s := tr.Corner.Spiders[0]; s.Part != "rear" || math.Abs(math.Abs(s.Against.Float())-0.095) > 1e-12 || math.Abs(s.RPM-0.095*1000/4.1) > 1e-9 {
		t.Errorf("%+v", s)
	}
	mean := (math.Hypot(7.24, 2.85)+math.Hypot(8.76, 2.85))/2 - 8*369.0/370
	if want := mean * 2 * math.Pi; math.Abs(tr.Corner.SlipMPerCircle-want) > 1e-6 {
		t.Errorf("slip %v m, want %v", tr.Corner.SlipMPerCircle, want)
	}
	// Locked, the bind is the path difference and the gears' together.
	tr = run(t, d, driveline.State{Corner: &driveline.Corner{RadiusM: 8, Toward: "left"}, Select: linetest.Set("case.center", "locked")})
	want := (math.Hypot(7.24, 2.85)+math.Hypot(8.76, 2.85))/16*370/369 - 1
	if b := tr.Binds[0]; math.Abs(b.Mismatch.Float()-want) > 1e-8 {
		t.Errorf("bind %v, want %v", b.Mismatch.Float(), want)
	}
	// A spool binds in any corner, by itself.
	tr = run(t, linetest.Layout(t, "change_gears"), driveline.State{Corner: &driveline.Corner{RadiusM: 9, Toward: "right"}})
	if len(tr.Binds) != 1 || tr.Binds[0].Cut != "rear.lock" {
		t.Errorf("%+v", tr.Binds)
	}
	// Too tight a corner is refused at its field.
	_, err := Run(d, driveline.State{Corner: &driveline.Corner{RadiusM: 0.5, Toward: "left"}}, Want{})
	var list fault.Errors
	if !errors.As(err, &list) || list[0].Field != "state/corner/radius_m" {
		t.Error(err)
	}
}

func TestBoats(t *testing.T) {
	d := linetest.Layout(t, "outboard")
	tr := run(t, d, driveline.State{Input: &driveline.Input{RPM: 5400}})
	if s := tr.shaft("prop.prop"); s.Speed.String() != "-13/27" || s.Direction != "clockwise seen from behind" || math.Abs(*s.RPM+2600) > 1e-9 {
		t.Errorf("%v %s %v", s.Speed, s.Direction, *s.RPM)
	}
	tr = run(t, d, driveline.State{Select: linetest.Set("gearcase", "reverse")})
	if s := tr.shaft("prop.prop"); s.Direction != "counterclockwise seen from behind" || tr.notes("wrong") != "" {
		t.Errorf("reverse: %s %s", s.Direction, tr.notes("wrong"))
	}
	// Neutral: both gears turn opposite ways all the time, the shaft doesn't.
	tr = run(t, d, driveline.State{Select: linetest.Set("gearcase", "neutral")})
	speeds(t, tr, map[string]string{"gearcase.forward gear": "-13/27", "gearcase.reverse gear": "13/27", "prop.prop": "free"})
	// A left-hand propeller on this gearcase would push astern.
	linetest.Part(t, d, "prop").Propeller.Hand = "left"
	if w := run(t, d, driveline.State{}).notes("wrong"); !strings.Contains(w, "push astern") {
		t.Errorf("wrong hand: %q", w)
	}
	// Forward gear behind the pinion: the other hand.
	linetest.Part(t, d, "gearcase").Gearcase.Forward = "behind"
	if w := run(t, d, driveline.State{}).notes("wrong"); w != "" {
		t.Errorf("left hand fits now: %q", w)
	}
	tr = run(t, linetest.Layout(t, "stern_drive"), driveline.State{})
	a, b := tr.shaft("outer_prop.prop"), tr.shaft("inner_prop.prop")
	if !a.Speed.Equal(exact.New(-21*18, 26*28)) || !b.Speed.Equal(a.Speed.Neg()) || tr.output("inner_prop").ShareWords != "set by the water" {
		t.Errorf("twin propellers: %v %v %s", a.Speed, b.Speed, tr.output("inner_prop").ShareWords)
	}
	tr = run(t, linetest.Layout(t, "inboard"), driveline.State{Select: linetest.Set("gear", "astern")})
	if s := tr.shaft("prop.prop"); s.Speed.String() != "10/21" {
		t.Errorf("astern %v", s.Speed)
	}
}

// Ring and pinion in space. (Pinion, ring, mounting) → forward?
func TestDirections(t *testing.T) {
	for _, c := range []struct {
		at, side, mounting string
		forward            bool
	}{
		{"ahead", "left", "upright", true}, {"ahead", "right", "upright", false},
		{"behind", "right", "upright", true}, {"behind", "left", "upright", false},
		{"ahead", "left", "turned_over", false}, {"ahead", "right", "turned_over", true},
		{"ahead", "left", "end_for_end", true}, {"ahead", "right", "end_for_end", false},
	} {
		d := linetest.Layout(t, "rear_drive")
		p := linetest.Part(t, d, "rear")
		p.Axle.PinionAt, p.Axle.RingSide, p.Mounting, p.Axle.Cut = c.at, c.side, c.mounting, "straight"
		for _, hypoid := range []bool{false, true} {
			p.Axle.Offset = hypoid
			tr := run(t, d, driveline.State{})
			sign := tr.shaft("rear_left.wheel").Sign
			if (sign > 0) != c.forward {
				t.Errorf("%+v: sign %d", c, sign)
			}
			w := tr.notes("wrong")
			switch {
			case c.forward && w != "":
				t.Errorf("%+v: %s", c, w)
			case !c.forward && !hypoid && !strings.Contains(w, "can be moved to the other side"):
				t.Errorf("%+v: no cure offered: %q", c, w)
			case !c.forward && hypoid && !strings.Contains(w, "can't cure it"):
				t.Errorf("%+v: a cure that can't work is offered: %q", c, w)
			}
		}
	}
	// A front axle fed from behind with a standard cut runs on its coast side.
	d := linetest.Layout(t, "part_time")
	linetest.Part(t, d, "front").Axle.Cut = "standard"
	tr := run(t, d, driveline.State{Select: linetest.Set("case.center", "locked")})
	if c := tr.notes("caution"); !strings.Contains(c, "front axle runs on the coast side") {
		t.Errorf("no coast-side warning: %q", c)
	}
	// In reverse every set does; that is no news.
	tr = run(t, d, driveline.State{Select: linetest.Set("case.center", "locked", "gearbox", "R")})
	if c := tr.notes("caution"); c != "" {
		t.Errorf("in reverse: %q", c)
	}
	// Fed by a shaft that spins the other way, the axle drives backward.
	d = linetest.Layout(t, "rear_drive")
	linetest.Part(t, d, "engine").Engine.Rotation = "opposite"
	tr = run(t, d, driveline.State{})
	if !strings.Contains(tr.notes("wrong"), "backward") {
		t.Errorf("an engine turning the other way: %s", tr.Sentence)
	}
}

// What is not known stays unknown; what can be said is said.
func TestUnknownRatios(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	p := linetest.Part(t, d, "rear")
	p.Axle.Ring, p.Axle.Pinion = 0, 0
	tr := run(t, d, driveline.State{})
	s := tr.shaft("rear_left.wheel")
	if s.State != "unknown" || s.Direction != "rolls forward" || len(s.Depends) != 1 || s.Depends[0] != "rear axle" {
		t.Errorf("%+v", s)
	}
	if tr.shaft("case.rear").State != "driven" || tr.Overall != nil || tr.output("rear_left").ShareWords != "50 % of the drive force" {
		t.Errorf("%s; %s", tr.Sentence, tr.output("rear_left").ShareWords)
	}
	if tr.Match.Level != "unknown" || !strings.Contains(tr.Match.Do, "rear axle") {
		t.Errorf("%+v", tr.Match)
	}
	// Locked, nobody knows whether it binds.
	tr = run(t, d, driveline.State{Select: linetest.Set("case.center", "locked")})
	if len(tr.Binds) != 1 || !tr.Binds[0].Unknown || tr.Binds[0].Mismatch != nil {
		t.Errorf("%+v", tr.Binds)
	}
	// One wheel held, the other turned by hand: still exact whatever the ratio.
	tr = run(t, d, driveline.State{Input: linetest.Turned("rear_left.wheel", 1), Hold: []string{"rear_prop.shaft"},
		Wheels: linetest.Set("rear_left", "lifted", "rear_right", "lifted"), Select: linetest.Set("gearbox", "N")})
	speeds(t, tr, map[string]string{"rear_right.wheel": "-1"})
	for _, st := range tr.output("rear_left").Path {
		if st.Element == "rear.final" && st.Note == "" {
			t.Error("the unknown step is not marked")
		}
	}
}

func TestPathTellsItsProduct(t *testing.T) {
	d := linetest.Layout(t, "rear_drive")
	linetest.Part(t, d, "rear").Sources["ratio"] = driveline.Source{Kind: "measured", Probability: 0.98, Text: "Rear axle"}
	tr := run(t, d, driveline.State{})
	path := tr.output("rear_left").Path
	product := one
	for _, s := range path {
		if s.Ratio == nil {
			t.Fatalf("%s has no ratio", s.Element)
		}
		product = product.Mul(s.Ratio.Abs())
		if !s.Product.Abs().Equal(product) {
			t.Errorf("after %s: %v, running product %v", s.Element, s.Product, product)
		}
		if s.Element == "rear.final" && (s.Source == nil || s.Source.Probability != 0.98 || !strings.Contains(s.Words, "ring gear 41 on pinion 10")) {
			t.Errorf("%+v", s)
		}
	}
	if len(path) < 6 {
		t.Errorf("only %d steps", len(path))
	}
	if tr.SpeedKMH != nil {
		t.Error("a road speed without an engine speed")
	}
	// 3000 rpm: ÷ overall × 2.18 m.
	tr = run(t, d, driveline.State{Input: &driveline.Input{RPM: 3000}})
	if want := 3000 / tr.Overall.Ratio.Float() * 2.18 * 60 / 1000; math.Abs(*tr.SpeedKMH-want) > 1e-9 {
		t.Errorf("%v km/h, want %v", *tr.SpeedKMH, want)
	}
}

func TestWeakLinkAndLosses(t *testing.T) {
	d := linetest.Layout(t, "rear_drive")
	linetest.Part(t, d, "rear").RatedNM, linetest.Part(t, d, "gearbox").RatedNM = 900, 300
	tr := run(t, d, driveline.State{})
	first := 39.0 * 36 / 21 / 17
	if w := tr.WeakLink; w == nil || w.Part != "rear" || math.Abs(w.Torque-240*first) > 1e-9 || w.Used < 1 {
		t.Errorf("%+v", w)
	}
	tr = run(t, d, driveline.State{Losses: true, Select: linetest.Set("gearbox", "4")})
	// Direct, then one hypoid mesh of 0.95.
	if q := tr.shaft("rear.ring").Torque; !q.Equal(exact.New(41*95, 1000)) {
		t.Errorf("torque with losses %v", q)
	}
}

func TestPlanetChecks(t *testing.T) {
	d := &driveline.Document{Format: driveline.Format, Lies: driveline.Bench,
		Parts: []driveline.Part{{ID: "set", Kind: "planetary", Planetary: &driveline.Planetary{Sun: 24, Ring: 61,
			Planet: 18, Planets: 3}}}}
	w := run(t, d, driveline.State{}).notes("wrong")
	if !strings.Contains(w, "24 + 2 × 18 = 60, not 61") || !strings.Contains(w, "not divisible by 3") {
		t.Error(w)
	}
	*d.Parts[0].Planetary = driveline.Planetary{Sun: 24, Ring: 60, Planet: 18, Planets: 3}
	if w := run(t, d, driveline.State{}).notes("wrong"); w != "" {
		t.Error(w)
	}
	// Paired: ring − sun divisible.
	*d.Parts[0].Planetary = driveline.Planetary{Sun: 24, Ring: 61, Planets: 3, Paired: true}
	if w := run(t, d, driveline.State{}).notes("wrong"); !strings.Contains(w, "ring − sun (37)") {
		t.Error(w)
	}
	*d.Parts[0].Planetary = driveline.Planetary{Sun: 30, Ring: 60, TwoSpeed: true}
	for pos, want := range map[string]string{"high": "1", "low": "1/3", "N": "free"} {
		speeds(t, run(t, d, driveline.State{Select: linetest.Set("set", pos)}), map[string]string{"set.out": want})
	}
}

func TestTandem(t *testing.T) {
	d := linetest.Layout(t, "tandem")
	tr := run(t, d, driveline.State{})
	if s := tr.output("second_left").Share; s.String() != "1/4" || tr.Match.Level != "match" {
		t.Errorf("share %v, match %+v", s, tr.Match)
	}
	// Inter-locker with another pair in the second axle.
	linetest.Part(t, d, "second").Axle.Ring = 43
	tr = run(t, d, driveline.State{Select: linetest.Set("divider.lock", "locked")})
	if len(tr.Binds) != 1 || tr.Binds[0].Mismatch.String() != "2/41" && tr.Binds[0].Mismatch.String() != "-2/43" {
		t.Errorf("%+v", tr.Binds)
	}
	if tr.Match.Level != "caution" || tr.Match.Mismatch.String() != "2/41" {
		t.Errorf("%+v", tr.Match)
	}
	if tr := run(t, d, driveline.State{}); len(tr.Binds) != 0 {
		t.Error("an open divider binds")
	}
}

func TestFreeHubs(t *testing.T) {
	d := linetest.Layout(t, "part_time")
	linetest.Part(t, d, "front").Axle.FreeHubs = true
	tr := run(t, d, driveline.State{Select: linetest.Set("case.center", "locked", "front.hubs", "free")})
	if len(tr.Binds) != 0 || tr.output("rear_left").Share.String() != "1/2" {
		t.Errorf("free hubs: %s", tr.Sentence)
	}
}

// An upper set that is turned over, or turned end for end under the same shaft,
// turns the propeller the other way; the trace says so.
func TestUpperMounting(t *testing.T) {
	var d *driveline.Document
	for _, l := range driveline.Layouts() {
		for _, p := range l.Document.Parts {
			if p.Kind == "upper" && d == nil {
				d = linetest.Layout(t, l.ID)
			}
		}
	}
	if d == nil {
		t.Fatal("no layout has an upper set")
	}
	id, prop := "", ""
	for _, p := range d.Parts {
		switch p.Kind {
		case "upper":
			id = p.ID
		case "propeller":
			prop = p.ID
		}
	}
	ahead := driveline.State{Select: map[string]string{}}
	for _, s := range run(t, d, driveline.State{}).Selectors {
		for _, o := range s.Options {
			if o.Value == "forward" || o.Value == "ahead" {
				ahead.Select[s.ID] = o.Value
			}
		}
	}
	upright := run(t, d, ahead).shaft(prop + ".prop").Sign
	if upright == 0 {
		t.Fatal("the propeller isn't driven")
	}
	for _, mounting := range []string{"turned_over", "end_for_end"} {
		linetest.Part(t, d, id).Mounting = mounting
		if got := run(t, d, ahead).shaft(prop + ".prop").Sign; got != -upright {
			t.Errorf("%s: %d, upright %d", mounting, got, upright)
		}
	}
}
