// Package listen names what howls in a driveline, from a recording and the speed it was
// made at. It proposes; a hand test or a look proves.
//
// A tone that a shaft makes keeps its number of cycles per turn, its order, while the
// speed changes: a pinion of 12 teeth makes 12 per turn of the driveshaft, its ring of 43
// makes 43 per turn of the wheel, and both name one line. The recording is resampled to
// even steps of the wheel's angle, spectra of blocks of turns are averaged, and lines are
// matched with the orders that the vehicle's meshes, shafts, joints, bearings and tires
// can make in this gear. Speed by satellite lags and tires slip, so all orders may be off
// by one common factor, which is fitted; engine speed, where it is recorded, has neither.
//
// What it cannot tell it says: no tone over the noise, one speed only (an order and a
// fixed pitch are the same then), two sources whose orders are within the spread.
package listen

import (
	"cmp"
	"math"
	"slices"

	"zorvel/core/fault"
)

// Bounds of a question; the contract has the same.
const (
	LeastRate    = 2000
	MostRate     = 192_000
	LeastSeconds = 3
	MostSeconds  = 180
	MostReadings = 20_000
	MostPairs    = 6
	MostBearings = 12
	heardRate    = 10_000 // of what is listened to: gears sing below half of it
)

// Question is a recording with the speed it was made at and what is known of the vehicle.
type Question struct {
	Samples  []float64 // −1 to 1, one channel
	Rate     float64   // samples a second
	Speed    []Reading // km/h; may be late by up to a second and a half
	Constant float64   // km/h, where no speed was recorded
	RPM      []Reading // of the engine
	Vehicle  Vehicle
}

// States of an answer.
const (
	Told   = "told"
	Cannot = "cannot"
)

// Why nothing can be told.
const (
	NoTone   = "no_tone"
	OneSpeed = "one_speed"
	Alike    = "alike"
)

// Named is a source that may be the one that is heard.
type Named struct {
	Source
	Chance float64 `json:"chance"`
	Level  float64 `json:"level_db"` // its lines over the noise in a third of an octave
	Found  float64 `json:"found_per_wheel_turn,omitempty"`
	Hertz  float64 `json:"hz"` // of its main line, at the mean speed
	Lines  int     `json:"lines"`
}

// Answer is what howls, or why that can't be told and what to drive next.
type Answer struct {
	State    string   `json:"state"`
	Sentence string   `json:"sentence"`
	Sources  []Named  `json:"sources"` // the likeliest first
	Reason   string   `json:"reason,omitempty"`
	Next     []string `json:"next"`           // what to drive or to test next
	Load     *Load    `json:"load,omitempty"` // of the loudest, where it was both driven and coasted
	Signs    []string `json:"signs"`          // of what is to be looked for, as the fault bench knows them
	Scale    float64  `json:"scale"`          // found orders over true ones: slip, circumference, lag
	Lag      float64  `json:"lag_s"`
	From     float64  `json:"from_kmh"`
	To       float64  `json:"to_kmh"`
	Seconds  float64  `json:"seconds"`
	Map      Map      `json:"map"`
}

// work is one recording on its way to an answer.
type work struct {
	q       Question
	x       []float64
	seconds float64
	curve   []float64 // wheel turns a second, every step
	known   []Source
	best    match
	axles   map[int]float64 // of each pair of teeth, by its place among the sources: its best fit
}

// match is the spectrum at one lag, and how well the sources fit it at one scale.
type match struct {
	lag, scale, fit float64
	s               *spectrum
	turns           []float64
}

const step = 0.1 // seconds, of the speed's curve

// Work listens. Faults are fault.Errors.
func Work(q Question) (*Answer, error) {
	if err := q.check(); err != nil {
		return nil, err
	}
	q.Samples, q.Rate = thinned(q.Samples, q.Rate)
	w := &work{q: q, x: q.Samples, seconds: float64(len(q.Samples)) / q.Rate, known: q.Vehicle.sources()}
	w.speeds()
	w.fit()
	a := &Answer{Sources: []Named{}, Next: []string{}, Scale: round(w.best.scale, 4), Lag: round(w.best.lag, 2),
		Seconds: round(w.seconds, 1)}
	a.From, a.To = w.span()
	w.decide(a)
	a.Load = w.load(a)
	a.Signs = a.signs()
	a.Map = w.chart()
	a.say()
	return a, nil
}

// thinned is a recording with at most heardRate samples a second, each the mean of some.
func thinned(x []float64, rate float64) ([]float64, float64) {
	k := int(math.Ceil(rate / heardRate))
	if k <= 1 {
		return x, rate
	}
	out := make([]float64, len(x)/k)
	for i := range out {
		for _, v := range x[i*k : (i+1)*k] {
			out[i] += v / float64(k)
		}
	}
	return out, rate / float64(k)
}

func (q Question) check() error {
	var errs fault.Errors
	seconds := float64(len(q.Samples)) / q.Rate
	switch {
	case !(q.Rate >= LeastRate && q.Rate <= MostRate):
		errs.Add("sound", "%d to %d samples a second", LeastRate, MostRate)
	case seconds < LeastSeconds:
		errs.Add("sound", "at least %d seconds; ten to sixty while the speed changes tell most", LeastSeconds)
	case seconds > MostSeconds:
		errs.Add("sound", "at most %d minutes: cut out the part in which it howls", MostSeconds/60)
	}
	readings := func(name string, list []Reading, most float64) {
		last := math.Inf(-1)
		for _, r := range list {
			if !(r.Value >= 0 && r.Value <= most && r.Seconds > last && r.Seconds <= 1e6) {
				errs.Add(name, "times that go up, in seconds, with values from 0 to %g", most)
				return
			}
			last = r.Seconds
		}
		if len(list) > MostReadings {
			errs.Add(name, "at most %d lines", MostReadings)
		}
	}
	readings("speed", q.Speed, 400)
	readings("rpm", q.RPM, 20_000)
	if len(q.Speed) < 2 && !(q.Constant >= 5 && q.Constant <= 400) && (len(q.RPM) < 2 || q.Vehicle.overall() == 0) {
		errs.Add("speed", "the speed while it was recorded: a file, or one constant speed of 5 to 400 km/h")
	}
	q.Vehicle.check(&errs)
	return errs.Err()
}

func (v Vehicle) check(errs *fault.Errors) {
	in := func(at string, x, from, to float64) {
		if !(x >= from && x <= to) {
			errs.Add("vehicle/"+at, "%g to %g", from, to)
		}
	}
	pair := func(at string, p Pair) {
		if p.Drive < 3 || p.Driven < 3 || p.Drive > 200 || p.Driven > 200 {
			errs.Add("vehicle/"+at, "3 to 200 teeth on each gear")
		}
	}
	in("rolling_m", v.Circumference, 0.3, 8)
	if v.Axle != nil {
		pair("axle", *v.Axle)
	}
	if v.AxleRatio != 0 {
		in("axle_ratio", v.AxleRatio, 0.5, 20)
	}
	in("cylinders", float64(v.Cylinders), 0, 16)
	if v.GearRatio != 0 {
		in("gear_ratio", v.GearRatio, 0.2, 60)
	}
	if v.CaseRatio != 0 {
		in("case_ratio", v.CaseRatio, 0.2, 20)
	}
	if p := v.CasePlanet; p != nil {
		pair("case_planet", *p)
		if p.Driven <= p.Drive {
			errs.Add("vehicle/case_planet", "sun first: the ring has more teeth")
		} else if of := v.transfer(); v.CaseRatio != 0 && math.Abs(v.CaseRatio-of) > 0.01*of {
			errs.Add("vehicle/case_ratio", "%.3g by the sun and ring that were given", of)
		}
	}
	in("tread_pitches", float64(v.Pitches), 0, 200)
	for at, list := range map[string][]Pair{"gear_pairs": v.GearPairs, "case_pairs": v.CasePairs} {
		if len(list) > MostPairs {
			errs.Add("vehicle/"+at, "at most %d meshes", MostPairs)
		}
		for _, p := range list {
			pair(at, p)
		}
	}
	if len(v.Bearings) > MostBearings {
		errs.Add("vehicle/bearings", "at most %d", MostBearings)
	}
	for _, b := range v.Bearings {
		in("bearings", b.Outer, 0, 60)
		in("bearings", b.Inner, 0, 60)
	}
}

// byEngine is whether the wheel's turns are known from the engine's.
func (w *work) byEngine() bool { return len(w.q.RPM) >= 2 && w.q.Vehicle.overall() > 0 }

// speeds makes the curve of wheel turns a second.
func (w *work) speeds() {
	v := w.q.Vehicle
	switch {
	case w.byEngine():
		w.curve = smoothed(w.q.RPM, w.seconds, step, 3)
		for i := range w.curve {
			w.curve[i] /= 60 * v.overall()
		}
	case len(w.q.Speed) >= 2:
		w.curve = smoothed(w.q.Speed, w.seconds+2, step, 300)
		for i := range w.curve {
			w.curve[i] /= 3.6 * v.Circumference
		}
	default:
		w.curve = []float64{w.q.Constant / 3.6 / v.Circumference, w.q.Constant / 3.6 / v.Circumference}
	}
}

// span is the lowest and highest speed, km/h.
func (w *work) span() (from, to float64) {
	n := min(int(w.seconds/step)+1, len(w.curve))
	k := 3.6 * w.q.Vehicle.Circumference
	return round(slices.Min(w.curve[:n])*k, 1), round(slices.Max(w.curve[:n])*k, 1)
}

// Bounds of what the speed's record may be off by.
const (
	scaleSigma  = 0.008 // circumference and slip, one sigma
	engineSigma = 0.002 // engine speed
	blockTurns  = 12    // of the wheel, in one spectrum
)

// fit finds lag and scale at which the vehicle's sources have the clearest lines.
func (w *work) fit() {
	lags := []float64{0, 0.3, 0.6, 0.9, 1.2, 1.5}
	sigma := scaleSigma
	if w.byEngine() {
		lags, sigma = []float64{0}, engineSigma
	} else if len(w.q.Speed) < 2 {
		lags = []float64{0}
		sigma = 0.02
	}
	w.best.fit, w.axles = math.Inf(-1), map[int]float64{}
	for _, lag := range lags {
		turns := turnsOf(w.curve, step, lag, len(w.x), w.q.Rate)
		s := byTurns(w.x, turns, w.top(), blockTurns)
		if s == nil {
			continue
		}
		for k := -30; k <= 30; k++ {
			scale := 1 + float64(k)/30*3*sigma
			fit := w.explained(s, scale, float64(k*k)/200)
			if fit > w.best.fit {
				w.best = match{lag, scale, fit, s, turns}
			}
		}
	}
}

// top is the highest order that is of use.
func (w *work) top() float64 {
	top := 140.0
	for _, s := range w.known {
		top = max(top, s.PerWheel*1.15)
	}
	mean := 0.0
	for _, v := range w.curve {
		mean += v / float64(len(w.curve))
	}
	return min(top, 1200, 0.45*w.q.Rate/max(mean, 0.1))
}

// explained is how well the sources fit a spectrum, less the strain of its scale: of
// pairs of teeth of which only one can be there, the best counts.
func (w *work) explained(s *spectrum, scale, strain float64) float64 {
	sum, axle := -strain, math.Inf(-1)
	fits := map[int]float64{}
	for i, src := range w.known {
		z := min(s.hear(src, scale, nil).z, 12)
		if src.Kind == RingAndPinion {
			fits[i] = z + src.prior
			axle = max(axle, z+src.prior)
			continue
		}
		sum += z
	}
	for i, z := range fits {
		if have, ok := w.axles[i]; !ok || sum+z > have {
			w.axles[i] = sum + z
		}
	}
	if !math.IsInf(axle, -1) {
		sum += axle
	}
	return sum
}

// decide ranks what is heard.
func (w *work) decide(a *Answer) {
	var all []heard
	if w.best.s != nil {
		all = w.hearAll()
	}
	all = append(all, w.fixedTones()...)
	slices.SortStableFunc(all, func(a, b heard) int { return cmp.Compare(b.level, a.level) })
	var out []heard
	for _, h := range all {
		if h.clear > 0 && h.z > clearZ {
			out = append(out, h)
		}
	}
	switch {
	case len(out) == 0 || out[0].level < quiet:
		a.State, a.Reason = Cannot, NoTone
		return
	case a.To < a.From*oneSpeed:
		a.State, a.Reason = Cannot, OneSpeed
	case w.alike(out):
		a.State, a.Reason = Cannot, Alike
	default:
		a.State = Told
	}
	for i, h := range out[:min(len(out), 6)] {
		n := Named{Source: h.Source, Level: round(h.level, 1), Found: round(h.at, 2), Lines: h.clear,
			Hertz: round(w.hertz(h), 1)}
		n.PerWheel, n.PerShaft, n.PerEngine = round(n.PerWheel, 4), round(n.PerShaft, 4), round(n.PerEngine, 4)
		if i == 0 {
			n.Chance = w.chance(out)
		}
		a.Sources = append(a.Sources, n)
	}
	w.share(a, out)
}

const (
	clearZ   = 0.8
	quiet    = -4   // decibels: below it nothing howls over the road
	oneSpeed = 1.04 // the fastest over the slowest, below which it is one speed
)

// hearAll hears every source at the fitted lag and scale; of pairs of teeth that only
// one can be, the likeliest. A harmonic that is also a lower one of another source is
// that one's.
func (w *work) hearAll() []heard {
	var list []Source
	axle, best := -1, math.Inf(-1)
	for i, src := range w.known {
		if src.Kind != RingAndPinion {
			list = append(list, src)
		} else if fit := w.axles[i]; fit > best {
			axle, best = i, fit
		}
	}
	if axle >= 0 {
		list = append(list, w.known[axle])
	}
	var out []heard
	for _, src := range list {
		out = append(out, w.best.s.hear(src, w.best.scale, list))
	}
	return out
}

// alike says that the loudest source's main line could as well be another's, and no
// other line of either tells them apart.
func (w *work) alike(out []heard) bool {
	top := out[0]
	if top.Kind == FixedTone {
		return false
	}
	for _, o := range out[1:] {
		if o.Kind == FixedTone || math.Abs(o.PerWheel-top.PerWheel) > w.best.s.tolerance(top.PerWheel) {
			continue
		}
		if top.clear-o.clear < 2 || top.first > 0.88 {
			return true // nothing but the line they share, or next to nothing
		}
	}
	return false
}

func (w *work) hertz(h heard) float64 {
	if h.Kind == FixedTone {
		return h.at
	}
	from, to := w.span()
	return h.PerWheel * (from + to) / 2 / 3.6 / w.q.Vehicle.Circumference
}

// fixedTones are tones that keep their pitch while the speed changes.
func (w *work) fixedTones() []heard {
	s := average(w.x, 1<<13, w.q.Rate, nil)
	if s == nil {
		return nil
	}
	power, at := s.line(w.q.Rate/5, w.q.Rate/5-80)
	h := heard{Source: Source{Kind: FixedTone, Name: "a tone of fixed pitch", harmonics: 1}, at: at}
	h.z = math.Log(power) - math.Log(s.chanceTop(float64(len(s.power))))
	if h.z > 1.2 {
		h.clear = 1
	}
	h.level = 10 * math.Log10(s.above(at)/s.noise(at)+1e-9)
	return []heard{h}
}

func round(v float64, digits int) float64 {
	p := math.Pow10(digits)
	return math.Round(v*p) / p
}
