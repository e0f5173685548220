package gearcase

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"math"
	"strings"

	"zorvel/core/backlash"
	"zorvel/core/say"
	"zorvel/core/shim"
)

// barelyMoved says that a shim moved less than the teeth make it.
func (b *Backlash) barelyMoved(l backlash.Learned, v *Verdict) string {
	return fmt.Sprintf("The shims changed, the backlash barely did: %s mm of it per mm, where the teeth make "+
		"%s. Are they under the %s, and is everything seated? Look before the next shim.", say.Trim(math.Abs(l.Slope), 2),
		say.Trim(v.Law, 2), b.Gear)
}

// movedNothing says to look before the next shim.
func (b *Backlash) movedNothing() string {
	return fmt.Sprintf("The last shim moved nothing: look before the next one. Is it under the %s, is the race home, "+
		"and does the dial touch this gear? Measure again until a shim shows.", b.Gear)
}

// n is a length in the unit that the sentences say.
func (b *Backlash) n(mm float64) string { return say.Unit(b.Unit).Len(mm) }

// say formats a sentence; its " mm" becomes that unit.
func (b *Backlash) say(format string, args ...any) string { return say.Unit(b.Unit).F(format, args...) }

// measuredText is what was measured on the assembly.
func (b *Backlash) measuredText(m Measured) string {
	return b.say("%s mm, from %s to %s", b.n(m.BacklashMM), b.n(m.LeastMM), b.n(m.GreatestMM))
}

// dialFormula says how the dial's arm was taken into account.
func (b *Backlash) dialFormula() string {
	return fmt.Sprintf(" (dial × %s ÷ %s)", b.n(b.PitchMM), b.n(b.ArmMM))
}

// noPlay warns of teeth that bind.
func (b *Backlash) noPlay() string {
	return fmt.Sprintf("No play at all at some place of the %s: warm, with oil, it will bind, heat and break. Never "+
		"run it so.", b.Gear)
}

// unlikeTeeth asks whether the right gear was measured.
func unlikeTeeth(l backlash.Learned, v *Verdict) string {
	return fmt.Sprintf("This case moved %s mm of backlash per mm of shim; by its teeth it should be about %s. Is the "+
		"shim seated, and the right gear measured?", say.Trim(math.Abs(l.Slope), 2), say.Trim(v.Law, 2))
}

func (b *Backlash) formula(l backlash.Learned) string {
	spiral := ""
	if b.Mesh.Spiral > 0 {
		spiral = fmt.Sprintf(" ÷ cos %s°", say.Trim(b.Mesh.Spiral, 1))
	}
	out := fmt.Sprintf("by the teeth: 2 · tan %s° · sin(atan %d/%d)%s = %s of backlash per move",
		say.Trim(b.Mesh.Pressure, 1), b.Mesh.Teeth, b.Mesh.Mate, spiral, say.Trim(b.Mesh.Sensitivity(), 3))
	if h := b.Housings; h != nil && h.Count > 0 {
		out += fmt.Sprintf(" × %s ± %s (%s)", say.Trim(h.Factor, 2), say.Trim(h.Sigma, 2), h.Origin())
	}
	if !l.ByLaw {
		moves := "moves"
		if l.Trials == 1 {
			moves = "move"
		}
		out += fmt.Sprintf("; this case, over %d %s: %s ± %s", l.Trials, moves, say.Signed(l.Slope, 3), say.Trim(l.Sigma, 3))
	}
	return out
}

// inspectedTitle is what a history says of an inspection.
func inspectedTitle(out *Inspection, bad []string) string {
	return fmt.Sprintf("Gearcase inspected: %d looked at, %d to see to", len(out.Found), len(bad))
}

// tooMuch asks about a deviation that no case has.
func tooMuch(p Place, marks []Mark, k int, g Gear) string {
	return fmt.Sprintf("%s %+d would be %s mm: is the unit right, and the figure? More than a millimeter is no "+
		"deviation of a case.", p.ID, marks[k].Value, say.Signed(g.ChangeMM, 2))
}

// asDrawn says that the nominal shim stays.
func asDrawn(name string, p Place) string {
	return fmt.Sprintf("The %s sits where the drawing has it: the nominal shim of %s mm stays.", name,
		say.Trim(p.NominalMM, 3))
}

// piecesSum is what the pieces of a stack add up to.
func piecesSum(s shim.Stack) string {
	return fmt.Sprintf(" = %s mm", say.Trim(s.TotalMM, 4))
}

// stackOff says how near a stack comes.
func stackOff(s shim.Stack, targets []shim.Target, i int) string {
	return fmt.Sprintf(", %s mm off, within %s", say.Signed(s.ErrorMM, 4), say.Trim(targets[i].TolMM, 3))
}

// stackOutside says that the box doesn't reach the shim.
func stackOutside(most int, s shim.Stack, targets []shim.Target, i int) string {
	return fmt.Sprintf(": the closest that %d pieces of this box make, %s mm off, outside %s", most,
		say.Signed(s.ErrorMM, 4), say.Trim(targets[i].TolMM, 3))
}

func (a *Answer) say(places int, boxed bool) {
	var out []string
	short := 0
	for _, g := range a.Gears {
		out = append(out, fmt.Sprintf("%s %s mm", g.Name, say.Trim(g.WantMM, 3)))
		if g.Stack != nil && !g.Stack.Within {
			short++
		}
	}
	switch {
	case len(a.Gears) == 0:
		a.Sentence = "Nothing can be worked out before the stamp is read."
	case len(a.Asks) > 0:
		a.Sentence = fmt.Sprintf("So far %s. %d to settle first.", strings.Join(out, ", "), len(a.Asks))
	case !boxed:
		a.Sentence = "Shims by the stamp: " + strings.Join(out, ", ") + "."
	case short > 0:
		a.Sentence = fmt.Sprintf("Shims by the stamp: %s. The box does not reach %d of %d within tolerance.",
			strings.Join(out, ", "), short, places)
	default:
		a.Sentence = "Shims by the stamp: " + strings.Join(out, ", ") + ". The box makes them all."
	}
	a.Notes = append(a.Notes, "The stamp is where to start; cases differ more than gears, so the backlash measured "+
		"afterward decides.")
}

// cannotRead says how to make a worn stamp readable.
func cannotRead(id string) string {
	return fmt.Sprintf("The figure of %s can't be read: clean it with a brush and solvent, and look along the light; "+
		"or measure the backlash instead.", id)
}

// noSign asks for the sign.
func noSign(id string, v int) string {
	return fmt.Sprintf("%s %d has no sign: is it plus or minus? The wrong one puts the gear twice as far off.", id, v)
}

// head says the marks of a case in words and millimeters.
func head(marks []HeardMark, unit string) string {
	if len(marks) == 0 {
		return ""
	}
	names, sizes := make([]string, len(marks)), make([]string, len(marks))
	for i, m := range marks {
		mm := m.Hundredths
		if unit == Thousandths {
			mm = m.Thousandths
		}
		names[i] = say.Small(m.Name) + " " + say.Signed(float64(m.Value), 0)
		sizes[i] = say.Signed(mm, 3)
	}
	words := say.Capital(say.And(names)) + ": " + say.And(sizes) + " mm"
	if unit == "" {
		return words + " by most manuals. Check yours for the unit and the sign."
	}
	return words + ". The manual says what a plus does."
}
