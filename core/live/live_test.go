package live

import (
	"errors"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zorvel/core/fault"
)

// spaced are n times, one each so many seconds.
func spaced(n int, first, every float64) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = first + float64(i)*every
	}
	return out
}

func weigh(t *testing.T, r Recording) *Answer {
	t.Helper()
	a, err := Weigh(r)
	if err != nil {
		t.Fatal(err)
	}
	return a
}

// c marks of m a turn mean more than (c − 1) ÷ m and fewer than (c + 1) ÷ m turns, and
// from the first to the last exactly (c − 1) ÷ m.
func TestMarksBoundTurns(t *testing.T) {
	for marks := 1; marks <= 8; marks++ {
		for c := 1; c <= 40; c++ {
			s := Source{Shaft: Left, Marks: marks, Times: spaced(c, 3, 0.4)}
			got := weigh(t, Recording{Sources: []Source{s}}).Counts[0]
			m, n := float64(marks), float64(c)
			uneven := 0.0
			if marks > 1 {
				uneven = 0.06
			}
			if math.Abs(got.Turns-(n-1)/m) > 1e-9 || math.Abs(got.Low-(n-1)/m) > uneven+1e-9 ||
				math.Abs(got.High-(n+1)/m) > uneven+1e-9 {
				t.Errorf("%d of %d: %+v", c, marks, got)
			}
			if got.Low > got.Turns || got.High < got.Turns {
				t.Errorf("%d of %d: %g outside %g to %g", c, marks, got.Turns, got.Low, got.High)
			}
		}
	}
}

// A mark that passes forward and then back is the same mark: the net is what was turned
// on less what was turned back, the total both.
func TestTurnedBack(t *testing.T) {
	s := Source{Shaft: Left, Marks: 4, Times: spaced(8, 0, 0.5), Ways: []int{1, 1, 1, 1, 1, -1, -1, -1}}
	c := weigh(t, Recording{Sources: []Source{s}}).Counts[0]
	if c.Turns != 0.5 || c.Total != 1.5 || !c.Direction {
		t.Errorf("%+v", c)
	}
	// It stands between marks 1 and 2 of those that passed last, back of mark 2.
	if c.Low > 0.25 || c.High < 0.75 {
		t.Errorf("%g to %g", c.Low, c.High)
	}
}

// steadily is an axle turned evenly: marks of the driveshaft and of both wheels.
func steadily(ratio, left, right, seconds float64) Recording {
	r := Recording{}
	for _, s := range []struct {
		shaft Shaft
		turns float64
		marks int
	}{{Input, ratio * (left + right) / 2, 2}, {Left, left, 4}, {Right, right, 4}} {
		n := int(s.turns * float64(s.marks))
		src := Source{Shaft: s.shaft, Marks: s.marks}
		if n > 0 {
			src.Times = spaced(n, 0.01, seconds/(s.turns*float64(s.marks)))
		}
		r.Sources = append(r.Sources, src)
	}
	return r
}

// An axle's driveshaft turns ratio times the mean of its wheels, however they share it.
func TestLawOfBothWheels(t *testing.T) {
	for _, w := range [][2]float64{{6, 6}, {8, 4}, {5, 7}, {10, 3}} {
		a := weigh(t, steadily(4.1, w[0], w[1], 30))
		if a.Ratio == nil || a.Ratio.Low > 4.1 || a.Ratio.High < 4.1 || a.Ratio.High-a.Ratio.Low > 0.3 {
			t.Errorf("%v: %+v %v", w, a.Ratio, a.Troubles)
		}
	}
}

// A wheel whose sensor gives nothing stands, or its sensor is dead: the ratio is told
// with that condition, and without it once somebody holds the wheel and watches.
func TestDeadOrHeld(t *testing.T) {
	r := steadily(4.1, 10, 0, 30)
	a := weigh(t, r)
	if a.Ratio == nil || !slices.Contains(a.Ratio.Conditions, RightStill) || math.Abs(a.Ratio.Best-4.1) > 0.05 {
		t.Fatalf("%+v", a.Ratio)
	}
	if !strings.Contains(strings.Join(a.Notes, " "), "a dead sensor gives none either") {
		t.Errorf("it isn't told: %q", a.Notes)
	}
	r.HeldWheels = []Shaft{Right}
	if a := weigh(t, r); slices.Contains(a.Ratio.Conditions, RightStill) {
		t.Errorf("held and watched: %v", a.Ratio.Conditions)
	}
}

// A sensor that dies while both wheels turn is told from a wheel that somebody stops:
// the driveshaft gives it away.
func TestSensorDies(t *testing.T) {
	dead, stopped, missed := 0, 0, 0
	for seed := range uint64(40) {
		rng := rand.New(rand.NewPCG(seed, 21))
		d := Turning{Ratio: 3.9, Wheels: BothTurn, Turns: 10, Speed: 0.5, InMarks: 2, OutMarks: 2, Directed: true,
			Dead: Right, DeadFrom: 0.5, DeadTo: 9}
		a := weigh(t, d.Run(rng).Recording)
		if slices.Contains(a.Troubles, RightSilent) {
			dead++
		}
		if a.Ratio == nil || a.Ratio.Low > 3.9 || a.Ratio.High < 3.9 {
			missed++
		}
		both, then := steadily(3.9, 5, 5, 12), steadily(3.9, 8, 0, 12)
		for i := range both.Sources {
			for _, at := range then.Sources[i].Times {
				both.Sources[i].Times = append(both.Sources[i].Times, at+12.2)
			}
		}
		if a := weigh(t, both); !slices.Contains(a.Troubles, RightSilent) && a.Ratio != nil &&
			math.Abs(a.Ratio.Best-3.9) < 0.06 {
			stopped++
		}
	}
	if dead < 36 || stopped < 36 || missed > 4 {
		t.Errorf("of 40 dead sensors %d told, %d ranges missed; of 40 stopped wheels %d right", dead, missed, stopped)
	}
}

// What can't be is told, and no ratio made of it.
func TestTroubles(t *testing.T) {
	swapped := steadily(4.1, 5, 5, 20)
	swapped.Sources[0].Shaft, swapped.Sources[1].Shaft = swapped.Sources[1].Shaft, swapped.Sources[0].Shaft
	swapped.Sources[0].Marks, swapped.Sources[1].Marks = 4, 2
	swapped.Sources = swapped.Sources[:2]
	swapped.Other = &Other{Does: With, Seen: true}
	against := Recording{Sources: []Source{
		{Shaft: Input, Marks: 4, Times: spaced(4, 0, 5), Ways: []int{1, -1, 1, -1}},
		{Shaft: Left, Marks: 4, Times: spaced(20, 0, 1), Ways: slices.Repeat([]int{1}, 20)},
		{Shaft: Right, Marks: 4, Times: spaced(20, 0.1, 1), Ways: slices.Repeat([]int{-1}, 20)},
	}}
	for name, c := range map[string]struct {
		r    Recording
		want Trouble
	}{
		"swapped":  {swapped, Swapped},
		"against":  {against, Opposite},
		"no input": {Recording{Sources: []Source{{Shaft: Left, Marks: 1, Times: spaced(9, 0, 1)}}}, NoInput},
		"no wheel": {Recording{Sources: []Source{{Shaft: Input, Marks: 1, Times: spaced(9, 0, 1)}}}, NoOutput},
	} {
		a := weigh(t, c.r)
		if a.Ratio != nil || !slices.Contains(a.Troubles, c.want) || len(a.Notes) == 0 {
			t.Errorf("%s: %v %+v", name, a.Troubles, a.Ratio)
		}
	}
}

// Before each side has two marks there is a range at most, and it narrows.
func TestNarrows(t *testing.T) {
	whole := steadily(4.1, 8, 8, 40)
	width := math.Inf(1)
	for _, end := range []float64{8, 16, 24, 40} {
		r := Recording{Sources: slices.Clone(whole.Sources)}
		for i, s := range r.Sources {
			n, _ := slices.BinarySearch(s.Times, end)
			r.Sources[i].Times = s.Times[:n]
		}
		a := weigh(t, r)
		if a.Ratio == nil || a.Ratio.Low > 4.1 || a.Ratio.High < 4.1 {
			t.Fatalf("%g s: %+v", end, a.Ratio)
		}
		if w := a.Ratio.High - a.Ratio.Low; w > width {
			t.Errorf("at %g s it is wider than before: %g over %g", end, w, width)
		} else {
			width = w
		}
	}
}

// Two phones, on a wheel and on the flange, need no mark: a degree or so over ten turns.
func TestPhones(t *testing.T) {
	holds, close := share{}, share{}
	for seed := range uint64(200) {
		rng := rand.New(rand.NewPCG(seed, 22))
		d := Turning{Ratio: 3 + 3*rng.Float64(), Wheels: OnePart, Turns: 10, Speed: 0.2 + 0.3*rng.Float64(),
			Phones: true, Rests: seed%2 == 0, Back: seed%3 == 0}
		got := d.Run(rng)
		a := weigh(t, got.Recording)
		if a.Ratio == nil {
			t.Fatalf("%d: %v", seed, a.Troubles)
		}
		holds.add(a.Ratio.Low <= d.Ratio && d.Ratio <= a.Ratio.High)
		for _, c := range a.Counts {
			if c.Shaft == Output {
				close.add(math.Abs(math.Abs(c.Turns)-got.End.Left)*360 < 2.5)
			}
		}
	}
	holds.atLeast(t, "phones' ratio", 0.95)
	close.atLeast(t, "wheel's angle within 2.5 degrees", 0.95)
}

// Phones don't share a clock: what one tells a third of a second late is lined up by how
// both turn.
func TestClocks(t *testing.T) {
	holds, closer := share{}, share{}
	for seed := range uint64(120) {
		rng := rand.New(rand.NewPCG(seed, 23))
		d := Turning{Ratio: 3 + 3*rng.Float64(), Wheels: OnePart, Turns: 6, Speed: 0.2 + 0.3*rng.Float64(),
			Phones: true, Rests: true}
		rec := d.Run(rng).Recording
		late := rng.Float64()*0.8 - 0.4
		for i := range rec.Sources[1].Motion {
			rec.Sources[1].Motion[i].At += late
		}
		apart := weigh(t, rec).Ratio
		rec.Sources[1].Clock = "phone 2"
		a := weigh(t, rec)
		if a.Ratio == nil {
			t.Fatalf("%d: %v", seed, a.Troubles)
		}
		holds.add(a.Ratio.Low <= d.Ratio && d.Ratio <= a.Ratio.High)
		closer.add(apart == nil || a.Ratio.High-a.Ratio.Low <= apart.High-apart.Low)
	}
	holds.atLeast(t, "ratio by two clocks", 0.95)
	closer.atLeast(t, "lined up, the range is narrower", 0.95)
}

// Where a shaft stands up, gravity tells nothing of its turns, and the angle says so.
func TestUprightShaft(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	p := NewPhone(false, rng)
	var list []Motion
	for i := range 1200 {
		at := float64(i) / 60
		list = append(list, p.Sense(at, 0.5*at))
	}
	c := weigh(t, Recording{Sources: []Source{{Shaft: Output, Motion: list}}}).Counts[0]
	truth := 0.5 * 1199 / 60.0
	if c.Level || c.High-c.Low < 0.1 || c.Low > truth || c.High < truth {
		t.Errorf("%+v, truth %g", c, truth)
	}
}

// An angle that begins again after a turn is the same as one that counts on.
func TestWrapped(t *testing.T) {
	var on, wrapped Source
	for i := range 600 {
		d := 7*float64(i) - 0.004*float64(i*i)
		on.Times, on.Degrees = append(on.Times, float64(i)/50), append(on.Degrees, d)
		wrapped.Degrees = append(wrapped.Degrees, math.Mod(math.Mod(d, 360)+360, 360))
	}
	on.Shaft, wrapped.Shaft, wrapped.Times, wrapped.Wrapped = Left, Left, on.Times, true
	a, b := weigh(t, Recording{Sources: []Source{on}}).Counts[0], weigh(t,
		Recording{Sources: []Source{wrapped}}).Counts[0]
	if math.Abs(a.Turns-b.Turns) > 1e-6 || math.Abs(a.Total-b.Total) > 1e-6 {
		t.Errorf("%+v and %+v", a, b)
	}
}

func TestRefused(t *testing.T) {
	pulses := Source{Shaft: Left, Marks: 1, Times: []float64{0, 1}}
	with := func(change func(*Source)) Recording {
		s := pulses
		change(&s)
		return Recording{Sources: []Source{s}}
	}
	for field, r := range map[string]Recording{
		"sources":             {},
		"sources/0/shaft":     with(func(s *Source) { s.Shaft = "front" }),
		"sources/0/marks":     with(func(s *Source) { s.Marks = 0 }),
		"sources/0/times/1":   with(func(s *Source) { s.Times = []float64{2, 1} }),
		"sources/0/times/0":   with(func(s *Source) { s.Times = []float64{math.NaN()} }),
		"sources/0/ways":      with(func(s *Source) { s.Ways = []int{1} }),
		"sources/0/ways/1":    with(func(s *Source) { s.Ways = []int{1, 2} }),
		"sources/0/degrees":   with(func(s *Source) { s.Degrees = []float64{1, 2} }),
		"sources/0/degrees/1": with(func(s *Source) { s.Marks, s.Degrees = 0, []float64{1, math.Inf(1)} }),
		"sources/0/alive":     with(func(s *Source) { s.Alive = -1 }),
		"sources/0/motion":    with(func(s *Source) { s.Motion = []Motion{{}} }),
		"sources/1/shaft":     {Sources: []Source{pulses, pulses}},
		"other/does":          {Sources: []Source{pulses}, Other: &Other{Does: "crept"}},
		"outputs":             {Sources: []Source{pulses}, Outputs: "some"},
		"held_wheels/0":       {Sources: []Source{pulses}, HeldWheels: []Shaft{Input}},
	} {
		_, err := Weigh(r)
		var odd fault.Errors
		if !errors.As(err, &odd) || odd[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// A recorded file leaves and comes back as it was, and a broken one names its line.
func TestCSV(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for _, d := range []Turning{
		{Ratio: 4, Wheels: BothTurn, Turns: 2, Speed: 0.5, InMarks: 2, OutMarks: 4, Directed: true},
		{Ratio: 4, Wheels: OnePart, Turns: 2, Speed: 0.5, InMarks: 1},
		{Ratio: 4, Wheels: OnePart, Turns: 1, Speed: 0.5, Phones: true},
	} {
		sources := d.Run(rng).Recording.Sources
		back, err := ReadCSV(WriteCSV(sources))
		if err != nil {
			t.Fatal(err)
		}
		if !reflect.DeepEqual(back, sources) {
			t.Errorf("%+v comes back changed", d)
		}
	}
	for text, want := range map[string]string{
		"":                                "empty",
		"shaft,time\n":                    `"time" is no column`,
		"seconds,marks\n1,1\n":            "column shaft is missing",
		"shaft,seconds,marks\n":           "no rows",
		"shaft,seconds,marks\nleft,x,1\n": "line 2: seconds",
		"shaft,seconds,marks\nleft,1,\n":  "line 2: marks",
		"shaft,seconds,marks\nleft,1,1\nleft,2,2\n": "line 3: marks: 2 here and 1 before",
		"shaft,seconds,marks,way\nleft,1,1,3\n":     "line 2: way",
		"shaft,seconds,rate_x\nleft,1,1\n":          "six",
		"shaft,seconds,marks\nleft,1\n":             "line 2",
	} {
		if _, err := ReadCSV(text); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v, want %q", text, err, want)
		}
	}
}

// No recording makes it crash, and every answer is a number.
func FuzzWeigh(f *testing.F) {
	f.Add("shaft,seconds,marks\nshaft,0,1\nshaft,1,1\nshaft,2,1\nleft,0,1\nleft,2,1\nright,1,1\n")
	f.Add("shaft,seconds,degrees\nshaft,0,1\nshaft,0,1\noutput,0,3\noutput,5,900\n")
	f.Fuzz(func(t *testing.T, text string) {
		sources, err := ReadCSV(text)
		if err != nil {
			return
		}
		a, err := Weigh(Recording{Sources: sources})
		if err != nil {
			return
		}
		if err := fault.Figures(a); err != nil {
			t.Errorf("%v", err)
		}
	})
}

// flood is a minute and a half of an axle that turns far faster than a hand turns it:
// about 100,000 pulses.
func flood() (Recording, int) {
	d := Turning{Ratio: 4.1, Wheels: BothTurn, Turns: 2050, Speed: 20, InMarks: 8, OutMarks: 8, Directed: true,
		Missed: 0.001}
	r := d.Run(rand.New(rand.NewPCG(1, 1))).Recording
	n := 0
	for _, s := range r.Sources {
		n += len(s.Times)
	}
	return r, n
}

// The bare reference: the same pulses merged by time and counted.
func BenchmarkBare(b *testing.B) {
	r, n := flood()
	b.ReportMetric(float64(n), "pulses")
	for b.Loop() {
		all := make([]float64, 0, n)
		for _, s := range r.Sources {
			all = append(all, s.Times...)
		}
		slices.Sort(all)
		if len(all) != n {
			b.Fatal(len(all))
		}
	}
}

func BenchmarkWeigh(b *testing.B) {
	r, n := flood()
	b.ReportMetric(float64(n), "pulses")
	for b.Loop() {
		if _, err := Weigh(r); err != nil {
			b.Fatal(err)
		}
	}
}
