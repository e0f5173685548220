package units

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"time"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/identify"
	"zorvel/internal/index"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// mostBetween bounds the history that is told between two times.
const mostBetween = 400

// then is a unit as it was known at a time.
type then struct {
	at    time.Time
	since map[string]int64 // the newest fitting of each part
	doc   *driveline.Document
}

// CompareUnit sets what was known of a unit at one time against another.
func (s *Room) CompareUnit(ctx context.Context, r api.CompareUnitRequestObject) (api.CompareUnitResponseObject, error) {
	from, to := r.Params.From.UTC(), time.Now().UTC()
	if r.Params.To != nil {
		to = r.Params.To.UTC()
	}
	if !from.Before(to) {
		return nil, problem.Field("/from", "an earlier time than the other one")
	}
	u, err := s.store.Unit(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	fittings, err := s.store.Fittings(ctx, u.ID)
	if err != nil {
		return nil, err
	}
	before, err := s.then(ctx, u.ID, from, fittings)
	if err != nil {
		return nil, err
	}
	after, err := s.then(ctx, u.ID, to, fittings)
	if err != nil {
		return nil, err
	}
	out := api.UnitCompared{From: from, To: to, Begun: before.doc != nil, Ratios: []api.RatioCompared{}, Parts: partsCompared(before, after, fittings), History: []api.HistoryEntry{}}
	if out.Ratios, err = s.ratiosCompared(ctx, u, before, after); err != nil {
		return nil, err
	}
	events, err := s.store.Between(ctx, u.ID, from, to, mostBetween+1)
	if err != nil {
		return nil, err
	}
	out.More = len(events) > mostBetween
	for _, e := range events[:min(len(events), mostBetween)] {
		out.History = append(out.History, entryOut(e))
	}
	return api.CompareUnit200JSONResponse(out), nil
}

func (s *Room) then(ctx context.Context, unit int64, at time.Time, fittings []store.Fitting) (then, error) {
	t := then{at: at, since: map[string]int64{}}
	for _, f := range fittings {
		if !f.At.After(at) {
			t.since[f.Part] = f.ID
		}
	}
	d, err := s.store.DrivelineAt(ctx, unit, at)
	if err != nil || d == nil {
		return t, err
	}
	if t.doc, err = driveline.Parse(d.Document); err != nil {
		return t, fmt.Errorf("kept driveline: %w", err)
	}
	return t, nil
}

// ratiosCompared weighs the readings that counted at each of the times.
func (s *Room) ratiosCompared(ctx context.Context, u store.Unit, before, after then) ([]api.RatioCompared, error) {
	sh, err := s.index.Shop(ctx)
	if err != nil {
		return nil, err
	}
	out := []api.RatioCompared{}
	for _, v := range u.Stages {
		if v.Taken == 0 {
			continue
		}
		rows, err := s.store.Readings(ctx, v.ID)
		if err != nil {
			return nil, err
		}
		x := api.RatioCompared{StageId: v.ID, Name: v.Name, Part: v.Part, Ratio: v.Ratio, Before: s.ratioAt(sh, v, rows, before), After: s.ratioAt(sh, v, rows, after)}
		x.Differs = !reflect.DeepEqual(x.Before, x.After)
		if x.Before.Readings+x.After.Readings > 0 {
			out = append(out, x)
		}
	}
	slices.SortStableFunc(out, func(a, b api.RatioCompared) int {
		rank := func(x api.RatioCompared) int {
			if x.Differs {
				return 0
			}
			return 1
		}
		return cmp.Compare(rank(a), rank(b))
	})
	return out, nil
}

// ratioAt is what was known of a ratio at a time: from readings taken until then of
// what was fitted then, and not struck out by then.
func (s *Room) ratioAt(sh index.Shop, v store.Stage, rows []store.Reading, t then) api.RatioAt {
	out := api.RatioAt{}
	x, err := s.index.Weighed(sh, v, rows, func(r store.Reading) bool {
		counts := !r.At.After(t.at) && r.Fitting == t.since[v.Part] && (r.Struck == nil || r.Struck.At.After(t.at))
		if counts {
			out.Readings++
		}
		return counts
	})
	if err != nil { // as elsewhere: one ratio that can't be reckoned hides no other
		s.log.Error("a stage can't be reckoned", "stage", v.ID, "error", err)
		x, out.Trouble = index.Summary{State: identify.Unknown}, api.Some("can't be weighed: "+why(err))
	}
	out.State, out.Label, out.Build, out.About = x.State, x.Label, x.Build, api.Some(x.About)
	return out
}

// partsCompared says what changed in the driveline between two times.
func partsCompared(before, after then, fittings []store.Fitting) []api.PartCompared {
	out := []api.PartCompared{}
	parts := func(t then) map[string]*driveline.Part {
		m := map[string]*driveline.Part{}
		if t.doc != nil {
			for i := range t.doc.Parts {
				m[t.doc.Parts[i].ID] = &t.doc.Parts[i]
			}
		}
		return m
	}
	had, has := parts(before), parts(after)
	for _, id := range sortedKeys(had, has) {
		p, q := had[id], has[id]
		switch {
		case p == nil && before.doc == nil:
			// Nothing was kept then: all of it is new, which the history says.
		case p == nil:
			out = append(out, api.PartCompared{Part: id, Name: q.Called(), What: api.PartComparedWhatAdded, Says: []string{}})
		case q == nil:
			out = append(out, api.PartCompared{Part: id, Name: p.Called(), What: api.PartComparedWhatTakenOut, Says: []string{}})
		default:
			if says := partDiffers(p, q); len(says) > 0 {
				out = append(out, api.PartCompared{Part: id, Name: q.Called(), What: api.PartComparedWhatChanged, Says: says})
			}
		}
	}
	for _, f := range fittings {
		if f.At.After(before.at) && !f.At.After(after.at) {
			name := f.Part
			if q := has[f.Part]; q != nil {
				name = q.Called()
			}
			says := []string{fittingSays(f)}
			if f.Note != "" {
				says = append(says, f.Note)
			}
			out = append(out, api.PartCompared{Part: f.Part, Name: name, What: api.PartComparedWhatFitted, Says: says})
		}
	}
	return out
}

func fittingSays(f store.Fitting) string {
	if f.What == "part_swapped" {
		return "another part went into its place, " + f.At.Format(time.DateOnly)
	}
	return "other gears went into its housing, " + f.At.Format(time.DateOnly)
}

// partDiffers names the figures of a part that differ, as its document has them.
func partDiffers(p, q *driveline.Part) []string {
	a, b := figures(p), figures(q)
	var out []string
	for _, k := range sortedKeys(a, b) {
		if reflect.DeepEqual(a[k], b[k]) {
			continue
		}
		switch {
		case a[k] == nil:
			out = append(out, fmt.Sprintf("%s: %s", k, inWords(b[k])))
		case b[k] == nil:
			out = append(out, fmt.Sprintf("%s: no longer %s", k, inWords(a[k])))
		default:
			out = append(out, fmt.Sprintf("%s: %s, was %s", k, inWords(b[k]), inWords(a[k])))
		}
	}
	return out
}

func figures(p *driveline.Part) map[string]any {
	m := map[string]any{}
	if text, err := json.Marshal(p); err == nil {
		_ = json.Unmarshal(text, &m)
	}
	return m
}

// inWords is a figure in a few words.
func inWords(v any) string {
	if s, ok := v.(string); ok {
		return s
	}
	text, err := json.Marshal(v)
	if err != nil || len(text) > 60 {
		return "another setting"
	}
	return string(text)
}

func sortedKeys[V any](of ...map[string]V) []string {
	var out []string
	for _, m := range of {
		for k := range m {
			if !slices.Contains(out, k) {
				out = append(out, k)
			}
		}
	}
	slices.Sort(out)
	return out
}
