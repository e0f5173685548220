package identify

import (
	"fmt"
	"math"

	"zorvel/core/fault"
)

// byRoad compares engine speed with road speed.
func byRoad() *technique {
	return &technique{
		method:  Road,
		resolve: func(r Reading, _ Stage, _ *Space) (Reading, error) { return r, r.Road.check() },
		compile: (*compiled).compileRoad,
		origin: func(c *compiled) []string {
			q := c.reading.Road
			wheel := decimal(q.SpeedKMH*1e6/60/q.RollingMM, 1)
			return []string{
				fmt.Sprintf("wheel speed = %s km/h ÷ %s mm = %s rpm", plain(q.SpeedKMH), plain(q.RollingMM), wheel),
				fmt.Sprintf("ratio = engine speed ÷ wheel speed ÷ other ratios = %s ÷ %s ÷ %s = %s, %s",
					plain(q.RPM), wheel, decimal(q.other(), 3), decimal(c.center, 3), c.own.words()),
			}
		},
		summary: func(r Reading) string {
			if r.Road == nil {
				return "Road figures"
			}
			return fmt.Sprintf("%.0f rpm at %g km/h, tire rolling %.0f mm", r.Road.RPM, r.Road.SpeedKMH, r.Road.RollingMM)
		},
		says: map[Cause]string{CauseOtherUnit: "another gear, tire or speed than entered"},
		again: func(Kind) string {
			return "Drive it again at a steady speed with the converter locked, and measure the tire's rollout."
		},
		options: func(p *planner, by *technique, add func(Option, outcome)) {
			if p.atAxle() && !p.sit.NoRoad && !p.sit.Removed && !p.used(by) {
				add(Option{Method: Road, Minutes: minutesRoad, Do: "drive at a steady true speed and note the engine speed"},
					p.gaussOutcome(by, mode{m: 1, sigmaM: sigmaRoad}, rateRoadOther, 0, 0))
			}
		},
		minutes: func(*planner, Option) float64 { return minutesRoad },
		draw: func(w *world, _ Option, r *Reading) bool {
			ratio := w.truth.r * (1 + sigmaRoad*w.scale*w.rng.NormFloat64())
			r.Road = &RoadReading{
				RPM: 3000, RollingMM: 2200, Converter: ConverterLocked, Others: []float64{1},
				SpeedKMH: 3000 / ratio * 2200 * 60 / 1e6,
			}
			return true
		},
	}
}

func (r *RoadReading) check() error {
	if r == nil {
		return fault.New("road", "enter engine speed, road speed, tire and gear")
	}
	between := func(v, lo, hi float64) bool { return v >= lo && v <= hi }
	if !between(r.RPM, 300, 20000) {
		return fault.New("road/rpm", "engine speed should be between 300 and 20,000 rpm")
	}
	if !between(r.SpeedKMH, 5, 400) {
		return fault.New("road/speed_kmh", "steady road speed should be between 5 and 400 km/h (3 and 249 mph)")
	}
	if !between(r.RollingMM, 300, 8000) {
		return fault.New("road/rolling_mm",
			"rolling circumference should be between 300 and 8000 mm: mark the tire and the floor, roll one turn, measure")
	}
	if len(r.Others) > 8 {
		return fault.New("road/others", "at most 8 other ratios between engine and wheel")
	}
	for i, o := range r.Others {
		if !between(o, 0.1, 30) {
			return fault.New(fmt.Sprintf("road/others/%d", i), "a stage ratio should be between 0.1 and 30 (1 for a direct gear)")
		}
	}
	switch r.Converter {
	case Clutch, ConverterLocked, ConverterOpen:
		return nil
	}
	return fault.New("road/converter", "say clutch, locked or open (a slipping converter reads high)")
}

// other is the product of all other ratios.
func (r RoadReading) other() float64 {
	p := 1.0
	for _, o := range r.Others {
		p *= o
	}
	return p
}

// ratio is rpm ÷ wheel rpm ÷ other ratios.
func (r RoadReading) ratio() float64 {
	wheelRPM := r.SpeedKMH * 1e6 / 60 / r.RollingMM
	return r.RPM / wheelRPM / r.other()
}
func (c *compiled) compileRoad(sp *Space) {
	rd := *c.reading.Road
	q := rd.ratio()
	// Observe q itself; expected r, spread proportional to r.
	right := mode{cause: CauseRight, form: gauss, s: q, m: 1, sigmaM: sigmaRoad}
	c.byRatio = []mode{right}
	if rd.Converter == ConverterOpen {
		// Slip between nothing and slipMost, in three steps.
		for _, k := range []float64{0.2, 0.5, 0.8} {
			slip := right
			slip.cause, slip.weight, slip.m = CauseSlip, shareConverterSlips/3, 1+k*slipMost
			slip.sigmaM = math.Hypot(sigmaRoad, 0.15*slipMost)
			c.byRatio = append(c.byRatio, slip)
		}
	}
	span := max(sp.hi-sp.lo, 0.5)
	c.byRatio = append(c.byRatio, mode{cause: CauseOtherUnit, weight: rateRoadOther, form: flat, d: 1 / span})
	c.says(q, 1, even(q*sigmaRoad))
}
