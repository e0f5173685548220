package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"

	"zorvel/core/say"
)

// States of a job. Closed is reached by CloseJob alone.
const (
	JobWaiting  = "waiting"
	JobOnStands = "on_stands"
	JobMeasured = "measured"
	JobDecided  = "decided"
	JobOrdered  = "parts_ordered"
	JobClosed   = "closed"
)

// Kinds of work entry.
const (
	WorkNote    = "note"
	WorkFinding = "finding"
	WorkDone    = "work"
	WorkState   = "state"
	WorkTaken   = "taken"
	WorkMeter   = "meter"
	WorkService = "service"
	WorkClosed  = "closed"
)

// Bounds of jobs.
const (
	MostOpenJobs    = 20   // of a unit
	MostWorkEntries = 1000 // of a job
	MostMeterReads  = 5000 // of a unit
)

// Job is a visit of a unit.
type Job struct {
	ID        int64
	UnitID    int64
	Unit      string
	UnitKind  string
	Complaint string
	Facts     json.RawMessage // what else was told: an object, by the contract's JobFacts
	State     string
	Who       string // does it
	By        string // opened it
	At        time.Time
	ChangedAt time.Time
	HandOver  string
	ClosedAt  *time.Time
	Minutes   float64 // worked
}

// Work is one line of what was noted, found, done, read off or served.
type Work struct {
	ID       int64
	UnitID   int64
	JobID    int64 // 0: on the unit alone
	Key      string
	Content  string // digest of what was sent under the key
	Kind     string
	What     string // of a service; the state or the person of a change
	Part     string
	Text     string
	Minutes  *float64
	Hours    *float64
	KM       *float64
	Sessions *float64
	Meter    string // replaced, rolled_over
	DoneAt   time.Time
	By       string
	At       time.Time
}

const jobColumns = "SELECT j.id, j.unit_id, u.name, u.kind, j.complaint, j.facts, j.state, j.who, j.by_name, j.at, " +
	"j.changed_at, j.hand_over, j.closed_at, " +
	"COALESCE((SELECT SUM(w.minutes) FROM work_entries w WHERE w.job_id = j.id), 0) FROM jobs j JOIN units u ON u.id " +
	"= j.unit_id AND u.staged IS NULL "

func scanJob(row scanner, j *Job) error {
	return row.Scan(&j.ID, &j.UnitID, &j.Unit, &j.UnitKind, &j.Complaint, &j.Facts, &j.State, &j.Who, &j.By, &j.At,
		&j.ChangedAt, &j.HandOver, &j.ClosedAt, &j.Minutes)
}

// factsOf are a job's facts as they are stored.
func factsOf(j Job) []byte {
	if len(j.Facts) == 0 {
		return []byte("{}")
	}
	return j.Facts
}

// OpenJobs lists the jobs that aren't closed, those that changed last first, at
// most 500.
func (s *Store) OpenJobs(ctx context.Context) ([]Job, error) {
	return list(ctx, s.DB, scanJob, jobColumns+"WHERE j.closed_at IS NULL ORDER BY j.changed_at DESC, j.id DESC LIMIT 500")
}

// ClosedJobs lists the jobs that were closed, the newest first, at most 100.
func (s *Store) ClosedJobs(ctx context.Context) ([]Job, error) {
	return list(ctx, s.DB, scanJob, jobColumns+"WHERE j.closed_at IS NOT NULL ORDER BY j.closed_at DESC, j.id DESC LIMIT 100")
}

// UnitJobs lists a unit's jobs, newest first, at most 2000.
func (s *Store) UnitJobs(ctx context.Context, unit int64) ([]Job, error) {
	return list(ctx, s.DB, scanJob, jobColumns+"WHERE j.unit_id = ? ORDER BY j.at DESC, j.id DESC LIMIT 2000", unit)
}

// Job returns one job.
func (s *Store) Job(ctx context.Context, id int64) (Job, error) { return s.job(ctx, s.DB, id) }

func (s *Store) job(ctx context.Context, q querier, id int64) (Job, error) {
	var j Job
	return j, oneRow(scanJob(q.QueryRowContext(ctx, jobColumns+"WHERE j.id = ?", id), &j))
}

const workColumns = "SELECT id, unit_id, COALESCE(job_id, 0), client_key, kind, what, part, text, minutes, hours, km, sessions, meter, done_at, by_name, at FROM work_entries "

func scanWork(row scanner, w *Work) error {
	return row.Scan(&w.ID, &w.UnitID, &w.JobID, &w.Key, &w.Kind, &w.What, &w.Part, &w.Text, &w.Minutes, &w.Hours, &w.KM, &w.Sessions, &w.Meter, &w.DoneAt, &w.By, &w.At)
}

// JobWork lists what was entered in a job, in order.
func (s *Store) JobWork(ctx context.Context, job int64) ([]Work, error) {
	return list(ctx, s.DB, scanWork, workColumns+"WHERE job_id = ? ORDER BY id LIMIT ?", job, MostWorkEntries+10)
}

// WorkLine returns one line.
func (s *Store) WorkLine(ctx context.Context, id int64) (Work, error) {
	var w Work
	return w, oneRow(scanWork(s.DB.QueryRowContext(ctx, workColumns+"WHERE id = ?", id), &w))
}

// Served lists what was read off the meters of a unit and what was served, in
// order of when; of all units where unit is 0.
func (s *Store) Served(ctx context.Context, unit int64) ([]Work, error) {
	return served(ctx, s.DB, unit)
}

func served(ctx context.Context, q querier, unit int64) ([]Work, error) {
	if unit == 0 {
		return list(ctx, q, scanWork, workColumns+"WHERE kind IN ('meter', 'service') ORDER BY unit_id, done_at, id LIMIT 200000")
	}
	return list(ctx, q, scanWork, workColumns+"WHERE unit_id = ? AND kind IN ('meter', 'service') ORDER BY done_at, id LIMIT ?", unit, 2*MostMeterReads)
}

// ErrArchived is returned where a unit was put away.
var ErrArchived = errors.New("the unit is archived")

// OpenJob opens a job, with its first line in the unit's history. One that came
// already under its key is opened once; another under that key is a *KeyError. An
// archived unit takes none: ErrArchived.
func (s *Store) OpenJob(ctx context.Context, j Job, key, content string) (int64, error) {
	var id int64
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, j.UnitID); err != nil {
			return err
		}
		var there bool
		var err error
		if id, there, err = under(ctx, t, key, content,
			"SELECT id, content FROM jobs WHERE unit_id = ? AND client_key = ?", j.UnitID, key); err != nil || there {
			return err
		}
		var away bool
		var n int
		const standing = "SELECT archived_at IS NOT NULL, (SELECT COUNT(*) FROM jobs WHERE unit_id = u.id AND closed_at IS NULL) FROM units u WHERE u.id = ?"
		if err := t.QueryRowContext(ctx, standing, j.UnitID).Scan(&away, &n); err != nil {
			return err
		}
		if away {
			return ErrArchived
		}
		if n >= MostOpenJobs {
			return ErrInUse
		}
		at := j.At
		if at.IsZero() {
			at = s.now()
		}
		if id, err = insert(ctx, t,
			"INSERT INTO jobs (unit_id, client_key, content, complaint, facts, state, who, by_name, at, changed_at) VALUES "+
				"(?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
			j.UnitID, key, content, j.Complaint, factsOf(j), JobWaiting, j.Who, j.By, at, at); err != nil {
			return err
		}
		if err := s.putWork(ctx, t, Work{
			UnitID: j.UnitID, JobID: id, Key: ownKey("opened", id), Kind: WorkState, What: JobWaiting, By: j.By, At: at, DoneAt: at,
		}); err != nil {
			return err
		}
		return s.log(ctx, t, j.UnitID, Event{What: "job", By: j.By, At: at, Text: say.Clip("Job opened: "+j.Complaint, 990)})
	})
	return id, err
}

func (s *Store) putWork(ctx context.Context, t *sql.Tx, w Work) error {
	_, err := s.putLine(ctx, t, w)
	return err
}

// putLine puts a line in and returns its number.
func (s *Store) putLine(ctx context.Context, t *sql.Tx, w Work) (int64, error) {
	id, err := insert(ctx, t, "INSERT INTO work_entries (unit_id, job_id, client_key, content, kind, what, part, text, minutes, hours, km, sessions, meter, done_at, by_name, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
		w.UnitID, orNull(w.JobID), w.Key, w.Content, w.Kind, w.What, w.Part, w.Text, w.Minutes, w.Hours, w.KM, w.Sessions, w.Meter, w.DoneAt, w.By, w.At)
	if err != nil {
		return 0, err
	}
	return id, touchUnit(ctx, t, w.UnitID, w.At)
}

// touchUnit moves a unit to the front of what was worked on.
func touchUnit(ctx context.Context, t *sql.Tx, unit int64, at time.Time) error {
	_, err := t.ExecContext(ctx, "UPDATE units SET changed_at = GREATEST(changed_at + INTERVAL 1 MICROSECOND, ?) WHERE id = ?", at, unit)
	return err
}

// EnterWork puts a line in, if judge takes it with what the unit's meters read and
// what was served before. One that came already under its key is kept once; another
// under that key is a *KeyError. It returns ErrClosed where its job is closed.
func (s *Store) EnterWork(ctx context.Context, w Work, judge func(before []Work) error) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, w.UnitID); err != nil {
			return err
		}
		if _, there, err := under(ctx, t, w.Key, w.Content,
			"SELECT id, content FROM work_entries WHERE unit_id = ? AND place = ? AND client_key = ?", w.UnitID, w.JobID, w.Key); err != nil || there {
			return err
		}
		if w.At.IsZero() {
			w.At = s.now()
		}
		if w.DoneAt.IsZero() {
			w.DoneAt = w.At
		}
		if w.JobID != 0 {
			if err := s.touchJob(ctx, t, w); err != nil {
				return err
			}
		}
		before, err := served(ctx, t, w.UnitID)
		if err != nil {
			return err
		}
		if len(before) >= MostMeterReads && (w.Kind == WorkMeter || w.Kind == WorkService) {
			return ErrInUse
		}
		if err := judge(before); err != nil {
			return err
		}
		return s.putWork(ctx, t, w)
	})
}

// touchJob moves a job on by a line that is about to be put in.
func (s *Store) touchJob(ctx context.Context, t *sql.Tx, w Work) error {
	j, err := s.job(ctx, t, w.JobID)
	if err != nil {
		return err
	}
	if j.UnitID != w.UnitID {
		return ErrNotFound
	}
	if j.ClosedAt != nil {
		return ErrClosed
	}
	var n int
	if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM work_entries WHERE job_id = ?", w.JobID).Scan(&n); err != nil {
		return err
	}
	if n >= MostWorkEntries {
		return ErrInUse
	}
	state, who := j.State, j.Who
	switch w.Kind {
	case WorkState:
		state = w.What
	case WorkTaken:
		who = w.What
	}
	_, err = t.ExecContext(ctx, "UPDATE jobs SET state = ?, who = ?, changed_at = ? WHERE id = ?", state, who, w.At, w.JobID)
	return err
}

// CloseJob closes a job that was judged at a revision of its unit; ErrMoved where
// something was written to the unit since: then it is to be judged anew.
func (s *Store) CloseJob(ctx context.Context, id int64, rev Revision, by, handOver string) error {
	unit := rev.Unit
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, unit); err != nil {
			return err
		}
		j, err := s.job(ctx, t, id)
		if err != nil {
			return err
		}
		if j.ClosedAt != nil {
			return ErrClosed
		}
		if j.UnitID != unit {
			return ErrNotFound
		}
		if err := rev.holds(ctx, t); err != nil {
			return err
		}
		at := s.now()
		if _, err := t.ExecContext(ctx, "UPDATE jobs SET state = ?, hand_over = ?, closed_at = ?, changed_at = ? WHERE id = ?", JobClosed, handOver, at, at, id); err != nil {
			return err
		}
		if err := s.putWork(ctx, t, Work{
			UnitID: unit, JobID: id, Key: ownKey("closed", id), Kind: WorkClosed, Text: handOver, By: by, At: at, DoneAt: at,
		}); err != nil {
			return err
		}
		text := "Job closed: " + j.Complaint
		if handOver != "" {
			text += ". " + handOver
		}
		return s.log(ctx, t, unit, Event{What: "job", By: by, At: at, Text: say.Clip(text, 990)})
	})
}

// ClosedCard is a card that was closed on a part.
type ClosedCard struct {
	UnitID int64
	Part   string
	Card   string
	At     time.Time
}

// ClosedCards lists the cards that were closed on a unit, of all units where unit
// is 0, at most 50,000.
func (s *Store) ClosedCards(ctx context.Context, unit int64) ([]ClosedCard, error) {
	scan := func(row scanner, c *ClosedCard) error {
		return row.Scan(&c.UnitID, &c.Part, &c.Card, &c.At)
	}
	query, args := "SELECT unit_id, part, card, closed_at FROM card_runs WHERE closed_at IS NOT NULL", []any{}
	if unit != 0 {
		query, args = query+" AND unit_id = ?", []any{unit}
	}
	return list(ctx, s.DB, scan, query+" ORDER BY closed_at LIMIT 50000", args...)
}

// ImportJob is a job as it comes from a document.
type ImportJob struct {
	Job  Job
	Work []Work
}

// importJobs puts jobs, meters and services of a document in, and returns the numbers
// of the jobs and of their lines.
func (s *Store) importJobs(ctx context.Context, t *sql.Tx, unit int64, in Import) (jobs []int64, lines [][]int64, err error) {
	for n, x := range in.Jobs {
		j := x.Job
		changed := j.At
		if j.ClosedAt != nil {
			changed = *j.ClosedAt
		}
		id, err := insert(ctx, t, "INSERT INTO jobs (unit_id, complaint, facts, state, who, by_name, at, changed_at, "+
			"hand_over, closed_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
			unit, j.Complaint, factsOf(j), j.State, j.Who, j.By, j.At, changed, j.HandOver, j.ClosedAt)
		if err != nil {
			return nil, nil, err
		}
		var of []int64
		for k, w := range x.Work {
			w.UnitID, w.JobID, w.Key = unit, id, ownKey("document", n, k)
			line, err := s.putLine(ctx, t, w)
			if err != nil {
				return nil, nil, err
			}
			of = append(of, line)
		}
		jobs, lines = append(jobs, id), append(lines, of)
	}
	for k, w := range in.Service {
		w.UnitID, w.JobID, w.Key = unit, 0, ownKey("document", "service", k)
		if err := s.putWork(ctx, t, w); err != nil {
			return nil, nil, err
		}
	}
	return jobs, lines, nil
}
