package server_test

import (
	"bytes"
	"encoding/base64"
	"encoding/binary"
	"fmt"
	"image"
	"image/jpeg"
	"maps"
	"math"
	"strings"
	"testing"

	"zorvel/core/sight/drawn"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// recording is a WAV of an axle of 41 teeth at a speed that rises from 50 to 80 km/h.
func recording(rate, seconds int) string {
	var b bytes.Buffer
	put := func(v any) { _ = binary.Write(&b, binary.LittleEndian, v) }
	n := rate * seconds
	b.WriteString("RIFF")
	put(uint32(36 + 2*n))
	b.WriteString("WAVEfmt ")
	put(uint32(16))
	put([]uint16{1, 1})
	put([]uint32{uint32(rate), uint32(2 * rate)})
	put([]uint16{2, 16})
	b.WriteString("data")
	put(uint32(2 * n))
	turns, noise := 0.0, uint32(1)
	for i := range n {
		turns += (50 + 30*float64(i)/float64(n)) / 3.6 / 2.2 / float64(rate)
		noise = noise*1664525 + 1013904223
		put(int16(6000*math.Sin(2*math.Pi*41*turns) + float64(noise>>20) - 2048))
	}
	return base64.StdEncoding.EncodeToString(b.Bytes())
}

var heardAsk = `{"sound":"` + recording(2000, 4) + `","speed":[{"s":0,"value":50},{"s":2,"value":65},{"s":4,"value":80}],` +
	`"vehicle":{"rolling_m":2.2,"axle":{"drive":10,"driven":41},"gear_ratio":1,"cylinders":4,"tread_pitches":58,` +
	`"bearings":[{"name":"rear left","outer":7.3,"inner":11.7}]}}`

// A recording is named, and what is wrong with one is said at its field.
func TestNameSound(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	const path = "/api/v1/calc/listen"
	var a struct {
		State   string
		Sources []struct{ Kind string }
	}
	ask := func(with string) string {
		return `{"sound":"` + recording(8000, 12) + `",` + with + `,"vehicle":{"rolling_m":2.2,"axle":{"drive":10,"driven":41}}}`
	}
	csv := "seconds,speed_kmh\\n"
	for i := range 13 {
		csv += fmt.Sprintf("%d,%g\\n", i, 50+30*float64(i)/12)
	}
	c.want(200, "POST", path, ask(`"speed_csv":"`+csv+`"`)).holds(t, "POST", path).json(t, &a)
	if a.State != "told" || len(a.Sources) == 0 || a.Sources[0].Kind != "ring_and_pinion" {
		t.Errorf("%+v", a)
	}
	for body, at := range map[string]string{
		ask(`"constant_kmh":0`):                                                "/speed",
		ask(`"speed_csv":"a,b"`):                                               "/speed_csv",
		ask(`"rpm_csv":"seconds,rpm\n1,many"`):                                 "/rpm_csv",
		`{"sound":"bm8gc291bmQ=","vehicle":{"rolling_m":2}}`:                   "/sound",
		strings.Replace(heardAsk, `"rolling_m":2.2`, `"rolling_m":0`, 1):       "/vehicle/rolling_m",
		strings.Replace(heardAsk, `"driven":41`, `"driven":1`, 1):              "/vehicle/axle",
		strings.Replace(heardAsk, recording(2000, 4), recording(2000, 1), 1):   "/sound",
		strings.Replace(heardAsk, recording(2000, 4), recording(2000, 200), 1): "/sound",
	} {
		if r := c.want(422, "POST", path, body); !strings.Contains(string(r.body), `"`+at) {
			t.Errorf("%s: %s", at, r.body)
		}
	}
}

// A photo is counted, its marks in its own points, and what can't be is said at its field.
func TestCountOnPhoto(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	c := newClient(t, srv.URL)
	const path = "/api/v1/calc/photo-teeth"
	s := drawn.Some(drawn.Easy, 3)
	s.Kind, s.Teeth, s.Tilt, s.Width, s.Height = drawn.Sprocket, 21, 0.1, 480, 360
	p := drawn.Draw(s)
	var b bytes.Buffer
	g := &image.Gray{Pix: p.Gray, Stride: p.Width, Rect: image.Rect(0, 0, p.Width, p.Height)}
	if err := jpeg.Encode(&b, g, nil); err != nil {
		t.Fatal(err)
	}
	photo := base64.StdEncoding.EncodeToString(b.Bytes())
	var a struct {
		State string
		Teeth int
		Marks []struct{ X, Y float64 }
	}
	c.want(200, "POST", path, `{"image":"`+photo+`"}`).holds(t, "POST", path).json(t, &a)
	if a.Teeth != 21 || len(a.Marks) != 21 {
		t.Errorf("%+v", a)
	}
	for _, m := range a.Marks {
		if m.X < 0 || m.Y < 0 || m.X > 480 || m.Y > 360 {
			t.Errorf("a mark beside the photo: %+v", m)
		}
	}
	for body, at := range map[string]string{
		`{"image":"bm8gcGljdHVyZQ=="}`:                                              "/image",
		`{"image":"` + photo + `","tap":{"x":481,"y":5}}`:                           "/tap",
		`{"image":"` + photo + `","box":{"left":5,"top":5,"right":9,"bottom":300}}`: "/box",
		`{"image":"` + picture(t, "png") + `","tap":{"x":-1,"y":0}}`:                "/tap",
	} {
		if r := c.want(422, "POST", path, body); !strings.Contains(string(r.body), `"`+at) {
			t.Errorf("%s: %s", at, r.body)
		}
	}
}

// A recording is saved with its unit once, is played and named again, goes out with the
// unit and comes back, and a unit has a bounded number of them.
func TestRecordings(t *testing.T) {
	srv, st := testkit.Server(t, true)
	ivar, runa := as(t, srv.URL, "ivar"), as(t, srv.URL, "runa")
	const path = "/api/v1/units/8/recordings"
	ask := `{"key":"of-a-drive","title":"Hums from sixty on","question":` + heardAsk + `}`
	var r, again struct {
		ID    int64
		Named string
		Drive *struct {
			Speed   []struct{ S, Value float64 }
			Vehicle struct {
				Rolling float64 `json:"rolling_m"`
			}
		}
		Seconds float64
	}
	ivar.want(201, "POST", path, ask).holds(t, "POST", "/api/v1/units/{id}/recordings").json(t, &r)
	ivar.want(201, "POST", path, ask).json(t, &again)
	if r.ID == 0 || r.ID != again.ID || r.Named == "" || r.Seconds != 4 {
		t.Fatalf("%+v, sent twice %+v", r, again)
	}
	if r.Drive == nil || len(r.Drive.Speed) != 3 || r.Drive.Vehicle.Rolling != 2.2 {
		t.Errorf("named by %+v", r.Drive)
	}
	ivar.want(409, "POST", path, strings.Replace(ask, "sixty", "fifty", 1))
	ivar.want(409, "POST", path, strings.Replace(ask, recording(2000, 4), recording(2000, 5), 1))
	runa.want(403, "POST", path, ask)
	runa.want(200, "GET", path, "").holds(t, "GET", "/api/v1/units/{id}/recordings")
	one := fmt.Sprintf("/api/v1/recordings/%d", r.ID)
	runa.want(200, "GET", one, "").holds(t, "GET", "/api/v1/recordings/{id}")
	wav := runa.want(200, "GET", one+"/sound", "").body
	if base64.StdEncoding.EncodeToString(wav) != recording(2000, 4) {
		t.Error("the sound isn't what was sent")
	}
	for _, missing := range []string{"/api/v1/recordings/9999", "/api/v1/recordings/9999/sound",
		"/api/v1/units/9999/recordings"} {
		runa.want(404, "GET", missing, "")
	}
	for body, at := range map[string]string{
		strings.Replace(ask, "Hums from sixty on", " ", 1):                  "/title",
		strings.Replace(ask, recording(2000, 4), "bm8gc291bmQ=", 1):         "/question/sound",
		strings.Replace(ask, `"rolling_m":2.2`, `"rolling_m":0`, 1):         "/question/vehicle/rolling_m",
		strings.Replace(ask, `"speed":[{"s":0,"v`, `"speed":[{"s":9,"v`, 1): "/question/speed",
	} {
		if a := ivar.want(422, "POST", path, body); !strings.Contains(string(a.body), `"`+at) {
			t.Errorf("%s: %s", at, a.body)
		}
	}
	for n := 1; n < store.MostRecordings; n++ {
		if _, err := st.AddRecording(t.Context(), store.Recording{UnitID: 8, Key: fmt.Sprint("filling-", n), Title: "x",
			Drive: []byte("{}")}, wav); err != nil {
			t.Fatal(err)
		}
	}
	ivar.want(201, "POST", path, ask)
	ivar.want(409, "POST", path, strings.Replace(ask, "of-a-drive", "one-too-many", 1))
}

// An archive with a recording that isn't one is refused, and says where.
func TestRecordingsRefused(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	ivar := as(t, srv.URL, "ivar")
	ivar.want(201, "POST", "/api/v1/units/8/recordings", `{"key":"of-a-drive","title":"Hums","question":`+heardAsk+`}`)
	files := testkit.Unzipped(t, ivar.want(200, "GET", "/api/v1/units/8/document.zip", "").body)
	const wav = "recordings/001.wav"
	for name, change := range map[string]func(map[string]string){
		"missing":  func(f map[string]string) { delete(f, wav) },
		"no sound": func(f map[string]string) { f[wav] = "OggS" },
		"a head":   func(f map[string]string) { f[wav] = f[wav][:40] },
		"unnamed":  func(f map[string]string) { f["recordings/002.wav"] = f[wav] },
		"named wild": func(f map[string]string) {
			f["unit.json"] = strings.Replace(f["unit.json"], wav,
				"photos/001.jpg", 1)
		},
		"no vehicle": func(f map[string]string) {
			f["unit.json"] = strings.Replace(f["unit.json"], `"rolling_m": 2.2`, `"rolling": 2.2`, 1)
		},
	} {
		f := maps.Clone(files)
		change(f)
		a := ivar.upload("/api/v1/units/import-zip", testkit.Zipped(t, f))
		if a.status != 422 || !strings.Contains(string(a.body), "recording") {
			t.Errorf("%s: %d %.300s", name, a.status, a.body)
		}
	}
	if a := ivar.upload("/api/v1/units/import-zip", testkit.Zipped(t, files)); a.status != 201 {
		t.Errorf("as it was: %d %.300s", a.status, a.body)
	}
	if a := ivar.do("POST", "/api/v1/units/import", files["unit.json"]); a.status != 422 ||
		!strings.Contains(string(a.body), "/recordings") {
		t.Errorf("a document without its sounds: %d %.300s", a.status, a.body)
	}
}
