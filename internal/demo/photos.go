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
	"sync"
	"time"

	"zorvel/core/marks"
	"zorvel/core/sight/drawn"
	"zorvel/internal/photo"
	"zorvel/internal/store"
)

// How the camera stood: the picture's size, and the circle of the tips in it.
const (
	photoWide, photoHigh = 1200, 900
	longHalf, shortHalf  = 400.0, 310.0
	leaned               = 0.3
)

// gearPhoto draws a gear of so many teeth as a camera sees it a little from the side.
func gearPhoto(teeth int) []byte {
	img := image.NewNRGBA(image.Rect(0, 0, photoWide, photoHigh))
	sin, cos := math.Sincos(leaned)
	for y := range photoHigh {
		for x := range photoWide {
			dx, dy := float64(x)-photoWide/2, float64(y)-photoHigh/2
			u, v := (dx*cos+dy*sin)/longHalf, (dy*cos-dx*sin)/shortHalf
			r, t := math.Hypot(u, v), math.Atan2(v, u)
			img.SetNRGBA(x, y, gearColor(r, t, teeth, float64((x*7+y*13)%11)))
		}
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, img, &jpeg.Options{Quality: 88}); err != nil {
		panic(err)
	}
	return out.Bytes()
}

// gearTips are where the tips of its teeth are.
func gearTips(teeth int) []marks.Point {
	sin, cos := math.Sincos(leaned)
	var tips []marks.Point
	for i := range teeth {
		s, k := math.Sincos(2 * math.Pi * float64(i) / float64(teeth))
		tips = append(tips, marks.Point{X: math.Round(photoWide/2 + 1.02*(longHalf*k*cos-shortHalf*s*sin)), Y: math.Round(photoHigh/2 + 1.02*(longHalf*k*sin+shortHalf*s*cos))})
	}
	return tips
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

// taken is the picture as it is kept, drawn once in a process.
var taken = sync.OnceValues(func() (*photo.Photo, error) {
	return photo.Take(gearPhoto(ringTeeth))
})

const ringTeeth = 32 // as its bevel set was counted

// photos are a ring gear on the bench, with one tooth that was skipped, and the whole.
func photos(ctx context.Context, st *store.Store, now time.Time) error {
	list, _, err := st.Units(ctx, store.Asked{Name: "Birk"})
	if err != nil || len(list) == 0 {
		return fmt.Errorf("the forwarder is not there: %w", err)
	}
	pic, err := taken()
	if err != nil {
		return err
	}
	tips := gearTips(ringTeeth)
	counted, err := countedAt(ctx, st, list[0], "rear")
	if err != nil {
		return err
	}
	for i, title := range []string{"Ring gear on the bench, every tooth marked", "Ring gear, first count"} {
		of := store.Evidence{}
		if i == 0 {
			of.Reading = counted
		}
		id, err := st.AddPhoto(ctx, store.Photo{UnitID: list[0].ID, Of: of, Key: fmt.Sprint("demo-photo-", i), Part: "rear", Title: title, Width: pic.Width, Height: pic.Height, By: ivar, At: now.Add(time.Duration(-i) * time.Hour)}, pic.Full, pic.Thumb)
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
		if err := st.MarkPhoto(ctx, id, 1, title, raw, nil); err != nil {
			return err
		}
	}
	van, _, err := st.Units(ctx, store.Asked{Name: "Tern 2"})
	if err != nil || len(van) == 0 {
		return fmt.Errorf("the van is not there: %w", err)
	}
	if pic, err = uncounted(); err != nil {
		return err
	}
	_, err = st.AddPhoto(ctx, store.Photo{UnitID: van[0].ID, Key: "demo-photo-capped", Part: "rear",
		Title: "Ring gear behind its cap, not counted yet",
		Width: pic.Width, Height: pic.Height, By: ivar, At: now.Add(-20 * time.Minute)}, pic.Full, pic.Thumb)
	return err
}

// uncounted is a ring gear under a cap, that nobody has counted yet: the program does.
var uncounted = sync.OnceValues(func() (*photo.Photo, error) {
	s := drawn.Some(drawn.Easy, 14)
	s.Kind, s.Teeth, s.Width, s.Height, s.Tilt, s.Size, s.Rust, s.Cap, s.Cover = drawn.Ring, cappedTeeth, 1200, 900, 0.3, 0.75, 0.25, 0.35, 2.4
	p := drawn.Draw(s)
	var out bytes.Buffer
	g := &image.Gray{Pix: p.Gray, Stride: p.Width, Rect: image.Rect(0, 0, p.Width, p.Height)}
	if err := jpeg.Encode(&out, g, &jpeg.Options{Quality: 84}); err != nil {
		return nil, err
	}
	return photo.Take(out.Bytes())
})

const cappedTeeth = 47 // as the sensors at its shafts tell

// countedAt is the first standing reading of a part's ratio.
func countedAt(ctx context.Context, st *store.Store, u store.Unit, part string) (int64, error) {
	for _, v := range u.Stages {
		if v.Part != part || v.Standing == 0 {
			continue
		}
		rows, err := st.Readings(ctx, v.ID)
		if err != nil {
			return 0, err
		}
		for _, r := range rows {
			if r.Struck == nil && r.Fitting == v.Since {
				return r.ID, nil
			}
		}
	}
	return 0, fmt.Errorf("nothing was counted at the %s of %s", part, u.Name)
}
