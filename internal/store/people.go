package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
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
	Era          int // raised when the account is switched off
}

const personColumns = "id, sign_in, name, role, password_hash, active, era"

func scanPerson(row interface{ Scan(...any) error }, p *Person) error {
	return row.Scan(&p.ID, &p.SignIn, &p.Name, &p.Role, &p.PasswordHash, &p.Active, &p.Era)
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
	// One statement decides: under a lock on the table's range no second
	// owner can come in between.
	err := s.tx(ctx, func(t *sql.Tx) error {
		var n int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM people FOR UPDATE").Scan(&n); err != nil {
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

// ChangePerson stores a changed account. The last active owner can neither
// step down nor be switched off: that is ErrInUse.
func (s *Store) ChangePerson(ctx context.Context, p Person) error {
	return s.tx(ctx, func(t *sql.Tx) error {
		var others int
		if err := t.QueryRowContext(ctx, "SELECT COUNT(*) FROM people WHERE role = 'owner' AND active AND id <> ? FOR UPDATE", p.ID).Scan(&others); err != nil {
			return err
		}
		if others == 0 && (p.Role != Owner || !p.Active) {
			return fmt.Errorf("the last owner: %w", ErrInUse)
		}
		_, err := t.ExecContext(ctx, "UPDATE people SET era = era + (active AND NOT ?), name = ?, role = ?, password_hash = ?, active = ? WHERE id = ?",
			p.Active, p.Name, p.Role, p.PasswordHash, p.Active, p.ID)
		return err
	})
}

// SetPassword puts a new hash in the place of the one that was seen;
// ErrChanged where it is another by now.
func (s *Store) SetPassword(ctx context.Context, id int64, seen, hash string) error {
	res, err := s.DB.ExecContext(ctx, "UPDATE people SET password_hash = ? WHERE id = ? AND password_hash = ?", hash, id, seen)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n != 1 {
		return errors.Join(ErrChanged, err)
	}
	return nil
}
