package identify

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/fault"
	"zorvel/core/ratio"
)

// State is how much is known of a stage.
type State string

// The states of a stage.
const (
	Unknown  State = "unknown"  // no reading
	Assumed  State = "assumed"  // readings, but nothing counted or turned makes it sure
	Measured State = "measured" // counted or turned, label at least 90 % sure, nothing disagrees
	Conflict State = "conflict" // a reading disagrees with the rest
)

// SureEnough is the label probability from which a counted or turned stage
// counts as measured; SettledAt is the one from which no next measurement is
// asked for.
const (
	SureEnough = 0.90
	SettledAt  = 0.995
)

// Errors are all faults found in one input.
type Errors = fault.Errors

// Candidate is a build that is still plausible.
type Candidate struct {
	Build       Build
	Probability float64
	Prior       float64
	InCatalog   bool
	Hunting     ratio.Hunting // empty unless the build is one pair
	// Factors holds, for each reading in order, its likelihood at this
	// build relative to the best candidate's.
	Factors []float64
}

// LabelChance is a trade label with its probability. Ratio is the likeliest
// build's exact ratio under that label.
type LabelChance struct {
	Label       string
	Ratio       ratio.Ratio
	Probability float64
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
type Interval struct{ Low, High float64 }

// Finding is what the verdict says of one reading.
type Finding struct {
	ReadingID string
	Summary   string // the reading in a few words
	Method    Method
	Agreement Agreement
	// Right is the probability that the reading is right as it stands,
	// given all evidence.
	Right float64
	// Says is the ratio the reading gives by itself; Interval its 95 %
	// range. Zero where the reading gives no ratio (one gear counted).
	Says     float64
	Interval Interval
	// Cause is the likeliest cause when the reading doesn't agree.
	Cause  Cause
	Reason string
	// Origin is the arithmetic behind Says, a line each.
	Origin []string
}

// TurnsInterval is what the turned readings alone allow.
type TurnsInterval struct {
	Center  float64
	Low     float64 // 95 %
	High    float64
	Used    []string // IDs of the readings in the weighted mean
	LeftOut []string // IDs of turned readings that don't fit the others
}

// Verdict is all evidence weighed together.
type Verdict struct {
	State State
	// Best is nil when nothing was measured.
	Best       *Candidate
	Label      *LabelChance
	Labels     []LabelChance // likeliest first, down to 0.1 %
	Candidates []Candidate   // likeliest first, down to 0.1 %, at most 40
	Turns      *TurnsInterval
	Findings   []Finding
	Checks     []Check
	// Weighed is the number of builds weighed, FromCatalog how many of
	// them the shop knows.
	Weighed, FromCatalog int
	Formula              string
}

// Assessment is a space with readings weighed into it; ask it for the verdict,
// the next measurement and the order gate.
type Assessment struct {
	sp       *Space
	readings []compiled
	post     []float64 // posterior over sp.hyps
	labels   []labelMass
}

type labelMass struct {
	label  int64
	first  int // index range in sp.hyps
	end    int
	mass   float64
	best   int
	center float64 // mass-weighted ratio
}

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
	for _, r := range resolved {
		a.readings = append(a.readings, sp.compile(r))
	}
	a.weigh()
	return a, nil
}

// MaxReadings bounds one assessment.
const MaxReadings = 200

// weigh computes the posterior: prior times every likelihood, normalized
// after each reading so that long contradictory series can't underflow.
func (a *Assessment) weigh() {
	sp := a.sp
	a.post = make([]float64, len(sp.hyps))
	for i := range sp.hyps {
		a.post[i] = sp.hyps[i].prior
	}
	for k := range a.readings {
		c := &a.readings[k]
		lastR, lastL := -1.0, 0.0
		sum := 0.0
		for i := range a.post {
			if a.post[i] == 0 {
				continue
			}
			h := &sp.hyps[i]
			if c.byRatio != nil {
				if h.r != lastR {
					lastR, lastL = h.r, c.ratioLikelihood(h.r)
				}
				a.post[i] *= lastL
			} else {
				a.post[i] *= c.likelihood(sp, h)
			}
			sum += a.post[i]
		}
		for i := range a.post {
			a.post[i] /= sum
			if a.post[i] < 1e-250 {
				a.post[i] = 0
			}
		}
	}
	for i := range sp.hyps {
		h := &sp.hyps[i]
		if n := len(a.labels); n == 0 || a.labels[n-1].label != h.label {
			a.labels = append(a.labels, labelMass{label: h.label, first: i, best: i})
		}
		l := &a.labels[len(a.labels)-1]
		l.end = i + 1
		l.mass += a.post[i]
		l.center += a.post[i] * h.r
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

const (
	plausible     = 0.001
	maxCandidates = 40
)

// Verdict sums up the assessment.
func (a *Assessment) Verdict() Verdict {
	sp := a.sp
	v := Verdict{State: Unknown}
	v.Weighed, v.FromCatalog = sp.Size()
	if len(a.readings) == 0 {
		return v
	}
	labels := slices.Clone(a.labels)
	slices.SortStableFunc(labels, func(x, y labelMass) int { return compareDown(x.mass, y.mass) })
	for i, l := range labels {
		if i > 0 && (l.mass < plausible || i >= maxCandidates) {
			break
		}
		r := sp.hyps[l.best].exact
		v.Labels = append(v.Labels, LabelChance{Label: r.Label(), Ratio: r, Probability: min(l.mass, 1)})
	}
	v.Label = &v.Labels[0]
	top := a.top(maxCandidates)
	best := top[0]
	for i, at := range top {
		if i > 0 && a.post[at] < plausible {
			break
		}
		h := &sp.hyps[at]
		c := Candidate{Build: sp.build(at), Probability: min(a.post[at], 1), Prior: h.prior, InCatalog: h.known}
		if sp.cons[h.con].shape == shapePair {
			c.Hunting = ratio.Pair{Driven: int(h.teeth[0]), Driver: int(h.teeth[1])}.Hunting()
		}
		for k := range a.readings {
			c.Factors = append(c.Factors, a.readings[k].likelihood(sp, h)/a.readings[k].likelihood(sp, &sp.hyps[best]))
		}
		v.Candidates = append(v.Candidates, c)
	}
	v.Best = &v.Candidates[0]
	con := sp.cons[sp.hyps[best].con]
	v.Formula = con.Formula(sp.Stage)
	v.Findings = a.findings()
	v.Turns = a.turnsInterval()
	v.Checks = a.checks()
	v.State = a.state(v)
	return v
}

func (a *Assessment) state(v Verdict) State {
	for _, f := range v.Findings {
		if f.Agreement == Disagrees {
			return Conflict
		}
	}
	for _, c := range a.readings {
		m := c.reading.Method
		if (m == Teeth || m == Turns || m == Bench) && v.Label.Probability >= SureEnough {
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
	cut := 0.0
	if len(a.post) > 4000 { // skim large spaces before sorting
		cut = slices.Max(a.post) / 1e6
	}
	var idx []int
	for i, p := range a.post {
		if p > cut {
			idx = append(idx, i)
		}
	}
	if len(idx) > 4*n { // cut at the n-th largest before sorting by it
		values := make([]float64, len(idx))
		for i, at := range idx {
			values[i] = a.post[at]
		}
		slices.Sort(values)
		least := values[len(values)-n]
		idx = slices.DeleteFunc(idx, func(at int) bool { return a.post[at] < least })
	}
	slices.SortStableFunc(idx, func(x, y int) int { return compareDown(a.post[x], a.post[y]) })
	if len(idx) > n {
		idx = idx[:n]
	}
	return idx
}

// weighted is a build with its share of the posterior.
type weighted struct {
	at int
	w  float64
}

// representatives stand for the posterior: every build with a share worth
// naming, or in large spaces where no build stands out the best of each label.
func (a *Assessment) representatives() []weighted {
	const many = 3000
	var out []weighted
	if len(a.post) <= many {
		for i, p := range a.post {
			if p > 1e-9 {
				out = append(out, weighted{i, p})
			}
		}
		return out
	}
	sum := 0.0
	for _, at := range a.top(many) {
		sum += a.post[at]
		out = append(out, weighted{at, a.post[at]})
	}
	if sum > 0.9 {
		return out
	}
	out = out[:0]
	for _, l := range a.labels {
		if l.mass > 1e-9 {
			out = append(out, weighted{l.best, l.mass})
		}
	}
	return out
}

// findings holds every reading against the posterior.
func (a *Assessment) findings() []Finding {
	var out []Finding
	reps := a.representatives()
	total := 0.0
	for _, r := range reps {
		total += r.w
	}
	for k := range a.readings {
		c := &a.readings[k]
		var shares [numCauses]float64
		for _, r := range reps {
			c.addCauses(a.sp, &a.sp.hyps[r.at], r.w/total, &shares)
		}
		f := Finding{ReadingID: c.reading.ID, Summary: c.reading.Summary(), Method: c.reading.Method, Right: min(shares[CauseRight], 1), Says: c.center, Origin: c.origin()}
		if c.counts != nil {
			f.Says = a.countedRatio(c)
		}
		if f.Says > 0 {
			f.Interval = Interval{f.Says - c.half, f.Says + c.half}
		}
		cause := CauseRight
		switch {
		case f.Right >= 0.7:
			f.Agreement = Agrees
		case f.Right >= 0.3:
			f.Agreement = Doubtful
		default:
			f.Agreement = Disagrees
		}
		if f.Agreement != Agrees {
			most := 0.0
			for other := CauseRight + 1; other < numCauses; other++ {
				if shares[other] > most {
					most, cause = shares[other], other
				}
			}
		}
		f.Cause, f.Reason = cause, cause.say(c.reading.Method)
		out = append(out, f)
	}
	return out
}

// countedRatio is the ratio that a tooth count gives by itself, or 0 when it
// doesn't hold all gears of the best build's construction.
func (a *Assessment) countedRatio(c *compiled) float64 {
	for _, con := range a.sp.cons {
		if len(con.Teeth) == 0 {
			continue
		}
		t := make([]int, len(con.Teeth))
		for i, g := range con.Teeth {
			for _, n := range c.counts {
				if n.Member == g.Name {
					t[i] = n.Count
				}
			}
		}
		if slices.Contains(t, 0) {
			continue
		}
		if r, err := con.ratioOf(a.sp.Stage, t); err == nil {
			return math.Abs(r.Float())
		}
	}
	return 0
}

// turnsInterval is the precision-weighted mean of the turned readings that
// agree among themselves, with its 95 % interval (GUM 4.1, weighted mean).
func (a *Assessment) turnsInterval() *TurnsInterval {
	var turned []*compiled
	for k := range a.readings {
		if m := a.readings[k].reading.Method; m == Turns || m == Bench {
			turned = append(turned, &a.readings[k])
		}
	}
	if len(turned) == 0 {
		return nil
	}
	// Start from the reading that the others support best.
	center, most := 0.0, math.Inf(-1)
	for _, c := range turned {
		s := 0.0
		for _, o := range turned {
			s += math.Log(o.ratioLikelihood(c.center))
		}
		if s > most {
			most, center = s, c.center
		}
	}
	t := &TurnsInterval{}
	for range 3 {
		num, den := 0.0, 0.0
		t.Used, t.LeftOut = nil, nil
		for _, c := range turned {
			if math.Abs(c.center-center) > 3*c.sigma {
				t.LeftOut = append(t.LeftOut, c.reading.ID)
				continue
			}
			t.Used = append(t.Used, c.reading.ID)
			w := 1 / (c.sigma * c.sigma)
			num, den = num+w*c.center, den+w
		}
		if den == 0 {
			break
		}
		center = num / den
		half := z95 / math.Sqrt(den)
		t.Center, t.Low, t.High = center, center-half, center+half
	}
	if t.Center == 0 {
		return nil
	}
	return t
}

// checks collects the build checks of complete counts.
func (a *Assessment) checks() []Check {
	var out []Check
	for k := range a.readings {
		counts := map[string]int{}
		for _, n := range a.readings[k].counts {
			counts[n.Member] = n.Count
		}
		if len(counts) == 0 {
			continue
		}
		for _, con := range a.sp.cons {
			t := make([]int, len(con.Teeth))
			found := len(con.Teeth) > 0
			for i, g := range con.Teeth {
				t[i] = counts[g.Name]
				found = found && t[i] > 0
			}
			if !found {
				continue
			}
			for _, ch := range a.sp.Stage.BuildChecks(con, t, counts["planets"], counts["planet"]) {
				if !slices.Contains(out, ch) {
					out = append(out, ch)
				}
			}
			break
		}
	}
	return out
}

// CheckReading refuses a reading that can't be, with an *Error that names its field.
func CheckReading(sp *Space, r Reading) error {
	_, err := r.resolve(sp.Stage, sp)
	return err
}
