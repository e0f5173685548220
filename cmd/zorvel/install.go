package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"runtime/debug"
	"strings"

	"github.com/spf13/cobra"

	"zorvel/internal/install"
)

// thisMachine is the real one; only root changes it.
func thisMachine(c *cobra.Command) (*install.Machine, error) {
	if os.Geteuid() != 0 {
		return nil, fmt.Errorf("this changes the machine: run it as root, for example sudo %s", c.CommandPath())
	}
	run := func(ctx context.Context, input, name string, args ...string) error {
		cmd := exec.CommandContext(ctx, name, args...)
		cmd.Stdin = strings.NewReader(input)
		cmd.Env = append(os.Environ(), "DEBIAN_FRONTEND=noninteractive")
		if out, err := cmd.CombinedOutput(); err != nil {
			return fmt.Errorf("%s: %w\n%s", name, err, out)
		}
		return nil
	}
	return &install.Machine{Root: "/", Run: run, Told: c.OutOrStdout()}, nil
}

// onMachine is a command that changes this machine.
func onMachine(use, short string, do func(*cobra.Command, *install.Machine) error) *cobra.Command {
	return &cobra.Command{
		Use: use, Short: short, Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			m, err := thisMachine(c)
			if err != nil {
				return err
			}
			return do(c, m)
		},
	}
}

func installCommand() *cobra.Command {
	var o install.Options
	const short = "Put Zorvel on this Debian machine for good: user, MariaDB, server and nightly backup under systemd"
	c := onMachine("install", short, func(c *cobra.Command, m *install.Machine) (err error) {
		if o.Binary, err = os.Executable(); err != nil {
			return err
		}
		if err := install.Install(c.Context(), m, o); err != nil {
			return err
		}
		c.Printf("Zorvel %s runs. Open http://%s on this machine's network and create the owner.\n",
			revision(), strings.Replace(o.Addr, "0.0.0.0", "THIS-MACHINE", 1))
		c.Printf("Settings: %s. Log: journalctl -u zorvel\n", install.Settings)
		return nil
	})
	c.Flags().StringVar(&o.Addr, "addr", "0.0.0.0:8080", "plain address, which leads to the secure one on port 8443")
	c.Flags().StringSliceVar(&o.Names, "https-name", nil, "names that people reach the server by; this machine's own if empty")
	return c
}

func upgradeCommand() *cobra.Command {
	const short = "Put this program in the place of the one that is installed, after a backup by the old one"
	return onMachine("upgrade", short, func(c *cobra.Command, m *install.Machine) error {
		if _, err := os.Stat(install.Settings); err != nil {
			return errors.New("nothing is installed here yet: run zorvel install")
		}
		c.Println("Backing up with the program that runs now.")
		if err := m.Run(c.Context(), "", "systemctl", "start", "zorvel-nightly.service"); err != nil {
			return fmt.Errorf("the backup before the upgrade failed, and nothing was changed: %w", err)
		}
		was, err := exec.CommandContext(c.Context(), install.Binary, "--version").Output()
		if err != nil {
			was = []byte("an older program")
		}
		program, err := os.Executable()
		if err != nil {
			return err
		}
		if err := install.Install(c.Context(), m, install.Options{Binary: program}); err != nil {
			return err
		}
		c.Printf("Was: %s\nIs:  zorvel version %s.\n", strings.TrimSpace(string(was)), revision())
		c.Println("The server brings the schema up to date as it starts: journalctl -u zorvel")
		return nil
	})
}

func uninstallCommand() *cobra.Command {
	const short = "Take the server off this machine; data, settings and backups stay"
	return onMachine("uninstall", short, func(c *cobra.Command, m *install.Machine) error {
		return install.Uninstall(c.Context(), m)
	})
}

// revision is which state of the source this program was built from, and when that was made.
func revision() string {
	b, ok := debug.ReadBuildInfo()
	if !ok {
		return "of unknown source"
	}
	of := map[string]string{}
	for _, s := range b.Settings {
		of[s.Key] = s.Value
	}
	rev := of["vcs.revision"]
	if rev == "" {
		return "of unknown source"
	}
	text := rev[:min(len(rev), 12)]
	if day, _, ok := strings.Cut(of["vcs.time"], "T"); ok {
		text += " of " + day
	}
	if of["vcs.modified"] == "true" {
		text += ", changed"
	}
	return text
}
