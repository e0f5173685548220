package main

import (
	"context"
	"encoding/json"
	"fmt"

	"zorvel/core/driveline"
	"zorvel/internal/server"
	"zorvel/internal/store"
)

// grow fills a database: one unit is made as a person makes it, the others are its
// copies under their own names.
func grow(ctx context.Context, st *store.Store, s *server.Server, units, readings int) error {
	if err := st.Migrate(ctx); err != nil {
		return err
	}
	first, err := pattern(ctx, st)
	if err != nil {
		return err
	}
	each := readings / units / 2
	for _, q := range []string{
		fmt.Sprintf(`INSERT INTO units (name, kind, notes, created_at, changed_at)
			SELECT CONCAT(ELT(1 + seq %% 5, 'Plow', 'Forwarder', 'Skiff', 'Van', 'Loader'), ' ', seq), ELT(1 + seq %% 4, 'truck', 'van', 'boat', 'car'), CONCAT('harbor row ', seq %% 97),
				'2026-01-01' + INTERVAL seq SECOND, '2026-01-01' + INTERVAL seq SECOND FROM seq_2_to_%d`, units),
		fmt.Sprintf(`INSERT INTO drivelines (unit_id, version, document, states, note, by_name, at)
			SELECT u.id, 1, d.document, d.states, '', 'Oda', u.created_at FROM units u JOIN drivelines d ON d.unit_id = %[1]d WHERE u.id <> %[1]d`, first),
		fmt.Sprintf(`INSERT INTO stages (unit_id, ordinal, name, kind, position, held, input, part, ratio, present)
			SELECT u.id, s.ordinal, s.name, s.kind, s.position, s.held, s.input, s.part, s.ratio, TRUE FROM units u JOIN stages s ON s.unit_id = %[1]d WHERE u.id <> %[1]d`, first),
		// Each unit's two measured ratios; the teeth go with the unit.
		fmt.Sprintf(`INSERT INTO readings (stage_id, method, data, note, blind, by_name, at)
			SELECT s.id, 'teeth', JSON_OBJECT('method', 'teeth', 'teeth', JSON_OBJECT('ring', 37 + s.unit_id %% 11, 'pinion', 9 + s.unit_id %% 3)), '', FALSE, ELT(1 + seq %% 3, 'Oda', 'Ivar', 'Runa'),
				'2026-01-01' + INTERVAL seq MINUTE FROM stages s JOIN seq_1_to_%d WHERE s.kind = 'ring_and_pinion'`, each),
		`INSERT INTO events (unit_id, stage_id, stage, what, text, by_name, at)
			SELECT s.unit_id, s.id, s.name, 'reading', 'Counted ring and pinion', r.by_name, r.at FROM readings r JOIN stages s ON s.id = r.stage_id`,
		`ANALYZE TABLE units, stages, readings, events, drivelines`,
	} {
		if _, err := st.DB.ExecContext(ctx, q); err != nil {
			return fmt.Errorf("%w in %.80s", err, q)
		}
	}
	return s.Reindex(ctx, func(int) {})
}

// pattern is the unit that the others are copies of.
func pattern(ctx context.Context, st *store.Store) (int64, error) {
	for _, l := range driveline.Layouts() {
		if l.ID != "part_time" {
			continue
		}
		blank := l.Document.Blank()
		text, err := json.Marshal(blank)
		if err != nil {
			return 0, err
		}
		d := store.Driveline{Document: text, States: json.RawMessage("[]")}
		return st.AddUnit(ctx, store.Unit{Name: "Plow 1", Kind: "truck"}, d, "Oda")
	}
	return 0, fmt.Errorf("there is no such layout")
}
