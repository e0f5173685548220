package live

import (
	"math"
	"math/rand/v2"
)

// Turning is a person who turns a machine with sensors on it, drawn at random: a hand
// that pushes unevenly, rests, and may turn back. It serves simulations and stand-ins.
type Turning struct {
	Ratio float64
	// Wheels of an axle: how they share the turning. Part is a removed part with one output.
	Wheels Sharing
	// Turns of the output in all, and how many a second.
	Turns, Speed float64
	Rests        bool // now and then the hand rests
	Back         bool // and once it turns back a while
	Lash         float64
	// Marks a turn on the input and on each wheel; 0 is an angle, told 60 times a second,
	// or with Phones what a phone strapped to the shaft senses.
	InMarks, OutMarks int
	Phones            bool
	Directed          bool    // sensors tell the direction
	Uneven            float64 // of the distance of two marks, one standard deviation
	Jitter            float64 // s
	Missed, Doubled   float64 // share of pulses
	// Dead is a shaft whose sensor gives nothing within a share of the session.
	Dead             Shaft
	DeadFrom, DeadTo float64
	// SwapChannels sends the input's pulses as the left wheel's and the reverse.
	SwapChannels bool
}

// Sharing is how an axle's wheels share the turning.
type Sharing string

// The ways of sharing.
const (
	BothTurn  Sharing = "both"
	RightHeld Sharing = "right_held"
	RightSlow Sharing = "right_creeps"
	OnePart   Sharing = "part"
)

// Place is where every shaft is.
type Place struct{ Time, Input, Left, Right float64 }

// Hand turns a machine step by step.
type Hand struct {
	t       Turning
	rng     *rand.Rand
	now     Place
	drag    float64 // the input, before the lash is taken up
	push    float64 // what the hand is about
	speed   float64 // of the output, turns a second
	resting float64
	back    float64 // output turns that are left to turn back
	backed  bool
	share   float64 // of the right wheel
	Done    bool
}

// A hand takes so long to change its speed, in seconds.
const handLag = 0.12

// It stands before it begins and after it ends, in seconds.
const restsAtEnds = 0.7

// NewHand begins a turning.
func NewHand(t Turning, rng *rand.Rand) *Hand {
	return &Hand{t: t, rng: rng, push: 1, share: 0.5, resting: restsAtEnds}
}

// Place is where it is now.
func (h *Hand) Place() Place { return h.now }

// Step turns on for so many seconds.
func (h *Hand) Step(dt float64) Place {
	h.now.Time += dt
	t, rng := h.t, h.rng
	h.push += dt*(1-h.push)*2 + 0.7*math.Sqrt(dt)*rng.NormFloat64()
	h.push = min(max(h.push, 0.3), 1.8)
	aim := t.Speed * h.push
	switch {
	case h.Done:
		aim = 0
	case h.resting > 0:
		h.resting -= dt
		aim = 0
	case h.back > 0:
		aim = -aim
	}
	h.speed += (aim - h.speed) * min(1, dt/handLag)
	if t.Rests && h.resting <= 0 && rng.Float64() < dt*t.Speed*0.35 {
		h.resting = 0.4 + 1.6*rng.Float64()
	}
	done := h.output()
	if t.Back && !h.backed && done > t.Turns*0.45 {
		h.backed, h.back = true, 0.3+1.2*rng.Float64()
	}
	if h.back > 0 {
		h.back = max(h.back+dt*h.speed, 0)
	}
	h.move(dt * h.speed)
	if h.output() >= t.Turns {
		h.Done = true
	}
	return h.now
}

func (h *Hand) output() float64 {
	if h.t.Wheels == OnePart {
		return h.now.Left
	}
	return (h.now.Left + h.now.Right) / 2
}

// move turns the output by a step of its mean; the input follows once its lash is taken up.
func (h *Hand) move(step float64) {
	t := h.t
	switch t.Wheels {
	case RightHeld:
		h.now.Left += 2 * step
	case RightSlow:
		h.now.Left += 1.8 * step
		h.now.Right += 0.2 * step
	case OnePart:
		h.now.Left += step
	default:
		h.share = min(max(h.share+0.02*h.rng.NormFloat64(), 0.4), 0.6)
		h.now.Left += 2 * step * (1 - h.share)
		h.now.Right += 2 * step * h.share
	}
	h.drag += step * t.Ratio
	switch {
	case h.drag > h.now.Input+t.Lash/2:
		h.now.Input = h.drag - t.Lash/2
	case h.drag < h.now.Input-t.Lash/2:
		h.now.Input = h.drag + t.Lash/2
	}
}

// Eye is a sensor that marks pass.
type Eye struct {
	shaft  Shaft
	marks  []float64 // places within a turn
	t      Turning
	rng    *rand.Rand
	before Pulse
}

// Pulse is a mark that passed.
type Pulse struct {
	Time float64
	Way  int
}

// NewEye puts so many marks on a shaft, the first anywhere.
func NewEye(t Turning, shaft Shaft, marks int, rng *rand.Rand) *Eye {
	e := &Eye{shaft: shaft, t: t, rng: rng}
	first := rng.Float64()
	for k := range marks {
		at := first + (float64(k)+t.Uneven*rng.NormFloat64())/float64(marks)
		e.marks = append(e.marks, at-math.Floor(at))
	}
	return e
}

// See returns the pulses as a shaft goes to a place by a time, from where it was.
func (e *Eye) See(from, to, begin, end float64, dead bool) []Pulse {
	var out []Pulse
	if from == to {
		return nil
	}
	way := 1
	low, high := from, to
	if to < from {
		way, low, high = -1, to, from
	}
	for _, m := range e.marks {
		for at := math.Ceil(low-m) + m; at < high; at++ {
			if at < low {
				continue
			}
			when := begin + (end-begin)*(at-from)/(to-from)
			out = append(out, e.pulses(Pulse{when, way}, dead)...)
		}
	}
	return out
}

// pulses is what the sensor makes of one mark: late or early, missed, twice.
func (e *Eye) pulses(p Pulse, dead bool) []Pulse {
	if dead || e.rng.Float64() < e.t.Missed {
		return nil
	}
	p.Time = max(p.Time+e.t.Jitter*e.rng.NormFloat64(), e.before.Time)
	e.before = p
	out := []Pulse{p}
	if e.rng.Float64() < e.t.Doubled {
		again := Pulse{p.Time + 0.001 + 0.003*e.rng.Float64(), p.Way}
		e.before = again
		out = append(out, again)
	}
	return out
}

// Turned is a whole simulated session and where every shaft was at its end.
type Turned struct {
	Recording Recording
	End       Place
	when      []float64 // at each whole turn of the output, the first after one turn
}

// When is the time at which the output had turned so far; the end where it never did.
func (t Turned) When(turns float64) float64 {
	if i := int(turns) - 1; i >= 0 && i < len(t.when) {
		return t.when[i]
	}
	return t.End.Time
}

// mostTurningSeconds ends a session in any case.
const mostTurningSeconds = 600

// Player turns a machine with sensors step by step.
type Player struct {
	t      Turning
	rng    *rand.Rand
	hand   *Hand
	shafts []Shaft
	eyes   []*Eye
	dt     float64
	left   float64 // seconds to stand still at the end
	when   []float64
}

// Passed is a mark of a shaft that passed its sensor.
type Passed struct {
	Shaft Shaft
	Pulse
}

// NewPlayer begins a turning.
func NewPlayer(t Turning, rng *rand.Rand) *Player {
	p := &Player{t: t, rng: rng, hand: NewHand(t, rng), shafts: []Shaft{Input, Left, Right},
		left: restsAtEnds + 5*handLag}
	p.dt = min(0.01, 0.02/max(t.Speed*t.Ratio*float64(max(t.InMarks, 1)), 0.1))
	if t.Wheels == OnePart {
		p.shafts = []Shaft{Input, Output}
	}
	for _, s := range p.shafts {
		p.eyes = append(p.eyes, NewEye(t, s, p.marks(s), rng))
	}
	return p
}

func (p *Player) marks(s Shaft) int {
	if s == Input {
		return p.t.InMarks
	}
	return p.t.OutMarks
}

// Done reports whether it was turned as far as asked, and came to rest.
func (p *Player) Done() bool { return p.left <= 0 || p.hand.now.Time >= mostTurningSeconds }

// Now is the time since it began, in seconds.
func (p *Player) Now() float64 { return p.hand.now.Time }

// Step turns on a little and returns the marks that passed.
func (p *Player) Step() []Passed {
	if p.hand.Done {
		p.left -= p.dt
	}
	was := p.hand.Place()
	is := p.hand.Step(p.dt)
	for p.hand.output() >= float64(len(p.when)+1) {
		p.when = append(p.when, is.Time)
	}
	part := is.Time / (p.t.Turns / p.t.Speed)
	var out []Passed
	for i, s := range p.shafts {
		for _, x := range p.eyes[i].See(was.of(s), is.of(s), was.Time, is.Time, p.dead(s, part)) {
			out = append(out, Passed{s, x})
		}
	}
	return out
}

func (p *Player) dead(s Shaft, part float64) bool {
	return s == p.t.Dead && part >= p.t.DeadFrom && part < p.t.DeadTo
}

// Run turns a machine until it has turned as far as asked.
func (t Turning) Run(rng *rand.Rand) Turned {
	p := NewPlayer(t, rng)
	sources := make([]Source, len(p.shafts))
	at := map[Shaft]*Source{}
	var phones []*Phone
	for i, s := range p.shafts {
		sources[i] = Source{Shaft: s, Marks: p.marks(s)}
		at[s] = &sources[i]
		phones = append(phones, NewPhone(true, rng))
	}
	told := 0.0
	for !p.Done() {
		for _, x := range p.Step() {
			s := at[x.Shaft]
			s.Times = append(s.Times, x.Time)
			if t.Directed {
				s.Ways = append(s.Ways, x.Way)
			}
		}
		now := p.hand.Place()
		if now.Time < told {
			continue
		}
		told = now.Time + 1.0/60
		for i, s := range p.shafts {
			switch {
			case sources[i].Marks > 0 || p.dead(s, now.Time/(t.Turns/t.Speed)):
			case t.Phones:
				sources[i].Motion = append(sources[i].Motion, phones[i].Sense(now.Time, now.of(s)))
			default:
				sources[i].Times = append(sources[i].Times, now.Time)
				sources[i].Degrees = append(sources[i].Degrees, now.of(s)*360+rng.NormFloat64())
			}
		}
	}
	if t.SwapChannels {
		sources[0].Shaft, sources[1].Shaft = sources[1].Shaft, sources[0].Shaft
	}
	return Turned{Recording{Sources: sources}, p.hand.now, p.when}
}

func (p Place) of(s Shaft) float64 {
	switch s {
	case Input:
		return p.Input
	case Right:
		return p.Right
	}
	return p.Left
}
