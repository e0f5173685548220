// Package paper prints: the sheets that leave the program on A4. What they say was
// worked out before; here it is only laid out.
package paper

import (
	"bytes"
	"fmt"
	"strings"
	"sync"

	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"

	"zorvel/core/driveline"
)

// Sheet is a document being written, on A4.
type Sheet struct {
	*fpdf.Fpdf
	Width float64 // between the margins, mm
}

// New begins a sheet.
func New(title string) *Sheet {
	pdf := fpdf.New("P", "mm", "A4", "")
	pdf.AddUTF8FontFromBytes("go", "", goregular.TTF)
	pdf.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	pdf.SetMargins(16, 14, 16)
	pdf.SetAutoPageBreak(true, 16)
	pdf.SetTitle(printable(title), true)
	pdf.SetCreator("Zorvel", true)
	w, _ := pdf.GetPageSize()
	p := &Sheet{pdf, w - 32}
	pdf.SetFooterFunc(func() {
		pdf.SetY(-12)
		pdf.SetFont("go", "", 7.5)
		pdf.SetTextColor(90, 90, 90)
		pdf.CellFormat(p.Width-20, 5, "Zorvel suggests; a qualified person decides. The maker's manual and local rules come first.", "", 0, "L", false, 0, "")
		pdf.CellFormat(20, 5, fmt.Sprint(pdf.PageNo()), "", 0, "R", false, 0, "")
		pdf.SetTextColor(0, 0, 0)
	})
	pdf.AddPage()
	return p
}

// printed is what the sheet's font has letters for; sfnt parses it once.
var printed = sync.OnceValue(func() func(rune) bool {
	font, err := sfnt.Parse(goregular.TTF)
	if err != nil { // it ships with the program
		panic(err)
	}
	var buf sfnt.Buffer
	var mu sync.Mutex
	return func(r rune) bool {
		mu.Lock()
		defer mu.Unlock()
		i, err := font.GlyphIndex(&buf, r)
		return err == nil && i != 0 && r <= 0xffff
	}
})

// printable puts a visible box where the font has no letter.
func printable(s string) string {
	has := printed()
	return strings.Map(func(r rune) rune {
		if r < ' ' || has(r) {
			return r
		}
		return '□'
	}, s)
}

// CellFormat and MultiCell write what the font can.
func (p *Sheet) CellFormat(w, h float64, s, border string, ln int, align string, fill bool, link int, href string) {
	p.Fpdf.CellFormat(w, h, printable(s), border, ln, align, fill, link, href)
}

// MultiCell is text over several lines.
func (p *Sheet) MultiCell(w, h float64, s, border, align string, fill bool) {
	p.Fpdf.MultiCell(w, h, printable(s), border, align, fill)
}

// Head begins a section.
func (p *Sheet) Head(s string) {
	p.Ln(2.5)
	p.SetFont("go", "B", 11)
	p.CellFormat(p.Width, 6.5, s, "B", 1, "L", false, 0, "")
	p.Ln(1)
}

// Text writes a paragraph.
func (p *Sheet) Text(s string) {
	p.SetFont("go", "", 9)
	p.MultiCell(p.Width, 4.5, s, "", "L", false)
}

// Point writes a line of a list after its sign.
func (p *Sheet) Point(sign, s string) {
	p.SetFont("go", "B", 9)
	p.CellFormat(5, 4.5, sign, "", 0, "L", false, 0, "")
	p.SetFont("go", "", 9)
	p.MultiCell(p.Width-5, 4.5, s, "", "L", false)
}

// Row writes cells of these widths; the first is set left, the others right.
func (p *Sheet) Row(style string, widths []float64, cells ...string) {
	p.SetFont("go", style, 8.5)
	for i, c := range cells {
		align := "R"
		if i == 0 {
			align = "L"
		}
		p.CellFormat(widths[i], 5, c, "B", 0, align, false, 0, "")
	}
	p.Ln(5)
}

// Bytes is the sheet as PDF.
func (p *Sheet) Bytes() ([]byte, error) {
	var b bytes.Buffer
	err := p.Output(&b)
	return b.Bytes(), err
}

// Driveline draws a driveline as boxes, in the order in which power passes them: what
// one part feeds stands to its right, branches below each other.
func (p *Sheet) Driveline(doc *driveline.Document) {
	type cell struct {
		part     *driveline.Part
		col, row int
	}
	feeds := map[string][]*driveline.Part{}
	var first *driveline.Part
	for i := range doc.Parts {
		x := &doc.Parts[i]
		if x.From == "" {
			first = x
			continue
		}
		from, _, _ := strings.Cut(x.From, ".")
		feeds[from] = append(feeds[from], x)
	}
	var cells []cell
	rows, cols := 0, 0
	var place func(x *driveline.Part, col, row int)
	place = func(x *driveline.Part, col, row int) {
		if col > 14 || len(cells) > 60 {
			return // deeper than a sheet is wide
		}
		cells = append(cells, cell{x, col, row})
		cols = max(cols, col+1)
		for i, y := range feeds[x.ID] {
			if i > 0 {
				rows++
			}
			place(y, col+1, rows)
		}
	}
	if first == nil {
		return
	}
	place(first, 0, 0)
	w, h := p.Width/float64(max(cols, 5)), 9.0
	x0, y0 := p.GetX(), p.GetY()+1
	if y0+float64(rows+1)*h > 275 {
		p.AddPage()
		y0 = p.GetY()
	}
	at := map[string]cell{}
	for _, c := range cells {
		at[c.part.ID] = c
	}
	p.SetFont("go", "", 6.5)
	for _, c := range cells {
		x, y := x0+float64(c.col)*w, y0+float64(c.row)*h
		if from, _, _ := strings.Cut(c.part.From, "."); from != "" {
			f := at[from]
			fx, fy := x0+float64(f.col+1)*w-3, y0+float64(f.row)*h+3
			p.Line(fx, fy, fx+1.5, fy)
			p.Line(fx+1.5, fy, fx+1.5, y+3)
			p.Line(fx+1.5, y+3, x, y+3)
		}
		p.Rect(x, y, w-3, 6, "D")
		p.SetXY(x, y)
		p.CellFormat(w-3, 6, fit(p, c.part.Called(), w-4), "", 0, "C", false, 0, "")
	}
	p.SetXY(x0, y0+float64(rows+1)*h)
}

// fit shortens a name to a width.
func fit(p *Sheet, s string, w float64) string {
	r := []rune(printable(s))
	for len(r) > 1 && p.GetStringWidth(string(r)) > w {
		r = r[:len(r)-1]
	}
	return string(r)
}
