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
	for _, name := range p.ratioNames() {
		src := Source{Kind: "plate", Text: text}
		if !p.known(name) {
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
		if !p.known(name) {
			src.Kind, src.Text = "unknown", ""
		} else if src.Kind != "plate" {
			src.Kind = "assumed"
		}
		p.source(name, src)
		return
	}
	p.source(name, src)
	z := m.Teeth
	fig := exact.Figure{Number: m.Ratio}
	switch p.Kind {
	case "axle":
		a := *p.Axle
		a.Ring, a.Pinion, a.Ratio = z["ring"], z["pinion"], exact.Figure{}
		switch m.Construction {
		case "pair":
			a.Second = nil
		case "pair_planetary":
			a.Second = &SunRing{z["sun"], z["planet_ring"]}
		default:
			a.Ring, a.Pinion, a.Ratio, a.Second = 0, 0, fig, nil
		}
		p.Axle = &a
	case "hub":
		h := *p.Hub
		if m.Construction == "planetary" {
			h = Hub{Type: "planetary", Sun: z["sun"], Ring: z["ring"]}
		} else {
			h.Type, h.Drive, h.Driven, h.Sun, h.Ring = "portal", z["drive"], z["driven"], 0, 0
		}
		p.Hub = &h
	case "planetary":
		q := *p.Planetary
		q.Sun, q.Ring = z["sun"], z["ring"]
		p.Planetary = &q
	case "gearcase":
		g := *p.Gearcase
		g.Pinion, g.Gear = z["pinion"], z["gear"]
		p.Gearcase = &g
	case "gear_pair":
		g := *p.GearPair
		g.Drive, g.Driven, g.Ratio = z["drive"], z["driven"], exact.Figure{}
		p.GearPair = &g
	case "upper":
		u := *p.Upper
		u.Pinion, u.Gear = z["drive"], z["driven"]
		p.Upper = &u
	case "transfer_case":
		p.takeCase(name, m, fig)
	case "gearbox":
		p.takeGear(name, m)
	}
}

func (p *Part) takeCase(name string, m Measured, fig exact.Figure) {
	t, z := *p.TransferCase, m.Teeth
	switch name {
	case "high":
		t.Range.High = fig
	case "low":
		high := t.Range.High
		switch m.Construction {
		case "planetary":
			t.Range = Range{Type: "planetary", Sun: z["sun"], Ring: z["ring"]}
		case "cluster":
			t.Range = Range{Type: "gears", Input: z["input"], Counter: z["counter"], LowDrive: z["cluster"], LowGear: z["output"]}
		default:
			t.Range = Range{Type: "ratio", Low: fig}
		}
		t.Range.High = high
	case "front":
		t.Front.Ratio = exact.Figure{}
		switch {
		case m.Construction == "chain":
			t.Front = Front{Type: "chain", Drive: z["drive"], Driven: z["driven"]}
		case m.Construction == "direct":
			t.Front.Drive, t.Front.Driven, t.Front.Ratio = 0, 0, fig
		default:
			t.Front.Drive, t.Front.Driven = z["drive"], z["driven"]
		}
	}
	p.TransferCase = &t
}

// takeGear puts a measured gear into a list of ratios. A gearbox that is drawn
// with all its teeth keeps them: one measured ratio can't say which pair is
// another.
func (p *Part) takeGear(name string, m Measured) {
	if p.Gearbox.Arrangement != "ratios" {
		return
	}
	g := *p.Gearbox
	g.Gears = append([]Gear(nil), p.Gearbox.Gears...)
	for i := range g.Gears {
		if g.Gears[i].Name != name {
			continue
		}
		r := m.Ratio.Abs()
		if g.Gears[i].reverse() {
			r = r.Neg()
		}
		g.Gears[i].Ratio = exact.Figure{Number: r}
		g.Gears[i].Direct = g.Gears[i].Direct && r.Equal(one)
	}
	p.Gearbox = &g
}

// known reports whether one of a part's ratios has a figure.
func (p *Part) known(name string) bool {
	ok := false
	switch p.Kind {
	case "axle":
		_, ok = p.Axle.ratio()
	case "hub":
		_, ok = p.Hub.ratio()
	case "planetary":
		_, ok = p.Planetary.ratio()
	case "gearcase":
		_, ok = teethRatio(p.Gearcase.Pinion, p.Gearcase.Gear, p.Gearcase.Ratio.Number)
	case "gear_pair":
		_, ok = teethRatio(p.GearPair.Drive, p.GearPair.Driven, p.GearPair.Ratio.Number)
	case "upper":
		_, ok = teethRatio(p.Upper.Pinion, p.Upper.Gear, p.Upper.Ratio.Number)
	case "transfer_case":
		switch name {
		case "front":
			_, ok = p.TransferCase.Front.ratio()
		default:
			_, ok = p.TransferCase.Range.ratio(name)
		}
	case "gearbox":
		for _, g := range p.Gearbox.Gears {
			if g.Name == name {
				_, ok = p.Gearbox.gearRatio(g)
			}
		}
	}
	return ok
}
