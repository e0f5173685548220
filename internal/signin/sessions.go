package signin

import (
	"context"
	"maps"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/labstack/echo/v5"

	"zorvel/internal/watch"
)

// WithSession reads and keeps the session. While the database is away,
// calculations go on without one, and all else is told so at once.
func (s *Room) WithSession(next echo.HandlerFunc) echo.HandlerFunc {
	kept := echo.WrapMiddleware(s.sessions.LoadAndSave)(next)
	return func(c *echo.Context) error {
		r := c.Request()
		if s.watch.Away() {
			if !strings.HasPrefix(r.URL.Path, "/api/v1/calc/") {
				return watch.ErrAway
			}
			c.SetRequest(r.WithContext(context.WithValue(r.Context(), sessionless, true)))
			return next(c)
		}
		ctx, done := s.watch.Bound(r.Context())
		defer done()
		c.SetRequest(r.WithContext(ctx))
		return kept(c)
	}
}

// sessionCodec reads what sessions hold as scs does, and what it read last it knows: a person
// sends the same session with every request.
type sessionCodec struct {
	scs.GobCodec
	read *lru.Cache[string, sessionValues]
}

type sessionValues struct {
	ends   time.Time
	values map[string]any
}

func newSessionCodec() sessionCodec {
	read, err := lru.New[string, sessionValues](500)
	if err != nil { // only a size below one fails
		panic(err)
	}
	return sessionCodec{read: read}
}

// Decode is scs.Codec's. The map is the caller's to change.
func (c sessionCodec) Decode(b []byte) (time.Time, map[string]any, error) {
	if x, ok := c.read.Get(string(b)); ok {
		return x.ends, maps.Clone(x.values), nil
	}
	ends, values, err := c.GobCodec.Decode(b)
	if err == nil {
		c.read.Add(string(b), sessionValues{ends, maps.Clone(values)})
	}
	return ends, values, err
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
