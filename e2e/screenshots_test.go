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
	scheme := func(name string) {
		eval[bool](p, "(localStorage.setItem('mantine-color-scheme-value','"+name+"'), true)")
	}
	p.visit("/sign-in")
	scheme("light")
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
	p.visit("/units/8/trace")
	p.answers("16.113 turns")
	p.lever("Front drive of the transfer case: front locked in")
	p.lever("Range of the transfer case: low range")
	p.fill("at rpm", "1500")
	p.choose("Corner", "to the left")
	p.answers("In a bind")
	shot("trace")
	p.visit("/units/8/trace?view=build")
	p.answers("16.113 turns")
	p.choose("Part", "Rear axle")
	p.sees("measured")
	shot("trace-build")
	p.visit("/units/8/trace?view=grip")
	p.fill("Grip of Rear left wheel", "0.1")
	p.sees("limited by the rear left wheel")
	shot("trace-grip")
	p.visit("/units/8/trace?view=gears")
	p.sees("Thrust, N per N·m")
	shot("trace-gears")
	p.visit("/units/8/trace?view=stands")
	p.sees("rolls forward")
	shot("trace-stands")
	p.visit("/units/5/trace")
	p.answers("clockwise seen from behind")
	p.fill("at rpm", "5400")
	p.sees("2600 rpm")
	shot("trace-boat")
	p.visit("/parts")
	p.sees("Holt R5")
	shot("parts")
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
	scheme("dark")
	p.visit("/units/8")
	p.sees("What happened")
	p.click("Rear axle")
	p.is(".plate-label", "4.10")
	p.sees("sure of the label")
	shot("dark")
	scheme("light")
	p.do(chromedp.EmulateViewport(390, 844))
	p.visit("/count/ring_and_pinion")
	p.press("3", "Keep this reading")
	shot("phone")
}
