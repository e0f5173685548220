package e2e

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"time"
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
	paths := eval[[]string](p, `[...new Set([...document.querySelectorAll('main a[href^="/"]')].map(a => a.getAttribute('href')))].filter(h => !/units|jobs/.test(h))`)
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
						if (location.pathname !== '/' && h && !document.querySelector('main .mantine-Loader-root')) requestAnimationFrame(t => setTimeout(() => { window.took = performance.now() - from; }));
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
		addEventListener('keydown', ev => requestAnimationFrame(() => setTimeout(() => window.keys.push(performance.now() - ev.timeStamp))), {capture: true});
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

// turning counts frames while a machine turns.
func turning(p *page) {
	for _, path := range []string{"/units/8/trace", "/units/2/trace"} {
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
