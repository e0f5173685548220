// Package server is the HTTP face: it validates requests against the contract,
// checks who may do what, and hands over to the core and the store.
package server

import (
	"compress/gzip"
	"context"
	"crypto/rand"
	"crypto/tls"
	"errors"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"zorvel/api"
	"zorvel/internal/door"
	"zorvel/internal/guard"
	"zorvel/internal/httpd"
	"zorvel/internal/index"
	"zorvel/internal/instruments"
	"zorvel/internal/problem"
	"zorvel/internal/programmer"
	"zorvel/internal/sensors"
	"zorvel/internal/signin"
	"zorvel/internal/store"
	"zorvel/internal/watch"
)

// Config sets up a Server.
type Config struct {
	Store *store.Store
	Log   *slog.Logger
	// Web is the built front end: index.html and assets.
	Web fs.FS
	// SecureCookies must be on where the server is reached over HTTPS.
	SecureCookies bool
	DemoAccounts  []signin.DemoAccount
	// Programmer is the address of a calibration programmer; none if empty.
	Programmer string
	// Instruments is the address of a boat's instruments; none if empty.
	Instruments string
	// Sensors is the address of shaft sensors; none if empty.
	Sensors string
	// AnonymousRate is how many calculations a second one address may ask for
	// without an account; zero is no bound.
	AnonymousRate float64
	// Proxies are the networks whose X-Forwarded-For is believed; without any,
	// who connects is who asks.
	Proxies []*net.IPNet
	// Hosts are the names that this server answers to; any, where empty.
	Hosts []string
	// TLS makes Serve listen for HTTPS; without it the server is plain.
	TLS *tls.Config
	// Phones is the way in for the shop's phones.
	Phones api.Phones
	// Metrics counts requests; none where nil.
	Metrics *httpd.Metrics
	// Patience with slow peers; the usual, where zero.
	Patience httpd.Patience
}

// Server answers HTTP requests.
type Server struct {
	rooms
	log         *slog.Logger
	index       *index.Index
	watch       *watch.Database
	instruments *instruments.Client
	sensors     *sensors.Recorder
	patience    httpd.Patience
	tls         *tls.Config
	echo        *echo.Echo
}

// New builds the server. It does not listen; see Handler and Serve.
func New(cfg Config) (*Server, error) {
	s := &Server{log: cfg.Log, index: index.New(cfg.Store, cfg.Log), watch: watch.New(cfg.Store.Ready, cfg.Log),
		patience: cfg.Patience, tls: cfg.TLS}
	if s.patience == (httpd.Patience{}) {
		s.patience = httpd.Usual
	}
	var device *programmer.Client
	if cfg.Programmer != "" {
		device = &programmer.Client{Addr: cfg.Programmer}
	}
	if cfg.Instruments != "" {
		s.instruments = instruments.NewClient(cfg.Instruments)
	}
	checked, schemas, err := door.New(httpd.NewBodies(s.patience.Request))
	if err != nil {
		return nil, err
	}
	people := signin.New(cfg.Store, s.watch, cfg.DemoAccounts, cfg.SecureCookies, cfg.Log)
	s.rooms = open(cfg.Store, s.index, people, schemas, device, s.instruments, cfg.Sensors, cfg.Log)
	if cfg.Sensors != "" {
		s.sensors = &sensors.Recorder{Client: sensors.NewClient(cfg.Sensors), Store: cfg.Store, Log: cfg.Log,
			Changed: s.Changed}
	}

	s.phonesRoom.Way = cfg.Phones

	e := echo.New()
	e.Logger = cfg.Log
	e.HTTPErrorHandler = s.errorHandler
	e.IPExtractor = echo.ExtractIPDirect()
	if len(cfg.Proxies) > 0 {
		trust := []echo.TrustOption{echo.TrustLoopback(false), echo.TrustLinkLocal(false), echo.TrustPrivateNet(false)}
		for _, n := range cfg.Proxies {
			trust = append(trust, echo.TrustIPRange(n))
		}
		e.IPExtractor = echo.ExtractIPFromXFFHeader(trust...)
	}
	e.Pre(door.HeadAsGet)
	if cfg.Metrics != nil {
		e.Use(cfg.Metrics.Measure)
	}
	e.Use(
		requestID,
		middleware.RequestLoggerWithConfig(s.requestLog()),
		middleware.Recover(),
		door.OwnHosts(cfg.Hosts),
		securityHeaders,
		middleware.GzipWithConfig(middleware.GzipConfig{MinLength: 1400, Level: gzip.BestSpeed}),
	)
	e.GET("/healthz", func(c *echo.Context) error { return c.String(http.StatusOK, "ok\n") })
	e.GET("/readyz", s.readyz)

	sameOrigin := http.NewCrossOriginProtection()
	sameOrigin.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		problem.Write(w, problem.New(http.StatusForbidden, "Refused", "Writes are taken only from this application's own pages."))
	}))
	g := e.Group("/api/v1", noStore, echo.WrapMiddleware(sameOrigin.Handler), people.WithSession, people.Authenticate,
		door.RateLimit(cfg.AnonymousRate), checked, door.LimitConcurrency(door.AtOnce, door.TurnWithin))
	api.RegisterHandlers(g, api.NewStrictHandler(s.rooms, nil))
	e.GET("/api/v1/openapi.yaml", func(c *echo.Context) error { return c.Blob(http.StatusOK, "application/yaml", api.Spec) })
	e.Any("/api/*", func(*echo.Context) error { return echo.ErrNotFound })
	if err := httpd.AddWeb(e, cfg.Web); err != nil {
		return nil, err
	}
	s.echo = e
	return s, nil
}

// Handler is the whole application as an http.Handler.
func (s *Server) Handler() http.Handler { return s.echo }

// Close ends what New began; Serve does it by itself.
func (s *Server) Close() {
	s.liveRoom.Close()
	s.peopleRoom.Close()
}

// Serve listens until ctx is done and then finishes what is under way.
func (s *Server) Serve(ctx context.Context, address string, ready func(address string)) error {
	defer s.Close()
	guard.Go(ctx, s.log, "warming", func(context.Context) { s.index.Warm() })
	guard.Go(ctx, s.log, "watching the database", s.watch.Run)
	guard.Go(ctx, s.log, "making findable", s.KeepFindable)
	s.FollowDevices(ctx)
	defer context.AfterFunc(ctx, s.liveRoom.Close)()
	httpd.SweepUploads()
	listener, err := new(net.ListenConfig).Listen(ctx, "tcp", address)
	if err != nil {
		return err
	}
	listener = s.patience.Listener(listener)
	if s.tls != nil {
		listener = tls.NewListener(listener, s.tls)
	}
	sc := echo.StartConfig{
		Listener: listener, HideBanner: true, HidePort: true, GracefulTimeout: 10 * time.Second,
		BeforeServeFunc: func(h *http.Server) error {
			s.patience.Bound(h)
			return nil
		},
	}
	sc.ListenerAddrFunc = func(a net.Addr) { ready(a.String()) }
	return sc.Start(ctx, s.echo)
}

// FollowDevices reads the boat's instruments and the shaft sensors, where there are
// some, until ctx is done; Serve does it by itself.
func (s *Server) FollowDevices(ctx context.Context) {
	if s.instruments != nil {
		guard.Go(ctx, s.log, "instruments", s.instruments.Run)
	}
	if s.sensors != nil {
		guard.Go(ctx, s.log, "recording shaft sensors", s.sensors.Run)
	}
}

func (s *Server) readyz(c *echo.Context) error {
	if !s.watch.Look(c.Request().Context()) {
		return problem.New(http.StatusServiceUnavailable, "Not ready", "The database does not answer.")
	}
	return c.String(http.StatusOK, "ready\n")
}

// errorHandler is the one place where errors become answers; the request's line
// in the log tells the error.
func (s *Server) errorHandler(c *echo.Context, err error) {
	if res, failed := echo.UnwrapResponse(c.Response()); failed == nil && res.Committed {
		return // answered already
	}
	r := c.Request()
	p := problem.Of(err)
	if p != nil && p.Status == http.StatusRequestTimeout && errors.Is(context.Cause(r.Context()), watch.ErrBroke) {
		p = watch.ErrBroke
	}
	if p == nil && store.Momentary(err) {
		p = watch.ErrBroke
	}
	if p == nil {
		p = problem.New(http.StatusInternalServerError, "Something broke here",
			"It was noted under "+idOf(c)+". What you entered is not lost; try again.")
		if !s.watch.Look(context.WithoutCancel(r.Context())) {
			p = watch.ErrBroke
		}
	}
	problem.Write(c.Response(), p)
}

func (s *Server) requestLog() middleware.RequestLoggerConfig {
	return middleware.RequestLoggerConfig{
		LogMethod: true, LogURIPath: true, LogStatus: true, LogLatency: true, HandleError: true,
		LogValuesFunc: func(c *echo.Context, v middleware.RequestLoggerValues) error {
			level, more := slog.LevelDebug, []any(nil)
			if v.Status >= 500 && v.Error != nil { // without, the session store told it
				level, more = slog.LevelError, []any{"error", v.Error}
			}
			s.log.Log(context.Background(), level, "request", append([]any{"method", v.Method, "path", v.URIPath, "status",
				v.Status, "ms", v.Latency.Milliseconds(), "id", idOf(c)}, more...)...)
			return nil
		},
	}
}

// requestID gives each request a number of its own, which its line in the log, the page
// that was told of an error and the answer's header share. What a client calls it counts
// for nothing.
func requestID(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		c.Response().Header().Set(echo.HeaderXRequestID, rand.Text()[:10])
		return next(c)
	}
}

func idOf(c *echo.Context) string { return c.Response().Header().Get(echo.HeaderXRequestID) }

// csp allows nothing from elsewhere. Mantine sets its theme in style elements
// and style attributes, hence inline styles; the identify bench runs on the device where
// there is no network, hence WebAssembly of its own.
const csp = "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; " +
	"img-src 'self' data: blob:; " +
	"media-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"

func securityHeaders(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		h.Set("Content-Security-Policy", csp)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(self), microphone=(self), geolocation=(self), screen-wake-lock=(self)")
		return next(c)
	}
}

func noStore(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		c.Response().Header().Set("Cache-Control", "no-store")
		return next(c)
	}
}
