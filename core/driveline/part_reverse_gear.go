package driveline

import (
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
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

func (r *ReverseGear) expand(m *machine, p *Part, in string, axis Axis, whole bool) {
	v := m.choose(p, "", p.name(), SelectorOption{Value: "ahead", Words: "ahead"}, SelectorOption{Value: "neutral", Words: "neutral"}, SelectorOption{Value: "astern", Words: "astern"})
	out := m.add(p, "out", "output flange of the "+say.Small(p.name()), axis)
	m.outs[p.ID] = out
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
