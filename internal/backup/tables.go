package backup

import (
	"archive/zip"
	"context"
	"database/sql"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"time"

	"zorvel/core/typed"
	"zorvel/internal/store"
)

// notForSheets are tables that make no sense in a spreadsheet, and the accounts and what
// people practiced, which are nobody's business.
var notForSheets = []string{"photo_blobs", "recording_sounds", "catalog_marks", "people", "practice_results",
	"practice_sharing"}

// Tables writes every table as CSV under tables/, for reading elsewhere: all as they
// are at one moment. Nothing reads them back.
func Tables(ctx context.Context, st *store.Store, z *zip.Writer) error {
	con, end, err := snapshot(ctx, st)
	if err != nil {
		return err
	}
	defer end()
	tables, err := tablesOf(ctx, con)
	if err != nil {
		return err
	}
	for _, t := range tables {
		if slices.Contains(notForSheets, t.Name) {
			continue
		}
		w, err := z.CreateHeader(&zip.FileHeader{Name: "tables/" + t.Name + ".csv", Method: zip.Deflate, Modified: time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)})
		if err != nil {
			return err
		}
		if err := sheet(ctx, con, t, w); err != nil {
			return fmt.Errorf("table %s: %w", t.Name, err)
		}
	}
	return nil
}

// sheet writes a table's rows as CSV.
func sheet(ctx context.Context, con *sql.Conn, t Table, to io.Writer) error {
	rows, err := con.QueryContext(ctx, "SELECT "+columns(t)+" FROM "+quoted(t.Name)+inOrder(t))
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	row, at := make([]any, len(t.Columns)), make([]any, len(t.Columns))
	for i := range row {
		at[i] = &row[i]
	}
	w := csv.NewWriter(to)
	if err := w.Write(t.Columns); err != nil {
		return err
	}
	line := make([]string, len(row))
	for rows.Next() {
		if err := rows.Scan(at...); err != nil {
			return err
		}
		for i, v := range row {
			x, err := written(v, false)
			if err != nil {
				return err
			}
			line[i], _ = x.(string) // empty, where there is nothing
			// No spreadsheet is to take what someone typed for a formula.
			if _, text := v.([]byte); text {
				line[i] = typed.Cell(line[i])
			}
		}
		if err := w.Write(line); err != nil {
			return err
		}
	}
	w.Flush()
	return errors.Join(rows.Err(), w.Error())
}
