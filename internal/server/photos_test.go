package server_test

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"zorvel/internal/testkit"
)

func picture(t *testing.T, format string) string {
	t.Helper()
	img := image.NewNRGBA(image.Rect(0, 0, 400, 300))
	for i := range img.Pix {
		img.Pix[i] = byte(i * 31)
	}
	img.SetNRGBA(0, 0, color.NRGBA{1, 2, 3, 255})
	var b bytes.Buffer
	var err error
	if format == "png" {
		err = png.Encode(&b, img)
	} else {
		err = jpeg.Encode(&b, img, nil)
	}
	if err != nil {
		t.Fatal(err)
	}
	return base64.StdEncoding.EncodeToString(b.Bytes())
}

// A photo is taken in, kept once, served as a picture, marked over the version that
// was seen, and counted; its count becomes a reading.
func TestPhotoWithMarks(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	ivar, oda := as(t, srv.URL, "ivar"), as(t, srv.URL, "oda")
	const path = "/api/v1/units/8/photos"
	type photo struct {
		ID            int64
		Width, Height int
		Points        []struct{ X, Y float64 }
		Version       int
		Title         string
	}
	var p, again photo
	body := fmt.Sprintf(`{"key":"photo-key-1","title":"Ring gear, ¼ turned","part":"rear","image":%q}`, picture(t, "png"))
	ivar.want(201, "POST", path, body).holds(t, "POST", path).json(t, &p)
	ivar.want(201, "POST", path, body).json(t, &again)
	if p.ID == 0 || again.ID != p.ID || p.Width != 400 || p.Height != 300 || p.Title != "Ring gear, ¼ turned" {
		t.Fatalf("%+v %+v", p, again)
	}
	for size, w := range map[string]int{"": 400, "?size=thumb": 320} {
		a := ivar.want(200, "GET", fmt.Sprintf("/api/v1/photos/%d/picture%s", p.ID, size), "")
		head, format, err := image.DecodeConfig(bytes.NewReader(a.body))
		if err != nil || format != "jpeg" || head.Width != w {
			t.Errorf("%s: %v %s %v", size, head, format, err)
		}
	}
	one := fmt.Sprintf("/api/v1/photos/%d", p.ID)
	mark := func(base int, x float64) string {
		return fmt.Sprintf(`{"base":%d,"points":[{"x":%v,"y":10},{"x":20,"y":30}]}`, base, x)
	}
	ivar.want(200, "PUT", one, mark(1, 5)).holds(t, "PUT", "/api/v1/photos/{id}").json(t, &p)
	if p.Version != 2 || len(p.Points) != 2 || p.Title == "" {
		t.Errorf("%+v", p)
	}
	oda.want(409, "PUT", one, mark(1, 6))
	if x := oda.do("PUT", one, mark(2, 401)); x.status != 422 || x.field() != "/points/0" {
		t.Errorf("%d %s", x.status, x.body)
	}
	var list []photo
	oda.want(200, "GET", path, "").holds(t, "GET", path).json(t, &list)
	if len(list) != 1 || len(list[0].Points) != 2 {
		t.Errorf("%+v", list)
	}
	oda.want(200, "GET", one, "").holds(t, "GET", "/api/v1/photos/{id}")
}

func TestPhotosRefuse(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	ivar, runa := as(t, srv.URL, "ivar"), as(t, srv.URL, "runa")
	const path = "/api/v1/units/8/photos"
	text := base64.StdEncoding.EncodeToString([]byte(`<svg xmlns="http://www.w3.org/2000/svg" onload="alert(1)"/>`))
	for body, field := range map[string]string{
		fmt.Sprintf(`{"key":"photo-key-1","image":%q}`, text):                             "/image",
		fmt.Sprintf(`{"key":"photo-key-2","image":%q,"part":"moon"}`, picture(t, "jpeg")): "/part",
		fmt.Sprintf(`{"key":"photo-key-3","image":%q}`, picture(t, "jpeg")[:400]):         "/image",
		`{"key":"photo-key-4","image":""}`:                                                "/image",
	} {
		if x := ivar.do("POST", path, body); x.status != 422 || x.field() != field {
			t.Errorf("%.60s: %d at %q, want %s: %.200s", body, x.status, x.field(), field, x.body)
		}
	}
	good := fmt.Sprintf(`{"key":"photo-key-5","image":%q}`, picture(t, "jpeg"))
	// A job of another unit.
	ivar.want(404, "POST", path, strings.Replace(good, `"key"`, `"job":2,"key"`, 1))
	ivar.want(404, "POST", "/api/v1/units/9999/photos", good)
	runa.want(403, "POST", path, good)
	newClient(t, srv.URL).want(401, "GET", "/api/v1/photos/1/picture", "")
	runa.want(200, "GET", "/api/v1/photos/1/picture?size=thumb", "")
	runa.want(403, "PUT", "/api/v1/photos/1", `{"base":1,"points":[]}`)
	ivar.want(404, "GET", "/api/v1/photos/9999", "")
	ivar.want(404, "GET", "/api/v1/photos/9999/picture", "")
	if x := ivar.do("POST", path, `{"key":"photo-key-6","image":"`+strings.Repeat("A", 18<<20)+`"}`); x.status != 413 && x.status != 422 {
		t.Errorf("eighteen megabytes: %d", x.status)
	}
}
