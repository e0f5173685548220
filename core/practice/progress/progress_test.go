package progress

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zorvel/core/fault"
	"zorvel/core/practice"
	"zorvel/core/practice/drills"
)

func board(t *testing.T, day int, list ...Result) *Board {
	t.Helper()
	b, err := Work(Question{Results: list, Day: day})
	if err != nil {
		t.Fatal(err)
	}
	return b
}

func find(t *testing.T, list []Skill, id string) Skill {
	t.Helper()
	i := slices.IndexFunc(list, func(s Skill) bool { return s.ID == id })
	if i < 0 {
		t.Fatalf("no %s", id)
	}
	return list[i]
}

// many are as many results of one sort, each of a unit of its own.
func many(n int, r Result) []Result {
	out := make([]Result, n)
	for i := range out {
		number++
		r.Seed = number
		out[i] = r
	}
	return out
}

var number uint32

// A unit that is done again counts once, by how it went first.
func TestDoingItAgainShowsNothing(t *testing.T) {
	again := Result{What: "ratio", Level: 1, Seed: 77, Points: 100, Right: true}
	b := board(t, 0, again, again, again, again, again, again)
	if s := find(t, b.Units, "ratio"); s.Done != 1 || s.Levels[0].Mastered || b.Today != 6 {
		t.Errorf("one unit six times: %+v, %d today", s, b.Today)
	}
}

func TestLevelsOpenByMasteryAndNotByPlayingLong(t *testing.T) {
	good := Result{What: "ratio", Level: 1, Points: 85, Right: true}
	poor := Result{What: "ratio", Level: 1, Points: 45, Right: true}
	wrong := Result{What: "ratio", Level: 1, Points: -30}
	for _, c := range []struct {
		name string
		list []Result
		open bool
	}{
		{"nothing done", nil, false},
		{"four good", many(4, good), false},
		{"five good", many(5, good), true},
		{"a thousand poor", many(1000, poor), false},
		{"one wrong of five", slices.Concat(many(4, Result{What: "ratio", Level: 1, Points: 100, Right: true}),
			many(1, wrong)), false},
		{"recovered", slices.Concat(many(20, wrong), many(5, good)), true},
		{"a slip after it", slices.Concat(many(5, good), many(1, wrong)), true},
		{"lapsed", slices.Concat(many(5, good), many(3, wrong)), false},
	} {
		s := find(t, board(t, 0, c.list...).Units, "ratio")
		if s.Levels[1].Open != c.open || !s.Levels[0].Open || s.Levels[0].Mastered != c.open {
			t.Errorf("%s: %+v", c.name, s.Levels[:2])
		}
		if want := 1 + map[bool]int{true: 1}[c.open]; s.Next != want {
			t.Errorf("%s: next is level %d, want %d", c.name, s.Next, want)
		}
	}
}

// A learner who guesses at two choices for a thousand cards is seldom called a master, and
// soon no longer.
func TestGuessingMastersNothing(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	var list []Result
	called := 0
	for range 1000 {
		x := Result{What: "taller", Level: 1, Points: -100}
		if r.IntN(2) == 0 {
			x.Points, x.Right = 100, true
		}
		list = append(list, x)
		if mastered(list[max(0, len(list)-60):], byCards) {
			called++
		}
	}
	if called > 40 {
		t.Errorf("called a master after %d of 1000 cards", called)
	}
}

// Learning curves: who errs less and less gets further, and one who doesn't learn stays.
func TestLearningCurves(t *testing.T) {
	levels := func(from, to float64) int {
		r := rand.New(rand.NewPCG(5, 5))
		var list []Result
		for i := range 120 {
			level := find(t, board(t, i/4, list...).Units, "ratio").Next
			wrong := from + (to-from)*float64(i)/120
			x := Result{What: "ratio", Level: level, Seed: uint32(i), Day: i / 4, Points: 80 + r.IntN(20), Right: true}
			if r.Float64() < wrong {
				x.Points, x.Right = -40+r.IntN(40), false
			}
			list = append(list, x)
		}
		return find(t, board(t, 30, list...).Units, "ratio").Next
	}
	learns, stays, expert := levels(0.6, 0.02), levels(0.6, 0.6), levels(0.02, 0.02)
	if !(expert >= learns && learns > stays && stays <= 2 && expert == 5) {
		t.Errorf("levels: expert %d, learns %d, stays %d", expert, learns, stays)
	}
}

func TestWhatWentWrongComesBackSooner(t *testing.T) {
	well := func(day int) Result {
		return Result{What: "stamp", Level: 1, Seed: uint32(day), Day: day, Points: 100, Right: true}
	}
	badly := func(day int) Result { return Result{What: "stamp", Level: 1, Seed: uint32(day), Day: day, Points: -33} }
	for _, c := range []struct {
		name string
		list []Result
		due  int // from the day of the last
	}{
		{"once well", []Result{well(0)}, 1},
		{"well on four days", []Result{well(0), well(1), well(3), well(7)}, 8},
		{"well every day for three weeks", func() (l []Result) {
			for d := range 21 {
				l = append(l, well(d))
			}
			return l
		}(), 11},
		{"then badly", []Result{well(0), well(1), well(3), badly(7)}, 1},
		{"well for a year", func() (l []Result) {
			for d := 0; d < 400; d += 64 {
				l = append(l, well(d))
			}
			return l
		}(), 64},
	} {
		last := c.list[len(c.list)-1].Day
		if s := find(t, board(t, last, c.list...).Drills, "stamp"); s.Due == nil || *s.Due != c.due {
			t.Errorf("%s: due in %v days, want %d", c.name, s.Due, c.due)
		}
	}
}

func TestFiveMinutesADay(t *testing.T) {
	b := board(t, 0)
	if len(b.Daily) != 2 || b.Daily[0].Why != "New" {
		t.Errorf("first day: %+v", b.Daily)
	}
	list := []Result{{What: "stamp", Level: 1, Day: 3, Points: -33}, {What: "taller", Level: 1, Day: 3, Points: 100,
		Right: true},
		{What: "ratio", Level: 1, Day: 3, Points: -20, Helps: []string{"wheels"}}}
	b = board(t, 5, list...)
	if b.Daily[0].Drill != "wheels" || b.Daily[1].Drill != "stamp" {
		t.Errorf("a mistake, then the weakest: %+v", b.Daily)
	}
	for day := range 20 {
		seconds := 0
		for _, d := range board(t, day, list...).Daily {
			for _, x := range drills.List() {
				if x.ID == d.Drill {
					seconds += x.Seconds * d.Cards
				}
			}
			if d.Cards < 1 || d.Level < 1 || d.Why == "" {
				t.Errorf("%+v", d)
			}
		}
		if seconds > dailySeconds {
			t.Errorf("day %d takes %d s", day, seconds)
		}
	}
}

// After thirty cards the range of the spread, and that of the lean, hold the truth 95 times
// in 100.
func TestTheEyeIsFound(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 8))
	const learners = 600
	bias, spread := 0, 0
	for range learners {
		lean, sigma := 0.06*r.Float64()-0.03, 0.02+0.05*r.Float64()
		var list []Result
		for range 30 {
			off := lean + sigma*r.NormFloat64()
			list = append(list, Result{What: "remainder", Level: 1, Off: &off})
		}
		e := EyeOf(list)
		if e == nil {
			t.Fatal("no eye")
		}
		if e.BiasLow-0.0006 <= lean && lean <= e.BiasHigh+0.0006 {
			bias++
		}
		if e.SpreadLow-0.0006 <= sigma && sigma <= e.SpreadHigh+0.0006 {
			spread++
		}
	}
	for what, n := range map[string]int{"lean": bias, "spread": spread} {
		if share := float64(n) / learners; share < 0.925 || share > 0.985 {
			t.Errorf("the %s is within its range %.1f %% of the time", what, 100*share)
		}
	}
}

func TestTheEyeSaysWhatItIs(t *testing.T) {
	same := func(n int, off float64) (l []Result) {
		for i := range n {
			x := off + 0.01*float64(i%3-1)
			l = append(l, Result{What: "remainder", Level: 1, Off: &x})
		}
		return l
	}
	if EyeOf(same(7, 0)) != nil {
		t.Error("seven cards say nothing yet")
	}
	for off, want := range map[float64]string{0: "no lean", 0.05: "too much", -0.05: "too little"} {
		if e := EyeOf(same(30, off)); !strings.Contains(e.Sentence, want) {
			t.Errorf("%v: %s", off, e.Sentence)
		}
	}
	far := 0.5
	if e := EyeOf(append(same(30, 0), Result{What: "remainder", Level: 1, Off: &far})); e.Cards != 30 ||
		math.Abs(e.Bias) > 0.01 {
		t.Errorf("a slip counts as spread: %+v", e)
	}
}

func TestRefusals(t *testing.T) {
	for field, q := range map[string]Question{
		"results/0/what":   {Results: []Result{{What: "sleeping", Level: 1}}},
		"results/0/level":  {Results: []Result{{What: "ratio", Level: 9}}},
		"results/0/points": {Results: []Result{{What: "ratio", Level: 1, Points: 101}}},
		"results/0/day":    {Results: []Result{{What: "ratio", Level: 1, Day: -1}}},
		"results":          {Results: many(MostResults+1, Result{What: "ratio", Level: 1})},
		"day":              {Day: -1},
	} {
		_, err := Work(q)
		if list := fault.List(err); len(list) == 0 || list[0].Field != field {
			t.Errorf("%v, want %s", err, field)
		}
	}
}

// Every drill that a review may name is one.
func TestDrillsThatAreNamedExist(t *testing.T) {
	ids := map[string]bool{}
	for _, d := range drills.List() {
		ids[d.ID] = true
	}
	for _, k := range practice.Kinds() {
		for level := range k.Levels {
			for seed := range uint32(2) {
				task := practice.Task{Kind: k.ID, Level: level + 1, Seed: seed}
				s, err := practice.Work(practice.Question{Task: task})
				if err != nil {
					t.Fatal(err)
				}
				answers := []string{"2.05", "4.10", "8.20"}
				for _, c := range s.Asked.Choices {
					answers = append(answers, c.ID)
				}
				for _, a := range answers[:min(len(answers), 6)] {
					s, err := practice.Work(practice.Question{Task: task, Acts: []practice.Act{{Do: "decide",
						Answer: a, Sure: 100}}})
					if err != nil {
						continue
					}
					for _, d := range Helpful(s.Review) {
						if !ids[d] {
							t.Errorf("%v names the drill %q", task, d)
						}
					}
				}
			}
		}
	}
}

func Example() {
	b, err := Work(Question{Day: 1, Results: []Result{{What: "stamp", Level: 1, Day: 0, Points: -33}}})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(b.Daily[0].Title, "·", b.Daily[0].Why)
	// Output: Read a stamp · Due again
}
