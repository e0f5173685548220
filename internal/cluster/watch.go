package cluster

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net/http"
	"time"

	"github.com/go-sql-driver/mysql"
)

// Watch answers a proxy that asks whether a node takes work: 200 where it has what the
// others have, and 503 with its state where it doesn't, as while it hands its data to
// another. A proxy's own look at a port says that the port is open, and no more.
func Watch(dsn string) (http.Handler, error) {
	cfg, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, err
	}
	cfg.DBName, cfg.Timeout, cfg.ReadTimeout = "", time.Second, time.Second
	con, err := mysql.NewConnector(cfg)
	if err != nil {
		return nil, err
	}
	db := sql.OpenDB(con)
	db.SetMaxOpenConns(2)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		state, err := nodeSays(r.Context(), db)
		if err != nil {
			state = err.Error()
		}
		if err != nil || state != "Synced" {
			w.WriteHeader(http.StatusServiceUnavailable)
		}
		_, _ = fmt.Fprintln(w, state)
	}), nil
}

// nodeSays is a node's own word for its state.
func nodeSays(ctx context.Context, db *sql.DB) (string, error) {
	within, cancel := context.WithTimeout(ctx, time.Second)
	defer cancel()
	rows, err := db.QueryContext(within, "SHOW GLOBAL STATUS WHERE Variable_name IN ('wsrep_ready', 'wsrep_local_state_comment')")
	if err != nil {
		return "", err
	}
	defer func() { _ = rows.Close() }()
	said := map[string]string{}
	for rows.Next() {
		var name, value string
		if err := rows.Scan(&name, &value); err != nil {
			return "", err
		}
		said[name] = value
	}
	if said["wsrep_ready"] != "ON" {
		return "", errors.Join(errors.New("not ready"), rows.Err())
	}
	return said["wsrep_local_state_comment"], rows.Err()
}

// watch answers for the node at an address, for as long as this program runs.
func (n *Node) watch(address string) {
	h, err := Watch("zorvel:" + n.c.password + "@tcp(" + n.Address() + ")/")
	if err != nil {
		panic(err) // of our own making
	}
	s := &http.Server{Addr: address, Handler: h, ReadHeaderTimeout: 2 * time.Second}
	n.c.watches = append(n.c.watches, s)
}
