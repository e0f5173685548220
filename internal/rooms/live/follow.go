package live

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"time"

	"zorvel/api"
	"zorvel/internal/guard"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// Bounds of following.
const (
	mostFollowers = 120
	lookEvery     = 100 * time.Millisecond // for what came by another server
	hereEvery     = 10 * time.Second       // a line that says that all is well
	followFor     = 5 * time.Minute        // then the page connects again, and who asks is looked at again
)

var errFollowers = problem.New(http.StatusServiceUnavailable, "Too many at once",
	"Many pages follow live counts. Close one.")

// feed tells all pages that follow a session. Each has room for one state, the newest: a
// slow page misses what came between and never holds up another.
type feed struct {
	news      chan struct{}
	followers map[chan []byte]bool
	stop      context.CancelFunc
	last      []byte // for who comes later
}

// Changed tells who follows a session that something came.
func (s *Room) Changed(id int64) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if f := s.feeds[id]; f != nil {
		select {
		case f.news <- struct{}{}:
		default:
		}
	}
}

// follow adds a page, and the feed where it is the first.
func (s *Room) follow(id int64) (states chan []byte, leave func(), err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	all := 0
	for _, f := range s.feeds {
		all += len(f.followers)
	}
	if all >= mostFollowers || s.ended.Err() != nil {
		return nil, nil, errFollowers
	}
	f := s.feeds[id]
	if f == nil {
		ctx, stop := context.WithCancel(s.ended)
		f = &feed{news: make(chan struct{}, 1), followers: map[chan []byte]bool{}, stop: stop}
		s.feeds[id] = f
		guard.Go(ctx, s.log, "following a live count", func(ctx context.Context) { s.feed(ctx, id, f) })
	}
	states = make(chan []byte, 1)
	if f.last != nil {
		states <- f.last
	}
	f.followers[states] = true
	return states, func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		delete(f.followers, states)
		if len(f.followers) == 0 {
			f.stop()
			if s.feeds[id] == f {
				delete(s.feeds, id)
			}
		}
	}, nil
}

// feed looks for what is new and tells it, until nobody follows.
func (s *Room) feed(ctx context.Context, id int64, f *feed) {
	tick := time.NewTicker(lookEvery)
	defer tick.Stop()
	told, line := int64(-1), ""
	for {
		revision, _, err := s.store.LiveRevision(ctx, id)
		if errors.Is(err, store.ErrNotFound) {
			s.tell(f, nil)
			return
		}
		sensors, lineErr := s.line(ctx)
		now := fmt.Sprint(sensors.Connected, api.Value(sensors.Trouble), sensors.Channels)
		if err == nil && lineErr == nil && (revision != told || line != now) {
			if state, err := s.state(ctx, id); err == nil {
				if text, err := json.Marshal(state); err == nil {
					s.tell(f, text)
					told, line = state.Revision, now
				}
			} else if ctx.Err() == nil {
				s.log.Warn("weighing a live count", "id", id, "error", err)
			}
		}
		select {
		case <-ctx.Done():
			return
		case <-f.news:
		case <-tick.C:
		}
	}
}

// tell gives all followers a state in place of one that they didn't take yet; nil ends.
func (s *Room) tell(f *feed, text []byte) {
	s.mu.Lock()
	defer s.mu.Unlock()
	f.last = text
	for states := range f.followers {
		select {
		case <-states:
		default:
		}
		states <- text
	}
}

// FollowLive tells a page of a session as it changes.
func (s *Room) FollowLive(ctx context.Context, r api.FollowLiveRequestObject) (api.FollowLiveResponseObject, error) {
	if _, err := s.store.Live(ctx, r.Id); err != nil {
		return nil, err
	}
	states, leave, err := s.follow(r.Id)
	if err != nil {
		return nil, err
	}
	return stream{s, ctx, states, leave}, nil
}

type stream struct {
	s      *Room
	ctx    context.Context //nolint:containedctx // an answer that lasts as long as its request
	states chan []byte
	leave  func()
}

// VisitFollowLiveResponse writes the events until the page goes away.
func (f stream) VisitFollowLiveResponse(w http.ResponseWriter) error {
	defer f.leave()
	h := w.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("X-Accel-Buffering", "no")
	w.WriteHeader(http.StatusOK)
	out := http.NewResponseController(w)
	send := func(text string) error {
		if _, err := w.Write([]byte(text)); err != nil {
			return err
		}
		return out.Flush()
	}
	if err := send("retry: 500\n\n"); err != nil {
		return nil
	}
	here := time.NewTicker(hereEvery)
	defer here.Stop()
	over := time.NewTimer(followFor)
	defer over.Stop()
	for {
		var err error
		select {
		case <-f.ctx.Done():
			return nil
		case <-f.s.ended.Done():
			return nil
		case <-over.C:
			return nil
		case <-here.C:
			err = send(": here\n\n")
		case text := <-f.states:
			if text == nil {
				return nil
			}
			err = send("data: " + string(text) + "\n\n")
		}
		if err != nil {
			return nil // the page went away
		}
	}
}
