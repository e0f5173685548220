package problem

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/labstack/echo/v5"

	"zorvel/core/fault"
	"zorvel/internal/store"
)

// What a client is told of an error, and of none that isn't theirs.
func TestWhatIsTold(t *testing.T) {
	many := make(fault.Errors, 2*most)
	for i := range many {
		many[i] = fault.New(fmt.Sprint("teeth/", i), "at least one tooth")
	}
	for name, c := range map[string]struct {
		err    error
		status int
		field  string
		faults int
	}{
		"a problem":          {fmt.Errorf("closing: %w", New(http.StatusConflict, "Closed", "Open another.")), 409, "", 0},
		"a fault":            {fmt.Errorf("set-up: %w", fault.New("axle/ring", "at least one tooth")), 422, "/axle/ring", 1},
		"many faults":        {many, 422, "/teeth/0", most},
		"nothing there":      {fmt.Errorf("unit: %w", store.ErrNotFound), 404, "", 0},
		"given up":           {context.Canceled, 408, "", 0},
		"too slow":           {fmt.Errorf("asking: %w", context.DeadlineExceeded), 408, "", 0},
		"no such address":    {echo.ErrNotFound, 404, "", 0},
		"no such way":        {echo.ErrMethodNotAllowed, 405, "", 0},
		"the server's fault": {errors.New("no room on the disk"), 0, "", 0},
		"a server's answer":  {echo.NewHTTPError(http.StatusBadGateway, "away"), 0, "", 0},
	} {
		p := Of(c.err)
		switch {
		case c.status == 0:
			if p != nil {
				t.Errorf("%s is told: %v", name, p)
			}
			continue
		case p == nil || p.Status != c.status || len(p.Errors) != c.faults || p.Title == "" || p.Detail == "":
			t.Errorf("%s: %+v", name, p)
			continue
		case c.faults > 0 && (p.Errors[0].Field != c.field || p.Errors[0].Message != p.Detail):
			t.Errorf("%s: at %q: %q", name, p.Errors[0].Field, p.Detail)
		}
		w := httptest.NewRecorder()
		Write(w, p)
		var back Problem
		if err := json.Unmarshal(w.Body.Bytes(), &back); err != nil || w.Code != c.status || back.Type != "about:blank" || back.Detail != p.Detail {
			t.Errorf("%s is written as %d %s, %v", name, w.Code, w.Body, err)
		}
		if w.Header().Get("Content-Type") != "application/problem+json" {
			t.Errorf("%s is called %s", name, w.Header().Get("Content-Type"))
		}
	}
}
