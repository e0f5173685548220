package identify

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"zorvel/core/fault"
)

// LiveReading is what sensors, phones or a camera counted while a person turned: the
// input's turns against the output's, of an axle the mean of its wheels.
type LiveReading struct {
	Shaft  float64 `json:"shaft"`  // input turns
	Output float64 `json:"output"` // output turns
	Spread float64 `json:"spread"` // standard deviation of the input's turns
	// One mark of each, in its turns; 0 for an angle.
	ShaftMark  float64 `json:"shaft_mark,omitempty"`
	OutputMark float64 `json:"output_mark,omitempty"`
	// Unproved are what no sensor showed.
	Unproved []Unproved `json:"unproved,omitempty"`
	// Session is where its marks are kept, to be looked at again.
	Session string `json:"session,omitempty"`
}

// Unproved is what a live count rests on without a sensor having shown it.
type Unproved string

// What may be unproved: that a wheel stood still, or turned with the other; that nobody
// turned back.
const (
	WheelStill Unproved = "wheel_still"
	WheelWith  Unproved = "wheel_with"
	OneWay     Unproved = "one_way"
)

// Most turns of a live count: sensors don't tire.
const (
	maxLiveTurns = 100_000
	minLiveTurns = 0.2
)

// byLive counts while the wheel turns.
func byLive() *technique {
	return &technique{
		method:  Live,
		byHand:  true,
		turned:  true,
		resolve: func(r Reading, s Stage, _ *Space) (Reading, error) { return r, r.Live.check(s) },
		compile: (*compiled).compileLive,
		origin: func(c *compiled) []string {
			q := c.reading.Live
			return []string{
				fmt.Sprintf("counted while turning: input %s turns, output %s turns, standard deviation of the input %s turn",
					decimal(q.Shaft, 3), decimal(q.Output, 3), decimal(q.Spread, 4)),
				fmt.Sprintf("ratio = input ÷ output = %s ÷ %s = %s, %s", decimal(q.Shaft, 3), decimal(q.Output, 3),
					decimal(c.center, 4), c.own.words()),
			}
		},
		summary: func(r Reading) string {
			if r.Live == nil {
				return "Counted live"
			}
			return fmt.Sprintf("Counted live: %s turns for %s", decimal(r.Live.Shaft, 2), decimal(r.Live.Output, 2))
		},
		says: map[Cause]string{
			CauseTurnMissed:  "a mark was missed that no other shaft shows",
			CauseTurnTooMany: "a mark was counted twice that no other shaft shows",
			CauseMisread:     "somebody turned back, which these sensors don't show",
		},
		again: func(Kind) string { return "Count live again, and hold or watch the wheel that has no sensor." },
		options: func(p *planner, by *technique, add func(Option, outcome)) {
			if q := p.liveSoFar(by); q != nil {
				p.liveOptions(by, *q, add)
			}
		},
		minutes: func(_ *planner, o Option) float64 { return minutesLive + float64(o.OutputTurns)*minutesLiveTurn },
	}
}

// Minutes to go on with a live count, and for each of its turns.
const (
	minutesLive     = 0.2
	minutesLiveTurn = 0.06
)

func (q *LiveReading) check(s Stage) error {
	if q == nil {
		return fault.New("live", "count live first: sensors, phones or the camera fill this in")
	}
	if !(q.Shaft > 0 && q.Shaft <= maxLiveTurns) {
		return fault.New("live/shaft", "the input's turns should be above 0, %d at most", maxLiveTurns)
	}
	if !(q.Output >= minLiveTurns && q.Output <= maxLiveTurns) {
		return fault.New("live/output", "keep turning: the output's turns should be %g or more, %d at most",
			minLiveTurns, maxLiveTurns)
	}
	if !(q.Spread > 0 && q.Spread <= q.Shaft) {
		return fault.New("live/spread", "the spread is above 0 turns and no larger than the turns themselves")
	}
	if !(q.ShaftMark >= 0 && q.ShaftMark <= 1) {
		return fault.New("live/shaft_mark", "one mark is a part of a turn: 0 to 1")
	}
	if !(q.OutputMark >= 0 && q.OutputMark <= 1) {
		return fault.New("live/output_mark", "one mark is a part of a turn: 0 to 1")
	}
	for i, u := range q.Unproved {
		at := fmt.Sprintf("live/unproved/%d", i)
		switch {
		case u != WheelStill && u != WheelWith && u != OneWay:
			return fault.New(at, "%.40q: say wheel_still, wheel_with or one_way", string(u))
		case u != OneWay && !s.Kind.axle():
			return fault.New(at, "only an axle has two wheels")
		}
	}
	return nil
}

func (q *LiveReading) unproved(u Unproved) bool { return slices.Contains(q.Unproved, u) }

// compileLive sets up the ways in which a live count can have come about.
func (c *compiled) compileLive(sp *Space) {
	q := c.reading.Live
	s, m := q.Shaft, q.Output
	g := func(cause Cause, w, s, m float64) mode {
		return mode{cause: cause, weight: w, form: gauss, s: s, m: m, spread: even(q.Spread)}
	}
	c.byRatio = []mode{g(CauseRight, 0, s, m)}
	if k := q.ShaftMark; k > 0 {
		c.byRatio = append(c.byRatio, g(CauseTurnMissed, rateLiveMark/2, s+k, m), g(CauseTurnTooMany, rateLiveMark/2,
			max(s-k, k/2), m))
	}
	if k := q.OutputMark; k > 0 {
		c.byRatio = append(c.byRatio, g(CauseTurnMissed, rateLiveMark/2, s, m+k), g(CauseTurnTooMany, rateLiveMark/2,
			s, max(m-k, k/2)))
	}
	if q.unproved(OneWay) {
		back := g(CauseMisread, rateTurnedBack, s, m)
		back.spread = even(max(sigmaMisread, 2*q.ShaftMark, 2*q.OutputMark*s/m))
		c.byRatio = append(c.byRatio, back)
	}
	switch {
	case q.unproved(WheelStill):
		c.byRatio = append(c.byRatio, g(CauseWheelsTogether, rateAssumedOther, s, 2*m),
			mode{cause: CauseWheelCrept, weight: rateAssumedCreep, form: fan, s: s, m: 2 * m})
	case q.unproved(WheelWith):
		c.byRatio = append(c.byRatio, g(CauseWheelHeld, rateAssumedOther, s, m/2),
			mode{cause: CauseWheelCrept, weight: rateAssumedCreep, form: fan, s: s, m: m})
	}
	span := max(sp.hi-sp.lo, 0.5)
	c.byRatio = append(c.byRatio, mode{cause: CauseOtherUnit, weight: rateOtherUnit, form: flat, d: 1 / (m * span)})
	c.says(s, m, even(q.Spread))
}

// liveSoFar is the last live count, which can go on.
func (p *planner) liveSoFar(by *technique) *LiveReading {
	if p.sit.NoTurns {
		return nil
	}
	for i := len(p.a.readings) - 1; i >= 0; i-- {
		if c := p.a.readings[i]; c.by == by {
			return c.reading.Live
		}
	}
	return nil
}

// mostLiveMore turns at once are offered; who needs more does better another way.
const mostLiveMore = 60

// liveOptions offers to turn on as far as tells the likeliest ratio from the others, but
// for those, nearest to it, that together have less than one in a hundred. What the count
// was off by stays, so the ratio's spread falls as the turns grow.
func (p *planner) liveOptions(by *technique, q LiveReading, add func(Option, outcome)) {
	if len(p.byRatio) == 0 {
		return
	}
	best := p.byRatio[p.leadAt]
	others := make([]particle, 0, len(p.byRatio))
	for _, x := range p.byRatio {
		if x.label != best.label {
			others = append(others, x)
		}
	}
	slices.SortFunc(others, func(a, b particle) int { return cmp.Compare(math.Abs(a.r-best.r), math.Abs(b.r-best.r)) })
	more, near := 1.0, 0.0
	for _, x := range others {
		if near += x.mass; near > 0.01 {
			more = max(more, math.Ceil(q.MoreTurns(best.r, x.r)))
			break
		}
	}
	n := int(min(more, mostLiveMore))
	right := mode{m: q.Output + float64(n), spread: even(q.Spread)}
	other, step := rateOtherUnit, max(q.ShaftMark, q.OutputMark*q.Shaft/q.Output)
	if q.unproved(WheelStill) || q.unproved(WheelWith) {
		other += rateAssumedOther + rateAssumedCreep
	}
	o := Option{Method: Live, OutputTurns: n}
	o.Minutes, o.Do = by.minutes(p, o), liveWords(n)
	add(o, p.gaussOutcome(by, right, other, 2*rateLiveMark, max(step, 1e-3)))
}

func liveWords(n int) string {
	if n == 1 {
		return "keep turning, about 1 more turn"
	}
	return fmt.Sprintf("keep turning, about %d more turns", n)
}

// MoreTurns is about how many more turns of the output would tell two ratios apart, at
// the spread that a count has; 0 where it does already, and where they are one.
func (q LiveReading) MoreTurns(a, b float64) float64 {
	gap := math.Abs(a - b)
	if gap < 1e-9 || q.Output <= 0 {
		return 0
	}
	return max(0, tellsApart*q.Spread/gap-q.Output)
}

// Two ratios so many standard deviations apart are told from each other: the hand's
// spread has a wide part.
const tellsApart = 5
