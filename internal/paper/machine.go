package paper

import (
	"strings"

	"zorvel/core/driveline"
)

// machine is a driveline laid out on a sheet: its parts in columns from the front to the
// rear, wheels to both sides of their axles.
type machine struct {
	*Sheet
	doc    *driveline.Document
	feeds  map[string][]*driveline.Part
	ratios map[string]string // by part
	column map[string]int
	names  []string // parts in their columns
	ends   map[string]bool
	x0, y  float64
	width  float64 // of a column
}

const (
	boxHigh   = 11.0
	trackHalf = 20.0 // from the middle line to a wheel
	tireLong  = 15.0
	tireWide  = 5.5
)

// Machine draws a driveline as it lies, seen from above with the front at the left, each
// part with its name and its ratio.
func (p *Sheet) Machine(doc *driveline.Document, ratios map[string]string) {
	m := &machine{Sheet: p, doc: doc, feeds: map[string][]*driveline.Part{}, ratios: ratios,
		column: map[string]int{}, ends: map[string]bool{}}
	var first *driveline.Part
	for i := range doc.Parts {
		x := &doc.Parts[i]
		if x.From == "" {
			first = x
			continue
		}
		from, _, _ := strings.Cut(x.From, ".")
		m.feeds[from] = append(m.feeds[from], x)
	}
	if first == nil {
		return
	}
	front, rest := m.order(first)
	m.names = append(front, rest...)
	if len(m.names) == 0 {
		return
	}
	m.width = p.Width / float64(max(len(m.names), 4))
	for i, id := range m.names {
		m.column[id] = i
	}
	if p.GetY()+2*trackHalf+34 > 275 {
		p.AddPage()
	}
	m.x0, m.y = p.GetX(), p.GetY()+trackHalf+6
	p.SetFillColor(215, 225, 226)
	p.SetLineWidth(0.4)
	for _, id := range m.names {
		m.line(id)
	}
	for _, id := range m.names {
		m.part(id)
	}
	p.SetLineWidth(0.2)
	p.SetXY(m.x0, m.y+trackHalf+9)
}

// order lists parts that have a place of their own: front axles first, then along the
// power. Wheels, bare shafts and what sits at a wheel have none.
func (m *machine) order(first *driveline.Part) (front, rest []string) {
	seen := 0
	var walk func(x *driveline.Part)
	walk = func(x *driveline.Part) {
		if seen++; seen > 100 {
			return
		}
		switch {
		case m.plain(x):
		case m.doc.Lies == driveline.Vehicle && m.atFront(x):
			front = append(front, x.ID)
		default:
			rest = append(rest, x.ID)
		}
		for _, y := range m.feeds[x.ID] {
			walk(y)
		}
	}
	walk(first)
	return front, rest
}

// plain is whether a part is drawn as a line or a wheel only: it turns without gears, or
// it drives a single wheel.
func (m *machine) plain(x *driveline.Part) bool {
	if x.Wheel != nil || x.Has(driveline.DriveShaft) {
		return true
	}
	under := m.wheels(x)
	return len(under) == 1 && len(m.feeds[x.ID]) == 1 && m.feeds[x.ID][0].Wheel != nil
}

// wheels are those that a part drives, through whatever.
func (m *machine) wheels(x *driveline.Part) []*driveline.Wheel {
	if x.Wheel != nil {
		return []*driveline.Wheel{x.Wheel}
	}
	var out []*driveline.Wheel
	for _, y := range m.feeds[x.ID] {
		out = append(out, m.wheels(y)...)
	}
	return out
}

// atFront is whether all that a part drives are front wheels, and it is not on the line to
// another part that stands before them.
func (m *machine) atFront(x *driveline.Part) bool {
	w := m.wheels(x)
	for _, v := range w {
		if v.At != "front" {
			return false
		}
	}
	return len(w) > 0 && x.From != "" && m.axle(x)
}

// axle is whether a part's wheels hang on it directly, with shafts or hubs between.
func (m *machine) axle(x *driveline.Part) bool {
	return len(m.wheels(x)) > 1 && m.bare(x)
}

// bare is whether nothing with a place of its own hangs on a part.
func (m *machine) bare(x *driveline.Part) bool {
	for _, y := range m.feeds[x.ID] {
		if !m.plain(y) || !m.bare(y) {
			return false
		}
	}
	return true
}

func (m *machine) middle(id string) float64 { return m.x0 + (float64(m.column[id])+0.5)*m.width }

// line draws what feeds a part.
func (m *machine) line(id string) {
	from, _, _ := strings.Cut(m.doc.Part(id).From, ".")
	for from != "" {
		if _, there := m.column[from]; there {
			break
		}
		up := m.doc.Part(from)
		if up == nil {
			return
		}
		from, _, _ = strings.Cut(up.From, ".")
	}
	if from == "" {
		return
	}
	a, b := m.middle(from), m.middle(id)
	m.SetLineWidth(1.2)
	m.SetDrawColor(176, 127, 23)
	if d := m.column[id] - m.column[from]; d == 1 {
		m.Line(a, m.y, b, m.y)
	} else { // past the parts between
		y := m.y + boxHigh/2 + 2
		m.Line(a, m.y, a, y)
		m.Line(a, y, b, y)
		m.Line(b, y, b, m.y)
	}
	m.SetLineWidth(0.4)
	m.SetDrawColor(0, 0, 0)
}

// part draws a part, its wheels, its name and its ratio.
func (m *machine) part(id string) {
	x := m.doc.Part(id)
	at := m.middle(id)
	w := min(m.width-5, 22)
	var name float64 // where it begins, under the part
	if m.axle(x) {
		half := trackHalf
		m.Line(at, m.y-half, at, m.y+half)
		m.SetFillColor(60, 72, 76)
		for _, side := range []float64{-half, half} {
			m.Rect(at-tireLong/2, m.y+side-tireWide/2, tireLong, tireWide, "FD")
		}
		m.SetFillColor(215, 225, 226)
		m.Circle(at, m.y, 5, "FD")
		name = m.y + half + tireWide/2 + 1
	} else {
		m.Rect(at-w/2, m.y-boxHigh/2, w, boxHigh, "FD")
		name = m.y + boxHigh/2 + 3.5
	}
	m.SetFont("go", "", 8.5)
	m.SetXY(at-m.width/2+0.5, name)
	m.MultiCell(m.width-1, 3.8, x.Called(), "", "C", false)
	if r := m.ratios[id]; r != "" {
		m.SetFont("go", "B", 10.5)
		m.SetXY(at-m.width/2, m.y-boxHigh/2-5.5)
		if m.axle(x) {
			m.SetXY(at+1, m.y-boxHigh/2-5)
			m.CellFormat(m.width/2, 5, r, "", 0, "L", false, 0, "")
			return
		}
		m.CellFormat(m.width, 5, r, "", 0, "C", false, 0, "")
	}
}
