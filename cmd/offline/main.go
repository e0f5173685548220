//go:build js && wasm

// Command offline is the identify bench in a browser: the same answers as the
// server's, from the same code, for a device without a network. The service worker
// asks it where the server can't be reached (web/public/offline.js). It also looks at
// what a camera sees, so that pictures never leave the device (web/public/camera.js).
package main

import (
	"encoding/json"
	"errors"
	"syscall/js"

	"zorvel/core/film"
	"zorvel/core/identify"
	"zorvel/core/identify/bench"
	"zorvel/core/live"
	"zorvel/core/sight"
)

func main() {
	var b bench.Bench
	js.Global().Set("zorvelAnswer", js.FuncOf(func(_ js.Value, args []js.Value) any {
		status, body := b.Answer(args[0].String(), []byte(args[1].String()))
		return map[string]any{"status": status, "body": string(body)}
	}))
	var c camera
	js.Global().Set("zorvelFilm", map[string]any{
		"begin": js.FuncOf(func(_ js.Value, args []js.Value) any { return told(c.begin(args[0].String())) }),
		"see": js.FuncOf(func(_ js.Value, args []js.Value) any {
			return told(nil, c.see(args[0], args[1].Int(), args[2].Int(), args[3].Float()))
		}),
		"tell": js.FuncOf(func(_ js.Value, args []js.Value) any { return told(c.tell(args[0].String())) }),
	})
	js.Global().Set("zorvelSight", js.FuncOf(func(_ js.Value, args []js.Value) any {
		return told(count(args[0], args[1].Int(), args[2].Int(), args[3].String()))
	}))
	js.Global().Call("zorvelReady")
	select {} // it answers for as long as the worker lives
}

// told is an answer, or what is wrong, as JSON.
func told(v any, err error) string {
	if err != nil {
		v = map[string]string{"wrong": err.Error()}
	}
	out, err := json.Marshal(v)
	if err != nil {
		return `{"wrong":"` + err.Error() + `"}`
	}
	return string(out)
}

// camera is the film that is being watched.
type camera struct {
	film   *film.Film
	pixels []uint8
}

// begin starts a film: its size, and the discs to be followed.
func (c *camera) begin(text string) (any, error) {
	var q struct {
		Width  int          `json:"width"`
		Height int          `json:"height"`
		Watch  []film.Watch `json:"watch"`
	}
	if err := json.Unmarshal([]byte(text), &q); err != nil {
		return nil, err
	}
	var err error
	c.film, err = film.New(q.Width, q.Height, q.Watch)
	return map[string]bool{"begun": err == nil}, err
}

var errNotBegun = errors.New("no film has begun")

// see looks at a picture's red, green, blue and alpha values.
func (c *camera) see(rgba js.Value, width, height int, at float64) error {
	if c.film == nil {
		return errNotBegun
	}
	p := film.Picture{Width: width, Height: height}
	p.Gray, c.pixels = gray(rgba, c.pixels)
	return c.film.See(p, at)
}

// gray is the gray values of red, green, blue and alpha; pixels is memory to be used again.
func gray(rgba js.Value, pixels []uint8) (values, memory []uint8) {
	n := rgba.Length()
	if len(pixels) != n {
		pixels = make([]uint8, n)
	}
	js.CopyBytesToGo(pixels, rgba)
	values = make([]uint8, n/4)
	for i := range values {
		v := pixels[4*i : 4*i+3]
		values[i] = uint8((299*int(v[0]) + 587*int(v[1]) + 114*int(v[2])) / 1000)
	}
	return values, pixels
}

// count counts the teeth on a photo; text says by how much it was shrunk and where a
// person pointed.
func count(rgba js.Value, width, height int, text string) (*sight.Answer, error) {
	var at struct {
		Shrunk float64      `json:"shrunk"`
		Tap    *sight.Point `json:"tap"`
	}
	if err := json.Unmarshal([]byte(text), &at); err != nil {
		return nil, err
	}
	values, _ := gray(rgba, nil)
	return sight.Work(sight.Question{Gray: values, Width: width, Height: height, Shrunk: at.Shrunk, Tap: at.Tap})
}

// tell weighs what was seen so far, with what the other wheel does.
func (c *camera) tell(text string) (any, error) {
	if c.film == nil {
		return nil, errNotBegun
	}
	var other *live.Other
	if err := json.Unmarshal([]byte(text), &other); err != nil {
		return nil, err
	}
	out := struct {
		Discs   []film.Disc           `json:"discs"`
		Live    *live.Answer          `json:"live"`
		Reading *identify.LiveReading `json:"reading,omitempty"`
	}{Discs: c.film.Discs()}
	rec := c.film.Recording()
	if len(rec.Sources) == 0 {
		return out, nil
	}
	rec.Other = other
	var err error
	if out.Live, err = live.Weigh(rec); err == nil {
		out.Reading = bench.LiveReading(out.Live, rec)
	}
	return out, err
}
