package driveline

import (
	"strings"

	"zorvel/core/exact"
)

// teethRatio is driven over driver, or the ratio itself; ok is false where
// neither is known.
func teethRatio(driver, driven int, r exact.Number) (exact.Number, bool) {
	if driver > 0 && driven > 0 {
		return exact.New(int64(driven), int64(driver)), true
	}
	return r, !r.IsZero()
}

// Below lists the parts fed by an output, nearest first, down to the wheels.
func (d *Document) Below(port string) []*Part {
	var out []*Part
	for i := range d.Parts {
		p := &d.Parts[i]
		if p.From != port {
			continue
		}
		out = append(out, p)
		for _, x := range p.Ports() {
			key := p.ID
			if x != "" {
				key += "." + x
			}
			out = append(out, d.Below(key)...)
		}
	}
	return out
}

// fedBy is the part that feeds a part, or nil.
func (d *Document) fedBy(p *Part) *Part {
	if p.From == "" {
		return nil
	}
	id, _, _ := strings.Cut(p.From, ".")
	return d.Part(id)
}
