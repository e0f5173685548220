// Package store keeps Zorvel's records in MariaDB. Readings and events are
// append-only; everything that belongs together is written in one transaction.
package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"math/rand/v2"
	"net"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/pressly/goose/v3"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Errors that callers tell apart.
var (
	ErrNotFound = errors.New("not found")
	ErrTaken    = errors.New("taken already")
	ErrInUse    = errors.New("in use")
	ErrStruck   = errors.New("already voided")
	// ErrUnfinished is returned where a backup was being read back and was cut off.
	ErrUnfinished = errors.New("a restore into this database was cut off, and it is not whole: run zorvel restore with the same backup again, it begins from the start")
	ErrNewer      = errors.New("the database's schema is newer than this program: start the newer Zorvel")
)

// Store is the records in one database. It is safe for concurrent use.
type Store struct {
	DB    *sql.DB
	probe *sql.DB // one connection of its own, to see whether the database answers
	now   func() time.Time
}

// scanner is a row, or rows at one of them.
type scanner interface{ Scan(dest ...any) error }

// Open connects to the database named by dsn (go-sql-driver form) and checks
// that it answers. It changes nothing; see Migrate.
func Open(ctx context.Context, dsn string) (*Store, error) {
	con, err := Connector(dsn)
	if err != nil {
		return nil, err
	}
	st, err := OpenOn(ctx, con)
	if cfg, e := mysql.ParseDSN(dsn); err != nil && e == nil {
		return nil, fmt.Errorf("the database does not answer at %s: %w", cfg.Addr, err)
	}
	return st, err
}

// Connector makes the connections that Open uses.
func Connector(dsn string) (driver.Connector, error) {
	cfg, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, fmt.Errorf("the database address is not understood (user:password@tcp(host:port)/name): %w", err)
	}
	cfg.ParseTime, cfg.Loc, cfg.ClientFoundRows = true, time.UTC, true
	cfg.Collation = "utf8mb4_unicode_520_ci"
	cfg.Timeout = 5 * time.Second
	// Values go with the statement, quoted by the driver, instead of in two more trips.
	cfg.InterpolateParams = true
	if cfg.Params == nil {
		cfg.Params = map[string]string{}
	}
	cfg.Params["time_zone"] = "'+00:00'"
	return mysql.NewConnector(cfg)
}

// OpenOn is Open with connections that were made ready elsewhere.
func OpenOn(ctx context.Context, con driver.Connector) (*Store, error) {
	db := sql.OpenDB(con)
	db.SetMaxOpenConns(24)
	db.SetMaxIdleConns(24)
	db.SetConnMaxLifetime(30 * time.Minute)
	if err := db.PingContext(ctx); err != nil {
		_ = db.Close()
		return nil, err
	}
	probe := sql.OpenDB(con)
	probe.SetMaxOpenConns(1)
	return &Store{DB: db, probe: probe, now: func() time.Time { return time.Now().UTC().Truncate(time.Microsecond) }}, nil
}

// ShiftClock has the store take it to be so much later, to try servers whose clocks
// differ.
func (s *Store) ShiftClock(ahead time.Duration) {
	s.now = func() time.Time { return time.Now().Add(ahead).UTC().Truncate(time.Microsecond) }
}

// Close releases all connections.
func (s *Store) Close() error { return errors.Join(s.probe.Close(), s.DB.Close()) }

// UnfinishedTable stands in a database while a backup is read into it.
const UnfinishedTable = "restore_unfinished"

// Unfinished reports whether a backup is being read into the database, or was, and
// was cut off.
func (s *Store) Unfinished(ctx context.Context) (bool, error) {
	const there = "SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = ?"
	var n int
	err := s.DB.QueryRowContext(ctx, there, UnfinishedTable).Scan(&n)
	return n > 0, err
}

// Migrate brings the schema up to this program's. It returns ErrNewer where
// the database is ahead, and ErrUnfinished where it isn't whole.
func (s *Store) Migrate(ctx context.Context) error {
	if unfinished, err := s.Unfinished(ctx); err != nil || unfinished {
		if err == nil {
			err = ErrUnfinished
		}
		return err
	}
	return s.MigrateTo(ctx, 0)
}

// migrations are all steps of the schema.
func (s *Store) migrations() (*goose.Provider, error) {
	dir, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectMySQL, s.DB, dir,
		goose.WithGoMigrations(goose.NewGoMigration(8, &goose.GoFunc{RunDB: adoptAll}, nil)))
}

// Versions are the schema's, and the one that this program brings it to.
func (s *Store) Versions(ctx context.Context) (have, want int64, err error) {
	p, err := s.migrations()
	if err != nil {
		return 0, 0, err
	}
	want = p.ListSources()[len(p.ListSources())-1].Version
	var tables int
	if err := s.DB.QueryRowContext(ctx,
		"SELECT COUNT(*) FROM information_schema.tables "+
			"WHERE table_schema = DATABASE() AND table_name = 'goose_db_version'").Scan(&tables); err != nil || tables == 0 {
		return 0, want, err
	}
	have, err = s.Schema(ctx)
	return have, want, err
}

// MigrateTo brings the schema up to a version; the newest, where it is zero.
func (s *Store) MigrateTo(ctx context.Context, version int64) error {
	p, err := s.migrations()
	if err != nil {
		return err
	}
	// One server at a time: the lock ends with its connection.
	con, err := s.DB.Conn(ctx)
	if err != nil {
		return err
	}
	defer func() { _ = con.Close() }()
	var got sql.NullInt64
	if err := con.QueryRowContext(ctx, "SELECT GET_LOCK(CONCAT('zorvel schema ', DATABASE()), 120)").Scan(&got); err != nil {
		return fmt.Errorf("waiting for another server that brings the schema up to date: %w", err)
	}
	if got.Int64 != 1 {
		return errors.New("another server has been bringing the schema up to date for two minutes: see what it does")
	}
	defer func() { _, _ = con.ExecContext(ctx, "DO RELEASE_LOCK(CONCAT('zorvel schema ', DATABASE()))") }()
	have, err := p.GetDBVersion(ctx)
	if err != nil {
		return fmt.Errorf("reading the schema version: %w", err)
	}
	newest := p.ListSources()[len(p.ListSources())-1].Version
	if have > newest {
		return fmt.Errorf("%w (schema %d, program %d)", ErrNewer, have, newest)
	}
	if version > newest {
		return fmt.Errorf("%w (schema %d, program %d)", ErrNewer, version, newest)
	}
	if version == 0 {
		version = newest
	}
	if _, err := p.UpTo(ctx, version); err != nil {
		return fmt.Errorf("bringing the schema up to date: %w", err)
	}
	return nil
}

// Schema is the version of the database's schema.
func (s *Store) Schema(ctx context.Context) (int64, error) {
	var v int64
	if err := s.DB.QueryRowContext(ctx, "SELECT MAX(version_id) FROM goose_db_version WHERE is_applied").Scan(&v); err != nil {
		return 0, fmt.Errorf("reading the schema version: %w", err)
	}
	return v, nil
}

// Ready reports whether the database answers, also while all of its usual
// connections are busy.
func (s *Store) Ready(ctx context.Context) error { return s.probe.PingContext(ctx) }

// Passing reports whether an error is one of the database or of who asked, at this
// moment, and says nothing of what was asked for.
func Passing(err error) bool {
	var my *mysql.MySQLError
	var net net.Error
	switch {
	case errors.As(err, &my), errors.As(err, &net):
		return true
	}
	for _, passing := range []error{driver.ErrBadConn, mysql.ErrInvalidConn, sql.ErrConnDone, sql.ErrTxDone, context.Canceled, context.DeadlineExceeded} {
		if errors.Is(err, passing) {
			return true
		}
	}
	return false
}

// querier is a database or a transaction.
type querier interface {
	ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error)
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
	QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row
}

// maxTries bounds how often a transaction is tried again after a deadlock.
const maxTries = 8

// tx runs f in a transaction. Where the database ends it because others write
// to the same rows (deadlock, lock wait), f runs again, so it must not keep
// anything from a failed run.
func (s *Store) tx(ctx context.Context, f func(*sql.Tx) error) error {
	for try := 1; ; try++ {
		err := s.once(ctx, f)
		var my *mysql.MySQLError
		if try == maxTries || !errors.As(err, &my) || (my.Number != 1213 && my.Number != 1205) {
			return err
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(time.Duration(1+rand.IntN(10*try)) * time.Millisecond):
		}
	}
}

// lockUnit locks a unit's row and raises its revision; every transaction that
// writes to a unit begins with it. So writers wait in one line instead of for
// each other's rows, and what was made from the unit before is older by count,
// whatever the clocks of the servers say.
func lockUnit(ctx context.Context, t *sql.Tx, id int64) error {
	res, err := t.ExecContext(ctx, "UPDATE units SET rev = rev + 1 WHERE id = ?", id)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errors.Join(ErrNotFound, err)
	}
	return nil
}

func (s *Store) once(ctx context.Context, f func(*sql.Tx) error) error {
	t, err := s.DB.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	if err := f(t); err != nil {
		_ = t.Rollback()
		return err
	}
	return t.Commit()
}

// list runs a query and scans every row.
func list[T any](ctx context.Context, q querier, scan func(row scanner, to *T) error, query string, args ...any) ([]T, error) {
	rows, err := q.QueryContext(ctx, query, args...)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	out := []T{}
	for rows.Next() {
		var v T
		if err := scan(rows, &v); err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, rows.Err()
}

// insert runs an insert and returns the new row's number.
func insert(ctx context.Context, q querier, query string, args ...any) (int64, error) {
	res, err := q.ExecContext(ctx, query, args...)
	if err != nil {
		var my *mysql.MySQLError
		if errors.As(err, &my) && my.Number == 1062 {
			return 0, ErrTaken
		}
		return 0, err
	}
	return res.LastInsertId()
}

func oneRow(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}
