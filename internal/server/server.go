// Package server is the HTTP face: it validates requests against the contract,
// checks who may do what, and hands over to the core and the store.
package server

import (
	"compress/gzip"
	"context"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"time"

	"github.com/alexedwards/scs/mysqlstore"
	"github.com/alexedwards/scs/v2"
	"github.com/getkin/kin-openapi/openapi3"
	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"zorvel/api"
	"zorvel/internal/instruments"
	"zorvel/internal/programmer"
	"zorvel/internal/store"
)

// DemoAccount is an invented account offered on the sign-in page of the demo.
type DemoAccount struct{ SignIn, Name, Role, Password string }

// Config sets up a Server.
type Config struct {
	Store *store.Store
	Log   *slog.Logger
	// Web is the built front end: index.html and assets.
	Web fs.FS
	// SecureCookies must be on where the server is reached over HTTPS.
	SecureCookies bool
	DemoAccounts  []DemoAccount
	// Programmer is the address of a calibration programmer; none if empty.
	Programmer string
	// Instruments is the address of a boat's instruments; none if empty.
	Instruments string
	// AnonymousRate is how many calculations a second one address may ask for
	// without an account; zero is no bound.
	AnonymousRate float64
	// Proxies are the networks whose X-Forwarded-For is believed; without any,
	// who connects is who asks.
	Proxies []*net.IPNet
	// Hosts are the names that this server answers to; any, where empty.
	Hosts []string
	// Patience with slow peers; the usual, where zero.
	Patience Patience
}

// Patience is how long a peer may take for the header of a request; how long it
// may send nothing of the rest, or read nothing of an answer; and how long a
// connection stays open in between.
type Patience struct{ Header, Request, Answer, Between time.Duration }

// bound sets how long a server waits. A body that is read has its pace, see bodies;
// the bound on reading is for those that nobody reads.
func (p Patience) bound(h *http.Server) {
	h.ReadHeaderTimeout, h.ReadTimeout, h.WriteTimeout, h.IdleTimeout = p.Header, p.Header+p.Request, 0, p.Between
}

// usual patience: a photo takes its time on a slow line, and so does a long
// document back; who stands still is let go.
var usual = Patience{Header: 10 * time.Second, Request: 30 * time.Second, Answer: time.Minute, Between: 2 * time.Minute}

// Server answers HTTP requests.
type Server struct {
	counted     string // the TeethMark that lists were counted at; of the one who makes findable
	store       *store.Store
	log         *slog.Logger
	sessions    *scs.SessionManager
	mysql       *mysqlstore.MySQLStore
	demo        []DemoAccount
	caches      *caches
	hashing     chan struct{}
	writing     chan struct{} // to the device
	watch       *watch
	behind      chan struct{} // a reader saw units that are to be made findable
	device      *programmer.Client
	instruments *instruments.Client
	patience    Patience
	schemas     openapi3.Schemas
	echo        *echo.Echo
}

var _ api.StrictServerInterface = (*Server)(nil)

// New builds the server. It does not listen; see Handler and Serve.
func New(cfg Config) (*Server, error) {
	s := &Server{
		store: cfg.Store, log: cfg.Log, demo: cfg.DemoAccounts, caches: newCaches(), watch: newWatch(),
		hashing: make(chan struct{}, 2), writing: make(chan struct{}, 1), behind: make(chan struct{}, 1),
	}
	if s.patience = cfg.Patience; s.patience == (Patience{}) {
		s.patience = usual
	}
	if cfg.Programmer != "" {
		s.device = &programmer.Client{Addr: cfg.Programmer}
	}
	if cfg.Instruments != "" {
		s.instruments = &instruments.Client{Addr: cfg.Instruments}
	}
	s.mysql = mysqlstore.New(cfg.Store.DB)
	s.sessions = scs.New()
	s.sessions.Store = sessionStore{s.mysql}
	s.sessions.Lifetime = 14 * 24 * time.Hour
	s.sessions.Cookie.Name = "zorvel_session"
	s.sessions.Cookie.HttpOnly = true
	s.sessions.Cookie.SameSite = http.SameSiteStrictMode
	if cfg.SecureCookies {
		s.sessions.Cookie.Name, s.sessions.Cookie.Secure = "__Host-zorvel_session", true
	}
	s.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		s.log.Error("session store", "error", err)
		writeProblem(w, errAway)
	}

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
	e.Pre(headAsGet)
	e.Use(
		middleware.RequestLoggerWithConfig(s.requestLog()),
		middleware.Recover(),
		ownHosts(cfg.Hosts),
		securityHeaders,
		middleware.GzipWithConfig(middleware.GzipConfig{MinLength: 1400, Level: gzip.BestSpeed}),
	)
	e.GET("/healthz", func(c *echo.Context) error { return c.String(http.StatusOK, "ok\n") })
	e.GET("/readyz", s.readyz)

	checked, schemas, err := door(newBodies(s.patience.Request))
	if err != nil {
		return nil, err
	}
	s.schemas = schemas
	sameOrigin := http.NewCrossOriginProtection()
	sameOrigin.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		writeProblem(w, refuse(http.StatusForbidden, "Refused", "Writes are taken only from this application's own pages."))
	}))
	g := e.Group("/api/v1", noStore, echo.WrapMiddleware(sameOrigin.Handler), s.withSession, s.authenticate, rateLimit(cfg.AnonymousRate), checked, limitConcurrency())
	api.RegisterHandlers(g, api.NewStrictHandler(s, nil))
	e.GET("/api/v1/openapi.yaml", func(c *echo.Context) error { return c.Blob(http.StatusOK, "application/yaml", api.Spec) })
	e.Any("/api/*", func(*echo.Context) error { return echo.ErrNotFound })
	if err := addWeb(e, cfg.Web); err != nil {
		return nil, err
	}
	s.echo = e
	return s, nil
}

// Handler is the whole application as an http.Handler.
func (s *Server) Handler() http.Handler { return s.echo }

// Close ends what New began; Serve does it by itself.
func (s *Server) Close() { s.mysql.StopCleanup() }

// Serve listens until ctx is done and then finishes what is under way.
func (s *Server) Serve(ctx context.Context, address string, ready func(address string)) error {
	defer s.Close()
	s.background(ctx, "warming", func(context.Context) { s.caches.warm() })
	s.background(ctx, "watching the database", s.watchDatabase)
	s.background(ctx, "making findable", s.keepFindable)
	s.FollowInstruments(ctx)
	sweepUploads()
	listener, err := new(net.ListenConfig).Listen(ctx, "tcp", address)
	if err != nil {
		return err
	}
	sc := echo.StartConfig{
		Listener: pacedListener{listener, s.patience.Answer}, HideBanner: true, HidePort: true, GracefulTimeout: 10 * time.Second,
		BeforeServeFunc: func(h *http.Server) error {
			s.patience.bound(h)
			return nil
		},
	}
	sc.ListenerAddrFunc = func(a net.Addr) { ready(a.String()) }
	return sc.Start(ctx, s.echo)
}

// FollowInstruments reads the boat's instruments, where there are some, until
// ctx is done; Serve does it by itself.
func (s *Server) FollowInstruments(ctx context.Context) {
	if s.instruments != nil {
		s.background(ctx, "instruments", s.instruments.Run)
	}
}

func (s *Server) readyz(c *echo.Context) error {
	if !s.look(c.Request().Context()) {
		return refuse(http.StatusServiceUnavailable, "Not ready", "The database does not answer.")
	}
	return c.String(http.StatusOK, "ready\n")
}

func (s *Server) requestLog() middleware.RequestLoggerConfig {
	return middleware.RequestLoggerConfig{
		LogMethod: true, LogURIPath: true, LogStatus: true, LogLatency: true, HandleError: true,
		LogValuesFunc: func(_ *echo.Context, v middleware.RequestLoggerValues) error {
			level, more := slog.LevelDebug, []any(nil)
			if v.Status >= 500 && v.Error != nil { // without, the session store told it
				level, more = slog.LevelError, []any{"error", v.Error}
			}
			s.log.Log(context.Background(), level, "request", append([]any{"method", v.Method, "path", v.URIPath, "status", v.Status, "ms", v.Latency.Milliseconds()}, more...)...)
			return nil
		},
	}
}

// csp allows nothing from elsewhere. Mantine sets its theme in style elements
// and style attributes, hence inline styles; the identify bench runs on the device where
// there is no network, hence WebAssembly of its own.
const csp = "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"

func securityHeaders(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		h.Set("Content-Security-Policy", csp)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(self), microphone=(), geolocation=(), screen-wake-lock=(self)")
		return next(c)
	}
}

func noStore(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		c.Response().Header().Set("Cache-Control", "no-store")
		return next(c)
	}
}
