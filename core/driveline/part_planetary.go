package driveline

import (
	"fmt"

	"zorvel/core/driveline/network"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Planetary is a planetary set, fixed as a reduction or shifted.
type Planetary struct {
	plain
	Sun      int    `json:"sun,omitempty"`
	Ring     int    `json:"ring,omitempty"`
	Planet   int    `json:"planet,omitempty"`
	Planets  int    `json:"planets,omitempty"`
	Paired   bool   `json:"paired,omitempty"`
	Input    string `json:"input,omitempty"`     // sun
	Output   string `json:"output,omitempty"`    // carrier
	Held     string `json:"held,omitempty"`      // ring
	TwoSpeed bool   `json:"two_speed,omitempty"` // high locks it, low holds, N neither
}

func (s *Planetary) check(_ *Part, at string, errs *fault.Errors) {
	pair(errs, at, "sun", "ring", s.Sun, s.Ring)
	if s.Sun > 0 && s.Ring > 0 && s.Ring <= s.Sun {
		errs.Add(at+"ring", "the ring gear (%d) has more teeth than the sun (%d): it goes around it", s.Ring, s.Sun)
	}
	members := []string{"sun", "carrier", "ring"}
	oneOf(errs, at+"input", &s.Input, members...)
	oneOf(errs, at+"output", &s.Output, "carrier", "sun", "ring")
	oneOf(errs, at+"held", &s.Held, "ring", "sun", "carrier")
	if s.Input == s.Output || s.Input == s.Held || s.Output == s.Held {
		errs.Add(at+"held", "one member is driven, another held, the third drives on")
	}
}

func (s *Planetary) ratios() []string { return []string{"ratio"} }

func (s *Planetary) known(string) bool {
	_, ok := s.ratio()
	return ok
}

func (s *Planetary) asks() []measure {
	return []measure{{ratio: "ratio", kind: "planetary", held: s.Held, input: s.Input}}
}

func (s *Planetary) take(p *Part, _ string, m Measured) {
	c := *s
	c.Sun, c.Ring = m.Teeth["sun"], m.Teeth["ring"]
	p.Planetary = &c
}

func (s *Planetary) blank(p *Part) {
	c := *s
	c.Sun, c.Ring, c.Planet, c.Planets = 0, 0, 0, 0
	p.Planetary = &c
}

func (s *Planetary) expand(m *machine, p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "out", "output of the "+say.Small(p.name()), axis)
	m.outs[p.ID] = out
	if !whole {
		return
	}
	member := map[string]string{s.Input: in}
	v := "low"
	if s.TwoSpeed {
		v = m.choose(p, "", p.name(), rangeOptions(nil)...)
	}
	driven := out
	if s.TwoSpeed {
		driven = m.add(p, s.Output, s.Output+" of the "+say.Small(p.name()), axis)
		m.couple(p, network.Coupling, "high", in, out, v == "high", "high: input locked to output")
		m.couple(p, network.Coupling, "low", driven, out, v == "low", "low engaged")
	}
	member[s.Output] = driven
	still := m.add(p, s.Held, s.Held+" of the "+say.Small(p.name()), axis)
	member[s.Held] = still
	m.element(p, network.Element{ID: p.ID + ".held", Kind: network.Holder, Shaft: still}, joint{words: s.Held + " held by the housing"})
	m.planets(p, "set", "ratio", member["sun"], member["ring"], member["carrier"], s.Sun, s.Ring, s.Paired,
		fmt.Sprintf("planetary set: sun %s, ring %s, %s driven, %s held", count(s.Sun), count(s.Ring), s.Input, s.Held))
}
