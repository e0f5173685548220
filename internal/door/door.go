// Package door lets requests in, cheapest question first: from which host, how
// fast, who asks, how long, whether it is text at all, and only then whether it
// keeps the contract.
package door

import (
	"bytes"
	"encoding/base64"
	"errors"
	"fmt"
	"io"
	"mime"
	"net"
	"net/http"
	"runtime"
	"slices"
	"strings"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"
	"golang.org/x/sync/semaphore"

	"zorvel/api"
	"zorvel/internal/httpd"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// Bounds of what is read before it is known to be right.
const (
	mostBytes = 128 << 10 // of a body, where the contract doesn't say
	// A body up to this length is searched for all of its faults, a longer one
	// for its first alone.
	searchedBytes = 32 << 10
)

// roles that satisfy an operation's x-may; nil for anyone.
var roles = map[string][]string{
	"anyone":     nil,
	"viewer":     {store.Owner, store.Technician, store.Viewer},
	"technician": {store.Owner, store.Technician},
	"owner":      {store.Owner},
}

// limits of one operation, from the contract.
type limits struct {
	may   []string
	bytes int64
	zip   bool // the body is an archive
	raw   bool // texts in it are as a machine wrote them, control characters and all; nothing of it is kept
}

func operationLimits(op *openapi3.Operation) (limits, error) {
	l := limits{bytes: mostBytes}
	who, _ := op.Extensions["x-may"].(string)
	may, ok := roles[who]
	if !ok {
		return l, fmt.Errorf("the contract doesn't say who may %s", op.OperationID)
	}
	l.may = may
	l.zip = op.RequestBody != nil && op.RequestBody.Value.Content.Get("application/zip") != nil
	l.raw, _ = op.Extensions["x-raw"].(bool)
	switch n := op.Extensions["x-most-bytes"].(type) {
	case nil:
	case float64:
		l.bytes = int64(n)
	case int:
		l.bytes = int64(n)
	default:
		return l, fmt.Errorf("x-most-bytes of %s is %v", op.OperationID, n)
	}
	return l, nil
}

// door lets in what may come in, cheapest question first: who asks, how long
// the body is, whether it is text at all, and only then whether it keeps the
// contract. What passes it keeps the contract. With it come the contract's schemas.
func New(bodies *httpd.Bodies) (echo.MiddlewareFunc, openapi3.Schemas, error) {
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		return nil, nil, fmt.Errorf("reading the API contract: %w", err)
	}
	spec.Servers = openapi3.Servers{{URL: "/api/v1"}}
	router, err := gorillamux.NewRouter(spec)
	if err != nil {
		return nil, nil, fmt.Errorf("reading the API contract: %w", err)
	}
	bounds := map[*openapi3.Operation]limits{}
	for _, item := range spec.Paths.Map() {
		for _, op := range item.Operations() {
			if bounds[op], err = operationLimits(op); err != nil {
				return nil, nil, err
			}
		}
	}
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			r := c.Request()
			route, params, err := router.FindRoute(r)
			if err != nil {
				return echo.ErrNotFound
			}
			l := bounds[route.Operation]
			if l.may != nil {
				if _, err := signin.Need(r.Context(), l.may...); err != nil {
					return err
				}
			}
			if err := openapi3filter.ValidateRequest(r.Context(), &openapi3filter.RequestValidationInput{
				Request: r, PathParams: params, Route: route,
				Options: &openapi3filter.Options{ExcludeRequestBody: true, MultiError: true, AuthenticationFunc: openapi3filter.NoopAuthenticationFunc},
			}); err != nil {
				return err
			}
			if l.zip {
				return bodies.Archive(c, l.bytes, func() error { return next(c) })
			}
			body, release, err := bodies.Read(c, l.bytes, signin.Person(r.Context()) != nil)
			defer func() { release() }()
			if err != nil {
				return err
			}
			if asked := route.Operation.RequestBody; asked != nil {
				if err := keepsContract(asked.Value, r.Header.Get("Content-Type"), body, l.raw); err != nil {
					return err
				}
			}
			r.Body = io.NopCloser(bytes.NewReader(body))
			return next(c)
		}
	}, spec.Components.Schemas, nil
}

// keepsContract refuses a body that isn't what an operation asks for.
func keepsContract(asked *openapi3.RequestBody, kind string, body []byte, raw bool) error {
	if len(body) == 0 {
		if asked.Required {
			return httpd.ErrNoJSON
		}
		return nil
	}
	media, _, err := mime.ParseMediaType(kind)
	if err != nil || asked.Content[media] == nil {
		return httpd.ErrNoJSON
	}
	return keepsAs(asked.Content[media].Schema.Value, body, raw)
}

// KeepsSchema refuses text that isn't JSON, can't be kept, or has not the shape of
// a schema. It is read once.
func KeepsSchema(schema *openapi3.Schema, text []byte) error { return keepsAs(schema, text, false) }

func keepsAs(schema *openapi3.Schema, text []byte, raw bool) error {
	v, err := httpd.JSONAs(text, raw)
	if err != nil {
		return err
	}
	how := []openapi3.SchemaValidationOption{openapi3.VisitAsRequest()}
	if len(text) <= searchedBytes {
		how = append(how, openapi3.MultiErrors())
	}
	if err := schema.VisitJSON(v, how...); err != nil {
		return problem.Invalid(err)
	}
	return nil
}

func init() {
	// The library's own check runs an expression over every letter of a picture.
	openapi3.DefineStringFormatValidator("byte", openapi3.NewCallbackValidator(func(s string) error {
		if _, err := io.Copy(io.Discard, base64.NewDecoder(base64.StdEncoding, strings.NewReader(s))); err != nil {
			return errors.New("base64 is expected")
		}
		return nil
	}))
}

// RateLimit bounds how many calculations a second one address may ask for without
// an account, and twice as many at once after a pause; zero is no bound.
func RateLimit(perSecond float64) echo.MiddlewareFunc {
	store := middleware.NewRateLimiterMemoryStoreWithConfig(middleware.RateLimiterMemoryStoreConfig{
		Rate: perSecond, Burst: int(2*perSecond) + 1, ExpiresIn: 3 * time.Minute,
	})
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			r := c.Request()
			if perSecond <= 0 || r.Method != http.MethodPost || !strings.HasPrefix(r.URL.Path, "/api/v1/calc/") ||
				signin.Person(r.Context()) != nil {
				return next(c)
			}
			if ok, err := store.Allow(c.RealIP()); err != nil || !ok {
				c.Response().Header().Set("Retry-After", "1")
				return problem.New(http.StatusTooManyRequests, "Too many at once",
					"This address asks faster than is answered without an account. Wait a second, or sign in.")
			}
			return next(c)
		}
	}
}

// AtOnce is how many calculations are under way at once. Each takes a second at most and some ten
// megabytes, so this is what all of them together take.
var AtOnce = int64(2 * runtime.GOMAXPROCS(0))

// TurnWithin is how long a calculation waits for its turn.
const TurnWithin = 8 * time.Second

// LimitConcurrency lets calculations in one after the other: as many at once as the
// machine does well, and those without an account never more than half of them.
func LimitConcurrency(atOnce int64, within time.Duration) echo.MiddlewareFunc {
	all, anonymous := semaphore.NewWeighted(atOnce), semaphore.NewWeighted(max(1, atOnce/2))
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			r := c.Request()
			if r.Method != http.MethodPost || !strings.HasPrefix(r.URL.Path, "/api/v1/calc/") {
				return next(c)
			}
			queues := []*semaphore.Weighted{all}
			if signin.Person(r.Context()) == nil {
				queues = []*semaphore.Weighted{anonymous, all}
			}
			release, ok := httpd.Acquire(r.Context(), within, 1, queues...)
			if !ok {
				return httpd.Busy(c, "2", "More is being asked than this server calculates at once. Ask again in a moment.")
			}
			defer release()
			return next(c)
		}
	}
}

// OwnHosts refuses requests for other hosts' names: what a name resolves to is
// not in this server's hands.
func OwnHosts(names []string) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			host := c.Request().Host
			if h, _, err := net.SplitHostPort(host); err == nil {
				host = h
			}
			if len(names) > 0 && !slices.ContainsFunc(names, func(n string) bool { return strings.EqualFold(n, host) }) {
				return problem.New(http.StatusMisdirectedRequest, "Not this host", "This server answers to another name.")
			}
			return next(c)
		}
	}
}

// HeadAsGet answers HEAD like GET; what is written as a body, net/http keeps back.
func HeadAsGet(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		if r := c.Request(); r.Method == http.MethodHead {
			as := r.WithContext(r.Context())
			as.Method = http.MethodGet
			c.SetRequest(as)
		}
		return next(c)
	}
}
