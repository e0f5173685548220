package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"zorvel/core/driveline"
)

// adoptAll gives every stage of the lines that units once had its place in the
// unit's driveline, and every unit a driveline. A unit that has been through it
// is left alone, so that it can be cut off and begun again.
func adoptAll(ctx context.Context, db *sql.DB) error {
	ids, err := list(ctx, db, scanID, `SELECT u.id FROM units u WHERE NOT EXISTS (SELECT 1 FROM drivelines d WHERE d.unit_id = u.id)
		OR EXISTS (SELECT 1 FROM stages s WHERE s.unit_id = u.id AND s.part IS NULL) ORDER BY u.id`)
	if err != nil {
		return err
	}
	s := &Store{DB: db, now: func() time.Time { return time.Now().UTC().Truncate(time.Microsecond) }}
	for _, id := range ids {
		if err := s.tx(ctx, func(t *sql.Tx) error { return s.adopt(ctx, t, id) }); err != nil {
			return fmt.Errorf("unit %d: %w", id, err)
		}
	}
	return nil
}

func scanID(row scanner, id *int64) error { return row.Scan(id) }

func (s *Store) adopt(ctx context.Context, t *sql.Tx, unit int64) error {
	var n int64 // units had no revision then
	if err := t.QueryRowContext(ctx, "SELECT id FROM units WHERE id = ? FOR UPDATE", unit).Scan(&n); err != nil {
		return err
	}
	former, err := list(ctx, t, func(row scanner, f *driveline.Former) error {
		return row.Scan(&f.ID, &f.Name, &f.Kind, &f.Position, &f.Held, &f.Input)
	}, "SELECT id, name, kind, position, held, input FROM stages WHERE unit_id = ? ORDER BY ordinal, id", unit)
	if err != nil {
		return err
	}
	var changed time.Time
	if err := t.QueryRowContext(ctx, "SELECT changed_at FROM units WHERE id = ?", unit).Scan(&changed); err != nil {
		return err
	}
	d := Driveline{UnitID: unit, States: json.RawMessage("[]"), By: "Zorvel", At: changed, Note: "what was measured in the line hangs on these parts now"}
	var doc *driveline.Document
	err = t.QueryRowContext(ctx, "SELECT version, document, states FROM drivelines WHERE unit_id = ? ORDER BY version DESC LIMIT 1", unit).Scan(&d.Version, &d.Document, &d.States)
	switch {
	case errors.Is(err, sql.ErrNoRows):
	case err != nil:
		return err
	default:
		if doc, err = driveline.Parse(d.Document); err != nil {
			return err
		}
	}
	adopted, places := driveline.Adopt(doc, former)
	if d.Document, err = json.Marshal(adopted); err != nil {
		return err
	}
	for i, f := range former {
		if _, err := t.ExecContext(ctx, "UPDATE stages SET part = ?, ratio = ? WHERE id = ?", places[i].Part, places[i].Ratio, f.ID); err != nil {
			return err
		}
		for _, a := range adopted.Part(places[i].Part).Asks() {
			if a.Place != places[i] || a.Name == f.Name {
				continue
			}
			if err := s.log(ctx, t, unit, Event{What: "driveline", By: "Zorvel", At: changed, StageID: f.ID, Stage: a.Name, Text: "was called " + f.Name + " in the line"}); err != nil {
				return err
			}
		}
	}
	return s.putDriveline(ctx, t, d, "")
}
