package identify

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

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

// findings holds every reading against the posterior and the leading build.
func (a *Assessment) findings(best int) []Finding {
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
		f := Finding{ReadingID: c.reading.ID, Summary: c.reading.Summary(), Method: c.reading.Method,
			Right: min(shares[CauseRight], 1), Says: c.center, Origin: c.by.origin(c)}
		if c.counts != nil {
			f.Says = a.countedRatio(c)
		}
		if f.Says > 0 {
			f.Interval = c.own
			if c.counts != nil {
				f.Interval = Interval{f.Says, f.Says}
			}
		}
		cause := CauseRight
		switch {
		case f.Right >= 0.7, len(a.readings) == 1: // nothing speaks against it
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
		f.Cause, f.Reason = cause, cause.say(c.by)
		a.holdToInterval(&f, c, best)
		f.Recount = a.recount(f)
		out = append(out, f)
	}
	return out
}

// recount says how to take a reading again that doesn't agree: more turns than
// before, both wheels, the other readings hidden.
func (a *Assessment) recount(f Finding) string {
	if f.Agreement == Agrees {
		return ""
	}
	if w, ok := techniqueOf(f.Method); ok && w.again != nil {
		return w.again(a.sp.Stage.Kind)
	}
	return ""
}

// unseen ends how a reading is taken again: what one knows, one reads.
const unseen = "with the other readings hidden."

// holdToInterval names a turned reading whose own range leaves the verdict
// out, however likely the rest of the evidence makes the verdict: beyond the
// 95 % range it is doubted, beyond farRanges it disagrees.
func (a *Assessment) holdToInterval(f *Finding, c *compiled, best int) {
	if !c.by.turned || c.sigma <= 0 {
		return
	}
	h := &a.sp.hyps[best]
	off := c.off(h.r)
	if off <= 1 {
		return
	}
	if f.Cause == CauseRight {
		f.Agreement, f.Cause = Doubtful, CauseMisread
	}
	if off > farRanges {
		f.Agreement = Disagrees
	}
	f.Reason = fmt.Sprintf("its own range, %.2f to %.2f, leaves out %s; perhaps %s",
		f.Interval.Low, f.Interval.High, h.exact().Label(), f.Cause.say(c.by))
}

// off is how far a ratio lies from what the reading says, in halves of its own 95 %
// range on that side: 1 is its edge.
func (c *compiled) off(r float64) float64 {
	if r < c.center {
		return (c.center - r) / (c.center - c.own.Low)
	}
	return (r - c.center) / (c.own.High - c.center)
}

// farRanges is how far a turned reading may lie from the verdict, in its own ranges,
// before it disagrees: four standard deviations. Careful readings lie beyond in
// about 8 of 1000 cases.
const farRanges = 4 / z95

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
		if a.readings[k].by.turned {
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
	var used []*compiled
	for range 3 {
		num, den := 0.0, 0.0
		t.Used, t.LeftOut, used = []string{}, []string{}, used[:0]
		for _, c := range turned {
			if c.off(center) > nearRanges {
				t.LeftOut = append(t.LeftOut, c.reading.ID)
				continue
			}
			t.Used, used = append(t.Used, c.reading.ID), append(used, c)
			w := 1 / (c.sigma * c.sigma)
			num, den = num+w*c.mean, den+w
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
	if len(used) == 1 { // its own range, which may be longer to one side
		c := used[0]
		t.Center, t.Low, t.High = c.center, c.own.Low, c.own.High
	}
	return t
}

// nearRanges is how far a turned reading may lie from the others and count as
// agreeing with them: three standard deviations.
const nearRanges = 3 / z95

// checks collects the build checks of complete counts, and what would be
// unusual if a mark means what it may mean.
func (a *Assessment) checks() []Check {
	var out []Check
	for k := range a.readings {
		for _, ch := range a.readings[k].markChecks(a.sp) {
			if !slices.Contains(out, ch) {
				out = append(out, ch)
			}
		}
	}
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

// markChecks warns of a mark's meanings that are unusual for the stage.
func (c *compiled) markChecks(sp *Space) []Check {
	var out []Check
	for _, m := range c.marks {
		con, ok := sp.Construction(m.Construction)
		if m.Plausible || m.IsRatio() || !ok {
			continue
		}
		for _, ch := range sp.Stage.BuildChecks(con, m.Counts, 0, 0) {
			unusual := strings.TrimSuffix(ch.Message, ": count again?")
			ch.Message = fmt.Sprintf("%s %q, if it means %d and %d teeth: %s", c.reading.Method, c.reading.Text, m.Counts[0], m.Counts[1], unusual)
			out = append(out, ch)
		}
	}
	return out
}
