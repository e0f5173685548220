package httpd

import (
	"io"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/labstack/echo/v5"
)

func TestMetrics(t *testing.T) {
	m := NewMetrics(nil)
	e := echo.New()
	e.Use(m.Measure)
	e.GET("/units/:id", func(c *echo.Context) error { return c.String(200, "ok") })
	for _, r := range []struct{ method, path string }{{"GET", "/units/1"}, {"GET", "/units/2"}, {"BREW", "/units/3"},
		{"GET", "/" + strings.Repeat("x", 900)}} {
		e.ServeHTTP(httptest.NewRecorder(), httptest.NewRequest(r.method, r.path, nil))
	}
	w := httptest.NewRecorder()
	m.Handler().ServeHTTP(w, httptest.NewRequest("GET", "/metrics", nil))
	b, err := io.ReadAll(w.Body)
	if err != nil {
		t.Fatal(err)
	}
	text := string(b)
	for _, want := range []string{
		`zorvel_request_seconds_count{method="GET",route="/units/:id",status="200"} 2`, "zorvel_requests_under_way 0", "go_goroutines",
	} {
		if !strings.Contains(text, want) {
			t.Errorf("it lacks %s", want)
		}
	}
	if strings.Contains(text, "xxx") || strings.Contains(text, "BREW") {
		t.Error("what was typed becomes a label")
	}
}
