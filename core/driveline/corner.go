package driveline

import (
	"math"

	"zorvel/core/exact"
)

// Track and wheelbase that are assumed where the document has none.
const (
	assumedTrackMM     = 1600
	assumedWheelbaseMM = 2800
)

func (d *Document) TrackMM() float64 {
	if d.Body != nil && d.Body.TrackMM > 0 {
		return d.Body.TrackMM
	}
	return assumedTrackMM
}

func (d *Document) WheelbaseMM() float64 {
	if d.Body != nil && d.Body.WheelbaseMM > 0 {
		return d.Body.WheelbaseMM
	}
	return assumedWheelbaseMM
}

// AheadMM is how far a wheel stands ahead of the line that the vehicle turns
// about.
func (d *Document) AheadMM(w *Wheel) float64 {
	if w.AheadMM == 0 && w.At == "front" {
		return d.WheelbaseMM()
	}
	return w.AheadMM
}

// LeastRadius is where the inner unsteered wheel would stand still.
func (m *Machine) LeastRadius() float64 {
	return math.Ceil(m.Doc.TrackMM()/200) / 10
}

// turn works out how far each wheel travels per meter of the vehicle's own
// path: all wheels circle one center on the line of the unsteered axle
// (Ackermann). A wheel on that line gives an exact factor; for the others the
// square root is rounded to a billionth.
func (m *Machine) turn() {
	c := m.State.Corner
	if c == nil || c.RadiusM <= 0 || math.IsInf(c.RadiusM, 0) || math.IsNaN(c.RadiusM) {
		return
	}
	r := c.RadiusM * 1000
	m.Factors = map[string]exact.Number{}
	for i := range m.Doc.Parts {
		p := &m.Doc.Parts[i]
		if p.Wheel == nil {
			continue
		}
		half := m.Doc.TrackMM() / 2
		if p.Wheel.Side == c.Toward {
			half = -half
		}
		x := m.Doc.AheadMM(p.Wheel)
		if x == 0 {
			a, errA := exact.Of(r + half)
			b, errB := exact.Of(r)
			if errA == nil && errB == nil && !a.IsZero() {
				m.Factors[p.ID] = a.Div(b)
				continue
			}
		}
		m.Factors[p.ID] = exact.New(int64(math.Round(math.Hypot(x, r+half)/r*1e9)), 1e9)
	}
}
