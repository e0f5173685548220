package e2e

import (
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

// A recorded drive is named: the wheel bearing, with its tone in the order map; a file
// that is no sound and a missing speed are told at their places.
func TestNameASound(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/listen")
	p.sees("A passenger records")
	p.shot("/tmp/w/a4.png")
	p.axe("name a sound")
	p.do(chromedp.SetUploadFiles(chromedp.CSS("main input[type=file]:not([accept*=csv])"), []string{soundFile(t, "sounds.json")}))
	p.sees("The browser can't read this file")
	p.do(chromedp.SetUploadFiles(chromedp.CSS("main input[type=file]:not([accept*=csv])"), []string{soundFile(t, "ws5.wav")}))
	p.sees("ws5.wav: 13 s")
	p.fill("Rolling circumference (mm)", "2050")
	p.fill("Ring teeth", "43")
	p.fill("Pinion teeth", "11")
	p.fill("Cylinders", "8")
	p.click("Name the sound")
	p.sees("the speed while it was recorded")
	p.do(chromedp.SetUploadFiles(chromedp.CSS("main input[accept*=csv]"), []string{soundFile(t, "ws5_speed.csv")}))
	p.sees("ws5_speed.csv")
	p.click("Gearbox teeth, transfer case, tires, bearings")
	p.fill("Wheel bearing", "rear left")
	p.fill("Outer race, tones per turn", "7.2974")
	p.fill("Inner race, tones per turn", "11.7026")
	p.click("Name the sound")
	p.sees("Loudest: rear left wheel bearing, outer race")
	p.sees("Jack that wheel up")
	p.shot("/tmp/w/a3.png")
	p.axe("a named sound")
	p.click("Play it: rear left wheel bearing, outer race")
	p.sees("Stop")
}

func soundFile(t *testing.T, name string) string {
	t.Helper()
	file, err := filepath.Abs(filepath.Join("..", "core", "listen", "testdata", name))
	if err != nil {
		t.Fatal(err)
	}
	return file
}
