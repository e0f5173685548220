// Package findfault answers what is broken, and what repairs proved.
package findfault

import (
	"zorvel/internal/index"
	"zorvel/internal/record"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store *store.Store
	index *index.Index
}

// New opens the room.
func New(store *store.Store, index *index.Index) *Room {
	return &Room{store: store, index: index}
}

// Records are the kinds of record that it keeps.
func (s *Room) Records() map[string]record.Kind {
	return map[string]record.Kind{
		"fault":  {Answer: s.decide, Print: printSheet},
		"repair": {Answer: s.decideRepair},
	}
}
