// Package experience gives what this shop found to other shops, and lets theirs weigh here.
package experience

import (
	"zorvel/internal/index"
	"zorvel/internal/rooms/findfault"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store  *store.Store
	index  *index.Index
	faults *findfault.Room
}

// New opens the room.
func New(store *store.Store, index *index.Index, faults *findfault.Room) *Room {
	return &Room{store: store, index: index, faults: faults}
}
