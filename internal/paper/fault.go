package paper

import (
	"fmt"
	"strings"

	"zorvel/core/findfault"
)

// Fault is the protocol: what was seen, who is suspected, what is next.
func Fault(q *findfault.Question, a *findfault.Answer, title, under string) ([]byte, error) {
	p := New("Find the fault: " + title)
	p.SetFont("go", "B", 14)
	p.MultiCell(p.Width, 7, "Find the fault: "+title, "", "L", false)
	p.SetFont("go", "", 9)
	if under != "" {
		p.Text(under)
	}
	p.Ln(2)
	p.SetFont("go", "B", 11)
	p.MultiCell(p.Width, 5.5, a.Sentence, "", "L", false)
	p.Head("What was seen, in order")
	for i, said := range findfault.Protocol(q) {
		p.Point(fmt.Sprint(i+1), said)
	}
	for _, c := range a.Clashes {
		p.Point("!", c)
	}
	p.Head("Suspects")
	for _, x := range a.Suspects {
		if x.Probability >= 0.01 {
			p.Row("", []float64{p.Width - 25, 25}, x.Name, fmt.Sprintf("%.1f %%", 100*x.Probability))
		}
	}
	if len(a.Open) > 0 {
		p.Head("To open, in this order")
		for i, o := range a.Open {
			p.Point(fmt.Sprint(i+1), fmt.Sprintf("%s: about %.0f minutes; finds it in %.0f %%. Have ready: %s.",
				o.What, o.Minutes, 100*o.Share, strings.Join(o.Ready, ", ")))
		}
	}
	if n := a.Next; n != nil {
		p.Head("Next test")
		p.Text(n.Title + " (" + strings.Join(n.Setup, "; ") + ")")
		for _, o := range n.Outcomes {
			p.Point("□", o.Words+": then "+strings.Join(o.Suspects, "; "))
		}
	}
	if len(a.Advice)+len(a.Drive)+len(a.Tow) > 0 {
		p.Head("Before it is moved or opened")
	}
	for _, list := range [][]string{a.Advice, a.Drive} {
		for _, w := range list {
			p.Point("•", w)
		}
	}
	for _, t := range a.Tow {
		p.Point("•", t.Sentence)
	}
	for _, c := range a.Cautions {
		p.Point("!", c)
	}
	return p.Bytes()
}
