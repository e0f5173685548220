// Package sessions simulates live counts whole: a person turns a machine with sensors on
// it, with whatever goes wrong at sensors, until the ratio is settled or he gives up.
package sessions

import (
	"math"
	"math/rand/v2"

	"zorvel/core/identify"
	"zorvel/core/identify/bench"
	"zorvel/core/live"
	"zorvel/core/trials"
)

// Kind is a kind of source with the faults that it is tried with.
type Kind struct {
	Name string
	draw func(rng *rand.Rand) live.Turning
}

// Kinds lists them.
func Kinds() []Kind {
	return []Kind{
		{"one chalk mark each", chalk(1, 1)},
		{"four marks on the flange, two on the wheels", chalk(4, 2)},
		{"eight marks, with direction", func(rng *rand.Rand) live.Turning {
			t := chalk(8, 8)(rng)
			t.Directed, t.Back = true, rng.IntN(2) == 0
			return t
		}},
		{"marks missed and seen twice", func(rng *rand.Rand) live.Turning {
			t := chalk(2, 4)(rng)
			t.Missed, t.Doubled = 0.02*rng.Float64(), 0.03*rng.Float64()
			return t
		}},
		{"turned back, with direction", func(rng *rand.Rand) live.Turning {
			t := chalk(2, 2)(rng)
			t.Directed, t.Back = true, true
			return t
		}},
		{"a wheel's sensor dies", func(rng *rand.Rand) live.Turning {
			t := chalk(2, 2)(rng)
			t.Dead, t.DeadFrom, t.DeadTo = live.Right, 0.7*rng.Float64(), 99
			return t
		}},
		{"a sensor is lost and found", func(rng *rand.Rand) live.Turning {
			t := chalk(2, 4)(rng)
			t.Dead = []live.Shaft{live.Input, live.Left}[rng.IntN(2)]
			t.DeadFrom = 0.2 + 0.4*rng.Float64()
			t.DeadTo = t.DeadFrom + 0.1
			return t
		}},
		{"two phones", func(rng *rand.Rand) live.Turning {
			t := chalk(0, 0)(rng)
			t.Phones, t.Directed = true, true
			return t
		}},
	}
}

// chalk draws a hand at an axle with so many marks.
func chalk(in, out int) func(rng *rand.Rand) live.Turning {
	return func(rng *rand.Rand) live.Turning {
		return live.Turning{
			Wheels: []live.Sharing{live.BothTurn, live.RightHeld, live.RightSlow}[rng.IntN(3)], Turns: mostTurns,
			Speed: 0.2 + 0.4*rng.Float64(), Rests: rng.IntN(2) == 0, Lash: 0.03 * rng.Float64(),
			InMarks: in, OutMarks: out, Uneven: 0.06 * rng.Float64(), Jitter: 0.003 * rng.Float64(),
		}
	}
}

// mostTurns of a session; looks are the turns at which the verdict is asked for.
const mostTurns = 24

var looks = []float64{1, 2, 3, 4, 6, 8, 12, 16, 24}

// Outcome of sessions of one kind.
type Outcome struct {
	Kind     string
	Sessions int
	// Told are looks at which a ratio was told without an unproved condition, and Held
	// those whose range held the truth.
	Told, Held int
	// Settled sessions, those of them at a wrong ratio, and their turns until then.
	Settled, Wrong int
	Turns          float64
	// By hand, the same axles counted by eye: one turn, two, four, eight and so on.
	HandSettled, HandWrong int
	HandTurns              float64
}

func (o *Outcome) add(x Outcome) {
	o.Sessions += x.Sessions
	o.Told, o.Held = o.Told+x.Told, o.Held+x.Held
	o.Settled, o.Wrong, o.Turns = o.Settled+x.Settled, o.Wrong+x.Wrong, o.Turns+x.Turns
	o.HandSettled, o.HandWrong, o.HandTurns = o.HandSettled+x.HandSettled, o.HandWrong+x.HandWrong, o.HandTurns+x.HandTurns
}

// Run simulates so many sessions of a kind at ring and pinions drawn from the space.
// progress, if not nil, is told how many are done.
func Run(k Kind, sp *identify.Space, sessions int, seed uint64, progress func(int)) (Outcome, error) {
	out := Outcome{Kind: k.Name}
	some := func(from, to int) (Outcome, error) {
		var sum Outcome
		for i := from; i < to; i++ {
			rng := rand.New(rand.NewPCG(seed, uint64(i)))
			o, err := one(k, sp, rng)
			if err != nil {
				return sum, err
			}
			sum.add(o)
		}
		return sum, nil
	}
	err := trials.Run(sessions, 20, some, out.add, progress)
	return out, err
}

// settled is a label at least 99 % sure.
const settled = 0.99

func one(k Kind, sp *identify.Space, rng *rand.Rand) (Outcome, error) {
	o := Outcome{Sessions: 1}
	truth := sp.Draw(rng)
	ratio := float64(truth.Teeth[0]) / float64(truth.Teeth[1])
	t := k.draw(rng)
	t.Ratio = ratio
	got := t.Run(rng)
	rec := got.Recording
	rec.OneWay = !t.Back
	if t.Wheels == live.RightHeld {
		rec.HeldWheels = []live.Shaft{live.Right}
	}
	for _, n := range looks {
		part := until(rec, got.When(n))
		a, err := live.Weigh(part)
		if err != nil {
			return o, err
		}
		if a.Ratio != nil && len(a.Ratio.Conditions) == 0 {
			o.Told++
			o.Held += trials.One(a.Ratio.Low <= ratio && ratio <= a.Ratio.High)
		}
		r := bench.LiveReading(a, part)
		if r == nil {
			continue
		}
		label, err := sure(sp, []identify.Reading{{Method: identify.Live, Live: r}})
		if err != nil {
			return o, err
		}
		if label != nil {
			o.Settled, o.Turns = 1, n
			o.Wrong = trials.One(math.Abs(label.Ratio.Float()-ratio) > sameLabel)
			break
		}
	}
	return o, o.byHand(sp, ratio, rng)
}

// Ratios this close bear one label.
const sameLabel = 0.006

// sure is the label that readings settle, or nil.
func sure(sp *identify.Space, list []identify.Reading) (*identify.LabelChance, error) {
	a, err := identify.Assess(sp, list)
	if err != nil {
		return nil, err
	}
	v := a.Verdict()
	if v.State == identify.Conflict || len(v.Labels) == 0 || v.Labels[0].Probability < settled {
		return nil, nil
	}
	return &v.Labels[0], nil
}

// byHand counts the same axle by eye, each time twice as far, until it is settled.
func (o *Outcome) byHand(sp *identify.Space, ratio float64, rng *rand.Rand) error {
	var list []identify.Reading
	turned := 0.0
	for _, n := range []float64{1, 2, 4, 8, 8} {
		turned += n
		list = append(list, identify.Reading{Method: identify.Turns, Turns: handCount(ratio, n, rng)})
		label, err := sure(sp, list)
		if err != nil {
			return err
		}
		if label != nil {
			o.HandSettled, o.HandTurns = 1, turned
			o.HandWrong = trials.One(math.Abs(label.Ratio.Float()-ratio) > sameLabel)
			return nil
		}
	}
	return nil
}

// handCount is both wheels turned n times and the driveshaft read to a tenth, with the
// spreads and rates that the method states.
func handCount(ratio, n float64, rng *rand.Rand) *identify.TurnsReading {
	s := ratio*(n+0.01*rng.NormFloat64()) + 0.06*rng.NormFloat64()
	if rng.Float64() < 0.02 {
		s += float64(1 - 2*rng.IntN(2))
	}
	whole, part := math.Modf(max(s, 0.1))
	w := identify.Wheel{Turns: n, Seen: true}
	return &identify.TurnsReading{Left: w, Right: w, Shaft: identify.Shaft{Whole: int(whole),
		Remainder: identify.Remainder{By: identify.ByEye, Fraction: math.Min(math.Round(part*10)/10, 0.9)}}}
}

// until is what had come by a time.
func until(r live.Recording, end float64) live.Recording {
	out := r
	out.Sources = make([]live.Source, len(r.Sources))
	for i, s := range r.Sources {
		out.Sources[i] = s.Until(end)
	}
	return out
}
