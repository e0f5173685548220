package main

import (
	"fmt"
	"log/slog"

	"github.com/schollz/progressbar/v3"
	"github.com/spf13/cobra"

	"zorvel/internal/server"
	"zorvel/internal/store"
)

// reindexCommand makes what units are found by anew.
func reindexCommand() *cobra.Command {
	var dsn string
	c := &cobra.Command{
		Use:   "reindex",
		Short: "Make what units are found by anew, from everything that is on record",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			st, err := store.Open(c.Context(), dsn)
			if err != nil {
				return err
			}
			defer func() { _ = st.Close() }()
			srv, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
			if err != nil {
				return err
			}
			bar := progressbar.NewOptions(-1, progressbar.OptionSetWriter(c.ErrOrStderr()), progressbar.OptionSetDescription("units"), progressbar.OptionShowCount())
			if err := srv.Reindex(c.Context(), func(done int) { _ = bar.Set(done) }); err != nil {
				return err
			}
			fmt.Fprintln(c.ErrOrStderr())
			return nil
		},
	}
	c.Flags().StringVar(&dsn, "dsn", env("ZORVEL_DSN", ""), "database, as user:password@tcp(host:port)/name (ZORVEL_DSN)")
	return c
}
