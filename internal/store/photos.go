package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// MostPhotos is how many photos a unit may have.
const MostPhotos = 500

// Photo is a picture of a unit, of a part of it or of a job.
type Photo struct {
	ID      int64
	UnitID  int64
	JobID   int64 // 0: of no job
	Key     string
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

const photoColumns = "SELECT id, unit_id, COALESCE(job_id, 0), client_key, part, title, width, height, bytes, marks, version, by_name, at FROM photos "

func scanPhoto(row interface{ Scan(...any) error }, p *Photo) error {
	return row.Scan(&p.ID, &p.UnitID, &p.JobID, &p.Key, &p.Part, &p.Title, &p.Width, &p.Height, &p.Bytes, &p.Marks, &p.Version, &p.By, &p.At)
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
// kept once. It returns ErrInUse where the unit has as many as it may, and
// ErrNotFound where the job is another unit's.
func (s *Store) AddPhoto(ctx context.Context, p Photo, full, thumb []byte) (int64, error) {
	var id int64
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, p.UnitID); err != nil {
			return err
		}
		err := t.QueryRowContext(ctx, "SELECT id FROM photos WHERE unit_id = ? AND client_key = ?", p.UnitID, p.Key).Scan(&id)
		if err != sql.ErrNoRows {
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM photos WHERE unit_id = ?", p.UnitID).Scan(&n); err != nil {
			return err
		}
		if n >= MostPhotos {
			return ErrInUse
		}
		var job any
		if p.JobID != 0 {
			j, err := s.job(ctx, t, p.JobID)
			if err != nil {
				return err
			}
			if j.UnitID != p.UnitID {
				return ErrNotFound
			}
			job = p.JobID
		}
		at := p.At
		if at.IsZero() {
			at = s.now()
		}
		if id, err = insert(ctx, t, "INSERT INTO photos (unit_id, job_id, client_key, part, title, width, height, bytes, marks, by_name, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, '[]', ?, ?)",
			p.UnitID, job, p.Key, p.Part, p.Title, p.Width, p.Height, len(full), p.By, at); err != nil {
			return err
		}
		for size, data := range map[string][]byte{"full": full, "thumb": thumb} {
			if _, err := t.ExecContext(ctx, "INSERT INTO photo_blobs (photo_id, size, data) VALUES (?, ?, ?)", id, size, data); err != nil {
				return err
			}
		}
		return touchUnit(ctx, t, p.UnitID, at)
	})
	return id, err
}

// MarkPhoto keeps title and marks over the version that was seen; ErrChanged where
// someone else was quicker.
func (s *Store) MarkPhoto(ctx context.Context, id int64, base int, title string, marks json.RawMessage) error {
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
		return touchUnit(ctx, t, unit, s.now())
	})
}
