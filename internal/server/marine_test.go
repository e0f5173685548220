package server_test

import (
	"strings"
	"testing"
	"time"

	"zorvel/internal/instruments"
	"zorvel/internal/testkit"
)

const stampAsk = `{"stamp":"P -3 F +1 R 0","unit":"0.01 mm","convention":"plus_thicker","box":"0.05 x4, 0.10 x6, 0.2 x4, 0.02 x3","places":[{"id":"P","name":"Pinion","nominal_mm":0.5,"thicker":"away"},{"id":"F","name":"Forward gear","nominal_mm":0.6,"thicker":"toward"},{"id":"R","name":"Reverse gear","nominal_mm":0.4,"thicker":"away"}]}`

const playAsk = `{"gear":"forward gear","mesh":{"teeth":27,"mate":13},"thicker":"toward","low_mm":0.15,"high_mm":0.3,"box":"0.05 x4, 0.10 x6, 0.2 x4","assemblies":[{"shim_mm":0.61,"readings_mm":[0.39,0.41]}]}`

// Shims, backlash, inspection and propeller keep the contract, are refused at
// their fields, and are kept with the boat.
func TestMarineBenches(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	c.want(200, "POST", "/api/v1/calc/shims", stampAsk).holds(t, "POST", "/api/v1/calc/shims")
	c.want(200, "POST", "/api/v1/calc/gearcase", playAsk).holds(t, "POST", "/api/v1/calc/gearcase")
	c.want(200, "GET", "/api/v1/calc/gearcase/looks", "").holds(t, "GET", "/api/v1/calc/gearcase/looks")
	prop := `{"ratio":"27/13","pitch_in":17,"rpm":5000,"speed_kn":29,"full_rpm":5100,"band_low_rpm":5200,"band_high_rpm":5800,"other_ratio":"2.3","want_kn":25}`
	c.want(200, "POST", "/api/v1/calc/propeller", prop).holds(t, "POST", "/api/v1/calc/propeller")
	c.want(422, "POST", "/api/v1/calc/propeller/recorded", `{"text":"nothing"}`)
	for path, list := range map[string]map[string]string{
		"/api/v1/calc/shims": {
			strings.Replace(stampAsk, `"unit":"0.01 mm",`, "", 1):            "/unit",
			strings.Replace(stampAsk, "P -3", "X -3", 1):                     "/stamp",
			strings.Replace(stampAsk, `0.05 x4`, `none`, 1):                  "/box",
			strings.Replace(stampAsk, `"thicker":"away"`, `"thicker":""`, 1): "/places/0/thicker",
		},
		"/api/v1/calc/gearcase": {
			strings.Replace(playAsk, `"low_mm":0.15`, `"low_mm":0.5`, 1): "/low_mm",
			strings.Replace(playAsk, `[0.39,0.41]`, `[]`, 1):             "/assemblies/0/readings_mm",
			strings.Replace(playAsk, `"teeth":27`, `"teeth":0`, 1):       "/mesh/teeth",
		},
		"/api/v1/calc/propeller": {
			`{"ratio":"2","pitch_in":0}`:                "/pitch_in",
			`{"ratio":"0","pitch_in":17}`:               "/ratio",
			`{"ratio":"2","pitch_in":17,"hull":"raft"}`: "/hull",
		},
	} {
		for body, field := range list {
			if x := c.do("POST", path, body); x.status != 422 || x.field() != field {
				t.Errorf("%s %.80s: %d at %q: %s", path, body, x.status, x.field(), x.body)
			}
		}
	}
	oda := as(t, srv.URL, "oda")
	const path = "/api/v1/units/5/decisions"
	for _, body := range []string{`{"kind":"shims","shims":` + stampAsk + `}`, `{"kind":"backlash","backlash":` + playAsk + `}`, `{"kind":"inspection","inspection":[{"id":"oil","find":"milky: water"},{"id":"dogs","find":"square"}]}`, `{"kind":"propeller","propeller":` + prop + `}`} {
		oda.want(201, "POST", path, body).holds(t, "POST", path)
	}
	if x := oda.do("POST", path, `{"kind":"inspection","inspection":[{"id":"luck","find":"none"}]}`); x.status != 422 || x.field() != "/inspection/0/id" {
		t.Errorf("%d at %q", x.status, x.field())
	}
	// A name in whatever letters makes a title in them.
	oda.want(201, "POST", path, `{"kind":"backlash","backlash":`+strings.Replace(playAsk, "forward gear", "äußeres Rad", 1)+`}`)
	if h := string(oda.want(200, "GET", "/api/v1/units/5/history", "").body); !strings.Contains(h, "Äußeres Rad: Too loose") {
		t.Errorf("the history has %s", h)
	}
	if x := oda.do("POST", path, `{"kind":"backlash"}`); x.status != 422 || x.field() != "/backlash" {
		t.Errorf("%d at %q", x.status, x.field())
	}
	if h := string(oda.want(200, "GET", "/api/v1/units/5/history", "").body); !strings.Contains(h, "Gearcase inspected: 2 looked at, 1 to see to; oil as it drains: milky: water") {
		t.Errorf("the history has %s", h)
	}
	var none struct{ Configured bool }
	oda.want(200, "GET", "/api/v1/instruments", "").holds(t, "GET", "/api/v1/instruments").json(t, &none)
	if none.Configured {
		t.Error("instruments without an address")
	}
	c.want(401, "GET", "/api/v1/instruments", "")
}

// The stream of the stand-in arrives through the server, with its faults told.
func TestInstrumentsThroughTheServer(t *testing.T) {
	boat := instruments.Skiff()
	boat.Plan = []instruments.Leg{{RPM: 4600, Seconds: 600}}
	srv, _ := testkit.ServerWithInstruments(t, boat)
	oda := as(t, srv.URL, "oda")
	var x struct {
		Configured, Connected bool
		Now                   struct {
			RPM float64 `json:"rpm"`
			KN  float64 `json:"speed_kn"`
		}
		Count struct{ Read int }
	}
	for range 100 {
		oda.want(200, "GET", "/api/v1/instruments", "").holds(t, "GET", "/api/v1/instruments").json(t, &x)
		if x.Connected && x.Now.RPM > 4000 && x.Now.KN > 10 {
			break
		}
		time.Sleep(100 * time.Millisecond)
	}
	if !x.Configured || !x.Connected || x.Now.RPM < 4500 || x.Now.RPM > 4700 || x.Count.Read == 0 {
		t.Errorf("%+v", x)
	}
}
