package regear

// What the answers say. A change of wording is a change here and nowhere else.

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"zorvel/core/driveline/trace"
	"zorvel/core/exact"
	"zorvel/core/say"
	"zorvel/core/tire"
)

// partly says which axle gets what where the other keeps its gears.
func (p *planner) partly(c *Candidate) string {
	at, g := p.secondary, c.Front
	if slices.Contains(c.Keeps, p.secondary) {
		at, g = p.primary, c.Rear
	}
	return fmt.Sprintf("%s in the %s only; the %s stays as it is", g.Label(), at+" axle",
		map[string]string{"front": "rear", "rear": "front"}[at])
}

// outweighed says in one sentence what outweighs the methods where none picks the
// best.
func (p *planner) outweighed(best *Candidate, out *Plan) string {
	var rival *Candidate
	for i := range out.Candidates {
		if c := &out.Candidates[i]; c.Refused == "" && len(c.Schools) > 0 && (rival == nil || c.Score < rival.Score) {
			rival = c
		}
	}
	if rival == nil {
		return "No method picks anything that can be fitted."
	}
	type extra struct {
		text   string
		points float64
	}
	mine := map[string]float64{}
	for _, x := range best.Points {
		mine[x.What] += x.Points
	}
	var list []extra
	for _, x := range rival.Points {
		if d := x.Points - mine[x.What]; d > 0.3 {
			list = append(list, extra{strings.TrimSuffix(say.Small(x.Text), "."), d})
		}
	}
	sort.SliceStable(list, func(i, k int) bool { return list[i].points > list[k].points })
	name := rival.Name
	if rival.ID == "leave" {
		name = "leaving the gears"
	}
	text := methodsFor(len(rival.Schools), out.answering()) + " " + name
	if len(list) == 0 {
		return text + ", which is about as good."
	}
	why := list[0].text
	if len(list) > 1 && list[1].points > 1 {
		why += "; and " + list[1].text
	}
	return text + "; what outweighs it: " + why + "."
}

var countWords = []string{"None", "One", "Two", "Three", "Four"}

func methodsPick(n, of int) string {
	verb := "pick"
	if n == 1 {
		verb = "picks"
	}
	if n == of {
		return say.Capital(map[int]string{1: "the one method with an answer picks it.", 2: "both methods pick it.",
			3: "all three methods pick it.", 4: "all four methods pick it."}[n])
	}
	return fmt.Sprintf("%s of %s methods %s it.", countWords[n], strings.ToLower(countWords[of]), verb)
}

func methodsFor(n, of int) string {
	verb := "pick"
	if n == 1 {
		verb = "picks"
	}
	return fmt.Sprintf("%s of %s methods %s", countWords[n], strings.ToLower(countWords[of]), verb)
}

// recommendation says what to do.
func (p *planner) recommendation(best *Candidate, v *Variant, out *Plan) string {
	leave := best.ID == "leave"
	text := ""
	switch {
	case best.Refused != "":
		text = "Nothing here can be recommended: " + best.Refused
	case leave && math.Abs(v.Against) < 0.5 && p.apart() != nil:
		text = "Leave the gears, no set does better: the new tires change next to nothing, but the axles already differ. " +
			p.apart().Verdict
	case leave && math.Abs(v.Against) < 0.5:
		text = "Leave the gears: the new tires change next to nothing."
	case leave && len(out.Candidates) == 1:
		text = "The catalog holds no gear set for this axle, so only leaving it can be weighed."
	case leave && !p.nearer(out):
		text = fmt.Sprintf("Leave the gears at %s: they act %s %% %s than stock, and no set in the catalog comes nearer.",
			v.Ratio.Decimal(2), say.Trim(math.Abs(v.Against), 1), longer(v.Against))
	case leave:
		text = fmt.Sprintf("Leave the gears at %s: acting %s %% %s than stock does not outweigh the work.",
			v.Ratio.Decimal(2), say.Trim(math.Abs(v.Against), 1), longer(v.Against))
	case best.Change != nil:
		text = best.Name + "."
	case p.several():
		text = fmt.Sprintf("Fit %s: %s are opened.", best.Name, sayAll(lowered(best.Opens)))
		if len(best.Opens) == 1 {
			text = fmt.Sprintf("Fit %s: only the %s is opened.", best.Name, lowered(best.Opens)[0])
		}
	case p.secondary != "" && len(best.Keeps) > 0:
		text = fmt.Sprintf("Fit %s.", p.partly(best))
	case p.secondary != "":
		text = fmt.Sprintf("Fit %s, front and rear together.", best.Name)
		if strings.Contains(best.Name, " front") {
			text = fmt.Sprintf("Fit %s.", best.Name)
		}
	default:
		text = fmt.Sprintf("Fit %s.", best.Name)
	}
	if best.Rear != nil && best.Rear.Common {
		text = strings.TrimSuffix(text, ".") +
			" if it is made for this housing: a commonly made pair, in none of the shop's lists."
	}
	return text
}

// weigh gathers what speaks for and against the best.
func (p *planner) weigh(a *Advice, best *Candidate, v *Variant, out *Plan) {
	speed := fmt.Sprintf("%s rpm at %s in gear %s", say.Trim(v.CruiseRPM, 0), p.speed(p.q.Cruise.KMH, 0), out.CruiseGear)
	a.For = append(a.For, fmt.Sprintf("Acts like %s on the stock tire, which had %s: %s %% thrust in every gear "+
		"against stock.", v.Effective.Decimal(2), p.stockRatio.Decimal(2), say.Signed(v.Against, 1)))
	switch v.InBand {
	case "in":
		a.For = append(a.For, "Cruises within the rpm range: "+speed+".")
	case "below", "above":
		a.Against = append(a.Against, "Cruises "+v.InBand+" the band: "+speed+".")
	default:
		a.For = append(a.For, "Cruises at "+speed+" ("+say.Trim(out.Before.CruiseRPM,
			0)+" before, "+say.Trim(out.TiresOnly.CruiseRPM, 0)+" with the tires alone).")
	}
	if n := len(best.Schools); !out.choice() {
		a.Against = append(a.Against, out.Agreement)
	} else if n > 0 {
		a.For = append(a.For, methodsPick(n, out.answering()))
	} else {
		a.Against = append(a.Against, p.outweighed(best, out))
	}
	if best.Match != nil {
		if best.Match.Level == "match" {
			a.For = append(a.For, best.Match.Verdict)
		} else {
			a.Against = append(a.Against, best.Match.Verdict+" "+best.Match.Do)
		}
	}
	if m := best.NextMatch; m != nil {
		text := fmt.Sprintf("With the %s center that comes next: %s", strings.ReplaceAll(p.q.NextCenter, "_", " "), m.Verdict)
		if m.Level == "match" || m.Level == "tolerated" {
			a.For = append(a.For, text)
		} else {
			a.Against = append(a.Against, text)
		}
	}
	for _, f := range best.Carriers {
		if f.State == "fits" {
			a.For = append(a.For, f.Text)
		} else {
			a.Against = append(a.Against, f.Text)
		}
	}
	if best.ID == "leave" {
		a.Against = append(a.Against, p.leaveCosts(out)...)
		a.For = append(a.For, "Costs nothing but making the speedometer true.")
	} else {
		for _, at := range []string{p.primary, p.secondary} {
			if at != "" && p.doubt(at) != nil {
				a.Against = append(a.Against,
					fmt.Sprintf("The family of the %s axle isn't named, and the installed ratio comes in %s. Gears of one family "+
						"don't fit another's housing: name the family before you order.", at, sayAll(p.doubt(at))))
			}
		}
		a.Against = append(a.Against, p.against(best, v, out)...)
		if best.Shelf && best.Change == nil {
			a.For = append(a.For, "Everything is on the shelf.")
		}
		if best.High != nil {
			a.Against = append(a.Against,
				fmt.Sprintf("Costs %s to %s by the shop's list; leaving the gears costs nothing but making the speedometer true.",
					best.Low.Decimal(2), strings.TrimSpace(best.High.Decimal(2)+" "+out.Currency)))
		}
	}
}

// sure says how far the best is ahead of the runner-up.
func (p *planner) sure(runner string, best *Candidate, out *Plan) string {
	switch {
	case best.Refused != "":
		return "Nothing is sure until front and rear can be brought together."
	case runner == "":
		return "There is no other candidate to compare with."
	}
	second := out.find(runner)
	gap := second.Score - best.Score
	how := "clearly"
	switch {
	case gap < 1 || (gap < 4 && gap < out.Change.Spread):
		how = "barely"
	case gap < 4 || best.has("match edge"):
		how = "by a little"
	}
	name := second.Name
	if second.ID == "leave" {
		name = "leaving the gears as they are"
	}
	text := fmt.Sprintf("%s ahead of %s: scores %s, next best %s (lower is better).", say.Capital(how), name,
		say.Trim(best.Score, 1), say.Trim(second.Score, 1))
	if gap < 0 {
		text = fmt.Sprintf("By points %s is as good: it scores %s, this one %s (lower is better); more methods pick this "+
			"one.", name, say.Trim(second.Score, 1), say.Trim(best.Score, 1))
	}
	if s := out.Change.Spread; s > gap {
		text += fmt.Sprintf(" The tires' rolling is known to ± %s %% only; roll both out before ordering.", say.Trim(s, 1))
	}
	return text
}

// trust weighs where the ratios came from that all of this stands on. It
// returns the axles whose readings are in conflict.
func (p *planner) trust(a *Advice) (unsettled []string) {
	for _, x := range append(p.groups[p.primary][:len(p.groups[p.primary]):len(p.groups[p.primary])],
		p.groups[p.secondary]...) {
		at := x.At
		now := fmt.Sprintf("The %s axle's %s", at, x.Ratio.Decimal(2))
		if p.several() {
			now = fmt.Sprintf("The %s's %s", say.Small(x.Name), x.Ratio.Decimal(2))
		}
		sure := ""
		if x.Source.Probability > 0 {
			sure = ", " + say.Chance(x.Source.Probability)
		}
		switch x.Source.Kind {
		case "measured":
			a.For = append(a.For, now+" is measured"+sure+".")
		case "plate":
			a.Against = append(a.Against, now+" is read from a plate or tag: count teeth or turns before ordering.")
		case "assumed":
			a.Against = append(a.Against, now+" is assumed"+sure+": count teeth or turns before ordering.")
		case "conflict":
			unsettled = append(unsettled, at+" axle")
			a.Against = append(a.Against,
				now+" is in conflict: readings at the bench disagree. Settle that before ordering anything.")
		}
	}
	return unsettled
}

func lowered(names []string) []string {
	out := make([]string, len(names))
	for i, n := range names {
		out[i] = strings.ToLower(n[:1]) + n[1:]
	}
	return out
}

// speed says a speed in the unit that is asked for.
func (p *planner) speed(kmh float64, places int) string {
	return say.Trim(say.SpeedIn(kmh, p.q.SpeedUnit), places) + " " + p.q.SpeedUnit
}

// sayAll says a list: a, b and c.
func sayAll(list []string) string {
	if n := len(list); n > 1 {
		return strings.Join(list[:n-1], ", ") + " and " + list[n-1]
	}
	return strings.Join(list, "")
}

func longer(against float64) string {
	if against < 0 {
		return "taller"
	}
	return "shorter"
}

// leaveCosts says what not changing gears means.
func (p *planner) leaveCosts(out *Plan) []string {
	v := out.TiresOnly
	if math.Abs(v.Against) < 0.5 {
		return nil
	}
	var s []string
	if v.Against < 0 {
		s = append(s, fmt.Sprintf("%s %% less pull in every gear; launch and hills feel it, and a clutch or converter "+
			"works harder.", say.Trim(-v.Against, 1)))
		s = append(s, fmt.Sprintf("%s rpm at %s where %s were meant: it will leave its top gear earlier on a rise.",
			say.Trim(v.CruiseRPM, 0), p.speed(p.q.Cruise.KMH, 0), say.Trim(out.Before.CruiseRPM, 0)))
	} else {
		s = append(s, fmt.Sprintf("%s %% more rpm at every speed: louder, and worse economy on the highway.",
			say.Trim(v.Against, 1)))
	}
	return append(s, fmt.Sprintf("Lowest speed in low-low %s, %s before.", p.speed(v.CrawlKMH, 2),
		p.speed(out.Before.CrawlKMH, 2)))
}

// against says what speaks against new gears.
func (p *planner) against(c *Candidate, v *Variant, out *Plan) []string {
	var s []string
	if v.CruiseRPM > out.TiresOnly.CruiseRPM {
		s = append(s, fmt.Sprintf("%s rpm more at cruise than with the gears left: worse highway economy, better town "+
			"economy and launch.", say.Trim(v.CruiseRPM-out.TiresOnly.CruiseRPM, 0)))
	} else if v.CruiseRPM < out.TiresOnly.CruiseRPM {
		s = append(s, fmt.Sprintf("%s rpm less at cruise than with the gears left, and %s %% less pull.",
			say.Trim(out.TiresOnly.CruiseRPM-v.CruiseRPM, 0), say.Trim((1-v.Launch/out.TiresOnly.Launch)*100, 1)))
	}
	if c.Rear == nil {
		return append(s, "Count both change gears before ordering, and look that face width and spline fit; gears with "+
			"the same sum of teeth keep the center distance.")
	}
	if z := p.axles[p.primary].Pair; c.Rear.Pinion < z[1] {
		s = append(s, fmt.Sprintf("The pinion has %d teeth instead of %d: smaller and weaker.", c.Rear.Pinion, z[1]))
	}
	if p.secondary != "" && p.q.Front.Type == "independent" {
		s = append(s, "An independent front axle takes more labor than a solid one.")
	}
	switch {
	case c.Rear.Common:
		s = append(s, "Not on the shelf and no price yet: ask the supplier for this housing before you open anything.")
	case !c.Shelf:
		s = append(s, "Not all of it is on the shelf.")
	}
	if !c.Complete {
		s = append(s, "The price list has gaps: the estimate is not complete.")
	}
	return s
}

func (p *planner) notes(out *Plan) {
	if m := p.apart(); m != nil {
		out.Notes = append(out.Notes, "As it is now: "+m.Verdict)
	}
	if math.Abs(out.Change.Percent) > 25 {
		out.Notes = append(out.Notes, "The tires differ by more than a quarter: check the markings.")
	}
}

// agreement says where the schools agree and where not.
func agreement(out *Plan) string {
	groups := map[string][]string{}
	var order []string
	for _, s := range out.Schools {
		if s.Pick == "" {
			continue
		}
		if groups[s.Pick] == nil {
			order = append(order, s.Pick)
		}
		groups[s.Pick] = append(groups[s.Pick], strings.ToLower(s.Name))
	}
	if len(order) == 0 {
		return "No school finds anything in the catalog."
	}
	if !out.choice() {
		return fmt.Sprintf("Nothing to choose from: no set on the shop's list fits, and the installed gears act %s %% %s "+
			"than stock.", say.Trim(math.Abs(out.TiresOnly.Against), 1), longer(out.TiresOnly.Against))
	}
	if len(order) == 1 {
		return fmt.Sprintf("All %d schools that have an answer pick %s.", len(groups[order[0]]),
			out.variant(order[0]).Ratio.Decimal(2))
	}
	sort.SliceStable(order, func(i, k int) bool { return len(groups[order[i]]) > len(groups[order[k]]) })
	var parts []string
	for _, id := range order {
		parts = append(parts, fmt.Sprintf("%s: %s", out.variant(id).Ratio.Decimal(2), strings.Join(groups[id], ", ")))
	}
	why := "They weigh different things: the factory's intent, experience by diameter, your wishes in rpm, and which " +
		"side to err on."
	return "They differ. " + strings.Join(parts, "; ") + ". " + why
}

// unsettledFirst puts the axles to be settled before how sure the advice is.
func unsettledFirst(unsettled []string, a Advice) string {
	return fmt.Sprintf("First settle what is in the %s: its readings disagree. %s", sayAll(unsettled), a.Sure)
}

// backToStock says what the method aims at and what comes nearest.
func backToStock(eq exact.Number, name func(v *Variant) string, v *Variant) string {
	return fmt.Sprintf("%s brings every gear back to what the factory meant. Nearest: %s, %s %% off.", eq.Decimal(2),
		name(v), say.Signed(v.Against, 1))
}

// backToStockFormula is how back to stock is reckoned.
func (p *planner) backToStockFormula(eq exact.Number) string {
	return fmt.Sprintf("%s × %s mm ÷ %s mm = %s", p.stockRatio.Short(4), p.newMM.Short(1), p.stockMM.Short(1), eq.Short(4))
}

// noLine says that the rule of thumb is silent.
func noLine(mm exact.Number) string {
	return "The table has no line for a tire of " + mm.Short(0) + " mm."
}

// tableLine is the line of the table that was used.
func (p *planner) tableLine(from exact.Number, how string) string {
	return fmt.Sprintf("the shop's table, tires from %s mm up, %s; %s", from.Short(0), p.q.Use, how)
}

// tableSays is what the table asks for.
func tableSays(r exact.Number) string {
	return fmt.Sprintf("The shop's table says %s for this tire", r.Decimal(2))
}

// restFormula takes off what reduces elsewhere.
func restFormula(r, rest exact.Number) string {
	return fmt.Sprintf("; %s ÷ %s = %s", r.Short(4), rest.Short(4), r.Div(rest).Short(4))
}

// restSays says what reduces elsewhere, and what that leaves.
func restSays(rest, r exact.Number) string {
	return fmt.Sprintf("; hubs, change gears and high range already make %s of it, which leaves %s for ring and pinion",
		rest.Decimal(2), r.Decimal(2))
}

// cruiseGearNote says what a cruise gear other than 1 changes.
func (p *planner) cruiseGearNote(g, r exact.Number) string {
	return fmt.Sprintf(" The table supposes a cruise gear of 1; with the %s of gear %s the same rpm would need %s.",
		g.Short(3), p.rows[p.cruise].Name, r.Div(g).Decimal(2))
}

// sameAcross is a diameter that is known.
func sameAcross(d *exact.Number) string {
	return "the tire is " + d.Short(0) + " mm across"
}

// aboutAcross is a diameter worked back from how the tire rolls.
func (p *planner) aboutAcross(d exact.Number) string {
	return fmt.Sprintf("%s mm rolling ÷ %v is about %s mm across", p.newMM.Short(0), tire.RadialFactor, d.Short(0))
}

// cruiseWish is the rpm range asked for at cruise.
func (p *planner) cruiseWish(c Cruise) string {
	return fmt.Sprintf("%s to %s rpm at %s in gear %s", say.Trim(c.LowRPM, 0), say.Trim(c.HighRPM, 0), p.speed(c.KMH, 0),
		p.rows[p.cruise].Name)
}

// crawlWish is the lowest speed asked for.
func (p *planner) crawlWish(w float64) string {
	return fmt.Sprintf("%s or slower in low-low at %s rpm", p.speed(w, 1), say.Trim(p.q.IdleRPM, 0))
}

// launchWish is the launch asked for.
func launchWish(w float64) string {
	return fmt.Sprintf("a launch of %s %% of stock", say.Trim(w, 0))
}

// wished repeats all that was asked for.
func wished(wishes []string) string {
	return "Wanted: " + strings.Join(wishes, ", ") + ". "
}

// noSingleRatio says that the wishes exclude each other.
func noSingleRatio(lo, hi float64) string {
	return fmt.Sprintf("No single ratio gives it all: the slow end needs %s or more, cruise %s or less. A "+
		"low-range set or another gearbox does what an axle can't.", say.Trim(lo, 2), say.Trim(hi, 2))
}

// spanSays names the span that keeps every wish, and the pick in it.
func spanSays(span string, name nameOf, v *Variant) string {
	return fmt.Sprintf("%s does it; closest to stock: %s.", say.Capital(span), name(v))
}

// nothingBetween says that no set keeps every wish.
func nothingBetween(name nameOf, v *Variant) string {
	return fmt.Sprintf("Nothing on the shop's list is in between; closest: %s.", name(v))
}

// sameStays says that the advice holds on a neighboring tire.
func sameStays(n Next) string {
	return fmt.Sprintf("The same gears stay right: %s %% against stock.", say.Signed(n.Recommended, 1))
}

// tireAsks says what a neighboring tire would have instead.
func tireAsks(n Next) string {
	return fmt.Sprintf("That tire would ask for %s; the recommended gears are %s %% against stock on it.", n.BestName,
		say.Signed(n.Recommended, 1))
}

// reverseFormula is how far a tire rolls that suits the gears.
func (p *planner) reverseFormula(c *Candidate, mm exact.Number) string {
	return fmt.Sprintf("%s mm × %s ÷ %s = %s mm", p.stockMM.Short(1), c.ratio.Short(4), p.stockRatio.Short(4), mm.Short(1))
}

// massFormula is what heavier tires add.
func massFormula(n, b, a float64) string {
	return fmt.Sprintf("%s wheels × (%s − %s) kg × (1 + %s), the last for spinning them up (most of a tire's mass "+
		"sits at its tread; 0.6 to 0.9 is usual)", say.Trim(n, 0), say.Trim(b, 1), say.Trim(a, 1), say.Trim(spinFactor, 2))
}

// factoryText compares a factory's own combination.
func factoryText(f Factory, a *tire.Answer, x FactoryPoint) string {
	return fmt.Sprintf("%s: %s on %s pulls like %s on the new tire.", f.Name, f.Ratio.Decimal(2), a.Marking.Text,
		x.Equals.Decimal(2))
}

// lowSetText says what another low range changes.
func (p *planner) lowSetText(s LowSet, now exact.Number, o LowOption) string {
	return fmt.Sprintf("Low range %s instead of %s: crawls at %s with the axle left alone; nothing changes in "+
		"high range.", s.Ratio.Decimal(2), now.Decimal(2), p.speed(o.CrawlKMH, 2))
}

// highSetText says what another high range changes.
func highSetText(s LowSet, now exact.Number, o HighOption) string {
	return fmt.Sprintf("High range %s instead of %s: both axles act %s %% %s than stock at once and no axle is "+
		"opened. Low stays what it is only where its gears have a way of their own; the gears' width must fit the case.",
		s.Ratio.Decimal(2), now.Decimal(2), say.Trim(math.Abs(o.Against), 1), longer(o.Against))
}

// carrierUnknown asks to look at the carrier.
func carrierUnknown(at string, set GearSet) string {
	return fmt.Sprintf("Whether the %s carrier takes %s isn't known: carriers split by ratio range. Look before "+
		"ordering.", at, set.Ratio().Decimal(2))
}

// carrierFits says that the carrier stays.
func carrierFits(at string, span *Span, how string) string {
	return fmt.Sprintf("The %s carrier takes %s (%s).", at, span.words(), how)
}

// carrierOther says that another carrier is needed.
func carrierOther(at string, span *Span, how string, set GearSet) string {
	return fmt.Sprintf("The %s carrier takes %s (%s), not %s: another carrier is needed.", at, span.words(), how,
		set.Ratio().Decimal(2))
}

// centerWords is how a center is called.
func centerWords(kind string) string {
	return map[string]string{"part_time": "part-time transfer case", "open": "open center differential",
		"limited_slip": "limited-slip center",
		"planetary":    "planetary center differential", "solid": "always-locked center"}[kind]
}

// offText is how far the pull is from stock.
func offText(off float64, dir string) string {
	return fmt.Sprintf("acts %s %% %s than stock", say.Trim(off, 1), dir)
}

// gearboxNote says that figures are about, and which are not.
func gearboxNote(typical *TypicalGearbox) string {
	return fmt.Sprintf("The gearbox's ratios are typical ones (%s), not read from this one: rpm and speeds are about. "+
		"What the tires change, and which gears bring it back, doesn't rest on them.", typical.Words)
}

// rowFormula is an overall ratio with other gears in the axle.
func (p *planner) rowFormula(overall exact.Number, g trace.GearRow, ratio exact.Number) string {
	return fmt.Sprintf("%s = %s × %s ÷ %s", overall.Short(4), g.Overall.Short(4), ratio.Short(4), p.base.Short(4))
}

// cruiseFormula is the engine's speed at cruise.
func (p *planner) cruiseFormula(m float64, v Variant) string {
	return fmt.Sprintf("%s km/h × 1000 ÷ 60 ÷ %s m × %s = %s rpm", say.Trim(p.q.Cruise.KMH, 1), say.Trim(m, 4),
		v.Rows[p.cruise].Overall.Short(4), say.Trim(v.CruiseRPM, 0))
}

var cautions = []string{
	"Ratios, carriers, bearings and torque values: the maker's manual rules. This is a suggestion for a qualified " +
		"person to decide on.",
	"Change one end, change the other: never lock a four-wheel driveline with unequal ends on a hard road.",
	"Tires beyond the approved size, and a speedometer that reads low, may not be road legal where you are.",
}

// noteSets says what there is to choose from, and what of it is doubtful.
func (p *planner) noteSets(out *Plan, known bool, rear, front int) {
	switch {
	case p.q.common:
		out.Notes = append(out.Notes,
			"The shop's lists hold no gear set yet, so commonly made pairs are weighed. They have no price yet; ask whether "+
				"one is made for this housing before you order. Enter the shop's own sets, or import a starter list, under Shop.")
	case rear == 0 || (p.secondary != "" && front == 0):
		out.Notes = append(out.Notes, "The catalog holds no gear set of this family.")
	case p.doubt(p.primary) != nil || (p.secondary != "" && p.doubt(p.secondary) != nil):
		out.Notes = append(out.Notes, "The sets of several families are shown, because an axle's family isn't named.")
	case !known:
		out.Notes = append(out.Notes,
			"The axle's family isn't named, and the installed ratio is in no family on the shop's list, so all families are "+
				"shown. Make sure the set fits this housing.")
	}
	for _, at := range []string{p.primary, p.secondary} {
		z := p.axles[at].Pair
		if at == "" || p.facts(at).Family == "" || z[0] == 0 || p.q.common {
			continue
		}
		sets := setsFor(p.q.Shop.Sets, []string{p.facts(at).Family})
		if len(sets) > 0 && !slices.ContainsFunc(sets, func(g GearSet) bool { return g.Ring == z[0] && g.Pinion == z[1] }) {
			out.Notes = append(out.Notes,
				fmt.Sprintf("What is in the %s axle, %d/%d, is no set of %s in the catalog: is the family right?", at, z[0], z[1],
					p.facts(at).Family))
		}
	}
}

// leftOut says how many sets were not weighed.
func leftOut(rear []GearSet, left int) string {
	return fmt.Sprintf("The %d sets nearest to back to stock are weighed; %d of the catalog that are further off are "+
		"left out.", len(rear), left)
}

// changeName names a pair of change gears.
func changeName(pinion, input int) string {
	return fmt.Sprintf("Change gears %d on the pinion shaft, %d on the input shaft; ring and pinion stay", pinion, input)
}

// swappedName names the pair that is in it, swapped over.
func swappedName(pinion, input int) string {
	return fmt.Sprintf("The change gears swapped over: %d on the pinion shaft, %d on the input shaft", pinion, input)
}
