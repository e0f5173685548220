package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

// The owner imports what another shop found, sees what it weighs, and removes it.
func TestExperienceOfOtherShops(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Oda Brenk")
	p.sees("Rescue van Tern 2")
	p.visit("/experience")
	p.sees("No other shop's experience is here")
	p.sees("6 housings with 6 gear sets counted")
	put := func(content string) string {
		file := filepath.Join(t.TempDir(), "experience.json")
		if err := os.WriteFile(file, []byte(content), 0o600); err != nil {
			t.Fatal(err)
		}
		return file
	}
	choose := func(file string) { p.do(chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{file})) }
	choose(put("gears: many"))
	p.sees("This is no experience file")
	choose(put(`{"format":"zorvel-experience-1","shop":"00ff00ff","number":1,
		"gears":[{"kind":"ring_and_pinion","construction":"pair","teeth":[4,10],"found":3}],"faults":[],"housings":[]}`))
	p.sees("Nothing imported")
	choose(put(`{"format":"zorvel-experience-1","shop":"00ff00ff","number":1,"name":"North yard",
		"gears":[{"kind":"ring_and_pinion","construction":"pair","teeth":[41,10],"found":30}],
		"faults":[{"sort":"stub","found":9}],"housings":[{"kind":"ring","count":40,"mean":1.13,"sigma":0.1}]}`))
	p.sees("Import this shop's experience?")
	p.sees("North yard: 30 housings with 1 gear set counted, 9 faults proved, 40 set-ups.")
	p.clickAt("[...document.querySelectorAll('[role=dialog] button')].find(b => b.innerText === 'Import')")
	p.sees("It counts from now on")
	p.sees("41/10 (30)")
	p.sees("49.6")
	p.visit("/faults")
	p.sees("9 repairs of other shops adjust the typical odds")
	p.visit("/experience")
	p.click("Remove North yard")
	p.sees("No other shop's experience is here")
}
