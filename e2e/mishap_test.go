package e2e

import (
	"testing"

	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
)

// A part of the program that can't be had any more, as after a new version, takes its page
// away and says so; the other pages go on, and so does this one once it can be had.
func TestLostPartOfTheProgram(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/")
	p.sees("What gear ratio is in it?")
	block := func(patterns ...*network.BlockPattern) {
		if _, err := chromedp.Call(p.ctx, network.SetBlockedURLs, network.SetBlockedURLsParams{URLPatterns: patterns}); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := chromedp.Call(p.ctx, network.Enable, network.EnableParams{}); err != nil {
		t.Fatal(err)
	}
	block(&network.BlockPattern{URLPattern: "*://*:*/*SpeedoPage*", Block: true})
	p.menu("Tires and gears", "Speedometer")
	p.sees("Zorvel was updated")
	p.menu("Repair", "Find the fault")
	p.seesNot("Zorvel was updated")
	p.sees("What it does")
	p.menu("Tires and gears", "Speedometer")
	p.sees("Zorvel was updated")
	block()
	p.click("Reload")
	p.sees("Gears and cable")
}
