package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"
)

// Experience is a file of what another shop found.
type Experience struct {
	ID     int64
	Shop   string
	Number int64
	File   json.RawMessage
	By     string
	At     time.Time
}

// ExperienceMark is the counter that grows when other shops' files come or go.
const ExperienceMark = "experience"

// ErrOlder is returned for a file of a shop that gave a newer one.
var ErrOlder = errors.New("a newer one is here")

// Experiences lists other shops' files in the order in which the shops came.
func (s *Store) Experiences(ctx context.Context) ([]Experience, error) {
	return list(ctx, s.DB, func(r scanner, x *Experience) error {
		return r.Scan(&x.ID, &x.Shop, &x.Number, &x.File, &x.By, &x.At)
	}, "SELECT id, shop, number, file, by_name, at FROM experience ORDER BY id")
}

// TakeExperience keeps a shop's file in place of its older one. It returns ErrOlder where a
// newer one is here, and ErrFull where there are most shops already.
func (s *Store) TakeExperience(ctx context.Context, x Experience, most int) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := touchList(ctx, t, ExperienceMark); err != nil { // whoever changes them, one after the other
			return err
		}
		var number int64
		switch err := t.QueryRowContext(ctx, "SELECT number FROM experience WHERE shop = ?", x.Shop).Scan(&number); {
		case err == nil && number > x.Number:
			return ErrOlder
		case err == nil:
			_, err := t.ExecContext(ctx,
				"UPDATE experience SET number = ?, file = ?, by_name = ?, at = ? WHERE shop = ?", x.Number, string(x.File), x.By, s.now(), x.Shop)
			return err
		case !errors.Is(err, sql.ErrNoRows):
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM experience").Scan(&n); err != nil {
			return err
		}
		if n >= most {
			return ErrFull
		}
		_, err := insert(ctx, t, "INSERT INTO experience (shop, number, file, by_name, at) VALUES (?, ?, ?, ?, ?)",
			x.Shop, x.Number, string(x.File), x.By, s.now())
		return err
	})
}

// DropExperience takes a shop's file out.
func (s *Store) DropExperience(ctx context.Context, id int64) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := touchList(ctx, t, ExperienceMark); err != nil {
			return err
		}
		res, err := t.ExecContext(ctx, "DELETE FROM experience WHERE id = ?", id)
		if err != nil {
			return err
		}
		n, err := res.RowsAffected()
		if err == nil && n == 0 {
			err = ErrNotFound
		}
		return err
	})
}

// Own is the mark of this shop, and a number that grows with what it knows: readings,
// decisions and strikes are only added.
func (s *Store) Own(ctx context.Context) (shop string, number int64, err error) {
	err = s.DB.QueryRowContext(ctx, `SELECT shop, COALESCE((SELECT MAX(id) FROM readings), 0) + COALESCE((SELECT MAX(id) FROM decisions), 0)
		+ (SELECT COUNT(*) FROM strikes) FROM shop_mark WHERE id = 1`).Scan(&shop, &number)
	return shop, number, err
}
