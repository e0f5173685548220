package server_test

import (
	"fmt"
	"net/url"
	"testing"

	"zorvel/internal/testkit"
)

// Found by name, owner, complaint, work, part, photo, ratio and teeth, by the
// beginnings of words, in any case and with umlauts and fractions; what changed is
// found at once.
func TestFindingThings(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	first := func(sought string) []string {
		var list []struct{ Name string }
		oda.want(200, "GET", "/api/v1/units?search="+url.QueryEscape(sought), "").holds(t, "GET", "/api/v1/units").json(t, &list)
		var out []string
		for _, u := range list {
			out = append(out, u.Name)
		}
		return out
	}
	for sought, want := range map[string]string{
		"bell":               "Plow truck Bell",
		"BEL plo":            "Plow truck Bell",
		"harbor watch":       "Skiff Little Auk",
		"ditch":              "Plow truck Bell",
		"axle shaft sheared": "Plow truck Bell",
		"ring gear bench":    "Forwarder Birk",
		"Hums from sixty":    "Rescue van Tern 2",
		"4.40":               "Forwarder Birk",
		"27:13":              "Skiff Little Auk",
		"2.08 skiff":         "Skiff Little Auk",
		"６":                  "Grouse 6",
	} {
		if got := first(sought); len(got) == 0 || got[0] != want {
			t.Errorf("%q finds %v, want %s", sought, got, want)
		}
	}
	for _, sought := range []string{"moonbase", "9.99", `+*"(`, "bell moonbase", "' OR 1=1 --"} {
		if got := first(sought); len(got) != 0 {
			t.Errorf("%q finds %v", sought, got)
		}
	}
	oda.want(201, "POST", "/api/v1/units/4/jobs", `{"key":"find-key-1","complaint":"Ölverlust an der Brücke, ¾ Liter","customer":"Ærø Måløy"}`)
	for _, sought := range []string{"ölverl", "OLVERLUST", "brücke", "¾", "måløy"} {
		if got := first(sought); len(got) != 1 || got[0] != "Transfer case from Grouse 2" {
			t.Errorf("%q finds %v", sought, got)
		}
	}
	var u struct{ Version int64 }
	oda.want(200, "GET", "/api/v1/units/4", "").json(t, &u)
	oda.want(200, "PATCH", "/api/v1/units/4", fmt.Sprintf(`{"base":%d,"name":"Kettenkasten"}`, u.Version))
	if got := first("kettenk"); len(got) != 1 {
		t.Errorf("its new name finds %v", got)
	}
	if got := first("transfer case grouse"); len(got) > 0 && got[0] == "Transfer case from Grouse 2" {
		t.Error("its former name leads")
	}
}
