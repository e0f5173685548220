// Package exchange takes units and the whole shop out as documents and archives,
// and in again: all or nothing, and said to be an import.
package exchange

import (
	"log/slog"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/internal/rooms/units"
	"zorvel/internal/store"
)

// Room takes out and in.
type Room struct {
	store   *store.Store
	units   *units.Room
	schemas openapi3.Schemas // of the contract
	log     *slog.Logger
}

// New opens the room.
func New(st *store.Store, units *units.Room, schemas openapi3.Schemas, log *slog.Logger) *Room {
	return &Room{store: st, units: units, schemas: schemas, log: log}
}
