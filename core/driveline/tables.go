package driveline

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// GearRow is one gear in one range.
type GearRow struct {
	Select  map[string]string `json:"select"`
	Name    string            `json:"name"`
	Range   string            `json:"range,omitempty"`
	Reverse bool              `json:"reverse,omitempty"`
	Overall *exact.Number     `json:"overall,omitempty"`      // unsigned
	KMH     *float64          `json:"kmh_per_1000,omitempty"` // at 1000 input rpm
	Thrust  *float64          `json:"thrust,omitempty"`       // newtons at the tires per newton meter at the input
	Knots   *float64          `json:"knots_per_1000,omitempty"`
	Formula string            `json:"formula"`
	Missing string            `json:"missing,omitempty"`
}

// mostRows bounds the work of a gear table: rows times shafts. A long truck
// of sixty shafts may have 260 rows.
const mostRows = 16000

// combinations lists every forward and reverse gear in every range: the
// selectors that change the overall ratio, with what their interlocks need.
func combinations(m *machine) []map[string]string {
	out := []map[string]string{{}}
	for _, s := range m.selectors {
		p := m.part(s.Part)
		switch {
		case p.Kind == "gearbox", p.Kind == "planetary", p.Kind == "reverse_gear", p.Kind == "upper", p.Kind == "gearcase", strings.HasSuffix(s.ID, ".range"):
		default:
			continue
		}
		var next []map[string]string
		for _, sel := range out {
			for _, o := range s.Options {
				if o.Value == "N" || o.Value == "neutral" {
					continue
				}
				c := map[string]string{s.ID: o.Value}
				for k, v := range sel {
					c[k] = v
				}
				for _, n := range o.Needs {
					c[n.Selector] = n.Value
				}
				next = append(next, c)
			}
		}
		if len(next)*len(m.net.Shafts) > mostRows {
			break // more than anyone reads
		}
		out = next
	}
	return out
}

// gearTable solves every combination, straight ahead, all wheels on the road.
func gearTable(d *Document, s State) ([]GearRow, error) {
	base := build(d, &s)
	rows := []GearRow{}
	for _, c := range combinations(base) {
		sel := map[string]string{}
		for k, v := range s.Select {
			sel[k] = v
		}
		for k, v := range c {
			sel[k] = v
		}
		for _, x := range base.selectors {
			if x.Part != "" && base.part(x.Part).Kind == "clutch" {
				sel[x.ID] = x.Options[0].Value
			}
		}
		st := State{Select: sel}
		m := build(d, &st)
		r, err := m.solve()
		if err != nil {
			return nil, err
		}
		rows = append(rows, r.gearRow(c))
	}
	return rows, nil
}

func (r *result) gearRow(sel map[string]string) GearRow {
	row := GearRow{Select: sel}
	var names, ranges, factors []string
	for _, s := range r.m.selectors {
		v, ok := sel[s.ID]
		p := r.m.part(s.Part)
		if !ok || strings.HasSuffix(s.ID, ".center") {
			continue
		}
		if p.Kind == "gearbox" {
			names = append(names, v)
			for _, x := range p.Gearbox.Gears {
				row.Reverse = row.Reverse || (x.Name == v && x.reverse())
			}
		} else if p.Kind == "transfer_case" || p.Kind == "planetary" {
			ranges = append(ranges, v)
		} else {
			names = append(names, v)
			row.Reverse = row.Reverse || v == "reverse" || v == "astern"
		}
	}
	row.Name, row.Range = strings.Join(names, " "), strings.Join(ranges, " ")
	t := &Trace{}
	r.overall(t)
	if t.Overall == nil {
		all := make([]int, 0, len(r.m.unknowns))
		for k := range r.m.unknowns {
			all = append(all, k)
		}
		row.Missing = "not known: " + strings.Join(r.unknownWords(all), ", ")
		return row
	}
	v := t.Overall.Ratio.Abs()
	row.Overall = &v
	for _, st := range r.path(t.Overall.Shaft) {
		if st.Ratio != nil && !st.Ratio.Abs().Equal(one) {
			factors = append(factors, st.Ratio.Abs().Short(4))
		}
	}
	row.Formula = strings.Join(factors, " × ")
	if len(factors) != 1 {
		row.Formula = strings.TrimPrefix(row.Formula+" = "+v.Short(4), " = ")
	}
	if road := r.c.Shaft("road"); road >= 0 && r.m.tiresKnown() && r.motion.State[road] != network.Free {
		mpt := math.Abs(r.motion.Speed[road].Float()) // meters per input turn
		kmh := mpt * 1000 * 60 / 1000
		row.KMH = &kmh
		if mpt > 0 {
			th := 2 * math.Pi / mpt
			row.Thrust = &th
		}
	}
	for _, e := range r.m.ends {
		if e.kind == "propeller" && e.part.Propeller.PitchIN > 0 {
			// Inches of pitch × turns per hour ÷ inches in a nautical mile, no slip.
			kn := e.part.Propeller.PitchIN * 60 / 72913.4 * 1000 / v.Float()
			row.Knots = &kn
			break
		}
	}
	return row
}

// ShiftRow is one gear change at a road speed, with the clutch open.
type ShiftRow struct {
	Part     string  `json:"part"`
	From     string  `json:"from"`
	To       string  `json:"to"`
	Before   float64 `json:"before_rpm"` // gearbox input
	After    float64 `json:"after_rpm"`
	Closes   float64 `json:"closes_rpm"` // between the gear's dogs and its shaft; positive: the gear has to slow down
	Selector string  `json:"selector"`
	Formula  string  `json:"formula"`
}

// shiftTable works out what each synchroniser or dog has to close for every
// gear change, and every range change: the loose gear runs at its driver's
// speed through its own ratio, the shaft it joins is turned by the road.
func shiftTable(d *Document, s State, kmh float64) ([]ShiftRow, error) {
	if kmh <= 0 {
		kmh = 30
	}
	rows := []ShiftRow{}
	for i := range d.Parts {
		p := &d.Parts[i]
		list := p.positions()
		if len(list) < 2 {
			continue
		}
		out, ok, err := outputRPM(d, s, p, list[0].name, kmh)
		if err != nil {
			return nil, err
		}
		if !ok {
			continue
		}
		for _, a := range list {
			for _, b := range list {
				if a.name == b.name {
					continue
				}
				rows = append(rows, ShiftRow{
					Part: p.ID, From: a.name, To: b.name, Selector: b.selector,
					Before: a.ratio.Float() * out, After: b.ratio.Float() * out,
					Closes:  a.ratio.Div(b.ratio).Sub(one).Float() * out,
					Formula: fmt.Sprintf("%s rpm at the output × (%s ÷ %s − 1)", say.Trim(out, 0), a.ratio.Short(3), b.ratio.Short(3)),
				})
			}
		}
	}
	return rows, nil
}

// position is one forward ratio that a part can be shifted to.
type position struct {
	name, selector string
	ratio          exact.Number
}

// positions lists the forward ratios of a part that are known.
func (p *Part) positions() []position {
	var out []position
	switch p.Kind {
	case "gearbox":
		for _, x := range p.Gearbox.Gears {
			if r, ok := p.Gearbox.gearRatio(x); ok && !x.reverse() {
				out = append(out, position{x.Name, x.Selector, r})
			}
		}
	case "transfer_case":
		for _, at := range []string{"high", "low"} {
			if r, ok := p.TransferCase.Range.ratio(at); ok && p.TransferCase.Range.Type != "none" {
				out = append(out, position{at, "dog", r})
			}
		}
	case "planetary":
		if r, ok := p.Planetary.ratio(); ok && p.Planetary.TwoSpeed {
			out = append(out, position{"high", "dog", one}, position{"low", "dog", r})
		}
	}
	return out
}

// outputRPM is how fast the road turns a part's output shaft; at is a position
// in which it passes power on.
func outputRPM(d *Document, s State, p *Part, at string, kmh float64) (float64, bool, error) {
	sel := map[string]string{}
	for k, v := range s.Select {
		if q := findPart(d, k); q == nil || q.Kind != "clutch" {
			sel[k] = v
		}
	}
	// Every gearbox and range in some gear, so that the road reaches this part.
	for i := range d.Parts {
		q := &d.Parts[i]
		list := q.positions()
		key, want := q.ID, ""
		if q.Kind == "transfer_case" {
			key += ".range"
		}
		if len(list) > 0 && (sel[key] == "N" || q.Kind == "gearbox") {
			want = list[0].name
		}
		if q == p {
			want = at
		}
		if want != "" {
			sel[key] = want
		}
	}
	m := build(d, &State{Select: sel})
	r, err := m.solve()
	if err != nil {
		return 0, false, err
	}
	local := ".out"
	if p.Kind == "transfer_case" {
		local = ".main"
	}
	road, out := r.c.Shaft("road"), r.c.Shaft(p.ID+local)
	if road < 0 || !m.tiresKnown() || r.motion.State[road] == network.Free || len(r.depends(road)) > 0 || r.motion.Speed[road].IsZero() {
		return 0, false, nil
	}
	perMeter := r.motion.Speed[out].Div(r.motion.Speed[road]).Abs()
	return perMeter.Float() * kmh * 1000 / 60, true, nil
}

func findPart(d *Document, id string) *Part {
	for i := range d.Parts {
		if d.Parts[i].ID == id {
			return &d.Parts[i]
		}
	}
	return nil
}
