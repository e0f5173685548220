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

	"zorvel/core/catalog"
)

// Sheet is a document being written, on A4.
type Sheet struct {
	*fpdf.Fpdf
	Width float64 // between the margins, mm
}

// New begins a sheet with the shop's letterhead, its title, and a line under that.
func New(head catalog.Letterhead, title, under string) *Sheet {
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
	p.letterhead(head)
	p.SetFont("go", "B", 18)
	p.MultiCell(p.Width, 8.5, title, "", "L", false)
	if under != "" {
		p.Text(under)
	}
	return p
}

// letterhead is who writes, over a rule in brass.
func (p *Sheet) letterhead(head catalog.Letterhead) {
	if head.Name != "" {
		p.SetFont("go", "B", 12)
		p.CellFormat(p.Width, 6, head.Name, "", 1, "L", false, 0, "")
		p.SetFont("go", "", 9)
		p.MultiCell(p.Width, 4.5, head.Address, "", "L", false)
	}
	y := p.GetY() + 1.5
	p.SetDrawColor(176, 127, 23)
	p.SetLineWidth(1)
	p.Line(16, y, 16+p.Width, y)
	p.SetDrawColor(0, 0, 0)
	p.SetLineWidth(0.2)
	p.SetY(y + 3)
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
	p.SetFont("go", "B", 12.5)
	p.CellFormat(p.Width, 7, s, "B", 1, "L", false, 0, "")
	p.Ln(1)
}

// Text writes a paragraph.
func (p *Sheet) Text(s string) {
	p.SetFont("go", "", 10.5)
	p.MultiCell(p.Width, 5.2, s, "", "L", false)
}

// Point writes a line of a list after its sign.
func (p *Sheet) Point(sign, s string) {
	p.SetFont("go", "B", 10.5)
	p.CellFormat(6, 5.2, sign, "", 0, "L", false, 0, "")
	p.SetFont("go", "", 10.5)
	p.MultiCell(p.Width-6, 5.2, s, "", "L", false)
}

// Row writes cells of these widths; the first is set left, the others right.
func (p *Sheet) Row(style string, widths []float64, cells ...string) {
	p.SetFont("go", style, 10)
	for i, c := range cells {
		align := "R"
		if i == 0 {
			align = "L"
		}
		p.CellFormat(widths[i], 6, c, "B", 0, align, false, 0, "")
	}
	p.Ln(6)
}

// Bytes is the sheet as PDF.
func (p *Sheet) Bytes() ([]byte, error) {
	var b bytes.Buffer
	err := p.Output(&b)
	return b.Bytes(), err
}
