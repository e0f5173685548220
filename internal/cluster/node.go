package cluster

import (
	"bufio"
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"

	"zorvel/internal/localdb"
)

// Node is one MariaDB of the cluster.
type Node struct {
	Process
	c    *Cluster
	dir  string
	port ports
}

// ports of a node: for clients, for the group, for what it missed, and for a whole
// copy.
type ports struct{ sql, group, missed, copy int }

func (n *Node) data() string   { return filepath.Join(n.dir, "data") }
func (n *Node) socket() string { return filepath.Join(n.dir, "s") }

// Address is where clients reach it.
func (n *Node) Address() string { return loopback(n.port.sql) }

func loopback(port int) string { return "127.0.0.1:" + strconv.Itoa(port) }

// groupOptions are the provider's. A member that says nothing is suspected after two
// seconds instead of five, and taken for gone after four instead of fifteen, asked twice a
// second: so long do writes wait when a node dies, for nothing is acknowledged that a
// silent member might yet contradict. On a network that loses packets for seconds
// members would be put out for nothing; there the usual ones are right.
const groupOptions = "evs.keepalive_period=PT0.5S;evs.inactive_check_period=PT0.25S;evs.suspect_timeout=PT2S;" +
	"evs.inactive_timeout=PT4S;evs.install_timeout=PT4S;gcache.size=64M;gcache.recover=yes"

// command starts the node; the first of a new cluster joins nobody.
func (n *Node) command(first bool) func() *exec.Cmd {
	return func() *exec.Cmd {
		group := make([]string, len(n.c.Nodes))
		for i, x := range n.c.Nodes {
			group[i] = loopback(x.port.group)
		}
		args := []string{"--no-defaults", "--datadir=" + n.data(), "--socket=" + n.socket(), "--pid-file=" + filepath.Join(n.dir, "pid"),
			"--port=" + strconv.Itoa(n.port.sql), "--binlog-format=ROW", "--innodb-autoinc-lock-mode=2", "--default-storage-engine=InnoDB",
			"--wsrep-on=ON", "--wsrep-provider=" + n.c.provider, "--wsrep-cluster-name=zorvel",
			"--wsrep-cluster-address=gcomm://" + strings.Join(group, ","), "--wsrep-node-address=127.0.0.1", "--wsrep-node-name=" + n.Name,
			fmt.Sprintf("--wsrep-provider-options=base_port=%d;gmcast.listen_addr=tcp://%s;ist.recv_addr=%s;%s",
				n.port.group, loopback(n.port.group), loopback(n.port.missed), groupOptions),
			"--wsrep-sst-method=rsync", "--wsrep-sst-receive-address=" + loopback(n.port.copy)}
		if first {
			args = append(args, "--wsrep-new-cluster")
		}
		cmd := exec.Command(n.c.mariadbd, args...)
		cmd.Args = append(cmd.Args, localdb.Options...)
		if n.c.as != nil {
			// From the start, instead of with --user: a program that changes its account no
			// longer hears of its parent's death.
			cmd.SysProcAttr = &syscall.SysProcAttr{Credential: n.c.as}
		}
		cmd.Env = append(os.Environ(), "TMPDIR="+filepath.Join(n.dir, "tmp"), "PATH="+os.Getenv("PATH")+":/usr/sbin:/sbin")
		return cmd
	}
}

// install makes the node's system tables, once.
func (n *Node) install(ctx context.Context) error {
	if err := os.MkdirAll(filepath.Join(n.dir, "tmp"), 0o755); err != nil {
		return err
	}
	if _, err := os.Stat(filepath.Join(n.data(), "mysql")); err == nil {
		return nil
	}
	if err := os.RemoveAll(n.data()); err != nil {
		return err
	}
	bin, err := lookPath("mariadb-install-db")
	if err != nil {
		return err
	}
	who := nodesRunAs
	if n.c.as == nil {
		u, err := user.Current()
		if err != nil {
			return err
		}
		who = u.Username
	}
	for _, d := range []string{n.dir, filepath.Join(n.dir, "tmp")} {
		if err := n.c.give(d); err != nil {
			return err
		}
	}
	out, err := exec.CommandContext(ctx, bin, "--no-defaults", "--user="+who, "--datadir="+n.data(),
		"--auth-root-authentication-method=socket", "--skip-test-db", "--skip-name-resolve").CombinedOutput()
	if err != nil {
		return fmt.Errorf("creating the data of %s: %w\n%s", n.Name, err, out)
	}
	return nil
}

// root opens the node as its administrator, over its socket.
func (n *Node) root() (*sql.DB, error) {
	u, err := user.Current()
	if err != nil {
		return nil, err
	}
	cfg := mysql.NewConfig()
	cfg.User, cfg.Net, cfg.Addr = u.Username, "unix", n.socket()
	con, err := mysql.NewConnector(cfg)
	if err != nil {
		return nil, err
	}
	return sql.OpenDB(con), nil
}

// Start starts a node and waits until it is part of the cluster.
func (n *Node) Start(ctx context.Context) error { return n.startAs(ctx, false) }

func (n *Node) startAs(ctx context.Context, first bool) error {
	n.make = n.command(first)
	if err := n.start(); err != nil {
		return err
	}
	return n.await(ctx)
}

// await waits until the node has what the others have.
func (n *Node) await(ctx context.Context) error {
	within, cancel := context.WithTimeout(ctx, 2*time.Minute)
	defer cancel()
	db, err := n.root()
	if err != nil {
		return err
	}
	defer func() { _ = db.Close() }()
	for {
		state, err := n.state(within, db)
		if err == nil && state == "Synced" {
			return nil
		}
		select {
		case <-within.Done():
			return fmt.Errorf("%s is not synced (%s): %w\n%s", n.Name, state, errors.Join(err, within.Err()), n.said())
		case <-n.ended:
			return fmt.Errorf("%s ended while it started:\n%s", n.Name, n.said())
		case <-time.After(100 * time.Millisecond):
		}
	}
}

func (n *Node) state(ctx context.Context, db *sql.DB) (string, error) {
	var name, state string
	err := db.QueryRowContext(ctx, "SHOW STATUS LIKE 'wsrep_local_state_comment'").Scan(&name, &state)
	return state, err
}

// Cut takes the node off the others' network while it runs on; Heal joins it again.
func (n *Node) Cut(ctx context.Context) error  { return n.isolate(ctx, 1) }
func (n *Node) Heal(ctx context.Context) error { return errors.Join(n.isolate(ctx, 0), n.await(ctx)) }

func (n *Node) isolate(ctx context.Context, on int) error {
	db, err := n.root()
	if err != nil {
		return err
	}
	defer func() { _ = db.Close() }()
	_, err = db.ExecContext(ctx, fmt.Sprintf("SET GLOBAL wsrep_provider_options = 'gmcast.isolate=%d'", on))
	return err
}

var (
	safe      = regexp.MustCompile(`(?m)^safe_to_bootstrap:\s*(\d)`)
	ended     = regexp.MustCompile(`(?m)^seqno:\s*(-?\d+)`)
	recovered = regexp.MustCompile(`Recovered position:\s*[0-9a-f-]+:(-?\d+)`)
)

// position is the last change that a node has, where all of them ended; greatest for
// the one that knows it was the last.
func (n *Node) position(ctx context.Context) (int64, error) {
	b, err := os.ReadFile(filepath.Join(n.data(), "grastate.dat"))
	if err != nil {
		return -1, nil // it was never part of a cluster
	}
	if m := safe.FindSubmatch(b); m != nil && string(m[1]) == "1" {
		return 1 << 62, nil
	}
	if m := ended.FindSubmatch(b); m != nil && string(m[1]) != "-1" { // it ended in order
		return strconv.ParseInt(string(m[1]), 10, 64)
	}
	as := n.command(false)()
	cmd := exec.CommandContext(ctx, as.Path, append(as.Args[1:], "--wsrep-recover")...)
	cmd.Env, cmd.SysProcAttr = as.Env, as.SysProcAttr
	out, err := cmd.CombinedOutput()
	for lines := bufio.NewScanner(bytes.NewReader(out)); lines.Scan(); {
		if m := recovered.FindStringSubmatch(lines.Text()); m != nil {
			return strconv.ParseInt(m[1], 10, 64)
		}
	}
	return -1, errors.Join(fmt.Errorf("%s does not say how far it came", n.Name), err)
}

// bootstrapSafe lets the node begin the cluster anew: it has the last change.
func (n *Node) bootstrapSafe() error {
	path := filepath.Join(n.data(), "grastate.dat")
	b, err := os.ReadFile(path)
	if err != nil {
		return nil
	}
	return os.WriteFile(path, safe.ReplaceAll(b, []byte("safe_to_bootstrap: 1")), 0o660)
}
