package practice

import (
	"fmt"
	"slices"

	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// look is a thing to find out before an order.
type look struct {
	id, label, saw string
	minutes        float64
	needed         bool   // the order can't be right without it, but by luck
	without        string // what is said where it was needed and not looked at
}

// picked is a task that ends in an order from a list: what one finds out first, and which
// order is right.
type picked struct {
	text, warning, question string
	drawn                   *driveline.Document // where it tells nothing that is to be found out
	looks                   []look
	seen                    map[string]bool
	choices                 []Choice
	truth                   string
	// because says of each wrong order what it comes from; the drill that helps.
	because map[string]Mistake
	// work is how the right order is found, a line each.
	work []string
}

func (p *picked) story() string     { return p.text }
func (p *picked) caution() string   { return p.warning }
func (p *picked) machine() *Machine { return nil }

func (p *picked) driveline() *driveline.Document { return p.drawn }
func (p *picked) asked() Asked                   { return Asked{Words: p.question, Choices: p.choices} }

func (p *picked) offers() []Offer {
	out := []Offer{}
	for _, l := range p.looks {
		if !p.seen[l.id] {
			out = append(out, Offer{Do: "look", On: l.id, Group: inLook, Label: l.label, Minutes: l.minutes})
		}
	}
	return out
}

func (p *picked) do(a Act) (Done, error) {
	for _, l := range p.looks {
		if l.id == a.On {
			p.seen[l.id] = true
			return Done{Words: l.label, Saw: l.saw, Minutes: l.minutes}, nil
		}
	}
	return Done{}, fault.New("on", "there is nothing like that here")
}

func (p *picked) words(id string) string {
	i := slices.IndexFunc(p.choices, func(c Choice) bool { return c.ID == id })
	return p.choices[i].Words
}

func (p *picked) review(a Act, _ []Done) (*Review, error) {
	r := &Review{Right: a.Answer == p.truth, Truth: p.words(p.truth), Answer: p.words(a.Answer), Steps: []Finding{},
		Best: []Finding{}, Mistakes: []Mistake{}}
	needless := 0
	for _, l := range p.looks {
		switch {
		case l.needed:
			r.Cheapest += l.minutes
			r.Best = append(r.Best, Finding{l.label, l.saw, say.Round(r.Cheapest, 1)})
			if !p.seen[l.id] {
				r.Mistakes = append(r.Mistakes, Mistake{Words: l.without})
			}
		case p.seen[l.id]:
			needless++
		}
		if p.seen[l.id] {
			r.Steps = append(r.Steps, Finding{Words: l.label, Meaning: l.saw})
		}
	}
	for _, w := range p.work {
		r.Best = append(r.Best, Finding{Words: w})
	}
	if m, ok := p.because[a.Answer]; ok {
		r.Mistakes = append(r.Mistakes, m)
	}
	if needless > 0 {
		r.Mistakes = append(r.Mistakes, Mistake{Words: fmt.Sprintf("%s that the order didn't need.",
			say.Capital(say.Count(needless, "look")))})
	}
	return r, nil
}
