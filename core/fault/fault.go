// Package fault is how the core says that an input can't be right.
package fault

import (
	"errors"
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

// Under moves the fields of a fault below a property; other errors pass as
// they are.
func Under(property string, err error) error {
	return moved(err, func(field string) string { return strings.TrimSuffix(property+"/"+field, "/") })
}

// Within is Under taken back: the fields of a fault as seen from the property.
func Within(property string, err error) error {
	return moved(err, func(field string) string {
		if field == property {
			return ""
		}
		return strings.TrimPrefix(field, property+"/")
	})
}

func moved(err error, to func(field string) string) error {
	var one *Error
	var list Errors
	switch {
	case errors.As(err, &list):
		out := make(Errors, len(list))
		for i, e := range list {
			out[i] = New(to(e.Field), "%s", e.Message)
		}
		return out
	case errors.As(err, &one):
		return New(to(one.Field), "%s", one.Message)
	}
	return err
}

// List is the faults of an error that some function answered with; one that is no
// fault stands at no field.
func List(err error) Errors {
	switch e := err.(type) {
	case *Error:
		return Errors{e}
	case Errors:
		return e
	}
	return Errors{New("", "%v", err)}
}
