package server_test

import (
	"bytes"
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"zorvel/internal/testkit"
)

const (
	tiresCalc  = "/api/v1/calc/tire"
	regearCalc = "/api/v1/calc/regear"
	speedoCalc = "/api/v1/calc/speedometer"
	plainTruck = `"plain":{"gears":[{"name":"1","ratio":"4"},{"name":"2","ratio":"2.4"},{"name":"3","ratio":"1.5"},{"name":"4","ratio":"1"},{"name":"5","ratio":"0.8"}],
		"ranges":[{"name":"high","ratio":"1"},{"name":"low","ratio":"2.7"}],"rear":{"ring":41,"pinion":10},"front":{"ring":41,"pinion":10}}`
	tireChange = `"old_tire":{"marking":"31x10.50R15"},"new_tire":{"marking":"33x12.50R15"}`
)

func TestTires(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	c := newClient(t, srv.URL)
	var out struct {
		Tires []struct {
			Sentence  string
			RollingMM struct{ Num, Den int64 } `json:"rolling_mm"`
		}
		Changes []struct{ Percent float64 }
	}
	c.want(200, "POST", tiresCalc, `{"tires":[{"marking":"p225/75 r16"},{"marking":"31×10,5r15","rollout_mm":"7203","rollout_turns":3}]}`).holds(t, "POST", tiresCalc).json(t, &out)
	if out.Tires[0].RollingMM.Num != 453779 || out.Tires[0].RollingMM.Den != 200 || out.Tires[1].RollingMM.Num != 2401 {
		t.Errorf("%+v", out)
	}
	if math.Abs(out.Changes[0].Percent-(2401/2268.895-1)*100) > 0.001 {
		t.Errorf("%+v", out.Changes)
	}
	for body, field := range map[string]string{
		`{"tires":[{"marking":"225/75R16"},{"marking":"x"}]}`: "/tires/1/marking",
		`{"tires":[{}]}`: "/tires/0/marking",
		`{"tires":[]}`:   "/tires",
		`{"tires":[{"marking":"225/75R16","rollout_mm":"many"}]}`:       "/tires/0/rollout_mm",
		`{"tires":[{"marking":"225/75R16","wheels":4}]}`:                "/tires/0/wheels",
		`{"tires":[{"marking":"225/75R16","mass_kg":1e300}]}`:           "/tires/0/mass_kg",
		`{"tires":[{"marking":"225/75R16","use":"rollout"}]}`:           "/tires/0/use",
		`{"tires":[{"revs_per_km":"1/0"}]}`:                             "/tires/0/revs_per_km",
		`{"tires":[{"rolling_mm":"1"}]}`:                                "/tires/0/rolling_mm",
		`{"tires":[{"marking":"` + strings.Repeat("225/", 300) + `"}]}`: "/tires/0/marking",
	} {
		a := c.do("POST", tiresCalc, body)
		if a.status != 422 || (a.field() != field && !strings.HasPrefix(a.field(), field)) {
			t.Errorf("%s: %d at %q, %s", body, a.status, a.field(), a.body)
		}
	}
}

type plan struct {
	Equivalent struct{ Decimal float64 }
	Advice     struct {
		Candidate, Sentence string
		For, Against        []string
	}
	Candidates []struct {
		ID  string
		Low *struct{ Decimal float64 }
	}
	Estimate struct {
		Lines     []struct{ What string }
		High      struct{ Decimal float64 }
		Candidate string
	}
	Factory []struct{ Name string }
}

func TestRegear(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	body := fmt.Sprintf(`{%s,%s,"use_shop":true,"rear":{"family":"Varn 220"},"front":{"family":"Varn 220"},"cruise":{"kmh":90,"low_rpm":1900,"high_rpm":2500},"torque":[{"rpm":1000,"nm":180},{"rpm":4000,"nm":200}]}`, plainTruck, tireChange)
	var p plan
	as(t, srv.URL, "runa").want(200, "POST", regearCalc, body).holds(t, "POST", regearCalc).json(t, &p)
	if math.Abs(p.Equivalent.Decimal-4.1*33/31) > 1e-5 {
		t.Errorf("equivalent %v", p.Equivalent.Decimal)
	}
	if len(p.Candidates) < 20 || len(p.Factory) == 0 || p.Advice.Sentence == "" || p.Estimate.High.Decimal <= 0 {
		t.Errorf("%+v", p)
	}
	// Without an account the same, but no prices.
	var q plan
	newClient(t, srv.URL).want(200, "POST", regearCalc, body).holds(t, "POST", regearCalc).json(t, &q)
	if len(q.Candidates) != len(p.Candidates) || len(q.Estimate.Lines) > 0 {
		t.Errorf("%d candidates, estimate %+v", len(q.Candidates), q.Estimate)
	}
	for _, layout := range []string{"part_time", "full_time", "tandem", "transaxle", "axle_low"} {
		newClient(t, srv.URL).want(200, "POST", regearCalc, fmt.Sprintf(`{"driveline":%s,"new_tire":{"marking":"33x12.50R15"},"use_shop":true}`, testkit.Example(t, layout))).holds(t, "POST", regearCalc)
	}
}

func TestRegearRefuses(t *testing.T) {
	srv, _ := testkit.Server(t, false)
	c := newClient(t, srv.URL)
	for body, field := range map[string]string{
		`{}`:                            "/new_tire",
		fmt.Sprintf(`{%s}`, tireChange): "/driveline",
		fmt.Sprintf(`{%s,"old_tire":{"marking":"31x10.50R15"},"new_tire":{"marking":"?"}}`, plainTruck):                                            "/new_tire/marking",
		fmt.Sprintf(`{%s,%s,"use":"racing"}`, plainTruck, tireChange):                                                                              "/use",
		fmt.Sprintf(`{%s,%s,"cruise":{"gear":"7"}}`, plainTruck, tireChange):                                                                       "/cruise/gear",
		fmt.Sprintf(`{%s,%s,"chosen":"x"}`, plainTruck, tireChange):                                                                                "/chosen",
		fmt.Sprintf(`{%s,%s,"cruise":{"kmh":-4}}`, plainTruck, tireChange):                                                                         "/cruise/kmh",
		fmt.Sprintf(`{"plain":{"gears":[],"rear":{"ring":41,"pinion":10}},%s}`, tireChange):                                                        "/plain",
		fmt.Sprintf(`{"plain":{"gears":[{"name":"1","ratio":"4"}],"rear":{"ring":4100,"pinion":10}},%s}`, tireChange):                              "/plain",
		fmt.Sprintf(`{"plain":{"gears":[{"name":"1","ratio":"0"}],"rear":{"ring":41,"pinion":10}},%s}`, tireChange):                                "/plain",
		fmt.Sprintf(`{"driveline":{"format":"zorvel-driveline-1","lies":"vehicle","parts":[]},%s}`, tireChange):                                    "/driveline",
		fmt.Sprintf(`{"plain":{"gears":[{"name":"1","ratio":"4"}],"rear":{"ratio":"4.1"},"ranges":[{"name":"high","ratio":"1"}]},%s}`, tireChange): "/plain/ranges",
	} {
		a := c.do("POST", regearCalc, body)
		if a.status != 422 || !strings.HasPrefix(a.field(), field) {
			t.Errorf("%s: %d at %q: %s", body, a.status, a.field(), a.body)
		}
	}
}

func TestSheet(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "oda")
	body := fmt.Sprintf(`{"title":"Grouse 4 – «ü» →","currency":"kr","regear":{%s,%s,"use_shop":true,"rear":{"family":"Varn 220"},"front":{"family":"Varn 220"}}}`, plainTruck, tireChange)
	a := c.want(200, "POST", regearCalc+"/pdf", body)
	if a.header.Get("Content-Type") != "application/pdf" || !bytes.HasPrefix(a.body, []byte("%PDF-")) || len(a.body) < 10_000 {
		t.Errorf("%s, %d bytes", a.header.Get("Content-Type"), len(a.body))
	}
	if a := c.do("POST", regearCalc+"/pdf", `{"regear":{"new_tire":{"marking":"x"}}}`); a.status != 422 || !strings.HasPrefix(a.field(), "/regear/") {
		t.Errorf("%d %s", a.status, a.body)
	}
}

func TestDecisions(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	path := "/api/v1/units/8/decisions"
	regear := fmt.Sprintf(`{%s,%s,"use_shop":true,"rear":{"family":"Varn 220"},"front":{"family":"Varn 220"}}`, plainTruck, tireChange)
	var d struct {
		ID       int64
		Title    string
		Question struct {
			Shop struct {
				Sets   []struct{ Family string }
				Prices []struct{ Item string }
			}
		}
		Answer struct {
			Chosen struct{ ID string }
		}
	}
	c.want(201, "POST", path, `{"kind":"regear","note":"customer wants it before winter","currency":"kr","regear":`+regear+`}`).holds(t, "POST", path).json(t, &d)
	// What it was based on stays with it, whatever happens to the lists.
	if d.Answer.Chosen.ID == "" || len(d.Question.Shop.Sets) < 10 || len(d.Question.Shop.Prices) == 0 || d.Question.Shop.Sets[0].Family != "Varn 220" {
		t.Errorf("%+v", d)
	}
	one := fmt.Sprintf("/api/v1/decisions/%d", d.ID)
	c.want(200, "GET", one, "").holds(t, "GET", one)
	if pdf := c.want(200, "GET", one+"/pdf", ""); !bytes.HasPrefix(pdf.body, []byte("%PDF-")) {
		t.Errorf("%s", pdf.body[:20])
	}
	speedo := `{"axle":"4.1","tire":{"revs_per_mile":"800"},"mechanical":{"drives":[{"teeth":8},{"teeth":7}],"driven":[{"teeth":26},{"teeth":23}]}}`
	c.want(201, "POST", path, `{"kind":"speedometer","drive":8,"driven":26,"speedometer":`+speedo+`}`).holds(t, "POST", path).json(t, &d)
	if !strings.Contains(d.Title, "reads 0.92 % high") {
		t.Error(d.Title)
	}
	c.want(404, "GET", fmt.Sprintf("/api/v1/decisions/%d/pdf", d.ID), "")
	c.want(201, "POST", path, `{"kind":"check","speedometer":{"verify":{"method":"odometer","shown_km":"18.8","true_km":"20"}}}`).holds(t, "POST", path)
	c.want(201, "POST", path, `{"kind":"speedometer","speedometer":{"axle":"4","tire":{"revs_per_km":"500"},"electronic":{"reluctor":8,"calibrated":"16500"}}}`).json(t, &d)
	if d.Title != "Calibration by hand to 16000 pulses per km, 16500 before" {
		t.Error(d.Title)
	}
	for body, field := range map[string]string{
		`{"kind":"speedometer","drive":7,"driven":23,"speedometer":` + speedo + `}`: "/driven", // reads low
		`{"kind":"speedometer","drive":5,"driven":23,"speedometer":` + speedo + `}`: "/driven",
		`{"kind":"check","speedometer":` + speedo + `}`:                             "/speedometer/verify",
		`{"kind":"regear"}`:      "/regear",
		`{"kind":"speedometer"}`: "/speedometer",
		`{"kind":"calibration"}`: "/kind",
		`{"kind":"regear","regear":{"new_tire":{"marking":"x"}}}`: "/regear/",
	} {
		if a := c.do("POST", path, body); a.status != 422 || !strings.HasPrefix(a.field(), field) {
			t.Errorf("%s: %d at %q: %s", body, a.status, a.field(), a.body)
		}
	}
	var list []struct{ Kind string }
	c.want(200, "GET", path, "").holds(t, "GET", path).json(t, &list)
	if len(list) != 4 || list[1].Kind != "check" {
		t.Errorf("%+v", list)
	}
	var history []struct{ What, Text, By string }
	c.want(200, "GET", "/api/v1/units/8/history", "").holds(t, "GET", "/api/v1/units/8/history").json(t, &history)
	if history[3].What != "regear" || history[3].By != "Ivar Tolm" || !strings.Contains(history[3].Text, "before winter") {
		t.Errorf("%+v", history[3])
	}
	// They travel with the unit.
	doc := c.want(200, "GET", "/api/v1/units/8/document", "")
	var back struct{ ID int64 }
	c.want(201, "POST", "/api/v1/units/import", string(doc.body)).json(t, &back)
	again := c.want(200, "GET", fmt.Sprintf("/api/v1/units/%d/document", back.ID), "")
	if !bytes.Equal(doc.body, again.body) {
		t.Error("the document with decisions came back otherwise")
	}
	as(t, srv.URL, "runa").want(403, "POST", path, `{"kind":"regear"}`)
	c.want(404, "GET", "/api/v1/units/9999/decisions", "")
	c.want(404, "GET", "/api/v1/decisions/9999", "")
}

func TestSpeedometer(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	var a struct {
		Mechanical struct {
			Cells []struct{ Drive, Driven int }
			Picks []struct {
				Which string
				Cell  struct {
					Percent float64
					Mark    string
				}
			}
			Families []string
		}
		TakeOffs []struct{ Shaft string } `json:"take_offs"`
	}
	body := fmt.Sprintf(`{"driveline":%s,"tire":{"marking":"31x10.50R15"},"use_shop":true,"family":"Holt T2","mechanical":{},"electronic":{"reluctor":8,"calibrated":"16000"}}`, testkit.Example(t, "part_time"))
	c.want(200, "POST", speedoCalc, body).holds(t, "POST", speedoCalc).json(t, &a)
	if len(a.Mechanical.Cells) != 4*14 || len(a.TakeOffs) < 3 || len(a.Mechanical.Picks) == 0 {
		t.Fatalf("%d cells, %+v", len(a.Mechanical.Cells), a.Mechanical.Picks)
	}
	for _, p := range a.Mechanical.Picks {
		if low := p.Cell.Percent < 0 || p.Cell.Mark == "low"; low != (p.Which == "nearest") {
			t.Errorf("%+v is picked", p)
		}
	}
	// The driveline names the family of its case; where nothing does, gears of
	// several families aren't mixed.
	named := strings.Replace(strings.Replace(body, `,"family":"Holt T2"`, "", 1), `"kind":"transfer_case"`, `"kind":"transfer_case","family":"Holt T2"`, 1)
	c.want(200, "POST", speedoCalc, named).json(t, &a)
	if len(a.Mechanical.Cells) != 4*14 {
		t.Errorf("%d cells by the driveline's family", len(a.Mechanical.Cells))
	}
	c.want(200, "POST", speedoCalc, strings.Replace(body, `,"family":"Holt T2"`, "", 1)).json(t, &a)
	if len(a.Mechanical.Families) != 2 || len(a.Mechanical.Cells) == 4*14 {
		t.Errorf("no family named: %d cells, families %v", len(a.Mechanical.Cells), a.Mechanical.Families)
	}
	gpx := `<gpx><trk><trkseg><trkpt lat=\"62\" lon=\"-7\"/><trkpt lat=\"62.01\" lon=\"-7\"/></trkseg></trk></gpx>`
	c.want(200, "POST", speedoCalc, `{"verify":{"method":"track","gpx":"`+gpx+`","shown_km":"1.1"}}`).holds(t, "POST", speedoCalc)
	c.want(200, "POST", speedoCalc, `{"verify":{"method":"stopwatch","runs":[{"shown_kmh":76,"meters":1000,"seconds":45}]}}`).holds(t, "POST", speedoCalc)
	for body, field := range map[string]string{
		`{}`: "/mechanical",
		`{"axle":"4.1","tire":{"marking":"?"},"electronic":{"reluctor":8}}`:                                            "/tire/marking",
		`{"tire":{"marking":"225/75R16"},"electronic":{"reluctor":8}}`:                                                 "/axle",
		`{"axle":"4.1","tire":{"marking":"225/75R16"},"electronic":{"reluctor":0}}`:                                    "/electronic/reluctor",
		`{"verify":{"method":"track","gpx":"<gpx/>","shown_km":"2"}}`:                                                  "/verify/gpx",
		`{"verify":{"method":"stopwatch","runs":[{"shown_kmh":76,"meters":1000}]}}`:                                    "/verify/runs/0",
		`{"axle":"4.1","tire":{"marking":"225/75R16"},"mechanical":{"drives":[{"teeth":8}],"driven":[{"teeth":999}]}}`: "/mechanical/driven/0/teeth",
	} {
		if x := c.do("POST", speedoCalc, body); x.status != 422 || !strings.HasPrefix(x.field(), field) {
			t.Errorf("%s: %d at %q: %s", body, x.status, x.field(), x.body)
		}
	}
}

func TestProgrammer(t *testing.T) {
	srv, device, _ := testkit.ServerWithDevice(t)
	c := as(t, srv.URL, "ivar")
	path := "/api/v1/units/8/calibrations"
	var st struct {
		Reached, Simulated bool
		Pulses             float64 `json:"pulses_per_km"`
	}
	c.want(200, "GET", "/api/v1/programmer", "").holds(t, "GET", "/api/v1/programmer").json(t, &st)
	if !st.Reached || !st.Simulated || st.Pulses != 16000 {
		t.Errorf("%+v", st)
	}
	var cal struct {
		Written       bool
		Before, After *float64
		Text          string
	}
	c.want(201, "POST", path, `{"pulses_per_km":15104.5}`).holds(t, "POST", path).json(t, &cal)
	if !cal.Written || *cal.Before != 16000 || *cal.After != 15104.5 || device.Value() != 15104.5 {
		t.Errorf("%+v", cal)
	}
	// Failing in the middle of a write leaves the old value, and says so.
	c.want(204, "POST", "/api/v1/programmer/fault", `{"fault":"drop"}`)
	c.want(201, "POST", path, `{"pulses_per_km":14000,"note":"second try"}`).holds(t, "POST", path).json(t, &cal)
	if cal.Written || *cal.After != 15104.5 || device.Value() != 15104.5 || !strings.Contains(cal.Text, "still holds 15104.5") {
		t.Errorf("%+v", cal)
	}
	var history []struct{ What, Text string }
	c.want(200, "GET", "/api/v1/units/8/history", "").json(t, &history)
	if history[0].What != "calibration" || !strings.Contains(history[0].Text, "failed") || !strings.Contains(history[0].Text, "15104.5 before") {
		t.Errorf("%+v", history[0])
	}
	// Out of the device's range: refused, told, and on record.
	c.want(201, "POST", path, `{"pulses_per_km":90000}`).json(t, &cal)
	if cal.Written || !strings.Contains(cal.Text, "takes 500 to 60000") {
		t.Errorf("%+v", cal)
	}
	c.want(422, "POST", path, `{"pulses_per_km":-3}`)
	c.want(422, "POST", "/api/v1/programmer/fault", `{"fault":"burn"}`)
	as(t, srv.URL, "runa").want(403, "POST", path, `{"pulses_per_km":15000}`)
	newClient(t, srv.URL).want(401, "GET", "/api/v1/programmer", "")
}

func TestNoProgrammer(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := as(t, srv.URL, "ivar")
	c.want(200, "GET", "/api/v1/programmer", "").holds(t, "GET", "/api/v1/programmer")
	c.want(409, "POST", "/api/v1/units/8/calibrations", `{"pulses_per_km":15000}`)
	c.want(409, "POST", "/api/v1/programmer/fault", `{"fault":"none"}`)
}

func BenchmarkRegear(b *testing.B) {
	bench(b, "POST", regearCalc, fmt.Sprintf(`{%s,%s,"use_shop":true,"rear":{"family":"Varn 220"},"front":{"family":"Varn 220"}}`, plainTruck, tireChange))
}

func BenchmarkSpeedometer(b *testing.B) {
	bench(b, "POST", speedoCalc, `{"axle":"41/10","tire":{"marking":"33x12.50R15"},"use_shop":true,"family":"Holt T2","mechanical":{},"electronic":{"reluctor":8}}`)
}

func BenchmarkCatalog(b *testing.B) { bench(b, "GET", lists+"/gear_sets", "") }

// That a calibration begins is on record before the device is touched; what
// comes of it takes its place, and where it can't, the record doesn't pretend.
func TestCalibrationIsNeverUnrecorded(t *testing.T) {
	srv, device, st := testkit.ServerWithDevice(t)
	c := as(t, srv.URL, "ivar")
	const path = "/api/v1/units/8/calibrations"
	first := func() string {
		var list []struct{ Kind, Title string }
		c.want(200, "GET", "/api/v1/units/8/decisions", "").json(t, &list)
		if len(list) == 0 || list[0].Kind != "calibration" {
			return ""
		}
		return list[0].Title
	}
	c.want(204, "POST", "/api/v1/programmer/fault", `{"fault":"timeout"}`)
	done := make(chan answer)
	go func() { done <- c.do("POST", path, `{"pulses_per_km":14000}`) }()
	begun := ""
	for end := time.Now().Add(2 * time.Second); time.Now().Before(end) && begun == ""; time.Sleep(20 * time.Millisecond) {
		begun = first()
	}
	if begun != "Calibration to 14000 pulses per km begun, outcome not known" {
		t.Errorf("while the device is silent the record says %q", begun)
	}
	if a := <-done; a.status != 201 {
		t.Errorf("%d %s", a.status, a.body)
	}
	if got := first(); got != "Calibration to 14000 pulses per km failed, 16000 before" {
		t.Errorf("afterward it says %q", got)
	}
	// The database takes no outcome: the device is written, and the answer and
	// the record both say so.
	if _, err := st.DB.ExecContext(t.Context(), "CREATE TRIGGER no_outcome BEFORE UPDATE ON decisions FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'full'"); err != nil {
		t.Fatal(err)
	}
	var cal struct {
		Written  bool
		Text     string
		Decision int64
	}
	c.want(201, "POST", path, `{"pulses_per_km":15000}`).json(t, &cal)
	if !cal.Written || device.Value() != 15000 || cal.Decision == 0 || !strings.Contains(cal.Text, "could not be recorded") {
		t.Errorf("%+v, the device holds %v", cal, device.Value())
	}
	if got := first(); got != "Calibration to 15000 pulses per km begun, outcome not known" {
		t.Errorf("the record says %q", got)
	}
}
