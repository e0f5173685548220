package e2e

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// From "no drive" to the sheared stub, as far as anything outside tells: the
// lock tells left from right.
func TestFindTheFault(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/units/8/find-fault")
	p.sees("Which part it is")
	p.until("the complaints", `(() => { const e = document.querySelector('input[aria-label="Complaint"]'); if (!e) return false; e.focus(); e.click(); return [...document.querySelectorAll('[role=option]')].some(o => o.textContent === 'No drive in first gear'); })()`)
	p.click("No drive in first gear")
	p.sees("Likeliest: sheared half shaft or stub of the rear")
	p.sees("What do you see?")
	// What a sheared right stub shows: only the left wheel follows.
	p.until("the test with the lock", `[...document.querySelectorAll('button b')].some(b => /rear left wheel turns as it should; rear right wheel does not turn/.test(b.textContent))`)
	p.axe("find the fault")
	i := eval[int](p, `[...document.querySelectorAll('button b')].findIndex(b => /rear left wheel turns as it should; rear right wheel does not turn/.test(b.textContent))`)
	p.keys([]string{"1", "2", "3", "4", "5", "6"}[i])
	p.sees("rear right wheel")
	p.until("the right stub to lead", `/sheared half shaft or stub of the rear right wheel/.test(document.querySelector('.decide-plate h2').innerText)`)
	if !strings.Contains(eval[string](p, `document.body.innerText`), "It stands on stands") {
		t.Error("the stands are gone")
	}
	p.click("Keep with the unit")
	p.sees("Recorded: Fault: Likeliest: sheared half shaft or stub of the rear right wheel")
	// What was tried survives a reload, and is taken back.
	p.visit("/units/8/find-fault")
	p.until("the right stub to lead", `/rear right wheel/.test(document.querySelector('.decide-plate h2')?.innerText)`)
	p.click("Begin anew")
	p.sees("Which part it is")
	p.keys(kb.Escape)
}
