package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// TestScreenshots takes the pictures of the main views into the directory
// named by ZORVEL_SHOTS; make screenshots runs it.
func TestScreenshots(t *testing.T) {
	dir := os.Getenv("ZORVEL_SHOTS")
	if dir == "" {
		t.Skip("set ZORVEL_SHOTS to a directory to take the pictures")
	}
	p := open(t, true, 1280, 800)
	shot := func(name string) { p.shot(filepath.Join(dir, name+".png")) }
	light := func() { eval[bool](p, "(localStorage.setItem('mantine-color-scheme-value','light'), true)") }
	p.visit("/sign-in")
	light()
	p.sees("Oda Brenk")
	shot("sign-in")
	p.signIn("Oda Brenk")
	p.sees("Rescue van Tern 2")
	shot("begin")
	p.click("Units")
	p.sees("Skiff Little Auk")
	shot("units")
	p.click("Rescue van Tern 2")
	p.sees("What happened")
	p.sees("Tag says 4.10")
	shot("unit")
	p.click("Rear axle")
	p.is(".plate-label", "5.22")
	p.sees("sure of the label")
	shot("conflict")
	p.press("e", "What mistakes are reckoned with")
	shot("explain")
	p.keys(kb.Escape)
	p.press("n", "Counting blind")
	shot("blind")
	p.visit("/count/ring_and_pinion")
	p.sees("Nothing measured yet")
	p.press("4", "Flange of the drive shaft")
	p.fill("Whole turns", "4")
	p.fill("Tenths of a turn", "1")
	p.is(".plate-label", "4.10")
	shot("turns")
	p.keys(kb.Escape)
	p.visit("/count/gearcase")
	p.sees("Nothing measured yet")
	p.press("3", "Keep this reading")
	p.click("Count Forward gear")
	for range 23 {
		p.keys(" ")
	}
	p.is(".count-number", "23")
	shot("counter")
	p.keys("d")
	p.visit("/")
	p.click("Dark screen")
	p.click("Units")
	p.click("Grouse 4")
	p.click("Rear axle")
	p.is(".plate-label", "4.10")
	p.sees("sure of the label")
	shot("dark")
	p.click("Light screen")
	p.do(chromedp.EmulateViewport(390, 844))
	p.visit("/count/ring_and_pinion")
	p.press("3", "Keep this reading")
	shot("phone")
}
