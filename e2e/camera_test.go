package e2e

import (
	"bytes"
	"image"
	"image/color"
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

const filmedRatio = 4

// cameraFilm is what the browser takes for its camera: a wheel that makes one turn and a
// flange that makes four, over and over.
func cameraFilm() (string, error) {
	const pictures = 120
	var film bytes.Buffer
	for i := range pictures {
		turns := float64(i) / pictures
		img := image.NewGray(image.Rect(0, 0, 320, 240))
		for y := range 240 {
			for x := range 320 {
				v := 90.0
				for k, d := range [][3]float64{filmedWheel, filmedFlange} {
					dx, dy := float64(x)-d[0], float64(y)-d[1]
					r := math.Hypot(dx, dy) / d[2]
					if r > 1 {
						continue
					}
					at := turns * []float64{1, filmedRatio}[k]
					v = 130
					if r > 0.55 && math.Abs(math.Remainder(math.Atan2(dx, -dy)/(2*math.Pi)-at, 1)) < 0.02 {
						v = 240
					}
				}
				img.SetGray(x, y, color.Gray{Y: uint8(v)})
			}
		}
		color := image.NewYCbCr(img.Rect, image.YCbCrSubsampleRatio420)
		for i := range color.Cb {
			color.Cb[i], color.Cr[i] = 128, 128
		}
		copy(color.Y, img.Pix)
		if err := jpeg.Encode(&film, color, &jpeg.Options{Quality: 85}); err != nil {
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
	scale := eval[float64](p, `Number(document.querySelector('svg:has(rect[aria-label^="Box over"])').getAttribute('viewBox').split(' ')[2]) / 320`)
	for shaft, d := range map[string][3]float64{"left": filmedWheel, "shaft": filmedFlange} {
		lay(p, shaft, (d[0]-d[2])*scale, (d[1]-d[2])*scale, 2*d[2]*scale)
	}
	p.click("Start counting")
	p.until("four turns of the wheel", `[...document.querySelectorAll('dl b')].some(b => Math.abs(Number(b.textContent)) > 4)`)
	p.until("the ratio", `(() => { const m = document.querySelector('[aria-label="Live count"] svg[aria-label^="Between"]')?.getAttribute('aria-label').match(/[\d.]+/g);
		return m && Number(m[0]) < 4 && Number(m[1]) > 4 && Number(m[1]) - Number(m[0]) < 0.3; })()`)
	p.click("Stop")
	p.sees("Understood: Counted live")
}
