// Package live keeps live counts: sensors and phones add to a session, and whoever looks
// at it is told at once.
package live

import (
	"context"
	"log/slog"
	"net/http"
	"sync"

	lru "github.com/hashicorp/golang-lru/v2"

	"zorvel/internal/index"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// Room answers for it.
type Room struct {
	store   *store.Store
	index   *index.Index
	log     *slog.Logger
	sensors string // address of the shaft sensors; none if empty

	gathered *lru.Cache[int64, *gathered]
	phones   *phoneRate

	mu    sync.Mutex
	feeds map[int64]*feed
	ended context.Context
	end   context.CancelFunc
}

// sessionsGathered are kept in memory, each at most some megabytes.
const sessionsGathered = 16

// New opens the room. sensors is the address of the shaft sensors, for the page to tell.
func New(st *store.Store, ix *index.Index, sensors string, log *slog.Logger) *Room {
	r := &Room{store: st, index: ix, log: log, sensors: sensors, feeds: map[int64]*feed{}, phones: newPhoneRate()}
	r.gathered, _ = lru.New[int64, *gathered](sessionsGathered)
	r.ended, r.end = context.WithCancel(context.Background())
	return r
}

// Close lets go of who follows.
func (s *Room) Close() { s.end() }

var (
	errEnded = problem.New(http.StatusConflict, "Ended", "This live count has ended. Start another one.")
	errFull  = problem.New(http.StatusConflict, "Full",
		"This live count holds as many marks as it can. End it and start another one.")
	errMany = problem.New(http.StatusConflict, "Too many at once",
		"Many live counts are open. End one that is no longer used.")
	errJoin = problem.New(http.StatusForbidden, "Not this count",
		"This code doesn't open a live count, or the count has ended. Scan the code on the tablet again.")
	errChange = problem.New(http.StatusConflict, "Changed",
		"Somebody else changed this count. What is there now was loaded again.")
)

// told is an error of the store as it is told.
func told(err error) error {
	switch err {
	case store.ErrLiveEnded:
		return errEnded
	case store.ErrFull:
		return errFull
	case store.ErrChanged:
		return errChange
	}
	return err
}
