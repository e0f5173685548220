// Package watch knows whether the database answers. One that is frozen takes
// connections and says nothing: nobody waits for it longer than it takes to
// notice.
package watch

import (
	"context"
	"log/slog"
	"net/http"
	"sync"
	"time"

	"zorvel/internal/problem"
)

// How the database is watched: one that is silent for two looks is taken for
// away, less than three seconds after it went.
const (
	lookEvery = 400 * time.Millisecond
	lookFor   = 1100 * time.Millisecond
)

// ErrAway tells that the database does not answer.
var ErrAway = problem.New(http.StatusServiceUnavailable, "The database does not answer",
	"Nothing was stored. Calculations still work; try saving again in a moment.")

// ErrBroke tells that the database went away while it was at something.
var ErrBroke = problem.New(http.StatusServiceUnavailable, "The database stopped answering",
	"Whether this was stored isn't known: look before you send it again. Readings and photos are stored once, however often they are sent.")

// Database is one that is watched.
type Database struct {
	ready func(context.Context) error
	log   *slog.Logger

	mu   sync.Mutex
	era  context.Context // ends when the database goes away
	end  context.CancelFunc
	away bool
}

// New watches a database; ready asks it.
func New(ready func(context.Context) error, log *slog.Logger) *Database {
	d := &Database{ready: ready, log: log}
	d.era, d.end = context.WithCancel(context.Background())
	return d
}

// Away reports whether it was away when it was looked at last.
func (d *Database) Away() bool {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.away
}

// saw notes whether the database answered.
func (d *Database) saw(answers bool) (changed bool) {
	d.mu.Lock()
	defer d.mu.Unlock()
	if changed = d.away == answers; !changed {
		return false
	}
	d.away = !answers
	if d.away {
		d.end()
	} else {
		d.era, d.end = context.WithCancel(context.Background())
	}
	return true
}

// Bound ends a request's context when the database goes away.
func (d *Database) Bound(ctx context.Context) (context.Context, func()) {
	d.mu.Lock()
	era := d.era
	d.mu.Unlock()
	ctx, cancel := context.WithCancelCause(ctx)
	stop := context.AfterFunc(era, func() { cancel(ErrBroke) })
	return ctx, func() { stop(); cancel(nil) }
}

// Run looks at the database until ctx is done.
func (d *Database) Run(ctx context.Context) {
	for ctx.Err() == nil {
		d.Look(ctx)
		select {
		case <-ctx.Done():
		case <-time.After(lookEvery):
		}
	}
}

// Look sees whether the database answers, a second time where it was silent, and
// says so to everyone: there is one opinion of it.
func (d *Database) Look(ctx context.Context) (answers bool) {
	for range 2 {
		within, cancel := context.WithTimeout(ctx, lookFor)
		answers = d.ready(within) == nil
		cancel()
		if answers {
			break
		}
		if ctx.Err() != nil {
			return !d.Away() // who asked is gone; nothing was seen
		}
	}
	if d.saw(answers) {
		d.log.Warn("the database", "answers", answers)
	}
	return answers
}
