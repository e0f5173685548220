package paper

import (
	"fmt"
	"strings"

	"zorvel/core/catalog"
	"zorvel/core/say"
	"zorvel/core/workcard"
)

// Card prints a card.
func Card(s *workcard.Sheet, head catalog.Letterhead, title, under string) ([]byte, error) {
	p := New(head, title, under)
	p.Text(fmt.Sprintf("%d of %d steps done; about %.0f minutes left. Tools: %s.", s.Done, s.Of, s.Minutes, strings.Join(s.Tools, ", ")))
	if len(s.Parts) > 0 {
		p.Text("To have ready: " + strings.Join(s.Parts, ", ") + ".")
	}
	if s.Refill != "" {
		p.Text("Refill: " + s.Refill + ".")
	}
	p.Head("Steps")
	for i, x := range s.Steps {
		p.step(i+1, x)
	}
	if len(s.Back) > 0 {
		p.Head("The way back: last off, first on")
		for _, w := range s.Back {
			line := say.Capital(w.What) + ": " + w.How
			if w.Noted != "" {
				line += " (noted: " + w.Noted + ")"
			}
			if w.On != "" {
				line += " — on again, " + w.On
			}
			p.Point("□", line)
		}
	}
	if len(s.Gate) > 0 {
		p.Head("Before it is closed")
		for _, g := range s.Gate {
			answer := map[string]string{"": "open", "done": "done", "ordered": "ordered", "not_now": "not now"}[g.Answer]
			p.Point("□", g.What+" ("+g.Why+"): "+strings.TrimSpace(answer+" "+g.Note))
		}
	}
	p.Ln(8)
	p.Text("Signed: ______________________________    Date: ______________")
	return p.Bytes()
}

func (p *Sheet) step(n int, x workcard.StepState) {
	sign := "□"
	switch x.State {
	case "waiting":
		sign = "/"
	case "done":
		sign = "✓"
		if !printed()('✓') {
			sign = "x"
		}
	}
	head := fmt.Sprintf("%d. %s", n, x.Do)
	if x.By != "" && x.At != nil {
		head += fmt.Sprintf(" — %s, %s", x.By, x.At.Format("Jan 2, 15:04"))
	}
	if x.Second != "" {
		head += ", seen by " + x.Second
	} else if x.Hold {
		head += " — a second person looks: ____________"
	}
	p.Point(sign, head)
	more := func(label, s string) {
		if s != "" {
			p.SetX(26)
			p.SetFont("go", "", 8.5)
			p.MultiCell(p.Width-10, 4.2, label+s, "", "L", false)
		}
	}
	more("! ", x.Caution)
	more("With: ", x.With)
	more("Look: ", x.Look)
	if x.Figure != "" {
		wrote := x.Wrote
		if wrote == "" {
			wrote = "____________________"
		}
		more(x.Figure+": ", wrote)
	}
	more("Noted: ", x.Noted)
}
