package practice

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"zorvel/core/findfault"
	"zorvel/core/setup"
)

// A dial that wasn't zeroed reads too much everywhere by the same; that is said, and costs.
func TestDialMustBeZeroed(t *testing.T) {
	for seed := range uint32(10) {
		task := Task{"setup", 2, seed}
		plain := scene(t, task, Act{Do: "zero"}, Act{Do: "dial"})
		off := scene(t, task, Act{Do: "dial"})
		if len(plain.Machine.Mesh.Places) != 8 || len(off.Machine.Mesh.Places) != 8 {
			t.Fatal("eight places")
		}
		if off.Log[0].Forgot == "" || plain.Log[1].Forgot != "" {
			t.Error("the zero was or wasn't forgotten")
		}
		for i := range 8 {
			var a, b float64
			if _, err := fmt.Sscan(plain.Machine.Mesh.Places[i], &a); err != nil {
				t.Fatal(err)
			}
			if _, err := fmt.Sscan(off.Machine.Mesh.Places[i], &b); err != nil {
				t.Fatal(err)
			}
			if b-a < 0.015 || b-a > 0.09 {
				t.Errorf("seed %d: %v against %v", seed, b, a)
			}
		}
	}
}

// Who makes the moves that the bench says comes to a housing that is in, in the minutes of
// the cheapest way or more; saying so is right.
func TestFollowingTheBenchSetsItUp(t *testing.T) {
	right, n := 0, 0
	for seed := range uint32(25) {
		task := Task{"setup", 1 + int(seed%2), seed}
		u := newSetupUnit(task)
		rounds, err := u.follow()
		if err != nil {
			t.Fatal(err)
		}
		r, err := u.review(Act{Do: decide, Answer: isIn}, nil)
		if err != nil {
			t.Fatal(err)
		}
		minutes := float64(rounds)*(minutesZero+minutesDial+minutesPattern) + float64(rounds-1)*minutesAssemble
		if r.Cheapest > minutes+1e-9 {
			t.Errorf("%v: followed in %v, the cheapest way %v", task, minutes, r.Cheapest)
		}
		if thumb, ok := housingOf(task).Thumb(); ok &&
			r.Cheapest > float64(thumb)*12+float64(thumb-1)*minutesAssemble+1e-9 {
			t.Errorf("%v: the rule of thumb is quicker than the cheapest way", task)
		}
		n++
		if r.Right {
			right++
		}
		if len(r.Steps) != rounds {
			t.Errorf("%v: %d steps of %d assemblies", task, len(r.Steps), rounds)
		}
	}
	if right < n-2 {
		t.Errorf("followed: %d of %d in", right, n)
	}
}

func TestMovesTheWrongWayAreNamed(t *testing.T) {
	for seed := range uint32(40) {
		u := newSetupUnit(Task{"setup", 1, seed})
		for _, do := range []string{"zero", "dial", "pattern"} {
			if _, err := u.do(Act{Do: do}); err != nil {
				t.Fatal(err)
			}
		}
		v, err := u.judge()
		if err != nil || v.Next == nil {
			continue
		}
		i := slices.IndexFunc(v.Next.Changes, func(c setup.Change) bool {
			return c.Place == "pinion" &&
				math.Abs(c.ToMM-c.FromMM) > 0.08
		})
		if i < 0 {
			continue
		}
		c := v.Next.Changes[i]
		p := u.machine().Mesh.Piles
		p.Pinion -= c.ToMM - c.FromMM
		p.Left += 0.2
		if _, err := u.do(Act{Do: "assemble", Stacks: &p}); err != nil {
			t.Fatal(err)
		}
		text := fmt.Sprint(u.wrong)
		if !strings.Contains(text, "pinion shims went the wrong way") || !strings.Contains(text, "preload") {
			t.Errorf("seed %d: %s", seed, text)
		}
		return
	}
	t.Fatal("no housing wants its pinion moved")
}

func TestRunOutThatNoShimCures(t *testing.T) {
	met := false
	for seed := range uint32(20) {
		task := Task{"setup", 3, seed}
		s := scene(t, task, Act{Do: "zero"}, Act{Do: "dial"}, Act{Do: decide, Answer: runOut, Sure: 90})
		warped := housingOf(task).Warped() > 0.07
		met = met || warped
		if s.Review.Right != warped {
			t.Errorf("%v: right %v, warped %v", task, s.Review.Right, warped)
		}
		if warped && s.Review.Score.Total < 90 {
			t.Errorf("%v: measured around the ring and said so: %+v", task, s.Review.Score)
		}
	}
	if !met {
		t.Error("no ring runs out")
	}
}

// A learner who makes the recommended test each time, seen rightly, never takes less than
// the cheapest way, and names the part or one that no test tells from it.
func TestFollowingTheTestsFindsTheFault(t *testing.T) {
	right, n := 0, 0
	for level := 1; level <= 5; level++ {
		for seed := range uint32(6) {
			u, err := newBrokenUnit(Task{"broken", level, seed})
			if err != nil {
				t.Fatal(err)
			}
			minutes, top := followTests(t, u)
			alike, err := u.h.Alike()
			if err != nil {
				t.Fatal(err)
			}
			cheapest, best, err := u.cheapest(alike)
			if err != nil {
				t.Fatal(err)
			}
			if cheapest > minutes+0.6 { // chocks
				t.Errorf("level %d, seed %d: followed in %v, the cheapest way %v %v", level, seed, minutes, cheapest,
					best)
			}
			n++
			if slices.Contains(alike, top) {
				right++
			}
		}
	}
	if right < n*7/10 {
		t.Errorf("%d of %d found", right, n)
	}
}

// followTests makes the recommended tests, and gives the minutes and what is likeliest.
func followTests(t *testing.T, u *brokenUnit) (minutes float64, top string) {
	t.Helper()
	var seen []findfault.Evidence
	up := false
	for range mostNext {
		i, more, err := u.h.Next(seen, up)
		if err != nil {
			t.Fatal(err)
		}
		if !more {
			break
		}
		x := u.h.Tests(up)[i]
		e, err := u.h.Rightly(i)
		if err != nil {
			t.Fatal(err)
		}
		minutes, seen, up = minutes+x.Minutes, append(seen, e), up || x.Lifts
	}
	_, named, err := u.h.Weigh(seen)
	if err != nil {
		t.Fatal(err)
	}
	return minutes, named.ID
}

// What a test shows hangs on the unit, not on what was tested before.
func TestATestShowsTheSameWheneverItIsMade(t *testing.T) {
	task := Task{"broken", 5, 3}
	s := scene(t, task)
	var tests []Act
	for _, o := range s.Offers {
		if o.Do == "test" && len(tests) < 6 {
			tests = append(tests, Act{Do: o.Do, On: o.On})
		}
	}
	saw := map[string]string{}
	for i, d := range scene(t, task, tests...).Log {
		saw[tests[i].On] = d.Saw
	}
	slices.Reverse(tests)
	for i, d := range scene(t, task, tests...).Log {
		if d.Saw != saw[tests[i].On] {
			t.Errorf("test %s: %q, before %q", tests[i].On, d.Saw, saw[tests[i].On])
		}
	}
}

// Every task that ends in an order from a list has one right answer, says of each wrong one
// what it comes from, and tells how the right one is found.
func TestOrdersFromAList(t *testing.T) {
	for _, kind := range []string{"tires", "race"} {
		for level := 1; level <= 3; level++ {
			for seed := range uint32(4) {
				s := scene(t, Task{kind, level, seed})
				right := 0
				for _, c := range s.Asked.Choices {
					r := scene(t, Task{kind, level, seed}, Act{Do: decide, Answer: c.ID, Sure: 100}).Review
					if r.Right {
						right++
						continue
					}
					m := r.Mistakes[len(r.Mistakes)-1]
					if m.Words == "" || strings.HasPrefix(m.Words, "Nobody") {
						t.Errorf("%s %d/%d, %s: not said why it is wrong", kind, level, seed, c.ID)
					}
				}
				if right != 1 || len(s.Asked.Choices) < 4 {
					t.Errorf("%s %d/%d: %d right answers of %d", kind, level, seed, right, len(s.Asked.Choices))
				}
			}
		}
	}
}

func TestTheFrontIsForgotten(t *testing.T) {
	s := scene(t, Task{"tires", 2, 5})
	for _, c := range s.Asked.Choices {
		r := scene(t, Task{"tires", 2, 5}, Act{Do: decide, Answer: c.ID, Sure: 50}).Review
		both := strings.Replace(c.ID, "rear", "both", 1)
		if scene(t, Task{"tires", 2, 5}, Act{Do: decide, Answer: both, Sure: 50}).Review.Right && both != c.ID {
			if r.Right || !strings.Contains(fmt.Sprint(r.Mistakes), "front was forgotten") {
				t.Errorf("%s: %+v", c.ID, r.Mistakes)
			}
			return
		}
	}
	t.Error("no right answer has a rear alone")
}

// Whatever number a class is given, its unit is drawn soon.
func TestEveryNumberHasAUnit(t *testing.T) {
	for _, kind := range []string{"tires", "race"} {
		for level := 1; level <= 3; level++ {
			for seed := range uint32(60) {
				scene(t, Task{kind, level, seed*71_582_788 + 1})
			}
		}
	}
}
