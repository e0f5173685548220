package paper

import (
	"cmp"
	"fmt"
	"strings"
	"time"

	"zorvel/core/catalog"
	"zorvel/core/exact"
	"zorvel/core/regear"
	"zorvel/core/say"
)

// Heading is what stands above a printed plan.
type Heading struct {
	Title, Currency, By, Note string
	Speeds                    string // km/h if empty, or mph
	At                        time.Time
	Shop                      catalog.Letterhead
	TakenIn                   string // by whom and when it came in a document
}

// speed prints a speed in the sheet's unit.
func (h Heading) speed(kmh float64) string { return fmt.Sprintf("%.1f", say.SpeedIn(kmh, h.Speeds)) }

func money(n exact.Number, currency string) string {
	return strings.TrimSpace(n.Decimal(2) + " " + currency)
}

// Regear prints a plan's estimate: what changed, what is recommended and why,
// the gears before and after, the money, and what to do while it is open.
func Regear(plan *regear.Plan, h Heading) ([]byte, error) {
	title := h.Title
	if title == "" {
		title = "Re-gear estimate"
	}
	under := "Re-gear estimate"
	if h.By != "" {
		under += fmt.Sprintf(" · chosen by %s on %s", h.By, say.Day(h.At))
		if h.TakenIn != "" {
			under += ", imported by " + h.TakenIn
		}
	}
	p := New(h.Shop, title, under)
	if h.Note != "" {
		p.Text(h.Note)
	}
	p.Head("What changed")
	p.Text("Before: " + plan.OldTire.Sentence)
	p.Text("Now: " + plan.NewTire.Sentence)
	for _, s := range plan.Change.Sentences {
		p.Text(s)
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
	p.Head("While it is open")
	for _, o := range plan.WhileOpen {
		p.Point("□", o.Where+": "+o.What+". "+o.Why)
	}
	p.Head("Cautions")
	for _, c := range plan.Cautions {
		p.Point("!", c)
	}
	return p.Bytes()
}

func (p *Sheet) advice(plan *regear.Plan, chosen *regear.Candidate) {
	if chosen != nil && chosen.ID == plan.Advice.Candidate {
		p.Head("Recommended: " + strings.TrimSuffix(plan.Advice.Sentence, "."))
		for _, s := range plan.Advice.For {
			p.Point("+", s)
		}
		for _, s := range plan.Advice.Against {
			p.Point("–", s)
		}
		p.Text(plan.Advice.Sure)
		if plan.Automatic != "" {
			p.Text(plan.Automatic)
		}
	} else if chosen != nil {
		p.Head("Chosen: " + chosen.Name)
		p.Text("Recommended was: " + plan.Advice.Sentence)
		for _, x := range chosen.Points {
			p.Point("–", x.Text)
		}
		if chosen.Match != nil {
			p.Text(chosen.Match.Verdict)
		}
	}
}

func (p *Sheet) gears(plan *regear.Plan, after *regear.Variant, h Heading) {
	p.Head("Gears, before and after")
	w := []float64{38, 28, 28, 28, 28, 28}
	p.Row("B", w, "Gear", "overall before", "tires only", "after", "shift "+cmp.Or(h.Speeds, "km/h")+" before", "after")
	for i, r := range plan.Before.Rows {
		if i >= len(plan.TiresOnly.Rows) || i >= len(after.Rows) {
			break
		}
		name := strings.TrimSpace(r.Gear + " " + r.Range)
		p.Row("", w, name, r.Overall.Decimal(2), plan.TiresOnly.Rows[i].Overall.Decimal(2), after.Rows[i].Overall.Decimal(2),
			h.speed(r.ShiftKMH), h.speed(after.Rows[i].ShiftKMH))
	}
	p.Row("B", w, "rpm at cruise, gear "+plan.CruiseGear,
		fmt.Sprintf("%.0f", plan.Before.CruiseRPM), fmt.Sprintf("%.0f", plan.TiresOnly.CruiseRPM), fmt.Sprintf("%.0f", after.CruiseRPM), "", "")
	p.Row("B", w, "crawl ratio", plan.Before.Crawl.Decimal(1), plan.TiresOnly.Crawl.Decimal(1), after.Crawl.Decimal(1), "", "")
	p.Row("B", w, "thrust against stock", "", fmt.Sprintf("%+.1f %%", plan.TiresOnly.Against), fmt.Sprintf("%+.1f %%", after.Against), "", "")
}

func (p *Sheet) estimate(plan *regear.Plan, h Heading) {
	p.Head("Estimate: " + plan.Estimate.Name)
	if !plan.Estimate.Priced {
		p.Text("No price yet. Missing: " + strings.Join(plan.Estimate.Missing, "; ") + ".")
		return
	}
	w := []float64{p.Width - 70, 35, 35}
	p.Row("B", w, "", "from", "to")
	for _, l := range plan.Estimate.Lines {
		what := l.What
		if l.At != "" {
			what += ", " + l.At
		}
		if l.How != "" && l.How != "catalog" {
			what += " (" + l.How + ")"
		}
		p.Row("", w, what, money(l.Low, h.Currency), money(l.High, h.Currency))
	}
	p.Row("B", w, "Total", money(plan.Estimate.Low, h.Currency), money(plan.Estimate.High, h.Currency))
	if len(plan.Estimate.Missing) > 0 {
		p.Text("No price yet: " + strings.Join(plan.Estimate.Missing, "; ") + ".")
	}
}
