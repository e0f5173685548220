package e2e

import "testing"

// A server without HTTPS says what phones can't do then, and how to get there.
func TestOnPhones(t *testing.T) {
	p := open(t, true, 390, 844)
	p.visit("/phones")
	p.sees("This server is reached without HTTPS.")
	p.sees("zorvel serve --https")
	p.axe("on phones")
}

// The contract is a page for those who script, with its rooms, operations and examples,
// and asks for nothing from elsewhere.
func TestContractAsAPage(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/api")
	p.sees("The interface for scripts")
	p.until("the rooms", "document.querySelectorAll('.opblock-tag').length > 15")
	p.clickAt("[...document.querySelectorAll('.opblock-tag')].find(e => e.innerText.includes('Measure a ratio'))")
	p.clickAt("[...document.querySelectorAll('.opblock-summary')].find(e => e.innerText.includes('/calc/identify'))")
	p.until("the example", "document.body.innerText.includes('5 and two tenths')")
	if eval[bool](p, "performance.getEntriesByType('resource').some(r => !r.name.startsWith(location.origin) && "+
		"!r.name.startsWith('data:'))") {
		t.Error("the page asks elsewhere")
	}
}
