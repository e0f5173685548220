// Package install puts Zorvel on a Debian machine for good: its own user, MariaDB with an
// account of its own, the server and a nightly verified backup under systemd. Installing
// over an older one keeps the data and the settings.
package install

import (
	"bytes"
	"context"
	"crypto/rand"
	_ "embed"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"text/template"
)

// Where things go on the machine.
const (
	Binary   = "/usr/local/bin/zorvel"
	Settings = "/etc/zorvel/zorvel.env"
	Backups  = "/var/backups/zorvel"
	unitDir  = "/etc/systemd/system"
	account  = "zorvel"
	database = "zorvel"
)

// Units are the systemd units, in the order in which they are named.
var Units = []string{"zorvel.service", "zorvel-nightly.service", "zorvel-nightly.timer"}

//go:embed zorvel.service.tmpl
var serviceUnit string

//go:embed zorvel-nightly.service.tmpl
var nightlyUnit string

//go:embed zorvel-nightly.timer.tmpl
var nightlyTimer string

// Machine is what is installed on: the real one, or a folder of a trial.
type Machine struct {
	// Root stands before every path; "/" on the real one.
	Root string
	// Run runs a command with this text as its input.
	Run func(ctx context.Context, input, name string, args ...string) error
	// Told is told each step.
	Told io.Writer
}

// Options of Install.
type Options struct {
	Addr   string   // plain address to listen on
	Names  []string // of the secure address; this machine's own if empty
	Binary string   // the program to install: the one that runs
}

func (m *Machine) path(p string) string { return filepath.Join(m.Root, p) }

func (m *Machine) step(format string, args ...any) { _, _ = fmt.Fprintf(m.Told, format+"\n", args...) }

// Install does all of it. It can be run again: what is there stays as it is, but for the
// program and the units. On an error it says the step; running it again goes on from there.
func Install(ctx context.Context, m *Machine, o Options) error {
	again := exists(m.path(Settings))
	for _, s := range []struct {
		what string
		do   func() error
	}{
		{"packages", func() error { return m.packages(ctx) }},
		{"user", func() error { return m.user(ctx) }},
		{"database and settings", func() error { return m.settle(ctx, o) }},
		{"program", func() error { return place(o.Binary, m.path(Binary), 0o755) }},
		{"folder of the backups", func() error { return m.backups(ctx) }},
		{"units", func() error { return m.units() }},
		{"start", func() error { return m.start(ctx) }},
	} {
		if err := s.do(); err != nil {
			return fmt.Errorf("%s: %w", s.what, err)
		}
	}
	if again {
		m.step("Data and settings (%s) stayed as they were.", Settings)
	}
	return nil
}

// Uninstall stops the server and takes it off the machine. Data, settings and backups stay.
func Uninstall(ctx context.Context, m *Machine) error {
	if exists(m.path(filepath.Join(unitDir, Units[0]))) {
		if err := m.Run(ctx, "", "systemctl", "disable", "--now", "zorvel.service", "zorvel-nightly.timer"); err != nil {
			return err
		}
	}
	for _, f := range append([]string{Binary}, unitPaths()...) {
		if err := os.Remove(m.path(f)); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return err
		}
	}
	if err := m.Run(ctx, "", "systemctl", "daemon-reload"); err != nil {
		return err
	}
	m.step("Zorvel is off this machine. Left as they are: the database %s, %s, %s.", database, Settings, Backups)
	return nil
}

func unitPaths() []string {
	var out []string
	for _, u := range Units {
		out = append(out, filepath.Join(unitDir, u))
	}
	return out
}

func exists(path string) bool {
	_, err := os.Stat(path)
	return err == nil
}

// packages installs MariaDB where it is missing, by Debian's own means.
func (m *Machine) packages(ctx context.Context) error {
	if exists(m.path("/usr/sbin/mariadbd")) {
		return nil
	}
	m.step("Installing MariaDB from Debian.")
	return m.Run(ctx, "", "apt-get", "install", "--yes", "--no-install-recommends", "mariadb-server")
}

func (m *Machine) user(ctx context.Context) error {
	b, err := os.ReadFile(m.path("/etc/passwd"))
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	for line := range bytes.Lines(b) {
		if bytes.HasPrefix(line, []byte(account+":")) {
			return nil
		}
	}
	m.step("Making the user %s.", account)
	return m.Run(ctx, "", "useradd", "--system", "--home-dir", "/nonexistent", "--shell", "/usr/sbin/nologin", account)
}

// settle makes the database's account and writes the settings, once: the password is in
// the settings alone.
func (m *Machine) settle(ctx context.Context, o Options) error {
	if exists(m.path(Settings)) {
		return nil
	}
	m.step("Making the database %s and its account.", database)
	password := rand.Text()
	sql := fmt.Sprintf("CREATE DATABASE IF NOT EXISTS `%[1]s` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci;\n"+
		"CREATE OR REPLACE USER '%[2]s'@'127.0.0.1' IDENTIFIED BY '%[3]s';\n"+
		"GRANT ALL ON `%[1]s`.* TO '%[2]s'@'127.0.0.1';\n"+
		"GRANT ALL ON `%[1]s\\_verify\\_%%`.* TO '%[2]s'@'127.0.0.1';\n", database, account, password)
	if err := m.Run(ctx, "", "systemctl", "enable", "--now", "mariadb.service"); err != nil {
		return err
	}
	if err := m.Run(ctx, sql, "mariadb", "--user=root"); err != nil {
		return err
	}
	text := fmt.Sprintf(`# Settings of Zorvel: see zorvel serve --help. Restart it after a change: systemctl restart zorvel
ZORVEL_DSN=%s:%s@tcp(127.0.0.1:3306)/%s
ZORVEL_ADDR=%s
ZORVEL_HTTPS=true
ZORVEL_HTTPS_NAME=%s
ZORVEL_BACKUPS=%s
`, account, password, database, o.Addr, strings.Join(o.Names, ","), Backups)
	if err := os.MkdirAll(filepath.Dir(m.path(Settings)), 0o755); err != nil {
		return err
	}
	// systemd reads it as root before it becomes the server's user.
	return os.WriteFile(m.path(Settings), []byte(text), 0o600)
}

func (m *Machine) backups(ctx context.Context) error {
	if err := os.MkdirAll(m.path(Backups), 0o700); err != nil {
		return err
	}
	return m.Run(ctx, "", "chown", account+":", m.path(Backups))
}

func (m *Machine) units() error {
	for _, u := range Units {
		text, err := Unit(u)
		if err != nil {
			return err
		}
		if err := os.MkdirAll(m.path(unitDir), 0o755); err != nil {
			return err
		}
		if err := os.WriteFile(m.path(filepath.Join(unitDir, u)), []byte(text), 0o644); err != nil {
			return err
		}
	}
	return nil
}

// Unit is the text of one of the units.
func Unit(name string) (string, error) {
	text, ok := map[string]string{Units[0]: serviceUnit, Units[1]: nightlyUnit, Units[2]: nightlyTimer}[name]
	if !ok {
		return "", fmt.Errorf("no unit %s", name)
	}
	t, err := template.New(name).Parse(text)
	if err != nil {
		return "", err
	}
	var b strings.Builder
	err = t.Execute(&b, map[string]string{"Binary": Binary, "Settings": Settings, "Backups": Backups, "User": account})
	return b.String(), err
}

func (m *Machine) start(ctx context.Context) error {
	m.step("Starting the server and the nightly backup.")
	for _, args := range [][]string{{"daemon-reload"}, {"enable", "zorvel.service", "zorvel-nightly.timer"},
		{"restart", "zorvel.service", "zorvel-nightly.timer"}} {
		if err := m.Run(ctx, "", "systemctl", args...); err != nil {
			return err
		}
	}
	return nil
}

// place copies a file into its place whole, also over the program that runs from there.
func place(from, to string, mode fs.FileMode) error {
	if err := os.MkdirAll(filepath.Dir(to), 0o755); err != nil {
		return err
	}
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer func() { _ = in.Close() }()
	out, err := os.CreateTemp(filepath.Dir(to), ".zorvel-*")
	if err != nil {
		return err
	}
	defer func() { _ = os.Remove(out.Name()) }()
	_, err = io.Copy(out, in)
	if err = errors.Join(err, out.Chmod(mode), out.Sync(), out.Close()); err != nil {
		return err
	}
	return os.Rename(out.Name(), to)
}
