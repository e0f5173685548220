package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"slices"
	"time"
)

// Kept is a stage with its readings, as it comes from a document. A reading's
// Fitting is the place, from 1, of one of the document's fittings.
type Kept struct {
	Stage    Stage
	Readings []Reading
}

// Import is a unit as it comes from a document.
type Import struct {
	Unit      Unit
	By        string // who takes it in
	Driveline Driveline
	Fittings  []Fitting // in the order in which they happened
	Measured  []Kept
	Decisions []Decision
	Jobs      []ImportJob
	Service   []Work // without a job
	Cards     []CardRun
	Photos    []ImportPhoto
	Heard     []ImportRecording
	Told      string // the history's line on it; without, nothing is marked as taken in
}

// mark marks every entry of the document as taken in.
func (in Import) mark(by string, at time.Time) Import {
	taken := &TakenIn{by, at}
	in.Measured, in.Decisions, in.Fittings = slices.Clone(in.Measured), slices.Clone(in.Decisions), slices.Clone(in.Fittings)
	for i := range in.Measured {
		readings := slices.Clone(in.Measured[i].Readings)
		for k := range readings {
			readings[k].TakenIn = taken
		}
		in.Measured[i].Readings = readings
	}
	for i := range in.Decisions {
		in.Decisions[i].TakenIn = taken
	}
	for i := range in.Fittings {
		in.Fittings[i].TakenIn = taken
	}
	return in
}

// ImportPhoto is a photo as it comes from a document. Its job and what it is the
// evidence of are places in the document, from 1.
type ImportPhoto struct {
	Photo    Photo
	Job      int
	Work     int // a line of Job
	Measured int
	Reading  int // of Measured
	Card     int
	// Picture reads it; it may be called more than once.
	Picture func() (full, thumb []byte, err error)
}

// ImportUnit stores a unit with all that belongs to it; all or nothing.
func (s *Store) ImportUnit(ctx context.Context, in Import) (int64, error) {
	ids, err := s.ImportUnits(ctx, 1, func(int) (Import, error) { return in, nil }, func(int) {})
	if err != nil {
		return 0, err
	}
	return ids[0], nil
}

// ImportUnits stores so many units, all of them or none. next reads each; it may be
// asked for one again. told is told how many are in.
func (s *Store) ImportUnits(ctx context.Context, n int, next func(i int) (Import, error), told func(done int)) (ids []int64, err error) {
	return s.importing(ctx, n, next, told, func(*sql.Tx) error { return nil })
}

// importing puts units in where nobody sees them, and shows them together with what
// also puts in.
func (s *Store) importing(ctx context.Context, n int, next func(i int) (Import, error), told func(done int),
	also func(*sql.Tx) error) ([]int64, error) {
	g, err := s.stage(ctx)
	if err != nil {
		return nil, err
	}
	ids, err := g.units(ctx, n, next, told)
	if err == nil {
		err = g.show(ctx, also)
	}
	if err != nil {
		// What can't be taken out now is taken out by the next who looks.
		return nil, errors.Join(err, g.drop(context.WithoutCancel(ctx)))
	}
	return ids, nil
}

// placed are the rows of a unit that its photos name, by their place in the document.
type placed struct {
	stages, jobs []int64
	lines        [][]int64
	runs         []int64
}

// importUnit puts a unit in without its photos, and tells where they belong.
func (s *Store) importUnit(ctx context.Context, t *sql.Tx, in Import, now time.Time) (id int64, of placed, err error) {
	began := in.began(now)
	id, err = s.addUnit(ctx, t, Unit{Name: in.Unit.Name, Kind: in.Unit.Kind, Notes: in.Unit.Notes}, in.By, began)
	if err != nil {
		return 0, of, err
	}
	d := in.Driveline
	d.UnitID, d.By, d.At = id, in.By, began
	if err := s.keepDriveline(ctx, t, d, ""); err != nil {
		return 0, of, err
	}
	fittings := make([]int64, 1, len(in.Fittings)+1)
	for _, f := range in.Fittings {
		f.UnitID = id
		n, err := fit(ctx, t, f)
		if err != nil {
			return 0, of, err
		}
		fittings = append(fittings, n)
		if err := s.log(ctx, t, id, Event{What: "fitting", By: f.By, At: f.At, Text: f.line(), TakenIn: f.TakenIn}); err != nil {
			return 0, of, err
		}
	}
	for _, k := range in.Measured {
		stage, err := s.importStage(ctx, t, id, k, fittings)
		if err != nil {
			return 0, of, err
		}
		of.stages = append(of.stages, stage)
	}
	for _, d := range in.Decisions {
		d.UnitID = id
		if _, err := s.decide(ctx, t, d); err != nil {
			return 0, of, err
		}
	}
	if of.jobs, of.lines, err = s.importJobs(ctx, t, id, in); err != nil {
		return 0, of, err
	}
	if of.runs, err = s.importCards(ctx, t, id, in.Cards); err != nil {
		return 0, of, err
	}
	if in.Told == "" {
		return id, of, nil
	}
	if _, err := t.ExecContext(ctx, "UPDATE units SET taken_in_by = ?, taken_in_at = ? WHERE id = ?", in.By, now, id); err != nil {
		return 0, of, err
	}
	return id, of, s.log(ctx, t, id, Event{What: "unit_changed", By: in.By, At: now, Text: in.Told})
}

// importCards puts the runs of cards of a document in.
func (s *Store) importCards(ctx context.Context, t *sql.Tx, unit int64, cards []CardRun) ([]int64, error) {
	var runs []int64
	for _, r := range cards {
		doc, err := json.Marshal(r.Run.Card)
		if err != nil {
			return nil, err
		}
		answers, err := json.Marshal(r.Run.Answers)
		if err != nil {
			return nil, err
		}
		var by any
		if r.ClosedAt != nil {
			by = r.ClosedBy
		}
		id, err := insert(ctx, t, "INSERT INTO card_runs (unit_id, part, card, version, title, document, answers, by_name, at, closed_by, closed_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
			unit, r.Run.Part, r.Run.Card.ID, r.Run.Version, r.Run.Card.Title, string(doc), string(answers), r.By, r.At, by, r.ClosedAt)
		if err != nil {
			return nil, err
		}
		for k, e := range r.Run.Entries {
			if _, err := insert(ctx, t, "INSERT INTO card_entries (run_id, client_key, kind, step, figure, note, by_name, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
				id, ownKey("document", k), e.Kind, e.Step, e.Figure, e.Note, e.By, e.At); err != nil {
				return nil, err
			}
		}
		runs = append(runs, id)
	}
	return runs, nil
}

// put keeps a photo with what it is the evidence of.
func (p ImportPhoto) put(ctx context.Context, t *sql.Tx, unit int64, i int, of placed) error {
	x := p.Photo
	x.UnitID, x.Key = unit, ownKey("document", i)
	if p.Job > 0 {
		x.JobID = of.jobs[p.Job-1]
		if p.Work > 0 {
			x.Of.Work = of.lines[p.Job-1][p.Work-1]
		}
	}
	if p.Measured > 0 && p.Reading > 0 {
		// Readings of a document are put in in their order.
		if err := t.QueryRowContext(ctx, "SELECT id FROM readings WHERE stage_id = ? ORDER BY id LIMIT 1 OFFSET ?",
			of.stages[p.Measured-1], p.Reading-1).Scan(&x.Of.Reading); err != nil {
			return oneRow(err)
		}
	}
	if p.Card > 0 {
		x.Of.Run = of.runs[p.Card-1]
	}
	full, thumb, err := p.Picture()
	if err != nil {
		return err
	}
	_, err = putPhoto(ctx, t, x, full, thumb)
	return err
}

// began is the date of a document's oldest entry.
func (in Import) began(began time.Time) time.Time {
	before := func(at time.Time) {
		if at.Before(began) {
			began = at
		}
	}
	for _, k := range in.Measured {
		for _, r := range k.Readings {
			before(r.At)
		}
	}
	for _, d := range in.Decisions {
		before(d.At)
	}
	for _, j := range in.Jobs {
		before(j.Job.At)
	}
	for _, w := range in.Service {
		before(w.At)
	}
	for _, c := range in.Cards {
		before(c.At)
	}
	for _, p := range in.Photos {
		before(p.Photo.At)
	}
	for _, r := range in.Heard {
		before(r.Recording.At)
	}
	for _, f := range in.Fittings {
		before(f.At)
	}
	return began
}

// importStage hangs readings on a ratio of a part. The question that they were
// taken for is the document's; a part that the driveline has no longer gets a
// stage that isn't present.
func (s *Store) importStage(ctx context.Context, t *sql.Tx, unit int64, k Kept, fittings []int64) (int64, error) {
	v := k.Stage
	v.UnitID = unit
	err := t.QueryRowContext(ctx, "SELECT id, name FROM stages WHERE unit_id = ? AND part = ? AND ratio = ?", unit, v.Part, v.Ratio).Scan(&v.ID, &v.Name)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		if v.ID, err = insert(ctx, t, "INSERT INTO stages (unit_id, part, ratio, present, ordinal, name, kind, position, held, input, since) VALUES (?, ?, ?, FALSE, 10000, ?, ?, ?, ?, ?, (SELECT MAX(id) FROM fittings WHERE unit_id = ? AND part = ?))",
			unit, v.Part, v.Ratio, v.Name, v.Kind, v.Position, v.Held, v.Input, unit, v.Part); err != nil {
			return 0, err
		}
	case err != nil:
		return 0, err
	default:
		if _, err := t.ExecContext(ctx, "UPDATE stages SET kind = ?, position = ?, held = ?, input = ? WHERE id = ?", v.Kind, v.Position, v.Held, v.Input, v.ID); err != nil {
			return 0, err
		}
	}
	readings := slices.Clone(k.Readings)
	for i := range readings {
		readings[i].Fitting = fittings[readings[i].Fitting]
	}
	return v.ID, s.addReadings(ctx, t, v, readings)
}
