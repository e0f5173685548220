package e2e

import (
	"bytes"
	"fmt"
	"image"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	cdppage "github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"

	"zorvel/internal/store"
	"zorvel/internal/testkit"
)

// openKept is open on a server that the test may stop and start again.
func openKept(t *testing.T, w, h int64) (*page, func(), func(), *store.Store) {
	t.Helper()
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	srv, st := testkit.Server(t, true)
	stop := func() { srv.CloseClientConnections(); srv.Close() }
	start := func() { srv = testkit.Again(t, srv, st) }
	return tab(t, srv.URL, w, h), stop, start, st
}

// keptPages waits until the pages, and the bench, are on this device.
func (p *page) keptPages() {
	p.t.Helper()
	p.until("the pages on this device", `navigator.serviceWorker.controller !== null && (caches.match('/offline.wasm').then(r => { window.benchIsHere = Boolean(r) }), window.benchIsHere)`)
}

// Counting works without any network: the pages come from this device, the verdict
// is weighed on it by the same core, and what was kept stays.
func TestCountingWithoutANetwork(t *testing.T) {
	p, stop, start, _ := openKept(t, 390, 844)
	p.visit("/count/ring_and_pinion")
	p.sees("Nothing measured yet")
	p.keptPages()
	stop()
	p.visit("/count/ring_and_pinion")
	p.click("3 Count teeth")
	p.fill("Ring gear", "41")
	p.fill("Pinion", "10")
	p.is("[data-part=ratio]", "4.10")
	p.sees("Worked out on this device: the server can't be reached")
	p.fill("Pinion", "0")
	p.seesNot("4.10")
	p.fill("Pinion", "10")
	p.click("Save this reading")
	p.sees("Counted 41 ring gear teeth and 10 pinion teeth")
	p.visit("/count/ring_and_pinion")
	p.sees("Counted 41 ring gear teeth and 10 pinion teeth")
	p.is("[data-part=ratio]", "4.10")
	// Another kind of stage, in words, and a page of its own.
	p.visit("/count/hub")
	p.sees("Nothing measured yet")
	start()
	p.visit("/count/ring_and_pinion")
	p.is("[data-part=ratio]", "4.10")
	p.seesNot("Worked out on this device")
}

// Readings, check-offs, lines of a job and photos that were entered while the server
// was away survive a reload, are shown in one place, and go out by themselves from
// whatever page is open, each once.
func TestWhatWaitsGoesOut(t *testing.T) {
	p, stop, start, st := openKept(t, 1280, 800)
	ctx := t.Context()
	p.signIn("Ivar Tolm")
	units, _, err := st.Units(ctx, store.Asked{Name: "Grouse 4"})
	if err != nil || len(units) != 1 {
		t.Fatal(units, err)
	}
	u := units[0]
	var stage store.Stage
	for _, s := range u.Stages {
		if s.Part == "front" {
			stage = s
		}
	}
	before, err := st.Readings(ctx, stage.ID)
	if err != nil {
		t.Fatal(err)
	}
	p.visit(fmt.Sprintf("/units/%d/jobs", u.ID))
	p.visit(fmt.Sprintf("/units/%d/service", u.ID))
	p.fill("Complaint, in the owner's words", "Waits with us")
	p.click("Open job")
	p.sees("Opened by Ivar Tolm")
	job := eval[string](p, "location.pathname")
	p.visit(fmt.Sprintf("/stages/%d", stage.ID))
	p.sees("Front axle")
	p.keptPages()
	stop()
	p.click("1 Tag")
	p.fill("The tag says", "4.10")
	p.click("Save this reading")
	p.sees("1 waiting")
	p.sees("on this device")
	// Pages need what the server knows; what waits is there without it.
	p.visit("/waiting")
	p.sees("Reading:")
	p.sees(`Tag "4.10", Front axle of Grouse 4`)
	p.sees("Waiting for the server. Tried again every few seconds.")
	start()
	p.seesNot("1 waiting")
	p.sees("Nothing is waiting: everything entered here has reached the server.")
	after, err := st.Readings(ctx, stage.ID)
	if err != nil || len(after) != len(before)+1 || after[len(after)-1].By != "Ivar Tolm" {
		t.Errorf("%d readings, %d before, %v", len(after), len(before), err)
	}
	// A line of a job, and a photo of it.
	p.visit(job)
	p.sees("Opened by Ivar Tolm")
	stop()
	p.fill("Findings", "Found while the server was away")
	p.click("Enter")
	p.sees("1 line waits on this device")
	start()
	p.seesNot("1 line waits")
	p.sees("found: Found while the server was away")
	p.axe("job with evidence")
	// What is thrown away is asked about first.
	stop()
	p.fill("Findings", "Not so")
	p.click("Enter")
	p.sees("1 waiting")
	p.click("1 waiting")
	p.axe("waiting")
	p.click("Discard")
	p.sees("The server doesn't have it, and this device won't either.")
	p.click("Keep it")
	p.sees("Not so")
	p.click("Discard")
	p.clickAt("[...document.querySelectorAll('[role=dialog] button')].find(b => b.innerText === 'Discard')")
	p.sees("Nothing is waiting")
	start()
	p.visit(job)
	p.sees("Found while the server was away")
	p.seesNot("Not so")
}

// aPicture is a small photo.
func aPicture(t *testing.T) []byte {
	t.Helper()
	img := image.NewNRGBA(image.Rect(0, 0, 320, 240))
	for i := range img.Pix {
		img.Pix[i] = byte(i*7) | 0x80
	}
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// A photo stands beside the reading, the finding or the step that it is the evidence of.
func TestPhotosBesideWhatTheyShow(t *testing.T) {
	p := open(t, true, 1280, 800)
	p.signIn("Ivar Tolm")
	file := filepath.Join(t.TempDir(), "tag.png")
	if err := os.WriteFile(file, aPicture(t), 0o600); err != nil {
		t.Fatal(err)
	}
	give := func() {
		t.Helper()
		p.until("a camera", "document.querySelector('input[type=file][capture]')")
		p.do(chromedp.SetUploadFiles(chromedp.CSS(`input[type=file][capture]`), []string{file}))
	}
	beside := func(words string) {
		t.Helper()
		p.until("the photo beside it", `[...document.querySelectorAll('img[alt^="Photo:"]')].some(i => i.naturalWidth > 0 && i.alt.includes(`+quote(words)+`))`)
	}
	p.visit("/units")
	p.click("Rescue van Tern 2")
	p.measure("Rear axle")
	p.sees("Tag says")
	give()
	beside("Tag says")
	p.clickAt(`document.querySelector('img[alt^="Photo:"]').closest('a')`)
	p.sees("Rescue van Tern 2")
	p.visit("/jobs")
	p.until("a job", `document.querySelector('a[href^="/jobs/"]')`)
	p.clickAt(`document.querySelector('a[href^="/jobs/"]')`)
	p.sees("Cause and correction")
	p.fill("Findings", "A chip out of the ring gear")
	p.click("Enter")
	p.sees("found: A chip out of the ring gear")
	p.do(chromedp.SetUploadFiles(chromedp.CSS(`input[aria-label="Photo: A chip out of the ring gear"]`), []string{file}))
	beside("A chip out of the ring gear")
	p.visit("/card-runs/1")
	p.sees("Step ")
	give()
	p.until("the photo beside the step", `[...document.querySelectorAll('img[alt^="Photo:"]')].some(i => i.naturalWidth > 0)`)
}

// What does not go out holds up nothing else, and says so after a few tries.
func TestOneThatDoesNotGoOutHoldsNothingUp(t *testing.T) {
	p := open(t, true, 1280, 800)
	// Photos break off on the way, as on a bad line; all else goes through.
	const cut = `(() => { const f = window.fetch; window.fetch = (r, ...a) => r.method === 'POST' && r.url.endsWith('/photos') ? Promise.reject(new TypeError('cut')) : f(r, ...a); })()`
	if _, err := chromedp.Call(p.ctx, cdppage.AddScriptToEvaluateOnNewDocument, cdppage.AddScriptToEvaluateOnNewDocumentParams{Source: cut}); err != nil {
		t.Fatal(err)
	}
	p.signIn("Ivar Tolm")
	file := filepath.Join(t.TempDir(), "chip.png")
	if err := os.WriteFile(file, aPicture(t), 0o600); err != nil {
		t.Fatal(err)
	}
	p.visit("/jobs")
	p.until("a job", `document.querySelector('a[href^="/jobs/"]')`)
	p.clickAt(`document.querySelector('a[href^="/jobs/"]')`)
	p.fill("Findings", "A chip out of the pinion")
	p.click("Enter")
	p.sees("found: A chip out of the pinion")
	p.do(chromedp.SetUploadFiles(chromedp.CSS(`input[aria-label="Photo: A chip out of the pinion"]`), []string{file}))
	p.sees("1 waiting")
	p.fill("Findings", "The rest is sound")
	p.click("Enter")
	p.sees("found: The rest is sound")
	p.sees("1 not sent")
	p.click("1 not sent")
	p.sees("Tried 3 times, and it does not go out")
	p.axe("what does not go out")
}
