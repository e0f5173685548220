package server

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"strings"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/driveline"
	"zorvel/core/identify"
	"zorvel/core/say"
	"zorvel/core/service"
	"zorvel/internal/store"
)

// letterhead is the shop's name and address.
type letterhead struct{ name, address string }

func (s *Server) letterhead(ctx context.Context) (letterhead, error) {
	var h letterhead
	_, err := entries(ctx, s, catalog.Settings, func(_ string, r catalog.Row) (struct{}, bool) {
		switch r["setting"] {
		case "name":
			h.name = r["value"]
		case "address":
			h.address = r["value"]
		}
		return struct{}{}, false
	})
	return h, err
}

// jobSheet is a job to be printed: for the shop, or for the owner.
type jobSheet struct {
	page    api.Job
	unit    api.Unit
	doc     *driveline.Document
	due     *service.Answer
	trouble string
	head    letterhead
	owner   bool
}

func (sh *jobSheet) print() ([]byte, error) {
	j := sh.page.Job
	title := "Job sheet: " + j.Unit
	if sh.owner {
		title = "For the owner of " + j.Unit
	}
	p := newPaper(title)
	if sh.head.name != "" {
		p.SetFont("go", "B", 10)
		p.MultiCell(p.width, 5, sh.head.name, "", "R", false)
		p.SetFont("go", "", 9)
		p.MultiCell(p.width, 4.5, sh.head.address, "", "R", false)
	}
	p.SetFont("go", "B", 15)
	p.MultiCell(p.width, 7.5, title, "", "L", false)
	under := fmt.Sprintf("Came in %s", say.Day(j.At))
	if j.ClosedAt != nil {
		under += ", handed over " + say.Day(*j.ClosedAt)
	}
	if j.Customer != "" {
		under += "; for " + j.Customer
	}
	if !sh.owner {
		under += fmt.Sprintf("; done by %s, %s h", j.Who, say.Trim(j.Minutes/60, 1))
	}
	p.text(under + ".")
	p.head("What it was here for")
	p.text(j.Complaint)
	if sh.owner {
		sh.forOwner(p)
	} else {
		sh.forShop(p)
	}
	if sh.page.HandOver != "" {
		p.head("Handed over with")
		p.text(sh.page.HandOver)
	}
	p.Ln(10)
	p.SetFont("go", "", 9)
	p.CellFormat(p.width/2-6, 5, "Date", "T", 0, "L", false, 0, "")
	p.CellFormat(12, 5, "", "", 0, "L", false, 0, "")
	p.CellFormat(p.width/2-6, 5, "Signature", "T", 1, "L", false, 0, "")
	var b bytes.Buffer
	err := p.Output(&b)
	return b.Bytes(), err
}

// forShop is everything: the machine, every ratio with how sure it is, the log,
// decisions and what is due.
func (sh *jobSheet) forShop(p *paper) {
	p.head("Its driveline")
	p.line(sh.doc)
	p.head("Gear report")
	widths := []float64{p.width * 0.45, p.width * 0.2, p.width * 0.35}
	p.row("B", widths, "ratio", "", "how sure")
	var uncounted []string
	for _, v := range sh.unit.Stages {
		if !v.Present {
			continue
		}
		if v.State == identify.Unknown {
			uncounted = append(uncounted, say.Small(v.Name))
			continue
		}
		value, sure := "", settledWords[v.State]
		if v.About != nil {
			value = *v.About
		}
		if v.Label != nil {
			value = v.Label.Label
			if v.Label.Probability > 0 {
				sure += fmt.Sprintf(", %.1f %%", math.Min(99.9, 100*v.Label.Probability))
			}
		}
		p.row("", widths, v.Name, value, sure)
	}
	if len(uncounted) > 0 {
		p.text("Not counted: " + strings.Join(uncounted, ", ") + ".")
	}
	sh.log(p)
	if len(sh.page.Decisions) > 0 {
		p.head("Decided and on record")
		for _, d := range sh.page.Decisions {
			p.point("•", d.Title+" ("+d.By+", "+say.Day(d.At)+")")
		}
	}
	for _, c := range sh.page.Cards {
		state := "in hand"
		if c.Closed {
			state = "closed"
		}
		p.point("☑", c.Title+": "+state)
	}
	if len(sh.page.Open) > 0 {
		p.head("Still open")
		for _, o := range sh.page.Open {
			p.point("□", o.What+": "+o.Why)
		}
	}
	sh.dueList(p)
}

func (sh *jobSheet) log(p *paper) {
	p.head("Found and done")
	n := 0
	for _, w := range sh.page.Work {
		if text := workWords(w, sh.partName(w.Part)); text != "" {
			p.point("•", text+" ("+w.By+", "+say.Day(w.DoneAt)+")")
			n++
		}
	}
	if n == 0 {
		p.text("Nothing was entered.")
	}
}

func (sh *jobSheet) partName(id string) string {
	for i := range sh.doc.Parts {
		if sh.doc.Parts[i].ID == id {
			return sh.doc.Parts[i].Called()
		}
	}
	return id
}

// workWords is a line of a job in words; empty for what only moves it on.
func workWords(w api.Work, part string) string {
	at := ""
	if part != "" {
		at = part + ": "
	}
	switch string(w.Kind) {
	case store.WorkFinding:
		return at + "found: " + w.Text
	case store.WorkDone:
		if w.Minutes != nil && *w.Minutes > 0 {
			return at + w.Text + fmt.Sprintf(", %s h", say.Trim(*w.Minutes/60, 1))
		}
		return at + w.Text
	case store.WorkNote:
		return at + w.Text
	case store.WorkService:
		return strings.TrimSuffix(at+"served: "+w.What+". "+w.Text, " ")
	case store.WorkMeter:
		var list []string
		for _, x := range []struct {
			v    *float64
			unit string
		}{{w.Km, "km"}, {w.Hours, "h"}, {w.Sessions, "sessions"}} {
			if x.v != nil {
				list = append(list, say.Trim(*x.v, 1)+" "+x.unit)
			}
		}
		if w.Meter != nil {
			list = append(list, strings.ReplaceAll(*w.Meter, "_", " "))
		}
		return "meter: " + strings.Join(list, ", ")
	}
	return ""
}

// dueList is what is due, in words; what is not on record is for the shop alone.
func (sh *jobSheet) dueList(p *paper) {
	p.head("Due")
	n := 0
	unknown := map[string][]string{}
	var order []string
	for _, d := range sh.due.Due {
		if d.State == service.Unknown {
			if unknown[d.What] == nil {
				order = append(order, d.What)
			}
			unknown[d.What] = append(unknown[d.What], say.Small(d.Name))
			continue
		}
		p.point(map[string]string{service.Overdue: "!", service.Soon: "△", service.Later: "•"}[d.State], strings.Trim(say.Capital(d.What)+", "+say.Small(d.Name), ", ")+": "+d.Words+".")
		n++
	}
	switch {
	case sh.trouble != "":
		p.text("It can't be worked out: " + sh.trouble)
	case n == 0:
		p.text("Nothing is on record from which it could be said; see the maker's manual.")
	}
	if sh.owner || len(order) == 0 {
		return
	}
	var list []string
	for _, what := range order {
		list = append(list, what+" ("+strings.Join(unknown[what], ", ")+")")
	}
	p.text("Not on record when it was done last: " + strings.Join(list, "; ") + ".")
}

// forOwner is what was found and done, what is due, and how to drive on, in plain
// words.
func (sh *jobSheet) forOwner(p *paper) {
	sh.log(p)
	if len(sh.page.Decisions) > 0 {
		p.head("Decided")
		for _, d := range sh.page.Decisions {
			p.point("•", strings.TrimPrefix(d.Title, "Fault: "))
		}
	}
	sh.dueList(p)
	fitted, boat := false, sh.doc.Lies == driveline.Boat
	for _, w := range sh.page.Work {
		fitted = fitted || string(w.Kind) == store.WorkService && w.What == service.GearsFitted
	}
	for _, d := range sh.page.Decisions {
		fitted = fitted || d.Kind == "setup" || d.Kind == "regear"
	}
	if boat {
		p.head("On the water with it")
	} else {
		p.head("On the road with it")
	}
	switch {
	case boat:
		p.point("•", "Shift crisply and at the lowest idle. Look at the cooling stream whenever it starts.")
		p.point("•", "Water in the gear oil, a weak stream or a new noise: stop, and call.")
	case fitted:
		p.point("•", "New gears run in: the first 800 km in short trips, no full load, no long fast drives; let the axle cool after the first 20 minutes. Then its oil is changed. The maker's manual comes first.")
		p.point("•", "A whine that grows, a clunk, heat at an axle, oil underneath: stop, and call.")
	default:
		p.point("•", "A new noise, heat at a hub or axle, oil underneath, or shifting that changes: stop, and call.")
	}
	if !boat {
		p.point("•", "Towing: only as the maker's manual says. In neutral a gearbox or transfer case may get no oil while its wheels turn.")
	}
}

// line draws a driveline as boxes, in the order in which power passes them: what
// one part feeds stands to its right, branches below each other.
func (p *paper) line(doc *driveline.Document) {
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
	w, h := p.width/float64(max(cols, 5)), 9.0
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
func fit(p *paper, s string, w float64) string {
	r := []rune(printable(s))
	for len(r) > 1 && p.GetStringWidth(string(r)) > w {
		r = r[:len(r)-1]
	}
	return string(r)
}
