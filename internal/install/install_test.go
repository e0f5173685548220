package install

import (
	"context"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

// trial is a machine in a folder, whose commands are written down in place of being run.
type trial struct {
	Machine
	ran   []string
	input map[string]string
	fails string // a command that fails
	told  strings.Builder
}

func newTrial(t *testing.T) *trial {
	t.Helper()
	x := &trial{input: map[string]string{}}
	x.Root, x.Told = t.TempDir(), &x.told
	x.Run = func(_ context.Context, input, name string, args ...string) error {
		line := strings.Join(append([]string{name}, args...), " ")
		x.ran = append(x.ran, line)
		x.input[name] = input
		if x.fails != "" && strings.HasPrefix(line, x.fails) {
			return errors.New("no")
		}
		return nil
	}
	return x
}

func program(t *testing.T, text string) string {
	t.Helper()
	p := filepath.Join(t.TempDir(), "zorvel")
	if err := os.WriteFile(p, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	return p
}

func read(t *testing.T, x *trial, path string) string {
	t.Helper()
	b, err := os.ReadFile(x.path(path))
	if err != nil {
		t.Fatal(err)
	}
	return string(b)
}

func TestInstallUpgradeUninstall(t *testing.T) {
	x := newTrial(t)
	o := Options{Addr: "0.0.0.0:8080", Names: []string{"shop.local"}, Binary: program(t, "first")}
	if err := Install(t.Context(), &x.Machine, o); err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{"apt-get install", "useradd --system", "mariadb --user=root",
		"systemctl daemon-reload", "systemctl restart zorvel.service"} {
		if !slices.ContainsFunc(x.ran, func(r string) bool { return strings.HasPrefix(r, want) }) {
			t.Errorf("%s was not run: %q", want, x.ran)
		}
	}
	settings := read(t, x, Settings)
	if i, err := os.Stat(x.path(Settings)); err != nil || i.Mode().Perm() != 0o600 {
		t.Errorf("the settings can be read: %v, %v", i.Mode(), err)
	}
	_, password, _ := strings.Cut(settings, "ZORVEL_DSN=zorvel:")
	password, _, _ = strings.Cut(password, "@")
	if len(password) < 20 || !strings.Contains(x.input["mariadb"], "IDENTIFIED BY '"+password+"'") {
		t.Errorf("the account's password is not that of the settings:\n%s", settings)
	}
	if !strings.Contains(settings, "ZORVEL_HTTPS_NAME=shop.local") || strings.Contains(x.told.String(), password) {
		t.Errorf("settings:\n%s\ntold:\n%s", settings, x.told.String())
	}
	if got := read(t, x, Binary); got != "first" {
		t.Errorf("the program is %q", got)
	}

	// Again, with a newer program: the data's password stays, the program is the new one.
	for _, dir := range []string{"/usr/sbin", "/etc"} {
		if err := os.MkdirAll(x.path(dir), 0o755); err != nil {
			t.Fatal(err)
		}
	}
	for file, text := range map[string]string{"/usr/sbin/mariadbd": "",
		"/etc/passwd": "root:x:0:0::/root:/bin/sh\nzorvel:x:998:998::/nonexistent:/usr/sbin/nologin\n"} {
		if err := os.WriteFile(x.path(file), []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	x.ran, o.Binary = nil, program(t, "second")
	if err := Install(t.Context(), &x.Machine, o); err != nil {
		t.Fatal(err)
	}
	if read(t, x, Settings) != settings || read(t, x, Binary) != "second" {
		t.Error("an upgrade changed the settings, or left the old program")
	}
	for _, r := range x.ran {
		for _, not := range []string{"apt-get", "useradd", "mariadb"} {
			if strings.HasPrefix(r, not) {
				t.Errorf("an upgrade ran %s", r)
			}
		}
	}

	if err := Uninstall(t.Context(), &x.Machine); err != nil {
		t.Fatal(err)
	}
	if exists(x.path(Binary)) || exists(x.path(unitPaths()[0])) || !exists(x.path(Settings)) || !exists(x.path(Backups)) {
		t.Error("uninstalling took the data along, or left the program")
	}
	if err := Uninstall(t.Context(), &x.Machine); err != nil {
		t.Errorf("twice: %v", err)
	}
}

// Where a step fails it is named, nothing later is done, and the next run goes on.
func TestInstallGoesOnWhereItStopped(t *testing.T) {
	for _, fails := range []string{"apt-get", "useradd", "mariadb", "chown", "systemctl restart"} {
		x := newTrial(t)
		o := Options{Addr: "0.0.0.0:8080", Binary: program(t, "first")}
		x.fails = fails
		if err := Install(t.Context(), &x.Machine, o); err == nil {
			t.Errorf("%s failed, and nothing says so", fails)
		}
		if fails == "mariadb" && exists(x.path(Settings)) {
			t.Error("settings name an account that was not made")
		}
		x.fails = ""
		if err := Install(t.Context(), &x.Machine, o); err != nil {
			t.Errorf("after %s: %v", fails, err)
		}
		if !exists(x.path(Binary)) || !exists(x.path(Settings)) {
			t.Errorf("after %s something is missing", fails)
		}
	}
}

// systemd understands the units, where there is systemd.
func TestUnits(t *testing.T) {
	dir := t.TempDir()
	var files []string
	for _, u := range Units {
		text, err := Unit(u)
		if err != nil || strings.Contains(text, "{{") {
			t.Fatalf("%s: %v\n%s", u, err, text)
		}
		// The program and its user are not on this machine.
		text = strings.ReplaceAll(strings.ReplaceAll(text, Binary, "/bin/true"), "User="+account, "User=root")
		file := filepath.Join(dir, u)
		if err := os.WriteFile(file, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		files = append(files, file)
	}
	analyze, err := exec.LookPath("systemd-analyze")
	if err != nil {
		t.Skip("no systemd-analyze on this machine: the units' text was made, not verified")
	}
	out, err := exec.Command(analyze, append([]string{"verify", "--man=no"}, files...)...).CombinedOutput()
	for line := range strings.Lines(string(out)) {
		if strings.Contains(line, dir) {
			t.Errorf("%s", line)
		}
	}
	if err != nil && strings.Contains(string(out), dir) {
		t.Error(err)
	}
}
