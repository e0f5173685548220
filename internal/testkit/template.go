package testkit

import (
	"context"
	"database/sql"
	"fmt"
	"io/fs"
	"log/slog"
	"strings"
	"sync"
	"testing"

	"zorvel/internal/demo"
	"zorvel/internal/server"
	"zorvel/internal/store"
	"zorvel/web"
)

// Migrating a database takes half a second and filling the demo shop more than
// one. Both are done once per test program; every test gets a copy of its own.
var (
	emptyShop = sync.OnceValues(func() ([]string, error) { return template("zorvel_empty_shop", false) })
	demoShop  = sync.OnceValues(func() ([]string, error) { return template("zorvel_demo_shop", true) })
)

// template makes a database and tells the statements that make another like it.
func template(name string, withDemo bool) ([]string, error) {
	ctx := context.Background()
	dsn, err := db.Create(ctx, name)
	if err != nil {
		return nil, err
	}
	st, err := store.Open(ctx, dsn)
	if err != nil {
		return nil, err
	}
	defer func() { _ = st.Close() }()
	if err := st.Migrate(ctx); err != nil {
		return nil, err
	}
	if withDemo {
		srv, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
		if err != nil {
			return nil, err
		}
		defer srv.Close()
		if err := demo.Load(ctx, st, srv); err != nil {
			return nil, err
		}
	}
	return copying(ctx, dsn, name)
}

// copying are the statements that fill an empty database with the tables of
// another on the same server, keys and counters included.
func copying(ctx context.Context, dsn, from string) ([]string, error) {
	c, err := sql.Open("mysql", dsn)
	if err != nil {
		return nil, err
	}
	defer func() { _ = c.Close() }()
	rows, err := c.QueryContext(ctx, `SELECT table_name FROM information_schema.tables WHERE table_schema = ?`, from)
	if err != nil {
		return nil, err
	}
	var tables []string
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return nil, err
		}
		tables = append(tables, name)
	}
	if err := rows.Err(); err != nil {
		return nil, err
	}
	out := []string{"SET foreign_key_checks = 0, unique_checks = 0"}
	for _, t := range tables {
		var name, create string
		if err := c.QueryRowContext(ctx, "SHOW CREATE TABLE `"+t+"`").Scan(&name, &create); err != nil {
			return nil, err
		}
		var n int
		var columns string // without those that the server reckons
		if err := c.QueryRowContext(ctx, "SELECT COUNT(*), (SELECT GROUP_CONCAT('`', column_name, '`') FROM information_schema.columns "+
			"WHERE table_schema = ? AND table_name = ? AND is_generated = 'NEVER') FROM `"+t+"`", from, t).Scan(&n, &columns); err != nil {
			return nil, err
		}
		if out = append(out, create); n > 0 {
			out = append(out, fmt.Sprintf("INSERT INTO `%s` (%s) SELECT %s FROM `%s`.`%s`", t, columns, columns, from, t))
		}
	}
	return out, nil
}

// shop makes a database like a template's.
func shop(t testing.TB, like func() ([]string, error)) *store.Store {
	t.Helper()
	statements, err := like()
	if err != nil {
		t.Fatal(err)
	}
	dsn := DSN(t)
	c, err := sql.Open("mysql", dsn+"?multiStatements=true")
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = c.Close() }()
	if _, err := c.ExecContext(t.Context(), strings.Join(statements, ";\n")); err != nil {
		t.Fatal(err)
	}
	st, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = st.Close() })
	return st
}

// app is the built front end, where it was built.
func app(t testing.TB) fs.FS {
	t.Helper()
	dist, err := fs.Sub(web.Dist, "dist")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := fs.Stat(dist, "index.html"); err != nil {
		return nil
	}
	return dist
}
