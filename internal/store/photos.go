package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// MostPhotos is how many photos a unit may have.
const MostPhotos = 500

// Evidence is what a photo shows: a reading, a line of a job, or a step of a card's
// run; none, where all are zero.
type Evidence struct {
	Reading, Work, Run int64
	Step               string
}

// check refuses what isn't of the unit.
func (e Evidence) check(ctx context.Context, t *sql.Tx, unit int64) error {
	for query, id := range map[string]int64{
		"SELECT s.unit_id FROM readings r JOIN stages s ON s.id = r.stage_id WHERE r.id = ?": e.Reading,
		"SELECT unit_id FROM work_entries WHERE id = ?":                                      e.Work,
		"SELECT unit_id FROM card_runs WHERE id = ?":                                         e.Run,
	} {
		if id == 0 {
			continue
		}
		var of int64
		if err := t.QueryRowContext(ctx, query, id).Scan(&of); err != nil {
			return oneRow(err)
		}
		if of != unit {
			return ErrNotFound
		}
	}
	return nil
}

// orNull is a number of a row, or none.
func orNull(id int64) any {
	if id == 0 {
		return nil
	}
	return id
}

// Photo is a picture of a unit, of a part of it or of a job.
type Photo struct {
	ID      int64
	UnitID  int64
	JobID   int64 // 0: of no job
	Of      Evidence
	Key     string
	Content string // digest of what was sent under the key
	Part    string
	Title   string
	Width   int
	Height  int
	Bytes   int
	Marks   json.RawMessage // points that were tapped, as a JSON list
	Version int
	By      string
	At      time.Time
}

const photoColumns = "SELECT id, unit_id, COALESCE(job_id, 0), COALESCE(reading_id, 0), COALESCE(work_id, 0), COALESCE(run_id, 0), step, client_key, part, title, width, height, bytes, marks, version, by_name, at FROM photos "

func scanPhoto(row scanner, p *Photo) error {
	return row.Scan(&p.ID, &p.UnitID, &p.JobID, &p.Of.Reading, &p.Of.Work, &p.Of.Run, &p.Of.Step, &p.Key, &p.Part, &p.Title, &p.Width, &p.Height, &p.Bytes, &p.Marks, &p.Version, &p.By, &p.At)
}

// Photos lists a unit's photos, newest first.
func (s *Store) Photos(ctx context.Context, unit int64) ([]Photo, error) {
	return list(ctx, s.DB, scanPhoto, photoColumns+"WHERE unit_id = ? ORDER BY at DESC, id DESC LIMIT ?", unit, MostPhotos)
}

// Photo returns one photo without its picture.
func (s *Store) Photo(ctx context.Context, id int64) (Photo, error) {
	var p Photo
	return p, oneRow(scanPhoto(s.DB.QueryRowContext(ctx, photoColumns+"WHERE id = ?", id), &p))
}

// Picture returns the picture itself, full or thumb.
func (s *Store) Picture(ctx context.Context, id int64, size string) ([]byte, error) {
	var data []byte
	return data, oneRow(s.DB.QueryRowContext(ctx, "SELECT data FROM photo_blobs WHERE photo_id = ? AND size = ?", id, size).Scan(&data))
}

// AddPhoto keeps a photo with its picture. One that came already under its key is
// kept once; another under that key is a *KeyError. It returns ErrInUse where the unit has as many as it may, and
// ErrNotFound where the job is another unit's.
func (s *Store) AddPhoto(ctx context.Context, p Photo, full, thumb []byte) (int64, error) {
	var id int64
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, p.UnitID); err != nil {
			return err
		}
		var there bool
		var err error
		if id, there, err = under(ctx, t, p.Key, p.Content,
			"SELECT id, content FROM photos WHERE unit_id = ? AND client_key = ?", p.UnitID, p.Key); err != nil || there {
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM photos WHERE unit_id = ?", p.UnitID).Scan(&n); err != nil {
			return err
		}
		if n >= MostPhotos {
			return ErrInUse
		}
		if p.JobID != 0 {
			j, err := s.job(ctx, t, p.JobID)
			if err != nil {
				return err
			}
			if j.UnitID != p.UnitID {
				return ErrNotFound
			}
		}
		if err := p.Of.check(ctx, t, p.UnitID); err != nil {
			return err
		}
		at := p.At
		if at.IsZero() {
			at = s.now()
		}
		p.At, p.Marks = at, json.RawMessage("[]")
		if id, err = putPhoto(ctx, t, p, full, thumb); err != nil {
			return err
		}
		return touchUnit(ctx, t, p.UnitID, at)
	})
	return id, err
}

func putPhoto(ctx context.Context, t *sql.Tx, p Photo, full, thumb []byte) (int64, error) {
	id, err := insert(ctx, t, "INSERT INTO photos (unit_id, job_id, reading_id, work_id, run_id, step, client_key, content, part, title, width, height, bytes, marks, by_name, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
		p.UnitID, orNull(p.JobID), orNull(p.Of.Reading), orNull(p.Of.Work), orNull(p.Of.Run), p.Of.Step, p.Key, p.Content, p.Part, p.Title, p.Width, p.Height, len(full), string(p.Marks), p.By, p.At)
	if err != nil {
		return 0, err
	}
	_, err = t.ExecContext(ctx, "INSERT INTO photo_blobs (photo_id, size, data) VALUES (?, 'full', ?), (?, 'thumb', ?)", id, full, id, thumb)
	return id, err
}

// MarkPhoto keeps title, marks and, where it is given, what a photo is the evidence of,
// over the version that was seen; ErrChanged where someone else was quicker.
func (s *Store) MarkPhoto(ctx context.Context, id int64, base int, title string, marks json.RawMessage, of *Evidence) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		var version int
		var unit int64
		if err := t.QueryRowContext(ctx, "SELECT unit_id FROM photos WHERE id = ?", id).Scan(&unit); err != nil {
			return oneRow(err)
		}
		if err := lockUnit(ctx, t, unit); err != nil {
			return err
		}
		if err := t.QueryRowContext(ctx, "SELECT version FROM photos WHERE id = ? FOR UPDATE", id).Scan(&version); err != nil {
			return oneRow(err)
		}
		if version != base {
			return ErrChanged
		}
		if _, err := t.ExecContext(ctx, "UPDATE photos SET title = ?, marks = ?, version = version + 1 WHERE id = ?", title, string(marks), id); err != nil {
			return err
		}
		if of != nil {
			if err := of.check(ctx, t, unit); err != nil {
				return err
			}
			if _, err := t.ExecContext(ctx, "UPDATE photos SET reading_id = ?, work_id = ?, run_id = ?, step = ? WHERE id = ?", orNull(of.Reading), orNull(of.Work), orNull(of.Run), of.Step, id); err != nil {
				return err
			}
		}
		return touchUnit(ctx, t, unit, s.now())
	})
}
