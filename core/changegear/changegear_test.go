package changegear

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/big"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zorvel/core/driveline"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/tire"
)

func fig(s string) exact.Figure {
	n, err := exact.Parse(s)
	if err != nil {
		panic(err)
	}
	return exact.Figure{Number: n}
}

func layout(t testing.TB, id string) *driveline.Document {
	for _, l := range driveline.Layouts() {
		if l.ID == id {
			d := l.Document
			return &d
		}
	}
	t.Fatalf("no layout %s", id)
	return nil
}

var shelf = []Set{
	{ID: "1", Name: "1", Teeth: [2]int{24, 21}}, {ID: "2", Name: "2", Teeth: [2]int{23, 22}}, {ID: "3", Name: "3", Teeth: [2]int{26, 19}},
	{ID: "4", Name: "4", Teeth: [2]int{28, 17}}, {ID: "5", Name: "5", Teeth: [2]int{24, 21}},
}

// plain is base 38/9 on a tire of 1990 mm, sets of 45 teeth together.
func plain() Request {
	return Request{Base: fig("38/9"), Tire: tire.Tire{RollingMM: fig("1990")}, RPM: 7000, Shelf: slices.Clone(shelf), Fitted: &Pair{24, 21},
		Gears: []Gear{{"1", fig("2.36")}, {"2", fig("1.59")}, {"3", fig("1.19")}, {"4", fig("1")}}}
}

func answers(t testing.TB, q Request) *Answer {
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

// Worked by hand: 38/9 × 21/24 = 133/36; the other way round 38/9 × 24/21 =
// 304/63. 7000 rpm × 1.99 m × 60 ÷ 3.6944 = 226.23 km/h.
func TestLadder(t *testing.T) {
	a := answers(t, plain())
	if !a.Overall.Equal(exact.New(133, 36)) || !a.Swap.Overall.Equal(exact.New(304, 63)) {
		t.Fatalf("overall %v, swapped %v", a.Overall, a.Swap.Overall)
	}
	if len(a.Ladder) != 8 {
		t.Fatalf("%d rungs of four different sets, both ways round", len(a.Ladder))
	}
	for i, r := range a.Ladder {
		if i > 0 && r.Overall.Cmp(a.Ladder[i-1].Overall) >= 0 {
			t.Errorf("rung %d is not taller than the one before", i)
		}
		if r.Overall.Equal(exact.New(133, 36)) {
			if !r.Fitted || len(r.Ways) != 2 || math.Abs(*r.KMH-226.23) > 0.01 {
				t.Errorf("what is in it: %+v, %v km/h", r, *r.KMH)
			}
		} else if r.Fitted {
			t.Errorf("%v is marked as in it", r.Overall)
		}
	}
	if a.Sum != 45 || a.Gear != "4" || !strings.Contains(a.Swap.Text, "23.4 % slower") {
		t.Errorf("sum %d, gear %s, swap %q", a.Sum, a.Gear, a.Swap.Text)
	}
	if len(a.Asks) != 0 {
		t.Errorf("asks %v", a.Asks)
	}
}

// Against fractions of its own: every way of every set is on the ladder once,
// and nothing else is.
func TestLadderAgainstFractions(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 1))
	for range 50 {
		q := plain()
		q.Shelf, q.Fitted, q.Sum = nil, nil, 50
		want := map[string]int{}
		for i := range 1 + r.IntN(30) {
			s := Set{ID: fmt.Sprint(i), Name: fmt.Sprint(i), Teeth: [2]int{10 + r.IntN(30), 10 + r.IntN(30)}}
			q.Shelf = append(q.Shelf, s)
			for k := range 2 {
				f := new(big.Rat).Mul(big.NewRat(38, 9), big.NewRat(int64(s.Teeth[1-k]), int64(s.Teeth[k])))
				want[f.RatString()]++
				if s.Teeth[0] == s.Teeth[1] {
					break
				}
			}
		}
		got := 0
		for _, x := range answers(t, q).Ladder {
			n, ok := want[x.Overall.Rat().RatString()]
			if !ok || n != len(x.Ways) {
				t.Fatalf("%v: %d ways, expected %d", x.Overall, len(x.Ways), n)
			}
			got++
		}
		if got != len(want) {
			t.Fatalf("%d rungs, expected %d", got, len(want))
		}
	}
}

func TestPick(t *testing.T) {
	// 38/9 × 22/23 = 4.0386 gives 206.95 km/h at 7000; 133/36 gives 226.23.
	for name, c := range map[string]struct {
		goal        Goal
		want        string
		missing     bool
		why         string
		shortBuying bool
	}{
		"reach 206 km/h":      {Goal{Kind: BySpeed, KMH: 206, RPM: 7000}, "4.04", false, "shortest that reaches", false},
		"reach 215 km/h":      {Goal{Kind: BySpeed, KMH: 215, RPM: 7000}, "3.69", false, "shortest that reaches", true},
		"reach 400 km/h":      {Goal{Kind: BySpeed, KMH: 400, RPM: 7000}, "2.56", true, "", true},
		"4500 rpm at 120":     {Goal{Kind: ByExit, KMH: 120, RPM: 4500}, "4.83", false, "tallest that still has", true},
		"9000 rpm at 60":      {Goal{Kind: ByExit, KMH: 60, RPM: 9000}, "6.95", true, "", true},
		"one step shorter":    {Goal{Kind: ByStep, Toward: "shorter"}, "4.04", false, "One step shorter", false},
		"one step taller":     {Goal{Kind: ByStep, Toward: "taller"}, "3.09", false, "One step taller", false},
		"gear 4, 90 to 200":   {Goal{Kind: ByGear, KMH: 200, RPM: 7000, LowKMH: 90, LowRPM: 3000}, "4.04", false, "never under 3000", false},
		"gear 3 between them": {Goal{Kind: ByGear, Gear: "3", KMH: 180, RPM: 7000, LowKMH: 90, LowRPM: 3000}, "3.69", false, "Gear 3", true},
	} {
		t.Run(name, func(t *testing.T) {
			q := plain()
			q.Goal = &c.goal
			p := answers(t, q).Pick
			if p.Chosen == nil || !strings.HasPrefix(p.Chosen.Title, c.want+",") {
				t.Fatalf("picked %+v, %s", p.Chosen, p.Sentence)
			}
			if (p.Missing != "") != c.missing || !strings.Contains(strings.Join(p.Why, " "), c.why) {
				t.Errorf("missing %q, why %v", p.Missing, p.Why)
			}
			if c.missing && len(p.Buy) == 0 {
				t.Errorf("nothing to buy for what is not reached")
			}
			for _, b := range p.Buy {
				if b.Input+b.Pinion != 45 {
					t.Errorf("a pair of %d and %d is not the family's", b.Input, b.Pinion)
				}
			}
			for i, l := range p.Chosen.Gears {
				if i > 0 && math.Abs(*l.After-7000*[]float64{0, 1.59 / 2.36, 1.19 / 1.59, 1 / 1.19}[i]) > 1 {
					t.Errorf("after the shift into %s: %v rpm", l.Gear, *l.After)
				}
			}
		})
	}
}

// What does not go together is asked about, never set right in silence.
func TestDoubts(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*Request)
		says   string
	}{
		"mixed pair": {func(q *Request) {
			q.Fitted = &Pair{26, 19 + 0}
			q.Shelf[2].Teeth = [2]int{27, 18}
			q.Shelf[3].Teeth = [2]int{26, 19}
			q.Fitted = &Pair{27, 19}
			q.Sum = 46
		}, "mixed pair"},
		"wrong distance":  {func(q *Request) { q.Fitted = &Pair{24, 22} }, "adds up to 46 teeth"},
		"a set that errs": {func(q *Request) { q.Shelf[3].Teeth = [2]int{28, 18} }, "Set 4 has 28 and 18 teeth"},
		"never counted":   {func(q *Request) { q.Fitted = nil }, "count the gears as they come out"},
		"not on the list": {func(q *Request) { q.Fitted = &Pair{30, 15} }, "No set on the shelf"},
	} {
		q := plain()
		c.change(&q)
		if got := strings.Join(answers(t, q).Asks, " "); !strings.Contains(got, c.says) {
			t.Errorf("%s: %q", name, got)
		}
	}
}

// The layout drives forward as it is; turned over, fed the other spin or with
// the ring on the other side it does not, and the ways out are tried.
func TestDirection(t *testing.T) {
	q := Request{Driveline: layout(t, "change_gears")}
	yes, no := true, false
	for name, c := range map[string]struct {
		lies    Lies
		forward bool
		ways    string
	}{
		"as drawn":        {Lies{}, true, ""},
		"turned over":     {Lies{Mounting: "turned_over"}, false, "true false true"},
		"end for end":     {Lies{Mounting: "end_for_end"}, true, ""},
		"other spin":      {Lies{Spin: "opposite"}, false, "true false true"},
		"ring left":       {Lies{RingSide: "left"}, false, "true false true"},
		"hypoid":          {Lies{RingSide: "left", Hypoid: &yes}, false, "true false false"},
		"two wrongs":      {Lies{RingSide: "left", Spin: "opposite", Hypoid: &no}, true, ""},
		"pinion behind":   {Lies{PinionAt: "behind"}, false, "true false true"},
		"behind and left": {Lies{PinionAt: "behind", RingSide: "left"}, true, ""},
	} {
		q.Lies = &c.lies
		d := answers(t, q).Direction
		var ways []string
		for _, x := range d.Ways {
			ways = append(ways, fmt.Sprint(x.Forward))
		}
		if d.Forward != c.forward || strings.Join(ways, " ") != c.ways {
			t.Errorf("%s: forward %v, ways out %v", name, d.Forward, d.Ways)
		}
	}
}

func TestRefusals(t *testing.T) {
	for field, change := range map[string]func(*Request){
		"base":            func(q *Request) { q.Base = exact.Figure{} },
		"fitted/input":    func(q *Request) { q.Fitted = &Pair{3, 21} },
		"shelf/1/teeth/0": func(q *Request) { q.Shelf[1].Teeth[0] = 0 },
		"goal/kind":       func(q *Request) { q.Goal = &Goal{Kind: "luck"} },
		"goal/kmh":        func(q *Request) { q.Goal = &Goal{Kind: BySpeed, RPM: 6000} },
		"goal/gear":       func(q *Request) { q.Goal = &Goal{Kind: BySpeed, KMH: 100, RPM: 6000, Gear: "9"} },
		"goal/low_kmh":    func(q *Request) { q.Goal = &Goal{Kind: ByGear, KMH: 100, RPM: 6000, LowKMH: 200, LowRPM: 3000} },
		"goal/toward":     func(q *Request) { q.Goal = &Goal{Kind: ByStep} },
		"tire/marking":    func(q *Request) { q.Tire = tire.Tire{}; q.Goal = &Goal{Kind: BySpeed, KMH: 100, RPM: 6000} },
		"growth_percent":  func(q *Request) { q.Growth = 40 },
		"lies/mounting":   func(q *Request) { q.Lies = &Lies{Mounting: "sideways"} },
		"gears/1/ratio":   func(q *Request) { q.Gears[1].Ratio = fig("1000") },
		"driveline":       func(q *Request) { q.Driveline = layout(t, "part_time") },
		"part":            func(q *Request) { q.Driveline = layout(t, "change_gears"); q.Part = "none" },
	} {
		q := plain()
		change(&q)
		_, err := Work(q)
		var list fault.Errors
		var one *fault.Error
		got := ""
		switch {
		case errors.As(err, &list):
			got = list[0].Field
		case errors.As(err, &one):
			got = one.Field
		}
		if got != field {
			t.Errorf("%s: refused at %q: %v", field, got, err)
		}
	}
}

func TestEvent(t *testing.T) {
	e := Event{Track: "Ravn hill", Session: "run 2", Set: "1", After: Pair{24, 21}, PeakRPM: 7000, PeakKMH: 231, Gear: "4"}
	x, err := Log(plain(), e)
	if err != nil {
		t.Fatal(err)
	}
	// 226.23 km/h without slip; 231 is 2.1 % more.
	if math.Abs(*x.Off-2.11) > 0.02 || !strings.Contains(x.Text, "it grows") || !strings.HasPrefix(x.Title, "Ravn hill, run 2: set 1, 24 on the input shaft") {
		t.Errorf("%+v", x)
	}
	for kmh, says := range map[float64]string{226.3: "no more than", 210: "spun", 300: "right gear", 120: "different moments"} {
		e.PeakKMH = kmh
		if x, err := Log(plain(), e); err != nil || !strings.Contains(x.Text, says) {
			t.Errorf("%v km/h: %+v %v", kmh, x, err)
		}
	}
	e.After = Pair{26, 19}
	if _, err := Log(plain(), e); err == nil || !strings.Contains(err.Error(), "set 1 has 24 and 21 teeth, counted were 26 and 19") {
		t.Errorf("another set than counted: %v", err)
	}
	e.Sure = true
	if _, err := Log(plain(), e); err != nil {
		t.Errorf("sure of the count: %v", err)
	}
	e.Gear = "7"
	var one *fault.Error
	if _, err := Log(plain(), e); !errors.As(err, &one) || one.Field != "event/gear" {
		t.Errorf("no such gear: %v", err)
	}
	e.Track = " "
	if _, err := Log(plain(), e); err == nil {
		t.Error("an event without a track was taken")
	}
}

// Every answer of the layouts marshals, whatever is left out.
func TestAnswersMarshal(t *testing.T) {
	d := layout(t, "change_gears")
	for _, q := range []Request{{Driveline: d}, {Base: fig("4.5")}, {Driveline: d, Shelf: shelf, RPM: 6500, TorqueNM: 300, Goal: &Goal{Kind: BySpeed, KMH: 150, RPM: 6500}}} {
		a := answers(t, q)
		// How plain figures lie was not said, so no direction is claimed.
		if len(a.Order) < 8 || (a.Direction != nil) != (q.Driveline != nil) || (a.Order[0].Value != "") != (q.Driveline != nil) || len(a.Cautions) == 0 {
			t.Errorf("%+v", a)
		}
	}
}

func BenchmarkLadder(b *testing.B) {
	q := Request{Driveline: layout(b, "change_gears"), RPM: 7000, TorqueNM: 300, Goal: &Goal{Kind: BySpeed, KMH: 190, RPM: 7000}}
	for i := range 60 {
		q.Shelf = append(q.Shelf, Set{ID: fmt.Sprint(i), Name: fmt.Sprint(i), Teeth: [2]int{14 + i%20, 40 - i%20 + i/20}})
	}
	for b.Loop() {
		if _, err := Work(q); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkLadderBare(b *testing.B) {
	for b.Loop() {
		sum := 0.0
		for i := range 60 {
			for k := range 2 {
				in, pin := float64(14+i%20), float64(40-i%20+i/20)
				if k == 1 {
					in, pin = pin, in
				}
				for g := range 6 {
					sum += 38.0 / 9 * pin / in * float64(g+1)
				}
			}
		}
		if sum == 0 {
			b.Fatal("nothing")
		}
	}
}

// The same answer says its speeds in the person's unit, and only there; another unit is
// refused at its field.
func TestSpeedsInEitherUnit(t *testing.T) {
	ask := Request{Base: fig("38/9"), Shelf: []Set{{Name: "1", Teeth: [2]int{24, 21}}, {Name: "2", Teeth: [2]int{23, 22}}},
		Tire: tire.Tire{RollingMM: fig("1900")}, Goal: &Goal{Kind: "speed", KMH: 160.9344, RPM: 6000}}
	metric, err := Work(ask)
	if err != nil {
		t.Fatal(err)
	}
	ask.SpeedUnit = "mph"
	miles, err := Work(ask)
	if err != nil {
		t.Fatal(err)
	}
	told := func(a *Answer) string { return a.Pick.Sentence + strings.Join(a.Pick.Why, " ") + a.Pick.Missing }
	if !strings.Contains(told(miles), "100 mph") || strings.Contains(told(miles), "km/h") {
		t.Errorf("in miles: %s", told(miles))
	}
	if !strings.Contains(told(metric), "160.9 km/h") || strings.Contains(told(metric), "mph") {
		t.Errorf("in kilometers: %s", told(metric))
	}
	ask.SpeedUnit = "knots"
	if _, err := Work(ask); err == nil || !strings.Contains(err.Error(), "speed_unit") {
		t.Errorf("knots: %v", err)
	}
}
