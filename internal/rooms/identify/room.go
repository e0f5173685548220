// Package identify answers the counting bench.
package identify

import (
	"zorvel/internal/index"
)

// Room answers for it.
type Room struct {
	index *index.Index
}

// New opens the room.
func New(index *index.Index) *Room {
	return &Room{index: index}
}
