package server_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/alexedwards/argon2id"

	"zorvel/internal/testkit"
)

type person struct {
	ID      int64
	SignIn  string `json:"sign_in"`
	Name    string
	Role    string
	Active  bool
	Version int64
}

func (c *client) person(signIn string) person {
	c.t.Helper()
	var people []person
	c.want(200, "GET", "/api/v1/people", "").json(c.t, &people)
	for _, p := range people {
		if p.SignIn == signIn {
			return p
		}
	}
	c.t.Fatalf("nobody signs in as %s", signIn)
	return person{}
}

// A new password ends the sessions that were opened with the old one.
func TestNewPasswordEndsOldSessions(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	owner, tech := as(t, srv.URL, "oda"), as(t, srv.URL, "ivar")
	tech.want(200, "GET", "/api/v1/units", "")
	path := fmt.Sprintf("/api/v1/people/%d", owner.person("ivar").ID)
	owner.want(200, "PATCH", path, `{"password":"another-long-word"}`)
	tech.want(401, "GET", "/api/v1/units", "")
	tech.want(401, "POST", "/api/v1/session", `{"sign_in":"ivar","password":"start-tooth-zero"}`)
	tech.want(200, "POST", "/api/v1/session", `{"sign_in":" IVAR ","password":"another-long-word"}`)
	tech.want(200, "GET", "/api/v1/units", "")
}

// A session's token changes at sign-in: one planted before is worth nothing.
func TestSessionIsNotFixed(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	first := c.want(200, "POST", "/api/v1/session", `{"sign_in":"ivar","password":"start-tooth-zero"}`).cookie("zorvel_session")
	second := c.want(200, "POST", "/api/v1/session", `{"sign_in":"oda","password":"chalk-and-flange"}`).cookie("zorvel_session")
	token := func(s string) string { return strings.SplitN(s, ";", 2)[0] }
	if token(first) == "" || token(first) == token(second) {
		t.Errorf("tokens %q and %q", token(first), token(second))
	}
	old := newClient(t, srv.URL)
	if a := old.do("GET", "/api/v1/units", "", "Cookie", token(first)); a.status != 401 {
		t.Errorf("the old token still opens: %d", a.status)
	}
}

func TestOwnerManagesPeople(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	owner := as(t, srv.URL, "oda")
	cases := []struct {
		body  string
		field string
	}{
		{`{"sign_in":"Sel","name":"Sel","role":"viewer","password":"long-enough-word"}`, "/sign_in"},
		{`{"sign_in":"s","name":"Sel","role":"viewer","password":"long-enough-word"}`, "/sign_in"},
		{`{"sign_in":"sel","name":"","role":"viewer","password":"long-enough-word"}`, "/name"},
		{`{"sign_in":"sel","name":"Sel","role":"admiral","password":"long-enough-word"}`, "/role"},
		{`{"sign_in":"sel","name":"Sel","role":"viewer","password":"short"}`, "/password"},
		{`{"sign_in":"sel","name":"Sel","role":"viewer"}`, "/password"},
		{`{"sign_in":"sel","name":"Sel","role":"viewer","password":"long-enough-word","salary":1}`, "/salary"},
	}
	for _, c := range cases {
		if a := owner.do("POST", "/api/v1/people", c.body); a.status != 422 || a.field() != c.field {
			t.Errorf("%s: %d %s, want a fault at %s", c.body, a.status, a.body, c.field)
		}
	}
	owner.want(201, "POST", "/api/v1/people", `{"sign_in":"sel","name":" Sel Mavry ","role":"viewer","password":"long-enough-word"}`)
	sel := owner.person("sel")
	if sel.Name != "Sel Mavry" || sel.Role != "viewer" || !sel.Active {
		t.Errorf("%+v", sel)
	}
	path := fmt.Sprintf("/api/v1/people/%d", sel.ID)
	c := newClient(t, srv.URL)
	c.want(200, "POST", "/api/v1/session", `{"sign_in":"sel","password":"long-enough-word"}`)
	c.want(403, "POST", "/api/v1/units", `{"name":"x","kind":"van","layout":"rear_drive"}`)
	// A new role counts at once, also in open sessions.
	owner.want(200, "PATCH", path, `{"role":"technician","name":"Sel M."}`)
	c.want(201, "POST", "/api/v1/units", `{"name":"x","kind":"van","layout":"rear_drive"}`)
	var history []struct{ By string }
	c.want(200, "GET", "/api/v1/units/10/history", "").json(t, &history)
	if len(history) != 1 || history[0].By != "Sel M." {
		t.Errorf("%+v", history)
	}
	// With a second owner the first may step down.
	owner.want(200, "PATCH", path, `{"role":"owner"}`)
	owner.want(200, "PATCH", fmt.Sprintf("/api/v1/people/%d", owner.person("oda").ID), `{"role":"viewer"}`)
	owner.want(403, "GET", "/api/v1/people", "")
}

// The history says what changed, and nothing when nothing did.
func TestUnitChangesAreTold(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	told := func() []string {
		var h []struct{ What, Text string }
		c.want(200, "GET", "/api/v1/units/1/history", "").json(t, &h)
		var out []string
		for _, e := range h {
			if e.What == "unit_changed" {
				out = append(out, e.Text)
			}
		}
		return out
	}
	c.want(200, "PATCH", "/api/v1/units/1", `{"name":"Tender 3"}`)
	if n := told(); len(n) != 0 {
		t.Errorf("nothing changed, yet %v", n)
	}
	c.want(200, "PATCH", "/api/v1/units/1", `{"name":"Tender three","kind":"other","notes":"n"}`)
	if n := told(); len(n) != 1 || n[0] != "Unit renamed from Tender 3, kind changed from boat, notes changed" {
		t.Errorf("%v", n)
	}
}

// Many devices send at once; a reading with one key is stored once.
func TestSameReadingFromManyTabs(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	var wg sync.WaitGroup
	for i := range 8 {
		wg.Go(func() {
			body := fmt.Sprintf(`{"readings":[{"key":"same","reading":{"method":"tag","text":"2.08"}},{"key":"own-%d","reading":{"method":"stamp","text":"27-13"}}]}`, i)
			if a := c.do("POST", "/api/v1/stages/1/readings", body); a.status != 201 {
				t.Errorf("%d %s", a.status, a.body)
			}
		})
	}
	wg.Wait()
	var rec struct {
		Readings []struct{ Reading struct{ Method string } }
	}
	c.want(200, "GET", "/api/v1/stages/1", "").json(t, &rec)
	tags := 0
	for _, r := range rec.Readings {
		if r.Reading.Method == "tag" {
			tags++
		}
	}
	if tags != 1 || len(rec.Readings) != 9 {
		t.Errorf("%d tags among %d readings", tags, len(rec.Readings))
	}
}

// What the front end builds its forms from.
func TestKnowledge(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	c := newClient(t, srv.URL)
	var k struct {
		Stages []struct {
			Kind          string
			Positions     []string
			TwoWheels     bool `json:"two_wheels"`
			Constructions []struct {
				Position, ID, Formula string
				Teeth                 []struct {
					Member   string
					Min, Max int
				}
			}
		}
		Models []struct{ Method, What, Value string }
	}
	c.want(200, "GET", "/api/v1/calc/knowledge", "").json(t, &k)
	if len(k.Stages) != 9 || len(k.Models) < 15 {
		t.Fatalf("%d stages, %d models", len(k.Stages), len(k.Models))
	}
	for _, s := range k.Stages {
		if s.TwoWheels != (s.Kind == "ring_and_pinion" || s.Kind == "two_stage") {
			t.Errorf("%s: two wheels %v", s.Kind, s.TwoWheels)
		}
		if (s.Kind == "transfer_case") != (len(s.Positions) == 3) {
			t.Errorf("%s has positions %v", s.Kind, s.Positions)
		}
		for _, con := range s.Constructions {
			if con.Formula == "" || (con.ID != "direct" && len(con.Teeth) < 2) {
				t.Errorf("%s: %+v", s.Kind, con)
			}
			for _, g := range con.Teeth {
				if g.Min < 3 || g.Max <= g.Min {
					t.Errorf("%s: %+v", s.Kind, g)
				}
			}
		}
	}
}

// A stage takes no more than it may hold, however many send at once, and says
// so; what it has already is taken again without a word.
func TestStageFullUnderManyHands(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	body := func(i int) string {
		var all []string
		for n := range 50 {
			all = append(all, fmt.Sprintf(`{"key":"%d-%d","reading":{"method":"tag","text":"2.08"}}`, i, n))
		}
		return `{"readings":[` + strings.Join(all, ",") + `]}`
	}
	statuses := make([]int, 6)
	var wg sync.WaitGroup
	for i := range statuses {
		wg.Go(func() {
			a := c.do("POST", "/api/v1/stages/1/readings", body(i))
			if statuses[i] = a.status; a.status == 422 && a.field() != "/readings" {
				t.Errorf("refused at %q: %s", a.field(), a.body)
			}
		})
	}
	wg.Wait()
	took := 0
	for i, s := range statuses {
		switch s {
		case 201:
			took++
			c.want(201, "POST", "/api/v1/stages/1/readings", body(i))
		case 422:
		default:
			t.Errorf("status %d", s)
		}
	}
	var rec struct{ Readings []struct{ ID int } }
	c.want(200, "GET", "/api/v1/stages/1", "").json(t, &rec)
	if took != 4 || len(rec.Readings) != 200 {
		t.Errorf("%d batches of 50 were taken and %d readings are kept", took, len(rec.Readings))
	}
}

func TestKeyWithAnotherReading(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	const path = "/api/v1/stages/1/readings"
	c.want(201, "POST", path, `{"readings":[{"key":"k","reading":{"method":"tag","text":"2.08"}}]}`)
	c.want(201, "POST", path, `{"readings":[{"key":"k","reading":{"text":"2.08","method":"tag"}}]}`)
	c.want(201, "POST", path, `{"readings":[{"key":"K","reading":{"method":"tag","text":"1.92"}}]}`)
	a := c.want(409, "POST", path, `{"readings":[{"key":"k","reading":{"method":"tag","text":"1.92"}}]}`)
	if !strings.Contains(string(a.body), `The key \"k\" was sent with another reading before`) {
		t.Errorf("%s", a.body)
	}
}

// A unit's words are changed over the version that was seen.
func TestUnitChangedOverAVersion(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	var u struct {
		Version int64
		Notes   string
	}
	c.want(200, "GET", "/api/v1/units/1", "").json(t, &u)
	seen := u.Version
	c.want(200, "PATCH", "/api/v1/units/1", fmt.Sprintf(`{"base":%d,"notes":"first"}`, seen)).json(t, &u)
	if u.Version == seen {
		t.Error("the version stands still")
	}
	c.want(409, "PATCH", "/api/v1/units/1", fmt.Sprintf(`{"base":%d,"notes":"second"}`, seen))
	c.want(200, "GET", "/api/v1/units/1", "").json(t, &u)
	if u.Notes != "first" {
		t.Errorf("notes are %q", u.Notes)
	}
}

// One stage whose evidence can't be read doesn't take the unit with it.
func TestBrokenStageStandsAlone(t *testing.T) {
	srv, st := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	c.want(201, "POST", "/api/v1/stages/1/readings", `{"readings":[{"reading":{"method":"tag","text":"2.08"}}]}`)
	if _, err := st.DB.ExecContext(t.Context(), `UPDATE readings SET data = '{"method":"gone"}', method = 'gone' WHERE stage_id = 1`); err != nil {
		t.Fatal(err)
	}
	var u struct {
		Stages []struct {
			ID      int64
			Trouble string
		}
	}
	c.want(200, "GET", "/api/v1/units/1", "").json(t, &u)
	for _, v := range u.Stages {
		if broken := v.ID == 1; broken != (v.Trouble != "") {
			t.Errorf("stage %d: %q", v.ID, v.Trouble)
		}
	}
	c.want(200, "GET", "/api/v1/units", "")
}

// Guesses by a stranger don't lock a person out of the device they use, and a
// switched-off account's sessions stay dead when it is switched on again.
func TestStrangersLockNobodyOut(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	own := as(t, srv.URL, "ivar")
	own.want(204, "DELETE", "/api/v1/session", "")
	stranger := newClient(t, srv.URL)
	let := 0
	var wg sync.WaitGroup
	var mu sync.Mutex
	for range 60 {
		wg.Go(func() {
			if a := stranger.do("POST", "/api/v1/session", `{"sign_in":"ivar","password":"guess"}`); a.status == 401 {
				mu.Lock()
				defer mu.Unlock()
				let++
			} else if a.status != 429 {
				t.Errorf("%d %s", a.status, a.body)
			}
		})
	}
	wg.Wait()
	if let != 8 {
		t.Errorf("%d of 60 guesses at once were looked at, want 8", let)
	}
	own.want(200, "POST", "/api/v1/session", `{"sign_in":"ivar","password":"start-tooth-zero"}`)

	owner := as(t, srv.URL, "oda")
	path := fmt.Sprintf("/api/v1/people/%d", owner.person("ivar").ID)
	owner.want(200, "PATCH", path, `{"active":false}`)
	own.want(401, "GET", "/api/v1/units", "")
	owner.want(200, "PATCH", path, `{"active":true}`)
	own.want(401, "GET", "/api/v1/units", "")
}

// Everyone changes their own password, with the one they have.
func TestOwnPassword(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c, other := as(t, srv.URL, "runa"), as(t, srv.URL, "runa")
	const path = "/api/v1/session/password"
	if a := c.do("POST", path, `{"current":"a-wrong-guess","password":"a-new-long-word"}`); a.status != 422 || a.field() != "/current" {
		t.Errorf("%d %s", a.status, a.body)
	}
	if a := c.do("POST", path, `{"current":"office-reads-only","password":"short"}`); a.status != 422 || a.field() != "/password" {
		t.Errorf("%d %s", a.status, a.body)
	}
	c.want(200, "POST", path, `{"current":"office-reads-only","password":"a-new-long-word"}`)
	c.want(200, "GET", "/api/v1/units", "")
	other.want(401, "GET", "/api/v1/units", "")
	other.want(401, "POST", "/api/v1/session", `{"sign_in":"runa","password":"office-reads-only"}`)
	other.want(200, "POST", "/api/v1/session", `{"sign_in":"runa","password":"a-new-long-word"}`)
	newClient(t, srv.URL).want(401, "POST", path, `{"current":"a-new-long-word","password":"another-long-word"}`)
}

// What several change of one account at once is all changed: each change is of its
// own columns, so nobody who was switched off comes back, and no password is again
// what it was.
func TestChangesOfOneAccountKeepEachOther(t *testing.T) {
	srv, st := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	ivar := oda.person("ivar")
	at := fmt.Sprintf("/api/v1/people/%d", ivar.ID)
	for i := range 4 {
		var wg sync.WaitGroup
		for _, body := range []string{`{"active":false}`, fmt.Sprintf(`{"name":"Ivar %d"}`, i), fmt.Sprintf(`{"password":"a new password %d"}`, i), `{"role":"viewer"}`} {
			wg.Go(func() {
				if a := oda.do("PATCH", at, body); a.status != 200 {
					t.Errorf("%s: %d %s", body, a.status, a.body)
				}
			})
		}
		wg.Wait()
		p, err := st.Person(t.Context(), ivar.ID)
		if err != nil {
			t.Fatal(err)
		}
		if p.Active || p.Name != fmt.Sprint("Ivar ", i) || p.Role != "viewer" {
			t.Errorf("%+v", p)
		}
		right, err := argon2id.ComparePasswordAndHash(fmt.Sprintf("a new password %d", i), p.PasswordHash)
		if err != nil || !right {
			t.Errorf("the password is another: %v", err)
		}
		oda.want(200, "PATCH", at, `{"active":true,"role":"technician"}`)
	}
	// Over a version that has moved nothing is changed.
	now := oda.person("ivar")
	oda.want(200, "PATCH", at, fmt.Sprintf(`{"version":%d,"name":"Ivar T."}`, now.Version))
	oda.want(409, "PATCH", at, fmt.Sprintf(`{"version":%d,"active":false}`, now.Version))
	if p := oda.person("ivar"); !p.Active || p.Name != "Ivar T." || p.Version != now.Version+1 {
		t.Errorf("%+v", p)
	}
	oda.want(422, "PATCH", at, `{"name":"  "}`)
	own := oda.person("oda")
	for _, body := range []string{`{"role":"viewer"}`, `{"active":false}`} {
		oda.want(422, "PATCH", fmt.Sprintf("/api/v1/people/%d", own.ID), body)
	}
}

// A name is tried as it is looked up: no other letters stand for its own.
func TestNamesAreTriedAsTheyAreLookedUp(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda := as(t, srv.URL, "oda")
	oda.want(201, "POST", "/api/v1/people", `{"sign_in":"eoaiu","name":"E","role":"viewer","password":"long enough it is"}`)
	for _, c := range []struct {
		name   string
		status int
	}{
		{"éoaiu", 401}, {"eöaiu", 401}, {"eoaiu\u0301", 401}, {"ｅoaiu", 401}, {"eoaiu\u200b", 401}, {"e oaiu", 401}, {"ЕOAIU", 401},
		{"EOAIU", 200}, {" eoaiu ", 200},
	} {
		body, err := json.Marshal(map[string]string{"sign_in": c.name, "password": "long enough it is"})
		if err != nil {
			t.Fatal(err)
		}
		if a := newClient(t, srv.URL).do("POST", "/api/v1/session", string(body)); a.status != c.status {
			t.Errorf("%q: %d, want %d", c.name, a.status, c.status)
		}
	}
	// However it is written, the tries are of one name.
	stranger := newClient(t, srv.URL)
	looked := 0
	for i := range 60 {
		name := []string{"ivar", "IVAR", " Ivar ", "iVar", "ívar"}[i%5]
		body, err := json.Marshal(map[string]string{"sign_in": name, "password": "guess"})
		if err != nil {
			t.Fatal(err)
		}
		if a := stranger.do("POST", "/api/v1/session", string(body)); a.status == 401 && name != "ívar" {
			looked++
		}
	}
	if looked > 10 {
		t.Errorf("%d guesses of one account were looked at", looked)
	}
}

// What one person entered is never taken as another's who signed in since on the
// same device.
func TestEntriesAreTheirPersons(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda, ivar := as(t, srv.URL, "oda"), as(t, srv.URL, "ivar")
	who := func(c *client, name string) string { return fmt.Sprint(oda.person(name).ID) }
	body := `{"readings":[{"key":"of-ivar-1","reading":{"method":"tag","text":"4.10"}}]}`
	of := who(oda, "ivar")
	for _, c := range []struct {
		by     *client
		of     string
		status int
	}{{oda, of, 409}, {newClient(t, srv.URL), of, 401}, {ivar, of, 201}, {oda, who(oda, "oda"), 201}, {oda, "nobody", 409}} {
		if a := c.by.do("POST", "/api/v1/stages/1/readings", strings.Replace(body, "of-ivar-1", "of-"+c.of+"-reading", 1), "Zorvel-Person", c.of); a.status != c.status {
			t.Errorf("for %s: %d %s, want %d", c.of, a.status, a.body, c.status)
		}
	}
	var v struct{ Readings []struct{ By string } }
	oda.want(200, "GET", "/api/v1/stages/1", "").json(t, &v)
	for _, r := range v.Readings {
		if r.By != "Ivar Tolm" && r.By != "Oda Brenk" {
			t.Errorf("%+v", r)
		}
	}
}
