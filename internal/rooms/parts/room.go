// Package parts keeps the shop's parts.
package parts

import (
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
