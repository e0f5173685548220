package driveline

import (
	"fmt"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
)

// Hub is a reduction at the wheel.
type Hub struct {
	plain
	Type   string `json:"type"` // planetary or portal
	Sun    int    `json:"sun,omitempty"`
	Ring   int    `json:"ring,omitempty"`
	Drive  int    `json:"drive,omitempty"`
	Driven int    `json:"driven,omitempty"`
	Idlers int    `json:"idlers,omitempty"`
}

func (h *Hub) check(_ *Part, at string, errs *fault.Errors) {
	oneOf(errs, at+"type", &h.Type, "planetary", "portal")
	pair(errs, at, "sun", "ring", h.Sun, h.Ring)
	pair(errs, at, "drive", "driven", h.Drive, h.Driven)
	idlers(errs, at, h.Idlers)
}

func (h *Hub) ratios() []string { return []string{"ratio"} }

func (h *Hub) known(string) bool {
	_, ok := h.ratio()
	return ok
}

func (h *Hub) asks() []measure { return []measure{{ratio: "ratio", kind: "hub"}} }

func (h *Hub) take(p *Part, _ string, m Measured) {
	c, z := *h, m.Teeth
	if m.Construction == "planetary" {
		c = Hub{Type: "planetary", Sun: z["sun"], Ring: z["ring"]}
	} else {
		c.Type, c.Drive, c.Driven, c.Sun, c.Ring = "portal", z["drive"], z["driven"], 0, 0
	}
	p.Hub = &c
}

func (h *Hub) blank(p *Part) { p.Hub = &Hub{Type: h.Type, Idlers: h.Idlers} }

func (h *Hub) expand(m *Machine, p *Part, in string, _ Axis, whole bool) {
	out := m.add(p, "out", Of(p, "output"), Crosswise)
	m.Outs[p.ID] = out
	if !whole {
		return
	}
	if h.Type == "portal" {
		sense, how := meshSense("external", h.Idlers)
		m.gears(p, "mesh", "ratio", in, out, h.Drive, h.Driven, exact.Number{}, sense, pairWords("portal gear", h.Driven, "drive gear", h.Drive, how))
		return
	}
	ring := m.add(p, "ring", Of(p, "ring gear"), Crosswise)
	m.Element(p, network.Element{ID: p.ID + ".held", Kind: network.Holder, Shaft: ring}, Joint{Words: "ring held by the housing"})
	m.planets(p, "set", "ratio", in, ring, out, h.Sun, h.Ring, false, fmt.Sprintf("hub reduction: sun %s driven, ring %s held", count(h.Sun), count(h.Ring)))
}

func (h *Hub) traits() Traits {
	return Traits{Axis: Crosswise, Reach: OutOfReach, Outboard: true, OtherGears: true}
}

func (h *Hub) has(*Part) []Feature { return []Feature{Geared, Splined, StraightTeeth} }

func (h *Hub) ratio() (exact.Number, bool) {
	if h.Type == "portal" {
		return teethRatio(h.Drive, h.Driven, exact.Number{})
	}
	if h.Sun == 0 {
		return one, false
	}
	return one.Add(exact.New(int64(h.Ring), int64(h.Sun))), true
}

func (h *Hub) passes(func(string) string) Passed {
	r, known := h.ratio()
	return Passed{Ratio: r, Known: known}
}

func (h *Hub) adopt(_ *Part, f Former) bool { return f.Kind == "hub" }

func (h *Hub) remarks(_ *Solved, p *Part, add adder) {
	if h.Type == "planetary" {
		planetChecks(p, h.Sun, h.Ring, 0, 0, false, add)
	}
}

func (h *Hub) wear(_ *Document, p *Part) []Wear { return gearsAndSplines(p) }

// HubRatio is the reduction between an axle's carrier and a wheel, negative
// where a portal turns the wheel the other way; what isn't known counts as 1.
func (m *Machine) HubRatio(w *Part) exact.Number {
	out := one
	for p := w; p != nil && p.From != ""; {
		id, _, _ := strings.Cut(p.From, ".")
		p = m.parts[id]
		if p == nil || p.Axle != nil {
			break
		}
		if h := p.Hub; h != nil {
			r, known := h.ratio()
			if !known {
				continue
			}
			if h.Type == "portal" && h.Idlers%2 == 0 {
				r = r.Neg()
			}
			out = out.Mul(r)
		}
	}
	return out
}
