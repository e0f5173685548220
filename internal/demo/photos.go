package demo

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"time"

	"zorvel/core/marks"
	"zorvel/internal/photo"
	"zorvel/internal/store"
)

// gearPhoto draws a gear of so many teeth as a camera sees it a little from the side,
// and where its tips are.
func gearPhoto(teeth int) ([]byte, []marks.Point) {
	const w, h, a, b, turn = 1200, 900, 400.0, 310.0, 0.3
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	sin, cos := math.Sincos(turn)
	for y := range h {
		for x := range w {
			dx, dy := float64(x)-w/2, float64(y)-h/2
			u, v := (dx*cos+dy*sin)/a, (dy*cos-dx*sin)/b
			r, t := math.Hypot(u, v), math.Atan2(v, u)
			img.SetNRGBA(x, y, gearColor(r, t, teeth, float64((x*7+y*13)%11)))
		}
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, img, &jpeg.Options{Quality: 88}); err != nil {
		panic(err)
	}
	var tips []marks.Point
	for i := range teeth {
		s, k := math.Sincos(2 * math.Pi * float64(i) / float64(teeth))
		tips = append(tips, marks.Point{X: math.Round(w/2 + 1.02*(a*k*cos-b*s*sin)), Y: math.Round(h/2 + 1.02*(a*k*sin+b*s*cos))})
	}
	return out.Bytes(), tips
}

// gearColor is steel on an oily bench.
func gearColor(r, t float64, teeth int, grain float64) color.NRGBA {
	tip := 0.97 + 0.09*math.Max(-0.6, math.Min(0.6, math.Cos(float64(teeth)*t)))/0.6
	light := 0.5 + 0.5*math.Cos(t+2.2)
	shade := func(v float64) color.NRGBA {
		c := uint8(math.Max(0, math.Min(255, v+grain)))
		return color.NRGBA{c, uint8(math.Max(0, float64(c)-3)), uint8(math.Max(0, float64(c)-8)), 255}
	}
	bolt := math.Mod(t+math.Pi, math.Pi/4) - math.Pi/8
	switch {
	case r > tip:
		return shade(62 + 12*light)
	case r > 0.8:
		return shade(120 + 70*light + 25*math.Cos(float64(teeth)*t))
	case math.Hypot(r-0.62, 0.62*bolt) < 0.045:
		return shade(40)
	case r > 0.45:
		return shade(150 + 40*light)
	}
	return shade(38 + 10*light)
}

// photos are a ring gear on the bench, with one tooth that was skipped, and the whole.
func photos(ctx context.Context, st *store.Store, now time.Time) error {
	list, err := st.Units(ctx, "Birk")
	if err != nil || len(list) == 0 {
		return fmt.Errorf("the forwarder is not there: %w", err)
	}
	data, tips := gearPhoto(41)
	for i, title := range []string{"Ring gear on the bench, every tooth marked", "Ring gear, first count"} {
		pic, err := photo.Take(data)
		if err != nil {
			return err
		}
		id, err := st.AddPhoto(ctx, store.Photo{UnitID: list[0].ID, Key: fmt.Sprint("demo-photo-", i), Part: "rear", Title: title, Width: pic.Width, Height: pic.Height, By: ivar, At: now.Add(time.Duration(-i) * time.Hour)}, pic.Full, pic.Thumb)
		if err != nil {
			return err
		}
		points := tips
		if i == 1 {
			points = append(append([]marks.Point{}, tips[:17]...), tips[18:]...)
		}
		raw, err := json.Marshal(points)
		if err != nil {
			return err
		}
		if err := st.MarkPhoto(ctx, id, 1, title, raw); err != nil {
			return err
		}
	}
	return nil
}
