package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"zorvel/internal/store"
)

// reindexCommand makes what units are found by anew.
func reindexCommand() *cobra.Command {
	return onDatabase("reindex", "Rebuild the search index from everything on record", func(c *cobra.Command, st *store.Store) error {
		srv, err := quietServer(st)
		if err != nil {
			return err
		}
		b := bar(c, "units")
		if err := srv.Reindex(c.Context(), func(done int) { _ = b.Set(done) }); err != nil {
			return err
		}
		fmt.Fprintln(c.ErrOrStderr())
		return nil
	})
}
