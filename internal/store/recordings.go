package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// MostRecordings is how many recordings a unit may have.
const MostRecordings = 60

// Recording is what a unit sounded like on a drive.
type Recording struct {
	ID      int64
	UnitID  int64
	Key     string
	Content string // digest of what was sent under the key
	Title   string
	Seconds float64
	Bytes   int
	Drive   json.RawMessage // speed and vehicle that it was named by
	Named   string          // what it was named then
	By      string
	At      time.Time
}

const recordingColumns = "SELECT id, unit_id, client_key, content, title, seconds, bytes, drive, named, by_name, at FROM recordings "

func scanRecording(row scanner, r *Recording) error {
	return row.Scan(&r.ID, &r.UnitID, &r.Key, &r.Content, &r.Title, &r.Seconds, &r.Bytes, &r.Drive, &r.Named, &r.By,
		&r.At)
}

// Recordings lists a unit's recordings, newest first.
func (s *Store) Recordings(ctx context.Context, unit int64) ([]Recording, error) {
	return list(ctx, s.DB, scanRecording, recordingColumns+"WHERE unit_id = ? ORDER BY at DESC, id DESC LIMIT ?",
		unit, MostRecordings)
}

// Recording returns one recording without its sound.
func (s *Store) Recording(ctx context.Context, id int64) (Recording, error) {
	var r Recording
	return r, oneRow(scanRecording(s.DB.QueryRowContext(ctx, recordingColumns+"WHERE id = ?", id), &r))
}

// Sound returns a recording's WAV.
func (s *Store) Sound(ctx context.Context, id int64) ([]byte, error) {
	var data []byte
	return data, oneRow(s.DB.QueryRowContext(ctx, "SELECT data FROM recording_sounds WHERE recording_id = ?",
		id).Scan(&data))
}

// AddRecording saves a recording with its WAV. One that came already under its key is
// saved once; another under that key is a *KeyError. It returns ErrInUse where the unit
// has as many as it may.
func (s *Store) AddRecording(ctx context.Context, r Recording, wav []byte) (int64, error) {
	var id int64
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, r.UnitID); err != nil {
			return err
		}
		var there bool
		var err error
		if id, there, err = under(ctx, t, r.Key, r.Content,
			"SELECT id, content FROM recordings WHERE unit_id = ? AND client_key = ?", r.UnitID, r.Key); err != nil ||
			there {
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM recordings WHERE unit_id = ?",
			r.UnitID).Scan(&n); err != nil {
			return err
		}
		if n >= MostRecordings {
			return ErrInUse
		}
		if r.At.IsZero() {
			r.At = s.now()
		}
		if id, err = putRecording(ctx, t, r, wav); err != nil {
			return err
		}
		return touchUnit(ctx, t, r.UnitID, r.At)
	})
	return id, err
}

func putRecording(ctx context.Context, t *sql.Tx, r Recording, wav []byte) (int64, error) {
	id, err := insert(ctx, t, `INSERT INTO recordings (unit_id, client_key, content, title, seconds, bytes, drive, named, by_name, at)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		r.UnitID, r.Key, r.Content, r.Title, r.Seconds, len(wav), string(r.Drive), r.Named, r.By, r.At)
	if err != nil {
		return 0, err
	}
	_, err = t.ExecContext(ctx, "INSERT INTO recording_sounds (recording_id, data) VALUES (?, ?)", id, wav)
	return id, err
}

// ImportRecording is a recording as it comes from a document.
type ImportRecording struct {
	Recording Recording
	WAV       func() ([]byte, error) // reads it; it may be called more than once
}

// put saves a document's recording.
func (r ImportRecording) put(ctx context.Context, t *sql.Tx, unit int64, i int) error {
	x := r.Recording
	x.UnitID, x.Key = unit, ownKey("document", i)
	wav, err := r.WAV()
	if err != nil {
		return err
	}
	_, err = putRecording(ctx, t, x, wav)
	return err
}
