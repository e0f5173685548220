package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"
)

// Reading is one kept piece of evidence. Data is the reading as JSON, in the
// form of the API.
type Reading struct {
	ID      int64
	StageID int64
	Fitting int64 // the fitting of its part that was the newest when it was taken
	Method  string
	Data    json.RawMessage
	Note    string
	Blind   bool
	Key     string // the client's own, to store a resent reading once
	By      string
	At      time.Time
	Text    string // for the history
	Struck  *Strike
	TakenIn *TakenIn
}

// TakenIn says who took an entry in with a document, and when; nil for what was
// entered here. To the store only whether it is nil counts: who and when are
// the import's.
type TakenIn struct {
	By string
	At time.Time
}

// takenIn reads the columns that takenInColumns selects.
type takenIn struct {
	by sql.NullString
	at sql.NullTime
}

func (c takenIn) value() *TakenIn {
	if !c.by.Valid {
		return nil
	}
	return &TakenIn{c.by.String, c.at.Time}
}

// takenInColumns selects who took a row of a table in, and when; u is its unit.
func takenInColumns(table string) string {
	return "IF(" + table + ".taken_in, u.taken_in_by, NULL), IF(" + table + ".taken_in, u.taken_in_at, NULL)"
}

// Strike says who struck a reading out, when and why.
type Strike struct {
	By     string
	At     time.Time
	Reason string
}

func scanReading(row scanner, r *Reading) error {
	var by, reason sql.NullString
	var at sql.NullTime
	var brought takenIn
	if err := row.Scan(&r.ID, &r.StageID, &r.Fitting, &r.Method, &r.Data, &r.Note, &r.Blind, &r.By, &r.At, &by, &at, &reason, &brought.by, &brought.at); err != nil {
		return err
	}
	r.TakenIn = brought.value()
	if by.Valid {
		r.Struck = &Strike{by.String, at.Time, reason.String}
	}
	return nil
}

var readingColumns = "SELECT r.id, r.stage_id, COALESCE(r.fitting, 0), r.method, r.data, r.note, r.blind, r.by_name, r.at, x.by_name, x.at, x.reason, " +
	takenInColumns("r") +
	" FROM readings r JOIN stages s ON s.id = r.stage_id JOIN units u ON u.id = s.unit_id LEFT JOIN strikes x ON x.reading_id = r.id "

// Readings lists a stage's readings in the order taken, struck ones included.
func (s *Store) Readings(ctx context.Context, stage int64) ([]Reading, error) {
	return list(ctx, s.DB, scanReading, readingColumns+"WHERE r.stage_id = ? ORDER BY r.id", stage)
}

// Reading returns one reading.
func (s *Store) Reading(ctx context.Context, id int64) (Reading, error) {
	var r Reading
	err := scanReading(s.DB.QueryRowContext(ctx, readingColumns+"WHERE r.id = ?", id), &r)
	return r, oneRow(err)
}

// AddReadings appends readings to a stage, all or none; ErrFull where more than
// most would stand. A reading that the stage has already under its key is
// skipped: it was sent twice. Another reading under that key is a *KeyError.
// ErrChanged where something else was fitted than v.Since, which was seen.
func (s *Store) AddReadings(ctx context.Context, v Stage, readings []Reading, most int) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, v.UnitID); err != nil {
			return err
		}
		var since int64 // the stage may be gone, or its part another, since it was seen
		if err := t.QueryRowContext(ctx, "SELECT COALESCE(since, 0) FROM stages WHERE id = ?", v.ID).Scan(&since); err != nil {
			return oneRow(err)
		}
		fresh := make([]Reading, 0, len(readings))
		for _, r := range readings {
			there, err := keptUnder(ctx, t, v.ID, r)
			if err != nil {
				return err
			}
			if !there {
				fresh = append(fresh, r)
			}
		}
		if len(fresh) > 0 && since != v.Since {
			return ErrChanged
		}
		var standing int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(r.id) - COUNT(x.reading_id) FROM readings r LEFT JOIN strikes x ON x.reading_id = r.id WHERE r.stage_id = ? AND COALESCE(r.fitting, 0) = ?", v.ID, since).Scan(&standing); err != nil {
			return err
		}
		for i := range fresh {
			fresh[i].Fitting = since
		}
		if len(fresh) > 0 && standing+len(fresh) > most {
			return ErrFull
		}
		return s.addReadings(ctx, t, v, fresh)
	})
}

// keptUnder reports whether a stage has a reading under its key already.
func keptUnder(ctx context.Context, t *sql.Tx, stage int64, r Reading) (bool, error) {
	if r.Key == "" {
		return false, nil
	}
	var method, note string
	var data []byte
	var blind bool
	err := t.QueryRowContext(ctx, "SELECT method, data, note, blind FROM readings WHERE stage_id = ? AND client_key = ?", stage, r.Key).Scan(&method, &data, &note, &blind)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return false, nil
	case err != nil:
		return false, err
	case method != r.Method || string(data) != string(r.Data) || note != r.Note || blind != r.Blind:
		return false, &KeyError{r.Key}
	}
	return true, nil
}

func (s *Store) addReadings(ctx context.Context, t *sql.Tx, v Stage, readings []Reading) error {
	for _, r := range readings {
		if r.At.IsZero() {
			r.At = s.now()
		}
		var key any
		if r.Key != "" {
			key = r.Key
		}
		id, err := insert(ctx, t, "INSERT INTO readings (stage_id, fitting, method, data, note, blind, client_key, by_name, at, taken_in) VALUES (?, NULLIF(?, 0), ?, ?, ?, ?, ?, ?, ?, ?)",
			v.ID, r.Fitting, r.Method, string(r.Data), r.Note, r.Blind, key, r.By, r.At, r.TakenIn != nil)
		if errors.Is(err, ErrTaken) { // twice in one batch
			there, err := keptUnder(ctx, t, v.ID, r)
			if err != nil {
				return err
			}
			if there {
				continue
			}
		}
		if err != nil {
			return err
		}
		if err := s.log(ctx, t, v.UnitID, Event{What: "reading", By: r.By, At: r.At, StageID: v.ID, Stage: v.Name, Text: r.Text, TakenIn: r.TakenIn}); err != nil {
			return err
		}
		if r.Struck != nil {
			if err := s.strike(ctx, t, v, id, *r.Struck, r.Text, r.TakenIn); err != nil {
				return err
			}
		}
	}
	return tally(ctx, t, "s.id = ?", v.ID)
}

// Strike strikes a reading out; ErrStruck if it is already.
func (s *Store) Strike(ctx context.Context, v Stage, reading int64, k Strike, text string) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, v.UnitID); err != nil {
			return err
		}
		if err := s.strike(ctx, t, v, reading, k, text, nil); err != nil {
			return err
		}
		return tally(ctx, t, "s.id = ?", v.ID)
	})
}

func (s *Store) strike(ctx context.Context, t *sql.Tx, v Stage, reading int64, k Strike, text string, from *TakenIn) error {
	if k.At.IsZero() {
		k.At = s.now()
	}
	_, err := insert(ctx, t, "INSERT INTO strikes (reading_id, by_name, at, reason) VALUES (?, ?, ?, ?)", reading, k.By, k.At, k.Reason)
	if errors.Is(err, ErrTaken) {
		return ErrStruck
	}
	if err != nil {
		return err
	}
	return s.log(ctx, t, v.UnitID, Event{What: "strike", By: k.By, At: k.At, StageID: v.ID, Stage: v.Name,
		Text: "Voided: " + text + " — " + k.Reason, TakenIn: from})
}
