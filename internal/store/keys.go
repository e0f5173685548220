package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
)

// A client gives each thing that it sends a key, so that sending it twice keeps it
// once. A key belongs to its place (a ratio's readings, a job's lines, a unit's
// jobs); under it stands what came first. The program's own keys have a stroke in
// them, which a client's can't have.

// KeyError says that a client's key names something else already.
type KeyError struct{ Key string }

func (e *KeyError) Error() string { return fmt.Sprintf("the key %q names something else", e.Key) }

// under finds what came under a key: query selects its number and the digest of its
// content. Other content than that is a *KeyError.
func under(ctx context.Context, t *sql.Tx, key, content, query string, args ...any) (id int64, there bool, err error) {
	var was string
	err = t.QueryRowContext(ctx, query, args...).Scan(&id, &was)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return 0, false, nil
	case err != nil:
		return 0, false, err
	case was != content:
		return 0, false, &KeyError{key}
	}
	return id, true, nil
}

// ownKey is a key of the program's own.
func ownKey(what string, numbers ...any) string {
	for i, n := range numbers {
		if i == 0 {
			what += "/"
		} else {
			what += "-"
		}
		what += fmt.Sprint(n)
	}
	return what
}
