// Package jobs keeps jobs, and what service is due.
package jobs

import (
	"zorvel/internal/index"
	"zorvel/internal/rooms/cards"
	"zorvel/internal/rooms/decisions"
	"zorvel/internal/rooms/units"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store     *store.Store
	index     *index.Index
	units     *units.Room
	cards     *cards.Room
	decisions *decisions.Room
}

// New opens the room.
func New(store *store.Store, index *index.Index, units *units.Room, cards *cards.Room, decisions *decisions.Room) *Room {
	return &Room{store: store, index: index, units: units, cards: cards, decisions: decisions}
}
