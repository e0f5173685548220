// Package units keeps units: their driveline, what was counted on them, what was fitted and how they once were.
package units

import (
	"log/slog"

	"zorvel/internal/index"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store *store.Store
	index *index.Index
	log   *slog.Logger
}

// New opens the room.
func New(store *store.Store, index *index.Index, log *slog.Logger) *Room {
	return &Room{store: store, index: index, log: log}
}
