package main

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"zorvel/internal/backup"
	"zorvel/internal/doctor"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// passwordCommand gives an account a new password where nobody can sign in any more.
func passwordCommand() *cobra.Command {
	c := onDatabaseWith("password NAME",
		"Give an account a new password and switch it on, for who can't sign in any more",
		func(c *cobra.Command, st *store.Store, name string) error {
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
			c.Printf("%s (%s) signs in as %s with the password\n\n    %s\n\nOpen sessions of the account have ended. Change "+
				"the password after signing in.\n", p.Name, p.Role, p.SignIn, fresh)
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
	c := onDatabase("doctor", "Look over database, disk, clock, secure address and backups, and say what to do",
		func(c *cobra.Command, st *store.Store) error {
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
	c.Flags().StringVar(&backups, "backups", env("ZORVEL_BACKUPS", ""),
		"folder of the nightly backups; not looked at if empty (ZORVEL_BACKUPS)")
	return c
}

// nightlyCommand backs up, tries the backup, and lets old ones go.
func nightlyCommand() *cobra.Command {
	var dsn, folder string
	c := &cobra.Command{
		Use:   "nightly",
		Short: "Back up into a folder, restore the backup into a scratch database and compare, and thin out old backups",
		Long: `Back up into a folder, restore the backup into a scratch database and compare, and thin out old backups.

Each backup of the last 14 days stays, then the last of each week for half a year, then the last of each month for good.
Other files in the folder are left alone. A backup that does not come back as it was is renamed to .failed.`,
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if folder == "" {
				return errors.New("no folder: give --backups or ZORVEL_BACKUPS, for example /var/backups/zorvel")
			}
			return nightly(c, dsn, folder, time.Now())
		},
	}
	c.Flags().StringVar(&dsn, "dsn", env("ZORVEL_DSN", ""), "database, as user:password@tcp(host:port)/name (ZORVEL_DSN)")
	c.Flags().StringVar(&folder, "backups", env("ZORVEL_BACKUPS", ""), "folder of the backups (ZORVEL_BACKUPS)")
	return c
}

func nightly(c *cobra.Command, dsn, folder string, now time.Time) error {
	ctx := c.Context()
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return err
	}
	st, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	defer func() { _ = st.Close() }()
	name := filepath.Join(folder, backup.NightFile(now))
	var rows int64
	if err := whole(name, func(w io.Writer) error {
		m, err := backup.Write(ctx, st, w, func(string, int64, int64) {})
		if m != nil {
			for _, t := range m.Tables {
				rows += t.Rows
			}
		}
		return err
	}); err != nil {
		return err
	}
	scratch, drop, err := store.Scratch(ctx, dsn)
	if err != nil {
		return fmt.Errorf("%s is written, and could not be tried: %w", name, err)
	}
	if err := errors.Join(verify(ctx, scratch, name), drop()); err != nil {
		return errors.Join(fmt.Errorf("%s is not good: %w", name, err), os.Rename(name, name+".failed"))
	}
	c.Printf("%s: %d rows, restored and compared.\n", name, rows)
	files, err := filepath.Glob(filepath.Join(folder, "*.zip"))
	if err != nil {
		return err
	}
	for _, f := range backup.Superfluous(files, now) {
		if err := os.Remove(f); err != nil {
			return err
		}
		c.Printf("%s: let go.\n", f)
	}
	return nil
}

// verify restores a backup into a scratch database, and compares.
func verify(ctx context.Context, scratch *store.Store, name string) error {
	f, size, err := namedFile(name)
	if err != nil {
		return err
	}
	defer func() { _ = f.Close() }()
	return backup.Verify(ctx, scratch, f, size)
}
