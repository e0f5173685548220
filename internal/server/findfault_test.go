package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"zorvel/core/findfault"
	"zorvel/internal/testkit"
)

const (
	findCalc    = "/api/v1/calc/find-fault"
	faultRecord = "/api/v1/faults"
)

// From the complaint by the proposed tests to a kept verdict, its protocol, and
// the repair that proves it; then the shop weighs what broke.
func TestVerdictIsProved(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	type page struct {
		Record  findfault.Record
		Open    []struct{ ID, UnitID int64 }
		Repairs []struct{ Text string }
	}
	var before, after page
	oda.want(200, "GET", faultRecord, "").holds(t, "GET", faultRecord).json(t, &before)
	if before.Record.Proved != 4 || before.Record.Wrong != 1 || len(before.Open) != 1 {
		t.Fatalf("%+v", before)
	}
	var line struct{ Document json.RawMessage }
	oda.want(200, "GET", "/api/v1/units/9/driveline", "").json(t, &line)
	ask := fmt.Sprintf(`{"driveline":%s,"evidence":[{"state":{},"seen":[{"watch":"vehicle","does":"follows"}]},{"sign":"hums","says":"yes","complaint":true},{"sign":"rocks","part":"rear_right","says":"yes"},{"sign":"hot_hub","part":"rear_right","value":48}]}`, line.Document)
	var a findfault.Answer
	oda.want(200, "POST", findCalc, ask).holds(t, "POST", findCalc).json(t, &a)
	if !a.Settled || a.Suspects[0].ID != "wheel_bearing rear_right" || len(a.Open) == 0 || len(a.Tow) == 0 {
		t.Fatalf("%s %+v", a.Sentence, a.Open)
	}
	if b := oda.want(200, "POST", findCalc+"/pdf", `{"title":"Tern","fault":`+ask+`}`).body; !bytes.HasPrefix(b, []byte("%PDF")) {
		t.Errorf("%.20q", b)
	}
	const decisions = "/api/v1/units/9/decisions"
	var d struct{ ID int64 }
	oda.want(201, "POST", decisions, `{"kind":"fault","fault":`+ask+`}`).json(t, &d)
	if b := oda.want(200, "GET", fmt.Sprintf("/api/v1/decisions/%d/pdf", d.ID), "").body; !bytes.HasPrefix(b, []byte("%PDF")) {
		t.Errorf("%.20q", b)
	}
	repair := func(verdict int64, rest string) string {
		return fmt.Sprintf(`{"kind":"repair","repair":{"verdict":%d,%s}}`, verdict, rest)
	}
	for body, field := range map[string]string{
		`{"kind":"repair"}`:                        "/repair",
		repair(999999, `"found":"x","cured":true`): "/repair/verdict",
		repair(before.Open[0].ID, `"found":"wheel_bearing rear_right","cured":true`): "/repair/verdict", // of another unit
		repair(d.ID, `"found":"open moon","cured":true`):                             "/repair/found",
		repair(d.ID, `"cured":true`):                                                 "/repair/found",
	} {
		if x := oda.do("POST", decisions, body); x.status != 422 || x.field() != field {
			t.Errorf("%s: %d at %q, want %s", body, x.status, x.field(), field)
		}
	}
	// It did not cure it: the verdict stays open. Then it did.
	oda.want(201, "POST", decisions, repair(d.ID, `"found":"axle_seal rear_right","cured":false`))
	oda.want(200, "GET", faultRecord, "").json(t, &after)
	if after.Record.Proved != 4 || after.Record.NotCured != 1 || len(after.Open) != 2 {
		t.Errorf("%+v", after.Record)
	}
	oda.want(201, "POST", decisions, repair(d.ID, `"found":"wheel_bearing rear_right","cured":true`)).holds(t, "POST", decisions)
	oda.want(200, "GET", faultRecord, "").json(t, &after)
	if after.Record.Proved != 5 || after.Record.Right != before.Record.Right+1 || after.Record.NotCured != 0 || len(after.Open) != 1 || len(after.Repairs) != 6 {
		t.Errorf("%+v, open %v, %d repairs", after.Record, after.Open, len(after.Repairs))
	}
	if after.Record.Priors["wheel_bearing"] <= before.Record.Priors["wheel_bearing"] {
		t.Error("what broke twice weighs no more")
	}
	h := string(oda.want(200, "GET", "/api/v1/units/9/history", "").body)
	for _, want := range []string{"Fault: Worn rear right wheel bearing", "it still does the same", "Proved: worn rear right wheel bearing"} {
		if !strings.Contains(h, want) {
			t.Errorf("the history lacks %q", want)
		}
	}
	// A viewer sees the record and writes nothing; a stranger sees none.
	runa := as(t, srv.URL, "runa")
	runa.want(200, "GET", faultRecord, "")
	runa.want(403, "POST", decisions, repair(d.ID, `"found":"wheel_bearing rear_right","cured":true`))
	newClient(t, srv.URL).want(401, "GET", faultRecord, "")
}

// A unit with its verdict and repair goes out as a document and comes in again:
// the repair still counts, its verdict isn't asked about.
func TestVerdictTravels(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	doc := string(oda.want(200, "GET", "/api/v1/units/2/document", "").body)
	oda.want(201, "POST", "/api/v1/units/import", strings.Replace(doc, "Plow truck Bell", "Plow truck Bell, from the other shop", 1))
	var page struct {
		Record findfault.Record
		Open   []any
	}
	oda.want(200, "GET", faultRecord, "").json(t, &page)
	if page.Record.Proved != 5 || len(page.Open) != 1 {
		t.Errorf("%+v, %d open", page.Record, len(page.Open))
	}
}
