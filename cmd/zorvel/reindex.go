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
	return onDatabase("reindex", "Make what units are found by anew, from everything that is on record", func(c *cobra.Command, st *store.Store) error {
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
	})
}
