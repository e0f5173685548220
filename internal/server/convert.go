package server

import (
	"encoding/json"

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

func exactOf(r ratio.Ratio) exact.Number { return exact.New(r.Num(), r.Den()) }

// buildOut names the counts of a build, which the core holds in the order of
// its construction.
func buildOut(b identify.Build, c identify.Construction) api.Build {
	out := api.Build{Construction: b.Construction, Ratio: b.Ratio, Teeth: []api.ToothCount{}}
	for i, n := range b.Teeth {
		out.Teeth = append(out.Teeth, api.ToothCount{Member: c.Teeth[i].Name, Count: n})
	}
	return out
}

func candidateOut(c *identify.Candidate, sp *identify.Space) *api.Candidate {
	if c == nil {
		return nil
	}
	con, _ := sp.Construction(c.Build.Construction)
	out := &api.Candidate{Build: buildOut(c.Build, con), Probability: c.Probability, Prior: c.Prior, InCatalog: c.InCatalog, Factors: c.Factors}
	if c.Hunting != "" {
		h, marks := api.CandidateHunting(c.Hunting), c.Hunting.TimingMarks()
		out.Hunting, out.TimingMarks = &h, &marks
	}
	return out
}

func verdictOut(v identify.Verdict, sp *identify.Space) api.Verdict {
	out := api.Verdict{
		State: v.State, Labels: nonNil(v.Labels), Label: v.Label, Candidates: []api.Candidate{}, Best: candidateOut(v.Best, sp), Rival: candidateOut(v.Rival, sp),
		TurnsInterval: v.Turns, Findings: nonNil(v.Findings), Checks: nonNil(v.Checks), Next: []api.Plan{},
		Weighed: v.Weighed, FromCatalog: v.FromCatalog, Formula: some(v.Formula), Unlisted: v.Unlisted, Note: some(v.Note),
	}
	for i := range v.Candidates {
		out.Candidates = append(out.Candidates, *candidateOut(&v.Candidates[i], sp))
	}
	return out
}

func nonNil[T any](s []T) []T {
	if s == nil {
		return []T{}
	}
	return s
}

// readingJSON is the reading as it is stored: without the request's own id.
func readingJSON(r identify.Reading) (json.RawMessage, error) {
	r.ID = ""
	return json.Marshal(r)
}
