// Package fault is how the core says that an input can't be right.
package fault

import (
	"fmt"
	"strings"
)

// Error names the field at fault, as a path within the input that was given
// ("parts/2/axle/pinion"), and says what would be right.
type Error struct {
	Field   string
	Message string
}

func (e *Error) Error() string { return e.Field + ": " + e.Message }

// New formats an Error.
func New(field, format string, args ...any) *Error {
	return &Error{field, fmt.Sprintf(format, args...)}
}

// Errors lists every fault that was found.
type Errors []*Error

func (e Errors) Error() string {
	s := make([]string, len(e))
	for i, x := range e {
		s[i] = x.Error()
	}
	return strings.Join(s, "; ")
}

// Add appends a fault.
func (e *Errors) Add(field, format string, args ...any) { *e = append(*e, New(field, format, args...)) }

// Err is nil where nothing was found.
func (e Errors) Err() error {
	if len(e) == 0 {
		return nil
	}
	return e
}
