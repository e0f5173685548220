package paper

import (
	"fmt"
	"strings"

	"rsc.io/qr"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/driveline"
	"zorvel/core/say"
	"zorvel/core/service"
)

// Wall is a page for the wall beside a unit: its ratios, its tires, what is due next, and
// a code that leads to its page.
type Wall struct {
	Unit    api.Unit
	Doc     *driveline.Document
	Due     *service.Answer
	Trouble string // why nothing can be said of what is due
	Head    catalog.Letterhead
	Link    string // of the unit's page; none, no code
}

// mostDue bounds the services on the page: the next ones.
const mostDue = 12

// Print writes it, on one page, in letters that are read from a step away.
func (w *Wall) Print() ([]byte, error) {
	p := New(w.Head, w.Unit.Name, "")
	if err := p.code(w.Link); err != nil {
		return nil, err
	}
	p.Machine(w.Doc, ratiosOf(w.Unit))
	p.Head("Ratios")
	n, _ := p.ratios(w.Unit)
	if n == 0 {
		p.Text("Nothing counted yet.")
	}
	if tires := tiresOf(w.Doc); len(tires) > 0 {
		p.Head("Tires")
		for _, t := range tires {
			p.Point("•", t)
		}
	}
	p.Head("Next service")
	n = 0
	for _, d := range w.Due.Due {
		if d.State == service.Unknown || n == mostDue {
			continue
		}
		p.due(d)
		n++
	}
	switch {
	case w.Trouble != "":
		p.Text("It can't be worked out: " + w.Trouble)
	case n == 0:
		p.Text("No service on record yet: see the maker's manual.")
	}
	return p.Bytes()
}

// tiresOf are the tires of each end, as they are written on them or by what they roll.
func tiresOf(d *driveline.Document) []string {
	var out []string
	seen := map[string]bool{}
	for i := range d.Parts {
		w := d.Parts[i].Wheel
		if w == nil {
			continue
		}
		text := w.Tire
		if text == "" && w.RollingMM.Sign() > 0 {
			text = "rolls " + w.RollingMM.Short(0) + " mm a turn"
		}
		line := say.Capital(strings.TrimPrefix(w.At+": "+text, ": "))
		if text != "" && !seen[line] {
			seen[line] = true
			out = append(out, line)
		}
	}
	return out
}

// code draws a QR code (ISO/IEC 18004) of a link at the top right, with the link under it.
func (p *Sheet) code(link string) error {
	if link == "" {
		return nil
	}
	c, err := qr.Encode(link, qr.M)
	if err != nil {
		return fmt.Errorf("the link to the unit's page: %w", err)
	}
	const side = 30.0
	dot := side / float64(c.Size)
	x0, y0 := 16+p.Width-side, 12.0
	p.SetFillColor(255, 255, 255)
	p.Rect(x0-2, y0-2, side+4, side+4, "F")
	p.SetFillColor(0, 0, 0)
	for y := range c.Size {
		for x := range c.Size {
			if c.Black(x, y) {
				p.Rect(x0+float64(x)*dot, y0+float64(y)*dot, dot, dot, "F")
			}
		}
	}
	if p.GetY() < y0+side+3 {
		p.SetY(y0 + side + 3)
	}
	return nil
}
