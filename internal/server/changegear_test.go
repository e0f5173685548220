package server_test

import (
	"fmt"
	"strings"
	"testing"

	"zorvel/internal/testkit"
)

const changeCalc = "/api/v1/calc/change-gears"

// The ladder of the shop's shelf, a goal, a recorded run and an event keep the
// contract; what is refused names its field.
func TestChangeGears(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	doc := strings.Replace(testkit.Example(t, "change_gears"), `"id":"rear","kind":"axle"`, `"id":"rear","kind":"axle","family":"Skerry 195"`, 1)
	var a struct {
		Ladder []struct {
			Fitted bool
			Ways   []struct{ Name string }
		}
		Asks []string
		Pick struct{ Sentence string }
	}
	q := fmt.Sprintf(`{"driveline":%s,"use_shop":true,"rpm":6900,"goal":{"kind":"speed","kmh":190,"rpm":6900}}`, doc)
	c.want(200, "POST", changeCalc, q).holds(t, "POST", changeCalc).json(t, &a)
	if len(a.Ladder) != 16 || !strings.Contains(strings.Join(a.Asks, " "), "Set 8 has 30 and 16 teeth") || !strings.HasPrefix(a.Pick.Sentence, "Fit ") {
		t.Errorf("%d rungs, asks %v, %s", len(a.Ladder), a.Asks, a.Pick.Sentence)
	}
	var log strings.Builder
	log.WriteString("t;n;v\\n")
	for i := range 200 {
		fmt.Fprintf(&log, "%d,%02d;%d;%d,5\\n", i/100, i%100, 4000+i*10, 100+i/4)
	}
	run := fmt.Sprintf(`{"change_gears":{"driveline":%s,"use_shop":true},"run":{"text":"%s","limiter_rpm":7000}}`, doc, log.String())
	c.want(200, "POST", changeCalc+"/run", run).holds(t, "POST", changeCalc+"/run")
	for body, field := range map[string]string{
		`{}`: "/base",
		`{"base":"38/9","fitted":{"input":2,"pinion":20}}`:                                                                   "/fitted/input",
		`{"base":"38/9","goal":{"kind":"speed","kmh":100}}`:                                                                  "/goal/rpm",
		fmt.Sprintf(`{"driveline":%s}`, testkit.Example(t, "part_time")):                                                     "/driveline",
		`{"base":"38/9","shelf":[{"name":"x","teeth":[24]}]}`:                                                                "/shelf/0/teeth",
		`{"base":"38/9","shelf":[` + strings.Repeat(`{"name":"x","teeth":[24,21]},`, 200) + `{"name":"x","teeth":[24,21]}]}`: "/shelf",
	} {
		if x := c.do("POST", changeCalc, body); x.status != 422 || !strings.HasPrefix(x.field(), field) {
			t.Errorf("%.60s: %d at %q: %s", body, x.status, x.field(), x.body)
		}
	}
	if x := c.do("POST", changeCalc+"/run", `{"change_gears":{"base":"38/9","fitted":{"input":24,"pinion":21},"tire":{"rolling_mm":"1990"}},"run":{"text":"a,b\n1,2\n"}}`); x.status != 422 || x.field() != "/run/columns/time" {
		t.Errorf("no such columns: %d at %q", x.status, x.field())
	}

	oda := as(t, srv.URL, "oda")
	path := "/api/v1/units/6/decisions"
	event := func(more string) string {
		return fmt.Sprintf(`{"kind":"event","change_gears":{"driveline":%s,"use_shop":true},"event":{"track":"Ravn hill","set":"1","after":{"input":24,"pinion":21},"gear":"4","peak_rpm":6500,"peak_kmh":215%s}}`, doc, more)
	}
	var d struct {
		ID     int64
		Title  string
		Answer struct{ Logged struct{ Text string } }
	}
	oda.want(201, "POST", path, event("")).holds(t, "POST", path).json(t, &d)
	if !strings.HasPrefix(d.Title, "Ravn hill: set 1, 24 on the input shaft") || d.Answer.Logged.Text == "" {
		t.Errorf("%+v", d)
	}
	wrong := strings.Replace(event(""), `"input":24,"pinion":21},"gear"`, `"input":26,"pinion":19},"gear"`, 1)
	if x := oda.do("POST", path, wrong); x.status != 422 || x.field() != "/event/after/input" || !strings.Contains(string(x.body), "counted were 26 and 19") {
		t.Errorf("another pair than the set's: %d %s", x.status, x.body)
	}
	oda.want(201, "POST", path, strings.Replace(wrong, `"gear":"4"`, `"gear":"4","sure":true`, 1))
	if x := as(t, srv.URL, "runa").do("POST", path, event("")); x.status != 403 {
		t.Errorf("a viewer logs: %d", x.status)
	}
	// It leaves with the unit and comes back.
	whole := oda.want(200, "GET", "/api/v1/units/6/document", "").body
	oda.want(201, "POST", "/api/v1/units/import", strings.Replace(string(whole), `"name":"Ember"`, `"name":"Ember again"`, 1))
}

func BenchmarkChangeGears(b *testing.B) {
	bench(b, "POST", changeCalc, fmt.Sprintf(`{"driveline":%s,"use_shop":true,"family":"Skerry 195","rpm":6900,"goal":{"kind":"speed","kmh":190,"rpm":6900}}`, testkit.Example(b, "change_gears")))
}
