package store

import (
	"context"
	"database/sql"
	"time"
)

// MostFilters is how many filters a shop may save.
const MostFilters = 100

// Filter is a list of units that the shop saved under a name.
type Filter struct {
	ID    int64
	Name  string
	Query string // as in the list's address
	By    string
	At    time.Time
}

// Filters lists what was saved, by name.
func (s *Store) Filters(ctx context.Context) ([]Filter, error) {
	scan := func(row scanner, f *Filter) error {
		return row.Scan(&f.ID, &f.Name, &f.Query, &f.By, &f.At)
	}
	return list(ctx, s.DB, scan, "SELECT id, name, query, by_name, at FROM saved_filters ORDER BY name LIMIT ?", MostFilters)
}

// SaveFilter keeps a filter under its name. It returns ErrTaken where the name is,
// and ErrInUse where there are as many as there may be.
func (s *Store) SaveFilter(ctx context.Context, f Filter) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := guard(ctx, t, guardFilters); err != nil {
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM saved_filters").Scan(&n); err != nil {
			return err
		}
		if n >= MostFilters {
			return ErrInUse
		}
		_, err := insert(ctx, t, "INSERT INTO saved_filters (name, query, by_name, at) VALUES (?, ?, ?, ?)", f.Name, f.Query, f.By, s.now())
		return err
	})
}

// DropFilter takes a filter away.
func (s *Store) DropFilter(ctx context.Context, id int64) error {
	res, err := s.exec(ctx, "DELETE FROM saved_filters WHERE id = ?", id)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return ErrNotFound
	}
	return nil
}
