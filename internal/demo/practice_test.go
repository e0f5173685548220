package demo_test

import (
	"encoding/json"
	"testing"

	"zorvel/core/practice"
	"zorvel/core/practice/progress"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// The demo's learner has come to the third level, his eye is known, and what he has done is
// what playing it comes to; the task that waits for others can be worked.
func TestLearnersHistory(t *testing.T) {
	_, st := testkit.Server(t, true)
	people, err := st.People(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	var results []progress.Result
	for _, p := range people {
		rows, err := st.Practiced(t.Context(), p.ID)
		if err != nil {
			t.Fatal(err)
		}
		if p.Role != store.Technician && len(rows) > 0 {
			t.Errorf("%s has practiced", p.Name)
		}
		for _, raw := range rows {
			var r progress.Result
			if err := json.Unmarshal(raw, &r); err != nil || r.Check() != nil {
				t.Fatalf("%s: %v %v", raw, err, r.Check())
			}
			results = append(results, r)
		}
	}
	last := results[len(results)-1].Day
	b, err := progress.Work(progress.Question{Results: results, Day: last + 1})
	if err != nil {
		t.Fatal(err)
	}
	ratio := b.Units[0]
	if ratio.ID != "ratio" || !ratio.Levels[2].Open || ratio.Levels[3].Open || ratio.Next != 3 {
		t.Errorf("%+v", ratio)
	}
	if b.Eye == nil || b.Eye.Cards != 36 || b.Eye.BiasLow <= 0 || len(b.Daily) == 0 {
		t.Errorf("%+v %+v", b.Eye, b.Daily)
	}
	tasks, err := st.PracticeTasks(t.Context())
	if err != nil || len(tasks) != 1 {
		t.Fatalf("%d tasks, %v", len(tasks), err)
	}
	var own practice.Own
	if err := json.Unmarshal(tasks[0].Task, &own); err != nil {
		t.Fatal(err)
	}
	if err := own.Check(); err != nil {
		t.Error(err)
	}
	s, err := practice.Work(practice.Question{Task: practice.Task{Kind: "own", Level: 1}, Own: &own,
		Acts: []practice.Act{{Do: "decide", Answer: "4.10", Sure: 70}}})
	if err != nil || !s.Review.Right {
		t.Errorf("%+v %v", s, err)
	}
}
