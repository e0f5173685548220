// Package localdb runs a private MariaDB server on loopback, for the demo and
// the tests. The server belongs to the process that started it and dies with it.
package localdb

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
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
	"sync"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"
)

// Server is a running private MariaDB. One that dies is started again on the
// same port, until Stop.
type Server struct {
	Port   int
	dir    string
	socket string
	lock   *os.File
	// gone is closed when it no longer runs and won't be started again.
	gone chan struct{}

	mu       sync.Mutex
	cmd      *exec.Cmd
	stopping bool
}

// ErrMissing says that MariaDB's server programs aren't installed.
var ErrMissing = errors.New("mariadbd is not installed: install Debian's mariadb-server package")

// ErrInUse says that another process has a server on the directory.
var ErrInUse = errors.New("the data directory is in use by another Zorvel: stop that one, or use another directory")

// appUser is the account the application uses; its password is made anew at
// every start and never leaves the process.
const appUser = "zorvel"

// Start runs a server on the data directory dir, creating it at the first
// start. The directory belongs to one process at a time; a server that a killed
// process left behind is ended first. With fresh, data from earlier is removed.
func Start(ctx context.Context, dir string, fresh bool) (*Server, error) {
	if _, err := LookPath("mariadbd"); err != nil {
		return nil, ErrMissing
	}
	dir, err := filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	if err := os.MkdirAll(filepath.Join(dir, "tmp"), 0o700); err != nil {
		return nil, fmt.Errorf("data directory: %w", err)
	}
	s := &Server{dir: dir, gone: make(chan struct{})}
	if s.lock, err = lockFile(filepath.Join(dir, "lock")); err != nil {
		return nil, err
	}
	if err := s.start(ctx, fresh); err != nil {
		_ = s.lock.Close()
		return nil, err
	}
	return s, nil
}

// lockFile takes a lock that ends with this process, however it ends.
func lockFile(path string) (*os.File, error) {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("data directory: %w", err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		_ = f.Close()
		return nil, ErrInUse
	}
	return f, nil
}

func (s *Server) start(ctx context.Context, fresh bool) error {
	if err := s.endLeftover(ctx); err != nil {
		return err
	}
	if fresh {
		if err := os.RemoveAll(filepath.Join(s.dir, "data")); err != nil {
			return fmt.Errorf("removing earlier data: %w", err)
		}
	}
	if err := s.install(ctx); err != nil {
		return err
	}
	if err := s.placeSocket(); err != nil {
		return err
	}
	for try := 0; ; try++ {
		var err error
		if s.Port, err = freePort(); err != nil {
			return err
		}
		if err = s.run(ctx); err == nil || try == 2 {
			return err
		}
	}
}

// placeSocket names the socket: in the data directory, or, where that path is
// longer than a socket's may be, in a directory named after it.
func (s *Server) placeSocket() error {
	const most = 107
	if s.socket = filepath.Join(s.dir, "socket"); len(s.socket) <= most {
		return nil
	}
	sum := sha256.Sum256([]byte(s.dir))
	short := filepath.Join(os.TempDir(), "zvdb"+hex.EncodeToString(sum[:8]))
	s.socket = filepath.Join(short, "s")
	return os.MkdirAll(short, 0o700)
}

// LookPath finds a program of Debian's servers, which are often in no ordinary person's path.
func LookPath(name string) (string, error) {
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

// endLeftover ends a server that a killed process left behind: it was told to
// shut down when its parent died, and may still be at it.
func (s *Server) endLeftover(ctx context.Context) error {
	b, err := os.ReadFile(s.pidFile())
	if err != nil {
		return nil
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(b)))
	if err != nil || !s.running(pid) {
		return os.Remove(s.pidFile())
	}
	_ = syscall.Kill(pid, syscall.SIGTERM)
	for waited := time.Duration(0); s.running(pid); waited += 50 * time.Millisecond {
		if waited == 30*time.Second { // its data are safe: it recovers at the next start
			_ = syscall.Kill(pid, syscall.SIGKILL)
		}
		if waited == 40*time.Second {
			return fmt.Errorf("a MariaDB server from earlier (process %d) doesn't end", pid)
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(50 * time.Millisecond):
		}
	}
	if err := os.Remove(s.pidFile()); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	return nil
}

// running reports whether pid is a live MariaDB server on this directory: the
// number may have been given to another program since, and a killed child can
// stay a zombie.
func (s *Server) running(pid int) bool {
	line, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
	if err != nil || !bytes.Contains(line, []byte("--datadir="+s.data())) {
		return false
	}
	stat, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	if err != nil {
		return false
	}
	fields := strings.Fields(string(stat[bytes.LastIndexByte(stat, ')')+1:]))
	return len(fields) > 0 && fields[0] != "Z"
}

func (s *Server) data() string { return filepath.Join(s.dir, "data") }

// install creates the system tables. It is done in a directory of its own and
// moved into place, so that an interrupted install leaves nothing half made.
func (s *Server) install(ctx context.Context) error {
	data := s.data()
	if _, err := os.Stat(filepath.Join(data, "mysql")); err == nil {
		return nil
	}
	bin, err := LookPath("mariadb-install-db")
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

// run starts the server and waits until it answers. From then on it is kept
// running.
func (s *Server) run(ctx context.Context) error {
	first := make(chan error, 1)
	ended := make(chan error, 1)
	answers := make(chan bool, 1)
	go func() {
		// A child's death signal follows the thread that started it.
		runtime.LockOSThread()
		err := s.launch()
		first <- err
		if err != nil {
			return
		}
		ended <- s.cmd.Wait()
		if <-answers {
			s.keepRunning()
		}
	}()
	if err := <-first; err != nil {
		return err
	}
	err := s.awaitAndGrant(ctx, ended)
	if err == nil {
		answers <- true
		return nil
	}
	_ = s.cmd.Process.Kill()
	answers <- false
	out, _ := os.ReadFile(s.logFile())
	return fmt.Errorf("%w\n%s", err, tail(out))
}

// keepRunning starts a server that died again until Stop.
func (s *Server) keepRunning() {
	defer close(s.gone)
	for pause := 100 * time.Millisecond; ; pause = min(2*pause, 5*time.Second) {
		if s.isStopping() {
			return
		}
		since := time.Now()
		if err := s.launch(); err == nil {
			_ = s.cmd.Wait()
		}
		if time.Since(since) > time.Minute {
			pause = 100 * time.Millisecond
		}
		for until := time.Now().Add(pause); time.Now().Before(until) && !s.isStopping(); {
			time.Sleep(20 * time.Millisecond)
		}
	}
}

func (s *Server) isStopping() bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.stopping
}

func (s *Server) logFile() string { return filepath.Join(s.dir, "mariadbd.log") }

// Options are how a server on loopback is started, alone or in a cluster.
var Options = []string{"--bind-address=127.0.0.1", "--skip-networking=0", "--skip-name-resolve", "--skip-log-bin",
	"--innodb-buffer-pool-size=256M", // taken as it is used
	"--character-set-server=utf8mb4", "--collation-server=utf8mb4_unicode_520_ci", "--default-time-zone=+00:00",
	"--sql-mode=STRICT_ALL_TABLES,NO_ZERO_DATE,NO_ZERO_IN_DATE,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION"}

// launch starts the program; it doesn't wait until it answers.
func (s *Server) launch() error {
	bin, err := LookPath("mariadbd")
	if err != nil {
		return err
	}
	logFile, err := os.Create(s.logFile())
	if err != nil {
		return err
	}
	defer func() { _ = logFile.Close() }() // the child has its own
	cmd := exec.Command(bin, "--no-defaults", "--user="+currentUser(), "--datadir="+s.data(),
		"--socket="+s.socket, "--pid-file="+s.pidFile(), "--port="+strconv.Itoa(s.Port))
	cmd.Args = append(cmd.Args, Options...)
	cmd.Env = s.environment()
	cmd.Stdout, cmd.Stderr = logFile, logFile
	// Its own group, so that Ctrl-C at a terminal reaches it only through
	// Stop; and a death signal, so that a killed parent takes it along.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGTERM}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.stopping {
		return errors.New("stopping")
	}
	s.cmd = cmd
	if err := cmd.Start(); err != nil {
		return fmt.Errorf("starting mariadbd: %w", err)
	}
	return nil
}

var password = func() string {
	b := make([]byte, 24)
	_, _ = rand.Read(b)
	return hex.EncodeToString(b)
}()

// awaitAndGrant waits until the server answers on its own socket and creates
// the application's account.
func (s *Server) awaitAndGrant(ctx context.Context, ended <-chan error) error {
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
		case e := <-ended:
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

// Recreate empties a database that Create made.
func (s *Server) Recreate(ctx context.Context, name string) (string, error) {
	db, err := sql.Open("mysql", s.dsn(""))
	if err != nil {
		return "", err
	}
	defer func() { _ = db.Close() }()
	if _, err := db.ExecContext(ctx, "DROP DATABASE IF EXISTS `"+name+"`"); err != nil {
		return "", fmt.Errorf("emptying database %s: %w", name, err)
	}
	return s.Create(ctx, name)
}

// Stop shuts the server down, waits for it and gives the directory free.
func (s *Server) Stop() error {
	defer func() { _ = s.lock.Close() }()
	s.mu.Lock()
	s.stopping = true
	process := s.cmd.Process
	s.mu.Unlock()
	if process != nil {
		_ = process.Signal(syscall.SIGTERM)
	}
	select {
	case <-s.gone:
		return nil
	case <-time.After(30 * time.Second):
		_ = process.Kill()
		return errors.New("mariadbd did not stop within 30 seconds and was killed")
	}
}
