package e2e

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	cdppage "github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
)

// run does something on the page.
func (p *page) run(js string) {
	p.t.Helper()
	eval[bool](p, "("+js+", true)")
}

// shows waits until the list shows just these units.
func (p *page) shows(want string) {
	p.t.Helper()
	p.until("the units "+want, `[...document.querySelectorAll('[data-part=unit] b')].map(b => b.innerText).join(', ') === `+quote(want))
}

// Every truck with 4.10 gears: filtered, saved, found again by its address, taken
// away; and what is ordered by name.
func TestFilteredList(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Oda Brenk")
	p.visit("/units")
	p.sees("9 units.")
	p.choose("Order", "By name")
	p.shows("Ember, Forwarder Birk, Grouse 4, Grouse 6, Plow truck Bell, Rescue van Tern 2, Skiff Little Auk, Tender 3, Transfer case from Grouse 2")
	p.choose("Kind", "Boat")
	p.shows("Skiff Little Auk, Tender 3")
	p.choose("Measured or not", "has a measured ratio")
	p.shows("Skiff Little Auk")
	p.click("Show all")
	p.sees("9 units.")
	ratio := eval[string](p, `[...document.querySelector('select[aria-label="Ratio"]').options].find(o => o.value === '4.10').textContent`)
	p.choose("Ratio", ratio)
	p.choose("Kind", "Truck")
	p.until("its address", "location.search.includes('ratio=4.10') && location.search.includes('kind=truck')")
	p.shows("Grouse 4")
	p.click("Save this filter")
	p.fill("Name of the filter", "Trucks with 4.10")
	p.click("Save")
	p.until("it saved", `[...document.querySelectorAll('button')].some(b => b.innerText === 'Trucks with 4.10')`)
	p.axe("filtered list")
	address := eval[string](p, "location.pathname + location.search")
	p.visit("/units?kind=van")
	p.shows("Rescue van Tern 2")
	p.click("Trucks with 4.10")
	p.shows("Grouse 4")
	p.click("Remove the filter Trucks with 4.10")
	p.sees("Save this filter")
	p.click("Undo")
	p.until("it back", `[...document.querySelectorAll('button')].some(b => b.innerText === 'Trucks with 4.10')`)
	p.visit(address)
	p.shows("Grouse 4")
	// What the address can't mean is left out.
	p.visit("/units?kind=spaceship&page=minus&due=never")
	p.sees("9 units.")
	p.visit("/units?page=99")
	p.sees("this page is past the last")
	p.fill("Search units", "bell")
	p.shows("Plow truck Bell")
	p.choose("Kind", "Boat")
	p.sees(`No unit under this filter matches "bell".`)
}

// A unit is archived and taken back; its history's lines have addresses; what was
// known of it at two dates stands side by side.
func TestArchiveLinksAndTwoDates(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Oda Brenk")
	p.visit("/units/8")
	p.until("the history", "document.querySelector('.history li a[href*=\"#entry-\"]')")
	p.clickAt(`[...document.querySelectorAll('.history li')].at(-1).querySelector('a[href*="#entry-"]')`)
	p.until("the line's address", "/^#entry-\\d+$/.test(location.hash)")
	here := eval[string](p, "location.pathname + location.hash")
	p.visit("/units")
	p.visit(here)
	p.until("the line marked", "document.querySelector('.history .is-here')")
	p.click("Compare two dates")
	p.sees("As known at the end of")
	p.sees("History between them")
	p.run(`(() => { const e = document.querySelectorAll('input[type=date]')[0]; Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(e, '2020-01-02'); e.dispatchEvent(new Event('input', {bubbles: true})) })()`)
	p.sees("This unit had no driveline on record yet at the end of 2020-01-02.")
	p.sees("differs")
	p.axe("two dates")
	p.run(`(() => { const e = document.querySelectorAll('input[type=date]')[1]; Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(e, '2019-01-02'); e.dispatchEvent(new Event('input', {bubbles: true})) })()`)
	p.sees("an earlier time than the other one")
	p.visit("/units/4")
	p.click("Archive this unit")
	p.sees("Archived by Oda Brenk")
	p.visit("/units")
	p.sees("8 units.")
	p.clickAt(`[...document.querySelectorAll('label')].find(l => l.innerText === 'Archived')`)
	p.shows("Transfer case from Grouse 2")
	p.click("Transfer case from Grouse 2")
	p.click("Bring back")
	p.seesNot("Archived by")
	p.visit("/units")
	p.sees("9 units.")
}

// On paper a unit has its name, its ratios and the drawn machine, and no controls.
func TestAUnitOnPaper(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Oda Brenk")
	p.visit("/units/8")
	p.until("the machine", "document.querySelector('[data-part=rear]')")
	if _, err := chromedp.Call(p.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Media: "print"}); err != nil {
		t.Fatal(err)
	}
	p.until("the controls to go", "document.querySelector('form').offsetParent === null")
	paper := eval[string](p, "document.querySelector('main').innerText")
	for _, want := range []string{"Grouse 4 · Truck", "Rear axle", "41 : 10 = 41/10", "measured, practically certain",
		"not counted", "History"} {
		if !strings.Contains(paper, want) {
			t.Errorf("no %q on paper:\n%s", want, paper)
		}
	}
	for _, no := range []string{"Compare two dates", "Archive this unit", "Save"} {
		if strings.Contains(paper, no) {
			t.Errorf("%q is on paper", no)
		}
	}
	pdf, err := chromedp.Call(p.ctx, cdppage.PrintToPDF, cdppage.PrintToPDFParams{})
	if err != nil || len(pdf.Data) < 1000 {
		t.Fatalf("printing: %v", err)
	}
}

// fetched is a file of the server, as this page may have it.
func (p *page) fetched(path string) []byte {
	p.t.Helper()
	p.run(`window.got = undefined, fetch(` + quote(path) + `).then(r => r.blob()).then(b => { const f = new FileReader(); f.onload = () => { window.got = f.result.split(',')[1] }; f.readAsDataURL(b) })`)
	p.until(path, "window.got")
	data, err := base64.StdEncoding.DecodeString(eval[string](p, "window.got"))
	if err != nil {
		p.fail("%v", err)
	}
	return data
}

// The owner takes the shop out, looks at it, leaves it; a unit with its photos comes
// back through the list; a viewer and a technician are told who may.
func TestTheShopsFiles(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Oda Brenk")
	p.click("Shop")
	p.until("the door to it", `[...document.querySelectorAll('[role=menuitem]')].some(e => e.innerText === "Back up, import, export")`)
	p.visit("/files")
	p.sees("Export everything")
	p.axe("files")
	dir := t.TempDir()
	put := func(name string, data []byte) string {
		file := filepath.Join(dir, name)
		if err := os.WriteFile(file, data, 0o600); err != nil {
			t.Fatal(err)
		}
		return file
	}
	shop := p.fetched("/api/v1/shop/export")
	z, err := zip.NewReader(bytes.NewReader(shop), int64(len(shop)))
	if err != nil {
		t.Fatal(err)
	}
	seen := map[string]bool{}
	for _, f := range z.File {
		seen[f.Name] = true
	}
	for _, name := range []string{"zorvel-shop.json", "lists.json", "units/000009/unit.json", "tables/readings.csv"} {
		if !seen[name] {
			t.Errorf("%s is missing", name)
		}
	}
	give := func(file string) {
		t.Helper()
		p.do(chromedp.SetUploadFiles(chromedp.CSS(`input[type=file]`), []string{file}))
	}
	give(put("no.zip", []byte("no archive")))
	p.sees("Nothing imported")
	p.sees("this is no zip archive")
	p.visit("/files")
	p.sees("Export everything")
	give(put("shop.zip", shop))
	p.sees("Import this shop?")
	p.sees("Units with these names are here already, and would be listed twice")
	p.click("Cancel")
	p.visit("/units")
	p.sees("9 units.")
	unit := p.fetched("/api/v1/units/2/document.zip")
	p.do(chromedp.SetUploadFiles(chromedp.CSS(`input[type=file]`), []string{put("unit.zip", unit)}))
	p.sees("Imported")
	p.visit("/sign-in")
	p.signIn("Ivar Tolm")
	p.visit("/files")
	p.sees("Only the owner can export or import the whole shop.")
}

// Two browsers on one unit: the second is told what changed and keeps what was typed;
// what one counts, the other sees.
func TestTwoBrowsersOnOneUnit(t *testing.T) {
	p := open(t, true, 1280, 800)
	q := openAt(t, p.base, 1280, 800)
	p.signIn("Oda Brenk")
	q.signIn("Ivar Tolm")
	for _, x := range []*page{p, q} {
		x.visit("/units/8")
		x.sees("About this unit")
	}
	q.fill("Notes", "Ivar's words")
	p.fill("Notes", "Oda's words")
	p.click("Save")
	p.sees("Unit notes changed")
	q.click("Save")
	q.sees("Someone else changed this unit while you were typing. It now says:")
	q.sees("Oda's words")
	if v := eval[string](q, `document.querySelector('textarea').value`); v != "Ivar's words" {
		t.Errorf("what was typed became %q", v)
	}
	q.click("Use mine")
	q.click("Save")
	q.until("it saved", `[...document.querySelectorAll('.history li')].filter(l => l.innerText.includes('notes changed')).length >= 2`)
	// Both count at one axle.
	for _, x := range []*page{p, q} {
		x.visit("/stages/61")
		x.sees("Front axle")
	}
	p.click("1 Tag")
	p.fill("The tag says", "4.10")
	p.click("Save this reading")
	p.sees("Tag says 4.10")
	q.click("1 Tag")
	q.fill("The tag says", "3.73")
	q.click("Save this reading")
	q.sees("Tag says 3.73")
	q.until("the other's too", "document.body.innerText.includes('Tag says 4.10')")
	q.sees("Oda Brenk")
}

// The application can be installed: a manifest with icons that are there, and a
// worker of its own.
func TestInstallable(t *testing.T) {
	p, _, _, _ := openKept(t, 390, 844)
	p.visit("/count/ring_and_pinion")
	manifest := string(p.fetched("/manifest.webmanifest"))
	for _, want := range []string{`"name":"Zorvel"`, `"display":"standalone"`, `/icon-192.png`, `/icon-512.png`} {
		if !strings.Contains(manifest, want) {
			t.Errorf("the manifest has no %s: %s", want, manifest)
		}
	}
	for _, icon := range []string{"/icon-192.png", "/icon-512.png"} {
		if data := p.fetched(icon); !bytes.HasPrefix(data, []byte("\x89PNG")) {
			t.Errorf("%s is no picture", icon)
		}
	}
	p.keptPages()
	// Nothing that the server knows is kept on the device by the worker.
	time.Sleep(300 * time.Millisecond)
	p.run(`window.kept = undefined, caches.keys().then(async ks => { const all = []; for (const k of ks) for (const r of await (await caches.open(k)).keys()) all.push(new URL(r.url).pathname); window.kept = all })`)
	p.until("the list of what is kept", "window.kept")
	if n := eval[int](p, "window.kept.length"); n < 50 {
		t.Errorf("only %d files are kept", n)
	}
	if bad := eval[string](p, "window.kept.filter(k => k.startsWith('/api/')).join()"); bad != "" {
		t.Errorf("kept: %s", bad)
	}
}
