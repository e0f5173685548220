// Package cluster runs MariaDB's own cluster on one machine, to show it and to try it:
// three Galera nodes, HAProxy before them and before two servers, all on loopback with
// ports and folders of their own. On real machines each is a service of its own
// (docs/cluster.md).
package cluster

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"fmt"
	mathrand "math/rand/v2"
	"net"
	"net/http"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"text/template"
	"time"

	"zorvel/internal/localdb"
)

// Cluster is what runs.
type Cluster struct {
	Nodes   []*Node
	Servers []*Server
	// Address is where people come in; Database, where a program reaches a node that is
	// there.
	Address, Database string

	dir      string
	mariadbd string
	provider string
	as       *syscall.Credential // the account that the nodes run as; nil for this one
	password string
	proxy    Process
	lock     *os.File
	watches  []*http.Server
}

// Server is one zorvel serve.
type Server struct {
	Process
	Address string
}

// Options say where a cluster is, and with which program.
type Options struct {
	Dir    string // of its data
	Zorvel string // the program's path
	// Port is where people come in; the others follow it. With 0 all are free ones.
	Port int
}

// Need are the packages of Debian that it is made of.
var Need = []string{"mariadb-server", "galera-4", "rsync", "lsof", "haproxy"}

// Prepare says what is missing on this machine, and lays out folders and ports.
func Prepare(o Options) (*Cluster, error) {
	c := &Cluster{}
	var err error
	if c.mariadbd, err = lookPath("mariadbd"); err != nil {
		return nil, err
	}
	for _, name := range []string{"rsync", "haproxy"} {
		if _, err := lookPath(name); err != nil {
			return nil, err
		}
	}
	found, _ := filepath.Glob("/usr/lib/galera/libgalera_smm.so")
	if len(found) == 0 {
		if found, _ = filepath.Glob("/usr/lib/*/galera*/libgalera_smm.so"); len(found) == 0 {
			return nil, errors.New("galera-4 is not installed")
		}
	}
	c.provider = found[0]
	if u, err := user.Current(); err == nil && u.Uid == "0" {
		// As root a state transfer drops to another account and can't read what it is to send.
		if c.as, err = account(nodesRunAs); err != nil {
			return nil, err
		}
	}
	if c.dir, err = filepath.Abs(o.Dir); err != nil {
		return nil, err
	}
	if err := os.MkdirAll(c.dir, 0o755); err != nil {
		return nil, err
	}
	if c.lock, err = os.OpenFile(filepath.Join(c.dir, "lock"), os.O_CREATE|os.O_RDWR, 0o600); err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(c.lock.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		return nil, errors.New("a cluster runs in this folder already: make cluster-stop ends it")
	}
	if _, err := c.lock.WriteAt(fmt.Appendf(nil, "%-10d\n", os.Getpid()), 0); err != nil {
		return nil, err
	}
	if err := c.lay(o); err != nil {
		_ = c.lock.Close()
		return nil, err
	}
	return c, nil
}

// lay gives everything its port.
func (c *Cluster) lay(o Options) error {
	const each, nodes, servers = 5, 3, 2
	all, err := freePorts(o.Port, 2+servers+each*nodes)
	if err != nil {
		return err
	}
	next := func() int { p := all[0]; all = all[1:]; return p }
	c.Address, c.Database = loopback(next()), loopback(next())
	if c.password, err = c.secret(); err != nil {
		return err
	}
	var watched []int
	for i := range nodes {
		name := fmt.Sprintf("node%d", i+1)
		n := &Node{c: c, dir: filepath.Join(c.dir, name), port: ports{next(), next(), next(), next()}}
		n.Name, n.log = name, filepath.Join(c.dir, name+".log")
		c.Nodes = append(c.Nodes, n)
		watched = append(watched, next())
	}
	for i := range servers {
		s := &Server{Address: loopback(next())}
		s.Name = fmt.Sprintf("server%d", i+1)
		s.log = filepath.Join(c.dir, s.Name+".log")
		dsn := c.DSN(c.Database)
		if i > 0 { // one goes by the proxy, the other knows the nodes itself
			dsn = c.DSN(c.Nodes[1].Address(), c.Nodes[2].Address(), c.Nodes[0].Address())
		}
		s.make = func() *exec.Cmd {
			cmd := exec.Command(o.Zorvel, "serve", "--addr", s.Address, "--trusted-proxies", "127.0.0.0/8", "--anonymous-rate", "0", "--log", "warn")
			cmd.Env = append(os.Environ(), "ZORVEL_DSN="+dsn)
			return cmd
		}
		c.Servers = append(c.Servers, s)
	}
	c.proxy = Process{Name: "haproxy", log: filepath.Join(c.dir, "haproxy.log"), make: func() *exec.Cmd {
		bin, _ := lookPath("haproxy")
		return exec.Command(bin, "-db", "-f", filepath.Join(c.dir, "haproxy.cfg"))
	}}
	return c.configure(watched)
}

// secret is the password of the application's account, made once.
func (c *Cluster) secret() (string, error) {
	path := filepath.Join(c.dir, "password")
	b, err := os.ReadFile(path)
	if errors.Is(err, os.ErrNotExist) {
		b = []byte(rand.Text())
		err = os.WriteFile(path, b, 0o600)
	}
	return string(b), err
}

// DSN names the database at one address or several.
func (c *Cluster) DSN(hosts ...string) string {
	return "zorvel:" + c.password + "@tcp(" + strings.Join(hosts, ",") + ")/zorvel"
}

// Start starts nodes, proxy and nothing else: the database is ready then.
func (c *Cluster) Start(ctx context.Context) error {
	for _, n := range c.Nodes {
		if err := n.install(ctx); err != nil {
			return err
		}
	}
	first, err := c.first(ctx)
	if err != nil {
		return err
	}
	if err := first.startAs(ctx, true); err != nil {
		return err
	}
	if err := c.grant(ctx, first); err != nil {
		return err
	}
	for _, n := range c.Nodes {
		if n == first {
			continue
		}
		if err := n.Start(ctx); err != nil {
			return err
		}
	}
	for _, w := range c.watches {
		l, err := new(net.ListenConfig).Listen(ctx, "tcp", w.Addr)
		if err != nil {
			return err
		}
		go func() { _ = w.Serve(l) }()
	}
	if err := c.proxy.start(); err != nil {
		return err
	}
	return c.awaitDatabase(ctx)
}

// awaitDatabase waits until a node is reached by the proxy.
func (c *Cluster) awaitDatabase(ctx context.Context) error {
	within, cancel := context.WithTimeout(ctx, 30*time.Second)
	defer cancel()
	db, err := sql.Open("mysql", c.DSN(c.Database))
	if err != nil {
		return err
	}
	defer func() { _ = db.Close() }()
	for {
		if err = db.PingContext(within); err == nil {
			return nil
		}
		select {
		case <-within.Done():
			return fmt.Errorf("no node is reached by the proxy: %w\n%s", err, c.proxy.said())
		case <-time.After(50 * time.Millisecond):
		}
	}
}

// first is the node that begins: the one that has the last change.
func (c *Cluster) first(ctx context.Context) (*Node, error) {
	best, most := c.Nodes[0], int64(-2)
	for _, n := range c.Nodes {
		at, err := n.position(ctx)
		// One that an earlier start left when it was killed is still ending, and holds its data.
		for tries := 0; err != nil && tries < 40 && ctx.Err() == nil; tries++ {
			time.Sleep(500 * time.Millisecond)
			at, err = n.position(ctx)
		}
		if err != nil {
			return nil, err
		}
		if at > most {
			best, most = n, at
		}
	}
	return best, best.bootstrapSafe()
}

func (c *Cluster) grant(ctx context.Context, n *Node) error {
	db, err := n.root()
	if err != nil {
		return err
	}
	defer func() { _ = db.Close() }()
	for _, q := range []string{
		"CREATE OR REPLACE USER 'zorvel'@'127.0.0.1' IDENTIFIED BY '" + c.password + "'",
		"GRANT ALL ON `zorvel%`.* TO 'zorvel'@'127.0.0.1'",
		"CREATE DATABASE IF NOT EXISTS zorvel",
	} {
		if _, err := db.ExecContext(ctx, q); err != nil {
			return fmt.Errorf("creating the application's account: %w", err)
		}
	}
	return nil
}

// Stopped asks the program that runs a cluster in a folder to end, and waits until it has.
func Stopped(ctx context.Context, dir string) error {
	lock, err := os.OpenFile(filepath.Join(dir, "lock"), os.O_RDWR, 0)
	if errors.Is(err, os.ErrNotExist) {
		return errors.New("no cluster was ever started in " + dir)
	}
	if err != nil {
		return err
	}
	defer func() { _ = lock.Close() }()
	for asked := false; ; {
		if syscall.Flock(int(lock.Fd()), syscall.LOCK_EX|syscall.LOCK_NB) == nil {
			return nil
		}
		if !asked {
			var pid int
			if _, err := fmt.Fscan(lock, &pid); err != nil {
				return err
			}
			if err := syscall.Kill(pid, syscall.SIGINT); err != nil {
				return err
			}
			asked = true
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(100 * time.Millisecond):
		}
	}
}

// Serve starts the servers, both at once, and waits until people can come in.
func (c *Cluster) Serve(ctx context.Context) error {
	for _, s := range c.Servers {
		if err := s.start(); err != nil {
			return err
		}
	}
	for _, s := range c.Servers {
		if err := s.Await(ctx); err != nil {
			return err
		}
	}
	return awaitReady(ctx, c.Address)
}

// Start starts the server again.
func (s *Server) Start() error { return s.start() }

// Await waits until the server answers.
func (s *Server) Await(ctx context.Context) error {
	if err := awaitReady(ctx, s.Address); err != nil {
		return fmt.Errorf("%s: %w\n%s", s.Name, err, s.said())
	}
	return nil
}

func awaitReady(ctx context.Context, address string) error {
	within, cancel := context.WithTimeout(ctx, time.Minute)
	defer cancel()
	client := http.Client{Timeout: 5 * time.Second}
	for {
		req, err := http.NewRequestWithContext(within, http.MethodGet, "http://"+address+"/readyz", nil)
		if err != nil {
			return err
		}
		res, err := client.Do(req)
		if err == nil {
			_ = res.Body.Close()
			if res.StatusCode == http.StatusOK {
				return nil
			}
			err = errors.New(res.Status)
		}
		select {
		case <-within.Done():
			return fmt.Errorf("not ready: %w", err)
		case <-time.After(50 * time.Millisecond):
		}
	}
}

// Stop ends everything; the node that began last ends last, and can begin again.
func (c *Cluster) Stop() error {
	var errs []error
	for _, s := range c.Servers {
		errs = append(errs, s.stop(15*time.Second))
	}
	errs = append(errs, c.proxy.stop(5*time.Second))
	for i := len(c.Nodes) - 1; i >= 0; i-- {
		errs = append(errs, c.Nodes[i].stop(30*time.Second))
	}
	for _, w := range c.watches {
		errs = append(errs, w.Close())
	}
	return errors.Join(append(errs, c.lock.Close())...)
}

// nodesRunAs is the account of Debian's server, which root's nodes run as.
const nodesRunAs = "mysql"

func account(name string) (*syscall.Credential, error) {
	u, err := user.Lookup(name)
	if err != nil {
		return nil, err
	}
	uid, err := strconv.ParseUint(u.Uid, 10, 32)
	if err != nil {
		return nil, err
	}
	gid, err := strconv.ParseUint(u.Gid, 10, 32)
	if err != nil {
		return nil, err
	}
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
}

// give hands a folder to the account that the nodes run as.
func (c *Cluster) give(dir string) error {
	if c.as == nil {
		return nil
	}
	return os.Chown(dir, int(c.as.Uid), int(c.as.Gid))
}

func lookPath(name string) (string, error) {
	p, err := localdb.LookPath(name)
	if err != nil {
		return "", fmt.Errorf("%s is not installed: a cluster needs Debian's %s", name, strings.Join(Need, ", "))
	}
	return p, nil
}

// freePorts are so many ports in a row: those that follow from, or, where that is 0, some
// below those that the system gives to whoever asks for any.
func freePorts(from, n int) ([]int, error) {
	const low, high = 20_000, 30_000
	for tries := 0; ; tries++ {
		first := from
		if from == 0 {
			first = low + mathrand.IntN(high-low-n)
		}
		err := free(first, n)
		if err == nil {
			out := make([]int, n)
			for i := range out {
				out[i] = first + i
			}
			return out, nil
		}
		if tries == 200 {
			return nil, err
		}
		if from > 0 {
			// What an earlier start left that was killed is told to end, and takes a while.
			time.Sleep(100 * time.Millisecond)
		}
	}
}

// free reports whether nobody listens at so many ports from one on.
func free(first, n int) error {
	for i := range n {
		l, err := net.Listen("tcp", loopback(first+i))
		if err != nil {
			return err
		}
		if err := l.Close(); err != nil {
			return err
		}
	}
	return nil
}

// configure writes what the proxy is told.
func (c *Cluster) configure(watched []int) error {
	type node struct {
		Name, Address, Watched string
		Backup                 bool
	}
	var nodes []node
	for i, n := range c.Nodes {
		nodes = append(nodes, node{n.Name, n.Address(), strconv.Itoa(watched[i]), i > 0})
		n.watch(loopback(watched[i]))
	}
	f, err := os.Create(filepath.Join(c.dir, "haproxy.cfg"))
	if err != nil {
		return err
	}
	later := filepath.Join(c.dir, "later.http")
	if err := os.WriteFile(later, []byte(laterAnswer), 0o644); err != nil {
		return err
	}
	return errors.Join(proxyConfig.Execute(f, map[string]any{"Address": c.Address, "Database": c.Database,
		"Nodes": nodes, "Servers": c.Servers, "Later": later}), f.Close())
}

// laterAnswer is what a client is told whose server went away while it answered.
const laterAnswer = "HTTP/1.1 503 Service Unavailable\r\nCache-Control: no-store\r\nRetry-After: 1\r\nConnection: close\r\n" +
	"Content-Type: application/problem+json\r\n\r\n" +
	`{"title":"The server went away","status":503,"detail":"Whether this was stored isn't known: look before you send it ` +
	`again. Readings and photos are stored once, however often they are sent."}` + "\n"

// proxyConfig is HAProxy's. Writers go to one node as long as it is there: nodes that
// write the same rows at once only undo each other's work.
var proxyConfig = template.Must(template.New("").Parse(`global
  maxconn 2000
defaults
  timeout connect 1s
  timeout client 90s
  timeout server 90s
  timeout check 1s
  retries 3
  option redispatch
frontend people
  mode http
  bind {{.Address}}
  # Servers without a database still calculate, and say so of the rest.
  use_backend alive if { nbsrv(servers) eq 0 }
  default_backend servers
backend alive
  mode http
  option forwardfor
  option httpchk GET /healthz
  errorfile 502 {{.Later}}
  errorfile 503 {{.Later}}
  errorfile 504 {{.Later}}
  default-server check inter 300ms fall 2 rise 2
{{- range .Servers}}
  server {{.Name}} {{.Address}}
{{- end}}
backend servers
  mode http
  option forwardfor
  option httpchk GET /readyz
  balance leastconn
  retry-on conn-failure empty-response response-timeout
  http-request disable-l7-retry unless METH_GET
  errorfile 502 {{.Later}}
  errorfile 503 {{.Later}}
  errorfile 504 {{.Later}}
  default-server check inter 300ms fall 2 rise 2 on-marked-down shutdown-sessions
{{- range .Servers}}
  server {{.Name}} {{.Address}}
{{- end}}
listen database
  mode tcp
  bind {{.Database}}
  option httpchk GET /
  default-server check inter 300ms fall 2 rise 2 on-marked-down shutdown-sessions
{{- range .Nodes}}
  server {{.Name}} {{.Address}} port {{.Watched}}{{if .Backup}} backup{{end}}
{{- end}}
`))
