package driveline

import (
	"sort"

	"zorvel/core/exact"
)

// clone copies a document so far that what its parts are made of can be
// exchanged.
func (d *Document) clone() *Document {
	c := *d
	c.Parts = append([]Part(nil), d.Parts...)
	for i := range c.Parts {
		for _, k := range kinds {
			k.own(&c.Parts[i])
		}
	}
	return &c
}

// AxleEnd is a driven axle and the end of the vehicle it stands at.
type AxleEnd struct {
	ID, Name string
	Family   string // names the sets that fit its housing; may be empty
	At       string // rear or front, by its wheels
	Pair     [2]int // ring and pinion teeth; zero where they aren't known
	// Ratio is that of ring and pinion alone, without planetary set, change
	// gears and hubs.
	Ratio exact.Number
	Known bool
	// Source is where the ratio came from; its kind is empty where nothing is
	// said of it.
	Source Source
	// RollingMM is the tire that stands on it, zero where it isn't known.
	RollingMM exact.Number
}

// Axles lists the driven axles, rear ones first.
func (d *Document) Axles() []AxleEnd {
	var out []AxleEnd
	for i := range d.Parts {
		p := &d.Parts[i]
		if p.Axle == nil {
			continue
		}
		e := AxleEnd{ID: p.ID, Name: p.Called(), Family: p.Family, Source: p.Sources["ratio"], At: "rear",
			Pair: [2]int{p.Axle.Ring, p.Axle.Pinion}}
		e.Ratio, e.Known = teethRatio(p.Axle.Pinion, p.Axle.Ring, p.Axle.Ratio.Number)
		for _, w := range d.Below(p.ID + ".left") {
			if w.Wheel != nil {
				e.RollingMM = w.Wheel.RollingMM.Number
				if w.Wheel.At == "front" {
					e.At = "front"
				}
			}
		}
		out = append(out, e)
	}
	sort.SliceStable(out, func(i, k int) bool { return out[i].At == "rear" && out[k].At == "front" })
	return out
}

// With returns the driveline with other tires and other ring and pinion sets,
// by the end of the vehicle. Zero values leave what is there.
func (d *Document) With(pairs map[string][2]int, rollingMM map[string]exact.Number) *Document {
	c := d.clone()
	at := map[string]string{}
	for _, a := range d.Axles() {
		at[a.ID] = a.At
	}
	for i := range c.Parts {
		p := &c.Parts[i]
		switch {
		case p.Axle != nil:
			if z := pairs[at[p.ID]]; z[0] > 0 {
				p.Axle.Ring, p.Axle.Pinion, p.Axle.Ratio = z[0], z[1], exact.Figure{}
			}
		case p.Wheel != nil:
			if mm := rollingMM[p.Wheel.At]; mm.Sign() > 0 {
				p.Wheel.RollingMM = exact.Figure{Number: mm}
			}
		}
	}
	return c
}

// Rear returns the driveline without what the transfer case's front output
// feeds, so that the way to the rear is told by itself.
func (d *Document) Rear() *Document {
	c := d.clone()
	gone := map[string]bool{}
	for i := range c.Parts {
		p := &c.Parts[i]
		if t := p.TransferCase; t != nil && t.Front.Type != "none" && d.Feeds(p.ID+".rear") {
			for _, x := range d.Below(p.ID + ".front") {
				gone[x.ID] = true
			}
			t.withoutFront()
		}
	}
	kept := c.Parts[:0]
	for _, p := range c.Parts {
		if !gone[p.ID] {
			kept = append(kept, p)
		}
	}
	c.Parts = kept
	return c
}

// TakeOff is a shaft that a speedometer can be driven from.
type TakeOff struct {
	Part   string `json:"part"`
	Family string `json:"family,omitempty"` // of the part's gears
	Shaft  string `json:"shaft"`
	Name   string `json:"name"`
	// PerMeter is turns of the shaft per meter of road in high range.
	PerMeter exact.Number `json:"turns_per_meter"`
	// Low is the same in low range, where it differs: the take-off lies
	// before the range.
	Low *exact.Number `json:"low,omitempty"`
}

// TakeOffs lists the shafts between gearbox and wheels with what the road
// turns them. The tires must be known; rollingMM above zero replaces them all.
func (d *Document) TakeOffs(rollingMM exact.Number) ([]TakeOff, error) {
	c := d.Rear()
	if rollingMM.Sign() > 0 {
		c = c.With(nil, map[string]exact.Number{"rear": rollingMM, "front": rollingMM})
	}
	out := []TakeOff{}
	high, err := c.turnsPerMeter("high")
	if err != nil {
		return nil, err
	}
	low, err := c.turnsPerMeter("low")
	if err != nil {
		return nil, err
	}
	for i := range c.Parts {
		p := &c.Parts[i]
		for _, s := range p.Traits().TakeOffs {
			id := p.ID + "." + s[0]
			v, ok := high[id]
			if !ok {
				continue
			}
			t := TakeOff{Part: p.ID, Family: p.Family, Shaft: id, Name: p.Called() + s[1], PerMeter: v}
			if w, ok := low[id]; ok && !w.Equal(v) {
				x := w
				t.Low = &x
			}
			out = append(out, t)
		}
	}
	return out, nil
}

// turnsPerMeter is what the road turns each shaft, in some gear and a range.
func (d *Document) turnsPerMeter(at string) (map[string]exact.Number, error) {
	sel := map[string]string{}
	for i := range d.Parts {
		p := &d.Parts[i]
		speeds := p.Speeds()
		switch {
		case len(speeds.List) == 0:
		case speeds.Always:
			sel[p.Output(speeds.Selector)] = speeds.List[0].Name
		case speeds.Selector != "": // a range; a two-speed set stays in high
			sel[p.Output(speeds.Selector)] = at
		}
	}
	m := Build(d, &State{Select: sel})
	r, err := m.Solve()
	if err != nil {
		return nil, err
	}
	out := map[string]exact.Number{}
	road := r.Net.Shaft("road")
	if road < 0 || !m.TiresKnown() || r.Motion.Speed[road].IsZero() {
		return out, nil
	}
	for _, s := range m.Shafts {
		i := r.Net.Shaft(s.ID)
		if i < 0 || r.Motion.Speed[i].IsZero() {
			continue
		}
		// A shaft whose turns per meter hang on a ratio that isn't known.
		per := r.Motion.Speed[i].Div(r.Motion.Speed[road]).Abs()
		known := true
		for _, v := range r.Variants {
			if v.Motion.Speed[road].IsZero() || !v.Motion.Speed[i].Div(v.Motion.Speed[road]).Abs().Equal(per) {
				known = false
			}
		}
		if known {
			out[s.ID] = per
		}
	}
	return out, nil
}
