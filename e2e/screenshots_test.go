package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"zorvel/internal/sensors"
	"zorvel/internal/testkit"
)

// TestScreenshots takes the pictures of the main views into the directory
// named by ZORVEL_SHOTS; make screenshots runs it.
func TestScreenshots(t *testing.T) {
	dir := os.Getenv("ZORVEL_SHOTS")
	if dir == "" {
		t.Skip("set ZORVEL_SHOTS to a directory to take the pictures")
	}
	p := open(t, true, 1280, 800)
	p.motion("no-preference")
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
	p.until("the list of units", "document.querySelector('[data-part=units]')")
	p.sees("Skiff Little Auk")
	shot("units")
	p.click("Rescue van Tern 2")
	p.sees("History")
	p.sees("Tag says 4.10")
	shot("unit")
	p.measure("Rear axle")
	p.is("[data-part=ratio]", "5.22")
	p.sees("for these very counts")
	shot("conflict")
	p.visit("/units/8/trace")
	p.answers("16.646 turns")
	p.lever("Transfer case drive: 4WD")
	p.lever("Transfer case range: low range")
	p.click("Turned: crankshaft")
	p.fill("at rpm", "1500")
	p.keys(kb.Escape)
	p.choose("Corner", "to the left")
	p.answers("It binds")
	eval[bool](p, "(scrollTo(0, 0), true)")
	shot("trace")
	p.visit("/units/9/photos")
	p.click("Ring gear behind its cap, not counted yet")
	p.click("Count the teeth")
	p.sees("don't show and are counted by the spacing")
	p.sees("By the spacing")
	shot("photo")
	p.visit("/jobs/2")
	p.sees("Lever stiff with the cable off")
	p.sees("Overdue: gear oil, Gearcase")
	shot("job")
	p.visit("/units/3/set-up")
	p.sees("Move the ring gear 0.1 mm toward the pinion")
	shot("setup")
	p.visit("/card-runs/1")
	p.click("○ 9.")
	p.sees("Step 9 of 13")
	eval[bool](p, "(window.scrollTo(0, 0), true)")
	shot("card")
	p.visit("/units/8/regear")
	p.fill("Tires now", "35x12.50R15")
	p.sees("4.65 would pull like stock")
	p.sees("The schools")
	p.do(chromedp.MouseClickXY(900, 780)) // away from the field's suggestions
	shot("regear")
	p.visit("/units/8/speedometer")
	p.fill("Tire on it", "33x12.50R15")
	p.fill("Drive gear installed", "11")
	p.fill("Driven gear installed", "31")
	p.sees("Installed now, 11 and 31")
	shot("speedometer")
	p.visit("/units/8/find-fault")
	p.click("How it drives")
	p.click("No drive in first gear")
	p.showed(`/rear left wheel turns as it should; rear right wheel does not turn/i`)
	p.until("the right stub to lead",
		`/broken right rear axle shaft or stub shaft/.test(document.querySelector('.decide-plate h2').innerText)`)
	eval[bool](p, "(window.scrollTo(0, 330), true)")
	shot("find-fault")
	p.visit("/units/6/change-gears")
	p.fill("Speed, km/h", "190")
	p.fill("at rpm", "6900")
	p.sees("Fit 4.29, set 2")
	p.until("the pick on the ladder", "document.querySelector('[role=radio][aria-checked=true]')?.innerText.includes('pick')")
	shot("change-gears")
	p.visit("/units/5/gearcase")
	p.click("Start from these figures")
	p.sees("The box makes them all")
	shot("gearcase")
	p.visit("/units/5/propeller")
	p.fill("Engine rpm, steady", "4600")
	p.fill("Speed, kn", "17.2")
	p.fill("Full throttle reached, rpm", "5050")
	p.fill("WOT rpm range from", "5200")
	p.fill("to", "5800")
	p.sees("the engine labors")
	shot("propeller")
	p.visit("/shop/gear_sets")
	p.sees("63 rows")
	p.click("Edit Brannik 240 ring and pinion pair 37-8")
	shot("shop")
	p.visit("/count/ring_and_pinion")
	p.sees("Nothing measured yet")
	countLive(p, filepath.Join(dir, "live.png"))
	p.keys(kb.Escape)
	p.visit("/")
	scheme("dark")
	nameSound(p)
	shot("sound")
	scheme("light")
	hideUnit(p)
	shot("practice")
}

// hideUnit brings a hidden unit onto its stands and turns it.
func hideUnit(p *page) {
	p.visit("/practice/unit/ratio/2/12")
	p.sees("Chock the wheels")
	for i, s := range steps {
		p.click(s[0])
		p.until(s[0], fmt.Sprintf(`document.querySelectorAll('[aria-label="What you did"] li').length === %d`, i+1))
	}
	p.tabTo(`document.querySelector('[role=slider][aria-label="Turn both wheels"]')`)
	p.keys(strings.Repeat(kb.PageUp, 8))
	p.sees("Turned the wheels together")
	eval[bool](p, "(document.activeElement.blur(), window.scrollTo(0, 0), true)")
}

// nameSound names what hums in a recorded drive.
func nameSound(p *page) {
	p.visit("/listen")
	p.sound("ws2.wav")
	p.speeds("ws2_speed.csv")
	p.fill("Rolling circumference (mm)", "2310")
	p.fill("Or axle ratio, about", "3.58")
	p.fill("Cylinders", "6")
	p.choose("Gear", "neutral")
	p.click("Name the sound")
	p.sees("Loudest: ring and pinion, 43:12")
	eval[bool](p, "(window.scrollTo(0, 0), true)")
}

// countLive takes a live count of the rescue van's axle, on a server with shaft sensors.
func countLive(beside *page, file string) {
	turning := sensors.Van()
	turning.Speed, turning.Turns, turning.Rests, turning.Back = 2, 60, false, false
	srv, _ := testkit.ServerWithSensors(beside.t, turning)
	p := openAt(beside.t, srv.URL, 1280, 800)
	p.motion("no-preference")
	p.signIn("Oda Brenk")
	p.visit("/count/ring_and_pinion")
	p.click("6 Count live")
	p.click("Shaft sensors")
	p.click("Start counting")
	p.until("the count to be well under way", `document.querySelector('[data-advice="turn_on"], [data-advice="settled"]') &&
		[...document.querySelectorAll('dl b')].some(b => Number(b.textContent) > 40)`)
	p.shot(file)
}
