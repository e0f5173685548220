// Package photos keeps photos and answers for tooth marks.
package photos

import (
	"zorvel/internal/rooms/cards"
	"zorvel/internal/rooms/units"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store *store.Store
	units *units.Room
	cards *cards.Room
}

// New opens the room.
func New(store *store.Store, units *units.Room, cards *cards.Room) *Room {
	return &Room{store: store, units: units, cards: cards}
}
