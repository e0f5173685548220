package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/labstack/echo/v5"

	"zorvel/internal/server"
	"zorvel/internal/store"
)

// request is a kind of request; %d is a number drawn anew each time.
type request struct {
	name, path string
	of         func(r *rand.Rand, units int) int
}

var unit = func(r *rand.Rand, units int) int { return 1 + r.IntN(units) }

var kinds = []request{
	{"unit sheet", "/api/v1/units/%d", unit},
	{"stage sheet", "/api/v1/stages/%d", nil},
	{"time line", "/api/v1/units/%d/history", unit},
	{"list, a page of 50", "/api/v1/units?per=50&page=%d", func(r *rand.Rand, units int) int { return 1 + r.IntN(units/50) }},
	{"list by ratio", "/api/v1/units?per=50&ratio=4.10&page=%d", func(r *rand.Rand, _ int) int { return 1 + r.IntN(2) }},
	{"search", "/api/v1/units?per=50&search=harbor+%d", unit},
}

// measure fills a database and measures every kind of request on it.
func measure(ctx context.Context, st *store.Store, rec *recorder, units, readings, requests, hands int) error {
	s, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		return err
	}
	defer s.Close()
	began := time.Now()
	if err := grow(ctx, st, s, units, readings); err != nil {
		return err
	}
	grown := time.Since(began)
	stages, err := measuredStages(ctx, st)
	if err != nil {
		return err
	}
	srv := httptest.NewServer(s.Handler())
	defer srv.Close()
	client, err := signIn(srv.URL)
	if err != nil {
		return err
	}
	for _, k := range kinds {
		of := k.of
		if of == nil {
			of = func(r *rand.Rand, _ int) int { return stages[r.IntN(len(stages))] }
		}
		r := rand.New(rand.NewPCG(1, uint64(len(k.path))))
		var paths []string
		for range requests {
			paths = append(paths, fmt.Sprintf(k.path, of(r, units)))
		}
		bare, err := bareOf(st, rec, client, srv.URL, paths[:min(len(paths), 40)])
		if err != nil {
			return fmt.Errorf("%s: %w", k.name, err)
		}
		// Turn by turn, so that neither has a warmer database; the better of three.
		var app, reference times
		for range 3 {
			a, err := ask(client, srv.URL, paths, hands)
			if err != nil {
				return fmt.Errorf("%s: %w", k.name, err)
			}
			b, err := ask(client, bare.URL, paths, hands)
			if err != nil {
				return fmt.Errorf("%s, bare: %w", k.name, err)
			}
			app, reference = app.better(a), reference.better(b)
		}
		bare.Close()
		fmt.Printf("%-34s %8d %9d | %9.0f %9s %9s | %9.0f %9s | %6.2f\n", k.name, units, readings, app.rate, app.p50.Round(10*time.Microsecond), app.p99.Round(10*time.Microsecond), reference.rate, reference.p99.Round(10*time.Microsecond), app.rate/reference.rate)
	}
	fmt.Printf("%-34s %8d %9d | filled and made findable in %s\n", "", units, readings, grown.Round(time.Second))
	return nil
}

func measuredStages(ctx context.Context, st *store.Store) ([]int, error) {
	rows, err := st.DB.QueryContext(ctx, "SELECT id FROM stages WHERE kind = 'ring_and_pinion'")
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	var out []int
	for rows.Next() {
		var id int
		if err := rows.Scan(&id); err != nil {
			return nil, err
		}
		out = append(out, id)
	}
	return out, rows.Err()
}

func signIn(base string) (*http.Client, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	c := &http.Client{Jar: jar, Transport: &http.Transport{MaxIdleConnsPerHost: 64}}
	res, err := c.Post(base+"/api/v1/owner", "application/json", strings.NewReader(`{"sign_in":"oda","name":"Oda Brenk","password":"chalk-and-flange"}`))
	if err != nil {
		return nil, err
	}
	defer func() { _ = res.Body.Close() }()
	if res.StatusCode >= 300 {
		b, _ := io.ReadAll(res.Body)
		return nil, fmt.Errorf("making the owner: %d %s", res.StatusCode, b)
	}
	return c, nil
}

// bareOf is an Echo server that for each of a few requests sends the statements that
// the application sent, reads their rows, and encodes an answer once: the
// application's own, from memory. Paths beyond them take turns.
func bareOf(st *store.Store, rec *recorder, client *http.Client, base string, paths []string) (*httptest.Server, error) {
	type kept struct {
		statements []statement
		answer     any
	}
	var all []kept
	for _, p := range paths {
		// Once to fill caches, as they are for the requests that are measured.
		if _, err := get(client, base+p); err != nil {
			return nil, err
		}
		var body []byte
		statements, err := rec.during(func() error {
			var err error
			body, err = get(client, base+p)
			return err
		})
		if err != nil {
			return nil, err
		}
		var answer any
		if err := json.Unmarshal(body, &answer); err != nil {
			return nil, err
		}
		all = append(all, kept{statements, answer})
	}
	var mu sync.Mutex
	n := 0
	e := echo.New()
	e.Logger = slog.New(slog.DiscardHandler)
	e.GET("/*", func(c *echo.Context) error {
		mu.Lock()
		k := all[n%len(all)]
		n++
		mu.Unlock()
		for _, q := range k.statements {
			if err := readAll(c.Request().Context(), st, q); err != nil {
				return err
			}
		}
		return c.JSON(http.StatusOK, k.answer)
	})
	return httptest.NewServer(e), nil
}

// readAll sends a statement and reads what comes.
func readAll(ctx context.Context, st *store.Store, q statement) error {
	rows, err := st.DB.QueryContext(ctx, q.query, q.args...)
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	columns, err := rows.Columns()
	if err != nil {
		return err
	}
	row, at := make([]any, len(columns)), make([]any, len(columns))
	for i := range row {
		at[i] = &row[i]
	}
	for rows.Next() {
		if err := rows.Scan(at...); err != nil {
			return err
		}
	}
	return rows.Err()
}

func get(c *http.Client, url string) ([]byte, error) {
	res, err := c.Get(url)
	if err != nil {
		return nil, err
	}
	defer func() { _ = res.Body.Close() }()
	var b bytes.Buffer
	if _, err := io.Copy(&b, res.Body); err != nil {
		return nil, err
	}
	if res.StatusCode != http.StatusOK {
		return nil, fmt.Errorf("%s: %d %.200s", url, res.StatusCode, b.Bytes())
	}
	return b.Bytes(), nil
}

// times of a run of requests.
type times struct {
	rate     float64 // requests a second
	p50, p99 time.Duration
}

func (t times) better(o times) times {
	if o.rate > t.rate {
		return o
	}
	return t
}

// ask sends the requests, so many at once.
func ask(c *http.Client, base string, paths []string, hands int) (times, error) {
	took := make([]time.Duration, len(paths))
	errs := make([]error, hands)
	began := time.Now()
	var group sync.WaitGroup
	for h := range hands {
		group.Go(func() {
			for i := h; i < len(paths); i += hands {
				at := time.Now()
				if _, err := get(c, base+paths[i]); err != nil {
					errs[h] = err
					return
				}
				took[i] = time.Since(at)
			}
		})
	}
	group.Wait()
	t := times{rate: float64(len(paths)) / time.Since(began).Seconds()}
	if err := errors.Join(errs...); err != nil {
		return t, err
	}
	slices.Sort(took)
	t.p50, t.p99 = took[len(took)/2], took[len(took)*99/100]
	return t, nil
}
