package server_test

import (
	"encoding/json"
	"strconv"
	"strings"
	"testing"

	"zorvel/core/setup"
	"zorvel/internal/testkit"
)

const setupCalc = "/api/v1/calc/setup"

const setupAsk = `{"axle":{"unit":"mm","ring":41,"pinion":10,"pressure_deg":20,"spiral_deg":35,"ring_side":"left","pinion_thicker":"in","bearings":"new","spacing":"shims","seal_drag":"0.4 N·m","arm_mm":120,"pitch_mm":100,"repeat_mm":0.01,
	"box":"0.05 x4, 0.10 x6, 0.20 x4, 0.50 x2","most_pieces":4,"depth_mark":"+0.02","figures":[{"figure":"backlash","low":0.13,"high":0.2,"unit":"mm","source":"manual"},{"figure":"pinion_torque_new","low":1.5,"high":2.5,"unit":"N·m"},{"figure":"depth","low":109,"unit":"mm"}],
	"trials":[{"pinion":"1.00 + 0.20","left":"1.10","right":"1.05","spacer":"2.50","pinion_torque":"24 N at 75 mm","total_torque":"3 N·m","backlash":"0.30 0.31 - 0.33","back_face":"0 0.01 0 -0.01","depth":"109.1","drive":{"height":0.6,"length":0.2},"coast":{"height":0.5,"length":-0.1},"mark":"whole"}]},
	"swap":{"shim":"1.20","old_mark":"+2","new_mark":"+7","mark_unit":"0.01mm","convention":"farther","thicker":"in"},
	"rigid":{"gap":"0.43 0.44","ledge":"yes","box":"0.10 x3, 0.20","before":"2 N·m","after":"2 N·m"},
	"turned":{"left":"1.10","right":"1.05","ring_side":"left"},
	"side_gears":{"teeth":16,"mate":10,"figures":[{"figure":"side_gear_play","low":0.05,"high":0.15,"unit":"mm"}],"left":[{"shim":"1","play":"0.3"}],"right":[{"shim":"1","play":"0.1"}]},
	"limited_slip":{"breakaway":"70 N·m","room":"24","stack":"22.8","shim":"0.8","figures":[{"figure":"clutch_clearance","low":0.1,"high":0.3,"unit":"mm"}]},
	"gear_runout":{"readings":"0 0.02 0.05 0.03"}}`

const fitsAsk = `{"gear":{"teeth":34,"module_mm":3,"pressure_deg":20,"helix_deg":15,"hand":"left","face_mm":20,"offset_mm":8,"width_mm":30,"splines":24,"spline_mm":32,"bolts":8,"circle_mm":120,"worn":"new"},
	"seat":{"mate_teeth":26,"mate_module_mm":3,"mate_pressure_deg":20,"mate_helix_deg":15,"mate_hand":"right","mate_face_mm":20,"mate_at_mm":8,"mate_worn":"used","center_mm":93.17,"room_mm":31,"splines":24,"spline_mm":32,"bolts":8,"circle_mm":120,"worn":"used"}}`

// Faults lie at their fields; the shop's figures join by family, for those who
// are signed in; what is recorded is worked out again and tells itself in the
// history.
func TestSetUpBench(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c, oda := newClient(t, srv.URL), as(t, srv.URL, "oda")
	for change, field := range map[[2]string]string{
		{`"ring":41`, `"ring":4`}:                                     "/axle/ring",
		{`"1.00 + 0.20"`, `"1.30 = 1.00 + 0.20"`}:                     "/axle/trials/0/pinion",
		{`"backlash":"0.30 0.31 - 0.33"`, `"backlash":"some"`}:        "/axle/trials/0/backlash",
		{`"pinion_torque":"24 N at 75 mm"`, `"pinion_torque":"2.3"`}:  "/axle/trials/0/pinion_torque",
		{`"figure":"backlash","low":0.13`, `"figure":"luck","low":1`}: "/axle/figures/0/figure",
		{`"old_mark":"+2"`, `"old_mark":"two"`}:                       "/swap/old_mark",
		{`"ledge":"yes"`, `"ledge":"maybe"`}:                          "/rigid/ledge",
	} {
		if x := c.do("POST", setupCalc, strings.Replace(setupAsk, change[0], change[1], 1)); x.status != 422 || x.field() != field {
			t.Errorf("%v: %d at %q", change, x.status, x.field())
		}
	}
	c.want(422, "POST", setupCalc, `{}`)
	ask := strings.Replace(`{"axle":{"family":"tornock","part":"rear","ring":32,"pinion":20,"ring_side":"left","pinion_thicker":"in","trials":[{"pinion":"1.2","left":"1.1","right":"1.1","backlash":"0.4 0.4 0.4","drive":{"height":0,"length":0}}]}}`, "\n", "", -1)
	var a setup.Answer
	oda.want(200, "POST", setupCalc, ask).json(t, &a)
	if len(a.Axle.Figures) < 5 || a.Axle.State != setup.StateMove || !strings.Contains(a.Axle.Figures[0].From, "Tornock workshop book, page 41, third edition") {
		t.Errorf("%+v", a.Axle.Figures)
	}
	// The question's own figure counts before the shop's.
	oda.want(200, "POST", setupCalc, strings.Replace(ask, `"ring":32`, `"figures":[{"figure":"backlash","low":0.35,"high":0.45,"unit":"mm"}],"ring":32`, 1)).json(t, &a)
	if a.Axle.State != setup.StateGood {
		t.Errorf("%s %s", a.Axle.State, a.Axle.Sentence)
	}
	const path = "/api/v1/units/3/decisions"
	var d struct{ Title string }
	oda.want(201, "POST", path, `{"kind":"setup","setup":`+ask+`}`).holds(t, "POST", path).json(t, &d)
	if !strings.HasPrefix(d.Title, "Set-up, trial 1: backlash 0.4 mm; next: ring ") {
		t.Errorf("%q", d.Title)
	}
	oda.want(201, "POST", path, `{"kind":"fits","fits":`+fitsAsk+`}`)
	oda.want(201, "POST", path, `{"kind":"free_play","free_play":{"driveline":`+testkit.Example(t, "rear_drive")+`,"measured":[{"at":"rear.left","degrees":3}]}}`)
	oda.want(201, "POST", path, `{"kind":"fault","fault":{"driveline":`+testkit.Example(t, "rear_drive")+`,"evidence":[{"state":{},"seen":[{"watch":"vehicle","does":"opposite"}]}]}}`)
	if x := oda.do("POST", path, `{"kind":"setup"}`); x.status != 422 || x.field() != "/setup" {
		t.Errorf("%d at %q", x.status, x.field())
	}
	h := string(oda.want(200, "GET", "/api/v1/units/3/history", "").body)
	for _, want := range []string{"Set-up, trial 1", "Fits? ", "Free play: ",
		"Fault: Most likely: rear axle with the ring gear on the wrong side"} {
		if !strings.Contains(h, want) {
			t.Errorf("the history lacks %q", want)
		}
	}
}

type run struct {
	ID    int64
	Sheet struct {
		Done, Of int
		Next     string
		Ready    bool
		Missing  []string
		Gate     []struct{ ID, What, Answer string }
		Back     []struct{ What, Noted string }
	}
}

// A card begun by one, taken up by another, held for a second look, kept shut by
// the gate, then passed, closed, printed and in the history; sent twice it is
// kept once.
func TestCardIsTakenUpByAnother(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda, ivar, c := as(t, srv.URL, "oda"), as(t, srv.URL, "ivar"), newClient(t, srv.URL)
	const runs = "/api/v1/units/3/card-runs"
	c.want(401, "GET", runs, "")
	if x := oda.do("POST", runs, `{"card":"carrier_other_side","part":"moon","answers":[{"condition":"room","yes":true}]}`); x.field() != "/part" {
		t.Errorf("%s", x.body)
	}
	if x := oda.do("POST", runs, `{"card":"carrier_other_side","answers":[]}`); x.field() != "/answers" {
		t.Errorf("%s", x.body)
	}
	var r run
	oda.want(201, "POST", runs, `{"card":"carrier_other_side","part":"rear","answers":[{"condition":"room","yes":true}]}`).holds(t, "POST", runs).json(t, &r)
	oda.want(200, "GET", runs, "").holds(t, "GET", runs)
	at := "/api/v1/card-runs/" + id(r.ID)
	n := 0
	enter := func(who *client, want int, kind, step, figure, note string) answer {
		n++
		body, _ := json.Marshal(map[string]string{"key": "check-key-" + id(int64(n)), "kind": kind, "step": step, "figure": figure, "note": note})
		return who.want(want, "POST", at+"/entries", string(body))
	}
	enter(oda, 200, "check", "why", "axle turned over", "").holds(t, "POST", "/api/v1/card-runs/1/entries")
	if x := enter(oda, 422, "check", "caps", "left 1.10", ""); x.field() != "/note" {
		t.Errorf("%s", x.body)
	}
	enter(oda, 200, "check", "caps", "left 1.10, right 1.05", "punched")
	if x := enter(ivar, 422, "check", "why", "again", ""); !strings.Contains(string(x.body), "Oda Brenk has checked it off") {
		t.Errorf("%s", x.body)
	}
	for _, key := range []string{"ключ-ключ", "short", "with space in it"} {
		oda.want(422, "POST", at+"/entries", `{"key":"`+key+`","kind":"check","step":"shafts"}`)
	}
	for _, step := range []string{"shafts", "in", "measure"} {
		enter(ivar, 200, "check", step, "by the manual", "")
	}
	enter(ivar, 200, "check", "direction", "", "")
	enter(ivar, 422, "second", "direction", "", "")
	if x := enter(oda, 422, "check", "close", "0.9 liters", ""); !strings.Contains(string(x.body), "turn the pinion the way the engine will") {
		t.Errorf("%s", x.body)
	}
	enter(oda, 200, "second", "direction", "", "")
	// The demo's set-up of this axle is half-way: that is open.
	var now run
	oda.want(200, "GET", at, "").holds(t, "GET", "/api/v1/card-runs/1").json(t, &now)
	if len(now.Sheet.Gate) == 0 || now.Sheet.Gate[0].What == "" || len(now.Sheet.Back) != 1 || now.Sheet.Back[0].Noted != "punched" {
		t.Fatalf("%+v", now.Sheet)
	}
	if x := enter(oda, 422, "check", "close", "0.9 liters", ""); !strings.Contains(string(x.body), "the set-up is not good yet") {
		t.Errorf("%s", x.body)
	}
	if x := oda.do("POST", at+"/close", ""); x.status != 422 {
		t.Errorf("closed half-way: %d", x.status)
	}
	for _, g := range now.Sheet.Gate {
		enter(oda, 422, "gate", g.ID, "not_now", "")
		enter(oda, 200, "gate", g.ID, "not_now", "the customer waits")
	}
	const last = `{"key":"the-last-step","kind":"check","step":"close","figure":"0.9 liters"}`
	oda.want(200, "POST", at+"/entries", last)
	oda.want(200, "POST", at+"/entries", last).json(t, &now)
	if x := oda.do("POST", at+"/close", ""); x.status != 422 || !strings.Contains(string(x.body), "back on: carrier and side stacks") {
		t.Errorf("closed with a part left over: %s", x.body)
	}
	enter(oda, 200, "back", "caps", "", "").json(t, &now)
	if !now.Sheet.Ready || now.Sheet.Done != now.Sheet.Of {
		t.Errorf("%+v", now.Sheet)
	}
	if b := oda.want(200, "GET", at+"/pdf", "").body; !strings.HasPrefix(string(b), "%PDF") {
		t.Error("no PDF")
	}
	oda.want(200, "POST", at+"/close", "").holds(t, "POST", "/api/v1/card-runs/1/close")
	enter(oda, 409, "undo", "close", "", "")
	oda.want(409, "POST", at+"/close", "")
	h := string(oda.want(200, "GET", "/api/v1/units/3/history", "").body)
	if !strings.Contains(h, "Carrier the other way round: begun") || !strings.Contains(h, "Carrier the other way round: all steps done") {
		t.Errorf("%s", h)
	}
	// The record prints, and leaves with the unit's document.
	var list []struct {
		ID    int64
		Kind  string
		Sheet bool
	}
	oda.want(200, "GET", "/api/v1/units/3/decisions", "").json(t, &list)
	if list[0].Kind != "card" || !list[0].Sheet {
		t.Fatalf("%+v", list[0])
	}
	oda.want(200, "GET", "/api/v1/decisions/"+id(list[0].ID)+"/pdf", "")
	if doc := string(oda.want(200, "GET", "/api/v1/units/3/document", "").body); !strings.Contains(doc, "carrier_other_side") {
		t.Error("the card is not in the document")
	}
}

// The shop's own version of a card, its older ones kept, two people at once
// told.
func TestShopsOwnCards(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda, runa, c := as(t, srv.URL, "oda"), as(t, srv.URL, "runa"), newClient(t, srv.URL)
	c.want(200, "GET", "/api/v1/cards", "").holds(t, "GET", "/api/v1/cards")
	var doc struct {
		Card    map[string]any
		Version int
		Newest  int
	}
	c.want(200, "GET", "/api/v1/cards/oil_change", "").holds(t, "GET", "/api/v1/cards/oil_change").json(t, &doc)
	c.want(404, "GET", "/api/v1/cards/tea", "")
	oda.want(422, "GET", "/api/v1/cards/чай", "")
	if b := c.want(200, "GET", "/api/v1/cards/open_axle/pdf", "").body; !strings.HasPrefix(string(b), "%PDF") {
		t.Error("no PDF")
	}
	doc.Card["title"] = "Oil change, our way"
	put := func(base int) string {
		b, _ := json.Marshal(map[string]any{"card": doc.Card, "base": base})
		return string(b)
	}
	runa.want(403, "PUT", "/api/v1/cards/oil_change", put(0))
	if x := oda.do("PUT", "/api/v1/cards/water_pump", put(0)); x.field() != "/card/id" {
		t.Errorf("%s", x.body)
	}
	oda.want(200, "PUT", "/api/v1/cards/oil_change", put(0)).holds(t, "PUT", "/api/v1/cards/oil_change")
	oda.want(409, "PUT", "/api/v1/cards/oil_change", put(0))
	var r run
	oda.want(201, "POST", "/api/v1/units/3/card-runs", `{"card":"oil_change","answers":[{"condition":"magnet_plug","yes":true},{"condition":"limited_slip","yes":false}]}`).json(t, &r)
	doc.Card["title"] = "Oil change, our newest way"
	oda.want(200, "PUT", "/api/v1/cards/oil_change", put(1))
	if b := string(oda.want(200, "GET", "/api/v1/card-runs/"+id(r.ID), "").body); !strings.Contains(b, "our way") || strings.Contains(b, "newest") {
		t.Error("what is being done does not keep its version")
	}
	oda.want(200, "GET", "/api/v1/cards/oil_change?version=1", "").json(t, &doc)
	if doc.Version != 1 || doc.Newest != 2 || doc.Card["title"] != "Oil change, our way" {
		t.Errorf("%+v", doc)
	}
	oda.want(404, "GET", "/api/v1/cards/oil_change?version=9", "")
	if b := string(c.want(200, "GET", "/api/v1/cards", "").body); strings.Contains(b, "our newest way") {
		t.Error("a stranger reads the shop's own cards")
	}
	doc.Card["steps"] = []any{map[string]any{"id": "a", "do": ""}}
	if x := oda.do("PUT", "/api/v1/cards/oil_change", put(2)); x.status != 422 || x.field() != "/card/steps/0/do" {
		t.Errorf("%d %s", x.status, x.body)
	}
}

func id(n int64) string { return strconv.FormatInt(n, 10) }
