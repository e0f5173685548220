package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"zorvel/core/say"
)

// Unit is a truck, van, boat or loose part with its driveline.
type Unit struct {
	ID        int64
	Name      string
	Kind      string
	Notes     string
	ChangedAt time.Time
	Version   int64 // of name, kind and notes
	Archived  *time.Time
	Away      string // who archived it
	Stages    []Stage
}

// Stage is one ratio of a part of a unit's driveline, ordered as power reaches
// them.
type Stage struct {
	ID       int64
	UnitID   int64
	Part     string // its name in the driveline's document
	Ratio    string // which of its ratios
	Present  bool   // the driveline has this part and ratio
	Since    int64  // the newest fitting of the part; readings from before don't count
	Name     string
	Kind     string
	Position string
	Held     string
	Input    string
	// Newest changes whenever the evidence does; Standing counts readings that
	// aren't struck out and were taken of what is fitted now, Taken all of them.
	Newest   string
	Standing int
	Taken    int
}

// Event is one line of a unit's history.
type Event struct {
	ID      int64
	At      time.Time
	By      string
	What    string
	StageID int64
	Stage   string
	Text    string
	TakenIn *TakenIn
}

const unitColumns = "id, name, kind, notes, changed_at, version, archived_at, archived_by"

func scanUnit(row scanner, u *Unit) error {
	return row.Scan(&u.ID, &u.Name, &u.Kind, &u.Notes, &u.ChangedAt, &u.Version, &u.Archived, &u.Away)
}

const stageColumns = `s.id, s.unit_id, s.part, s.ratio, s.present, COALESCE(s.since, 0), s.name, s.kind, s.position, s.held, s.input,
	CONCAT_WS('-', s.taken, s.newest, s.struck, COALESCE(s.since, 0)), s.standing, s.taken`

const stageTables = " FROM stages s "

// Tally counts the readings of every stage anew, some at a time.
func (s *Store) Tally(ctx context.Context) error {
	var last int64
	if err := s.DB.QueryRowContext(ctx, "SELECT COALESCE(MAX(id), 0) FROM stages").Scan(&last); err != nil {
		return err
	}
	const atOnce = 500
	for from := int64(0); from < last; from += atOnce {
		err := s.tx(ctx, func(t *sql.Tx) error { return tally(ctx, t, "s.id > ? AND s.id <= ?", from, from+atOnce) })
		if err != nil {
			return err
		}
	}
	return nil
}

// tally counts a stage's readings anew, for whoever lists it; in the transaction that
// wrote to them.
func tally(ctx context.Context, t *sql.Tx, where string, args ...any) error {
	_, err := t.ExecContext(ctx, `UPDATE stages s SET
		s.taken = (SELECT COUNT(*) FROM readings r WHERE r.stage_id = s.id),
		s.newest = (SELECT COALESCE(MAX(r.id), 0) FROM readings r WHERE r.stage_id = s.id),
		s.struck = (SELECT COUNT(*) FROM readings r JOIN strikes x ON x.reading_id = r.id WHERE r.stage_id = s.id),
		s.standing = (SELECT COUNT(*) FROM readings r LEFT JOIN strikes x ON x.reading_id = r.id
			WHERE r.stage_id = s.id AND x.reading_id IS NULL AND r.fitting <=> s.since)
		WHERE `+where, args...)
	return err
}

func scanStage(row scanner, v *Stage) error {
	return row.Scan(&v.ID, &v.UnitID, &v.Part, &v.Ratio, &v.Present, &v.Since, &v.Name, &v.Kind, &v.Position, &v.Held, &v.Input, &v.Newest, &v.Standing, &v.Taken)
}

// Unit returns one unit with its stages in line order.
func (s *Store) Unit(ctx context.Context, id int64) (Unit, error) {
	var u Unit
	if err := scanUnit(s.DB.QueryRowContext(ctx, "SELECT "+unitColumns+" FROM units WHERE id = ? AND staged IS NULL", id), &u); err != nil {
		return u, oneRow(err)
	}
	var err error
	u.Stages, err = list(ctx, s.DB, scanStage, "SELECT "+stageColumns+stageTables+"WHERE s.unit_id = ? ORDER BY s.ordinal, s.id", id)
	return u, err
}

// Revision is how often a unit was written to, as it was seen.
type Revision struct {
	Unit int64
	n    int64
}

// ErrMoved is returned where a unit was written to since it was looked at.
var ErrMoved = errors.New("the unit was written to meanwhile")

// Revision is a unit's, to be asked for before what is judged is read.
func (s *Store) Revision(ctx context.Context, unit int64) (Revision, error) {
	r := Revision{Unit: unit}
	return r, oneRow(s.DB.QueryRowContext(ctx, "SELECT rev FROM units WHERE id = ?", unit).Scan(&r.n))
}

// holds is nil where a unit that is locked was not written to since: what was judged
// then stands.
func (r Revision) holds(ctx context.Context, t *sql.Tx) error {
	var now int64
	if err := t.QueryRowContext(ctx, "SELECT rev FROM units WHERE id = ?", r.Unit).Scan(&now); err != nil {
		return err
	}
	if now != r.n+1 {
		return ErrMoved
	}
	return nil
}

// UnitName is what a unit is called; ErrNotFound where there is none.
func (s *Store) UnitName(ctx context.Context, id int64) (string, error) {
	var name string
	return name, oneRow(s.DB.QueryRowContext(ctx, "SELECT name FROM units WHERE id = ?", id).Scan(&name))
}

// AddUnit stores a new unit with its driveline and returns its number.
func (s *Store) AddUnit(ctx context.Context, u Unit, d Driveline, by string) (int64, error) {
	var id int64
	err := s.tx(ctx, func(t *sql.Tx) error {
		at := s.now()
		err := guard(ctx, t, guardUnits)
		if err != nil {
			return err
		}
		if id, err = s.addUnit(ctx, t, u, by, at); err != nil {
			return err
		}
		d := d
		d.UnitID, d.By, d.At = id, by, at
		return s.keepDriveline(ctx, t, d, "")
	})
	return id, err
}

func (s *Store) addUnit(ctx context.Context, t *sql.Tx, u Unit, by string, at time.Time) (int64, error) {
	id, err := insert(ctx, t, "INSERT INTO units (name, kind, notes, created_at, changed_at) VALUES (?, ?, ?, ?, ?)", u.Name, u.Kind, u.Notes, at, at)
	if err != nil {
		return 0, err
	}
	return id, s.log(ctx, t, id, Event{What: "unit_added", By: by, At: at, Text: "Unit added: " + u.Name})
}

// ChangeUnit stores a unit's name, kind and notes over the version that was
// seen; ErrChanged where someone else was quicker.
func (s *Store) ChangeUnit(ctx context.Context, u Unit, by, what string) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, u.ID); err != nil {
			return err
		}
		var version int64
		if err := t.QueryRowContext(ctx, "SELECT version FROM units WHERE id = ?", u.ID).Scan(&version); err != nil {
			return oneRow(err)
		}
		if version != u.Version {
			return ErrChanged
		}
		if _, err := t.ExecContext(ctx, "UPDATE units SET name = ?, kind = ?, notes = ?, version = version + 1 WHERE id = ?", u.Name, u.Kind, u.Notes, u.ID); err != nil {
			return err
		}
		return s.log(ctx, t, u.ID, Event{What: "unit_changed", By: by, Text: what})
	})
}

// ArchiveUnit puts a unit away, or takes it back; nothing of it is lost either way.
// It returns ErrInUse where a job of it is open.
func (s *Store) ArchiveUnit(ctx context.Context, id int64, away bool, by string) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, id); err != nil {
			return err
		}
		var was sql.NullTime
		if err := t.QueryRowContext(ctx, "SELECT archived_at FROM units WHERE id = ?", id).Scan(&was); err != nil {
			return oneRow(err)
		}
		if was.Valid == away {
			return nil
		}
		var at any
		who, told := "", "Taken back from the archive"
		if away {
			var open int
			if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM jobs WHERE unit_id = ? AND closed_at IS NULL", id).Scan(&open); err != nil {
				return err
			}
			if open > 0 {
				return ErrInUse
			}
			at, who, told = s.now(), by, "Archived"
		}
		if err := guard(ctx, t, guardUnits); err != nil {
			return err
		}
		if _, err := t.ExecContext(ctx, "UPDATE units SET archived_at = ?, archived_by = ? WHERE id = ?", at, who, id); err != nil {
			return err
		}
		return s.log(ctx, t, id, Event{What: "unit_changed", By: by, Text: told})
	})
}

// Stage returns one stage.
func (s *Store) Stage(ctx context.Context, id int64) (Stage, error) {
	var v Stage
	err := scanStage(s.DB.QueryRowContext(ctx, "SELECT "+stageColumns+stageTables+"WHERE s.id = ?", id), &v)
	return v, oneRow(err)
}

// log appends an event and marks the unit as changed.
func (s *Store) log(ctx context.Context, t *sql.Tx, unit int64, e Event) error {
	if e.At.IsZero() {
		e.At = s.now()
	}
	var stage any
	if e.StageID != 0 {
		stage = e.StageID
	}
	e.Text = say.Clip(e.Text, 999)
	if _, err := t.ExecContext(ctx, "INSERT INTO events (unit_id, stage_id, stage, what, text, by_name, at, taken_in) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
		unit, stage, e.Stage, e.What, e.Text, e.By, e.At, e.TakenIn != nil); err != nil {
		return err
	}
	_, err := t.ExecContext(ctx, "UPDATE units SET changed_at = GREATEST(changed_at, ?) WHERE id = ?", e.At, unit)
	return err
}

var eventColumns = "SELECT e.id, e.at, e.by_name, e.what, COALESCE(e.stage_id, 0), e.stage, e.text, " + takenInColumns("e") + " FROM events e JOIN units u ON u.id = e.unit_id "

func scanEvent(row scanner, e *Event) error {
	var brought takenIn
	err := row.Scan(&e.ID, &e.At, &e.By, &e.What, &e.StageID, &e.Stage, &e.Text, &brought.by, &brought.at)
	e.TakenIn = brought.value()
	return err
}

// MostHistory is how many lines of a history are told at once.
const MostHistory = 1000

// History lists a unit's events, newest first, at most MostHistory; those before
// one of them, where that is given.
func (s *Store) History(ctx context.Context, unit, before int64) ([]Event, error) {
	where, args := "", []any{unit}
	if before > 0 {
		where = " AND (e.at, e.id) < (SELECT b.at, b.id FROM events b WHERE b.id = ? AND b.unit_id = e.unit_id)"
		args = append(args, before)
	}
	return list(ctx, s.DB, scanEvent, eventColumns+"WHERE e.unit_id = ?"+where+" ORDER BY e.at DESC, e.id DESC LIMIT ?", append(args, MostHistory)...)
}

// Between lists a unit's events after one time until another, newest first.
func (s *Store) Between(ctx context.Context, unit int64, from, to time.Time, most int) ([]Event, error) {
	return list(ctx, s.DB, scanEvent, eventColumns+"WHERE e.unit_id = ? AND e.at > ? AND e.at <= ? ORDER BY e.at DESC, e.id DESC LIMIT ?", unit, from, to, most)
}
