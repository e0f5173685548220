package server_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
	"zorvel/internal/testkit"
)

// extremes are what a keyboard, a script or a broken gauge may send as a
// figure, as JSON writes them.
var extremes = []string{
	"0", "-0.0", "5e-324", "1e-320", "-1e-320", "1e-300", "1e-160", "1e-80", "1e-20", "1e-9", "0.000001", "0.001", "-0.001",
	"1e6", "1e12", "1e15", "9007199254740993", "9223372036854775807", "1e80", "1e160", "1e300", "-1e300", "1.7976931348623157e308", "-1e12", "1e999",
}

// questionsIn tells the contract's calculations, by path, with the shapes of
// their bodies.
func questionsIn(t *testing.T) map[string]*openapi3.SchemaRef {
	t.Helper()
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]*openapi3.SchemaRef{}
	for path, item := range spec.Paths.Map() {
		if !strings.HasPrefix(path, "/calc/") || item.Post == nil {
			continue
		}
		out["/api/v1"+path] = item.Post.RequestBody.Value.Content.Get("application/json").Schema
	}
	return out
}

// plainValue is a value of a shape with nothing odd in it.
func plainValue(s *openapi3.Schema, depth int) any {
	switch {
	case len(s.Enum) > 0:
		return s.Enum[0]
	case s.Type.Is("object"):
		out := map[string]any{}
		for _, name := range s.Required {
			if p := s.Properties[name]; p != nil && depth < 6 {
				out[name] = plainValue(p.Value, depth+1)
			}
		}
		return out
	case s.Type.Is("array"):
		return []any{}
	case s.Type.Is("boolean"):
		return true
	case s.Type.Is("integer"), s.Type.Is("number"):
		return json.Number("2")
	}
	return "4.1"
}

// numbersOf walks a question beside its shape and calls f for every number that
// the shape has, there or not, with a way to put another in its place.
func numbersOf(s *openapi3.Schema, v any, at string, f func(at string, put func(any))) {
	if s == nil {
		return
	}
	for _, all := range s.AllOf {
		numbersOf(all.Value, v, at, f)
	}
	switch x := v.(type) {
	case map[string]any:
		for _, name := range slices.Sorted(maps.Keys(s.Properties)) {
			p := s.Properties[name].Value
			was, there := x[name]
			put := func(n any) {
				if n == nil && !there {
					delete(x, name)
					return
				}
				x[name] = n
			}
			if p.Type.Is("number") || p.Type.Is("integer") {
				f(at+"/"+name, put)
				if put(was); !there {
					delete(x, name)
				}
				continue
			}
			if !there && strings.Count(at, "/") < 5 {
				// What is left out is filled in, so that its numbers are tried too.
				switch {
				case p.Type.Is("object"):
					x[name] = plainValue(p, 0)
				case p.Type.Is("array") && p.Items != nil:
					x[name] = []any{plainValue(p.Items.Value, 0)}
				default:
					continue
				}
				numbersOf(p, x[name], at+"/"+name, f)
				delete(x, name)
				continue
			}
			numbersOf(p, x[name], at+"/"+name, f)
		}
		if more := s.AdditionalProperties.Schema; more != nil {
			for _, name := range slices.Sorted(maps.Keys(x)) {
				was := x[name]
				if more.Value.Type.Is("number") || more.Value.Type.Is("integer") {
					f(at+"/*", func(n any) { x[name] = n })
					x[name] = was
					continue
				}
				numbersOf(more.Value, was, at+"/*", f)
			}
		}
	case []any:
		if s.Items == nil {
			return
		}
		for i := range min(len(x), 2) {
			was := x[i]
			if it := s.Items.Value; it.Type.Is("number") || it.Type.Is("integer") {
				f(at+"/0", func(n any) { x[i] = n })
				x[i] = was
				continue
			}
			numbersOf(s.Items.Value, was, at+"/0", f)
		}
	}
}

// whole reports whether an answer is JSON with nothing in it that JSON can't
// say.
func whole(a answer) error {
	var v any
	if a.status == 204 || strings.HasPrefix(string(a.body), "%PDF") {
		return nil
	}
	if err := json.Unmarshal(a.body, &v); err != nil {
		return err
	}
	for _, odd := range []string{"NaN", "+Inf", "-Inf", "Infinity"} {
		if strings.Contains(string(a.body), odd) {
			return fmt.Errorf("%q stands in it", odd)
		}
	}
	return nil
}

// spelled are extremes as they may stand in a text that holds a figure.
var spelled = []string{
	"0", "-1", "0." + strings.Repeat("0", 50) + "1", "0.0000000001", strings.Repeat("9", 55), "1/" + strings.Repeat("9", 40), strings.Repeat("9", 30) + "/7", "1e-320", "1e999", "9223372036854775807/9223372036854775806",
}

// few extremes are for the figures of a driveline, which stands in many
// questions and is tried whole in one of them.
var few = []string{"0", "5e-324", "1e-9", "1e12", "-1e300", "1.7976931348623157e308"}

// Every number of every calculation, at its extremes, is answered or refused at
// its field: nothing that is sent stops the server, and every answer can be
// written.
func TestEveryFigureAtItsExtremes(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	good, shapes := goodQuestions(t), questionsIn(t)
	var numbers atomic.Int64
	t.Run("each", func(t *testing.T) {
		for path, shape := range shapes {
			t.Run(path, func(t *testing.T) {
				t.Parallel()
				c := as(t, srv.URL, "ivar")
				doc := plainValue(shape.Value, 0)
				if question := good[path]; question != "" {
					d := json.NewDecoder(strings.NewReader(question))
					d.UseNumber()
					if err := d.Decode(&doc); err != nil {
						t.Fatal(err)
					}
				}
				send := func(at string, x any) {
					b, err := json.Marshal(doc)
					if err != nil {
						t.Fatal(err)
					}
					if a := c.do("POST", path, string(b)); a.status >= 500 {
						t.Errorf("%s = %v: %d %s", at, x, a.status, a.body)
					} else if err := whole(a); err != nil {
						t.Errorf("%s = %v: %d %v in %.300s", at, x, a.status, err, a.body)
					}
				}
				tried := map[string]int{}
				numbersOf(shape.Value, doc, "", func(at string, put func(any)) {
					if tried[at]++; tried[at] > 2 {
						return // the same figure of another part or trial
					}
					list := extremes
					if strings.HasPrefix(at, "/driveline/") && path != calc {
						list = few
					}
					for _, x := range list {
						put(json.Number(x))
						send(at, x)
					}
				})
				numbers.Add(int64(len(tried)))
				texts := 0
				leaves(doc, func(old any, put func(any)) {
					text, ok := old.(string)
					if ok = ok && strings.ContainsAny(text, "0123456789") && strings.Trim(text, "0123456789./-") == ""; !ok || texts > 60 {
						return
					}
					defer put(old)
					texts++
					for _, x := range spelled {
						put(x)
						send("a figure in a text", x)
					}
				})
			})
		}
	})
	if len(shapes) < 20 || numbers.Load() < 250 {
		t.Errorf("%d numbers of %d calculations tried", numbers.Load(), len(shapes))
	}
}
