package server

import (
	"context"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/labstack/echo/v5"

	"zorvel/internal/problem"
)

// How the database is watched: one that is silent for two looks is taken for
// away, less than three seconds after it went.
const (
	lookEvery = 400 * time.Millisecond
	lookFor   = 1100 * time.Millisecond
)

var errAway = problem.New(http.StatusServiceUnavailable, "The database does not answer",
	"Nothing was stored. Calculations still work; try saving again in a moment.")

// watch knows whether the database answers. One that is frozen takes
// connections and says nothing: nobody waits for it longer than it takes to
// notice.
type watch struct {
	mu   sync.Mutex
	era  context.Context // ends when the database goes away
	end  context.CancelFunc
	away bool
}

func newWatch() *watch {
	w := &watch{}
	w.era, w.end = context.WithCancel(context.Background())
	return w
}

func (w *watch) isAway() bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.away
}

// saw notes whether the database answered.
func (w *watch) saw(answers bool) (changed bool) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if changed = w.away == answers; !changed {
		return false
	}
	w.away = !answers
	if w.away {
		w.end()
	} else {
		w.era, w.end = context.WithCancel(context.Background())
	}
	return true
}

// bound ends a request's context when the database goes away.
func (w *watch) bound(ctx context.Context) (context.Context, func()) {
	w.mu.Lock()
	era := w.era
	w.mu.Unlock()
	ctx, cancel := context.WithCancelCause(ctx)
	stop := context.AfterFunc(era, func() { cancel(errAway) })
	return ctx, func() { stop(); cancel(nil) }
}

// watchDatabase looks at the database until ctx is done.
func (s *Server) watchDatabase(ctx context.Context) {
	for ctx.Err() == nil {
		s.look(ctx)
		select {
		case <-ctx.Done():
		case <-time.After(lookEvery):
		}
	}
}

// look sees whether the database answers, a second time where it was silent, and
// says so to everyone: there is one opinion of it.
func (s *Server) look(ctx context.Context) (answers bool) {
	for range 2 {
		within, cancel := context.WithTimeout(ctx, lookFor)
		answers = s.store.Ready(within) == nil
		cancel()
		if answers {
			break
		}
		if ctx.Err() != nil {
			return !s.watch.isAway() // who asked is gone; nothing was seen
		}
	}
	if s.watch.saw(answers) {
		s.log.Warn("the database", "answers", answers)
	}
	return answers
}

// withSession reads and keeps the session. While the database is away,
// calculations go on without one, and all else is told so at once.
func (s *Server) withSession(next echo.HandlerFunc) echo.HandlerFunc {
	kept := echo.WrapMiddleware(s.sessions.LoadAndSave)(next)
	return func(c *echo.Context) error {
		r := c.Request()
		if s.watch.isAway() {
			if !strings.HasPrefix(r.URL.Path, "/api/v1/calc/") {
				return errAway
			}
			c.SetRequest(r.WithContext(context.WithValue(r.Context(), sessionless, true)))
			return next(c)
		}
		ctx, done := s.watch.bound(r.Context())
		defer done()
		c.SetRequest(r.WithContext(ctx))
		return kept(c)
	}
}

// sessionStore lets go of the database when the request does.
type sessionStore struct{ scs.Store }

func (s sessionStore) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	type found struct {
		b   []byte
		ok  bool
		err error
	}
	f, err := within(ctx, func() found {
		b, ok, err := s.Find(token)
		return found{b, ok, err}
	})
	if err != nil {
		return nil, false, err
	}
	return f.b, f.ok, f.err
}

func (s sessionStore) CommitCtx(ctx context.Context, token string, b []byte, expiry time.Time) error {
	err, gone := within(ctx, func() error { return s.Commit(token, b, expiry) })
	if gone != nil {
		return gone
	}
	return err
}

func (s sessionStore) DeleteCtx(ctx context.Context, token string) error {
	err, gone := within(ctx, func() error { return s.Delete(token) })
	if gone != nil {
		return gone
	}
	return err
}

// within waits for f no longer than ctx allows.
func within[T any](ctx context.Context, f func() T) (T, error) {
	done := make(chan T, 1)
	go func() { done <- f() }()
	select {
	case v := <-done:
		return v, nil
	case <-ctx.Done():
		var none T
		return none, ctx.Err()
	}
}
