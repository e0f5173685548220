package server

import (
	"bytes"
	"cmp"
	"fmt"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"

	"zorvel/core/exact"
	"zorvel/core/regear"
	"zorvel/core/say"
	"zorvel/internal/store"
)

// sheetHead is what stands above a printed plan.
type sheetHead struct {
	Title, Currency, By, Note string
	Speeds                    string // km/h if empty, or mph
	At                        time.Time
	TakenIn                   *store.TakenIn
}

// speed prints a speed in the sheet's unit.
func (h sheetHead) speed(kmh float64) string { return fmt.Sprintf("%.1f", say.SpeedIn(kmh, h.Speeds)) }

func trimFloat(f float64) string { return strconv.FormatFloat(f, 'f', -1, 64) }

// paper is a sheet being written.
type paper struct {
	*fpdf.Fpdf
	width float64
}

func newPaper(title string) *paper {
	pdf := fpdf.New("P", "mm", "A4", "")
	pdf.AddUTF8FontFromBytes("go", "", goregular.TTF)
	pdf.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	pdf.SetMargins(16, 14, 16)
	pdf.SetAutoPageBreak(true, 16)
	pdf.SetTitle(printable(title), true)
	pdf.SetCreator("Zorvel", true)
	w, _ := pdf.GetPageSize()
	p := &paper{pdf, w - 32}
	pdf.SetFooterFunc(func() {
		pdf.SetY(-12)
		pdf.SetFont("go", "", 7.5)
		pdf.SetTextColor(90, 90, 90)
		pdf.CellFormat(p.width-20, 5, "Zorvel suggests; a qualified person decides. The maker's manual and local rules come first.", "", 0, "L", false, 0, "")
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
func (p *paper) CellFormat(w, h float64, s, border string, ln int, align string, fill bool, link int, href string) {
	p.Fpdf.CellFormat(w, h, printable(s), border, ln, align, fill, link, href)
}

// MultiCell is text over several lines.
func (p *paper) MultiCell(w, h float64, s, border, align string, fill bool) {
	p.Fpdf.MultiCell(w, h, printable(s), border, align, fill)
}

func (p *paper) head(s string) {
	p.Ln(2.5)
	p.SetFont("go", "B", 11)
	p.CellFormat(p.width, 6.5, s, "B", 1, "L", false, 0, "")
	p.Ln(1)
}

func (p *paper) text(s string) {
	p.SetFont("go", "", 9)
	p.MultiCell(p.width, 4.5, s, "", "L", false)
}

func (p *paper) point(sign, s string) {
	p.SetFont("go", "B", 9)
	p.CellFormat(5, 4.5, sign, "", 0, "L", false, 0, "")
	p.SetFont("go", "", 9)
	p.MultiCell(p.width-5, 4.5, s, "", "L", false)
}

// row writes cells of these widths; the first is set left, the others right.
func (p *paper) row(style string, widths []float64, cells ...string) {
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

func money(n exact.Number, currency string) string {
	return strings.TrimSpace(n.Decimal(2) + " " + currency)
}

// sheet prints a plan's estimate: what changed, what is recommended and why,
// the gears before and after, the money, and what to do while it is open.
func sheet(plan *regear.Plan, h sheetHead) ([]byte, error) {
	title := h.Title
	if title == "" {
		title = "Re-gear estimate"
	}
	p := newPaper(title)
	p.SetFont("go", "B", 16)
	p.CellFormat(p.width, 9, title, "", 1, "L", false, 0, "")
	under := "Re-gear estimate"
	if h.By != "" {
		under += fmt.Sprintf(" · decided by %s on %s", h.By, h.At.Format("2 January 2006"))
		if x := h.TakenIn; x != nil {
			under += fmt.Sprintf(", taken in from a document by %s on %s", x.By, x.At.Format("2 January 2006"))
		}
	}
	p.text(under)
	if h.Note != "" {
		p.text(h.Note)
	}
	p.head("What changed")
	p.text("Before: " + plan.OldTire.Sentence)
	p.text("Now: " + plan.NewTire.Sentence)
	for _, s := range plan.Change.Sentences {
		p.text(s)
	}
	var chosen *regear.Candidate
	for i := range plan.Candidates {
		if plan.Candidates[i].ID == plan.Estimate.Candidate {
			chosen = &plan.Candidates[i]
		}
	}
	after := &plan.TiresOnly
	for i := range plan.Variants {
		if chosen != nil && plan.Variants[i].ID == chosen.Variant {
			after = &plan.Variants[i]
		}
	}
	p.advice(plan, chosen)
	p.gears(plan, after, h)
	p.estimate(plan, h)
	p.head("While it is open")
	for _, o := range plan.WhileOpen {
		p.point("□", o.Where+": "+o.What+". "+o.Why)
	}
	p.head("Cautions")
	for _, c := range plan.Cautions {
		p.point("!", c)
	}
	var b bytes.Buffer
	err := p.Output(&b)
	return b.Bytes(), err
}

func (p *paper) advice(plan *regear.Plan, chosen *regear.Candidate) {
	if chosen != nil && chosen.ID == plan.Advice.Candidate {
		p.head("Recommended: " + strings.TrimSuffix(plan.Advice.Sentence, "."))
		for _, s := range plan.Advice.For {
			p.point("+", s)
		}
		for _, s := range plan.Advice.Against {
			p.point("–", s)
		}
		p.text(plan.Advice.Sure)
		if plan.Automatic != "" {
			p.text(plan.Automatic)
		}
	} else if chosen != nil {
		p.head("Chosen: " + chosen.Name)
		p.text("Recommended was: " + plan.Advice.Sentence)
		for _, x := range chosen.Points {
			p.point("–", x.Text)
		}
		if chosen.Match != nil {
			p.text(chosen.Match.Verdict)
		}
	}
}

func (p *paper) gears(plan *regear.Plan, after *regear.Variant, h sheetHead) {
	p.head("Gears, before and after")
	w := []float64{38, 28, 28, 28, 28, 28}
	p.row("B", w, "Gear", "overall before", "tires only", "after", "shift "+cmp.Or(h.Speeds, "km/h")+" before", "after")
	for i, r := range plan.Before.Rows {
		if i >= len(plan.TiresOnly.Rows) || i >= len(after.Rows) {
			break
		}
		name := strings.TrimSpace(r.Gear + " " + r.Range)
		p.row("", w, name, r.Overall.Decimal(2), plan.TiresOnly.Rows[i].Overall.Decimal(2), after.Rows[i].Overall.Decimal(2),
			h.speed(r.ShiftKMH), h.speed(after.Rows[i].ShiftKMH))
	}
	p.row("B", w, "rpm at cruise, gear "+plan.CruiseGear, fmt.Sprintf("%.0f", plan.Before.CruiseRPM), fmt.Sprintf("%.0f", plan.TiresOnly.CruiseRPM), fmt.Sprintf("%.0f", after.CruiseRPM), "", "")
	p.row("B", w, "crawl ratio", plan.Before.Crawl.Decimal(1), plan.TiresOnly.Crawl.Decimal(1), after.Crawl.Decimal(1), "", "")
	p.row("B", w, "thrust against stock", "", fmt.Sprintf("%+.1f %%", plan.TiresOnly.Against), fmt.Sprintf("%+.1f %%", after.Against), "", "")
}

func (p *paper) estimate(plan *regear.Plan, h sheetHead) {
	p.head("Estimate: " + plan.Estimate.Name)
	if !plan.Estimate.Priced {
		p.text("Nothing of it is priced yet. Missing: " + strings.Join(plan.Estimate.Missing, "; ") + ".")
		return
	}
	w := []float64{p.width - 70, 35, 35}
	p.row("B", w, "", "from", "to")
	for _, l := range plan.Estimate.Lines {
		what := l.What
		if l.At != "" {
			what += ", " + l.At
		}
		if l.How != "" && l.How != "catalog" {
			what += " (" + l.How + ")"
		}
		p.row("", w, what, money(l.Low, h.Currency), money(l.High, h.Currency))
	}
	p.row("B", w, "Together", money(plan.Estimate.Low, h.Currency), money(plan.Estimate.High, h.Currency))
	if len(plan.Estimate.Missing) > 0 {
		p.text("Not priced yet: " + strings.Join(plan.Estimate.Missing, "; ") + ".")
	}
}
