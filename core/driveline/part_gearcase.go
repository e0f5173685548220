package driveline

import (
	"slices"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Gearcase is a marine lower unit: upright drive shaft to propeller shaft.
type Gearcase struct {
	plain
	Pinion int          `json:"pinion,omitempty"`
	Gear   int          `json:"gear,omitempty"`
	Ratio  exact.Figure `json:"ratio,omitzero"`
	Shift  bool         `json:"shift,omitempty"` // forward, neutral, reverse by a sliding clutch
	Twin   bool         `json:"twin,omitempty"`  // two propellers turning opposite ways
	// Forward says where the forward gear sits: ahead of the pinion
	// (default) or behind it.
	Forward string `json:"forward,omitempty"`
	// ShiftBy moves the sliding clutch: turning (a shaft that is turned),
	// push_pull (a rod), sprung (a rod against a spring) or lobe.
	ShiftBy string `json:"shift_by,omitempty"`
	// ShiftForward is the movement of the shift shaft or rod that gives
	// forward, as the manual says it.
	ShiftForward string `json:"shift_forward,omitempty"`
	// Seals are the places where this case is sealed, a word each; the usual
	// ones where it is empty.
	Seals string `json:"seals,omitempty"`
}

// SealPlaces are the words that Seals is made of, as package gearcase lists the
// places.
var SealPlaces = []string{"drain_gasket", "prop_shaft_seal", "carrier_rings", "exhaust_side", "pump_base_seal", "shift_shaft_seal", "shift_housing"}

func (g *Gearcase) check(_ *Part, at string, errs *fault.Errors) {
	pair(errs, at, "pinion", "gear", g.Pinion, g.Gear)
	ratioRange(errs, at+"ratio", g.Ratio, false)
	oneOf(errs, at+"forward", &g.Forward, "ahead", "behind")
	if g.ShiftBy != "" {
		oneOf(errs, at+"shift_by", &g.ShiftBy, "turning", "push_pull", "sprung", "lobe")
	}
	for _, w := range strings.Fields(g.Seals) {
		if !slices.Contains(SealPlaces, w) {
			errs.Add(at+"seals", "%s is no sealing place; they are %s", say.Clip(w, 30), strings.Join(SealPlaces, ", "))
			break
		}
	}
	if len([]rune(g.ShiftForward)) > 120 {
		errs.Add(at+"shift_forward", "at most 120 characters")
	}
	if g.Twin && g.Shift {
		errs.Add(at+"shift", "with two propellers both gears drive; shift in the upper set or at the engine")
	}
}

func (g *Gearcase) ports() []string {
	if g.Twin {
		return []string{"outer", "inner"}
	}
	return g.plain.ports()
}

func (g *Gearcase) ratios() []string { return []string{"ratio"} }

func (g *Gearcase) known(string) bool {
	_, ok := teethRatio(g.Pinion, g.Gear, g.Ratio.Number)
	return ok
}

func (g *Gearcase) asks() []measure { return []measure{{ratio: "ratio", kind: "gearcase"}} }

func (g *Gearcase) take(p *Part, _ string, m Measured) {
	c := *g
	c.Pinion, c.Gear = m.Teeth["pinion"], m.Teeth["gear"]
	p.Gearcase = &c
}

func (g *Gearcase) blank(p *Part) {
	p.Gearcase = &Gearcase{Shift: g.Shift, Twin: g.Twin, Forward: g.Forward, ShiftBy: g.ShiftBy, ShiftForward: g.ShiftForward, Seals: g.Seals}
}

func (g *Gearcase) expand(m *Machine, p *Part, in string, _ Axis, whole bool) {
	// Upright shaft clockwise from above, forward gear ahead of the pinion: the
	// propeller shaft turns clockwise seen from behind, which is against the
	// positive sense of a lengthwise shaft. Turned end for end or with the
	// forward gear behind the pinion it turns the other way.
	sense := network.Opposite
	if (g.Forward == "behind") != (p.Mounting == "end_for_end" || p.Mounting == "turned_over") {
		sense = network.Same
	}
	if g.Twin {
		other := network.Same
		if sense == network.Same {
			other = network.Opposite
		}
		outer := m.add(p, "outer", "outer propeller shaft", Lengthwise)
		inner := m.add(p, "inner", "inner propeller shaft", Lengthwise)
		m.ByID[outer].Behind, m.ByID[inner].Behind = true, true
		m.Outs[p.ID+".outer"], m.Outs[p.ID+".inner"] = outer, inner
		if whole {
			m.gears(p, "outer set", "ratio", in, outer, g.Pinion, g.Gear, g.Ratio.Number, sense, pairWords("forward gear", g.Gear, "pinion", g.Pinion, ""))
			if g.Pinion == 0 && g.Ratio.IsZero() {
				m.Element(p, network.Element{ID: p.ID + ".inner set", Kind: network.Mesh, A: outer, B: inner, Ratio: exact.Int(1),
					Sense: network.Opposite}, Joint{Ratio: "ratio", Words: "twin gear, turning the other way"})
			} else {
				m.gears(p, "inner set", "ratio", in, inner, g.Pinion, g.Gear, g.Ratio.Number, other, pairWords("twin gear", g.Gear, "pinion", g.Pinion, "turning the other way"))
			}
		}
		return
	}
	out := m.add(p, "out", "propeller shaft", Lengthwise)
	m.ByID[out].Behind = true
	m.Outs[p.ID] = out
	m.marineGears(p, in, out, g.Pinion, g.Gear, g.Ratio.Number, g.Shift, whole, Lengthwise, sense, "gear")
}

// marineGears adds a pinion that drives two gears opposite ways, of which a
// clutch picks one; or the one gear of a set that doesn't shift.
func (m *Machine) marineGears(p *Part, in, out string, pinion, gear int, r exact.Number, shift, whole bool, axis Axis,
	sense network.Sense, word string) {
	if !shift {
		if whole {
			m.gears(p, "set", "ratio", in, out, pinion, gear, r, sense, pairWords(word, gear, "pinion", pinion, ""))
		}
		return
	}
	v := m.choose(p, RoleWay, "", p.Called(), SelectorOption{Value: "forward", Words: "forward"},
		SelectorOption{Value: "neutral", Words: "neutral", Neutral: true}, SelectorOption{Value: "reverse", Words: "reverse", Backward: true})
	f := m.add(p, "forward gear", "forward gear", axis)
	b := m.add(p, "reverse gear", "reverse gear", axis)
	m.ByID[f].Behind, m.ByID[b].Behind = m.ByID[out].Behind, m.ByID[out].Behind
	other := network.Opposite
	if sense == network.Opposite {
		other = network.Same
	}
	if whole {
		m.gears(p, "forward set", "ratio", in, f, pinion, gear, r, sense, pairWords("forward gear", gear, "pinion", pinion, "always in mesh"))
		if pinion == 0 && r.IsZero() {
			// One unknown, not two: the reverse gear is the forward gear's twin.
			m.Element(p, network.Element{ID: p.ID + ".reverse set", Kind: network.Mesh, A: f, B: b, Ratio: exact.Int(1),
				Sense: network.Opposite}, Joint{Ratio: "ratio", Words: "reverse gear, the forward gear's twin"})
		} else {
			m.gears(p, "reverse set", "ratio", in, b, pinion, gear, r, other, pairWords("reverse gear", gear, "pinion", pinion, "always in mesh, turning the other way"))
		}
	}
	m.couple(p, network.Coupling, "forward dogs", f, out, v == "forward" && whole, "sliding clutch in the forward gear")
	m.couple(p, network.Coupling, "reverse dogs", b, out, v == "reverse" && whole, "sliding clutch in the reverse gear")
}

func (g *Gearcase) traits() Traits {
	return Traits{Axis: Upright, OtherGears: true, Bearings: []string{"forward gear", "reverse gear"}}
}

func (g *Gearcase) has(*Part) []Feature {
	out := []Feature{LowerUnit, Geared, Cased, Splined, StraightTeeth}
	if g.Shift {
		out = append(out, ShiftedDogs)
	}
	return out
}

func (g *Gearcase) passes(at func(string) string) Passed {
	r, known := teethRatio(g.Pinion, g.Gear, g.Ratio.Number)
	return Passed{Ratio: r, Known: known, Open: at("") == "neutral"}
}

func (g *Gearcase) adopt(_ *Part, f Former) bool {
	g.Shift = true
	return f.Kind == "gearcase"
}

func (g *Gearcase) trials(s *Stands, p *Part) []Trial {
	return s.turnThrough(p, turnWords+impellerWords, gearcaseTells, everyOption)
}

const (
	impellerWords = " Never the other way: the water-pump impeller is bent for one direction."
	gearcaseTells = "In neutral the propeller shaft must turn free; in gear it follows at this ratio and in this direction. " +
		"Popping or grinding: rounded dogs or a stretched cable."
)

// wear is what shifts, cools and seals a boat's lower unit.
func (g *Gearcase) wear(d *Document, p *Part) []Wear {
	name := say.Small(p.Called())
	var out []Wear
	add := func(sort, words string) { out = append(out, Wear{sort, words}) }
	if g.Shift {
		add("shift_cable", "dragging "+name+" shift cable")
		add("shift_seal", "dragging "+name+" shift shaft seal")
		add("interrupter", name+" shift interrupt switch out of order")
		add("cable_phase", name+" shift cable out of adjustment")
		add("idle", "idle too high")
		add("rounded", "rounded "+name+" dogs")
	}
	if d.Lies == Boat {
		add("screens", "covered "+name+" intake screens")
		add("passages", "blocked water passages or thermostat")
		add("telltale", "blocked telltale outlet")
		add("plate", "grooved water pump plate")
		add("impeller", "worn water pump impeller")
		add("impeller_key", "impeller key sheared or missing")
		add("tube", "water tube off its grommet")
	}
	for _, x := range []struct{ place, sort, words string }{
		{"prop_shaft_seal", "prop_seal", "propeller shaft seal"},
		{"carrier_rings", "carrier_rings", "carrier O-ring"},
		{"pump_base_seal", "pump_seal", "seal below the water pump"},
		{"shift_shaft_seal", "shift_leak", "shift shaft seal"},
		{"drain_gasket", "drain_gasket", "drain or vent gasket"},
	} {
		if g.Seals == "" || slices.Contains(strings.Fields(g.Seals), x.place) {
			add(x.sort, "leaking "+Of(p, x.words))
		}
	}
	add("top_bearing", "dry "+name+" top driveshaft bearing")
	return append(out, gearsAndSplines(p)...)
}
