// Package localdb runs a private MariaDB server on loopback, for the demo and
// the tests. The server belongs to the process that started it and dies with it.
package localdb

import (
	"bytes"
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"
)

// Server is a running private MariaDB.
type Server struct {
	Port   int
	dir    string
	socket string
	runDir string
	cmd    *exec.Cmd
	done   chan error
}

// ErrMissing says that MariaDB's server programs aren't installed.
var ErrMissing = errors.New("mariadbd is not installed: install Debian's mariadb-server package")

// appUser is the account the application uses; its password is made anew at
// every start and never leaves the process.
const appUser = "zorvel"

// Start runs a server on the data directory dir, creating it at the first
// start. A leftover of a crashed process is cleaned up; a server that still
// runs on the directory is an error.
func Start(ctx context.Context, dir string) (*Server, error) {
	if _, err := lookPath("mariadbd"); err != nil {
		return nil, ErrMissing
	}
	dir, err := filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	if err := os.MkdirAll(filepath.Join(dir, "tmp"), 0o700); err != nil {
		return nil, fmt.Errorf("data directory: %w", err)
	}
	s := &Server{dir: dir, done: make(chan error, 1)}
	if err := s.clearLeftover(); err != nil {
		return nil, err
	}
	if err := s.install(ctx); err != nil {
		return nil, err
	}
	// A socket path may be 107 bytes at most, so it lives in a short directory.
	if s.runDir, err = os.MkdirTemp("", "zvdb"); err != nil {
		return nil, err
	}
	s.socket = filepath.Join(s.runDir, "s")
	for try := 0; ; try++ {
		if s.Port, err = freePort(); err != nil {
			return nil, err
		}
		if err = s.run(ctx); err == nil {
			return s, nil
		}
		if try == 2 {
			_ = os.RemoveAll(s.runDir)
			return nil, err
		}
	}
}

func lookPath(name string) (string, error) {
	if p, err := exec.LookPath(name); err == nil {
		return p, nil
	}
	p := filepath.Join("/usr/sbin", name)
	if _, err := os.Stat(p); err != nil {
		return "", ErrMissing
	}
	return p, nil
}

func currentUser() string {
	if u, err := user.Current(); err == nil {
		return u.Username
	}
	return "root"
}

func (s *Server) pidFile() string { return filepath.Join(s.dir, "mariadbd.pid") }

// clearLeftover looks at the pid file of an earlier start.
func (s *Server) clearLeftover() error {
	b, err := os.ReadFile(s.pidFile())
	if err != nil {
		return nil
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(b)))
	if err == nil && running(pid) {
		return fmt.Errorf("a MariaDB server (process %d) already runs on %s: stop it, or use another directory", pid, s.dir)
	}
	return os.Remove(s.pidFile())
}

// running reports whether pid is a live MariaDB server: the pid may have been
// given to another program since, and a killed child can stay a zombie.
func running(pid int) bool {
	comm, err := os.ReadFile(fmt.Sprintf("/proc/%d/comm", pid))
	if err != nil || !strings.HasPrefix(string(comm), "mariadbd") {
		return false
	}
	stat, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	if err != nil {
		return false
	}
	fields := strings.Fields(string(stat[bytes.LastIndexByte(stat, ')')+1:]))
	return len(fields) > 0 && fields[0] != "Z"
}

// install creates the system tables. It is done in a directory of its own and
// moved into place, so that an interrupted install leaves nothing half made.
func (s *Server) install(ctx context.Context) error {
	data := filepath.Join(s.dir, "data")
	if _, err := os.Stat(filepath.Join(data, "mysql")); err == nil {
		return nil
	}
	bin, err := lookPath("mariadb-install-db")
	if err != nil {
		return err
	}
	fresh := data + ".new"
	for _, d := range []string{fresh, data} {
		if err := os.RemoveAll(d); err != nil {
			return err
		}
	}
	cmd := exec.CommandContext(ctx, bin, "--no-defaults", "--user="+currentUser(), "--datadir="+fresh,
		"--auth-root-authentication-method=socket", "--skip-test-db", "--skip-name-resolve")
	cmd.Env = s.environment()
	out, err := cmd.CombinedOutput()
	if err != nil {
		return fmt.Errorf("creating the database directory: %w\n%s", err, tail(out))
	}
	return os.Rename(fresh, data)
}

// environment gives the server a directory of its own for temporary tables: a
// starting server clears that directory, so two must not share one.
func (s *Server) environment() []string {
	return append(os.Environ(), "TMPDIR="+filepath.Join(s.dir, "tmp"))
}

func tail(b []byte) []byte { return b[max(0, len(b)-2000):] }

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer func() { _ = l.Close() }()
	return l.Addr().(*net.TCPAddr).Port, nil
}

func (s *Server) run(ctx context.Context) error {
	bin, err := lookPath("mariadbd")
	if err != nil {
		return err
	}
	logPath := filepath.Join(s.dir, "mariadbd.log")
	logFile, err := os.Create(logPath)
	if err != nil {
		return err
	}
	s.cmd = exec.Command(bin, "--no-defaults", "--user="+currentUser(), "--datadir="+filepath.Join(s.dir, "data"),
		"--socket="+s.socket, "--pid-file="+s.pidFile(), "--port="+strconv.Itoa(s.Port), "--bind-address=127.0.0.1",
		"--skip-networking=0", "--skip-name-resolve", "--skip-log-bin",
		"--character-set-server=utf8mb4", "--collation-server=utf8mb4_unicode_520_ci", "--default-time-zone=+00:00",
		"--sql-mode=STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION")
	s.cmd.Env = s.environment()
	s.cmd.Stdout, s.cmd.Stderr = logFile, logFile
	// Its own group, so that Ctrl-C at a terminal reaches it only through
	// Stop; and a death signal, so that a killed parent takes it along.
	s.cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGTERM}
	started := make(chan error)
	go func() {
		// The death signal follows the thread that started the child.
		runtime.LockOSThread()
		err := s.cmd.Start()
		started <- err
		if err == nil {
			s.done <- s.cmd.Wait()
		}
		_ = logFile.Close()
	}()
	if err := <-started; err != nil {
		return fmt.Errorf("starting mariadbd: %w", err)
	}
	if err := s.awaitAndGrant(ctx); err != nil {
		s.kill()
		out, _ := os.ReadFile(logPath)
		return fmt.Errorf("%w\n%s", err, tail(out))
	}
	return nil
}

func (s *Server) kill() {
	_ = s.cmd.Process.Kill()
	select {
	case <-s.done:
	case <-time.After(5 * time.Second):
	}
}

var password = func() string {
	b := make([]byte, 24)
	_, _ = rand.Read(b)
	return hex.EncodeToString(b)
}()

// awaitAndGrant waits until the server answers on its own socket and creates
// the application's account.
func (s *Server) awaitAndGrant(ctx context.Context) error {
	cfg := mysql.NewConfig()
	cfg.User, cfg.Net, cfg.Addr = currentUser(), "unix", s.socket
	con, err := mysql.NewConnector(cfg)
	if err != nil {
		return err
	}
	db := sql.OpenDB(con)
	defer func() { _ = db.Close() }()
	deadline := time.After(60 * time.Second)
	for {
		if err = db.PingContext(ctx); err == nil {
			break
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case e := <-s.done:
			s.done <- e
			return fmt.Errorf("mariadbd stopped while starting: %v", e)
		case <-deadline:
			return fmt.Errorf("mariadbd did not answer within a minute: %w", err)
		case <-time.After(50 * time.Millisecond):
		}
	}
	for _, q := range []string{
		fmt.Sprintf("CREATE OR REPLACE USER '%s'@'127.0.0.1' IDENTIFIED BY '%s'", appUser, password),
		fmt.Sprintf("GRANT ALL ON `zorvel%%`.* TO '%s'@'127.0.0.1'", appUser),
	} {
		if _, err := db.ExecContext(ctx, q); err != nil {
			return fmt.Errorf("creating the application's account: %w", err)
		}
	}
	return nil
}

// Create makes an empty database named zorvel or zorvel_something, if it
// isn't there yet, and returns its DSN.
func (s *Server) Create(ctx context.Context, name string) (string, error) {
	db, err := sql.Open("mysql", s.dsn(""))
	if err != nil {
		return "", err
	}
	defer func() { _ = db.Close() }()
	if _, err := db.ExecContext(ctx, "CREATE DATABASE IF NOT EXISTS `"+name+"`"); err != nil {
		return "", fmt.Errorf("creating database %s: %w", name, err)
	}
	return s.dsn(name), nil
}

func (s *Server) dsn(name string) string {
	cfg := mysql.NewConfig()
	cfg.User, cfg.Passwd, cfg.Net, cfg.DBName = appUser, password, "tcp", name
	cfg.Addr = net.JoinHostPort("127.0.0.1", strconv.Itoa(s.Port))
	return cfg.FormatDSN()
}

// Stop shuts the server down and waits for it.
func (s *Server) Stop() error {
	defer func() { _ = os.RemoveAll(s.runDir) }()
	_ = s.cmd.Process.Signal(syscall.SIGTERM)
	select {
	case <-s.done:
		return nil
	case <-time.After(30 * time.Second):
		s.kill()
		return errors.New("mariadbd did not stop within 30 seconds and was killed")
	}
}
