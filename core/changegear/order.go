package changegear

import (
	"fmt"
	"strings"
)

// OrderLine is a line of the order sheet: what must be said, so that the
// wrong variant is not delivered. An empty value is still to be filled in.
type OrderLine struct {
	Key   string `json:"key"`
	What  string `json:"what"`
	Value string `json:"value"`
	Why   string `json:"why"`
}

// orderSheet says of the unit what is known of it.
func (w *work) orderSheet() []OrderLine {
	a := w.axle.Axle
	ring, pinion, spin := a.RingSide, a.PinionAt, "clockwise seen from the front"
	hypoid := a.Offset
	for _, p := range w.doc.Parts {
		if p.Engine != nil && p.Engine.Rotation == "opposite" {
			spin = "counterclockwise seen from the front"
		}
	}
	if l := w.q.Lies; l != nil {
		if l.RingSide != "" {
			ring = l.RingSide
		}
		if l.PinionAt != "" {
			pinion = l.PinionAt
		}
		switch l.Spin {
		case "standard":
			spin = "clockwise seen from the front"
		case "opposite":
			spin = "counterclockwise seen from the front"
		}
		if l.Hypoid != nil {
			hypoid = *l.Hypoid
		}
	}
	if ring == "" {
		ring = "left"
	}
	fed := "from the front"
	if pinion == "behind" {
		fed = "from the rear"
	}
	axes := "pinion and ring axes meet"
	if hypoid {
		axes = "hypoid: the pinion's axis passes the ring's"
	}
	base := w.base.Decimal(3)
	if !strings.HasPrefix(w.baseWords, "as entered") && !strings.HasPrefix(w.baseWords, "by its ratio") {
		base += " (" + w.baseWords + ")"
	}
	sum := ""
	if w.sum > 0 {
		sum = fmt.Sprintf("%d teeth together", w.sum)
	}
	mounted := strings.ReplaceAll(w.mounting(), "_", " ")
	ringSide := ring + " of the pinion, upright"
	if !w.lieKnown() { // nothing was said of it: it is filled in by hand
		mounted, fed, spin, ringSide, axes = "", "", "", "", ""
	}
	return []OrderLine{
		{"mounting", "Mounting", mounted, "breather, filler and cover are placed for it"},
		{"fed", "Fed", fed, "a case fed from the other end is another case, or drives backward"},
		{"spin", "Input spin", spin, "a spiral set is cut for one spin"},
		{"ring", "Ring side", ringSide, "decides whether it drives forward"},
		{"axes", "Axes", axes, "with a hypoid the ring can't change sides"},
		{"base", "Base ratio", base, "ring and pinion alone, without change gears"},
		{"family", "Change gears", strings.TrimSpace(w.axle.Family + " " + sum), "spline, width and center distance must fit what is on the shelf"},
		{"splines", "Input and output splines", "", "count them: look-alikes differ by one"},
		{"mounts", "Mounts and width between flanges", "", "measure on the car"},
		{"lead", "Needed by", "", "the maker's lead time before the first event"},
	}
}
