// Package doctor looks a server's surroundings over and says what to do about what it finds.
package doctor

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"golang.org/x/sys/unix"

	"zorvel/internal/authority"
	"zorvel/internal/store"
)

// State of a finding.
type State int

const (
	Good    State = iota
	Caution       // works today
	Bad           // does not work, or loses data
)

// String is the sign that stands before a finding.
func (s State) String() string { return [...]string{"✓", "△", "✕"}[s] }

// Finding is what one look showed; Do is what to do about it, empty where it is good.
type Finding struct {
	State State
	What  string
	Do    string
}

// Of names what is looked at; what is left empty is not.
type Of struct {
	Store *store.Store
	// Secure is the folder of the shop's authority, Names the names that it has to cover.
	Secure string
	Names  []string
	// Backups is the folder of the nightly backups.
	Backups string
	// Now is the clock; the real one if nil.
	Now func() time.Time
}

// Look looks everything over. It changes nothing.
func Look(ctx context.Context, of Of) []Finding {
	if of.Now == nil {
		of.Now = time.Now
	}
	var out []Finding
	if of.Store != nil {
		out = append(out, schema(ctx, of.Store), durable(ctx, of.Store), strict(ctx, of.Store), clock(ctx, of.Store, of.Now))
		if have, _, err := of.Store.Versions(ctx); err == nil && have > 0 {
			out = append(out, owner(ctx, of.Store))
		}
		out = append(out, space(ctx, of.Store)...)
	}
	if of.Secure != "" {
		out = append(out, secure(of))
	}
	if of.Backups != "" {
		out = append(out, backups(of))
	}
	return out
}

func failed(what string, err error) Finding {
	return Finding{Bad, fmt.Sprintf("%s can't be looked at: %v", what, err),
		"See that the database answers, and that its account may read this."}
}

func schema(ctx context.Context, st *store.Store) Finding {
	if unfinished, err := st.Unfinished(ctx); err != nil {
		return failed("The schema", err)
	} else if unfinished {
		return Finding{Bad, "A restore into this database was cut off.", "Restore again: it starts from the beginning."}
	}
	have, want, err := st.Versions(ctx)
	switch {
	case err != nil:
		return failed("The schema", err)
	case have < want:
		return Finding{Caution, fmt.Sprintf("The schema is version %d; this program brings it to %d.", have, want),
			"Back up, then start the server, or run zorvel migrate."}
	case have > want:
		return Finding{Bad, fmt.Sprintf("The schema is version %d; this program knows %d.", have, want), "Run the newer program."}
	}
	return Finding{Good, fmt.Sprintf("Schema version %d.", have), ""}
}

// setting reads a variable of the database server.
func setting(ctx context.Context, st *store.Store, name string) (string, error) {
	var value string
	err := st.DB.QueryRowContext(ctx, "SELECT @@GLOBAL."+name).Scan(&value)
	return value, err
}

func durable(ctx context.Context, st *store.Store) Finding {
	v, err := setting(ctx, st, "innodb_flush_log_at_trx_commit")
	switch {
	case err != nil:
		return failed("Whether readings survive a power cut", err)
	case v != "1":
		return Finding{Bad, "A power cut can lose readings: innodb_flush_log_at_trx_commit is " + v + ".",
			"Set it to 1 in MariaDB's configuration, and restart MariaDB."}
	}
	return Finding{Good, "Saved readings survive a power cut.", ""}
}

func strict(ctx context.Context, st *store.Store) Finding {
	v, err := setting(ctx, st, "sql_mode")
	switch {
	case err != nil:
		return failed("The database's mode", err)
	case !strings.Contains(v, "STRICT_TRANS_TABLES") && !strings.Contains(v, "STRICT_ALL_TABLES"):
		return Finding{Bad, "The database cuts off what is too long without a word.",
			"Set sql_mode to STRICT_ALL_TABLES in MariaDB's configuration, and restart MariaDB."}
	}
	return Finding{Good, "The database refuses what does not fit.", ""}
}

// apart is how far two clocks may be apart before due dates and the log mislead.
const apart = 5 * time.Second

func clock(ctx context.Context, st *store.Store, now func() time.Time) Finding {
	var there time.Time
	before := now()
	if err := st.DB.QueryRowContext(ctx, "SELECT UTC_TIMESTAMP(6)").Scan(&there); err != nil {
		return failed("The clock", err)
	}
	if off := there.Sub(before); off > apart || off < -apart-now().Sub(before) {
		return Finding{Caution, fmt.Sprintf("This machine's clock and the database's are %v apart.",
			off.Abs().Round(time.Second)),
			"Turn on time synchronization on both. Nothing is lost: counters, not clocks, say what is newer."}
	}
	return Finding{Good, "Clocks agree.", ""}
}

func owner(ctx context.Context, st *store.Store) Finding {
	has, err := st.HasOwner(ctx)
	switch {
	case err != nil:
		return failed("Whether there is an owner", err)
	case !has:
		return Finding{Caution, "Nobody owns this shop yet.", "Open the first page and create the owner before the network is open to others."}
	}
	return Finding{Good, "The shop has an owner.", ""}
}

// enough is the room below which there is too little, in bytes: a night's backup and a
// day's photos.
const enough = 2 << 30

// space looks at the disk of the database, where it is this machine's.
func space(ctx context.Context, st *store.Store) []Finding {
	dir, err := setting(ctx, st, "datadir")
	if err != nil {
		return []Finding{failed("The disk", err)}
	}
	var size sql.NullInt64
	if err := st.DB.QueryRowContext(ctx,
		"SELECT SUM(data_length + index_length) FROM information_schema.tables WHERE table_schema = DATABASE()").Scan(&size); err != nil {
		return []Finding{failed("The size of the data", err)}
	}
	out := []Finding{{Good, "The data takes " + bytes(size.Int64) + ".", ""}}
	free, err := room(dir)
	switch {
	case err != nil: // another machine's, or not for this user to see
		return append(out, Finding{Caution, "The database's disk can't be seen from here.",
			"Run this on the database's machine, or watch its disk there."})
	case free < enough:
		return append(out, Finding{Bad, "Only " + bytes(free) + " left on the database's disk.",
			"Make room: a full disk stops all saving. Old backups are the first to move elsewhere."})
	}
	return append(out, Finding{Good, bytes(free) + " left on the database's disk.", ""})
}

// room is what is free on the disk of a folder.
func room(dir string) (int64, error) {
	var s unix.Statfs_t
	if err := unix.Statfs(dir, &s); err != nil {
		return 0, err
	}
	return int64(s.Bavail) * int64(s.Bsize), nil
}

func bytes(n int64) string {
	if n < 1<<30 {
		return strconv.FormatInt((n+1<<20-1)>>20, 10) + " MB"
	}
	return strconv.FormatFloat(float64(n)/(1<<30), 'f', 1, 64) + " GB"
}

func secure(of Of) Finding {
	a, err := authority.Look(of.Secure, authority.Options{Names: of.Names, Now: of.Now})
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return Finding{Caution, "No secure address: phones can't install Zorvel or use their sensors.", "Serve with --https."}
	case err != nil:
		return Finding{Bad, err.Error() + ".", "Until then browsers refuse the secure address."}
	}
	left := a.Ends().Sub(of.Now())
	if left < 180*24*time.Hour {
		return Finding{Caution, "The shop's authority ends on " + a.Ends().Format("January 2, 2006") + ".",
			"Choose a day for zorvel https --renew: each phone trusts it again then."}
	}
	return Finding{Good, "Secure address for " + strings.Join(a.Names(), ", ") + ".", ""}
}

// fresh is how old the newest backup may be.
const fresh = 36 * time.Hour

func backups(of Of) Finding {
	files, err := filepath.Glob(filepath.Join(of.Backups, "*.zip"))
	if err != nil {
		return Finding{Bad, err.Error() + ".", "Name the folder of the backups."}
	}
	var last time.Time
	for _, f := range files {
		if i, err := os.Stat(f); err == nil && i.ModTime().After(last) {
			last = i.ModTime()
		}
	}
	switch {
	case last.IsZero():
		return Finding{Bad, "No backup in " + of.Backups + ".", "Run zorvel backup " + filepath.Join(of.Backups, "shop.zip") + ", each night."}
	case of.Now().Sub(last) > fresh:
		return Finding{Bad, "The newest backup is of " + last.Format("January 2, 2006") + ".", "See why the nightly backup does not run."}
	}
	return Finding{Good, "The newest backup is of " + last.Format("January 2, 15:04") + ".", ""}
}
