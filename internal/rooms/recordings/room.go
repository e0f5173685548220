// Package recordings names what howls in a recording, and saves recordings with units.
package recordings

import "zorvel/internal/store"

// Room answers for it.
type Room struct{ store *store.Store }

// New opens the room.
func New(store *store.Store) *Room { return &Room{store: store} }
