package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"
)

// LiveSession is a live count: who turns what, and what came so far.
type LiveSession struct {
	ID       int64
	Title    string
	StageID  int64 // 0 where it belongs to no unit
	Setup    json.RawMessage
	Version  int    // of the setup
	Secret   []byte // SHA-256 of what a phone joins with
	Sensors  bool
	Ended    bool
	Kept     bool
	Revision int64
	Points   int
	By       string
	At       time.Time
}

// LiveJoin is a phone that joined for one shaft.
type LiveJoin struct {
	Shaft string
	Token []byte // SHA-256
	At    time.Time
}

// Bounds of live counts.
const (
	MostLiveOpen  = 40     // sessions at once
	MostLiveLoose = 60     // ended ones that nothing refers to
	MostLivePoint = 200000 // of one session
)

// liveForgotten is how long a session stays open.
const liveForgotten = 12 * time.Hour

// ErrLiveEnded is returned for what comes after the end of a session.
var ErrLiveEnded = errors.New("the live count has ended")

const liveColumns = "id, title, COALESCE(stage_id, 0), setup, version, secret, sensors, ended, kept, revision, points, by_name, at"

func scanLive(r scanner, x *LiveSession) error {
	return r.Scan(&x.ID, &x.Title, &x.StageID, &x.Setup, &x.Version, &x.Secret, &x.Sensors, &x.Ended, &x.Kept,
		&x.Revision, &x.Points, &x.By, &x.At)
}

// NewLive opens a session. The oldest ended ones that no reading came of make room. It
// returns ErrFull where so many are open at once.
func (s *Store) NewLive(ctx context.Context, x LiveSession) (int64, error) {
	var id int64
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := touchList(ctx, t, LiveMark); err != nil {
			return err
		}
		// Nobody turns a wheel for so long: whoever began it forgot to end it.
		if _, err := t.ExecContext(ctx, `UPDATE live_sessions SET ended = TRUE, revision = revision + 1
			WHERE NOT ended AND zero < UNIX_TIMESTAMP(NOW(6)) - ?`,
			liveForgotten.Seconds()); err != nil {
			return err
		}
		var open int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM live_sessions WHERE NOT ended").Scan(&open); err != nil {
			return err
		}
		if open >= MostLiveOpen {
			return ErrFull
		}
		if _, err := t.ExecContext(ctx, `DELETE FROM live_sessions WHERE ended AND NOT kept AND id <= COALESCE((SELECT id FROM
			(SELECT id FROM live_sessions WHERE ended AND NOT kept ORDER BY id DESC LIMIT 1 OFFSET ?) AS old), 0)`, MostLiveLoose); err != nil {
			return err
		}
		var stage any
		if x.StageID != 0 {
			stage = x.StageID
		}
		var err error
		id, err = insert(ctx, t, `INSERT INTO live_sessions (title, stage_id, setup, secret, sensors, by_name, at, zero)
			VALUES (?, ?, ?, ?, ?, ?, ?, UNIX_TIMESTAMP(NOW(6)))`,
			x.Title, stage, string(x.Setup), x.Secret, x.Sensors, x.By, s.now())
		return err
	})
	return id, err
}

// LiveMark is the counter that grows when live counts begin or end.
const LiveMark = "live"

// Live returns a session.
func (s *Store) Live(ctx context.Context, id int64) (LiveSession, error) {
	var x LiveSession
	err := scanLive(s.DB.QueryRowContext(ctx, "SELECT "+liveColumns+" FROM live_sessions WHERE id = ?", id), &x)
	if errors.Is(err, sql.ErrNoRows) {
		return x, ErrNotFound
	}
	return x, err
}

// LiveList lists the sessions that are open, and the newest of those that ended.
func (s *Store) LiveList(ctx context.Context, most int) ([]LiveSession, error) {
	return list(ctx, s.DB, scanLive, "SELECT "+liveColumns+" FROM live_sessions ORDER BY ended, id DESC LIMIT ?", most)
}

// LiveWithSensors lists the open sessions that the shaft sensors count for.
func (s *Store) LiveWithSensors(ctx context.Context) ([]LiveSession, error) {
	return list(ctx, s.DB, scanLive, "SELECT "+liveColumns+" FROM live_sessions WHERE NOT ended AND sensors ORDER BY id")
}

// LiveRevision is how new a session is, and whether it ended.
func (s *Store) LiveRevision(ctx context.Context, id int64) (revision int64, ended bool, err error) {
	err = s.DB.QueryRowContext(ctx, "SELECT revision, ended FROM live_sessions WHERE id = ?", id).Scan(&revision,
		&ended)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return revision, ended, err
}

// LiveNow is the time within a session, in seconds.
func (s *Store) LiveNow(ctx context.Context, id int64) (t float64, err error) {
	err = s.DB.QueryRowContext(ctx, "SELECT UNIX_TIMESTAMP(NOW(6)) - zero FROM live_sessions WHERE id = ?", id).Scan(&t)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return t, err
}

// lockLive locks an open session.
func lockLive(ctx context.Context, t *sql.Tx, id int64) (x LiveSession, err error) {
	err = scanLive(t.QueryRowContext(ctx, "SELECT "+liveColumns+" FROM live_sessions WHERE id = ? FOR UPDATE", id), &x)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return x, ErrNotFound
	case err == nil && x.Ended:
		return x, ErrLiveEnded
	}
	return x, err
}

// AddLive adds so many points to an open session, as JSON of sources, and returns its
// revision. It returns ErrFull where a session can't hold them.
func (s *Store) AddLive(ctx context.Context, id int64, sources []byte, points int) (revision int64, err error) {
	err = s.tx(ctx, func(t *sql.Tx) error {
		x, err := lockLive(ctx, t, id)
		if err != nil {
			return err
		}
		if x.Points+points > MostLivePoint {
			return ErrFull
		}
		revision = x.Revision + 1
		if _, err := t.ExecContext(ctx, "INSERT INTO live_chunks (session_id, revision, sources) VALUES (?, ?, ?)",
			id, revision, string(sources)); err != nil {
			return err
		}
		_, err = t.ExecContext(ctx, "UPDATE live_sessions SET revision = ?, points = points + ? WHERE id = ?",
			revision, points, id)
		return err
	})
	return revision, err
}

// LiveChunks are what came to a session after a revision, each with its own.
func (s *Store) LiveChunks(ctx context.Context, id, after int64) (chunks [][]byte, last int64, err error) {
	last = after
	chunks, err = list(ctx, s.DB, func(r scanner, x *[]byte) error { return r.Scan(&last, x) },
		"SELECT revision, sources FROM live_chunks WHERE session_id = ? AND revision > ? ORDER BY revision", id, after)
	return chunks, last, err
}

// SetLive changes how an open session is set up. It returns ErrChanged where somebody
// changed it meanwhile.
func (s *Store) SetLive(ctx context.Context, id int64, version int, setup []byte, sensors bool) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		x, err := lockLive(ctx, t, id)
		if err != nil {
			return err
		}
		if x.Version != version {
			return ErrChanged
		}
		_, err = t.ExecContext(ctx, `UPDATE live_sessions SET setup = ?, sensors = ?, version = version + 1, revision = revision + 1
			WHERE id = ?`, string(setup), sensors, id)
		return err
	})
}

// ClearLive forgets what came to an open session, to start over.
func (s *Store) ClearLive(ctx context.Context, id int64) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if _, err := lockLive(ctx, t, id); err != nil {
			return err
		}
		if _, err := t.ExecContext(ctx, "DELETE FROM live_chunks WHERE session_id = ?", id); err != nil {
			return err
		}
		_, err := t.ExecContext(ctx, "UPDATE live_sessions SET points = 0, revision = revision + 1 WHERE id = ?", id)
		return err
	})
}

// EndLive ends a session; kept says that a reading came of it. Its phones may add no
// more. Ending one that has ended changes nothing but that it may be kept.
func (s *Store) EndLive(ctx context.Context, id int64, kept bool) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := touchList(ctx, t, LiveMark); err != nil {
			return err
		}
		x, err := lockLive(ctx, t, id)
		if err != nil && !errors.Is(err, ErrLiveEnded) {
			return err
		}
		if _, err := t.ExecContext(ctx, "DELETE FROM live_joins WHERE session_id = ?", x.ID); err != nil {
			return err
		}
		_, err = t.ExecContext(ctx, "UPDATE live_sessions SET ended = TRUE, kept = kept OR ?, revision = revision + 1 WHERE id = ?", kept, id)
		return err
	})
}

// JoinLive lets a phone in for a shaft, in place of the one before.
func (s *Store) JoinLive(ctx context.Context, id int64, shaft string, token []byte) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if _, err := lockLive(ctx, t, id); err != nil {
			return err
		}
		if _, err := t.ExecContext(ctx, "REPLACE INTO live_joins (session_id, shaft, token, at) VALUES (?, ?, ?, ?)",
			id, shaft, token, s.now()); err != nil {
			return err
		}
		_, err := t.ExecContext(ctx, "UPDATE live_sessions SET revision = revision + 1 WHERE id = ?", id)
		return err
	})
}

// LiveJoins lists the phones of a session.
func (s *Store) LiveJoins(ctx context.Context, id int64) ([]LiveJoin, error) {
	return list(ctx, s.DB, func(r scanner, x *LiveJoin) error { return r.Scan(&x.Shaft, &x.Token, &x.At) },
		"SELECT shaft, token, at FROM live_joins WHERE session_id = ? ORDER BY shaft", id)
}

// LiveLine is how the shaft sensors' line is.
type LiveLine struct {
	Address   string
	Connected bool
	Trouble   string
	Channels  json.RawMessage // seen last
}

// LiveLine returns it as the listening server told it last.
func (s *Store) LiveLine(ctx context.Context) (x LiveLine, err error) {
	err = s.DB.QueryRowContext(ctx, "SELECT address, connected, trouble, channels FROM live_line WHERE id = 1").
		Scan(&x.Address, &x.Connected, &x.Trouble, &x.Channels)
	return x, err
}

// TellLiveLine tells it.
func (s *Store) TellLiveLine(ctx context.Context, x LiveLine) error {
	_, err := s.exec(ctx, "UPDATE live_line SET address = ?, connected = ?, trouble = ?, channels = ? WHERE id = 1",
		x.Address, x.Connected, x.Trouble, string(x.Channels))
	return err
}
