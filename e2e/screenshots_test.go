package e2e

import (
	"fmt"
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// harborRoad is a drive with a halt, a gap and a fix aside.
func harborRoad() string {
	var b strings.Builder
	b.WriteString(`<gpx version="1.1" creator="island logger" xmlns="http://www.topografix.com/GPX/1/1"><trk><name>harbor road</name><trkseg>`)
	north := 0.0
	for s := range 721 {
		v := 22.0 + 1.2*math.Sin(float64(s)/17)
		switch {
		case s < 40:
			v = float64(s) * 0.55
		case s >= 330 && s < 350:
			v = float64(350-s) * 1.1
		case s >= 350 && s < 410:
			v = 0
		case s >= 410 && s < 450:
			v = float64(s-410) * 0.55
		}
		north += v
		if s > 540 && s < 585 {
			continue
		}
		aside := 0.0
		if s == 250 {
			aside = 0.004
		}
		fmt.Fprintf(&b, `<trkpt lat="%.7f" lon="%.7f"><time>2026-11-20T10:%02d:%02dZ</time></trkpt>`, 62.5+north/111424, -7+aside+4e-6*math.Sin(float64(s)*2.1), s/60, s%60)
	}
	b.WriteString(`</trkseg></trk></gpx>`)
	return b.String()
}

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
	p.visit("/units/8/trace")
	p.answers("16.646 turns")
	p.lever("Front drive of the transfer case: front locked in")
	p.lever("Range of the transfer case: low range")
	p.click("Turned: crankshaft")
	p.fill("at rpm", "1500")
	p.keys(kb.Escape)
	p.choose("Corner", "to the left")
	p.answers("In a bind")
	eval[bool](p, "(scrollTo(0, 0), true)")
	shot("trace")
	p.visit("/units/8/trace?view=build")
	p.answers("16.646 turns")
	p.choose("Part", "Rear axle")
	p.sees("measured")
	shot("trace-build")
	p.visit("/units/3/set-up")
	p.sees("Ring 0.1 mm toward the pinion")
	shot("setup")
	p.visit("/card-runs/1")
	p.click("○ 9.")
	p.sees("Step 9 of 13")
	eval[bool](p, "(window.scrollTo(0, 0), true)")
	shot("card")
	p.visit("/units/8/regear")
	p.fill("Tires now", "35x12.50R15")
	p.sees("acting like stock would take 4.65")
	p.sees("The schools")
	p.do(chromedp.MouseClickXY(900, 780)) // away from the field's suggestions
	shot("regear")
	p.visit("/units/8/speedometer")
	p.fill("Tire on it", "33x12.50R15")
	p.fill("Drive gear in it", "11")
	p.fill("Driven gear in it", "31")
	p.sees("In it now, 11 and 31")
	shot("speedometer")
	p.click("Check on the road")
	p.click("Recorded track (GPX)")
	p.give("harbor-road.gpx", harborRoad())
	p.fill("Odometer counted on the way, km", "12.3")
	p.fill("Noted at", "200")
	p.fill("Needle showed, km/h", "70")
	p.until("the track to be drawn", "document.querySelector('.recharts-line-curve')")
	p.until("the noted speed", "document.body.innerText.includes('noted at 200 s')")
	eval[bool](p, "(window.scrollTo(0, 420), true)")
	p.do(chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, 20, 20))
	shot("check")
	p.visit("/units/6/change-gears")
	p.fill("Speed, km/h", "190")
	p.fill("at rpm", "6900")
	p.sees("Fit 4.29, set 2")
	p.until("the pick on the ladder", "document.querySelector('[role=radio][aria-checked=true]')?.innerText.includes('pick')")
	shot("change-gears")
	p.visit("/units/5/gearcase")
	p.click("Start from it")
	p.sees("The box makes them all")
	shot("gearcase")
	p.visit("/units/5/propeller")
	p.fill("Engine rpm, steady", "4600")
	p.fill("Speed, kn", "17.2")
	p.fill("Full throttle reached, rpm", "5050")
	p.fill("Maker's band from", "5200")
	p.fill("to", "5800")
	p.sees("the engine labors")
	shot("propeller")
	p.visit("/shop/gear_sets")
	p.sees("63 rows")
	p.click("Edit Brannik 240 ring and pinion pair 37-8")
	shot("shop")
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
