// Package gearcase answers for gearcases: shims, backlash, inspection.
package gearcase

import (
	"zorvel/internal/index"
	"zorvel/internal/record"
)

// Room answers for it.
type Room struct{ index *index.Index }

// New opens the room.
func New(index *index.Index) *Room { return &Room{index: index} }

// Records are the kinds of record that it keeps.
func (s *Room) Records() map[string]record.Kind {
	return map[string]record.Kind{
		"shims":      {Answer: s.decideShims},
		"backlash":   {Answer: s.decideBacklash},
		"inspection": {Answer: s.decideInspection},
	}
}
