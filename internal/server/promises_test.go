package server_test

import (
	"bytes"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"maps"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"zorvel/api"
	"zorvel/internal/demo"
	"zorvel/internal/testkit"
)

// operation is one that keeps something, as the contract has it.
type operation struct {
	method, path string
	op           *openapi3.Operation
}

// writeOperations are the contract's operations that keep something, by name.
func writeOperations(t *testing.T) map[string]operation {
	t.Helper()
	spec, err := openapi3.NewLoader().LoadFromData(api.Spec)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]operation{}
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			if method != http.MethodGet && !strings.HasPrefix(path, "/calc/") {
				out[op.OperationID] = operation{method, path, op}
			}
		}
	}
	return out
}

// attempt is a write that works on the demo shop, once. other is something else
// under the same key.
type attempt struct {
	id    string // of what the path names
	body  string
	other string
	zip   []byte
}

func (a attempt) path(o operation) string {
	list := "gear_sets"
	if strings.HasSuffix(o.path, "/rows/{id}") {
		list = "adapters"
	}
	return "/api/v1" + strings.NewReplacer("{id}", a.id, "{list}", list, "{card}", a.id).Replace(o.path)
}

func (a attempt) send(c *client, o operation) answer {
	if a.zip != nil {
		return c.upload(a.path(o), a.zip)
	}
	return c.do(o.method, a.path(o), a.body)
}

// shop is what the attempts are made on.
type shopOf struct {
	t     *testing.T
	owner *client
	made  *int
}

// task is a teacher's task.
func (s shopOf) task() string {
	s.t.Helper()
	var got struct {
		ID int64 `json:"id"`
	}
	s.owner.want(201, "POST", "/api/v1/practice/tasks", ownTask(fmt.Sprintf("task-%08d", s.next()), "4.10")).json(s.t,
		&got)
	return fmt.Sprint(got.ID)
}

// next is a number that was not given before.
func (s shopOf) next() int {
	*s.made++
	return *s.made
}

func (s shopOf) id(method, path, body string) string {
	s.t.Helper()
	a := s.owner.do(method, path, body)
	if a.status >= 300 {
		s.t.Fatalf("%s %s: %d %s", method, path, a.status, a.body)
	}
	var made struct {
		ID  int64
		Job struct{ ID int64 }
	}
	a.json(s.t, &made)
	return fmt.Sprint(max(made.ID, made.Job.ID))
}

func (s shopOf) unit() string {
	return s.id("POST", "/api/v1/units", `{"name":"Grouse 11","kind":"truck","layout":"part_time"}`)
}

func (s shopOf) stage(unit string) string {
	var u struct{ Stages []struct{ ID int64 } }
	s.owner.want(200, "GET", "/api/v1/units/"+unit, "").json(s.t, &u)
	return fmt.Sprint(u.Stages[0].ID)
}

func (s shopOf) job(unit string) string {
	return s.id("POST", "/api/v1/units/"+unit+"/jobs", `{"key":"job-of-`+unit+`","complaint":"No drive"}`)
}

func (s shopOf) row() string {
	return s.id("POST", lists+"/adapters", fmt.Sprintf(`{"cells":{"name":"Of the promises %d","ratio":"9/10"}}`, s.next()))
}

func (s shopOf) picture() string {
	var b bytes.Buffer
	if err := jpeg.Encode(&b, image.NewGray(image.Rect(0, 0, 40, 30)), nil); err != nil {
		s.t.Fatal(err)
	}
	return base64.StdEncoding.EncodeToString(b.Bytes())
}

// photo is a picture of a unit that was kept.
func (s shopOf) photo(unit string) string {
	return s.id("POST", "/api/v1/units/"+unit+"/photos", `{"key":"of-the-promises","image":"`+s.picture()+`"}`)
}

// card is one in hand with every step done but the closing.
func (s shopOf) card(unit string) string {
	run := s.id("POST", "/api/v1/units/"+unit+"/card-runs", `{"card":"promises","answers":[]}`)
	s.owner.want(200, "POST", "/api/v1/card-runs/"+run+"/entries", `{"key":"the-only-step","kind":"check","step":"look"}`)
	return run
}

const ownCard = `{"card":{"id":"promises","title":"A look","for":[],"steps":[{"id":"look","do":"Look at it"}]},"base":0}`

// attempts make a write of each operation that works once.
func attempts(s shopOf) map[string]func() attempt {
	rear := `{"part":"rear","what":"gears_swapped","note":"4.56 fitted","base":1}`
	text := func(b []byte) string { return string(b) }
	get := func(path string) []byte { s.t.Helper(); return s.owner.want(200, "GET", path, "").body }
	reading := func(key string, ring int) string {
		return fmt.Sprintf(`{"readings":[{"key":%q,"reading":{"method":"tag","text":"4.1%d"}}]}`, key, ring)
	}
	return map[string]func() attempt{
		"addCatalogRow": func() attempt { return attempt{body: `{"cells":{"family":"Promise 1","teeth":"41 x 8"}}`} },
		"changeCatalogRow": func() attempt {
			return attempt{id: s.row(), body: fmt.Sprintf(`{"cells":{"name":"Changed %d","ratio":"8/9"},"version":1}`, s.next())}
		},
		"removeCatalogRow": func() attempt { return attempt{id: s.row()} },
		"importCatalog": func() attempt {
			return attempt{body: `{"text":"family,kind,construction,teeth\nPromise 2,ring_and_pinion,pair,41-10","keep":true}`}
		},
		"keepDriveline": func() attempt {
			unit := s.unit()
			var d struct{ Document json.RawMessage }
			if err := json.Unmarshal(get("/api/v1/units/"+unit+"/driveline"), &d); err != nil {
				s.t.Fatal(err)
			}
			return attempt{id: unit, body: fmt.Sprintf(`{"document":%s,"base":1}`, d.Document)}
		},
		"fit": func() attempt { return attempt{id: s.unit(), body: rear} },
		"addParts": func() attempt {
			return attempt{body: `{"parts":[{"name":"Promise axle","part":{"id":"x","kind":"axle","axle":{"ring":47,"pinion":9,"differential":{"type":"open"}}}}]}`}
		},
		"importParts": func() attempt {
			return attempt{body: `{"text":"name;kind;figures\nPromise 5;gearbox;\"gear.1=3.5; gear.2=17:36 dog; gear.R=17:34:22; gear.4=direct; arrangement=two_shaft; rated_nm=300\"\n"}`}
		},
		"removePart": func() attempt {
			n := s.next()
			s.owner.want(201, "POST", "/api/v1/parts", fmt.Sprintf(`{"parts":[{"name":"Promise to go %d","part":{"id":"x","kind":"axle","axle":{"ring":47,"pinion":9,"differential":{"type":"open"}}}}]}`, n))
			var list []struct {
				ID   int64
				Name string
			}
			if err := json.Unmarshal(get("/api/v1/parts"), &list); err != nil {
				s.t.Fatal(err)
			}
			i := slices.IndexFunc(list, func(p struct {
				ID   int64
				Name string
			}) bool {
				return p.Name == fmt.Sprint("Promise to go ", n)
			})
			return attempt{id: fmt.Sprint(list[i].ID)}
		},
		"addReadings": func() attempt {
			return attempt{id: s.stage(s.unit()), body: reading("reading-key", 0), other: reading("reading-key", 1)}
		},
		"strikeReading": func() attempt {
			at := s.stage(s.unit())
			var v struct{ Readings []struct{ ID int64 } }
			s.owner.want(201, "POST", "/api/v1/stages/"+at+"/readings", reading("to-be-voided", 0)).json(s.t, &v)
			return attempt{id: fmt.Sprint(v.Readings[0].ID), body: `{"reason":"wrong axle"}`}
		},
		"openJob": func() attempt {
			return attempt{id: s.unit(), body: `{"key":"job-key-1","complaint":"No drive"}`, other: `{"key":"job-key-1","complaint":"It hums"}`}
		},
		"enterJob": func() attempt {
			return attempt{id: s.job(s.unit()), body: entry("aaaa", `"kind":"note","text":"one"`), other: entry("aaaa", `"kind":"note","text":"two"`)}
		},
		"closeJob": func() attempt { return attempt{id: s.job(s.unit()), body: `{"hand_over":"Go gently"}`} },
		"enterService": func() attempt {
			return attempt{id: s.unit(), body: entry("aaaa", `"kind":"meter","km":1200`), other: entry("aaaa", `"kind":"meter","km":1300`)}
		},
		"signIn":  func() attempt { return attempt{body: `{"sign_in":"oda","password":"` + demoPassword("oda") + `"}`} },
		"signOut": func() attempt { return attempt{} },
		"changeOwnPassword": func() attempt {
			return attempt{body: `{"current":"` + demoPassword("oda") + `","password":"another long one"}`}
		},
		"createOwner": nil, // there is one: TestFirstOwner
		"addPerson": func() attempt {
			return attempt{body: `{"sign_in":"promise","name":"P","role":"viewer","password":"long enough it is"}`}
		},
		"changePerson": func() attempt {
			return attempt{id: fmt.Sprint(s.owner.person("runa").ID), body: fmt.Sprintf(`{"version":%d,"name":"Runa S."}`, s.owner.person("runa").Version)}
		},
		"addPhoto": func() attempt {
			of := func(title string) string {
				return `{"key":"photo-key-1","title":"` + title + `","image":"` + s.picture() + `"}`
			}
			return attempt{id: s.unit(), body: of("Ring"), other: of("Pinion")}
		},
		"addRecording": func() attempt {
			of := func(title string) string {
				return `{"key":"recording-1","title":"` + title + `","question":` + heardAsk + `}`
			}
			return attempt{id: s.unit(), body: of("Hums from sixty on"), other: of("Hums on coast")}
		},
		"addPractice": func() attempt {
			key := fmt.Sprintf("practice-%d", s.next())
			of := func(choice string) string {
				return `{"key":"` + key + `","day":20000,"card":{"drill":"pattern","level":1,"seed":4,"answer":{"choice":"` + choice + `"}}}`
			}
			return attempt{body: of("in"), other: of("out")}
		},
		"sharePractice": func() attempt { return attempt{body: `{"shared":true}`} },
		"addPracticeTask": func() attempt {
			key := fmt.Sprintf("task-%08d", s.next())
			return attempt{body: ownTask(key, "4.10"), other: ownTask(key, "3.73")}
		},
		"removePracticeTask": func() attempt { return attempt{id: s.task()} },
		"workPracticeTask": func() attempt {
			return attempt{id: s.task(), body: `{"acts":[{"do":"chock"},{"do":"turn","on":"left","turns":1.5}]}`}
		},
		"markPhoto": func() attempt { return attempt{id: s.photo(s.unit()), body: `{"base":1,"points":[]}`} },
		"decide": func() attempt {
			return attempt{id: "8", body: `{"kind":"fault","fault":{"driveline":` + testkit.Example(s.t, "rear_drive") + `,"evidence":[{"seen":[{"watch":"vehicle","does":"stays"}]}]}}`}
		},
		"simulateFault": func() attempt { return attempt{body: `{"fault":"none"}`} },
		"calibrate":     func() attempt { return attempt{id: "8", body: `{"pulses_per_km":15000}`} },
		"addUnit":       func() attempt { return attempt{body: `{"name":"Grouse 12","kind":"truck","layout":"part_time"}`} },
		"importUnit":    func() attempt { return attempt{body: text(get("/api/v1/units/3/document"))} },
		"importUnitZip": func() attempt { return attempt{zip: get("/api/v1/units/3/document.zip")} },
		"importShop":    func() attempt { return attempt{zip: get("/api/v1/shop/export")} },
		"changeUnit":    func() attempt { return attempt{id: s.unit(), body: `{"base":1,"notes":"n"}`} },
		"archiveUnit":   func() attempt { return attempt{id: s.unit(), body: `{"archived":true}`} },
		"saveFilter":    func() attempt { return attempt{body: `{"name":"Promise","query":"kind=boat"}`} },
		"takeExperience": func() attempt {
			return attempt{body: `{"file":` + others("00c0ffee00c0ffee", 3) + `,"keep":true}`}
		},
		"dropExperience": func() attempt {
			shop := fmt.Sprintf("%08x", s.next())
			s.owner.want(200, "POST", "/api/v1/experience", `{"file":`+others(shop, 1)+`,"keep":true}`)
			var p experiencePage
			if err := json.Unmarshal(get("/api/v1/experience"), &p); err != nil || len(p.Shops) == 0 {
				s.t.Fatal(p, err)
			}
			return attempt{id: fmt.Sprint(p.Shops[len(p.Shops)-1].ID)}
		},
		"openLive":  func() attempt { return attempt{body: liveNew} },
		"setLive":   func() attempt { return attempt{id: s.live().id, body: `{"version":1,"setup":{"channels":[]}}`} },
		"clearLive": func() attempt { return attempt{id: s.live().id} },
		"endLive":   func() attempt { return attempt{id: s.live().id, body: `{"kept":true}`} },
		"joinLive": func() attempt {
			x := s.live()
			return attempt{id: x.id, body: `{"secret":"` + x.secret + `","shaft":"left"}`}
		},
		"addLivePoints": func() attempt {
			x := s.live()
			return attempt{id: x.id, body: `{"token":"` + x.token + `","motion":[{"at":1,"rate":[0,0,1],"accel":[0,9.8,0]}]}`}
		},
		"dropFilter": func() attempt {
			n := s.next()
			s.owner.want(200, "POST", "/api/v1/filters", fmt.Sprintf(`{"name":"To drop %d","query":""}`, n))
			var f struct {
				Saved []struct {
					ID   int64
					Name string
				}
			}
			if err := json.Unmarshal(get("/api/v1/filters"), &f); err != nil {
				s.t.Fatal(err)
			}
			id := int64(0)
			for _, x := range f.Saved {
				if x.Name == fmt.Sprint("To drop ", n) {
					id = x.ID
				}
			}
			return attempt{id: fmt.Sprint(id)}
		},
		"putCard":      func() attempt { return attempt{id: "promises", body: ownCard} },
		"beginCardRun": func() attempt { return attempt{id: s.unit(), body: `{"card":"promises","answers":[]}`} },
		"enterCardRun": func() attempt {
			run := s.id("POST", "/api/v1/units/"+s.unit()+"/card-runs", `{"card":"promises","answers":[]}`)
			return attempt{id: run, body: `{"key":"entry-key-1","kind":"check","step":"look"}`, other: `{"key":"entry-key-1","kind":"check","step":"look","note":"twice"}`}
		},
		"closeCardRun": func() attempt { return attempt{id: s.card(s.unit())} },
	}
}

// Every operation that keeps something says in the contract what sending it again
// does, and does that: under its key it is kept once and anything else under that
// key is refused; over a version that has moved it is refused; or as it says. Its
// body is bounded, and no figure of it stops the server.
func TestEveryWriteKeepsItsPromises(t *testing.T) {
	srv, _, _ := testkit.ServerWithDevice(t)
	s := shopOf{t, as(t, srv.URL, "oda"), new(int)}
	all := writeOperations(t)
	made := attempts(s)
	order := slices.Sorted(maps.Keys(all))
	// What others rest on comes first, and what ends the session last.
	rank := map[string]int{"putCard": -1, "importShop": 1, "changeOwnPassword": 2, "signIn": 3, "signOut": 4}
	slices.SortStableFunc(order, func(a, b string) int { return rank[a] - rank[b] })
	for _, name := range order {
		o := all[name]
		make, known := made[name]
		if !known {
			t.Errorf("%s is in the contract, and nothing here tries what it promises", name)
			continue
		}
		if make == nil {
			continue
		}
		if name == "signIn" { // the password is another by now
			s.owner = as(t, srv.URL, "ivar")
		}
		t.Run(name, func(t *testing.T) {
			s.t = t
			a := make()
			if name == "signIn" {
				a.body = `{"sign_in":"ivar","password":"` + demoPassword("ivar") + `"}`
			}
			s.tooLong(t, o, a)
			first := a.send(s.owner, o)
			if first.status >= 300 {
				t.Fatalf("%d %s", first.status, first.body)
			}
			again := a.send(s.owner, o)
			ok, refused := again.status < 300, again.status >= 400 && again.status < 500
			switch repeat, _ := o.op.Extensions["x-repeat"].(string); repeat {
			case "key":
				if !ok {
					t.Errorf("sent again under its key: %d %s", again.status, again.body)
				}
				if b := s.owner.do(o.method, a.path(o), a.other); b.status != 409 {
					t.Errorf("something else under its key: %d %s", b.status, b.body)
				}
			case "version":
				if again.status != 409 {
					t.Errorf("over a version that has moved: %d %s", again.status, again.body)
				}
			case "refused":
				if !refused {
					t.Errorf("sent again: %d %s", again.status, again.body)
				}
			case "same", "again":
				if !ok {
					t.Errorf("sent again: %d %s", again.status, again.body)
				}
			default:
				t.Errorf("the contract doesn't say what sending it again does: %q", repeat)
			}
			if o.op.RequestBody != nil && a.zip == nil && name != "signIn" && name != "changeOwnPassword" && name != "importUnit" {
				s.extremes(t, o, make())
			}
		})
	}
	for name := range made {
		if _, there := all[name]; !there {
			t.Errorf("%s is tried, and isn't in the contract", name)
		}
	}
}

// tooLong sends more than an operation takes.
func (s shopOf) tooLong(t *testing.T, o operation, a attempt) {
	t.Helper()
	most := int64(128 << 10)
	if n, ok := o.op.Extensions["x-most-bytes"].(float64); ok {
		most = int64(n)
	}
	if o.op.RequestBody == nil || most > 64<<20 { // an archive is bounded by the same lines
		return
	}
	req, err := http.NewRequestWithContext(t.Context(), o.method, s.owner.base+a.path(o), io.LimitReader(blanks{}, most+1))
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := s.owner.http.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	_ = res.Body.Close()
	if res.StatusCode != 413 {
		t.Errorf("a body of %d bytes: %d", most+1, res.StatusCode)
	}
}

type blanks struct{}

func (blanks) Read(b []byte) (int, error) {
	for i := range b {
		b[i] = ' '
	}
	return len(b), nil
}

// extremes puts extremes in the place of every number of a body.
func (s shopOf) extremes(t *testing.T, o operation, a attempt) {
	t.Helper()
	var doc any
	d := json.NewDecoder(strings.NewReader(a.body))
	d.UseNumber()
	if err := d.Decode(&doc); err != nil {
		t.Fatal(err)
	}
	seen := map[string]bool{}
	numbersOf(o.op.RequestBody.Value.Content.Get("application/json").Schema.Value, doc, "", func(at string, put func(any)) {
		if seen[at] || len(seen) > 60 {
			return
		}
		seen[at] = true
		for _, x := range few {
			put(json.Number(x))
			b, err := json.Marshal(doc)
			if err != nil {
				t.Fatal(err)
			}
			if got := s.owner.do(o.method, a.path(o), string(b)); got.status >= 500 {
				t.Errorf("%s = %s: %d %s", at, x, got.status, got.body)
			}
		}
	})
}

func demoPassword(signIn string) string {
	for _, d := range demo.Accounts() {
		if d.SignIn == signIn {
			return d.Password
		}
	}
	return ""
}
