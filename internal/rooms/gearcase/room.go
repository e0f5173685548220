// Package gearcase answers for gearcases: shims, backlash, inspection.
package gearcase

import "zorvel/internal/record"

// Room answers for it; it keeps nothing.
type Room struct{}

// Records are the kinds of record that it keeps.
func (s *Room) Records() map[string]record.Kind {
	return map[string]record.Kind{
		"shims":      {Answer: s.decideShims},
		"backlash":   {Answer: s.decideBacklash},
		"inspection": {Answer: s.decideInspection},
	}
}
