package e2e
import "testing"
func TestZZ(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/count/ring_and_pinion")
	p.click("4 Turn wheels")
	p.click("One turned, one held")
	p.fill("Wheel turns", "2")
	p.click("In words")
	p.fill("Turns, as you would say it", "5 and a bit")
	p.click("Keep this reading")
	p.sees("Say whether somebody watched it")
	p.shot("/tmp/w/a1.png")
	p.click("I held it, or saw it stand still")
	p.click("Keep this reading")
	p.sees("Could be")
	p.shot("/tmp/w/a2.png")
	p.visit("/count/gearcase")
	p.sees("Nothing measured yet")
	p.shot("/tmp/w/a3.png")
}
