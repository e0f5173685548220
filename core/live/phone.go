package live

import (
	"math"
	"math/rand/v2"
)

// Phone is a simulated phone strapped to a shaft, its screen across the axis: a
// gyroscope with a rate that is off and a scale that is, an accelerometer that shakes and
// feels the turning.
type Phone struct {
	rng          *rand.Rand
	level        bool
	off, scale   float64 // degrees a second; a share
	first        float64 // degrees
	tilt, radius float64 // rad, m
	time, turns  float64
	rate         float64 // degrees a second
	begun        bool
}

// NewPhone straps one to a level shaft, or to one that stands up.
func NewPhone(level bool, rng *rand.Rand) *Phone {
	return &Phone{rng: rng, level: level, off: 0.4 * rng.NormFloat64(), scale: 0.005 * rng.NormFloat64(),
		first: 360 * rng.Float64(), tilt: 0.03 * rng.NormFloat64(), radius: 0.05 + 0.2*rng.Float64()}
}

// Sense is what it senses when its shaft is at a place at a time.
func (p *Phone) Sense(t, turns float64) Motion {
	before, dt, at := p.rate, t-p.time, turns
	m := Motion{At: t}
	swing := 0.0
	if p.begun && dt > 0 {
		p.rate = (turns - p.turns) * 360 / dt
		swing = (p.rate - before) / dt * math.Pi / 180
		m.At, at = t-dt/2, (turns+p.turns)/2 // what the rate is of
	}
	p.begun, p.time, p.turns = true, t, turns
	m.Rate[2] = p.rate*(1+p.scale) + p.off + 0.3*p.rng.NormFloat64()
	m.Rate[0], m.Rate[1] = 0.3*p.rng.NormFloat64()+p.rate*p.tilt, 0.3*p.rng.NormFloat64()
	a := (p.first + at*360) * math.Pi / 180
	w := p.rate * math.Pi / 180
	shake := 0.15 + math.Abs(w)*0.1
	if p.level {
		m.Accel = [3]float64{gravity*math.Sin(a) - w*w*p.radius, gravity*math.Cos(a) + swing*p.radius, 0}
	} else {
		m.Accel = [3]float64{-w * w * p.radius, swing * p.radius, gravity}
	}
	for k := range m.Accel {
		m.Accel[k] += shake * p.rng.NormFloat64()
	}
	return m
}
