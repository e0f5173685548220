package server

import (
	"encoding/json"

	"zorvel/core/identify"
)

func deref[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}

// some is a pointer to v, or nil where v is its zero value.
func some[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

func nonNil[T any](s []T) []T {
	if s == nil {
		return []T{}
	}
	return s
}

// readingJSON is the reading as it is stored: without the request's own id.
func readingJSON(r identify.Reading) (json.RawMessage, error) {
	r.ID = ""
	return json.Marshal(r)
}
