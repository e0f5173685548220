package paper

import (
	"fmt"
	"strings"

	"zorvel/core/catalog"
	"zorvel/core/findfault"
	"zorvel/core/say"
)

// Fault is the protocol: what was seen, who is suspected, what is next.
func Fault(q *findfault.Question, a *findfault.Answer, head catalog.Letterhead, title, under string) ([]byte, error) {
	p := New(head, "Find the fault: "+title, under)
	p.Ln(2)
	p.SetFont("go", "B", 11)
	p.MultiCell(p.Width, 5.5, a.Sentence, "", "L", false)
	p.Head("Complaint and findings, in order")
	for i, said := range findfault.Protocol(q) {
		p.Point(fmt.Sprint(i+1), said)
	}
	for _, c := range a.Clashes {
		p.Point("!", c)
	}
	p.Head("Likely causes")
	for _, x := range a.Suspects {
		if x.Probability >= 0.01 {
			p.Row("", []float64{p.Width - 40, 40}, say.Capital(x.Name), say.Chance(x.Probability))
		}
	}
	if len(a.Open) > 0 {
		p.Head("To open, in this order")
		for i, o := range a.Open {
			p.Point(fmt.Sprint(i+1), fmt.Sprintf("%s: about %.0f minutes; finds it %s. Have ready: %s.",
				o.What, o.Minutes, say.Chance(o.Share), strings.Join(o.Ready, ", ")))
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
