package findfault

import (
	"encoding/json"
	"math"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/driveline/breaks"
	"zorvel/core/driveline/trace"
)

// A shock worked by hand: J·Δω/Δt at the input, its multiple at the stub; the
// multiples are those of the open differential with the other wheel standing.
func TestShockByHand(t *testing.T) {
	d := layout(t, "rear_drive")
	for i := range d.Parts {
		switch d.Parts[i].Kind {
		case "axle":
			d.Parts[i].RatedNM, d.Parts[i].Axle.StubNM = 9000, 2500
		case "engine":
			d.Parts[i].Engine.TorqueNM = 0
		}
	}
	q := ShockQuestion{Driveline: d, State: driveline.State{Select: map[string]string{"gearbox": "4"}}, Wheel: "rear_left", RPM: 600, StopS: 0.1, Inertia: 0.3}
	a, err := Shock(q)
	if err != nil {
		t.Fatal(err)
	}
	trace, err := trace.Run(&d, driveline.State{Select: q.State.Select, Wheels: map[string]string{"rear_left": "lifted"}}, trace.Want{})
	if err != nil {
		t.Fatal(err)
	}
	per := 0.0
	for _, sh := range trace.Shafts {
		if sh.ID == "rear_left.wheel" {
			per = math.Abs(sh.Speed.Float())
		}
	}
	input := 0.3 * 600 / per * 2 * math.Pi / 60 / 0.1
	if math.Abs(a.InputNM-input) > 0.6 || a.Slips {
		t.Errorf("%v at the input, by hand %v", a.InputNM, input)
	}
	stub := a.Loaded[0]
	if !strings.Contains(stub.Name, "stub") || math.Abs(stub.NM-input/per) > 1 || math.Abs(stub.Used-input/per/2500) > 0.001 {
		t.Errorf("%+v, by hand %v", stub, input/per)
	}
	// The clutch gives way first where it may.
	q.ClutchNM = input / 2
	if b, err := Shock(q); err != nil || !b.Slips || math.Abs(b.Loaded[0].NM-stub.NM/2) > 1 {
		t.Errorf("%+v %v", b, err)
	}
	// Twice as quickly is twice as hard; to half the speed is half.
	q.ClutchNM, q.StopS = 0, 0.05
	if b, err := Shock(q); err != nil || math.Abs(b.InputNM-2*input) > 1 {
		t.Errorf("%+v %v", b, err)
	}
	q.StopS, q.ToRPM = 0.1, 300
	if b, err := Shock(q); err != nil || math.Abs(b.InputNM-input/2) > 1 {
		t.Errorf("%+v %v", b, err)
	}
}

func TestShockSays(t *testing.T) {
	d := layout(t, "part_time")
	a, err := Shock(ShockQuestion{Driveline: d, Wheel: "rear_left", RPM: 500})
	if err != nil {
		t.Fatal(err)
	}
	if len(a.Typical) < 2 || len(a.Cautions) == 0 || !strings.Contains(a.Sentence, "500 rpm") {
		t.Errorf("%+v", a)
	}
	for field, q := range map[string]ShockQuestion{
		"rpm":           {Driveline: d, Wheel: "rear_left"},
		"to_rpm":        {Driveline: d, Wheel: "rear_left", RPM: 5, ToRPM: 6},
		"wheel":         {Driveline: d, Wheel: "moon", RPM: 5},
		"spins":         {Driveline: d, Wheel: "rear_left", RPM: 5, Spins: []string{"moon"}},
		"stop_s":        {Driveline: d, Wheel: "rear_left", RPM: 5, StopS: math.NaN()},
		"inertia":       {Driveline: d, Wheel: "rear_left", RPM: 5, Inertia: -1},
		"state/select/": {Driveline: d, Wheel: "rear_left", RPM: 5, State: driveline.State{Select: map[string]string{"warp": "9"}}},
		"driveline":     {Wheel: "rear_left", RPM: 5},
	} {
		if _, err := Shock(q); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("%s: %v", field, err)
		}
	}
	// In neutral nothing of the engine hangs on the wheel.
	if _, err := Shock(ShockQuestion{Driveline: d, Wheel: "rear_left", RPM: 5, State: driveline.State{Select: map[string]string{"gearbox": "N"}}}); err == nil {
		t.Error("a shock in neutral")
	}
}

func TestFirst(t *testing.T) {
	for name, c := range map[string]struct {
		broken []BrokenPart
		first  string
	}{
		"rings beside clean faces":       {[]BrokenPart{{"stub", Clean, 0}, {"spider", Beach, 0}}, "spider"},
		"two clean faces":                {[]BrokenPart{{"stub", Clean, 0}, {"ring", Clean, 0}}, ""},
		"one ran on broken":              {[]BrokenPart{{"stub", Polished, 0}, {"ring", Clean, 0}}, "stub"},
		"two with rings":                 {[]BrokenPart{{"stub", Beach, 0}, {"ring", Beach, 0}}, ""},
		"all struck but one":             {[]BrokenPart{{"spider", Clean, 0}, {"ring", Struck, 0}, {"pinion", Struck, 0}}, "spider"},
		"one not looked at":              {[]BrokenPart{{"stub", Beach, 0}, {"ring", Unseen, 0}}, ""},
		"noticed first":                  {[]BrokenPart{{"stub", Clean, 2}, {"ring", Clean, 1}}, "ring"},
		"faces and events disagree":      {[]BrokenPart{{"stub", Beach, 2}, {"ring", Clean, 1}}, ""},
		"faces and events agree":         {[]BrokenPart{{"stub", Beach, 1}, {"ring", Clean, 2}}, "stub"},
		"noticed, but not of all":        {[]BrokenPart{{"stub", Clean, 1}, {"ring", Clean, 0}}, ""},
		"rings beat a rub":               {[]BrokenPart{{"stub", Beach, 0}, {"ring", Polished, 0}}, "stub"},
		"nothing looked at, no order":    {[]BrokenPart{{"stub", Unseen, 0}, {"ring", Unseen, 0}}, ""},
		"two noticed at the same moment": {[]BrokenPart{{"stub", Clean, 1}, {"ring", Clean, 1}}, ""},
	} {
		a, err := First(FirstQuestion{c.broken})
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		if a.First != c.first || (a.First == "") != strings.Contains(a.Sentence, "Unknown") {
			t.Errorf("%s: %q, %s %v", name, a.First, a.Sentence, a.Why)
		}
	}
	for field, q := range map[string]FirstQuestion{
		"broken":           {[]BrokenPart{{"stub", Clean, 0}}},
		"broken/1/name":    {[]BrokenPart{{"stub", Clean, 0}, {"stub", Clean, 0}}},
		"broken/0/face":    {[]BrokenPart{{"stub", "shiny", 0}, {"ring", Clean, 0}}},
		"broken/0/noticed": {[]BrokenPart{{"stub", Clean, -1}, {"ring", Clean, 0}}},
	} {
		if _, err := First(q); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// A verdict that a repair proves is counted; what broke here weighs more.
func TestProof(t *testing.T) {
	d := layout(t, "rear_drive")
	q := Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Follows), came("hums", ""), seen("rocks", "rear_left", Yes)}}
	a := find(t, q)
	prove := func(found, other string, cured bool) *Repair {
		r, err := Prove(&q, a, found, other, cured)
		if err != nil {
			t.Fatal(err)
		}
		return r
	}
	right, wrong, still, odd := prove("wheel_bearing rear_left", "", true), prove("pinion_bearing rear", "", true), prove("wheel_bearing rear_left", "", false), prove("", "a stone in the brake", true)
	for want, r := range map[string]*Repair{ProvedRight: right, ProvedWrong: wrong, NotCured: still} {
		if r.Result != want || r.Sentence == "" {
			t.Errorf("%s: %+v", want, r)
		}
	}
	if odd.Result != ProvedWrong || odd.FoundName != "a stone in the brake" {
		t.Errorf("%+v", odd)
	}
	if _, err := Prove(&q, a, "open moon", "", true); err == nil {
		t.Error("found a moon")
	}
	if _, err := Prove(&q, a, "", "", true); err == nil {
		t.Error("found nothing")
	}
	group := *a
	group.Group = []string{"worn rear right wheel bearing", "x"}
	if r, err := Prove(&q, &group, "wheel_bearing rear_right", "", true); err != nil || r.Result != ProvedGroup {
		t.Errorf("%+v %v", r, err)
	}
	rec := Tell([]Repair{*right, *right, *wrong, *still, *odd}, nil)
	if rec.Proved != 4 || rec.Right != 2 || rec.Wrong != 2 || rec.NotCured != 1 || rec.Sorts[0].Sort != "wheel_bearing" || rec.Sorts[0].N != 2 {
		t.Errorf("%+v", rec)
	}
	if rec.Priors["wheel_bearing"] <= Priors()["wheel_bearing"] || rec.Priors["stub"] >= Priors()["stub"] {
		t.Errorf("%v and %v", rec.Priors["wheel_bearing"], rec.Priors["stub"])
	}
	n := 0
	for _, b := range rec.Bands {
		n += b.N
	}
	if n != 4 {
		t.Errorf("%d in bands", n)
	}
	for k, list := range [][]Repair{nil, {*right}} {
		if r := Tell(list, nil); !strings.Contains(r.Sentence, []string{"No verdict", "One verdict"}[k]) {
			t.Errorf("%s", r.Sentence)
		}
	}
	if _, err := json.Marshal(rec); err != nil {
		t.Error(err)
	}
}

// Without jobs what is typical stands, and what is learned keeps its measure.
func TestLearn(t *testing.T) {
	typical := Priors()
	total := 0.0
	for id, p := range Learn(typical, nil) {
		if math.Abs(p-typical[id]) > 1e-9 {
			t.Errorf("%s: %v, typical %v", id, p, typical[id])
		}
		total += p
	}
	sum := 0.0
	for _, p := range Learn(typical, map[string]int{"stub": 12, "seal": 9, "joint": -4}) {
		sum += p
	}
	if math.Abs(sum-total) > total/50 {
		t.Errorf("the weights add up to %v, typical %v", sum, total)
	}
	if l := Learn(typical, map[string]int{"stub": 1000}); l["stub"] < 0.9*total {
		t.Errorf("a thousand stubs weigh %v of %v", l["stub"], total)
	}
}

// What turns when it is towed follows from the network.
func TestTow(t *testing.T) {
	part := layout(t, "part_time")
	list, err := breaks.Tow(&part, nil)
	if err != nil {
		t.Fatal(err)
	}
	if len(list) != 3 {
		t.Fatalf("%d ways", len(list))
	}
	has := func(w breaks.Towed, part string) bool { return strings.Contains(strings.Join(w.Turns, ","), part) }
	for _, w := range list {
		switch {
		case strings.HasPrefix(w.On, "rear wheels"):
			if !has(w, "rear driveshaft") || has(w, "front driveshaft") || !strings.Contains(w.Sentence, "transfer case") {
				t.Errorf("%+v", w)
			}
		case strings.HasPrefix(w.On, "front wheels"):
			if has(w, "rear driveshaft") || !has(w, "front axle") {
				t.Errorf("%+v", w)
			}
		}
	}
	// With the shaft sheared nothing ahead of it turns.
	for _, b := range breaks.Of(&part) {
		if b.ID != "open rear_prop.joint" {
			continue
		}
		list, err := breaks.Tow(&part, []breaks.Break{b})
		if err != nil || has(list[0], "transfer case") && strings.HasPrefix(list[0].On, "rear wheels on") {
			t.Errorf("%+v %v", list, err)
		}
	}
	for _, l := range driveline.Layouts() {
		list, err := breaks.Tow(&l.Document, nil)
		if err != nil {
			t.Errorf("%s: %v", l.ID, err)
		}
		if (len(list) > 0) != (l.Document.Lies == driveline.Vehicle) {
			t.Errorf("%s: %d ways of towing", l.ID, len(list))
		}
		for _, w := range list {
			if w.Locked || w.Sentence == "" {
				t.Errorf("%s: whole, and %+v", l.ID, w)
			}
		}
	}
}

// What isn't safe isn't offered, and why is said; a stop without a test names
// what to open.
func TestUnsafeIsWithheld(t *testing.T) {
	d := layout(t, "rear_drive")
	q := Question{Driveline: d, Evidence: []Evidence{vehicle(breaks.Stays), came("bang", ""), seen("look_shaft", "prop", Yes)}}
	m, err := NewModel(d)
	if err != nil {
		t.Fatal(err)
	}
	s, err := m.search(&q)
	if err != nil {
		t.Fatal(err)
	}
	if err := s.weigh(t.Context()); err != nil {
		t.Fatal(err)
	}
	a := s.answer()
	tests, err := s.ranked(t.Context(), a, s.live())
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range tests {
		if x.Road {
			t.Errorf("%s with a shaft that flails", x.Title)
		}
	}
	if len(a.Withheld) == 0 || !strings.Contains(a.Withheld[0].Why, "flails") {
		t.Errorf("%+v", a.Withheld)
	}
	b := find(t, q)
	if !b.Settled || b.Next != nil || len(b.Open) == 0 || len(b.Open[0].Ready) == 0 || len(b.Tow) == 0 || !strings.Contains(strings.Join(b.Drive, " "), "Not to be driven") {
		t.Errorf("%+v", b)
	}
}

// The advice that belongs to a boat's shifting stands, whichever is suspected.
func TestBoatAdvice(t *testing.T) {
	a := find(t, Question{Driveline: layout(t, "outboard"), Evidence: []Evidence{came("stalls_reverse", "gearcase")}})
	all := strings.Join(a.Advice, " ")
	for _, w := range []string{"Adjust before you open anything", "shift interrupt switch connected", "together with the gears"} {
		if !strings.Contains(all, w) {
			t.Errorf("no %q in %s", w, all)
		}
	}
	if len(a.Tow) != 0 {
		t.Error("a boat is towed on wheels")
	}
	if p := Protocol(&Question{Driveline: layout(t, "outboard"),
		Evidence: []Evidence{came("stalls_reverse", "gearcase"), {Words: "nonsense",
			Seen: []Seen{{"moon", "x"}}}}}); len(p) != 2 || !strings.Contains(p[0], "Stalls") || p[1] != "nonsense" {
		t.Errorf("%q", p)
	}
}
