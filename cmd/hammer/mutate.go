package main

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"sort"
	"strings"
	"time"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
)

// mutation tells how mutated requests were answered.
type mutation struct {
	sent, broken int
	classes      map[int]int
	slowest      time.Duration
	slowPath     string
}

func (m mutation) print() {
	for class := range 6 {
		if n := m.classes[class]; n > 0 {
			fmt.Printf("  %dxx %6d\n", class, n)
		}
	}
	fmt.Printf("  slowest %v: %s\n", m.slowest.Round(time.Millisecond), m.slowPath)
}

// odd values take the place of what the contract asks for.
var odd = []any{
	nil, true, "", " ", "-1", "0", "1/0", "1e999", "🛻", "½", "\u202e", strings.Repeat("9", 300), strings.Repeat("x", 5000),
	0, -1, 1, 1e9, -1e300, 0.000001, 1e308, 5e-324, 1e-320, -1e-320, 1e-160, 1e-20, 1e-9, 1e12, 1e15, 1e160, -1e12, 9007199254740993, "2026-13-45T99:99:99Z", "4-10", "just short of 4",
}

// mutate sends requests made from the contract's own shapes, each with a few
// values put out of shape. Sign-ins, accounts and calibrations are left out:
// they would sign the hammer out.
func mutate(in *instance, requests int, seed uint64) (mutation, error) {
	m := mutation{classes: map[int]int{}}
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		return m, err
	}
	type target struct {
		method, path string
		op           *openapi3.Operation
	}
	var targets []target
	for path, item := range spec.Paths.Map() {
		if strings.HasPrefix(path, "/session") || strings.HasPrefix(path, "/people") || path == "/owner" {
			continue
		}
		for method, op := range item.Operations() {
			targets = append(targets, target{method, path, op})
		}
	}
	sort.Slice(targets, func(i, j int) bool {
		return targets[i].path+targets[i].method < targets[j].path+targets[j].method
	})
	r := random(seed)
	for i := range requests {
		t := targets[i%len(targets)]
		path := strings.NewReplacer(
			"{id}", fmt.Sprint([]int{1, 2, 3, 8, 9, 0, -1, 99999}[r.IntN(8)]),
			"{list}", []string{"gear_sets", "tires", "settings", "nowhere"}[r.IntN(4)],
			"{token}", "t").Replace(t.path)
		body := ""
		if t.op.RequestBody != nil {
			schema := bodySchema(spec, t.op)
			v := sample(schema, r, 0)
			for range r.IntN(4) {
				v = spoil(v, r)
			}
			b, err := json.Marshal(v)
			if err != nil {
				return m, err
			}
			if body = string(b); archived(t.op) {
				if body, err = packed(body, r); err != nil {
					return m, err
				}
			}
		}
		began := time.Now()
		status, told, err := in.do(t.method, path, body)
		if err != nil {
			return m, fmt.Errorf("%s %s: %w", t.method, path, err)
		}
		if took := time.Since(began); took > m.slowest {
			m.slowest, m.slowPath = took, t.method+" "+path
		}
		m.sent++
		m.classes[status/100]++
		if status >= 500 {
			m.broken++
			fmt.Printf("%d %s %s %.400s\n  %.300s\n", status, t.method, path, body, told)
		}
	}
	return m, nil
}

func archived(op *openapi3.Operation) bool {
	return op.RequestBody.Value.Content.Get("application/json") == nil
}

// bodySchema is the shape of an operation's body; of the document in it, where it is
// an archive.
func bodySchema(spec *openapi3.T, op *openapi3.Operation) *openapi3.SchemaRef {
	if archived(op) {
		return spec.Components.Schemas["UnitDocument"]
	}
	return op.RequestBody.Value.Content.Get("application/json").Schema
}

// packed is an archive with a document in it, of a unit or a shop, sometimes with a
// few bytes put out of shape.
func packed(document string, r *rand.Rand) (string, error) {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range map[string]string{
		"unit.json": document, "units/000001/unit.json": document, "lists.json": "[]", "parts.json": "[]", "cards.json": "[]", "filters.json": "[]",
		"zorvel-shop.json": `{"format":"zorvel-shop-1","made_at":"2026-01-01T00:00:00Z","units":[{"file":"units/000001/unit.json","name":"x"}]}`,
	} {
		if r.IntN(8) == 0 || name == "unit.json" && r.IntN(2) == 0 {
			continue
		}
		w, err := z.Create(name)
		if err != nil {
			return "", err
		}
		if _, err := io.WriteString(w, text); err != nil {
			return "", err
		}
	}
	if err := z.Close(); err != nil {
		return "", err
	}
	data := b.Bytes()
	for range r.IntN(3) {
		data[r.IntN(len(data))] = byte(r.IntN(256))
	}
	return string(data), nil
}

// sample is a value of a schema's shape.
func sample(ref *openapi3.SchemaRef, r *rand.Rand, depth int) any {
	s := ref.Value
	if len(s.Enum) > 0 {
		return s.Enum[r.IntN(len(s.Enum))]
	}
	switch {
	case s.Type.Is("object"):
		out := map[string]any{}
		if depth > 8 {
			return out
		}
		names := make([]string, 0, len(s.Properties))
		for name := range s.Properties {
			names = append(names, name)
		}
		sort.Strings(names)
		for _, name := range names {
			needed := false
			for _, x := range s.Required {
				needed = needed || x == name
			}
			if needed || r.IntN(3) == 0 {
				out[name] = sample(s.Properties[name], r, depth+1)
			}
		}
		return out
	case s.Type.Is("array"):
		out := []any{}
		for range r.IntN(4) {
			out = append(out, sample(s.Items, r, depth+1))
		}
		return out
	case s.Type.Is("integer"):
		return 1 + r.IntN(60)
	case s.Type.Is("number"):
		return float64(r.IntN(4000)) / 16
	case s.Type.Is("boolean"):
		return r.IntN(2) == 0
	}
	return []string{"4.10", "41/10", "225/75R16", "a", "41-10", "2026-01-02T03:04:05Z", "just short of 4", "engine", "12"}[r.IntN(9)]
}

// spoil puts one odd value somewhere.
func spoil(v any, r *rand.Rand) any {
	switch x := v.(type) {
	case map[string]any:
		if len(x) > 0 && r.IntN(5) > 0 {
			names := make([]string, 0, len(x))
			for name := range x {
				names = append(names, name)
			}
			sort.Strings(names)
			name := names[r.IntN(len(names))]
			x[name] = spoil(x[name], r)
			return x
		}
	case []any:
		if len(x) > 0 && r.IntN(5) > 0 {
			i := r.IntN(len(x))
			x[i] = spoil(x[i], r)
			return x
		}
	}
	switch r.IntN(len(odd) + 4) {
	case 0:
		return []any{}
	case 1:
		return []any{nil}
	case 2:
		return map[string]any{}
	case 3:
		return map[string]any{"x": 1}
	}
	return odd[r.IntN(len(odd))]
}
