package road

import (
	"math"
	"math/rand/v2"
)

// Drive is a simulated drive through the gears: it serves simulations and examples.
type Drive struct {
	Gears     []float64
	Axle      float64
	RollingMM float64 // what the tire really rolls
	Between   Between
	From      From
	Seconds   float64
	Overrun   bool // now and then the foot is off
	Spin      bool // now and then a wheel spins
}

// Run drives.
func (d Drive) Run(rng *rand.Rand) []Sample {
	const dt = 0.2
	var speeds, engines []float64
	speed, gear, hold, slip, foot := 15.0, 0, 0.0, 0.0, 1.0
	aim := 20.0
	for t := 0.0; t < d.Seconds; t += dt {
		if hold -= dt; hold <= 0 {
			hold = 6 + 14*rng.Float64()
			aim = 12 + 90*rng.Float64()
			foot = 1
			if d.Overrun && rng.IntN(3) == 0 {
				foot, aim = -1, speed*0.5
			}
		}
		change := min(max((aim-speed)*0.4, -6), 5) * dt
		speed = max(speed+change, 6)
		// A gear that turns the engine at some 1,400 to 2,600 rpm.
		wheel := speed * 1e6 / 60 / d.RollingMM
		for gear+1 < len(d.Gears) && wheel*d.Gears[gear]*d.Axle > 2600 {
			gear++
		}
		for gear > 0 && wheel*d.Gears[gear]*d.Axle < 1300 {
			gear--
		}
		slip = 0.006 + 0.004*rng.Float64()
		if d.Between == Converter && gear < len(d.Gears)-1 {
			load := math.Max(0, change/dt/5)
			slip += math.Abs(rng.NormFloat64()) * (0.01 + 0.08*load)
		}
		if foot < 0 {
			slip = -0.02 * rng.Float64()
		}
		if d.Spin && rng.IntN(60) == 0 {
			slip += 0.3 * rng.Float64()
		}
		engines = append(engines, wheel*d.Gears[gear]*d.Axle*(1+slip)+8*rng.NormFloat64())
		speeds = append(speeds, speed)
	}
	late := 0
	noise := 0.1
	if d.From == Satellite {
		late, noise = 5, 0.3
	}
	out := make([]Sample, len(speeds))
	for i := range out {
		out[i] = Sample{float64(i) * dt, max(engines[i], 0), max(speeds[max(0, i-late)]+noise*rng.NormFloat64(), 0)}
	}
	return out
}
