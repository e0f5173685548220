package guard

import (
	"context"
	"log/slog"
	"strings"
	"testing"
	"time"
)

// Work in the background that breaks is told and begins again; what it breaks on
// is an error like any other.
func TestBackgroundGoesOn(t *testing.T) {
	var told strings.Builder
	log := slog.New(slog.NewTextHandler(&told, nil))
	done := make(chan int, 1)
	n := 0
	Go(t.Context(), log, "counting", func(context.Context) {
		if n++; n == 1 {
			var list []int
			_ = list[n]
		}
		done <- n
	})
	select {
	case n := <-done:
		if n != 2 || !strings.Contains(told.String(), "index out of range") {
			t.Errorf("%d times, told %q", n, told.String())
		}
	case <-time.After(30 * time.Second):
		t.Fatal("it did not begin again")
	}
	err := func() (err error) {
		defer Recovered(&err)
		panic("odd")
	}()
	if err == nil || !strings.Contains(err.Error(), "odd") {
		t.Errorf("%v", err)
	}
}
