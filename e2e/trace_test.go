package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"zorvel/core/driveline"
	"zorvel/internal/testkit"
)

// lever sets a lever of the drawing by what it is called.
func (p *page) lever(name string) {
	p.t.Helper()
	js := `document.querySelector('input[type=radio][aria-label=` + quote(name) + `]')`
	p.until("the lever "+name, js)
	eval[bool](p, "("+js+".click(), true)")
	p.until(name+" to be set", js+"?.checked")
}

// answers waits for the answer line above the drawing.
func (p *page) answers(text string) {
	p.t.Helper()
	p.until("the answer "+text, `document.querySelector('.answer')?.textContent.includes(`+quote(text)+`)`)
}

// The main job: a four-wheel unit with what is assumed of it, its rear axle
// identified from there, the center locked, the bind seen.
func TestFourWheelFromLayoutToBind(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit(fmt.Sprintf("/units/%d", p.sends("POST", "/api/v1/units", `{"name":"Grouse 12","kind":"truck","driveline":`+testkit.Example(t, "part_time")+`}`)))
	p.door("Ratios", "Trace the power")
	p.answers("16.124 turns of the crankshaft turn the wheels once, forward.")
	p.sees("50 % of the drive force")

	// Rear axle: not the example's, count it.
	p.click("Rear axle")
	p.until("the rear axle's form", field("Ring gear, teeth")+"?.value === '41'")
	p.click("Count it")
	p.sees("Grouse 12 · Rear axle")
	p.press("3", "Chalk one tooth as the start and call it zero.")
	p.fill("Ring gear", "43")
	p.fill("Pinion", "11")
	p.click("Save this reading")
	p.sees("Readings")
	p.sees("Ivar Tolm,")
	p.is("[data-part=ratio]", "3.91")
	p.click("Grouse 12")
	p.door("Ratios", "Trace the power")
	p.answers("15.374 turns")
	p.click("Way")
	p.sees("ring gear 43 on pinion 11")
	p.sees("90.0 %") // counted once

	// Front 37/9 against 43/11, locked together.
	p.lever("Transfer case drive: 4WD")
	p.answers("It binds by 5.17 %.")
	p.click("Ends")
	p.sees("set by grip")
	p.sees("More than one percent: bring front and rear together before the front is locked in.")
	if n := eval[int](p, "document.querySelectorAll('.disc.is-bind').length"); n < 8 {
		t.Errorf("only %d gears are drawn in the bind", n)
	}
	p.click("Undo (Ctrl Z)")
	p.until("the bind to go", "!document.querySelector('.answer').textContent.includes('bind')")
	p.click("Redo (Ctrl Y)")
	p.answers("It binds")
	// Low brings its lock along; leaving the lock takes low out.
	p.lever("Transfer case drive: 2WD")
	p.lever("Transfer case range: low range")
	p.until("the interlock", `document.querySelector('input[aria-label="Transfer case drive: 4WD"]').checked`)
	p.lever("Transfer case drive: 2WD")
	p.until("high again", `document.querySelector('input[aria-label="Transfer case range: high range"]').checked`)
	// The link carries the state to another tab.
	p.lever("Gearbox: reverse")
	p.answers("backward")
	link := eval[string](p, "location.pathname + location.search")
	q := openAt(t, p.base, 1024, 768)
	q.signIn("Runa Selk")
	q.visit(link)
	q.answers("backward")
	if eval[bool](q, "Boolean("+control("Save")+")") {
		t.Error("a viewer is offered to keep a driveline")
	}
}

// An open axle on the bench: one side held, the flange turned by hand.
func TestFlangeByHand(t *testing.T) {
	p := open(t, false, 1280, 800)
	p.visit("/trace?layout=loose_axle")
	// Without an owner the first page leads there.
	p.sees("Welcome. Who owns this shop?")
	p = open(t, true, 1280, 800)
	p.visit("/trace?layout=loose_axle")
	p.answers("4.1 turns of the axle input turn the carrier once")
	p.click("Turned: axle input")
	p.click("by hand")
	p.fill("by hand, turns", "10")
	// The side is held where it lies on the machine.
	p.clickAt(drawn("axle left output"))
	p.click("Hold it")
	p.click("Ends")
	p.sees("4.878 turns")
	p.sees("50 % of the torque, and all of the power")
	p.sees("no power, it stands still")
	p.click("axle right output")
	p.sees("200/41 turns")
	p.until("the held side to stand", `document.querySelector('.ends li')?.textContent.includes('stands still')`)
	p.click("Turned: axle input, 10 turns by hand")
	p.fill("by hand, turns", "ten")
	p.sees("a number")
	if got := eval[string](p, field("by hand, turns")+".value"); got != "ten" {
		t.Errorf("what was typed became %q", got)
	}
	p.fill("by hand, turns", "41")
	p.sees("20.000 turns")
	p.click("Shafts")
	p.click("axle left output")
	p.click("Turn or hold this shaft on the machine")
	if got := eval[string](p, "document.activeElement.getAttribute('aria-label')"); got != "By hand: axle left output" {
		t.Errorf("the hands are on %q", got)
	}
	p.click("Let it go")
	p.sees("free")
	p.click("Turn it by hand")
	p.click("Turned: axle left output, 1 turn by hand")
	p.click("Let the axle input turn it")
	p.click("Turned: axle input")
	p.keys(kb.Escape)
	p.until("the hands to be off", "!document.querySelector('section[aria-label^=\"By hand\"]')")
}

// drawn finds a shaft on the drawn machine.
func drawn(shaft string) string {
	return "[...document.querySelectorAll('.machine .rod')].find(g => g.querySelector('title').textContent.startsWith(" + quote(shaft) + ")).querySelector('.rod-body')"
}

// A boat in forward, neutral and reverse; by the keyboard too.
func TestBoatShifts(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/trace?layout=outboard")
	p.answers("2.077 turns of the crankshaft turn the propeller once, clockwise seen from behind.")
	p.sees("100 % of the torque")
	p.lever("Gearcase: neutral")
	p.sees("No torque passes the gearcase: neutral.")
	p.until("the propeller to be free", `document.querySelector('.ends').textContent.includes('free')`)
	p.lever("Gearcase: reverse")
	p.answers("counterclockwise seen from behind")
	eval[bool](p, "(document.activeElement.blur(), true)")
	p.keys("[")
	p.sees("No torque passes the gearcase: neutral.")
	p.keys("[")
	p.answers("clockwise seen from behind")
	p.click("Turned: crankshaft")
	p.fill("at rpm", "5400")
	p.sees("2600 rpm")
	p.click("Gears")
	p.sees("kn, no slip, at 1000 rpm")
	p.click("By hand")
	p.sees("Never the other way")
	p.sees("propeller removed")
}

// The table of gears by itself; a gear of it is tried on the trace.
func TestGearsByThemselves(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/units/8")
	p.door("Ratios", "Gears and ranges")
	p.sees("Grouse 4 · gears and ranges")
	p.until("rows", "document.querySelectorAll('main tbody tr').length > 10")
	p.clickAt("document.querySelector('main tbody .linklike, main tbody button')")
	p.until("the trace", "location.pathname === '/units/8/trace' && location.search.includes('s=')")
	p.visit("/gears")
	p.sees("rpm at 90 km/h")
	p.until("a layout to choose", `document.querySelector(".band input")?.value === "Four-wheel, part-time"`)
}

// Low against high: two states side by side, with what differs.
func TestCompare(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/trace?layout=part_time&view=compare")
	p.sees("Both are set alike: move a lever in one of the two.")
	p.clickAt(`document.querySelectorAll('section')[1].querySelector('input[aria-label="Transfer case range: low range"]').closest('label')`)
	p.sees("≠ differs")
	p.sees("43.766 turns of the crankshaft turn the wheels once, forward.")
	p.sees("16.124 turns of the crankshaft turn the wheels once, forward.")
	p.until("the front driveshaft to be told", `[...document.querySelectorAll('tbody th')].some(h => h.textContent === 'front driveshaft')`)
}

// Insert, refuse, swap, remove; unsaved work survives a reload; a state is
// kept with the unit and found again.
func TestBuildAndKeep(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/units/8/trace?view=build")
	p.answers("16.646 turns")
	p.click("Insert")
	p.choose("Where", "between Gearbox and Transfer case")
	p.choose("What", "Planetary set")
	p.clickAt("[...document.querySelectorAll('[role=dialog] button[type=submit]')][0]")
	p.until("the new part's form", field("Sun gear, teeth"))
	p.answers("hangs on what isn't known yet")
	p.fill("Sun gear, teeth", "40")
	p.fill("Ring gear, teeth", "-8")
	p.sees("Enter a whole number")
	p.fill("Ring gear, teeth", "30")
	p.sees("the ring gear (30) has more teeth than the sun (40)")
	p.fill("Ring gear, teeth", "80")
	p.answers("49.938 turns") // × 3
	p.do(chromedp.Reload())
	p.answers("49.938 turns")
	p.click("Power")
	p.click("Planetary set")
	p.click("Remove")
	p.answers("16.646 turns")
	p.choose("Part", "Gearbox")
	p.click("Swap")
	p.click("Holt R4")
	p.answers("16.892 turns") // 4.12 × 4.1
	p.click("Save")
	p.sees("Driveline saved with the unit.")
	p.until("kept", `[...document.querySelectorAll('button')].some(b => b.textContent.trim() === 'Saved')`)
	p.click("Power")
	p.lever("Rear locker: locked")
	p.click("Saved positions")
	p.until("the menu to take the focus", `document.activeElement.closest('[role=menu]')`)
	p.fill("Name for these positions", "rear locked")
	p.keys(kb.Enter)
	p.sees("rear locked")
	p.click("low, locked, right rear lifted")
	p.until("the saved state", `document.querySelector('input[aria-label="Transfer case range: low range"]').checked`)
	p.visit("/units/8")
	p.sees("Driveline changed")
}

// Grip, gears, shifts and the sheet of hand tests.
func TestGripGearsShiftsStands(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/units/8/trace?view=grip")
	p.sees("in all: every driven wheel gives what it can")
	p.fill("Grip, Rear left wheel", "0.1")
	p.sees("limited by the rear left wheel")
	p.sees("the spinning wheel sets the limit for all")
	p.fill("Grip, Rear left wheel", "9")
	p.sees("a coefficient of grip is from 0 to 2")
	p.fill("Grip, Rear left wheel", "0.1")
	p.fill("Brake on Rear left wheel", "2000")
	p.sees("Brakes take their torque first: rear left wheel 2 kN")
	p.fill("Grade, %", "60")
	p.sees("it does not climb")
	p.click("Gears")
	p.sees("Thrust, N per N·m")
	p.sees("4.06 × 2.7143 × 4.1")
	p.clickAt("[...document.querySelectorAll('.figures .linklike')][1]")
	p.answers("45.182 turns")
	p.click("Shifts")
	p.sees("its synchronizer or dogs have to close this difference")
	p.until("the shifts", "document.querySelector('.close')")
	before := eval[string](p, "document.querySelector('.close').textContent")
	p.fill("Road speed, km/h", "60")
	p.until("other differences", "document.querySelector('.close').textContent !== "+quote(before))
	p.fill("Road speed, km/h", "fast")
	p.sees("a speed between 0 and 400")
	p.click("On stands")
	p.sees("Chock the wheels; jack stands under the rated points")
	p.sees("4.878 turns, rolls forward")
	p.click("Show it")
	p.answers("4.1 turns of the rear driveshaft turn the wheels once, forward.")
	p.until("the drawing", "document.querySelector('.machine')")
	p.sees("4.878 turns")
}

// A corner, a broken shaft, losses; motion stops on request.
func TestCornerBreakAndMotion(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.motion("no-preference")
	p.visit("/trace?layout=change_gears")
	p.answers("turn the wheels once, forward")
	p.sees("set by grip")
	p.choose("Corner", "to the left")
	p.answers("It binds")
	p.fill("radius, m", "0.2")
	p.sees("the inner wheels would stand still")
	p.fill("radius, m", "9")
	p.answers("It binds by 9.09 %.") // carrier against the inner wheel: 9 ÷ 8.25
	p.choose("Corner", "straight ahead")
	p.until("no bind", "!document.querySelector('.answer').textContent.includes('bind')")
	mark := `document.querySelector('.look-wheel .disc-teeth').getAttribute('d')`
	was := eval[string](p, mark)
	p.until("the wheels to turn", mark+" !== "+quote(was))
	p.click("Pause (P)")
	was = eval[string](p, mark)
	for range 5 {
		if eval[string](p, mark) != was {
			t.Fatal("it goes on turning after pause")
		}
	}
	p.click("Step a sixteenth of an input turn (.)")
	p.until("a step", mark+" !== "+quote(was))
	p.click("Gearbox")
	p.click("Show as broken: passes no torque")
	p.answers("The vehicle stays put")
	p.click("Power")
	p.sees("is taken as broken")
}

// The shop's parts: out as CSV, a faulty file refused by line, a good one in.
func TestPartsPage(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.click("Shop")
	p.click("Driveline parts")
	p.sees("Holt R5")
	p.fill("Search parts", "crawler")
	p.seesNot("Holt R5")
	p.sees("Holt T2 crawler")
	p.fill("Search parts", "")
	p.give("bad.csv", "kind,maker,name,notes,figures\naxle,Varn,Good,,ring=41; pinion=9\naxle,Varn,Bad,,ring=41; pinion=none\n")
	p.sees("Nothing imported.")
	p.sees("line 3: pinion of a axle")
	p.seesNot("Varn, Good")
	p.give("good.csv", "kind,maker,name,notes,figures\nhub,Tornock,Tornock hub 24-60,planetary,type=planetary; sun=24; ring=60\n")
	p.sees("1 parts imported.")
	p.sees("Tornock hub 24-60")
	p.click("Remove Tornock hub 24-60")
	p.sees("removed.")
	p.click("Undo")
	p.sees("Tornock hub 24-60")
	p.give("no.json", "{")
	p.sees("This file is not JSON.")
}

// Everything on the trace by the keyboard, and no page wider than a phone.
func TestTraceByKeyboardAndPhone(t *testing.T) {
	srv, _ := testkit.Server(t, true)
	p := openAt(t, srv.URL, 1280, 800)
	p.visit("/")
	p.sees("What gear ratio is in it?")
	p.press("t", "Pick a layout")
	p.tabTo(control("Four-wheel, 60 : 40 center"))
	p.keys(kb.Enter)
	p.sees("Nothing known yet")
	p.tabTo(control("With example figures"))
	p.keys(kb.Enter)
	p.answers("10.284 turns")
	p.tabTo(`document.querySelector('input[aria-label="Gearbox: 1st gear"]')`)
	p.keys(kb.ArrowRight + kb.ArrowRight)
	p.answers("3.583 turns")
	eval[bool](p, "(document.activeElement.blur(), true)")
	p.keys("l")
	p.until("low range", `document.querySelector('input[aria-label="Transfer case range: low range"]').checked`)
	p.keys("c")
	p.until("center locked", `document.querySelector('input[aria-label="Transfer case center lock: center locked"]').checked`)
	p.keys("0")
	p.answers("10.284 turns")
	// It is still here after a reload, and gone when another is wanted.
	p.visit("/trace")
	p.answers("10.284 turns")
	q := openAt(t, srv.URL, 390, 844)
	q.visit("/trace?layout=rear_drive")
	q.answers("turns of the crankshaft")
	if w := eval[int](q, "document.documentElement.scrollWidth"); w > 390 {
		t.Errorf("the trace is %d pixels wide on a phone of 390", w)
	}
	if !strings.Contains(eval[string](q, "document.body.innerText"), "Rear left wheel") {
		t.Error("no ends on the phone")
	}
}

// On no machine does a name or lever lie over another, however narrow the
// screen is: the drawing scrolls before that.
func TestNamesKeepApart(t *testing.T) {
	for _, width := range []int64{1280, 820, 390} {
		t.Run(fmt.Sprint(width), func(t *testing.T) {
			p := open(t, true, width, 800)
			for _, l := range driveline.Layouts() {
				p.visit("/trace?layout=" + l.ID)
				p.until("the machine", "document.querySelectorAll('.machine-inner .spot').length > 0")
				var over []string
				for range 20 { // names move when the fonts have come
					if over = eval[[]string](p, overlaid); len(over) == 0 {
						break
					}
					time.Sleep(50 * time.Millisecond)
				}
				for _, pair := range over {
					t.Errorf("%s: %s", l.ID, pair)
				}
			}
		})
	}
}

// overlaid lists the names on the drawn machine that lie over each other.
const overlaid = `(() => {
	const all = [...document.querySelectorAll('.machine-inner .spot')].filter(e => e.getBoundingClientRect().width > 0);
	const r = all.map(e => e.getBoundingClientRect());
	return all.flatMap((a, i) => all.slice(i + 1).flatMap((b, k) => {
		const j = i + 1 + k;
		const wide = Math.min(r[i].right, r[j].right) - Math.max(r[i].left, r[j].left);
		const high = Math.min(r[i].bottom, r[j].bottom) - Math.max(r[i].top, r[j].top);
		return wide > 1 && high > 1 ? [a.textContent.slice(0, 30) + ' / ' + b.textContent.slice(0, 30)] : [];
	}));
})()`
