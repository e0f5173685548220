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
	"sync"
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
	hosts *hosts  // that it may be at; nil where connections were made ready elsewhere
	now   func() time.Time

	totals sync.Map // archived or not → total: how many units there are
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
	if err != nil {
		return nil, fmt.Errorf("the database does not answer at %s: %w", con.(*hosts), err)
	}
	return st, nil
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
	at, _ := con.(*hosts)
	return &Store{DB: db, probe: probe, hosts: at, now: func() time.Time { return time.Now().UTC().Truncate(time.Microsecond) }}, nil
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
	// One server at a time, on whichever node; it ends where another takes over.
	waiting, cancel := context.WithTimeoutCause(ctx, schemaWithin,
		errors.New("another server has been bringing the schema up to date for two minutes: see what it does"))
	defer cancel()
	lease, err := s.Lease(waiting, "the schema")
	if err != nil {
		return err
	}
	defer lease.End()
	held, stop := context.WithCancelCause(ctx)
	defer stop(nil)
	defer context.AfterFunc(lease.lost, func() { stop(context.Cause(lease.lost)) })()
	ctx = held
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

// schemaWithin is how long a server waits for another that brings the schema up to date.
const schemaWithin = 2 * time.Minute

// Ready reports whether the database answers, also while all of its usual
// connections are busy. A node that doesn't is left for the next, and what waits for
// it ends.
func (s *Store) Ready(ctx context.Context) error {
	err := s.answers(ctx)
	if err != nil && s.hosts != nil && !errors.Is(ctx.Err(), context.Canceled) {
		s.hosts.leave()
	}
	return err
}

// answers asks the database; a cluster's node answers while it is part of it.
func (s *Store) answers(ctx context.Context) error {
	if !s.clustered() {
		return s.probe.PingContext(ctx)
	}
	con, err := s.probe.Conn(ctx)
	if err != nil {
		return err
	}
	defer func() { _ = con.Close() }()
	return con.Raw(func(c any) error {
		state, err := nodeState(ctx, c.(driver.Conn))
		if err == nil && state != synced && state != donor {
			err = errUnready
		}
		return err
	})
}

// clustered reports whether the database is a cluster's.
func (s *Store) clustered() bool { return s.hosts != nil && s.hosts.isClustered() }

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

// maxTries bounds how often a transaction is tried again after a conflict.
const maxTries = 8

// tx runs f in a transaction. Where the database ends it because others write
// to the same rows (deadlock, lock wait, another node), or its node went away before it
// was to be kept, f runs again, so it must not keep anything from a failed run.
func (s *Store) tx(ctx context.Context, f func(*sql.Tx) error) error {
	return s.again(ctx, func() (bool, error) { return s.once(ctx, f) })
}

// exec runs one statement that writes, as tx does.
func (s *Store) exec(ctx context.Context, query string, args ...any) (res sql.Result, err error) {
	err = s.again(ctx, func() (bool, error) {
		res, err = s.DB.ExecContext(ctx, query, args...)
		return true, err
	})
	return res, err
}

// again does something once more while it is lost to others, within bounds; after an
// end that may have kept it, no more.
func (s *Store) again(ctx context.Context, do func() (mayBeKept bool, err error)) error {
	for try := 1; ; try++ {
		mayBeKept, err := do()
		if err == nil || try == maxTries || !conflict(err) && (mayBeKept || !s.elsewhere(err)) {
			return err
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(time.Duration(1+rand.IntN(10*try)) * time.Millisecond):
		}
	}
}

// elsewhere reports whether another node may do what this one could not.
func (s *Store) elsewhere(err error) bool {
	if s.hosts == nil || len(s.hosts.list) < 2 || !lost(err) {
		return false
	}
	var my *mysql.MySQLError
	if errors.As(err, &my) && my.Number == notInCluster {
		s.hosts.leave()
	}
	return true
}

// notInCluster is what a node answers that is no part of its cluster (ER_UNKNOWN_COM_ERROR).
const notInCluster = 1047

// lost reports whether what was asked ended with its connection or its node.
func lost(err error) bool {
	var my *mysql.MySQLError
	if errors.As(err, &my) {
		switch my.Number {
		case notInCluster, 1053, 1077, 1152, 1184, 1317, 1927: // shut down, aborted, interrupted, killed
			return true
		}
		return false
	}
	var broken net.Error
	return errors.Is(err, driver.ErrBadConn) || errors.Is(err, mysql.ErrInvalidConn) || errors.As(err, &broken)
}

// Momentary reports whether an error says nothing of what was asked, but that the
// database did not get to it, or to telling that it is done: the same may be asked again.
func Momentary(err error) bool {
	var my *mysql.MySQLError
	if errors.As(err, &my) && (my.Number == 1040 || my.Number == 1290) { // full of connections, only read from
		return true
	}
	return conflict(err) || lost(err)
}

// guard raises a counter that whatever rests on how many there are of something begins
// with. Rows that are only locked guard one node of a cluster; of two transactions
// that raise the same counter at two nodes, one is tried again.
func guard(ctx context.Context, t *sql.Tx, name string) error {
	_, err := t.ExecContext(ctx, "INSERT INTO guards (name, n) VALUES (?, 1) ON DUPLICATE KEY UPDATE n = n + 1", name)
	return err
}

// What guards are for.
const (
	guardPeople  = "people"  // the first owner, the last one
	guardFilters = "filters" // how many are saved
	guardCards   = "cards"   // how many there are, and their next version
	guardUnits   = "units"   // how many there are, and how many are archived
	guardTasks   = "tasks"   // how many there are to practice on
)

// lockUnit locks a unit's row and raises its revision; every transaction that
// writes to a unit begins with it. So writers wait in one line instead of for
// each other's rows, and what was made from the unit before is older by count,
// whatever the clocks of the servers say.
func lockUnit(ctx context.Context, t *sql.Tx, id int64) error {
	res, err := t.ExecContext(ctx, "UPDATE units SET rev = rev + 1 WHERE id = ? AND staged IS NULL", id)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errors.Join(ErrNotFound, err)
	}
	return nil
}

func (s *Store) once(ctx context.Context, f func(*sql.Tx) error) (mayBeKept bool, err error) {
	t, err := s.DB.BeginTx(ctx, nil)
	if err != nil {
		return false, err
	}
	if err := f(t); err != nil {
		_ = t.Rollback()
		return false, err
	}
	return true, t.Commit()
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
