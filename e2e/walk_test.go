package e2e

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
)

// walk counts what a first visit costs: taps, fields filled, screens scrolled, and the
// smallest thing that had to be hit.
type walk struct {
	*page
	width, height         int64
	taps, fields, scrolls int
	least                 float64
	leastOf               string
}

// reach brings an element into view as a thumb would, a screen at a time, and notes its
// size.
func (w *walk) reach(name, js string) {
	w.t.Helper()
	w.until(name, js)
	at := eval[[]float64](w.page, `(() => {
		const e = `+js+`, r = e.getBoundingClientRect();
		const label = e.closest('label') ?? (e.labels && e.labels[0]);
		const hit = e.matches('input[type=radio], input[type=checkbox]') && label ? label.getBoundingClientRect() : r;
		return [r.top, r.bottom, Math.min(hit.width, hit.height)];
	})()`)
	if over := max(at[1]-float64(w.height), -at[0]); over > 0 {
		w.scrolls += int(math.Ceil(over / float64(w.height)))
	}
	if at[2] < w.least {
		w.least, w.leastOf = at[2], name
	}
}

func (w *walk) tap(name string) {
	w.t.Helper()
	w.reach(name, control(name))
	w.taps++
	w.clickAt(control(name))
}

// lever sets a lever on the drawn machine.
func (w *walk) lever(position string) {
	w.t.Helper()
	label := `document.querySelector(` + quote(`input[aria-label="`+position+`"]`) + `)?.closest('label')`
	w.reach(position, label)
	w.taps++
	w.clickAt(label)
}

func (w *walk) enter(label, text string) {
	w.t.Helper()
	w.reach(label, field(label))
	w.fields++
	w.fill(label, text)
}

func (w *walk) pick(label, option string) {
	w.t.Helper()
	w.reach(label, field(label))
	w.taps++
	w.choose(label, option)
}

// inView is whether a text is seen without scrolling, under nothing else.
func inView(text string) string {
	return `(() => {
		const flat = s => s.replace(/\s+/g, ' '), want = flat(` + quote(text) + `);
		const all = [...document.querySelectorAll('body *')].filter(e => flat(e.textContent).includes(want)
			&& ![...e.children].some(c => flat(c.textContent).includes(want)));
		return all.some(e => {
			const r = e.getBoundingClientRect();
			if (!r.width || !r.height || r.top < 0 || r.bottom > innerHeight + 1) return false;
			const top = document.elementFromPoint(Math.min(innerWidth - 2, r.x + r.width / 2), r.y + r.height / 2);
			return top && (e.contains(top) || top.contains(e));
		});
	})()`
}

// task is what somebody comes with, and what has to be answered.
type task struct {
	name string
	do   func(w *walk)
	says []string
	// most is how many taps and fields its figures take at least; 8 if left out.
	most int
}

var tasks = []task{
	{name: "one wheel turned twice, shaft 5 and a bit", do: func(w *walk) {
		w.tap("Ring and pinion")
		w.tap("4 Turn wheels")
		w.tap("One turned, the other held")
		w.enter("Wheel turns", "2")
		w.tap("In words")
		w.enter("Turns, in your own words", "5 and a bit")
	}, says: []string{"5.0"}},
	{name: "3 and three quarters, then a tag of 3.73", do: func(w *walk) {
		w.tap("Ring and pinion")
		w.tap("4 Turn wheels")
		w.tap("Both turned together, I saw it")
		w.enter("Whole turns", "3 3/4")
		w.tap("Save this reading")
		w.tap("1 Tag")
		w.enter("The tag says", "3.73")
	}, says: []string{"3.73"}},
	{name: "41 and 11 counted", do: func(w *walk) {
		w.tap("Ring and pinion")
		w.tap("3 Count teeth")
		w.enter("Ring gear", "41")
		w.enter("Pinion", "11")
	}, says: []string{"3.73"}},
	{name: "235/75R15 to 31x10.50R15: the needle at a true 60 mph", do: func(w *walk) {
		w.tap("Tires changed")
		w.enter("Tires before", "235/75R15")
		w.enter("Tires now", "31x10.50R15")
	}, says: []string{"At a true 60 the needle reads 55.9"}},
	{name: "the axle that gets stock feel back", do: func(w *walk) {
		w.tap("Tires changed")
		w.enter("Tires before", "235/75R15")
		w.enter("Tires now", "31x10.50R15")
		w.enter("Axle ratio now", "3.73")
	}, says: []string{"4.00 would pull as 3.73 did"}},
	{name: "drive 8, driven 20, read right on 3.73: which driven gear with 4.10", do: func(w *walk) {
		w.tap("Speedometer reads wrong")
		w.enter("Axle ratio", "4.10")
		w.enter("Drive gear installed", "8")
		w.enter("Driven gear installed", "20")
		w.tap("It read right before the change")
		w.enter("Axle before", "3.73")
	}, says: []string{"Drive 8, driven 22"}},
	{name: "outboard: one propeller turn, a little over two", do: func(w *walk) {
		w.tap("Gearcase")
		w.tap("4 Bench turns")
		w.tap("In words")
		w.enter("Turns, in your own words", "a little over 2")
	}, says: []string{"2.0"}},
	{name: "stamp P-3 F+1 R0", do: func(w *walk) {
		w.tap("Gearcase shims and backlash")
		w.enter("Stamp on the case", "P-3 F+1 R0")
	}, says: []string{"−0.03, +0.01 and 0 mm by most manuals"}},
	{name: "hums from 50 mph, drive and coast", do: func(w *walk) {
		w.tap("It doesn't drive, or makes noise")
		w.enter("Complaint", "hums")
		w.tap("Hums with road speed, in any gear")
	}, says: []string{"Most likely: a wheel or tire out of balance"}},
	{name: "four-wheel drive, low, center locked, a front wheel held", do: func(w *walk) {
		w.tap("Where does the power go?")
		w.tap("Four-wheel, full-time")
		w.tap("With example figures")
		w.lever("Transfer case range: low range")
		w.lever("Transfer case center lock: center locked")
		w.pick("Front left wheel", "held")
	}, says: []string{"It binds"}},
	{name: "base 3.90, gears 24 and 21: which way is shorter", do: func(w *walk) {
		w.tap("Race gears")
		w.enter("Base ratio (ring ÷ pinion)", "3.90")
		w.enter("Installed now: input gear", "24")
		w.enter("Installed now: pinion gear", "21")
	}, says: []string{"Swapped: 4.46, shorter"}},
	{name: "backlash 0.012 in, wanted 0.006 to 0.010, pattern toward the toe", do: func(w *walk) {
		w.tap("Set up ring and pinion")
		w.enter("Ring teeth", "41")
		w.enter("Pinion teeth", "10")
		w.enter("Backlash, least in", "0.006")
		w.enter("Backlash, most in", "0.010")
		w.tap("Drive side: at mid height, toward the small end")
		w.enter("Backlash around the ring", "0.012")
	}, says: []string{"toward the pinion"}},

	{name: "a tag that reads 4-10", do: func(w *walk) {
		w.tap("Ring and pinion")
		w.tap("1 Tag")
		w.enter("The tag says", "4-10")
	}, says: []string{"4.10"}},
	{name: "another pinion, +2 out and -3 in, thousandths", do: func(w *walk) {
		w.tap("Set up ring and pinion")
		w.tap("Pinion: marks and stack")
		w.enter("Shim of the old pinion", "0.031")
		w.enter("Old pinion's mark", "+2")
		w.enter("New pinion's mark", "-3")
		w.pick("Thicker shim moves the pinion", "in, toward the ring gear's axis")
		w.pick("Mark units", "thousandths of an inch")
	}, says: []string{"The shim gets 0.005 in thicker or thinner"}},
	{name: "rpm at 60 mph in every gear", do: func(w *walk) {
		w.tap("Speeds in the gears")
	}, says: []string{"rpm at 60 mph"}},
	{name: "propeller slip: 2.07 gearcase, 19 inch, 5200 rpm, 38 kn", do: func(w *walk) {
		w.tap("Propeller and slip")
		w.enter("Gearcase ratio", "2.07")
		w.enter("Pitch, inches", "19")
		w.enter("Engine rpm, steady", "5200")
		w.enter("Speed, kn", "38")
	}, says: []string{"3.3 %"}},
	{name: "where the play in the driveline comes from", do: func(w *walk) {
		w.tap("Play in the driveline")
	}, says: []string{"usual"}},
	{name: "no drive in 3rd", do: func(w *walk) {
		w.tap("It doesn't drive, or makes noise")
		w.enter("Complaint", "won't go")
		w.tap("No drive in first gear")
	}, says: []string{"Most likely"}},
	{name: "a transfer case: 1 turn out, 2 and three quarters in", do: func(w *walk) {
		w.tap("Transfer case")
		w.tap("4 Bench turns")
		w.enter("Whole turns", "2.75")
	}, says: []string{"2.7"}},
	{name: "what a spider gear is", do: func(w *walk) {
		w.visit("/words")
		w.enter("Find a word", "spider")
	}, says: []string{"Carrier, spider and side gears"}},
}

// Twelve jobs as they come to a shop, and eight more, by somebody without an account who
// measures in inches: each answered, in view where the last field was filled (on a phone
// above its keyboard), with no more taps than the figures take, and nothing to hit that
// is smaller than a thumb.
func TestFirstVisits(t *testing.T) {
	for name, size := range map[string][2]int64{"1280": {1280, 800}, "390": {390, 844}} {
		t.Run(name, func(t *testing.T) {
			p := open(t, true, size[0], size[1])
			american := emulation.SetUserAgentOverrideParams{UserAgent: eval[string](p, "navigator.userAgent"), AcceptLanguage: "en-US"}
			if _, err := chromedp.Call(p.ctx, emulation.SetUserAgentOverride, american); err != nil {
				t.Fatal(err)
			}
			var table strings.Builder
			for _, job := range tasks {
				t.Run(job.name, func(t *testing.T) { job.walk(t, p, size[0], size[1], &table) })
			}
			t.Logf("at %s\n%s", name, table.String())
		})
	}
}

func (job task) walk(t *testing.T, tab *page, width, height int64, table *strings.Builder) {
	p := &page{t, tab.ctx, tab.base}
	w := &walk{page: p, width: width, height: height, least: math.Inf(1)}
	p.do(chromedp.EmulateViewport(width, height))
	p.visit("/")
	eval[bool](p, "(localStorage.clear(), true)")
	p.visit("/")
	job.do(w)
	if width < 600 && eval[bool](p, `document.activeElement.matches('input:not([type=radio], [type=checkbox]), textarea')`) {
		p.do(chromedp.EmulateViewport(width, height-keyboard))
		eval[bool](p, `(document.activeElement.scrollIntoView({block: 'nearest'}), true)`)
	}
	for _, says := range job.says {
		p.until("the answer "+says, shows(says))
		p.until("in view: "+says, inView(says))
	}
	if eval[bool](p, `document.documentElement.scrollWidth > innerWidth + 1`) {
		t.Error("wider than the screen")
	}
	if most := max(8, job.most); w.taps+w.fields > most {
		t.Errorf("%d taps and %d fields", w.taps, w.fields)
	}
	if width < 600 && w.least < 44 {
		t.Errorf("%s is %.0f px", w.leastOf, w.least)
	}
	fmt.Fprintf(table, "| %s | %d | %d | %d | %.0f |\n", job.name, w.taps, w.fields, w.scrolls, w.least)
}

// keyboard is what a phone's keyboard takes of its screen, px.
const keyboard = 300
