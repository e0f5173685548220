package progress

import (
	"zorvel/core/fault"
	"zorvel/core/practice"
	"zorvel/core/practice/drills"
)

// OfUnit plays a unit anew, and gives what it came to. It is a fault where it isn't decided,
// or is a teacher's own: those count for no level.
func OfUnit(q practice.Question, day int) (Result, error) {
	if q.Own != nil {
		return Result{}, fault.New("own", "a teacher's task counts for no level")
	}
	s, err := practice.Work(q)
	if err != nil {
		return Result{}, err
	}
	if s.Review == nil {
		return Result{}, fault.New("acts", "decide first: it counts once you have ordered")
	}
	r := Result{What: q.Task.Kind, Level: q.Task.Level, Seed: q.Task.Seed, Day: day, Points: s.Review.Score.Total,
		Right: s.Review.Right, Helps: Helpful(s.Review)}
	return r, nil
}

// OfCard marks a card anew, and gives what it came to.
func OfCard(q drills.Question, day int) (Result, error) {
	c, err := drills.Work(q)
	if err != nil {
		return Result{}, err
	}
	if c.Marked == nil {
		return Result{}, fault.New("answer", "answer first")
	}
	return Result{What: q.Drill, Level: q.Level, Seed: q.Seed, Day: day, Points: c.Marked.Points,
		Right: c.Marked.Right, Off: c.Marked.Off}, nil
}
