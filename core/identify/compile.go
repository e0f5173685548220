package identify

import (
	"fmt"
	"math"
	"strconv"
)

// compiled is a reading ready to be weighed against hypotheses.
type compiled struct {
	reading     Reading
	byRatio     []mode // turns, bench, road
	marks       []Mark // tag, stamp
	format      func(Mark) float64
	stale       float64 // rate
	chance      float64 // P(text) for a random other build
	wary        float64 // the same, drawn from the wary prior
	counts      []Count
	center      float64  // ratio that the reading says, if it says one
	own         Interval // its own 95 % range
	mean, sigma float64  // of the ratio by this reading alone
}

// compile prepares a resolved reading.
func (sp *Space) compile(r Reading) compiled {
	c := compiled{reading: r}
	switch r.Method {
	case Tag, Stamp:
		c.compileMark(sp)
	case Teeth:
		c.counts = r.Teeth
	case Turns:
		t := r.Turns
		vm := 0.0
		for _, w := range []Wheel{t.Left, t.Right} {
			if w.Turns != 0 || !w.Seen {
				vm += sigmaWheel * sigmaWheel
			}
		}
		c.compileTurns(sp, t.Shaft, math.Abs(t.mean()), math.Sqrt(vm)/2)
		c.wheelModes(*t)
	case Bench:
		m := r.Bench.OutputTurns
		if r.Bench.Outputs == OneHeld {
			m /= 2
		}
		c.compileTurns(sp, r.Bench.Shaft, m, sigmaWheel)
	case Road:
		c.compileRoad(sp)
	}
	if len(c.byRatio) > 0 {
		sum := 0.0
		for _, m := range c.byRatio {
			sum += m.weight
		}
		c.byRatio[0].weight = 1 - sum // the first mode is the right reading
	}
	return c
}

func (c *compiled) compileMark(sp *Space) {
	c.marks, _ = ParseMark(c.reading.Text, sp.Stage)
	counts := shareTaggedCounts
	c.stale = rateStaleTag
	if c.reading.Method == Stamp {
		counts, c.stale = shareMarkedCounts, rateStaleStamp
	}
	c.format = func(m Mark) float64 {
		if m.IsRatio() {
			return 1 - counts
		}
		return counts
	}
	for i := range sp.hyps {
		h := &sp.hyps[i]
		if p := c.markLikelihood(sp, h); p > 0 {
			c.chance += sp.weight(h) * p
			c.wary += h.wary * p
		}
	}
	c.chance, c.wary = max(c.chance, impossibleReading), max(c.wary, impossibleReading)
	if len(c.marks) == 0 {
		return
	}
	m := c.marks[0] // the usual reading comes first
	if m.IsRatio() {
		c.center = m.value()
		half := math.Pow10(-m.Places) / 2
		c.own = Interval{c.center - half, c.center + half}
	} else if con, ok := sp.Construction(m.Construction); ok {
		c.center = math.Abs(con.mustRatio(sp.Stage, m.Counts))
		c.own = Interval{c.center, c.center}
	}
}

func (c *compiled) markLikelihood(sp *Space, h *hyp) float64 {
	p := 0.0
	for _, m := range c.marks {
		p += c.format(m) * m.style * m.likelihood(sp.cons[h.con].ID, h.teeth[:], h.exact)
	}
	return p
}

// spread of the shaft reading in turns.
func (s Shaft) spread() sides {
	switch s.Remainder.By {
	case BareQuarter:
		return even(sigmaQuarter)
	case ByArc:
		return even(sigmaArcMM / s.Remainder.circumference())
	case PastABit:
		return sides{sigmaBitNear, sigmaBitFar}
	case ShortABit:
		return sides{sigmaBitFar, sigmaBitNear}
	}
	return even(sigmaEye)
}

// compileTurns sets up the modes of counted shaft turns s against m turns of
// the carrier or output.
func (c *compiled) compileTurns(sp *Space, shaft Shaft, m, sigmaM float64) {
	s := shaft.turns()
	sig := shaft.spread()
	g := func(cause Cause, w, s, m float64) mode {
		return mode{cause: cause, weight: w, form: gauss, s: s, m: m, spread: sig, sigmaM: sigmaM}
	}
	c.byRatio = []mode{g(CauseRight, 0, s, m), g(CauseTurnMissed, lostRate(s)/2, s+1, m)}
	if s > 1 {
		c.byRatio = append(c.byRatio, g(CauseTurnTooMany, lostRate(s)/2, s-1, m))
	}
	rem := shaft.Remainder
	if rem.By == ByArc {
		f := rem.fraction()
		switch rem.RimIs {
		case Circumference:
			c.byRatio = append(c.byRatio, g(CauseDiameter, rateDiameterMixup, float64(shaft.Whole)+f/math.Pi, m))
		case Diameter:
			if math.Abs(f*math.Pi) < 1 {
				c.byRatio = append(c.byRatio, g(CauseCircumference, rateDiameterMixup/2, float64(shaft.Whole)+f*math.Pi, m))
			}
		}
	}
	if f := rem.fraction(); math.Abs(f) > 0.02 && float64(shaft.Whole)-f > 0 {
		c.byRatio = append(c.byRatio, g(CauseShort, rateShortMixup, float64(shaft.Whole)-f, m))
	}
	misread := g(CauseMisread, rateMisread, s, m)
	misread.spread = sides{max(sigmaMisread, sig.below), max(sigmaMisread, sig.above)}
	c.byRatio = append(c.byRatio, misread)
	span := max(sp.hi-sp.lo, 0.5)
	c.byRatio = append(c.byRatio, mode{cause: CauseOtherUnit, weight: rateOtherUnit, form: flat, d: 1 / (m * span)})
	c.says(s, m, sig.with(s/m*sigmaM))
}

// says is what the reading tells by itself: s turns of the shaft, with a spread,
// for m of the output.
func (c *compiled) says(s, m float64, spread sides) {
	shift, sigma := spread.moments()
	below, above := spread.range95()
	c.center, c.mean, c.sigma = s/m, (s+shift)/m, sigma/m
	c.own = Interval{(s - below) / m, (s + above) / m}
}

const z95 = 1.959963984540054

// wheelModes adds what the wheels may have done other than recorded.
func (c *compiled) wheelModes(t TurnsReading) {
	right := c.byRatio[0]
	l, r := math.Abs(t.Left.Turns), math.Abs(t.Right.Turns)
	most, least := max(l, r), min(l, r)
	assumed := !t.Left.Seen || !t.Right.Seen
	w := rateHeldUnseen
	if assumed {
		w = rateAssumedOther
	}
	other := right
	other.weight = w
	switch {
	case least < 0.05*most: // one wheel still: it may have followed
		other.cause, other.m = CauseWheelsTogether, most
	default: // both turned: one may have been held
		other.cause, other.m = CauseWheelHeld, most/2
	}
	c.byRatio = append(c.byRatio, other)
	if assumed {
		c.byRatio = append(c.byRatio, mode{cause: CauseWheelCrept, weight: rateAssumedCreep, form: fan, s: right.s, m: most})
	}
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

// countChance is the chance of counting got where truth is the number.
func countChance(got, truth int, large bool) float64 {
	rate := ratePinionMiscount
	if large {
		rate = rateRingMiscount
	}
	switch got - truth {
	case 0:
		return 1 - rate - rateGrossMiscount
	case 1:
		return rate * shareCountedTwice
	case -1:
		return rate * (1 - shareCountedTwice)
	}
	return rateGrossMiscount / 60
}

// countsLikelihood is the chance of the counts given a hypothesis.
func (c *compiled) countsLikelihood(sp *Space, h *hyp) float64 {
	this, other := c.countsSplit(&sp.cons[h.con], h)
	return this + other
}

// countsSplit is the chance of the counts if this gear set was counted, and if
// another was: then any usual number is as likely as the next.
func (c *compiled) countsSplit(con *Construction, h *hyp) (this, other float64) {
	this, other = 1-rateOtherGear, rateOtherGear
	for _, n := range c.counts {
		this *= memberChance(con, h, n)
		other /= memberRange(con, n.Member)
	}
	return this, other
}

func memberRange(con *Construction, member string) float64 {
	for _, g := range con.Teeth {
		if g.Name == member {
			return float64(g.Max - g.Min + 1)
		}
	}
	return 20
}

func memberChance(con *Construction, h *hyp, n Count) float64 {
	for i := range con.Teeth {
		if con.Teeth[i].Name == n.Member {
			return countChance(n.Count, int(h.teeth[i]), con.Teeth[i].large)
		}
	}
	sun, ring := 0, 0
	switch con.shape {
	case shapePlanetary:
		sun, ring = int(h.teeth[0]), int(h.teeth[1])
	case shapePairPlanetary:
		sun, ring = int(h.teeth[2]), int(h.teeth[3])
	default:
		return missingMember
	}
	switch n.Member {
	case "planet":
		d := math.Abs(float64(n.Count) - float64(ring-sun)/2)
		switch {
		case d == 0:
			return 1 - 3*shareShiftedPlanet
		case d <= 1:
			return shareShiftedPlanet
		}
		return rateOtherGear
	case "planets":
		if (sun+ring)%n.Count == 0 {
			return 1 - shareUnequalPlanets
		}
		return shareUnequalPlanets
	}
	return missingMember
}

// likelihood of the reading given a hypothesis.
func (c *compiled) likelihood(sp *Space, h *hyp) float64 {
	switch {
	case c.byRatio != nil:
		return c.ratioLikelihood(h.r)
	case c.counts != nil:
		return c.countsLikelihood(sp, h)
	default:
		return (1-c.stale)*c.markLikelihood(sp, h) + c.stale*c.chance
	}
}

// waryLikelihood is likelihood where builds are drawn from the wary prior.
func (c *compiled) waryLikelihood(sp *Space, h *hyp) float64 {
	if c.byRatio != nil || c.counts != nil {
		return c.likelihood(sp, h)
	}
	return (1-c.stale)*c.markLikelihood(sp, h) + c.stale*c.wary
}

func (c *compiled) ratioLikelihood(r float64) float64 {
	p := 0.0
	for i := range c.byRatio {
		p += c.byRatio[i].weight * c.byRatio[i].density(r)
	}
	return p
}

// words tells a spread in turns.
func (s sides) words() string {
	d := func(v float64) string { return strconv.FormatFloat(v, 'f', 4, 64) }
	if s.below == s.above {
		return "standard deviation " + d(s.below) + " turn"
	}
	return "standard deviation " + d(s.below) + " turn below, " + d(s.above) + " above"
}

// words tells a range of ratios.
func (i Interval) words() string { return fmt.Sprintf("%.3f to %.3f with 95 %%", i.Low, i.High) }

// shaftTurns is how far the shaft was turned in a turned reading.
func (c *compiled) shaftTurns() float64 {
	switch r := c.reading; {
	case r.Turns != nil:
		return r.Turns.Shaft.turns()
	case r.Bench != nil:
		return r.Bench.Shaft.turns()
	}
	return 0
}

// origin explains where the reading's value comes from, line by line.
func (c *compiled) origin() []string {
	r := c.reading
	f := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	d := func(v float64, n int) string { return strconv.FormatFloat(v, 'f', n, 64) }
	shaft := func(s Shaft) []string {
		sign := "+"
		if s.Remainder.Short {
			sign = "−"
		}
		var out []string
		rem := math.Abs(s.Remainder.fraction())
		if s.Remainder.By == ByArc {
			q := s.Remainder
			if q.RimIs == Diameter {
				out = append(out, fmt.Sprintf("rim circumference = π × %s mm = %s mm", f(q.RimMM), d(q.circumference(), 1)))
			}
			out = append(out, fmt.Sprintf("remainder = arc ÷ circumference = %s mm ÷ %s mm = %s turn", f(q.ArcMM), d(q.circumference(), 1), d(rem, 4)))
		}
		return append(out, fmt.Sprintf("shaft turns = %d %s %s = %s (%s)", s.Whole, sign, d(rem, 3), d(s.turns(), 3), s.spread().words()))
	}
	switch r.Method {
	case Turns:
		t := r.Turns
		out := shaft(t.Shaft)
		return append(out, fmt.Sprintf("ratio = shaft turns ÷ ((left + right wheel turns) ÷ 2) = %s ÷ ((%s + %s) ÷ 2) = %s, %s",
			d(t.Shaft.turns(), 3), f(t.Left.Turns), f(t.Right.Turns), d(c.center, 3), c.own.words()))
	case Bench:
		out := shaft(r.Bench.Shaft)
		half := ""
		if r.Bench.Outputs == OneHeld {
			half = " ÷ 2 (the other output was held)"
		}
		return append(out, fmt.Sprintf("ratio = input turns ÷ output turns = %s ÷ (%s%s) = %s, %s", d(r.Bench.Shaft.turns(), 3), f(r.Bench.OutputTurns), half, d(c.center, 3), c.own.words()))
	case Road:
		q := r.Road
		return []string{
			fmt.Sprintf("wheel speed = %s km/h ÷ %s mm = %s rpm", f(q.SpeedKMH), f(q.RollingMM), d(q.SpeedKMH*1e6/60/q.RollingMM, 1)),
			fmt.Sprintf("ratio = engine speed ÷ wheel speed ÷ other ratios = %s ÷ %s ÷ %s = %s, %s", f(q.RPM), d(q.SpeedKMH*1e6/60/q.RollingMM, 1), d(q.other(), 3), d(c.center, 3), c.own.words()),
		}
	case Tag, Stamp:
		out := []string{}
		for _, m := range c.marks {
			out = append(out, "read as "+m.sentence())
		}
		return out
	}
	out := []string{}
	for _, n := range c.counts {
		out = append(out, fmt.Sprintf("%s: %d", memberWords(n.Member), n.Count))
	}
	return out
}
