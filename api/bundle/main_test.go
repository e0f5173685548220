package main

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// The committed document is the rooms' and nothing else.
func TestTheWholeIsTheRooms(t *testing.T) {
	rooms, err := filepath.Glob("../rooms/*.yaml")
	if err != nil || len(rooms) < 9 {
		t.Fatalf("%d rooms, %v", len(rooms), err)
	}
	var got bytes.Buffer
	if err := join(&got, append([]string{"../rooms/common.yaml"}, without(rooms, "../rooms/common.yaml")...), true); err != nil {
		t.Fatal(err)
	}
	want, err := os.ReadFile("../openapi.yaml")
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(got.Bytes(), want) {
		t.Error("openapi.yaml is not what the rooms say: run make generate")
	}
}

func without(list []string, x string) []string {
	var out []string
	for _, s := range list {
		if s != x {
			out = append(out, s)
		}
	}
	return out
}

// A name that two rooms use is told, not overwritten.
func TestOneNameOneRoom(t *testing.T) {
	dir := t.TempDir()
	write := func(name, text string) string {
		p := filepath.Join(dir, name)
		if err := os.WriteFile(p, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
		return p
	}
	a := write("a.yaml", "components:\n  schemas:\n    One: { type: string }\n")
	b := write("b.yaml", "components:\n  schemas:\n    Two: { type: string }\n")
	c := write("c.yaml", "components:\n  schemas:\n    One: { type: integer }\n")
	var out bytes.Buffer
	if err := join(&out, []string{a, b}, false); err != nil || !strings.Contains(out.String(), "One:") || !strings.Contains(out.String(), "Two:") {
		t.Errorf("joined %q, %v", out.String(), err)
	}
	if err := join(&out, []string{a, b, c}, false); err == nil || !strings.Contains(err.Error(), "c.yaml") || !strings.Contains(err.Error(), "One stands in two rooms") {
		t.Errorf("told %v", err)
	}
	if err := join(&out, []string{filepath.Join(dir, "none.yaml")}, false); err == nil {
		t.Error("a missing room was taken")
	}
}

// What needs an account, and that errors are told alike, is said of every operation;
// one of which nobody says who may do it is refused.
func TestEveryOperationIsCompleted(t *testing.T) {
	dir := t.TempDir()
	for _, c := range []struct{ may, want string }{
		{"x-may: anyone", "security: []"},
		{"x-may: owner", "security: [{session: []}]"},
		{"summary: nobody", ""},
	} {
		name := filepath.Join(dir, "room.yaml")
		room := "paths:\n  /tried:\n    get:\n      operationId: try\n      " + c.may + "\n      responses: {\"200\": {description: tried}}\n"
		if err := os.WriteFile(name, []byte(room), 0o600); err != nil {
			t.Fatal(err)
		}
		var out bytes.Buffer
		err := join(&out, []string{name}, true)
		if c.want == "" {
			if err == nil || !strings.Contains(err.Error(), "who may try") {
				t.Errorf("%s: %v", c.may, err)
			}
			continue
		}
		if err != nil || !strings.Contains(out.String(), c.want) || strings.Count(out.String(), "#/components/responses/Problem") != 2 {
			t.Errorf("%s: %v\n%s", c.may, err, out.String())
		}
	}
}
