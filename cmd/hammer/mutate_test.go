package main

import (
	"encoding/json"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
)

// Every operation's shape can be sampled and spoiled, the same by seed, and what
// isn't spoiled mostly keeps the contract.
func TestSamples(t *testing.T) {
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		t.Fatal(err)
	}
	shapes, kept, tried := 0, 0, 0
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			if op.RequestBody == nil {
				continue
			}
			shapes++
			schema := bodySchema(spec, op)
			a, b := random(3), random(3)
			for range 20 {
				v, w := sample(schema, a, 0), sample(schema, b, 0)
				plain, err := json.Marshal(v)
				if err != nil {
					t.Fatalf("%s %s: %v", method, path, err)
				}
				var again any
				if err := json.Unmarshal(plain, &again); err != nil {
					t.Fatal(err)
				}
				tried++
				if schema.Value.VisitJSON(again) == nil {
					kept++
				}
				for range 5 {
					v, w = spoil(v, a), spoil(w, b)
				}
				x, err := json.Marshal(v)
				y, other := json.Marshal(w)
				if err != nil || other != nil || string(x) != string(y) {
					t.Fatalf("%s %s: %v %v, %.80s against %.80s", method, path, err, other, x, y)
				}
			}
		}
	}
	if shapes < 20 || kept < tried/10 {
		t.Errorf("%d shapes; %d of %d samples keep the contract", shapes, kept, tried)
	}
}
