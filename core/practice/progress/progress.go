// Package progress says of what a learner has done so far which levels are open, what he has
// mastered, what is due again, and how well his eye judges a partial turn.
//
// It knows no clock: results carry the day on which they were made, counted from any day,
// and the board is asked for on a day.
package progress

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sync"

	"zorvel/core/fault"
	"zorvel/core/practice"
	"zorvel/core/practice/drills"
	"zorvel/core/say"
)

// Bounds of a question; the contract has the same.
const (
	MostResults = 2000
	MostDay     = 1_000_000
)

// Result is one unit or one card, done.
type Result struct {
	// What is the kind of unit or the drill.
	What   string `json:"what"`
	Level  int    `json:"level"`
	Seed   uint32 `json:"seed"`
	Day    int    `json:"day"`
	Points int    `json:"points"` // −60 to 100
	Right  bool   `json:"right"`
	// Off is by how much a judged figure was off.
	Off *float64 `json:"off,omitempty"`
	// Helps are the drills that would help with what went wrong.
	Helps []string `json:"helps,omitempty"`
}

// Question is all that was done, oldest first, and the day that it is.
type Question struct {
	Results []Result `json:"results"`
	Day     int      `json:"day"`
}

// Level is one level of a kind of unit or of a drill.
type Level struct {
	Words    string   `json:"words"`
	Open     bool     `json:"open"`
	Mastered bool     `json:"mastered"`
	Done     int      `json:"done"`
	Mean     *float64 `json:"mean,omitempty"` // points of the last ones
}

// Skill is a kind of unit or a drill with how far the learner is.
type Skill struct {
	ID     string  `json:"id"`
	Title  string  `json:"title"`
	About  string  `json:"about"`
	Levels []Level `json:"levels"`
	Next   int     `json:"next"` // the level to do next
	Done   int     `json:"done"`
	// Due is in how many days it comes back; below zero it is late, none before it was ever
	// done.
	Due *int `json:"due,omitempty"`
}

// Daily is a drill of today's five minutes.
type Daily struct {
	Drill string `json:"drill"`
	Title string `json:"title"`
	Level int    `json:"level"`
	Cards int    `json:"cards"`
	Why   string `json:"why"`
}

// Board is what a learner sees first.
type Board struct {
	Units    []Skill `json:"units"`
	Drills   []Skill `json:"drills"`
	Daily    []Daily `json:"daily"`
	Today    int     `json:"today"` // cards and units done today
	Eye      *Eye    `json:"eye,omitempty"`
	Mastered int     `json:"mastered"` // levels
	Levels   int     `json:"levels"`
}

// Mastery is judged by the last five units, or the last ten cards, at a level: at most one
// wrong, 75 points on the mean. It lapses where they fall below 50, and is never reached by
// doing many: only the last ones count, and a guess earns next to nothing.
const (
	byUnits   = 5
	byCards   = 10
	toMaster  = 75.0
	toKeep    = 50.0
	mostWrong = 1
)

// dailySeconds is how long a day's drills are, in seconds.
const dailySeconds = 300

// Work makes the board. Faults are fault.Errors with paths within the question.
func Work(q Question) (*Board, error) {
	if err := q.check(); err != nil {
		return nil, err
	}
	by := map[string][]Result{}
	b := &Board{Units: []Skill{}, Drills: []Skill{}, Daily: []Daily{}}
	for _, r := range q.Results {
		if r.Day == q.Day {
			b.Today++
		}
	}
	first := firsts(q.Results)
	for _, r := range first {
		by[r.What] = append(by[r.What], r)
	}
	for _, k := range practice.Kinds() {
		b.Units = append(b.Units, skill(Skill{ID: k.ID, Title: k.Title, About: k.About}, k.Levels, by[k.ID], byUnits,
			q.Day))
	}
	for _, d := range drills.List() {
		b.Drills = append(b.Drills, skill(Skill{ID: d.ID, Title: d.Title, About: d.About}, d.Levels, by[d.ID],
			byCards, q.Day))
	}
	for _, s := range slices.Concat(b.Units, b.Drills) {
		for _, l := range s.Levels {
			b.Levels++
			if l.Mastered {
				b.Mastered++
			}
		}
	}
	b.daily(by, helps(first, q.Day))
	b.Eye = EyeOf(first)
	return b, nil
}

func (q *Question) check() error {
	var errs fault.Errors
	if len(q.Results) > MostResults {
		return fault.New("results", "at most %d results", MostResults)
	}
	if q.Day < 0 || q.Day > MostDay {
		errs.Add("day", "from 0 to %d", MostDay)
	}
	for i, r := range q.Results {
		if err := r.Check(); err != nil {
			errs = append(errs, fault.List(fault.Under(fmt.Sprintf("results/%d", i), err))...)
		}
		if len(errs) >= 20 {
			break
		}
	}
	return errs.Err()
}

// firsts leaves out what was done again: a unit or a card that one has seen the answer of
// shows nothing.
func firsts(list []Result) []Result {
	type what struct {
		what  string
		level int
		seed  uint32
	}
	seen := map[what]bool{}
	var out []Result
	for _, r := range list {
		w := what{r.What, r.Level, r.Seed}
		if !seen[w] {
			seen[w] = true
			out = append(out, r)
		}
	}
	return out
}

// levelsOf are how many levels each kind of unit and each drill has.
var levelsOf = sync.OnceValue(func() map[string]int {
	out := map[string]int{}
	for _, k := range practice.Kinds() {
		out[k.ID] = len(k.Levels)
	}
	for _, d := range drills.List() {
		out[d.ID] = len(d.Levels)
	}
	return out
})

// Check says what is wrong with a result. Faults are fault.Errors with paths within it.
func (r *Result) Check() error {
	var errs fault.Errors
	n, ok := levelsOf()[r.What]
	if !ok {
		return fault.New("what", "%.40q is neither a kind of unit nor a drill", r.What)
	}
	if r.Level < 1 || r.Level > n {
		errs.Add("level", "from 1 to %d", n)
	}
	if r.Points < -100 || r.Points > 100 {
		errs.Add("points", "from −100 to 100")
	}
	if r.Day < 0 || r.Day > MostDay {
		errs.Add("day", "from 0 to %d", MostDay)
	}
	if r.Off != nil && !finite(*r.Off) {
		errs.Add("off", "a number")
	}
	return errs.Err()
}

// skill is how far the learner is with one thing.
func skill(s Skill, levels []string, done []Result, judged, day int) Skill {
	s.Done, s.Next = len(done), 1
	open := true
	for i, words := range levels {
		l := Level{Words: words, Open: open}
		var at []Result
		for _, r := range done {
			if r.Level == i+1 {
				at = append(at, r)
			}
		}
		l.Done, l.Mastered = len(at), mastered(at, judged)
		if len(at) > 0 {
			m := say.Round(mean(last(at, judged)), 0)
			l.Mean = &m
		}
		if open {
			s.Next = i + 1
		}
		open = open && l.Mastered
		s.Levels = append(s.Levels, l)
	}
	if len(done) > 0 {
		due := due(done) - day
		s.Due = &due
	}
	return s
}

func last(list []Result, n int) []Result { return list[max(0, len(list)-n):] }

func mean(list []Result) float64 {
	t := 0.0
	for _, r := range list {
		t += float64(r.Points)
	}
	return t / float64(len(list))
}

// mastered goes through what was done at a level in order: mastery is reached, and lapses.
func mastered(list []Result, judged int) bool {
	is := false
	for i := judged; i <= len(list); i++ {
		some := list[i-judged : i]
		wrong := 0
		for _, r := range some {
			if !r.Right {
				wrong++
			}
		}
		switch m := mean(some); {
		case m >= toMaster && wrong <= mostWrong:
			is = true
		case m < toKeep:
			is = false
		}
	}
	return is
}

// due is the day on which it comes back: the interval doubles with what went well when it
// was due, up to two months, and starts over with what went wrong (Leitner 1972; the spacing
// effect, Ebbinghaus 1885). Doing it every day is not remembering it for long.
func due(done []Result) int {
	interval, back := 0, 0
	for i := 0; i < len(done); {
		k := i // what was done on one day counts once, by its mean
		for k < len(done) && done[k].Day == done[i].Day {
			k++
		}
		day := done[i].Day
		switch m := mean(done[i:k]); {
		case m < toKeep:
			interval, back = 0, day+1
		case day >= back:
			if m >= toMaster {
				interval = min(max(1, 2*interval), 64)
			}
			back = day + max(1, interval)
		}
		i = k
	}
	return back
}

// helps counts how often each drill was named against a mistake of the last four weeks.
func helps(list []Result, day int) map[string]int {
	out := map[string]int{}
	for _, r := range list {
		if day-r.Day <= 28 {
			for _, h := range r.Helps {
				out[h]++
			}
		}
	}
	return out
}

// daily picks today's drills: what mistakes ask for and what is due, the weakest first,
// then new ones, until five minutes are full.
func (b *Board) daily(by map[string][]Result, asked map[string]int) {
	type due struct {
		s      *Skill
		weight float64
		why    string
	}
	var list []due
	fresh := 0
	for i := range b.Drills {
		s := &b.Drills[i]
		switch {
		case asked[s.ID] > 0 && (s.Due == nil || *s.Due <= 1):
			list = append(list, due{s, 300 + float64(asked[s.ID]), "A mistake asks for it"})
		case s.Due != nil && *s.Due <= 0:
			list = append(list, due{s, 200 - mean(last(by[s.ID], byCards)), "Due again"})
		case s.Due == nil && fresh < 2:
			fresh++
			list = append(list, due{s, 10 - float64(fresh), "New"})
		}
	}
	slices.SortStableFunc(list, func(x, y due) int { return cmp.Compare(y.weight, x.weight) })
	seconds := map[string]int{}
	for _, d := range drills.List() {
		seconds[d.ID] = d.Seconds
	}
	left := dailySeconds
	for _, x := range list {
		t := seconds[x.s.ID]
		cards := min(5, max(1, 75/t))
		if cards*t > left {
			continue
		}
		left -= cards * t
		b.Daily = append(b.Daily, Daily{Drill: x.s.ID, Title: x.s.Title, Level: x.s.Next, Cards: cards, Why: x.why})
	}
}

// Helpful are the drills that a review names, each once.
func Helpful(r *practice.Review) []string {
	out := []string{}
	for _, m := range r.Mistakes {
		if m.Drill != "" && !slices.Contains(out, m.Drill) {
			out = append(out, m.Drill)
		}
	}
	return out
}

func finite(v float64) bool { return !math.IsNaN(v) && !math.IsInf(v, 0) }
