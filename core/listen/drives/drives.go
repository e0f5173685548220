// Package drives makes recordings of drives whose howl is known: a vehicle, a speed
// that changes, road noise, the tones of every source it has, a speed file as a phone
// writes it, late and noisy. Listening is tried on them.
package drives

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"zorvel/core/listen"
)

// Drive is a recording with its truth.
type Drive struct {
	Question listen.Question
	Kind     string // of the loudest source; "" where nothing howls
	Name     string
	Ring     int
	Level    float64 // decibels over the noise in a third of an octave
	Tellable bool    // at more than one speed, loud enough, unlike any other
}

const (
	rate    = 8000
	seconds = 14
)

// Some is a drive by chance.
func Some(seed uint64) Drive {
	r := rand.New(rand.NewPCG(seed, 11))
	m := &maker{r: r, n: rate * seconds}
	m.vehicle()
	m.speed()
	m.noise()
	list := listen.Sources(m.v)
	m.sounds(list, r.IntN(len(list)+1), m.in(0, 12))
	m.records()
	return m.d
}

// Of is a drive of a vehicle in which the source of a name is the loudest, at a level in
// decibels over the noise in a third of an octave: up through 45 to 95 km/h. The speed is
// read each second, on time; all that the vehicle is known by stays known.
func Of(v listen.Vehicle, name string, level float64, seed uint64) (Drive, error) {
	m := &maker{r: rand.New(rand.NewPCG(seed, 12)), n: rate * seconds, v: v}
	list := listen.Sources(v)
	loud := slices.IndexFunc(list, func(s listen.Source) bool { return s.Name == name })
	if loud < 0 {
		return Drive{}, fmt.Errorf("nothing of this vehicle is named %q", name)
	}
	m.turn(func(t float64) float64 { return 45 + 50*t })
	m.noise()
	m.sounds(list, loud, level)
	m.d.Question = listen.Question{Samples: m.x, Rate: rate, Vehicle: v, Speed: m.read(0, 0.3)}
	return m.d, nil
}

type maker struct {
	r      *rand.Rand
	n      int
	d      Drive
	v      listen.Vehicle // the whole truth
	kmh    []float64      // at each sample
	wheel  []float64      // turns at each sample
	x      []float64
	oneOff bool
}

func (m *maker) in(a, b float64) float64 { return a + (b-a)*m.r.Float64() }

// vehicle is a light truck or car in some gear.
func (m *maker) vehicle() {
	r := m.r
	pinion := 8 + r.IntN(6)
	ring := int(math.Round(float64(pinion) * m.in(3.2, 4.9)))
	for ring%pinion == 0 || ring > 55 {
		ring--
	}
	m.v = listen.Vehicle{Circumference: math.Round(m.in(1.95, 2.5)*100) / 100, Axle: &listen.Pair{Drive: pinion,
		Driven: ring},
		Cylinders: []int{4, 6, 8}[r.IntN(3)], Pitches: 52 + r.IntN(25)}
	switch r.IntN(4) {
	case 0:
		m.v.Neutral = true
	case 1:
		a, b := listen.Pair{Drive: 23, Driven: 31 + r.IntN(8)}, listen.Pair{Drive: 22 + r.IntN(6), Driven: 29}
		m.v.GearPairs = []listen.Pair{a, b}
		m.v.GearRatio = float64(a.Driven*b.Driven) / float64(a.Drive*b.Drive)
	default:
		m.v.GearRatio = 1
	}
	if r.IntN(3) == 0 {
		n := 15 + r.IntN(6)
		f := m.in(0.36, 0.42)
		m.v.Bearings = []listen.Bearing{{Name: "rear left", Outer: float64(n) * f, Inner: float64(n) * (1 - f)}}
	}
}

// speed goes up, down, in a wave, or hardly changes.
func (m *maker) speed() {
	from, to := m.in(45, 70), m.in(75, 105)
	if len(m.v.GearPairs) > 0 {
		from, to = from*0.6, to*0.6
	}
	kind := m.r.IntN(8)
	m.oneOff = kind == 7
	m.turn(func(t float64) float64 {
		switch {
		case kind < 3:
			return from + (to-from)*t
		case kind < 6:
			return to - (to-from)*t*(1.3-0.3*t)
		case kind == 6:
			return (from+to)/2 + (to-from)/2*math.Sin(2*math.Pi*t*1.4)
		}
		return to + 0.4*math.Sin(9*t)
	})
}

// turn drives at a speed in km/h, a function of the drive from 0 to 1.
func (m *maker) turn(kmh func(t float64) float64) {
	m.kmh, m.wheel = make([]float64, m.n), make([]float64, m.n)
	sum := 0.0
	for i := range m.n {
		m.kmh[i] = kmh(float64(i) / float64(m.n))
		sum += m.kmh[i] / 3.6 / m.v.Circumference / rate
		m.wheel[i] = sum
	}
}

// noise is of the road: less of it the higher.
func (m *maker) noise() {
	m.x = make([]float64, m.n)
	slow, mid := 0.0, 0.0
	for i := range m.x {
		w := m.r.NormFloat64()
		slow += 0.02 * (w - slow)
		mid += 0.2 * (w - mid)
		m.x[i] = (3*slow + mid + 0.12*w) * 0.05 * (0.4 + m.kmh[i]/120)
	}
}

// sounds adds every source of a list, one of them loudest; none, past its end.
func (m *maker) sounds(list []listen.Source, loud int, level float64) {
	m.d.Tellable = !m.oneOff
	if loud < len(list) {
		s := list[loud]
		m.d.Kind, m.d.Name, m.d.Ring, m.d.Level = s.Kind, s.Name, s.Ring, level
		for i, o := range list {
			if i != loud && math.Abs(o.PerWheel-s.PerWheel) < 0.02*s.PerWheel {
				m.d.Tellable = false
			}
		}
	} else {
		m.d.Tellable = false
	}
	for i, s := range list {
		l := level
		switch {
		case loud == len(list):
			l = m.in(-22, -14)
		case i != loud:
			l = level - m.in(7, 16)
		}
		m.tone(s, l)
	}
	m.scaleTo(0.7)
}

// tone adds a source's lines at a level over the noise in a third of an octave.
func (m *maker) tone(s listen.Source, level float64) {
	hz := s.PerWheel * m.wheel[m.n-1] / seconds
	amplitude := math.Sqrt(2*m.noiseAt(hz)) * math.Pow(10, level/20)
	phase, wander := m.in(0, 2*math.Pi), 0.0
	if s.Kind == listen.WheelBearing {
		m.knocks(s, amplitude)
		return
	}
	harmonics := []float64{1, 0.5, 0.3}
	if s.Kind == listen.Unbalance || s.Kind == listen.JointAngle {
		harmonics = harmonics[:1]
	}
	for i := range m.x {
		if s.Kind == listen.Tire { // pitches are not even: the tone smears
			wander += m.r.NormFloat64() * 0.004
		}
		a := 2*math.Pi*s.PerWheel*m.wheel[i] + phase + wander
		for k, h := range harmonics {
			m.x[i] += amplitude * 0.85 * h * math.Sin(float64(k+1)*a+float64(k)*phase)
		}
	}
}

// knocks are a bearing's: each rings a moment at the housing's own pitch.
func (m *maker) knocks(s listen.Source, amplitude float64) {
	last, since := 0.0, 1000
	pitch := m.in(700, 2200)
	for i := range m.x {
		if n := math.Floor(s.PerWheel * m.wheel[i]); n > last {
			last, since = n, 0
		}
		m.x[i] += 3 * amplitude * math.Pow(0.985, float64(since)) * math.Sin(2*math.Pi*pitch*float64(since)/rate)
		since++
	}
}

// noiseAt is the noise's power in a third of an octave around a pitch, by the filter it
// is made of.
func (m *maker) noiseAt(hz float64) float64 {
	response := func(k float64) (re, im float64) { // one pole
		s, c := math.Sincos(-2 * math.Pi * hz / rate)
		dr, di := 1-(1-k)*c, -(1-k)*s
		q := dr*dr + di*di
		return k * dr / q, -k * di / q
	}
	ar, ai := response(0.02)
	br, bi := response(0.2)
	re, im := 3*ar+br+0.12, 3*ai+bi
	speed := 0.4 + m.kmh[m.n/2]/120
	return (re*re + im*im) * 0.05 * 0.05 * speed * speed * 2 / rate * 0.2316 * hz
}

func (m *maker) scaleTo(most float64) {
	top := 0.0
	for _, v := range m.x {
		top = max(top, math.Abs(v))
	}
	for i := range m.x {
		m.x[i] *= most / top
	}
}

// records writes what a program may be told: a speed file that is late and noisy, the
// engine's where it turns with the wheels, teeth where they are known.
func (m *maker) records() {
	q := listen.Question{Samples: m.x, Rate: rate, Vehicle: m.v}
	lag := 0.0
	if m.r.IntN(2) == 0 {
		lag = m.in(0, 1.5)
	}
	q.Speed = m.read(lag, 0.3)
	if !m.v.Neutral && m.r.IntN(2) == 0 {
		all := m.v.GearRatio * float64(m.v.Axle.Driven) / float64(m.v.Axle.Drive)
		for t := 0; t < seconds*10; t++ {
			rpm := m.kmh[t*rate/10] / 3.6 / m.v.Circumference * all * 60
			q.RPM = append(q.RPM, listen.Reading{Seconds: float64(t) / 10,
				Value: math.Round(rpm + 4*m.r.NormFloat64())})
		}
	}
	if m.r.IntN(3) == 0 {
		q.Vehicle.AxleRatio = math.Round(float64(m.v.Axle.Driven)/float64(m.v.Axle.Drive)*100) / 100
		q.Vehicle.Axle = nil
	}
	if m.r.IntN(2) == 0 && m.d.Kind != listen.Tire {
		q.Vehicle.Pitches = 0
	}
	m.d.Question = q
}

// read is the speed each second, so late and with so much noise.
func (m *maker) read(lag, noise float64) []listen.Reading {
	var list []listen.Reading
	for t := range seconds + 1 {
		i := min(max(int((float64(t)-lag)*rate), 0), m.n-1)
		list = append(list, listen.Reading{Seconds: float64(t), Value: max(0,
			math.Round((m.kmh[i]+noise*m.r.NormFloat64())*10)/10)})
	}
	return list
}

// Right says whether an answer names the loudest source.
func (d Drive) Right(a *listen.Answer) bool {
	if a.State != listen.Told || len(a.Sources) == 0 || d.Kind == "" {
		return false
	}
	top := a.Sources[0]
	switch d.Kind {
	case listen.RingAndPinion:
		return top.Kind == d.Kind && top.Ring == d.Ring
	case listen.WheelBearing, listen.GearMesh, listen.CaseMesh:
		return top.Name == d.Name
	}
	return top.Kind == d.Kind
}

// Outcome is how listening went on drives by chance.
type Outcome struct {
	Drives, Tellable, Right int
	Not, Said               int // that can't be told, and were said not to be
	Bands                   []Band
}

// Band is a range of stated chances, and how often the source was right.
type Band struct {
	From, To float64
	Named    int
	Stated   float64 // sum of the chances
	Right    int
}

// Try listens to so many drives; the same seed gives the same ones. done is called after each.
func Try(count int, seed uint64, done func()) (Outcome, error) {
	o := Outcome{Drives: count, Bands: []Band{{From: 0, To: 0.7}, {From: 0.7, To: 0.9}, {From: 0.9, To: 0.97},
		{From: 0.97, To: 1.01}}}
	for i := range count {
		d := Some(seed + uint64(i))
		a, err := listen.Work(d.Question)
		if err != nil {
			return o, fmt.Errorf("drive %d: %w", i, err)
		}
		right := d.Right(a)
		switch {
		case d.Tellable && right:
			o.Right++
			fallthrough
		case d.Tellable:
			o.Tellable++
		default:
			o.Not++
			if a.State == listen.Cannot {
				o.Said++
			}
		}
		for k := range o.Bands {
			if b := &o.Bands[k]; a.State == listen.Told && a.Sources[0].Chance >= b.From && a.Sources[0].Chance < b.To {
				b.Named++
				b.Stated += a.Sources[0].Chance
				if right {
					b.Right++
				}
			}
		}
		done()
	}
	return o, nil
}
