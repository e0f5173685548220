package e2e

import (
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

// A recorded drive is named: the wheel bearing, with its tone in the order map; a file
// that is no sound and a missing speed are told at their places.
func TestNameASound(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/listen")
	p.sees("A passenger records")
	p.axe("name a sound")
	p.sound("sounds.json")
	p.sees("The browser can't read this file")
	p.sound("ws5.wav")
	p.sees("ws5.wav: 13 s")
	p.fill("Rolling circumference (mm)", "2050")
	p.fill("Ring teeth", "43")
	p.fill("Pinion teeth", "11")
	p.fill("Cylinders", "8")
	p.click("Name the sound")
	p.sees("the speed while it was recorded")
	p.speeds("ws5_speed.csv")
	p.sees("ws5_speed.csv")
	p.click("Gearbox teeth, transfer case, tires, bearings")
	p.bearing()
	p.click("Name the sound")
	p.sees("Loudest: rear left wheel bearing, outer race")
	p.sees("Jack that wheel up")
	p.axe("a named sound")
	p.click("Play it: rear left wheel bearing, outer race")
	p.sees("Stop")
}

// In a unit the axle is known; what is named leads to the search for its fault.
func TestSoundLeadsToTheFault(t *testing.T) {
	p := open(t, true, 390, 844)
	p.signIn("Ivar Tolm")
	p.visit("/units/9/listen")
	p.sees("A passenger records")
	p.sound("ws5.wav")
	p.speeds("ws5_speed.csv")
	p.fill("Rolling circumference (mm)", "2050")
	p.fill("Ring teeth", "43")
	p.fill("Pinion teeth", "11")
	p.click("Gearbox teeth, transfer case, tires, bearings")
	p.bearing()
	p.click("Name the sound")
	p.sees("Loudest: rear left wheel bearing, outer race")
	p.axe("a named sound of a unit, at 390")
	p.click("Find the fault from here")
	p.sees("Recorded: Hums with road speed")
	p.sees("Most likely: a worn wheel bearing")
}

// A recording that was saved with its unit is named again when it is opened; one that is
// named in a unit is saved there.
func TestSavedRecording(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/units/9/listen")
	p.click("Hums from sixty on")
	p.sees("Loudest: rear wheel bearing, outer race")
	p.sees("Named then: Loudest: rear wheel bearing, outer race")
	p.axe("a saved recording")
	p.click("Find the fault from here")
	p.sees("Recorded: Hums with road speed")
	p.visit("/units/9/listen")
	p.sound("ws5.wav")
	p.fill("Rolling circumference (mm)", "2050")
	p.fill("Constant speed (km/h)", "80")
	p.click("Name the sound")
	p.fill("Save the recording as", "At a steady 80")
	p.click("Save")
	p.sees("Recording saved with the unit.")
	p.click("At a steady 80")
	p.sees("Can't tell")
}

// sound and speeds choose recorded files on the bench that names sounds.
func (p *page) sound(name string) {
	p.do(chromedp.SetUploadFiles(chromedp.CSS("main input[type=file]:not([accept*=csv])"), []string{soundFile(p.t, name)}))
}

func (p *page) speeds(name string) {
	p.do(chromedp.SetUploadFiles(chromedp.CSS("main input[accept*=csv]"), []string{soundFile(p.t, name)}))
}

// bearing is the one that is heard on ws5.wav.
func (p *page) bearing() {
	p.fill("Wheel bearing", "rear left")
	p.fill("Outer race, tones per turn", "7.2974")
	p.fill("Inner race, tones per turn", "11.7026")
}

func soundFile(t testing.TB, name string) string {
	t.Helper()
	file, err := filepath.Abs(filepath.Join("..", "core", "listen", "testdata", name))
	if err != nil {
		t.Fatal(err)
	}
	return file
}

// A blocked microphone and none at all say what to do; with one a passenger records, and
// a sound of which the speed is missing is asked for it.
func TestRecordASound(t *testing.T) {
	p := open(t, true, 820, 1100)
	p.visit("/listen")
	refuse := func(name string) {
		p.until("a microphone that answers "+name, `(() => {
			navigator.mediaDevices.real ??= navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
			navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException("no", "`+name+`"));
			return true;
		})()`)
		p.click("Record")
	}
	refuse("NotAllowedError")
	p.sees("The microphone is blocked")
	refuse("NotFoundError")
	p.sees("No microphone found")
	p.until("the device's own microphone", "(navigator.mediaDevices.getUserMedia = navigator.mediaDevices.real, true)")
	p.click("Record")
	p.sees("Stop, 4 s")
	p.seesNot("No microphone found")
	p.until("the end of the recording", `[...document.querySelectorAll('button')].some(b => b.innerText.startsWith('Stop, ') && (b.click(), true))`)
	p.sees("recorded here:")
	p.fill("Rolling circumference (mm)", "2200")
	p.fill("Ring teeth", "41")
	p.fill("Pinion teeth", "10")
	p.click("Name the sound")
	p.sees("the speed while it was recorded")
	p.fill("Constant speed (km/h)", "80")
	p.click("Name the sound")
	p.sees("Can't tell")
}
