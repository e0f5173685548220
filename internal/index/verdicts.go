package index

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"runtime/debug"
	"strconv"
	"time"

	"zorvel/api"
	"zorvel/core/identify"
	"zorvel/core/identify/bench"
	"zorvel/internal/guard"
	"zorvel/internal/store"
)

// Verdicts are computed from the standing readings. What they say in short is kept
// with the evidence that they came from: in each server for as long as it runs, and
// in the database for all of them. What came from other evidence, from other gears
// of the shop or from another build of this program counts for nothing.

// Summary is what lists show of a stage.
type Summary struct {
	State identify.State   `json:"state"`
	Label *api.LabelChance `json:"label,omitempty"`
	Build *api.Build       `json:"build,omitempty"` // of that label
	About string           `json:"about,omitempty"` // where no label stands
}

// revision is which build of this program computes.
var revision = func() string {
	if b, ok := debug.ReadBuildInfo(); ok {
		for _, x := range b.Settings {
			if x.Key == "vcs.revision" {
				return x.Value
			}
		}
	}
	return ""
}()

// shelfMark names the gears of the shop, and the program, that a verdict rests on.
func shelfMark(key string) string {
	sum := sha256.Sum256([]byte(revision + " " + key))
	return hex.EncodeToString(sum[:12])
}

// noShelf is the mark where the shop has no gears of a stage's kind.
var noShelf = shelfMark("")

// evidence names what a stage's verdict comes from.
func evidence(sh Shop, v store.Stage) string {
	if l, ok := sh[Kept(v).Normal()]; ok {
		return v.Newest + " " + l.mark
	}
	return v.Newest + " " + noShelf
}

func summaryKey(stage int64, evidence string) string {
	return strconv.FormatInt(stage, 10) + " " + evidence
}

// Summarize is the verdict on a stage in short, from all standing readings of
// what is fitted now.
func (s *Index) Summarize(ctx context.Context, sh Shop, v store.Stage) (Summary, error) {
	if v.Standing == 0 {
		return Summary{State: identify.Unknown}, nil
	}
	key := summaryKey(v.ID, evidence(sh, v))
	if x, ok := s.summaries.Get(key); ok {
		return x, nil
	}
	made, err, _ := s.flight.Do(key, func() (any, error) {
		// It is kept for the next, so whoever asked first may leave.
		within, cancel := context.WithTimeout(context.WithoutCancel(ctx), summarizeWithin)
		defer cancel()
		rows, err := s.store.Readings(within, v.ID)
		if err != nil {
			return Summary{}, err
		}
		x, err := s.Weighed(sh, v, rows, func(r store.Reading) bool { return r.Struck == nil && r.Fitting == v.Since })
		if err == nil {
			s.summaries.Add(key, x)
		}
		return x, err
	})
	return made.(Summary), err
}

// summarizeWithin bounds the reading of what a verdict is made of.
const summarizeWithin = 10 * time.Second

// Weighed is the verdict in short from those of a stage's readings that count.
func (s *Index) Weighed(sh Shop, v store.Stage, rows []store.Reading, counts func(store.Reading) bool) (x Summary, err error) {
	defer guard.Recovered(&err)
	var readings []identify.Reading
	for _, row := range rows {
		if !counts(row) {
			continue
		}
		var r identify.Reading
		if err := json.Unmarshal(row.Data, &r); err != nil {
			return Summary{}, fmt.Errorf("reading %d: %w", row.ID, err)
		}
		readings = append(readings, r)
	}
	if len(readings) == 0 {
		return Summary{State: identify.Unknown}, nil
	}
	sp, err := s.SpaceOf(sh, Kept(v))
	if err != nil {
		return Summary{}, err
	}
	a, err := identify.Assess(sp, readings)
	if err != nil {
		return Summary{}, fmt.Errorf("stage %d: %w", v.ID, err)
	}
	verdict := bench.Told(a.Verdict(), sp)
	x = Summary{State: verdict.State, Label: verdict.Label}
	switch {
	case verdict.Label == nil && verdict.Headline != nil:
		x.About = verdict.Headline.Text
	case verdict.Best != nil:
		x.Build = &verdict.Best.Build
	}
	return x, nil
}

// Recall takes what the database keeps of these units' stages, so that a list needs
// no computing, and tells which stages are to be computed, with the evidence that
// they rest on.
func (s *Index) Recall(ctx context.Context, sh Shop, units []store.Unit) (made map[int64]string, err error) {
	var missing []int64
	made = map[int64]string{}
	for _, u := range units {
		for _, v := range u.Stages {
			if v.Standing == 0 {
				continue
			}
			if e := evidence(sh, v); !s.summaries.Contains(summaryKey(v.ID, e)) {
				made[v.ID], missing = e, append(missing, v.ID)
			}
		}
	}
	rows, err := s.store.Verdicts(ctx, missing)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		var x Summary
		if r.Evidence != made[r.Stage] || json.Unmarshal(r.Verdict, &x) != nil {
			continue
		}
		s.summaries.Add(summaryKey(r.Stage, r.Evidence), x)
		delete(made, r.Stage)
	}
	return made, nil
}

// Bounds of what one reader keeps for the next.
const (
	mostRetained = 200
	retainWithin = 500 * time.Millisecond
)

// Retain keeps verdicts that were computed for an answer, for the next who asks.
// The answer is as good without: what can't be kept now is computed again.
func (s *Index) Retain(ctx context.Context, made map[int64]string) {
	var rows []store.KeptVerdict
	for stage, e := range made {
		x, ok := s.summaries.Get(summaryKey(stage, e))
		if !ok || len(rows) == mostRetained {
			continue
		}
		if text, err := json.Marshal(x); err == nil {
			rows = append(rows, store.KeptVerdict{Stage: stage, Evidence: e, Verdict: text})
		}
	}
	ctx, cancel := context.WithTimeout(ctx, retainWithin)
	defer cancel()
	if err := s.store.PutVerdicts(ctx, rows); err != nil {
		s.log.Debug("verdicts aren't kept this time", "error", err)
	}
}
