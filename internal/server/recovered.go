package server

import (
	"fmt"
	"runtime/debug"
)

// recovered turns a panic into an error: to be deferred where one stored thing is
// worked on among many, so that what is wrong with it stays its own.
func recovered(err *error) {
	if p := recover(); p != nil {
		*err = &brokenError{what: p, stack: debug.Stack()}
	}
}

// brokenError is a fault of this program that was met while working.
type brokenError struct {
	what  any
	stack []byte
}

func (e *brokenError) Error() string { return fmt.Sprintf("it broke this program: %v", e.what) }
