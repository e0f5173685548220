package server_test

import (
	"encoding/json"
	"fmt"
	"math"
	"regexp"
	"strings"
	"testing"

	"zorvel/internal/testkit"
)

type experiencePage struct {
	Own   struct{ Counted, Sets, Proved int }
	Shops []struct {
		ID, Number int64
		Name, By   string
		Counted    int
	}
	Gears []struct {
		Kind                     string
		Counted, Shops, Own, Hit int
		Share, Foretold          float64
	}
	Faults []struct {
		Sort            string
		Found           int
		Typical, Weight float64
	}
	Housings []struct {
		Kind   string
		Count  int
		Factor float64
	}
}

// others is a file of a shop that found what the rest of the trade hardly does.
func others(shop string, number int) string {
	return fmt.Sprintf(`{"format":"zorvel-experience-1","shop":%q,"number":%d,"name":"North yard","gears":[
		{"kind":"ring_and_pinion","construction":"pair","teeth":[34,13],"found":30},
		{"kind":"ring_and_pinion","construction":"pair","teeth":[41,10],"found":4}],
		"faults":[{"sort":"stub","found":9}],"housings":[{"kind":"ring","count":40,"mean":1.3,"sigma":0.1},
		{"kind":"gearcase","count":40,"mean":1.2,"sigma":0.1}]}`, shop, number)
}

// Another shop's file is looked at, weighs in every prior, and is taken out without trace.
func TestExperienceComesAndGoes(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c, viewer := as(t, srv.URL, "oda"), as(t, srv.URL, "runa")
	page := func() experiencePage {
		t.Helper()
		var p experiencePage
		viewer.want(200, "GET", "/api/v1/experience", "").json(t, &p)
		return p
	}
	type weights struct {
		Prior struct {
			List, Others float64
			Origin       []string
		}
		Priors map[string]float64
		Text   string
	}
	weigh := func() weights {
		t.Helper()
		var v struct {
			Prior struct {
				List, Others float64
				Origin       []string
			}
		}
		viewer.want(200, "POST", "/api/v1/calc/identify",
			`{"stage":{"kind":"ring_and_pinion"},"prior":"shop","readings":[]}`).json(t, &v)
		var r struct {
			Record struct {
				Priors map[string]float64
				Others int
			}
		}
		viewer.want(200, "GET", "/api/v1/faults", "").json(t, &r)
		var b struct{ Formula string }
		viewer.want(200, "POST", "/api/v1/calc/gearcase",
			`{"gear":"forward gear","mesh":{"teeth":27,"mate":13},"thicker":"away",
			"low_mm":0.1,"high_mm":0.2,"assemblies":[{"shim_mm":0.5,"readings_mm":[0.3]}]}`).json(t, &b)
		return weights{v.Prior, r.Record.Priors, b.Formula}
	}
	before, was := page(), weigh()
	if before.Own.Counted == 0 || before.Own.Proved == 0 || len(before.Shops) != 0 || was.Prior.Others != 0 ||
		strings.Contains(was.Text, "other shops") {
		t.Fatalf("%+v %+v", before, was)
	}
	offer := func(file string, keep bool) string { return fmt.Sprintf(`{"file":%s,"keep":%v}`, file, keep) }
	file := others("00ff00ff00ff00ff", 7)
	c.want(200, "POST", "/api/v1/experience", offer(file, false))
	if p := page(); len(p.Shops) != 0 {
		t.Errorf("a look kept it: %+v", p)
	}
	c.want(200, "POST", "/api/v1/experience", offer(file, true))
	p, with := page(), weigh()
	if len(p.Shops) != 1 || p.Shops[0].Name != "North yard" || p.Shops[0].Counted != 34 || len(p.Gears) != 1 ||
		p.Gears[0].Share == 0 || len(p.Housings) != 2 || len(p.Faults) != 1 {
		t.Errorf("%+v", p)
	}
	if p.Gears[0].Own == 0 {
		t.Error("this shop's own counts say nothing of it")
	}
	if math.Abs(with.Prior.Others-p.Gears[0].Share*(1-with.Prior.List)) > 1e-9 ||
		with.Priors["stub"] <= was.Priors["stub"] || !strings.Contains(with.Text, "40 housings of other shops") ||
		!strings.Contains(strings.Join(with.Prior.Origin, ";"), "what other shops counted") {
		t.Errorf("%+v", with)
	}
	// The same shop's newer file takes the place, an older one is refused.
	c.want(200, "POST", "/api/v1/experience", offer(others("00ff00ff00ff00ff", 9), true))
	c.want(409, "POST", "/api/v1/experience", offer(file, true))
	if p = page(); len(p.Shops) != 1 || p.Shops[0].Number != 9 {
		t.Errorf("%+v", p.Shops)
	}
	// It leaves as it came.
	var back, sent any
	_ = json.Unmarshal([]byte(others("00ff00ff00ff00ff", 9)), &sent)
	c.want(200, "GET", fmt.Sprintf("/api/v1/experience/%d/file", p.Shops[0].ID), "").json(t, &back)
	if a, b := fmt.Sprint(back), fmt.Sprint(sent); a != b {
		t.Errorf("%s\n%s", a, b)
	}
	c.want(204, "DELETE", fmt.Sprintf("/api/v1/experience/%d", p.Shops[0].ID), "")
	c.want(404, "DELETE", fmt.Sprintf("/api/v1/experience/%d", p.Shops[0].ID), "")
	if after, now := page(), weigh(); fmt.Sprint(after) != fmt.Sprint(before) || fmt.Sprint(now) != fmt.Sprint(was) {
		t.Errorf("something stayed: %+v %+v", after, now)
	}
}

// What this shop found goes out without names, and is not taken for another's.
func TestExperienceGoesOut(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	a := c.want(200, "GET", "/api/v1/experience/file", "")
	for _, word := range []string{"Oda", "Brenk", "van", "name"} {
		if strings.Contains(string(a.body), word) {
			t.Errorf("the file says %q: %s", word, a.body)
		}
	}
	c.want(422, "POST", "/api/v1/experience", `{"file":`+string(a.body)+`}`)
	// Another shop takes it; the mark tells the two apart.
	theirs := regexp.MustCompile(`"shop":"[0-9a-f]{32}"`).ReplaceAllString(string(a.body),
		`"shop":"00112233445566778899aabbccddeeff"`)
	c.want(200, "POST", "/api/v1/experience", `{"file":`+theirs+`,"keep":true}`)
	// One without accounts' data weighs nothing and says so.
	c.want(422, "POST", "/api/v1/experience",
		`{"file":{"format":"zorvel-experience-1","shop":"00112233","number":1,"gears":[],"faults":[],"housings":[]}}`)
	c.want(422, "POST", "/api/v1/experience", `{"file":{"format":"list","shop":"00112233","number":1,"gears":[],"faults":[],"housings":[]}}`)
	c.want(404, "GET", "/api/v1/experience/99/file", "")
}
