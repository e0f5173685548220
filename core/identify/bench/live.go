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

// LiveAdvice is what to do with a live count, by all evidence.
type LiveAdvice struct {
	Advice Advice `json:"advice"`
	// More turns of the output that would tell the best from its rival.
	More     *float64 `json:"more,omitempty"`
	Sentence string   `json:"sentence"`
}

// LiveTold is a recording weighed, the reading that it makes, and with a stage what all
// evidence says together.
type LiveTold struct {
	Live     live.Answer           `json:"live"`
	Reading  *identify.LiveReading `json:"reading,omitempty"`
	Verdict  *Verdict              `json:"verdict,omitempty"`
	Advice   Advice                `json:"advice"`
	More     *float64              `json:"more,omitempty"`
	Sentence string                `json:"sentence"`
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
		with.Readings = append(with.Readings[:len(with.Readings):len(with.Readings)], identify.Reading{ID: "live",
			Method: identify.Live, Live: out.Reading})
	}
	if out.Verdict, err = Answer(ctx, sp, with); err != nil {
		return nil, fault.Under("with", err)
	}
	if v := out.Verdict.Live; v != nil && out.Reading != nil {
		out.Advice, out.More, out.Sentence = v.Advice, v.More, v.Sentence
	}
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

// adviseLive says whether to turn on, stop, or do something else, where the last live
// count is among the readings; nil without one.
func (v *Verdict) adviseLive(readings []identify.Reading) *LiveAdvice {
	var r *identify.LiveReading
	for _, x := range readings {
		if x.Live != nil {
			r = x.Live
		}
	}
	if r == nil {
		return nil
	}
	more := v.more()
	switch {
	case v.State == identify.Conflict:
		return &LiveAdvice{Disagree, nil, "This count and another reading disagree. Find what doesn't fit before you turn more."}
	case len(v.Next) > 0 && v.Next[0].Settled && v.Label != nil:
		return &LiveAdvice{Stop, nil, fmt.Sprintf("Settled: %s. You can stop turning.", v.Label.Label)}
	case len(r.Unproved) > 0 && more <= 1:
		return &LiveAdvice{Prove, nil, "The turns are enough. One thing is not proved yet. " + proveWords[r.Unproved[0]]}
	case more >= farTurns:
		return &LiveAdvice{Other, nil, "More turns alone would take long. " + v.nextStep()}
	}
	return &LiveAdvice{TurnOn, &more, "Keep turning, about " + turnsMore(more) + "."}
}

var proveWords = map[identify.Unproved]string{
	identify.WheelStill: "Have somebody hold the wheel that gives no marks, and check the box; or fix its sensor.",
	identify.WheelWith:  "Put a sensor on the other wheel, or have somebody watch it.",
	identify.OneWay:     "Check the box that nobody turned back, or use a sensor that tells direction.",
}

// more is how many more turns the plan gives, where turning on would help.
func (v *Verdict) more() float64 {
	if len(v.Labels) < 2 || len(v.Next) == 0 {
		return 0
	}
	for _, o := range v.Next[0].Options {
		if o.Method == identify.Live {
			return float64(o.OutputTurns)
		}
	}
	return farTurns
}

// nextStep is the best that isn't turning on.
func (v *Verdict) nextStep() string {
	if len(v.Next) > 0 {
		for _, o := range v.Next[0].Options {
			if o.Method != identify.Live {
				return "Quicker: " + o.Do + "."
			}
		}
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
