package identify

import (
	"math"
)

// What a tag on a cover bolt and a stamp on the gears have in common: text that
// someone else left, which may belong to other gears.

func resolveMark(r Reading, s Stage, _ *Space) (Reading, error) {
	_, err := ParseMark(r.Text, s)
	return r, err
}

// compileMark prepares text of which counts of teeth are the share counts and the
// rest are ratios, and which belongs to other gears at the rate stale.
func compileMark(counts, stale float64) func(c *compiled, sp *Space) {
	return func(c *compiled, sp *Space) {
		c.marks, _ = ParseMark(c.reading.Text, sp.Stage)
		c.stale = stale
		c.format = func(m Mark) float64 {
			if m.IsRatio() {
				return 1 - counts
			}
			return counts
		}
		c.shown = c.showing(sp)
		for _, x := range c.shown {
			h := &sp.hyps[x.at]
			c.chance += sp.weight(h) * x.p
			c.wary += h.wary * x.p
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
}

func markOrigin(c *compiled) []string {
	out := []string{}
	for _, m := range c.marks {
		out = append(out, "read as "+m.sentence())
	}
	return out
}

// markOutcome is what a tag (a label) or a stamp (the counts) tells.
func (p *planner) markOutcome(by *technique, stale float64, byLabel bool) outcome {
	res := p.outcome(by)
	ps := p.byRatio
	byLabel = byLabel || p.goal == SettleLabel
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

// drawMarked is the build that a text names: this one, or another as often as stated.
func (w *world) drawMarked(stale float64) *hyp {
	if w.chance(stale) {
		return draw(w.rng, w.sp)
	}
	return w.truth
}
