package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
)

// ShopList is the rows of one of the shop's lists.
type ShopList struct {
	List string
	Rows []CatalogRow
}

// Shop is what another shop left as open files, but for its units.
type Shop struct {
	Lists   []ShopList
	Parts   []ShopPart // that aren't here yet
	Cards   []Card     // that aren't here yet, in the order of their versions
	Filters []Filter   // that aren't here yet
	By      string
}

// ImportShop takes a shop in, with so many units; all of it or nothing. next reads
// each unit, and may be asked for one again.
func (s *Store) ImportShop(ctx context.Context, in Shop, n int, next func(i int) (Import, error), told func(done int)) error {
	_, err := s.importing(ctx, n, next, told, func(t *sql.Tx) error {
		for _, l := range in.Lists {
			if _, _, err := s.takeCatalog(ctx, t, l.List, l.Rows, in.By, func(int) error { return nil }); err != nil {
				return err
			}
		}
		for _, p := range in.Parts {
			if _, err := insert(ctx, t, "INSERT INTO shop_parts (kind, maker, name, notes, part) VALUES (?, ?, ?, ?, ?)", p.Kind, p.Maker, p.Name, p.Notes, string(p.Part)); err != nil && !errors.Is(err, ErrTaken) {
				return err
			}
		}
		for _, c := range in.Cards {
			if err := takeCard(ctx, t, c); err != nil {
				return err
			}
		}
		for _, f := range in.Filters {
			if _, err := insert(ctx, t, "INSERT INTO saved_filters (name, query, by_name, at) VALUES (?, ?, ?, ?)", f.Name, f.Query, f.By, f.At); err != nil && !errors.Is(err, ErrTaken) {
				return err
			}
		}
		return nil
	})
	return err
}

// takeCard keeps a card of another shop as the next version.
func takeCard(ctx context.Context, t *sql.Tx, c Card) error {
	doc, err := json.Marshal(c.Card)
	if err != nil {
		return err
	}
	if err := guard(ctx, t, guardCards); err != nil {
		return err
	}
	var newest int
	if err := t.QueryRowContext(ctx, "SELECT COALESCE(MAX(version), 0) FROM cards WHERE card = ?", c.Card.ID).Scan(&newest); err != nil {
		return err
	}
	_, err = insert(ctx, t, "INSERT INTO cards (card, version, title, document, by_name, at) VALUES (?, ?, ?, ?, ?, ?)", c.Card.ID, newest+1, c.Card.Title, string(doc), c.By, c.At)
	return err
}

// EveryCard lists every version of every card of the shop's own, oldest first.
func (s *Store) EveryCard(ctx context.Context) ([]Card, error) {
	return list(ctx, s.DB, scanCard, cardColumns+"ORDER BY card, version LIMIT 20000")
}

// UnitNames lists the numbers and names of all units, in the order they were added.
func (s *Store) UnitNames(ctx context.Context) ([]Unit, error) {
	return list(ctx, s.DB, func(row scanner, u *Unit) error { return row.Scan(&u.ID, &u.Name) },
		"SELECT id, name FROM units WHERE staged IS NULL ORDER BY id")
}
