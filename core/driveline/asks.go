package driveline

import "zorvel/core/say"

// Place is a part and the name of one of its ratios: where readings hang.
type Place struct {
	Part  string `json:"part"`
	Ratio string `json:"ratio"`
}

// Ask is one ratio of a part that can be measured, as package identify asks
// for it.
type Ask struct {
	Place
	Name     string // "Rear axle", "Transfer case low range"
	Kind     string // of stage, as package identify names kinds
	Position string
	Held     string
	Input    string
}

// Asks lists every ratio that can be measured, in the order in which power
// reaches the parts; of two outputs the first one first.
func (d *Document) Asks() []Ask {
	var out []Ask
	byFeed := make(map[string]*Part, len(d.Parts))
	for i := range d.Parts {
		byFeed[d.Parts[i].From] = &d.Parts[i]
	}
	var walk func(p *Part)
	walk = func(p *Part) {
		if p == nil {
			return
		}
		out = append(out, p.Asks()...)
		for _, port := range p.Ports() {
			walk(byFeed[p.Output(port)])
		}
	}
	walk(byFeed[""])
	return out
}

// Output names one of a part's outputs as the part that it feeds does.
func (p *Part) Output(port string) string {
	if port == "" {
		return p.ID
	}
	return p.ID + "." + port
}

// Asks lists the ratios of a part that can be measured.
func (p *Part) Asks() []Ask {
	var out []Ask
	for _, q := range p.made().asks() {
		a := Ask{Place: Place{p.ID, q.ratio}, Name: p.Called(), Kind: q.kind, Position: q.position, Held: q.held, Input: q.input}
		if q.words != "" {
			a.Name += " " + q.words
		}
		out = append(out, a)
	}
	return out
}

// Part finds a part by its name in the document; nil if there is none.
func (d *Document) Part(id string) *Part {
	for i := range d.Parts {
		if d.Parts[i].ID == id {
			return &d.Parts[i]
		}
	}
	return nil
}

// Called is what a part is called: its name, or its ID.
func (p *Part) Called() string {
	if p.Name != "" {
		return p.Name
	}
	return say.Capital(p.ID)
}
