package driveline

import (
	"fmt"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Axle is a final drive with its differential.
type Axle struct {
	Ring     int          `json:"ring,omitempty"`
	Pinion   int          `json:"pinion,omitempty"`
	Ratio    exact.Figure `json:"ratio,omitzero"`      // where the teeth aren't known
	Gears    string       `json:"gears,omitempty"`     // bevel (default) or spur, for a crosswise engine
	RingSide string       `json:"ring_side,omitempty"` // left (default) or right of the pinion, upright
	PinionAt string       `json:"pinion_at,omitempty"` // ahead (default) or behind the axle, upright
	Offset   bool         `json:"hypoid,omitempty"`    // the pinion's axis passes the axle's
	Cut      string       `json:"cut,omitempty"`       // standard (default), reverse or straight
	Second   *SunRing     `json:"second,omitempty"`    // planetary set behind the ring gear
	Change   *ChangeGears `json:"change,omitempty"`    // spur pair ahead of the pinion
	FreeHubs bool         `json:"free_hubs,omitempty"` // wheels can be let go at the hubs
	// Disconnect names the side, left or right, whose half shaft can be let go
	// inside the axle; the differential then passes nothing.
	Disconnect string `json:"disconnect,omitempty"`
	// StubNM is the greatest torque of one stub or joint at its outputs.
	StubNM float64 `json:"stub_nm,omitempty"`

	Differential Differential `json:"differential"`
}

// SunRing is a planetary set: sun driven, ring held, carrier out.
type SunRing struct {
	Sun  int `json:"sun,omitempty"`
	Ring int `json:"ring,omitempty"`
}

// ChangeGears is the exchangeable spur pair of a quick-change final drive.
type ChangeGears struct {
	Input  int `json:"input,omitempty"`  // teeth on the input shaft
	Pinion int `json:"pinion,omitempty"` // teeth on the pinion shaft
}

func (a *Axle) check(_ *Part, at string, errs *fault.Errors) {
	pair(errs, at, "ring", "pinion", a.Ring, a.Pinion)
	if a.Ring > 0 && a.Ring < a.Pinion {
		errs.Add(at+"ring", "a ring of %d teeth has fewer than its pinion of %d: are the two swapped?", a.Ring, a.Pinion)
	}
	ratioRange(errs, at+"ratio", a.Ratio, false)
	oneOf(errs, at+"gears", &a.Gears, "bevel", "spur")
	oneOf(errs, at+"ring_side", &a.RingSide, "left", "right")
	oneOf(errs, at+"pinion_at", &a.PinionAt, "ahead", "behind")
	oneOf(errs, at+"cut", &a.Cut, "standard", "reverse", "straight")
	if s := a.Second; s != nil {
		pair(errs, at+"second/", "sun", "ring", s.Sun, s.Ring)
	}
	if c := a.Change; c != nil {
		pair(errs, at+"change/", "input", "pinion", c.Input, c.Pinion)
	}
	if a.Disconnect != "" {
		oneOf(errs, at+"disconnect", &a.Disconnect, "left", "right")
	}
	if a.Disconnect != "" && a.FreeHubs {
		errs.Add(at+"disconnect", "the wheels are let go at the hubs already; one of the two")
	}
	if !(a.StubNM >= 0 && a.StubNM <= 1e6) {
		errs.Add(at+"stub_nm", "from 0 to 1,000,000 N·m")
	}
	a.Differential.checkAs(at+"differential/", errs, "open", "limited_slip", "locking", "spool")
}

func (a *Axle) ports() []string { return []string{"left", "right"} }

func (a *Axle) ratios() []string {
	if a.Change != nil {
		return []string{"ratio", "change"}
	}
	return []string{"ratio"}
}

func (a *Axle) known(ratio string) bool {
	if ratio == "change" {
		return a.Change != nil && a.Change.Input > 0
	}
	without := *a
	without.Change = nil
	_, ok := without.ratio()
	return ok
}

func (a *Axle) asks() []measure {
	own := measure{ratio: "ratio", kind: "ring_and_pinion"}
	if a.Second != nil {
		own.kind = "two_stage"
	}
	if a.Change == nil {
		return []measure{own}
	}
	return []measure{own, {ratio: "change", words: "change gears", kind: "gear_pair"}}
}

func (a *Axle) take(p *Part, ratio string, m Measured) {
	c, z := *a, m.Teeth
	if ratio == "change" {
		// Only counted teeth make a pair; a ratio alone is no set.
		c.Change = &ChangeGears{Input: z["drive"], Pinion: z["driven"]}
		p.Axle = &c
		return
	}
	c.Ring, c.Pinion, c.Ratio = z["ring"], z["pinion"], exact.Figure{}
	switch m.Construction {
	case "pair":
		c.Second = nil
	case "pair_planetary":
		c.Second = &SunRing{z["sun"], z["planet_ring"]}
	default:
		c.Ring, c.Pinion, c.Ratio, c.Second = 0, 0, exact.Figure{Number: m.Ratio}, nil
	}
	p.Axle = &c
}

func (a *Axle) blank(p *Part) {
	c := *a
	c.Ring, c.Pinion, c.Ratio = 0, 0, exact.Figure{}
	if c.Second != nil {
		c.Second = &SunRing{}
	}
	if c.Change != nil {
		c.Change = &ChangeGears{}
	}
	p.Axle = &c
}

func (a *Axle) expand(m *machine, p *Part, in string, _ Axis, whole bool) {
	pinion := in
	if c := a.Change; c != nil {
		pinion = m.add(p, "pinion", "pinion shaft of the "+say.Small(p.name()), m.byID[in].axis)
		m.gears(p, "change", "change", in, pinion, c.Input, c.Pinion, exact.Number{}, network.External,
			pairWords("change gear on the pinion shaft", c.Pinion, "change gear on the input shaft", c.Input, "direction reversed"))
	}
	ring := m.add(p, "ring", "ring gear of the "+say.Small(p.name()), Crosswise)
	if whole {
		words := pairWords("ring gear", a.Ring, "pinion", a.Pinion, "")
		sense := network.External
		if a.Gears != "spur" {
			sense = m.bevelSense(p)
			where := fmt.Sprintf("ring on the %s, pinion %s", m.side(p), m.ahead(p))
			words += ", " + where
		}
		m.gears(p, "final", "ratio", pinion, ring, a.Pinion, a.Ring, a.Ratio.Number, sense, words)
	}
	carrier := ring
	if s := a.Second; s != nil {
		carrier = m.add(p, "carrier", "differential carrier of the "+say.Small(p.name()), Crosswise)
		still := m.add(p, "planet ring", "planetary ring of the "+say.Small(p.name()), Crosswise)
		m.element(p, network.Element{ID: p.ID + ".planet ring held", Kind: network.Holder, Shaft: still}, joint{words: "ring held by the housing"})
		m.planets(p, "second", "second", ring, still, carrier, s.Sun, s.Ring, false, fmt.Sprintf("second stage: sun %s driven, ring %s held", count(s.Sun), count(s.Ring)))
	}
	left := m.add(p, "left", "left output of the "+say.Small(p.name()), Crosswise)
	right := m.add(p, "right", "right output of the "+say.Small(p.name()), Crosswise)
	m.split(p, "differential", left, right, carrier)
	switch a.Differential.Type {
	case "spool":
		m.couple(p, network.Lock, "lock", left, carrier, whole, "spool: both sides solid with the carrier")
	case "locking":
		v := m.choose(p, "lock", "Lock of the "+say.Small(p.name()), SelectorOption{Value: "open", Words: "open"}, SelectorOption{Value: "locked", Words: "locked"})
		m.couple(p, network.Lock, "lock", left, carrier, v == "locked" && whole, "axle lock engaged")
	}
	if a.FreeHubs {
		v := m.choose(p, "hubs", "Hubs of the "+say.Small(p.name()), SelectorOption{Value: "locked", Words: "hubs locked"}, SelectorOption{Value: "free", Words: "hubs free"})
		l := m.add(p, "left hub", "left hub of the "+say.Small(p.name()), Crosswise)
		r := m.add(p, "right hub", "right hub of the "+say.Small(p.name()), Crosswise)
		m.couple(p, network.Coupling, "left hub lock", left, l, v == "locked", "hub locked")
		m.couple(p, network.Coupling, "right hub lock", right, r, v == "locked", "hub locked")
		left, right = l, r
	}
	if a.Disconnect != "" {
		v := m.choose(p, "side", "Disconnect of the "+say.Small(p.name()), SelectorOption{Value: "engaged", Words: "engaged"}, SelectorOption{Value: "free", Words: a.Disconnect + " half shaft let go"})
		side := &left
		if a.Disconnect == "right" {
			side = &right
		}
		out := m.add(p, "half shaft", a.Disconnect+" half shaft of the "+say.Small(p.name()), Crosswise)
		m.couple(p, network.Coupling, "disconnect", *side, out, v == "engaged" && whole, "half shaft engaged")
		*side = out
	}
	m.outs[p.ID+".left"], m.outs[p.ID+".right"] = left, right
}
