package server_test

import (
	"encoding/json"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
	"zorvel/internal/testkit"
)

// The contract's examples are whole questions, and are answered; every operation is under
// a room's name, so that the page at /api can be read.
func TestExamplesOfTheContractAreAnswered(t *testing.T) {
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		t.Fatal(err)
	}
	srv, _ := testkit.Server(t, true)
	examples := 0
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			if len(op.Tags) != 1 || spec.Tags.Get(op.Tags[0]) == nil {
				t.Errorf("%s %s is under %v", method, path, op.Tags)
			}
			if op.RequestBody == nil {
				continue
			}
			body := op.RequestBody.Value.Content.Get("application/json")
			if body == nil || body.Example == nil {
				continue
			}
			examples++
			b, err := json.Marshal(body.Example)
			if err != nil {
				t.Fatal(err)
			}
			res, err := http.Post(srv.URL+"/api/v1"+path, "application/json", strings.NewReader(string(b)))
			if err != nil {
				t.Fatal(err)
			}
			answer, _ := io.ReadAll(res.Body)
			_ = res.Body.Close()
			if res.StatusCode != http.StatusOK {
				t.Errorf("%s %s: the example gets %d %s", method, path, res.StatusCode, answer)
			}
		}
	}
	if examples < 6 {
		t.Errorf("%d examples", examples)
	}
}

// Each answer carries a number that the log has too; what a client calls its request
// counts for nothing.
func TestRequestsHaveNumbers(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	seen := map[string]bool{"mine": true}
	for range 3 {
		r, err := http.NewRequest(http.MethodGet, srv.URL+"/api/v1/units/7", nil)
		if err != nil {
			t.Fatal(err)
		}
		r.Header.Set("X-Request-Id", "mine")
		res, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		_ = res.Body.Close()
		id := res.Header.Get("X-Request-Id")
		if len(id) != 10 || seen[id] {
			t.Errorf("%q", id)
		}
		seen[id] = true
	}
}
