package driveline

import (
	"strings"

	"zorvel/core/exact"
)

// Stage is a place in a unit's line at which a ratio is measured.
type Stage struct {
	ID       int64
	Name     string
	Kind     string // as package identify names kinds
	Position string
}

// Measured is what a stage's verdict says.
type Measured struct {
	Stage        Stage
	Construction string
	Teeth        map[string]int
	Ratio        exact.Number
	State        string // measured, assumed, conflict, unknown
	Probability  float64
	Label        string
}

// Fits reports which of a part's ratios a stage of that kind measures; empty
// if none.
func (p *Part) Fits(s Stage) string {
	switch {
	case p.Kind == "axle" && (s.Kind == "ring_and_pinion" || s.Kind == "two_stage"),
		p.Kind == "hub" && s.Kind == "hub",
		p.Kind == "planetary" && s.Kind == "planetary",
		p.Kind == "gearcase" && s.Kind == "gearcase",
		p.Kind == "gear_pair" && (s.Kind == "gear_pair" || s.Kind == "chain_pair"),
		p.Kind == "upper" && s.Kind == "gear_pair":
		return "ratio"
	case p.Kind == "transfer_case" && s.Kind == "transfer_case":
		if s.Position == "front" && p.TransferCase.Front.Type == "none" {
			return ""
		}
		return s.Position
	case p.Kind == "gearbox" && s.Kind == "gearbox":
		for _, g := range p.Gearbox.Gears {
			if g.Name == s.Position {
				return g.Name
			}
		}
	}
	return ""
}

// Link ties a unit's stages to the parts that they measure: by kind, and
// where several fit by the words of their names. Ties that stand are kept.
func (d *Document) Link(stages []Stage) {
	tied := map[int64]bool{}
	for i := range d.Parts {
		for _, s := range d.Parts[i].Sources {
			tied[s.Stage] = true
		}
	}
	for _, s := range stages {
		if tied[s.ID] {
			continue
		}
		best, score := -1, 0
		for i := range d.Parts {
			p := &d.Parts[i]
			name := p.Fits(s)
			if name == "" || p.Sources[name].Stage != 0 {
				continue
			}
			n := 1
			for _, w := range strings.Fields(strings.ToLower(s.Name)) {
				if strings.Contains(strings.ToLower(p.name()), w) {
					n++
				}
			}
			// A front axle is never measured at a stage called rear.
			for _, w := range []string{"front", "rear"} {
				other := map[string]string{"front": "rear", "rear": "front"}[w]
				if strings.Contains(strings.ToLower(s.Name), w) && strings.Contains(strings.ToLower(p.name()), other) {
					n = 0
				}
			}
			if n > score {
				best, score = i, n
			}
		}
		if best >= 0 {
			p := &d.Parts[best]
			p.source(p.Fits(s), Source{Kind: "unknown", Stage: s.ID})
		}
	}
}

func (p *Part) source(name string, s Source) {
	if p.Sources == nil {
		p.Sources = map[string]Source{}
	}
	p.Sources[name] = s
}

// Take puts a stage's verdict into a part. A stage without a verdict leaves
// the figures alone and says so; where they came from stays known.
func (p *Part) Take(m Measured) {
	name := p.Fits(m.Stage)
	if name == "" {
		return
	}
	old := p.Sources[name]
	src := Source{Kind: m.State, Probability: m.Probability, Stage: m.Stage.ID, Text: m.Stage.Name}
	if m.State == "unknown" || m.Ratio.IsZero() {
		src.Kind, src.Text = old.Kind, "nothing measured at "+m.Stage.Name+" yet"
		if !p.known(name) {
			src.Kind = "unknown"
		} else if src.Kind == "unknown" || src.Kind == "" || src.Kind == "measured" {
			src.Kind = "assumed"
		}
		src.Probability = 0
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
