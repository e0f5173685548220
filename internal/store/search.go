package store

import (
	"cmp"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"slices"
	"strings"
	"time"

	"zorvel/core/find"
	"zorvel/core/say"
)

// What units are found and filtered by is a projection: it says from which change of
// the unit, and of which state of the shop's lists, it was made, and is made anew
// where either moved on. Both are counters.

// Stale is a unit that changed since what it is found by was made.
type Stale struct {
	ID    int64
	Rev   int64 // how often it was written to
	Lists int64 // the state of the shop's lists, see ListsMark
}

// Found is what a unit is found and filtered by.
type Found struct {
	Name, Body string
	Facts      []Fact
}

// Fact is something to filter by; see the constants.
type Fact struct{ What, Value string }

// What a fact may be. Due says from which day on something is overdue, soon
// from which day on it is to be thought of, both as 2006-01-02.
const (
	FactRatio  = "ratio"
	FactState  = "state"
	FactFamily = "family"
	FactDue    = "due"
	FactSoon   = "soon"
)

// ListsMark grows whenever one of the shop's lists changes that verdicts and what is
// due rest on, or what its counts have earned one.
func (s *Store) ListsMark(ctx context.Context) (int64, error) {
	var mark int64
	return mark, s.DB.QueryRowContext(ctx, `SELECT COALESCE(SUM(mark), 0) FROM catalog_marks
		WHERE list IN ('gear_sets', 'service_rules', 'counted', 'experience')`).Scan(&mark)
}

// StaleSearch lists units that changed since, or were never made, the newest
// first.
func (s *Store) StaleSearch(ctx context.Context, lists int64, most int) ([]Stale, error) {
	scan := func(row scanner, x *Stale) error {
		x.Lists = lists
		return row.Scan(&x.ID, &x.Rev)
	}
	return list(ctx, s.DB, scan, staleUnits, most, lists, most, most)
}

// staleUnits reads through an index what changed since, and through another what
// rests on an earlier state of the lists.
const staleUnits = `SELECT id, rev FROM (
	(SELECT id, rev, changed_at FROM units WHERE stale = 1 AND staged IS NULL ORDER BY changed_at DESC LIMIT ?)
	UNION (SELECT id, rev, changed_at FROM units WHERE found_lists < ? AND staged IS NULL ORDER BY found_lists, changed_at LIMIT ?)
	) AS behind ORDER BY changed_at DESC LIMIT ?`

// PutSearch keeps what a unit is found by, as it was at a revision; what was made
// from a newer one stays. aside says why it could not be made; nothing where it
// could.
func (s *Store) PutSearch(ctx context.Context, x Stale, f Found, aside string) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		var rev, lists int64
		if err := t.QueryRowContext(ctx, "SELECT found_rev, found_lists FROM units WHERE id = ? FOR UPDATE", x.ID).Scan(&rev, &lists); err != nil {
			return oneRow(err)
		}
		if rev > x.Rev || rev == x.Rev && lists > x.Lists {
			return nil // another server was quicker
		}
		if _, err := t.ExecContext(ctx, "REPLACE INTO search_docs (unit_id, name, body) VALUES (?, ?, ?)", x.ID, f.Name, f.Body); err != nil {
			return err
		}
		if _, err := t.ExecContext(ctx, "UPDATE units SET found_rev = ?, found_lists = ?, set_aside = ? WHERE id = ?", x.Rev, x.Lists, say.Clip(aside, 390), x.ID); err != nil {
			return err
		}
		if _, err := t.ExecContext(ctx, "DELETE FROM unit_facts WHERE unit_id = ?", x.ID); err != nil || len(f.Facts) == 0 {
			return err
		}
		var args []any
		for _, y := range f.Facts {
			args = append(args, x.ID, y.What, y.Value)
		}
		_, err := t.ExecContext(ctx, "INSERT IGNORE INTO unit_facts (unit_id, what, value) VALUES (?, ?, ?)"+strings.Repeat(", (?, ?, ?)", len(f.Facts)-1), args...)
		return err
	})
}

// ClearSearch takes everything away that is made from the records, so that it is
// made anew.
func (s *Store) ClearSearch(ctx context.Context) error {
	for _, q := range []string{"DELETE FROM search_docs", "DELETE FROM unit_facts", "DELETE FROM verdicts", "UPDATE units SET found_rev = 0, found_lists = -1"} {
		if _, err := s.exec(ctx, q); err != nil {
			return err
		}
	}
	return nil
}

// Aside is a unit that what it is found by could not be made of, and why.
type Aside struct {
	ID   int64
	Name string
	Why  string
}

// SetAside lists units that could not be read when they were to be made findable,
// at most so many.
func (s *Store) SetAside(ctx context.Context, most int) ([]Aside, error) {
	scan := func(row scanner, x *Aside) error { return row.Scan(&x.ID, &x.Name, &x.Why) }
	return list(ctx, s.DB, scan, "SELECT id, name, set_aside FROM units WHERE set_aside > '' ORDER BY name, id LIMIT ?", most)
}

// KeptVerdict is a verdict in short with the mark of the evidence it came from.
type KeptVerdict struct {
	Stage    int64
	Evidence string
	Verdict  json.RawMessage
}

// Verdicts returns what is kept of stages.
func (s *Store) Verdicts(ctx context.Context, stages []int64) ([]KeptVerdict, error) {
	if len(stages) == 0 {
		return nil, nil
	}
	some, args := among(stages)
	scan := func(row scanner, v *KeptVerdict) error {
		return row.Scan(&v.Stage, &v.Evidence, &v.Verdict)
	}
	return list(ctx, s.DB, scan, "SELECT stage_id, evidence, verdict FROM verdicts WHERE stage_id IN "+some, args...)
}

// PutVerdicts keeps verdicts; those of other evidence give way. They are written
// in the order of their stages, so that servers that keep the same ones wait for
// each other and never in a circle.
func (s *Store) PutVerdicts(ctx context.Context, made []KeptVerdict) error {
	if len(made) == 0 {
		return nil
	}
	made = slices.SortedFunc(slices.Values(made), func(a, b KeptVerdict) int { return cmp.Compare(a.Stage, b.Stage) })
	var args []any
	for _, v := range made {
		args = append(args, v.Stage, v.Evidence, string(v.Verdict))
	}
	return s.tx(ctx, func(t *sql.Tx) error {
		_, err := t.ExecContext(ctx, "INSERT INTO verdicts (stage_id, evidence, verdict) VALUES (?, ?, ?)"+strings.Repeat(", (?, ?, ?)", len(made)-1)+
			" ON DUPLICATE KEY UPDATE evidence = VALUES(evidence), verdict = VALUES(verdict)", args...)
		return err
	})
}

// The orders of a list of units.
const (
	ByChange = "changed" // last worked on first
	ByName   = "name"
	ByAdded  = "added" // newest first
	ByMatch  = "match" // the likeliest first, where words were sought
)

// MostListed is how many units are listed at once.
const MostListed = 200

// Asked is which units to list. What is empty filters nothing.
type Asked struct {
	Words    find.Sought // each begins a word of the unit's
	Name     string      // stands in the unit's name
	Kind     string
	State    string // of one of its ratios
	Ratio    string // label of one of its ratios
	Family   string // of one of its parts
	Due      string // FactDue or FactSoon, on the day
	Day      time.Time
	Archived bool // those that were put away, in the place of the others
	Order    string
	Skip     int
	Most     int // up to MostListed; that, where it is zero
	// Leads are the kinds of ratio that are listed with a unit though nothing was measured
	// of them; all kinds, where it is empty.
	Leads []string
}

// query is the part of a statement that says which units, and in which order.
func (q Asked) query() (from, order string, args, ranks []any) {
	var b strings.Builder
	b.WriteString(" FROM units u")
	where := []string{"u.archived_at IS NULL"}
	if q.Archived {
		where[0] = "u.archived_at IS NOT NULL AND u.staged IS NULL"
	}
	also := func(cond string, a ...any) { where, args = append(where, cond), append(args, a...) }
	for _, f := range []Fact{{FactRatio, q.Ratio}, {FactState, q.State}, {FactFamily, q.Family}} {
		if f.Value != "" {
			also("u.id IN (SELECT unit_id FROM unit_facts WHERE what = ? AND value = ?)", f.What, f.Value)
		}
	}
	if q.Due != "" {
		also("u.id IN (SELECT unit_id FROM unit_facts WHERE what = ? AND value <= ?)", q.Due, q.Day.Format(time.DateOnly))
	}
	if q.Kind != "" {
		also("u.kind = ?", q.Kind)
	}
	if q.Name != "" {
		also("u.name LIKE ?", "%"+strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(q.Name)+"%")
	}
	if !q.Words.None() {
		b.WriteString(" JOIN search_docs d ON d.unit_id = u.id")
	}
	var all []string // words are letters and digits alone, so nothing in them means anything else here
	for _, w := range q.Words.Words {
		all = append(all, "+"+w+"*")
	}
	for _, w := range q.Words.Short {
		if len(q.Words.Words) == 0 && strings.Trim(w, "0123456789") == "" {
			// A number by itself is one of a name; every record has many.
			also("d.name REGEXP ?", `(^|[^\p{L}\p{N}])`+w)
			continue
		}
		// It begins a longer word, or is a short one.
		all = append(all, "+("+w+"* "+find.Brief(w)+"*)")
	}
	if len(all) > 0 {
		also("MATCH (d.name, d.body) AGAINST (? IN BOOLEAN MODE)", strings.Join(all, " "))
	}
	if w := q.Words.Words; len(w) > 0 {
		any := strings.Join(w, "* ") + "*"
		if q.Order == ByMatch {
			order = "MATCH (d.name, d.body) AGAINST (? IN BOOLEAN MODE) + 3 * MATCH (d.name) AGAINST (? IN BOOLEAN MODE) DESC, "
			ranks = append(ranks, any, any)
		}
	}
	b.WriteString(" WHERE " + strings.Join(where, " AND "))
	switch q.Order {
	case ByName:
		order = "u.name, u.id"
	case ByAdded:
		order = "u.created_at DESC, u.id DESC"
	default:
		order += "u.changed_at DESC, u.id DESC"
	}
	return b.String(), order, args, ranks
}

// Units lists units with their stages, and says how many there are of them in all.
func (s *Store) Units(ctx context.Context, q Asked) ([]Unit, int, error) {
	if q.Most <= 0 || q.Most > MostListed {
		q.Most = MostListed
	}
	ids, total, err := s.unitIDs(ctx, q)
	if err != nil || len(ids) == 0 {
		return []Unit{}, total, err
	}
	units, err := s.unitsOf(ctx, ids, q.Leads)
	return units, total, err
}

// unitIDs are the units of a page, and how many there are in all.
func (s *Store) unitIDs(ctx context.Context, q Asked) (ids []int64, total int, err error) {
	from, order, args, ranks := q.query()
	count := func() (n int, err error) {
		err = s.DB.QueryRowContext(ctx, "SELECT COUNT(*)"+from, args...).Scan(&n)
		return n, err
	}
	paged := append(append(slices.Clone(args), ranks...), q.Most, q.Skip)
	if !q.Words.None() {
		// Words are looked up once for both.
		ids, err = list(ctx, s.DB, func(row scanner, id *int64) error { return row.Scan(id, &total) },
			"SELECT u.id, COUNT(*) OVER ()"+from+" ORDER BY "+order+" LIMIT ? OFFSET ?", paged...)
		if err == nil && len(ids) == 0 && q.Skip > 0 {
			total, err = count()
		}
		return ids, total, err
	}
	if q.all() {
		total, err = s.countUnits(ctx, q.Archived, count)
	} else {
		total, err = count()
	}
	if err != nil || total == 0 {
		return nil, 0, err
	}
	ids, err = list(ctx, s.DB, func(row scanner, id *int64) error { return row.Scan(id) },
		"SELECT u.id"+from+" ORDER BY "+order+" LIMIT ? OFFSET ?", paged...)
	return ids, total, err
}

// all is whether nothing is filtered.
func (q Asked) all() bool {
	return q.Words.None() && q.Name == "" && q.Kind == "" && q.State == "" && q.Ratio == "" && q.Family == "" &&
		q.Due == ""
}

// total is a count, and the state of the counter of whatever adds, archives or shows units.
type total struct {
	mark int64
	n    int
}

// countUnits counts all units again only where that may have changed.
func (s *Store) countUnits(ctx context.Context, archived bool, count func() (int, error)) (int, error) {
	var mark int64
	err := s.DB.QueryRowContext(ctx, "SELECT n FROM guards WHERE name = ?", guardUnits).Scan(&mark)
	if err != nil && !errors.Is(err, sql.ErrNoRows) { // no unit was added yet
		return 0, err
	}
	if kept, ok := s.totals.Load(archived); ok && kept.(total).mark == mark {
		return kept.(total).n, nil
	}
	n, err := count()
	if err == nil {
		s.totals.Store(archived, total{mark, n})
	}
	return n, err
}

// Counted is a fact with the number of units that have it.
type Counted struct {
	Fact
	Units int
}

// FilterBy lists ratios and families with how many units have each, the commonest
// first.
func (s *Store) FilterBy(ctx context.Context, what string) ([]Counted, error) {
	scan := func(row scanner, c *Counted) error {
		return row.Scan(&c.What, &c.Value, &c.Units)
	}
	return list(ctx, s.DB, scan, "SELECT what, value, COUNT(*) AS n FROM unit_facts WHERE what = ? GROUP BY what, value ORDER BY n DESC, value LIMIT 200", what)
}

// among is a list of numbers for IN, with its arguments.
func among(ids []int64) (string, []any) {
	args := make([]any, len(ids))
	for i, id := range ids {
		args[i] = id
	}
	return "(?" + strings.Repeat(", ?", len(ids)-1) + ")", args
}

// unitsOf are units with their stages, in the order of their numbers given.
func (s *Store) unitsOf(ctx context.Context, ids []int64, leads []string) ([]Unit, error) {
	some, args := among(ids)
	at := make(map[int64]int, len(ids))
	for i, id := range ids {
		at[id] = i
	}
	units, err := list(ctx, s.DB, scanUnit, "SELECT "+unitColumns+" FROM units WHERE id IN "+some, args...)
	if err != nil {
		return nil, err
	}
	out := make([]Unit, len(ids))
	for _, u := range units {
		out[at[u.ID]] = u
	}
	which := ""
	if len(leads) > 0 {
		which = "AND (s.taken > 0 OR s.kind IN (?" + strings.Repeat(", ?", len(leads)-1) + ")) "
		for _, k := range leads {
			args = append(args, k)
		}
	}
	stages, err := list(ctx, s.DB, scanStage,
		"SELECT "+stageColumns+stageTables+"WHERE s.unit_id IN "+some+" "+which+"ORDER BY s.unit_id, s.ordinal, s.id", args...)
	for _, v := range stages {
		u := &out[at[v.UnitID]]
		u.Stages = append(u.Stages, v)
	}
	return out, err
}
