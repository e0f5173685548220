package signin

import (
	"context"
	"log/slog"
	"strings"

	"zorvel/api"
	"zorvel/internal/store"
)

// What the owner can look up.
const (
	auditSignedIn    = "signed in"
	auditRefused     = "sign-in refused"
	auditSignedOut   = "signed out"
	auditOwner       = "first owner created"
	auditAdded       = "account added"
	auditChanged     = "account changed"
	auditOwnPassword = "own password changed"
)

// Note adds a line for the owner about whoever is signed in. What it is about has been
// done by then: that it can't be noted is an error for the log, not for the person.
func Note(ctx context.Context, st *store.Store, what, about string) {
	note(ctx, st, Person(ctx), what, about)
}

func note(ctx context.Context, st *store.Store, p *store.Person, what, about string) {
	line := store.AuditLine{What: what, About: about}
	if p != nil {
		line.PersonID, line.Who = p.ID, p.Name
	}
	if from, ok := ctx.Value(callerKey).(caller); ok {
		line.Address = from.address
	}
	if err := st.AddAudit(ctx, line); err != nil {
		slog.ErrorContext(ctx, "noting for the owner", "what", what, "error", err)
	}
}

// changes says what became of an account.
func changes(was, is store.Person, c store.PersonChange) string {
	var parts []string
	if was.Name != is.Name {
		parts = append(parts, "name "+was.Name+" → "+is.Name)
	}
	if was.Role != is.Role {
		parts = append(parts, "role "+was.Role+" → "+is.Role)
	}
	if was.Active != is.Active {
		parts = append(parts, map[bool]string{true: "switched on", false: "switched off"}[is.Active])
	}
	if c.PasswordHash != nil {
		parts = append(parts, "new password")
	}
	if len(parts) == 0 {
		parts = append(parts, "nothing else")
	}
	return is.Name + ": " + strings.Join(parts, ", ")
}

// auditPage is how many lines one answer has.
const auditPage = 100

// GetAudit lists for the owner who signed in, took data out or changed accounts.
func (s *Room) GetAudit(ctx context.Context, r api.GetAuditRequestObject) (api.GetAuditResponseObject, error) {
	lines, err := s.store.AuditLines(ctx, api.Value(r.Params.Before), auditPage+1)
	out := api.GetAudit200JSONResponse{Lines: []api.AuditLine{}, More: len(lines) > auditPage}
	for _, l := range lines[:min(len(lines), auditPage)] {
		out.Lines = append(out.Lines, api.AuditLine{Id: l.ID, At: l.At, Who: l.Who, What: l.What, About: l.About, Address: l.Address})
	}
	return out, err
}
