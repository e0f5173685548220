package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"strings"
	"time"

	"zorvel/core/regear"
)

// CatalogRow is a row of one of the shop's lists.
type CatalogRow struct {
	ID       int64
	Version  int64
	Identity string
	Cells    map[string]string
}

// CatalogChange is a line of a list's history.
type CatalogChange struct {
	ID     int64
	RowID  int64
	What   string // added, changed, removed
	Before map[string]string
	After  map[string]string
	By     string
	At     time.Time
}

// MaxCatalogRows bounds a list.
const MaxCatalogRows = regear.MaxRows

// catalogColumns and scanCatalog read a row of a list.
const catalogColumns = "SELECT id, version, identity, cells FROM catalog_rows WHERE list = ? "

func scanCatalog(row scanner, r *CatalogRow) error {
	var cells []byte
	if err := row.Scan(&r.ID, &r.Version, &r.Identity, &cells); err != nil {
		return err
	}
	if json.Unmarshal(cells, &r.Cells) != nil {
		r.Cells = map[string]string{} // a row that can't be read stands in its list empty, to be written anew
	}
	return nil
}

// CatalogRows lists a list in the order of its identities.
func (s *Store) CatalogRows(ctx context.Context, list_ string) ([]CatalogRow, error) {
	return list(ctx, s.DB, scanCatalog, catalogColumns+"ORDER BY identity LIMIT ?", list_, MaxCatalogRows)
}

// CatalogSizes counts the rows of each list.
func (s *Store) CatalogSizes(ctx context.Context) (map[string]int, error) {
	type size struct {
		list string
		n    int
	}
	rows, err := list(ctx, s.DB, func(row scanner, x *size) error { return row.Scan(&x.list, &x.n) },
		"SELECT list, COUNT(*) FROM catalog_rows GROUP BY list")
	out := map[string]int{}
	for _, r := range rows {
		out[r.list] = r.n
	}
	return out, err
}

// CatalogMark changes whenever a list does, in the same transaction.
func (s *Store) CatalogMark(ctx context.Context, list string) (int64, error) {
	var id int64
	err := s.DB.QueryRowContext(ctx, "SELECT mark FROM catalog_marks WHERE list = ?", list).Scan(&id)
	if errors.Is(err, sql.ErrNoRows) {
		return 0, nil // never changed
	}
	return id, err
}

// Marks are those of several lists, 0 for one that never changed.
func (s *Store) Marks(ctx context.Context, lists ...string) (map[string]int64, error) {
	type mark struct {
		list string
		n    int64
	}
	args := make([]any, len(lists))
	for i, l := range lists {
		args[i] = l
	}
	rows, err := list(ctx, s.DB, func(row scanner, x *mark) error { return row.Scan(&x.list, &x.n) },
		"SELECT list, mark FROM catalog_marks WHERE list IN (?"+strings.Repeat(", ?", len(lists)-1)+")", args...)
	out := map[string]int64{}
	for _, x := range rows {
		out[x.list] = x.n
	}
	return out, err
}

// CatalogChanges lists the newest changes of a list, at most 300; of one row
// where row is not 0.
func (s *Store) CatalogChanges(ctx context.Context, list_ string, row int64) ([]CatalogChange, error) {
	where, args := "list = ?", []any{list_}
	if row != 0 {
		where, args = where+" AND row_id = ?", append(args, row)
	}
	return list(ctx, s.DB, func(r scanner, c *CatalogChange) error {
		var before, after sql.NullString
		if err := r.Scan(&c.ID, &c.RowID, &c.What, &before, &after, &c.By, &c.At); err != nil {
			return err
		}
		for text, to := range map[*sql.NullString]*map[string]string{&before: &c.Before, &after: &c.After} {
			if text.Valid {
				if json.Unmarshal([]byte(text.String), to) != nil {
					*to = map[string]string{}
				}
			}
		}
		return nil
	}, "SELECT id, row_id, what, before_cells, after_cells, by_name, at FROM catalog_changes WHERE "+where+" ORDER BY id DESC LIMIT 300", args...)
}

func cellsJSON(c map[string]string) any {
	if c == nil {
		return nil
	}
	b, err := json.Marshal(c)
	if err != nil { // a map of strings always marshals
		return nil
	}
	return string(b)
}

func (s *Store) noteChange(ctx context.Context, t *sql.Tx, list_ string, c CatalogChange) error {
	_, err := t.ExecContext(ctx, "INSERT INTO catalog_changes (list, row_id, what, before_cells, after_cells, by_name, at) VALUES (?, ?, ?, ?, ?, ?, ?)",
		list_, c.RowID, c.What, cellsJSON(c.Before), cellsJSON(c.After), c.By, s.now())
	return err
}

// touchList locks a list's counter and raises it; whatever changes a list begins
// with it, so that changes of a list stand in one line.
func touchList(ctx context.Context, t *sql.Tx, list_ string) error {
	_, err := t.ExecContext(ctx, "INSERT INTO catalog_marks (list, mark) VALUES (?, 1) ON DUPLICATE KEY UPDATE mark = mark + 1", list_)
	return err
}

// AddCatalogRow adds a row; ErrTaken if one of its identity is there.
func (s *Store) AddCatalogRow(ctx context.Context, list_ string, r CatalogRow, by string) (CatalogRow, error) {
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := touchList(ctx, t, list_); err != nil {
			return err
		}
		id, err := insert(ctx, t, "INSERT INTO catalog_rows (list, identity, cells) VALUES (?, ?, ?)", list_, r.Identity, cellsJSON(r.Cells))
		if err != nil {
			return err
		}
		r.ID, r.Version = id, 1
		return s.noteChange(ctx, t, list_, CatalogChange{RowID: id, What: "added", After: r.Cells, By: by})
	})
	return r, err
}

// catalogRow reads a row for changing it.
func catalogRow(ctx context.Context, t *sql.Tx, list_ string, id int64) (CatalogRow, error) {
	var old CatalogRow
	err := scanCatalog(t.QueryRowContext(ctx, catalogColumns+"AND id = ? FOR UPDATE", list_, id), &old)
	return old, oneRow(err)
}

// ChangeCatalogRow stores new cells over the version that was seen; ErrChanged
// where someone else was quicker, ErrTaken where another row has the identity.
func (s *Store) ChangeCatalogRow(ctx context.Context, list_ string, r CatalogRow, by string) (CatalogRow, error) {
	var out CatalogRow
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := touchList(ctx, t, list_); err != nil {
			return err
		}
		old, err := catalogRow(ctx, t, list_, r.ID)
		if err != nil {
			return err
		}
		if old.Version != r.Version {
			return ErrChanged
		}
		out, err = s.replaceRow(ctx, t, list_, old, r, by)
		return err
	})
	return out, err
}

func (s *Store) replaceRow(ctx context.Context, t *sql.Tx, list_ string, old, r CatalogRow, by string) (CatalogRow, error) {
	r.ID, r.Version = old.ID, old.Version+1
	if _, err := insert(ctx, t, "UPDATE catalog_rows SET identity = ?, cells = ?, version = ? WHERE id = ?", r.Identity, cellsJSON(r.Cells), r.Version, r.ID); err != nil {
		return r, err
	}
	return r, s.noteChange(ctx, t, list_, CatalogChange{RowID: r.ID, What: "changed", Before: old.Cells, After: r.Cells, By: by})
}

// RemoveCatalogRow takes a row out.
func (s *Store) RemoveCatalogRow(ctx context.Context, list_ string, id int64, by string) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := touchList(ctx, t, list_); err != nil {
			return err
		}
		old, err := catalogRow(ctx, t, list_, id)
		if err != nil {
			return err
		}
		if _, err := t.ExecContext(ctx, "DELETE FROM catalog_rows WHERE id = ?", id); err != nil {
			return err
		}
		return s.noteChange(ctx, t, list_, CatalogChange{RowID: id, What: "removed", Before: old.Cells, By: by})
	})
}

// importBatch is how many rows go into one statement.
const importBatch = 100

// TakeCatalog adds and changes rows by identity, all or none, and returns how
// many of each; rows that are the same stay as they are. progress is kept
// under token while it runs, outside the transaction, so that others see it.
func (s *Store) TakeCatalog(ctx context.Context, list_ string, rows []CatalogRow, by, token string) (added, changed int, err error) {
	report := func(done int) error {
		if token == "" {
			return nil
		}
		_, err := s.exec(ctx, "INSERT INTO catalog_imports (token, total, done, at) VALUES (?, ?, ?, ?) ON DUPLICATE KEY "+
			"UPDATE done = VALUES(done), total = VALUES(total), at = VALUES(at)",
			token, len(rows), done, s.now())
		return err
	}
	if err := report(0); err != nil {
		return 0, 0, err
	}
	if _, err := s.exec(ctx, "DELETE FROM catalog_imports WHERE at < ?", s.now().Add(-time.Hour)); err != nil {
		return 0, 0, err
	}
	err = s.tx(ctx, func(t *sql.Tx) error {
		var err error
		added, changed, err = s.takeCatalog(ctx, t, list_, rows, by, report)
		return err
	})
	if err != nil {
		return 0, 0, err
	}
	return added, changed, report(len(rows))
}

func (s *Store) takeCatalog(ctx context.Context, t *sql.Tx, list_ string, rows []CatalogRow, by string, report func(done int) error) (added, changed int, err error) {
	if err := touchList(ctx, t, list_); err != nil {
		return 0, 0, err
	}
	have := map[string]CatalogRow{}
	old, err := list(ctx, t, scanCatalog, catalogColumns+"FOR UPDATE", list_)
	if err != nil {
		return 0, 0, err
	}
	for _, r := range old {
		have[r.Identity] = r
	}
	var fresh []CatalogRow
	for i, r := range rows {
		was, ok := have[r.Identity]
		switch {
		case !ok:
			fresh = append(fresh, r)
		case !sameCells(was.Cells, r.Cells):
			if _, err := s.replaceRow(ctx, t, list_, was, r, by); err != nil {
				return 0, 0, err
			}
			changed++
		}
		if len(fresh) == importBatch || i == len(rows)-1 {
			if err := s.addBatch(ctx, t, list_, fresh, by); err != nil {
				return 0, 0, err
			}
			added += len(fresh)
			fresh = fresh[:0]
		}
		if (i+1)%500 == 0 {
			if err := report(i + 1); err != nil {
				return 0, 0, err
			}
		}
	}
	if len(old)+added > MaxCatalogRows {
		return 0, 0, ErrFull
	}
	return added, changed, nil
}

// ErrFull is returned where a list would get more rows, or a stage more
// readings, than it may hold.
var ErrFull = errors.New("it is full")

func sameCells(a, b map[string]string) bool {
	for k, v := range a {
		if b[k] != v {
			return false
		}
	}
	for k, v := range b {
		if a[k] != v {
			return false
		}
	}
	return true
}

// addBatch inserts rows and their history in two statements.
func (s *Store) addBatch(ctx context.Context, t *sql.Tx, list_ string, rows []CatalogRow, by string) error {
	if len(rows) == 0 {
		return nil
	}
	args := make([]any, 0, 3*len(rows))
	for _, r := range rows {
		args = append(args, list_, r.Identity, cellsJSON(r.Cells))
	}
	if _, err := insert(ctx, t, "INSERT INTO catalog_rows (list, identity, cells) VALUES (?, ?, ?)"+strings.Repeat(", (?, ?, ?)", len(rows)-1), args...); err != nil {
		return err
	}
	args = []any{by, s.now(), list_}
	for _, r := range rows {
		args = append(args, r.Identity)
	}
	_, err := t.ExecContext(ctx, "INSERT INTO catalog_changes (list, row_id, what, after_cells, by_name, at) SELECT list, id, 'added', cells, ?, ? FROM catalog_rows WHERE list = ? AND identity IN (?"+
		strings.Repeat(", ?", len(rows)-1)+")", args...)
	return err
}

// ImportProgress is how far a file has been taken in; ErrNotFound if it isn't
// known.
func (s *Store) ImportProgress(ctx context.Context, token string) (done, total int, err error) {
	err = s.DB.QueryRowContext(ctx, "SELECT done, total FROM catalog_imports WHERE token = ?", token).Scan(&done, &total)
	return done, total, oneRow(err)
}
