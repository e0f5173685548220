package store

import (
	"context"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/go-sql-driver/mysql"
)

// How long a host has to take a connection. With others to go to, little.
const (
	dialWithin       = 5 * time.Second
	dialWithinOfMany = 1500 * time.Millisecond
)

// addresses splits the hosts of a DSN, user:password@tcp(a:3306,b:3306)/name, into
// one DSN each.
func addresses(dsn string) []string {
	open := strings.LastIndexByte(dsn, '(')
	if open < 0 {
		return []string{dsn}
	}
	end := strings.IndexByte(dsn[open:], ')')
	if end < 0 {
		return []string{dsn}
	}
	var out []string
	for _, host := range strings.Split(dsn[open+1:open+end], ",") {
		out = append(out, dsn[:open+1]+strings.TrimSpace(host)+dsn[open+end:])
	}
	return out
}

// Connector makes the connections that Open uses: to the first host that takes them,
// and to another once that one is left.
func Connector(dsn string) (driver.Connector, error) {
	h := &hosts{}
	list := addresses(dsn)
	for _, one := range list {
		cfg, err := mysql.ParseDSN(one)
		if err != nil {
			return nil, fmt.Errorf("the database address is not understood (user:password@tcp(host:port)/name): %w", err)
		}
		cfg.ParseTime, cfg.Loc, cfg.ClientFoundRows = true, time.UTC, true
		cfg.Collation = "utf8mb4_unicode_520_ci"
		// Values go with the statement, quoted by the driver, instead of in two more trips.
		cfg.InterpolateParams = true
		if cfg.Params == nil {
			cfg.Params = map[string]string{}
		}
		cfg.Params["time_zone"] = "'+00:00'"
		cfg.Timeout = dialWithin
		if len(list) > 1 {
			cfg.Timeout = dialWithinOfMany
		}
		x := &host{address: cfg.Addr, open: map[*tracked]bool{}}
		cfg.DialFunc = x.dial
		if x.Connector, err = mysql.NewConnector(cfg); err != nil {
			return nil, err
		}
		h.list = append(h.list, x)
	}
	return h, nil
}

// String names the addresses.
func (h *hosts) String() string {
	names := make([]string, len(h.list))
	for i, x := range h.list {
		names[i] = x.address
	}
	return strings.Join(names, ", ")
}

// hosts are the nodes of one database, of which one is used at a time: two nodes that
// take writes of one server only get into each other's way.
type hosts struct {
	list []*host

	mu        sync.Mutex
	at        int
	clustered bool
}

// host is a node, and what is connected to it.
type host struct {
	driver.Connector
	address string

	mu   sync.Mutex
	open map[*tracked]bool
}

// tracked is a connection that its host knows of until it is closed. It is the
// connection itself, so that the driver can see whether it was closed at the other end.
type tracked struct {
	*net.TCPConn
	of *host
}

func (c *tracked) Close() error {
	c.of.mu.Lock()
	delete(c.of.open, c)
	c.of.mu.Unlock()
	return c.TCPConn.Close()
}

func (h *host) dial(ctx context.Context, network, address string) (net.Conn, error) {
	var d net.Dialer
	con, err := d.DialContext(ctx, network, address)
	tcp, ok := con.(*net.TCPConn)
	if err != nil || !ok { // a socket of this machine is never left for another
		return con, err
	}
	_ = tcp.SetKeepAlive(true)
	c := &tracked{tcp, h}
	h.mu.Lock()
	h.open[c] = true
	h.mu.Unlock()
	return c, nil
}

// cut ends whatever waits for the host.
func (h *host) cut() {
	h.mu.Lock()
	list := make([]*tracked, 0, len(h.open))
	for c := range h.open {
		list = append(list, c)
	}
	h.mu.Unlock()
	for _, c := range list {
		_ = c.TCPConn.Close()
	}
}

// Driver is that of the nodes.
func (h *hosts) Driver() driver.Driver { return h.list[0].Driver() }

// errUnready is returned of a node that answers, and takes no statements.
var errUnready = errors.New("the node is no part of its cluster, or takes its data over")

// Connect connects to the node that is used, or to the next that takes connections.
// A node that hands its data to another is taken where no other is left.
func (h *hosts) Connect(ctx context.Context) (driver.Conn, error) {
	h.mu.Lock()
	from := h.at
	h.mu.Unlock()
	var last error
	for _, least := range []int{synced, donor} {
		for i := range h.list {
			k := (from + i) % len(h.list)
			con, err := h.connect(ctx, k, least)
			if err == nil {
				h.mu.Lock()
				h.at = k
				h.mu.Unlock()
				return con, nil
			}
			last = errors.Join(last, err)
			if ctx.Err() != nil {
				return nil, last
			}
		}
		if !errors.Is(last, errUnready) {
			break // a second round would find them no different
		}
	}
	return nil, last
}

// States of a Galera node, as wsrep_local_state numbers them.
const (
	donor  = 2
	synced = 4
)

func (h *hosts) connect(ctx context.Context, k, least int) (driver.Conn, error) {
	if len(h.list) > 1 {
		within, cancel := context.WithTimeout(ctx, 2*dialWithinOfMany)
		defer cancel()
		ctx = within
	}
	con, err := h.list[k].Connect(ctx)
	if err != nil {
		return nil, err
	}
	state, err := nodeState(ctx, con)
	if err == nil && state != 0 {
		h.mu.Lock()
		h.clustered = true
		h.mu.Unlock()
		if state != synced && (state != donor || least != donor) {
			err = fmt.Errorf("%s: %w", h.list[k].address, errUnready)
		} else {
			// Who reads sees what was acknowledged before, at whichever node.
			err = execOn(ctx, con, "SET SESSION wsrep_sync_wait = 1")
		}
	}
	if err != nil {
		return nil, errors.Join(err, con.Close())
	}
	return con, nil
}

// nodeState is a node's state in its cluster; 0 where there is no cluster, and -1 where
// the node is no part of it now.
func nodeState(ctx context.Context, con driver.Conn) (state int, err error) {
	q, ok := con.(driver.QueryerContext)
	if !ok {
		return 0, nil
	}
	rows, err := q.QueryContext(ctx,
		"SHOW GLOBAL STATUS WHERE Variable_name IN ('wsrep_provider_name', 'wsrep_ready', 'wsrep_local_state')", nil)
	if err != nil {
		return 0, err
	}
	defer func() { _ = rows.Close() }()
	said := map[string]string{}
	for {
		cells := make([]driver.Value, 2)
		if err := rows.Next(cells); errors.Is(err, io.EOF) {
			break
		} else if err != nil {
			return 0, err
		}
		said[text(cells[0])] = text(cells[1])
	}
	if said["wsrep_provider_name"] == "" {
		return 0, nil
	}
	if state, err = strconv.Atoi(said["wsrep_local_state"]); err != nil || said["wsrep_ready"] != "ON" {
		return -1, nil
	}
	return state, nil
}

func text(v driver.Value) string {
	if b, ok := v.([]byte); ok {
		return string(b)
	}
	return fmt.Sprint(v)
}

func execOn(ctx context.Context, con driver.Conn, query string) error {
	if x, ok := con.(driver.ExecerContext); ok {
		_, err := x.ExecContext(ctx, query, nil)
		return err
	}
	return nil
}

// leave turns to the next node, and ends what waits for the one that was used.
func (h *hosts) leave() {
	h.mu.Lock()
	was := h.list[h.at]
	h.at = (h.at + 1) % len(h.list)
	h.mu.Unlock()
	if len(h.list) > 1 {
		was.cut()
	}
}

// Clustered reports whether the database is a cluster's.
func (h *hosts) isClustered() bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.clustered
}
