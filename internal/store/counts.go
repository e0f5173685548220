package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"maps"
)

// CountedTeeth is a standing reading of teeth, and the question of its stage.
type CountedTeeth struct {
	Stage Stage
	Data  json.RawMessage
}

// ListCount is how often the shop's list held what was found in a kind of stage.
type ListCount struct{ Counted, Found int }

// The marks of what the shop's counts say of its lists: listSteps grows where
// verdicts rest on something else since, ListCounts with every count.
const (
	listSteps  = "counted"
	ListCounts = "counts"
)

// MostCounted bounds how many readings of teeth are looked at to judge lists.
const MostCounted = 400

// CountsOfLists tells how often the shop's lists were right, by stage; the mark ListCounts
// grows when that changes.
func (s *Store) CountsOfLists(ctx context.Context) (map[string]ListCount, error) {
	return readListCounts(ctx, s.DB)
}

// TeethMark changes when a reading of teeth is added or struck out, or the list of gear
// sets or what other shops found changes.
func (s *Store) TeethMark(ctx context.Context) (string, error) {
	var mark string
	return mark, s.DB.QueryRowContext(ctx, `SELECT CONCAT(COALESCE((SELECT MAX(id) FROM readings WHERE method = 'teeth'), 0), ' ',
		(SELECT COUNT(*) FROM strikes), ' ',
		(SELECT COALESCE(SUM(mark), 0) FROM catalog_marks WHERE list IN ('gear_sets', 'experience')))`).Scan(&mark)
}

func readListCounts(ctx context.Context, q querier) (map[string]ListCount, error) {
	type row struct {
		stage string
		ListCount
	}
	rows, err := list(ctx, q, func(r scanner, x *row) error {
		return r.Scan(&x.stage, &x.Counted, &x.Found)
	}, "SELECT stage, counted, found FROM list_counts")
	out := make(map[string]ListCount, len(rows))
	for _, x := range rows {
		out[x.stage] = x.ListCount
	}
	return out, err
}

// Recount has judge count the newest standing readings of teeth, newest first, and
// keeps what it says. differs reports whether verdicts rest on another share then.
func (s *Store) Recount(ctx context.Context, judge func([]CountedTeeth) map[string]ListCount,
	differs func(stage string, before, after ListCount) bool) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		// The row is locked first, so that two servers count one after the other.
		if _, err := t.ExecContext(ctx,
			"INSERT INTO catalog_marks (list, mark) VALUES (?, 0) ON DUPLICATE KEY UPDATE mark = mark", ListCounts); err != nil {
			return err
		}
		rows, err := countedTeeth(ctx, t, MostCounted)
		if err != nil {
			return err
		}
		after := judge(rows)
		before, err := readListCounts(ctx, t)
		if err != nil || maps.Equal(before, after) {
			return err
		}
		if _, err := t.ExecContext(ctx, "DELETE FROM list_counts"); err != nil {
			return err
		}
		step := false
		for stage, c := range after {
			if _, err := t.ExecContext(ctx, "INSERT INTO list_counts (stage, counted, found) VALUES (?, ?, ?)", stage, c.Counted, c.Found); err != nil {
				return err
			}
			step = step || differs(stage, before[stage], c)
		}
		for stage, c := range before {
			if _, ok := after[stage]; !ok {
				step = step || differs(stage, c, ListCount{})
			}
		}
		if err := touchList(ctx, t, ListCounts); err != nil || !step {
			return err
		}
		return touchList(ctx, t, listSteps)
	})
}

// CountedTeeth lists the newest standing readings of teeth, newest first.
func (s *Store) CountedTeeth(ctx context.Context, most int) ([]CountedTeeth, error) {
	return countedTeeth(ctx, s.DB, most)
}

func countedTeeth(ctx context.Context, q querier, most int) ([]CountedTeeth, error) {
	return list(ctx, q, func(r scanner, x *CountedTeeth) error {
		return r.Scan(&x.Stage.ID, &x.Stage.Kind, &x.Stage.Position, &x.Stage.Held, &x.Stage.Input, &x.Data)
	}, `SELECT s.id, s.kind, s.position, s.held, s.input, r.data FROM readings r JOIN stages s ON s.id = r.stage_id
		LEFT JOIN strikes x ON x.reading_id = r.id WHERE r.method = 'teeth' AND x.reading_id IS NULL ORDER BY r.id DESC LIMIT ?`, most)
}
