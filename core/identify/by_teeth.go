package identify

import (
	"fmt"
	"math"
	"slices"

	"zorvel/core/fault"
)

// byTeeth counts teeth with the housing open.
func byTeeth() *technique {
	return &technique{
		method:  Teeth,
		byHand:  true,
		open:    true,
		resolve: func(r Reading, _ Stage, sp *Space) (Reading, error) { return r, sp.checkTeeth(r.Teeth) },
		compile: func(c *compiled, _ *Space) { c.counts = c.reading.Teeth },
		origin: func(c *compiled) []string {
			out := []string{}
			for _, n := range c.counts {
				out = append(out, fmt.Sprintf("%s: %d", memberWords(n.Member), n.Count))
			}
			return out
		},
		summary: func(r Reading) string {
			parts := make([]string, len(r.Teeth))
			for i, n := range r.Teeth {
				parts[i] = fmt.Sprintf("%d %s", n.Count, memberWords(n.Member))
			}
			return "Counted " + joinAnd(parts)
		},
		again:   func(Kind) string { return "Count the teeth again from a new chalk mark, " + unseen },
		options: (*planner).teethOptions,
		minutes: func(p *planner, _ Option) float64 { return p.open() + p.countingMinutes(p.likeliest()) },
		draw: func(w *world, _ Option, r *Reading) bool {
			h := w.drawMarked(statedOtherGear)
			r.Teeth = []Count{{"ring", w.counted(h.teeth[0], statedRingMiscount)}, {"pinion", w.counted(h.teeth[1], statedPinionMiscount)}}
			return true
		},
	}
}

// checkTeeth refuses counts that can't be.
func (sp *Space) checkTeeth(counts []Count) error {
	if len(counts) == 0 {
		return fault.New("teeth", "count at least one of: %v", sp.members())
	}
	got := map[string]int{}
	for _, n := range counts {
		if !slices.Contains(sp.members(), n.Member) {
			return fault.New("teeth/"+n.Member, "this stage has no %q; it has %v", n.Member, sp.members())
		}
		if _, twice := got[n.Member]; twice {
			return fault.New("teeth/"+n.Member, "counted twice in one reading: enter the second count as its own reading")
		}
		if n.Count <= 0 {
			return fault.New("teeth/"+n.Member, "at least one tooth; count them from the marked start tooth, which is zero")
		}
		if n.Count > maxTeeth {
			return fault.New("teeth/"+n.Member, "%d teeth can't be; at most %d", n.Count, maxTeeth)
		}
		got[n.Member] = n.Count
	}
	// Refuse only if every construction that has all counted members
	// refuses them.
	var first *Error
	for _, c := range sp.cons {
		t := make([]int, len(c.Teeth))
		have := 0
		for i, g := range c.Teeth {
			if n, ok := got[g.Name]; ok {
				t[i] = n
				have++
			}
		}
		if have < len(c.Teeth) {
			if have > 0 && have == len(got) {
				if e := sp.partialRefusal(c, got); e != nil {
					first = e
					continue
				}
				return nil
			}
			continue
		}
		e := sp.Stage.refusal(c, t)
		if e == nil {
			return nil
		}
		if first == nil {
			first = e
		}
	}
	if first != nil {
		return first
	}
	return nil
}

// partialRefusal checks the order of counts where only some members of a
// composite were counted.
func (sp *Space) partialRefusal(c Construction, got map[string]int) *Error {
	t := make([]int, len(c.Teeth))
	for i, g := range c.Teeth {
		n, ok := got[g.Name]
		switch {
		case ok:
			t[i] = n
		case g.large:
			t[i] = maxTeeth
		default:
			t[i] = 1
		}
	}
	return sp.Stage.refusal(c, t)
}

// countChance is the chance of counting got where truth is the number.
func countChance(got, truth int, large bool) float64 {
	rate := ratePinionMiscount
	if large {
		rate = rateRingMiscount
	}
	switch got - truth {
	case 0:
		return 1 - rate - rateGrossMiscount
	case 1:
		return rate * shareCountedTwice
	case -1:
		return rate * (1 - shareCountedTwice)
	}
	return rateGrossMiscount / 60
}

// countsLikelihood is the chance of the counts given a hypothesis.
func (c *compiled) countsLikelihood(sp *Space, h *hyp) float64 {
	this, other := c.countsSplit(&sp.cons[h.con], h)
	return this + other
}

// countsSplit is the chance of the counts if this gear set was counted, and if
// another was: then any usual number is as likely as the next.
func (c *compiled) countsSplit(con *Construction, h *hyp) (this, other float64) {
	this, other = 1-rateOtherGear, rateOtherGear
	for _, n := range c.counts {
		this *= memberChance(con, h, n)
		other /= memberRange(con, n.Member)
	}
	return this, other
}

func memberRange(con *Construction, member string) float64 {
	for _, g := range con.Teeth {
		if g.Name == member {
			return float64(g.Max - g.Min + 1)
		}
	}
	return 20
}

func memberChance(con *Construction, h *hyp, n Count) float64 {
	for i := range con.Teeth {
		if con.Teeth[i].Name == n.Member {
			return countChance(n.Count, int(h.teeth[i]), con.Teeth[i].large)
		}
	}
	sun, ring := 0, 0
	switch con.shape {
	case shapePlanetary:
		sun, ring = int(h.teeth[0]), int(h.teeth[1])
	case shapePairPlanetary:
		sun, ring = int(h.teeth[2]), int(h.teeth[3])
	default:
		return missingMember
	}
	switch n.Member {
	case "planet":
		d := math.Abs(float64(n.Count) - float64(ring-sun)/2)
		switch {
		case d == 0:
			return 1 - 3*shareShiftedPlanet
		case d <= 1:
			return shareShiftedPlanet
		}
		return rateOtherGear
	case "planets":
		if (sun+ring)%n.Count == 0 {
			return 1 - shareUnequalPlanets
		}
		return shareUnequalPlanets
	}
	return missingMember
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
		minutes += CountingMinutes(int(q.teeth[i]))
	}
	return minutes
}

// teethOptions offers counting all gears of the likeliest construction.
func (p *planner) teethOptions(by *technique, add func(Option, outcome)) {
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
	do := p.openWords() + "count the teeth of " + joinAnd(words)
	add(Option{Method: Teeth, Members: members, Minutes: by.minutes(p, Option{}), Do: do}, p.teethOutcome(by, con))
}

func (p *planner) teethOutcome(by *technique, con *Construction) outcome {
	res := p.outcome(by)
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
	label := int32(math.MinInt32)
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
