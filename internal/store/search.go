package store

import (
	"context"
	"database/sql"
	"strings"
	"time"

	"zorvel/core/find"
)

// Stale is a unit that changed since what it is found by was made.
type Stale struct {
	ID        int64
	ChangedAt time.Time
}

// StaleSearch lists units that changed since, or were never made, the newest
// first.
func (s *Store) StaleSearch(ctx context.Context, most int) ([]Stale, error) {
	return list(ctx, s.DB, func(row interface{ Scan(...any) error }, x *Stale) error { return row.Scan(&x.ID, &x.ChangedAt) },
		"SELECT u.id, u.changed_at FROM units u LEFT JOIN search_docs d ON d.unit_id = u.id WHERE d.unit_id IS NULL OR d.made_from <> u.changed_at ORDER BY u.changed_at DESC LIMIT ?", most)
}

// PutSearch keeps what a unit is found by, as it was at a time.
func (s *Store) PutSearch(ctx context.Context, x Stale, name, body string) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		if err := lockUnit(ctx, t, x.ID); err != nil {
			return err
		}
		_, err := t.ExecContext(ctx, "REPLACE INTO search_docs (unit_id, made_from, name, body) VALUES (?, ?, ?, ?)", x.ID, x.ChangedAt, name, body)
		return err
	})
}

// ClearSearch takes everything away, so that it is made anew.
func (s *Store) ClearSearch(ctx context.Context) error {
	_, err := s.DB.ExecContext(ctx, "DELETE FROM search_docs")
	return err
}

// Found lists units by what was sought, the likeliest first, at most 200: every word
// begins one of the unit's, a word of its name counts three times.
func (s *Store) Found(ctx context.Context, q find.Sought) ([]Unit, error) {
	if q.None() {
		return []Unit{}, nil
	}
	where, order := []string{}, ""
	var args, ranks []any
	if len(q.Words) > 0 {
		// Words are letters and digits alone, so nothing in them means anything else here.
		words := "+" + strings.Join(q.Words, "* +") + "*"
		any := strings.Join(q.Words, "* ") + "*"
		where = append(where, "MATCH (d.name, d.body) AGAINST (? IN BOOLEAN MODE)")
		args = append(args, words)
		order = "MATCH (d.name, d.body) AGAINST (? IN BOOLEAN MODE) + 3 * MATCH (d.name) AGAINST (? IN BOOLEAN MODE) DESC, "
		ranks = append(ranks, any, any)
	}
	for _, w := range q.Short {
		where = append(where, "(d.name LIKE ? OR d.name LIKE ?)")
		args = append(args, w+"%", "% "+w+"%")
	}
	ids, err := list(ctx, s.DB, func(row interface{ Scan(...any) error }, id *int64) error { return row.Scan(id) },
		"SELECT d.unit_id FROM search_docs d JOIN units u ON u.id = d.unit_id WHERE "+strings.Join(where, " AND ")+" ORDER BY "+order+"u.changed_at DESC LIMIT 200", append(args, ranks...)...)
	if err != nil || len(ids) == 0 {
		return []Unit{}, err
	}
	return s.unitsOf(ctx, ids)
}

// unitsOf are units with their stages, in the order of their numbers given.
func (s *Store) unitsOf(ctx context.Context, ids []int64) ([]Unit, error) {
	args := make([]any, len(ids))
	at := make(map[int64]int, len(ids))
	for i, id := range ids {
		args[i], at[id] = id, i
	}
	some := "(?" + strings.Repeat(", ?", len(ids)-1) + ")"
	units, err := list(ctx, s.DB, scanUnit, "SELECT "+unitColumns+" FROM units WHERE id IN "+some, args...)
	if err != nil {
		return nil, err
	}
	out := make([]Unit, len(ids))
	for _, u := range units {
		out[at[u.ID]] = u
	}
	stages, err := list(ctx, s.DB, scanStage, "SELECT "+stageColumns+stageTables+"WHERE s.unit_id IN "+some+" GROUP BY s.id ORDER BY s.unit_id, s.ordinal, s.id", args...)
	for _, v := range stages {
		u := &out[at[v.UnitID]]
		u.Stages = append(u.Stages, v)
	}
	return out, err
}
