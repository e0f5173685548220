package server

import (
	"slices"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
)

// Every kind of record that the contract names has its entry, and what may be
// asked for through it is answered.
func TestRecordKinds(t *testing.T) {
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		t.Fatal(err)
	}
	r := open(nil, nil, nil, nil, nil, nil, "", nil)
	recordKinds := r.records()
	named := spec.Components.Schemas["DecisionKind"].Value.Enum
	for _, k := range named {
		if _, ok := recordKinds[k.(string)]; !ok {
			t.Errorf("%s has no entry", k)
		}
	}
	if len(named) != len(recordKinds) {
		t.Errorf("the contract names %d kinds, the table %d", len(named), len(recordKinds))
	}
	decided := spec.Components.Schemas["NewDecision"].Value.Properties["kind"].Value.Enum
	for k, kind := range recordKinds {
		if asked := slices.Contains(decided, any(k)); asked != (kind.Answer != nil) {
			t.Errorf("%s may be asked for: %v, is answered: %v", k, asked, kind.Answer != nil)
		}
	}
}
