package identify

import (
	"fmt"
	"math"
	"sort"
	"strings"
)

// handMinutes is the time for n output turns by hand: the shaft is counted aloud
// from a chalk mark, and arms tire.
func handMinutes(n, r float64) float64 {
	shaft := n * max(r, 2)
	return minutesShaft * shaft * (1 + shaft/tiring/2)
}

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
	if p.hasTag() && !used[Tag] && !p.sit.NoTag {
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

// hasTag reports whether a tag is worth looking for: a tag tells the ratio of an
// axle or a transfer case, not that of one gear of a gearbox, and who has seen the
// gears has no use for it.
func (p *planner) hasTag() bool {
	switch p.a.sp.Stage.Kind {
	case RingAndPinion, TwoStage, TransferCase:
		return !p.seen()
	}
	return false
}

// seen reports whether the gears can be seen now: so told, or looked at last.
func (p *planner) seen() bool {
	if p.sit.CoverOff {
		return true
	}
	rs := p.a.readings
	if len(rs) == 0 {
		return false
	}
	last := rs[len(rs)-1].reading.Method
	return last == Teeth || last == Stamp
}

// open and lift are the minutes until gears can be counted or wheels turned.
func (p *planner) open() float64 {
	if p.seen() {
		return 0
	}
	return openMinutes[p.a.sp.Stage.Kind]
}

func (p *planner) lift() float64 {
	switch k := p.a.sp.Stage.Kind; {
	case p.sit.OnStands, p.sit.Removed:
		return 0
	case k == Gearcase, k == GearPair, k == ChainPair, k == Planetary:
		return minutesReady
	}
	return minutesStands
}

func (p *planner) openWords() string {
	if p.seen() {
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
	for _, n := range p.turnCounts() {
		for _, by := range []RemainderBy{ByEye, ByArc} {
			sig := sigmaEye
			if by == ByArc {
				sig = sigmaArcMM / typicalRim
			}
			sm := sigmaWheel
			if method == Turns {
				sm = sigmaWheel / math.Sqrt2
			}
			res := p.gaussOutcome(method, mode{m: float64(n), spread: even(sig), sigmaM: sm}, rateOtherUnit+rateHeldUnseen, lostRate(float64(n)*p.typical), 1)
			// Coarser than what was turned already: only to confirm.
			if sigma := math.Hypot(sig, p.typical*sm) / float64(n); sigma >= finest && res.settles < 0.5 {
				continue
			}
			add(Option{Method: method, OutputTurns: n, By: by, Minutes: p.turningMinutes(n, by), Do: p.turnWords(method, n, by)}, res)
		}
	}
}

// turningMinutes is what n output turns take with the remainder judged so.
func (p *planner) turningMinutes(n int, by RemainderBy) float64 {
	rest := minutesEye
	if by == ByArc {
		rest = minutesArc
	}
	return p.lift() + rest + handMinutes(float64(n), p.typical)
}

// turnCounts are the output turns that may be asked for at once.
func (p *planner) turnCounts() []int {
	counts := []int{1, 2, 4}
	if len(p.a.readings) > 0 { // nobody begins with a long count
		counts = append(counts, 6, mostTurns)
	}
	if p.sit.ManyTurns {
		counts = append(counts, 12, manyTurns)
	}
	return counts
}

// turnWords says how n output turns are counted at this stage.
func (p *planner) turnWords(method Method, n int, by RemainderBy) string {
	turns := fmt.Sprintf("%d turns", n)
	if n == 1 {
		turns = "1 turn"
	}
	how := "read the partial turn by eye"
	if by == ByArc {
		how = "measure the partial turn along the rim"
	}
	st := p.a.sp.Stage
	switch {
	case method == Turns:
		return fmt.Sprintf("turn both wheels %s together, count the driveshaft, %s", turns, how)
	case st.Kind == Gearcase:
		return fmt.Sprintf("in forward gear, turn the drive shaft the way the engine turns it until the propeller shaft has made %s, count the drive shaft, %s", turns, how)
	case st.Kind == Gearbox:
		gear := "gear " + st.Position
		if st.Position == "gear" {
			gear = "the gear that is asked"
		}
		return fmt.Sprintf("in %s, turn the input until the output has made %s, count the input, %s", gear, turns, how)
	case st.Kind == TransferCase && st.Position == "front":
		return fmt.Sprintf("with the front engaged, turn the front output %s, count the rear output, %s", turns, how)
	case st.Kind == TransferCase:
		return fmt.Sprintf("in %s range, turn the input until the rear output has made %s, count the input, %s", st.Position, turns, how)
	}
	return fmt.Sprintf("turn %s %s, count the input, %s", st.Kind.output(), turns, how)
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
		sd := planSpread * math.Sqrt(o.spread.below*o.spread.below+truth.r*truth.r*o.sigmaM*o.sigmaM)
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
		reach := 5 * math.Hypot(o.spread.below, at/o.m*o.sigmaM)
		from := sort.Search(len(ps), func(i int) bool { return ps[i].r*o.m >= at-reach })
		for i := from; i < len(ps) && ps[i].r*o.m <= at+reach; i++ {
			r := ps[i].r
			v := planSpread * planSpread * (o.spread.below*o.spread.below + r*r*o.sigmaM*o.sigmaM)
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
