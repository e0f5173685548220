package main

import (
	"crypto/rand"
	"errors"
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"zorvel/internal/doctor"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// passwordCommand gives an account a new password where nobody can sign in any more.
func passwordCommand() *cobra.Command {
	c := onDatabaseWith("password NAME", "Give an account a new password and switch it on, for who can't sign in any more", func(c *cobra.Command, st *store.Store, name string) error {
		ctx := c.Context()
		p, err := st.PersonBySignIn(ctx, strings.ToLower(strings.TrimSpace(name)))
		if errors.Is(err, store.ErrNotFound) {
			return fmt.Errorf("nobody signs in as %q: %s", name, signInNames(c, st))
		}
		if err != nil {
			return err
		}
		fresh := strings.ToLower(rand.Text()[:16])
		hash, err := signin.HashPassword(fresh)
		if err != nil {
			return err
		}
		on := true
		if _, p, err = st.ChangePerson(ctx, p.ID, store.PersonChange{PasswordHash: &hash, Active: &on}); err != nil {
			return err
		}
		if err := st.AddAudit(ctx, store.AuditLine{What: "password reset", About: p.Name + ", from the command line"}); err != nil {
			return err
		}
		c.Printf("%s (%s) signs in as %s with the password\n\n    %s\n\nOpen sessions of the account have ended. Change the password after signing in.\n", p.Name, p.Role, p.SignIn, fresh)
		return nil
	})
	return c
}

// signInNames are the names there are, for who mistyped one.
func signInNames(c *cobra.Command, st *store.Store) string {
	people, err := st.People(c.Context())
	if err != nil || len(people) == 0 {
		return "there are no accounts yet"
	}
	var names []string
	for _, p := range people {
		names = append(names, p.SignIn)
	}
	return "the names are " + strings.Join(names, ", ")
}

// doctorCommand looks over what a server stands on.
func doctorCommand() *cobra.Command {
	var f secureFlags
	var backups string
	c := onDatabase("doctor", "Look over database, disk, clock, secure address and backups, and say what to do", func(c *cobra.Command, st *store.Store) error {
		worst := doctor.Good
		for _, x := range doctor.Look(c.Context(), doctor.Of{Store: st, Secure: f.dir, Names: f.names, Backups: backups}) {
			c.Printf("%s %s\n", x.State, x.What)
			if x.Do != "" {
				c.Printf("  %s\n", x.Do)
			}
			worst = max(worst, x.State)
		}
		if worst == doctor.Bad {
			return errors.New("something needs you; see above")
		}
		return nil
	})
	f.addAuthority(c)
	c.Flags().StringVar(&backups, "backups", env("ZORVEL_BACKUPS", ""), "folder of the nightly backups; not looked at if empty (ZORVEL_BACKUPS)")
	return c
}
