package paper

import (
	"fmt"
	"strings"

	"zorvel/core/catalog"
	"zorvel/core/practice/progress"
	"zorvel/core/say"
)

// Practice is the certificate: what somebody has mastered, and by what rule.
func Practice(b *progress.Board, head catalog.Letterhead, name, under string) ([]byte, error) {
	p := New(head, "Practice: "+name, under)
	p.Ln(2)
	p.Text(fmt.Sprintf("%d of %d levels mastered. A level is mastered when the last five hidden units, or the last "+
		"ten cards of a drill, "+
		"have at most one wrong answer and 75 points of 100 on the mean; it lapses below 50.", b.Mastered, b.Levels))
	for _, x := range []struct {
		title string
		list  []progress.Skill
	}{{"Hidden units", b.Units}, {"Drills", b.Drills}} {
		p.Head(x.title)
		some := false
		for _, s := range x.list {
			for i, l := range s.Levels {
				if l.Mastered {
					some = true
					p.Row("", []float64{p.Width - 46, 46}, fmt.Sprintf("%s, level %d: %s", strings.TrimSuffix(s.Title,
						"?"), i+1, say.Small(l.Words)),
						fmt.Sprintf("%d done, %s points", l.Done, say.Trim(*l.Mean, 0)))
				}
			}
		}
		if !some {
			p.Text("None yet.")
		}
	}
	if b.Eye != nil {
		p.Head("The partial turn by eye")
		p.Text(b.Eye.Sentence)
	}
	return p.Bytes()
}
