// Package find lists and finds units.
package find

import (
	"log/slog"

	"zorvel/internal/index"
	"zorvel/internal/rooms/jobs"
	"zorvel/internal/rooms/units"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store *store.Store
	index *index.Index
	units *units.Room
	jobs  *jobs.Room
	log   *slog.Logger

	behind chan struct{} // a reader saw units that are to be made findable
	fresh  chan struct{} // held by the reader that makes some findable: the next finds them made
}

// New opens the room.
func New(store *store.Store, index *index.Index, units *units.Room, jobs *jobs.Room, log *slog.Logger) *Room {
	return &Room{store: store, index: index, units: units, jobs: jobs, log: log, behind: make(chan struct{}, 1), fresh: make(chan struct{}, 1)}
}
