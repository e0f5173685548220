package main

import (
	"archive/zip"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"path/filepath"

	"github.com/schollz/progressbar/v3"
	"github.com/spf13/cobra"

	"zorvel/internal/archive"
	"zorvel/internal/backup"
	"zorvel/internal/exchange"
	"zorvel/internal/server"
	"zorvel/internal/store"
)

// bar shows how far something is.
func bar(c *cobra.Command, what string) *progressbar.ProgressBar {
	return progressbar.NewOptions(-1, progressbar.OptionSetWriter(c.ErrOrStderr()), progressbar.OptionSetDescription(what), progressbar.OptionShowCount())
}

// whole writes a file that is there only once it is whole.
func whole(name string, write func(io.Writer) error) error {
	if _, err := os.Stat(name); err == nil {
		return fmt.Errorf("%s is there already: name another file, so that none is lost", name)
	}
	f, err := os.CreateTemp(filepath.Dir(name), filepath.Base(name)+".part-")
	if err != nil {
		return err
	}
	err = write(f)
	if err == nil {
		err = f.Sync()
	}
	err = errors.Join(err, f.Close())
	if err == nil {
		err = os.Rename(f.Name(), name)
	}
	if err != nil {
		_ = os.Remove(f.Name())
	}
	return err
}

// quietServer computes without serving.
func quietServer(st *store.Store) (*server.Server, error) {
	return server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
}

// namedFile is a file on the command line with its length.
func namedFile(name string) (*os.File, int64, error) {
	f, err := os.Open(name)
	if err != nil {
		return nil, 0, err
	}
	i, err := f.Stat()
	if err != nil {
		_ = f.Close()
		return nil, 0, err
	}
	return f, i.Size(), nil
}

// backupCommand writes the whole database into one file.
func backupCommand() *cobra.Command {
	return onDatabaseWith("backup FILE.zip", "Write everything into one file, as it is at one moment, while others go on working", func(c *cobra.Command, st *store.Store, name string) error {
		b := bar(c, "rows")
		var rows int64
		err := whole(name, func(w io.Writer) error {
			m, err := backup.Write(c.Context(), st, w, func(table string, done, _ int64) {
				b.Describe(table)
				_ = b.Set64(done)
			})
			if m != nil {
				for _, t := range m.Tables {
					rows += t.Rows
				}
			}
			return err
		})
		fmt.Fprintln(c.ErrOrStderr())
		if err == nil {
			fmt.Fprintf(c.OutOrStdout(),
				"%s holds %d rows. It includes accounts and their password hashes: guard it as you guard the database.\n", name,
				rows)
		}
		return err
	})
}

// restoreCommand reads a backup into an empty database.
func restoreCommand() *cobra.Command {
	return onDatabaseWith("restore FILE.zip", "Read a backup into an empty database, all of it or nothing", func(c *cobra.Command, st *store.Store, name string) error {
		f, size, err := namedFile(name)
		if err != nil {
			return err
		}
		defer func() { _ = f.Close() }()
		b := bar(c, "rows")
		m, err := backup.Read(c.Context(), st, f, size, func(table string, done, _ int64) {
			b.Describe(table)
			_ = b.Set64(done)
		})
		fmt.Fprintln(c.ErrOrStderr())
		if err == nil {
			fmt.Fprintf(c.OutOrStdout(), "Restored as of %s. Everyone has to sign in again.\n", m.MadeAt.Format("2006-01-02 15:04 MST"))
		}
		return err
	})
}

// exportCommand writes the shop as open files.
func exportCommand() *cobra.Command {
	return onDatabaseWith("export FILE.zip", "Write every unit with its photos and recordings, and the shop's lists, as open files", func(c *cobra.Command, st *store.Store, name string) error {
		srv, err := quietServer(st)
		if err != nil {
			return err
		}
		b := bar(c, "units")
		err = whole(name, func(w io.Writer) error {
			z := zip.NewWriter(w)
			if err := srv.WriteShop(c.Context(), z, func(done, of int) {
				b.ChangeMax(of)
				_ = b.Set(done)
			}); err != nil {
				return err
			}
			return z.Close()
		})
		fmt.Fprintln(c.ErrOrStderr())
		return err
	})
}

// importCommand takes in what a shop exported.
func importCommand() *cobra.Command {
	var by string
	var look bool
	c := onDatabaseWith("import FILE.zip", "Import what a shop exported, beside what is here; all of it or nothing",
		func(c *cobra.Command, st *store.Store, name string) error {
			f, size, err := namedFile(name)
			if err != nil {
				return err
			}
			defer func() { _ = f.Close() }()
			a, err := archive.Open(f, size, exchange.ShopLimits)
			if err != nil {
				return err
			}
			srv, err := quietServer(st)
			if err != nil {
				return err
			}
			b := bar(c, "units")
			x, err := srv.ReadShop(c.Context(), a, by, !look, func(what string, done, of int) {
				b.Describe("units " + what)
				b.ChangeMax(of)
				_ = b.Set(done)
			})
			fmt.Fprintln(c.ErrOrStderr())
			if err != nil {
				return exchange.Told(err)
			}
			verb := "Imported"
			if look {
				verb = "It holds"
			}
			fmt.Fprintf(c.OutOrStdout(),
				"%s: %d units with %d photos and %d recordings, %d parts, %d versions of cards and %d filters that aren't here.\n", verb, x.Units,
				x.Photos, x.Recordings, x.Parts, x.Cards, x.Filters)
			for _, l := range x.Lists {
				fmt.Fprintf(c.OutOrStdout(), "%s: %d rows added, %d changed, %d the same.\n", l.Name, l.Added, l.Changed, l.Same)
			}
			if look && len(x.SameNames) > 0 {
				fmt.Fprintf(c.OutOrStdout(), "Units with these names are here already and would be listed twice: %q\n", x.SameNames)
			}
			return nil
		})
	c.Flags().StringVar(&by, "by", "command line", "who takes it in, for the history")
	c.Flags().BoolVar(&look, "look", false, "only show what it holds")
	return c
}
