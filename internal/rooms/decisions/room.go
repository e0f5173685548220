// Package decisions keeps what was decided, each kind as its room answers it.
package decisions

import (
	"zorvel/internal/index"
	"zorvel/internal/record"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store *store.Store
	index *index.Index
	kinds map[string]record.Kind
}

// New opens the room with the kinds of record that there are.
func New(store *store.Store, index *index.Index, kinds map[string]record.Kind) *Room {
	return &Room{store: store, index: index, kinds: kinds}
}
