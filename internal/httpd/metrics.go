package httpd

import (
	"database/sql"
	"net/http"
	"strconv"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// Metrics counts requests for those who watch a server. Labels are routes as they are
// registered, never addresses as they were typed: their number is that of the contract.
type Metrics struct {
	registry *prometheus.Registry
	seconds  *prometheus.HistogramVec
	under    prometheus.Gauge
}

// NewMetrics counts requests, the connections of a database, and what the process uses.
func NewMetrics(db *sql.DB) *Metrics {
	m := &Metrics{
		registry: prometheus.NewRegistry(),
		seconds: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "zorvel_request_seconds", Help: "Time from a request to the end of its answer.",
			Buckets: []float64{.001, .0025, .005, .01, .025, .05, .1, .25, .5, 1, 2.5, 8},
		}, []string{"method", "route", "status"}),
		under: prometheus.NewGauge(prometheus.GaugeOpts{Name: "zorvel_requests_under_way", Help: "Requests that are being answered."}),
	}
	m.registry.MustRegister(m.seconds, m.under, collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}))
	if db != nil {
		m.registry.MustRegister(collectors.NewDBStatsCollector(db, "zorvel"))
	}
	return m
}

// known methods; what else somebody sends is one label.
var known = map[string]bool{"GET": true, "HEAD": true, "POST": true, "PUT": true, "PATCH": true, "DELETE": true, "OPTIONS": true}

// Measure is the middleware that counts; it stands outside the one that answers errors.
func (m *Metrics) Measure(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		began := time.Now()
		m.under.Inc()
		defer m.under.Dec()
		err := next(c)
		status := http.StatusOK
		if res, failed := echo.UnwrapResponse(c.Response()); failed == nil && res.Status != 0 {
			status = res.Status
		}
		route, method := c.Path(), c.Request().Method
		if route == "" {
			route = "none"
		}
		if !known[method] {
			method = "other"
		}
		m.seconds.WithLabelValues(method, route, strconv.Itoa(status)).Observe(time.Since(began).Seconds())
		return err
	}
}

// Handler answers with the figures in the text form that collectors read.
func (m *Metrics) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", promhttp.HandlerFor(m.registry, promhttp.HandlerOpts{MaxRequestsInFlight: 4, Timeout: 10 * time.Second}))
	return mux
}
