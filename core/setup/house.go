package setup

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/backlash"
	"zorvel/core/belief"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// Typical figures, known as such; each housing's own trials replace them.
const (
	// A pinion moved by a quarter of a millimeter sends the pattern from mid
	// height to the edge, give or take a third of that.
	heightPerMM, heightSigma = 4.0, 1.4
	// The ring sends it half as far along the tooth.
	lengthPerMM, lengthSigma = 2.0, 0.7
	// The law of backlash holds to 30 % for the ring, to half for the pinion.
	ringSigma, pinionSigma = 0.3, 0.5
	// What taking apart and seating the bearings again does to the backlash,
	// and how well the middle of a pattern is judged.
	seatMM, spotSigma = 0.008, 0.15
	// A mesh without play may be too tight by about this much.
	tightMM = 0.08
	// The pattern is good within this much of mid height, and of mid length.
	heightBand, lengthBand = 0.3, 0.5
)

// house is what is believed of one housing: everything is about where the
// first trial stood.
//
//	backlash = b0 + ring · x − pinion · y     (x: ring away, y: pinion inward)
//	height   = h0 − k · y
//	length   = l0 + m · x
type house struct {
	y0, x0               float64
	lash, height, length belief.Normal
	lashes, heights      int
	lawRing, lawPinion   float64
	ring, pinion         backlash.Housings // believed before the first move
}

// ByLaw is what is believed of a housing's sensitivities where nobody taught more.
func ByLaw() (ring, pinion backlash.Housings) {
	return backlash.ByLaw(ringSigma), backlash.ByLaw(pinionSigma)
}

// believed is what is taken of such housings, by the law alone or with other shops'.
func (q *Axle) believed() (ring, pinion backlash.Housings) {
	ring, pinion = ByLaw()
	if h := q.Housings; h != nil {
		if h.Ring != nil {
			ring = *h.Ring
		}
		if h.Pinion != nil {
			pinion = *h.Pinion
		}
	}
	return ring, pinion
}

func (q *Axle) house(trials []read, skip int) house {
	ring, pinion := q.mesh()
	h := house{y0: trials[0].y, x0: trials[0].x, lawRing: ring.Sensitivity(), lawPinion: pinion.Sensitivity()}
	h.ring, h.pinion = q.believed()
	h.lash = belief.Of([]float64{0.2, h.ring.Factor * h.lawRing, h.pinion.Factor * h.lawPinion},
		[]float64{3, h.ring.Sigma * h.lawRing, h.pinion.Sigma * h.lawPinion})
	h.height = belief.Of([]float64{0, heightPerMM}, []float64{3, heightSigma})
	h.length = belief.Of([]float64{0, lengthPerMM}, []float64{3, lengthSigma})
	for i, t := range trials {
		if i == skip {
			continue
		}
		if t.lash != nil {
			h.lash, h.lashes = h.lash.See(h.lashRow(t.x, t.y), t.lash.MeanMM, q.lashSigma(t)), h.lashes+1
		}
		if t.height != nil {
			h.height, h.heights = h.height.See(h.heightRow(t.y), *t.height, spotNoise(&q.Trials[i])), h.heights+1
			h.length = h.length.See(h.lengthRow(t.x), *t.length, spotNoise(&q.Trials[i]))
		}
	}
	return h
}

func (h house) lashRow(x, y float64) []float64 { return []float64{1, x - h.x0, -(y - h.y0)} }
func (h house) heightRow(y float64) []float64  { return []float64{1, -(y - h.y0)} }
func (h house) lengthRow(x float64) []float64  { return []float64{1, x - h.x0} }

// lashSigma is how well the mean of a trial's places tells the backlash.
func (q *Axle) lashSigma(t read) float64 {
	if t.lash.LeastMM <= q.RepeatMM { // no play somewhere: how much too tight it is, no gauge tells
		return tightMM
	}
	return math.Hypot(q.RepeatMM/math.Sqrt(float64(t.lash.Counted)), seatMM)
}

// spotNoise is how well a trial's pattern tells where it lies: both flanks
// better than one, and at the tooth's edge it can't go on.
func spotNoise(m *Made) float64 {
	s := spotSigma
	if m.Drive != nil && m.Coast != nil {
		s /= math.Sqrt2
	}
	for _, p := range []*Spot{m.Drive, m.Coast} {
		if p != nil && math.Abs(p.Height) > 0.9 {
			s = math.Max(s, 2*spotSigma)
		}
	}
	return s
}

// shrunk is the move that makes the expected square of what is left least, for
// a slope that is known to sigma only: gap·slope ÷ (slope² + sigma²).
func shrunk(gap, slope, sigma float64) float64 {
	return gap * slope / (slope*slope + sigma*sigma)
}

// Doubt is a trial that does not go with the others.
type doubt struct {
	trial    int // index; −1 for none
	wrongWay bool
	text     string
}

// doubts compares every trial with what the others foretell of it; the one
// that is farthest off is named.
func (q *Axle) doubts(trials []read) doubt {
	d := doubt{trial: -1}
	worst := 4.0
	for i, t := range trials {
		if t.lash == nil || q.Trials[i].Sure || len(trials) == 2 && i == 0 {
			continue
		}
		others := q.house(trials, i)
		if others.lashes == 0 {
			continue
		}
		row := others.lashRow(t.x, t.y)
		want, sd := others.lash.At(row), math.Hypot(others.lash.Spread(row), q.lashSigma(t))
		miss := t.lash.MeanMM - want
		if z := math.Abs(miss) / sd; z > worst && math.Abs(miss) > 0.04 {
			worst = z
			d = doubt{trial: i, text: q.say("Trial %d doesn't go with the %s: its shims should have brought %s ± %s mm of backlash, and %s mm was measured.", i+1, others.name(len(trials)), q.n(math.Max(0, want)), q.n(2*sd), q.n(t.lash.MeanMM))}
		}
	}
	if w := q.wentWrong(trials); w.trial >= 0 && (d.trial < 0 || d.trial == w.trial) {
		return w
	}
	if d.trial >= 0 {
		d.text += " Count its shims and read the dial again; a piece may have gone to the other side."
	}
	return d
}

func (h house) name(n int) string {
	if n == 2 {
		return "first"
	}
	return "others"
}

// wentWrong looks at the last move alone: did backlash or pattern go the other
// way than it should have, by more than gauge and eye scatter?
func (q *Axle) wentWrong(trials []read) doubt {
	n := len(trials)
	if n < 2 || q.Trials[n-1].Sure {
		return doubt{trial: -1}
	}
	ring, pinion := q.mesh()
	a, b := trials[n-2], trials[n-1]
	if a.lash != nil && b.lash != nil {
		want := ring.Sensitivity()*(b.x-a.x) - pinion.Sensitivity()*(b.y-a.y)
		got := b.lash.MeanMM - a.lash.MeanMM
		if math.Abs(want) > 0.03 && want*got < 0 && math.Abs(got) > 2*math.Hypot(q.lashSigma(a), q.lashSigma(b)) {
			grow := map[bool]string{true: "grow", false: "shrink"}
			side := "left and right may be mixed up, or the ring sits on the other side"
			if math.Abs(pinion.Sensitivity()*(b.y-a.y)) > math.Abs(ring.Sensitivity()*(b.x-a.x)) {
				side = "a thicker depth shim may move the pinion the other way"
			}
			return doubt{n - 1, true, q.say("The last move went the wrong way: by its shims the backlash should %s by %s mm, and it went from %s to %s mm. Check before the next one: %s.",
				grow[want > 0], q.n(math.Abs(want)), q.n(a.lash.MeanMM), q.n(b.lash.MeanMM), side)}
		}
	}
	if a.height != nil && b.height != nil {
		want, got := -heightPerMM*(b.y-a.y), *b.height-*a.height
		if math.Abs(want) > 0.3 && want*got < 0 && math.Abs(got) > 2.5*math.Hypot(spotNoise(&q.Trials[n-2]), spotNoise(&q.Trials[n-1])) {
			way := map[bool]string{true: "face", false: "root"}
			return doubt{n - 1, true, q.say("The pattern went the wrong way: with the pinion %s mm %s it should move toward the %s, and it went toward the %s. Check that the shim went where it belongs, and which way a thicker one moves the pinion.",
				q.n(math.Abs(b.y-a.y)), map[bool]string{true: "farther in", false: "farther out"}[b.y > a.y], way[want > 0], way[got > 0])}
		}
	}
	return doubt{trial: -1}
}

// Law is a sensitivity: what teeth or experience say, and what this housing taught.
type Law struct {
	Name  string  `json:"name"`
	Start float64 `json:"start"` // before the first move
	Now   float64 `json:"now"`
	Sigma float64 `json:"sigma"` // standard deviation of now
	Text  string  `json:"text"`
}

func (q *Axle) laws(h house) []Law {
	law := func(name, from string, start float64, believed backlash.Housings, now, sigma float64) Law {
		text := fmt.Sprintf("%s: %s", from, say.Trim(start, 3))
		if believed.Count > 0 {
			text += fmt.Sprintf(" × %s ± %s (%s)", say.Trim(believed.Factor, 2), say.Trim(believed.Sigma, 2),
				believed.Origin())
		}
		start *= believed.Factor
		if math.Abs(now-start) > 0.005*start || sigma < 0.9*start*ringSigma {
			text += fmt.Sprintf("; this housing: %s ± %s", say.Trim(now, 3), say.Trim(sigma, 3))
		}
		return Law{name, say.Round(start, 4), say.Round(now, 4), say.Round(sigma, 4), text}
	}
	formula := func(teeth, mate int) string {
		return fmt.Sprintf("2 · tan %s° · sin(atan %d/%d) ÷ cos %s°", say.Trim(q.Pressure, 1), teeth, mate, say.Trim(*q.Spiral, 1))
	}
	return []Law{
		law("Backlash per mm of ring", formula(q.Ring, q.Pinion), h.lawRing, h.ring, h.lash.Mean(1), h.lash.Sigma(1)),
		law("Backlash per mm of pinion", formula(q.Pinion, q.Ring), h.lawPinion, h.pinion, h.lash.Mean(2),
			h.lash.Sigma(2)),
		law("Pattern height per mm of pinion (half a tooth is 1)", "typical", heightPerMM, backlash.ByLaw(0),
			h.height.Mean(1), h.height.Sigma(1)),
		law("Pattern length per mm of ring (half a tooth is 1)", "typical", lengthPerMM, backlash.ByLaw(0),
			h.length.Mean(1), h.length.Sigma(1)),
	}
}

// Taught is what the trials of an axle say of its housing's sensitivities, whatever was
// believed; not ok where they say little, don't go together or can't be read.
func Taught(q Axle) (ring, pinion backlash.Sample, ringOK, pinionOK bool) {
	q.Trials, q.Housings = slices.Clone(q.Trials), nil
	if fault.Figures(q) != nil {
		return
	}
	trials, _, _, err := q.check()
	if err != nil || q.firstLook() || q.doubts(trials).trial >= 0 {
		return
	}
	h := q.house(trials, -1)
	if h.lashes < 2 {
		return
	}
	ring, ringOK = backlash.Taught(h.ring, h.lash.Mean(1)/h.lawRing, h.lash.Sigma(1)/h.lawRing)
	pinion, pinionOK = backlash.Taught(h.pinion, h.lash.Mean(2)/h.lawPinion, h.lash.Sigma(2)/h.lawPinion)
	return
}

// n is a length in the unit that the question's figures are in.
func (q *Axle) n(mm float64) string { return say.Unit(q.Unit).Len(mm) }

func (q *Axle) signed(mm float64) string { return say.Unit(q.Unit).Signed(mm) }

// say formats a sentence; its " mm" becomes the question's unit.
func (q *Axle) say(format string, args ...any) string { return say.Unit(q.Unit).F(format, args...) }

// band is a maker's band in that unit.
func (q *Axle) band(b Band) string { return b.said(say.Unit(q.Unit)) }
