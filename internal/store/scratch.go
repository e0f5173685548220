package store

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"

	"github.com/go-sql-driver/mysql"
)

// scratchComment marks a scratch database: only one that has it is ever dropped.
const scratchComment = "zorvel scratch"

// Scratch makes an empty database beside the one of a DSN, on the same server and by the
// same account, and returns what drops it. What an earlier run left behind goes first.
func Scratch(ctx context.Context, dsn string) (st *Store, drop func() error, err error) {
	cfg, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, nil, err
	}
	server, err := Open(ctx, dsn)
	if err != nil {
		return nil, nil, err
	}
	prefix := cfg.DBName + "_verify_"
	left, err := list(ctx, server.DB, func(r scanner, name *string) error { return r.Scan(name) },
		"SELECT schema_name FROM information_schema.schemata WHERE LEFT(schema_name, ?) = ? AND schema_comment = ?",
		len(prefix), prefix, scratchComment)
	if err != nil {
		return nil, nil, errors.Join(err, server.Close())
	}
	gone := func(ctx context.Context, name string) error {
		_, err := server.DB.ExecContext(ctx, "DROP DATABASE `"+name+"`")
		return err
	}
	for _, name := range left {
		if err := gone(ctx, name); err != nil {
			return nil, nil, errors.Join(err, server.Close())
		}
	}
	random := make([]byte, 6)
	if _, err := rand.Read(random); err != nil {
		return nil, nil, errors.Join(err, server.Close())
	}
	cfg.DBName = prefix + hex.EncodeToString(random)
	if _, err := server.DB.ExecContext(ctx,
		"CREATE DATABASE `"+cfg.DBName+"` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci COMMENT '"+scratchComment+"'"); err != nil {
		return nil, nil, errors.Join(fmt.Errorf("the account may not make a scratch database; let it: GRANT ALL ON "+
			"`%s%%`.* TO its name: %w", prefix, err), server.Close())
	}
	st, err = Open(ctx, cfg.FormatDSN())
	if err != nil {
		return nil, nil, errors.Join(err, gone(ctx, cfg.DBName), server.Close())
	}
	return st, func() error {
		return errors.Join(st.Close(), gone(context.WithoutCancel(ctx), cfg.DBName), server.Close())
	}, nil
}
