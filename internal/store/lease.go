package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"fmt"
	"time"

	"github.com/go-sql-driver/mysql"
)

// ErrHeld is returned where another program does what a lease is for.
var ErrHeld = errors.New("another program is doing it")

// How leases are kept. A holder says that it is there by raising a number; one whose
// number has stood still for so long by the clock of who waits is taken for gone. No
// two clocks are compared.
const (
	leaseBeat     = 5 * time.Second
	leasePatience = 30 * time.Second
	leaseLook     = 200 * time.Millisecond
)

// LeasesTable is made before any other, and holds no records.
const LeasesTable = "leases"

// Lease is a task that one program at a time does, on whichever node of a cluster: a
// row that is written, for a lock of one node (GET_LOCK) guards that node alone.
type Lease struct {
	s            *Store
	name, holder string
	con          *sql.Conn
	lost         context.Context
	end          context.CancelCauseFunc
	ended        chan struct{}
}

// Lost ends when the lease is another's, or ended.
func (l *Lease) Lost() context.Context { return l.lost }

// Lease waits until the task is this program's.
func (s *Store) Lease(ctx context.Context, name string) (*Lease, error) {
	for look := newLooker(s, name); ; {
		l, err := look.take(ctx)
		if !errors.Is(err, ErrHeld) {
			return l, err
		}
		select {
		case <-ctx.Done():
			return nil, fmt.Errorf("waiting for %s: %w", name, context.Cause(ctx))
		case <-time.After(leaseLook):
		}
	}
}

// TryLease takes the task on, or returns ErrHeld.
func (s *Store) TryLease(ctx context.Context, name string) (*Lease, error) {
	return newLooker(s, name).take(ctx)
}

// looker waits for a lease: what it saw last of its holder, and since when.
type looker struct {
	s      *Store
	name   string
	holder string
	beats  int64
	since  time.Time
}

func newLooker(s *Store, name string) *looker { return &looker{s: s, name: name} }

// take takes the lease where nobody holds it, or its holder is gone.
func (k *looker) take(ctx context.Context) (*Lease, error) {
	if err := k.s.makeLeases(ctx); err != nil {
		return nil, err
	}
	con, err := k.s.DB.Conn(ctx)
	if err != nil {
		return nil, err
	}
	l, err := k.takeOn(ctx, con)
	if err != nil {
		return nil, errors.Join(err, con.Close())
	}
	return l, nil
}

func (k *looker) takeOn(ctx context.Context, con *sql.Conn) (*Lease, error) {
	if _, err := con.ExecContext(ctx, "INSERT IGNORE INTO leases (name, holder, beats) VALUES (?, '', 0)", k.name); conflict(err) {
		return nil, ErrHeld
	} else if err != nil {
		return nil, err
	}
	me := rand.Text()
	var node string
	if err := con.QueryRowContext(ctx, nodeAndConnection).Scan(&node); err != nil {
		return nil, err
	}
	me = node + " " + me
	var holder string
	var beats int64
	if err := con.QueryRowContext(ctx, "SELECT holder, beats FROM leases WHERE name = ?", k.name).Scan(&holder, &beats); err != nil {
		return nil, err
	}
	if holder != "" {
		gone, err := k.gone(ctx, con, holder, beats)
		if err != nil {
			return nil, err
		}
		if !gone {
			return nil, ErrHeld
		}
	}
	// Of two that take it at once one changes the row; at two nodes one of them conflicts.
	res, err := con.ExecContext(ctx,
		"UPDATE leases SET holder = ?, beats = beats + 1 WHERE name = ? AND holder = ? AND beats = ?", me, k.name, holder,
		beats)
	if conflict(err) {
		return nil, ErrHeld
	}
	if err != nil {
		return nil, err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return nil, errors.Join(ErrHeld, err)
	}
	l := &Lease{s: k.s, name: k.name, holder: me, con: con, ended: make(chan struct{})}
	l.lost, l.end = context.WithCancelCause(ctx)
	go l.beat()
	return l, nil
}

// nodeAndConnection names a node, an account and a connection of it.
const nodeAndConnection = "SELECT CONCAT(@@hostname, ':', @@port, ' ', CURRENT_USER(), ' ', CONNECTION_ID())"

// gone reports whether a lease's holder is no longer there. One that is connected to
// this very node by this account can be seen; of any other the number has to move.
func (k *looker) gone(ctx context.Context, con *sql.Conn, holder string, beats int64) (bool, error) {
	var here, there bool
	err := con.QueryRowContext(ctx, `SELECT SUBSTRING_INDEX(?, ' ', 2) = CONCAT(@@hostname, ':', @@port, ' ', CURRENT_USER()),
		EXISTS (SELECT 1 FROM information_schema.processlist WHERE id = CAST(SUBSTRING_INDEX(SUBSTRING_INDEX(?, ' ', 3), ' ', -1) AS UNSIGNED))`,
		holder, holder).Scan(&here, &there)
	if err != nil {
		return false, err
	}
	if here {
		return !there, nil
	}
	if holder != k.holder || beats != k.beats {
		k.holder, k.beats, k.since = holder, beats, time.Now()
		return false, nil
	}
	return time.Since(k.since) > leasePatience, nil
}

// beat raises the number until the lease ends, or is another's.
func (l *Lease) beat() {
	defer close(l.ended)
	last := time.Now()
	for {
		select {
		case <-l.lost.Done():
			return
		case <-time.After(leaseBeat):
		}
		n, err := l.touch()
		switch {
		case err == nil && n == 0:
			l.end(fmt.Errorf("%s was taken over", l.name))
			return
		case err == nil:
			last = time.Now()
		case !conflict(err) && !l.alive(), time.Since(last) > leasePatience/2:
			l.end(fmt.Errorf("%s is lost: %w", l.name, err))
			return
		}
	}
}

// touch says that the holder is there, and reports whether the lease is still its. On a
// single server its connection is seen, so that nothing need be written.
func (l *Lease) touch() (n int64, err error) {
	within, cancel := context.WithTimeout(l.lost, leaseBeat)
	defer cancel()
	if !l.s.clustered() {
		const held = "SELECT COUNT(*) FROM leases WHERE name = ? AND holder = ?"
		err = l.con.QueryRowContext(within, held, l.name, l.holder).Scan(&n)
		return n, err
	}
	res, err := l.con.ExecContext(within, "UPDATE leases SET beats = beats + 1 WHERE name = ? AND holder = ?", l.name, l.holder)
	if err != nil {
		return 0, err
	}
	return res.RowsAffected()
}

// alive reports whether the lease's connection, by which others see its holder, stands.
func (l *Lease) alive() bool {
	within, cancel := context.WithTimeout(l.lost, leaseBeat)
	defer cancel()
	return l.con.PingContext(within) == nil
}

// End gives the task back.
func (l *Lease) End() {
	l.end(context.Canceled)
	<-l.ended
	within, cancel := context.WithTimeout(context.WithoutCancel(l.lost), leaseBeat)
	defer cancel()
	for range maxTries {
		if _, err := l.con.ExecContext(within, "UPDATE leases SET holder = '' WHERE name = ? AND holder = ?", l.name, l.holder); !conflict(err) {
			break
		}
	}
	_ = l.con.Close()
}

// makeLeases makes their table where it isn't there: before any other, by whichever
// program comes first.
func (s *Store) makeLeases(ctx context.Context) error {
	var n int
	err := s.DB.QueryRowContext(ctx,
		"SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = ?",
		LeasesTable).Scan(&n)
	if err != nil || n > 0 {
		return err
	}
	_, err = s.DB.ExecContext(ctx, "CREATE TABLE IF NOT EXISTS "+LeasesTable+
		" (name VARCHAR(60) NOT NULL PRIMARY KEY, holder VARCHAR(250) NOT NULL, beats BIGINT NOT NULL)")
	return err
}

// conflict reports whether a transaction lost against another that writes to the same
// rows, here or at another node: it can be tried again.
func conflict(err error) bool {
	var my *mysql.MySQLError
	return errors.As(err, &my) && (my.Number == 1213 || my.Number == 1205)
}
