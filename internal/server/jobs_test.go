package server_test

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"runtime"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"zorvel/internal/testkit"
)

type jobPage struct {
	Job struct {
		ID      int64
		State   string
		Who     string
		Minutes float64
	}
	HandOver string `json:"hand_over"`
	Work     []struct {
		Kind, What, Text, By string
		Hours, Km            *float64
	}
	Open      []struct{ ID, What, Why string }
	Decisions []struct{ Title string }
	Cards     []struct{ Title string }
}

type servicePage struct {
	Answer struct {
		Due []struct {
			What, Part, State, Words, By string
			Left                         *float64
		}
		Now struct{ Hours, Km *float64 }
	}
	Work    []struct{ Kind string }
	Whats   []string
	Trouble string
}

func entry(key, rest string) string { return fmt.Sprintf(`{"key":"job-test-%s",%s}`, key, rest) }

// The daily path: opened in the owner's words, found, measured, a card and a
// verdict begun, taken over, worked, closed with what is left open on purpose,
// printed for the shop and for the owner.
func TestJobFromComplaintToHandOver(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	ivar, oda := as(t, srv.URL, "ivar"), as(t, srv.URL, "oda")
	var j jobPage
	const jobs = "/api/v1/units/8/jobs"
	open := entry("open", `"complaint":"Kein Vortrieb, Brücke heult 4¼","customer":"Øyvind forest"`)
	ivar.want(201, "POST", jobs, open).holds(t, "POST", jobs).json(t, &j)
	id := j.Job.ID
	ivar.want(201, "POST", jobs, open).json(t, &j)
	if j.Job.ID != id || j.Job.State != "waiting" || j.Job.Who != "Ivar Tolm" {
		t.Fatalf("%+v", j.Job)
	}
	path := fmt.Sprintf("/api/v1/jobs/%d", id)
	enter := path + "/entries"
	for i, body := range []string{
		`"kind":"meter","km":84210`, `"kind":"finding","part":"rear","text":"Flakes on the magnet"`, `"kind":"state","what":"on_stands"`, `"kind":"work","part":"rear","text":"Cover off","minutes":40`,
		`"kind":"service","what":"gear oil","part":"rear"`, `"kind":"note","text":"Owner called"`,
	} {
		ivar.want(200, "POST", enter, entry(fmt.Sprint("line-", i), body)).holds(t, "POST", "/api/v1/jobs/{id}/entries")
	}
	oda.want(200, "POST", enter, entry("taken", `"kind":"taken","what":"Oda Brenk"`)).json(t, &j)
	oda.want(200, "POST", enter, entry("taken", `"kind":"taken","what":"Oda Brenk"`)).json(t, &j) // sent again
	if j.Job.State != "on_stands" || j.Job.Who != "Oda Brenk" || j.Job.Minutes != 40 || len(j.Work) != 8 {
		t.Fatalf("%+v %d", j.Job, len(j.Work))
	}
	oda.want(201, "POST", "/api/v1/units/8/decisions", `{"kind":"fault","fault":{"driveline":`+testkit.Example(t, "rear_drive")+`,"evidence":[{"seen":[{"watch":"vehicle","does":"stays"}]}]}}`)
	oda.want(201, "POST", "/api/v1/units/8/card-runs", `{"card":"lower","answers":[]}`)
	oda.want(200, "GET", path, "").holds(t, "GET", "/api/v1/jobs/{id}").json(t, &j)
	var open2 []string
	for _, o := range j.Open {
		open2 = append(open2, o.ID)
		if o.What == "" || o.Why == "" {
			t.Errorf("%+v", o)
		}
	}
	if len(j.Decisions) != 1 || len(j.Cards) != 1 || !slices.ContainsFunc(open2, func(s string) bool { return strings.HasPrefix(s, "card_") }) || !slices.ContainsFunc(open2, func(s string) bool { return strings.HasPrefix(s, "verdict_") }) {
		t.Fatalf("%v %+v %+v", open2, j.Decisions, j.Cards)
	}
	if x := oda.do("POST", path+"/close", `{"hand_over":"Come back after 500 km"}`); x.status != 422 ||
		x.field() != "/accept" || !strings.Contains(string(x.body), "A card is in progress") {
		t.Errorf("%d %s", x.status, x.body)
	}
	accept := `["` + strings.Join(open2, `","`) + `"]`
	oda.want(200, "POST", path+"/close", `{"hand_over":"Come back after 500 km","accept":`+accept+`}`).holds(t, "POST", "/api/v1/jobs/{id}/close").json(t, &j)
	if j.Job.State != "closed" || !strings.HasPrefix(j.HandOver, "Come back after 500 km\nLeft open: ") || len(j.Open) != 0 {
		t.Errorf("%+v %q", j.Job, j.HandOver)
	}
	oda.want(409, "POST", path+"/close", `{}`)
	oda.want(409, "POST", enter, entry("late", `"kind":"note","text":"late"`))
	for _, sheet := range []string{"", "?sheet=job", "?sheet=owner"} {
		if b := oda.want(200, "GET", path+"/pdf"+sheet, "").body; !bytes.HasPrefix(b, []byte("%PDF")) || len(b) < 4000 {
			t.Errorf("%s: %d bytes %.20q", sheet, len(b), b)
		}
	}
	var board struct{ Open, Closed []struct{ ID int64 } }
	oda.want(200, "GET", "/api/v1/jobs", "").holds(t, "GET", "/api/v1/jobs").json(t, &board)
	if len(board.Open) != 3 || len(board.Closed) != 2 || board.Closed[0].ID != id {
		t.Errorf("%+v", board)
	}
	oda.want(200, "GET", jobs, "").holds(t, "GET", jobs)
	h := string(oda.want(200, "GET", "/api/v1/units/8/history", "").body)
	if !strings.Contains(h, "Job opened: Kein Vortrieb, Brücke heult 4¼") || !strings.Contains(h, "Job closed: Kein Vortrieb") {
		t.Error("the history lacks the job")
	}
}

func TestJobsRefuse(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	ivar, runa := as(t, srv.URL, "ivar"), as(t, srv.URL, "runa")
	const enter = "/api/v1/jobs/2/entries"
	for body, field := range map[string]string{
		entry("aaaa", `"kind":"finding"`):                                          "/text",
		entry("aaab", `"kind":"finding","text":"  "`):                              "/text",
		entry("aaac", `"kind":"finding","text":"x","part":"moon"`):                 "/part",
		entry("aaad", `"kind":"state","what":"closed"`):                            "/what",
		entry("aaae", `"kind":"state","what":"flying"`):                            "/what",
		entry("aaaf", `"kind":"taken"`):                                            "/what",
		entry("aaag", `"kind":"meter"`):                                            "/km",
		entry("aaah", `"kind":"meter","hours":12`):                                 "/hours",
		entry("aaai", `"kind":"meter","hours":-1`):                                 "/hours",
		entry("aaaj", `"kind":"meter","hours":600,"meter":"eaten"`):                "/meter",
		entry("aaak", `"kind":"service"`):                                          "/what",
		entry("aaal", `"kind":"note","text":"x","km":12`):                          "/kind",
		entry("aaam", `"kind":"note","text":"x","done_at":"2999-01-01T00:00:00Z"`): "/done_at",
	} {
		if x := ivar.do("POST", enter, body); x.status != 422 || x.field() != field {
			t.Errorf("%s: %d at %q, want %s: %s", body, x.status, x.field(), field, x.body)
		}
	}
	if x := ivar.do("POST", "/api/v1/units/5/jobs", entry("open", `"complaint":"   "`)); x.status != 422 || x.field() != "/complaint" {
		t.Errorf("%d %s", x.status, x.body)
	}
	ivar.want(404, "GET", "/api/v1/jobs/9999", "")
	ivar.want(404, "POST", "/api/v1/units/9999/jobs", entry("open", `"complaint":"x"`))
	runa.want(200, "GET", "/api/v1/jobs/2", "")
	runa.want(403, "POST", enter, entry("aaan", `"kind":"note","text":"x"`))
	runa.want(403, "POST", "/api/v1/jobs/2/close", `{}`)
	newClient(t, srv.URL).want(401, "GET", "/api/v1/jobs", "")
}

// A meter that was replaced is asked about and worked out anew; what is served
// moves what is due; the shop's rule takes the place of the typical one; it leaves
// as calendar and table.
func TestServiceDue(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	const path = "/api/v1/units/5/service"
	var p servicePage
	find := func(what string) int {
		for i, d := range p.Answer.Due {
			if d.What == what {
				return i
			}
		}
		t.Fatalf("no %s in %+v", what, p.Answer.Due)
		return -1
	}
	oda.want(200, "GET", path, "").holds(t, "GET", "/api/v1/units/{id}/service").json(t, &p)
	if d := p.Answer.Due[find("gear oil")]; d.State != "overdue" || *p.Answer.Now.Hours != 489 {
		t.Errorf("%+v", d)
	}
	if !slices.Contains(p.Whats, "impeller") || slices.Contains(p.Whats, "breather") {
		t.Errorf("%v", p.Whats)
	}
	if x := oda.do("POST", path, entry("meter-1", `"kind":"meter","hours":3`)); x.status != 422 || x.field() != "/hours" || !strings.Contains(string(x.body), "was the meter replaced") {
		t.Errorf("%d %s", x.status, x.body)
	}
	oda.want(200, "POST", path, entry("meter-2", `"kind":"meter","hours":3,"meter":"replaced"`)).holds(t, "POST", "/api/v1/units/{id}/service").json(t, &p)
	if *p.Answer.Now.Hours != 489 {
		t.Errorf("%v hours", *p.Answer.Now.Hours)
	}
	oda.want(200, "POST", path, entry("meter-3", `"kind":"meter","hours":14`)).json(t, &p)
	if *p.Answer.Now.Hours != 500 {
		t.Errorf("%v hours", *p.Answer.Now.Hours)
	}
	oda.want(200, "POST", path, entry("oil", `"kind":"service","what":"gear oil","part":"gearcase"`)).json(t, &p)
	if d := p.Answer.Due[find("gear oil")]; d.State != "later" || *d.Left > 366 {
		t.Errorf("%+v", d)
	}
	oda.want(422, "POST", path, entry("note", `"kind":"note","text":"x"`))
	oda.want(201, "POST", "/api/v1/catalog/service_rules", `{"cells":{"kind":"gearcase","what":"impeller","hours":"10","source":"manual, page 14"}}`)
	oda.want(200, "GET", path, "").json(t, &p)
	if d := p.Answer.Due[find("impeller")]; !strings.Contains(d.Words, "every 10 h") {
		t.Errorf("%+v", d)
	}
	var list []struct {
		Unit string
		Due  struct{ What, State string }
	}
	oda.want(200, "GET", "/api/v1/service", "").holds(t, "GET", "/api/v1/service").json(t, &list)
	if len(list) < 3 || list[0].Due.State == "later" {
		t.Errorf("%+v", list)
	}
	ics := string(oda.want(200, "GET", "/api/v1/service.ics", "").body)
	for _, want := range []string{"BEGIN:VCALENDAR", "VERSION:2.0", "BEGIN:VEVENT", "DTSTART;VALUE=DATE:" + "20", "SUMMARY:", "UID:"} {
		if !strings.Contains(ics, want) {
			t.Errorf("the calendar lacks %s", want)
		}
	}
	for _, l := range strings.Split(ics, "\r\n") {
		if len(l) > 75 {
			t.Errorf("a line of %d bytes: %s", len(l), l)
		}
	}
	rows, err := csv.NewReader(bytes.NewReader(oda.want(200, "GET", "/api/v1/service.csv", "").body)).ReadAll()
	if err != nil || len(rows) != len(list)+1 || rows[0][0] != "unit" {
		t.Errorf("%d rows, %v", len(rows), err)
	}
	if _, err := time.Parse(time.DateOnly, rows[1][6]); err != nil {
		t.Errorf("%v", rows[1])
	}
	newClient(t, srv.URL).want(401, "GET", "/api/v1/service.ics", "")
}

// A unit leaves with its jobs, meters and services, and comes back the same.
func TestJobsTravelWithTheUnit(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	for _, unit := range []string{"2", "5"} {
		var was, is struct {
			Jobs    []map[string]any
			Service []map[string]any
		}
		doc := oda.want(200, "GET", "/api/v1/units/"+unit+"/document", "").holds(t, "GET", "/api/v1/units/{id}/document")
		doc.json(t, &was)
		if len(was.Jobs) != 1 || len(was.Service) < 2 {
			t.Fatalf("unit %s: %d jobs, %d services", unit, len(was.Jobs), len(was.Service))
		}
		var u struct{ ID int64 }
		oda.want(201, "POST", "/api/v1/units/import", string(doc.body)).json(t, &u)
		oda.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", u.ID), "").json(t, &is)
		if a, b := fmt.Sprint(was.Jobs, was.Service), fmt.Sprint(is.Jobs, is.Service); a != b {
			t.Errorf("unit %s came back as another:\n%s\n%s", unit, a, b)
		}
	}
	doc := string(oda.want(200, "GET", "/api/v1/units/2/document", "").body)
	if x := oda.do("POST", "/api/v1/units/import", strings.Replace(doc, `"state":"closed"`, `"state":"waiting"`, 1)); x.status != 422 || x.field() != "/jobs/0/closed_at" {
		t.Errorf("closed and waiting: %d at %q", x.status, x.field())
	}
}

// Names that the database compares as plain letters take no others, and nothing
// breaks over them.
func TestPlainNames(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	for _, odd := range []string{"½½½½½½½½", "\u202e\u202e\u202e\u202e\u202e\u202e\u202e\u202e", "schlüssel-1", "🛻🛻🛻🛻🛻🛻🛻🛻"} {
		for path, body := range map[string]string{
			"/api/v1/units/8/jobs":      `{"key":"` + odd + `","complaint":"x"}`,
			"/api/v1/jobs/2/entries":    `{"key":"` + odd + `","kind":"note","text":"x"}`,
			"/api/v1/units/8/service":   `{"key":"plain-key-1","kind":"meter","km":99999999,"meter":"` + odd + `"}`,
			"/api/v1/units/8/photos":    `{"key":"` + odd + `","image":"AAAA"}`,
			"/api/v1/units/8/card-runs": `{"card":"` + odd + `","answers":[]}`,
		} {
			if x := oda.do("POST", path, body); x.status != 422 {
				t.Errorf("%s %q: %d %s", path, odd, x.status, x.body)
			}
		}
		if x := oda.do("GET", "/api/v1/cards/"+odd, ""); x.status != 404 && x.status != 422 {
			t.Errorf("a card %q: %d", odd, x.status)
		}
	}
}

// What keeps a job open is judged where it is closed: however a card, a reading or a
// line comes beside it, no job is closed over one that is in hand and not named.
func TestClosingJudgesWhatStandsThen(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda, ivar := as(t, srv.URL, "oda"), as(t, srv.URL, "ivar")
	for i := range 12 {
		var unit struct{ ID int64 }
		oda.want(201, "POST", "/api/v1/units", `{"name":"Grouse 20","kind":"truck","layout":"rear_drive"}`).json(t, &unit)
		at := fmt.Sprintf("/api/v1/units/%d", unit.ID)
		var j struct{ Job struct{ ID int64 } }
		oda.want(201, "POST", at+"/jobs", entry("race", `"complaint":"No drive"`)).json(t, &j)
		var wg sync.WaitGroup
		var closed, begun answer
		wg.Go(func() { closed = oda.do("POST", fmt.Sprintf("/api/v1/jobs/%d/close", j.Job.ID), `{}`) })
		wg.Go(func() {
			for range i {
				runtime.Gosched()
			}
			begun = ivar.do("POST", at+"/card-runs", `{"card":"lower","answers":[]}`)
		})
		wg.Wait()
		if begun.status != 201 || closed.status != 200 && closed.status != 422 {
			t.Fatalf("begun %d, closed %d %s", begun.status, closed.status, closed.body)
		}
		if closed.status == 422 {
			continue
		}
		// Closed first, then: the history has the card after it.
		var history []struct{ What, Text string }
		oda.want(200, "GET", at+"/history", "").json(t, &history)
		card, job := -1, -1
		for k, h := range history { // newest first
			switch {
			case strings.HasPrefix(h.Text, "Job closed"):
				job = k
			case h.What == "card":
				card = k
			}
		}
		if card > job {
			t.Errorf("closed over a card that was in hand: %+v", history)
		}
	}
}

// A unit in the archive takes no job, and one with an open job isn't put there,
// whoever is quicker; a document can't say so either.
func TestArchiveAndJobs(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda, ivar := as(t, srv.URL, "oda"), as(t, srv.URL, "ivar")
	both := 0
	for i := range 10 {
		var unit struct{ ID int64 }
		oda.want(201, "POST", "/api/v1/units", `{"name":"Grouse 21","kind":"truck","layout":"rear_drive"}`).json(t, &unit)
		at := fmt.Sprintf("/api/v1/units/%d", unit.ID)
		var wg sync.WaitGroup
		var away, job answer
		wg.Go(func() { away = oda.do("PUT", at+"/archived", `{"archived":true}`) })
		wg.Go(func() { job = ivar.do("POST", at+"/jobs", entry(fmt.Sprint("arch", i), `"complaint":"x"`)) })
		wg.Wait()
		if away.status < 300 && job.status < 300 {
			both++
		}
		if away.status < 300 {
			ivar.want(409, "POST", at+"/jobs", entry(fmt.Sprint("late", i), `"complaint":"x"`))
		}
	}
	if both > 0 {
		t.Errorf("%d are in the archive with a job that is open", both)
	}
	var doc map[string]any
	oda.want(201, "POST", "/api/v1/units/8/jobs", entry("docu", `"complaint":"It hums"`))
	oda.want(200, "GET", "/api/v1/units/8/document", "").json(t, &doc)
	doc["archived"] = map[string]any{"by": "Oda", "at": "2026-01-02T03:04:05Z"}
	b, err := json.Marshal(doc)
	if err != nil {
		t.Fatal(err)
	}
	if a := oda.do("POST", "/api/v1/units/import", string(b)); a.status != 422 || a.field() != "/archived" {
		t.Errorf("%d at %q: %.300s", a.status, a.field(), a.body)
	}
}

// Whatever key a line was sent under, a job can be closed.
func TestNoKeyBlocksClosing(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	var j struct{ Job struct{ ID int64 } }
	var unit struct{ ID int64 }
	oda.want(201, "POST", "/api/v1/units", `{"name":"Grouse 22","kind":"truck","layout":"rear_drive"}`).json(t, &unit)
	oda.want(201, "POST", fmt.Sprintf("/api/v1/units/%d/jobs", unit.ID), entry("close", `"complaint":"x"`)).json(t, &j)
	at := fmt.Sprintf("/api/v1/jobs/%d", j.Job.ID)
	for _, key := range []string{fmt.Sprintf("closed-%d", j.Job.ID), fmt.Sprintf("closed.%d", j.Job.ID), fmt.Sprintf("opened-%d", j.Job.ID), "document-0-0"} {
		oda.want(200, "POST", at+"/entries", fmt.Sprintf(`{"key":%q,"kind":"note","text":"mine"}`, key))
	}
	for _, key := range []string{fmt.Sprintf("closed/%d", j.Job.ID), fmt.Sprintf("opened/%d", j.Job.ID), "document/0-0"} {
		oda.want(422, "POST", at+"/entries", fmt.Sprintf(`{"key":%q,"kind":"note","text":"mine"}`, key))
	}
	// The same key in another job is another thing.
	var other struct{ Job struct{ ID int64 } }
	oda.want(201, "POST", fmt.Sprintf("/api/v1/units/%d/jobs", unit.ID), entry("close2", `"complaint":"y"`)).json(t, &other)
	oda.want(200, "POST", fmt.Sprintf("/api/v1/jobs/%d/entries", other.Job.ID), `{"key":"document-0-0","kind":"note","text":"another"}`)
	oda.want(200, "POST", at+"/close", `{}`)
}
