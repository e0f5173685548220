package driveline

import (
	"fmt"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
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

func (h *Hub) expand(m *machine, p *Part, in string, _ Axis, whole bool) {
	out := m.add(p, "out", "output of the "+say.Small(p.name()), Crosswise)
	m.outs[p.ID] = out
	if !whole {
		return
	}
	if h.Type == "portal" {
		sense, how := meshSense("external", h.Idlers)
		m.gears(p, "mesh", "ratio", in, out, h.Drive, h.Driven, exact.Number{}, sense, pairWords("portal gear", h.Driven, "drive gear", h.Drive, how))
		return
	}
	ring := m.add(p, "ring", "ring gear of the "+say.Small(p.name()), Crosswise)
	m.element(p, network.Element{ID: p.ID + ".held", Kind: network.Holder, Shaft: ring}, joint{words: "ring held by the housing"})
	m.planets(p, "set", "ratio", in, ring, out, h.Sun, h.Ring, false, fmt.Sprintf("hub reduction: sun %s driven, ring %s held", count(h.Sun), count(h.Ring)))
}
