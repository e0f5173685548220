package bench

import (
	"context"
	"fmt"
	"math"

	"zorvel/core/fault"
	"zorvel/core/identify"
	"zorvel/core/live"
	"zorvel/core/say"
)

// LiveQuestion is what was sensed while somebody turns, and what it is weighed with.
type LiveQuestion struct {
	Recording live.Recording `json:"recording"`
	// CSV is a recorded file instead of the recording's sources.
	CSV *string `json:"csv,omitempty"`
	// With is the stage and its other readings; without, only turns are told.
	With *Question `json:"with,omitempty"`
	// Session is where the marks are kept.
	Session *string `json:"session,omitempty"`
}

// Advice is whether to turn on.
type Advice string

// The advices.
const (
	TurnOn   Advice = "turn_on"
	Stop     Advice = "settled"
	Disagree Advice = "conflict"
	Prove    Advice = "prove" // a condition must be proved before it can be settled
	Other    Advice = "other" // turning on wouldn't tell: something else would
)

// LiveTold is a recording weighed, the reading that it makes, and with a stage what all
// evidence says together.
type LiveTold struct {
	Live    live.Answer           `json:"live"`
	Reading *identify.LiveReading `json:"reading,omitempty"`
	Verdict *Verdict              `json:"verdict,omitempty"`
	Advice  Advice                `json:"advice"`
	// More turns of the output that would tell the best from its rival.
	More     *float64 `json:"more,omitempty"`
	Sentence string   `json:"sentence"`
}

// AnswerLive weighs what was sensed. sp is the stage's space, nil without a stage. Faults
// are identify.Errors with the field's path within the question.
func AnswerLive(ctx context.Context, sp *identify.Space, q LiveQuestion) (*LiveTold, error) {
	rec := q.Recording
	if q.CSV != nil {
		if len(rec.Sources) > 0 {
			return nil, fault.New("csv", "send either a file or sources, not both")
		}
		var err error
		if rec.Sources, err = live.ReadCSV(*q.CSV); err != nil {
			return nil, fault.Under("csv", err)
		}
	}
	a, err := live.Weigh(rec)
	if err != nil {
		if q.CSV != nil {
			return nil, fault.Under("csv", err)
		}
		return nil, fault.Under("recording", err)
	}
	out := &LiveTold{Live: *a, Reading: LiveReading(a, rec), Advice: TurnOn, Sentence: a.Sentence}
	if out.Reading != nil && q.Session != nil {
		out.Reading.Session = *q.Session
	}
	if sp == nil || q.With == nil {
		return out, nil
	}
	with := *q.With
	if out.Reading != nil {
		with.Readings = append(with.Readings[:len(with.Readings):len(with.Readings)], identify.Reading{ID: "live", Method: identify.Live, Live: out.Reading})
	}
	if out.Verdict, err = Answer(ctx, sp, with); err != nil {
		return nil, fault.Under("with", err)
	}
	out.advise()
	return out, nil
}

// LiveReading is the reading that a live answer makes: none before marks of both sides
// were compared.
func LiveReading(a *live.Answer, rec live.Recording) *identify.LiveReading {
	r := a.Ratio
	if r == nil || r.Events == 0 || r.Output < 0.2 {
		return nil
	}
	out := &identify.LiveReading{Shaft: r.Input, Output: r.Output, ShaftMark: r.InputMark, OutputMark: r.OutputMark,
		Spread: math.Max(r.Best-r.Low, r.High-r.Best) / 1.96 * r.Output}
	out.Spread = min(max(out.Spread, 1e-4), out.Shaft)
	seen := map[identify.Unproved]bool{}
	for _, c := range r.Conditions {
		u := identify.OneWay
		switch {
		case c == live.OtherDid && rec.Other != nil && rec.Other.Does == live.With:
			u = identify.WheelWith
		case c != live.OneWay:
			u = identify.WheelStill
		}
		if !seen[u] {
			seen[u] = true
			out.Unproved = append(out.Unproved, u)
		}
	}
	return out
}

// farTurns more are as good as never: something else tells sooner.
const farTurns = 60

// advise says whether to turn on, stop, or do something else.
func (t *LiveTold) advise() {
	v := t.Verdict
	settled := len(v.Next) > 0 && v.Next[0].Settled
	switch {
	case t.Reading == nil:
		return
	case v.State == identify.Conflict:
		t.Advice, t.Sentence = Disagree, "This count and another reading disagree. Look at what doesn't fit before you turn on."
		return
	case settled && v.Label != nil:
		t.Advice, t.Sentence = Stop, fmt.Sprintf("Settled: %s. You can stop turning.", v.Label.Label)
		return
	case len(t.Reading.Unproved) > 0 && t.near() == 0:
		t.Advice = Prove
		t.Sentence = "The turns are enough, but not what they rest on. " + proveWords[t.Reading.Unproved[0]]
		return
	}
	more := t.near()
	if more > farTurns {
		t.Advice, t.Sentence = Other, "More turns alone would take long. "+t.next()
		return
	}
	t.More = &more
	t.Sentence = "Turn on, about " + turnsMore(more) + "."
}

var proveWords = map[identify.Unproved]string{
	identify.WheelStill: "Let somebody hold the wheel that shows no marks, and say so; or put a sensor that works on it.",
	identify.WheelWith:  "Put a sensor on the other wheel, or let somebody watch it.",
	identify.OneWay:     "Say that nobody turned back, or use a sensor that tells the direction.",
}

// near is how many more turns tell the two likeliest ratios apart.
func (t *LiveTold) near() float64 {
	v := t.Verdict
	if len(v.Labels) < 2 {
		return 0
	}
	return t.Reading.MoreTurns(v.Labels[0].Ratio.Float(), v.Labels[1].Ratio.Float())
}

func (t *LiveTold) next() string {
	if len(t.Verdict.Next) > 0 && t.Verdict.Next[0].Sentence != "" {
		return t.Verdict.Next[0].Sentence
	}
	return "Count the teeth."
}

func turnsMore(n float64) string {
	switch {
	case n <= 1.2:
		return "1 more turn"
	case n < 10:
		return say.Trim(math.Ceil(n), 0) + " more turns"
	}
	return say.Trim(math.Ceil(n/5)*5, 0) + " more turns"
}
