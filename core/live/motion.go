package live

import (
	"fmt"
	"math"
	"math/cmplx"

	"gonum.org/v1/gonum/interp"
	"gonum.org/v1/gonum/mat"

	"zorvel/core/fault"
)

// Motion is one sample of a phone that is strapped to a shaft: its rate of turning in
// degrees a second and its acceleration with gravity in m/s², both about its own axes.
type Motion struct {
	At    float64    `json:"at"` // s
	Rate  [3]float64 `json:"rate"`
	Accel [3]float64 `json:"accel"`
}

const gravity = 9.80665 // m/s², standard

// A gyroscope by itself: what its rate is off by for good, a share of what it tells and
// degrees a second.
const (
	gyroScale = 0.01
	gyroDrift = 0.05
	gyroOff   = 0.5 // degrees a second, before it was seen at rest
)

func (s Source) checkMotion(at string) *fault.Error {
	for i, m := range s.Motion {
		here := fmt.Sprintf("%s/%d", at, i)
		if !(math.Abs(m.At) <= mostSeconds) {
			return fault.New(here+"/at", "a time is a number of seconds")
		}
		if i > 0 && m.At < s.Motion[i-1].At {
			return fault.New(here+"/at", "times must not fall: %g s comes after %g s", m.At, s.Motion[i-1].At)
		}
		for k := range 3 {
			if !(math.Abs(m.Rate[k]) <= 1e5) {
				return fault.New(here+"/rate", "a rate is a number of degrees a second")
			}
			if !(math.Abs(m.Accel[k]) <= 1e4) {
				return fault.New(here+"/accel", "an acceleration is a number of m/s²")
			}
		}
	}
	return nil
}

// motionPath is the angle of the shaft that a phone is strapped to.
//
// The shaft's axis is the direction about which the phone turns most: the leading
// eigenvector of Σ ω·ωᵀ. The rate about it, summed up, is the angle, with an error that
// grows: a constant rate, and a share of what was turned. Gravity, seen from the phone,
// turns once backward for each turn of a level shaft and never drifts; it shakes with
// every push and leans outward with the speed. So the slow error is taken from gravity,
// as the line b₀ + b₁·time + b₂·angle that fits best what whole turns and rests tell,
// rests weighing most, and the quick movement from the rate.
func motionPath(s Source) *path {
	p := &path{shaft: s.Shaft, way: true, spread: 1.0 / 360}
	if len(s.Motion) == 0 {
		return p
	}
	axis := axisOf(s.Motion)
	n := len(s.Motion)
	angle := make([]float64, n) // degrees, by the rate alone
	rate := func(i int) float64 { return dot(s.Motion[i].Rate, axis) }
	for i := 1; i < n; i++ {
		dt := s.Motion[i].At - s.Motion[i-1].At
		angle[i] = angle[i-1] + dt*(rate(i)+rate(i-1))/2
	}
	h := leveled(s.Motion, axis, angle)
	p.level, p.spread, p.bias = h.level, h.spread/360, h.bias/360
	if !h.level {
		p.drift = gyroScale
	}
	for i := range s.Motion {
		p.times = append(p.times, s.Motion[i].At)
		p.turns = append(p.turns, (angle[i]+h.off(i))/360)
	}
	return p
}

// axisOf is the direction about which it turns most, its largest part positive.
func axisOf(list []Motion) [3]float64 {
	sum := mat.NewSymDense(3, nil)
	for _, m := range list {
		for i := range 3 {
			for k := i; k < 3; k++ {
				sum.SetSym(i, k, sum.At(i, k)+m.Rate[i]*m.Rate[k])
			}
		}
	}
	var e mat.EigenSym
	if !e.Factorize(sum, true) {
		return [3]float64{0, 0, 1}
	}
	var v mat.Dense
	e.VectorsTo(&v)
	axis := [3]float64{v.At(0, 2), v.At(1, 2), v.At(2, 2)} // values rise
	most := 0
	for i := range axis {
		if math.Abs(axis[i]) > math.Abs(axis[most]) {
			most = i
		}
	}
	if axis[most] < 0 {
		for i := range axis {
			axis[i] = -axis[i]
		}
	}
	return axis
}

// level is what gravity says of one stretch, a whole turn or a rest: its mean time and
// angle, and what the angle is off by, with a standard deviation, in degrees.
type level struct {
	time, angle, off, sigma float64
	rate                    float64 // mean, degrees a second
	rest                    bool
}

// Gravity's angle: over a rest, a whole turn, and a phone's own level.
const (
	restSigma  = 0.4
	turnSigma  = 2.5
	leanSigma  = 25.0 // what leans outward at a turn a second, and doesn't quite go round
	mostLean   = 40.0 // beyond it gravity isn't seen
	stillRate  = 1.5  // below so many degrees a second it stands, and the rest is the gyroscope's own
	rateSigma  = 0.1  // of a gyroscope's rate at rest, degrees a second
	phoneSigma = 0.7
	restFor    = 0.5 // s
	restWithin = 15.0
	restRate   = 15.0 // degrees a second
)

// levels turns the acceleration back by the angle, where gravity stands still and what
// leans outward or swings goes round, and takes its mean over each whole turn and rest:
// what goes round falls out. The rest is how far gravity turns on, which is the error.
func levels(list []Motion, axis [3]float64, angle []float64) (out []level, across float64) {
	u := cross(axis, [3]float64{1, 0, 0})
	if norm(u) < 0.5 {
		u = cross(axis, [3]float64{0, 1, 0})
	}
	u = scaled(u, 1/norm(u))
	v := cross(axis, u)
	from := 0
	var sum complex128
	mean := level{}
	n, strength := 0.0, 0.0
	moved := false // within this stretch
	for i, m := range list {
		rate := math.Abs(dot(m.Rate, axis))
		if moved && rate < restRate { // what braked it would lean on the rest
			from, sum, mean, n, moved = i, 0, level{}, 0, false
		}
		moved = moved || rate > 2*restRate
		sum += complex(dot(m.Accel, u), dot(m.Accel, v)) * cmplx.Rect(1, angle[i]*math.Pi/180)
		mean.time, mean.angle, n = mean.time+m.At, mean.angle+angle[i], n+1
		turned, took := math.Abs(angle[i]-angle[from]), m.At-list[from].At
		rest := !moved && turned < restWithin && took >= restFor
		if !rest && turned < 360 {
			continue
		}
		l := level{time: mean.time / n, angle: mean.angle / n, rest: rest, sigma: restSigma,
			off: -cmplx.Phase(sum) * 180 / math.Pi, rate: (angle[i] - angle[from]) / max(took, 1e-9)}
		if !rest {
			l.sigma = math.Hypot(turnSigma, leanSigma*math.Pow(l.rate/360, 2))
		}
		pull := cmplx.Abs(sum) / n
		from, sum, mean, n, moved = i, 0, level{}, 0, false
		if l.sigma > mostLean {
			continue
		}
		if k := len(out); k > 0 {
			before := out[k-1]
			if math.Abs(l.angle-before.angle)*gyroScale+(l.time-before.time)*gyroOff > 120 {
				break // which whole turn it is can't be told any more
			}
			l.off = before.off + math.Remainder(l.off-before.off, 360)
		}
		strength += pull
		out = append(out, l)
	}
	return out, strength / max(1, float64(len(out)))
}

// held is a phone's angle as gravity holds it.
type held struct {
	off    func(i int) float64 // what the rate's angle is off by at a sample, in degrees
	spread float64             // standard deviation at any time
	bias   float64             // of the whole way
	level  bool                // false where the axis is too steep for it, or it was neither still nor turned once
}

// leveled holds the angle to gravity, where that tells.
func leveled(list []Motion, axis [3]float64, angle []float64) held {
	found, across := levels(list, axis, angle)
	n := len(list) - 1
	from, took := list[0].At, list[n].At-list[0].At
	alone := held{off: func(int) float64 { return 0 }, spread: 1, bias: 1 + gyroDrift*took}
	if len(found) < 2 || across < 0.5*gravity {
		return alone
	}
	normal, right := mat.NewSymDense(3, nil), mat.NewVecDense(3, nil)
	add := func(row [3]float64, value, sigma float64) {
		w := 1 / (sigma * sigma)
		for a := range 3 {
			right.SetVec(a, right.AtVec(a)+w*row[a]*value)
			for b := a; b < 3; b++ {
				normal.SetSym(a, b, normal.At(a, b)+w*row[a]*row[b])
			}
		}
	}
	add([3]float64{1, 0, 0}, 0, 1e4)
	add([3]float64{0, 1, 0}, 0, gyroOff)
	add([3]float64{0, 0, 1}, 0, 360*gyroScale)
	for _, l := range found {
		add([3]float64{1, l.time - from, l.angle / 360}, l.off, l.sigma)
		if l.rest && math.Abs(l.rate) < stillRate {
			add([3]float64{0, 1, 0}, -l.rate, rateSigma)
		}
	}
	var whole mat.Cholesky
	var b, reach mat.VecDense
	if !whole.Factorize(normal) || whole.SolveVecTo(&b, right) != nil {
		return alone
	}
	line := func(t, angle float64) float64 { return b.AtVec(0) + b.AtVec(1)*(t-from) + b.AtVec(2)*angle/360 }
	sum, weight := 0.0, 0.0
	for _, l := range found {
		d := l.off - line(l.time, l.angle)
		sum, weight = sum+d*d/(l.sigma*l.sigma), weight+1/(l.sigma*l.sigma)
	}
	way := mat.NewVecDense(3, []float64{0, took, (angle[n] - angle[0]) / 360})
	if whole.SolveVecTo(&reach, way) != nil {
		return alone
	}
	out := held{level: true, spread: math.Hypot(phoneSigma, math.Sqrt(sum/weight)), bias: math.Hypot(phoneSigma,
		math.Sqrt(mat.Dot(way, &reach)))}
	if first, last := found[0], found[len(found)-1]; first.rest && last.rest && list[n].At-last.time < 2*restFor {
		out.bias = phoneSigma * math.Sqrt2
	}
	rest := atRests(found, line)
	out.off = func(i int) float64 { return line(list[i].At, angle[i]) + rest(list[i].At) }
	return out
}

// atRests is how far the line passes by what rests tell, from one to the next: a phone
// at rest knows its angle best.
func atRests(found []level, line func(t, angle float64) float64) func(float64) float64 {
	var times, by []float64
	for _, l := range found {
		if l.rest {
			times, by = append(times, l.time), append(by, l.off-line(l.time, l.angle))
		}
	}
	var between interp.PiecewiseLinear
	if len(times) < 2 || between.Fit(times, by) != nil {
		return func(float64) float64 { return 0 }
	}
	return between.Predict
}

func dot(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
func norm(a [3]float64) float64   { return math.Sqrt(dot(a, a)) }
func scaled(a [3]float64, k float64) [3]float64 {
	return [3]float64{a[0] * k, a[1] * k, a[2] * k}
}
func cross(a, b [3]float64) [3]float64 {
	return [3]float64{a[1]*b[2] - a[2]*b[1], a[2]*b[0] - a[0]*b[2], a[0]*b[1] - a[1]*b[0]}
}
