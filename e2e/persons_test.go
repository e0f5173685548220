package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"zorvel/internal/demo"
	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// beside is another tab of the same browser.
func (p *page) beside(width, height int64) *page {
	p.t.Helper()
	ctx, cancel := chromedp.NewContext(p.ctx)
	p.t.Cleanup(cancel)
	q := &page{p.t, ctx, p.base}
	q.do(chromedp.EmulateViewport(width, height))
	return q
}

// takesOver signs someone else in behind the page's back, as another program on
// the device would, and at once presses what the person before was about to.
func (p *page) takesOver(signIn, button string) {
	p.t.Helper()
	for _, a := range demo.Accounts() {
		if a.SignIn == signIn {
			eval[bool](p, fmt.Sprintf(`(fetch('/api/v1/session', {method: 'POST', headers: {'Content-Type': 'application/json'}, body: JSON.stringify({sign_in: %q, password: %q})}).then(() => [...document.querySelectorAll('button')].find(b => b.textContent.trim() === %q).click()), true)`, a.SignIn, a.Password, button))
		}
	}
}

// What one person entered waits for them when another signed in meanwhile, and goes
// out under their own name; nothing of it is the other's.
func TestWhatWaitsIsItsPersons(t *testing.T) {
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	srv, st := testkit.Server(t, true)
	p := openAt(t, srv.URL, 1280, 800)
	ctx := t.Context()
	p.signIn("Ivar Tolm")
	units, _, err := st.Units(ctx, store.Asked{Name: "Grouse 4"})
	if err != nil || len(units) != 1 {
		t.Fatal(units, err)
	}
	stage := units[0].Stages[0]
	for _, s := range units[0].Stages {
		if s.Part == "front" {
			stage = s
		}
	}
	before, err := st.Readings(ctx, stage.ID)
	if err != nil {
		t.Fatal(err)
	}
	p.visit(fmt.Sprintf("/stages/%d", stage.ID))
	p.sees("Front axle")
	p.click("1 Tag")
	p.fill("The tag says", "4.56")
	p.sees("Save this reading")
	p.takesOver("oda", "Save this reading")
	p.sees("1 waiting")
	p.until("whose page it is now", `document.querySelector('[aria-label="Signed in: Oda Brenk"]')`)
	p.seesNot("on this device until the server has it")
	p.visit("/waiting")
	p.sees(`Tag "4.56", Front axle of Grouse 4`)
	p.sees("Someone else entered this. It waits until they sign in here.")
	p.axe("what waits for someone else")
	if now, err := st.Readings(ctx, stage.ID); err != nil || len(now) != len(before) {
		t.Errorf("%d readings, %d before, %v", len(now), len(before), err)
	}
	p.signIn("Ivar Tolm")
	p.seesNot("1 waiting")
	after, err := st.Readings(ctx, stage.ID)
	if err != nil || len(after) != len(before)+1 || after[len(after)-1].By != "Ivar Tolm" {
		t.Errorf("%d readings, %d before, %v", len(after), len(before), err)
	}
}

// What is typed is the person's who typed it: another who signs in begins with an
// empty form, in every tab, and the first finds it again.
func TestTypedTextIsItsPersons(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/units/8/service")
	const label = "Complaint, in the owner's words"
	p.fill(label, "Only Ivar's words")
	q := p.beside(1280, 800)
	q.signIn("Oda Brenk")
	// The first tab hears of it.
	p.sees("Oda Brenk")
	field := `[...document.querySelectorAll('textarea, input')].map(e => e.value).join('|')`
	for _, x := range []*page{p, q} {
		x.visit("/units/8/service")
		x.sees("Open job")
		if v := eval[string](x, field); v == "" || strings.Contains(v, "Only Ivar's words") {
			t.Errorf("another person's form holds %q", v)
		}
	}
	q.signIn("Ivar Tolm")
	q.visit("/units/8/service")
	q.until("his own words", field+`.includes("Only Ivar's words")`)
}

// After signing out nothing of the shop is in sight, also where the browser goes
// back.
func TestBackShowsNothing(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/units")
	p.sees("Grouse 4")
	p.click("Grouse 4")
	p.sees("About this unit")
	q := p.beside(1280, 800)
	q.visit("/units")
	q.sees("Grouse 4")
	p.click("Signed in: Ivar Tolm")
	p.click("Sign out")
	p.sees("Sign in")
	p.until("the first page", "location.pathname === '/'")
	p.seesNot("Grouse 4")
	for range 2 {
		eval[bool](p, "(history.back(), true)")
		p.sees("Please sign in")
		p.seesNot("Grouse 4")
	}
	q.sees("Please sign in")
	q.seesNot("Grouse 4")
}

// Counting without an account comes along with who signs in, and isn't the next
// person's.
func TestCountedBeforeSigningIn(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/count/ring_and_pinion")
	p.click("3 Count teeth")
	p.fill("Ring gear", "41")
	p.fill("Pinion", "10")
	p.is("[data-part=ratio]", "4.10")
	p.click("Save this reading")
	p.sees("Counted 41 ring gear teeth and 10 pinion teeth")
	p.signIn("Ivar Tolm")
	p.visit("/count/ring_and_pinion")
	p.sees("Counted 41 ring gear teeth and 10 pinion teeth")
	p.signIn("Oda Brenk")
	p.visit("/count/ring_and_pinion")
	p.sees("Nothing measured yet")
}
