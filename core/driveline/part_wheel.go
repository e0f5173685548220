package driveline

import (
	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Wheel stands on the road.
type Wheel struct {
	plain
	At        string       `json:"at,omitempty"`   // front or rear
	Side      string       `json:"side,omitempty"` // left or right
	RollingMM exact.Figure `json:"rolling_mm,omitzero"`
	Tire      string       `json:"tire,omitempty"`
	AheadMM   float64      `json:"ahead_mm,omitempty"` // of the line that the vehicle turns about; front: the wheelbase
}

func (w *Wheel) check(_ *Part, at string, errs *fault.Errors) {
	oneOf(errs, at+"at", &w.At, "rear", "front")
	oneOf(errs, at+"side", &w.Side, "left", "right")
	if r := w.RollingMM; !r.IsZero() && (r.Cmp(exact.Int(200)) < 0 || r.Cmp(exact.Int(10000)) > 0) {
		errs.Add(at+"rolling_mm", "the rolling circumference is between 200 and 10,000 mm")
	}
	if w.AheadMM < -30000 || w.AheadMM > 30000 {
		errs.Add(at+"ahead_mm", "from -30,000 to 30,000 mm")
	}
}

func (w *Wheel) ports() []string { return nil }

func (w *Wheel) blank(p *Part) { p.Wheel = &Wheel{At: w.At, Side: w.Side, AheadMM: w.AheadMM} }

func (w *Wheel) expand(m *Machine, p *Part, in string, _ Axis, whole bool) {
	out := m.add(p, "wheel", say.Small(p.Called()), Crosswise)
	m.couple(p, network.Coupling, "half shaft", in, out, whole, "axle shaft to the wheel")
	m.Ends = append(m.Ends, End{out, p, EndWheel, p.Called()})
	switch m.WheelState(p) {
	case Held:
		m.Element(p, network.Element{ID: p.ID + ".held", Kind: network.Holder, Shaft: out}, Joint{Words: "wheel held"})
	case OnGround:
		m.Element(p, network.Element{ID: p.ID + ".road", Kind: network.Road, Shaft: out, Travel: Travel(p),
			Factor: m.Factors[p.ID]}, Joint{Words: "tire on the road"})
	}
}

// Travel is meters per turn; a tire that isn't known counts as 2 m, the same
// for all, so that what is exact about turns stays exact.
func Travel(p *Part) exact.Number {
	if p.Wheel.RollingMM.IsZero() {
		return exact.Int(2)
	}
	return p.Wheel.RollingMM.Number.Div(exact.Int(1000))
}

func (m *Machine) WheelState(p *Part) string {
	if v := m.State.Wheels[p.ID]; v != "" {
		return v
	}
	if m.Doc.Lies == Bench {
		return Lifted
	}
	return OnGround
}

func (w *Wheel) traits() Traits { return Traits{Axis: Crosswise, End: EndWheel, Reach: InTheOpen} }

func (w *Wheel) has(*Part) []Feature { return []Feature{RoadWheel} }

// LiftAll is every wheel off the ground.
func (d *Document) LiftAll() map[string]string {
	out := map[string]string{}
	for i := range d.Parts {
		if p := &d.Parts[i]; p.Wheel != nil {
			out[p.ID] = Lifted
		}
	}
	return out
}

func (w *Wheel) wear(d *Document, p *Part) []Wear {
	name := say.Small(p.Called())
	out := []Wear{{"wheel_bearing", "worn " + name + " bearing"}}
	if from := d.fedBy(p); from != nil && from.Axle != nil {
		out = append(out, Wear{"axle_seal", "leaking " + AxleShaft(p) + " seal"})
	}
	if d.Lies == Vehicle {
		out = append(out, Wear{"tire_balance", name + " or tire out of balance, bent or worn unevenly"})
	}
	return out
}

func (w *Wheel) showsAt(d *Document, p *Part) []string {
	if from := d.fedBy(p); from != nil {
		return []string{from.ID}
	}
	return nil
}
