package driveline

import "zorvel/core/exact"

// Measured is what the readings of one ratio say.
type Measured struct {
	Stage        int64 // where the unit keeps them
	Construction string
	Teeth        map[string]int
	Ratio        exact.Number
	State        string // measured, assumed, conflict, unknown
	Probability  float64
}

func (p *Part) source(name string, s Source) {
	if p.Sources == nil {
		p.Sources = map[string]Source{}
	}
	p.Sources[name] = s
}

// Untie takes out where a unit measures the ratios: that is the unit's to know.
func (d *Document) Untie() {
	for i := range d.Parts {
		p := &d.Parts[i]
		for name, src := range p.Sources {
			src.Stage = 0
			p.Sources[name] = src
		}
	}
}

// Plate marks every ratio that a part has a figure for as read from its plate.
func (p *Part) Plate(text string) {
	p.Sources = nil
	for _, name := range p.made().ratios() {
		src := Source{Kind: "plate", Text: text}
		if !p.Known(name) {
			src = Source{Kind: "unknown"}
		}
		p.source(name, src)
	}
}

// Take puts what was measured into one of a part's ratios. Without a verdict
// the figures stay as they are; where they came from stays known.
func (p *Part) Take(name string, m Measured) {
	src := Source{Kind: m.State, Probability: m.Probability, Stage: m.Stage}
	if m.State == "unknown" || m.Ratio.IsZero() {
		old := p.Sources[name]
		src.Kind, src.Text, src.Probability = old.Kind, old.Text, 0
		if !p.Known(name) {
			src.Kind, src.Text = "unknown", ""
		} else if src.Kind != "plate" {
			src.Kind = "assumed"
		}
		p.source(name, src)
		return
	}
	p.source(name, src)
	p.made().take(p, name, m)
}
