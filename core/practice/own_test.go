package practice

import (
	"encoding/json"
	"strings"
	"testing"

	"zorvel/core/fault"
	"zorvel/core/identify"
)

func ownTask() *Own {
	return &Own{Format: OwnFormat, Title: "Skarv 7, rear", Story: "Came in on a hook. What is in it?",
		Stage: identify.Stage{Kind: identify.RingAndPinion}, Teeth: identify.CountsOf(map[string]int{"ring": 41,
			"pinion": 10}), Tag: "3.73", Stamp: "41-10"}
}

// A teacher's task leaves and comes back as it was, is worked like any other, and its truth
// is told at the end and nowhere before.
func TestOwnTask(t *testing.T) {
	file, err := json.Marshal(ownTask())
	if err != nil {
		t.Fatal(err)
	}
	var back Own
	if err := json.Unmarshal(file, &back); err != nil {
		t.Fatal(err)
	}
	q := Question{Task: Task{Kind: "own", Level: 1}, Own: &back, Acts: []Act{{Do: "chock"}, {Do: "tag"}}}
	s, err := Work(q)
	if err != nil {
		t.Fatal(err)
	}
	shown, err := json.Marshal(s)
	if err != nil {
		t.Fatal(err)
	}
	if strings.Contains(string(shown), "4.10") && !strings.Contains(s.Asked.Example, "4.10") ||
		strings.Contains(string(shown), `"ring":41`) {
		t.Errorf("the truth shows: %s", shown)
	}
	if s.Title != "Skarv 7, rear" || !strings.Contains(s.Story, "hook") ||
		s.Log[1].Saw != "A tag under a cover bolt: 3.73." {
		t.Errorf("%+v", s)
	}
	q.Acts = append(q.Acts, Act{Do: decide, Answer: "3.73", Sure: 90})
	if s, err = Work(q); err != nil || s.Review.Right || s.Review.Truth != "4.10" {
		t.Fatalf("%+v %v", s, err)
	}
	if len(s.Review.Mistakes) == 0 || !strings.Contains(s.Review.Mistakes[0].Words, "tags outlive gears") {
		t.Errorf("%+v", s.Review.Mistakes)
	}
}

func TestOwnTasksThatCantBe(t *testing.T) {
	for field, spoil := range map[string]func(*Own){
		"format":     func(o *Own) { o.Format = "zorvel-list" },
		"title":      func(o *Own) { o.Title = " " },
		"story":      func(o *Own) { o.Story = strings.Repeat("x", 1001) },
		"stage/kind": func(o *Own) { o.Stage.Kind = identify.Hub },
		"teeth":      func(o *Own) { o.Teeth = o.Teeth[:1] },
		"stuck":      func(o *Own) { o.Stuck = "rear" },
		"creep":      func(o *Own) { o.Creep = 4 },
		"tag":        func(o *Own) { o.Tag = "no figures" },
		"stamp":      func(o *Own) { o.Stamp = "?" },
	} {
		o := ownTask()
		spoil(o)
		if list := fault.List(o.Check()); len(list) == 0 || list[0].Field != field {
			t.Errorf("%s: %v", field, o.Check())
		}
	}
	o := ownTask()
	o.Stuck, o.LimitedSlip = left, true
	if o.Check() == nil {
		t.Error("a limited slip beside a seized brake")
	}
	if _, err := Work(Question{Task: Task{Kind: "ratio", Level: 1}, Own: ownTask()}); err == nil {
		t.Error("a task of one's own of another kind")
	}
	for _, st := range []identify.Stage{{Kind: identify.Gearcase}, {Kind: identify.TransferCase, Position: "low"},
		{Kind: identify.TwoStage}} {
		o := ownTask()
		o.Stage, o.Teeth, o.Tag, o.Stamp = st, identify.CountsOf(map[string]int{"wheel": 3}), "", ""
		if list := fault.List(o.Check()); len(list) == 0 || list[0].Field != "teeth" {
			t.Errorf("%v: %v", st, o.Check())
		}
	}
}
