// Package backup writes a shop's whole database into one open file, and reads it
// back into an empty one.
//
// The file is a zip archive, zorvel-backup-1: zorvel-backup.json says which schema
// the rows are of and what the archive holds; tables/NAME.jsonl has a row a line,
// as a list in the order of the columns that zorvel-backup.json names. A value is
// null or text as the database writes it (times as 2006-01-02 15:04:05.000000, in
// UTC); bytes are {"base64": "…"}.
//
// Who is signed in, tries to sign in and known devices are not in it: they would
// let someone in who finds the file. Neither is what is made anew from the rest.
package backup

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"database/sql"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"time"

	"zorvel/internal/store"
)

// Format is what such a file calls itself.
const Format = "zorvel-backup-1"

const (
	manifestName = "zorvel-backup.json"
	timeForm     = "2006-01-02 15:04:05.000000"
)

// LeftOut are the tables that a backup doesn't hold.
var LeftOut = []string{"catalog_imports", "goose_db_version", "guards", store.LeasesTable, "list_counts",
	"live_joins", "live_line",
	store.UnfinishedTable, "known_devices", "search_docs", "sessions", "sign_in_tries", "unit_facts", "verdicts"}

// leftOutColumns say how far what is made anew was made.
var leftOutColumns = []string{"units.found_from", "units.found_rev", "units.found_lists", "units.set_aside"}

// Manifest says what a backup holds.
type Manifest struct {
	Format string    `json:"format"`
	Schema int64     `json:"schema"`
	MadeAt time.Time `json:"made_at"`
	Tables []Table   `json:"tables"`
}

// Table is one table of it.
type Table struct {
	Name    string   `json:"name"`
	Columns []string `json:"columns"`
	Rows    int64    `json:"rows"`
}

// Progress is told how far it is; rows is zero where that isn't known yet.
type Progress func(table string, done, rows int64)

// Write writes a backup as it is at one moment, while others go on writing.
func Write(ctx context.Context, st *store.Store, to io.Writer, told Progress) (*Manifest, error) {
	schema, err := st.Schema(ctx)
	if err != nil {
		return nil, err
	}
	con, end, err := snapshot(ctx, st)
	if err != nil {
		return nil, err
	}
	defer end()
	tables, err := tablesOf(ctx, con)
	if err != nil {
		return nil, err
	}
	m := &Manifest{Format: Format, Schema: schema, MadeAt: time.Now().UTC().Truncate(time.Second)}
	z := zip.NewWriter(to)
	for _, t := range tables {
		w, err := z.CreateHeader(&zip.FileHeader{Name: file(t.Name), Method: zip.Deflate, Modified: m.MadeAt})
		if err != nil {
			return nil, err
		}
		if t.Rows, err = writeTable(ctx, con, t, w, told); err != nil {
			return nil, fmt.Errorf("table %s: %w", t.Name, err)
		}
		m.Tables = append(m.Tables, t)
	}
	w, err := z.CreateHeader(&zip.FileHeader{Name: manifestName, Method: zip.Deflate, Modified: m.MadeAt})
	if err != nil {
		return nil, err
	}
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	if err := e.Encode(m); err != nil {
		return nil, err
	}
	return m, z.Close()
}

// snapshot is a connection that sees everything as it is now, until end is called.
func snapshot(ctx context.Context, st *store.Store) (con *sql.Conn, end func(), err error) {
	if con, err = st.DB.Conn(ctx); err != nil {
		return nil, nil, err
	}
	for _, q := range []string{"SET TRANSACTION ISOLATION LEVEL REPEATABLE READ", "START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY"} {
		if _, err := con.ExecContext(ctx, q); err != nil {
			return nil, nil, errors.Join(fmt.Errorf("beginning to read: %w", err), con.Close())
		}
	}
	return con, func() {
		_, _ = con.ExecContext(context.WithoutCancel(ctx), "ROLLBACK")
		_ = con.Close()
	}, nil
}

func file(table string) string { return "tables/" + table + ".jsonl" }

// tablesOf lists the tables that a backup holds, with their columns.
func tablesOf(ctx context.Context, con *sql.Conn) ([]Table, error) {
	rows, err := con.QueryContext(ctx, "SELECT c.table_name, c.column_name FROM information_schema.columns c JOIN information_schema.tables t USING (table_schema, table_name) "+
		"WHERE c.table_schema = DATABASE() AND t.table_type = 'BASE TABLE' AND c.is_generated = 'NEVER' ORDER BY c.table_name, c.ordinal_position")
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	var out []Table
	for rows.Next() {
		var table, column string
		if err := rows.Scan(&table, &column); err != nil {
			return nil, err
		}
		if slices.Contains(LeftOut, table) || slices.Contains(leftOutColumns, table+"."+column) {
			continue
		}
		if n := len(out); n == 0 || out[n-1].Name != table {
			out = append(out, Table{Name: table})
		}
		last := &out[len(out)-1]
		last.Columns = append(last.Columns, column)
	}
	return out, rows.Err()
}

// quoted is a name in a statement.
func quoted(name string) string { return "`" + strings.ReplaceAll(name, "`", "``") + "`" }

func inOrder(t Table) string {
	if len(t.Columns) == 1 {
		return " ORDER BY 1"
	}
	return " ORDER BY 1, 2"
}

func columns(t Table) string {
	names := make([]string, len(t.Columns))
	for i, c := range t.Columns {
		names[i] = quoted(c)
	}
	return strings.Join(names, ", ")
}

// writeTable writes a table's rows, in the order of its first column.
func writeTable(ctx context.Context, con *sql.Conn, t Table, to io.Writer, told Progress) (int64, error) {
	rows, err := con.QueryContext(ctx, "SELECT "+columns(t)+" FROM "+quoted(t.Name)+inOrder(t))
	if err != nil {
		return 0, err
	}
	defer func() { _ = rows.Close() }()
	types, err := rows.ColumnTypes()
	if err != nil {
		return 0, err
	}
	row, at := make([]any, len(types)), make([]any, len(types))
	for i := range row {
		at[i] = &row[i]
	}
	b := bufio.NewWriterSize(to, 1<<16)
	var n int64
	for rows.Next() {
		if err := rows.Scan(at...); err != nil {
			return n, err
		}
		line := make([]any, len(row))
		for i, v := range row {
			if line[i], err = written(v, strings.Contains(types[i].DatabaseTypeName(), "BLOB") || strings.Contains(types[i].DatabaseTypeName(), "BINARY")); err != nil {
				return n, fmt.Errorf("%s: %w", t.Columns[i], err)
			}
		}
		text, err := json.Marshal(line)
		if err != nil {
			return n, err
		}
		if _, err := b.Write(append(text, '\n')); err != nil {
			return n, err
		}
		if n++; n%1000 == 0 {
			told(t.Name, n, 0)
		}
	}
	told(t.Name, n, n)
	return n, errors.Join(rows.Err(), b.Flush())
}

type bytesValue struct {
	Base64 string `json:"base64"`
}

// written is a value as it stands in the file.
func written(v any, binary bool) (any, error) {
	switch x := v.(type) {
	case nil:
		return nil, nil
	case time.Time:
		return x.UTC().Format(timeForm), nil
	case []byte:
		if binary {
			return bytesValue{base64.StdEncoding.EncodeToString(x)}, nil
		}
		return string(x), nil
	case string:
		return x, nil
	case int64:
		return strconv.FormatInt(x, 10), nil
	case uint64:
		return strconv.FormatUint(x, 10), nil
	case float64:
		return strconv.FormatFloat(x, 'g', -1, 64), nil
	case float32:
		return strconv.FormatFloat(float64(x), 'g', -1, 32), nil
	}
	return nil, fmt.Errorf("a value of type %T can't be written", v)
}

// read is a value from the file.
func read(raw json.RawMessage) (any, error) {
	raw = bytes.TrimSpace(raw)
	if string(raw) == "null" {
		return nil, nil
	}
	if len(raw) > 0 && raw[0] == '{' {
		var b bytesValue
		d := json.NewDecoder(bytes.NewReader(raw))
		d.DisallowUnknownFields()
		if err := d.Decode(&b); err != nil {
			return nil, errors.New(`bytes are {"base64": "…"}`)
		}
		data, err := base64.StdEncoding.DecodeString(b.Base64)
		if err != nil {
			return nil, errors.New("no base64")
		}
		return data, nil
	}
	var s string
	if err := json.Unmarshal(raw, &s); err != nil {
		return nil, errors.New("a value is null, text, or bytes")
	}
	return s, nil
}
