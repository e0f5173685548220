package e2e

import (
	"encoding/json"
	"fmt"
	"net/http"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// choose picks an option of a native select by its label's text.
func (p *page) choose(label, option string) {
	p.t.Helper()
	p.until("the choice "+label+": "+option, `[...(`+field(label)+`?.options ?? [])].some(o => o.textContent.trim() === `+quote(option)+`)`)
	if !eval[bool](p, `(() => {
		const e = `+field(label)+`, o = [...e.options].find(o => o.textContent.trim() === `+quote(option)+`);
		if (!o) return false;
		Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(e, o.value);
		e.dispatchEvent(new Event('change', {bubbles: true}));
		return true;
	})()`) {
		p.fail("%s offers no %q", label, option)
	}
}

// An owner adds a unit and its line, looks things up, changes notes.
func TestUnitFromNothing(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Oda Brenk")
	p.click("Units")
	p.until("the list of units", "document.querySelector('[data-part=units]')")
	p.sees("Skiff Little Auk")
	p.fill("Search units", "outboard")
	p.seesNot("Ember")
	p.sees("Skiff Little Auk")
	p.fill("Search units", "zeppelin")
	p.sees(`Nothing on record matches "zeppelin".`)
	p.fill("Search units", "")
	p.sees("Ember")
	p.click("Add a unit")
	p.fill("Name", "Tender 5")
	p.choose("Kind of unit", "Boat")
	p.choose("Layout", "Outboard")
	p.clickAt("[...document.querySelectorAll('[role=dialog] button[type=submit]')][0]")
	p.sees("Unit added: Tender 5")
	p.sees("Open items")
	p.until("the gearcase's door", "document.querySelector('[data-part=gearcase]')")
	p.clickAt("document.querySelector('[data-part=gearcase]')")
	p.sees("Its ratio")
	p.click("Measure: Gearcase")
	p.sees("Tender 5 · Gearcase")
	p.sees("Nothing measured yet")
	p.click("Tender 5")
	p.fill("Notes", "leaks at the propeller shaft")
	p.click("Save")
	p.sees("Unit notes changed")
}

// A four-wheel unit from its layout: both axles and the low range measured from
// their doors, the rear gears swapped, and what that does to the record, the
// trace and the plan.
func TestFromDoorToDoor(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	unit := fmt.Sprintf("/units/%d", p.sends("POST", "/api/v1/units", `{"name":"Grouse 12","kind":"truck","layout":"part_time"}`))
	p.visit(unit)
	count := func(door, measure string, counts ...string) {
		t.Helper()
		p.visit(unit)
		p.until("the door", "document.querySelector('[data-part="+door+"]')")
		p.clickAt("document.querySelector('[data-part=" + door + "]')")
		p.click("Measure: " + measure)
		p.click("3 Count teeth")
		for i := 0; i < len(counts); i += 2 {
			p.fill(counts[i], counts[i+1])
		}
		p.click("Save this reading")
		p.sees("Ivar Tolm,")
		p.seesNot("on this device")
	}
	count("rear", "Rear axle", "Ring gear", "41", "Pinion", "10")
	count("front", "Front axle", "Ring gear", "41", "Pinion", "10")
	count("case", "Transfer case low range", "Sun gear", "42", "Ring gear", "72")
	p.visit(unit)
	for part, says := range map[string]string{"rear": "4.10 ", "front": "4.10 ", "case": "low 2.71 "} {
		p.until("the "+part+" to say "+says, "document.querySelector('[data-part="+part+"]')?.textContent.includes('"+says+"')")
	}

	// Other gears in the rear housing.
	p.clickAt("document.querySelector('[data-part=rear]')")
	p.click("Gears swapped")
	p.fill("Note", "4.56 from the shelf")
	p.click("Save what was fitted")
	p.sees("Gears swapped in this housing: 4.56 from the shelf")
	p.until("the rear to be unknown", "document.querySelector('[data-part=rear]')?.textContent.includes('not measured')")
	p.sees("Rear axle: gears swapped in this housing: 4.56 from the shelf")
	p.click("Measure: Rear axle")
	p.sees("Readings from before no longer count.")
	p.sees("taken on the gears fitted before; no longer counts")
	p.sees("Nothing measured yet")
	p.visit(unit + "/trace?view=build")
	p.choose("Part", "Rear axle")
	p.until("its ratio to be unknown", "document.querySelector('.sources')?.textContent.includes('not known')")
	p.visit(unit + "/regear")
	p.fill("Tires before", "225/75R16")
	p.fill("Tires now", "235/85R16")
	p.sees("the ratio of the rear axle isn't known: measure it first")

	// What is in it now.
	count("rear", "Rear axle", "Ring gear", "41", "Pinion", "9")
	p.visit(unit)
	p.until("the rear to say 4.56", "document.querySelector('[data-part=rear]')?.textContent.includes('4.56 ')")
}

// A count that was made first is filed by pointing at the part.
func TestFileByPointing(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/count/ring_and_pinion")
	p.click("1 Tag")
	p.fill("The tag says", "4.10")
	p.click("Save this reading")
	p.click("File with a unit")
	p.choose("Unit", "Grouse 6")
	p.until("the machine", "document.querySelector('[role=dialog] [data-part=front]')")
	p.until("parts that are counted otherwise to be shut", "document.querySelector('[role=dialog] [data-part=gearbox]').disabled")
	p.clickAt("document.querySelector('[role=dialog] [data-part=front]')")
	p.until("the front axle to be chosen", field("Where it was counted")+".selectedOptions[0].textContent === 'Front axle'")
	p.click("File 1 reading")
	p.sees("Grouse 6 · Front axle")
	p.sees("Tag says 4.10")
	// A unit in which nothing is counted so.
	p.visit("/count/ring_and_pinion")
	p.click("1 Tag")
	p.fill("The tag says", "4.10")
	p.click("Save this reading")
	p.click("File with a unit")
	p.choose("Unit", "Skiff Little Auk")
	p.sees("No part of Skiff Little Auk is counted as ring and pinion.")
}

// A viewer reads everything and is offered nothing to change.
func TestViewerReadsOnly(t *testing.T) {
	p := open(t, true, 1024, 768)
	p.signIn("Runa Selk")
	p.click("Units")
	p.until("the list of units", "document.querySelector('[data-part=units]')")
	p.sees("Skiff Little Auk")
	for _, no := range []string{"Add a unit", "Import a unit"} {
		if eval[bool](p, "Boolean("+control(no)+")") {
			t.Errorf("a viewer is offered %q", no)
		}
	}
	p.click("Rescue van Tern 2")
	p.sees("History")
	p.measure("Rear axle")
	p.is("[data-part=ratio]", "5.22")
	p.seesNot("Void")
	if eval[bool](p, "Boolean("+control("1 Tag")+")") {
		t.Error("a viewer is offered methods")
	}
	p.visit("/people")
	p.sees("Ask the owner")
}

// The document of a unit comes back through the page; a broken one is
// refused with its field, and nothing is taken in.
func TestTakeInADocument(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/units")
	p.sees("Import a unit")
	p.give("no.json", "this is no document")
	p.sees("This is not a unit file. Pick a unit's .json, or its .zip with photos and recordings.")
	p.give("bad.json", `{"format":"zorvel-unit-1","name":"Half","kind":"van","stages":[{"name":"A","question":{"kind":"ring_and_pinion"},"readings":[{"by":"x","at":"2026-01-01T00:00:00Z","reading":{"method":"teeth","teeth":{"ring":41,"pinion":0}}}]}]}`)
	p.sees("/stages/0/readings/0/reading/teeth/pinion")
	good, err := json.Marshal(map[string]any{"format": "zorvel-unit-1", "name": "Brought along", "kind": "car", "stages": []any{
		map[string]any{"name": "Rear axle", "question": map[string]any{"kind": "ring_and_pinion"}, "readings": []any{
			map[string]any{"by": "Sel Mavry", "at": "2026-01-01T00:00:00Z", "reading": map[string]any{"method": "teeth", "teeth": map[string]int{"ring": 43, "pinion": 11}}},
		}},
	}})
	if err != nil {
		t.Fatal(err)
	}
	p.give("good.json", string(good))
	p.sees("Brought along")
	p.sees("Counted 43 ring gear teeth and 11 pinion teeth")
	p.sees("Sel Mavry")
	p.visit("/units")
	p.sees("Brought along")
	p.seesNot("Half")
}

// Stages with several ratios, planetary arrangements, and other stages' counts.
func TestOtherStagesOnTheBench(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/count/transfer_case")
	p.click("Low")
	p.sees("Transfer case low range")
	p.click("4 Bench turns")
	p.fill("Output turns made", "10")
	p.fill("Whole turns", "27")
	p.fill("Tenths of a turn", "1")
	p.is("[data-part=ratio]", "2.71")
	p.visit("/count/planetary")
	p.click("3 Count teeth")
	p.fill("Sun gear", "25")
	p.fill("Ring gear", "60")
	p.sees("no whole planet gear")
	p.fill("Sun gear", "30")
	p.is("[data-part=ratio]", "3.00")
	p.click("Save this reading")
	p.sees("Counted 60 ring gear teeth and 30 sun gear teeth")
	p.choose("Which member is held and which is driven", "carrier held, sun driven")
	p.sees("Nothing measured yet") // another question, another bench
	p.visit("/count/gearbox")
	p.fill("Which gear", "R")
	p.clickAt("document.querySelector('h1')")
	p.sees("Gearbox reverse")
}

// Inches are turned into millimeters before they leave the page; words said
// both ways are asked about.
func TestInchesAndWords(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/count/ring_and_pinion")
	p.inches()
	p.click("4 Turn wheels")
	p.click("Both turned together, I saw it")
	p.fill("Whole turns", "4")
	p.click("Partial turn: by tape")
	p.fill("Arc along the rim, in", "1.5")
	p.fill("Rim, in", "15")
	p.sees("shaft 4 + 38.1 mm of a rim of 381 mm circumference")
	p.is("[data-part=ratio]", "about 4.10")
	p.fill("Arc along the rim, in", "20")
	p.sees("is longer than the rim")
	p.fill("Note", "feels like a higher gear")
	p.sees("Shops say this both ways.")
	p.click("a shorter gear: numerically higher")
	p.until("the note to say shorter", field("Note")+".value === 'feels like a shorter gear'")
}

// Struck out on the device, before anything is filed; and other ways to go on.
func TestStrikeAndOtherWays(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/count/ring_and_pinion")
	p.click("1 Tag")
	p.fill("The tag says", "four-ten")
	p.sees("Read as the ratio 4.10.")
	p.click("Save this reading")
	p.is("[data-part=ratio]", "4.10")
	p.click("Other ways")
	p.sees("Until settled")
	p.sees("open the housing, count the teeth of ring gear and pinion")
	p.clickAt("[...document.querySelectorAll('.linklike')].find(e => e.textContent.includes('count the teeth'))")
	p.sees("Counting blind")
	p.click("Back")
	p.click("Void")
	p.fill("Why", "read from another axle")
	p.clickAt("[...document.querySelectorAll('[role=dialog] button[type=submit]')][0]")
	p.sees("read from another axle")
	p.sees("Nothing measured yet")
	p.click("Seized wheel or brake")
	p.sees("Nothing measured yet. First: look for the tag")
}

// The page never asks another host for anything.
func TestNothingFromElsewhere(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/")
	p.sees("What gear ratio is in it?")
	for _, url := range eval[[]string](p, "performance.getEntriesByType('resource').map(r => r.name)") {
		if len(url) < len(p.base) || url[:len(p.base)] != p.base {
			t.Errorf("the page loads %s", url)
		}
	}
	res, err := http.Get(p.base + "/")
	if err != nil {
		t.Fatal(err)
	}
	_ = res.Body.Close()
	if res.StatusCode != 200 {
		t.Error(res.Status)
	}
}

// Two people write about one unit: neither loses what was typed, and neither
// overwrites the other unseen.
func TestNotesFromTwoHands(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Oda Brenk")
	p.visit("/units/1")
	p.fill("Notes", "the seal weeps")
	// Ivar's reading arrives: what is being typed stays.
	p.sends("POST", "/api/v1/stages/2/readings", `{"readings":[{"key":"elsewhere","reading":{"method":"tag","text":"2.08"}}]}`)
	p.sends("PATCH", "/api/v1/units/1", `{"notes":"new anode fitted"}`)
	p.click("Save")
	p.sees("Someone else changed this unit while you were typing. It now says:")
	p.sees("new anode fitted")
	if v := p.value("Notes"); v != "the seal weeps" {
		t.Errorf("what was typed became %q", v)
	}
	p.click("Use mine")
	p.seesNot("Someone changed this unit meanwhile")
	p.click("Save")
	p.sees("Saved.")
	p.sends("PATCH", "/api/v1/units/1", `{"notes":"anode is the aluminum one"}`)
	p.fill("Name", "Tender three")
	p.click("Save")
	p.sees("anode is the aluminum one")
	p.click("Use theirs")
	p.until("the other's words in the field", field("Notes")+".value === 'anode is the aluminum one'")
	if v := p.value("Name"); v != "Tender 3" {
		t.Errorf("the name is %q after taking what is there", v)
	}
}

// Everyone changes their own password from their own menu.
func TestChangeYourPassword(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Runa Selk")
	p.click("Signed in: Runa Selk")
	p.click("Change your password")
	p.fill("Password now", "a-wrong-guess")
	p.fill("New password", "a-new-long-word")
	p.click("Change")
	p.sees("this isn't the password that you sign in with now")
	p.fill("Password now", "office-reads-only")
	p.click("Change")
	p.sees("Your password is changed.")
	p.click("Signed in: Runa Selk")
	p.click("Sign out")
	p.sees("Sign in")
	p.visit("/sign-in")
	p.fill("Sign-in name", "runa")
	p.fill("Password", "a-new-long-word")
	p.keys(kb.Enter)
	p.sees("Runa Selk")
}
