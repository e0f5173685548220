package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strings"
)

// Roles of people.
const (
	Owner      = "owner"
	Technician = "technician"
	Viewer     = "viewer"
)

// Person is someone with an account.
type Person struct {
	ID           int64
	SignIn       string
	Name         string
	Role         string
	PasswordHash string
	Active       bool
	Era          int   // raised when the account is switched off
	Version      int64 // raised by every change
}

const personColumns = "id, sign_in, name, role, password_hash, active, era, version"

func scanPerson(row scanner, p *Person) error {
	return row.Scan(&p.ID, &p.SignIn, &p.Name, &p.Role, &p.PasswordHash, &p.Active, &p.Era, &p.Version)
}

// HasOwner reports whether an account exists.
func (s *Store) HasOwner(ctx context.Context) (bool, error) {
	var n int
	err := s.DB.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM people WHERE role = 'owner')").Scan(&n)
	return n == 1, err
}

// CreateOwner adds the first account. It returns ErrTaken once an owner
// exists, also when two try at once.
func (s *Store) CreateOwner(ctx context.Context, p Person) (Person, error) {
	p.Role, p.Active = Owner, true
	err := s.tx(ctx, func(t *sql.Tx) error {
		if err := guard(ctx, t, guardPeople); err != nil {
			return err
		}
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM people").Scan(&n); err != nil {
			return err
		}
		if n > 0 {
			return ErrTaken
		}
		var err error
		p.ID, err = s.addPerson(ctx, t, p)
		return err
	})
	return p, err
}

// AddPerson adds an account; ErrTaken if the sign-in name is used.
func (s *Store) AddPerson(ctx context.Context, p Person) (Person, error) {
	p.Active = true
	var err error
	p.ID, err = s.addPerson(ctx, s.DB, p)
	return p, err
}

func (s *Store) addPerson(ctx context.Context, q querier, p Person) (int64, error) {
	return insert(ctx, q, "INSERT INTO people (sign_in, name, role, password_hash, active, created_at) VALUES (?, ?, ?, ?, ?, ?)",
		p.SignIn, p.Name, p.Role, p.PasswordHash, p.Active, s.now())
}

// People lists all accounts by name.
func (s *Store) People(ctx context.Context) ([]Person, error) {
	return list(ctx, s.DB, scanPerson, "SELECT "+personColumns+" FROM people ORDER BY name, id LIMIT 500")
}

// Person returns one account.
func (s *Store) Person(ctx context.Context, id int64) (Person, error) {
	var p Person
	err := scanPerson(s.DB.QueryRowContext(ctx, "SELECT "+personColumns+" FROM people WHERE id = ?", id), &p)
	return p, oneRow(err)
}

// PersonBySignIn returns one account by its sign-in name.
func (s *Store) PersonBySignIn(ctx context.Context, signIn string) (Person, error) {
	var p Person
	err := scanPerson(s.DB.QueryRowContext(ctx, "SELECT "+personColumns+" FROM people WHERE sign_in = ?", signIn), &p)
	return p, oneRow(err)
}

// PersonChange is what is to be changed of an account; what is nil stays as it is,
// whatever others change of it meanwhile.
type PersonChange struct {
	Version      *int64 // that was seen; nil where it doesn't matter
	Name         *string
	Role         *string
	Active       *bool
	PasswordHash *string
}

// ChangePerson changes an account and returns it as it was and as it is then. The last active
// owner can neither step down nor be switched off: that is ErrInUse. It returns
// ErrChanged where someone else changed the version that was seen.
func (s *Store) ChangePerson(ctx context.Context, id int64, c PersonChange) (was, p Person, err error) {
	err = s.tx(ctx, func(t *sql.Tx) error {
		// One change of an account at a time, so that no two owners step down at once.
		if err := guard(ctx, t, guardPeople); err != nil {
			return err
		}
		owners, err := list(ctx, t, scanID, "SELECT id FROM people WHERE role = 'owner' AND active ORDER BY id")
		if err != nil {
			return err
		}
		if err := scanPerson(t.QueryRowContext(ctx, "SELECT "+personColumns+" FROM people WHERE id = ? FOR UPDATE", id), &p); err != nil {
			return oneRow(err)
		}
		was = p
		if c.Version != nil && *c.Version != p.Version {
			return ErrChanged
		}
		set := []string{"version = version + 1"}
		var args []any
		change := func(column string, value any) { set, args = append(set, column+" = ?"), append(args, value) }
		if c.Name != nil {
			p.Name = *c.Name
			change("name", p.Name)
		}
		if c.Role != nil {
			p.Role = *c.Role
			change("role", p.Role)
		}
		if c.PasswordHash != nil {
			p.PasswordHash = *c.PasswordHash
			change("password_hash", p.PasswordHash)
		}
		if c.Active != nil {
			if p.Active && !*c.Active {
				p.Era++
			}
			p.Active = *c.Active
			change("active", p.Active)
			change("era", p.Era)
		}
		others := slices.ContainsFunc(owners, func(o int64) bool { return o != id })
		if !others && (p.Role != Owner || !p.Active) {
			return fmt.Errorf("the last owner: %w", ErrInUse)
		}
		p.Version++
		_, err = t.ExecContext(ctx, "UPDATE people SET "+strings.Join(set, ", ")+" WHERE id = ?", append(args, id)...)
		return err
	})
	return was, p, err
}

// SetPassword puts a new hash in the place of the one that was seen;
// ErrChanged where it is another by now.
func (s *Store) SetPassword(ctx context.Context, id int64, seen, hash string) error {
	res, err := s.exec(ctx, "UPDATE people SET password_hash = ?, version = version + 1 WHERE id = ? AND password_hash = ?", hash, id, seen)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n != 1 {
		return errors.Join(ErrChanged, err)
	}
	return nil
}
