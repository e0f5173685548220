package e2e

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// axe holds the page as it is to every rule of axe-core, and its contrasts in the other
// scheme as well.
func (p *page) axe(view string) {
	p.t.Helper()
	source, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	if err != nil {
		p.t.Fatal(err)
	}
	p.settles()
	if !eval[bool](p, "'axe' in window") {
		eval[bool](p, string(source)+";true")
	}
	p.violations(view, "{resultTypes: ['violations']}")
	const turn = `(() => { const d = document.documentElement.dataset
		d.mantineColorScheme = d.mantineColorScheme === 'dark' ? 'light' : 'dark'
		return d.mantineColorScheme })()`
	scheme := eval[string](p, turn)
	p.settles()
	p.violations(view+" in "+scheme, "{resultTypes: ['violations'], runOnly: ['color-contrast']}")
	eval[string](p, turn)
}

func (p *page) violations(view, options string) {
	p.t.Helper()
	out, err := chromedp.Run(p.ctx, chromedp.Evaluate[string](`axe.run(document, `+options+`).then(r => JSON.stringify(
		r.violations.map(v => ({id: v.id, help: v.help,
			nodes: v.nodes.slice(0, 4).map(n => n.html.slice(0, 160) + ' ' + (n.any[0]?.message ?? ''))}))))`,
		func(q *runtime.EvaluateParams) { yes := true; q.AwaitPromise = &yes }))
	if err != nil {
		p.fail("axe: %v", err)
	}
	var found []struct {
		ID, Help string
		Nodes    []string
	}
	if err := json.Unmarshal([]byte(out), &found); err != nil {
		p.t.Fatal(err)
	}
	for _, v := range found {
		p.t.Errorf("%s: %s (%s)", view, v.Help, v.ID)
		for _, n := range v.Nodes {
			p.t.Logf("    %s", n)
		}
	}
}

func TestAccessibility(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/sign-in")
	p.sees("Demo shop")
	p.axe("sign-in")
	p.signIn("Oda Brenk")
	p.sees("Rescue van Tern 2")
	p.axe("begin")
	p.click("Units")
	p.until("the list of units", "document.querySelector('[data-part=units]')")
	p.sees("Skiff Little Auk")
	p.axe("units")
	p.click("Grouse 4")
	p.sees("History")
	p.axe("unit")
	p.measure("Rear axle")
	p.sees("for these very counts")
	p.axe("bench")
	p.press("e", "Which mistakes are allowed for")
	p.axe("explain")
	p.keys(kb.Escape)
	p.visit("/count/ring_and_pinion")
	p.sees("Nothing measured yet")
	for _, key := range []string{"1", "3", "4", "6"} {
		p.press(key, "Save this reading")
		p.axe("method " + key)
		p.click("Back")
		p.seesNot("Save this reading")
	}
	p.press("3", "Save this reading")
	p.click("Count Ring gear")
	p.is("[data-part=count]", "0")
	p.axe("counter")
	p.keys("   d")
	p.visit("/trace")
	p.sees("Where does the power go?")
	p.axe("layouts")
	for _, view := range []string{"power", "grip", "build", "gears", "shifts", "stands"} {
		p.visit("/units/8/trace?view=" + view)
		p.answers("16.646 turns")
		p.axe("trace, " + view)
	}
	p.visit("/units/8/trace")
	p.lever("Transfer case drive: 4WD")
	p.choose("Corner", "to the left")
	p.answers("It binds")
	p.click("Shafts")
	p.axe("trace, bind")
	p.visit("/units/8/regear")
	p.sees("Tires changed: what that does")
	p.axe("tires and gears, blank")
	p.fill("Tires now", "35x12.50R15")
	for _, tab := range []string{"Why", "Choices", "Gears", "Curves", "Estimate", "Other tires"} {
		p.sees("would pull like stock")
		p.click(tab)
		p.axe("tires and gears, " + tab)
	}
	p.visit("/units/8/speedometer")
	p.fill("Tire on it", "33x12.50R15")
	p.fill("Drive gear installed", "11")
	p.fill("Driven gear installed", "31")
	p.sees("Installed now")
	p.axe("speedometer gears")
	p.click("Count: Drive gear installed")
	p.axe("helical gear")
	p.keys(kb.Escape)
	p.click("Pulses")
	p.fill("Tone ring teeth", "8")
	p.sees("Calibrate to")
	p.axe("speedometer pulses")
	p.click("Check on the road")
	p.fill("Needle shows, km/h", "76")
	p.fill("Distance, m", "1000")
	p.fill("Time, s", "50")
	p.sees("+5.56 %")
	p.axe("check on the road")
	p.click("Fitting and rules")
	p.axe("fitting")
	p.visit("/units/6/change-gears")
	p.sees("→ drives forward")
	for _, tab := range []string{"Ladder", "Every gear", "Direction", "Swap, step by step", "Event", "Recorded run", "Order sheet"} {
		p.click(tab)
		p.axe("change gears, " + tab)
	}
	p.visit("/units/5/gearcase")
	p.click("Start from these figures")
	p.sees("The box makes them all")
	p.axe("shims")
	p.click("Backlash")
	p.click("Start from these figures")
	p.sees("Good: 0.225 mm")
	p.axe("backlash")
	p.click("While the gearcase is apart")
	p.sees("Water in the oil")
	p.axe("inspection")
	p.visit("/units/5/propeller")
	p.fill("Engine rpm, steady", "4600")
	p.fill("Speed, kn", "17.2")
	p.sees("as it should be")
	p.axe("propeller")
	p.visit("/shop")
	p.sees("63 rows")
	p.axe("shop")
	p.click("Edit Brannik 240 ring and pinion pair 37-10")
	p.axe("shop, a row in editing")
	p.visit("/shop/parts")
	p.sees("Holt R5")
	p.axe("parts")
	p.visit("/people")
	p.sees("Add someone")
	p.axe("people")
}
