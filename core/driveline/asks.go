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
	Name     string // "Rear axle", "Transfer case, low range"
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
		for _, port := range p.ports() {
			walk(byFeed[p.output(port)])
		}
	}
	walk(byFeed[""])
	return out
}

// output names one of a part's outputs as the part that it feeds does.
func (p *Part) output(port string) string {
	if port == "" {
		return p.ID
	}
	return p.ID + "." + port
}

// Asks lists the ratios of a part that can be measured.
func (p *Part) Asks() []Ask {
	ask := func(ratio, words, kind string) Ask {
		a := Ask{Place: Place{p.ID, ratio}, Name: p.name(), Kind: kind}
		if words != "" {
			a.Name += ", " + words
		}
		return a
	}
	one := func(kind string) []Ask { return []Ask{ask("ratio", "", kind)} }
	switch p.Kind {
	case "axle":
		if p.Axle.Second != nil {
			return one("two_stage")
		}
		return one("ring_and_pinion")
	case "hub":
		return one("hub")
	case "planetary":
		a := ask("ratio", "", "planetary")
		a.Held, a.Input = p.Planetary.Held, p.Planetary.Input
		return []Ask{a}
	case "gearcase":
		return one("gearcase")
	case "upper":
		return one("gear_pair")
	case "gear_pair":
		if p.GearPair.Mesh == "chain" {
			return one("chain_pair")
		}
		return one("gear_pair")
	case "transfer_case":
		out := []Ask{ask("high", "high range", "transfer_case")}
		if p.TransferCase.Range.Type != "none" {
			out = append(out, ask("low", "low range", "transfer_case"))
		}
		if p.TransferCase.Front.Type != "none" {
			out = append(out, ask("front", "front against rear", "transfer_case"))
		}
		for i := range out {
			out[i].Position = out[i].Ratio
		}
		return out
	case "gearbox":
		var out []Ask
		for _, g := range p.Gearbox.Gears {
			words := "gear " + g.Name
			if g.Name == "R" {
				words = "reverse"
			}
			a := ask(g.Name, words, "gearbox")
			a.Position = g.Name
			out = append(out, a)
		}
		return out
	}
	return nil
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

// Title is what a part is called on screen.
func (p *Part) Title() string { return p.name() }

// name is what a part is called on screen.
func (p *Part) name() string {
	if p.Name != "" {
		return p.Name
	}
	return say.Capital(p.ID)
}
