package changegear

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/exact"
	"zorvel/core/say"
)

func (p Pair) words() string {
	return fmt.Sprintf("%d on the input shaft, %d on the pinion shaft", p.Input, p.Pinion)
}

// shafts says which shaft is which as the unit is mounted.
func (w *work) shafts() string {
	up, down := "pinion", "input"
	if w.mounting() == "turned_over" {
		up, down = down, up
	}
	where := "As it is mounted"
	if !w.lieKnown() {
		where = "If it is mounted as usual"
	}
	return fmt.Sprintf(where+" (%s) the %s shaft is the lower one and the %s shaft the upper one.",
		strings.ReplaceAll(w.mounting(), "_", " "), down, up)
}

func (w *work) mounting() string {
	if l := w.q.Lies; l != nil && l.Mounting != "" {
		return l.Mounting
	}
	if w.axle.Mounting != "" {
		return w.axle.Mounting
	}
	return "upright"
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
		s.Text = fmt.Sprintf("Swapped, the same two gears make %s: taller (numerically lower), wheels %s %% faster at "+
			"the same engine speed.", other.Decimal(2), say.Trim(pc, 1))
	default:
		s.Head = "Swapped: " + other.Decimal(2) + ", shorter."
		s.Text = fmt.Sprintf("Swapped, the same two gears make %s: shorter (numerically higher), wheels %s %% slower at "+
			"the same engine speed.", other.Decimal(2), say.Trim(-pc, 1))
	}
	return s
}

// doubts asks about what does not go together.
func (w *work) doubts() []string {
	var out []string
	for _, s := range w.shelf {
		if n := s.Teeth[0] + s.Teeth[1]; w.sum > 0 && n != w.sum {
			out = append(out, fmt.Sprintf("Set %s has %d and %d teeth, %d together; this family's pairs add up to %d: count "+
				"again, or is it another family's?", s.Name, s.Teeth[0], s.Teeth[1], n, w.sum))
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
		out = append(out, fmt.Sprintf("The %d-tooth gear belongs to set %s and the %d-tooth gear to set %s: is it a "+
			"mixed pair? Gears run in together stay together.", f.Input, a[0], f.Pinion, b[0]))
	case len(w.shelf) > 0:
		out = append(out, fmt.Sprintf("No set on the shelf has the installed gears, %s.", f.words()))
	}
	return out
}

// whyGear says why the one-to-one gear is preferred, or that nothing is gained.
func (w *work) whyGear(p *Pick, g *Goal) {
	switch {
	case w.gear.direct && w.coaxial:
		p.Why = append(p.Why, fmt.Sprintf("Gear %s locks the box straight through: no torque goes through its teeth, so "+
			"it runs coolest and loses least. Stay in it where you can.", w.gear.name))
	case g.Kind == ByStep:
	case w.gear.ratio.Equal(exact.Int(1)):
		p.Why = append(p.Why, fmt.Sprintf("Gear %s is one to one. Where the box locks it straight through, no torque "+
			"goes through its teeth; a two-shaft box goes through gears even so.", w.gear.name))
	default:
		p.Why = append(p.Why, fmt.Sprintf("Gear %s goes through its teeth, as any but a straight-through gear does.",
			w.gear.name))
	}
}

// pairOfSet names a choice by the set that makes it.
func pairOfSet(c *Choice, r Rung) string {
	return fmt.Sprintf("%s, set %s: %s", c.Title, r.Ways[0].Name, Pair{r.Ways[0].Input, r.Ways[0].Pinion}.words())
}

// offAsked says how far the pick is from what was asked.
func offAsked(off float64, word string) string {
	return fmt.Sprintf(" It is %s %% %s than asked.", say.Trim(math.Abs(off), 1), word)
}

// shortOf says how much road speed is missing.
func (w *work) shortOf(reach float64, g Goal) string {
	return fmt.Sprintf(" It runs %s at %s rpm: %s short.", w.speed(reach, 1), say.Trim(g.RPM, 0), w.speed(g.KMH-reach, 1))
}

// nothingToward says that there is no next step.
func nothingToward(g *Goal, ladder []Rung, now int) string {
	return fmt.Sprintf("The shelf has nothing %s than %s, the installed ratio.", g.Toward, ladder[now].Overall.Decimal(2))
}

// oneStepWhy is why a step was picked.
func oneStepWhy(g *Goal, ladder []Rung, now, next int) string {
	return fmt.Sprintf("One step %s than %s, the installed ratio: %s %%.", g.Toward,
		ladder[now].Overall.Decimal(2), say.Signed(100*(ladder[next].Overall.Div(ladder[now].Overall).Float()-1), 1))
}

// reachesWhy is why a set was picked for a top speed.
func (w *work) reachesWhy(g *Goal) string {
	return fmt.Sprintf("The shortest that reaches %s by %s rpm in gear %s.", w.speed(g.KMH, 1),
		say.Trim(g.RPM, 0), w.gear.name)
}

// narrowlyReaches says that the pick may just miss.
func (w *work) narrowlyReaches(want exact.Number) string {
	return fmt.Sprintf("It passes %s by less than the tire's rolling is known (± %s %%).",
		want.Decimal(2), say.Trim(w.spread, 1))
}

// allTooShort says that no set reaches the speed.
func (w *work) allTooShort(g *Goal, ladder []Rung, want exact.Number) string {
	return fmt.Sprintf("Everything on the shelf is too short for %s: the tallest, %s, would turn %s rpm there.",
		w.speed(g.KMH, 1), ladder[len(ladder)-1].Overall.Decimal(2),
		say.Trim(g.RPM*ladder[len(ladder)-1].Overall.Div(want).Float(), 0))
}

// pullsWhy is why a set was picked for rpm at a speed.
func (w *work) pullsWhy(g *Goal) string {
	return fmt.Sprintf("The tallest that still has %s rpm at %s in gear %s.", say.Trim(g.RPM, 0),
		w.speed(g.KMH, 1), w.gear.name)
}

// allTooTall says that no set has the rpm.
func (w *work) allTooTall(g *Goal, ladder []Rung, want exact.Number) string {
	return fmt.Sprintf("Everything on the shelf is too tall to have %s rpm at %s: the shortest, %s, has %s rpm.",
		say.Trim(g.RPM, 0), w.speed(g.KMH, 1), ladder[0].Overall.Decimal(2),
		say.Trim(g.RPM*ladder[0].Overall.Div(want).Float(), 0))
}

// holdsWhy is why a set was picked for one gear.
func (w *work) holdsWhy(g *Goal) string {
	return fmt.Sprintf("Gear %s alone from %s to %s: never under %s rpm, never over %s.", w.gear.name,
		w.speed(g.LowKMH, 0), w.speed(g.KMH, 0), say.Trim(g.LowRPM, 0), say.Trim(g.RPM, 0))
}

// noneHolds says that one gear can't do it.
func (w *work) noneHolds(g *Goal, r Rung, low exact.Number) string {
	return fmt.Sprintf("No set holds gear %s from %s to %s: the one that reaches the top falls to %s rpm at "+
		"the slow end.", w.gear.name, w.speed(g.LowKMH, 0), w.speed(g.KMH, 0),
		say.Trim(g.LowRPM*r.Overall.Div(low).Float(), 0))
}

// tooShortIn says that no set reaches the speed in that gear.
func (w *work) tooShortIn(g *Goal) string {
	return fmt.Sprintf("Everything on the shelf is too short for %s in gear %s.", w.speed(g.KMH, 0), w.gear.name)
}

// buyText is a pair to buy.
func buyText(pair Pair, b Buy) string {
	return fmt.Sprintf("%s: %s, %s %% off", pair.words(), b.Overall.Decimal(2), say.Signed(b.Off, 1))
}

// mountedAs repeats how the axle is mounted.
func mountedAs(lies Lies) string {
	return fmt.Sprintf("Mounted %s, ring on the %s of its pinion, pinion %s of the axle, engine spin %s, one mesh of "+
		"change gears before it: the car drives", strings.ReplaceAll(lies.Mounting, "_", " "), lies.RingSide, lies.PinionAt,
		lies.Spin)
}

// eventTitle is what was fitted, and what it makes.
func eventTitle(name string, e Event, out *Logged) string {
	return fmt.Sprintf(": %s%d on the input shaft, %d on the pinion shaft, %s overall", name, e.After.Input,
		e.After.Pinion, out.Overall.Decimal(2))
}

// measuredAgainst sets a measured speed against the one that the gears make.
func measuredAgainst(e Event, w *work, out *Logged, off float64) string {
	return fmt.Sprintf("%s rpm in gear %s would be %s; %s was measured, %s %%", say.Trim(e.PeakRPM, 0), w.gear.name,
		w.speed(*out.KMH, 1), w.speed(e.PeakKMH, 1), say.Signed(off, 1))
}

// withinSpread says that nothing can be told of the tire.
func withinSpread(w *work) string {
	return fmt.Sprintf(": no more than the tire's rolling is uncertain (± %s %%).", say.Trim(w.spread, 1))
}

// rowsDropped says how many rows were left out, and why.
func rowsDropped(d struct {
	n    int
	what string
}) string {
	return fmt.Sprintf("%d rows %s", d.n, d.what)
}

// peakText is what a run reached.
func (w *work) peakText(out *Run) string {
	return fmt.Sprintf("Peak %s at %s rpm; most rpm %s.", w.speed(out.PeakKMH, 1), say.Trim(out.AtPeakRPM, 0),
		say.Trim(out.PeakRPM, 0))
}

// spunText says for how long the wheels spun.
func spunText(out *Run) string {
	return fmt.Sprintf(" For %s s the wheels spun or the clutch slipped.", say.Trim(out.Spin, 1))
}

// samePeak is what the pick turns at the same speed.
func (w *work) samePeak(verb string, p *Pick, out *Run, ladder []Rung, best int) string {
	return fmt.Sprintf("%s %s: %s rpm at the same %s.", verb, p.Chosen.Title,
		say.Trim(out.AtPeakRPM*ladder[best].Overall.Div(w.base.Mul(w.fitted.ratio())).Float(), 0), w.speed(out.PeakKMH, 1))
}
