package demo

import (
	"context"
	"fmt"
	"slices"
	"sync"
	"time"

	"zorvel/core/driveline"
	"zorvel/core/findfault"
	"zorvel/internal/store"
)

// broken is a unit that came in with a complaint, was tried, and was opened or
// still stands there.
type broken struct {
	unit      string
	daysAgo   int
	by        string
	complaint string
	fault     string // what was wrong, as the tests showed it
	tests     int    // that were made
	found     string // when it was opened; empty: it waits
}

var searched = []broken{
	{"Plow truck Bell", 31, ivar, "no_drive", "open rear_right.half shaft", 3, "open rear_right.half shaft"},
	{"Rescue van Tern 2", 24, oda, "hums", "wheel_bearing rear_left", 3, "wheel_bearing rear_left"},
	{"Forwarder Birk", 40, ivar, "leak_yoke_rear", "pinion_seal rear", 2, "pinion_seal rear"},
	{"Grouse 6", 11, oda, "clunk", "joint rear_prop", 2, "side_wear rear"},
	{"Skiff Little Auk", 2, ivar, "stalls_reverse_gearcase", "shift_cable gearcase", 2, ""},
}

// searches puts verdicts, and the repairs that proved them, on record.
func searches(ctx context.Context, st *store.Store, now time.Time) error {
	for _, b := range searched {
		if err := b.keep(ctx, st, now.AddDate(0, 0, -b.daysAgo)); err != nil {
			return fmt.Errorf("%s: %w", b.unit, err)
		}
	}
	return nil
}

func (b broken) keep(ctx context.Context, st *store.Store, at time.Time) error {
	list, _, err := st.Units(ctx, store.Asked{Name: b.unit})
	if err != nil || len(list) == 0 {
		return fmt.Errorf("no such unit: %w", err)
	}
	line, err := st.Driveline(ctx, list[0].ID)
	if err != nil {
		return err
	}
	doc, err := driveline.Parse(line.Document)
	if err != nil {
		return err
	}
	found, err := b.searchOnce(ctx, doc)
	if err != nil {
		return err
	}
	q, a := found.q, found.a
	d := store.Decision{UnitID: list[0].ID, Kind: "fault", Title: "Fault: " + a.Sentence, By: b.by, At: at, Question: must(q), Answer: must(a)}
	if d, err = st.Decide(ctx, d); err != nil || b.found == "" {
		return err
	}
	r, err := findfault.Prove(q, a, b.found, "", true)
	if err != nil {
		return err
	}
	question := must(map[string]any{"verdict": d.ID, "found": b.found, "cured": true})
	_, err = st.Decide(ctx, store.Decision{UnitID: d.UnitID, Kind: "repair", Title: r.Sentence, By: b.by, At: at.Add(26 * time.Hour), Question: question, Answer: must(r)})
	return err
}

// outcome is a search as it ended.
type outcome struct {
	q *findfault.Question
	a *findfault.Answer
}

// outcomes keeps searches for a process: the demo's units are always the same.
var outcomes sync.Map

func (b broken) searchOnce(ctx context.Context, doc *driveline.Document) (outcome, error) {
	if o, ok := outcomes.Load(b); ok {
		return o.(outcome), nil
	}
	q, a, err := b.search(ctx, doc)
	if err == nil {
		outcomes.Store(b, outcome{q, a})
	}
	return outcome{q, a}, err
}

// search follows the proposed tests, each showing what that fault shows.
func (b broken) search(ctx context.Context, doc *driveline.Document) (*findfault.Question, *findfault.Answer, error) {
	complaints, err := findfault.Complaints(doc)
	if err != nil {
		return nil, nil, err
	}
	i := slices.IndexFunc(complaints, func(c findfault.Complaint) bool { return c.ID == b.complaint })
	if i < 0 {
		return nil, nil, fmt.Errorf("no complaint %q", b.complaint)
	}
	q := &findfault.Question{Driveline: *doc, Evidence: slices.Clone(complaints[i].Evidence)}
	m, err := findfault.NewModel(*doc)
	if err != nil {
		return nil, nil, err
	}
	for made := 0; ; made++ {
		a, err := m.Find(ctx, *q)
		if err != nil || a.Next == nil || made == b.tests {
			return q, a, err
		}
		e, err := m.Would(a.Next, b.fault)
		if err != nil {
			return nil, nil, err
		}
		q.Evidence = append(q.Evidence, e)
		q.OnStands = q.OnStands || a.Next.Lifts
	}
}
