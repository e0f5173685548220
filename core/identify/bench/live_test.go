package bench_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"zorvel/core/identify"
	"zorvel/core/identify/bench"
	"zorvel/core/live"
)

// turned asks what a simulated turning tells of an axle, beside other readings.
func turned(t *testing.T, turning live.Turning, seed uint64, change func(*bench.LiveQuestion)) bench.LiveTold {
	t.Helper()
	rec := turning.Run(rand.New(rand.NewPCG(seed, 9))).Recording
	rec.OneWay = true
	q := bench.LiveQuestion{Recording: rec, With: &bench.Question{Stage: identify.Stage{Kind: identify.RingAndPinion}}}
	if change != nil {
		change(&q)
	}
	body, err := json.Marshal(q)
	if err != nil {
		t.Fatal(err)
	}
	var b bench.Bench
	var told bench.LiveTold
	answer(t, &b, "live", string(body), 200, &told)
	return told
}

// A count that goes on says how much further, and stops by itself.
func TestLiveAdvice(t *testing.T) {
	turning := live.Turning{Ratio: 41.0 / 11, Wheels: live.BothTurn, Speed: 0.5, InMarks: 8, OutMarks: 8,
		Directed: true}
	turning.Turns = 3
	some := turned(t, turning, 1, nil)
	if some.Advice != bench.TurnOn || some.More == nil || *some.More <= 0 || !strings.HasPrefix(some.Sentence,
		"Keep turning, about ") {
		t.Errorf("after 3 turns: %s %q %v", some.Advice, some.Sentence, some.More)
	}
	turning.Turns = 40
	many := turned(t, turning, 1, nil)
	if many.Advice != bench.Stop || many.Verdict == nil || many.Verdict.Label == nil ||
		many.Verdict.Label.Label != "3.73" {
		t.Errorf("after 40 turns: %s %q %+v", many.Advice, many.Sentence, many.Verdict.Label)
	}
	if many.Reading.Spread >= some.Reading.Spread*2 || many.Reading.Output < 20 {
		t.Errorf("%+v after %+v", many.Reading, some.Reading)
	}
}

// A reading that says otherwise is a conflict, not an average.
func TestLiveConflict(t *testing.T) {
	turning := live.Turning{Ratio: 41.0 / 11, Wheels: live.BothTurn, Speed: 0.5, Turns: 8, InMarks: 4, OutMarks: 4,
		Directed: true}
	told := turned(t, turning, 2, func(q *bench.LiveQuestion) {
		q.With.Readings = []identify.Reading{{Method: identify.Teeth,
			Teeth: identify.CountsOf(map[string]int{"ring": 41, "pinion": 9})}}
	})
	if told.Advice != bench.Disagree || told.Verdict.State != identify.Conflict {
		t.Errorf("%s %q", told.Advice, told.Sentence)
	}
}

// A wheel without marks is never settled on: it asks for proof.
func TestLiveUnproved(t *testing.T) {
	turning := live.Turning{Ratio: 41.0 / 11, Wheels: live.RightHeld, Speed: 0.5, Turns: 24, InMarks: 8, OutMarks: 8,
		Directed: true}
	told := turned(t, turning, 3, nil)
	if told.Advice == bench.Stop || len(told.Reading.Unproved) != 1 || told.Reading.Unproved[0] != identify.WheelStill {
		t.Errorf("%s %+v", told.Advice, told.Reading)
	}
	held := turned(t, turning, 3, func(q *bench.LiveQuestion) { q.Recording.HeldWheels = []live.Shaft{live.Right} })
	if held.Advice != bench.Stop {
		t.Errorf("held and watched: %s %q", held.Advice, held.Sentence)
	}
}

// A file says the same as its points, and what is wrong with it is told at it.
func TestLiveFile(t *testing.T) {
	turning := live.Turning{Ratio: 4.1, Wheels: live.OnePart, Speed: 0.5, Turns: 6, InMarks: 2, OutMarks: 2}
	points := turned(t, turning, 4, func(q *bench.LiveQuestion) { q.With.Stage.Kind = identify.Gearcase })
	file := turned(t, turning, 4, func(q *bench.LiveQuestion) {
		q.With.Stage.Kind = identify.Gearcase
		text := live.WriteCSV(q.Recording.Sources)
		q.CSV, q.Recording.Sources = &text, nil
	})
	if points.Sentence != file.Sentence || points.Live.Sentence != file.Live.Sentence {
		t.Errorf("%q and %q", points.Sentence, file.Sentence)
	}
	var b bench.Bench
	for body, field := range map[string]string{
		`{"recording":{"sources":[]}}`:                                                 "recording/sources",
		`{"recording":{"sources":[]},"csv":"shaft,seconds\n"}`:                         "csv",
		`{"recording":{"sources":[{"shaft":"left","marks":0,"times":[1]}]}}`:           "recording/sources/0/marks",
		`{"recording":{"sources":[{"shaft":"left","marks":1,"times":[1]}]},"csv":"x"}`: "csv",
	} {
		status, text := b.Answer("live", []byte(body))
		if status != 422 || !strings.Contains(string(text), "/"+field) {
			t.Errorf("%s: %d %s, want 422 at %s", body, status, text, field)
		}
	}
}

func ExampleLiveReading() {
	rec := live.Recording{Other: &live.Other{Does: live.With}, OneWay: true}
	for _, s := range []struct {
		shaft live.Shaft
		every float64
		n     int
	}{{live.Input, 0.5, 42}, {live.Left, 2.05, 11}} {
		src := live.Source{Shaft: s.shaft, Marks: 1}
		for i := range s.n {
			src.Times = append(src.Times, s.every*float64(i))
		}
		rec.Sources = append(rec.Sources, src)
	}
	a, err := live.Weigh(rec)
	if err != nil {
		fmt.Println(err)
		return
	}
	r := bench.LiveReading(a, rec)
	fmt.Printf("%.1f turns for %.0f, unproved: %v\n", r.Shaft, r.Output, r.Unproved)
	// Output: 41.0 turns for 10, unproved: [wheel_with]
}
