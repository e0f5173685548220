package identify

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/ratio"
)

// State is how much is known of a stage.
type State string

// The states of a stage.
const (
	Unknown  State = "unknown"  // no reading
	Assumed  State = "assumed"  // readings, but nothing counted or turned makes it sure
	Measured State = "measured" // counted or turned, the headline's label at least 95 % sure, nothing disagrees
	Conflict State = "conflict" // a reading disagrees with the rest
)

// SureEnough is the label probability from which a counted or turned stage
// counts as measured; SettledAt is the one from which no next measurement is
// asked for.
const (
	SureEnough = 0.95
	SettledAt  = 0.995
)

// Errors are all faults found in one input.
type Errors = fault.Errors

// Candidate is a build that is still plausible.
type Candidate struct {
	Build       Build
	Probability float64 // of Best: what it may be called, from the wary prior too
	Prior       float64
	InCatalog   bool
	Common      bool          // commonly made
	Hunting     ratio.Hunting // empty unless the build is one pair
	// Factors holds, for each reading in order, its likelihood at this
	// build relative to the best candidate's.
	Factors []float64
}

// LabelChance is a trade label with its probability. Ratio is the likeliest
// build's exact ratio under that label.
type LabelChance struct {
	Label       string       `json:"label"`
	Ratio       exact.Number `json:"ratio"`
	Probability float64      `json:"probability"`
}

// Agreement is how a reading stands to the verdict.
type Agreement string

// How a reading stands to the verdict.
const (
	Agrees    Agreement = "agrees"
	Doubtful  Agreement = "doubtful"
	Disagrees Agreement = "disagrees"
)

// Interval is a range of ratios.
type Interval struct {
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// Finding is what the verdict says of one reading.
type Finding struct {
	ReadingID string    `json:"reading_id"`
	Summary   string    `json:"summary"` // the reading in a few words
	Method    Method    `json:"method"`
	Agreement Agreement `json:"agreement"`
	// Right is the probability that the reading is right as it stands,
	// given all evidence.
	Right float64 `json:"right"`
	// Says is the ratio the reading gives by itself; Interval its 95 %
	// range. Zero where the reading gives no ratio (one gear counted).
	Says     float64  `json:"says,omitempty"`
	Interval Interval `json:"interval,omitzero"`
	// Cause is the likeliest cause when the reading doesn't agree.
	Cause  Cause  `json:"cause"`
	Reason string `json:"reason"`
	// Recount says how to take the reading again, where that would clear a
	// doubt.
	Recount string `json:"recount,omitempty"`
	// Origin is the arithmetic behind Says, a line each.
	Origin []string `json:"origin"`
}

// TurnsInterval is what the turned readings alone allow.
type TurnsInterval struct {
	Center  float64  `json:"center"`
	Low     float64  `json:"low"` // 95 %
	High    float64  `json:"high"`
	Used    []string `json:"used"`     // IDs of the readings in the weighted mean
	LeftOut []string `json:"left_out"` // IDs of turned readings that don't fit the others
}

// Verdict is all evidence weighed together.
type Verdict struct {
	State State
	// Best is the likeliest build of the likeliest label that the readings
	// allow; nil when nothing was measured.
	Best *Candidate
	// Rival is the likeliest build of all where that bears another label:
	// many builds of one label may outweigh it together.
	Rival *Candidate
	// Headline is what is said first; Label is its label with what it may be
	// called, nil where none stands. Labels and Candidates have the chances from
	// all that is known.
	Headline   *Headline
	Label      *LabelChance
	Labels     []LabelChance // likeliest first, down to 0.1 %
	Candidates []Candidate   // likeliest first
	Unlisted   Unlisted
	// Note says what the verdict rests on, where that is little.
	Note     string
	Turns    *TurnsInterval
	Findings []Finding
	Checks   []Check
	// Weighed is the number of builds weighed, FromCatalog how many of
	// them the shop's list holds; Prior is where their weights came from.
	Weighed, FromCatalog int
	Prior                Prior
	Formula              string
}

// Unlisted is what Candidates leaves out.
type Unlisted struct {
	Count int     `json:"count"` // builds with at least one in a million
	Share float64 `json:"share"` // of the probability, of all builds left out
}

// Assessment is a space with readings weighed into it; ask it for the verdict,
// the next measurement and the order gate.
type Assessment struct {
	sp       *Space
	readings []compiled
	post     []float64 // posterior over sp.hyps
	// wary is the posterior from the wary prior, which takes nothing for common
	// that the shop's own counts haven't shown to be. What is called surer than
	// habitMost is so from both.
	wary   []float64
	labels []labelMass
}

type labelMass struct {
	label  int32
	first  int // index range in sp.hyps
	end    int
	mass   float64
	wary   float64
	best   int
	center float64 // mass-weighted ratio
}

// habitMost is how sure a verdict may be called on what is usual alone: to be called
// surer, the readings must bear it from the wary prior.
const habitMost = 0.9

// sure is what the label may be called.
func (l labelMass) sure() float64 { return min(l.mass, max(l.wary, habitMost), 1) }

// sure is what a build may be called.
func (a *Assessment) sure(at int) float64 { return min(a.post[at], max(a.wary[at], habitMost), 1) }

// Assess weighs readings. Impossible input returns Errors with fields such as
// "readings/0/teeth/ring"; contradictory input is no error.
func Assess(sp *Space, readings []Reading) (*Assessment, error) {
	var errs Errors
	if len(readings) > MaxReadings {
		return nil, Errors{fault.New("readings", "at most %d readings of one stage", MaxReadings)}
	}
	resolved := make([]Reading, 0, len(readings))
	for i, r := range readings {
		q, err := r.resolve(sp.Stage, sp)
		if err != nil {
			e, ok := err.(*Error)
			if !ok {
				e = fault.New("", "%s", err.Error())
			}
			errs = append(errs, fault.New(fmt.Sprintf("readings/%d/%s", i, e.Field), "%s", e.Message))
			continue
		}
		resolved = append(resolved, q)
	}
	if len(errs) > 0 {
		return nil, errs
	}
	sp = sp.extended(resolved)
	a := &Assessment{sp: sp}
	said := map[string]*compiled{} // by method and text
	a.readings = make([]compiled, 0, len(resolved))
	for _, r := range resolved {
		key := string(r.Method) + " " + r.Text
		c := said[key]
		if r.Text == "" || c == nil {
			a.readings = append(a.readings, sp.compile(r))
			said[key] = &a.readings[len(a.readings)-1]
			continue
		}
		again := *c
		again.reading = r
		a.readings = append(a.readings, again)
	}
	a.weigh()
	return a, nil
}

// MaxReadings bounds one assessment.
const MaxReadings = 200

// weigh computes the posteriors: prior times every likelihood. Products carry
// a binary exponent of their own, so that no series of readings, however long
// and contradictory, drives a build to zero on the way.
func (a *Assessment) weigh() {
	sp := a.sp
	post := make([]scaled, len(sp.hyps))
	turned, counted, texts := a.alike()
	for k, from := range sp.runs[:len(sp.runs)-1] {
		// Builds of one ratio stand together, and turns tell them apart by
		// nothing else.
		r, all := sp.ratios[from], scaled{p: 1}
		for _, t := range turned {
			l := t.ratioLikelihood(r)
			for range t.times {
				all = all.mul(l)
			}
		}
		run := post[from:sp.runs[k+1]]
		for i := range run {
			run[i] = all
		}
	}
	for _, c := range counted {
		for i := range post {
			l := c.likelihood(sp, &sp.hyps[i])
			for range c.times {
				post[i] = post[i].mul(l)
			}
		}
	}
	wary := post
	if len(texts) > 0 {
		wary = slices.Clone(post) // what a text tells depends on the prior
	}
	for _, c := range texts {
		// A text speaks for the builds that carry it. For all the others it is as likely
		// as the next, and what is the same for all cancels out.
		for _, x := range c.shown {
			l := 1 + (1-c.stale)*x.p/(c.stale*c.chance)
			w := 1 + (1-c.stale)*x.p/(c.stale*c.wary)
			for range c.times {
				post[x.at], wary[x.at] = post[x.at].mul(l), wary[x.at].mul(w)
			}
		}
	}
	prior := sp.priors
	if sp.plain {
		prior = sp.waries
	}
	a.post = scaledShares(post, prior)
	a.wary = scaledShares(wary, sp.waries)
	a.sumLabels()
}

// scaledShares are likelihoods times priors, scaled to add up to one.
func scaledShares(likelihood []scaled, prior []float64) []float64 {
	least := int32(math.MaxInt32)
	for i, x := range likelihood {
		if x.p > 0 && prior[i] > 0 {
			least = min(least, x.down)
		}
	}
	sum := 0.0
	out := make([]float64, len(likelihood))
	for i, x := range likelihood {
		switch x.down - least {
		case 0:
			out[i] = x.p * prior[i]
		case 1:
			out[i] = x.p * prior[i] / scaleBy
		} // what is further down is below 2^−512 of what leads
		sum += out[i]
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

// alike is a reading, and how many of the readings say exactly that.
type alike struct {
	*compiled
	times int
}

// alike parts the readings by what they speak of: the ratio alone, tooth counts, a
// text. What is said again weighs again and is worked out once.
func (a *Assessment) alike() (turned, counted, texts []alike) {
	put := func(list *[]alike, c *compiled, same func(alike) bool) {
		if at := slices.IndexFunc(*list, same); at >= 0 {
			(*list)[at].times++
		} else {
			*list = append(*list, alike{c, 1})
		}
	}
	for k := range a.readings {
		c := &a.readings[k]
		switch {
		case c.byRatio != nil:
			put(&turned, c, func(t alike) bool { return slices.Equal(t.byRatio, c.byRatio) })
		case c.counts != nil:
			put(&counted, c, func(t alike) bool { return slices.Equal(t.counts, c.counts) })
		default:
			put(&texts, c, func(t alike) bool { return t.by == c.by && t.reading.Text == c.reading.Text })
		}
	}
	return turned, counted, texts
}

// scaled is the number p·2^(−512·down).
type scaled struct {
	p    float64
	down int32
}

func (x scaled) mul(y float64) scaled {
	x.p *= y
	if x.p < scaleUnder && x.p > 0 {
		x.p *= scaleBy
		x.down++
	} else if x.p > scaleBy {
		x.p *= scaleUnder
		x.down--
	}
	return x
}

// Products below scaleUnder are scaled up, those above scaleBy down; both are powers
// of two, so nothing is rounded.
const (
	scaleUnder = 0x1p-512
	scaleBy    = 0x1p512
)

// sumLabels adds the builds up by their trade label.
func (a *Assessment) sumLabels() {
	sp := a.sp
	for i, label := range sp.labels {
		if n := len(a.labels); n == 0 || a.labels[n-1].label != label {
			a.labels = append(a.labels, labelMass{label: label, first: i, best: i})
		}
		l := &a.labels[len(a.labels)-1]
		l.end = i + 1
		l.mass += a.post[i]
		l.wary += a.wary[i]
		l.center += a.post[i] * sp.ratios[i]
		if a.post[i] > a.post[l.best] {
			l.best = i
		}
	}
	for i := range a.labels {
		if l := &a.labels[i]; l.mass > 0 {
			l.center /= l.mass
		} else {
			l.center = sp.hyps[l.first].r
		}
	}
}

// What a verdict lists unless more is asked for.
const (
	plausible     = 0.001 // the least probability
	maxCandidates = 40
	// MostCandidates bounds what may be asked for; then the list goes down to
	// one in a million.
	MostCandidates = 1000
	possible       = 1e-6
)

// Verdict sums up the assessment, with at most 40 candidates down to 0.1 %.
func (a *Assessment) Verdict() Verdict { return a.verdict(maxCandidates, plausible) }

// VerdictWith lists up to n candidates, down to one in a million.
func (a *Assessment) VerdictWith(n int) Verdict {
	return a.verdict(min(max(n, 1), MostCandidates), possible)
}

func (a *Assessment) verdict(most int, floor float64) Verdict {
	sp := a.sp
	v := Verdict{State: Unknown}
	v.Weighed, v.FromCatalog = sp.Size()
	v.Prior = sp.Prior()
	if len(a.readings) == 0 {
		return v
	}
	labels := slices.Clone(a.labels)
	slices.SortFunc(labels, func(x, y labelMass) int {
		if c := compareDown(x.mass, y.mass); c != 0 {
			return c
		}
		return x.first - y.first
	})
	for i, l := range labels {
		if i > 0 && (l.mass < plausible || i >= maxCandidates) {
			break
		}
		v.Labels = append(v.Labels, a.chanceOf(l))
	}
	v.Turns = a.turnsInterval()
	h, lead := a.headline(labels, v.Turns)
	v.Headline = &h
	if h.Label != "" {
		l := a.chanceOf(lead)
		l.Probability = lead.sure()
		v.Label = &l
	}
	best := lead.best
	v.Unlisted.Share = 1
	for i, at := range a.top(most) {
		if i > 0 && a.post[at] < floor {
			break
		}
		v.Candidates = append(v.Candidates, a.candidate(at, best))
		v.Unlisted.Share -= a.post[at]
	}
	v.Unlisted.Share = max(v.Unlisted.Share, 0)
	for _, p := range a.post {
		if p >= possible {
			v.Unlisted.Count++
		}
	}
	v.Unlisted.Count = max(v.Unlisted.Count-len(v.Candidates), 0)
	c := a.candidate(best, best)
	c.Probability = a.sure(best)
	v.Best = &c
	if top := a.top(1)[0]; sp.hyps[top].label != lead.label && a.post[top] > a.post[best] {
		c := a.candidate(top, best)
		v.Rival = &c
	}
	v.Formula = sp.cons[sp.hyps[best].con].Formula(sp.Stage)
	v.Findings = a.findings(best)
	v.Checks = a.checks()
	v.State = a.state(v)
	v.Note = a.note()
	return v
}

// candidate describes one build, its factors relative to those at best.
func (a *Assessment) candidate(at, best int) Candidate {
	sp := a.sp
	h := &sp.hyps[at]
	c := Candidate{Build: sp.build(at), Probability: min(a.post[at], 1), Prior: sp.weight(h), InCatalog: h.known, Common: h.common && !sp.plain}
	if sp.cons[h.con].shape == shapePair {
		c.Hunting = ratio.Pair{Driven: int(h.teeth[0]), Driver: int(h.teeth[1])}.Hunting()
	}
	c.Factors = []float64{}
	for k := range a.readings {
		c.Factors = append(c.Factors, a.readings[k].likelihood(sp, h)/a.readings[k].likelihood(sp, &sp.hyps[best]))
	}
	return c
}

// note says what the verdict rests on where that is one reading or none that
// was counted or turned.
func (a *Assessment) note() string {
	var hand []*compiled
	for k := range a.readings {
		if a.readings[k].by.byHand {
			hand = append(hand, &a.readings[k])
		}
	}
	switch {
	case len(hand) == 0:
		return "Nothing was counted or turned: this is what was written or driven, not what is in the housing."
	case len(hand) > 1 || len(a.readings) > 1:
		return ""
	case hand[0].reading.Live != nil:
		return fmt.Sprintf("Rests on one live count: in about %.0f of 100 a mark passes unseen, or is seen twice, where nothing else shows it. "+
			"Any second reading confirms it.", 100*statedLiveMark)
	case hand[0].counts == nil:
		return fmt.Sprintf("Rests on one turned reading: in about %.0f of 100 a whole turn is lost or counted twice. Any second reading confirms it.", 100*statedLostCount*lostGrowth(hand[0].shaftTurns()))
	}
	right := 1.0
	for _, n := range hand[0].counts {
		rate := statedPinionMiscount
		for _, con := range a.sp.cons {
			for _, g := range con.Teeth {
				if g.Name == n.Member && g.large {
					rate = statedRingMiscount
				}
			}
		}
		right *= 1 - rate
	}
	return fmt.Sprintf("Rests on one count: about %.0f in 100 are off by a tooth. Any second reading confirms it.", 100*(1-right))
}

func (a *Assessment) state(v Verdict) State {
	for _, f := range v.Findings {
		if f.Agreement == Disagrees {
			return Conflict
		}
	}
	for _, c := range a.readings {
		if v.Label != nil && c.by.byHand && v.Label.Probability >= SureEnough {
			return Measured
		}
	}
	return Assumed
}

func compareDown(x, y float64) int {
	switch {
	case x > y:
		return -1
	case x < y:
		return 1
	}
	return 0
}

// top returns the indexes of the n likeliest builds, best first; ties go to
// the smaller ratio, so that the order never depends on chance.
func (a *Assessment) top(n int) []int {
	cut := edgeOf(a.post, n)
	if len(a.post) > 4000 { // of large spaces only what is near the best
		cut = max(cut, slices.Max(a.post)/1e6)
	}
	var idx []int
	for i, p := range a.post {
		if p > cut {
			idx = append(idx, i)
		}
	}
	slices.SortFunc(idx, func(x, y int) int {
		if c := compareDown(a.post[x], a.post[y]); c != 0 {
			return c
		}
		return x - y
	})
	return idx[:min(len(idx), n)]
}

// edgeOf is a value under which the n largest don't go, and not many others. Floats from
// zero up are in the order of their bits, so one pass counts them by the first: by the
// exponent, and of many by sixteenths of it.
func edgeOf(values []float64, n int) float64 {
	shift := 52
	if len(values) > 4000 {
		shift = 48
	}
	counts := make([]int32, 1<<(64-shift))
	for _, v := range values {
		counts[math.Float64bits(v)>>shift]++
	}
	above := 0
	for k := len(counts) - 1; k > 0; k-- {
		if above += int(counts[k]); above >= n {
			return math.Nextafter(math.Float64frombits(uint64(k)<<shift), 0)
		}
	}
	return 0
}

// CheckReading refuses a reading that can't be, with an *Error that names its field.
func CheckReading(sp *Space, r Reading) error {
	_, err := r.resolve(sp.Stage, sp)
	return err
}
