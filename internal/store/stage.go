package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"fmt"
	"time"
)

// unseen is when a staged unit is put away: so no list of units shows it, by the
// indexes that they have.
var unseen = time.Date(9000, 1, 1, 0, 0, 0, 0, time.UTC)

// staging is an import under way. It is this program's for as long as it holds the
// import's lease; what another left is taken out by whoever finds it.
type staging struct {
	s     *Store
	id    int64
	token string
	lease *Lease
	at    time.Time
	// away are the units that were put away where they come from, with when and by whom.
	away map[int64]Unit
}

func leaseOfImport(token string) string { return "import " + token }

// stage begins an import.
func (s *Store) stage(ctx context.Context) (*staging, error) {
	if err := s.SweepImports(ctx); err != nil {
		return nil, err
	}
	g := &staging{s: s, token: rand.Text(), at: s.now(), away: map[int64]Unit{}}
	// The lease is held before the import is there: nobody finds one without.
	var err error
	if g.lease, err = s.TryLease(ctx, leaseOfImport(g.token)); err != nil {
		return nil, err
	}
	err = s.tx(ctx, func(t *sql.Tx) error {
		g.id, err = insert(ctx, t, "INSERT INTO imports (token, at) VALUES (?, ?)", g.token, g.at)
		return err
	})
	if err != nil {
		g.end(ctx)
		return nil, err
	}
	return g, nil
}

// units puts so many units in, each by itself.
func (g *staging) units(ctx context.Context, n int, next func(i int) (Import, error), told func(done int)) ([]int64, error) {
	ids := make([]int64, 0, n)
	for i := range n {
		if err := context.Cause(g.lease.Lost()); err != nil {
			return nil, err
		}
		in, err := next(i)
		if err != nil {
			return nil, err
		}
		if in.Told != "" {
			in = in.mark(in.By, g.at)
		}
		id, err := g.unit(ctx, in)
		if err != nil {
			return nil, err
		}
		ids = append(ids, id)
		told(i + 1)
	}
	return ids, nil
}

// unit puts one unit in without its pictures and sounds, and then each of those.
func (g *staging) unit(ctx context.Context, in Import) (int64, error) {
	var id int64
	var of placed
	err := g.s.tx(ctx, func(t *sql.Tx) error {
		var err error
		if id, of, err = g.s.importUnit(ctx, t, in, g.at); err != nil {
			return err
		}
		_, err = t.ExecContext(ctx, "UPDATE units SET staged = ?, archived_at = ? WHERE id = ?", g.id, unseen, id)
		return err
	})
	if err != nil {
		return 0, err
	}
	if in.Unit.Archived != nil {
		g.away[id] = in.Unit
	}
	for i, p := range in.Photos {
		if err := g.s.tx(ctx, func(t *sql.Tx) error { return p.put(ctx, t, id, i, of) }); err != nil {
			return 0, err
		}
	}
	for i, r := range in.Heard {
		if err := g.s.tx(ctx, func(t *sql.Tx) error { return r.put(ctx, t, id, i) }); err != nil {
			return 0, err
		}
	}
	return id, nil
}

// show lets everyone see what was put in, with what also puts in beside it.
func (g *staging) show(ctx context.Context, also func(*sql.Tx) error) error {
	err := g.s.tx(ctx, func(t *sql.Tx) error {
		// Who swept it away, taking this program for gone, took the row along.
		res, err := t.ExecContext(ctx, "DELETE FROM imports WHERE id = ?", g.id)
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return errors.Join(errors.New("the import stopped answering and was undone: start it over"), err)
		}
		if err := errors.Join(guard(ctx, t, guardUnits), also(t)); err != nil {
			return err
		}
		if _, err := t.ExecContext(ctx, "UPDATE units SET staged = NULL, archived_at = NULL, rev = rev + 1 WHERE staged = ?", g.id); err != nil {
			return err
		}
		for id, u := range g.away {
			if _, err := t.ExecContext(ctx, "UPDATE units SET archived_at = ?, archived_by = ? WHERE id = ?", *u.Archived, u.Away, id); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	g.end(ctx)
	return nil
}

// end gives the import's lease back and forgets it.
func (g *staging) end(ctx context.Context) {
	g.lease.End()
	_, _ = g.s.exec(context.WithoutCancel(ctx), "DELETE FROM leases WHERE name = ? AND holder = ''", leaseOfImport(g.token))
}

// drop takes out what was put in.
func (g *staging) drop(ctx context.Context) error {
	err := g.s.takeOut(ctx, g.id)
	g.end(ctx)
	return err
}

// SweepImports takes out what imports left that were cut off.
func (s *Store) SweepImports(ctx context.Context) error {
	left, err := list(ctx, s.DB, func(r scanner, g *staging) error { return r.Scan(&g.id, &g.token) },
		"SELECT id, token FROM imports ORDER BY id LIMIT 50")
	if err != nil {
		return err
	}
	for _, g := range left {
		l, err := s.TryLease(ctx, leaseOfImport(g.token))
		if errors.Is(err, ErrHeld) {
			continue
		}
		if err != nil {
			return err
		}
		g.s, g.lease = s, l
		if err := g.drop(ctx); err != nil {
			return err
		}
	}
	return nil
}

// byUnit are the tables of a unit, each before what it names; how its rows are found.
var byUnit = []struct{ table, where string }{
	{"recording_sounds", "recording_id IN (SELECT id FROM recordings WHERE unit_id = ?)"},
	{"recordings", "unit_id = ?"},
	{"photo_blobs", "photo_id IN (SELECT id FROM photos WHERE unit_id = ?)"},
	{"photos", "unit_id = ?"},
	{"card_entries", "run_id IN (SELECT id FROM card_runs WHERE unit_id = ?)"},
	{"card_runs", "unit_id = ?"},
	{"work_entries", "unit_id = ?"},
	{"jobs", "unit_id = ?"},
	{"decisions", "unit_id = ?"},
	{"strikes", "reading_id IN (SELECT r.id FROM readings r JOIN stages s ON s.id = r.stage_id WHERE s.unit_id = ?)"},
	{"readings", "stage_id IN (SELECT id FROM stages WHERE unit_id = ?)"},
	{"verdicts", "stage_id IN (SELECT id FROM stages WHERE unit_id = ?)"},
	{"events", "unit_id = ?"},
	{"stages", "unit_id = ?"},
	{"fittings", "unit_id = ?"},
	{"drivelines", "unit_id = ?"},
	{"search_docs", "unit_id = ?"},
	{"unit_facts", "unit_id = ?"},
	{"units", "id = ? AND staged IS NOT NULL"},
}

// takeOutAtOnce bounds the rows that one statement takes out.
const takeOutAtOnce = 500

// takeOut removes the units of an import that nobody ever saw.
func (s *Store) takeOut(ctx context.Context, id int64) error {
	units, err := list(ctx, s.DB, scanID, "SELECT id FROM units WHERE staged = ?", id)
	if err != nil {
		return err
	}
	for _, u := range units {
		for _, x := range byUnit {
			for {
				res, err := s.exec(ctx, fmt.Sprintf("DELETE FROM %s WHERE %s LIMIT %d", x.table, x.where, takeOutAtOnce), u)
				if err != nil {
					return fmt.Errorf("taking out what an import left (%s): %w", x.table, err)
				}
				if n, err := res.RowsAffected(); err != nil || n < takeOutAtOnce {
					break
				}
			}
		}
	}
	_, err = s.exec(ctx, "DELETE FROM imports WHERE id = ?", id)
	return err
}
