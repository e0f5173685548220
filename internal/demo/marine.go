package demo

import (
	"time"

	"zorvel/api"
	"zorvel/core/backlash"
	"zorvel/core/exact"
	"zorvel/core/gearcase"
	"zorvel/core/propeller"
)

// record keeps a bench's question with its answer.
func (l *line) record(kind api.DecisionKind, by, title string, question, answer any) *line {
	l.when = l.when.Add(25 * time.Minute)
	var list []api.DocumentDecision
	if l.doc.Decisions != nil {
		list = *l.doc.Decisions
	}
	list = append(list, api.DocumentDecision{Kind: kind, Title: title, By: by, At: l.when, Question: must(question), Answer: must(answer)})
	l.doc.Decisions = &list
	return l
}

// gearcaseSetUp is the skiff's case: by its stamp, together twice, good; and a
// run afterward.
func (l *line) gearcaseSetUp(by string) *line {
	q := gearcase.Request{
		Stamp: "P -3 F +1 R 0", Unit: gearcase.Hundredths, Convention: gearcase.PlusNear,
		Places: []gearcase.Place{
			{ID: "P", Name: "Pinion", NominalMM: 0.5, Thicker: "away", TolMM: 0.02},
			{ID: "F", Name: "Forward gear", NominalMM: 0.6, Thicker: "toward", TolMM: 0.02},
			{ID: "R", Name: "Reverse gear", NominalMM: 0.4, Thicker: "toward", TolMM: 0.02},
		},
		Box: "0.05 x4, 0.08 x2, 0.10 x6, 0.15 x3, 0.20 x4, 0.30 x3, .004in x2", Most: 4,
	}
	a, err := gearcase.Work(q)
	if err != nil {
		panic(err)
	}
	play := gearcase.Backlash{
		Gear: "forward gear", Mesh: backlash.Mesh{Teeth: 27, Mate: 13, Pressure: 20}, Thicker: "toward", ArmMM: 40,
		PitchMM: 31, LowMM: 0.15, HighMM: 0.3, RepeatMM: 0.01, Most: 4, Box: q.Box,
		Assemblies: []gearcase.Assembly{{ShimMM: 0.59, Readings: []float64{0.44, 0.46, 0.45}}, {ShimMM: 0.78, Readings: []float64{0.29, 0.3, 0.28}}},
	}
	v, err := gearcase.Judge(play)
	if err != nil {
		panic(err)
	}
	speed := 17.2
	run := propeller.Request{Ratio: exact.Figure{Number: exact.New(27, 13)}, PitchIN: 11, Hull: "skiff", RPM: 4600, RPMSure: 8, SpeedKN: &speed, SureKN: 0.08, Over: "ground", FullRPM: 5450, LowRPM: 5200, HighRPM: 5800}
	p, err := propeller.Work(run)
	if err != nil {
		panic(err)
	}
	finds := []gearcase.Finding{{ID: "oil", Find: "clear"}, {ID: "prop_shaft_seal", Find: "line wrapped"}, {ID: "dogs", Find: "square"}, {ID: "pump", Find: "springy"}}
	seen, err := gearcase.Inspect(finds)
	if err != nil {
		panic(err)
	}
	return l.record("inspection", by, seen.Title, map[string]any{"inspection": finds}, seen).
		record("shims", by, a.Sentence, q, a).
		record("backlash", by, "Forward gear: "+v.Sentence, play, v).
		record("propeller", by, "Propeller: "+p.Sentence, run, p)
}
