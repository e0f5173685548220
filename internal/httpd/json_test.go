package httpd

import (
	"errors"
	"reflect"
	"strings"
	"testing"

	"zorvel/internal/problem"
)

// What is read is what was sent; what can't be kept is refused at its field.
func TestJSON(t *testing.T) {
	v, err := JSON([]byte(` {"a": [1, 2.5, "x\ty", true, null], "b": {}} `))
	if want := any(map[string]any{"a": []any{1.0, 2.5, "x\ty", true, nil}, "b": map[string]any{}}); err != nil || !reflect.DeepEqual(v, want) {
		t.Errorf("%v, %v", v, err)
	}
	deep := strings.Repeat("[", mostDepth+1) + strings.Repeat("]", mostDepth+1)
	for name, c := range map[string]struct {
		text, field string
		status      int
	}{
		"nothing":              {"", "", 400},
		"half":                 {`{"a": `, "", 400},
		"a comma too many":     {`[1,]`, "", 400},
		"text":                 {`hello`, "", 400},
		"something behind":     {`{} {}`, "", 422},
		"a name twice":         {`{"a": {"b": 1, "b": 2}}`, "/a/b", 422},
		"broken UTF-8":         {"{\"a\": \"\xff\"}", "", 422},
		"half a character":     {`{"a": ["\ud800"]}`, "/a/0", 422},
		"a control character":  {`{"a": "\u0007"}`, "/a", 422},
		"one in a name":        {`{"a": {"\u0007": 1}}`, "/a", 422},
		"beyond any figure":    {`{"a": 1e300}`, "/a", 422},
		"too deep":             {deep, strings.Repeat("/0", mostDepth), 422},
		"too many":             {"[" + strings.Repeat("1,", mostTokens) + "1]", "", 413},
		"a number of a double": {`{"a": 1e999}`, "/a", 422},
	} {
		_, err := JSON([]byte(c.text))
		var p *problem.Problem
		if !errors.As(err, &p) || p.Status != c.status {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if c.status == 422 && p.Errors[0].Field != c.field {
			t.Errorf("%s: at %q, want %q", name, p.Errors[0].Field, c.field)
		}
	}
	// What a machine wrote may hold control characters in its texts.
	if _, err := JSONAs([]byte(`{"a": "\u0007"}`), true); err != nil {
		t.Error(err)
	}
	for depth, ok := range map[int]bool{mostKept: true, mostKept + 1: false} {
		if err := Shallow([]byte(strings.Repeat("[", depth)+strings.Repeat("]", depth)), "/answer"); (err == nil) != ok {
			t.Errorf("%d in each other: %v", depth, err)
		}
	}
}
