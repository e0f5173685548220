package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"strings"
	"time"

	"zorvel/core/say"
)

// Decision is what was decided, calibrated or checked for a unit, with the
// question and the answer that it was based on, as JSON.
type Decision struct {
	ID       int64
	UnitID   int64
	Kind     string // regear, speedometer, calibration, check
	Title    string
	Note     string
	Question json.RawMessage
	Answer   json.RawMessage
	By       string
	At       time.Time
	TakenIn  *TakenIn
}

var decisionColumns = "SELECT d.id, d.unit_id, d.kind, d.title, d.note, d.question, d.answer, d.by_name, d.at, " + takenInColumns("d") + " FROM decisions d JOIN units u ON u.id = d.unit_id "

func scanDecision(row scanner, d *Decision) error {
	var brought takenIn
	err := row.Scan(&d.ID, &d.UnitID, &d.Kind, &d.Title, &d.Note, &d.Question, &d.Answer, &d.By, &d.At, &brought.by, &brought.at)
	d.TakenIn = brought.value()
	return err
}

// Decisions lists a unit's decisions, newest first, at most 200.
func (s *Store) Decisions(ctx context.Context, unit int64) ([]Decision, error) {
	return s.decisions(ctx, unit, 200)
}

// EveryDecision lists a unit's decisions, newest first, at most 2000.
func (s *Store) EveryDecision(ctx context.Context, unit int64) ([]Decision, error) {
	return s.decisions(ctx, unit, 2000)
}

func (s *Store) decisions(ctx context.Context, unit int64, most int) ([]Decision, error) {
	return list(ctx, s.DB, scanDecision, decisionColumns+"WHERE d.unit_id = ? ORDER BY d.at DESC, d.id DESC LIMIT ?", unit, most)
}

// UnitDecision is a decision with the name of its unit.
type UnitDecision struct {
	Decision
	Unit string
}

// Kind lists decisions of one kind over all units, newest first, at most so
// many; without their figures, unless those are wanted.
func (s *Store) Kind(ctx context.Context, kind string, figures bool, most int) ([]UnitDecision, error) {
	scan := func(row scanner, d *UnitDecision) error {
		var brought takenIn
		err := row.Scan(&d.ID, &d.UnitID, &d.Kind, &d.Title, &d.Note, &d.Question, &d.Answer, &d.By, &d.At, &brought.by, &brought.at, &d.Unit)
		d.TakenIn = brought.value()
		return err
	}
	columns := strings.Replace(decisionColumns, " FROM decisions", ", u.name FROM decisions", 1)
	if !figures {
		columns = strings.Replace(columns, "d.question, d.answer", "'{}', '{}'", 1)
	}
	return list(ctx, s.DB, scan, columns+"WHERE d.kind = ? ORDER BY d.at DESC, d.id DESC LIMIT ?", kind, most)
}

// Decision returns one decision.
func (s *Store) Decision(ctx context.Context, id int64) (Decision, error) {
	var d Decision
	err := scanDecision(s.DB.QueryRowContext(ctx, decisionColumns+"WHERE d.id = ?", id), &d)
	return d, oneRow(err)
}

// Decide records a decision and puts it into the unit's history.
func (s *Store) Decide(ctx context.Context, d Decision) (Decision, error) {
	out := d
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, d.UnitID); err != nil {
			return err
		}
		var err error
		out, err = s.decide(ctx, t, d)
		return err
	})
	return out, err
}

func (s *Store) decide(ctx context.Context, t *sql.Tx, d Decision) (Decision, error) {
	if d.At.IsZero() {
		d.At = s.now()
	}
	var err error
	if d.ID, err = insert(ctx, t, "INSERT INTO decisions (unit_id, kind, title, note, question, answer, by_name, at, taken_in) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
		d.UnitID, d.Kind, say.Clip(d.Title, titleLetters), d.Note, string(d.Question), string(d.Answer), d.By, d.At, d.TakenIn != nil); err != nil {
		return d, err
	}
	return d, s.log(ctx, t, d.UnitID, Event{What: d.Kind, By: d.By, At: d.At, Text: d.line(), TakenIn: d.TakenIn})
}

// titleLetters is how long a decision's title may be; what is longer stands whole in
// its answer.
const titleLetters = 199

// Settle puts the outcome in the place of what was recorded as begun, and into
// the unit's history.
func (s *Store) Settle(ctx context.Context, d Decision) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, d.UnitID); err != nil {
			return err
		}
		if _, err := t.ExecContext(ctx, "UPDATE decisions SET title = ?, answer = ? WHERE id = ?", d.Title, string(d.Answer), d.ID); err != nil {
			return err
		}
		return s.log(ctx, t, d.UnitID, Event{What: d.Kind, By: d.By, Text: d.line()})
	})
}

// line is a decision as the history tells it.
func (d Decision) line() string {
	if d.Note == "" {
		return d.Title
	}
	return d.Title + ": " + d.Note
}
