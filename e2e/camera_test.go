package e2e

import (
	"bytes"
	"image"
	"image/jpeg"
	"math"
	"os"
	"path/filepath"
	"testing"
)

// Discs of the film that the browser's camera shows, in its pixels.
var (
	filmedWheel  = [3]float64{100, 120, 84} // middle and radius
	filmedFlange = [3]float64{248, 120, 56}
)

// cameraFilm is what the browser takes for its camera: a wheel with two marks that makes
// half a turn and a flange with one that makes two, over and over; so slowly that a busy
// machine still sees a mark often enough.
func cameraFilm() (string, error) {
	const pictures = 180
	type place struct {
		disc int
		turn float64
	}
	places := make([]place, 320*240)
	for i := range places {
		places[i].disc = -1
		for k, d := range [][3]float64{filmedWheel, filmedFlange} {
			dx, dy := float64(i%320)-d[0], float64(i/320)-d[1]
			switch r := math.Hypot(dx, dy) / d[2]; {
			case r < 0.55:
			case r < 1:
				places[i] = place{k, math.Atan2(dx, -dy) / (2 * math.Pi)}
			}
		}
	}
	img := image.NewYCbCr(image.Rect(0, 0, 320, 240), image.YCbCrSubsampleRatio420)
	for i := range img.Cb {
		img.Cb[i], img.Cr[i] = 128, 128
	}
	var film bytes.Buffer
	for n := range pictures {
		part := float64(n) / pictures
		for i, p := range places {
			v := uint8(90)
			switch {
			case p.disc == 0 && math.Abs(math.Remainder(2*(p.turn-part/2), 1)) < 0.04, p.disc == 1 &&
				math.Abs(math.Remainder(p.turn-2*part, 1)) < 0.02:
				v = 240
			case p.disc >= 0:
				v = 130
			}
			img.Y[i] = v
		}
		if err := jpeg.Encode(&film, img, &jpeg.Options{Quality: 85}); err != nil {
			return "", err
		}
	}
	dir, err := os.MkdirTemp("", "zorvel-camera")
	if err != nil {
		return "", err
	}
	file := filepath.Join(dir, "camera.mjpeg")
	return file, os.WriteFile(file, film.Bytes(), 0o600)
}

// The tablet's camera counts chalk marks while a wheel turns before it.
func TestCameraCounts(t *testing.T) {
	p := open(t, true, 820, 1180)
	p.visit("/count/ring_and_pinion")
	p.click("6 Count live")
	p.click("Camera")
	p.click("Open the camera")
	p.until("the boxes", `document.querySelectorAll('svg rect[aria-label^="Box over"]').length === 2`)
	// The camera's pictures are as wide as the browser makes them.
	scale := eval[float64](p, `Number(document.querySelector('svg:has(rect[aria-label^="Box over"])')
		.getAttribute('viewBox').split(' ')[2]) / 320`)
	for shaft, d := range map[string][3]float64{"left": filmedWheel, "shaft": filmedFlange} {
		lay(p, shaft, (d[0]-d[2])*scale, (d[1]-d[2])*scale, 2*d[2]*scale)
	}
	p.fill("Chalk marks, wheel", "2")
	p.click("Start counting")
	p.until("a turn of the wheel", `(([wheel, shaft]) =>
		Math.abs(Number(wheel?.textContent)) > 1 && shaft)([...document.querySelectorAll('dl b')])`)
	p.rangeHolds(4, 0.5)
	p.click("Stop")
	p.sees("Understood: Counted live")
}
