package progress

import (
	"math/rand/v2"
	"testing"

	"zorvel/core/fault"
	"zorvel/core/practice"
	"zorvel/core/practice/drills"
)

// A result is what playing it anew comes to.
func TestResultsArePlayedAnew(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	for seed := range uint32(6) {
		task := practice.Task{Kind: "ratio", Level: 1 + int(seed)%2, Seed: seed}
		acts, err := practice.Learner{Eye: 0.05, Lost: 0.2}.Play(task, r)
		if err != nil {
			t.Fatal(err)
		}
		q := practice.Question{Task: task, Acts: acts}
		s, err := practice.Work(q)
		if err != nil {
			t.Fatal(err)
		}
		x, err := OfUnit(q, 7)
		if err != nil || x.Points != s.Review.Score.Total || x.Right != s.Review.Right || x.What != "ratio" || x.Day != 7 || x.Seed != seed {
			t.Errorf("%+v, played %+v, %v", x, s.Review.Score, err)
		}
		if err := x.Check(); err != nil {
			t.Error(err)
		}
		v := 0.3
		card := drills.Question{Drill: "remainder", Level: 2, Seed: seed, Answer: &drills.Answer{Value: &v}}
		y, err := OfCard(card, 7)
		c, cardErr := drills.Work(card)
		if err != nil || cardErr != nil || y.Points != c.Marked.Points || y.Off == nil || *y.Off != *c.Marked.Off {
			t.Errorf("%+v, marked %+v, %v %v", y, c, err, cardErr)
		}
	}
}

func TestResultsThatArentThere(t *testing.T) {
	own := practice.Own{Format: practice.OwnFormat}
	for field, err := range map[string]error{
		"acts":      second(OfUnit(practice.Question{Task: practice.Task{Kind: "ratio", Level: 1}}, 0)),
		"task/kind": second(OfUnit(practice.Question{Task: practice.Task{Kind: "moon", Level: 1}}, 0)),
		"own":       second(OfUnit(practice.Question{Own: &own}, 0)),
		"answer":    second(OfCard(drills.Question{Drill: "stamp", Level: 1}, 0)),
		"drill":     second(OfCard(drills.Question{Drill: "moon", Level: 1}, 0)),
	} {
		if list := fault.List(err); len(list) == 0 || list[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

func second[T any](_ T, err error) error { return err }

// A learner who loses fewer and fewer turns and gets a better eye gets further than one who
// doesn't learn.
func TestLearnersGetFurther(t *testing.T) {
	level := func(hand func(i int) practice.Learner) int {
		r := rand.New(rand.NewPCG(12, 3))
		var list []Result
		at := 1
		for i := range 26 {
			task := practice.Task{Kind: "ratio", Level: at, Seed: uint32(i)}
			acts, err := hand(i).Play(task, r)
			if err != nil {
				t.Fatal(err)
			}
			x, err := OfUnit(practice.Question{Task: task, Acts: acts}, i)
			if err != nil {
				t.Fatal(err)
			}
			list = append(list, x)
			at = min(2, find(t, board(t, i, list...).Units, "ratio").Next)
		}
		return find(t, board(t, 26, list...).Units, "ratio").Next
	}
	learns := level(func(i int) practice.Learner {
		left := max(0, 1-float64(i)/10)
		return practice.Learner{Lost: 0.5 * left, Eye: 0.03 + 0.15*left}
	})
	stays := level(func(int) practice.Learner { return practice.Learner{Lost: 0.5, Eye: 0.18, Careless: true} })
	if learns <= stays {
		t.Errorf("who learns is at level %d, who doesn't at %d", learns, stays)
	}
}
