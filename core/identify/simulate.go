package identify

import (
	"math/rand/v2"
	"slices"
	"sync"

	"zorvel/core/trials"
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
	// Truths is what the axles are drawn from; nil draws from what the verdict
	// reckons with.
	Truths *Space
	// First stops after one reading taken so.
	First FirstReading
}

// FirstReading is how a single reading is taken.
type FirstReading string

// Single readings: one wheel turn by eye to the tenth, in vague words, along the
// rim; the teeth; the tag of axles that have one.
const (
	FirstByEye   FirstReading = "eye"
	FirstInWords FirstReading = "words"
	FirstByArc   FirstReading = "arc"
	FirstTeeth   FirstReading = "teeth"
	FirstTag     FirstReading = "tag"
)

func (f FirstReading) option() Option {
	switch f {
	case FirstByArc:
		return Option{Method: Turns, OutputTurns: 1, By: ByArc}
	case FirstTeeth:
		return Option{Method: Teeth, Members: []string{"ring", "pinion"}}
	case FirstTag:
		return Option{Method: Tag}
	case FirstInWords:
		return Option{Method: Turns, OutputTurns: 1, By: PastABit}
	}
	return Option{Method: Turns, OutputTurns: 1, By: ByEye}
}

// World is a mixture from which axles are drawn, to see how verdicts do where what
// is out there differs from what they reckon with.
type World string

// The worlds.
const (
	OnlyCommon World = "common" // nothing but what is commonly made
	OnlyOther  World = "other"  // any set that can be built, none likelier
)

// In returns the space with the prior of another world.
func (sp *Space) In(w World) *Space {
	if w == OnlyOther {
		return sp.Plain()
	}
	out := *sp
	out.hyps = slices.Clone(sp.hyps)
	for i := range out.hyps {
		if h := &out.hyps[i]; !h.common {
			h.prior = 0
		}
	}
	out.finish()
	return &out
}

// Mixed returns the space with the prior of a world in which these sets, by their
// weights, have a share, and what was reckoned with has the rest.
func (sp *Space) Mixed(sets []CatalogEntry, share float64) (*Space, error) {
	out := *sp
	out.hyps = slices.Clone(sp.hyps)
	weights, total, err := out.weigh("sets", sets)
	if err != nil {
		return nil, err
	}
	out.mix(share, 0, weights, total, func(*hyp) {})
	out.finish()
	return &out, nil
}

// Draw draws a build by its weight before any reading.
func (sp *Space) Draw(rng *rand.Rand) CatalogEntry {
	h := draw(rng, sp)
	c := sp.cons[h.con]
	e := CatalogEntry{Construction: c.ID, Weight: 1}
	for k := range c.Teeth {
		e.Teeth = append(e.Teeth, int(h.teeth[k]))
	}
	return e
}

// Outcome of a trial. Bands hold every verdict given on the way, Final only
// the last of each technician; Headlines those verdicts that gave a label, the
// others a range.
type Outcome struct {
	Headlines    trials.Band
	Ranges       trials.Band
	Technicians  int
	Bands        trials.Bands
	Final        trials.Bands
	Minutes      float64 // mean until settled or given up
	Wrong        int     // final label wrong
	Settled      int     // label at least 99 % sure at the end
	WrongSettled int     // settled, but wrong
}

func bands() trials.Bands { return trials.NewBands(0, 0.5, 0.9, 0.95, 0.99, 0.999) }

// maxSteps bounds the measurements one technician takes.
const maxSteps = 8

// block is how many technicians one worker takes at a time.
const block = 50

// Run simulates the trial on ring and pinion axles with tags on half of them,
// on all processors. Each technician draws from a source of its own, so the
// same seed gives the same outcome on any machine. progress, if not nil, is
// told how many technicians are done, from one goroutine at a time.
func (t Trial) Run(sp *Space, progress func(done int)) (Outcome, error) {
	plans := newPlanMemory()
	out := Outcome{Technicians: t.Technicians, Bands: bands(), Final: bands()}
	some := func(from, to int) (Outcome, error) { return t.some(sp, plans, from, to) }
	if err := trials.Run(t.Technicians, block, some, out.sum, progress); err != nil {
		return out, err
	}
	out.Minutes /= float64(t.Technicians)
	return out, nil
}

// Add is what both trials came to together.
func (o Outcome) Add(x Outcome) Outcome {
	all := Outcome{Bands: bands(), Final: bands()}
	for _, part := range []Outcome{o, x} {
		if part.Technicians > 0 {
			part.Minutes *= float64(part.Technicians)
			all.Technicians += part.Technicians
			all.sum(part)
		}
	}
	all.Minutes /= float64(max(all.Technicians, 1))
	return all
}

// sum sums up; minutes are a sum here.
func (o *Outcome) sum(x Outcome) {
	o.Bands.Add(x.Bands)
	o.Final.Add(x.Final)
	o.Headlines.Add(x.Headlines)
	o.Ranges.Add(x.Ranges)
	o.Minutes += x.Minutes
	o.Wrong += x.Wrong
	o.Settled += x.Settled
	o.WrongSettled += x.WrongSettled
}

// some simulates the technicians from..to−1.
func (t Trial) some(sp *Space, plans *planMemory, from, to int) (Outcome, error) {
	out := Outcome{Bands: bands(), Final: bands()}
	for i := from; i < to; i++ {
		rng := rand.New(rand.NewPCG(t.Seed, uint64(i)+1))
		truths := sp
		if t.Truths != nil {
			truths = t.Truths
		}
		w := world{rng: rng, sp: truths, scale: t.Scale, truth: draw(rng, truths), hasTag: rng.Float64() < 0.5 || t.First == FirstTag}
		l, minutes, err := t.technician(sp, &w, plans, &out)
		if err != nil {
			return out, err
		}
		right := l.label == w.truth.label
		out.Final.Count(l.sure(), right)
		out.Minutes += minutes
		if !right {
			out.Wrong++
		}
		if l.sure() >= SettledAt {
			out.Settled++
			if !right {
				out.WrongSettled++
			}
		}
	}
	return out, nil
}

// planMemory keeps what is asked again and again: the assessment before any
// reading and after a tag alone, and what to do next there.
type planMemory struct {
	mu   sync.Mutex
	kept map[planKey]remembered
}

type planKey struct {
	tag   string
	sit   Situation
	fixed int // the step of the fixed order, −1 with the recommended one
}

type remembered struct {
	a    *Assessment
	next Option
}

func newPlanMemory() *planMemory { return &planMemory{kept: map[planKey]remembered{}} }

// known makes the entry of a key, once for each key that no two ask at the
// same moment; both would come to the same.
func (m *planMemory) known(k planKey, make func() (remembered, error)) (remembered, error) {
	m.mu.Lock()
	x, ok := m.kept[k]
	m.mu.Unlock()
	if ok {
		return x, nil
	}
	x, err := make()
	if err == nil {
		m.mu.Lock()
		m.kept[k] = x
		m.mu.Unlock()
	}
	return x, err
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

// Leads is the label that leads, with what it may be called.
func (a *Assessment) Leads() LabelChance {
	l := a.leading()
	c := a.chanceOf(l)
	c.Probability = l.sure()
	return c
}

// technician measures until the label is settled, and gives what leads then
// and the minutes spent.
func (t Trial) technician(sp *Space, w *world, plans *planMemory, out *Outcome) (labelMass, float64, error) {
	if t.First != "" {
		return t.first(sp, w, out)
	}
	var readings []Reading
	var sit Situation
	minutes := 0.0
	lead := labelMass{}
	for step := range maxSteps {
		now, err := t.step(sp, plans, readings, sit, step)
		if err != nil {
			return lead, 0, err
		}
		if len(readings) > 0 {
			lead = now.a.leading()
			out.Bands.Count(lead.sure(), lead.label == w.truth.label)
			if lead.sure() >= SettledAt {
				return lead, minutes, nil
			}
		}
		minutes += now.next.Minutes
		if by, ok := techniqueOf(now.next.Method); ok {
			sit.OnStands, sit.CoverOff = sit.OnStands || by.turned, sit.CoverOff || by.open
		}
		if r, ok := w.read(now.next); ok {
			readings = append(readings, r)
		} else {
			sit.NoTag = true
		}
	}
	a, err := Assess(sp, readings)
	if err != nil {
		return lead, 0, err
	}
	lead = a.leading()
	out.Bands.Count(lead.sure(), lead.label == w.truth.label)
	return lead, minutes, nil
}

// first weighs one reading and looks at the headline.
func (t Trial) first(sp *Space, w *world, out *Outcome) (labelMass, float64, error) {
	r, _ := w.read(t.First.option())
	a, err := Assess(sp, []Reading{r})
	if err != nil {
		return labelMass{}, 0, err
	}
	v := a.Verdict()
	lead := a.leading()
	out.Bands.Count(lead.sure(), lead.label == w.truth.label)
	h := v.Headline
	if h.Label != "" {
		out.Headlines.Add(trials.Band{Given: 1, Right: trials.One(h.Label == w.truth.exact().Label()),
			Claimed: v.Label.Probability})
	} else {
		out.Ranges.Add(trials.Band{Given: 1, Right: trials.One(h.Range.Low-1e-9 <= w.truth.r && w.truth.r <= h.Range.High+1e-9), Claimed: 0.95})
	}
	return lead, 0, nil
}

// step is what is known and done next.
func (t Trial) step(sp *Space, plans *planMemory, readings []Reading, sit Situation, step int) (remembered, error) {
	fixed := []Option{
		{Method: Tag}, {Method: Turns, OutputTurns: 1, By: ByEye}, {Method: Teeth, Members: []string{"ring", "pinion"}},
	}
	work := func() (remembered, error) {
		a, err := Assess(sp, readings)
		if err != nil || a.leading().sure() >= SettledAt {
			return remembered{a: a}, err
		}
		if t.FixedOrder {
			o := fixed[min(step, len(fixed)-1)]
			o.Minutes = a.minutesOf(o, sit)
			return remembered{a, o}, nil
		}
		return remembered{a, a.Next(SettleLabel, sit).Options[0]}, nil
	}
	key := planKey{sit: sit, fixed: -1}
	if t.FixedOrder {
		key.fixed = step
	}
	switch {
	case len(readings) == 1 && readings[0].Method == Tag:
		key.tag = readings[0].Text
	case len(readings) > 0:
		return work()
	}
	return plans.known(key, work)
}

// minutesOf is what an option of the fixed order takes.
func (a *Assessment) minutesOf(o Option, sit Situation) float64 {
	p := a.planner(SettleLabel, sit)
	if by, ok := techniqueOf(o.Method); ok {
		return by.minutes(p, o)
	}
	return 0
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
	i := trials.Pick(len(sp.hyps), rng.Float64(), func(i int) float64 { return sp.weight(&sp.hyps[i]) })
	return &sp.hyps[i]
}

func (w *world) chance(p float64) bool { return w.rng.Float64() < p*w.scale }

// read draws a reading by an option's method; false, where the unit has none to give.
func (w *world) read(o Option) (Reading, bool) {
	r := Reading{ID: "r", Method: o.Method}
	by, ok := techniqueOf(o.Method)
	return r, ok && by.draw != nil && by.draw(w, o, &r)
}
