package server

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/labstack/echo/v5"

	"zorvel/core/identify"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// Many who ask for one space at once make it once.
func TestOneSpaceForAll(t *testing.T) {
	c := newSpaceCache(64 << 20)
	var made atomic.Int32
	hold := make(chan struct{})
	var all sync.WaitGroup
	got := make([]*identify.Space, 50)
	for i := range got {
		all.Go(func() {
			got[i], _ = c.get("two stages", func() (*identify.Space, error) {
				made.Add(1)
				<-hold
				return identify.NewSpace(identify.Stage{Kind: identify.RingAndPinion})
			})
		})
	}
	close(hold)
	all.Wait()
	if made.Load() != 1 {
		t.Errorf("made %d times", made.Load())
	}
	for _, sp := range got {
		if sp == nil || sp != got[0] {
			t.Fatal("not everyone got the same one")
		}
	}
}

func TestSpacesAreBoundedInBytes(t *testing.T) {
	one, err := identify.NewSpace(identify.Stage{Kind: identify.GearPair})
	if err != nil {
		t.Fatal(err)
	}
	c := newSpaceCache(3*one.Bytes() + 1)
	for i := range 20 {
		if _, err := c.get(fmt.Sprint(i), func() (*identify.Space, error) { return identify.NewSpace(one.Stage) }); err != nil {
			t.Fatal(err)
		}
		if c.bytes > c.most || c.bytes != c.kept.Len()*one.Bytes() {
			t.Fatalf("%d bytes of %d in %d spaces", c.bytes, c.most, c.kept.Len())
		}
	}
	if c.kept.Len() != 3 || !c.kept.Contains("19") {
		t.Errorf("kept %v", c.kept.Keys())
	}
	if _, err := c.get("bad", func() (*identify.Space, error) { return identify.NewSpace(identify.Stage{Kind: "magic"}) }); err == nil || c.kept.Contains("bad") {
		t.Errorf("a stage that can't be was kept: %v", err)
	}
}

// Calculations wait for their turn, those without an account never take all
// turns, and who waits too long is told so.
func TestCalculationsTakeTurns(t *testing.T) {
	within := turnWithin
	turnWithin = 200 * time.Millisecond
	t.Cleanup(func() { turnWithin = within })
	e := echo.New()
	hold := make(chan struct{})
	started := make(chan struct{}, 100)
	e.Use(limitConcurrency())
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
		r := httptest.NewRequestWithContext(context.WithValue(t.Context(), personKey, who), http.MethodPost, path, nil)
		w := httptest.NewRecorder()
		e.ServeHTTP(w, r)
		return w
	}
	var all sync.WaitGroup
	var served atomic.Int32
	run := func(n int64, who *store.Person) {
		for range n {
			all.Go(func() {
				if ask("/api/v1/calc/tire", who).Code == http.StatusOK {
					served.Add(1)
				}
			})
		}
	}
	half := max(1, atOnce/2)
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
