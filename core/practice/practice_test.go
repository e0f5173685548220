package practice

import (
	"encoding/json"
	"errors"
	"math"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zorvel/core/fault"
)

// every calls a test for each kind and level of unit, with a few seeds.
func every(t *testing.T, seeds uint32, do func(t *testing.T, task Task)) {
	t.Helper()
	for _, k := range kinds {
		for level := range k.levels {
			for seed := range seeds {
				do(t, Task{k.id, level + 1, 1000*seed + 7})
			}
		}
	}
}

func scene(t *testing.T, task Task, acts ...Act) *Scene {
	t.Helper()
	s, err := Work(Question{Task: task, Acts: acts})
	if err != nil {
		t.Fatalf("%v: %v", task, err)
	}
	return s
}

// An answer that the unit takes.
func anyAnswer(s *Scene) string {
	if len(s.Asked.Choices) > 0 {
		return s.Asked.Choices[0].ID
	}
	return s.Asked.Example
}

// tryAct is an act that takes what is offered, with figures that can be.
func tryAct(o Offer) Act {
	a := Act{Do: o.Do, On: o.On}
	switch o.Takes {
	case TakesTurns:
		a.Turns = 1
	case TakesStacks:
		a.Stacks = &Piles{1.2, 1.1, 1.1}
	}
	return a
}

// Whatever is offered can be done, in whatever state; every scene says something, marshals,
// and ends with a decision.
func TestWhatIsOfferedCanBeDone(t *testing.T) {
	every(t, 2, func(t *testing.T, task Task) {
		s := scene(t, task)
		if s.Story == "" || s.Caution == "" || s.Asked.Words == "" {
			t.Fatalf("%v: nothing said", task)
		}
		var acts []Act
		for range 14 {
			for _, o := range s.Offers {
				if o.Label == "" || o.Group == "" {
					t.Errorf("%v: an offer without words: %+v", task, o)
				}
			}
			o := s.Offers[(7*len(acts)+int(task.Seed))%len(s.Offers)]
			if o.Takes == TakesNote || o.Do == decide {
				o = s.Offers[0]
			}
			if o.Takes == TakesNote || o.Do == decide {
				break
			}
			acts = append(acts, tryAct(o))
			s = scene(t, task, acts...)
			if d := s.Log[len(s.Log)-1]; d.Words == "" || d.Minutes < 0 {
				t.Errorf("%v: %+v", task, d)
			}
		}
		s = scene(t, task, append(acts, Act{Do: decide, Answer: anyAnswer(s), Sure: 40})...)
		r := s.Review
		if r == nil || len(s.Offers) != 0 || r.Truth == "" || r.Sentence == "" || r.Cheapest < 0 {
			t.Fatalf("%v: %+v", task, r)
		}
		if _, err := json.Marshal(s); err != nil {
			t.Errorf("%v: %v", task, err)
		}
	})
}

// A class that is given a number has the same unit, whatever order they work in.
func TestTheSameNumberIsTheSameUnit(t *testing.T) {
	every(t, 2, func(t *testing.T, task Task) {
		a, b := scene(t, task), scene(t, task)
		if !reflect.DeepEqual(a, b) {
			t.Errorf("%v differs from itself", task)
		}
	})
	if reflect.DeepEqual(scene(t, Task{"ratio", 5, 1}), scene(t, Task{"ratio", 5, 2})) {
		t.Error("two numbers, one unit")
	}
}

func TestRefusals(t *testing.T) {
	axle := Task{"ratio", 1, 1}
	long := make([]Act, MostActs+1)
	for i := range long {
		long[i] = Act{Do: "mark"}
	}
	for name, c := range map[string]struct {
		q     Question
		field string
	}{
		"kind":     {Question{Task: Task{"wheel", 1, 1}}, "task/kind"},
		"level":    {Question{Task: Task{"ratio", 6, 1}}, "task/level"},
		"no level": {Question{Task: Task{"setup", 0, 1}}, "task/level"},
		"too many": {Question{Task: axle, Acts: long}, "acts"},
		"unknown":  {Question{Task: axle, Acts: []Act{{Do: "fly"}}}, "acts/0/do"},
		"not now":  {Question{Task: axle, Acts: []Act{{Do: "let_go"}}}, "acts/0/do"},
		"no turns": {Question{Task: axle, Acts: []Act{{Do: "turn", On: both}}}, "acts/0/turns"},
		"endless": {Question{Task: axle, Acts: []Act{{Do: "turn", On: both, Turns: math.Inf(1)}}},
			"acts/0/turns"},
		"many turns":    {Question{Task: axle, Acts: []Act{{Do: "turn", On: both, Turns: 61}}}, "acts/0/turns"},
		"nothing noted": {Question{Task: axle, Acts: []Act{{Do: "note", On: "turns"}}}, "acts/0/note"},
		"no answer":     {Question{Task: axle, Acts: []Act{{Do: "decide"}}}, "acts/0/answer"},
		"no ratio":      {Question{Task: axle, Acts: []Act{{Do: "decide", Answer: "four ten"}}}, "acts/0/answer"},
		"too sure": {Question{Task: axle, Acts: []Act{{Do: "decide", Answer: "4.10", Sure: 101}}},
			"acts/0/sure"},
		"decided": {Question{Task: axle, Acts: []Act{{Do: "decide", Answer: "4.10"}, {Do: "mark"}}},
			"acts/0/do"},
		"no shims": {Question{Task: Task{"setup", 1, 1}, Acts: []Act{{Do: "assemble"}}}, "acts/0/stacks"},
		"no such pile": {Question{Task: Task{"setup", 1, 1}, Acts: []Act{{Do: "assemble", Stacks: &Piles{9, 1,
			1}}}}, "acts/0/stacks/pinion"},
		"none of the list": {Question{Task: Task{"setup", 1, 1}, Acts: []Act{{Do: "decide", Answer: "maybe"}}},
			"acts/0/answer"},
		"no such test": {Question{Task: Task{"broken", 1, 1}, Acts: []Act{{Do: "test", On: "999"}}}, "acts/0/do"},
	} {
		_, err := Work(c.q)
		list := fault.List(err)
		if len(list) == 0 || list[0].Field != c.field {
			t.Errorf("%s: %v, want a fault at %s", name, err, c.field)
		}
		var one *fault.Error
		if errors.As(err, &one) && strings.TrimSpace(one.Message) == "" {
			t.Errorf("%s: no words", name)
		}
	}
}

// However long somebody goes on, he is told where it ends, and can still decide.
func TestGoingOnAndOn(t *testing.T) {
	ready := []Act{{Do: "chock"}, {Do: "lift", On: left}, {Do: "lift", On: right}, {Do: "stands"}, {Do: "neutral"}, {Do: "brake"},
		{Do: "mark"}, {Do: "turn", On: both, Turns: 1}}
	task := Task{"ratio", 1, 5}
	note := Act{Do: "note", On: "turns", Note: noteOf(unit(t, 1, 5), 1, 1, 4)}
	goOn := func(task Task, acts []Act, most int, next func(i int) Act) {
		t.Helper()
		for i := range most {
			acts = append(acts, next(i))
		}
		if _, err := Work(Question{Task: task, Acts: append(slices.Clone(acts), next(most))}); err == nil {
			t.Errorf("%v: one more was taken", task)
		}
		s := scene(t, task, acts...)
		if scene(t, task, append(acts, Act{Do: decide, Answer: anyAnswer(s), Sure: 50})...).Review == nil {
			t.Errorf("%v: no review", task)
		}
	}
	goOn(task, ready, mostRead, func(int) Act { return note })
	broken := Task{"broken", 3, 1}
	var tests []string
	for _, o := range scene(t, broken).Offers {
		if o.Do == "test" {
			tests = append(tests, o.On)
		}
	}
	goOn(broken, nil, mostFound, func(i int) Act { return Act{Do: "test", On: tests[i]} })
}

// What is ordered may be typed as a ratio or as both tooth counts.
func TestOrdersAreReadAsTheyAreTyped(t *testing.T) {
	u := unit(t, 1, 5)
	for text, want := range map[string]string{"4.1": "4.10", "4,10": "4.10", " 3.727 ": "3.73", "41/11": "3.73", "11-41": "3.73", "9": "9.00", "four": "", "": ""} {
		if got, err := u.answers(text); got != want || (err != nil) != (want == "") {
			t.Errorf("%q: %q %v, want %q", text, got, err, want)
		}
	}
}

// Who is right with a chance q expects most by saying q, and then earns q².
func TestSayingWhatOneBelievesPays(t *testing.T) {
	for q := 0.0; q <= 1; q += 0.05 {
		expects := func(p float64) float64 { return q*Certain(p, true) + (1-q)*Certain(p, false) }
		for p := 0.0; p <= 1; p += 0.01 {
			if expects(p) > expects(q)+1e-12 {
				t.Fatalf("right %.2f of the time: saying %.2f earns more than saying so", q, p)
			}
		}
		if math.Abs(expects(q)-q*q) > 1e-12 {
			t.Errorf("%.2f earns %.3f", q, expects(q))
		}
	}
}

func TestScore(t *testing.T) {
	for _, c := range []struct {
		right            bool
		sure             int
		minutes, cheaper float64
		missed           int
		want             Score
	}{
		{true, 100, 10, 10, 0, Score{100, 60, 25, 15}},
		{true, 100, 5, 10, 0, Score{100, 60, 25, 15}},
		{true, 100, 37, 17, 1, Score{83, 60, 13, 10}},
		{true, 50, 10, 10, 9, Score{70, 45, 25, 0}},
		{true, 0, 10, 10, 0, Score{40, 0, 25, 15}},
		{false, 0, 10, 10, 0, Score{0, 0, 0, 0}},
		{false, 100, 1, 10, 0, Score{-60, -60, 0, 0}},
		{false, 50, 1, 10, 3, Score{-15, -15, 0, 0}},
	} {
		r := Review{Right: c.right, Sure: c.sure, Minutes: c.minutes, Cheapest: c.cheaper}
		if r.mark(c.missed); r.Score != c.want {
			t.Errorf("%+v: %+v", c, r.Score)
		}
	}
}

func TestCautionsForgottenCostAndSayWhy(t *testing.T) {
	task := Task{"ratio", 1, 3}
	careless := scene(t, task, Act{Do: "lift", On: left}, Act{Do: "lift", On: right}, Act{Do: "neutral"},
		Act{Do: "brake"},
		Act{Do: "mark"}, Act{Do: "turn", On: both, Turns: 1}, Act{Do: decide, Answer: "4.10", Sure: 10})
	var why []string
	for _, d := range careless.Log {
		if d.Forgot != "" {
			why = append(why, d.Forgot)
		}
	}
	if len(why) != 5 || !strings.Contains(why[0], "chock") || !strings.Contains(why[4], "stands") {
		t.Errorf("forgotten: %q", why)
	}
	if r := careless.Review; forgotten(careless.Log) != 2 || len(r.Mistakes) < 2 {
		t.Errorf("two cautions were missed: %+v", r)
	}
	careful := scene(t, task, Act{Do: "chock"}, Act{Do: "lift", On: left}, Act{Do: "lift", On: right},
		Act{Do: "stands"},
		Act{Do: "neutral"}, Act{Do: "brake"}, Act{Do: "mark"}, Act{Do: "turn", On: both, Turns: 1})
	for _, d := range careful.Log {
		if d.Forgot != "" {
			t.Errorf("%s: %s", d.Words, d.Forgot)
		}
	}
}
