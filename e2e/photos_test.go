package e2e

import (
	"encoding/base64"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

// On a photo with a tooth skipped the place is pointed at; it is tapped, the marks
// are kept, and the count becomes a reading.
func TestTeethOnAPhoto(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	p.visit("/units/3/photos")
	p.sees("Ring gear, first count")
	p.axe("photos")
	p.visit("/photos/2")
	p.sees("31 marks, but the spacing says 32 teeth")
	p.sees("between marks 17 and 18 there is room for one tooth")
	p.sees("First look where the spacing points")
	p.axe("photo")
	p.clickAt("document.querySelector('svg[role=application] circle[stroke-dasharray]')")
	p.sees("32 teeth: every mark is one tooth from the next")
	p.sees("Save the marks first")
	p.click("Save the marks")
	p.sees("The marks are saved with the photo")
	p.click("Take 32 as a reading")
	p.sees("Saved: 32 ring teeth, counted on this photo")
	// The photo is the reading's evidence from then on, and says so.
	p.sees("Rear axle: Counted 32 ring gear teeth")
	p.click("Rear axle: Counted 32 ring gear teeth")
	p.until("the photo beside the reading", `[...document.querySelectorAll('img[alt="Photo: Ring gear, first count"]')].length === 1`)
	// A photo is added, and one that is none is refused at its field.
	p.visit("/units/8/photos")
	p.sees("No photo yet")
	none := filepath.Join(t.TempDir(), "gear.png")
	if err := os.WriteFile(none, []byte("no picture"), 0o600); err != nil {
		t.Fatal(err)
	}
	p.do(chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{none}))
	p.fill("What it shows", "Pinion, Stempel ¾ lesbar")
	p.click("Save photo")
	p.sees("this is no picture")
	dot, err := base64.StdEncoding.DecodeString("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==")
	if err != nil {
		t.Fatal(err)
	}
	good := filepath.Join(t.TempDir(), "gear.png")
	if err := os.WriteFile(good, dot, 0o600); err != nil {
		t.Fatal(err)
	}
	p.do(chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{good}))
	p.click("Save photo")
	p.until("the photo", "document.querySelector('main a img')?.complete && [...document.querySelectorAll('main a b')].some(b => b.innerText.includes('Stempel ¾ lesbar'))")
}

// By keyboard alone, on a photo of this device.
func TestTeethByKeyboard(t *testing.T) {
	p := open(t, true, 820, 1100)
	p.visit("/photo")
	p.sees("It stays on this device")
	dot, _ := base64.StdEncoding.DecodeString("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==")
	file := filepath.Join(t.TempDir(), "gear.png")
	if err := os.WriteFile(file, dot, 0o600); err != nil {
		t.Fatal(err)
	}
	p.do(chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{file}))
	p.sees("tap each tooth once")
	p.until("the photo in focus", "(document.querySelector('svg[role=application]')?.focus(), document.activeElement?.getAttribute('role') === 'application')")
	p.keys(" ")
	p.until("one mark", "document.querySelector('svg[role=application]').getAttribute('aria-label').includes('with 1 marks')")
	p.keys("\b")
	p.until("no mark", "document.querySelector('svg[role=application]').getAttribute('aria-label').includes('with 0 marks')")
}

// A photo is counted as soon as it is there: a mark on each tooth, which can be dragged,
// taken away and added; a blurred one is refused with what to do, by keyboard another
// gear is asked about.
func TestTeethCountThemselves(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.visit("/photo")
	p.sees("It stays on this device")
	p.do(chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{photoOf(t, "s01.jpg")}))
	p.sees("42 teeth.")
	p.sees("42 teeth: every mark is one tooth from the next")
	p.axe("counted photo")
	const marks = `document.querySelector('svg[role=application]').getAttribute('aria-label').includes('with %d marks')`
	// The first mark is dragged half a tooth on: the spacing says so.
	p.until("the mark dragged", `(() => {
		const svg = document.querySelector('svg[role=application]');
		const mark = svg.querySelector('g circle').getBoundingClientRect();
		const [x, y] = [mark.x + mark.width / 2, mark.y + mark.height / 2];
		svg.setPointerCapture = () => {};
		const at = (kind, dx) => svg.dispatchEvent(new (kind === 'click' ? MouseEvent : PointerEvent)(kind,
			{ bubbles: true, clientX: x + dx, clientY: y, pointerId: 1 }));
		at('pointerdown', 0); at('pointermove', 40); at('click', 40);
		return true;
	})()`)
	p.until("42 marks after the drag", fmt.Sprintf(marks, 42))
	p.clickAt("document.querySelector('svg[role=application] g:nth-of-type(7) circle')")
	p.until("41 marks", fmt.Sprintf(marks, 41))
	p.do(chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{photoOf(t, "s11.jpg")}))
	p.sees("Can't count: the photo is blurred")
	p.sees("Hold the phone still")
	p.click("Count another gear on it")
	p.sees("Tap the middle of the gear on the photo")
	p.until("the photo in focus", "(document.querySelector('svg[role=application]').focus(), true)")
	p.keys(" ")
	p.sees("Count another gear on it")
	p.until("no mark by that", fmt.Sprintf(marks, 0))
}

func photoOf(t *testing.T, name string) string {
	t.Helper()
	file, err := filepath.Abs(filepath.Join("..", "core", "sight", "testdata", name))
	if err != nil {
		t.Fatal(err)
	}
	return file
}

// A tag's photo is large beside its field while it is typed; a file that is no picture is told.
func TestPhotoBesideTheTag(t *testing.T) {
	p := open(t, true, 390, 844)
	p.visit("/count/ring_and_pinion")
	p.press("1", "Save this reading")
	const input = "input[aria-label='Photo of the tag']"
	p.do(chromedp.SetUploadFiles(chromedp.CSS(input), []string{photoOf(t, "photos.json")}))
	p.sees("The browser can't show this file")
	p.do(chromedp.SetUploadFiles(chromedp.CSS(input), []string{photoOf(t, "s02.jpg")}))
	p.until("the photo as wide as the field", `(() => {
		const img = document.querySelector('img[alt="The tag"]');
		return img?.complete && img.clientWidth > 300 && img.clientHeight > 200;
	})()`)
	p.fill("The tag says", "4.10")
	p.click("Closer")
	p.until("closer", `document.querySelector('img[alt="The tag"]').clientWidth > 700`)
	p.axe("a tag with its photo")
}
