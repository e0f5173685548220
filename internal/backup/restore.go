package backup

import (
	"archive/zip"
	"bufio"
	"cmp"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"zorvel/internal/store"
)

// Bounds of what is read back.
const (
	mostManifest = 1 << 20
	mostLine     = 96 << 20 // a photo of 12 MB takes 16 as base64
	batchRows    = 200
	batchBytes   = 4 << 20 // of one statement; the server takes 16 MB
)

var (
	// ErrNotEmpty is returned where the database has tables already.
	ErrNotEmpty = errors.New("the database is not empty: a backup is read into an empty one, so that nothing is lost; make a new database and name that one")
	// ErrNoBackup is returned where the file is none.
	ErrNoBackup = errors.New("this is no backup of Zorvel: a zip archive with " + manifestName + " is expected")
)

// Read reads a backup into an empty database, all or nothing, and brings it up to
// this program's schema.
func Read(ctx context.Context, st *store.Store, from io.ReaderAt, size int64, told Progress) (*Manifest, error) {
	z, err := zip.NewReader(from, size)
	if err != nil {
		return nil, ErrNoBackup
	}
	m, files, err := contents(z)
	if err != nil {
		return nil, err
	}
	alone, err := st.TryLease(ctx, "a restore")
	if errors.Is(err, store.ErrHeld) {
		return nil, errors.New("another restore into this database is under way")
	}
	if err != nil {
		return nil, err
	}
	defer alone.End()
	unfinished, err := st.Unfinished(ctx)
	if err != nil {
		return nil, err
	}
	if unfinished { // what an earlier one left when it was cut off: nothing else was ever here
		if err := dropAll(ctx, st); err != nil {
			return nil, err
		}
	}
	var have int
	if err := st.DB.QueryRowContext(ctx,
		"SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name <> ?",
		store.LeasesTable).Scan(&have); err != nil {
		return nil, err
	}
	if have > 0 {
		return nil, ErrNotEmpty
	}
	// Until the end the database says that it isn't whole: who is cut off leaves that word.
	if _, err := st.DB.ExecContext(ctx, "CREATE TABLE "+store.UnfinishedTable+" (begun_at DATETIME NOT NULL PRIMARY KEY)"); err != nil {
		return nil, err
	}
	if err = fill(ctx, st, m, files, told); err == nil {
		_, err = st.DB.ExecContext(ctx, "DROP TABLE "+store.UnfinishedTable)
	}
	if err != nil {
		// It was empty, and is so again.
		err = errors.Join(err, dropAll(context.WithoutCancel(ctx), st))
	}
	return m, err
}

// contents reads what a backup says of itself, and finds its files.
func contents(z *zip.Reader) (*Manifest, map[string]*zip.File, error) {
	files := map[string]*zip.File{}
	for _, f := range z.File {
		if files[f.Name] != nil {
			return nil, nil, fmt.Errorf("%s is in the file twice", f.Name)
		}
		files[f.Name] = f
	}
	f := files[manifestName]
	if f == nil {
		return nil, nil, ErrNoBackup
	}
	r, err := f.Open()
	if err != nil {
		return nil, nil, ErrNoBackup
	}
	defer func() { _ = r.Close() }()
	text, err := io.ReadAll(io.LimitReader(r, mostManifest+1))
	if err != nil || len(text) > mostManifest {
		return nil, nil, fmt.Errorf("%s can't be read", manifestName)
	}
	var m Manifest
	if err := json.Unmarshal(text, &m); err != nil {
		return nil, nil, fmt.Errorf("%s can't be read: %w", manifestName, err)
	}
	if m.Format != Format {
		return nil, nil, fmt.Errorf("the file calls itself %q; this program reads %s", m.Format, Format)
	}
	if m.Schema < 1 {
		return nil, nil, fmt.Errorf("schema %d is none", m.Schema)
	}
	delete(files, manifestName)
	for _, t := range m.Tables {
		if files[file(t.Name)] == nil {
			return nil, nil, fmt.Errorf("%s is missing: the file is not whole", file(t.Name))
		}
	}
	if len(files) != len(m.Tables) {
		return nil, nil, errors.New("the file holds more than it says: it was not written by a backup")
	}
	return &m, files, nil
}

// fill makes the tables as they were, and puts the rows in.
func fill(ctx context.Context, st *store.Store, m *Manifest, files map[string]*zip.File, told Progress) error {
	if err := st.MigrateTo(ctx, m.Schema); err != nil {
		return err
	}
	con, err := st.DB.Conn(ctx)
	if err != nil {
		return err
	}
	defer func() { _ = con.Close() }()
	known, err := tablesOf(ctx, con)
	if err != nil {
		return err
	}
	for _, k := range known {
		i := slices.IndexFunc(m.Tables, func(t Table) bool { return t.Name == k.Name })
		if i < 0 {
			return fmt.Errorf("the table %s is missing in the file", k.Name)
		}
		if a, b := slices.Sorted(slices.Values(m.Tables[i].Columns)), slices.Sorted(slices.Values(k.Columns)); !slices.Equal(a, b) {
			return fmt.Errorf("the table %s has the columns %s in the file; those of schema %d are %s", k.Name, strings.Join(a, ", "), m.Schema, strings.Join(b, ", "))
		}
	}
	if len(known) != len(m.Tables) {
		return fmt.Errorf("the file has %d tables; schema %d has %d", len(m.Tables), m.Schema, len(known))
	}
	// Rows name rows that come later; whether all are there is asked at the end.
	if _, err := con.ExecContext(ctx, "SET SESSION foreign_key_checks = 0"); err != nil {
		return err
	}
	defer func() { _, _ = con.ExecContext(context.WithoutCancel(ctx), "SET SESSION foreign_key_checks = 1") }()
	// Each statement is a transaction of its own, of bounded size, as a cluster hands them
	// from node to node: until the end the database says that it isn't whole.
	for _, t := range m.Tables {
		if _, err := con.ExecContext(ctx, "DELETE FROM "+quoted(t.Name)); err != nil {
			return err
		}
		if err := readTable(ctx, con, t, files[file(t.Name)], told); err != nil {
			return fmt.Errorf("%s: %w", file(t.Name), err)
		}
	}
	if err := orphans(ctx, con); err != nil {
		return err
	}
	return st.MigrateTo(ctx, 0)
}

// readTable puts a table's rows in.
func readTable(ctx context.Context, con *sql.Conn, t Table, f *zip.File, told Progress) error {
	r, err := f.Open()
	if err != nil {
		return err
	}
	defer func() { _ = r.Close() }()
	lines := bufio.NewScanner(r)
	lines.Buffer(make([]byte, 1<<16), mostLine)
	var args []any
	var n, bytes int64
	row := ", (?" + strings.Repeat(", ?", len(t.Columns)-1) + ")"
	put := func() error {
		if len(args) == 0 {
			return nil
		}
		_, err := con.ExecContext(ctx, "INSERT INTO "+quoted(t.Name)+" ("+columns(t)+") VALUES "+strings.Repeat(row,
			len(args)/len(t.Columns))[2:], args...)
		args, bytes = args[:0], 0
		if err == nil {
			told(t.Name, n, t.Rows)
		}
		return err
	}
	for lines.Scan() {
		n++
		if n > t.Rows {
			return fmt.Errorf("line %d: the file says it has %d rows", n, t.Rows)
		}
		var cells []json.RawMessage
		if err := json.Unmarshal(lines.Bytes(), &cells); err != nil {
			return fmt.Errorf("line %d: a list of values is expected", n)
		}
		if len(cells) != len(t.Columns) {
			return fmt.Errorf("line %d: %d values for %d columns", n, len(cells), len(t.Columns))
		}
		for i, c := range cells {
			v, err := read(c)
			if err != nil {
				return fmt.Errorf("line %d: %s: %w", n, t.Columns[i], err)
			}
			args, bytes = append(args, v), bytes+int64(len(c))
		}
		if len(args) >= batchRows*len(t.Columns) || bytes >= batchBytes {
			if err := put(); err != nil {
				return fmt.Errorf("up to line %d: %w", n, err)
			}
		}
	}
	if err := lines.Err(); err != nil {
		return fmt.Errorf("after line %d: %w", n, err)
	}
	if n != t.Rows {
		return fmt.Errorf("%d rows, where the file says %d: it is not whole", n, t.Rows)
	}
	return put()
}

// orphans finds rows that name rows which are not there.
func orphans(ctx context.Context, con *sql.Conn) error {
	rows, err := con.QueryContext(ctx,
		"SELECT table_name, column_name, referenced_table_name, referenced_column_name FROM "+
			"information_schema.key_column_usage "+
			"WHERE table_schema = DATABASE() AND referenced_table_name IS NOT NULL")
	if err != nil {
		return err
	}
	type key struct{ table, column, to, of string }
	var keys []key
	for rows.Next() {
		var k key
		if err := rows.Scan(&k.table, &k.column, &k.to, &k.of); err != nil {
			_ = rows.Close()
			return err
		}
		keys = append(keys, k)
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		return err
	}
	for _, k := range keys {
		var id string
		err := con.QueryRowContext(ctx,
			fmt.Sprintf("SELECT a.%[2]s FROM %[1]s a LEFT JOIN %[3]s b ON b.%[4]s = a.%[2]s WHERE a.%[2]s IS NOT NULL AND "+
				"b.%[4]s IS NULL LIMIT 1",
				quoted(k.table), quoted(k.column), quoted(k.to), quoted(k.of))).Scan(&id)
		if err == nil {
			return fmt.Errorf("a row of %s names %s %s, which is not in the file", k.table, k.to, id)
		}
		if !errors.Is(err, sql.ErrNoRows) {
			return err
		}
	}
	return nil
}

func rank(table string) int {
	if table == quoted(store.UnfinishedTable) {
		return 1
	}
	return 0
}

// dropAll takes every table away.
func dropAll(ctx context.Context, st *store.Store) error {
	con, err := st.DB.Conn(ctx)
	if err != nil {
		return err
	}
	defer func() { _ = con.Close() }()
	rows, err := con.QueryContext(ctx,
		"SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name <> ?",
		store.LeasesTable)
	if err != nil {
		return err
	}
	var names []string
	for rows.Next() {
		var n string
		if err := rows.Scan(&n); err != nil {
			_ = rows.Close()
			return err
		}
		names = append(names, quoted(n))
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil || len(names) == 0 {
		return err
	}
	if _, err := con.ExecContext(ctx, "SET SESSION foreign_key_checks = 0"); err != nil {
		return err
	}
	// The word that it isn't whole goes last.
	slices.SortStableFunc(names, func(a, b string) int { return cmp.Compare(rank(a), rank(b)) })
	_, err = con.ExecContext(ctx, "DROP TABLE "+strings.Join(names, ", "))
	_, again := con.ExecContext(ctx, "SET SESSION foreign_key_checks = 1")
	return errors.Join(err, again)
}
