package identify

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Headline is what the evidence lets be said first: a label where one has more
// than half of the probability and no reading that agrees with the others leaves it
// out; else the range, and the labels in it.
type Headline struct {
	Label string        `json:"label,omitempty"`
	Text  string        `json:"text"`            // "4.10", "about 5.05", "3.73 or 4.10"
	About float64       `json:"about,omitempty"` // the middle of the range
	Range Interval      `json:"range,omitzero"`  // where no label stands
	Could []LabelChance `json:"could"`           // labels in the range, likeliest first
	// Outside are labels that many are made of, but that the readings leave out.
	Outside  []LabelChance `json:"outside"`
	Sentence string        `json:"sentence"`
}

// Bounds of what a headline says.
const (
	believed     = 0.5  // least probability of a label that stands as the answer
	narrowed     = 0.25 // and the least from the wary prior: readings, not habit, narrowed it down
	couldLeast   = 0.15 // of the likeliest in the range, to be named beside it
	couldMost    = 3
	outsideLeast = 0.1 // least probability to be told though the readings leave it out
	severalSay   = 0.8 // of the probability, to name labels rather than a range
)

// headline is what the evidence lets be said first, and the label that leads among
// those that the readings allow. turns is what the turned readings allow.
func (a *Assessment) headline(labels []labelMass, turns *TurnsInterval) (Headline, labelMass) {
	lead := labels[0]
	allowed := func(l labelMass) bool { return a.allows(turns, l) }
	if at := slices.IndexFunc(labels, allowed); at >= 0 && labels[at].mass > 0 {
		lead = labels[at]
	}
	h := Headline{Could: []LabelChance{}, Outside: []LabelChance{}}
	for _, l := range labels {
		switch c := a.chanceOf(l); {
		case l.mass >= outsideLeast && !allowed(l):
			h.Outside = append(h.Outside, c)
		case max(l.mass, l.wary) >= couldLeast*max(lead.mass, lead.wary) && len(h.Could) < couldMost && allowed(l):
			h.Could = append(h.Could, c)
		}
	}
	if lead.mass >= believed && lead.wary >= narrowed && allowed(lead) {
		h.Label = a.chanceOf(lead).Label
		h.Text, h.Sentence = h.Label, h.Label+"."
		h.Could = []LabelChance{}
	} else {
		h.sayRange(a, turns)
	}
	for _, o := range h.Outside {
		h.Sentence += fmt.Sprintf(" %s would need a miscount%s.", o.Label, a.why(o))
	}
	return h, lead
}

// sayRange tells the range and what is in it.
func (h *Headline) sayRange(a *Assessment, turns *TurnsInterval) {
	if turns != nil {
		h.About, h.Range = turns.Center, Interval{turns.Low, turns.High}
	} else {
		h.Range = a.credible()
		h.About = (h.Range.Low + h.Range.High) / 2
	}
	sum := 0.0
	words := make([]string, len(h.Could))
	for i, c := range h.Could {
		words[i] = c.Label
		sum += c.Probability
	}
	digits := 2
	if h.Range.High-h.Range.Low < 0.02 {
		digits = 3
	}
	h.Text = fmt.Sprintf("about %.*f", digits, h.About)
	between := fmt.Sprintf("%.*f to %.*f", digits, h.Range.Low, digits, h.Range.High)
	switch {
	case turns == nil && len(words) > 1 && sum >= severalSay:
		h.Text = joinOr(words)
		h.Sentence = strings.ToUpper(h.Text[:1]) + h.Text[1:] + "."
	case turns == nil && len(words) == 1 && sum >= severalSay:
		h.Text = "probably " + words[0]
		h.Sentence = "Probably " + words[0] + "."
	case len(words) == 0:
		h.Sentence = fmt.Sprintf("About %.*f (%s).", digits, h.About, between)
	default:
		more := ""
		if sum < severalSay {
			more = ", among others"
		}
		h.Sentence = fmt.Sprintf("About %.*f (%s). Could be %s%s.", digits, h.About, between, joinOr(words), more)
	}
}

func joinOr(w []string) string {
	if len(w) < 2 {
		return strings.Join(w, "")
	}
	return strings.Join(w[:len(w)-1], ", ") + " or " + w[len(w)-1]
}

func (a *Assessment) chanceOf(l labelMass) LabelChance {
	r := a.sp.hyps[l.best].exact()
	return LabelChance{Label: r.Label(), Ratio: r, Probability: min(l.mass, 1)}
}

// allows reports whether the readings let a label stand: it lies in what the
// turned readings that agree leave open, or was counted or stamped. A tag may only
// stretch that range to where a careful reading still agrees.
func (a *Assessment) allows(turns *TurnsInterval, l labelMass) bool {
	if turns == nil {
		return true
	}
	from, to := a.sp.hyps[l.first].r, a.sp.hyps[l.end-1].r
	if to >= turns.Low && from <= turns.High {
		return true
	}
	stretch := func(by float64) bool {
		return to >= turns.Center-by*(turns.Center-turns.Low) && from <= turns.Center+by*(turns.High-turns.Center)
	}
	for k := range a.readings {
		c := &a.readings[k]
		if c.byRatio != nil || !c.names(a.sp, &a.sp.hyps[l.best]) {
			continue
		}
		if c.by.open || stretch(nearRanges) {
			return true
		}
	}
	return false
}

// names reports whether a tag, a stamp or a count says this build as it stands.
func (c *compiled) names(sp *Space, h *hyp) bool {
	if c.counts != nil {
		con := &sp.cons[h.con]
		counted := 0
		for i, g := range con.Teeth {
			for _, n := range c.counts {
				if n.Member == g.Name && n.Count == int(h.teeth[i]) {
					counted++
				}
			}
		}
		return counted == len(con.Teeth) && counted > 0
	}
	right := (1 - c.stale) * c.markLikelihood(sp, h)
	return right > c.stale*c.chance
}

// credible is the range that holds the middle 95 % of the probability.
func (a *Assessment) credible() Interval {
	out := Interval{a.sp.lo, a.sp.hi}
	acc := 0.0
	for i := range a.labels {
		l := &a.labels[i]
		if acc < 0.025 && acc+l.mass >= 0.025 {
			out.Low = a.sp.hyps[l.first].r
		}
		if acc < 0.975 && acc+l.mass >= 0.975 {
			out.High = a.sp.hyps[l.end-1].r
		}
		acc += l.mass
	}
	return out
}

// why tells what must have gone wrong for a label that the turned readings leave
// out.
func (a *Assessment) why(o LabelChance) string {
	r := math.Abs(o.Ratio.Float())
	cause, most := CauseRight, 0.0
	var by *technique
	for k := range a.readings {
		c := &a.readings[k]
		for i := range c.byRatio {
			m := &c.byRatio[i]
			if p := m.weight * m.density(r); m.cause != CauseRight && p > most && c.off(r) > 1 {
				cause, most, by = m.cause, p, c.by
			}
		}
	}
	if cause == CauseRight {
		return ""
	}
	said, _, _ := strings.Cut(cause.say(by), ":")
	return ": " + said
}
