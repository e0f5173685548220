package trace

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/driveline"
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
func combinations(m *driveline.Machine) []map[string]string {
	out := []map[string]string{{}}
	for _, s := range m.Selectors {
		if !s.ChangesRatio() {
			continue
		}
		var next []map[string]string
		for _, sel := range out {
			for _, o := range s.Options {
				if o.Neutral {
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
		if len(next)*len(m.Net.Shafts) > mostRows {
			break // more than anyone reads
		}
		out = next
	}
	return out
}

// gearTable solves every combination, straight ahead, all wheels on the road.
func gearTable(d *driveline.Document, s driveline.State) ([]GearRow, error) {
	base := driveline.Build(d, &s)
	rows := []GearRow{}
	for _, c := range combinations(base) {
		sel := map[string]string{}
		for k, v := range s.Select {
			sel[k] = v
		}
		for k, v := range c {
			sel[k] = v
		}
		for _, x := range base.Selectors {
			if x.Role == driveline.RoleClutch {
				sel[x.ID] = x.Options[0].Value
			}
		}
		st := driveline.State{Select: sel}
		m := driveline.Build(d, &st)
		r, err := m.Solve()
		if err != nil {
			return nil, err
		}
		rows = append(rows, (&telling{r}).gearRow(c))
	}
	return rows, nil
}

func (r *telling) gearRow(sel map[string]string) GearRow {
	row := GearRow{Select: sel}
	var names, ranges, factors []string
	for _, s := range r.Machine.Selectors {
		v, ok := sel[s.ID]
		if !ok || !s.ChangesRatio() {
			continue
		}
		row.Reverse = row.Reverse || s.Option(v).Backward
		if s.Role == driveline.RoleRange {
			ranges = append(ranges, v)
		} else {
			names = append(names, v)
		}
	}
	row.Name, row.Range = strings.Join(names, " "), strings.Join(ranges, " ")
	t := &Trace{}
	r.overall(t)
	if t.Overall == nil {
		all := make([]int, 0, len(r.Machine.Unknowns))
		for k := range r.Machine.Unknowns {
			all = append(all, k)
		}
		row.Missing = "not known: " + strings.Join(r.UnknownWords(all), ", ")
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
	if road := r.Net.Shaft("road"); road >= 0 && r.Machine.TiresKnown() && r.Motion.State[road] != network.Free {
		mpt := math.Abs(r.Motion.Speed[road].Float()) // meters per input turn
		kmh := mpt * 1000 * 60 / 1000
		row.KMH = &kmh
		if mpt > 0 {
			th := 2 * math.Pi / mpt
			row.Thrust = &th
		}
	}
	for _, e := range r.Machine.Ends {
		if e.Kind == driveline.EndPropeller && e.Part.Propeller.PitchIN > 0 {
			// Inches of pitch × turns per hour ÷ inches in a nautical mile, no slip.
			kn := e.Part.Propeller.PitchIN * 60 / 72913.4 * 1000 / v.Float()
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

// shiftTable works out what each synchronizer or dog has to close for every
// gear change, and every range change: the loose gear runs at its driver's
// speed through its own ratio, the shaft it joins is turned by the road.
func shiftTable(d *driveline.Document, s driveline.State, kmh float64) ([]ShiftRow, error) {
	if kmh <= 0 {
		kmh = 30
	}
	rows := []ShiftRow{}
	for i := range d.Parts {
		p := &d.Parts[i]
		list := p.Speeds().List
		if len(list) < 2 {
			continue
		}
		out, ok, err := outputRPM(d, s, p, list[0].Name, kmh)
		if err != nil {
			return nil, err
		}
		if !ok {
			continue
		}
		for _, a := range list {
			for _, b := range list {
				if a.Name == b.Name {
					continue
				}
				rows = append(rows, ShiftRow{
					Part: p.ID, From: a.Name, To: b.Name, Selector: b.Selector,
					Before: a.Ratio.Float() * out, After: b.Ratio.Float() * out,
					Closes:  a.Ratio.Div(b.Ratio).Sub(one).Float() * out,
					Formula: fmt.Sprintf("%s rpm at the output × (%s ÷ %s − 1)", say.Trim(out, 0), a.Ratio.Short(3), b.Ratio.Short(3)),
				})
			}
		}
	}
	return rows, nil
}

// outputRPM is how fast the road turns a part's output shaft; at is a position
// in which it passes power on.
func outputRPM(d *driveline.Document, s driveline.State, p *driveline.Part, at string, kmh float64) (float64, bool, error) {
	sel := map[string]string{}
	for k, v := range s.Select {
		if q := d.Part(k); q == nil || !q.Has(driveline.Pedal) {
			sel[k] = v
		}
	}
	// Every gearbox and range in some gear, so that the road reaches this part.
	for i := range d.Parts {
		q := &d.Parts[i]
		speeds := q.Speeds()
		key, want := q.Output(speeds.Selector), ""
		if len(speeds.List) > 0 && (sel[key] == "N" || speeds.Always) {
			want = speeds.List[0].Name
		}
		if q == p {
			want = at
		}
		if want != "" {
			sel[key] = want
		}
	}
	m := driveline.Build(d, &driveline.State{Select: sel})
	r, err := m.Solve()
	if err != nil {
		return 0, false, err
	}
	road, out := r.Net.Shaft("road"), r.Net.Shaft(p.Output(p.Speeds().Shaft))
	if road < 0 || !m.TiresKnown() || r.Motion.State[road] == network.Free || len(r.Depends(road)) > 0 || r.Motion.Speed[road].IsZero() {
		return 0, false, nil
	}
	perMeter := r.Motion.Speed[out].Div(r.Motion.Speed[road]).Abs()
	return perMeter.Float() * kmh * 1000 / 60, true, nil
}

// GearTable is every gear in every range, straight ahead.
func GearTable(d *driveline.Document) ([]GearRow, error) { return gearTable(d, driveline.State{}) }
