package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"zorvel/internal/testkit"
)

// ownTask is a teacher's task under a key.
func ownTask(key, tag string) string {
	return fmt.Sprintf(`{"key":%q,"task":{"format":"zorvel-task-1","title":"Skarv 7, rear","story":"Came in on a hook.",
		"stage":{"kind":"ring_and_pinion"},"teeth":{"ring":41,"pinion":10},"tag":%q}}`, key, tag)
}

type practiceBoard struct {
	Units, Drills []struct {
		ID     string
		Done   int
		Levels []struct{ Open, Mastered bool }
	}
	Mastered int
}

type ownPractice struct {
	Results []struct {
		What   string
		Points int
		Right  bool
		Helps  []string
	}
	Shared bool
}

func today() int64 { return time.Now().UTC().Unix() / 86400 }

// card is one answered card, as a device sends it.
func card(key, choice string) string {
	return fmt.Sprintf(`{"key":%q,"day":%d,"card":{"drill":"taller","level":1,"seed":7,"answer":{"choice":%q}}}`, key,
		today(), choice)
}

// What a device sends is scored anew: a learner can't say what he got. It is his own, saved
// once under its key, and what isn't decided or hasn't come yet is refused.
func TestPracticeIsScoredByTheServer(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	ivar, runa := as(t, srv.URL, "ivar"), as(t, srv.URL, "runa")
	own := func(c *client) ownPractice {
		var p ownPractice
		c.want(200, "GET", "/api/v1/practice", "").json(t, &p)
		return p
	}
	before := len(own(ivar).Results)
	ivar.want(201, "POST", "/api/v1/practice/results", card("card-0001", "shorter"))
	ivar.want(201, "POST", "/api/v1/practice/results", card("card-0001", "shorter"))
	ivar.want(201, "POST", "/api/v1/practice/results", card("card-0002", "taller"))
	ivar.want(409, "POST", "/api/v1/practice/results", card("card-0002", "shorter"))
	unit := fmt.Sprintf(`{"key":"unit-0001","day":%d,"unit":{"task":{"kind":"ratio","level":3,"seed":3},
		"acts":[{"do":"tag"},{"do":"decide","answer":"4.64","sure":80}]}}`, today())
	ivar.want(201, "POST", "/api/v1/practice/results", unit)
	got := own(ivar).Results[before:]
	if len(got) != 3 || got[0].Points+got[1].Points != 0 || got[0].Right == got[1].Right {
		t.Errorf("one right, one wrong: %+v", got)
	}
	if got[2].What != "ratio" || got[2].Right || got[2].Points != -38 {
		t.Errorf("the tag's order: %+v", got[2])
	}
	if n := len(own(runa).Results); n != 0 {
		t.Errorf("another sees %d results", n)
	}
	for body, field := range map[string]string{
		`{"key":"unit-0002","day":20000,"unit":{"task":{"kind":"ratio","level":1,"seed":3},
			"acts":[{"do":"tag"}]}}`: "/unit/acts",
		`{"key":"unit-0003","day":20000,"card":{"drill":"taller","level":1,"seed":3}}`:  "/card/answer",
		`{"key":"unit-0004","day":20000}`:                                               "/unit",
		`{"key":"unit-0005","day":999999,"card":{"drill":"taller","level":1,"seed":3}}`: "/day",
		`{"key":"unit-0006","day":20000,"unit":{"task":{"kind":"own","level":1,"seed":3},"acts":[],"own":` + taskOf(t,
			"4.10") + `}}`: "/unit/own",
		`{"key":"unit-0007","day":20000,"card":{"drill":"taller","level":1,"seed":3,
			"answer":{"choice":"x"}}}`: "/card/answer/choice",
		`{"key":"unit-0008","day":20000,"unit":{"task":{"kind":"ratio","level":1,"seed":3},
			"acts":[{"do":"decide","answer":"4.10","sure":1},{"do":"tag"}]}}`: "/unit/acts/0/do",
	} {
		if a := ivar.want(422, "POST", "/api/v1/practice/results", body); !strings.Contains(string(a.body),
			`"`+field+`"`) {
			t.Errorf("%s: %s", body, a.body)
		}
	}
}

// taskOf is the task of ownTask by itself.
func taskOf(t *testing.T, tag string) string {
	t.Helper()
	var x struct{ Task json.RawMessage }
	if err := json.Unmarshal([]byte(ownTask("key-00000001", tag)), &x); err != nil {
		t.Fatal(err)
	}
	return string(x.Task)
}

// Sixteen devices of one learner send the same and different cards at once: each is there
// once.
func TestPracticeOfManyDevices(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	runa := as(t, srv.URL, "runa")
	var wg sync.WaitGroup
	for i := range 16 {
		wg.Go(func() {
			for _, key := range []string{"same-card-1", fmt.Sprintf("own-card-%d", i)} {
				if a := runa.do("POST", "/api/v1/practice/results", card(key, "taller")); a.status != 201 {
					t.Errorf("%s: %d %s", key, a.status, a.body)
				}
			}
		})
	}
	wg.Wait()
	var p ownPractice
	runa.want(200, "GET", "/api/v1/practice", "").json(t, &p)
	if len(p.Results) != 17 {
		t.Errorf("%d results", len(p.Results))
	}
}

// The owner sees how a class does from three learners on, and by name only who shares.
func TestTheClass(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	oda, ivar, runa := as(t, srv.URL, "oda"), as(t, srv.URL, "ivar"), as(t, srv.URL, "runa")
	class := func() (out struct {
		People int
		Skills []struct {
			Title    string
			Mastered []int
		}
		Weak   []struct{ Drill string }
		Shared []struct {
			Name  string
			Board practiceBoard
		}
	}) {
		oda.want(200, "GET", "/api/v1/practice/class", "").json(t, &out)
		return out
	}
	ivar.want(204, "PUT", "/api/v1/practice/sharing", `{"shared":false}`)
	ivar.want(201, "POST", "/api/v1/practice/results", card("class-card-0", "taller"))
	runa.want(201, "POST", "/api/v1/practice/results", card("class-card-1", "taller"))
	c := class()
	if c.People != 2 || len(c.Skills) != 0 || len(c.Shared) != 0 {
		t.Errorf("of two learners is told: %+v", c)
	}
	oda.want(201, "POST", "/api/v1/practice/results", card("class-card-2", "taller"))
	for i := range 10 {
		for _, choice := range []string{"shorter", "taller"} {
			a := runa.do("POST", "/api/v1/calc/practice/drill",
				fmt.Sprintf(`{"drill":"taller","level":1,"seed":%d,"answer":{"choice":%q}}`, i, choice))
			if bytes.Contains(a.body, []byte(`"right":true`)) {
				runa.want(201, "POST", "/api/v1/practice/results",
					fmt.Sprintf(`{"key":"good-card-%d","day":%d,"card":{"drill":"taller","level":1,"seed":%d,"answer":{"choice":%q}}}`,
						i, today(), i, choice))
			}
		}
	}
	c = class()
	mastered := 0
	for _, s := range c.Skills {
		if s.Title == "Shorter or taller" {
			mastered = s.Mastered[0]
		}
	}
	if c.People != 3 || mastered != 2 || len(c.Shared) != 0 { // Ivar is one of them
		t.Errorf("three learners, two masters: %+v", c)
	}
	runa.want(204, "PUT", "/api/v1/practice/sharing", `{"shared":true}`)
	if c = class(); len(c.Shared) != 1 || c.Shared[0].Name == "" || c.Shared[0].Board.Mastered != 1 {
		t.Errorf("shared: %+v", c.Shared)
	}
	runa.want(204, "PUT", "/api/v1/practice/sharing", `{"shared":false}`)
	if c = class(); len(c.Shared) != 0 {
		t.Errorf("still shared: %+v", c.Shared)
	}
}

func TestPracticeCertificate(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	for _, a := range []answer{
		as(t, srv.URL, "ivar").want(200, "GET", "/api/v1/practice/certificate", ""),
		newClient(t, srv.URL).want(200, "POST", "/api/v1/calc/practice/certificate",
			`{"name":"Apprentice","results":{"day":9,
				"results":[{"what":"stamp","level":1,"seed":3,"day":8,"points":100,"right":true}]}}`),
	} {
		if !bytes.HasPrefix(a.body, []byte("%PDF")) {
			t.Errorf("%.20q", a.body)
		}
	}
}

// A teacher's task goes to the class without its truth, and as a file with it; the file
// comes back as the same task.
func TestTeachersTask(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	ivar, runa := as(t, srv.URL, "ivar"), as(t, srv.URL, "runa")
	var made struct{ ID int64 }
	ivar.want(201, "POST", "/api/v1/practice/tasks", ownTask("teacher-01", "3.73")).json(t, &made)
	list := runa.want(200, "GET", "/api/v1/practice/tasks", "")
	if !bytes.Contains(list.body, []byte("Came in on a hook.")) || bytes.Contains(list.body, []byte("teeth")) {
		t.Errorf("%s", list.body)
	}
	at := fmt.Sprintf("/api/v1/practice/tasks/%d", made.ID)
	work := runa.want(200, "POST", at+"/work", `{"acts":[{"do":"tag"}]}`)
	if !bytes.Contains(work.body, []byte("3.73")) || bytes.Contains(work.body, []byte(`"ring":41`)) {
		t.Errorf("%s", work.body)
	}
	if a := runa.want(422, "POST", at+"/work", `{"acts":[{"do":"fly"}]}`); !bytes.Contains(a.body,
		[]byte("/acts/0/do")) {
		t.Errorf("%s", a.body)
	}
	runa.want(403, "GET", at, "")
	file := ivar.want(200, "GET", at, "")
	var back struct{ ID int64 }
	ivar.want(201, "POST", "/api/v1/practice/tasks", `{"key":"teacher-02","task":`+string(file.body)+`}`).json(t, &back)
	again := ivar.want(200, "GET", fmt.Sprintf("/api/v1/practice/tasks/%d", back.ID), "")
	if !bytes.Equal(again.body, file.body) {
		t.Errorf("left as %s, came back as %s", file.body, again.body)
	}
	ivar.want(204, "DELETE", at, "")
	runa.want(404, "POST", at+"/work", `{"acts":[]}`)
	if a := ivar.want(422, "POST", "/api/v1/practice/tasks", strings.Replace(ownTask("teacher-03", "4.10"),
		`"ring":41`, `"ring":3`, 1)); !bytes.Contains(a.body, []byte("/task/teeth")) {
		t.Errorf("%s", a.body)
	}
}
