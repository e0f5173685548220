package identify

import (
	"math"
	"math/rand/v2"
	"strconv"
)

// Trial is one simulation of technicians at axles: a true build drawn from
// the prior, readings drawn from the error models, measured until the label
// is settled.
type Trial struct {
	Technicians int
	// Scale multiplies spreads and rates of error: 1 as modelled, 1.5
	// half as large again.
	Scale float64
	Seed  uint64
	// FixedOrder takes tag, one turn by eye, teeth in that order instead of
	// the recommended next measurement.
	FixedOrder bool
}

// Band counts the verdicts given with a certainty in a range, and how many of
// them were right.
type Band struct {
	From, To     float64
	Given, Right int
	Claimed      float64 // sum of the certainties given
}

// Outcome of a trial. Bands hold every verdict given on the way, Final only
// the last of each technician.
type Outcome struct {
	Technicians  int
	Bands        []Band
	Final        []Band
	Minutes      float64 // mean until settled or given up
	Wrong        int     // final label wrong
	Settled      int     // label at least 99 % sure at the end
	WrongSettled int     // settled, but wrong
}

func bands() []Band {
	edges := []float64{0, 0.5, 0.9, 0.95, 0.99, 0.999}
	var b []Band
	for i, e := range edges {
		to := 1.0
		if i+1 < len(edges) {
			to = edges[i+1]
		}
		b = append(b, Band{From: e, To: to})
	}
	return b
}

func count(bs []Band, sure float64, right bool) {
	for i := len(bs) - 1; i >= 0; i-- {
		if sure >= bs[i].From {
			bs[i].Given++
			bs[i].Claimed += sure
			if right {
				bs[i].Right++
			}
			return
		}
	}
}

// maxSteps bounds the measurements one technician takes.
const maxSteps = 8

// Run simulates the trial on ring and pinion axles with tags on half of them.
// The same seed gives the same outcome.
func (t Trial) Run(sp *Space) (Outcome, error) {
	rng := rand.New(rand.NewPCG(t.Seed, 1))
	out := Outcome{Technicians: t.Technicians, Bands: bands(), Final: bands()}
	for range t.Technicians {
		w := world{rng: rng, sp: sp, scale: t.Scale, truth: draw(rng, sp), hasTag: rng.Float64() < 0.5}
		a, minutes, err := t.technician(&w, &out)
		if err != nil {
			return out, err
		}
		l := a.leading()
		right := l.label == w.truth.label
		count(out.Final, l.mass, right)
		out.Minutes += minutes
		if !right {
			out.Wrong++
		}
		if l.mass >= SettledAt {
			out.Settled++
			if !right {
				out.WrongSettled++
			}
		}
	}
	out.Minutes /= float64(t.Technicians)
	return out, nil
}

func (a *Assessment) leading() labelMass {
	best := a.labels[0]
	for _, l := range a.labels {
		if l.mass > best.mass {
			best = l
		}
	}
	return best
}

func (t Trial) technician(w *world, out *Outcome) (*Assessment, float64, error) {
	var readings []Reading
	var sit Situation
	minutes := 0.0
	a, err := Assess(w.sp, nil)
	if err != nil {
		return nil, 0, err
	}
	fixed := []Option{
		{Method: Tag}, {Method: Turns, OutputTurns: 1, By: ByEye}, {Method: Teeth, Members: []string{"ring", "pinion"}},
	}
	for step := range maxSteps {
		var o Option
		if t.FixedOrder {
			o = fixed[min(step, len(fixed)-1)]
			o.Minutes = a.minutesOf(o, sit)
		} else {
			plan := a.Next(SettleLabel, sit)
			o = plan.Options[0]
		}
		minutes += o.Minutes
		switch o.Method {
		case Turns:
			sit.OnStands = true
		case Teeth, Stamp:
			sit.CoverOff = true
		}
		r, ok := w.read(o)
		if !ok {
			sit.NoTag = true
			continue
		}
		readings = append(readings, r)
		if a, err = Assess(w.sp, readings); err != nil {
			return nil, 0, err
		}
		l := a.leading()
		count(out.Bands, l.mass, l.label == w.truth.label)
		if l.mass >= SettledAt {
			break
		}
	}
	return a, minutes, nil
}

// minutesOf is what an option costs by the planner's own table.
func (a *Assessment) minutesOf(o Option, sit Situation) float64 {
	for _, x := range a.allOptions(SettleLabel, sit) {
		if x.Method == o.Method && x.By == o.By && x.OutputTurns == o.OutputTurns && len(x.Members) == len(o.Members) {
			return x.Minutes
		}
	}
	return minutesTag
}

// world draws readings of one true build.
type world struct {
	rng    *rand.Rand
	sp     *Space
	scale  float64
	truth  *hyp
	hasTag bool
}

func draw(rng *rand.Rand, sp *Space) *hyp {
	u := rng.Float64()
	for i := range sp.hyps {
		if u -= sp.hyps[i].prior; u < 0 {
			return &sp.hyps[i]
		}
	}
	return &sp.hyps[len(sp.hyps)-1]
}

func (w *world) chance(p float64) bool { return w.rng.Float64() < p*w.scale }

func (w *world) read(o Option) (Reading, bool) {
	r := Reading{ID: "r", Method: o.Method}
	switch o.Method {
	case Tag:
		if !w.hasTag {
			return r, false
		}
		h := w.truth
		if w.chance(statedStaleTag) {
			h = draw(w.rng, w.sp)
		}
		r.Text = h.exact.Label()
		if w.rng.Float64() > shareRounded {
			r.Text = cutLabel(h)
		}
	case Stamp:
		h := w.truth
		if w.chance(statedStaleStamp) {
			h = draw(w.rng, w.sp)
		}
		r.Text = strconv.Itoa(int(h.teeth[0])) + "-" + strconv.Itoa(int(h.teeth[1]))
	case Teeth:
		h := w.truth
		if w.chance(statedOtherGear) {
			h = draw(w.rng, w.sp)
		}
		r.Teeth = []Count{{"ring", w.counted(h.teeth[0], statedRingMiscount)}, {"pinion", w.counted(h.teeth[1], statedPinionMiscount)}}
	case Turns:
		r.Turns = w.turned(o)
	case Road:
		ratio := w.truth.r * (1 + sigmaRoad*w.scale*w.rng.NormFloat64())
		r.Road = &RoadReading{RPM: 3000, RollingMM: 2200, Converter: ConverterLocked, Others: []float64{1}, SpeedKMH: 3000 / ratio * 2200 * 60 / 1e6}
	}
	return r, true
}

func cutLabel(h *hyp) string {
	n := h.exact.Num() * 100 / h.exact.Den()
	return strconv.FormatFloat(float64(n)/100, 'f', 2, 64)
}

func (w *world) counted(n int16, rate float64) int {
	got := int(n)
	if w.chance(rate) {
		if w.rng.Float64() < shareCountedTwice {
			got++
		} else {
			got--
		}
	}
	return got
}

func (w *world) turned(o Option) *TurnsReading {
	n := float64(o.OutputTurns)
	r := w.truth.r
	if w.chance(statedOtherUnit) {
		r = draw(w.rng, w.sp).r
	}
	left := n + sigmaWheel*w.scale*w.rng.NormFloat64()
	right := n + sigmaWheel*w.scale*w.rng.NormFloat64()
	if w.chance(statedHeldUnseen) {
		right = 0
	}
	s := r * (left + right) / 2
	rem := Remainder{By: o.By}
	sigma := sigmaEye
	if o.By == ByArc {
		rem.RimMM, rem.RimIs = typicalRim, Circumference
		sigma = sigmaArcMM / typicalRim
	}
	s += sigma * w.scale * w.rng.NormFloat64()
	if s < 0 {
		s = 0.1
	}
	whole := math.Floor(s)
	f := s - whole
	if o.By == ByArc {
		rem.ArcMM = f * typicalRim
		// An arc longer than the rim is refused, and then put right.
		if d := typicalRim / math.Pi; w.chance(statedDiameterMixup) && rem.ArcMM < d {
			rem.RimMM = d
		}
	} else {
		rem.Fraction = f
	}
	if w.chance(statedLostCount) {
		whole += float64(1 - 2*w.rng.IntN(2))
	}
	return &TurnsReading{Left: Wheel{n, true}, Right: Wheel{n, true}, Shaft: Shaft{Whole: int(max(whole, 0)), Remainder: rem}}
}
