package identify

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"
)

// Goal is what is to be settled.
type Goal string

// The goals: the label is enough for talk and for choosing gears to match; the
// exact build is needed for parts.
const (
	SettleLabel Goal = "label"
	SettlePair  Goal = "pair"
)

// Situation is what is already open, lifted or out of reach; it sets the
// minutes a measurement takes.
type Situation struct {
	CoverOff bool // the gears can be seen and counted
	OnStands bool // the wheels are lifted and free, or the unit is clamped
	Removed  bool // the unit is off the vehicle
	NoTag    bool // there is no tag
	NoStamp  bool // no stamp can be found
	NoTurns  bool // a wheel or brake is seized
	NoRoad   bool // it can't be driven
}

// Option is a measurement that could come next.
type Option struct {
	Method      Method
	OutputTurns int         // Turns, Bench
	By          RemainderBy // Turns, Bench
	Members     []string    // Teeth
	Minutes     float64
	// Settles is the probability that the goal is settled after it.
	Settles float64
	// WrongAfter is the expected chance of being wrong after it.
	WrongAfter float64
	// Total is the expected minutes until settled if it is done now.
	Total float64
	Do    string
}

// Plan is what to measure next, cheapest first.
type Plan struct {
	Goal     Goal
	Sure     float64 // probability of the leading label or build now
	Settled  bool
	Sentence string
	Options  []Option
}

// openMinutes is the work to see the gears and to close up again, typical of
// a shop; the order of the options depends on it, the verdict never.
var openMinutes = map[Kind]float64{
	RingAndPinion: 35, TwoStage: 45, TransferCase: 90, Gearbox: 120, Planetary: 45, Hub: 25, Gearcase: 90, GearPair: 20, ChainPair: 20,
}

// Minutes of the parts of a measurement.
const (
	minutesStands   = 8.0
	minutesTurn     = 0.25
	minutesEye      = 0.5
	minutesArc      = 2.5
	minutesTag      = 1.0
	minutesStamp    = 3.0
	minutesRoad     = 15.0
	minutesMember   = 1.0
	minutesPerTooth = 0.08
	// Starting one more measurement, counting an open pair, and the most
	// output turns that are asked for at once.
	anotherMinutes = 3.0
	minutesCount   = 7.0
	mostTurns      = 20
	// luck is the extra log odds that a reading is planned with, so that an
	// unlucky one settles too.
	luck = 4.0
)

// particle is a group of builds that the goal doesn't tell apart.
type particle struct {
	r     float64
	mass  float64
	teeth [4]int16
	con   uint8
	label int64
}

const (
	maxParticles = 300
	truths       = 24
)

// nodes are the midpoints of five equally likely parts of a normal spread.
var nodes = [5]float64{-1.2816, -0.5244, 0, 0.5244, 1.2816}

// planner weighs what each option would tell.
type planner struct {
	a       *Assessment
	goal    Goal
	sit     Situation
	byRatio []particle // grouped as the goal asks, by rising ratio
	builds  []particle
	covered float64 // share of the posterior that builds hold
	now     after
	leadAt  int     // index of the leading particle
	typical float64 // mean ratio
	scratch []float64
	left    spread
}

// Next ranks the measurements that could come next for a goal. From a blank
// start it says what to do first.
func (a *Assessment) Next(goal Goal, sit Situation) Plan {
	plan := Plan{Goal: goal}
	if goal == SettleLabel {
		for _, l := range a.labels {
			plan.Sure = max(plan.Sure, l.mass)
		}
	} else {
		plan.Sure = slices.Max(a.post)
	}
	plan.Sure = min(plan.Sure, 1)
	plan.Settled = len(a.readings) > 0 && plan.Sure >= SettledAt
	plan.Options = a.allOptions(goal, sit)
	sort.SliceStable(plan.Options, func(i, j int) bool { return plan.Options[i].Total < plan.Options[j].Total })
	plan.Options = distinct(plan.Options)
	plan.Sentence = plan.sentence(len(a.readings) == 0)
	return plan
}

// allOptions weighs every measurement that could be taken.
func (a *Assessment) allOptions(goal Goal, sit Situation) []Option {
	p := a.planner(goal, sit)
	return p.options()
}

func (a *Assessment) planner(goal Goal, sit Situation) *planner {
	p := &planner{a: a, goal: goal, sit: sit}
	p.builds = p.buildParticles()
	p.byRatio = p.builds
	if goal == SettleLabel {
		p.byRatio = p.labelParticles()
	}
	p.scratch = make([]float64, len(p.byRatio))
	for i, q := range p.byRatio {
		p.left.add(q.mass, q.r)
		p.typical += q.mass * q.r
		if q.mass > p.byRatio[p.leadAt].mass {
			p.leadAt = i
		}
	}
	p.now = p.left.after()
	return p
}

// distinct keeps the best of each method and way of reading the remainder.
func distinct(in []Option) []Option {
	var out []Option
	for _, o := range in {
		if !slices.ContainsFunc(out, func(x Option) bool {
			return x.Method == o.Method && x.By == o.By && len(x.Members) == len(o.Members)
		}) {
			out = append(out, o)
		}
	}
	return out
}

func (p Plan) sentence(blank bool) string {
	if len(p.Options) == 0 {
		return "Nothing can be measured as things stand: free the wheel or open the cover."
	}
	o := p.Options[0]
	what, are := "label", "is"
	if p.Goal == SettlePair {
		what, are = "exact tooth counts", "are"
	}
	next := fmt.Sprintf("Next: %s, about %s", o.Do, minutesWords(o.Minutes))
	switch {
	case blank:
		return fmt.Sprintf("Nothing measured yet. First: %s (about %s).", o.Do, minutesWords(o.Minutes))
	case p.Settled:
		return fmt.Sprintf("The %s %s settled. No further measurement is needed for that.", what, are)
	case o.Settles < 0.005:
		return fmt.Sprintf("%s; it won't settle the %s by itself, but nothing gets there sooner.", next, what)
	case o.Settles >= 0.995:
		return fmt.Sprintf("%s; that settles the %s unless something is misread.", next, what)
	}
	return fmt.Sprintf("%s; settles the %s with %.0f %% chance.", next, what, 100*o.Settles)
}

func minutesWords(m float64) string {
	n := int(math.Round(m))
	if n <= 1 {
		return "1 minute"
	}
	return fmt.Sprintf("%d minutes", n)
}

// buildParticles are the likeliest builds, renormalized.
func (p *planner) buildParticles() []particle {
	idx := p.a.top(maxParticles)
	sort.Ints(idx)
	out := make([]particle, 0, len(idx))
	sum := 0.0
	for _, i := range idx {
		h := &p.a.sp.hyps[i]
		out = append(out, particle{h.r, p.a.post[i], h.teeth, h.con, h.label})
		sum += p.a.post[i]
	}
	p.covered = sum
	for i := range out {
		out[i].mass /= sum
	}
	return out
}

func (p *planner) labelParticles() []particle {
	ls := slices.Clone(p.a.labels)
	if len(ls) > maxParticles {
		slices.SortStableFunc(ls, func(x, y labelMass) int { return compareDown(x.mass, y.mass) })
		ls = ls[:maxParticles]
		slices.SortStableFunc(ls, func(x, y labelMass) int { return x.first - y.first })
	}
	out := make([]particle, 0, len(ls))
	sum := 0.0
	for _, l := range ls {
		out = append(out, particle{r: l.center, mass: l.mass, label: l.label})
		sum += l.mass
	}
	for i := range out {
		out[i].mass /= sum
	}
	return out
}

// truth is a particle that could be true, with its share of the sample.
type truth struct {
	particle
	share float64
}

// quantiles picks particles evenly through the posterior mass: a small
// deterministic sample of what could be true. A heavy particle that is picked
// several times stands once, with the sum of its shares.
func quantiles(ps []particle) []truth {
	out := make([]truth, 0, truths)
	acc, k := 0.0, 0
	for _, q := range ps {
		acc += q.mass
		n := k
		for k < truths && (float64(k)+0.5)/truths <= acc {
			k++
		}
		if k > n {
			out = append(out, truth{q, float64(k - n)})
		}
	}
	for i := range out {
		out[i].share /= float64(k)
	}
	return out
}

// after is what is left once a result is seen: the largest mass, and how far
// from it the nearest ratio lies that still counts.
type after struct{ lead, gap float64 }

// spread collects masses, in any scale and by rising ratio, into a result.
type spread struct {
	total float64
	w, r  []float64
}

func (s *spread) reset(total float64) { s.total, s.w, s.r = total, s.w[:0], s.r[:0] }

func (s *spread) add(w, r float64) {
	s.total += w
	s.w, s.r = append(s.w, w), append(s.r, r)
}

// after sums up. Rivals below half the error that settling allows are left out.
func (s *spread) after() after {
	if s.total <= 0 || len(s.w) == 0 {
		return after{}
	}
	at := 0
	for i, w := range s.w {
		if w > s.w[at] {
			at = i
		}
	}
	least := (1 - SettledAt) / 2 * s.total
	gap := math.Inf(1)
	for i := at - 1; i >= 0; i-- {
		if s.w[i] > least {
			gap = s.r[at] - s.r[i]
			break
		}
	}
	for i := at + 1; i < len(s.w); i++ {
		if s.w[i] > least {
			gap = min(gap, s.r[i]-s.r[at])
			break
		}
	}
	return after{s.w[at] / s.total, gap}
}

// outcome sums what a measurement is expected to leave.
type outcome struct {
	p                            *planner
	lift, open                   float64 // minutes still to spend before turning or counting afterward
	settles, wrong, rest, weight float64
}

// outcome begins an empty sum for a measurement by the method.
func (p *planner) outcome(m Method) outcome {
	o := outcome{p: p, lift: p.lift(), open: p.open()}
	switch m {
	case Turns, Bench:
		o.lift = 0
	case Teeth, Stamp:
		o.open = 0
	}
	return o
}

// add records one possible result.
func (o *outcome) add(w float64, a after) {
	o.weight += w
	o.wrong += w * (1 - a.lead)
	if a.lead >= SettledAt {
		o.settles += w
		return
	}
	o.rest += w * o.minutesToSettle(a)
}

// blunder records the share of results that mislead: no nearer than before,
// and one more measurement to find out.
func (o *outcome) blunder() {
	now := o.p.now
	w := max(0, 1-o.weight)
	o.wrong += w * (1 - now.lead)
	o.rest += w * (o.minutesToSettle(now) + anotherMinutes)
}

// minutesToSettle is the cost of telling the leading mass from its rival. A
// normal reading with spread σ is expected to shift the log odds by gap²/2σ²;
// N output turns divide σ by N. The housing is opened where that is cheaper.
func (o *outcome) minutesToSettle(a after) float64 {
	need := math.Log(SettledAt / (1 - SettledAt) * max(1-a.lead, 1e-9) / max(a.lead, 1e-9))
	count := o.open + minutesCount
	if o.p.sit.NoTurns || need <= 0 {
		return anotherMinutes + count
	}
	turning := math.Inf(1)
	if a.gap > 0 {
		r := o.p.typical
		for _, by := range [2][2]float64{{sigmaEye, minutesEye}, {sigmaArcMM / typicalRim, minutesArc}} {
			n := planSpread * math.Hypot(by[0], r*sigmaWheel) * math.Sqrt(2*(need+luck)) / a.gap
			times := 1.0
			if n > mostTurns { // repeat instead
				times, n = math.Ceil(n*n/(mostTurns*mostTurns)), mostTurns
			}
			turning = min(turning, times*(by[1]+math.Ceil(n)*turnMinutes(r)))
		}
		turning += o.lift
	}
	return anotherMinutes + min(turning, count)
}

// turnMinutes is the time for one output turn.
func turnMinutes(r float64) float64 { return minutesTurn * max(1, r/4) }

func (p *planner) options() []Option {
	var out []Option
	kind := p.a.sp.Stage.Kind
	used := map[Method]bool{}
	for _, c := range p.a.readings {
		used[c.reading.Method] = true
	}
	add := func(o Option, res outcome) {
		res.blunder()
		o.Settles, o.WrongAfter = res.settles, min(res.wrong, 1-p.now.lead)
		o.Total = o.Minutes + res.rest
		out = append(out, o)
	}
	axle := kind == RingAndPinion || kind == TwoStage
	if !used[Tag] && !p.sit.NoTag {
		add(Option{Method: Tag, Minutes: minutesTag, Do: "look for the tag and read it"}, p.markOutcome(Tag, rateStaleTag))
	}
	open := p.open()
	if !used[Stamp] && !p.sit.NoStamp {
		add(Option{Method: Stamp, Minutes: open + minutesStamp, Do: p.openWords() + "wire-brush and read the stamp"}, p.markOutcome(Stamp, rateStaleStamp))
	}
	if !p.sit.NoTurns {
		p.turnOptions(axle, add)
	}
	if axle && !p.sit.NoRoad && !p.sit.Removed && !used[Road] {
		add(Option{Method: Road, Minutes: minutesRoad, Do: "drive at a steady true speed and note the engine speed"},
			p.gaussOutcome(Road, mode{m: 1, sigmaM: sigmaRoad}, rateRoadOther, 0, 0))
	}
	p.teethOptions(open, add)
	return out
}

// open and lift are the minutes until gears can be counted or wheels turned.
func (p *planner) open() float64 {
	if p.sit.CoverOff {
		return 0
	}
	return openMinutes[p.a.sp.Stage.Kind]
}

func (p *planner) lift() float64 {
	if p.sit.OnStands || p.sit.Removed {
		return 0
	}
	return minutesStands
}

func (p *planner) openWords() string {
	if p.sit.CoverOff {
		return ""
	}
	return "open the housing, "
}

func (p *planner) turnOptions(axle bool, add func(Option, outcome)) {
	method := Bench
	if axle && !p.sit.Removed {
		method = Turns
	}
	finest := math.Inf(1)
	for _, c := range p.a.readings {
		if c.reading.Method == Turns || c.reading.Method == Bench {
			finest = min(finest, c.sigma)
		}
	}
	for _, n := range []int{1, 2, 4, 6, 10, mostTurns} {
		for _, by := range []RemainderBy{ByEye, ByArc} {
			sig := sigmaEye
			if by == ByArc {
				sig = sigmaArcMM / typicalRim
			}
			turnWords := fmt.Sprintf("%d turns", n)
			if n == 1 {
				turnWords = "1 turn"
			}
			how := "read the remainder by eye"
			if by == ByArc {
				how = "measure the remainder along the rim"
			}
			do := fmt.Sprintf("turn the output %s, count the input, %s", turnWords, how)
			sm := sigmaWheel
			if method == Turns {
				do = fmt.Sprintf("turn both wheels %s together, count the shaft, %s", turnWords, how)
				sm = sigmaWheel / math.Sqrt2
			}
			res := p.gaussOutcome(method, mode{m: float64(n), sigmaS: sig, sigmaM: sm}, rateOtherUnit+rateHeldUnseen, rateLostCount, 1)
			// Coarser than what was turned already: only to confirm.
			if sigma := math.Hypot(sig, p.typical*sm) / float64(n); sigma >= finest && res.settles < 0.5 {
				continue
			}
			add(Option{Method: method, OutputTurns: n, By: by, Minutes: p.turningMinutes(n, by), Do: do}, res)
		}
	}
}

// turningMinutes is what n output turns take with the remainder judged so.
func (p *planner) turningMinutes(n int, by RemainderBy) float64 {
	rest := minutesEye
	if by == ByArc {
		rest = minutesArc
	}
	return p.lift() + rest + float64(n)*turnMinutes(p.typical)
}

// typicalRim is the circumference assumed when planning an arc, mm.
const typicalRim = 380.0

// gaussOutcome is what a reading with normal error tells: for each possible
// truth and error, what is left.
func (p *planner) gaussOutcome(by Method, o mode, other, lost, step float64) outcome {
	res := p.outcome(by)
	ps := p.byRatio
	if len(ps) == 0 {
		return res
	}
	span := max(ps[len(ps)-1].r-ps[0].r, 0.5)
	floor := other / (o.m * span)
	right := 1 - other - lost
	ts := quantiles(ps)
	for _, truth := range ts {
		sd := planSpread * math.Sqrt(o.sigmaS*o.sigmaS+truth.r*truth.r*o.sigmaM*o.sigmaM)
		for _, z := range nodes {
			res.add(right*truth.share/float64(len(nodes)), p.afterTurn(o, truth.r*o.m+z*sd, right, lost, step, floor))
		}
	}
	return res
}

// planSpread is the standard deviation of the two-part hand error model in
// units of its narrow part.
const planSpread = 1.2

// afterTurn is what is left after observing s.
func (p *planner) afterTurn(o mode, s, right, lost, step, floor float64) after {
	ps := p.byRatio
	lo, hi := len(ps), -1
	apply := func(w, at float64) {
		reach := 5 * math.Hypot(o.sigmaS, at/o.m*o.sigmaM)
		from := sort.Search(len(ps), func(i int) bool { return ps[i].r*o.m >= at-reach })
		for i := from; i < len(ps) && ps[i].r*o.m <= at+reach; i++ {
			r := ps[i].r
			v := planSpread * planSpread * (o.sigmaS*o.sigmaS + r*r*o.sigmaM*o.sigmaM)
			d := at - r*o.m
			p.scratch[i] += ps[i].mass * w * math.Exp(-d*d/(2*v)) / (math.Sqrt(v) * sqrt2Pi)
			lo, hi = min(lo, i), max(hi, i)
		}
	}
	apply(right, s)
	if lost > 0 {
		apply(lost/2, s+step)
		apply(lost/2, s-step)
	}
	// Outside the windows every particle keeps its mass times the floor.
	p.left.reset(floor)
	for i := lo; i <= hi; i++ {
		if d := p.scratch[i]; d != 0 {
			p.left.total -= ps[i].mass * floor
			p.left.add(d+ps[i].mass*floor, ps[i].r)
			p.scratch[i] = 0
		}
	}
	if p.leadAt < lo || p.leadAt > hi {
		p.left.add(ps[p.leadAt].mass*floor, ps[p.leadAt].r)
		p.left.total -= ps[p.leadAt].mass * floor
	}
	return p.left.after()
}

// markOutcome is what a tag (a label) or a stamp (the counts) tells.
func (p *planner) markOutcome(by Method, stale float64) outcome {
	res := p.outcome(by)
	ps := p.byRatio
	byLabel := by == Tag || p.goal == SettleLabel
	ts := quantiles(ps)
	for _, truth := range ts {
		same := func(q *particle) bool {
			return q.label == truth.label && (byLabel || (q.teeth == truth.teeth && q.con == truth.con))
		}
		chance := 0.0
		for i := range ps {
			if same(&ps[i]) {
				chance += ps[i].mass
			}
		}
		p.left.reset(0)
		for i := range ps {
			w := ps[i].mass * stale * chance
			if same(&ps[i]) {
				w += ps[i].mass * (1 - stale)
			}
			p.left.add(w, ps[i].r)
		}
		res.add((1-stale)*truth.share, p.left.after())
	}
	return res
}

// likeliest is the index of the leading build.
func (p *planner) likeliest() int {
	at := 0
	for i, q := range p.builds {
		if q.mass > p.builds[at].mass {
			at = i
		}
	}
	return at
}

// countingMinutes is what counting every gear of a build takes.
func (p *planner) countingMinutes(at int) float64 {
	q, minutes := &p.builds[at], 0.0
	for i := range p.a.sp.cons[q.con].Teeth {
		minutes += minutesMember + minutesPerTooth*float64(q.teeth[i])
	}
	return minutes
}

// teethOptions offers counting all gears of the likeliest construction.
func (p *planner) teethOptions(open float64, add func(Option, outcome)) {
	if len(p.builds) == 0 {
		return
	}
	at := p.likeliest()
	con := &p.a.sp.cons[p.builds[at].con]
	if len(con.Teeth) == 0 {
		return
	}
	members := make([]string, len(con.Teeth))
	words := make([]string, len(con.Teeth))
	for i, g := range con.Teeth {
		members[i], words[i] = g.Name, g.Words
	}
	minutes := open + p.countingMinutes(at)
	do := p.openWords() + "count the teeth of " + joinAnd(words)
	add(Option{Method: Teeth, Members: members, Minutes: minutes, Do: do}, p.teethOutcome(con))
}

func joinAnd(w []string) string {
	if len(w) < 2 {
		return strings.Join(w, "")
	}
	return strings.Join(w[:len(w)-1], ", ") + " and " + w[len(w)-1]
}

func (p *planner) teethOutcome(con *Construction) outcome {
	res := p.outcome(Teeth)
	n := len(con.Teeth)
	if p.covered < 0.5 {
		// Too many builds to sample: all counts right name the build.
		right := 1.0
		for i := range n {
			right *= countChance(0, 0, con.Teeth[i].large)
		}
		res.add(right, after{lead: right, gap: 0.1})
		return res
	}
	ts := quantiles(p.builds)
	for _, truth := range ts {
		if len(p.a.sp.cons[truth.con].Teeth) != n {
			continue
		}
		// Right, or one member off by one.
		for k := -1; k < 2*n; k++ {
			seen := truth.teeth
			w := 1.0
			if k >= 0 {
				seen[k/2] += int16(1 - 2*(k%2))
			}
			for i := range n {
				w *= countChance(int(seen[i]), int(truth.teeth[i]), con.Teeth[i].large)
			}
			if left := p.afterCount(con, truth.con, seen); left.lead > 0 {
				res.add(w*truth.share, left)
			}
		}
	}
	return res
}

// afterCount is what is left after counting seen.
func (p *planner) afterCount(con *Construction, ci uint8, seen [4]int16) after {
	left := &p.left
	left.reset(0)
	run, at := 0.0, 0.0
	label := int64(math.MinInt64)
	for j := range p.builds {
		q := &p.builds[j]
		if q.con != ci {
			continue
		}
		l := q.mass
		for i := range con.Teeth {
			l *= countChance(int(seen[i]), int(q.teeth[i]), con.Teeth[i].large)
		}
		// Builds are sorted by ratio, so a label's builds stand together.
		if p.goal == SettlePair || q.label != label {
			left.add(run, at)
			run, label, at = 0, q.label, q.r
		}
		run += l
	}
	left.add(run, at)
	return left.after()
}
