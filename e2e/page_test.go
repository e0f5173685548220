// Package e2e drives the real interface in headless Chromium.
package e2e

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	cdppage "github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"zorvel/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m, func() { endChromium() }) }

var endChromium = func() {}

// chromium is the browser of all tests: starting one takes longer than most of them.
// The shell without a window does the same in half the time.
var chromium = sync.OnceValues(func() (context.Context, error) {
	for _, name := range []string{"chromium-headless-shell", "chromium", "chromium-browser", "google-chrome"} {
		path, err := exec.LookPath(name)
		if err != nil {
			continue
		}
		film, err := cameraFilm()
		if err != nil {
			return nil, err
		}
		alloc, stop := chromedp.NewExecAllocator(context.Background(), append(chromedp.DefaultExecAllocatorOptions[:],
			chromedp.ExecPath(path), chromedp.NoSandbox, chromedp.DisableGPU, chromedp.WindowSize(1280, 800),
			chromedp.Flag("disable-component-update", true), chromedp.Flag("no-proxy-server", true),
			chromedp.Flag("font-render-hinting", "none"), chromedp.Flag("force-color-profile", "srgb"),
			// What stands before its camera is a film.
			chromedp.Flag("use-fake-device-for-media-stream", true), chromedp.Flag("use-fake-ui-for-media-stream",
				true),
			chromedp.Flag("use-file-for-fake-video-capture", film),
			// A technician who measures in mm; one in inches says so.
			chromedp.Flag("accept-lang", "en-GB"),
			// A page lives for seconds: it pays neither to compile it well, nor to hold a
			// process ready for the next, nor to keep the last one for the way back.
			chromedp.Flag("js-flags", "--no-opt --no-maglev"),
			chromedp.Flag("disable-features", "Translate,BackForwardCache,SpareRendererForSitePerProcess,ProactivelySwapBrowsingInstance"))...)
		ctx, cancel := chromedp.NewContext(alloc)
		endChromium = func() { cancel(); stop(); _ = os.RemoveAll(filepath.Dir(film)) }
		return ctx, chromedp.Do(ctx)
	}
	return nil, errors.New("chromium is not installed: install Debian's chromium package")
})

// page is a tab with a technician before it.
type page struct {
	t    *testing.T
	ctx  context.Context
	base string
}

// besides holds the tests that run beside others.
var besides sync.Map

// open opens a page on a fresh shop. The tests run beside each other: each has a shop
// of its own, and each page its own storage.
func open(t *testing.T, withDemo bool, width, height int64) *page {
	t.Helper()
	if _, again := besides.LoadOrStore(t.Name(), true); !again {
		t.Parallel()
	}
	srv, _ := testkit.Server(t, withDemo)
	return openAt(t, srv.URL, width, height)
}

func openAt(t *testing.T, base string, width, height int64) *page {
	t.Helper()
	p := tab(t, base, width, height)
	// Nothing is kept on the device for a time without a network: that takes longer
	// than most tests.
	forget := cdppage.AddScriptToEvaluateOnNewDocumentParams{Source: "delete Navigator.prototype.serviceWorker"}
	if _, err := chromedp.Call(p.ctx, cdppage.AddScriptToEvaluateOnNewDocument, forget); err != nil {
		t.Fatal(err)
	}
	return p
}

// tab is a page of a device of its own, on which nothing moves by itself.
func tab(t *testing.T, base string, width, height int64) *page {
	t.Helper()
	browser, err := chromium()
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := chromedp.NewContext(browser, chromedp.WithNewBrowserContext())
	timed, expire := context.WithTimeout(ctx, 6*time.Minute)
	t.Cleanup(func() { expire(); cancel() })
	p := &page{t, timed, base}
	p.do(chromedp.EmulateViewport(width, height))
	// Each page thinks that it is the one in front.
	front := emulation.SetFocusEmulationEnabledParams{Enabled: true}
	if _, err := chromedp.Call(p.ctx, emulation.SetFocusEmulationEnabled, front); err != nil {
		t.Fatal(err)
	}
	p.motion("reduce")
	return p
}

// motion is what the device says of things that move by themselves: "reduce", or
// "no-preference".
func (p *page) motion(preference string) {
	p.t.Helper()
	media := emulation.SetEmulatedMediaParams{Features: []*emulation.MediaFeature{{Name: "prefers-reduced-motion", Value: preference}}}
	if _, err := chromedp.Call(p.ctx, emulation.SetEmulatedMedia, media); err != nil {
		p.t.Fatal(err)
	}
}

// settles waits until nothing slides or fades any more.
func (p *page) settles() {
	p.t.Helper()
	p.until("the page to settle", `document.getAnimations().every(a => a.playState !== 'running' || a.effect.getComputedTiming().endTime === Infinity)`)
}

func (p *page) do(steps ...chromedp.Action[chromedp.Void]) {
	p.t.Helper()
	if err := chromedp.Do(p.ctx, steps...); err != nil {
		p.fail("%v", err)
	}
}

// fail ends the test with what the page shows.
func (p *page) fail(format string, args ...any) {
	p.t.Helper()
	body, _ := chromedp.Run(p.ctx, chromedp.Evaluate[string]("location.pathname + '\\n' + document.body.innerText"))
	p.t.Fatalf(format+"\npage:\n%s", append(args, body)...)
}

func (p *page) visit(path string) {
	p.t.Helper()
	p.do(chromedp.Navigate(p.base + path))
}

func eval[T any](p *page, js string) T {
	p.t.Helper()
	v, err := chromedp.Run(p.ctx, chromedp.Evaluate[T](js))
	if err != nil {
		p.fail("evaluating %s: %v", js, err)
	}
	return v
}

// until waits for a JavaScript condition.
func (p *page) until(what, js string) {
	p.t.Helper()
	// What comes soon is seen soon; what takes long isn't asked for all the while.
	pause := 20 * time.Millisecond
	for end := time.Now().Add(45 * time.Second); time.Now().Before(end); time.Sleep(pause) {
		v, err := chromedp.Run(p.ctx, chromedp.Evaluate[bool]("Boolean("+js+")"))
		if err == nil && v {
			return
		}
		pause = min(pause*5/4, 150*time.Millisecond)
	}
	p.fail("waited in vain for %s", what)
}

func quote(s string) string {
	b, _ := json.Marshal(s)
	return string(b)
}

// shows is whether the page shows the text. What isn't in the document at all
// is told without laying the page out.
func shows(text string) string {
	t := quote(text)
	return `(document.body.textContent.replace(/\s+/g, '').includes(` + t +
		`.replace(/\s+/g, '')) && document.body.innerText.includes(` + t + `))`
}

// sees waits until the page shows the text.
func (p *page) sees(text string) {
	p.t.Helper()
	p.until(fmt.Sprintf("the text %q", text), shows(text))
}

func (p *page) seesNot(text string) {
	p.t.Helper()
	p.until(fmt.Sprintf("the text %q to go", text), "!"+shows(text))
}

// control finds a button or link by what it says or is called, or else by how
// that begins.
func control(name string) string {
	return `(() => {
		const n = ` + quote(name) + `;
		const all = [...document.querySelectorAll('button, a, summary, [role=tab], label, [role=option], [role=menuitem]')].filter(e => e.getBoundingClientRect().width > 0);
		return all.find(e => e.getAttribute('aria-label') === n || e.textContent.trim() === n)
			?? all.find(e => e.textContent.replace(/\s+/g,' ').trim().startsWith(n));
	})()`
}

// field finds an input by its label, in the open dialog if there is one.
func field(label string) string {
	return `[...(document.querySelector('[role=dialog]') ?? document).querySelectorAll('input, textarea, select, [role=slider]')].find(e => {
		const n = ` + quote(label) + `;
		return e.getAttribute('aria-label') === n || [...(e.labels || [])].some(l => l.textContent.replace('*','').trim() === n);
	})`
}

// rests waits until something that slides in has come to rest.
func (p *page) rests(css string) {
	p.t.Helper()
	p.until(css+" to come to rest", `(() => {
		const r = document.querySelector(`+quote(css)+`).getBoundingClientRect(), at = r.left + ' ' + r.top, was = window.restedAt;
		window.restedAt = at;
		return was === at && r.right <= innerWidth + 1;
	})()`)
}

// click presses a button or link with the mouse.
func (p *page) click(name string) {
	p.t.Helper()
	p.until("the control "+name, control(name))
	p.clickAt(control(name))
}

// clickAt clicks the middle of an element once it stays where it is: what
// arrives above it moves it. Where it moved under the pointer all the same, so that
// the click never reached it, it is clicked once more. What is drawn without a filling
// is reached through its drawing.
func (p *page) clickAt(js string) {
	p.t.Helper()
	for range 3 {
		p.until("what is to be clicked", js)
		var at, was []float64
		for range 25 {
			at = eval[[]float64](p, `(() => { const e = `+js+`; if (!e) return [0, 0]; e.scrollIntoView({block: 'center'}); const r = e.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]; })()`)
			if slices.Equal(at, was) {
				break
			}
			was = at
			time.Sleep(40 * time.Millisecond)
		}
		eval[bool](p, `(() => { window.reached = false; const e = `+js+`;
			addEventListener('click', ev => { window.reached ||= e?.contains(ev.target) || e?.ownerSVGElement === ev.target; }, {once: true, capture: true}); return true; })()`)
		p.do(chromedp.MouseClickXY(at[0], at[1]))
		// Another document knows of no click: it was reached by this one.
		if eval[bool](p, `window.reached !== false || !(`+js+`)`) {
			return
		}
	}
}

// measure goes from a unit's page to the readings of a ratio; its name alone is on the
// machine too, and in the history.
func (p *page) measure(name string) {
	p.t.Helper()
	link := `[...document.querySelectorAll('a[href^="/stages/"]')].find(a => a.textContent.trim() === ` + quote(name) + `)`
	p.until("the ratio "+name, link)
	p.clickAt(link)
}

// fill replaces a field's text by typing, once more where what slides in took
// the keys away.
func (p *page) fill(label, text string) {
	p.t.Helper()
	for range 3 {
		p.until("the field "+label, `(() => { const e = `+field(label)+`; if (!e) return false; e.focus(); e.select && e.select(); return document.activeElement === e; })()`)
		if text == "" {
			p.do(chromedp.KeyEvent(kb.Backspace))
			return
		}
		p.do(chromedp.KeyEvent(text))
		if eval[bool](p, `Boolean(`+field(label)+`?.value)`) {
			return
		}
	}
}

// keys types keys wherever the focus is.
func (p *page) keys(k string) {
	p.t.Helper()
	p.do(chromedp.KeyEvent(k))
}

// is waits until an element shows exactly the text.
func (p *page) is(css, want string) {
	p.t.Helper()
	p.until(css+" to be "+want, "document.querySelector("+quote(css)+")?.innerText.trim() === "+quote(want))
}

// press presses a key until it has had its effect: a page that has just been
// drawn may not listen yet.
func (p *page) press(key, text string) {
	p.t.Helper()
	for range 4 {
		p.keys(key)
		for end := time.Now().Add(4 * time.Second); time.Now().Before(end); time.Sleep(40 * time.Millisecond) {
			if v, err := chromedp.Run(p.ctx, chromedp.Evaluate[bool]("document.body.innerText.includes("+quote(text)+")")); err == nil && v {
				return
			}
		}
	}
	p.fail("pressing %s never shows %q", key, text)
}

func (p *page) shot(file string) {
	p.t.Helper()
	p.settles()
	b, err := chromedp.Run(p.ctx, chromedp.CaptureScreenshot())
	if err != nil {
		p.fail("%v", err)
	}
	if err := os.MkdirAll(filepath.Dir(file), 0o755); err != nil {
		p.t.Fatal(err)
	}
	if err := os.WriteFile(file, b, 0o644); err != nil {
		p.t.Fatal(err)
	}
}

// give hands a file with this content to the page's file input.
func (p *page) give(name, content string) {
	p.t.Helper()
	file := filepath.Join(p.t.TempDir(), name)
	if err := os.WriteFile(file, []byte(content), 0o600); err != nil {
		p.t.Fatal(err)
	}
	p.do(chromedp.SetUploadFiles(chromedp.CSS("input[type=file]"), []string{file}))
}

// menu opens a group of pages in the bar on top and goes to one of them.
func (p *page) menu(group, name string) { p.t.Helper(); p.from(".topbar", group, name) }

// door opens a group of a unit's benches and goes to one of them.
func (p *page) door(group, name string) { p.t.Helper(); p.from(".band", group, name) }

func (p *page) from(where, group, name string) {
	p.t.Helper()
	p.clickAt(`[...document.querySelectorAll(` + quote(where+" button") + `)].find(e => e.textContent.trim() === ` + quote(group) + `)`)
	p.clickAt(`[...document.querySelectorAll('[role=menuitem]')].find(e => e.textContent.trim() === ` + quote(name) + `)`)
}

// inches measures in inches and miles from here on.
func (p *page) inches() { p.t.Helper(); p.from(".topbar", "mm · km/h", "inch · mph") }

// signIn comes in as one of the demo's people.
func (p *page) signIn(name string) {
	p.t.Helper()
	p.visit("/sign-in")
	p.click(name)
	p.sees("What gear ratio is in it?")
}
