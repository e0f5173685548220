package main

import (
	"context"
	"database/sql/driver"
	"errors"
	"strings"
	"sync"
)

// statement is a select as it was sent.
type statement struct {
	query string
	args  []any
}

// recorder makes connections that remember, while they are asked to, what is
// selected through them.
type recorder struct {
	driver.Connector
	mu   sync.Mutex
	on   bool
	seen []statement
}

// mysqlConn is what a connection of the driver can do.
type mysqlConn interface {
	driver.Conn
	driver.ConnBeginTx
	driver.ConnPrepareContext
	driver.ExecerContext
	driver.NamedValueChecker
	driver.Pinger
	driver.QueryerContext
	driver.SessionResetter
	driver.Validator
}

type conn struct {
	mysqlConn
	r *recorder
}

// Connect makes a connection.
func (r *recorder) Connect(ctx context.Context) (driver.Conn, error) {
	c, err := r.Connector.Connect(ctx)
	if err != nil {
		return nil, err
	}
	all, ok := c.(mysqlConn)
	if !ok {
		return nil, errors.New("the driver's connections do less than they did")
	}
	return conn{all, r}, nil
}

// QueryContext sends a select.
func (c conn) QueryContext(ctx context.Context, query string, args []driver.NamedValue) (driver.Rows, error) {
	c.r.mu.Lock()
	if c.r.on && strings.HasPrefix(strings.TrimSpace(query), "SELECT") {
		s := statement{query: query}
		for _, a := range args {
			s.args = append(s.args, a.Value)
		}
		c.r.seen = append(c.r.seen, s)
	}
	c.r.mu.Unlock()
	return c.mysqlConn.QueryContext(ctx, query, args)
}

// during returns what is selected while something is done.
func (r *recorder) during(do func() error) ([]statement, error) {
	r.mu.Lock()
	r.on, r.seen = true, nil
	r.mu.Unlock()
	err := do()
	r.mu.Lock()
	defer r.mu.Unlock()
	r.on = false
	if err == nil && len(r.seen) == 0 {
		err = errors.New("no statement was sent")
	}
	return r.seen, err
}
