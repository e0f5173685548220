package e2e

import (
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"zorvel/core/driveline"
)

// TestPace measures how quickly the interface answers, for docs/performance.md; make pace
// runs it, on an idle machine. It is no test: nothing fails for being slow.
func TestPace(t *testing.T) {
	if os.Getenv("ZORVEL_PACE") == "" {
		t.Skip("set ZORVEL_PACE to measure")
	}
	p := open(t, true, 1280, 800)
	p.motion("no-preference")
	p.signIn("Oda Brenk")
	p.sees("Rescue van Tern 2")
	benches := openings(p)
	fmt.Printf("\nbench opened, from the tap to its paint, warm (%d benches): median %.0f ms, slowest %.0f ms (%s)\n",
		len(benches), benches[len(benches)/2].took, benches[len(benches)-1].took, benches[len(benches)-1].path)
	keys := countingPace(p)
	fmt.Printf("counter, 30 keys a second, key to paint (%d keys): median %.0f ms, 95 of 100 within %.0f ms, slowest %.0f ms\n",
		len(keys), keys[len(keys)/2], keys[len(keys)*95/100], keys[len(keys)-1])
	turning(p)
}

type opening struct {
	path string
	took float64
}

// openings opens every bench of the first page twice; the second time is told.
func openings(p *page) []opening {
	var out []opening
	p.visit("/")
	p.sees("What gear ratio is in it?")
	paths := eval[[]string](p, `
		[...new Set([...document.querySelectorAll('main a[href^="/"]')].map(a => a.getAttribute('href')))]
			.filter(h => !/units|jobs/.test(h))`)
	for _, path := range paths {
		took := 0.0
		for range 2 {
			p.visit("/")
			p.sees("What gear ratio is in it?")
			// The way to the bench is warm: what it loads was loaded by the round before.
			eval[bool](p, `(() => {
				window.took = 0;
				const a = document.querySelector('main a[href="`+path+`"]');
				addEventListener('click', ev => {
					const from = ev.timeStamp;
					const look = () => {
						const h = document.querySelector('main h1, .band h1, [data-part=bench] h2, main h2, main form, main input');
						if (location.pathname !== '/' && h && !document.querySelector('main .mantine-Loader-root'))
							requestAnimationFrame(() => setTimeout(() => { window.took = performance.now() - from; }));
						else requestAnimationFrame(look);
					};
					requestAnimationFrame(look);
				}, {once: true, capture: true});
				a.click();
				return true;
			})()`)
			p.until("the bench "+path, "window.took > 0")
			took = eval[float64](p, "window.took")
		}
		out = append(out, opening{path, took})
	}
	slices.SortFunc(out, func(a, b opening) int { return int(a.took*1000 - b.took*1000) })
	return out
}

// countingPace presses thirty keys a second at the counter, while the verdict is computed
// for what was counted before.
func countingPace(p *page) []float64 {
	p.visit("/count/ring_and_pinion")
	p.sees("Nothing measured yet")
	p.press("3", "Chalk one tooth as the start and call it zero.")
	p.click("Count Ring gear")
	p.is("[data-part=count]", "0")
	eval[bool](p, `(() => {
		window.keys = [];
		const seen = ev => setTimeout(() => window.keys.push(performance.now() - ev.timeStamp));
		addEventListener('keydown', ev => requestAnimationFrame(() => seen(ev)), {capture: true});
		return true;
	})()`)
	tick := time.NewTicker(time.Second / 30)
	defer tick.Stop()
	for range 150 {
		<-tick.C
		p.keys(" ")
	}
	p.until("all keys to be counted", "window.keys.length >= 150")
	out := eval[[]float64](p, "window.keys")
	slices.Sort(out)
	return out
}

// tenAxles is a vehicle with ten driven axles, each by a differential of its own.
func tenAxles(t *testing.T) *driveline.Document {
	t.Helper()
	list := driveline.Layouts()
	at := slices.IndexFunc(list, func(l driveline.Layout) bool { return l.ID == "tandem" })
	if at < 0 {
		t.Fatal("no tandem")
	}
	d := list[at].Document
	of := func(id string) driveline.Part {
		return d.Parts[slices.IndexFunc(d.Parts, func(p driveline.Part) bool { return p.ID == id })]
	}
	var wheels []driveline.Part
	for _, p := range d.Parts {
		if strings.HasPrefix(p.From, "second.") {
			wheels = append(wheels, p)
		}
	}
	first := slices.IndexFunc(d.Parts, func(p driveline.Part) bool { return p.ID == "divider" })
	parts, from := slices.Clone(d.Parts[:first]), "prop"
	as := func(p driveline.Part, n int, from string) string {
		p.ID = fmt.Sprint(p.ID, n)
		p.Name, p.From = fmt.Sprint(p.Name, " ", n), from
		parts = append(parts, p)
		return p.ID
	}
	on := func(axle string, n int) {
		for _, w := range wheels {
			as(w, n, axle+strings.TrimPrefix(w.From, "second"))
		}
	}
	for n := range 9 {
		divider := as(of("divider"), n, from)
		on(as(of("rear"), n, as(of("drop"), n, divider+".here")), n)
		from = as(of("through"), n, divider+".through")
	}
	on(as(of("second"), 9, from), 9)
	d.Parts = parts
	return &d
}

// turning counts frames while machines turn: two of the demo's, and one of ten axles.
func turning(p *page) {
	text, err := json.Marshal(map[string]any{"name": "Ten axles", "kind": "truck", "driveline": tenAxles(p.t)})
	if err != nil {
		p.t.Fatal(err)
	}
	eval[bool](p, `(() => { window.added = 0; fetch('/api/v1/units', {method: 'POST', headers: {'Content-Type': 'application/json'}, body: `+
		quote(string(text))+`}).then(r => r.json()).then(u => { window.added = u.id ?? JSON.stringify(u); }); return true; })()`)
	p.until("the unit to be added", "window.added")
	ten := fmt.Sprintf("/units/%v/trace", eval[any](p, "window.added"))
	for _, path := range []string{"/units/8/trace", "/units/2/trace", ten} {
		p.visit(path)
		p.until("the machine", "document.querySelector('main svg')")
		eval[bool](p, `(() => {
			window.frames_ = [];
			const next = t => { window.frames_.push(t); if (window.frames_.length < 241) requestAnimationFrame(next); };
			requestAnimationFrame(next);
			return true;
		})()`)
		p.until("240 frames", "window.frames_.length > 240")
		frames := eval[[]float64](p, "window.frames_")
		var gaps []float64
		for i := range len(frames) - 1 {
			gaps = append(gaps, frames[i+1]-frames[i])
		}
		slices.Sort(gaps)
		fmt.Printf("%s, turning: %.1f frames a second, 99 of 100 within %.1f ms\n", strings.TrimPrefix(path, "/"),
			1000*float64(len(gaps))/(frames[len(frames)-1]-frames[0]), gaps[len(gaps)*99/100])
	}
}
