package demo

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"sync"
	"time"

	"zorvel/core/identify"
	"zorvel/core/practice"
	"zorvel/core/practice/drills"
	"zorvel/core/practice/progress"
	"zorvel/internal/store"
)

// learned is what Ivar has practiced in three weeks, played once in a process: axles to the
// third level, his eye, and a few drills. Days count from the first.
var learned = sync.OnceValues(func() ([]progress.Result, error) {
	var out []progress.Result
	r := rand.New(rand.NewPCG(30, 11))
	hand := practice.Learner{Lost: 0.02, Eye: 0.04}
	for i, level := range []int{1, 1, 1, 1, 1, 2, 2, 2, 2, 2, 2, 3, 3} {
		for seed := uint32(100 * i); ; seed++ {
			task := practice.Task{Kind: "ratio", Level: level, Seed: seed}
			acts, err := hand.Play(task, r)
			if err != nil {
				return nil, err
			}
			x, err := progress.OfUnit(practice.Question{Task: task, Acts: acts}, i+i/2)
			if err != nil {
				return nil, err
			}
			// What he got wrong he kept; of what he got right, what he did well.
			if level == 3 || x.Points > 70 {
				out = append(out, x)
				break
			}
		}
	}
	for i := range 36 {
		x, err := byEye(r, uint32(i), i/2)
		if err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	for i := range 24 {
		x, err := chosen(r, []string{"taller", "stamp"}[i%2], uint32(i), 6+i/2)
		if err != nil {
			return nil, err
		}
		out = append(out, x)
	}
	return out, nil
})

// byEye is a card of the partial turn: he reads a little too much.
func byEye(r *rand.Rand, seed uint32, day int) (progress.Result, error) {
	q := drills.Question{Drill: "remainder", Level: 1, Seed: seed}
	c, err := drills.Work(q)
	if err != nil {
		return progress.Result{}, err
	}
	v := math.Mod(c.Picture.At+1.015+0.03*r.NormFloat64(), 1)
	q.Answer = &drills.Answer{Value: &v}
	return progress.OfCard(q, day)
}

// chosen is a card with choices: mostly he picks the right one.
func chosen(r *rand.Rand, drill string, seed uint32, day int) (progress.Result, error) {
	q := drills.Question{Drill: drill, Level: 1, Seed: seed}
	c, err := drills.Work(q)
	if err != nil {
		return progress.Result{}, err
	}
	slip := r.Float64() < 0.08
	var x progress.Result
	for _, choice := range c.Choices {
		q.Answer = &drills.Answer{Choice: choice.ID}
		if x, err = progress.OfCard(q, day); err != nil || x.Right != slip {
			break
		}
	}
	return x, err
}

// practiced is Ivar's history, and a task that he made for whoever comes next.
func practiced(ctx context.Context, st *store.Store, learner int64, now time.Time) error {
	results, err := learned()
	if err != nil {
		return err
	}
	last := 0
	for _, x := range results {
		last = max(last, x.Day)
	}
	begin := int(now.Unix()/86400) - last - 1
	for i, x := range results {
		x.Day += begin
		key := fmt.Sprintf("demo-practice-%d", i)
		if err := st.AddPracticed(ctx, learner, key, key, must(x)); err != nil {
			return err
		}
	}
	task := practice.Own{Format: practice.OwnFormat, Title: "Skarv 7, rear axle",
		Story: "The flatbed came in on a hook after a winter in the quarry. " +
			"The owner has the papers somewhere. What is in the rear axle?", Tag: "3.73", Creep: -0.2}
	task.Stage.Kind = "ring_and_pinion"
	task.Teeth = identify.CountsOf(map[string]int{"ring": 41, "pinion": 10})
	_, err = st.AddPracticeTask(ctx, "demo-task-1", "demo-task-1", must(task), ivar)
	return err
}
