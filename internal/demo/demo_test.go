package demo_test

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"testing"
	"time"

	"zorvel/internal/demo"
	"zorvel/internal/server"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

type stage struct {
	ID    int64
	Name  string
	State string
	Label struct{ Label string }
	Build struct {
		Teeth []struct{ Count int }
	}
}

// A demo that was cut off while it was filled isn't taken for a whole one.
func TestWhole(t *testing.T) {
	dsn := testkit.DSN(t)
	whole := func(want bool, when string) {
		t.Helper()
		if got, err := demo.IsWhole(t.Context(), dsn); err != nil || got != want {
			t.Errorf("%s: %v, %v", when, got, err)
		}
	}
	whole(false, "an empty database")
	st, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = st.Close() })
	if err := st.Migrate(t.Context()); err != nil {
		t.Fatal(err)
	}
	whole(false, "a schema without a shop")
	srv, err := server.New(server.Config{Store: st, Log: slog.New(slog.DiscardHandler)})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(srv.Close)
	cut, cancel := context.WithTimeout(t.Context(), 30*time.Millisecond)
	defer cancel()
	if err := demo.Load(cut, st, srv); err == nil {
		t.Fatal("the shop was filled within 30 ms; cut it off earlier")
	}
	whole(false, "a shop that was cut off")
}

// Every unit of the demo tells its story.
func TestStories(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	c := &http.Client{Jar: jar}
	owner := demo.Accounts()[0]
	res, err := c.Post(srv.URL+"/api/v1/session", "application/json", strings.NewReader(fmt.Sprintf(`{"sign_in":%q,"password":%q}`, owner.SignIn, owner.Password)))
	if err != nil {
		t.Fatal(err)
	}
	_ = res.Body.Close()
	get := func(path string, to any) {
		t.Helper()
		res, err := c.Get(srv.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		defer func() { _ = res.Body.Close() }()
		b, err := io.ReadAll(res.Body)
		if err != nil {
			t.Fatal(err)
		}
		if err := json.Unmarshal(b, to); err != nil {
			t.Fatalf("%s: %v in %s", path, err, b)
		}
	}
	var units []struct {
		Name   string
		Stages []stage
	}
	get("/api/v1/units", &units)
	want := map[string]string{
		"Tender 3 / Lower set":                                  "unknown  []",
		"Rescue van Tern 2 / Rear axle":                         "conflict 5.22 [47 9]",
		"Grouse 4 / Rear axle":                                  "measured 4.10 [41 10]",
		"Grouse 4 / Transfer case high range":                   "measured 1.00 []",
		"Grouse 6 / Rear axle":                                  "conflict 4.56 [41 9]",
		"Ember / Rear axle":                                     "conflict 4.10 [41 10]",
		"Skiff Little Auk / Gearcase":                           "measured 2.08 [27 13]",
		"Transfer case from Grouse 2 / Transfer case low range": "measured 2.71 [42 72]",
		"Forwarder Birk / Rear axle":                            "measured 4.40 [32 20 32 56]",
		"Plow truck Bell / Rear left hub":                       "measured 3.50 [24 60]",
		"Plow truck Bell / Rear axle":                           "assumed 3.73 [41 11]",
	}
	byName := map[string]stage{}
	for _, u := range units {
		for _, s := range u.Stages {
			byName[u.Name+" / "+s.Name] = s
		}
	}
	for name, w := range want {
		s := byName[name]
		var teeth []int
		for _, n := range s.Build.Teeth {
			teeth = append(teeth, n.Count)
		}
		if got := fmt.Sprintf("%s %s %v", s.State, s.Label.Label, teeth); got != w {
			t.Errorf("%s: %s, want %s", name, got, w)
		}
	}

	// The conflicts are understood for what they are.
	for name, cause := range map[string]string{
		"Rescue van Tern 2 / Rear axle": "gears_swapped",
		"Grouse 6 / Rear axle":          "one_wheel_was_held",
		"Ember / Rear axle":             "start_tooth_counted_twice",
	} {
		var rec struct {
			Question json.RawMessage
			Readings []struct{ Reading json.RawMessage }
		}
		get(fmt.Sprintf("/api/v1/stages/%d", byName[name].ID), &rec)
		var readings []string
		for _, r := range rec.Readings {
			readings = append(readings, string(r.Reading))
		}
		res, err := c.Post(srv.URL+"/api/v1/calc/identify", "application/json",
			strings.NewReader(fmt.Sprintf(`{"stage":%s,"prior":"shop","readings":[%s]}`, rec.Question, strings.Join(readings, ","))))
		if err != nil {
			t.Fatal(err)
		}
		var v struct {
			Findings []struct{ Agreement, Cause string }
		}
		if err := json.NewDecoder(res.Body).Decode(&v); err != nil {
			t.Fatal(err)
		}
		_ = res.Body.Close()
		found := ""
		for _, f := range v.Findings {
			if f.Agreement == "disagrees" {
				found += f.Cause
			}
		}
		if found != cause {
			t.Errorf("%s: %q, want %q", name, found, cause)
		}
	}
}

// A second start with data leaves it alone.
func TestLoadTwice(t *testing.T) {
	_, st := testkit.Server(t, true)
	before, _, err := st.Units(t.Context(), store.Asked{})
	if err != nil {
		t.Fatal(err)
	}
	if err := demo.Load(t.Context(), st, nil); err != nil {
		t.Fatal(err)
	}
	after, _, err := st.Units(t.Context(), store.Asked{})
	if err != nil || len(after) != len(before) || len(after) < 8 {
		t.Errorf("%d units before, %d after, %v", len(before), len(after), err)
	}
}
