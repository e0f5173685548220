// Package speedo answers for speedometers, and writes to a calibration device.
package speedo

import (
	"log/slog"

	"zorvel/internal/index"
	"zorvel/internal/programmer"
	"zorvel/internal/record"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store  *store.Store
	index  *index.Index
	device *programmer.Client
	log    *slog.Logger

	writing chan struct{} // to the device
}

// New opens the room.
func New(store *store.Store, index *index.Index, device *programmer.Client, log *slog.Logger) *Room {
	return &Room{store: store, index: index, device: device, log: log, writing: make(chan struct{}, 1)}
}

// Records are the kinds of record that it keeps.
func (s *Room) Records() map[string]record.Kind {
	return map[string]record.Kind{
		"speedometer": {Answer: s.decide},
		"check":       {Answer: s.decide},
		"calibration": {},
	}
}
