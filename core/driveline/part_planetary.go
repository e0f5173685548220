package driveline

import (
	"fmt"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
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

func (s *Planetary) expand(m *Machine, p *Part, in string, axis Axis, whole bool) {
	out := m.add(p, "out", Of(p, "output"), axis)
	m.Outs[p.ID] = out
	if !whole {
		return
	}
	member := map[string]string{s.Input: in}
	v := "low"
	if s.TwoSpeed {
		v = m.choose(p, RoleRange, "", p.Called(), rangeOptions(nil)...)
	}
	driven := out
	if s.TwoSpeed {
		driven = m.add(p, s.Output, Of(p, s.Output), axis)
		m.couple(p, network.Coupling, "high", in, out, v == "high", "high: input locked to output")
		m.couple(p, network.Coupling, "low", driven, out, v == "low", "low engaged")
	}
	member[s.Output] = driven
	still := m.add(p, s.Held, Of(p, s.Held), axis)
	member[s.Held] = still
	m.Element(p, network.Element{ID: p.ID + ".held", Kind: network.Holder, Shaft: still}, Joint{Words: s.Held + " held by the housing"})
	m.planets(p, "set", "ratio", member["sun"], member["ring"], member["carrier"], s.Sun, s.Ring, s.Paired,
		fmt.Sprintf("planetary set: sun %s, ring %s, %s driven, %s held", count(s.Sun), count(s.Ring), s.Input, s.Held))
}

func (s *Planetary) traits() Traits {
	return Traits{Axis: Lengthwise, TakeOffs: [][2]string{{"out", ", output shaft"}}}
}

// ratio of the set as it is arranged, unsigned.
func (s *Planetary) ratio() (exact.Number, bool) {
	if s.Sun == 0 {
		return one, false
	}
	zs, zr := exact.Int(int64(s.Sun)), exact.Int(int64(s.Ring))
	if s.Paired {
		zr = zr.Neg()
	}
	weight := map[string]exact.Number{"sun": zs, "ring": zr, "carrier": zs.Add(zr).Neg()}
	in, out := weight[s.Input], weight[s.Output]
	if in.IsZero() {
		return one, false
	}
	return out.Div(in).Abs(), true
}

func (s *Planetary) passes(at func(string) string) Passed {
	if s.TwoSpeed && at("") == "high" {
		return straight
	}
	r, known := s.ratio()
	return Passed{Ratio: r, Known: known, Open: at("") == "N"}
}

func (s *Planetary) speeds() Speeds {
	out := Speeds{Shaft: "out"}
	if r, ok := s.ratio(); ok && s.TwoSpeed {
		out.List = []Speed{{"high", "dog", one}, {"low", "dog", r}}
	}
	return out
}

func (s *Planetary) adopt(_ *Part, f Former) bool {
	if f.Kind != "planetary" {
		return false
	}
	s.Held, s.Input = f.Held, f.Input
	if s.Held == "" {
		s.Held = "ring"
	}
	if s.Input == "" {
		s.Input = map[bool]string{true: "sun", false: "ring"}[s.Held != "sun"]
	}
	for _, m := range []string{"carrier", "sun", "ring"} {
		if m != s.Held && m != s.Input {
			s.Output = m
		}
	}
	return true
}

func (s *Planetary) remarks(_ *Solved, p *Part, add adder) {
	planetChecks(p, s.Sun, s.Ring, s.Planet, s.Planets, s.Paired, add)
}

func (s *Planetary) wear(_ *Document, p *Part) []Wear { return gearsAndSplines(p) }

// gearsAndSplines wear wherever a housing has both.
func gearsAndSplines(p *Part) []Wear {
	name := say.Small(p.Called())
	return []Wear{{"mesh_wear", "worn " + name + " gears"}, {"spline_wear", "worn " + name + " splines"}}
}

// planetChecks are the usual build checks; a miss means count again, since
// shifted profiles and unequal spacing exist.
func planetChecks(p *Part, sun, ring, planet, planets int, paired bool, add adder) {
	if sun == 0 || ring == 0 {
		return
	}
	n := say.Small(p.Called())
	if planet > 0 && !paired && ring != sun+2*planet {
		add("wrong", p, "Count again at the %s: a ring usually has sun + 2 × planet teeth, here %d + 2 × %d = %d, not "+
			"%d. Shifted profiles exist.",
			n, sun, planet, sun+2*planet, ring)
	} else if planet == 0 && !paired && (ring-sun)%2 != 0 {
		add("wrong", p, "Count again at the %s: ring %d less sun %d is odd, so no whole planet gear fits between. "+
			"Shifted profiles exist.", n, ring, sun)
	}
	if planets > 0 {
		sum, what := sun+ring, "sun + ring"
		if paired {
			sum, what = ring-sun, "ring − sun"
		}
		if sum%planets != 0 {
			add("wrong", p, "Count again at the %s: %s (%d) is not divisible by %d planets, so they can't sit evenly. Unequal spacing exists.",
				n, what, sum, planets)
		}
	}
}
