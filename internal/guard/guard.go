// Package guard keeps what breaks from taking the server down.
package guard

import (
	"context"
	"fmt"
	"log/slog"
	"runtime/debug"
	"time"
)

// Recovered turns a panic into an error: to be deferred where one stored thing is
// worked on among many, so that what is wrong with it stays its own.
func Recovered(err *error) {
	if p := recover(); p != nil {
		*err = &brokenError{what: p, stack: debug.Stack()}
	}
}

// background runs work that goes on beside the requests until ctx is done. Where it
// breaks, that is told, and it begins again: it never takes the server down.
func Go(ctx context.Context, log *slog.Logger, name string, work func(context.Context)) {
	go func() {
		for {
			var err error
			func() {
				defer Recovered(&err)
				work(ctx)
			}()
			if err == nil {
				return
			}
			log.Error("work in the background broke and begins again", "work", name, "error", err)
			if !Pause(ctx, time.Second) {
				return
			}
		}
	}()
}

// brokenError is a fault of this program that was met while working.
type brokenError struct {
	what  any
	stack []byte
}

func (e *brokenError) Error() string { return fmt.Sprintf("it broke this program: %v", e.what) }

// Pause waits, and reports whether there is something to go on for.
func Pause(ctx context.Context, d time.Duration) bool {
	select {
	case <-ctx.Done():
		return false
	case <-time.After(d):
		return true
	}
}
