// Package catalog keeps the shop's lists.
package catalog

import (
	"zorvel/internal/index"
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
