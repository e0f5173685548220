package practice

import (
	"math"
	"math/rand/v2"
	"strings"

	"zorvel/core/identify"
)

// Learner is a simulated one at the units whose ratio is asked: he turns, reads by eye and
// orders what his readings come to.
type Learner struct {
	Lost     float64 // how often a count loses or gains a turn
	Eye      float64 // how his partial turns scatter, one sigma, turns
	Trust    float64 // how often he orders by the tag alone
	Careless bool    // forgets chocks and stands
	Bluffs   bool    // says he is certain, whatever he read
	Guesses  bool    // orders a common ratio unseen
}

// usual are the ratios that one guesses.
var usual = []string{"3.73", "4.10", "3.55", "3.42", "4.56"}

// Play works a unit to its decision, and gives what was done.
func (l Learner) Play(t Task, r *rand.Rand) ([]Act, error) {
	u, err := newRatioUnit(t)
	if err != nil {
		return nil, err
	}
	if l.Guesses {
		return []Act{{Do: decide, Answer: usual[r.IntN(len(usual))], Sure: 10 + r.IntN(80)}}, nil
	}
	var acts []Act
	do := func(list ...Act) error {
		for _, a := range list {
			if _, err := u.do(a); err != nil {
				return err
			}
			acts = append(acts, a)
		}
		return nil
	}
	if !u.boat() {
		if err := do(Act{Do: "tag"}); err != nil {
			return nil, err
		}
	}
	if u.tag != "" && r.Float64() < l.Trust {
		return append(acts, Act{Do: decide, Answer: u.tag, Sure: 90}), nil
	}
	if err := do(l.readies(u)...); err != nil {
		return nil, err
	}
	turn := l.turns(u)
	for range 2 {
		was := u.at
		if err := do(turn); err != nil {
			return nil, err
		}
		if err := do(Act{Do: "note", On: "turns", Note: l.reads(u, was, r)}); err != nil {
			return nil, err
		}
	}
	return l.decides(u, acts)
}

// readies is the work before turning.
func (l Learner) readies(u *ratioUnit) []Act {
	list := []Act{{Do: "chock"}, {Do: "lift", On: left}, {Do: "lift", On: right}, {Do: "stands"}, {Do: "neutral"},
		{Do: "brake"}, {Do: "mark"}}
	switch {
	case u.boat():
		list = []Act{{Do: "key"}, {Do: "prop"}, {Do: "engage"}, {Do: "mark"}}
	case !u.wheels():
		list = []Act{{Do: "chock"}, {Do: "neutral"}, {Do: "prop"}, {Do: "engage"}, {Do: "mark"}}
	}
	if !l.Careless {
		return list
	}
	var out []Act
	for _, a := range list {
		if a.Do != "chock" && a.Do != "stands" && a.Do != "key" {
			out = append(out, a)
		}
	}
	return out
}

// turns is what he turns: both wheels, or the one that goes.
func (l Learner) turns(u *ratioUnit) Act {
	switch {
	case !u.wheels():
		return Act{Do: "turn", On: input, Turns: math.Round(4 * u.ratio)}
	case u.stuck == left:
		return Act{Do: "turn", On: right, Turns: 4}
	case u.stuck == right:
		return Act{Do: "turn", On: left, Turns: 4}
	}
	return Act{Do: "turn", On: both, Turns: 4}
}

// reads is what he writes down of a turn.
func (l Learner) reads(u *ratioUnit, was place, r *rand.Rand) *identify.Reading {
	shaft := math.Abs(u.at.input-was.input) + l.Eye*r.NormFloat64()
	if r.Float64() < l.Lost {
		shaft += float64(1 - 2*r.IntN(2))
	}
	return noteOf(u, math.Abs(u.at.left-was.left), math.Abs(u.at.right-was.right), math.Max(shaft, 0.5))
}

// noteOf is a note of so many turns, the partial one by eye in hundredths.
func noteOf(u *ratioUnit, l, r, shaft float64) *identify.Reading {
	whole, part := math.Modf(shaft)
	s := identify.Shaft{Whole: int(whole), Remainder: identify.Remainder{By: identify.ByEye,
		Fraction: math.Round(part*100) / 100}}
	if s.Remainder.Fraction >= 1 {
		s.Whole, s.Remainder.Fraction = s.Whole+1, 0
	}
	if u.wheels() {
		return &identify.Reading{Method: identify.Turns, Turns: &identify.TurnsReading{Left: identify.Wheel{Turns: l,
			Seen: true},
			Right: identify.Wheel{Turns: r, Seen: true}, Shaft: s}}
	}
	return &identify.Reading{Method: identify.Bench, Bench: &identify.BenchReading{OutputTurns: r,
		Outputs: identify.SingleOutput, Shaft: s}}
}

// decides orders what his readings come to.
func (l Learner) decides(u *ratioUnit, acts []Act) ([]Act, error) {
	var rs []identify.Reading
	for _, n := range u.read {
		rs = append(rs, n.reading)
	}
	a, err := identify.Assess(u.sp, rs)
	if err != nil {
		return nil, err
	}
	lead := a.Leads()
	sure := int(100 * lead.Probability)
	if l.Bluffs {
		sure = 100
	}
	return append(acts, Act{Do: decide, Answer: strings.TrimPrefix(lead.Label, "−"), Sure: sure}), nil
}
