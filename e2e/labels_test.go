package e2e

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/chromedp/chromedp"

	"zorvel/core/driveline"
)

// Labels of any size anywhere come to places where none touches another or what is
// drawn, and none leaves the frame sideways. One that is free stays.
func TestBrowserMovesLabels(t *testing.T) {
	p := modules(t)
	r := rand.New(rand.NewPCG(3, 7))
	type rect struct{ L, T, W, H float64 }
	hits := func(a, b rect) bool {
		return a.L < b.L+b.W && b.L < a.L+a.W && a.T < b.T+b.H && b.T < a.T+a.H
	}
	within := func(lo, hi float64) float64 { return lo + (hi-lo)*r.Float64() }
	for range 60 {
		width := within(220, 1400)
		var drawn, labels []rect
		var text string
		for range r.IntN(40) {
			drawn = append(drawn, rect{within(0, width), within(0, 400), within(1, 120), within(1, 120)})
		}
		for i := range 1 + r.IntN(14) {
			q := rect{within(-60, width), within(-20, 400), within(10, 200), within(14, 110)}
			labels = append(labels, q)
			if i > 0 {
				text += ","
			}
			text += fmt.Sprintf(`{l:%v,t:%v,w:%v,h:%v,goes:%q}`, q.L, q.T, q.W, q.H, []string{"up", "down", "either"}[i%3])
		}
		shapes := "["
		for _, d := range drawn {
			shapes += fmt.Sprintf(`{l:%v,t:%v,w:%v,h:%v},`, d.L, d.T, d.W, d.H)
		}
		b, err := json.Marshal(told(p, fmt.Sprintf(`zorvel.labels.moveLabels([%s], %s], %v)`, text, shapes, width)))
		if err != nil {
			t.Fatal(err)
		}
		var moves []struct{ DX, DY float64 }
		if err := json.Unmarshal(b, &moves); err != nil {
			t.Fatal(err)
		}
		lone := func(i int) bool {
			for k, o := range labels {
				near := rect{labels[i].L - 6, labels[i].T - 6, labels[i].W + 12, labels[i].H + 12}
				if k != i && hits(near, o) {
					return false
				}
			}
			for _, d := range drawn {
				if hits(rect{labels[i].L - 2, labels[i].T - 2, labels[i].W + 4, labels[i].H + 4}, d) {
					return false
				}
			}
			return labels[i].L >= 0 && labels[i].L+labels[i].W <= width
		}
		var there []rect
		for i, q := range labels {
			if lone(i) && (moves[i].DX != 0 || moves[i].DY != 0) {
				t.Errorf("%v moved by %v though nothing was in its way", q, moves[i])
			}
			there = append(there, rect{q.L + moves[i].DX, q.T + moves[i].DY, q.W, q.H})
		}
		for i, a := range there {
			if a.L < -0.01 || a.L+a.W > width+0.01 {
				t.Errorf("%v leaves a frame %v wide", a, width)
			}
			for _, z := range append(there[i+1:len(there):len(there)], drawn...) {
				if hits(a, z) {
					t.Errorf("%v touches %v", a, z)
				}
			}
		}
	}
}

// touching lists the labels of the drawn machines that touch one another, lie over what
// is drawn, or leave the screen.
const touching = `(() => {
	const out = [], box = e => e.getBoundingClientRect()
	const over = (a, b, by) => Math.min(a.right, b.right) - Math.max(a.left, b.left) > by &&
		Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > by
	for (const svg of document.querySelectorAll('svg.machine')) {
		const spots = [...svg.parentElement.querySelectorAll('.spot')].filter(e => box(e).width > 0)
		const drawn = svg.querySelectorAll('.housing, .disc-body, .rod-body, .idle > rect')
		for (const [i, a] of spots.entries()) {
			for (const z of spots.slice(i + 1)) if (over(box(a), box(z), 0.5)) out.push(a.innerText + ' touches ' + z.innerText)
			for (const s of drawn) if (over(box(a), box(s), 1))
				out.push(a.innerText + ' lies over ' + (s.nextSibling?.textContent || s.className.baseVal))
			if (box(a).left < -0.5 || box(a).right > innerWidth + 0.5) out.push(a.innerText + ' is not on the screen')
		}
	}
	return out.join('; ').replaceAll('\n', ' ')
})()`

// No label on a drawn machine touches anything, on no layout, at no width.
func TestLabelsTouchNothing(t *testing.T) {
	p := open(t, true, 1280, 800)
	look := func(where string) {
		p.until("the machine of "+where, "document.querySelector('svg.machine')?.parentElement.querySelector('.spot')")
		for _, width := range []int64{1280, 820, 700, 390} {
			p.do(chromedp.EmulateViewport(width, 800))
			p.until(fmt.Sprintf("%s at %d px without a label that touches anything", where, width),
				fmt.Sprintf("innerWidth === %d && (window.touching = %s) === ''", width, touching))
		}
	}
	for _, l := range driveline.Layouts() {
		p.visit("/trace?layout=" + l.ID)
		look(l.ID)
	}
	p.signIn("Oda Brenk")
	for unit := range 9 {
		where := fmt.Sprintf("/units/%d", unit+1)
		p.visit(where)
		p.until(where, "document.querySelector('svg.machine') || document.body.innerText.includes('No drawing')")
		look(where)
	}
}
