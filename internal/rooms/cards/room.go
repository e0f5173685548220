// Package cards keeps work cards and their runs.
package cards

import (
	"zorvel/internal/index"
	"zorvel/internal/record"
	"zorvel/internal/rooms/units"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store *store.Store
	index *index.Index
	units *units.Room
}

// New opens the room.
func New(store *store.Store, index *index.Index, units *units.Room) *Room {
	return &Room{store: store, index: index, units: units}
}

// Records are the kinds of record that it keeps.
func (s *Room) Records() map[string]record.Kind {
	return map[string]record.Kind{
		"card": {Print: printRun},
	}
}
