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

// speed says a speed in the person's unit.
func (w *work) speed(kmh float64, places int) string { return say.Speed(kmh, w.q.SpeedUnit, places) }

// swap is the fitted pair the other way round.
func (w *work) swap(f Pair) *Swap {
	other := w.base.Mul(Pair{f.Pinion, f.Input}.ratio())
	pc := 100 * (w.base.Mul(f.ratio()).Div(other).Float() - 1)
	s := &Swap{Overall: other, Percent: say.Round(pc, 2)}
	switch {
	case f.Input == f.Pinion:
		s.Text = "Both gears have the same teeth: swapped, nothing changes."
		s.Head = "Swapped, nothing changes."
	case pc > 0:
		s.Head = "Swapped: " + other.Decimal(2) + ", taller."
		s.Text = fmt.Sprintf("Swapped, the same two gears make %s: taller (numerically lower), wheels %s %% faster at the same engine speed.", other.Decimal(2), say.Trim(pc, 1))
	default:
		s.Head = "Swapped: " + other.Decimal(2) + ", shorter."
		s.Text = fmt.Sprintf("Swapped, the same two gears make %s: shorter (numerically higher), wheels %s %% slower at the same engine speed.", other.Decimal(2), say.Trim(-pc, 1))
	}
	return s
}

// doubts asks about what does not go together.
func (w *work) doubts() []string {
	var out []string
	for _, s := range w.shelf {
		if n := s.Teeth[0] + s.Teeth[1]; w.sum > 0 && n != w.sum {
			out = append(out, fmt.Sprintf("Set %s has %d and %d teeth, %d together; this family's pairs add up to %d: count again, or is it another family's?", s.Name, s.Teeth[0], s.Teeth[1], n, w.sum))
		}
	}
	f := w.fitted
	if f == nil {
		return append(out, "The installed pair is not known: count the gears as they come out.")
	}
	var a, b []string
	for _, s := range w.shelf {
		if s.Teeth == [2]int{f.Input, f.Pinion} || s.Teeth == [2]int{f.Pinion, f.Input} {
			return out
		}
		if s.Teeth[0] == f.Input || s.Teeth[1] == f.Input {
			a = append(a, s.Name)
		}
		if s.Teeth[0] == f.Pinion || s.Teeth[1] == f.Pinion {
			b = append(b, s.Name)
		}
	}
	switch n := f.Input + f.Pinion; {
	case w.sum > 0 && n != w.sum:
		out = append(out, fmt.Sprintf("The installed pair, %s, adds up to %d teeth; this family's pairs add up to %d and "+
			"would not mesh rightly: count both again.", f.words(), n, w.sum))
	case len(a) > 0 && len(b) > 0:
		out = append(out, fmt.Sprintf("The %d-tooth gear belongs to set %s and the %d-tooth gear to set %s: is it a mixed pair? Gears run in together stay together.", f.Input, a[0], f.Pinion, b[0]))
	case len(w.shelf) > 0:
		out = append(out, fmt.Sprintf("No set on the shelf has the installed gears, %s.", f.words()))
	}
	return out
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
		c.Title = fmt.Sprintf("%s, set %s: %s", c.Title, r.Ways[0].Name, Pair{r.Ways[0].Input, r.Ways[0].Pinion}.words())
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
			p.Sentence += fmt.Sprintf(" It is %s %% %s than asked.", say.Trim(math.Abs(off), 1), word)
		}
		if p.Missing != "" { // the answer is that it falls short; what to fit comes after
			p.Sentence = p.Missing + " Nearest: " + strings.TrimSuffix(p.Sentence, ".") + "."
			if g.Kind == BySpeed {
				reach := g.KMH * p.Wanted.Div(r.Overall).Float()
				p.Sentence += fmt.Sprintf(" It runs %s at %s rpm: %s short.", w.speed(reach, 1), say.Trim(g.RPM, 0), w.speed(g.KMH-reach, 1))
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
		p.Missing = fmt.Sprintf("The shelf has nothing %s than %s, the installed ratio.", g.Toward, ladder[now].Overall.Decimal(2))
		return -1, nil
	}
	p.Why = append(p.Why, fmt.Sprintf("One step %s than %s, the installed ratio: %s %%.", g.Toward,
		ladder[now].Overall.Decimal(2), say.Signed(100*(ladder[next].Overall.Div(ladder[now].Overall).Float()-1), 1)))
	return next, nil
}

// shortestToReach is the shortest rung that reaches a speed before an engine speed.
func (w *work) shortestToReach(g *Goal, ladder []Rung, p *Pick) int {
	want := w.wanted(p, g.RPM, g.KMH)
	p.Wanted = &want
	for i, r := range ladder {
		if r.Overall.Float() <= want.Float()*w.slack() {
			p.Why = append(p.Why, fmt.Sprintf("The shortest that reaches %s by %s rpm in gear %s.", w.speed(g.KMH, 1),
				say.Trim(g.RPM, 0), w.gear.name))
			if r.Overall.Cmp(want) > 0 {
				p.Why = append(p.Why, fmt.Sprintf("It passes %s by less than the tire's rolling is known (± %s %%).",
					want.Decimal(2), say.Trim(w.spread, 1)))
			}
			return i
		}
	}
	p.Missing = fmt.Sprintf("Everything on the shelf is too short for %s: the tallest, %s, would turn %s rpm there.",
		w.speed(g.KMH, 1), ladder[len(ladder)-1].Overall.Decimal(2),
		say.Trim(g.RPM*ladder[len(ladder)-1].Overall.Div(want).Float(), 0))
	return len(ladder) - 1
}

// tallestToPull is the tallest rung that still has an engine speed at a road speed.
func (w *work) tallestToPull(g *Goal, ladder []Rung, p *Pick) int {
	want := w.wanted(p, g.RPM, g.KMH)
	p.Wanted = &want
	for i := len(ladder) - 1; i >= 0; i-- {
		if ladder[i].Overall.Float()*w.slack() >= want.Float() {
			p.Why = append(p.Why, fmt.Sprintf("The tallest that still has %s rpm at %s in gear %s.", say.Trim(g.RPM, 0),
				w.speed(g.KMH, 1), w.gear.name))
			return i
		}
	}
	p.Missing = fmt.Sprintf("Everything on the shelf is too tall to have %s rpm at %s: the shortest, %s, has %s rpm.",
		say.Trim(g.RPM, 0), w.speed(g.KMH, 1), ladder[0].Overall.Decimal(2),
		say.Trim(g.RPM*ladder[0].Overall.Div(want).Float(), 0))
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
			p.Why = append(p.Why, fmt.Sprintf("Gear %s alone from %s to %s: never under %s rpm, never over %s.", w.gear.name,
				w.speed(g.LowKMH, 0), w.speed(g.KMH, 0), say.Trim(g.LowRPM, 0), say.Trim(g.RPM, 0)))
			return i
		}
		p.Missing = fmt.Sprintf("No set holds gear %s from %s to %s: the one that reaches the top falls to %s rpm at "+
			"the slow end.", w.gear.name, w.speed(g.LowKMH, 0), w.speed(g.KMH, 0),
			say.Trim(g.LowRPM*r.Overall.Div(low).Float(), 0))
		return i
	}
	p.Missing = fmt.Sprintf("Everything on the shelf is too short for %s in gear %s.", w.speed(g.KMH, 0), w.gear.name)
	return len(ladder) - 1
}

// whyGear says why the one-to-one gear is preferred, or that nothing is gained.
func (w *work) whyGear(p *Pick, g *Goal) {
	switch {
	case w.gear.direct && w.coaxial:
		p.Why = append(p.Why, fmt.Sprintf("Gear %s locks the box straight through: no torque goes through its teeth, so it runs coolest and loses least. Stay in it where you can.", w.gear.name))
	case g.Kind == ByStep:
	case w.gear.ratio.Equal(exact.Int(1)):
		p.Why = append(p.Why, fmt.Sprintf("Gear %s is one to one. Where the box locks it straight through, no torque goes through its teeth; a two-shaft box goes through gears even so.", w.gear.name))
	default:
		p.Why = append(p.Why, fmt.Sprintf("Gear %s goes through its teeth, as any but a straight-through gear does.", w.gear.name))
	}
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
		b.Text = fmt.Sprintf("%s: %s, %s %% off", pair.words(), b.Overall.Decimal(2), say.Signed(b.Off, 1))
		list = append(list, b)
	}
	sort.SliceStable(list, func(i, k int) bool { return math.Abs(list[i].Off) < math.Abs(list[k].Off) })
	p.Buy = list[:min(2, len(list))]
}
