// Package findfault answers what is broken, and what repairs proved.
package findfault

import (
	"zorvel/internal/record"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store *store.Store
}

// New opens the room.
func New(store *store.Store) *Room {
	return &Room{store: store}
}

// Records are the kinds of record that it keeps.
func (s *Room) Records() map[string]record.Kind {
	return map[string]record.Kind{
		"fault":  {Answer: s.decide, Print: printSheet},
		"repair": {Answer: s.decideRepair},
	}
}
