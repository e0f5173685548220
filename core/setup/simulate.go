package setup

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/shim"
	"zorvel/core/trials"
	"zorvel/core/typed"
)

// Housing is a simulated axle: what nobody at the bench can see.
type Housing struct {
	ring, pinion     float64 // backlash per mm
	perHeight        float64
	perLength        float64
	bestY, zeroLash  float64 // where the pattern is at mid height; backlash at x = y = 0
	bestX            float64
	runout, runoutAt float64
	question         Axle
	r                *rand.Rand
	mistypes         float64
}

// Practice draws a housing from a seed: a question without trials, and the
// housing behind it. Its sensitivities scatter as widely as the beliefs do.
func Practice(seed uint64) *Housing {
	r := rand.New(rand.NewPCG(seed, 0x5e7))
	pairs := [][2]int{{41, 10}, {37, 9}, {39, 11}, {43, 10}, {41, 11}, {35, 10}, {46, 9}}
	p := pairs[r.IntN(len(pairs))]
	low := 0.10 + 0.05*float64(r.IntN(3))
	high := low + 0.08 + 0.02*float64(r.IntN(2))
	diff := 0.07
	q := Axle{Ring: p[0], Pinion: p[1], RingSide: []string{"left", "right"}[r.IntN(2)], PinionThicker: []string{"in", "out"}[r.IntN(2)],
		Figures: []Figure{{Figure: FigureBacklash, Low: &low, High: &high, Unit: "mm"}, {Figure: FigureDifference, High: &diff, Unit: "mm"}},
		Box:     "0.05 x6, 0.08 x4, 0.10 x6, 0.12 x4, 0.15 x4, 0.20 x4, 0.25 x4, 0.30 x4, 0.40 x4, 0.50 x6, 1.00 x4"}
	spiral := 35.0
	q.Pressure, q.Spiral, q.RepeatMM = 20, &spiral, gaugeMM
	ring, pinion := q.mesh()
	about := func(mean, sigma float64) float64 {
		return math.Max(mean/4, mean*(1+sigma*r.NormFloat64()))
	}
	h := &Housing{question: q, r: r, ring: about(ring.Sensitivity(), ringSigma), pinion: about(pinion.Sensitivity(), pinionSigma),
		perHeight: math.Max(1.2, heightPerMM+heightSigma*r.NormFloat64()), perLength: math.Max(0.5, lengthPerMM+lengthSigma*r.NormFloat64()),
		runout: 0.02 * r.Float64(), runoutAt: 2 * math.Pi * r.Float64()}
	// A first assembly by the old shims: up to a third of a millimeter off.
	h.bestY = q.inward()*1.2 + 0.3*(2*r.Float64()-1)
	h.zeroLash = (low+high)/2 + h.pinion*q.inward()*1.2 + 0.2*(2*r.Float64()-1)
	h.bestX = 0.1 * r.NormFloat64()
	return h
}

// Question is what a technician knows of it before the first trial.
func (h *Housing) Question() Axle { return h.question }

// Assemble puts it together with these stacks and measures: eight places with
// the gauge's scatter, the bearings seated anew, a pattern judged by eye.
func (h *Housing) Assemble(stacks Stacks) Made {
	pinion, left, right := sum(stacks.Pinion), sum(stacks.Left), sum(stacks.Right)
	q := &h.question
	y, x := q.inward()*pinion, q.away()*(right-left)/2
	lash := h.zeroLash + h.ring*x - h.pinion*y + seatMM*h.r.NormFloat64()
	m := Made{Pinion: joined(stacks.Pinion), Left: joined(stacks.Left), Right: joined(stacks.Right)}
	var places []string
	for i := range 8 {
		v := lash + h.runout*math.Cos(float64(i)*math.Pi/4-h.runoutAt) + gaugeMM*h.r.NormFloat64()
		places = append(places, strconv.FormatFloat(math.Max(0, v), 'f', 3, 64))
	}
	m.Backlash = strings.Join(places, " ")
	edge := func(v float64) float64 { return math.Max(-1, math.Min(1, math.Round(v*100)/100)) }
	height := -h.perHeight * (y - h.bestY)
	along := h.perLength * (x - h.bestX)
	m.Drive = &Spot{edge(height + spotSigma*h.r.NormFloat64()), edge(along - height/3 + spotSigma*h.r.NormFloat64())}
	m.Coast = &Spot{edge(height + spotSigma*h.r.NormFloat64()), edge(along + height/3 + spotSigma*h.r.NormFloat64())}
	if h.mistypes > 0 && h.r.Float64() < h.mistypes {
		// A figure of the stack, or the dial's first digit, goes down wrong.
		if h.r.IntN(2) == 0 {
			m.Left = joined(append(slices.Clone(stacks.Left), 0.2))
		} else {
			m.Backlash = strings.ReplaceAll(m.Backlash, "0.1", "0.4")
		}
	}
	return m
}

// Stacks are the pieces of one assembly, mm.
type Stacks struct{ Pinion, Left, Right []float64 }

// First is what came out of a simulated housing.
func First() Stacks {
	return Stacks{[]float64{1, 0.2}, []float64{1, 0.1}, []float64{1, 0.1}}
}

func sum(pieces []float64) float64 {
	var s shim.Micron
	for _, p := range pieces {
		s += shim.Of(p)
	}
	return s.MM()
}

func joined(pieces []float64) string {
	if len(pieces) == 0 {
		return "0"
	}
	words := make([]string, len(pieces))
	for i, p := range pieces {
		words[i] = number(p)
	}
	return strings.Join(words, " + ")
}

func number(v float64) string { return strconv.FormatFloat(math.Round(v*1e4)/1e4, 'f', -1, 64) }

// Warp bends the ring's seat: so much run-out, mm, to either side of the mean.
func (h *Housing) Warp(mm float64) { h.runout = mm }

// Warped is how far backlash differs around the ring, mm.
func (h *Housing) Warped() float64 { return 2 * h.runout }

// Reached is whether it truly is in: everywhere in the band and the pattern where it is
// good, with half of what gauge and eye can't see allowed.
func (h *Housing) Reached(stacks Stacks) bool { return h.reached(stacks) }

// Thumb counts the assemblies of a rule of thumb until it is in, the first included; ok is
// false where it never is.
func (h *Housing) Thumb() (assemblies int, ok bool) {
	n := thumb(h)
	return n, n < mostRounds
}

// reached is whether it truly stands: everywhere in the band and the pattern
// where it is good, with the half of what gauge and eye can't see allowed.
func (h *Housing) reached(stacks Stacks) bool {
	pinion, left, right := sum(stacks.Pinion), sum(stacks.Left), sum(stacks.Right)
	q := &h.question
	y, x := q.inward()*pinion, q.away()*(right-left)/2
	lash := h.zeroLash + h.ring*x - h.pinion*y
	low, high := *q.Figures[0].Low, *q.Figures[0].High
	return math.Abs(h.perHeight*(y-h.bestY)) < heightBand+2*spotSigma && lash > low-0.02 && lash < high+0.02
}

// SetUps is what simulated set-ups came to.
type SetUps struct {
	Count     int
	Trials    float64 // mean, until it was called good
	Over      int     // not good after the greatest number of trials
	Spoiled   int     // moves that changed the carrier's sum
	Wrong     int     // called good, and was not
	Worse     int     // more trials than the rule of thumb took for the same housing
	ByTrials  [12]int
	Thumb     float64
	ThumbOver int
	Foretold  float64 // share of backlashes within the two standard deviations foretold
	moves     int
}

const (
	mostRounds = 11
	// A dial with hundredths repeats to about half of one.
	gaugeMM = 0.005
)

// Run sets up as many simulated housings twice: by what Judge says, and by the
// rule of thumb, one step at a time. mistypes is how often a trial is typed
// wrong.
func Run(count int, seed uint64, mistypes float64) (SetUps, error) {
	s := SetUps{Count: count}
	err := trials.Run(count, 20, func(from, to int) (SetUps, error) {
		var some SetUps
		for i := from; i < to; i++ {
			if err := some.one(seed+uint64(i), mistypes); err != nil {
				return some, fmt.Errorf("housing %d: %w", i, err)
			}
		}
		return some, nil
	}, s.add, nil)
	s.Trials, s.Thumb = s.Trials/float64(count), s.Thumb/float64(count)
	if s.moves > 0 {
		s.Foretold /= float64(s.moves)
	}
	return s, err
}

// one sets one housing up both ways.
func (s *SetUps) one(seed uint64, mistypes float64) error {
	n, err := s.judged(Practice(seed), mistypes)
	if err != nil {
		return err
	}
	t := thumb(Practice(seed))
	s.Trials += float64(n)
	s.Thumb += float64(t)
	s.Worse += trials.One(n > t)
	s.ThumbOver += trials.One(t >= mostRounds)
	s.ByTrials[min(n, mostRounds)]++
	return nil
}

// add sums up.
func (s *SetUps) add(x SetUps) {
	s.Trials += x.Trials
	s.Thumb += x.Thumb
	s.Foretold += x.Foretold
	s.Over += x.Over
	s.Spoiled += x.Spoiled
	s.Wrong += x.Wrong
	s.Worse += x.Worse
	s.ThumbOver += x.ThumbOver
	s.moves += x.moves
	for i, n := range x.ByTrials {
		s.ByTrials[i] += n
	}
}

// judged follows the verdicts until it is good.
func (s *SetUps) judged(h *Housing, mistypes float64) (int, error) {
	q, in := h.Question(), First()
	var foretold *Expect
	for round := 1; ; round++ {
		v, err := h.round(&q, in, mistypes)
		if err != nil {
			return round, err
		}
		if foretold != nil && mistypes == 0 {
			s.moves++
			if math.Abs(v.Results[len(v.Results)-1].Backlash.MeanMM-foretold.Value) <= foretold.Spread {
				s.Foretold++
			}
		}
		switch {
		case v.State == StateGood:
			if !h.reached(in) {
				s.Wrong++
			}
			return round, nil
		case round >= mostRounds || v.State == StateCure:
			s.Over++
			return mostRounds, nil
		}
		before := sum(in.Left) + sum(in.Right)
		if v.Next != nil {
			in.take(v.Next)
			foretold = v.Next.BacklashMM
		}
		if math.Abs(sum(in.Left)+sum(in.Right)-before) > sumTol+1e-9 {
			s.Spoiled++
		}
	}
}

// round assembles and asks; what looks mistyped is read again as it is.
func (h *Housing) round(q *Axle, in Stacks, mistypes float64) (*Verdict, error) {
	h.mistypes = mistypes
	q.Trials = append(q.Trials, h.Assemble(in))
	v, err := Judge(*q)
	if err != nil || v.State == StateMove || v.State == StateGood {
		return v, err
	}
	h.mistypes = 0
	again := h.Assemble(in)
	again.Sure = true
	q.Trials[len(q.Trials)-1] = again
	return Judge(*q)
}

// take puts the pieces of a move in.
func (s *Stacks) take(m *Move) {
	for _, c := range m.Changes {
		switch c.Place {
		case "pinion":
			s.Pinion = c.Pieces
		case "left":
			s.Left = c.Pieces
		case "right":
			s.Right = c.Pieces
		}
	}
}

// thumb is a technician with a rule of thumb: the pinion by 0.05 mm, or 0.10
// where the pattern is near an edge, until it is at mid height; then the ring
// by what the backlash is off, over 0.7; a thing at a time.
func thumb(h *Housing) int {
	q := h.Question()
	pinion, left, right := 1.2, 1.1, 1.1
	for round := 1; ; round++ {
		m := h.Assemble(Stacks{[]float64{pinion}, []float64{left}, []float64{right}})
		places, _, _ := ParsePlaces(m.Backlash, typed.Millimeters, false)
		a := around(places, 1, gaugeMM)
		height := (m.Drive.Height + m.Coast.Height) / 2
		low, high := *q.Figures[0].Low, *q.Figures[0].High
		switch {
		case round >= mostRounds:
			return round
		case math.Abs(height) > heightBand:
			step := 0.05
			if math.Abs(height) > 0.7 {
				step = 0.10
			}
			pinion += q.inward() * math.Copysign(step, height)
		case a.LeastMM < low || a.GreatestMM > high:
			dx := ((low+high)/2 - a.MeanMM) / 0.7
			dx = math.Round(dx/0.05) * 0.05 // what the box makes in one swap
			if dx == 0 {
				dx = math.Copysign(0.03, (low+high)/2-a.MeanMM)
			}
			left, right = left-q.away()*dx, right+q.away()*dx
		default:
			return round
		}
	}
}
