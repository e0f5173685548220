package e2e

import (
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// Words that can mean two things are asked; a reading outside its own range is
// named and taken again blind; Esc closes a card from within its field; what
// the list leaves out is told.
func TestHonestAnswers(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/count/ring_and_pinion")
	p.sees("Nothing measured yet")
	p.until("the page's name", "document.title === 'Ring and pinion · Zorvel'")
	p.keys("1")
	p.fill("The tag says", "3.73")
	p.sees("Understood: Tag says 3.73")
	p.keys(kb.Escape)
	p.sees("Readings")
	p.keys("1")
	if got := p.value("The tag says"); got != "3.73" {
		t.Errorf("Esc lost what was typed: %q", got)
	}
	p.click("Save this reading")
	p.sees("Nothing was counted or turned")
	p.keys("2")
	p.fill("The stamp says", "41 11")
	p.sees("Understood: Stamped 41 11")
	p.click("Save this reading")
	p.sees("2 Stamp")
	p.keys("4")
	p.click("Both turned together, I saw it")
	p.click("In words")
	p.fill("Turns, in your own words", "three quarter")
	p.sees(`can be understood in more than one way`)
	p.fill("Turns, in your own words", "a hair past four")
	p.sees("shaft 4 + 0.05 turns by eye")
	p.click("Save this reading")
	p.sees("leaves out 3.73")
	p.sees("conflict")
	p.click("Again, blind")
	p.sees("Counting blind")
	p.keys(kb.Escape)
	p.sees("Readings")
	p.keys("e")
	p.sees("How the sets compare")
	p.sees("more sets with at least one chance in a million")
	before := eval[int](p, "document.querySelectorAll('[data-part=explain] tr').length")
	p.rests(".mantine-Drawer-content")
	p.click("Show them")
	p.until("more sets", "document.querySelectorAll('[data-part=explain] tr').length > "+strconv.Itoa(before)+" + 5")
}

// A gear that is taken out leaves each ratio beside its own gear, and undo puts
// it back into the fields.
func TestFieldsFollowTheirValues(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/trace?layout=part_time&view=build")
	gearbox := `[...document.querySelectorAll('.build-panel select')][0]`
	p.until("the parts", gearbox)
	eval[bool](p, `(() => { const s = `+gearbox+`; Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(s, 'gearbox'); s.dispatchEvent(new Event('change', {bubbles: true})); return true })()`)
	const ratios = `[...document.querySelectorAll('.gears-edit tbody tr')].map(r => [...r.querySelectorAll('input')].map(i => i.value).join(' ')).join('; ')`
	p.until("the gears", `document.querySelectorAll('.gears-edit tbody tr').length > 3`)
	before := eval[string](p, ratios)
	rows := strings.Split(before, "; ")
	p.clickAt(`document.querySelector('[aria-label="Remove gear 1"]')`)
	p.until("the rest to stay beside their gears", ratios+" === "+quote(strings.Join(rows[1:], "; ")))
	p.clickAt(`document.querySelector('[aria-label^="Undo"]')`)
	p.until("undo to bring the gear back", ratios+" === "+quote(before))
}

// A first day: no row in any list. Re-gearing answers with commonly made
// pairs, and the shop takes over those that it chooses; open answers follow.
func TestEmptyShopTakesOver(t *testing.T) {
	p := open(t, false, 1280, 800)
	p.visit("/owner")
	p.fill("Your name", "Oda Brenk")
	p.fill("Sign-in name", "oda")
	p.fill("Password", "chalk-and-flange")
	p.keys(kb.Enter)
	p.sees("What gear ratio is in it?")
	p.visit("/regear")
	p.fill("Gearbox ratios, first gear first", "4.06 2.37 1.49 1 0.84")
	p.fill("Axle ratio now", "41/10")
	p.fill("Tires before", "225/75R16")
	p.fill("Tires now", "33 12.50 15")
	p.sees("Radial or bias isn't marked")
	p.sees("a commonly made pair, in none of the shop's lists")
	p.keys(kb.Tab) // closes what the field suggests
	p.click("bias")
	p.sees("bias): 318 mm wide")
	p.visit("/shop/gear_sets")
	p.sees("Start from what is commonly made")
	p.fill("Family these fit", "Varn 220")
	p.click("Check all")
	p.click("Add 24")
	p.sees("what the file would do")
	p.click("Import")
	p.sees("Imported: 24 new")
	p.until("the rows", "document.querySelectorAll('table.catalog tbody tr').length >= 24")
	p.visit("/shop/settings")
	p.click("New row")
	p.until("the new row", "document.querySelector('[data-cell=value]')")
	p.clickAt("document.querySelector('[data-cell=value]')")
	p.keys("kr")
	p.keys(kb.Enter)
	p.until("the currency", "document.querySelector('table.catalog tbody').innerText.includes('kr')")
	p.visit("/regear")
	p.sees("Fit 4.56 (41/9).")
}
