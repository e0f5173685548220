package bench

import (
	"context"
	"strconv"

	"zorvel/core/fault"
	"zorvel/core/identify"
)

// Answer weighs a question's readings in a space of builds, which is the stage's own
// unless the shop's gears were put into it. Faults are identify.Errors with the
// field's path within the question. It stops between its steps, each of some
// hundredths of a second at most, where the context ends.
func Answer(ctx context.Context, sp *identify.Space, q Question) (*Verdict, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	if q.Prior == nil || *q.Prior != Shop {
		sp = sp.Plain()
	}
	if q.Catalog != nil {
		entries := make([]identify.CatalogEntry, len(*q.Catalog))
		for i, e := range *q.Catalog {
			entries[i] = identify.CatalogEntry{Construction: e.Construction, Teeth: e.Teeth}
			if e.Weight != nil {
				entries[i].Weight = *e.Weight
			}
		}
		var err error
		if sp, err = sp.WithList(identify.List{Sets: entries}); err != nil {
			return nil, err
		}
	}
	readings := make([]identify.Reading, len(q.Readings))
	for i, x := range q.Readings {
		readings[i] = x
		if x.ID == "" {
			readings[i].ID = strconv.Itoa(i + 1)
		}
	}
	a, err := identify.Assess(sp, readings)
	if err != nil {
		return nil, err
	}
	var sit identify.Situation
	if q.Situation != nil {
		sit = *q.Situation
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	v := a.Verdict()
	if q.Candidates != nil {
		v = a.VerdictWith(*q.Candidates)
	}
	out := Told(v, sp)
	for _, goal := range []identify.Goal{identify.SettleLabel, identify.SettlePair} {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		out.Next = append(out.Next, a.Next(goal, sit))
	}
	if q.Order != nil {
		g, err := a.Gate(*q.Order, sit)
		if err != nil {
			return nil, err
		}
		out.Gate = &g
	}
	out.Live = out.adviseLive(readings)
	return &out, nil
}

// Told is a verdict as it is told: tooth counts by the members that they are of.
func Told(v identify.Verdict, sp *identify.Space) Verdict {
	out := Verdict{
		State: v.State, Labels: list(v.Labels), Label: v.Label, Candidates: []Candidate{}, Best: candidate(v.Best, sp), Rival: candidate(v.Rival, sp),
		TurnsInterval: v.Turns, Findings: list(v.Findings), Checks: list(v.Checks), Next: []identify.Plan{},
		Headline: v.Headline, Prior: v.Prior, Weighed: v.Weighed, FromCatalog: v.FromCatalog, Formula: text(v.Formula), Unlisted: v.Unlisted, Note: text(v.Note),
	}
	for i := range v.Candidates {
		out.Candidates = append(out.Candidates, *candidate(&v.Candidates[i], sp))
	}
	return out
}

func text(s string) *string {
	if s == "" {
		return nil
	}
	return &s
}

func list[T any](s []T) []T {
	if s == nil {
		return []T{}
	}
	return s
}

// build names the counts of a build, which identify holds in the order of its
// construction.
func build(b identify.Build, c identify.Construction) Build {
	out := Build{Construction: b.Construction, Ratio: b.Ratio, Teeth: []ToothCount{}}
	for i, n := range b.Teeth {
		out.Teeth = append(out.Teeth, ToothCount{Member: c.Teeth[i].Name, Count: n})
	}
	return out
}

func candidate(c *identify.Candidate, sp *identify.Space) *Candidate {
	if c == nil {
		return nil
	}
	con, _ := sp.Construction(c.Build.Construction)
	out := &Candidate{Build: build(c.Build, con), Probability: c.Probability, Prior: c.Prior, InCatalog: c.InCatalog, Common: c.Common, Factors: c.Factors}
	if c.Hunting != "" {
		h, marks := string(c.Hunting), c.Hunting.TimingMarks()
		out.Hunting, out.TimingMarks = &h, &marks
	}
	return out
}
