package e2e

import (
	"fmt"
	"math"
	"math/rand/v2"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/browser"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"zorvel/core/road"
	"zorvel/internal/sensors"
	"zorvel/internal/testkit"
)

// strapped is a page on a phone that is strapped to a shaft: its gyroscope and its
// accelerometer tell what the browser is told. How far it has turned is what its rates
// come to over the times that they were in force, however long a busy machine held them.
type strapped struct {
	*page
	turns float64
	rate  float64 // turns a second
	since time.Time
}

func strap(p *page) *strapped {
	p.t.Helper()
	for _, kind := range []emulation.SensorType{emulation.SensorTypeGyroscope, emulation.SensorTypeAccelerometer,
		emulation.SensorTypeLinearAcceleration} {
		if _, err := chromedp.Call(p.ctx, emulation.SetSensorOverrideEnabled,
			emulation.SetSensorOverrideEnabledParams{Enabled: true, Type: kind}); err != nil {
			p.t.Fatal(err)
		}
	}
	for _, name := range []string{"gyroscope", "accelerometer"} {
		if _, err := chromedp.Call(p.ctx, browser.SetPermission, browser.SetPermissionParams{
			Permission: &browser.PermissionDescriptor{Name: name}, Setting: browser.PermissionSettingGranted,
			BrowserContextID: chromedp.FromContext(p.ctx).BrowserContextID,
		}); err != nil {
			p.t.Fatal(err)
		}
	}
	s := &strapped{page: p}
	s.turn(0)
	return s
}

// turn sets the rate that the phone senses about its screen's axis, and where gravity
// has gone round to by now.
func (s *strapped) turn(rate float64) {
	s.t.Helper()
	now := time.Now()
	if !s.since.IsZero() {
		s.turns += s.rate * now.Sub(s.since).Seconds()
	}
	s.since, s.rate = now, rate
	a := s.turns * 2 * math.Pi
	for kind, v := range map[emulation.SensorType]emulation.SensorReadingXYZ{
		emulation.SensorTypeGyroscope:          {Z: s.rate * 2 * math.Pi},
		emulation.SensorTypeAccelerometer:      {X: 9.81 * math.Sin(a), Y: 9.81 * math.Cos(a)},
		emulation.SensorTypeLinearAcceleration: {},
	} {
		if _, err := chromedp.Call(s.ctx, emulation.SetSensorOverrideReadings,
			emulation.SetSensorOverrideReadingsParams{
				Type: kind, Reading: &emulation.SensorReading{Xyz: &v}}); err != nil {
			s.t.Fatal(err)
		}
	}
}

// turnTogether turns two shafts of one machine about so many turns in the time that it
// takes, and leaves them still, the second as far as ratio asks for by what the first has
// turned.
func turnTogether(wheel, shaft *strapped, turns, ratio, seconds float64) {
	const still = 1.5
	for began := time.Now(); ; {
		k := (time.Since(began).Seconds() - still) / seconds
		if k >= 1 {
			break
		}
		rate := 0.0
		if k > 0 {
			rate = turns / seconds * (1 - math.Cos(2*math.Pi*k))
		}
		wheel.turn(rate)
		shaft.turn(rate * ratio)
	}
	wheel.turn(0)
	for shaft.turns < wheel.turns*ratio {
		shaft.turn(0.2)
	}
	shaft.turn(0)
}

// rangeHolds waits until the range of a live count holds a ratio, and is narrower than so
// much.
func (p *page) rangeHolds(ratio, width float64) {
	p.t.Helper()
	p.until(fmt.Sprintf("a range around %g", ratio), fmt.Sprintf(`(() => {
		const band = document.querySelector('[aria-label="Live count"] svg[aria-label^="Between"]');
		const [low, high] = band?.getAttribute('aria-label').match(/[\d.]+/g).map(Number) ?? [];
		return low < %g && high > %g && high - low < %g;
	})()`, ratio, ratio, width))
}

// Two phones in two browsers join one count by its code, and give the ratio without a
// mark: from strapping on to the saved reading.
func TestTwoPhonesGiveTheRatio(t *testing.T) {
	tablet := open(t, true, 820, 1180)
	tablet.signIn("Oda Brenk")
	tablet.visit("/count/ring_and_pinion")
	tablet.click("6 Count live")
	tablet.click("Phones")
	tablet.click("Start counting")
	tablet.sees("No phone has joined yet.")
	address := eval[string](tablet, `[...document.querySelectorAll('main span')].map(s => s.textContent).find(s => s.includes('/join/'))`)
	path := address[strings.Index(address, "/join/"):]
	var phones []*strapped
	for _, where := range []string{"Left wheel", "Driveshaft or input"} {
		p := openAt(t, tablet.base, 390, 844)
		s := strap(p)
		p.visit(path)
		p.click(where)
		p.sees("Hold the shaft still, then press Start.")
		p.click("Start")
		p.until("turns to be told", `document.querySelector('[aria-label="turns so far"]')`)
		phones = append(phones, s)
	}
	tablet.sees("Joined: left wheel, driveshaft.")
	tablet.click("The other wheel")
	tablet.click("Somebody watches it")
	turnTogether(phones[0], phones[1], 4, 41.0/11, 8)
	tablet.until("the wheel's turns", fmt.Sprintf(
		`[...document.querySelectorAll('dl b')].some(b => Math.abs(Number(b.textContent) - %g) < 0.03)`, phones[0].turns))
	tablet.rangeHolds(phones[1].turns/phones[0].turns, 0.4)
	tablet.sees("Understood: Counted live")
	tablet.click("Save this reading")
	tablet.sees("Counted live: ")
	// The count has ended with it, and the phones are told.
	phones[0].until("the phone to be told", shows("This code doesn't open a live count")+" || "+shows("has ended"))
}

// What a phone can't do is told, with the way there.
func TestPhonesAreTold(t *testing.T) {
	p := open(t, true, 390, 844)
	p.visit("/join/1#short")
	p.sees("This code is cut short.")
	p.visit("/")
	p.visit("/join/1#AAAAAAAAAAAAAAAAAAAAAAAAAA")
	p.click("Left wheel")
	p.sees("This code doesn't open a live count")
}

// Shaft sensors count on the tablet while the machine is turned; a reading that is taken
// blind shows no ratio before it is saved.
func TestSensorsOnTheTablet(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	turning := sensors.Van()
	turning.Speed, turning.Turns, turning.Rests, turning.Back, turning.Missed, turning.Doubled = 2, 600, false, false, 0, 0
	srv, device := testkit.ServerWithSensors(t, turning)
	p := openAt(t, srv.URL, 820, 1180)
	p.signIn("Oda Brenk")
	p.visit("/count/ring_and_pinion")
	p.click("6 Count live")
	p.click("Shaft sensors")
	p.click("Start counting")
	p.until("the wheels to turn", `[...document.querySelectorAll('dl b')].some(b => Number(b.textContent) > 3)`)
	angle := `document.querySelectorAll('[aria-label="Live count"] svg g g')[1].getAttribute('transform')`
	before := eval[string](p, angle)
	p.until("the drawn shaft to turn", angle+" !== "+quote(before))
	p.until("it to be settled", `document.querySelector('[data-settled]')`)
	p.sees("Settled: 5.22")
	if err := device.Close(); err != nil {
		t.Fatal(err)
	}
	p.sees("Looking for them again; what they miss isn't counted.")
	p.click("Save this reading")
	p.sees("Counted live: ")
	p.click("6 Count live")
	p.until("it to be blind", `document.querySelector('input[type=checkbox]:checked')`)
	p.sees("Counting blind")
}

// A recorded film counts itself on the device: boxes over the discs, and the ratio in
// range, without an account.
func TestFilmCountsItself(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/count/ring_and_pinion")
	p.click("6 Count live")
	p.click("Camera")
	p.fill("Pictures a second, of a film of JPEG pictures", "20")
	file, err := filepath.Abs("../core/film/testdata/vs2.mjpeg")
	if err != nil {
		t.Fatal(err)
	}
	p.do(chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{file}))
	p.until("the boxes", `document.querySelectorAll('svg rect[aria-label^="Box over"]').length === 2`)
	lay(p, "left", 8, 19, 83)
	lay(p, "shaft", 98, 34, 49)
	p.click("Start counting")
	p.until("the film to end", `document.querySelector('[aria-label="Live count"]') && `+control("Start counting"))
	p.rangeHolds(4.7778, 0.3)
	p.sees("both ways")
	p.sees("Understood: Counted live")
}

// lay puts a box over a disc by keys, at a place in the film's own pixels.
func lay(p *page, shaft string, x, y, side float64) {
	p.t.Helper()
	name := map[string]string{"left": "wheel", "shaft": "driveshaft"}[shaft]
	rect := `document.querySelector('rect[aria-label^="Box over the ` + name + `"]')`
	at := func() []float64 {
		return eval[[]float64](p, `(r => ['x','y','width'].map(a => Number(r.getAttribute(a))))(`+rect+`)`)
	}
	eval[bool](p, rect+`.focus() || true`)
	for _, k := range []struct {
		of         int
		aim        float64
		less, more string
	}{{2, side, "-", "+"}, {0, x, kb.ArrowLeft, kb.ArrowRight}, {1, y, kb.ArrowUp, kb.ArrowDown}} {
		least := math.Inf(1)
		for range 90 {
			d := k.aim - at()[k.of]
			if math.Abs(d) >= least { // a step less was the nearest
				break
			}
			least = math.Abs(d)
			if d < 0 {
				p.keys(k.less)
			} else {
				p.keys(k.more)
			}
		}
	}
}

// A recorded drive through a ten-speed gearbox with a converter: its gears stand out, and
// the axle behind them becomes road figures.
func TestDriveFindsTheAxle(t *testing.T) {
	d := road.Drive{Gears: []float64{4.7, 2.99, 2.15, 1.8, 1.52, 1.28, 1, 0.85, 0.69, 0.64}, Axle: 41.0 / 11,
		RollingMM: 2350,
		Between:   road.Converter, From: road.Satellite, Seconds: 500, Overrun: true}
	var csv strings.Builder
	csv.WriteString("seconds,rpm,speed_kmh\n")
	for _, s := range d.Run(rand.New(rand.NewPCG(3, 3))) {
		fmt.Fprintf(&csv, "%.1f,%.0f,%.1f\n", s.At, s.RPM, s.SpeedKMH)
	}
	p := open(t, true, 1280, 800)
	p.visit("/count/ring_and_pinion")
	p.click("7 Road figures")
	p.fill("Rolling circumference, mm", "2350")
	p.click("From a recorded drive")
	p.until("the file's field", `document.querySelector('input[aria-label="Recorded drive"]')`)
	p.fill("Gearbox ratios, first gear first", "4.70 2.99 2.15 1.80 1.52 1.28 1.00 0.85 0.69 0.64")
	p.give("drive.csv", csv.String())
	p.sees("drive.csv")
	p.click("Find gears and axle")
	p.sees("The axle is about 3.7")
	p.sees("Axle and tire show only as their product")
	p.click("Use these road figures")
	p.sees("Understood: ")
	p.until("3.73 among what it could be", `/3\.73|3\.7/.test(document.querySelector('[data-part=plate]')?.innerText)`)
}
