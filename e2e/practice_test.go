package e2e

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"zorvel/core/practice"
)

// truthOf is the ratio of a hidden unit.
func truthOf(t *testing.T, task practice.Task) (label string, ratio float64) {
	t.Helper()
	s, err := practice.Work(practice.Question{Task: task, Acts: []practice.Act{{Do: "decide", Answer: "4.10"}}})
	if err != nil {
		t.Fatal(err)
	}
	ratio, err = strconv.ParseFloat(s.Review.Truth, 64)
	if err != nil {
		t.Fatal(err)
	}
	return s.Review.Truth, ratio
}

// angleOf is how a shaft of the drawn unit is turned.
func angleOf(shaft string) string {
	return `Number(document.querySelector('[data-shaft=` + shaft + `]').getAttribute('transform').match(/[-\d.]+/)[0])`
}

// steps are the buttons of an axle before it is turned, with what each shows.
var steps = [][2]string{{"Chock the wheels", "Wheels chocked"}, {"Jack up the left side", "Left side jacked up"},
	{"Jack up the right side", "Right side jacked up"}, {"Set it on jack stands",
		"On jack stands"}, {"Gearbox in neutral", "3. "},
	{"Parking brake off", "6. "}, {"Chalk marks on every shaft", "7. "}}

// One unit by the keyboard alone, from the board to the order: the wheels are turned by
// keys, and what hangs on them goes round.
func TestHiddenUnitByKeyboard(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	label, ratio := truthOf(t, practice.Task{Kind: "ratio", Level: 1, Seed: 7})
	p := open(t, true, 1280, 800)
	p.visit("/practice")
	p.sees("0 of 58 levels mastered. 0 done today.")
	p.tabTo(field("Unit number"))
	p.keys("ratio-1-7" + kb.Enter)
	p.sees("Which ratio is in its rear axle?")
	for i, s := range steps {
		p.tabTo(control(s[0]))
		p.keys(kb.Enter)
		p.until(s[0], fmt.Sprintf(`document.querySelectorAll('[aria-label="What you did"] li').length === %d`, i+1))
	}
	p.tabTo(`document.querySelector('[role=slider][aria-label="Turn both wheels"]')`)
	before := eval[float64](p, angleOf("input"))
	p.keys(kb.PageUp)
	p.until("the flange to follow", fmt.Sprintf("Math.abs(%s - %g) > 5", angleOf("input"), before))
	p.keys(strings.Repeat(kb.PageUp, 15))
	p.sees("Turned the wheels together")
	turns := 4 * ratio
	for _, f := range [][2]string{{"Left wheel, turns", "4"}, {"Right wheel, turns", "4"}, {"Flange, whole turns",
		fmt.Sprint(math.Floor(turns))},
		{"Partial turn", fmt.Sprintf("%.2f", turns-math.Floor(turns))}} {
		p.tabTo(field(f[0]))
		p.keys(kb.Backspace + kb.Backspace + f[1])
	}
	p.keys(kb.Enter)
	p.sees("Wrote down: Left wheel 4 turns, right wheel 4 turns")
	p.tabTo(field("Which ratio do you order?"))
	p.keys(label)
	p.tabTo(`document.querySelector('[role=slider][aria-label="How sure are you, in percent"]')`)
	p.keys(strings.Repeat(kb.ArrowRight, 8))
	p.sees("90 %")
	p.tabTo(control("Decide"))
	p.keys(kb.Enter)
	p.sees("Right: " + label)
	p.sees("15 of 15")
	p.sees("The cheapest way")
	p.visit("/practice")
	p.sees("1 done today")
}

// touch moves one finger along points of the page.
func (p *page) touch(points ...[2]float64) {
	p.t.Helper()
	for i, at := range append(points, [2]float64{}) {
		kind, list := input.DispatchTouchEventTypeTouchMove, []*input.TouchPoint{{X: at[0], Y: at[1]}}
		switch i {
		case 0:
			kind = input.DispatchTouchEventTypeTouchStart
		case len(points):
			kind, list = input.DispatchTouchEventTypeTouchEnd, []*input.TouchPoint{}
		}
		if _, err := chromedp.Call(p.ctx, input.DispatchTouchEvent, input.DispatchTouchEventParams{Type: kind,
			TouchPoints: list}); err != nil {
			p.t.Fatal(err)
		}
	}
}

// tap touches the middle of a control, once it is in sight.
func (p *page) tap(js string) {
	p.t.Helper()
	p.until("what is to be touched", js)
	at := eval[[2]float64](p, `(() => { const e = `+js+`;
		e.scrollIntoView({block: 'center'});
		const r = e.getBoundingClientRect();
		return [r.x + r.width / 2, r.y + r.height / 2]; })()`)
	p.touch(at)
}

// One unit by touch on a phone, from lifting to the order: the wheels are dragged around.
func TestHiddenUnitByTouch(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	label, ratio := truthOf(t, practice.Task{Kind: "ratio", Level: 1, Seed: 9})
	p := open(t, true, 390, 844)
	if _, err := chromedp.Call(p.ctx, emulation.SetTouchEmulationEnabled,
		emulation.SetTouchEmulationEnabledParams{Enabled: true}); err != nil {
		t.Fatal(err)
	}
	p.visit("/practice/unit/ratio/1/9")
	p.sees("Which ratio is in its rear axle?")
	for i, s := range steps {
		p.tap(control(s[0]))
		p.until(s[0], fmt.Sprintf(`document.querySelectorAll('[aria-label="What you did"] li').length === %d`, i+1))
	}
	wheel := `document.querySelector('[role=slider][aria-label="Turn both wheels"]')`
	eval[bool](p, `(`+wheel+`.scrollIntoView({block: 'center'}), true)`)
	p.settles()
	box := eval[[3]float64](p, `(() => { const r = `+wheel+`.getBoundingClientRect();
		return [r.x + r.width / 2, r.y + r.height / 2, r.width * 0.4]; })()`)
	var circle [][2]float64
	for i := 0; i <= 4*24; i++ {
		a := 2 * math.Pi * float64(i) / 24
		circle = append(circle, [2]float64{box[0] + box[2]*math.Sin(a), box[1] - box[2]*math.Cos(a)})
	}
	p.touch(circle...)
	p.sees("Turned the wheels together")
	turns := 4 * ratio
	for _, f := range [][2]string{{"Left wheel, turns", "4"}, {"Right wheel, turns", "4"}, {"Flange, whole turns",
		fmt.Sprint(math.Floor(turns))},
		{"Partial turn", fmt.Sprintf("%.2f", turns-math.Floor(turns))}} {
		p.fill(f[0], f[1])
	}
	p.tap(control("Write it down"))
	p.sees("Wrote down: Left wheel 4 turns, right wheel 4 turns")
	p.fill("Which ratio do you order?", label)
	p.tap(control("Decide"))
	p.sees("Right: " + label)
	if wide := eval[float64](p, "document.documentElement.scrollWidth"); wide > 390 {
		t.Errorf("the review is %v wide on a phone", wide)
	}
	p.axe("a decided unit on a phone")
}

// Whoever wants no motion passes the teeth himself; the count is the same.
func TestDrillWithReducedMotion(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	p := open(t, true, 820, 1180)
	p.visit("/practice/drill/interruptions?level=1&cards=1")
	p.click("Start")
	next, asked := control("Next tooth"), `document.querySelector('[role=alertdialog] button')`
	n := 0
	for range 90 {
		if !eval[bool](p, "Boolean("+next+")") {
			if !eval[bool](p, "Boolean("+asked+")") {
				break
			}
			p.clickAt(asked)
			continue
		}
		p.clickAt(next)
		n++
	}
	p.sees("That was the last one.")
	p.fill("Your answer, in teeth", fmt.Sprint(n))
	p.click("Answer")
	p.sees("Right. ")
	p.click("Sum up")
	p.sees("1 of 1 right, 100 points")
}

// What moves by itself moves: teeth pass, one after the other.
func TestTeethPass(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	p := open(t, true, 1280, 800)
	p.motion("no-preference")
	p.visit("/practice/drill/interruptions?level=1&cards=1")
	p.click("Start")
	teeth := `document.querySelectorAll('[aria-label="Teeth passing a chalk mark"] path').length`
	p.until("teeth to pass up to the interruption", `document.querySelector('[role=alertdialog]')`)
	before := eval[float64](p, teeth)
	p.clickAt(`document.querySelector('[role=alertdialog] button')`)
	p.until("teeth to pass on", fmt.Sprintf("%s !== %g || document.body.innerText.includes('That was the last one.')",
		teeth, before))
}

// The differential is built until it turns a corner.
func TestDifferentialIsBuilt(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	p := open(t, true, 1280, 800)
	p.visit("/practice/drill/differential?level=1&cards=1")
	put := func(left, carrier, right string) {
		p.choose("On the left axle shaft", left)
		p.choose("Through the carrier", carrier)
		p.choose("On the right axle shaft", right)
		p.click("Try it around a corner")
	}
	put("A clamp to the carrier", "Nothing", "A clamp to the carrier")
	p.sees("In a corner it binds")
	p.click("Build it again")
	put("A hub with spokes", "A bar that swings about its middle", "A hub with spokes")
	p.sees("around a corner the outer one gains what the inner one loses")
	p.sees("in a corner 1.1")
}

// What is done without an account stays on the device, is there after a reload, and goes
// along at sign-in.
func TestPracticeGoesAlong(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	p := open(t, true, 1280, 800)
	p.visit("/practice/drill/taller?level=1&cards=3")
	for range 2 {
		p.sees("shorter or taller?")
		p.keys("1")
		p.click("Next card")
	}
	p.visit("/practice/unit/ratio/1/7")
	p.fill("Which ratio do you order?", "4.10")
	p.click("Decide")
	p.sees("of 100 points")
	p.visit("/practice")
	p.sees("3 done today")
	p.sees("Saved on this device.")
	p.signIn("Runa Selk")
	p.visit("/practice")
	p.sees("Saved with Runa Selk's account.")
	p.sees("3 done today")
	p.until("the account to have it", `fetch('/api/v1/practice').then(r => r.json())
		.then(x => { window.own = x.results.length; }), window.own === 3`)
	p.until("nothing to wait here", `!Object.keys(localStorage).some(k => k.endsWith('zorvel.practice.done'))`)
	p.visit("/practice/unit/ratio/1/7")
	p.sees("of 100 points")
	p.visit("/practice")
	p.sees("3 done today")
}

// A teacher makes a task of a unit of the shop; its truth leaves as a file, and the class
// works at it without.
func TestTeacherMakesATask(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/practice")
	p.click("Make a task")
	p.sees("Save the task")
	p.axe("a new task")
	p.fill("Title", "Spare axle on the rack")
	p.fill("Story for the learner", "It came with the yard. What is in it?")
	p.fill("Ring gear, teeth", "41")
	p.click("Save the task")
	p.sees("count every gear")
	p.fill("Pinion, teeth", "11")
	p.click("Save the task")
	p.sees("It came with the yard.")
	p.click("Spare axle on the rack")
	p.sees("A teacher's task")
	p.fill("Which ratio do you order?", "3.73")
	p.click("Decide")
	p.sees("Right: 3.73")
	p.visit("/practice")
	p.click("Import a task")
	p.give("task.json", `{"format":"zorvel-task-1","title":"From a file","story":"Another yard's.",
		"stage":{"kind":"ring_and_pinion"},"teeth":{"ring":37,"pinion":9}}`)
	p.sees("Another yard's.")
	p.give("list.json", `{"format":"list"}`)
	p.sees("This is no task")
}

// The owner sees the class without names, and by name who shares; a learner's certificate
// is a sheet.
func TestTheClassIsSeen(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/practice")
	p.sees("5 of 58 levels mastered")
	p.sees("Your eye, over 36 cards")
	if got := p.fetches("/api/v1/practice/certificate"); got != "200 %PDF-" {
		t.Errorf("%.20q", got)
	}
	p.click("The owner sees how far I am")
	p.until("it to be shared", `fetch('/api/v1/practice').then(r => r.json())
		.then(x => { window.shared = x.shared; }), window.shared`)
	p.signIn("Oda Brenk")
	p.visit("/practice")
	p.click("The class")
	p.sees("1 person has practiced.")
	p.sees("Shown once three people have practiced")
	p.sees("5 of 58 levels")
	p.axe("the class")
}

// What practice shows of a learner's eye is offered where a partial turn is read by eye, and
// counts only where he says so.
func TestOwnEyeIsOffered(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/practice")
	p.sees("Your eye, over 36 cards")
	p.visit("/count/ring_and_pinion")
	p.press("4", "Driveshaft flange")
	p.fill("Wheel turns", "4")
	p.click("Both turned together, I saw it")
	p.fill("Whole turns", "16")
	p.fill("Tenths of a turn", "4.4")
	p.sees("shaft 16 + 0.44 turns by eye")
	p.click("Use my own eye")
	p.sees("shaft 16 + 0.44 turns by own eye")
}

// The broken part, the set-up and the orders from a list, each worked to its review.
func TestEveryKindOfUnit(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	p := open(t, true, 1280, 800)
	p.visit("/practice/unit/setup/1/2")
	p.click("Zero the dial on a tooth")
	p.sees("Zeroed the dial")
	p.click("Measure backlash at eight places")
	p.sees("Measured backlash")
	p.click("Paint and roll a pattern")
	p.until("the pattern", `document.querySelector('[aria-label^="Drive side: "]')`)
	p.fill("Left carrier, mm", "1.05")
	p.click("Take it apart and fit these")
	p.sees("Fitted pinion 1.2, left 1.05")
	p.picks("Is it done?", "In spec: seal it up")
	p.click("Decide")
	p.sees("changes the bearing preload")
	p.visit("/practice/unit/broken/1/1")
	p.click("Chock the wheels both ways")
	p.sees("Chocked both ways")
	p.choose("Tests at", "Rear axle")
	p.until("only the tests there", `
		[...document.querySelectorAll('main summary')].every(s => !/driveshaft/.test(s.textContent))`)
	p.choose("Tests at", "Driveshaft")
	p.click("Turn the driveshaft by hand")
	p.until("what the test showed", `document.querySelectorAll('[aria-label="What you did"] li').length === 2`)
	p.axe("a unit with a broken part")
	p.picks("Which part is it?", "Broken driveshaft or joint")
	p.click("Decide")
	p.sees("The cheapest way")
	p.visit("/practice/unit/tires/2/5")
	p.click("Read the plate in the door")
	p.sees("Tires when new")
	p.visit("/practice")
	p.sees("2 done today")
	p.axe("the board")
}

// Teeth pass the pointer one by one through the opening; the chalked one comes round after
// all of them, and the counts settle it.
func TestTeethOfAHiddenUnit(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	task := practice.Task{Kind: "ratio", Level: 1, Seed: 11}
	opened, err := practice.Work(practice.Question{Task: task, Acts: []practice.Act{{Do: "open"}}})
	if err != nil {
		t.Fatal(err)
	}
	ring, pinion := opened.Machine.Gears[0].Teeth, opened.Machine.Gears[1].Teeth
	p := open(t, true, 1280, 800)
	p.visit("/practice/unit/ratio/1/11")
	p.click("Chock the wheels")
	p.sees("Wheels chocked")
	p.click("Drain and open the housing")
	p.sees("No tooth is chalked yet")
	p.click("Chalk the start tooth of every gear")
	p.sees("The start tooth is chalked")
	p.click("pinion")
	chalked := `document.querySelectorAll('[aria-label="Teeth of the pinion"] ' +
		'g[transform="translate(320.0 0)"] path[d="M0 46V92"]').length > 0`
	p.until("the chalked tooth at the pointer", chalked)
	for i := range pinion {
		p.click("Next tooth")
		p.until("the chalk to have gone by", fmt.Sprintf("(%s) === %v", chalked, i == pinion-1))
	}
	p.axe("the opening")
	p.fill("Ring gear", fmt.Sprint(ring))
	p.fill("Pinion", fmt.Sprint(pinion))
	p.clickAt(`document.querySelector('form[aria-label="Teeth that you counted"] button[type=submit]')`)
	p.sees(fmt.Sprintf("Wrote down: Counted %d", ring))
}

// What the server refuses is said, and the unit stands as it was.
func TestWhatCantBeDoneIsSaid(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	p := open(t, true, 390, 844)
	p.visit("/practice/unit/ratio/1/7")
	p.sees("Chock the wheels")
	p.click("Chock the wheels")
	p.sees("Wheels chocked")
	p.click("Write it down")
	p.sees("nothing was marked: chalk marks first")
	p.sees("Wheels chocked")
	p.click("Chalk marks on every shaft")
	p.until("the next step to be done", `document.querySelectorAll('[aria-label="What you did"] li').length === 2`)
	p.seesNot("nothing was marked")
	p.visit("/practice/unit/ratio/1/99999999999")
	p.until("a word about the number", `document.querySelector('[role=alert]')`)
}
