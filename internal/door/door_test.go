package door_test

import (
	"net/http"
	"net/http/httptest"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/labstack/echo/v5"

	"zorvel/internal/door"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// Calculations wait for their turn, those without an account never take all
// turns, and who waits too long is told so.
func TestCalculationsTakeTurns(t *testing.T) {
	const atOnce = 4
	e := echo.New()
	hold := make(chan struct{})
	started := make(chan struct{}, 100)
	e.Use(door.LimitConcurrency(atOnce, 200*time.Millisecond))
	e.POST("/api/v1/calc/tire", func(c *echo.Context) error {
		started <- struct{}{}
		<-hold
		return c.NoContent(http.StatusOK)
	})
	e.POST("/api/v1/units", func(c *echo.Context) error { return c.NoContent(http.StatusCreated) })
	e.HTTPErrorHandler = func(c *echo.Context, err error) {
		if p, ok := err.(*problem.Problem); ok {
			_ = c.NoContent(p.Status)
		}
	}
	ask := func(path string, who *store.Person) *httptest.ResponseRecorder {
		r := httptest.NewRequestWithContext(signin.As(t.Context(), who), http.MethodPost, path, nil)
		w := httptest.NewRecorder()
		e.ServeHTTP(w, r)
		return w
	}
	var all sync.WaitGroup
	var served atomic.Int32
	run := func(n int, who *store.Person) {
		for range n {
			all.Go(func() {
				if ask("/api/v1/calc/tire", who).Code == http.StatusOK {
					served.Add(1)
				}
			})
		}
	}
	half := atOnce / 2
	run(half, nil)
	for range half {
		<-started
	}
	if w := ask("/api/v1/calc/tire", nil); w.Code != http.StatusTooManyRequests || w.Header().Get("Retry-After") == "" {
		t.Errorf("one more without an account: %d, %v", w.Code, w.Header())
	}
	known := &store.Person{ID: 1}
	run(atOnce-half, known)
	for range atOnce - half {
		<-started
	}
	if w := ask("/api/v1/calc/tire", known); w.Code != http.StatusTooManyRequests {
		t.Errorf("one more than at once: %d", w.Code)
	}
	if w := ask("/api/v1/units", known); w.Code != http.StatusCreated {
		t.Errorf("what isn't a calculation waited: %d", w.Code)
	}
	close(hold)
	all.Wait()
	if served.Load() != int32(atOnce) {
		t.Errorf("%d of %d served", served.Load(), atOnce)
	}
	if w := ask("/api/v1/calc/tire", nil); w.Code != http.StatusOK {
		t.Errorf("afterward: %d", w.Code)
	}
}
