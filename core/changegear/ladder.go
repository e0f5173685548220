package changegear

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// ladder lists every overall ratio that the shelf can build on this base, both
// ways round, shortest first. Equal ratios share a rung.
func (w *work) ladder() []Rung {
	at := map[string]int{}
	rungs := []Rung{}
	add := func(way Way) {
		overall := w.base.Mul(exact.New(int64(way.Pinion), int64(way.Input)))
		k, ok := at[overall.String()]
		if !ok {
			k = len(rungs)
			at[overall.String()] = k
			rungs = append(rungs, Rung{Overall: overall, Ways: []Way{}, KMH: w.kmh(w.q.RPM, w.gear, overall), Gears: w.lines(w.q.RPM, overall)})
		}
		for _, x := range rungs[k].Ways {
			if x == way {
				return
			}
		}
		rungs[k].Ways = append(rungs[k].Ways, way)
	}
	for _, s := range w.shelf {
		for k := range 2 {
			add(Way{Set: s.ID, Name: s.Name, Input: s.Teeth[k], Pinion: s.Teeth[1-k], Wear: s.Wear, Place: s.Place})
			if s.Teeth[0] == s.Teeth[1] {
				break
			}
		}
	}
	if f := w.fitted; f != nil {
		now := w.base.Mul(f.ratio())
		if _, ok := at[now.String()]; !ok {
			add(Way{Name: "what is in it", Input: f.Input, Pinion: f.Pinion})
		}
		rungs[at[now.String()]].Fitted = true
	}
	sort.SliceStable(rungs, func(i, k int) bool { return rungs[i].Overall.Cmp(rungs[k].Overall) > 0 })
	steps := make([]float64, 0, len(rungs))
	for i := range rungs {
		if i+1 < len(rungs) {
			s := 100 * (rungs[i].Overall.Div(rungs[i+1].Overall).Float() - 1)
			steps = append(steps, s)
			s = say.Round(s, 2)
			rungs[i].Step = &s
		}
	}
	if len(steps) > 2 {
		usual := slices.Clone(steps)
		slices.Sort(usual)
		for i, s := range steps {
			rungs[i].Gap = s > 2*usual[len(usual)/2]
		}
	}
	return rungs
}

// choice is what a rung does in every gear.
func (w *work) choice(ladder []Rung, at int, g *Goal) *Choice {
	if at < 0 || at >= len(ladder) {
		return nil
	}
	r := ladder[at]
	rpm := w.q.RPM
	if rpm == 0 {
		rpm = g.RPM
	}
	c := &Choice{Rung: at, Gears: []GearLine{}, KMH: w.kmh(rpm, w.gear, r.Overall)}
	c.Title = r.Overall.Decimal(2)
	if len(r.Ways) > 0 {
		c.Title = pairOfSet(c, r)
	}
	if g.KMH > 0 && w.rolling.Sign() > 0 {
		v := say.Round(g.KMH*w.gear.ratio.Mul(r.Overall).Float()/(w.rolling.Float()*60e-6), 0)
		c.RPMThere = &v
	}
	c.Gears = w.lines(rpm, r.Overall)
	return c
}

// lines tells every gear with an overall ratio.
func (w *work) lines(rpm float64, overall exact.Number) []GearLine {
	out := []GearLine{}
	var before *gear
	for i := range w.gears {
		x := w.gears[i]
		l := GearLine{Gear: x.name, Overall: x.ratio.Mul(overall), KMH: w.kmh(rpm, x, overall)}
		if before != nil && rpm > 0 {
			v := say.Round(rpm*x.ratio.Div(before.ratio).Float(), 0)
			l.After = &v
		}
		if w.q.TorqueNM > 0 && w.rolling.Sign() > 0 {
			v := say.Round(w.q.TorqueNM*l.Overall.Float()/(w.rolling.Float()/1000/(2*math.Pi)), 0)
			l.ThrustN = &v
		}
		out = append(out, l)
		before = &w.gears[i]
	}
	return out
}

// pick answers a goal: which rung, its neighbors, and what to buy where the
// shelf does not reach.
func (w *work) pick(g Goal, ladder []Rung) (*Pick, error) {
	p := &Pick{Why: []string{}, Buy: []Buy{}}
	if len(ladder) == 0 {
		p.Sentence = "No sets on the shelf: enter what is in the van."
		p.Missing = p.Sentence
		return p, nil
	}
	at, err := w.place(&g, ladder, p)
	if err != nil {
		return nil, err
	}
	w.whyGear(p, &g)
	if at < 0 {
		p.Sentence = p.Missing
		return p, nil
	}
	p.Chosen, p.Shorter, p.Taller = w.choice(ladder, at, &g), w.choice(ladder, at-1, &g), w.choice(ladder, at+1, &g)
	r := ladder[at]
	verb := "Fit"
	if r.Fitted {
		verb = "Leave"
	}
	p.Sentence = fmt.Sprintf("%s %s.", verb, p.Chosen.Title)
	if p.Wanted != nil {
		off := 100 * (r.Overall.Div(*p.Wanted).Float() - 1)
		word := "shorter"
		if off < 0 {
			word = "taller"
		}
		if math.Abs(off) < 0.05 {
			p.Sentence += " It is what was asked for."
		} else {
			p.Sentence += offAsked(off, word)
		}
		if p.Missing != "" { // the answer is that it falls short; what to fit comes after
			p.Sentence = p.Missing + " Nearest: " + strings.TrimSuffix(p.Sentence, ".") + "."
			if g.Kind == BySpeed {
				reach := g.KMH * p.Wanted.Div(r.Overall).Float()
				p.Sentence += w.shortOf(reach, g)
			}
		}
		if math.Abs(off) > 3 || p.Missing != "" {
			w.toBuy(p, ladder)
		}
	}
	return p, nil
}

// place finds the rung; −1 where none will do.
func (w *work) place(g *Goal, ladder []Rung, p *Pick) (int, error) {
	switch g.Kind {
	case ByStep:
		return w.oneStep(g, ladder, p)
	case BySpeed:
		return w.shortestToReach(g, ladder, p), nil
	case ByExit:
		return w.tallestToPull(g, ladder, p), nil
	default:
		return w.oneGearBetween(g, ladder, p), nil
	}
}

// wanted is the overall ratio that gives an engine speed at a road speed; its formula
// becomes the pick's.
func (w *work) wanted(p *Pick, rpm, kmh float64) exact.Number {
	n, err := exact.Of(rpm * w.rolling.Float() * 60e-6 / (kmh * w.gear.ratio.Float()))
	if err != nil {
		return exact.Int(1)
	}
	p.Formula = fmt.Sprintf("overall = rpm × rolling × 60 ÷ (speed × gear) = %s × %s mm × 60 ÷ (%s km/h × %s) = %s",
		say.Trim(rpm, 0), w.rolling.Short(0), say.Trim(kmh, 1), w.gear.ratio.Short(3), n.Short(4))
	return n
}

// slack is how far a ratio may miss one that is reckoned from the tire: as far as its
// rolling is not known.
func (w *work) slack() float64 { return 1 + w.spread/100 }

// oneStep is the rung beside the fitted one.
func (w *work) oneStep(g *Goal, ladder []Rung, p *Pick) (int, error) {
	now := slices.IndexFunc(ladder, func(r Rung) bool { return r.Fitted })
	if now < 0 {
		return -1, fault.New("fitted/input", "the installed pair is needed to go one step from it: count both gears")
	}
	next := now + 1
	if g.Toward == "shorter" {
		next = now - 1
	}
	if next < 0 || next >= len(ladder) {
		p.Missing = nothingToward(g, ladder, now)
		return -1, nil
	}
	p.Why = append(p.Why, oneStepWhy(g, ladder, now, next))
	return next, nil
}

// shortestToReach is the shortest rung that reaches a speed before an engine speed.
func (w *work) shortestToReach(g *Goal, ladder []Rung, p *Pick) int {
	want := w.wanted(p, g.RPM, g.KMH)
	p.Wanted = &want
	for i, r := range ladder {
		if r.Overall.Float() <= want.Float()*w.slack() {
			p.Why = append(p.Why, w.reachesWhy(g))
			if r.Overall.Cmp(want) > 0 {
				p.Why = append(p.Why, w.narrowlyReaches(want))
			}
			return i
		}
	}
	p.Missing = w.allTooShort(g, ladder, want)
	return len(ladder) - 1
}

// tallestToPull is the tallest rung that still has an engine speed at a road speed.
func (w *work) tallestToPull(g *Goal, ladder []Rung, p *Pick) int {
	want := w.wanted(p, g.RPM, g.KMH)
	p.Wanted = &want
	for i := len(ladder) - 1; i >= 0; i-- {
		if ladder[i].Overall.Float()*w.slack() >= want.Float() {
			p.Why = append(p.Why, w.pullsWhy(g))
			return i
		}
	}
	p.Missing = w.allTooTall(g, ladder, want)
	return 0
}

// oneGearBetween is the rung that stays in one gear between two speeds.
func (w *work) oneGearBetween(g *Goal, ladder []Rung, p *Pick) int {
	low := w.wanted(p, g.LowRPM, g.LowKMH)
	top := w.wanted(p, g.RPM, g.KMH)
	p.Wanted = &top
	for i, r := range ladder {
		if r.Overall.Float() > top.Float()*w.slack() {
			continue
		}
		if r.Overall.Float()*w.slack() >= low.Float() {
			p.Why = append(p.Why, w.holdsWhy(g))
			return i
		}
		p.Missing = w.noneHolds(g, r, low)
		return i
	}
	p.Missing = w.tooShortIn(g)
	return len(ladder) - 1
}

// toBuy names pairs of the family's center distance that come nearest.
func (w *work) toBuy(p *Pick, ladder []Rung) {
	if w.sum == 0 || p.Wanted == nil {
		return
	}
	have := map[string]bool{}
	for _, r := range ladder {
		have[r.Overall.String()] = true
	}
	var list []Buy
	for in := MinTeeth; in <= w.sum-MinTeeth; in++ {
		pair := Pair{in, w.sum - in}
		if pair.Pinion > MaxTeeth || in > MaxTeeth {
			continue
		}
		b := Buy{Input: pair.Input, Pinion: pair.Pinion, Overall: w.base.Mul(pair.ratio())}
		if have[b.Overall.String()] {
			continue
		}
		b.Off = say.Round(100*(b.Overall.Div(*p.Wanted).Float()-1), 2)
		b.Text = buyText(pair, b)
		list = append(list, b)
	}
	sort.SliceStable(list, func(i, k int) bool { return math.Abs(list[i].Off) < math.Abs(list[k].Off) })
	p.Buy = list[:min(2, len(list))]
}
