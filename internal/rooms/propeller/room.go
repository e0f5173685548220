// Package propeller answers for propellers, and reads the boat's instruments.
package propeller

import (
	"zorvel/internal/instruments"
	"zorvel/internal/record"
)

// Room answers for it.
type Room struct {
	instruments *instruments.Client
}

// New opens the room.
func New(instruments *instruments.Client) *Room {
	return &Room{instruments: instruments}
}

// Records are the kinds of record that it keeps.
func (s *Room) Records() map[string]record.Kind {
	return map[string]record.Kind{
		"propeller": {Answer: s.decide},
	}
}
