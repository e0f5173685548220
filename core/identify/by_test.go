package identify

import (
	"reflect"
	"strings"
	"testing"
)

// Every method says all that a method has to say; what it may leave out is named.
func TestTechniquesAreWhole(t *testing.T) {
	optional := map[string]string{"says": "causes in the usual words", "again": "", "draw": "not simulated"}
	for _, by := range techniques {
		v := reflect.ValueOf(*by)
		for i := range v.NumField() {
			f := v.Type().Field(i)
			if _, ok := optional[f.Name]; !ok && f.Type.Kind() == reflect.Func && v.Field(i).IsNil() {
				t.Errorf("%s has no %s", by.method, f.Name)
			}
		}
		if got, ok := techniqueOf(by.method); !ok || got != by {
			t.Errorf("%s is not found by its name", by.method)
		}
		if s := (Reading{Method: by.method}).Summary(); s == "" || strings.Contains(s, "%!") {
			t.Errorf("an empty reading by %s is summed up as %q", by.method, s)
		}
		if by.again != nil {
			for _, k := range Kinds() {
				if s := by.again(k); !strings.HasSuffix(s, ".") || !strings.Contains(s, "again") {
					t.Errorf("%s, %s: %q", by.method, k, s)
				}
			}
		}
	}
	if _, ok := techniqueOf("guess"); ok {
		t.Error("guessing is no method")
	}
}
