package e2e

import (
	"slices"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
)

// Whoever comes without an account finds every job one tap away: at 1280 without
// scrolling, on a phone within one scroll, every target as large as a thumb, and the
// bar with six names at most.
func TestFirstPage(t *testing.T) {
	for name, size := range map[string][2]int64{"1280": {1280, 800}, "820": {820, 1180}, "390": {390, 844}} {
		t.Run(name, func(t *testing.T) {
			p := open(t, true, size[0], size[1])
			p.visit("/")
			p.sees("What gear ratio is in it?")
			p.click("Keep mm · km/h")
			p.seesNot("Figures are in")
			for _, ask := range []string{"Ring and pinion", "Transfer case", "Where does the power go?", "Tires changed", "Speedometer reads wrong",
				"It doesn't drive, or makes noise", "Set up ring and pinion", "Play in the driveline",
				"Gearcase shims and backlash", "Propeller and slip",
				"Race gears", "Speeds in the gears", "Teeth on a photo", "Jobs and service", "Work cards"} {
				p.until("the card "+ask, control(ask))
			}
			views := 1.0
			if size[0] < 1100 {
				views = 2
			}
			if end := eval[float64](p,
				`Math.max(...[...document.querySelectorAll('.kinds a, .offers a')].map(e => e.getBoundingClientRect().bottom + scrollY))`); end > views*float64(size[1]) {
				t.Errorf("the last card ends at %v of %v px", end, size[1])
			}
			if small := eval[string](p,
				`[...document.querySelectorAll('.kinds a, .offers a, .topbar nav a, .topbar nav button')].filter(e => e.offsetParent && e.getBoundingClientRect().height < 44).map(e => e.textContent).join(', ')`); small != "" {
				t.Errorf("smaller than a thumb: %s", small)
			}
			if n := eval[float64](p, `document.querySelectorAll('.topbar nav > *').length`); n > 6 {
				t.Errorf("%v names in the bar", n)
			}
			if eval[bool](p, `document.documentElement.scrollWidth > innerWidth + 1`) {
				t.Error("it is wider than the screen")
			}
			p.axe("the first page")
		})
	}
}

// Units of measure follow the browser's locale, are asked about once, and stay as
// chosen.
func TestUnitsFollowTheLocale(t *testing.T) {
	p := open(t, true, 1280, 800)
	agent := eval[string](p, "navigator.userAgent")
	american := emulation.SetUserAgentOverrideParams{UserAgent: agent, AcceptLanguage: "en-US"}
	if _, err := chromedp.Call(p.ctx, emulation.SetUserAgentOverride, american); err != nil {
		t.Fatal(err)
	}
	p.visit("/")
	p.sees("Figures are in inch · mph.")
	p.visit("/speedometer")
	p.until("a speed in miles", `[...document.querySelectorAll('.measure')].some(e => e.textContent === 'inch · mph')`)
	p.visit("/")
	p.click("Use mm · km/h")
	p.seesNot("Figures are in")
	p.visit("/")
	p.sees("What gear ratio is in it?")
	p.seesNot("Figures are in")
	p.until("millimeters", `[...document.querySelectorAll('.measure')].some(e => e.textContent === 'mm · km/h')`)
}

// On a phone whose keyboard is open the answer stays at the foot while it is out of
// view, and a tap goes to it.
func TestAnswerStaysInSight(t *testing.T) {
	p := open(t, true, 390, 544)
	p.visit("/count/ring_and_pinion")
	p.click("3 Count teeth")
	p.fill("Ring gear", "41")
	p.fill("Pinion", "11")
	p.until("the answer at the foot",
		`[...document.querySelectorAll('button')].some(b => b.textContent.startsWith('3.73') && getComputedStyle(b).position === 'fixed' && b.getBoundingClientRect().bottom <= innerHeight + 1)`)
	p.clickAt(`[...document.querySelectorAll('button')].find(b => b.textContent.startsWith('3.73') && getComputedStyle(b).position === 'fixed')`)
	p.until("the answer itself",
		`(() => { const r = document.querySelector('[data-part=plate]')?.getBoundingClientRect(); return r && r.top >= 0 && r.bottom <= innerHeight; })()`)
}

// The words of the trade are found by any of their names.
func TestWordsOfTheTrade(t *testing.T) {
	p := open(t, true, 390, 844)
	p.visit("/words")
	p.sees("Pinion depth")
	p.axe("words")
	p.fill("Find a word", "half shaft")
	p.sees("Axle shaft")
	p.seesNot("Pinion depth")
	p.fill("Find a word", "gearwheel of the moon")
	p.sees("No word here matches")
	if eval[bool](p, `document.documentElement.scrollWidth > innerWidth + 1`) {
		t.Error("it is wider than the phone")
	}
}

// Whoever asks on a bench gets its steps, its caution and an example, then the keys.
func TestHelpOnEveryBench(t *testing.T) {
	p := open(t, true, 390, 844)
	p.visit("/words")
	p.sees("Pinion depth")
	terms := eval[[]string](p, `[...document.querySelectorAll('dt')].map(e => e.innerText)`)
	for path, title := range map[string]string{
		"/count/ring_and_pinion": "Identify", "/trace": "Trace", "/regear": "Tires and gears", "/speedometer": "Speedometer",
		"/find-fault": "Find the fault", "/set-up": "Set up", "/free-play": "Free play", "/gearcase": "Gearcase",
		"/propeller": "Propeller", "/change-gears": "Change gears", "/gears": "Gears and ranges",
		"/photo": "Teeth on a photo", "/cards": "Work cards",
	} {
		p.visit(path)
		p.until("the bench", `document.querySelector('main')`)
		p.click("Help and keys")
		p.until("how "+path+" is done", `document.querySelector('[role=dialog] [aria-label="How this bench works"] ol li')`)
		head := eval[string](p, `document.querySelector('[role=dialog] [aria-label="How this bench works"] h2').innerText`)
		if head != title+": how it is done" {
			t.Errorf("%s: %q, want %q", path, head, title)
		}
		if !eval[bool](p, `['.decide-cautions li', 'p'].every(s =>
			document.querySelector('[role=dialog] [aria-label="How this bench works"] ' + s))`) {
			t.Errorf("%s has no caution or no example", path)
		}
		for _, w := range eval[[]string](p,
			`[...document.querySelectorAll('[role=dialog] [aria-label="How this bench works"] a')].map(e => e.innerText)`) {
			if !slices.Contains(terms, w) {
				t.Errorf("%s leads to %q, which the words don't have", path, w)
			}
		}
	}
	p.axe("help")
	p.visit("/gearcase")
	p.until("the stamp's example", "document.querySelector('main p[aria-hidden=true]')")
	p.axe("a gearcase, empty")
}

// A first count with somebody beside one: each step is done by doing it, and it can be
// left at any time.
func TestFirstVisit(t *testing.T) {
	p := open(t, true, 390, 844)
	p.visit("/")
	p.click("Keep mm · km/h")
	p.sees("First time here?")
	p.click("Show me")
	p.sees("Step 1 of 5")
	p.axe("first visit")
	p.click("4 Turn wheels")
	p.sees("Step 2 of 5")
	p.click("Both turned together, I saw it")
	p.sees("Step 3 of 5")
	p.fill("Whole turns", "4 1/10")
	p.sees("Step 4 of 5")
	p.sees("bout 4.10")
	p.click("Save this reading")
	p.sees("Step 5 of 5")
	p.click("1 Tag")
	p.fill("The tag says", "4.10")
	p.click("Save this reading")
	p.sees("That's all of it")
	p.click("Done")
	p.seesNot("That's all of it")
	p.visit("/")
	p.sees("What gear ratio is in it?")
	p.seesNot("First time here?")
}

// Who has counted without an account and files it is told first that the readings wait;
// signing in brings them along, to the dialog that files them.
func TestFilingAfterSigningIn(t *testing.T) {
	p := open(t, true, 390, 844)
	p.visit("/count/ring_and_pinion")
	p.click("3 Count teeth")
	p.fill("Ring gear", "41")
	p.fill("Pinion", "11")
	p.click("Save this reading")
	p.click("File with a unit")
	p.sees("Your reading waits on this device. Sign in, and it comes along to be filed.")
	p.click("Oda Brenk")
	p.until("the dialog that files it", `document.querySelector('[role=dialog]')?.innerText.includes('File')`)
	p.until("the reading", `document.body.innerText.includes('3.73')`)
}
