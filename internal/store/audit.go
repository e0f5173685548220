package store

import (
	"context"
	"time"
)

// AuditLine is one thing that the owner may want to look up: a sign-in, an export, a
// change of an account. Lines are added and never changed.
type AuditLine struct {
	ID       int64
	At       time.Time
	PersonID int64
	Who      string
	What     string
	About    string
	Address  string
}

// auditYears is how long lines are kept.
const auditYears = 2

const auditColumns = "id, at, person_id, who, what, about, address"

func scanAudit(r scanner, a *AuditLine) error {
	return r.Scan(&a.ID, &a.At, &a.PersonID, &a.Who, &a.What, &a.About, &a.Address)
}

// AddAudit adds a line at the store's time, and drops a few that are older than two years.
func (s *Store) AddAudit(ctx context.Context, a AuditLine) error {
	now := s.now()
	if _, err := s.DB.ExecContext(ctx,
		"INSERT INTO audit (at, person_id, who, what, about, address) VALUES (?, ?, LEFT(?, 200), ?, LEFT(?, 400), "+
			"LEFT(?, 64))",
		now, a.PersonID, a.Who, a.What, a.About, a.Address); err != nil {
		return err
	}
	_, err := s.exec(ctx, "DELETE FROM audit WHERE at < ? ORDER BY at LIMIT 100", now.AddDate(-auditYears, 0, 0))
	return err
}

// AuditLines are the newest lines, or those before one, at most n.
func (s *Store) AuditLines(ctx context.Context, before int64, n int) ([]AuditLine, error) {
	where, args := "", []any{n}
	if before > 0 {
		where, args = "WHERE id < ? ", []any{before, n}
	}
	return list(ctx, s.DB, scanAudit, "SELECT "+auditColumns+" FROM audit "+where+"ORDER BY id DESC LIMIT ?", args...)
}
