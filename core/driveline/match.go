package driveline

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/exact"
)

// Match compares the two outputs of a transfer case, or of an inter-axle
// differential, over the road.
type Match struct {
	Part    string `json:"part"`
	Type    string `json:"type"` // how the two share
	Verdict string `json:"verdict"`
	Level   string `json:"level"` // match, tolerated, caution, wrong, unknown
	// Mismatch is how many more turns (a part, not %) the second output
	// (front, or through) needs per meter than the first.
	Mismatch *exact.Number `json:"mismatch,omitempty"`
	Percent  *float64      `json:"percent,omitempty"`
	First    *exact.Number `json:"first,omitempty"`  // turns per meter
	Second   *exact.Number `json:"second,omitempty"` // turns per meter
	Formula  string        `json:"formula"`
	Do       string        `json:"do"`
	// Rubbing is how many rpm the two outputs differ at 80 km/h.
	Rubbing *float64 `json:"rubbing_rpm,omitempty"`

	axles bool // two axles, not front and rear
}

// match compares the first part that splits power between axles.
func (d *Document) match(m *machine) *Match {
	for i := range d.Parts {
		p := &d.Parts[i]
		switch {
		case p.Kind == "transfer_case" && p.TransferCase.Front.Type != "none":
			return d.compare(m, p, ".rear", ".front")
		case p.Kind == "differential":
			return d.compare(m, p, ".here", ".through")
		}
	}
	return nil
}

// perMeter is how many turns an output makes per meter of road, with the
// arithmetic; nil where something below is not known or there is no wheel.
func (d *Document) perMeter(m *machine, port string) (*exact.Number, string, []string) {
	product := one
	var factors, missing []string
	for _, p := range d.below(port) {
		if p.Kind == "wheel" {
			if p.Wheel.RollingMM.IsZero() {
				missing = append(missing, "tire of the "+lower(p.name()))
				return nil, "", missing
			}
			v := product.Div(travel(p))
			if missing != nil {
				return nil, "", missing
			}
			if len(factors) == 0 {
				factors = []string{"1"}
			}
			return &v, strings.Join(factors, " × ") + " ÷ " + travel(p).Short(4) + " m", nil
		}
		r, known, _ := m.ratio(p)
		switch {
		case !known:
			missing = append(missing, lower(p.name()))
		case !r.Equal(one):
			product = product.Mul(r.Abs())
			factors = append(factors, r.Abs().Short(4))
		}
		// Follow one side only: both sides of an axle are alike.
		if p.Kind == "axle" {
			rest, words, miss := d.perMeter(m, p.ID+".left")
			missing = append(missing, miss...)
			if rest == nil {
				if missing == nil {
					missing = []string{"wheel of the " + lower(p.name())}
				}
				return nil, "", missing
			}
			if len(missing) > 0 {
				return nil, "", missing
			}
			v := product.Mul(*rest)
			return &v, strings.TrimPrefix(strings.Join(append(factors, words), " × "), " × "), nil
		}
		if len(p.ports()) > 1 {
			break
		}
	}
	return nil, "", append(missing, "wheels")
}

func (d *Document) compare(m *machine, p *Part, first, second string) *Match {
	out := &Match{Part: p.ID, Level: "unknown"}
	kind := ""
	extra, extraKnown := one, true
	extraWords := ""
	if t := p.TransferCase; t != nil {
		kind = t.Center.Type
		extra, extraKnown = t.Front.ratio()
		if extraKnown && !extra.Equal(one) {
			extraWords = extra.Short(4) + " (front drive of the case) × "
		}
	} else {
		kind = p.Differential.Type
	}
	out.Type = kind
	a, wa, missA := d.perMeter(m, p.ID+first)
	b, wb, missB := d.perMeter(m, p.ID+second)
	if !extraKnown {
		missB = append(missB, "front drive of the "+lower(p.name()))
	}
	if a == nil || b == nil || !extraKnown {
		seen := map[string]bool{}
		var list []string
		for _, x := range append(missA, missB...) {
			if !seen[x] {
				seen[x] = true
				list = append(list, x)
			}
		}
		out.Verdict = "Whether both ends agree can't be told yet."
		out.Formula = "not known: " + strings.Join(list, ", ")
		out.Do = "Measure: " + strings.Join(list, ", ") + "."
		return out
	}
	bb := b.Mul(extra)
	ends := "front and rear"
	if p.Differential != nil {
		ends = "the two axles"
	}
	out.judge(ends, *a, bb)
	out.Formula = fmt.Sprintf("%s%s = %s turns per meter against %s = %s: %s %%", extraWords, wb, bb.Short(5), wa, a.Short(5), signed(*out.Percent))
	return out
}

// Scaled is the same comparison with other gears or tires: both ends' turns
// per meter multiplied. The words name what makes the new ends.
func (m *Match) Scaled(first, second exact.Number, firstWords, secondWords string) *Match {
	if m == nil || m.First == nil || m.Second == nil {
		return m
	}
	ends := "front and rear"
	if m.axles {
		ends = "the two axles"
	}
	out := &Match{Part: m.Part, Type: m.Type, axles: m.axles}
	a, b := m.First.Mul(first), m.Second.Mul(second)
	out.judge(ends, a, b)
	out.Formula = fmt.Sprintf("%s: %s turns per meter against %s: %s: %s %%", secondWords, b.Short(5), firstWords, a.Short(5), signed(*out.Percent))
	return out
}

// judge puts the verdict on turns per meter of both ends.
func (out *Match) judge(ends string, a, bb exact.Number) {
	kind := out.Type
	mis := bb.Div(a).Sub(one)
	pct := mis.Float() * 100
	out.axles = ends != "front and rear"
	out.First, out.Second, out.Mismatch, out.Percent = &a, &bb, &mis, &pct
	// 80 km/h is 80000/60 meters per minute.
	rub := math.Abs(bb.Sub(a).Float()) * 80000 / 60
	out.Rubbing = &rub
	abs := math.Abs(pct)
	size := trim(abs, 2) + " %"
	if abs > 0 && abs < 0.01 {
		size = "under 0.01 %"
	}
	switch {
	case mis.IsZero():
		out.Level = "match"
		out.Verdict = fmt.Sprintf("Exact match: %s turn alike per meter.", ends)
		out.Do = "Change one end, change the other."
	case kind == "part_time":
		out.Level = "tolerated"
		out.Verdict = fmt.Sprintf("%s apart, and this case locks the two together: works on loose ground, winds up on dry pavement.", size)
		out.Do = "Practice varies between \"must match\" and \"within one percent\". Lock in the front on loose ground only."
		if abs > 1 {
			out.Level = "wrong"
			out.Do = "More than one percent: bring front and rear together before the front is locked in."
		}
	case kind == "solid":
		out.Level = "wrong"
		out.Verdict = fmt.Sprintf("%s apart with nothing between that could give: it must match.", size)
		out.Do = "Use the same pair and the same tires at both ends."
	default:
		out.Level = "tolerated"
		out.Verdict = fmt.Sprintf("%s apart: the differential between takes it and works constantly, %s rpm at 80 km/h.", size, trim(rub, 1))
		out.Do = "Some makers build several percent in. Count the case's own front and rear outputs before blaming the axles."
		if abs > 1 {
			out.Level = "caution"
			out.Do = "Above one percent: expect heat and wear in the differential, and a bind as soon as it is locked. " + out.Do
		}
	}
}

func signed(f float64) string {
	s := trim(f, 3)
	if f > 0 {
		return "+" + s
	}
	return strings.Replace(s, "-", "−", 1)
}
