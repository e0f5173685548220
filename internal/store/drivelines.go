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

// Driveline is one version of a unit's driveline. Document and States are JSON
// in the form of the API.
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

// drivelineColumns and scanDriveline read a version.
const drivelineColumns = "SELECT version, document, states, note, by_name, at FROM drivelines WHERE unit_id = ? "

func scanDriveline(row scanner, d *Driveline) error {
	return row.Scan(&d.Version, &d.Document, &d.States, &d.Note, &d.By, &d.At)
}

// Driveline returns the newest version; ErrNotFound if there is none.
func (s *Store) Driveline(ctx context.Context, unit int64) (Driveline, error) {
	d := Driveline{UnitID: unit}
	return d, oneRow(scanDriveline(s.DB.QueryRowContext(ctx, drivelineColumns+"ORDER BY version DESC LIMIT 1", unit), &d))
}

// DrivelineAt returns the version that stood at a time; nil where there was none yet.
func (s *Store) DrivelineAt(ctx context.Context, unit int64, at time.Time) (*Driveline, error) {
	d := Driveline{UnitID: unit}
	err := scanDriveline(s.DB.QueryRowContext(ctx, drivelineColumns+"AND at <= ? ORDER BY version DESC LIMIT 1", unit, at), &d)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return &d, err
}

// KeepDriveline appends a version after d.Version, which the caller has seen;
// ErrChanged if there is a newer one. text is for the history; nothing is told
// where it is empty. Every ratio of the document that can be measured has its
// stage from then on; a stage whose part is gone keeps its readings.
func (s *Store) KeepDriveline(ctx context.Context, d Driveline, text string) error {
	return s.tx(ctx, func(t *sql.Tx) error { return s.keepDriveline(ctx, t, d, text) })
}

func (s *Store) keepDriveline(ctx context.Context, t *sql.Tx, d Driveline, text string) error {
	if err := lockUnit(ctx, t, d.UnitID); err != nil {
		return err
	}
	return s.putDriveline(ctx, t, d, text)
}

// putDriveline is keepDriveline on a unit that is locked already.
func (s *Store) putDriveline(ctx context.Context, t *sql.Tx, d Driveline, text string) error {
	if d.At.IsZero() {
		d.At = s.now()
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
	doc, err := driveline.Parse(d.Document)
	if err != nil {
		return fmt.Errorf("the driveline to keep: %w", err)
	}
	if err := keepStages(ctx, t, d.UnitID, doc.Asks()); err != nil {
		return err
	}
	if text == "" {
		return nil
	}
	return s.log(ctx, t, d.UnitID, Event{What: "driveline", By: d.By, At: d.At, Text: text})
}

// keepStages brings a unit's stages in line with what its driveline asks.
func keepStages(ctx context.Context, t *sql.Tx, unit int64, asks []driveline.Ask) error {
	type row struct {
		Stage
		ordinal, readings int
	}
	rows, err := list(ctx, t, func(x scanner, r *row) error {
		return x.Scan(&r.ID, &r.Part, &r.Ratio, &r.Present, &r.Name, &r.Kind, &r.Position, &r.Held, &r.Input, &r.ordinal, &r.readings)
	}, `SELECT s.id, s.part, s.ratio, s.present, s.name, s.kind, s.position, s.held, s.input, s.ordinal, (SELECT COUNT(*) FROM readings r WHERE r.stage_id = s.id)
		FROM stages s WHERE s.unit_id = ? FOR UPDATE`, unit)
	if err != nil {
		return err
	}
	have := make(map[driveline.Place]row, len(rows))
	for _, r := range rows {
		have[driveline.Place{Part: r.Part, Ratio: r.Ratio}] = r
	}
	for i, a := range asks {
		old, ok := have[a.Place]
		delete(have, a.Place)
		now := row{Stage{ID: old.ID, Part: a.Part, Ratio: a.Ratio, Present: true, Name: a.Name, Kind: a.Kind, Position: a.Position, Held: a.Held, Input: a.Input}, i, old.readings}
		if old.readings > 0 { // they were taken for this question
			now.Kind, now.Position, now.Held, now.Input = old.Kind, old.Position, old.Held, old.Input
		}
		switch {
		case !ok:
			_, err = t.ExecContext(ctx, "INSERT INTO stages (unit_id, part, ratio, ordinal, name, kind, position, held, input, since) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, (SELECT MAX(id) FROM fittings WHERE unit_id = ? AND part = ?))",
				unit, a.Part, a.Ratio, i, a.Name, a.Kind, a.Position, a.Held, a.Input, unit, a.Part)
		case now != old:
			_, err = t.ExecContext(ctx, "UPDATE stages SET present = TRUE, ordinal = ?, name = ?, kind = ?, position = ?, held = ?, input = ? WHERE id = ?",
				i, now.Name, now.Kind, now.Position, now.Held, now.Input, old.ID)
		}
		if err != nil {
			return err
		}
	}
	for _, gone := range have {
		if gone.readings > 0 {
			_, err = t.ExecContext(ctx, "UPDATE stages SET present = FALSE, ordinal = ? WHERE id = ?", len(asks)+gone.ordinal, gone.ID)
		} else {
			_, err = t.ExecContext(ctx, "DELETE FROM stages WHERE id = ?", gone.ID)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// Fitting says what was put in a part's place, or into its housing. Former is
// the part as it was, as JSON.
type Fitting struct {
	ID      int64
	UnitID  int64
	Part    string
	What    string // part_swapped, gears_swapped
	Note    string
	Former  json.RawMessage
	By      string
	At      time.Time
	TakenIn *TakenIn
}

// Fittings lists a unit's fittings, in the order in which they happened.
func (s *Store) Fittings(ctx context.Context, unit int64) ([]Fitting, error) {
	return list(ctx, s.DB, func(row scanner, f *Fitting) error {
		var brought takenIn
		err := row.Scan(&f.ID, &f.UnitID, &f.Part, &f.What, &f.Note, &f.Former, &f.By, &f.At, &brought.by, &brought.at)
		f.TakenIn = brought.value()
		return err
	}, "SELECT f.id, f.unit_id, f.part, f.what, f.note, f.former, f.by_name, f.at, "+takenInColumns("f")+
		" FROM fittings f JOIN units u ON u.id = f.unit_id WHERE f.unit_id = ? ORDER BY f.id", unit)
}

// mostFittings bounds what is kept of one unit, and so its document.
const mostFittings = 400

// Fit records that a part or its gears were swapped and keeps the driveline as
// it is since, over the version that was seen. Readings from before stand aside.
// ErrFull where the unit has as many on record as are kept.
func (s *Store) Fit(ctx context.Context, f Fitting, d Driveline) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		f, d := f, d
		f.At = s.now()
		d.At = f.At
		if err := s.keepDriveline(ctx, t, d, ""); err != nil {
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM fittings WHERE unit_id = ?", f.UnitID).Scan(&n); err != nil {
			return err
		}
		if n >= mostFittings {
			return ErrFull
		}
		if _, err := fit(ctx, t, f); err != nil {
			return err
		}
		return s.log(ctx, t, f.UnitID, Event{What: "fitting", By: f.By, At: f.At, Text: f.line()})
	})
}

// line is a fitting as the history tells it.
func (f Fitting) line() string {
	name := f.Part
	if p, err := driveline.ParsePart(f.Former); err == nil {
		name = p.Called()
	}
	text := name + ": another one was fitted"
	if f.What == "gears_swapped" {
		text = name + ": gears swapped in this housing"
	}
	if f.Note != "" {
		text += ": " + f.Note
	}
	return text
}

func fit(ctx context.Context, t *sql.Tx, f Fitting) (int64, error) {
	id, err := insert(ctx, t, "INSERT INTO fittings (unit_id, part, what, note, former, by_name, at, taken_in) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
		f.UnitID, f.Part, f.What, f.Note, string(f.Former), f.By, f.At, f.TakenIn != nil)
	if err != nil {
		return 0, err
	}
	if _, err := t.ExecContext(ctx, "UPDATE stages SET since = ? WHERE unit_id = ? AND part = ?", id, f.UnitID, f.Part); err != nil {
		return 0, err
	}
	return id, tally(ctx, t, "s.unit_id = ? AND s.part = ?", f.UnitID, f.Part)
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
	return list(ctx, s.DB, func(row scanner, p *ShopPart) error {
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
	res, err := s.exec(ctx, "DELETE FROM shop_parts WHERE id = ?", id)
	if err != nil {
		return err
	}
	if n, _ := res.RowsAffected(); n == 0 {
		return ErrNotFound
	}
	return nil
}

// Line is a unit's newest driveline with its name.
type Line struct {
	UnitID   int64
	Unit     string
	Document json.RawMessage
}

// Lines returns the newest drivelines of units.
func (s *Store) Lines(ctx context.Context, units []int64) ([]Line, error) {
	if len(units) == 0 {
		return nil, nil
	}
	some, args := among(units)
	scan := func(row scanner, l *Line) error {
		return row.Scan(&l.UnitID, &l.Unit, &l.Document)
	}
	return list(ctx, s.DB, scan, "SELECT d.unit_id, u.name, d.document FROM drivelines d JOIN units u ON u.id = d.unit_id "+
		"WHERE u.archived_at IS NULL AND d.unit_id IN "+some+" AND d.version = (SELECT MAX(n.version) FROM drivelines n WHERE n.unit_id = d.unit_id)", args...)
}
