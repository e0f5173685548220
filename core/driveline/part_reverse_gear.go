package driveline

import (
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
)

// ReverseGear is an inboard reverse-reduction gear.
type ReverseGear struct {
	plain
	Ahead    exact.Figure `json:"ahead,omitzero"`
	Astern   exact.Figure `json:"astern,omitzero"`
	Opposite bool         `json:"opposite,omitempty"` // ahead, the output turns against the engine
}

func (r *ReverseGear) check(_ *Part, at string, errs *fault.Errors) {
	ratioRange(errs, at+"ahead", r.Ahead, false)
	ratioRange(errs, at+"astern", r.Astern, false)
}

func (r *ReverseGear) ratios() []string { return []string{"ahead", "astern"} }

func (r *ReverseGear) known(ratio string) bool {
	if ratio == "astern" {
		return !r.Astern.IsZero()
	}
	return !r.Ahead.IsZero()
}

func (r *ReverseGear) blank(p *Part) { p.ReverseGear = &ReverseGear{Opposite: r.Opposite} }

func (r *ReverseGear) expand(m *Machine, p *Part, in string, axis Axis, whole bool) {
	v := m.choose(p, RoleWay, "", p.Called(), SelectorOption{Value: "ahead", Words: "ahead"},
		SelectorOption{Value: "neutral", Words: "neutral", Neutral: true}, SelectorOption{Value: "astern", Words: "astern", Backward: true})
	out := m.add(p, "out", Of(p, "output flange"), axis)
	m.Outs[p.ID] = out
	ahead, astern := network.Internal, network.External
	if r.Opposite {
		ahead, astern = astern, ahead
	}
	if whole && v == "ahead" {
		m.gears(p, "ahead", "ahead", in, out, 0, 0, r.Ahead.Number, ahead, "reduction ahead")
	}
	if whole && v == "astern" {
		m.gears(p, "astern", "astern", in, out, 0, 0, r.Astern.Number, astern, "reduction astern: direction reversed")
	}
}

func (r *ReverseGear) passes(at func(string) string) Passed {
	switch at("") {
	case "ahead":
		return Passed{Ratio: r.Ahead.Number, Known: !r.Ahead.IsZero()}
	case "astern":
		return Passed{Ratio: r.Astern.Number, Known: !r.Astern.IsZero()}
	}
	return Passed{Ratio: one, Known: true, Open: true}
}

func (r *ReverseGear) trials(s *Stands, p *Part) []Trial {
	return s.turnThrough(p, turnWords, turnTells, everyOption)
}

func (r *ReverseGear) wear(_ *Document, p *Part) []Wear { return gearsAndSplines(p) }
