package server

import (
	"encoding/json"
	"math"
	"sort"

	"zorvel/api"
	"zorvel/core/exact"
	"zorvel/core/identify"
	"zorvel/core/ratio"
)

func deref[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}

// some is a pointer to v, or nil where v is its zero value.
func some[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

func stageIn(q api.StageQuestion) identify.Stage {
	return identify.Stage{
		Kind: identify.Kind(q.Kind), Position: deref(q.Position),
		Held: identify.Member(deref(q.Held)), Input: identify.Member(deref(q.Input)),
	}
}

func stageOut(s identify.Stage) api.StageQuestion {
	return api.StageQuestion{
		Kind: api.Kind(s.Kind), Position: some(s.Position), Held: some(api.Member(s.Held)), Input: some(api.Member(s.Input)),
	}
}

func readingIn(r api.Reading) identify.Reading {
	out := identify.Reading{ID: deref(r.Id), Method: identify.Method(r.Method), Text: deref(r.Text)}
	for _, m := range sortedKeys(deref(r.Teeth)) {
		out.Teeth = append(out.Teeth, identify.Count{Member: m, Count: (*r.Teeth)[m]})
	}
	if t := r.Turns; t != nil {
		out.Turns = &identify.TurnsReading{Left: wheelIn(t.Left), Right: wheelIn(t.Right), Shaft: shaftIn(t.Shaft)}
	}
	if b := r.Bench; b != nil {
		out.Bench = &identify.BenchReading{OutputTurns: b.OutputTurns, Outputs: identify.Outputs(deref(b.Outputs)), Shaft: shaftIn(b.Shaft)}
	}
	if d := r.Road; d != nil {
		out.Road = &identify.RoadReading{
			RPM: d.Rpm, SpeedKMH: d.SpeedKmh, RollingMM: d.RollingMm, Others: deref(d.Others), Converter: identify.Converter(d.Converter),
		}
	}
	return out
}

// sortedKeys puts the members in the order of a gear set, driven gear first,
// so that the same counts always read the same.
func sortedKeys(m map[string]int) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	order := map[string]int{"ring": 1, "gear": 1, "driven": 5, "pinion": 2, "sun": 3, "planet_ring": 4, "drive": 6, "input": 1, "counter": 2, "cluster": 3, "output": 4, "planet": 8, "planets": 9}
	sort.Slice(keys, func(i, j int) bool {
		if a, b := order[keys[i]], order[keys[j]]; a != b {
			return a < b
		}
		return keys[i] < keys[j]
	})
	return keys
}

func shaftIn(s api.Shaft) identify.Shaft {
	out := identify.Shaft{Whole: deref(s.Whole), Words: deref(s.Words)}
	if r := s.Remainder; r != nil {
		out.Remainder = identify.Remainder{
			By: identify.RemainderBy(r.By), Fraction: deref(r.Fraction), ArcMM: deref(r.ArcMm), RimMM: deref(r.RimMm),
			RimIs: identify.RimIs(deref(r.RimIs)), Short: deref(r.Short),
		}
	}
	return out
}

func shaftOut(s identify.Shaft) api.Shaft {
	return api.Shaft{Whole: &s.Whole, Remainder: &api.Remainder{
		By: api.RemainderBy(s.Remainder.By), Fraction: some(s.Remainder.Fraction), Short: some(s.Remainder.Short),
	}}
}

func situationIn(s *api.Situation) identify.Situation {
	if s == nil {
		return identify.Situation{}
	}
	return identify.Situation{
		CoverOff: deref(s.CoverOff), OnStands: deref(s.OnStands), Removed: deref(s.Removed), NoTag: deref(s.NoTag),
		NoStamp: deref(s.NoStamp), NoTurns: deref(s.NoTurns), NoRoad: deref(s.NoRoad),
	}
}

func ratioOut(r ratio.Ratio) api.Ratio {
	return api.Ratio{Num: r.Num(), Den: r.Den(), Decimal: round(r.Float(), 6), Label: r.Label()}
}

func exactOf(r api.Ratio) exact.Number { return exact.New(r.Num, r.Den) }

// round trims a float for print; the exact value travels as a fraction.
func round(f float64, places int) float64 {
	p := math.Pow10(places)
	return math.Round(f*p) / p
}

func buildOut(b identify.Build, c identify.Construction) api.Build {
	out := api.Build{Construction: b.Construction, Ratio: ratioOut(b.Ratio), Teeth: []api.ToothCount{}}
	for i, n := range b.Teeth {
		out.Teeth = append(out.Teeth, api.ToothCount{Member: c.Teeth[i].Name, Count: n})
	}
	return out
}

func candidateOut(c identify.Candidate, sp *identify.Space) api.Candidate {
	con, _ := sp.Construction(c.Build.Construction)
	out := api.Candidate{Build: buildOut(c.Build, con), Probability: c.Probability, Prior: c.Prior, InCatalog: c.InCatalog, Factors: c.Factors}
	if c.Hunting != "" {
		h, marks := api.CandidateHunting(c.Hunting), c.Hunting.TimingMarks()
		out.Hunting, out.TimingMarks = &h, &marks
	}
	return out
}

func labelOut(l identify.LabelChance) api.LabelChance {
	return api.LabelChance{Label: l.Label, Ratio: ratioOut(l.Ratio), Probability: l.Probability}
}

func verdictOut(v identify.Verdict, sp *identify.Space) api.Verdict {
	out := api.Verdict{
		State: api.State(v.State), Labels: []api.LabelChance{}, Candidates: []api.Candidate{}, Findings: []api.Finding{}, Checks: []api.Check{},
		Next: []api.Plan{}, Weighed: v.Weighed, FromCatalog: v.FromCatalog, Formula: some(v.Formula),
		Unlisted: api.Unlisted{Count: v.Unlisted.Count, Share: v.Unlisted.Share}, Note: some(v.Note),
	}
	for _, l := range v.Labels {
		out.Labels = append(out.Labels, labelOut(l))
	}
	for _, c := range v.Candidates {
		out.Candidates = append(out.Candidates, candidateOut(c, sp))
	}
	if v.Label != nil {
		best := candidateOut(*v.Best, sp)
		out.Label, out.Best = &out.Labels[0], &best
	}
	if v.Rival != nil {
		rival := candidateOut(*v.Rival, sp)
		out.Rival = &rival
	}
	if t := v.Turns; t != nil {
		out.TurnsInterval = &api.TurnsInterval{Center: t.Center, Low: t.Low, High: t.High, Used: nonNil(t.Used), LeftOut: nonNil(t.LeftOut)}
	}
	for _, f := range v.Findings {
		x := api.Finding{
			ReadingId: f.ReadingID, Summary: f.Summary, Method: api.Method(f.Method), Agreement: api.FindingAgreement(f.Agreement),
			Right: f.Right, Cause: f.Cause.String(), Reason: f.Reason, Origin: nonNil(f.Origin), Says: some(f.Says), Recount: some(f.Recount),
		}
		if f.Says > 0 {
			x.Interval = &api.Interval{Low: f.Interval.Low, High: f.Interval.High}
		}
		out.Findings = append(out.Findings, x)
	}
	for _, c := range v.Checks {
		out.Checks = append(out.Checks, api.Check{Field: c.Field, Message: c.Message})
	}
	return out
}

func nonNil(s []string) []string {
	if s == nil {
		return []string{}
	}
	return s
}

func planOut(p identify.Plan) api.Plan {
	out := api.Plan{Goal: api.Goal(p.Goal), Sure: p.Sure, Settled: p.Settled, Sentence: p.Sentence, Options: []api.Option{}}
	for _, o := range p.Options {
		x := api.Option{
			Method: api.Method(o.Method), OutputTurns: some(o.OutputTurns), By: some(string(o.By)), Minutes: o.Minutes, Settles: o.Settles,
			WrongAfter: o.WrongAfter, Total: o.Total, Do: o.Do,
		}
		if len(o.Members) > 0 {
			x.Members = &o.Members
		}
		out.Options = append(out.Options, x)
	}
	return out
}

func gateOut(g identify.Gate) api.Gate {
	return api.Gate{
		ChanceWrong: g.ChanceWrong, LossNow: g.LossNow, Minutes: g.Minutes, MeasureCost: g.MeasureCost, ChanceAfter: g.ChanceAfter,
		LossAfter: g.LossAfter, MeasureFirst: g.MeasureFirst, Sentence: g.Sentence, Origin: g.Origin,
	}
}

// readingJSON is the reading as it is stored: without the request's own id.
func readingJSON(r api.Reading) (json.RawMessage, error) {
	r.Id = nil
	return json.Marshal(r)
}

func wheelIn(w api.Wheel) identify.Wheel { return identify.Wheel{Turns: w.Turns, Seen: w.Seen} }
