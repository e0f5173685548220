// Command zorvel is the Zorvel application: the demo, the server, and tools
// around its database.
package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"syscall"

	"github.com/spf13/cobra"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	root := &cobra.Command{
		Use:           "zorvel",
		Short:         "Gear ratios from what a technician counted, turned and read",
		Version:       revision(),
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	root.AddCommand(serveCommand(), demoCommand(), migrateCommand(), programmerCommand(), instrumentsCommand(),
		sensorsCommand(), filmCommand(), sightCommand(), listenCommand(), driveCommand(),
		clusterCommand(), nodeCommand(),
		accuracyCommand(), reindexCommand(), httpsCommand(), passwordCommand(), doctorCommand(), nightlyCommand(),
		installCommand(), upgradeCommand(), uninstallCommand(),
		backupCommand(), restoreCommand(), exportCommand(), importCommand())
	if err := root.ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "zorvel:", err)
		os.Exit(1)
	}
}
