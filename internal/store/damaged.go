package store

import (
	"encoding/json"
	"errors"
	"fmt"
)

// DamagedError says that something on record can't be read by this program. It is
// kept as it is.
type DamagedError struct {
	What string // the reading, the driveline …
	Err  error
}

func (e *DamagedError) Error() string { return e.What + " can't be read: " + e.Err.Error() }

func (e *DamagedError) Unwrap() error { return e.Err }

// Read reads what is on record as JSON. What can't be is a *DamagedError.
func Read(what string, text []byte, to any) error { return Damaged(what, json.Unmarshal(text, to)) }

// Damaged makes an error in reading something on record a *DamagedError; none
// stays none.
func Damaged(what string, err error) error {
	var known *DamagedError
	if err == nil || errors.As(err, &known) {
		return err
	}
	return &DamagedError{what, err}
}

// numbered names a row in a DamagedError.
func numbered(what string, id int64) string { return fmt.Sprintf("%s %d", what, id) }
