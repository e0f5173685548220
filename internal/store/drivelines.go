package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"
)

// Driveline is one version of a unit's driveline. Document and States are JSON
// in the form of the API; in the document, sources name stages by number.
type Driveline struct {
	UnitID   int64
	Version  int64
	Document json.RawMessage
	States   json.RawMessage
	Note     string
	By       string
	At       time.Time
}

// ErrChanged is returned where someone else kept a newer version meanwhile.
var ErrChanged = errors.New("changed by someone else meanwhile")

// Driveline returns the newest version; ErrNotFound if there is none.
func (s *Store) Driveline(ctx context.Context, unit int64) (Driveline, error) {
	d := Driveline{UnitID: unit}
	err := s.DB.QueryRowContext(ctx, "SELECT version, document, states, note, by_name, at FROM drivelines WHERE unit_id = ? ORDER BY version DESC LIMIT 1", unit).
		Scan(&d.Version, &d.Document, &d.States, &d.Note, &d.By, &d.At)
	return d, oneRow(err)
}

// KeepDriveline appends a version after d.Version, which the caller has seen;
// ErrChanged if there is a newer one. text is for the history.
func (s *Store) KeepDriveline(ctx context.Context, d Driveline, text string) error {
	return s.tx(ctx, func(t *sql.Tx) error { return s.keepDriveline(ctx, t, d, text) })
}

func (s *Store) keepDriveline(ctx context.Context, t *sql.Tx, d Driveline, text string) error {
	if d.At.IsZero() {
		d.At = s.now()
	}
	if err := lockUnit(ctx, t, d.UnitID); err != nil {
		return err
	}
	var newest int64
	if err := t.QueryRowContext(ctx, "SELECT COALESCE(MAX(version), 0) FROM drivelines WHERE unit_id = ? FOR UPDATE", d.UnitID).Scan(&newest); err != nil {
		return err
	}
	if newest != d.Version {
		return ErrChanged
	}
	_, err := insert(ctx, t, "INSERT INTO drivelines (unit_id, version, document, states, note, by_name, at) VALUES (?, ?, ?, ?, ?, ?, ?)",
		d.UnitID, d.Version+1, string(d.Document), string(d.States), d.Note, d.By, d.At)
	if errors.Is(err, ErrTaken) {
		return ErrChanged
	}
	if err != nil {
		return err
	}
	return s.log(ctx, t, d.UnitID, Event{What: "driveline", By: d.By, At: d.At, Text: text})
}

// ShopPart is a part in the shop's catalog. Part is JSON in the form of the
// API.
type ShopPart struct {
	ID    int64
	Kind  string
	Maker string
	Name  string
	Notes string
	Part  json.RawMessage
}

// ShopParts lists the catalog by kind, maker and name, at most 2000; all kinds
// where kind is empty.
func (s *Store) ShopParts(ctx context.Context, kind string) ([]ShopPart, error) {
	where, args := "", []any{}
	if kind != "" {
		where, args = "WHERE kind = ? ", append(args, kind)
	}
	return list(ctx, s.DB, func(row interface{ Scan(...any) error }, p *ShopPart) error {
		return row.Scan(&p.ID, &p.Kind, &p.Maker, &p.Name, &p.Notes, &p.Part)
	}, "SELECT id, kind, maker, name, notes, part FROM shop_parts "+where+"ORDER BY kind, maker, name LIMIT 2000", args...)
}

// TakenError names the entry of a list that is there already.
type TakenError struct{ Index int }

func (e *TakenError) Error() string { return fmt.Sprintf("entry %d is there already", e.Index) }

// AddShopParts adds parts, all or none.
func (s *Store) AddShopParts(ctx context.Context, parts []ShopPart) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		for i, p := range parts {
			_, err := insert(ctx, t, "INSERT INTO shop_parts (kind, maker, name, notes, part) VALUES (?, ?, ?, ?, ?)", p.Kind, p.Maker, p.Name, p.Notes, string(p.Part))
			if errors.Is(err, ErrTaken) {
				return &TakenError{i}
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// RemoveShopPart takes a part out of the catalog.
func (s *Store) RemoveShopPart(ctx context.Context, id int64) error {
	res, err := s.DB.ExecContext(ctx, "DELETE FROM shop_parts WHERE id = ?", id)
	if err != nil {
		return err
	}
	if n, _ := res.RowsAffected(); n == 0 {
		return ErrNotFound
	}
	return nil
}
