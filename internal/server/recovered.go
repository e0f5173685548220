package server

import (
	"context"
	"fmt"
	"runtime/debug"
	"time"
)

// recovered turns a panic into an error: to be deferred where one stored thing is
// worked on among many, so that what is wrong with it stays its own.
func recovered(err *error) {
	if p := recover(); p != nil {
		*err = &brokenError{what: p, stack: debug.Stack()}
	}
}

// background runs work that goes on beside the requests until ctx is done. Where it
// breaks, that is told, and it begins again: it never takes the server down.
func (s *Server) background(ctx context.Context, name string, work func(context.Context)) {
	go func() {
		for {
			var err error
			func() {
				defer recovered(&err)
				work(ctx)
			}()
			if err == nil {
				return
			}
			s.log.Error("work in the background broke and begins again", "work", name, "error", err)
			if !pause(ctx, time.Second) {
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
