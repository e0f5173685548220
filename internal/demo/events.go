package demo

import (
	"fmt"
	"time"

	"zorvel/api"
	"zorvel/core/changegear"
	"zorvel/core/exact"
	"zorvel/core/tire"
)

// emberEvents is the hill-climb car's season so far.
var emberEvents = []changegear.Event{
	{Track: "Ravn hill", Session: "run 1", Set: "2", After: changegear.Pair{Input: 23, Pinion: 22}, Tire: "26.0/10.0-15, 1.5 bar", Gear: "4", PeakRPM: 6850, PeakKMH: 212, Weather: "dry, 11 °C", Words: "on the limiter before the chapel"},
	{Track: "Ravn hill", Session: "run 2", Set: "1", Before: &changegear.Pair{Input: 23, Pinion: 22}, After: changegear.Pair{Input: 24, Pinion: 21}, Tire: "26.0/10.0-15, 1.5 bar", Gear: "4", PeakRPM: 6480, PeakKMH: 219, Weather: "dry, 13 °C", Words: "better; third all the way through the saddle"},
	{Track: "Holm sprint", Session: "final", Set: "1", Before: &changegear.Pair{Input: 24, Pinion: 21}, After: changegear.Pair{Input: 24, Pinion: 21}, Tire: "26.0/10.0-15, 1.4 bar", Gear: "3", PeakRPM: 6900, PeakKMH: 181, Weather: "wet from noon", Words: "spun up out of the quay corner"},
}

// events logs sessions at tracks, a week apart.
func (l *line) events(by string, list ...changegear.Event) *line {
	q := changegear.Request{
		Base: exact.Figure{Number: exact.New(41, 10)}, Tire: tire.Tire{RolloutMM: exact.Figure{Number: exact.Int(1990)}, RolloutTurns: 1},
		Gears: []changegear.Gear{{Name: "3", Ratio: exact.Figure{Number: exact.New(31*24, 24*26)}}, {Name: "4", Ratio: exact.Figure{Number: exact.Int(1)}}},
	}
	var out []api.DocumentDecision
	for i, e := range list {
		x, err := changegear.Log(q, e)
		if err != nil {
			panic(fmt.Sprintf("demo event %d: %v", i, err))
		}
		l.when = l.when.Add(50 * time.Minute)
		out = append(out, api.DocumentDecision{Kind: "event", Title: x.Title, By: by, At: l.when, Question: must(q), Answer: must(map[string]any{"event": e, "logged": x})})
	}
	l.doc.Decisions = &out
	return l
}
