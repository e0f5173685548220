package identify

import (
	"math"
	"strconv"
)

// The stated error models: how often, and how far, each kind of reading is
// wrong. Rates are chances per reading.
const (
	statedRingMiscount   = 0.05  // off by one, a gear of many teeth
	statedPinionMiscount = 0.02  // off by one, a gear of few teeth
	shareCountedTwice    = 0.6   // of those: start tooth counted twice (+1)
	statedGrossMiscount  = 0.002 // off by more than one
	statedOtherGear      = 0.004 // another gear set was counted

	statedStaleTag   = 0.10
	statedStaleStamp = 0.02

	statedLostCount     = 0.02  // a whole turn too many or too few, of up to easyTurns
	easyTurns           = 20.0  // shaft turns that are counted without losing the thread
	statedDiameterMixup = 0.02  // diameter entered as circumference
	statedShortMixup    = 0.01  // past and short confused
	statedMisread       = 0.015 // the rest of a turn read as expected, or a wheel crept unseen
	statedHeldUnseen    = 0.01  // both seen, yet one was held (or both turned)
	statedOtherUnit     = 0.005 // another axle, another gear was turned
	statedAssumedOther  = 0.08  // the wheel taken for still followed, or the reverse
	statedAssumedCreep  = 0.08  // it crept, overran or turned backward
	statedRoadOther     = 0.03  // wrong gear, tire or speed
	statedLiveMark      = 0.01  // a mark missed or seen twice at a sensor that nothing else shows
	statedTurnedBack    = 0.02  // turned back, at sensors that don't tell the direction
)

// caution is how much more often than stated the verdict reckons with a
// mistake, so that it stays honest with people who make half as many again.
// The accuracy simulation shows the effect.
const caution = 1.35

// Rates as reckoned with.
const (
	rateRingMiscount   = caution * statedRingMiscount
	ratePinionMiscount = caution * statedPinionMiscount
	rateGrossMiscount  = caution * statedGrossMiscount
	rateOtherGear      = caution * statedOtherGear
	rateStaleTag       = caution * statedStaleTag
	rateStaleStamp     = caution * statedStaleStamp
	rateLostCount      = caution * statedLostCount
	rateDiameterMixup  = caution * statedDiameterMixup
	rateShortMixup     = caution * statedShortMixup
	rateMisread        = caution * statedMisread
	rateHeldUnseen     = caution * statedHeldUnseen
	rateOtherUnit      = caution * statedOtherUnit
	rateAssumedOther   = caution * statedAssumedOther
	rateAssumedCreep   = caution * statedAssumedCreep
	rateRoadOther      = caution * statedRoadOther
	rateLiveMark       = caution * statedLiveMark
	rateTurnedBack     = caution * statedTurnedBack
)

// lostRate is how often a whole turn is lost or counted twice in so many shaft
// turns: as stated up to easyTurns, and growing with them beyond.
func lostRate(shaft float64) float64 { return rateLostCount * lostGrowth(shaft) }

func lostGrowth(shaft float64) float64 { return min(max(1, shaft/easyTurns), 8) }

// Spreads, as standard deviations, and shares that aren't mistakes.
const (
	sigmaEye     = 0.06 // turn
	sigmaQuarter = 0.12 // turn, a bare quarter or half
	sigmaBitNear = 0.03 // turn, "and a bit": toward the figure that was said
	sigmaBitFar  = 0.08 // turn, "and a bit": away from it
	sigmaWheel   = 0.01 // turn, mark brought back
	sigmaMisread = 0.2  // turn, a remainder read as expected
	sigmaArcMM   = 2.0  // along the rim
	sigmaRoad    = 0.03 // of the ratio

	shareWide  = 0.3 // hand readings scatter wider than stated this often
	wideFactor = 1.8

	shareConverterSlips = 0.5 // an open converter reads up to slipMost high
	slipMost            = 0.15
	shareMarkedCounts   = 0.6 // of stamps; the rest carry a ratio
	shareTaggedCounts   = 0.15
	shareUnequalPlanets = 0.05
	shareShiftedPlanet  = 0.03

	impossibleReading = 1e-6
	missingMember     = 1e-4
)

// Model is one line of the stated error models, for people to read.
type Model struct {
	Method Method `json:"method"`
	What   string `json:"what"`
	Value  string `json:"value"`
}

// Models lists every rate and spread that the verdict is computed with.
func Models() []Model {
	pc := func(f float64) string { return strconv.FormatFloat(100*f, 'g', 3, 64) + " %" }
	turn := func(f float64) string { return "±" + strconv.FormatFloat(f, 'g', 3, 64) + " turn" }
	return []Model{
		{"", "every mistake below is taken as this much more frequent than stated", "× " + strconv.FormatFloat(caution, 'g', 3, 64)},
		{Tag, "gears were changed since the tag was made", pc(statedStaleTag)},
		{Tag, "ratio printed cut, not rounded", pc(1 - shareRounded)},
		{Stamp, "stamp of other gears, or misread", pc(statedStaleStamp)},
		{Teeth, "ring gear (many teeth) off by one", pc(statedRingMiscount)},
		{Teeth, "pinion (few teeth) off by one", pc(statedPinionMiscount)},
		{Teeth, "of these: start tooth counted twice, one too many", pc(shareCountedTwice)},
		{Teeth, "a gear off by more than one", pc(statedGrossMiscount)},
		{Teeth, "another gear set was counted", pc(statedOtherGear)},
		{Turns, "a whole turn lost or counted twice", pc(statedLostCount)},
		{Turns, "the same for each further 20 turns of the shaft", "+ " + pc(statedLostCount)},
		{Turns, "remainder by eye, standard deviation", turn(sigmaEye)},
		{Turns, "bare quarter or half by eye, standard deviation", turn(sigmaQuarter)},
		{Turns, "\"and a bit\", \"just short of\": toward the figure that was said, away from it", "−" + strconv.FormatFloat(sigmaBitNear, 'g', 3, 64) + " and +" + strconv.FormatFloat(sigmaBitFar, 'g', 3, 64) + " turn"},
		{Turns, "wheel mark brought back, standard deviation", turn(sigmaWheel)},
		{Turns, "arc along the rim, standard deviation", "±2 mm"},
		{Turns, "hand readings scatter 1.8 times wider", pc(shareWide)},
		{Turns, "diameter used where circumference belongs", pc(statedDiameterMixup)},
		{Turns, "past and short confused", pc(statedShortMixup)},
		{Turns, "rest of the turn read as what was expected, or a wheel crept unseen (±0.2 turn)", pc(statedMisread)},
		{Turns, "a watched wheel did otherwise", pc(statedHeldUnseen)},
		{Turns, "an assumed wheel followed or was held instead", pc(statedAssumedOther)},
		{Turns, "an assumed wheel crept, overran or turned backward", pc(statedAssumedCreep)},
		{Turns, "another axle or gear was turned", pc(statedOtherUnit)},
		{Live, "a mark missed or seen twice that no other shaft shows", pc(statedLiveMark)},
		{Live, "turned back, where no sensor tells the direction", pc(statedTurnedBack)},
		{Live, "a wheel without a mark passing followed, or was held instead", pc(statedAssumedOther)},
		{Live, "such a wheel crept", pc(statedAssumedCreep)},
		{Live, "another axle or gear was turned", pc(statedOtherUnit)},
		{Road, "road figures, standard deviation", "±3 % of the ratio"},
		{Road, "an open converter slips and reads up to 15 % high", pc(shareConverterSlips)},
		{Road, "another gear, tire or speed than entered", pc(statedRoadOther)},
	}
}

// mode is one way in which a reading can have come about.
type mode struct {
	cause  Cause
	weight float64
	form   form
	// gauss: observed value s, expected r·m, spreads of s and of m. What is true
	// scatters by spread.below under what was observed, by spread.above over it.
	s, m   float64
	spread sides
	sigmaM float64
	// flat: density d. fan: density 1/(r·m) while s < r·m.
	d float64
}

// sides is a spread that may differ to either side, as standard deviations: of
// what is true below the figure that was told, and above it.
type sides struct{ below, above float64 }

func even(sigma float64) sides { return sides{sigma, sigma} }

// with adds an independent spread.
func (s sides) with(sigma float64) sides {
	return sides{math.Hypot(s.below, sigma), math.Hypot(s.above, sigma)}
}

// moments of a two-piece normal spread about its mode: how far its mean lies
// above it, and its standard deviation (John, Commun. Stat. A11, 1982).
func (s sides) moments() (shift, sigma float64) {
	d := s.above - s.below
	return math.Sqrt(2/math.Pi) * d, math.Sqrt((1-2/math.Pi)*d*d + s.above*s.below)
}

// range95 is how far 95 % of it reaches below and above its mode.
func (s sides) range95() (below, above float64) {
	reach := func(side float64) float64 {
		tail := 0.025 * (s.below + s.above) / (2 * side)
		return side * math.Sqrt2 * math.Erfinv(1-2*min(tail, 0.5))
	}
	return reach(s.below), reach(s.above)
}

type form int

const (
	gauss form = iota
	flat
	fan
)

// density of the observation given ratio r (always positive).
func (o *mode) density(r float64) float64 {
	switch o.form {
	case gauss:
		d, wheel := o.s-r*o.m, r*r*o.sigmaM*o.sigmaM
		side := o.spread.below
		if d < 0 {
			side = o.spread.above
		}
		v := side*side + wheel
		q := d * d / v
		if q > 180 { // beyond 7 wide deviations
			return 0
		}
		sd := math.Sqrt(v)
		if o.spread.below != o.spread.above { // two halves of one height (Fechner 1897)
			sd = (math.Sqrt(o.spread.below*o.spread.below+wheel) + math.Sqrt(o.spread.above*o.spread.above+wheel)) / 2
		}
		return ((1-shareWide)*math.Exp(-q/2) + shareWide/wideFactor*math.Exp(-q/(2*wideFactor*wideFactor))) / (sd * sqrt2Pi)
	case fan:
		if x := r * o.m; o.s < x {
			return 1 / x
		}
		return 0
	default:
		return o.d
	}
}

const sqrt2Pi = 2.5066282746310002
