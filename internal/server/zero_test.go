package server_test

import (
	"bytes"
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/internal/testkit"
)

// Zero is a value, never "left out": every optional number of every calculation that
// matters to its answer either answers otherwise at zero than where it is left out, or
// refuses zero, or is zero where it is left out, and the contract says so.
func TestZeroIsNotLeftOut(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	good, shapes := goodQuestions(t), questionsIn(t)
	tried := 0
	for path, shape := range shapes {
		var v map[string]any
		d := json.NewDecoder(bytes.NewReader([]byte(good[path])))
		d.UseNumber()
		if good[path] == "" || d.Decode(&v) != nil {
			continue
		}
		ask := func() (int, string) {
			body, err := json.Marshal(v)
			if err != nil {
				t.Fatal(err)
			}
			a := c.do("POST", path, string(body))
			return a.status, string(a.body)
		}
		numbersOf(shape.Value, v, "", func(at string, put func(any)) {
			if strings.Contains(at, "/driveline/") || strings.Contains(at, "/shop/") || declared(shape.Value, at) {
				return
			}
			put(nil)
			status, without := ask()
			if status != 200 { // it isn't optional
				return
			}
			put(json.Number("0"))
			status, zero := ask()
			if status != 200 || zero != without {
				return
			}
			for _, n := range []string{"0.02", "0.5", "1", "2", "7", "25", "100", "1000", "5000"} {
				put(json.Number(n))
				if status, other := ask(); status == 200 && other != without {
					t.Errorf("%s %s: 0 is taken for left out", path, at)
					break
				}
			}
			tried++
		})
	}
	if tried == 0 {
		t.Log("no figure answers alike at zero and left out")
	}
}

// declared reports whether the contract says that a property is zero where it is left
// out.
func declared(s *openapi3.Schema, at string) bool {
	for _, name := range slices.DeleteFunc(strings.Split(at, "/"), func(x string) bool { return x == "" }) {
		var next *openapi3.Schema
		for _, x := range append([]*openapi3.Schema{s}, parts(s)...) {
			switch {
			case name == "0" && x.Items != nil:
				next = x.Items.Value
			case name == "*" && x.AdditionalProperties.Schema != nil:
				next = x.AdditionalProperties.Schema.Value
			case x.Properties[name] != nil:
				next = x.Properties[name].Value
			}
		}
		if next == nil {
			return false
		}
		s = next
	}
	zero, ok := s.Extensions["x-left-out"].(float64)
	return ok && zero == 0
}

func parts(s *openapi3.Schema) []*openapi3.Schema {
	var out []*openapi3.Schema
	for _, a := range s.AllOf {
		out = append(out, a.Value)
	}
	return out
}
