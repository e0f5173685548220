package store

import (
	"context"
	"database/sql"
	"fmt"
	"strings"
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
	Stages    []Stage
}

// Stage is one place in a driveline, ordered from the engine outward.
type Stage struct {
	ID       int64
	UnitID   int64
	Ordinal  int
	Name     string
	Kind     string
	Position string
	Held     string
	Input    string
	// Newest is the newest reading or strike, which changes whenever the
	// evidence does; Standing counts readings that aren't struck out.
	Newest   string
	Standing int
}

// Event is one line of a unit's history.
type Event struct {
	At      time.Time
	By      string
	What    string
	StageID int64
	Stage   string
	Text    string
	TakenIn *TakenIn
}

const unitColumns = "id, name, kind, notes, changed_at, version"

func scanUnit(row interface{ Scan(...any) error }, u *Unit) error {
	return row.Scan(&u.ID, &u.Name, &u.Kind, &u.Notes, &u.ChangedAt, &u.Version)
}

const stageColumns = `s.id, s.unit_id, s.ordinal, s.name, s.kind, s.position, s.held, s.input,
	CONCAT_WS('-', COUNT(r.id), COALESCE(MAX(r.id), 0), COUNT(x.reading_id)), COUNT(r.id) - COUNT(x.reading_id)`

const stageTables = ` FROM stages s LEFT JOIN readings r ON r.stage_id = s.id LEFT JOIN strikes x ON x.reading_id = r.id `

func scanStage(row interface{ Scan(...any) error }, v *Stage) error {
	return row.Scan(&v.ID, &v.UnitID, &v.Ordinal, &v.Name, &v.Kind, &v.Position, &v.Held, &v.Input, &v.Newest, &v.Standing)
}

// Units lists units by last change, at most 200, with their stages. search
// matches part of the name or notes.
func (s *Store) Units(ctx context.Context, search string) ([]Unit, error) {
	query, args := "SELECT "+unitColumns+" FROM units", []any{}
	if search = strings.TrimSpace(search); search != "" {
		like := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(search) + "%"
		query += " WHERE name LIKE ? OR notes LIKE ?"
		args = append(args, like, like)
	}
	units, err := list(ctx, s.DB, scanUnit, query+" ORDER BY changed_at DESC, id DESC LIMIT 200", args...)
	if err != nil || len(units) == 0 {
		return units, err
	}
	ids := make([]any, len(units))
	at := map[int64]int{}
	for i, u := range units {
		ids[i], at[u.ID] = u.ID, i
	}
	stages, err := list(ctx, s.DB, scanStage, "SELECT "+stageColumns+stageTables+
		"WHERE s.unit_id IN (?"+strings.Repeat(", ?", len(ids)-1)+") GROUP BY s.id ORDER BY s.unit_id, s.ordinal, s.id", ids...)
	for _, v := range stages {
		u := &units[at[v.UnitID]]
		u.Stages = append(u.Stages, v)
	}
	return units, err
}

// Unit returns one unit with its stages in line order.
func (s *Store) Unit(ctx context.Context, id int64) (Unit, error) {
	var u Unit
	if err := scanUnit(s.DB.QueryRowContext(ctx, "SELECT "+unitColumns+" FROM units WHERE id = ?", id), &u); err != nil {
		return u, oneRow(err)
	}
	var err error
	u.Stages, err = list(ctx, s.DB, scanStage, "SELECT "+stageColumns+stageTables+"WHERE s.unit_id = ? GROUP BY s.id ORDER BY s.ordinal, s.id", id)
	return u, err
}

// AddUnit stores a new unit with its stages and returns its number.
func (s *Store) AddUnit(ctx context.Context, u Unit, by string) (int64, error) {
	var id int64
	err := s.tx(ctx, func(t *sql.Tx) error {
		var err error
		id, err = s.addUnit(ctx, t, u, by, s.now())
		return err
	})
	return id, err
}

func (s *Store) addUnit(ctx context.Context, t *sql.Tx, u Unit, by string, at time.Time) (int64, error) {
	id, err := insert(ctx, t, "INSERT INTO units (name, kind, notes, created_at, changed_at) VALUES (?, ?, ?, ?, ?)", u.Name, u.Kind, u.Notes, at, at)
	if err != nil {
		return 0, err
	}
	if err := s.log(ctx, t, id, Event{What: "unit_added", By: by, At: at, Text: "Unit added: " + u.Name}); err != nil {
		return 0, err
	}
	for i, v := range u.Stages {
		v.UnitID, v.Ordinal = id, i
		if _, err := insertStage(ctx, t, v); err != nil {
			return 0, err
		}
	}
	return id, nil
}

func insertStage(ctx context.Context, t *sql.Tx, v Stage) (int64, error) {
	return insert(ctx, t, "INSERT INTO stages (unit_id, ordinal, name, kind, position, held, input) VALUES (?, ?, ?, ?, ?, ?, ?)",
		v.UnitID, v.Ordinal, v.Name, v.Kind, v.Position, v.Held, v.Input)
}

// ChangeUnit stores a unit's name, kind and notes over the version that was
// seen; ErrChanged where someone else was quicker.
func (s *Store) ChangeUnit(ctx context.Context, u Unit, by, what string) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		var version int64
		if err := t.QueryRowContext(ctx, "SELECT version FROM units WHERE id = ? FOR UPDATE", u.ID).Scan(&version); err != nil {
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

// AddStage puts a stage into the unit's line at a place (0 nearest the
// engine), or at the end if at is negative.
func (s *Store) AddStage(ctx context.Context, v Stage, at int, by string) (int64, error) {
	var id int64
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, v.UnitID); err != nil {
			return err
		}
		at, v := at, v // a second try begins from the same
		ids, err := list(ctx, t, func(row interface{ Scan(...any) error }, id *int64) error { return row.Scan(id) },
			"SELECT id FROM stages WHERE unit_id = ? ORDER BY ordinal, id FOR UPDATE", v.UnitID)
		if err != nil {
			return err
		}
		if len(ids) >= 40 {
			return fmt.Errorf("a unit has at most 40 stages: %w", ErrInUse)
		}
		if at < 0 || at > len(ids) {
			at = len(ids)
		}
		for i, id := range ids {
			if i >= at {
				i++
			}
			if _, err := t.ExecContext(ctx, "UPDATE stages SET ordinal = ? WHERE id = ?", i, id); err != nil {
				return err
			}
		}
		v.Ordinal = at
		if id, err = insertStage(ctx, t, v); err != nil {
			return err
		}
		return s.log(ctx, t, v.UnitID, Event{What: "stage_added", By: by, StageID: id, Stage: v.Name, Text: "Stage added: " + v.Name})
	})
	return id, err
}

// RemoveStage takes a stage out; with readings it is ErrInUse.
func (s *Store) RemoveStage(ctx context.Context, v Stage, by string) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, v.UnitID); err != nil {
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM readings WHERE stage_id = ? FOR UPDATE", v.ID).Scan(&n); err != nil {
			return err
		}
		if n > 0 {
			return ErrInUse
		}
		if _, err := t.ExecContext(ctx, "DELETE FROM stages WHERE id = ?", v.ID); err != nil {
			return err
		}
		return s.log(ctx, t, v.UnitID, Event{What: "stage_removed", By: by, Stage: v.Name, Text: "Stage removed: " + v.Name})
	})
}

// Stage returns one stage.
func (s *Store) Stage(ctx context.Context, id int64) (Stage, error) {
	var v Stage
	err := scanStage(s.DB.QueryRowContext(ctx, "SELECT "+stageColumns+stageTables+"WHERE s.id = ? GROUP BY s.id", id), &v)
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

// History lists a unit's events, newest first, at most 1000.
func (s *Store) History(ctx context.Context, unit int64) ([]Event, error) {
	return list(ctx, s.DB, func(row interface{ Scan(...any) error }, e *Event) error {
		var brought takenIn
		err := row.Scan(&e.At, &e.By, &e.What, &e.StageID, &e.Stage, &e.Text, &brought.by, &brought.at)
		e.TakenIn = brought.value()
		return err
	}, "SELECT e.at, e.by_name, e.what, COALESCE(e.stage_id, 0), e.stage, e.text, "+takenInColumns("e")+
		" FROM events e JOIN units u ON u.id = e.unit_id WHERE e.unit_id = ? ORDER BY e.at DESC, e.id DESC LIMIT 1000", unit)
}
